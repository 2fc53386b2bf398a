//! Volumes of solids whose volume is known from a formula, at national grid coordinates.
//!
//! The tolerance is 1e-9 of the figure. Coordinates at six million are spaced by a nanometre; shapes
//! whose corners fall between (the cone) carry that much, about 1e-10 of their radius.

use crate::shapes::{cone, frame, measure, near, ring, sheet, solid, zones};
use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::plan::Frame;
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Level, Outline, Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;

const TOLERANCE: f64 = 1e-9;

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

#[test]
fn parallel_planes() {
    let tilted = |lift: f64| move |e: f64, n: f64| 20.0 + lift + 0.1 * e - 0.05 * n;
    let (low, high) = (
        sheet(30.0, 20.0, 80, 1, tilted(0.0)),
        sheet(30.0, 20.0, 120, 500, tilted(1.5)),
    );
    let measured = measure(&low, &high);
    near(measured.volume.fill, 900.0, TOLERANCE);
    near(measured.area.fill, 600.0, TOLERANCE);
    assert_eq!(
        (
            measured.volume.cut,
            measured.area.cut,
            measured.area.unchanged
        ),
        (0.0, 0.0, 0.0)
    );
    let difference = measured.difference.unwrap();
    near(difference.mean, 1.5, TOLERANCE);
    near(difference.min.difference, 1.5, TOLERANCE);
    near(difference.max.difference, 1.5, TOLERANCE);
}

#[test]
fn wedge_across_a_level() {
    // 0.1 per unit over 20, the level met at 8: triangles of base 12 and 8 times the length 10.
    let wedge = sheet(20.0, 10.0, 150, 1, |e, _| 100.0 + 0.1 * (e - 8.0));
    let measured = measure(&level(100.0), &wedge);
    near(
        measured.volume.fill,
        0.1 * 12.0 * 12.0 / 2.0 * 10.0,
        TOLERANCE,
    );
    near(measured.volume.cut, 0.1 * 8.0 * 8.0 / 2.0 * 10.0, TOLERANCE);
    near(measured.volume.net, 40.0, TOLERANCE);
    near(measured.area.fill, 120.0, TOLERANCE);
    near(measured.area.cut, 80.0, TOLERANCE);
    let difference = measured.difference.unwrap();
    near(difference.max.difference, 1.2, TOLERANCE);
    near(difference.min.difference, -0.8, TOLERANCE);
    near(difference.mean, 0.2, TOLERANCE);
    near(difference.max.at.east, 20.0, TOLERANCE);
    near(difference.min.at.east, 0.0, TOLERANCE);
}

#[test]
fn wedge_with_a_tolerance() {
    // Within 0.3 of the level over 6 of 20: the rest as above less what lies within.
    let wedge = sheet(20.0, 10.0, 150, 1, |e, _| 100.0 + 0.1 * (e - 8.0));
    let tolerance = Tolerance::new(0.3).unwrap();
    let measured = volume(&level(100.0), &wedge, None, tolerance).unwrap()[0];
    near(measured.area.unchanged, 60.0, TOLERANCE);
    near(measured.area.fill, 90.0, TOLERANCE);
    near(measured.area.cut, 50.0, TOLERANCE);
    let within = 0.1 * 3.0 * 3.0 / 2.0 * 10.0;
    near(measured.volume.fill, 72.0 - within, TOLERANCE);
    near(measured.volume.cut, 32.0 - within, TOLERANCE);
    near(measured.volume.unchanged, 2.0 * within, TOLERANCE);
    near(measured.difference.unwrap().mean, 0.2, TOLERANCE);
    assert_eq!(Tolerance::new(-0.1), None);
    assert_eq!(Tolerance::new(f64::NAN), None);
}

#[test]
fn tilted_planes_crossing() {
    // Heights e/10 and n/10 over a square of side 12: each wins by the integral of (n - e)/10 over
    // the triangle n > e, which is side³/60.
    let (east, north) = (
        sheet(12.0, 12.0, 90, 1, |e, _| e / 10.0),
        sheet(12.0, 12.0, 70, 300, |_, n| n / 10.0),
    );
    let measured = measure(&east, &north);
    near(measured.volume.fill, 12.0f64.powi(3) / 60.0, TOLERANCE);
    near(measured.volume.cut, 12.0f64.powi(3) / 60.0, TOLERANCE);
    near(measured.volume.net, 0.0, TOLERANCE);
    near(measured.area.compared, 144.0, TOLERANCE);
}

#[test]
fn pyramid_and_frustum() {
    let corners = |half: f64, height: f64| {
        [(-half, -half), (half, -half), (half, half), (-half, half)].map(|(e, n)| (e, n, height))
    };
    let mut pyramid = corners(6.0, 50.0).to_vec();
    pyramid.push((0.0, 0.0, 54.0));
    let pyramid = solid(&pyramid, &[[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]);
    near(
        measure(&level(50.0), &pyramid).volume.fill,
        12.0 * 12.0 * 4.0 / 3.0,
        TOLERANCE,
    );

    let frustum = [corners(6.0, 50.0), corners(2.0, 53.0)].concat();
    let mut facets = vec![[4, 5, 6], [4, 6, 7]];
    facets.extend((0..4).flat_map(|i| {
        let next = (i + 1) % 4;
        [[i, next, next + 4], [i, next + 4, i + 4]]
    }));
    let frustum = solid(&frustum, &facets);
    let expected = 3.0 / 3.0 * (144.0 + 16.0 + 12.0 * 4.0);
    near(
        measure(&level(50.0), &frustum).volume.fill,
        expected,
        TOLERANCE,
    );
    // The same against a scattered triangulation of the level, which shares no vertex with it.
    let ground = sheet(40.0, 40.0, 300, 1, |_, _| 50.0);
    let shifted = [corners(6.0, 50.0), corners(2.0, 53.0)].concat();
    let shifted: Vec<_> = shifted
        .into_iter()
        .map(|(e, n, h)| (e + 20.0, n + 20.0, h))
        .collect();
    near(
        measure(&ground, &solid(&shifted, &facets)).volume.fill,
        expected,
        TOLERANCE,
    );
}

#[test]
fn cone_as_a_fan() {
    for sides in [3, 16, 1000] {
        let base = f64::from(sides) / 2.0 * 25.0 * (std::f64::consts::TAU / f64::from(sides)).sin();
        let measured = measure(&level(0.0), &cone(sides, 5.0, 9.0));
        near(measured.volume.fill, base * 9.0 / 3.0, TOLERANCE);
        near(measured.area.fill, base, TOLERANCE);
        // A cone against the upside-down one: twice the volume, through pairs that all share a hub.
        if sides < 1000 {
            let both = measure(&cone(sides, 5.0, -9.0), &cone(sides, 5.0, 9.0));
            near(both.volume.fill, base * 6.0, TOLERANCE);
        }
    }
}

#[test]
fn fans_of_long_facets_meet_too() {
    // Two hubs apart: a thousand slivers each, every block crowded, and quartered on the way.
    let (low, high) = (cone(1000, 5.0, -9.0), cone(1000, 5.0, 9.0));
    let Surface::Tin(tin) = &high else {
        unreachable!()
    };
    let hub = |east: f64| {
        let mut vertices = tin.vertices().to_vec();
        for vertex in &mut vertices {
            (vertex.east, vertex.north) = (
                vertex.east + crate::shapes::ORIGIN[0],
                vertex.north + crate::shapes::ORIGIN[1],
            );
        }
        // Moving the hub of a cone keeps its volume: the base and the height stay.
        vertices[0].east += east;
        Surface::Tin(Tin::from_facets(frame(), vertices, tin.facets().to_vec()).unwrap())
    };
    let base = 500.0 * 25.0 * (std::f64::consts::TAU / 1000.0).sin();
    near(measure(&low, &hub(1.25)).volume.fill, base * 6.0, TOLERANCE);
    near(measure(&hub(-2.0), &hub(1.25)).volume.net, 0.0, TOLERANCE);
}

#[test]
fn step_stays_vertical() {
    // Two terraces that meet in a wall at east 5: 3 below on the one side, 1 above on the other.
    let vertices = [
        (0.0, 0.0, 7.0),
        (5.0, 0.0, 7.0),
        (5.0, 4.0, 7.0),
        (0.0, 4.0, 7.0),
        (5.0, 0.0, 11.0),
        (9.0, 0.0, 11.0),
        (9.0, 4.0, 11.0),
        (5.0, 4.0, 11.0),
    ];
    let facets = [
        [0, 1, 2],
        [0, 2, 3],
        [4, 5, 6],
        [4, 6, 7],
        [1, 4, 7],
        [1, 7, 2],
    ];
    let step = solid(&vertices, &facets);
    let Surface::Tin(tin) = &step else {
        unreachable!()
    };
    assert_eq!(tin.tidied().thin, 2);
    let ground = sheet(9.0, 4.0, 60, 1, |_, _| 10.0);
    let measured = measure(&ground, &step);
    near(measured.volume.cut, 5.0 * 4.0 * 3.0, TOLERANCE);
    near(measured.volume.fill, 4.0 * 4.0 * 1.0, TOLERANCE);
    near(measured.area.compared, 36.0, TOLERANCE);
}

#[test]
fn zones_with_holes_limit_the_measurement() {
    let (low, high) = (
        sheet(20.0, 20.0, 200, 1, |_, _| 0.0),
        sheet(20.0, 20.0, 200, 900, |e, _| e),
    );
    let outer = ring(&[(2.0, 2.0), (12.0, 2.0), (12.0, 12.0), (2.0, 12.0)]);
    let hole = ring(&[(4.0, 4.0), (6.0, 4.0), (6.0, 8.0), (4.0, 8.0)]);
    let beyond = ring(&[(15.0, -5.0), (30.0, -5.0), (30.0, 30.0), (15.0, 30.0)]);
    let triangle = ring(&[(0.0, 0.0), (9.0, 0.0), (0.0, 9.0)]);
    let zones = zones(vec![vec![outer, hole], vec![beyond], vec![triangle]]);
    let measured = volume(&low, &high, Some(&zones), Tolerance::ZERO).unwrap();
    // The integral of the easting: area times the easting of the centroid.
    near(measured[0].volume.fill, 100.0 * 7.0 - 8.0 * 5.0, TOLERANCE);
    near(measured[1].volume.fill, 5.0 * 20.0 * 17.5, TOLERANCE);
    near(measured[1].area.compared, 100.0, TOLERANCE);
    near(measured[2].volume.fill, 40.5 * 3.0, TOLERANCE);
    near(measured[2].area.compared, 40.5, TOLERANCE);
}

#[test]
fn two_levels_in_a_zone() {
    let zone = zones(vec![vec![ring(&[
        (0.0, 0.0),
        (8.0, 0.0),
        (8.0, 5.0),
        (4.0, 2.0),
        (0.0, 5.0),
    ])]]);
    let measured = volume(&level(3.0), &level(2.5), Some(&zone), Tolerance::ZERO).unwrap()[0];
    near(measured.volume.cut, (40.0 - 12.0) * 0.5, TOLERANCE);
    assert!(matches!(
        volume(&level(3.0), &level(2.5), None, Tolerance::ZERO),
        Err(OverlayError::Unbounded)
    ));
}

#[test]
fn one_surface_twice_is_unchanged() {
    let rough = |e: f64, n: f64| (e * 1.7).sin() + (n * 2.3).cos();
    let ground = sheet(30.0, 30.0, 800, 1, rough);
    let measured = measure(&ground, &ground);
    near(measured.area.unchanged, 900.0, TOLERANCE);
    assert_eq!(
        (
            measured.volume.cut,
            measured.volume.fill,
            measured.volume.unchanged
        ),
        (0.0, 0.0, 0.0)
    );
    assert_eq!((measured.area.cut, measured.area.fill), (0.0, 0.0));
}

#[test]
fn a_fold_is_counted_and_told() {
    // A flap of 3 by 10 lies over the sheet again, 2 higher.
    let flat = sheet(10.0, 10.0, 0, 1, |_, _| 1.0);
    let folded = solid(
        &[
            (0.0, 0.0, 4.0),
            (10.0, 0.0, 4.0),
            (10.0, 10.0, 4.0),
            (0.0, 10.0, 4.0),
            (7.0, 0.0, 6.0),
            (7.0, 10.0, 6.0),
        ],
        &[[0, 1, 2], [0, 2, 3], [1, 2, 4], [2, 5, 4]],
    );
    let measured = measure(&flat, &folded);
    near(measured.area.compared, 130.0, TOLERANCE);
    let outline = Outline::of(&folded);
    near(
        outline.overlap(folded.frame().precision()).unwrap().area,
        30.0,
        TOLERANCE,
    );
    let domain = coverage(&Outline::of(&flat), &outline, None)[0];
    near(domain.pieces, 130.0, TOLERANCE);
    near(domain.both, 100.0, TOLERANCE);
}

#[test]
fn thin_facets_do_no_harm() {
    // Rows of points a hundredth of a micrometre to a tenth of a millimetre off a line.
    let rough = |e: f64, n: f64| 0.3 * e - 0.2 * n;
    let mut points = vec![(0.0, 0.0), (50.0, 0.0), (50.0, 50.0), (0.0, 50.0)];
    points.extend((1..400).map(|i| {
        let off = 10f64.powi(-8 + i % 5);
        (f64::from(i) * 0.125, 25.0 + off * f64::from(i % 3 - 1))
    }));
    let points: Vec<_> = points
        .into_iter()
        .map(|(e, n)| crate::shapes::vertex(e, n, rough(e, n)))
        .collect();
    let thin = Surface::Tin(
        triangulate(frame(), &PickUp::from(points), &Rules::default())
            .unwrap()
            .tin,
    );
    let plain = sheet(50.0, 50.0, 300, 1, |e, n| rough(e, n) - 1.0);
    let measured = measure(&plain, &thin);
    near(measured.area.compared, 2500.0, TOLERANCE);
    near(measured.volume.fill, 2500.0, TOLERANCE);
    let domain = coverage(&Outline::of(&plain), &Outline::of(&thin), None)[0];
    near(domain.pieces, measured.area.compared, TOLERANCE);
}

#[test]
fn what_cannot_be_overlaid_says_why() {
    let here = sheet(10.0, 10.0, 5, 1, |_, _| 0.0);
    let elsewhere = solid(
        &[(20.0, 0.0, 0.0), (30.0, 0.0, 0.0), (20.0, 9.0, 0.0)],
        &[[0, 1, 2]],
    );
    assert_eq!(
        Overlay::new(&here, &elsewhere, None).unwrap_err(),
        OverlayError::Apart
    );
    let other = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    let corners = [(0.0, 0.0), (1.0, 0.0), (0.0, 1.0)].map(|(e, n)| Vertex::new(e, n, 0.0));
    let other = Surface::Tin(Tin::from_facets(other, corners.to_vec(), vec![[0, 1, 2]]).unwrap());
    assert_eq!(
        Overlay::new(&here, &other, None).unwrap_err(),
        OverlayError::FramesDiffer
    );
}
