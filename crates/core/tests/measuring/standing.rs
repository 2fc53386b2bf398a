//! Piles found without an outline: their toes against those they were made with, and what is none.

use crate::shapes::{ORIGIN, frame, vertex};
use dapedon_core::plan::Place;
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{
    Base, FoundPile, PileRules, SideOfLevel, Toe, Tolerance, standing, volume,
};
use dapedon_core::surface::{Surface, Tin};
use dapedon_core::zones::{Zone, Zones};
use proptest::prelude::*;

/// A field of 60 by 40, a point to each cell of a side, shifted about in it, on ground that falls 1 in 20.
fn field(side: f64, rise: impl Fn(f64, f64) -> f64) -> Tin {
    let (columns, rows) = ((60.0 / side) as usize, (40.0 / side) as usize);
    let shift = |index: usize, factor: f64| (index as f64 * factor).fract() * 0.8 + 0.1;
    let points = (0..columns * rows).map(|index| {
        let e = side * ((index % columns) as f64 + shift(index, 0.754_877_666));
        let n = side * ((index / columns) as f64 + shift(index, 0.569_840_291));
        let noise = 0.02 * (shift(index, 0.324_717_957) - 0.5);
        vertex(e, n, 12.0 + 0.05 * e + rise(e, n) + noise)
    });
    let pick_up = PickUp::from(points.collect::<Vec<_>>());
    triangulate(frame(), &pick_up, &Rules::default())
        .unwrap()
        .tin
}

/// A cone about a middle, at its foot of a radius, 1 in 1.5 steep, cut off at a height.
fn cone(middle: (f64, f64), radius: f64, most: f64) -> impl Fn(f64, f64) -> f64 {
    move |e, n| {
        let out = (e - middle.0).hypot(n - middle.1);
        ((radius - out) / 1.5).clamp(0.0, most)
    }
}

const SOUGHT: PileRules = PileRules {
    by: 1.0,
    area: 10.0,
    ground_slope: 0.2,
};

fn local(ring: &[Place]) -> impl Iterator<Item = (f64, f64)> + '_ {
    ring.iter()
        .map(|at| (at.east - ORIGIN[0], at.north - ORIGIN[1]))
}

/// How far the corners of a ring lie from a circle at most.
fn off_circle(ring: &[Place], middle: (f64, f64), radius: f64) -> f64 {
    let off = local(ring).map(|(e, n)| ((e - middle.0).hypot(n - middle.1) - radius).abs());
    off.fold(0.0, f64::max)
}

/// A zone can be made of what was found.
fn area(found: &FoundPile) -> f64 {
    Zone::new("found", frame(), vec![found.rings.clone()])
        .unwrap()
        .area()
}

#[test]
fn piles_are_found_to_a_point_spacing() {
    // On a slope, with noise of a centimetre: a small cone, one too low to count, one too small, and a broad one whose
    // flat top reaches so far that the ground might rise to it.
    let piles = [
        cone((12.0, 12.0), 6.0, 9.0),
        cone((12.0, 32.0), 1.2, 9.0),
        cone((24.0, 33.0), 4.0, 0.6),
        cone((42.0, 20.0), 15.0, 2.0),
    ];
    let side = 0.5;
    let tin = field(side, |e, n| piles.iter().map(|pile| pile(e, n)).sum());
    let found = standing(&tin, SideOfLevel::Above, &SOUGHT);
    assert_eq!(found.len(), 2);
    for (found, (middle, radius, height)) in found
        .iter()
        .zip([((12.0, 12.0), 6.0, 4.0), ((42.0, 20.0), 15.0, 2.0)])
    {
        assert_eq!((found.rings.len(), found.at_end), (1, false));
        let off = off_circle(&found.rings[0], middle, radius);
        // A point and a half outside the toe.
        assert!(off < 2.0 * side, "{off}");
        // All around it.
        assert!((area(found) - found.area).abs() < 1e-6);
        let round = std::f64::consts::PI * radius * radius;
        assert!(
            (found.area / round - 1.0).abs() < 4.0 * side / radius,
            "{}",
            found.area
        );
        // Noise, and half a cell off the top; of the broad one the plane through the toe slopes below it.
        assert!((found.clear - height).abs() < 0.3, "{}", found.clear);
    }
}

/// A bund of a ring around a pond whose floor is the ground about it: its outline has a hole.
#[test]
fn a_bund_around_a_pond_is_no_pile_with_a_flat_top() {
    let bund = |e: f64, n: f64| {
        let off = ((e - 30.0).hypot(n - 20.0) - 12.0).abs();
        ((3.5 - off) / 1.5).clamp(0.0, 1.6)
    };
    let found = standing(&field(0.5, bund), SideOfLevel::Above, &SOUGHT);
    assert_eq!(found.len(), 1);
    let rings = &found[0].rings;
    assert_eq!(rings.len(), 2);
    assert!(off_circle(&rings[0], (30.0, 20.0), 15.5) < 1.0);
    assert!(off_circle(&rings[1], (30.0, 20.0), 8.5) < 1.0);
}

#[test]
fn ground_alone_has_no_piles() {
    assert!(standing(&field(1.0, |_, _| 0.0), SideOfLevel::Above, &SOUGHT).is_empty());
    // Waves as steep as ground may be.
    let waves = |e: f64, n: f64| (e / 8.0).sin() + (n / 9.0).cos();
    assert!(standing(&field(1.0, waves), SideOfLevel::Above, &SOUGHT).is_empty());
}

#[test]
fn what_goes_on_beyond_the_surface_is_marked() {
    let found = standing(
        &field(0.5, cone((58.0, 20.0), 6.0, 9.0)),
        SideOfLevel::Above,
        &SOUGHT,
    );
    assert!(found.len() == 1 && found[0].at_end);
}

/// Pits are piles upside down.
#[test]
fn pits_are_found_as_piles_are() {
    let pile = cone((20.0, 20.0), 7.0, 9.0);
    let pit = field(0.5, |e, n| -0.1 * e - pile(e, n));
    let found = standing(&pit, SideOfLevel::Below, &SOUGHT);
    assert_eq!(found.len(), 1);
    assert!(off_circle(&found[0].rings[0], (20.0, 20.0), 7.0) < 1.0);
    assert!(standing(&pit, SideOfLevel::Above, &SOUGHT).is_empty());
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(128))]

    /// Whatever the ground: what is found makes a zone of the area that is reported, as large and as high as was asked,
    /// and is apart from the others; and the same is found elsewhere.
    #[test]
    fn what_is_found_is_a_zone(
        heights in prop::collection::vec(0i32..24, 144),
        least in 1i32..40,
        slope in 1i32..8,
    ) {
        let tin = |shift: f64| {
            let points = heights.iter().enumerate().map(|(index, height)| {
                let (e, n) = ((index % 12) as f64, (index / 12) as f64);
                // A quarter of all corners stands on the ground, so that some of it is left.
                let height = f64::from(*height).max(6.0) / 8.0;
                vertex(shift + e + 0.25 * (index % 3) as f64, shift + n, height)
            });
            let pick_up = PickUp::from(points.collect::<Vec<_>>());
            triangulate(frame(), &pick_up, &Rules::default()).unwrap().tin
        };
        let clear = PileRules {
            by: 0.75,
            area: f64::from(least) / 4.0,
            ground_slope: f64::from(slope) / 10.0,
        };
        let found = standing(&tin(0.0), SideOfLevel::Above, &clear);
        for one in &found {
            let held = area(one);
            prop_assert!((held - one.area).abs() < 1e-6 * held, "{held} {}", one.area);
            prop_assert!(one.clear >= clear.by);
        }
        let elsewhere = standing(&tin(64.0), SideOfLevel::Above, &clear);
        prop_assert_eq!(found.len(), elsewhere.len());
        for (one, other) in found.iter().zip(&elsewhere) {
            prop_assert!((one.area - other.area).abs() < 1e-6 && (one.clear - other.clear).abs() < 1e-9);
        }
    }
}

/// A field as above with noise of a standard deviation, as a share of the spacing of its points.
fn noisy(side: f64, share: f64, seed: u64, rise: impl Fn(f64, f64) -> f64) -> Tin {
    let mut state = seed.wrapping_mul(0x9e37_79b9_7f4a_7c15) | 1;
    let mut uniform = move || {
        // The generator of Marsaglia (Journal of Statistical Software 8, 2003), 64 bits.
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        (state >> 11) as f64 / (1u64 << 53) as f64
    };
    let (columns, rows) = ((60.0 / side) as usize, (40.0 / side) as usize);
    let points = (0..columns * rows).map(|index| {
        let e = side * ((index % columns) as f64 + 0.1 + 0.8 * uniform());
        let n = side * ((index / columns) as f64 + 0.1 + 0.8 * uniform());
        // The sum of twelve is close to normal, of variance one.
        let normal = (0..12).map(|_| uniform()).sum::<f64>() - 6.0;
        vertex(e, n, 12.0 + 0.05 * e + rise(e, n) + share * side * normal)
    });
    let pick_up = PickUp::from(points.collect::<Vec<_>>());
    triangulate(frame(), &pick_up, &Rules::default())
        .unwrap()
        .tin
}

/// What stands above the base through the toe of an outline, and what lies below it.
fn held(tin: &Tin, rings: &[Vec<Place>]) -> [f64; 2] {
    let zone = Zone::new("found", frame(), vec![rings.to_vec()]).unwrap();
    let surface = Surface::Tin(tin.clone());
    let toe = Toe::of(&surface, &zone).unwrap();
    let base = Surface::Tin(toe.base(Base::Toe).unwrap());
    let zones = Zones::new(frame(), vec![zone]);
    let found = volume(&base, &surface, Some(&zones), Tolerance::ZERO).unwrap()[0];
    [found.volume.fill, found.volume.cut]
}

/// Piles are found up to noise of a quarter of the spacing of the points, each time, and hold what they were made to hold:
/// over many surveys within one percent, each single one within what noise of the ground along the toe makes of it. (Noise
/// in the margin counts where it stands above the base, which depth slices the volume by a part of a percent.)
#[test]
fn noisy_piles_are_found_without_bias() {
    let pile =
        |e: f64, n: f64| cone((16.0, 20.0), 12.0, 99.0)(e, n) + cone((45.0, 20.0), 9.0, 3.0)(e, n);
    let pi = std::f64::consts::PI;
    let made = [pi * 144.0 * 8.0 / 3.0, pi * (81.0 + 9.0 * 4.5 + 4.5 * 4.5)];
    for (share, most) in [
        (0.0, 0.002),
        (0.05, 0.005),
        (0.1, 0.01),
        (0.175, 0.01),
        (0.25, 0.01),
    ] {
        let surveys = if share == 0.0 { 2 } else { 8 };
        let mut off = Vec::new();
        for seed in 1..=surveys {
            let tin = noisy(0.5, share, seed, pile);
            let found = standing(&tin, SideOfLevel::Above, &SOUGHT);
            assert_eq!(found.len(), 2, "{share} {seed}");
            for (one, made) in found.iter().zip(made) {
                let [above, below] = held(&tin, &one.rings);
                off.push(((above - below) / made - 1.0, above / made - 1.0));
                assert!(
                    (above / made - 1.0).abs() < 0.01 + 0.3 * share,
                    "{share} {seed}: {above} {made}"
                );
            }
        }
        let count = off.len() as f64;
        let net = off.iter().map(|(net, _)| net).sum::<f64>() / count;
        let above = off.iter().map(|(_, above)| above).sum::<f64>() / count;
        assert!(
            net.abs() <= most && above.abs() <= most + 0.005,
            "{share}: {net} {above}"
        );
    }
}
