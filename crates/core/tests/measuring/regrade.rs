//! Ground made anew within a zone: volumes in closed form, and what is around it.

use crate::shapes::{frame, integral, measure, near, ring, solid, zones};
use dapedon_core::derived::{Choice, NewGround, RegradeError, combined, regraded};
use dapedon_core::plan::Place;
use dapedon_core::surface::{FacetIndex, HeightAt, Level, Surface, Tin, Vertex};
use dapedon_core::zones::Zone;
use proptest::prelude::*;

/// Squares of two facets about the origin, so many points each way.
fn lattice(count: u32, spacing: f64, height: impl Fn(f64, f64) -> f64) -> Surface {
    let along = |i: u32| (f64::from(i) - f64::from(count - 1) / 2.0) * spacing;
    let mut corners = Vec::new();
    for i in 0..count {
        for j in 0..count {
            corners.push((along(i), along(j), height(along(i), along(j))));
        }
    }
    let squares = (0..count - 1).flat_map(|i| (0..count - 1).map(move |j| i * count + j));
    let facets: Vec<[u32; 3]> = squares
        .flat_map(|a| [[a, a + count, a + count + 1], [a, a + count + 1, a + 1]])
        .collect();
    solid(&corners, &facets)
}

fn zone(corners: &[(f64, f64)]) -> Zone {
    zones(vec![vec![ring(corners)]]).zones()[0].clone()
}

fn square(half: f64) -> Zone {
    zone(&[(-half, -half), (half, -half), (half, half), (-half, half)])
}

fn vertex(east: f64, north: f64, height: f64) -> Vertex {
    Vertex::new(east, north, height)
}

/// A pit in a slope: a pyramid below it, whatever the slope.
#[test]
fn a_pit_in_a_slope_is_a_pyramid() {
    let slope = lattice(2, 80.0, |e, n| 20.0 + 0.1 * e - 0.05 * n);
    let pit = square(8.0);
    let new = NewGround {
        points: vec![vertex(1.0, 2.0, 20.1 - 0.1 - 3.0), vertex(20.0, 0.0, 9.0)],
        lines: vec![],
    };
    let made = regraded(&slope, &pit, &new).unwrap();
    assert_eq!((made.points, made.outside), (1, 1));
    let whole = combined(&slope, &Surface::Tin(made.surface), Choice::Other).unwrap();
    let found = measure(&slope, &whole).volume;
    near(found.cut, 16.0 * 16.0 * 3.0 / 3.0, 1e-9);
    near(found.fill, 0.0, 1e-9);
}

/// A swale: its invert runs through the zone and ends at its edge, at the ground's own height.
#[test]
fn a_line_ends_at_the_edge_of_the_zone() {
    let ground = Surface::Level(Level::new(frame(), 10.0));
    let strip = zone(&[(-20.0, -3.0), (20.0, -3.0), (20.0, 3.0), (-20.0, 3.0)]);
    let line = vec![vertex(-30.0, 0.0, 8.0), vertex(30.0, 0.0, 8.0)];
    let new = NewGround {
        points: vec![vertex(-15.0, 0.0, 8.0), vertex(15.0, 0.0, 8.0)],
        lines: vec![line],
    };
    let made = regraded(&ground, &strip, &new).unwrap();
    assert_eq!(made.outside, 2);
    let found = measure(&ground, &Surface::Tin(made.surface)).volume;
    // Between the two points a wedge 6 wide and 2 deep; at both ends a pyramid over the last 5.
    near(
        found.cut,
        30.0 * 6.0 * 2.0 / 2.0 + 2.0 * (6.0 * 5.0) * 2.0 / 3.0,
        1e-9,
    );
}

/// A zone with a hole keeps the ground in the hole.
#[test]
fn holes_keep_their_ground() {
    let corners = |half: f64| [(-half, -half), (half, -half), (half, half), (-half, half)];
    let zones = zones(vec![vec![ring(&corners(10.0)), ring(&corners(2.0))]]);
    let ground = Surface::Level(Level::new(frame(), 0.0));
    let ring: Vec<Vertex> = corners(6.0)
        .iter()
        .chain(&corners(6.0)[..1])
        .map(|&(e, n)| vertex(e, n, 1.0))
        .collect();
    let made = regraded(
        &ground,
        &zones.zones()[0],
        &NewGround {
            points: vec![],
            lines: vec![ring],
        },
    )
    .unwrap();
    let area = 400.0 - 16.0;
    let body = Surface::Tin(made.surface);
    near(measure(&ground, &body).area.compared, area, 1e-12);
    // Outside, a frustum of squares from 20 to 12; inside, one from 12 to 4 is missing.
    let frustum = |a: f64, b: f64| (a * a + a * b + b * b) / 3.0;
    near(
        integral(&body),
        frustum(20.0, 12.0) - frustum(12.0, 4.0),
        1e-9,
    );
}

#[test]
fn what_cannot_be_made_anew_is_said() {
    let ground = lattice(3, 10.0, |_, _| 5.0);
    let point = |e: f64| NewGround {
        points: vec![vertex(e, 0.0, 4.0)],
        lines: vec![],
    };
    let nothing = regraded(&ground, &square(3.0), &point(50.0));
    assert!(matches!(nothing, Err(RegradeError::NothingWithin { .. })));
    let beyond = regraded(&ground, &square(500.0), &point(0.0));
    assert!(matches!(beyond, Err(RegradeError::NoGround { .. })));
    let step = combined(&ground, &Surface::Tin(raised(&ground)), Choice::Other).unwrap();
    let upright = regraded(&step, &square(3.0), &point(0.0));
    assert!(
        matches!(upright, Err(RegradeError::Upright { .. })),
        "{upright:?}"
    );
}

/// A strip across the ground, a metre higher.
fn raised(ground: &Surface) -> Tin {
    let extent = ground.extent();
    let [low, high] = [extent.min.north, extent.max.north];
    let at = |east: f64, north: f64| {
        let grid = frame().to_grid(Place::new(east, north));
        Vertex::new(grid.east, grid.north, 6.0)
    };
    let corners = vec![at(-1.0, low), at(1.0, low), at(1.0, high), at(-1.0, high)];
    Tin::from_facets(frame(), corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap()
}

proptest! {
    /// Ground outside the zone is the same to the bit, and along the zone's edge there is no step.
    #[test]
    fn what_is_outside_stays_as_it_is(
        heights in prop::collection::vec(0.0..4.0f64, 7 * 7),
        points in prop::collection::vec((-11.0..11.0f64, -11.0..11.0f64, -3.0..8.0f64), 1..9),
        turn in 0.0..6.0f64,
        size in 8.0..20.0f64,
    ) {
        let ground = lattice(7, 10.0, |e: f64, n: f64| {
            let index = (((e / 10.0).round() + 3.0) * 7.0 + (n / 10.0).round() + 3.0).clamp(0.0, 48.0);
            heights[index as usize]
        });
        let corners: Vec<(f64, f64)> = (0..5).map(|i| {
            let angle = turn + f64::from(i) * std::f64::consts::TAU / 5.0;
            (size * angle.cos(), size * angle.sin())
        }).collect();
        let area = zone(&corners);
        let points: Vec<Vertex> = points.iter().map(|&(e, n, h)| vertex(0.6 * e, 0.6 * n, h)).collect();
        let line = points.iter().copied().chain([vertex(25.0, 3.0, 0.0)]).collect();
        let made = regraded(&ground, &area, &NewGround { points: vec![], lines: vec![line] });
        // Lines may cross at two heights, which is settled by their mean; a line wholly on one place is no line.
        let Ok(made) = made else { return Ok(()) };
        let body = Surface::Tin(made.surface);
        near(measure(&ground, &body).area.compared, area.area(), 1e-9);
        let whole = combined(&ground, &body, Choice::Other).unwrap();
        let index = FacetIndex::of(&whole);
        for (from, to) in corners.iter().zip(corners.iter().cycle().skip(1)) {
            for share in [0.0, 0.123, 0.5, 0.77] {
                let at = Place::new(from.0 + share * (to.0 - from.0), from.1 + share * (to.1 - from.1));
                let own = FacetIndex::of(&ground).at(at);
                let heights = |found: HeightAt| match found {
                    HeightAt::One { height, .. } => [height; 2],
                    HeightAt::Several { low, high } => [low, high],
                    HeightAt::None => [f64::NAN; 2],
                };
                let (found, [c, _]) = (index.at(at), heights(own));
                let [a, b] = heights(found);
                // Places on an edge are a nanometre beside it, on slopes of up to a hundred in one.
                prop_assert!((a - c).abs() < 1e-6 && (b - c).abs() < 1e-6, "{found:?} {own:?}");
            }
        }
        let bits = |corners: [Vertex; 3]| corners.map(|v| [v.east, v.north, v.height].map(f64::to_bits));
        let (Surface::Tin(before), Surface::Tin(after)) = (&ground, &whole) else { panic!("no facets") };
        let mut kept: Vec<_> = (0..after.facets().len()).map(|f| { let mut b = bits(after.corners(f)); b.sort_unstable(); b }).collect();
        kept.sort_unstable();
        for facet in 0..before.facets().len() {
            let own = before.corners(facet);
            let outside = own.iter().all(|v| v.east.hypot(v.north) > size + 15.0);
            let mut own = bits(own);
            own.sort_unstable();
            prop_assert!(!outside || kept.binary_search(&own).is_ok());
        }
    }
}
