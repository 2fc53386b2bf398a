//! Heights of a line raised, whole or over a stretch with smooth ends.

use super::{Profile, VerticalPoint};

/// The stretch over which a line is raised.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RaisedStretch {
    /// From which distance to which; infinite where it goes on to the end of the line.
    pub between: [f64; 2],
    /// How long both ends are, within the stretch, over which the raising grows from nothing to its whole.
    pub ease: f64,
}

/// Parts of a smooth end at most.
const MOST: f64 = 1000.0;

impl RaisedStretch {
    /// The whole line.
    pub const WHOLE: RaisedStretch = RaisedStretch {
        between: [f64::NEG_INFINITY, f64::INFINITY],
        ease: 0.0,
    };

    /// By which share of the whole the line is raised at a distance: 3 t² - 2 t³ at its ends, level where it begins and where it is whole.
    ///
    /// ```
    /// use dapedon_core::alignment::RaisedStretch;
    /// let stretch = RaisedStretch { between: [100.0, 200.0], ease: 20.0 };
    /// assert_eq!([90.0, 100.0, 110.0, 120.0, 150.0, 195.0].map(|at| stretch.share(at)), [0.0, 0.0, 0.5, 1.0, 1.0, 0.15625]);
    /// ```
    pub fn share(&self, distance: f64) -> f64 {
        let [from, to] = self.between;
        let inside = (distance - from).min(to - distance);
        if inside < 0.0 {
            return 0.0;
        }
        match inside >= self.ease {
            true => 1.0,
            false => {
                let t = inside / self.ease;
                t * t * (3.0 - 2.0 * t)
            }
        }
    }

    /// Distances at which its raising by an amount is followed within `chord`.
    fn stops(&self, by: f64, chord: f64) -> Vec<f64> {
        let [from, to] = self.between;
        // Its curvature is 6 by / ease² at most.
        let parts = (self.ease > 0.0).then(|| {
            (6.0 * by.abs() / (8.0 * chord))
                .sqrt()
                .ceil()
                .clamp(2.0, MOST)
        });
        let mut stops = Vec::new();
        for (end, way) in [(from, 1.0), (to, -1.0)] {
            if end.is_finite() {
                let parts = parts.unwrap_or(1.0);
                stops.extend(
                    (0..=parts as u32).map(|part| end + way * self.ease * f64::from(part) / parts),
                );
            }
        }
        stops
    }
}

impl Profile {
    /// These heights raised by an amount over a stretch, within `chord` of it; lowered where it is negative. Raised as a whole its curves stay
    /// what they are; otherwise they are chords.
    #[must_use]
    pub fn raised(&self, by: f64, over: &RaisedStretch, chord: f64) -> Profile {
        let summits = self.summits();
        let (first, last) = (summits[0].distance, summits[summits.len() - 1].distance);
        let [from, to] = over.between;
        if from <= first - over.ease && to >= last + over.ease
            || from.is_infinite() && to.is_infinite()
        {
            let raised = summits.iter().map(|summit| VerticalPoint {
                height: summit.height + by,
                ..*summit
            });
            return Profile {
                summits: raised.collect(),
            };
        }
        let mut stops = over.stops(by, chord);
        stops.extend(self.stops(chord));
        stops.extend([first, last]);
        stops.retain(|at| (first..=last).contains(at));
        stops.sort_by(f64::total_cmp);
        stops.dedup();
        let heights = stops
            .into_iter()
            .filter_map(|at| Some([at, self.height(at)? + by * over.share(at)]));
        Profile::through(heights).unwrap_or_else(|_| self.clone())
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::Curve;
    use proptest::prelude::*;

    fn hill() -> Profile {
        let point = |distance, height, curve| VerticalPoint {
            distance,
            height,
            curve,
        };
        let round = Curve::Parabola([30.0, 30.0]);
        Profile::new(vec![
            point(0.0, 10.0, Curve::None),
            point(100.0, 16.0, round),
            point(200.0, 12.0, Curve::None),
        ])
        .unwrap()
    }

    #[test]
    fn a_whole_line_keeps_its_curves() {
        let raised = hill().raised(-0.5, &RaisedStretch::WHOLE, 0.01);
        assert_eq!(raised.summits()[1].curve, hill().summits()[1].curve);
        assert_eq!(
            raised.height(100.0).unwrap(),
            hill().height(100.0).unwrap() - 0.5
        );
    }

    proptest! {
        /// The heights are those of before and the share of the raising, within the chord of curve and end together.
        #[test]
        fn heights_are_raised_by_their_share(from in 10.0..90.0f64, length in 20.0..100.0f64, ease in 0.0..1.0f64, by in -2.0..2.0f64, at in 0.0..200.0f64) {
            let over = RaisedStretch { between: [from, from + length], ease: ease * length / 2.0 };
            let raised = hill().raised(by, &over, 1e-4);
            let expected = hill().height(at).unwrap() + by * over.share(at);
            let near = [from, from + length].iter().any(|end| (at - end).abs() < 1e-3);
            prop_assume!(!near && (ease * length > 0.5));
            prop_assert!((raised.height(at).unwrap() - expected).abs() <= 2e-4 + 1e-9);
        }
    }
}
