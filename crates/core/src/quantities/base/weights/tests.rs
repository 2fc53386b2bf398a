//! How much points count above a base: against volumes measured again with each point raised, and against many draws.

use super::*;
use crate::plan::Frame;
use crate::points::{PickUp, Rules, triangulate};
use crate::quantities::chance::Chance;
use crate::quantities::uncertainty::Accuracy;
use crate::quantities::volume;
use crate::surface::Tin;
use crate::units::LengthUnit;
use crate::zones::Zone;

const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];
const BASES: [Base; 4] = [Base::Toe, Base::Plane, Base::Lowest, Base::Mean];

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, ORIGIN)
}

/// A pile of some height on ground that falls, as a survey around and on it, with an outline that stands clear of its points.
fn pile() -> (Tin, Zones) {
    let mut points = Vec::new();
    for row in 0..15 {
        for column in 0..15 {
            let (e, n) = (2.0 * f64::from(column), 2.0 * f64::from(row));
            let (e, n) = (e + 0.3 * libm::sin(1.7 * n), n + 0.3 * libm::sin(2.3 * e));
            let away = libm::hypot(e - 14.0, n - 13.0);
            // Rough ground: where it were as high as its base, it would be neither cut nor fill.
            let rough = 0.03 * libm::sin(3.1 * e + 4.7 * n);
            let height = 40.0 + 0.03 * e - 0.02 * n + rough + (5.0 - 0.6 * away).max(0.0);
            points.push(Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, height));
        }
    }
    let rules = Rules::default();
    let tin = triangulate(frame(), &PickUp::from(points), &rules)
        .unwrap()
        .tin;
    let ring = [
        (4.5, 4.1),
        (23.2, 3.6),
        (24.4, 22.8),
        (12.0, 25.1),
        (4.0, 21.7),
        (4.5, 4.1),
    ];
    let ring = ring.map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n));
    let zone = Zone::new("pile", frame(), vec![vec![ring.to_vec()]]).unwrap();
    (tin, Zones::new(frame(), vec![zone]))
}

/// Cut and fill above a base, with heights changed by their numbers.
fn measured(tin: &Tin, zones: &Zones, base: Base, by: impl Fn(usize) -> f64) -> [f64; 2] {
    let mut vertices = tin.vertices().to_vec();
    for (number, vertex) in vertices.iter_mut().enumerate() {
        vertex.height += by(number);
    }
    let changed = Tin::of_local(frame(), vertices, tin.facets().to_vec()).unwrap();
    let changed = Surface::Tin(changed);
    let toe = Toe::of(&changed, &zones.zones()[0]).unwrap();
    let below = Surface::Tin(toe.base(base).unwrap());
    let found = volume(&below, &changed, Some(zones), Tolerance::ZERO).unwrap();
    [found[0].volume.cut, found[0].volume.fill]
}

#[test]
fn a_point_counts_as_much_as_the_volume_grows_when_it_is_raised() {
    let (tin, zones) = pile();
    let surface = Surface::Tin(tin.clone());
    let toe = Toe::of(&surface, &zones.zones()[0]).unwrap();
    for base in BASES {
        let (_, weights) = weighed_above_base(&surface, &toe, base, &zones).unwrap();
        for number in (0..tin.vertices().len()).step_by(3) {
            let step = 1e-4;
            let moved = |sign: f64| {
                measured(&tin, &zones, base, |own| {
                    if own == number { sign * step } else { 0.0 }
                })
            };
            let (up, down) = (moved(1.0), moved(-1.0));
            let net = (up[1] - up[0] - down[1] + down[0]) / (2.0 * step);
            let own = |kind: usize| {
                let mut heights = weights[kind].heights();
                heights
                    .find(|(own, _)| *own as usize == number)
                    .map_or(0.0, |(_, weight)| weight)
            };
            // Fill less cut is linear in the heights, so that nothing but rounding is left: of some hundred cubic metres over
            // a tenth of a millimetre.
            let found = own(1) - own(0);
            assert!(
                (found - net).abs() < 1e-5,
                "{base:?} {number}: {found} and {net}"
            );
        }
    }
}

#[test]
fn what_all_heights_have_in_common_cancels() {
    let (tin, zones) = pile();
    let surface = Surface::Tin(tin);
    let toe = Toe::of(&surface, &zones.zones()[0]).unwrap();
    let common = Accuracy {
        common_height: 0.05,
        ..Accuracy::EXACT
    };
    for base in BASES {
        let (_, [cut, fill]) = weighed_above_base(&surface, &toe, base, &zones).unwrap();
        for weights in [cut, fill] {
            let parts = weights.parts(&surface, &common);
            assert!(parts.common_height < 1e-9, "{base:?}: {parts:?}");
        }
    }
}

#[test]
fn stated_intervals_hold_the_true_volume_in_95_of_100_draws() {
    let (tin, zones) = pile();
    let accuracy = Accuracy {
        height: 0.02,
        ..Accuracy::EXACT
    };
    let mut chance = Chance(20_310_401);
    for base in [Base::Toe, Base::Plane, Base::Mean] {
        let [cut, fill] = measured(&tin, &zones, base, |_| 0.0);
        let (draws, mut held) = (150, 0);
        for _ in 0..draws {
            let errors: Vec<f64> = tin
                .vertices()
                .iter()
                .map(|_| 0.02 * chance.normal())
                .collect();
            let found = measured(&tin, &zones, base, |number| errors[number]);
            let surface = Surface::Tin(tin.clone());
            let toe = Toe::of(&surface, &zones.zones()[0]).unwrap();
            let (_, weights) = weighed_above_base(&surface, &toe, base, &zones).unwrap();
            let mut net = weights[1].clone();
            net.add(&weights[0], -1.0);
            let expanded = 2.0 * net.parts(&surface, &accuracy).standard();
            held += usize::from((found[1] - found[0] - fill + cut).abs() <= expanded);
        }
        // 95.4 in 100 with a standard deviation of 1.7 in 100 for so many draws.
        assert!(
            (91 * draws..=100 * draws).contains(&(100 * held)),
            "{base:?}: {held}"
        );
    }
}
