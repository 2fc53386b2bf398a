//! The same points triangulated as if they had no breaklines.

use crate::points::outline_lines::Outlined;
use crate::points::{Rules, triangulate};
use crate::surface::Tin;

impl Tin {
    /// The surface between the same points within the same outline, with nothing else that triangles may not cross. None where it lies in several
    /// parts, or cannot be made.
    ///
    /// ```
    /// use dapedon_core::plan::Frame;
    /// use dapedon_core::surface::{Tin, Vertex};
    /// use dapedon_core::units::LengthUnit;
    /// // A ridge along the long diagonal of a flat rhomb is left out for the short one.
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let corners = [(0.0, 0.0, 1.0), (5.0, -1.0, 0.0), (10.0, 0.0, 1.0), (5.0, 1.0, 0.0)];
    /// let corners = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
    /// let ridge = Tin::from_facets(frame, corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap();
    /// let without = ridge.without_breaklines().unwrap();
    /// let along = |tin: &Tin| tin.facets().iter().any(|facet| {
    ///     let ends = facet.iter().filter(|&&corner| tin.vertices()[corner as usize].height == 1.0);
    ///     ends.count() == 2
    /// });
    /// assert!(along(&ridge) && !along(&without));
    /// ```
    pub fn without_breaklines(&self) -> Option<Tin> {
        let outlined = Outlined::of(self)?;
        let made = triangulate(self.frame(), &outlined.pick_up, &Rules::default());
        made.ok().map(|made| made.tin)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{Line, LineKind, PickUp};
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Level, Surface, Vertex};
    use crate::units::LengthUnit;

    /// A ditch of a metre between banks of points that stand closer along it than across it.
    #[test]
    fn a_ditch_loses_its_sides_and_keeps_its_ground() {
        let frame = Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0]);
        let (mut points, mut lines) = (Vec::new(), Vec::new());
        for (at, height) in [
            (0.0, 10.0),
            (9.0, 10.0),
            (10.0, 9.0),
            (11.0, 10.0),
            (20.0, 10.0),
        ] {
            let first = points.len() as u32;
            for row in 0..6 {
                let n = 6.0 * f64::from(row);
                points.push(Vertex::new(500_000.0 + at, 6_000_000.0 + n, height));
            }
            let kind = LineKind::Breakline;
            lines.push(Line {
                kind,
                points: (first..first + 6).collect(),
            });
        }
        let pick_up = PickUp { points, lines };
        let with = triangulate(frame, &pick_up, &Rules::default()).unwrap().tin;
        let without = with.without_breaklines().unwrap();
        assert_eq!(with.vertices().len(), without.vertices().len());
        let level = Surface::Level(Level::new(frame, 0.0));
        let [with, without] = [with, without].map(|tin| {
            let tin = Surface::Tin(tin);
            volume(&level, &tin, None, Tolerance::ZERO).unwrap()[0]
        });
        assert!((with.area.compared - 600.0).abs() < 1e-6);
        assert!((without.area.compared - 600.0).abs() < 1e-6);
        assert!((with.volume.fill - (6000.0 - 30.0)).abs() < 1e-6);
    }
}
