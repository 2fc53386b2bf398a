//! Volumes from the areas of sections.

use super::section::SectionArea;

/// How a volume is computed from the areas of sections.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum EndAreaRule {
    /// The mean of both end areas, times the distance between them.
    Average,
    /// The end areas and four times the middle one, a sixth of it times the distance: the prismoidal formula.
    Prismoidal,
}

/// The areas at the ends of a stretch of a line, and in its middle where that was cut.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StretchAreas {
    /// The length of the stretch.
    pub length: f64,
    /// How far the line turns over it, as [`turned`](crate::alignment::Alignment::turned) tells; zero where curves are
    /// not corrected for.
    pub turned: f64,
    /// The area at its start.
    pub start: SectionArea,
    /// The area in its middle.
    pub middle: Option<SectionArea>,
    /// The area at its end.
    pub end: SectionArea,
}

impl StretchAreas {
    /// The volume: by the prismoidal formula where there is a middle area, by average end area otherwise.
    ///
    /// On a curve the area's middle is carried over a longer or shorter way than the line: by the theorem of Pappus and
    /// Guldin the first moment about the line, times the angle that the line turns by, is added.
    ///
    /// ```
    /// use dapedon_core::quantities::{SectionArea, StretchAreas};
    /// let area = |area: f64| SectionArea { area, moment: 0.0 };
    /// // A wedge of 10 that rises from nothing to 6.
    /// let wedge = StretchAreas { length: 10.0, turned: 0.0, start: area(0.0), middle: None, end: area(6.0) };
    /// assert_eq!(wedge.volume(), 30.0);
    /// let cut = StretchAreas { middle: Some(area(3.0)), ..wedge };
    /// assert_eq!(cut.volume(), 30.0);
    /// ```
    pub fn volume(&self) -> f64 {
        let swept = |area: SectionArea| self.length * area.area + self.turned * area.moment;
        let volume = match self.middle {
            Some(middle) => (swept(self.start) + 4.0 * swept(middle) + swept(self.end)) / 6.0,
            None => (swept(self.start) + swept(self.end)) / 2.0,
        };
        // What a section holds beyond the middle of a tight curve counts against it, at most to nothing.
        volume.max(0.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Alignment, Chainage, Element, Turn};
    use crate::plan::Place;
    use proptest::prelude::*;
    use std::f64::consts::TAU;

    fn area(area: f64) -> SectionArea {
        SectionArea { area, moment: 0.0 }
    }

    #[test]
    fn the_error_of_each_formula_is_the_known_one() {
        let of = |start: f64, middle: Option<f64>, end: f64| StretchAreas {
            length: 12.0,
            turned: 0.0,
            start: area(start),
            middle: middle.map(area),
            end: area(end),
        };
        // A prism and a wedge: no error.
        assert_eq!(of(5.0, None, 5.0).volume(), 60.0);
        assert_eq!(of(0.0, None, 5.0).volume(), 30.0);
        // A pyramid or cone to its tip, area by the square of the distance: a half too much by the mean of its ends, right by the
        // prismoidal formula.
        assert_eq!(of(0.0, None, 8.0).volume(), 1.5 * (8.0 * 12.0 / 3.0));
        assert_eq!(of(0.0, Some(2.0), 8.0).volume(), 8.0 * 12.0 / 3.0);
        // A frustum: the mean is too large by (a - b)² L / 12 for squares of sides a and b.
        let (a, b) = (4.0f64, 1.0f64);
        let exact = 12.0 * (a * a + a * b + b * b) / 3.0;
        assert!(
            (of(a * a, None, b * b).volume() - exact - (a - b).powi(2) * 12.0 / 6.0).abs() < 1e-12
        );
        let middle = ((a + b) / 2.0).powi(2);
        assert!((of(a * a, Some(middle), b * b).volume() - exact).abs() < 1e-12);
    }

    proptest! {
        /// On an arc the corrected volume is that of Pappus: the area times the way of its middle.
        #[test]
        fn on_an_arc_it_is_the_volume_of_pappus(radius in 20.0..500.0f64, share in 0.02..0.9f64, size in 0.1..50.0f64, offset in -15.0..15.0f64, left in any::<bool>(), parts in 1..7u32, prismoidal in any::<bool>()) {
            let turn = if left { Turn::Left } else { Turn::Right };
            let sign = turn.sign();
            let centre = Place::new(0.0, sign * radius);
            let angle: f64 = sign * (share * TAU - TAU / 4.0);
            let to = Place::new(radius * angle.cos(), centre.north + radius * angle.sin());
            let arc = Element::arc(Place::new(0.0, 0.0), to, centre, turn);
            let line = Alignment::new("arc", vec![arc], Chainage::from(0.0), None);
            let own = SectionArea { area: size, moment: size * offset };
            let step = line.length() / f64::from(parts);
            let volume: f64 = (0..parts).map(|part| {
                let from = f64::from(part) * step;
                StretchAreas { length: step, turned: line.turned(from, from + step), start: own, middle: prismoidal.then_some(own), end: own }.volume()
            }).sum();
            // To the right of a line that turns left it is farther from the centre.
            let way = share * TAU * (radius + sign * offset);
            prop_assert!((volume - size * way).abs() < 1e-9 * size * radius * TAU, "{volume} {}", size * way);
        }
    }
}
