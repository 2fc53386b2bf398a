//! Contours: known lines, and what must hold for unknown ones.

use crate::shapes::{ORIGIN, cone, frame, near, sheet, solid};
use dapedon_core::plan::Place;
use dapedon_core::quantities::{Contour, SideOfLevel, contours, level_area};
use dapedon_core::surface::{Surface, Tin};
use proptest::prelude::*;

fn tin(surface: Surface) -> Tin {
    match surface {
        Surface::Tin(tin) => tin,
        _ => panic!("no facets"),
    }
}

/// The area that a closed line turns around to the left, by the trapezoids under it.
fn area(line: &[Place]) -> f64 {
    let first = line[0];
    let turn = line.windows(2).map(|pair| {
        let [a, b] = [pair[0], pair[1]].map(|p| (p.east - first.east, p.north - first.north));
        (a.0 * b.1 - b.0 * a.1) / 2.0
    });
    turn.sum()
}

fn length(line: &[Place]) -> f64 {
    let pieces = line.windows(2);
    pieces
        .map(|p| (p[1].east - p[0].east).hypot(p[1].north - p[0].north))
        .sum()
}

#[test]
fn a_tilted_plane_has_straight_lines() {
    // It rises by one in four to the north: higher ground is to the left of lines that go west to east.
    let plane = tin(sheet(40.0, 20.0, 90, 3, |_, n| n / 4.0));
    for found in contours(&plane, &[1.3, 2.7, 4.1]) {
        let north = ORIGIN[1] + 4.0 * found.level;
        assert!(!found.is_closed);
        near(length(&found.corners), 40.0, 1e-9);
        assert!(
            found
                .corners
                .iter()
                .all(|at| (at.north - north).abs() < 1e-8)
        );
        assert!(found.corners.is_sorted_by(|a, b| a.east < b.east));
        let ends = [found.corners[0], found.corners[found.corners.len() - 1]];
        assert_eq!(ends.map(|end| end.east - ORIGIN[0]), [0.0, 40.0]);
    }
}

#[test]
fn a_cone_has_rings_around_its_top() {
    let (sides, radius, height) = (24, 12.0, 6.0);
    let whole =
        f64::from(sides) / 2.0 * radius * radius * (std::f64::consts::TAU / f64::from(sides)).sin();
    let levels: Vec<f64> = (1..12).map(|level| f64::from(level) / 2.0).collect();
    for sign in [1.0, -1.0] {
        let cone = tin(cone(sides, radius, sign * height));
        let levels: Vec<f64> = levels.iter().map(|level| sign * level).collect();
        let found = contours(&cone, &levels);
        assert_eq!(found.len(), levels.len());
        for (line, level) in found.iter().zip(&levels) {
            assert_eq!(
                (line.level, line.is_closed, line.corners.len()),
                (*level, true, 25)
            );
            // A ring turns left around what is higher: around a heap, not around a pit.
            let share = 1.0 - level.abs() / height;
            near(area(&line.corners), sign * whole * share * share, 1e-8);
        }
    }
}

/// A level at the height of corners goes around what is level there, and a top at its very height is no line.
#[test]
fn levels_at_the_height_of_corners_do_not_branch() {
    // A flat top of 2 by 2 at 1, within 6 by 6 at 0.
    let ring = |half: f64, h: f64| {
        [
            (3.0 - half, 3.0 - half, h),
            (3.0 + half, 3.0 - half, h),
            (3.0 + half, 3.0 + half, h),
            (3.0 - half, 3.0 + half, h),
        ]
    };
    let corners = [ring(3.0, 0.0), ring(1.0, 1.0)].concat();
    let mut facets = vec![[4, 5, 6], [4, 6, 7]];
    for side in 0..4 {
        let next = (side + 1) % 4;
        facets.extend([[side, next, 4 + next], [side, 4 + next, 4 + side]]);
    }
    let table = tin(solid(&corners, &facets));
    let found = contours(&table, &[1.0, 0.0, 0.5]);
    let levels: Vec<f64> = found.iter().map(|line| line.level).collect();
    assert_eq!(levels, [1.0, 0.5], "all ground is at or above 0");
    assert!(found.iter().all(|line| line.is_closed));
    near(area(&found[0].corners), 4.0, 1e-9);
    near(area(&found[1].corners), 16.0, 1e-9);
    let heap = tin(cone(8, 4.0, 2.0));
    assert_eq!(contours(&heap, &[2.0, 2.5, f64::NAN]), []);
}

/// Lines of another method: each facet on its own.
fn by_facet(tin: &Tin, level: f64) -> f64 {
    let crossed = (0..tin.facets().len()).map(|facet| {
        let corners = tin.corners(facet);
        let mut ends = Vec::new();
        for (a, b) in [(0, 1), (1, 2), (2, 0)] {
            let (a, b) = (corners[a], corners[b]);
            if (a.height >= level) != (b.height >= level) {
                let t = (level - a.height) / (b.height - a.height);
                ends.push((
                    a.place().east + t * (b.place().east - a.place().east),
                    a.place().north + t * (b.place().north - a.place().north),
                ));
            }
        }
        match ends.as_slice() {
            [p, q] => (p.0 - q.0).hypot(p.1 - q.1),
            _ => 0.0,
        }
    });
    crossed.sum()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// Of any ground: each corner is at its level, each line is closed or ends where the surface does, all together are as long as facet
    /// by facet, and what closed lines turn around is the ground above; levels in another order give the same lines.
    #[test]
    fn lines_are_whole_and_on_the_ground(a in 0.2..3.0f64, b in 0.05..0.5f64, start in 1..500_usize, whole: bool) {
        let height = |e: f64, n: f64| {
            let waves = a * (libm::sin(b * e) + libm::cos(1.3 * b * n));
            // Whole heights put many corners at the very height of a level.
            if whole { waves.round() } else { waves }
        };
        let ground = tin(sheet(60.0, 40.0, 300, start, height));
        let levels: Vec<f64> = (-6..=6).map(f64::from).collect();
        let found = contours(&ground, &levels);
        // The sheet is a rectangle, points on its sides included.
        let on_edge = |at: Place| {
            [at.east, 60.0 - at.east, at.north, 40.0 - at.north].iter().any(|off| off.abs() < 1e-8)
        };
        for line in &found {
            let corners: Vec<Place> = line.corners.iter().map(|at| frame().to_local(at.east, at.north)).collect();
            prop_assert_eq!(line.is_closed, corners[0] == corners[corners.len() - 1]);
            if !line.is_closed {
                prop_assert!(on_edge(corners[0]) && on_edge(corners[corners.len() - 1]));
            }
            // The middle of each piece lies on a facet at its level.
            for pair in corners.windows(2) {
                let middle = Place::new((pair[0].east + pair[1].east) / 2.0, (pair[0].north + pair[1].north) / 2.0);
                prop_assert!(off_level(&ground, middle, line.level) < 1e-8);
            }
        }
        for &level in &levels {
            let own = || found.iter().filter(move |line| line.level == level);
            let total: f64 = own().map(|line| length(&line.corners)).sum();
            prop_assert!((total - by_facet(&ground, level)).abs() < 1e-7, "{total}");
            if own().all(|line| line.is_closed) && own().next().is_some() && !whole {
                let turned: f64 = own().map(|line| area(&line.corners)).sum();
                let above: f64 = level_area(&ground, level, SideOfLevel::Above).iter()
                    .map(|part| area(&part[0]) + part[1..].iter().map(|hole| area(hole)).sum::<f64>())
                    .sum();
                // Where ground above reaches the edge on no line, it is all but the holes.
                let off = (turned - above).abs().min((turned + ground.area() - above).abs());
                prop_assert!(off < 1e-6, "{turned} {above}");
            }
        }
        let mut falling = levels;
        falling.reverse();
        let sorted = |mut lines: Vec<Contour>| {
            lines.sort_by(|a, b| a.level.total_cmp(&b.level));
            lines
        };
        prop_assert_eq!(sorted(contours(&ground, &falling)), found);
    }
}

/// How far a place is off a level in plan, on the nearest of the facets that hold it: grid coordinates of six million carry about a
/// nanometre, which is more in height where a sliver is steep.
fn off_level(ground: &Tin, at: Place, level: f64) -> f64 {
    let off = (0..ground.facets().len()).filter_map(|facet| {
        let [a, b, c] = ground.corners(facet);
        let from = |v: Place| [v.east - a.place().east, v.north - a.place().north];
        let ([ue, un], [ve, vn], [pe, pn]) = (from(b.place()), from(c.place()), from(at));
        let whole = ue * vn - un * ve;
        let (s, t) = ((pe * vn - pn * ve) / whole, (ue * pn - un * pe) / whole);
        let (rise_u, rise_v) = (b.height - a.height, c.height - a.height);
        let slope =
            ((rise_u * vn - rise_v * un) / whole).hypot((rise_v * ue - rise_u * ve) / whole);
        let height = a.height + s * rise_u + t * rise_v;
        let holds = [s, t, 1.0 - s - t].iter().all(|share| *share > -1e-6);
        holds.then(|| (height - level).abs() / slope.max(1.0))
    });
    off.fold(f64::INFINITY, f64::min)
}
