//! Heights at places: on facets, edges and corners, of facets and of grids.

use crate::shapes::{ORIGIN, cone, frame, places, sheet, solid};
use dapedon_core::plan::Place;
use dapedon_core::surface::{FacetIndex, Grid, HeightAt, Surface, Tin, heights_at};
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

/// The stretches of a line cover it where the surface lies, with the heights of its places.
#[track_caller]
fn covers(surface: &Surface, from: Place, to: Place) -> f64 {
    let index = FacetIndex::of(surface);
    let found = index.along(from, to);
    let length = (to.east - from.east).hypot(to.north - from.north);
    let mut covered = 0.0;
    for stretch in &found {
        let [enters, leaves] = stretch.between;
        assert!(
            0.0 <= enters && enters < leaves && leaves <= length + 1e-9,
            "{stretch:?}"
        );
        covered += leaves - enters;
        // A place amidst the stretch is on the facet, at a height between its ends.
        let share = (enters + leaves) / 2.0 / length;
        let at = Place::new(
            from.east + share * (to.east - from.east),
            from.north + share * (to.north - from.north),
        );
        if leaves - enters > 1e-7 {
            match index.at(at) {
                HeightAt::One { height, .. } => {
                    let middle = (stretch.heights[0] + stretch.heights[1]) / 2.0;
                    assert!((height - middle).abs() < 1e-9, "{stretch:?} {height}");
                }
                other => panic!("{other:?} {stretch:?}"),
            }
        }
    }
    for pair in found.windows(2) {
        assert!(pair[0].between[0] <= pair[1].between[0]);
        let gap = pair[1].between[0] - pair[0].between[1];
        assert!(gap > -1e-9, "stretches overlap: {pair:?}");
    }
    covered
}

#[test]
fn facets_along_a_line_cover_it() {
    let sheet = sheet(40.0, 30.0, 300, 11, |e, n| libm::sin(e / 5.0) + 0.1 * n);
    // Straight through and beyond both ends, by north, by east, and from corner to corner.
    for (from, to, within) in [
        ((-5.0, 12.3), (45.0, 12.3), 40.0),
        ((17.7, -5.0), (17.7, 35.0), 30.0),
        ((0.0, 0.0), (40.0, 30.0), 50.0),
        ((10.0, 10.0), (13.0, 14.0), 5.0),
    ] {
        let [from, to] = [from, to].map(|(e, n)| Place::new(e, n));
        let covered = covers(&sheet, from, to);
        assert!((covered - within).abs() < 1e-6, "{covered} {within}");
        assert!((covered - covers(&sheet, to, from)).abs() < 1e-9);
    }
    let index = FacetIndex::of(&sheet);
    assert!(
        index
            .along(Place::new(-9.0, 0.0), Place::new(-9.0, 30.0))
            .is_empty()
    );
    assert!(
        index
            .along(Place::new(3.0, 3.0), Place::new(3.0, 3.0))
            .is_empty()
    );
}

#[test]
fn a_grid_along_a_line_is_its_facets_along_it() {
    let heights = (0..21 * 11).map(|i| match i {
        115 => f64::NAN,
        _ => libm::sin(f64::from(i % 21)) - f64::from(i / 21),
    });
    let corner = Place::new(ORIGIN[0], ORIGIN[1]);
    let grid = Grid::new(frame(), corner, [2.0, 3.0], [21, 11], heights.collect()).unwrap();
    let facets = Surface::Tin(grid.to_tin().unwrap());
    let grid = Surface::Grid(grid);
    for (from, to) in [
        ((-3.0, 1.1), (43.0, 28.7)),
        ((7.0, -1.0), (7.0, 40.0)),
        ((40.0, 29.0), (1.0, 13.0)),
        // Along a row of nodes, and along the diagonal of cells.
        ((0.0, 6.0), (40.0, 6.0)),
        ((2.0, 3.0), (12.0, 18.0)),
    ] {
        let [from, to] = [from, to].map(|(e, n)| Place::new(e, n));
        let stretches = |surface: &Surface| FacetIndex::of(surface).along(from, to);
        let (by_cells, by_facets) = (stretches(&grid), stretches(&facets));
        assert_eq!(by_cells.len(), by_facets.len());
        for (one, other) in by_cells.iter().zip(&by_facets) {
            let pairs = one
                .between
                .iter()
                .chain(&one.heights)
                .zip(other.between.iter().chain(&other.heights));
            pairs.for_each(|(a, b)| assert!((a - b).abs() < 1e-9, "{one:?} {other:?}"));
        }
    }
}

/// Asked all together, places have the heights that they have one by one.
#[test]
fn heights_asked_together_are_the_same() {
    let step = {
        let low = [(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0)].map(|(e, n)| (e, n, 1.0));
        let high = [(4.0, 0.0), (8.0, 0.0), (8.0, 4.0), (4.0, 4.0)].map(|(e, n)| (e, n, 3.0));
        let corners: Vec<_> = low.into_iter().chain(high).collect();
        solid(&corners, &[[0, 1, 2], [0, 2, 3], [4, 5, 6], [4, 6, 7]])
    };
    let sheet = sheet(40.0, 30.0, 300, 3, |e, n| libm::sin(e / 5.0) + 0.1 * n);
    for surface in [&step, &sheet, &cone(500, 15.0, 4.0)] {
        let mut asked: Vec<Place> = places(3000, 50.0, 40.0, 9)
            .into_iter()
            .map(|(e, n)| Place::new(e - 5.0, n - 5.0))
            .collect();
        // On edges, on corners, twice at one place, and nowhere.
        asked.extend((0..9).map(|i| Place::new(f64::from(i), 2.0)));
        asked.extend((0..9).map(|i| Place::new(4.0, f64::from(i))));
        asked.extend([Place::new(f64::NAN, 0.0), Place::new(1e300, 0.0)]);
        asked.extend_from_within(..20);
        let index = FacetIndex::of(surface);
        let one_by_one: Vec<HeightAt> = asked.iter().map(|&at| index.at(at)).collect();
        assert_eq!(heights_at(surface, &asked), one_by_one);
        assert!(heights_at(surface, &[]).is_empty());
    }
}
