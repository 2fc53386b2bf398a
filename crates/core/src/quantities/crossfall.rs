//! The crossfall of a surface: how it falls square to a line, over a width of it.

use crate::plan::Sum;
use crate::quantities::{CountedCut, Cut, SectionLine};

/// The straight line that lies closest to a surface in a section, by least squares over its width.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Crossfall {
    /// The rise with each unit of offset, to the right of the line.
    pub slope: f64,
    /// Over which width.
    pub width: f64,
    /// The offset of its middle.
    middle: f64,
    /// The second moment of the width about its middle.
    moment: f64,
}

impl Crossfall {
    /// Of a surface in a section; none where it covers nothing of it.
    ///
    /// Each straight part counts with its integrals, so that the result does not depend on where the surface has its points.
    ///
    /// ```
    /// use dapedon_core::quantities::{Crossfall, SectionLine, SectionPart};
    /// // Falls by 2.5 % to the right, in two parts.
    /// let part = |from: f64, to: f64| SectionPart { offsets: [from, to], heights: [from, to].map(|at| 8.0 - 0.025 * at) };
    /// let found = Crossfall::of(&SectionLine { parts: vec![part(0.0, 1.0), part(1.0, 4.0)] }).unwrap();
    /// assert!((found.slope + 0.025).abs() < 1e-12 && found.width == 4.0);
    /// ```
    pub fn of(line: &SectionLine) -> Option<Self> {
        let (mut width, mut first) = (Sum::default(), Sum::default());
        for part in &line.parts {
            let [from, to] = part.offsets;
            width += to - from;
            first += (to - from) * (from + to) / 2.0;
        }
        let width = width.value();
        if width <= 0.0 {
            return None;
        }
        let middle = first.value() / width;
        let (mut moment, mut rise) = (Sum::default(), Sum::default());
        for part in &line.parts {
            let ([from, to], [start, end]) = (part.offsets.map(|at| at - middle), part.heights);
            let own = to - from;
            moment += own * (from * from + from * to + to * to) / 3.0;
            // Of the offset times the height, both of which are linear.
            rise += own * (from * (2.0 * start + end) + to * (start + 2.0 * end)) / 6.0;
        }
        let moment = moment.value();
        (moment > 0.0).then(|| Crossfall {
            slope: rise.value() / moment,
            width,
            middle,
            moment,
        })
    }

    /// How much it grows with the heights along a section: a section whose "volume" is the crossfall, for
    /// [`section_uncertainty`](crate::quantities::section_uncertainty).
    pub fn counted(&self, cut: Cut) -> CountedCut {
        CountedCut {
            cut,
            length: -self.middle / self.moment,
            turned: 1.0 / self.moment,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::Course;
    use crate::plan::{Frame, Place};
    use crate::quantities::chance::Chance;
    use crate::quantities::{Accuracy, section_uncertainty};
    use crate::surface::{FacetIndex, Grid, Level, Surface};
    use crate::units::LengthUnit;
    use proptest::prelude::*;

    fn ground(heights: Vec<f64>) -> Surface {
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let corner = frame.to_local(0.0, 0.0);
        Surface::Grid(Grid::new(frame, corner, [1.0, 1.0], [9, 9], heights).unwrap())
    }

    fn cut() -> Cut {
        let course = Course {
            place: Place::new(3.3, 4.1),
            direction: 0.3,
        };
        Cut {
            course,
            spans: vec![[-1.5, 0.5], [1.0, 3.0]],
        }
    }

    fn crossfall(surface: &Surface) -> Crossfall {
        Crossfall::of(&cut().through(&FacetIndex::of(surface))).unwrap()
    }

    #[test]
    fn surveys_that_are_drawn_scatter_as_stated() {
        let height = |at: usize| 10.0 + 0.02 * (at % 9) as f64 - 0.01 * (at / 9) as f64;
        let survey = Accuracy {
            height: 0.02,
            common_height: 0.5,
            ..Accuracy::EXACT
        };
        let exact = ground((0..81).map(height).collect());
        let level = Surface::Level(Level::new(exact.frame(), 0.0));
        let own = crossfall(&exact);
        let sides = [&level, &exact].map(FacetIndex::of);
        let stated = section_uncertainty(
            [&sides[0], &sides[1]],
            &[own.counted(cut())],
            [Accuracy::EXACT, survey],
        );
        let stated = stated.net.standard();
        let mut chance = Chance(5);
        let (mut squares, draws) = (0.0, 3000);
        for _ in 0..draws {
            // What all heights have in common does not lean.
            let common = survey.common_height * chance.normal();
            let drawn = (0..81).map(|at| height(at) + common + survey.height * chance.normal());
            squares += (crossfall(&ground(drawn.collect())).slope - own.slope).powi(2);
        }
        let ratio = (squares / f64::from(draws)).sqrt() / stated;
        // So many draws tell it to 1.3 %.
        assert!((ratio - 1.0).abs() < 0.05, "{ratio}");
    }

    proptest! {
        /// A plane has its own fall square to the line, whatever the parts; raised it is the same, seen from the other direction it is turned over.
        #[test]
        fn a_plane_has_its_fall(east in -0.2..0.2f64, north in -0.2..0.2f64, up in -50.0..50.0f64) {
            let plane = ground((0..81).map(|at| up + east * (at % 9) as f64 + north * (at / 9) as f64).collect());
            let found = crossfall(&plane);
            let (to, from) = (cut().place(1.0), cut().place(0.0));
            let expected = east * (to.east - from.east) + north * (to.north - from.north);
            prop_assert!((found.slope - expected).abs() < 1e-10);
            prop_assert!((found.width - 4.0).abs() < 1e-12);
            let mut other = cut();
            other.course.direction += std::f64::consts::PI;
            other.spans = vec![[-3.0, -1.0], [-0.5, 1.5]];
            let back = Crossfall::of(&other.through(&FacetIndex::of(&plane))).unwrap();
            prop_assert!((back.slope + expected).abs() < 1e-10);
        }
    }
}
