//! Heights at places: on facets, edges and corners, of facets and of grids.

use crate::shapes::{ORIGIN, cone, frame, places, sheet, solid};
use dapedon_core::plan::Place;
use dapedon_core::surface::{FacetIndex, Grid, HeightAt, Surface, Tin};
use proptest::prelude::*;

/// Each facet asked on its own, by shares of its area.
fn one_by_one(tin: &Tin, at: Place) -> Vec<f64> {
    let heights = (0..tin.facets().len()).filter_map(|facet| {
        let [a, b, c] = tin.corners(facet);
        let twice = |p: Place, q: Place, r: Place| {
            (q.east - p.east) * (r.north - p.north) - (r.east - p.east) * (q.north - p.north)
        };
        let shares = [
            twice(at, b.place(), c.place()),
            twice(a.place(), at, c.place()),
            twice(a.place(), b.place(), at),
        ];
        let whole: f64 = shares.iter().sum();
        let height = (shares[0] * a.height + shares[1] * b.height + shares[2] * c.height) / whole;
        shares.iter().all(|share| *share >= -1e-9).then_some(height)
    });
    heights.collect()
}

#[test]
fn steps_and_gaps_are_told() {
    // Two level squares, the second 2 higher, side by side from east 4.
    let corners = [
        (0.0, 0.0, 1.0),
        (4.0, 0.0, 1.0),
        (4.0, 4.0, 1.0),
        (0.0, 4.0, 1.0),
        (4.0, 0.0, 3.0),
        (8.0, 0.0, 3.0),
        (8.0, 4.0, 3.0),
        (4.0, 4.0, 3.0),
    ];
    let step = solid(&corners, &[[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]]);
    let index = FacetIndex::of(&step);
    assert_eq!(
        index.at(Place::new(4.0, 1.0)),
        HeightAt::Several {
            low: 1.0,
            high: 3.0
        }
    );
    assert_eq!(
        index.at(Place::new(3.0, 1.0)),
        HeightAt::One {
            height: 1.0,
            facet: 0
        }
    );
    assert_eq!(
        index.at(Place::new(2.0, 2.0)),
        HeightAt::One {
            height: 1.0,
            facet: 0
        },
        "on an edge"
    );
    assert_eq!(
        index.at(Place::new(8.0, 4.0)),
        HeightAt::One {
            height: 3.0,
            facet: 2
        },
        "on a corner"
    );
    for off in [
        (8.0 + 1e-9, 1.0),
        (-1e-9, 1.0),
        (f64::NAN, 1.0),
        (1e300, 0.0),
    ] {
        assert_eq!(
            index.at(Place::new(off.0, off.1)),
            HeightAt::None,
            "{off:?}"
        );
    }
}

#[test]
fn a_grid_is_asked_by_its_cells() {
    let heights = (0..21 * 11).map(|i| {
        if i == 25 {
            f64::NAN
        } else {
            f64::from(i % 21) * 0.5 - f64::from(i / 21)
        }
    });
    let grid = Grid::new(
        frame(),
        Place::new(ORIGIN[0], ORIGIN[1]),
        [2.0, 3.0],
        [21, 11],
        heights.collect(),
    )
    .unwrap();
    let facets = Surface::Tin(grid.to_tin().unwrap());
    let grid = Surface::Grid(grid);
    let (by_cells, by_facets) = (FacetIndex::of(&grid), FacetIndex::of(&facets));
    let mut reached = 0;
    for (e, n) in places(4000, 44.0, 34.0, 5) {
        let at = Place::new(e - 2.0, n - 2.0);
        match (by_cells.at(at), by_facets.at(at)) {
            (HeightAt::One { height: a, .. }, HeightAt::One { height: b, .. }) => {
                assert!((a - b).abs() < 1e-12, "{at:?}");
                reached += 1;
            }
            (one, other) => assert_eq!(one, other, "{at:?}"),
        }
    }
    assert!(reached > 3000, "{reached}");
}

/// Thousands of slivers that reach into cells by the hundred.
#[test]
fn slivers_are_found_too() {
    let (radius, height) = (100.0, 25.0);
    let cone = cone(6000, radius, height);
    let index = FacetIndex::of(&cone);
    for (e, n) in places(2000, 140.0, 140.0, 3) {
        let at = Place::new(e - 70.0, n - 70.0);
        let truth = height * (1.0 - at.east.hypot(at.north) / radius);
        let HeightAt::One { height, .. } = index.at(at) else {
            panic!("{at:?}")
        };
        // A side of the polygon lies within radius * (pi / 6000)^2 / 2 of the circle.
        assert!((height - truth).abs() < 1e-5, "{at:?} {height} {truth}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(30))]

    /// The same as each facet asked on its own; at corners and on the middles of edges too.
    #[test]
    fn heights_are_those_of_the_facets(start in 1..900_usize, width in 1.0..200.0f64, slope in -2.0..2.0f64) {
        let surface = sheet(width, 30.0, 150, start, |e, n| slope * e + libm::sin(n));
        let Surface::Tin(tin) = &surface else { return Ok(()) };
        let index = FacetIndex::of(&surface);
        let mut at: Vec<Place> = places(200, width + 4.0, 34.0, start + 7).into_iter()
            .map(|(e, n)| Place::new(e - 2.0 + 0.0123, n - 2.0 + 0.0077))
            .collect();
        for facet in 0..tin.facets().len() {
            let [a, b, _] = tin.corners(facet);
            let height = match index.at(a.place()) {
                HeightAt::One { height, .. } => height,
                other => return Err(TestCaseError::fail(format!("{other:?}"))),
            };
            prop_assert_eq!(height, a.height);
            at.push(Place::new((a.east + b.east) / 2.0, (a.north + b.north) / 2.0));
        }
        for place in at {
            let own = one_by_one(tin, place);
            match index.at(place) {
                HeightAt::One { height, facet } => {
                    prop_assert!(own.iter().all(|known| (known - height).abs() < 1e-9), "{own:?} {height}");
                    prop_assert!((facet as usize) < tin.facets().len());
                }
                HeightAt::None => prop_assert!(own.len() < 2, "only the edge of the surface may round away"),
                HeightAt::Several { .. } => prop_assert!(false),
            }
        }
    }
}
