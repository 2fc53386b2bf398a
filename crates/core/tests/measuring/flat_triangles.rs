//! Flat triangles between points of one contour: found, dropped, relaxed.

use crate::shapes::{frame, integral, near, vertex};
use dapedon_core::plan::Place;
use dapedon_core::points::{
    FlatTriangles, Line, LineKind, PickUp, Rules, Triangulated, triangulate,
};
use dapedon_core::surface::{Surface, Vertex};
use proptest::prelude::*;

fn made(pick_up: &PickUp, flat: FlatTriangles) -> Triangulated {
    let rules = Rules {
        flat,
        ..Rules::default()
    };
    triangulate(frame(), pick_up, &rules).unwrap()
}

/// The integral of a surface over its own plan area.
fn volume(made: &Triangulated) -> f64 {
    integral(&Surface::Tin(made.tin.clone()))
}

fn add(pick_up: &mut PickUp, line: &[(f64, f64)], height: f64) {
    let first = pick_up.points.len() as u32;
    (pick_up.points).extend(line.iter().map(|&(e, n)| vertex(e, n, height)));
    pick_up.lines.push(Line {
        kind: LineKind::Breakline,
        points: (first..pick_up.points.len() as u32).collect(),
    });
}

/// Contours of `0.3 |e| + 0.1 n`, a valley 2 wide with straight sides, where `sign` is one; of a ridge, where it is minus one.
fn valley(sign: f64) -> PickUp {
    let mut all = PickUp::default();
    for height in 0..6 {
        let apex = 10.0 * f64::from(height);
        let line = [(-1.0, apex - 3.0), (0.0, apex), (1.0, apex - 3.0)];
        add(&mut all, &line, sign * f64::from(height));
    }
    all.points.push(vertex(0.0, -3.0, sign * -0.3));
    all
}

/// What lies below `0.3 |e| + 0.1 n` over the ground of the valley: for each `e`, from -3 to `50 - 3 |e|` in `n`.
fn below_valley() -> f64 {
    let across = |e: f64| {
        let (low, high) = (-3.0, 50.0 - 3.0 * e);
        0.3 * e * (high - low) + 0.05 * (high * high - low * low)
    };
    // Simpson's rule is exact for polynomials of the second degree, both sides alike.
    2.0 * (across(0.0) + 4.0 * across(0.5) + across(1.0)) / 6.0
}

/// The height of a surface of facets, facet by facet.
fn height_of(surface: &Surface, at: Place) -> Option<f64> {
    let Surface::Tin(tin) = surface else {
        return None;
    };
    tin.facets().iter().find_map(|corners| {
        let [a, b, c] = corners.map(|corner| tin.vertices()[corner as usize]);
        let twice = |p: Place, q: Place, r: Place| {
            (q.east - p.east) * (r.north - p.north) - (r.east - p.east) * (q.north - p.north)
        };
        let whole = twice(a.place(), b.place(), c.place());
        let shares = [
            twice(at, b.place(), c.place()) / whole,
            twice(a.place(), at, c.place()) / whole,
            twice(a.place(), b.place(), at) / whole,
        ];
        // A rounding outside still counts.
        let is_within = shares.iter().all(|share| *share > -1e-9);
        let level = a.height == b.height && b.height == c.height;
        is_within.then(|| match level {
            true => a.height,
            false => shares[0] * a.height + shares[1] * b.height + shares[2] * c.height,
        })
    })
}

/// Points on the axis of a valley with straight sides are on the ground itself, whatever its sign.
#[test]
fn a_straight_valley_is_what_it_is() {
    for sign in [1.0, -1.0] {
        let all = valley(sign);
        let kept = made(&all, FlatTriangles::Keep);
        assert_eq!((kept.flat.facets, kept.relaxing_points), (5, 0));
        near(kept.flat.area, 5.0 * 3.0, 1e-9);
        let relaxed = made(&all, FlatTriangles::Relax);
        assert_eq!((relaxed.flat, relaxed.still_flat.facets), (kept.flat, 0));
        assert_eq!(relaxed.relaxing_points, 5);
        near(volume(&relaxed), sign * below_valley(), 1e-9);
        // Each flat triangle of 3 lies 0.3 too far off where its base crosses the axis, as do those beyond the base.
        assert!((volume(&kept) - sign * below_valley()).abs() > 1.0);
    }
}

#[test]
fn flat_triangles_are_dropped_where_asked_for() {
    let all = valley(1.0);
    let (kept, dropped) = (
        made(&all, FlatTriangles::Keep),
        made(&all, FlatTriangles::Drop),
    );
    assert_eq!(dropped.flat, kept.flat);
    near(kept.tin.area() - dropped.tin.area(), kept.flat.area, 1e-9);
    // What is dropped is level: heights 1 to 5 over 3 each.
    near(volume(&kept) - volume(&dropped), 3.0 * 15.0, 1e-9);
}

/// Contours of `(e² + 4 n) / 40` with many points: bends without straight sides.
#[test]
fn bends_come_near_to_the_ground() {
    let ground = |e: f64, n: f64| (e * e + 4.0 * n) / 40.0;
    let mut all = PickUp::default();
    for height in 0..=10 {
        let line: Vec<(f64, f64)> = (-40..=40)
            .map(|i| f64::from(i) / 4.0)
            .map(|e| (e, (40.0 * f64::from(height) - e * e) / 4.0))
            .collect();
        add(&mut all, &line, f64::from(height));
    }
    let (kept, relaxed) = (
        made(&all, FlatTriangles::Keep),
        made(&all, FlatTriangles::Relax),
    );
    let surface = Surface::Tin(kept.tin.clone());
    let given = |v: &Vertex| {
        kept.tin
            .vertices()
            .iter()
            .any(|known| known.place() == v.place())
    };
    let inserted = relaxed.tin.vertices().iter().filter(|v| !given(v));
    let (mut count, mut before, mut after, mut most) = (0, 0.0, 0.0, 0.0_f64);
    for v in inserted {
        let truth = ground(v.place().east, v.place().north);
        let flat = height_of(&surface, v.place()).unwrap();
        assert_eq!(flat, flat.round(), "a point of a flat triangle");
        count += 1;
        before += (flat - truth).abs();
        after += (v.height - truth).abs();
        most = most.max((v.height - truth).abs());
    }
    assert_eq!(count, relaxed.relaxing_points);
    assert!(
        count > 100 && after < before / 4.0 && most < 0.1,
        "{count} {before} {after} {most}"
    );
    // What stays flat is the ground between the arms of the lowest contour, of which nothing is known: 20 wide, 25 deep, two thirds of
    // it but for what its chords cut off.
    near(relaxed.still_flat.area, 2.0 / 3.0 * 20.0 * 25.0, 0.1);
}

/// A pyramid under contours at whole heights: its top rises at the slope of its sides, to half a step at most.
#[test]
fn summits_rise_to_half_a_step_at_most() {
    for (slope, sign) in [(0.5, 1.0), (0.5, -1.0), (0.05, 1.0)] {
        let mut all = PickUp::default();
        for ring in 1..=3 {
            let half = 4.0 * f64::from(4 - ring);
            let line = [
                (-half, -half),
                (half, -half),
                (half, half),
                (-half, half),
                (-half, -half),
            ];
            add(&mut all, &line, sign * slope * 4.0 * f64::from(ring));
        }
        let top = sign * slope * 12.0;
        let relaxed = made(&all, FlatTriangles::Relax);
        assert_eq!((relaxed.flat.facets, relaxed.still_flat.facets), (2, 0));
        let highest = relaxed.tin.vertices().iter().map(|v| sign * v.height);
        let highest = highest.fold(f64::NEG_INFINITY, f64::max);
        near(highest, sign * top + slope * 2.0, 1e-12);
        // A pyramid of half a step upon the square of 8.
        let kept = made(&all, FlatTriangles::Keep);
        near(
            sign * (volume(&relaxed) - volume(&kept)),
            64.0 * slope * 2.0 / 3.0,
            1e-9,
        );
    }
}

/// Level ground picked up by points, and a level edge around it, is no contour bend to be raised.
#[test]
fn level_ground_stays() {
    let mut all = PickUp::default();
    add(
        &mut all,
        &[(0.0, 0.0), (8.0, 0.0), (8.0, 8.0), (0.0, 8.0), (0.0, 0.0)],
        5.0,
    );
    all.points.extend(
        (1..8).flat_map(|e| (1..8).map(move |n| vertex(f64::from(e), f64::from(n) + 0.01, 5.0))),
    );
    let relaxed = made(&all, FlatTriangles::Relax);
    near(volume(&relaxed), 5.0 * 64.0, 1e-9);
    assert!(!all.is_contoured());
    assert!(valley(1.0).is_contoured());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Of any waves: turned over, ground relaxes to itself turned over; no point leaves the heights of the contours by more than half a
    /// step; less is flat afterwards.
    #[test]
    fn relaxing_keeps_within_the_contours(a in 0.5..3.0f64, b in 0.1..0.6f64, shift in 0.0..6.0f64) {
        let contours = |sign: f64| {
            let mut all = PickUp::default();
            for height in 0..8 {
                // Contours of n/5 + a sin(b e + shift), point by point.
                let line: Vec<(f64, f64)> = (0..=60)
                    .map(|i| 0.5 * f64::from(i))
                    .map(|e| (e, 5.0 * (f64::from(height) - a * libm::sin(b * e + shift))))
                    .collect();
                add(&mut all, &line, sign * f64::from(height));
            }
            all
        };
        let relaxed = made(&contours(1.0), FlatTriangles::Relax);
        let over = made(&contours(-1.0), FlatTriangles::Relax);
        prop_assert!(relaxed.still_flat.area <= relaxed.flat.area);
        prop_assert_eq!(relaxed.relaxing_points, over.relaxing_points);
        prop_assert!((volume(&relaxed) + volume(&over)).abs() < 1e-9);
        for v in relaxed.tin.vertices() {
            prop_assert!((-0.5..=7.5).contains(&v.height), "{}", v.height);
        }
    }
}
