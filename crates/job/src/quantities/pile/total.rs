//! The sums of all piles.

use super::{ByBase, Pile, PilesTotal};
use crate::quantities::measurement::Volume;

/// The sums of all piles.
pub(super) fn total(piles: &[Pile]) -> PilesTotal {
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
    let masses: Option<Vec<f64>> = piles.iter().map(|pile| pile.mass).collect();
    let changes: Option<Vec<Volume>> = piles.iter().map(|pile| pile.change).collect();
    PilesTotal {
        plan_area: sum(&|pile| pile.plan_area),
        sloping_area: sum(&|pile| pile.sloping_area),
        held: sum(&|pile| pile.held),
        beyond: sum(&|pile| pile.beyond),
        mass: masses.map(|masses| masses.iter().sum()),
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
    }
}
