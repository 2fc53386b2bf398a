//! Surfaces from points and lines: what is known of them, and what must hold.

use crate::shapes::{frame, integral, near, places, vertex};
use dapedon_core::points::{
    Duplicates, Line, LineKind, PickUp, Rules, TriangulateError, Triangulated, triangulate,
};
use dapedon_core::surface::{Surface, Vertex};
use proptest::prelude::*;

fn pick_up(points: &[(f64, f64, f64)], lines: &[(LineKind, &[u32])]) -> PickUp {
    PickUp {
        points: points.iter().map(|&(e, n, h)| vertex(e, n, h)).collect(),
        lines: (lines.iter())
            .map(|&(kind, points)| Line {
                kind,
                points: points.to_vec(),
            })
            .collect(),
    }
}

fn made(pick_up: &PickUp) -> Triangulated {
    triangulate(frame(), pick_up, &Rules::default()).unwrap()
}

/// A square of 40, its corners, and rings upon it, all at the heights of a plane.
fn with_rings(rings: &[(LineKind, &[(f64, f64)])]) -> PickUp {
    let plane = |e: f64, n: f64| vertex(e, n, 3.0 + 0.1 * e - 0.2 * n);
    let mut all = PickUp::default();
    let corners = [(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)];
    (all.points).extend(corners.map(|(e, n)| plane(e, n)));
    all.points.extend(
        places(200, 40.0, 40.0, 7)
            .into_iter()
            .map(|(e, n)| plane(e, n)),
    );
    for &(kind, corners) in rings {
        let first = all.points.len() as u32;
        all.lines.push(Line {
            kind,
            points: (first..first + corners.len() as u32).collect(),
        });
        // Corners off the eighths of the scattered points, so that no place is given twice.
        all.points
            .extend(corners.iter().map(|&(e, n)| plane(e + 0.01, n + 0.01)));
    }
    all
}

#[test]
fn a_ridge_is_kept() {
    // A roof of 10 by 4 whose ridge, 2 high, is so long that Delaunay's rule would cross it.
    let points = [
        (0.0, 0.0, 0.0),
        (10.0, 0.0, 0.0),
        (10.0, 4.0, 0.0),
        (0.0, 4.0, 0.0),
        (0.0, 2.0, 2.0),
        (10.0, 2.0, 2.0),
        (5.0, 1.875, 1.875),
        (5.0, 2.125, 1.875),
    ];
    let ridge = [(LineKind::Breakline, &[4, 5][..])];
    let roof = Surface::Tin(made(&pick_up(&points, &ridge)).tin);
    // Two slopes of 10 by 2 with a mean height of 1.
    near(integral(&roof), 40.0, 1e-12);
    let flattened = Surface::Tin(made(&pick_up(&points, &[])).tin);
    // Two facets of half of 5 by 1/4 lie 1/8 too low at one corner.
    near(
        integral(&flattened),
        40.0 - 2.0 * 0.625 * 0.125 / 3.0,
        1e-12,
    );
}

#[test]
fn lines_that_cross_are_split_and_their_heights_told() {
    let points = [
        (0.0, 0.0, 1.0),
        (10.0, 0.0, 1.0),
        (10.0, 10.0, 3.0),
        (0.0, 10.0, 2.0),
    ];
    let lines = [
        (LineKind::Breakline, &[0, 2][..]),
        (LineKind::Breakline, &[1, 3][..]),
    ];
    let found = made(&pick_up(&points, &lines));
    assert_eq!(found.crossings.len(), 1);
    let crossing = found.crossings[0];
    assert_eq!(
        (crossing.at.east, crossing.at.north),
        (500_005.0, 6_000_005.0)
    );
    let mut heights = crossing.heights;
    heights.sort_by(f64::total_cmp);
    assert_eq!(heights, [1.5, 2.0]);
    // Four facets about the middle at 1.75, each a quarter of 100 with its own mean height.
    let sides = [(1.0 + 1.0), (1.0 + 3.0), (3.0 + 2.0), (2.0 + 1.0)];
    let expected: f64 = sides.iter().map(|sum| 25.0 * (sum + 1.75) / 3.0).sum();
    near(integral(&Surface::Tin(found.tin)), expected, 1e-12);
}

#[test]
fn a_point_where_lines_cross_holds() {
    let points = [
        (0.0, 0.0, 1.0),
        (10.0, 0.0, 1.0),
        (10.0, 10.0, 1.0),
        (0.0, 10.0, 1.0),
        (5.0, 5.0, 4.0),
    ];
    let lines = [
        (LineKind::Breakline, &[0, 2][..]),
        (LineKind::Breakline, &[1, 3][..]),
    ];
    let pyramid = made(&pick_up(&points, &lines)).tin;
    assert_eq!(pyramid.facets().len(), 4);
    near(integral(&Surface::Tin(pyramid)), 100.0 + 100.0, 1e-12);
}

#[test]
fn a_line_that_ends_on_another_tells_both_heights() {
    let points = [
        (0.0, 0.0, 1.0),
        (10.0, 0.0, 3.0),
        (5.0, 0.0, 7.0),
        (5.0, 8.0, 7.0),
        (2.0, -5.0, 0.0),
    ];
    let lines = [
        (LineKind::Breakline, &[0, 1][..]),
        (LineKind::Breakline, &[2, 3][..]),
    ];
    let found = made(&pick_up(&points, &lines));
    let heights: Vec<_> = found.crossings.iter().map(|c| c.heights).collect();
    assert_eq!(heights, [[2.0, 7.0]]);
    let level = [
        (0.0, 0.0, 1.0),
        (10.0, 0.0, 3.0),
        (5.0, 0.0, 2.0),
        (5.0, 8.0, 7.0),
        (2.0, -5.0, 0.0),
    ];
    assert_eq!(made(&pick_up(&level, &lines)).crossings, []);
}

#[test]
fn outlines_bound_the_surface() {
    let square = |min: f64, max: f64| [(min, min), (max, min), (max, max), (min, max)];
    let (edge, hole, island) = (square(5.0, 35.0), square(10.0, 30.0), square(18.0, 22.0));
    let rings: [(LineKind, &[(f64, f64)]); 3] = [
        (LineKind::Edge, &edge),
        (LineKind::Hole, &hole),
        (LineKind::Island, &island),
    ];
    for (count, area) in [(1, 900.0), (2, 500.0), (3, 516.0)] {
        let found = made(&with_rings(&rings[..count]));
        near(found.tin.area(), area, 1e-9);
        near(found.outside.area, 1600.0 - area, 1e-9);
        // A plane integrates to its area times the height at the common middle of the rings.
        let middle = 3.0 + 0.1 * 20.01 - 0.2 * 20.01;
        near(integral(&Surface::Tin(found.tin)), area * middle, 1e-9);
    }
}

#[test]
fn long_edges_are_dropped_but_not_along_lines() {
    let field = |east: f64| (0..36).map(move |i| (east + f64::from(i % 6), f64::from(i / 6)));
    let flat = |(e, n): (f64, f64)| (e, n, 0.0);
    let points: Vec<_> = field(0.0).chain(field(50.0)).map(flat).collect();
    let rules = Rules {
        max_edge: Some(20.0),
        ..Rules::default()
    };
    let parted = triangulate(frame(), &pick_up(&points, &[]), &rules).unwrap();
    near(parted.tin.area(), 50.0, 1e-12);
    near(parted.long.area, 5.0 * 45.0, 1e-12);
    let strip: Vec<_> = [(0.0, 0.0), (30.0, 0.0), (30.0, 1.0), (0.0, 1.0)]
        .map(flat)
        .to_vec();
    let lines = [(LineKind::Breakline, &[0, 1, 2, 3, 0, 2][..])];
    let kept = triangulate(frame(), &pick_up(&strip, &lines), &rules).unwrap();
    near(kept.tin.area(), 30.0, 1e-12);
    let nothing = triangulate(frame(), &pick_up(&strip, &[]), &rules).unwrap_err();
    assert!(matches!(nothing, TriangulateError::NothingLeft { long, .. } if long.facets == 2));
}

#[test]
fn one_place_with_several_heights_follows_the_rule() {
    let points = [
        (0.0, 0.0, 0.0),
        (3.0, 0.0, 5.0),
        (0.0, 3.0, 0.0),
        (3.0, 0.0, 9.0),
        (3.0, 0.0, 1.0),
    ];
    let height = |duplicates: Duplicates| {
        let rules = Rules {
            duplicates,
            ..Rules::default()
        };
        let found = triangulate(frame(), &pick_up(&points, &[]), &rules).unwrap();
        assert_eq!((found.settled, found.merged), (1, 0));
        // The others are at zero.
        integral(&Surface::Tin(found.tin)) / 4.5 * 3.0
    };
    for (rule, expected) in [
        (Duplicates::First, 5.0),
        (Duplicates::Last, 1.0),
        (Duplicates::Lowest, 1.0),
        (Duplicates::Highest, 9.0),
        (Duplicates::Mean, 5.0),
    ] {
        near(height(rule), expected, 1e-12);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Lines of a plane, crossing each other as they will, leave it the plane it is, without a gap.
    #[test]
    fn crossing_lines_of_a_plane_change_nothing(ends in prop::collection::vec((0usize..80, 0usize..80), 1..40)) {
        let plane = |e: f64, n: f64| vertex(e, n, 7.0 - 0.05 * e + 0.1 * n);
        let corners = [(0.0, 0.0), (30.0, 0.0), (30.0, 20.0), (0.0, 20.0)];
        let scattered = places(76, 30.0, 20.0, 3);
        let points: Vec<Vertex> = corners.into_iter().chain(scattered).map(|(e, n)| plane(e, n)).collect();
        let line = |&(from, to): &(usize, usize)| Line {
            kind: LineKind::Breakline,
            points: vec![from as u32, to as u32],
        };
        let found = made(&PickUp { points, lines: ends.iter().map(line).collect() });
        near(found.tin.area(), 600.0, 1e-9);
        // Heights at crossings are reported alike; a grid coordinate of six million carries a nanometre.
        prop_assert!(found.crossings.iter().all(|c| (c.heights[0] - c.heights[1]).abs() < 1e-7));
        near(integral(&Surface::Tin(found.tin)), 600.0 * (7.0 - 0.75 + 1.0), 1e-8);
    }

    /// A breakline above level ground is a facet's edge everywhere: the ground under it has its height.
    #[test]
    fn facets_do_not_cross_lines(from in 4usize..60, to in 4usize..60, height in 1.0..9.0) {
        prop_assume!(from != to);
        let corners = [(0.0, 0.0), (30.0, 0.0), (30.0, 20.0), (0.0, 20.0)];
        let mut points: Vec<Vertex> = (corners.into_iter().chain(places(60, 30.0, 20.0, 3)))
            .map(|(e, n)| vertex(e, n, 0.0))
            .collect();
        let (a, b) = (points[from].place(), points[to].place());
        prop_assume!(a != b);
        // Points on the line would stand on the ground.
        let on = |v: &Vertex| {
            let side = (b.east - a.east) * (v.north - a.north) - (b.north - a.north) * (v.east - a.east);
            side == 0.0
        };
        let at = [points[from].place(), points[to].place()];
        points.retain(|v| !on(v));
        let first = points.len() as u32;
        points.extend(at.map(|p| Vertex::new(p.east, p.north, height)));
        let line = Line { kind: LineKind::Breakline, points: vec![first, first + 1] };
        let tin = made(&PickUp { points, lines: vec![line] }).tin;
        let raised = |v: &Vertex| v.height == height;
        let along = (tin.facets().iter())
            .filter(|facet| facet.iter().filter(|&&v| raised(&tin.vertices()[v as usize])).count() == 2)
            .count();
        prop_assert!((1..=2).contains(&along));
    }
}
