//! Surfaces whose volumes are known.

use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Tolerance, ZoneVolume, volume};
use dapedon_core::surface::{Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

/// Grid coordinates as they are in a national grid.
pub(crate) const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

pub(crate) fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, ORIGIN)
}

pub(crate) fn vertex(east: f64, north: f64, height: f64) -> Vertex {
    Vertex::new(ORIGIN[0] + east, ORIGIN[1] + north, height)
}

pub(crate) fn place(east: f64, north: f64) -> Place {
    Place::new(ORIGIN[0] + east, ORIGIN[1] + north)
}

/// A low-discrepancy sequence in the unit square (M. Roberts' R2), in eighths of a unit so that
/// places recur between surfaces, and vertices and edges coincide.
pub(crate) fn places(count: usize, width: f64, height: f64, start: usize) -> Vec<(f64, f64)> {
    (start..start + count)
        .map(|i| {
            let at = |factor: f64, length: f64| {
                ((i as f64 * factor).fract() * length * 8.0).round() / 8.0
            };
            (
                at(0.754_877_666_246_69, width),
                at(0.569_840_290_998_05, height),
            )
        })
        .collect()
}

/// A rectangle from the origin, triangulated over scattered points, heights from `height`.
pub(crate) fn sheet(
    width: f64,
    length: f64,
    count: usize,
    start: usize,
    height: impl Fn(f64, f64) -> f64,
) -> Surface {
    let corners = [(0.0, 0.0), (width, 0.0), (width, length), (0.0, length)];
    let points = corners
        .into_iter()
        .chain(places(count, width, length, start));
    let points: Vec<_> = points.map(|(e, n)| vertex(e, n, height(e, n))).collect();
    Surface::Tin(
        triangulate(frame(), &PickUp::from(points), &Rules::default())
            .unwrap()
            .tin,
    )
}

pub(crate) fn solid(vertices: &[(f64, f64, f64)], facets: &[[u32; 3]]) -> Surface {
    let vertices = vertices.iter().map(|&(e, n, h)| vertex(e, n, h)).collect();
    Surface::Tin(Tin::from_facets(frame(), vertices, facets.to_vec()).unwrap())
}

/// Facets from a hub to each side of a regular polygon.
pub(crate) fn cone(sides: u32, radius: f64, height: f64) -> Surface {
    let mut vertices = vec![(0.0, 0.0, height)];
    vertices.extend((0..sides).map(|i| {
        let (sin, cos) = (f64::from(i) / f64::from(sides) * std::f64::consts::TAU).sin_cos();
        (radius * cos, radius * sin, 0.0)
    }));
    let facets: Vec<_> = (0..sides)
        .map(|i| [0, 1 + i, 1 + (i + 1) % sides])
        .collect();
    solid(&vertices, &facets)
}

pub(crate) fn ring(corners: &[(f64, f64)]) -> Vec<Place> {
    let closed = corners.iter().chain(corners.first());
    closed.map(|&(e, n)| place(e, n)).collect()
}

pub(crate) fn zones(rings: Vec<Vec<Vec<Place>>>) -> Zones {
    let zone = |(i, rings)| Zone::new(format!("zone {i}"), frame(), vec![rings]).unwrap();
    Zones::new(frame(), rings.into_iter().enumerate().map(zone).collect())
}

pub(crate) fn measure(reference: &Surface, surveyed: &Surface) -> ZoneVolume {
    volume(reference, surveyed, None, Tolerance::ZERO).unwrap()[0]
}

/// The integral of a surface's heights, facet by facet, without any overlay.
pub(crate) fn integral(surface: &Surface) -> f64 {
    let Surface::Tin(tin) = surface else {
        panic!("a level has no edge")
    };
    (0..tin.facets().len())
        .map(|facet| {
            let [a, b, c] = tin.corners(facet);
            let twice =
                (b.east - a.east) * (c.north - a.north) - (b.north - a.north) * (c.east - a.east);
            twice / 2.0 * (a.height + b.height + c.height) / 3.0
        })
        .sum()
}

#[track_caller]
pub(crate) fn near(found: f64, expected: f64, tolerance: f64) {
    let scale = expected.abs().max(1.0);
    assert!(
        (found - expected).abs() <= tolerance * scale,
        "found {found}, expected {expected}"
    );
}
