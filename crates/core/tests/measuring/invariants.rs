//! What must hold for any two surfaces, whatever their shape.

use crate::shapes::{ORIGIN, frame, integral, measure, near, place, ring, sheet, zones};
use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Tolerance, ZoneVolume, coverage, difference_map, volume, volumes};
use dapedon_core::surface::{Outline, Surface, Tin, Vertex};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};
use proptest::prelude::*;
use std::ops::ControlFlow;
use std::sync::Mutex;

/// Sums over a few thousand pieces whose corners carry 1e-13 of their coordinates.
const TOLERANCE: f64 = 1e-10;

/// Points on a lattice of eighths, so that surfaces share vertices and edges, with the corners of a
/// square of side 16.
fn rough() -> impl Strategy<Value = Vec<(f64, f64, f64)>> {
    let point = (0..=128i32, 0..=128i32, -40..=40i32);
    prop::collection::vec(point, 0..120).prop_map(|points| {
        let mut all = vec![(0, 0, 3), (128, 0, -9), (128, 128, 5), (0, 128, 7)];
        all.extend(points);
        let mut seen = std::collections::BTreeSet::new();
        all.retain(|&(e, n, _)| seen.insert((e, n)));
        all.into_iter()
            .map(|(e, n, h)| (f64::from(e) / 8.0, f64::from(n) / 8.0, f64::from(h) / 10.0))
            .collect()
    })
}

fn made(points: &[(f64, f64, f64)]) -> Surface {
    let points: Vec<_> = points
        .iter()
        .map(|&(e, n, h)| crate::shapes::vertex(e, n, h))
        .collect();
    Surface::Tin(
        triangulate(frame(), &PickUp::from(points), &Rules::default())
            .unwrap()
            .tin,
    )
}

/// The facets of a surface over again, their vertices moved.
fn moved(
    surface: &Surface,
    frame: Frame,
    to: impl Fn(Vertex) -> Vertex,
    order: &[usize],
) -> Surface {
    let Surface::Tin(tin) = surface else {
        unreachable!()
    };
    let vertices = tin.vertices().iter().map(|&v| to(v)).collect();
    let facets = tin.facets();
    let facets =
        (0..facets.len()).map(|i| facets[order.get(i).copied().unwrap_or(i) % facets.len()]);
    Surface::Tin(Tin::from_facets(frame, vertices, facets.collect()).unwrap())
}

fn alike(one: &ZoneVolume, other: &ZoneVolume) {
    near(one.volume.cut, other.volume.cut, TOLERANCE);
    near(one.volume.fill, other.volume.fill, TOLERANCE);
    near(one.area.compared, other.area.compared, TOLERANCE);
    let (one, other) = (one.difference.unwrap(), other.difference.unwrap());
    near(one.min.difference, other.min.difference, TOLERANCE);
    near(one.max.difference, other.max.difference, TOLERANCE);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn net_is_the_difference_of_the_integrals(a in rough(), b in rough()) {
        let (a, b) = (made(&a), made(&b));
        let measured = measure(&a, &b);
        near(measured.volume.net, integral(&b) - integral(&a), TOLERANCE);
        near(measured.volume.net, measured.volume.fill - measured.volume.cut, TOLERANCE);
        near(measured.area.compared, 256.0, TOLERANCE);
        near(measured.difference.unwrap().mean * 256.0, measured.volume.net, TOLERANCE);
    }

    #[test]
    fn swapping_the_sides_swaps_cut_and_fill(a in rough(), b in rough()) {
        let (a, b) = (made(&a), made(&b));
        let (there, back) = (measure(&a, &b), measure(&b, &a));
        near(there.volume.cut, back.volume.fill, TOLERANCE);
        near(there.volume.fill, back.volume.cut, TOLERANCE);
        near(there.area.cut, back.area.fill, TOLERANCE);
        near(there.area.unchanged, back.area.unchanged, TOLERANCE);
        let (there, back) = (there.difference.unwrap(), back.difference.unwrap());
        near(there.max.difference, -back.min.difference, TOLERANCE);
    }

    #[test]
    fn moving_turning_and_reordering_change_nothing(
        a in rough(), b in rough(),
        (east, north) in (-4000..4000i32, -4000..4000i32),
        turn in 0.0..std::f64::consts::TAU,
        reversed in any::<bool>(),
    ) {
        let (a, b) = (made(&a), made(&b));
        let still = measure(&a, &b);
        let shift = Frame::new(LengthUnit::Metre, [ORIGIN[0] + f64::from(east), ORIGIN[1] + f64::from(north)]);
        let shifted = |v: Vertex| Vertex::new(v.east + shift.origin()[0], v.north + shift.origin()[1], v.height);
        alike(&measure(&moved(&a, shift, shifted, &[]), &moved(&b, shift, shifted, &[])), &still);
        // Turned coordinates fall between the nanometres of a national grid: keep them at the origin.
        let at_origin = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let (sin, cos) = turn.sin_cos();
        let turned = |v: Vertex| Vertex::new(cos * v.east - sin * v.north, sin * v.east + cos * v.north, v.height);
        alike(&measure(&moved(&a, at_origin, turned, &[]), &moved(&b, at_origin, turned, &[])), &still);
        let Surface::Tin(tin) = &a else { unreachable!() };
        let count = tin.facets().len();
        let order: Vec<usize> = (0..count).map(|i| if reversed { count - 1 - i } else { (i + count / 2) % count }).collect();
        alike(&measure(&moved(&a, frame(), |v| crate::shapes::vertex(v.east, v.north, v.height), &order), &b), &still);
    }

    #[test]
    fn zones_that_tile_add_up(a in rough(), b in rough(), (e, n) in (1.0..15.0f64, 1.0..15.0f64)) {
        let (a, b) = (made(&a), made(&b));
        let corners = [(0.0, 0.0), (16.0, 0.0), (16.0, 16.0), (0.0, 16.0)];
        let (e, n) = ((e * 64.0).round() / 64.0, (n * 64.0).round() / 64.0);
        let tiles = (0..4).map(|i| vec![ring(&[corners[i], corners[(i + 1) % 4], (e, n)])]).collect();
        let parts = volume(&a, &b, Some(&zones(tiles)), Tolerance::ZERO).unwrap();
        let whole = measure(&a, &b);
        let sum = |of: fn(&ZoneVolume) -> f64| parts.iter().map(of).sum::<f64>();
        near(sum(|z| z.volume.cut), whole.volume.cut, TOLERANCE);
        near(sum(|z| z.volume.fill), whole.volume.fill, TOLERANCE);
        near(sum(|z| z.area.compared), whole.area.compared, TOLERANCE);
    }

    #[test]
    fn outlines_and_pieces_agree_on_the_areas(a in rough(), b in rough(), (east, north) in (0..200i32, 0..200i32)) {
        // One side moved off by eighths: partial overlap, edges along edges.
        let a = made(&a);
        let (east, north) = (f64::from(east) / 8.0, f64::from(north) / 8.0);
        let b = moved(&made(&b), frame(), |v| crate::shapes::vertex(v.east + east, v.north + north, v.height), &[]);
        let limit = zones(vec![vec![ring(&[(-3.0, 2.0), (20.0, 5.0), (11.0, 30.0)])]]);
        for zones in [None, Some(&limit)] {
            let Ok(measured) = volume(&a, &b, zones, Tolerance::ZERO) else { continue };
            let domain = coverage(&Outline::of(&a), &Outline::of(&b), zones)[0];
            near(measured[0].area.compared, domain.pieces, TOLERANCE);
            near(domain.pieces, domain.both, TOLERANCE);
            if let Some(zones) = zones {
                let all = domain.both + domain.reference_only + domain.surveyed_only + domain.neither;
                near(all, zones.zones()[0].area(), TOLERANCE);
            } else {
                near(domain.both + domain.reference_only, 256.0, TOLERANCE);
                near(domain.both + domain.surveyed_only, 256.0, TOLERANCE);
            }
        }
    }
}

#[test]
fn any_number_of_threads_gives_the_same_bits() {
    let height = |k: f64| move |e: f64, n: f64| (e * k).sin() + (n / k).cos();
    let (a, b) = (
        sheet(300.0, 200.0, 6000, 1, height(0.7)),
        sheet(300.0, 200.0, 9000, 50_000, height(0.9)),
    );
    let limit = zones(vec![
        vec![ring(&[(10.0, 3.0), (290.0, 9.0), (150.0, 190.0)])],
        vec![ring(&[(0.0, 0.0), (160.0, 0.0), (160.0, 150.0)])],
    ]);
    let run = |threads: usize| {
        let pool = rayon::ThreadPoolBuilder::new()
            .num_threads(threads)
            .build()
            .unwrap();
        pool.install(|| {
            let areas = coverage(&Outline::of(&a), &Outline::of(&b), Some(&limit));
            let whole = volume(&a, &b, None, Tolerance::new(0.05).unwrap()).unwrap();
            (
                volume(&a, &b, Some(&limit), Tolerance::ZERO).unwrap(),
                whole,
                areas,
            )
        })
    };
    let one = run(1);
    for threads in [2, 3, 7] {
        assert_eq!(run(threads), one);
    }
}

#[test]
fn crowded_ground_is_measured_like_any_other() {
    // Half of the points in a hundredth of the width: blocks there are quartered, many times.
    let points: Vec<_> = (0..4000u32)
        .map(|i| {
            let (a, b) = (f64::from(i) * 0.754_877_666, f64::from(i) * 0.569_840_290);
            let scale = if i % 2 == 0 { 1.0 } else { 1e-4 };
            (
                16.0 * a.fract() * scale,
                16.0 * b.fract() * scale,
                (f64::from(i) * 0.37).sin(),
            )
        })
        .chain(
            [
                (0.0, 0.0, 0.0),
                (16.0, 0.0, 0.0),
                (16.0, 16.0, 0.0),
                (0.0, 16.0, 0.0),
            ]
            .into_iter()
            .skip(1),
        )
        .collect();
    let (crowded, mirrored) = (
        made(&points),
        made(
            &points
                .iter()
                .map(|&(e, n, h)| (n, e, h + 0.1))
                .collect::<Vec<_>>(),
        ),
    );
    let measured = measure(&crowded, &mirrored);
    near(
        measured.volume.net,
        integral(&mirrored) - integral(&crowded),
        1e-9,
    );
    near(measured.area.compared, 256.0, 1e-9);
}

#[test]
fn the_picture_shows_the_same_ground() {
    // A second method, and a coarse one: heights at pixel middles. Over a plane the mean is exact.
    let (low, high) = (
        sheet(32.0, 16.0, 200, 1, |_, _| 1.0),
        sheet(32.0, 16.0, 100, 700, |e, n| 1.0 + 0.1 * e - 0.2 * n),
    );
    let overlay = Overlay::new(&low, &high, None).unwrap();
    let map = difference_map(&overlay, low.extent(), 64).unwrap();
    assert_eq!((map.columns, map.rows), (64, 32));
    let pixels: Vec<_> = map.pixels.iter().map(|p| p.unwrap()).collect();
    let sum: f64 = pixels.iter().map(|p| f64::from(p.difference)).sum();
    near(
        sum * map.cell * map.cell,
        measure(&low, &high).volume.net,
        1e-6,
    );
    // The north-west corner comes first: east 0, north 16, half a pixel in.
    near(
        f64::from(pixels[0].difference),
        0.1 * 0.25 - 0.2 * 15.75,
        1e-6,
    );
    near(f64::from(pixels[0].slope[1]), -0.2, 1e-6);
}

#[test]
fn zones_many_at_once_do_not_mix() {
    // Forty strips over a wedge, listed out of order: each holds the integral of its own strip.
    let (low, wedge) = (
        sheet(40.0, 10.0, 50, 1, |_, _| 0.0),
        sheet(40.0, 10.0, 700, 60, |e, _| e),
    );
    let strip = |i: usize| {
        let west = ((i * 7) % 40) as f64;
        let corners = [
            (west, 0.0),
            (west + 1.0, 0.0),
            (west + 1.0, 10.0),
            (west, 10.0),
            (west, 0.0),
        ];
        let ring: Vec<Place> = corners.iter().map(|&(e, n)| place(e, n)).collect();
        Zone::new(format!("strip {west}"), frame(), vec![vec![ring]]).unwrap()
    };
    let strips = Zones::new(frame(), (0..40).map(strip).collect());
    for (i, measured) in volume(&low, &wedge, Some(&strips), Tolerance::ZERO)
        .unwrap()
        .iter()
        .enumerate()
    {
        let west = ((i * 7) % 40) as f64;
        near(measured.volume.fill, 10.0 * (west + 0.5), 1e-9);
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Progress is reported as shares that rise from nothing, changes no figure, and stops it when told to.
    #[test]
    fn watched_or_not(a in rough(), b in rough(), after in 0usize..3) {
        let (a, b) = (made(&a), made(&b));
        let alone = volumes(&Overlay::new(&a, &b, None).unwrap(), &[Tolerance::ZERO]).unwrap();
        let told = Mutex::new(Vec::new());
        let watch = |share: f64| {
            told.lock().unwrap().push(share);
            ControlFlow::Continue(())
        };
        let watched = Overlay::new(&a, &b, None).unwrap().watched(&watch);
        for _ in 0..after {
            prop_assert_eq!(&volumes(&watched, &[Tolerance::ZERO]).unwrap(), &alone);
        }
        let told = told.into_inner().unwrap();
        prop_assert_eq!(told.iter().filter(|share| **share == 0.0).count(), after);
        prop_assert!(told.iter().all(|share| (0.0..1.0).contains(share)));
        let stops = |_: f64| ControlFlow::Break(());
        let stopped = Overlay::new(&a, &b, None).unwrap().watched(&stops);
        prop_assert_eq!(volumes(&stopped, &[Tolerance::ZERO]), Err(OverlayError::Stopped));
    }

    /// Several tolerances in one walk give what each gives alone, to the bit.
    #[test]
    fn tolerances_in_one_walk(a in rough(), b in rough(), tolerances in prop::collection::vec(0i32..20, 1..5)) {
        let (a, b) = (made(&a), made(&b));
        let tolerances: Vec<Tolerance> = tolerances.iter()
            .map(|t| Tolerance::new(f64::from(*t) / 10.0).unwrap())
            .collect();
        let west = ring(&[(1.0, 1.0), (9.0, 2.0), (8.0, 14.0), (2.0, 15.0)]);
        let both = zones(vec![vec![west]]);
        for within in [None, Some(&both)] {
            let found = volumes(&Overlay::new(&a, &b, within).unwrap(), &tolerances).unwrap();
            prop_assert_eq!(found.len(), tolerances.len());
            for (found, tolerance) in found.iter().zip(&tolerances) {
                prop_assert_eq!(found, &volume(&a, &b, within, *tolerance).unwrap());
            }
        }
    }
}
