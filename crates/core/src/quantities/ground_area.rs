//! The area of a surface within zones, in plan and as it slopes.

use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Sum;
use crate::surface::{Level, Surface};
use crate::zones::Zones;

/// An area in plan, and the same as it slopes along the ground.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct GroundArea {
    /// In plan.
    pub plan: f64,
    /// Along the ground.
    pub sloping: f64,
}

/// The area of a surface within each zone.
///
/// The sloping area of a plane is its plan area times the square root of one and the squares of its slopes.
///
/// # Errors
///
/// When the frames differ or the surface and the zones do not overlap.
pub fn ground_areas(surface: &Surface, zones: &Zones) -> Result<Vec<GroundArea>, OverlayError> {
    let level = Surface::Level(Level::new(surface.frame(), 0.0));
    let overlay = Overlay::new(surface, &level, Some(zones))?;
    let sums = overlay.fold(&Areas(overlay.zone_count()))?;
    let area = |[plan, sloping]: [Sum; 2]| GroundArea {
        plan: plan.value(),
        sloping: sloping.value(),
    };
    Ok(sums.into_iter().map(area).collect())
}

struct Areas(usize);

impl Fold for Areas {
    type Part = Vec<[Sum; 2]>;

    fn part(&self) -> Self::Part {
        vec![[Sum::ZERO; 2]; self.0]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let plan = piece.outline.area();
        let plane = piece.reference;
        let slope = (1.0 + plane.slope_east.powi(2) + plane.slope_north.powi(2)).sqrt();
        for &zone in piece.zones {
            part[zone as usize][0] += plan;
            part[zone as usize][1] += plan * slope;
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (sums, next) in part.iter_mut().zip(next) {
            sums[0] += next[0];
            sums[1] += next[1];
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Frame, Place};
    use crate::surface::{Tin, Vertex};
    use crate::units::LengthUnit;
    use crate::zones::Zone;

    #[test]
    fn a_roof_slopes() {
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        // Rises 3 in 4, so that 4 in plan are 5 along it.
        let corners = [
            (0.0, 0.0, 0.0),
            (8.0, 0.0, 6.0),
            (8.0, 5.0, 6.0),
            (0.0, 5.0, 0.0),
        ];
        let corners = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
        let roof =
            Surface::Tin(Tin::from_facets(frame, corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
        let ring = [(4.0, 0.0), (12.0, 0.0), (12.0, 5.0), (4.0, 5.0), (4.0, 0.0)];
        let ring = ring.map(|(e, n)| Place::new(e, n)).to_vec();
        let half = Zone::new("half", frame, vec![vec![ring]]).unwrap();
        let areas = ground_areas(&roof, &Zones::new(frame, vec![half])).unwrap();
        assert_eq!(
            areas,
            [GroundArea {
                plan: 20.0,
                sloping: 25.0
            }]
        );
    }
}
