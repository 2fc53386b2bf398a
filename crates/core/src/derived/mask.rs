//! A surface kept within a zone.

use crate::derived::Treatment;
use crate::derived::assembly::assemble;
use crate::derived::zonewise::parted;
use crate::overlay::OverlayError;
use crate::surface::{Surface, Tin, TinError};
use crate::zones::{Zone, Zones};

/// The part of a surface that lies within a zone: the same facets, cut along the outline.
///
/// Facets within the zone keep their vertices; those across the outline are split into pieces that
/// lie in the facet's own plane, so that the surface is the same where it is kept.
///
/// # Errors
///
/// When the frames differ, or nothing of the surface lies in the zone.
pub fn mask(surface: &Surface, zone: &Zone) -> Result<Tin, OverlayError> {
    let frame = surface.frame();
    let zones = Zones::new(frame, vec![zone.clone()]);
    let source = parted(surface, &zones, |within| match within {
        [] => Treatment::Drop,
        _ => Treatment::Keep,
    })?;
    assemble(frame, &[source]).map_err(|error| match error {
        // The pieces come from a surface whose numbers were found in range.
        TinError::NoFacets { .. }
        | TinError::TooMany { .. }
        | TinError::OutOfRange { .. }
        | TinError::UnknownVertex { .. } => OverlayError::Apart,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::derived::zonewise;
    use crate::plan::{Frame, Place};
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Level, Outline, Vertex};
    use crate::units::LengthUnit;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
    }

    fn ring(min: f64, max: f64) -> Vec<Place> {
        let corners = [(min, min), (max, min), (max, max), (min, max), (min, min)];
        corners
            .map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n))
            .to_vec()
    }

    fn rolling() -> Tin {
        let points = (0..900).map(|i| {
            let (e, n) = (
                f64::from(i % 30),
                f64::from(i / 30) + 0.01 * f64::from(i % 7),
            );
            Vertex::new(
                500_000.0 + e,
                6_000_000.0 + n,
                (e / 3.0).sin() + (n / 5.0).cos(),
            )
        });
        let points = PickUp::from(points.collect::<Vec<_>>());
        triangulate(frame(), &points, &Rules::default())
            .unwrap()
            .tin
    }

    #[test]
    fn what_is_kept_is_the_same_ground() {
        let whole = rolling();
        let zone = Zone::new(
            "kept",
            frame(),
            vec![vec![ring(2.5, 25.25), ring(7.1, 11.3)]],
        )
        .unwrap();
        let whole = Surface::Tin(whole);
        let kept = mask(&whole, &zone).unwrap();
        assert!((kept.area() - zone.area()).abs() < 1e-6 * zone.area());
        let kept = Surface::Tin(kept);
        let zones = Zones::new(frame(), vec![zone]);
        let level = Surface::Level(Level::new(frame(), -4.0));
        let within = volume(&level, &whole, Some(&zones), Tolerance::ZERO).unwrap()[0];
        let alone = volume(&level, &kept, None, Tolerance::ZERO).unwrap()[0];
        // New corners are held to a hundredth of a micrometre along an outline of 110.
        assert!((within.volume.fill - alone.volume.fill).abs() < 1e-6);
        let between = volume(&whole, &kept, None, Tolerance::ZERO).unwrap()[0];
        let largest = between.difference.unwrap();
        assert!(largest.max.difference < 1e-7 && largest.min.difference > -1e-7);
    }

    #[test]
    fn facets_within_are_kept_as_they_are() {
        let whole = rolling();
        let zone = Zone::new("all", frame(), vec![vec![ring(-10.0, 50.0)]]).unwrap();
        let kept = mask(&Surface::Tin(whole.clone()), &zone).unwrap();
        assert_eq!(kept.facets().len(), whole.facets().len());
        assert_eq!(kept.area(), whole.area());
    }

    /// Facets on both lips of a step, of a metre or of a tenth of a micrometre, have vertices of their own: what is cut
    /// on one lip has its new corners on the other one too, so that the surface ends at the zone alone.
    #[test]
    fn what_is_kept_ends_at_the_zone_alone() {
        for step in [1.0, 1e-7] {
            let west = Zone::new("west", frame(), vec![vec![ring(-3.0, 13.1)]]).unwrap();
            let zones = Zones::new(frame(), vec![west]);
            let raised = zonewise(&Surface::Tin(rolling()), &zones, |within| match within {
                [] => Treatment::Keep,
                _ => Treatment::Raise(step),
            });
            let zone = Zone::new("kept", frame(), vec![vec![ring(4.3, 20.7)]]).unwrap();
            let kept = mask(&raised.unwrap(), &zone).unwrap();
            let outline = Outline::of_tin(&kept);
            let lengths = outline.edges().unwrap().iter().map(|edge| edge.length());
            assert!((lengths.sum::<f64>() - 4.0 * 16.4).abs() < 1e-6, "{step}");
        }
    }

    #[test]
    fn nothing_is_left_outside() {
        let zone = Zone::new("off", frame(), vec![vec![ring(100.0, 120.0)]]).unwrap();
        assert_eq!(
            mask(&Surface::Tin(rolling()), &zone).unwrap_err(),
            OverlayError::Apart
        );
    }
}
