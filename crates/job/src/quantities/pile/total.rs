//! The sums of all piles.

use dapedon_contract::{ContractError, plus};
use rust_decimal::Decimal;

use super::{ByBase, Pile, PilesTotal};
use crate::quantities::measurement::Volume;

/// The sums of all piles.
///
/// # Errors
///
/// When their masses come to more digits than any figure of a bill.
pub(super) fn total(piles: &[Pile]) -> Result<PilesTotal, ContractError> {
    let sum = |of: &dyn Fn(&Pile) -> f64| piles.iter().map(of).sum::<f64>();
    // Only bases that all piles have can be told for all.
    let shared = |base: &&ByBase| {
        let has = |pile: &Pile| pile.bases.iter().any(|own| own.base == base.base);
        piles.iter().all(has)
    };
    let bases = piles[0].bases.iter().filter(shared).map(|base| {
        let of = |pile: &Pile| pile.bases.iter().find(|own| own.base == base.base).cloned();
        let own = piles.iter().filter_map(of);
        let (held, beyond) = own.fold((0.0, 0.0), |(held, beyond), own| {
            (held + own.held, beyond + own.beyond)
        });
        ByBase {
            base: base.base.clone(),
            held,
            beyond,
        }
    });
    let mut mass = Some(Decimal::ZERO);
    for pile in piles {
        mass = match (mass, pile.mass) {
            (Some(sum), Some(own)) => Some(plus(sum, own)?),
            _ => None,
        };
    }
    let changes: Option<Vec<Volume>> = piles.iter().map(|pile| pile.change).collect();
    Ok(PilesTotal {
        plan_area: sum(&|pile| pile.plan_area),
        sloping_area: sum(&|pile| pile.sloping_area),
        held: sum(&|pile| pile.held),
        beyond: sum(&|pile| pile.beyond),
        mass,
        bases: bases.collect(),
        change: changes.map(|changes| {
            let sum = |of: &dyn Fn(&Volume) -> f64| changes.iter().map(of).sum::<f64>();
            Volume {
                cut: sum(&|volume| volume.cut),
                fill: sum(&|volume| volume.fill),
                net: sum(&|volume| volume.net),
                unchanged: sum(&|volume| volume.unchanged),
            }
        }),
    })
}
