//! Conformity against closed forms, against volumes between moved surfaces, and against many draws.

use super::*;
use crate::plan::{Frame, Place};
use crate::quantities::chance::Chance;
use crate::quantities::{SideOfLevel, volume};
use crate::surface::{Grid, Level, Surface, Tin, Vertex};
use crate::units::LengthUnit;
use crate::zones::{Zone, Zones};
use proptest::prelude::*;

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
}

/// Heights at nodes two metres apart.
fn grid(columns: usize, rows: usize, height: impl FnMut((f64, f64)) -> f64) -> Surface {
    let places = (0..columns * rows).map(|node| {
        let (column, row) = (node % columns, node / columns);
        (2.0 * column as f64, 2.0 * row as f64)
    });
    let heights: Vec<f64> = places.map(height).collect();
    let corner = Place::new(500_000.0, 6_000_000.0);
    Surface::Grid(Grid::new(frame(), corner, [2.0; 2], [columns, rows], heights).unwrap())
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

/// Ground in waves of about so many millimetres.
fn waves(by: f64, turn: f64) -> Surface {
    grid(13, 11, |place| wave(by, turn, place))
}

fn wave(by: f64, turn: f64, (e, n): (f64, f64)) -> f64 {
    by * (libm::sin(0.7 * e + turn) + libm::cos(0.5 * n - turn) + 0.3 * libm::sin(e * n / 9.0))
}

fn limits(lowest: f64, highest: f64) -> HeightLimits {
    HeightLimits::new(Some(lowest), Some(highest)).unwrap()
}

fn sure(height: f64) -> PlaceUncertainty {
    PlaceUncertainty {
        height,
        plan: [0.0; 2],
    }
}

fn judged(
    design: &Surface,
    built: &Surface,
    limits: &HeightLimits,
    uncertainty: &PlaceUncertainty,
) -> Conformity {
    let overlay = Overlay::new(design, built, None).unwrap();
    conformity(&overlay, limits, uncertainty).unwrap()[0]
}

fn patches(design: &Surface, built: &Surface, limits: &HeightLimits) -> Vec<PatchBeyond> {
    let overlay = Overlay::new(design, built, None).unwrap();
    patches_beyond(&overlay, limits, 1_000_000)
        .unwrap()
        .unwrap()
}

fn compared(found: &Conformity) -> f64 {
    found.measured.area.compared
}

/// The lowest and the highest difference.
fn extremes(found: &Conformity) -> [f64; 2] {
    let own = found.measured.difference.unwrap();
    [own.min.difference, own.max.difference]
}

fn close(found: f64, expected: f64, scale: f64) -> bool {
    (found - expected).abs() <= 1e-11 * scale
}

#[test]
fn limits_are_in_order_and_finite() {
    assert!(HeightLimits::new(None, None).is_none());
    assert!(HeightLimits::new(Some(0.02), Some(0.01)).is_none());
    assert!(HeightLimits::new(Some(f64::NAN), None).is_none());
    assert!(HeightLimits::new(None, Some(f64::INFINITY)).is_none());
    let clear = HeightLimits::new(None, Some(-0.1)).unwrap();
    assert_eq!((clear.lowest(), clear.highest()), (None, Some(-0.1)));
    assert!(SlopeLimits::new(None, None).is_none());
    assert!(SlopeLimits::new(Some(0.5), Some(0.4)).is_none());
    assert!(SlopeLimits::new(Some(-0.5), None).is_none());
}

#[test]
fn of_a_pyramid_the_top_is_above() {
    // A base of 12 by 12, 60 mm high: above 20 mm a pyramid of 8 by 8, 40 mm high.
    let corners = [
        (0.0, 0.0, 0.0),
        (12.0, 0.0, 0.0),
        (12.0, 12.0, 0.0),
        (0.0, 12.0, 0.0),
        (6.0, 6.0, 0.06),
    ];
    let corners = corners.map(|(e, n, h)| Vertex::new(500_000.0 + e, 6_000_000.0 + n, h));
    let facets = vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]];
    let built = Surface::Tin(Tin::from_facets(frame(), corners.to_vec(), facets).unwrap());
    let found = judged(&level(0.0), &built, &limits(-0.02, 0.02), &sure(0.01));
    assert!((compared(&found) - 144.0).abs() < 1e-9);
    assert!((found.above.area - 64.0).abs() < 1e-9 && found.below.area == 0.0);
    assert!((found.above.volume - 64.0 * 0.04 / 3.0).abs() < 1e-9);
    // Beyond 30 mm it is 6 by 6, and within 10 mm all but 10 by 10.
    assert!((found.above.proven - 36.0).abs() < 1e-9);
    assert!((found.proven - 44.0).abs() < 1e-9);
    assert!((extremes(&found)[1] - 0.06).abs() < 1e-12);
    let worst = patches(&level(0.0), &built, &limits(-0.02, 0.02));
    let [top] = &worst[..] else {
        panic!("{worst:?}")
    };
    assert_eq!(top.side, SideOfLevel::Above);
    assert!((top.area - 64.0).abs() < 1e-9 && (top.volume - 64.0 * 0.04 / 3.0).abs() < 1e-9);
    assert!((top.greatest - 0.04).abs() < 1e-12);
    let at = frame().to_grid(top.at);
    assert_eq!((at.east, at.north), (500_006.0, 6_000_006.0));
}

#[test]
fn ground_on_a_limit_is_within() {
    for built in [0.02, -0.03] {
        let found = judged(
            &grid(5, 5, |_| 7.0),
            &grid(5, 5, |_| 7.0 + built),
            &limits(-0.03, 0.02),
            &PlaceUncertainty::NONE,
        );
        assert_eq!((found.above.area, found.below.area), (0.0, 0.0));
        assert!(close(found.proven, 64.0, 64.0));
    }
    let beyond = judged(
        &level(7.0),
        &grid(5, 5, |_| 7.021),
        &limits(-0.03, 0.02),
        &PlaceUncertainty::NONE,
    );
    assert!(close(beyond.above.area, 64.0, 64.0) && beyond.proven == 0.0);
    assert!((beyond.above.volume - 0.064).abs() < 1e-9);
}

#[test]
fn a_tolerance_within_the_uncertainty_proves_nothing() {
    let found = judged(
        &level(0.0),
        &waves(0.01, 0.0),
        &limits(-0.02, 0.02),
        &sure(0.03),
    );
    assert_eq!((found.proven, found.refuted()), (0.0, 0.0));
    assert!(found.within() > 0.0);
}

#[test]
fn places_count_where_the_ground_slopes() {
    // 1 in 2, with 40 mm in plan and 15 mm in height: 25 mm, as 3, 4 and 5 go.
    let slope = grid(5, 5, |(e, _)| e / 2.0);
    let uncertain = PlaceUncertainty {
        height: 0.015,
        plan: [0.0, 0.04],
    };
    let found = judged(&slope, &slope, &limits(-0.02, 0.02), &uncertain);
    assert!(
        found
            .uncertainty
            .unwrap()
            .iter()
            .all(|own| (own - 0.025).abs() < 1e-12)
    );
    let flat = judged(
        &level(1.0),
        &grid(5, 5, |_| 1.0),
        &limits(-0.02, 0.02),
        &uncertain,
    );
    assert_eq!(flat.uncertainty, Some([0.015; 2]));
}

#[test]
fn heaps_apart_are_patches_apart_and_touching_ones_are_one() {
    let heaps = |at: [(f64, f64); 2]| {
        grid(13, 11, move |place| {
            match at.iter().position(|&own| own == place) {
                Some(0) => 0.5,
                Some(_) => 0.3,
                None => 0.0,
            }
        })
    };
    let apart = patches(
        &level(0.0),
        &heaps([(4.0, 4.0), (16.0, 12.0)]),
        &limits(-0.1, 0.1),
    );
    let greatest: Vec<f64> = apart.iter().map(|patch| patch.greatest).collect();
    assert_eq!(greatest.len(), 2);
    assert!((greatest[0] - 0.4).abs() < 1e-12 && (greatest[1] - 0.2).abs() < 1e-12);
    let next = patches(
        &level(0.0),
        &heaps([(4.0, 4.0), (6.0, 4.0)]),
        &limits(-0.1, 0.1),
    );
    assert_eq!(next.len(), 1);
}

#[test]
fn too_many_pieces_are_said_and_not_kept() {
    let (from, to) = (level(0.0), waves(0.1, 0.3));
    let overlay = Overlay::new(&from, &to, None).unwrap();
    assert!(
        patches_beyond(&overlay, &limits(-0.01, 0.01), 3)
            .unwrap()
            .is_none()
    );
}

#[test]
fn a_plane_is_as_steep_as_it_is() {
    let batter = grid(6, 4, |(e, n)| 0.3 * e + 0.4 * n);
    let from = level(0.0);
    let overlay = Overlay::new(&from, &batter, None).unwrap();
    let found = |flattest, steepest, heights| {
        let limits = SlopeLimits::new(flattest, steepest).unwrap();
        slope_conformity(&overlay, &batter, &limits, heights).unwrap()[0].unwrap()
    };
    let on_limit = found(None, Some(0.5), 0.0);
    assert!(close(on_limit.proven, 60.0, 60.0) && on_limit.steeper == SlopeBeyond::default());
    assert!(
        on_limit
            .extremes
            .iter()
            .all(|own| (own.slope - 0.5).abs() < 1e-9)
    );
    assert!(close(found(None, Some(0.49), 0.0).steeper.area, 60.0, 60.0));
    assert!(close(found(Some(0.51), None, 0.0).flatter.area, 60.0, 60.0));
    // Of a right triangle with legs of two metres the shares of the corners rise by a half a metre along one leg, along the other, and
    // along both with opposite signs: along the slope, which goes by 0.6 and 0.8, by 0.3, 0.4 and 0.1.
    let guard = 0.01 * (0.09f64 + 0.16 + 0.01).sqrt();
    for (steepest, proven) in [(0.5 + 0.99 * guard, 0.0), (0.5 + 1.01 * guard, 60.0)] {
        assert!(
            close(found(None, Some(steepest), 0.01).proven, proven, 60.0),
            "{steepest}"
        );
    }
    for (steepest, proven) in [(0.5 - 0.99 * guard, 0.0), (0.5 - 1.01 * guard, 60.0)] {
        let steeper = found(None, Some(steepest), 0.01).steeper;
        assert!(close(steeper.proven, proven, 60.0) && close(steeper.area, 60.0, 60.0));
    }
}

#[test]
fn what_is_shown_to_conform_does_in_nearly_all_draws() {
    // True ground that rises from 60 mm below the design to 60 mm above it, with limits of 20 mm, measured with 8 mm at each point.
    let truth = |e: f64| -0.06 + 0.12 * e / 24.0;
    let band = sure(2.0 * 0.008);
    let mut chance = Chance(20_310_401);
    let (mut shown, mut wrongly, mut refuted, mut wrongly_refuted) = (0.0, 0.0, 0.0, 0.0);
    for _ in 0..60 {
        let built = grid(13, 11, |(e, _)| truth(e) + 0.008 * chance.normal());
        // True limits are where the ground rises through them: 8 m and 16 m to the east.
        let strip = |from: f64, to: f64| {
            let corners = [
                (from, 0.0),
                (to, 0.0),
                (to, 20.0),
                (from, 20.0),
                (from, 0.0),
            ];
            let ring = corners.map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n));
            Zone::new(format!("{from}"), frame(), vec![vec![ring.to_vec()]]).unwrap()
        };
        let zones = Zones::new(
            frame(),
            vec![strip(0.0, 8.0), strip(8.0, 16.0), strip(16.0, 24.0)],
        );
        let design = level(0.0);
        let overlay = Overlay::new(&design, &built, Some(&zones)).unwrap();
        let found = conformity(&overlay, &limits(-0.02, 0.02), &band).unwrap();
        for (index, zone) in found.iter().enumerate() {
            shown += zone.proven;
            refuted += zone.refuted();
            match index {
                1 => wrongly_refuted += zone.refuted(),
                _ => wrongly += zone.proven,
            }
        }
    }
    // At a limit itself 2.3 in 100 are wrong by two standard uncertainties on one side; away from it fewer are.
    assert!(
        shown > 1000.0 && wrongly < 0.023 * shown,
        "{wrongly} of {shown}"
    );
    assert!(refuted > 1000.0 && wrongly_refuted < 0.023 * refuted);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// The volume beyond a limit is the fill over the design raised to it, and likewise below.
    #[test]
    fn beyond_is_what_volumes_between_raised_surfaces_are(
        by in 0.005f64..0.08, turn in 0.0f64..6.0, other in 0.0f64..6.0,
        lowest in -0.1f64..0.02, width in 0.0f64..0.1,
    ) {
        let design = waves(0.5, turn);
        let built = grid(13, 11, |place| wave(0.5, turn, place) + wave(by, other, place));
        let own = limits(lowest, lowest + width);
        let found = judged(&design, &built, &own, &PlaceUncertainty::NONE);
        let raised = |by: f64| {
            let from = design.raised(by);
            volume(&from, &built, None, Tolerance::ZERO).unwrap()[0]
        };
        let (above, below) = (raised(lowest + width), raised(lowest));
        let (area, room) = (compared(&found), compared(&found) * 0.2);
        prop_assert!(close(found.above.volume, above.volume.fill, room));
        prop_assert!(close(found.below.volume, below.volume.cut, room));
        prop_assert!((found.above.area - above.area.fill).abs() < 1e-7 * area);
        prop_assert!((found.below.area - below.area.cut).abs() < 1e-7 * area);
        prop_assert!(close(found.within() + found.above.area + found.below.area, area, area));
        prop_assert!((found.proven - found.within()).abs() < 1e-9 * area);

        // Patches are the same ground, one by one.
        let patches = patches(&design, &built, &own);
        for (side, beyond) in [(SideOfLevel::Above, found.above), (SideOfLevel::Below, found.below)] {
            let of_side = patches.iter().filter(|patch| patch.side == side);
            let [areas, volumes] = of_side.clone().fold([0.0; 2], |[areas, volumes], patch| {
                [areas + patch.area, volumes + patch.volume]
            });
            prop_assert!((areas - beyond.area).abs() < 1e-6 * area);
            prop_assert!((volumes - beyond.volume).abs() < 1e-8 * area);
            for patch in of_side.filter(|patch| patch.area > 1e-3) {
                let zone = Zone::new("patch", frame(), patch.parts.clone()).unwrap();
                prop_assert!((zone.area() - patch.area).abs() < 1e-6 * patch.area.max(1.0));
            }
        }
        if let Some(worst) = patches.first() {
            let [low, high] = extremes(&found);
            let most = (high - (lowest + width)).max(lowest - low);
            prop_assert!((worst.greatest - most).abs() < 1e-9);
        }
    }

    /// A guard band is the same as narrower limits for what conforms, and wider ones for what does not.
    #[test]
    fn a_guard_band_moves_the_limits(
        by in 0.01f64..0.08, turn in 0.0f64..6.0, lowest in -0.08f64..0.0,
        width in 0.0f64..0.1, guard in 0.001f64..0.06,
    ) {
        let (design, built) = (level(0.0), waves(by, turn));
        let found = judged(&design, &built, &limits(lowest, lowest + width), &sure(guard));
        let wider = judged(
            &design, &built,
            &limits(lowest - guard, lowest + width + guard),
            &PlaceUncertainty::NONE,
        );
        let room = 1e-9 * compared(&found);
        prop_assert!((found.above.proven - wider.above.area).abs() < room);
        prop_assert!((found.below.proven - wider.below.area).abs() < room);
        let inner = HeightLimits::new(Some(lowest + guard), Some(lowest + width - guard));
        let expected = inner.map_or(0.0, |inner| {
            judged(&design, &built, &inner, &PlaceUncertainty::NONE).within()
        });
        prop_assert!((found.proven - expected).abs() < room);
        prop_assert!(found.proven + found.refuted() <= compared(&found) + room);
    }

    /// Turned over, what was above is below; a shift of both sides changes nothing; halves add up.
    #[test]
    fn sides_shifts_and_zones(
        by in 0.01f64..0.08, turn in 0.0f64..6.0, lowest in -0.08f64..0.0,
        width in 0.0f64..0.1, guard in 0.0f64..0.02, shift in -500.0f64..500.0, split in 3.0f64..21.0,
    ) {
        let (design, built) = (level(0.0), waves(by, turn));
        let found = judged(&design, &built, &limits(lowest, lowest + width), &sure(guard));
        let room = 1e-9 * compared(&found);
        let turned = judged(&built, &design, &limits(-lowest - width, -lowest), &sure(guard));
        let same = |a: &Conformity, b: &Conformity| {
            (a.above.area - b.above.area).abs() < room
                && (a.above.volume - b.above.volume).abs() < room
                && (a.below.proven - b.below.proven).abs() < room
                && (a.proven - b.proven).abs() < room
        };
        let swapped = Conformity { above: turned.below, below: turned.above, ..turned };
        prop_assert!(same(&found, &swapped));
        let raised = judged(
            &level(shift), &built.raised(shift), &limits(lowest, lowest + width), &sure(guard),
        );
        prop_assert!((found.above.area - raised.above.area).abs() < 1e-6 * compared(&found));
        let strip = |from: f64, to: f64| {
            let corners = [(from, 0.0), (to, 0.0), (to, 20.0), (from, 20.0), (from, 0.0)];
            let ring = corners.map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n));
            Zone::new(format!("{from}"), frame(), vec![vec![ring.to_vec()]]).unwrap()
        };
        let zones = Zones::new(frame(), vec![strip(0.0, split), strip(split, 24.0)]);
        let overlay = Overlay::new(&design, &built, Some(&zones)).unwrap();
        let halves = conformity(&overlay, &limits(lowest, lowest + width), &sure(guard)).unwrap();
        let sum = |of: fn(&Conformity) -> f64| halves.iter().map(of).sum::<f64>();
        prop_assert!((sum(|own| own.above.area) - found.above.area).abs() < room);
        prop_assert!((sum(|own| own.below.volume) - found.below.volume).abs() < room);
        prop_assert!((sum(|own| own.proven) - found.proven).abs() < room);
    }
}
