//! The sums of all piles.

use dapedon_contract::{ContractError, plus};
use rust_decimal::Decimal;

use super::{ByBase, Pile, PilesTotal};
use crate::figure::{Area, Volume};
use crate::quantities::measurement::Volumes;
use crate::units::ReportUnits;

/// The sums of all piles.
///
/// # Errors
///
/// When their masses come to more digits than any figure of a bill.
pub(super) fn total(piles: &[Pile], units: &ReportUnits) -> Result<PilesTotal, ContractError> {
    let area = |of: fn(&Pile) -> Area| Area::sum(units.area, piles.iter().map(of));
    let volume = |of: fn(&Pile) -> Volume| Volume::sum(units.volume, piles.iter().map(of));
    // Only bases that all piles have can be told for all.
    let shared = |base: &&ByBase| {
        let has = |pile: &Pile| pile.bases.iter().any(|own| own.base == base.base);
        piles.iter().all(has)
    };
    let bases = piles[0].bases.iter().filter(shared).map(|base| {
        let of = |pile: &Pile| pile.bases.iter().find(|own| own.base == base.base).cloned();
        let own: Vec<ByBase> = piles.iter().filter_map(of).collect();
        let sum = |of: fn(&ByBase) -> Volume| Volume::sum(units.volume, own.iter().map(of));
        ByBase {
            base: base.base.clone(),
            held: sum(|own| own.held),
            beyond: sum(|own| own.beyond),
        }
    });
    let mut mass = Some(Decimal::ZERO);
    for pile in piles {
        mass = match (mass, pile.mass) {
            (Some(sum), Some(own)) => Some(plus(sum, own)?),
            _ => None,
        };
    }
    let changes: Option<Vec<Volumes>> = piles.iter().map(|pile| pile.change).collect();
    Ok(PilesTotal {
        plan_area: area(|pile| pile.plan_area),
        sloping_area: area(|pile| pile.sloping_area),
        held: volume(|pile| pile.held),
        beyond: volume(|pile| pile.beyond),
        mass,
        bases: bases.collect(),
        change: changes.map(|changes| Volumes::sum(changes.iter(), units)),
    })
}
