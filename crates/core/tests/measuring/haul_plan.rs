//! Transport plans against brute force and the one-dimensional case; middles of bodies against closed forms.

use crate::shapes::{ORIGIN, frame, measure, near, ring, solid, zones};
use dapedon_core::plan::Place;
use dapedon_core::quantities::{HaulEnd, HaulPlanError, HaulStretch, bodies, haul_plan, mass_haul};
use dapedon_core::surface::{Level, Surface};
use proptest::prelude::*;

fn all(volume: f64) -> HaulEnd {
    HaulEnd {
        volume,
        is_fixed: true,
    }
}

fn up_to(volume: f64) -> HaulEnd {
    HaulEnd {
        volume,
        is_fixed: false,
    }
}

/// The least total over all ways to pair units, one by one.
fn brute(units: &[usize], wanted: &mut Vec<usize>, costs: &[Vec<f64>]) -> f64 {
    let Some((&from, rest)) = units.split_first() else {
        return 0.0;
    };
    let mut least = f64::INFINITY;
    for index in 0..wanted.len() {
        let to = wanted.remove(index);
        least = least.min(costs[from][to] + brute(rest, wanted, costs));
        wanted.insert(index, to);
    }
    least
}

/// Each end as often as it has units.
fn units(volumes: &[usize]) -> Vec<usize> {
    let each = volumes.iter().enumerate();
    each.flat_map(|(end, &count)| std::iter::repeat_n(end, count))
        .collect()
}

proptest! {
    /// With whole volumes a least plan has whole flows: all of them can be tried.
    #[test]
    fn a_plan_is_the_least_of_all(
        cuts in prop::collection::vec(0usize..4, 1..4),
        fills in prop::collection::vec(0usize..4, 1..4),
        costs in prop::collection::vec(prop::collection::vec(0.0..9.0f64, 4), 4),
        size in prop::sample::select(vec![1e-3, 1.0, 1e6]),
    ) {
        let (from, to) = (units(&cuts), units(&fills));
        prop_assume!(from.len() <= 7 && to.len() <= 7);
        // Whoever is short pairs with nothing, at no cost.
        let short = from.len().abs_diff(to.len());
        let mut costs: Vec<Vec<f64>> = costs.iter().map(|row| row.iter().copied().chain([0.0]).collect()).collect();
        costs.push(vec![0.0; 5]);
        let pad = |mut own: Vec<usize>, to: usize| { own.resize(to, 4); own };
        let longest = from.len().max(to.len());
        let least = brute(&pad(from, longest), &mut pad(to, longest), &costs);
        let ends = |volumes: &[usize]| volumes.iter().map(|&v| all(size * v as f64)).collect::<Vec<_>>();
        let plan = haul_plan(&ends(&cuts), &ends(&fills), |i, j| costs[i][j]).unwrap();
        near(plan.total, size * least, 1e-8);
        let rest: f64 = plan.left_over.iter().chain(&plan.missing).sum();
        near(rest, size * short as f64, 1e-8);
        for (index, &cut) in cuts.iter().enumerate() {
            let gone: f64 = plan.flows.iter().filter(|flow| flow.from == index).map(|flow| flow.volume).sum();
            prop_assert!((gone + plan.left_over[index] - size * cut as f64).abs() < 1e-7 * size, "{plan:?}");
        }
        for (index, &fill) in fills.iter().enumerate() {
            let come: f64 = plan.flows.iter().filter(|flow| flow.to == index).map(|flow| flow.volume).sum();
            prop_assert!((come + plan.missing[index] - size * fill as f64).abs() < 1e-7 * size, "{plan:?}");
        }
    }

    /// Along a line, where all cut makes all fill, the least haul is the area under the running sum.
    #[test]
    fn along_a_line_it_is_the_mass_haul(volumes in prop::collection::vec((0.0..50.0f64, 0.0..50.0f64), 2..8), step in 5.0..40.0f64) {
        let mut stretches: Vec<(f64, f64)> = volumes;
        let net: f64 = stretches.iter().map(|(cut, fill)| cut - fill).sum();
        stretches.push((f64::max(-net, 0.0), f64::max(net, 0.0)));
        // The mass haul works with the middle of each stretch alike: cut and fill of one stretch meet first.
        let middle = |index: usize| (index as f64 + 0.5) * step;
        let cuts: Vec<HaulEnd> = stretches.iter().map(|&(cut, fill)| all((cut - fill).max(0.0))).collect();
        let fills: Vec<HaulEnd> = stretches.iter().map(|&(cut, fill)| all((fill - cut).max(0.0))).collect();
        let plan = haul_plan(&cuts, &fills, |i, j| (middle(i) - middle(j)).abs()).unwrap();
        let mut running = 0.0;
        let mut least = 0.0;
        for (cut, fill) in &stretches {
            running += cut - fill;
            least += f64::abs(running) * step;
        }
        near(plan.total, least, 1e-8);
        let along: Vec<HaulStretch> = stretches.iter().enumerate().map(|(index, &(cut, fill))| HaulStretch {
            between: [index as f64 * step, (index + 1) as f64 * step],
            cut,
            fill,
        }).collect();
        // The curve of the mass haul runs straight within stretches: it is the same but for what is carried within one.
        let carried: f64 = mass_haul(&along, 0.0, None).unwrap().loops.iter().map(|own| own.moment).sum();
        let within: f64 = stretches.iter().map(|(cut, fill)| (cut - fill).abs() * step / 2.0).sum();
        prop_assert!((carried - plan.total).abs() <= within + 1e-6, "{carried} {} {within}", plan.total);
    }
}

/// A borrow pit near the fill and a tip near the cut are used where carrying all the way costs more.
#[test]
fn borrow_and_tip_are_weighed_against_the_haul() {
    let cut = [all(100.0), up_to(f64::INFINITY)];
    let fill = [all(80.0), up_to(f64::INFINITY)];
    // From the cut to the fill, from the cut to the tip; from the borrow pit to the fill; never from borrow to tip.
    let plan = |far: f64| {
        let costs = [[far, 30.0], [60.0, 1e6]];
        haul_plan(&cut, &fill, |i, j| costs[i][j]).unwrap()
    };
    near(plan(50.0).total, 80.0 * 50.0 + 20.0 * 30.0, 1e-9);
    near(plan(100.0).total, 100.0 * 30.0 + 80.0 * 60.0, 1e-9);
    let limited = haul_plan(&[all(100.0)], &[all(20.0), up_to(30.0)], |_, j| {
        [5.0, 1.0][j]
    })
    .unwrap();
    near(limited.left_over[0], 50.0, 1e-9);
    near(limited.total, 20.0 * 5.0 + 30.0, 1e-9);
}

#[test]
fn what_cannot_be_planned_is_said() {
    let no_figure = |from: f64, cost: f64| {
        let plan = haul_plan(&[all(from)], &[all(1.0)], |_, _| cost);
        assert_eq!(plan, Err(HaulPlanError::NoFigure));
    };
    no_figure(f64::NAN, 1.0);
    no_figure(-1.0, 1.0);
    no_figure(f64::INFINITY, 1.0);
    no_figure(1.0, f64::NAN);
    no_figure(1.0, -1.0);
    no_figure(1.0, f64::INFINITY);
    let many = vec![all(1.0); 300];
    assert!(matches!(
        haul_plan(&many, &many, |_, _| 1.0),
        Err(HaulPlanError::TooMany { sources: 300, .. })
    ));
    let nothing = haul_plan(&[], &[all(5.0)], |_, _| 1.0).unwrap();
    near(nothing.missing[0], 5.0, 1e-12);
    assert_eq!(
        haul_plan(&[all(0.0)], &[up_to(5.0)], |_, _| 1.0)
            .unwrap()
            .flows,
        []
    );
}

/// Hundreds of ends on both sides.
#[test]
fn a_large_plan_is_solved() {
    let ends = |step: usize| {
        (0..150)
            .map(|i| all(1.0 + ((i * step) % 17) as f64))
            .collect::<Vec<_>>()
    };
    let (cuts, fills) = (ends(5), ends(7));
    let at =
        |i: usize, step: usize| Place::new(((i * step) % 101) as f64, ((i * step * 3) % 89) as f64);
    let plan = haul_plan(&cuts, &fills, |i, j| {
        let (a, b) = (at(i, 13), at(j, 29));
        (a.east - b.east).hypot(a.north - b.north)
    })
    .unwrap();
    // A basis has no more flows than there are ends on both sides.
    assert!(plan.flows.len() < 300, "{}", plan.flows.len());
}

/// A pyramid: its middle is over that of its base; a wedge: a third from its thick end.
#[test]
fn middles_of_bodies_are_where_they_balance() {
    let level = Surface::Level(Level::new(frame(), 0.0));
    let pyramid = solid(
        &[
            (0.0, 0.0, 0.0),
            (12.0, 0.0, 0.0),
            (12.0, 6.0, 0.0),
            (0.0, 6.0, 0.0),
            (3.0, 2.0, 6.0),
        ],
        &[[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]],
    );
    let found = bodies(&level, &pyramid, None).unwrap()[0];
    near(found.fill.volume, 144.0, 1e-12);
    // A quarter of the way from the middle of the base to the place under the top.
    let middle = found.fill.middle.unwrap();
    near(middle.east - ORIGIN[0], 6.0 - 0.75, 1e-9);
    near(middle.north - ORIGIN[1], 3.0 - 0.25, 1e-9);
    assert_eq!((found.cut.volume, found.cut.middle), (0.0, None));
    // Half in cut and half in fill, and the sides swapped.
    let tilted = solid(
        &[
            (0.0, 0.0, -2.0),
            (6.0, 0.0, 2.0),
            (6.0, 9.0, 2.0),
            (0.0, 9.0, -2.0),
        ],
        &[[0, 1, 2], [0, 2, 3]],
    );
    let [there, back] = [
        bodies(&level, &tilted, None).unwrap()[0],
        bodies(&tilted, &level, None).unwrap()[0],
    ];
    assert_eq!(there.cut, back.fill);
    near(there.cut.middle.unwrap().east - ORIGIN[0], 1.0, 1e-9);
    near(there.fill.middle.unwrap().east - ORIGIN[0], 5.0, 1e-9);
    near(there.fill.middle.unwrap().north - ORIGIN[1], 4.5, 1e-9);
}

proptest! {
    /// Volumes are those of the measurement, and parts balance as the whole does.
    #[test]
    fn middles_of_parts_make_the_middle_of_the_whole(heights in prop::collection::vec(-3.0..3.0f64, 6), share in 0.1..0.9f64) {
        let corners = [(0.0, 0.0), (10.0, 0.0), (20.0, 0.0), (0.0, 10.0), (10.0, 10.0), (20.0, 10.0)];
        let corners: Vec<_> = corners.iter().zip(&heights).map(|(&(e, n), &h)| (e, n, h)).collect();
        let ground = solid(&corners, &[[0, 1, 4], [0, 4, 3], [1, 2, 5], [1, 5, 4]]);
        let level = Surface::Level(Level::new(frame(), 0.0));
        let whole = bodies(&level, &ground, None).unwrap()[0];
        let measured = measure(&level, &ground).volume;
        near(whole.cut.volume, measured.cut, 1e-9);
        near(whole.fill.volume, measured.fill, 1e-9);
        let at = 20.0 * share;
        let halves = zones(vec![
            vec![ring(&[(0.0, 0.0), (at, 0.0), (at, 10.0), (0.0, 10.0)])],
            vec![ring(&[(at, 0.0), (20.0, 0.0), (20.0, 10.0), (at, 10.0)])],
        ]);
        let parts = bodies(&level, &ground, Some(&halves)).unwrap();
        let moment = |of: &[dapedon_core::quantities::Body]| -> f64 {
            of.iter().map(|body| body.volume * body.middle.map_or(0.0, |at| at.east - ORIGIN[0])).sum()
        };
        near(moment(&[parts[0].fill, parts[1].fill]), moment(&[whole.fill]), 1e-8);
        near(moment(&[parts[0].cut, parts[1].cut]), moment(&[whole.cut]), 1e-8);
    }
}
