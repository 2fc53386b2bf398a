//! How uncertain the sum of all amounts is, whose items share surveys.

use std::collections::{BTreeMap, BTreeSet};

use dapedon_contract::{ContractError, binary, plus};
use dapedon_core::quantities::{Accuracy, PointWeights};
use rust_decimal::Decimal;

use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::model::{AmountUncertainty, BillItem, FactorName};
use crate::accuracy::COVERAGE_FACTOR;

/// What does not come from the errors of a survey.
static NO_SURVEY: BTreeSet<String> = BTreeSet::new();

/// By how much the sum grows with the points of one surface.
struct OfSurface {
    weights: PointWeights,
    accuracy: Accuracy,
}

/// Of the amounts of all items whose uncertainty is known; none where it is of no item.
pub(super) fn of(
    desk: &BillInputs<'_>,
    asked: &[Box<dyn ItemMeasurement>],
    items: &[BillItem],
) -> Result<Option<AmountUncertainty>, ContractError> {
    let mut surfaces: BTreeMap<usize, OfSurface> = BTreeMap::new();
    let mut sum: Option<Decimal> = None;
    // What counts points of a part of a surface that are numbered otherwise.
    let mut by_themselves = Vec::new();
    // What the sum gains with each factor that is a standard uncertainty too large, in all items that follow by it.
    let mut factors: BTreeMap<(&str, FactorName), f64> = BTreeMap::new();
    for (asked, item) in asked.iter().zip(items) {
        let own = item.uncertainty.as_ref();
        let (Some(own), Some(amount)) = (own, item.amount) else {
            continue;
        };
        for factor in &own.factors {
            let key = (factor.material.as_str(), factor.factor);
            *factors.entry(key).or_default() += binary(amount) * factor.share;
        }
        if let (Some(piles), Some(of_amount)) = (asked.piles(), own.amount_from_surfaces) {
            sum = Some(sum.map_or(Ok(amount), |sum| plus(sum, amount))?);
            let surface = desk.piled[piles].surface;
            by_themselves.push((&desk.made[surface].1.errors_of, of_amount));
            continue;
        }
        if let (Some(surfaces), Some(of_amount)) = (asked.by_itself(), own.amount_from_surfaces) {
            sum = Some(sum.map_or(Ok(amount), |sum| plus(sum, amount))?);
            let whole = own.from.standard.value;
            for (number, parts) in surfaces
                .into_iter()
                .zip([own.from.reference, own.from.surveyed])
            {
                let share = if whole > 0.0 {
                    parts.standard() / whole
                } else {
                    0.0
                };
                by_themselves.push((&desk.made[number].1.errors_of, of_amount * share));
            }
            continue;
        }
        let (Some(ticket), Some(counts)) = (asked.overlay(), asked.volume_counts()) else {
            continue;
        };
        let pass = &desk.passes.0[ticket.pass];
        let (Some(ground), Some(sure)) = (desk.passes.uncertainty(ticket), &pass.sure) else {
            continue;
        };
        let Some(of_amount) = own.amount_from_surfaces else {
            continue;
        };
        sum = Some(sum.map_or(Ok(amount), |sum| plus(sum, amount))?);
        // What the amount gains with each unit of volume, in cubes of the length unit.
        let standard = desk.site.making.units.cubes_of(own.from.standard.value);
        if standard <= 0.0 {
            continue;
        }
        let falls = item.rate.is_some_and(|rate| rate.is_sign_negative());
        let each = of_amount / standard * if falls { -1.0 } else { 1.0 };
        // What lies between points is no error of the points, and others know nothing of it.
        let between = [own.from.reference, own.from.surveyed].map(|side| side.between_points);
        for part in between.into_iter().flatten() {
            by_themselves.push((&NO_SURVEY, of_amount * part.value / own.from.standard.value));
        }
        let sides = pass.sides.iter().zip(&ground.weights).zip(sure.accuracies);
        // What counts as exact against the other side adds nothing.
        let sides = sides.filter(|(_, accuracy)| *accuracy != Accuracy::EXACT);
        for ((&number, weights), accuracy) in sides {
            let surface = surfaces.entry(number).or_insert_with(|| OfSurface {
                weights: PointWeights::default(),
                accuracy,
            });
            for (weights, count) in weights.iter().zip(counts) {
                if count != 0.0 {
                    surface.weights.add(weights, each * count);
                }
            }
        }
    }
    let variances = surfaces.iter().map(|(&number, own)| {
        let parts = own.weights.parts(desk.surface(number), &own.accuracy);
        (&desk.made[number].1.errors_of, parts.standard())
    });
    Ok(sum.map(|amount| AmountUncertainty {
        coverage_factor: COVERAGE_FACTOR,
        amount,
        standard: {
            let by_factors = factors.values().map(|own| own * own);
            let by_factors = by_factors.sum::<f64>().sqrt();
            libm::hypot(together(variances.chain(by_themselves)), by_factors)
        },
    }))
}

/// Standard uncertainties together: those of surfaces that share a survey add up, since it is not known how far their errors are the
/// same; the others by their squares.
fn together<'s>(of_surfaces: impl Iterator<Item = (&'s BTreeSet<String>, f64)>) -> f64 {
    let mut groups: Vec<(BTreeSet<String>, f64)> = Vec::new();
    for (surveys, standard) in of_surfaces {
        let (mut surveys, mut standard) = (surveys.clone(), standard);
        let (shared, apart): (Vec<_>, Vec<_>) = { groups }
            .into_iter()
            .partition(|(known, _)| !known.is_disjoint(&surveys));
        for (known, own) in shared {
            surveys.extend(known);
            standard += own;
        }
        groups = apart;
        groups.push((surveys, standard));
    }
    let squares = groups.iter().map(|(_, standard)| standard * standard);
    squares.sum::<f64>().sqrt()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn surveys_that_are_shared_add_up() {
        let set = |names: &[&str]| names.iter().map(|name| (*name).to_owned()).collect();
        let sets: [BTreeSet<String>; 4] =
            [set(&["a"]), set(&["b"]), set(&["a", "c"]), set(&["c", "b"])];
        let found = |of: &[(usize, f64)]| together(of.iter().map(|&(set, u)| (&sets[set], u)));
        assert_eq!(found(&[(0, 3.0), (1, 4.0)]), 5.0);
        assert_eq!(found(&[(0, 3.0), (2, 4.0)]), 7.0);
        assert_eq!(found(&[(0, 3.0), (1, 1.0), (2, 4.0), (3, 2.0)]), 10.0);
        assert_eq!(found(&[]), 0.0);
    }
}
