//! The sums of all piles.

use dapedon_contract::{ContractError, plus};
use rust_decimal::Decimal;

use super::{Pile, PilesTotal, VolumeByBase};
use crate::figure::{Area, Volume};
use crate::quantities::measurement::Volumes;
use crate::quantities::uncertainty::UncertaintyOf;
use crate::units::ReportUnits;

/// The sums of all piles.
///
/// # Errors
///
/// When their masses come to more digits than any figure of a bill.
pub(super) fn total(piles: &[Pile], units: &ReportUnits) -> Result<PilesTotal, ContractError> {
    let area = |of: fn(&Pile) -> Area| Area::sum(units.area, piles.iter().map(of));
    let volume = |of: fn(&Pile) -> Volume| Volume::sum(units.volume, piles.iter().map(of));
    // Only bases that all piles have can be reported for all.
    let shared = |base: &&VolumeByBase| {
        let has = |pile: &Pile| pile.volume_by_base.iter().any(|own| own.base == base.base);
        piles.iter().all(has)
    };
    let bases = piles[0].volume_by_base.iter().filter(shared).map(|base| {
        let of = |pile: &Pile| {
            pile.volume_by_base
                .iter()
                .find(|own| own.base == base.base)
                .cloned()
        };
        let own: Vec<VolumeByBase> = piles.iter().filter_map(of).collect();
        let sum = |of: fn(&VolumeByBase) -> Volume| Volume::sum(units.volume, own.iter().map(of));
        VolumeByBase {
            base: base.base.clone(),
            pile_volume: sum(|own| own.pile_volume),
            volume_below_base: sum(|own| own.volume_below_base),
        }
    });
    let mut mass = Some(Decimal::ZERO);
    for pile in piles {
        mass = match (mass, pile.mass) {
            (Some(sum), Some(own)) => Some(plus(sum, own)?),
            _ => None,
        };
    }
    let uncertain: Option<Vec<&UncertaintyOf>> =
        piles.iter().map(|pile| pile.uncertainty.as_ref()).collect();
    let together = uncertain.and_then(|all| UncertaintyOf::together(all.into_iter()));
    let mut held = volume(|pile| pile.pile_volume);
    held.uncertainty = together.map(|own| own.standard.value);
    let changes: Option<Vec<Volumes>> = piles.iter().map(|pile| pile.change).collect();
    Ok(PilesTotal {
        plan_area: area(|pile| pile.plan_area),
        sloping_area: area(|pile| pile.sloping_area),
        pile_volume: held,
        volume_below_base: volume(|pile| pile.volume_below_base),
        mass,
        volume_by_base: bases.collect(),
        change: changes.map(|changes| Volumes::sum(changes.iter(), units)),
    })
}
