//! The bands of difference that a map of conformity shows.

use dapedon_core::quantities::{HeightLimits, Tolerance};

use crate::band_rules::{BandRules, BandSteps, Colour};

/// Ground that is far too low, and ground that is too low.
const BELOW: [Colour; 2] = [Colour([0x8c, 0x2d, 0x52]), Colour([0xd9, 0x7f, 0xa3])];
/// Ground within the limits.
const WITHIN: Colour = Colour([0xdd, 0xe3, 0xcf]);
/// Ground that is too high, and far too high.
const ABOVE: [Colour; 2] = [Colour([0xe3, 0xa8, 0x4a]), Colour([0x9a, 0x5a, 0x00])];

/// The bands that a map shows: within the limits, beyond one of them, and beyond it by more than they are apart.
pub(crate) fn bands(limits: &HeightLimits) -> BandRules {
    let (lowest, highest) = (limits.lowest(), limits.highest());
    let width = Some(limits.width()).filter(|width| width.is_finite() && *width > 0.0);
    let far_below = lowest.zip(width).map(|(lowest, width)| lowest - width);
    let far_above = highest.zip(width).map(|(highest, width)| highest + width);
    let all = [far_below, lowest, highest, far_above];
    // The middle band lies as far on both sides of the design as both limits allow.
    let reach = |limit: Option<f64>| limit.map_or(f64::INFINITY, f64::abs);
    let middle = match lowest.is_none_or(|own| own <= 0.0) && highest.is_none_or(|own| own >= 0.0) {
        true => reach(lowest).min(reach(highest)),
        false => 0.0,
    };
    let edges: Vec<f64> = { all }
        .into_iter()
        .flatten()
        .filter(|edge| edge.abs() > middle)
        .collect();
    let colour = |difference: f64| {
        let is_beyond = |limit: Option<f64>, sign: f64| {
            limit.is_some_and(|limit| sign * (difference - limit) > 0.0)
        };
        match (is_beyond(lowest, -1.0), is_beyond(highest, 1.0)) {
            (true, _) if is_beyond(far_below, -1.0) => BELOW[0],
            (true, _) => BELOW[1],
            (_, true) if is_beyond(far_above, 1.0) => ABOVE[1],
            (_, true) => ABOVE[0],
            (false, false) => WITHIN,
        }
    };
    let below = edges.iter().copied().filter(|edge| *edge < 0.0);
    let above = edges.iter().copied().filter(|edge| *edge > 0.0);
    let bounds: Vec<f64> = below.chain([-middle, middle]).chain(above).collect();
    let between = bounds.windows(2).map(|pair| (pair[0] + pair[1]) / 2.0);
    let insides = [f64::NEG_INFINITY]
        .into_iter()
        .chain(between)
        .chain([f64::INFINITY]);
    BandRules {
        middle: Tolerance::new(middle),
        colours: insides.map(colour).collect(),
        ..BandRules::of(BandSteps::At(edges))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::quantities::BandEdges;

    /// Each band of the map has a colour, and it is that of the limits.
    #[test]
    fn bands_of_the_map_follow_the_limits() {
        let all = [
            (Some(-0.03), Some(0.02)),
            (Some(-0.02), Some(0.02)),
            (None, Some(0.02)),
            (Some(-0.03), None),
            (None, Some(-0.15)),
            (Some(-0.2), Some(-0.15)),
            (Some(0.0), Some(0.02)),
            (Some(-0.1), Some(0.0)),
            (Some(0.0), Some(0.0)),
        ];
        for (lowest, highest) in all {
            let limits = HeightLimits::new(lowest, highest).unwrap();
            let rules = bands(&limits);
            let BandSteps::At(edges) = &rules.steps else {
                panic!("bands of limits have edges")
            };
            let edges = BandEdges::new(edges, rules.middle.unwrap()).unwrap();
            assert_eq!(rules.colours.len(), edges.count(), "{limits:?}");
            for tenth in -40..=40 {
                // Off the edges.
                let difference = f64::from(tenth) * 0.01 + 0.0049;
                let [above, below] = limits.beyond(difference);
                let colour = rules.colours[edges.of(difference, 1e-9)];
                assert_eq!(
                    colour == WITHIN,
                    above <= 0.0 && below <= 0.0,
                    "{limits:?} {difference}"
                );
                assert_eq!(
                    ABOVE.contains(&colour),
                    above > 0.0,
                    "{limits:?} {difference}"
                );
            }
        }
    }
}
