//! Uncertainties against what becomes of volumes when points are moved.

use super::*;
use crate::overlay::volume::volume;
use crate::plan::{Frame, Place};
use crate::quantities::Volumes;
use crate::quantities::chance::Chance;
use crate::surface::{Level, Tin, Vertex};
use crate::units::LengthUnit;
use crate::zones::{Zone, Zones};
use proptest::prelude::*;

pub(super) fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, [0.0, 0.0])
}

/// Points on a jittered grid of `count` by `count` metres, split into triangles, over heights.
pub(super) fn ground(count: usize, seed: u64, height: impl Fn(f64, f64) -> f64) -> Tin {
    let mut chance = Chance(seed);
    let mut vertices = Vec::new();
    for row in 0..=count {
        for column in 0..=count {
            let inner = |at: usize, by: f64| {
                if at == 0 || at == count {
                    0.0
                } else {
                    by - 0.5
                }
            };
            let (e, n) = (
                column as f64 + 0.6 * inner(column, chance.even()),
                row as f64 + 0.6 * inner(row, chance.even()),
            );
            vertices.push(Vertex::new(e, n, height(e, n)));
        }
    }
    let mut facets = Vec::new();
    for row in 0..count {
        for column in 0..count {
            let at = |c: usize, r: usize| (r * (count + 1) + c) as u32;
            let [a, b, c, d] = [
                at(column, row),
                at(column + 1, row),
                at(column + 1, row + 1),
                at(column, row + 1),
            ];
            facets.extend([[a, b, c], [a, c, d]]);
        }
    }
    Tin::from_facets(frame(), vertices, facets).unwrap()
}

/// A bank and a hollow, with ground of the plain between.
pub(super) fn rolling(e: f64, n: f64) -> f64 {
    10.0 + 1.5 * (e / 3.0).sin() + (n / 4.0).cos()
}

pub(super) fn plain(e: f64, n: f64) -> f64 {
    10.0 + 0.02 * e - 0.03 * n
}

/// The middle of the ground, away from its edge.
pub(super) fn zones(rings: &[[f64; 4]]) -> Zones {
    let zone = |&[west, south, east, north]: &[f64; 4]| {
        let ring = [
            (west, south),
            (east, south),
            (east, north),
            (west, north),
            (west, south),
        ];
        let ring = ring.map(|(e, n)| Place::new(e, n)).to_vec();
        Zone::new("z", frame(), vec![vec![ring]]).unwrap()
    };
    Zones::new(frame(), rings.iter().map(zone).collect())
}

/// What was measured zone by zone, and in all.
struct Measured {
    zones: Vec<ZoneVolume>,
    uncertainty: Vec<VolumeUncertainty>,
    total: VolumeUncertainty,
}

fn measured(
    sides: [&Surface; 2],
    zones: Option<&Zones>,
    tolerance: f64,
    accuracies: [Accuracy; 2],
) -> Measured {
    let overlay = Overlay::new(sides[0], sides[1], zones).unwrap();
    let tolerance = Tolerance::new(tolerance).unwrap();
    let found = weighed_volumes(&overlay, tolerance, sides, accuracies).unwrap();
    let all: Vec<usize> = (0..found.zones.len()).collect();
    let each = all.iter().map(|&zone| found.uncertainty(&[zone]));
    Measured {
        uncertainty: each.collect(),
        total: found.uncertainty(&all),
        zones: found.zones,
    }
}

pub(super) fn moved(tin: &Tin, mut by: impl FnMut(usize, Vertex) -> Vertex) -> Surface {
    let vertices = tin.vertices().iter().enumerate();
    let vertices = vertices.map(|(index, &vertex)| by(index, vertex)).collect();
    Surface::Tin(Tin::from_facets(frame(), vertices, tin.facets().to_vec()).unwrap())
}

fn volumes_of(sides: [&Surface; 2], zones: Option<&Zones>, tolerance: f64) -> Volumes {
    let tolerance = Tolerance::new(tolerance).unwrap();
    let found = volume(sides[0], sides[1], zones, tolerance).unwrap();
    let sum = |of: fn(&Volumes) -> f64| found.iter().map(|zone| of(&zone.volume)).sum();
    Volumes {
        cut: sum(|v| v.cut),
        fill: sum(|v| v.fill),
        net: sum(|v| v.net),
        unchanged: 0.0,
    }
}

const POINTS: Accuracy = Accuracy {
    height: 1.0,
    ..Accuracy::EXACT
};

#[test]
fn the_volumes_are_those_without_it() {
    let [a, b] = [
        Surface::Tin(ground(12, 5, plain)),
        Surface::Tin(ground(12, 9, rolling)),
    ];
    let zones = zones(&[[1.0, 1.0, 6.0, 9.0], [4.0, 3.0, 11.0, 11.0]]);
    let found = measured([&a, &b], Some(&zones), 0.05, [POINTS; 2]);
    let tolerance = Tolerance::new(0.05).unwrap();
    assert_eq!(
        found.zones,
        volume(&a, &b, Some(&zones), tolerance).unwrap()
    );
}

#[test]
fn a_grid_and_its_triangles_are_as_uncertain() {
    let heights: Vec<f64> = (0..121)
        .map(|i| rolling((i % 11) as f64, (i / 11) as f64))
        .collect();
    let corner = frame().to_local(0.0, 0.0);
    let grid = crate::surface::Grid::new(frame(), corner, [1.0, 1.0], [11, 11], heights).unwrap();
    let tin = Surface::Tin(grid.to_tin().unwrap());
    let grid = Surface::Grid(grid);
    let flat =
        crate::surface::Grid::new(frame(), corner, [1.0, 1.0], [11, 11], vec![10.2; 121]).unwrap();
    let flat_tin = Surface::Tin(flat.to_tin().unwrap());
    let flat = Surface::Grid(flat);
    let all = Accuracy {
        height: 0.02,
        plan: 0.01,
        common_height: 0.01,
        common_plan: 0.02,
        correlation: 1.5,
    };
    let [a, b] =
        [[&flat, &grid], [&flat_tin, &tin]].map(|sides| measured(sides, None, 0.0, [all; 2]).total);
    for (a, b) in [(a.cut, b.cut), (a.fill, b.fill), (a.net, b.net)] {
        assert!(
            (a.standard() / b.standard() - 1.0).abs() < 1e-9,
            "{a:?} {b:?}"
        );
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// One point raised by a hair changes cut, fill and net by its weight; moved by a hair in plan by what its facets lean. With a tolerance too.
    #[test]
    fn weights_are_what_volumes_do(seed in 0u64..1000, point in 0usize..80, tolerance in prop::sample::select(vec![0.0, 0.3]), zoned in any::<bool>()) {
        let (reference, survey) = (Surface::Tin(ground(8, seed, plain)), ground(8, seed + 1, rolling));
        let surface = Surface::Tin(survey.clone());
        let zones = zones(&[[0.9, 1.1, 6.8, 7.2]]);
        let zones = zoned.then_some(&zones);
        let overlay = Overlay::new(&reference, &surface, zones).unwrap();
        let fold = WeightFold::new(tolerance, frame().precision());
        let gathered = overlay.fold(&fold).unwrap();
        let [_, entries] = WeightFold::entries(gathered, 1);
        let summed = Summed::over(&surface, &entries.of(&[0]));
        let at = survey.vertices()[point].place();
        let number = summed.places().position(|place| place == at);
        let [cut, fill, net] = CUT_FILL_NET.map(|counts| {
            number.and_then(|number| summed.points(counts).nth(number)).unwrap_or_default()
        });
        let expected = [cut, fill, net];
        let before = volumes_of([&reference, &surface], zones, tolerance);
        let hair = 1e-6;
        let change = |axis: usize| {
            let raised = moved(&survey, |index, mut vertex| {
                if index == point {
                    *[&mut vertex.height, &mut vertex.east, &mut vertex.north][axis] += hair;
                }
                vertex
            });
            let after = volumes_of([&reference, &raised], zones, tolerance);
            [before.cut - after.cut, after.fill - before.fill, after.net - before.net].map(|change| change / hair)
        };
        // Of the change with the hair: second derivatives, and rounding of volumes of some hundred.
        let near = |a: f64, b: f64| (a - b).abs() < 2e-4 * (1.0 + b.abs());
        let raised = change(0);
        for kind in 0..3 {
            prop_assert!(near(raised[kind], expected[kind][0]), "{kind}: {raised:?} {expected:?}");
        }
        // The edge of ground that is not bounded by a zone moves as well.
        if zoned {
            for axis in [1, 2] {
                let aside = change(axis);
                for kind in 0..3 {
                    prop_assert!(near(aside[kind], -expected[kind][axis]), "{kind}: {aside:?} {expected:?}");
                }
            }
        }
    }

    /// Changed sides are as uncertain, and so is ground that is shifted, or parted into zones that share its points.
    #[test]
    fn it_does_not_depend_on_how_it_is_looked_at(seed in 0u64..1000, split in 2.0..7.0f64) {
        let [a, b] = [Surface::Tin(ground(9, seed, plain)), Surface::Tin(ground(9, seed + 7, rolling))];
        let own = Accuracy { height: 0.03, plan: 0.02, common_height: 0.01, common_plan: 0.015, correlation: 2.0 };
        let [there, back] = [measured([&a, &b], None, 0.0, [own, POINTS]), measured([&b, &a], None, 0.0, [POINTS, own])];
        let near = |a: &BothSides, b: &BothSides| (a.standard() / b.standard() - 1.0).abs() < 1e-9;
        prop_assert!(near(&there.total.cut, &back.total.fill) && near(&there.total.net, &back.total.net));
        let parted = zones(&[[0.0, 0.0, split, 9.0], [split, 0.0, 9.0, 9.0]]);
        let parted = measured([&a, &b], Some(&parted), 0.0, [own, POINTS]);
        prop_assert!(near(&parted.total.net, &there.total.net) && near(&parted.total.cut, &there.total.cut));
        // What is common to both parts adds up whole; what each point has by itself less than that.
        let [one, other] = [0, 1].map(|zone| parted.uncertainty[zone].net.reference.common_height);
        prop_assert!((one + other - there.total.net.reference.common_height).abs() < 1e-9);
    }
}

/// A level is one height: raised by a hair all of its ground gains, and so its own error counts over all of it.
#[test]
fn a_level_is_one_point() {
    let ground = Surface::Tin(ground(9, 4, rolling));
    let level = |height: f64| Surface::Level(Level::new(frame(), height));
    let found = measured(
        [&level(10.2), &ground],
        None,
        0.0,
        [POINTS, Accuracy::EXACT],
    )
    .total;
    let hair = 1e-6;
    let volumes = |height: f64| volumes_of([&level(height), &ground], None, 0.0);
    let (low, high) = (volumes(10.2 - hair), volumes(10.2 + hair));
    let expected = [high.cut - low.cut, low.fill - high.fill, low.net - high.net];
    for (found, expected) in [found.cut, found.fill, found.net].iter().zip(expected) {
        // Of volumes of some hundred, whose change with the hair is seen to 1e-7.
        assert!(
            (found.standard() - expected / (2.0 * hair)).abs() < 1e-5,
            "{found:?} {expected}"
        );
        assert_eq!(found.surveyed, UncertaintyParts::default());
    }
    assert!((found.net.standard() - 81.0).abs() < 1e-9);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Weights of zones and of kinds add up to those of the whole; of a sum that is taken off again nothing is left.
    #[test]
    fn weights_of_parts_add_up(seed in 0u64..1000, split in 2.0..7.0f64, correlation in prop::sample::select(vec![0.0, 1.5])) {
        let [a, b] = [Surface::Tin(ground(9, seed, plain)), Surface::Tin(ground(9, seed + 7, rolling))];
        let own = Accuracy { height: 0.03, plan: 0.02, common_height: 0.01, common_plan: 0.015, correlation };
        let parted = zones(&[[0.0, 0.0, split, 9.0], [split, 0.0, 9.0, 9.0]]);
        let overlay = Overlay::new(&a, &b, Some(&parted)).unwrap();
        let found = weighed_volumes(&overlay, Tolerance::ZERO, [&a, &b], [own; 2]).unwrap();
        let expected = found.uncertainty(&[0, 1]).net;
        let weights = [WeighedVolumes::reference_weights, WeighedVolumes::surveyed_weights];
        let sides = [(&a, expected.reference), (&b, expected.surveyed)];
        for ((surface, expected), weights) in sides.into_iter().zip(weights) {
            let mut net = PointWeights::default();
            for zone in [0, 1] {
                let [cut, fill] = weights(&found, &[zone]);
                net.add(&fill, 1.0);
                net.add(&cut, -1.0);
            }
            let parts = net.parts(surface, &own);
            prop_assert!((parts.standard() / expected.standard() - 1.0).abs() < 1e-9);
            let whole = net.clone();
            net.add(&whole, -1.0);
            prop_assert!(net.parts(surface, &own).standard() < 1e-12);
        }
    }
}

/// For cut, fill and net: how often the truth is within 95 %, and the spread against what was stated; in so many draws.
fn drawn(sides: [&Tin; 2], zones: Option<&Zones>, accuracies: [Accuracy; 2]) -> [(f64, f64); 3] {
    const DRAWS: usize = 1500;
    let exact = sides.map(|tin| Surface::Tin(tin.clone()));
    let found = |sides: [&Surface; 2]| {
        let Volumes { cut, fill, net, .. } = volumes_of(sides, zones, 0.0);
        [cut, fill, net]
    };
    // What a survey states of itself, from its own points.
    let stated = |sides: [&Surface; 2]| {
        let VolumeUncertainty { cut, fill, net, .. } =
            measured(sides, zones, 0.0, accuracies).total;
        [cut, fill, net].map(|own| own.standard())
    };
    let truth = found([&exact[0], &exact[1]]);
    let mut chance = Chance(4711);
    let mut tallies = [(0, 0.0); 3];
    for _ in 0..DRAWS {
        let [reference, surveyed] = [0, 1].map(|side| {
            let own = accuracies[side];
            let common = [own.common_plan, own.common_plan, own.common_height];
            let common = common.map(|u| u * chance.normal());
            moved(sides[side], |_, v| Vertex {
                east: v.east + common[0] + own.plan * chance.normal(),
                north: v.north + common[1] + own.plan * chance.normal(),
                height: v.height + common[2] + own.height * chance.normal(),
            })
        });
        let sides = [&reference, &surveyed];
        let (found, own) = (found(sides), stated(sides));
        for kind in 0..3 {
            let error: f64 = found[kind] - truth[kind];
            tallies[kind].0 += usize::from(error.abs() <= 1.96 * own[kind]);
            tallies[kind].1 += error * error;
        }
    }
    let own = stated([&exact[0], &exact[1]]);
    let count = DRAWS as f64;
    [0, 1, 2].map(|kind| {
        let (within, squares) = tallies[kind];
        (
            f64::from(within as u32) / count,
            (squares / count).sqrt() / own[kind],
        )
    })
}

/// Within three times what 1500 draws scatter by: 0.0056 of a share of 0.95, 0.018 of a spread.
#[track_caller]
fn holds((share, spread): (f64, f64)) {
    assert!(
        (share - 0.95).abs() < 0.017,
        "{share} of the truth, {spread} of the spread"
    );
    assert!(
        (spread - 1.0).abs() < 0.055,
        "{spread} of the spread, {share} of the truth"
    );
}

const SURVEY: Accuracy = Accuracy {
    height: 0.02,
    plan: 0.02,
    common_height: 0.008,
    common_plan: 0.01,
    correlation: 0.0,
};

#[test]
fn stated_intervals_hold_the_truth() {
    let (reference, survey) = (ground(14, 3, plain), ground(14, 4, rolling));
    let zones = zones(&[[1.2, 1.3, 7.4, 12.6], [7.4, 1.3, 12.8, 12.6]]);
    for accuracies in [
        [POINTS.times(0.03), Accuracy::EXACT],
        [
            Accuracy {
                plan: 0.04,
                ..Accuracy::EXACT
            },
            Accuracy {
                plan: 0.04,
                ..Accuracy::EXACT
            },
        ],
        [SURVEY, SURVEY],
    ] {
        for kind in drawn([&reference, &survey], Some(&zones), accuracies) {
            holds(kind);
        }
    }
}

#[test]
fn errors_that_go_together_are_stated() {
    // Heights in error by a field whose correlation falls with distance: drawn by Cholesky's roots of the correlations of all points.
    let (level, survey) = (
        Surface::Level(Level::new(frame(), 9.0)),
        ground(11, 8, rolling),
    );
    let length = 2.5;
    let places: Vec<Place> = survey.vertices().iter().map(|v| v.place()).collect();
    let count = places.len();
    let mut root = vec![vec![0.0; count]; count];
    for i in 0..count {
        for j in 0..=i {
            let distance = libm::hypot(
                places[i].east - places[j].east,
                places[i].north - places[j].north,
            );
            let before: f64 = (0..j).map(|k| root[i][k] * root[j][k]).sum();
            let rest = (-distance / length).exp() - before;
            root[i][j] = if i == j {
                rest.max(0.0).sqrt()
            } else {
                rest / root[j][j]
            };
        }
    }
    let own = Accuracy {
        height: 0.05,
        correlation: length,
        ..Accuracy::EXACT
    };
    let exact = Surface::Tin(survey.clone());
    let truth = volumes_of([&level, &exact], None, 0.0).net;
    let stated = measured([&level, &exact], None, 0.0, [Accuracy::EXACT, own])
        .total
        .net
        .standard();
    let by_itself = Accuracy {
        correlation: 0.0,
        ..own
    };
    let alone = measured([&level, &exact], None, 0.0, [Accuracy::EXACT, by_itself])
        .total
        .net
        .standard();
    assert!(stated > 3.0 * alone, "{stated} {alone}");
    let mut chance = Chance(99);
    let (mut within, mut squares) = (0, 0.0);
    const DRAWS: usize = 2000;
    for _ in 0..DRAWS {
        let free: Vec<f64> = (0..count).map(|_| chance.normal()).collect();
        let drawn = moved(&survey, |index, v| {
            let error: f64 = root[index].iter().zip(&free).map(|(a, b)| a * b).sum();
            Vertex {
                height: v.height + own.height * error,
                ..v
            }
        });
        let found = volumes_of([&level, &drawn], None, 0.0).net;
        within += usize::from((found - truth).abs() <= 1.96 * stated);
        squares += (found - truth).powi(2);
    }
    holds((
        within as f64 / DRAWS as f64,
        (squares / DRAWS as f64).sqrt() / stated,
    ));
}

/// Both surfaces with the errors of a draw.
pub(super) fn draw(
    sides: [&Tin; 2],
    accuracies: [Accuracy; 2],
    chance: &mut Chance,
) -> [Surface; 2] {
    [0, 1].map(|side| {
        let own = accuracies[side];
        let common = own.common_height * chance.normal();
        moved(sides[side], |_, v| Vertex {
            height: v.height + common + own.height * chance.normal(),
            ..v
        })
    })
}

/// Cut and fill of drawn surveys are too large on average by what is said to be gained by chance: on ground close to the other surface and through it, with a
/// tolerance and without.
#[test]
fn what_is_gained_by_chance_is_gained_on_average() {
    const DRAWS: usize = 400;
    let survey = Accuracy {
        height: 0.05,
        common_height: 0.02,
        ..Accuracy::EXACT
    };
    let accuracies = [
        Accuracy {
            height: 0.03,
            ..Accuracy::EXACT
        },
        survey,
    ];
    for (seed, by, tolerance) in [
        (3, 0.001, 0.0),
        (4, 0.04, 0.0),
        (5, 0.2, 0.0),
        (6, 0.03, 0.06),
    ] {
        let below = ground(14, seed, plain);
        let above = ground(14, seed + 40, |e, n| plain(e, n) + by * (e / 4.0).sin());
        let exact = [&below, &above].map(|tin| Surface::Tin(tin.clone()));
        let stated = measured([&exact[0], &exact[1]], None, tolerance, accuracies)
            .total
            .by_chance;
        let truth = volumes_of([&exact[0], &exact[1]], None, tolerance);
        let mut chance = Chance(99 + seed);
        let mut mean = [0.0; 2];
        // Each draw and its mirror image, so that what is linear in the errors cancels.
        let mirrored = accuracies.map(|own| own.times(-1.0));
        for _ in 0..DRAWS {
            let same = Chance(chance.0);
            for (own, mut chance) in [(mirrored, same), (accuracies, Chance(chance.0))] {
                let [a, b] = draw([&below, &above], own, &mut chance);
                let found = volumes_of([&a, &b], None, tolerance);
                mean[0] += (found.cut - truth.cut) / (2 * DRAWS) as f64;
                mean[1] += (found.fill - truth.fill) / (2 * DRAWS) as f64;
            }
            chance.even();
            chance.0 = chance.0.rotate_left(17);
        }
        // Within triangles the errors are taken as large everywhere as they are on average.
        let expected = [stated.cut, stated.fill];
        let most = expected[0].max(expected[1]);
        for (mean, expected) in mean.into_iter().zip(expected) {
            assert!(
                (mean - expected).abs() < 0.05 * most,
                "{by} {tolerance}: {mean} {stated:?}"
            );
        }
        assert_eq!(by > 0.1, stated.area < 150.0, "{stated:?}");
    }
}

/// Where nothing was moved, what one survey says of itself is too small, by as much as is said.
#[test]
fn on_ground_that_did_not_move_as_much_more_may_be_gained_as_is_said() {
    let still = [ground(20, 1, plain), ground(20, 2, plain)];
    let accuracies = [Accuracy {
        height: 0.04,
        ..Accuracy::EXACT
    }; 2];
    let mut chance = Chance(7);
    let (mut gained, mut stated) = (0.0, 0.0);
    for _ in 0..60 {
        let [a, b] = draw([&still[0], &still[1]], accuracies, &mut chance);
        gained += volumes_of([&a, &b], None, 0.0).fill;
        stated += measured([&a, &b], None, 0.0, accuracies)
            .total
            .by_chance
            .fill;
    }
    let ratio = gained / stated;
    assert!(
        (ratio / GainByChance::AT_MOST - 1.0).abs() < 0.03,
        "{ratio}"
    );
}

/// Points on slopes have their own part: all of it on a bank, none on a plain.
#[test]
fn points_on_slopes_are_told_apart() {
    let survey = Accuracy {
        height: 0.03,
        plan: 0.02,
        ..Accuracy::EXACT
    };
    let of = |height: fn(f64, f64) -> f64| {
        let top = Surface::Tin(ground(10, 4, height));
        let level = Surface::Level(Level::new(frame(), 0.0));
        let parts = measured([&level, &top], None, 0.0, [Accuracy::EXACT, survey])
            .total
            .net
            .surveyed;
        (parts.on_slopes, libm::hypot(parts.height, parts.plan))
    };
    let (bank, whole) = of(|e, _| 20.0 + 0.5 * e);
    assert!((bank - whole).abs() < 1e-12);
    assert_eq!(of(plain).0, 0.0);
    let (half, whole) = of(|e, _| 20.0 + (e - 5.0).max(0.0));
    assert!(half > 0.5 * whole && half < 0.9 * whole, "{half} {whole}");
}

/// Where one surface is made from the other they are the same, and nothing is gained.
#[test]
fn surfaces_that_are_the_same_gain_nothing() {
    let ground = Surface::Tin(ground(8, 3, rolling));
    let survey = Accuracy {
        height: 0.05,
        ..Accuracy::EXACT
    };
    let found = measured([&ground, &ground], None, 0.0, [Accuracy::EXACT, survey]);
    assert_eq!(found.total.by_chance, GainByChance::default());
}

/// In so many draws what a sum of weights states holds: how often the truth is within 1.96 of it, and the spread.
fn sums_hold(truth: f64, standard: f64, mut measure: impl FnMut(&mut Chance) -> f64) {
    const DRAWS: usize = 1500;
    let mut chance = Chance(2031);
    let (mut within, mut squares) = (0, 0.0);
    for _ in 0..DRAWS {
        let error = measure(&mut chance) - truth;
        within += usize::from(error.abs() <= 1.96 * standard);
        squares += error * error;
    }
    let drawn = DRAWS as f64;
    holds((within as f64 / drawn, (squares / drawn).sqrt() / standard));
}

/// What a basin holds up to a level.
#[test]
fn a_capacity_holds_what_is_stated() {
    let bed = ground(14, 6, |e, n| {
        10.0 + 0.05 * ((e - 7.0).powi(2) + (n - 7.0).powi(2))
    });
    let survey = Accuracy {
        height: 0.03,
        common_height: 0.01,
        ..Accuracy::EXACT
    };
    let water = Surface::Level(Level::new(frame(), 11.5));
    let held = |bed: &Surface| volumes_of([bed, &water], None, 0.0).fill;
    let exact = Surface::Tin(bed.clone());
    let overlay = Overlay::new(&exact, &water, None).unwrap();
    let found = weighed_volumes(
        &overlay,
        Tolerance::ZERO,
        [&exact, &water],
        [survey, Accuracy::EXACT],
    )
    .unwrap();
    let standard = found.uncertainty(&[0]).fill.standard();
    sums_hold(held(&exact), standard, |chance| {
        let [bed, _] = draw([&bed, &bed], [survey, Accuracy::EXACT], chance);
        held(&bed)
    });
}

/// Two items at different rates that share a survey, and what was done between two surveys, each measured from the ground: its errors cancel.
#[test]
fn items_that_share_a_survey_and_periods_that_share_the_ground_hold_what_is_stated() {
    let tins = [
        ground(14, 3, plain),
        ground(14, 4, rolling),
        ground(14, 5, |e, n| rolling(e, n) - 0.4),
    ];
    let [own, exact] = [
        Accuracy {
            height: 0.02,
            common_height: 0.01,
            ..Accuracy::EXACT
        },
        Accuracy::EXACT,
    ];
    let zones = zones(&[[1.2, 1.3, 7.4, 12.6], [7.4, 1.3, 12.8, 12.6]]);
    let surfaces = tins.clone().map(Surface::Tin);
    let [before, march, april] = &surfaces;
    let nets = |from: &Surface, to: &Surface| -> [f64; 2] {
        let found = volume(from, to, Some(&zones), Tolerance::ZERO).unwrap();
        [found[0].volume.net, found[1].volume.net]
    };
    let weights = |to: &Surface, of_reference: bool, times: [f64; 2]| {
        let overlay = Overlay::new(before, to, Some(&zones)).unwrap();
        let found = weighed_volumes(&overlay, Tolerance::ZERO, [before, to], [own; 2]).unwrap();
        let mut sum = PointWeights::default();
        for (zone, times) in times.into_iter().enumerate() {
            let [cut, fill] = match of_reference {
                true => found.reference_weights(&[zone]),
                false => found.surveyed_weights(&[zone]),
            };
            sum.add(&fill, times);
            sum.add(&cut, -times);
        }
        sum
    };
    let rates = [3.0, -2.0];
    let paid = |[one, other]: [f64; 2]| rates[0] * one + rates[1] * other;
    let standard = {
        let from = weights(march, true, rates).parts(before, &own);
        let to = weights(march, false, rates).parts(march, &own);
        libm::hypot(from.standard(), to.standard())
    };
    sums_hold(paid(nets(before, march)), standard, |chance| {
        let [a, b] = draw([&tins[0], &tins[1]], [own; 2], chance);
        paid(nets(&a, &b))
    });
    // To date in April, less to date in March.
    let period = |ground: &Surface, march: &Surface, april: &Surface| {
        let [one, other] = [nets(ground, april), nets(ground, march)];
        one[0] + one[1] - other[0] - other[1]
    };
    let mut shared = weights(april, true, [1.0; 2]);
    shared.add(&weights(march, true, [1.0; 2]), -1.0);
    let parts = [
        shared.parts(before, &own),
        weights(march, false, [1.0; 2]).parts(march, &own),
        weights(april, false, [1.0; 2]).parts(april, &own),
    ];
    let standard = parts
        .iter()
        .map(|own| own.standard().powi(2))
        .sum::<f64>()
        .sqrt();
    sums_hold(period(before, march, april), standard, |chance| {
        let [ground, march] = draw([&tins[0], &tins[1]], [own; 2], chance);
        let [april, _] = draw([&tins[2], &tins[2]], [own, exact], chance);
        period(&ground, &march, &april)
    });
}
