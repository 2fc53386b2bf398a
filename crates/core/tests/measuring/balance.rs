//! The shift at which cut and fill meet.

use crate::shapes::{frame, measure, near, ring, sheet, solid, zones};
use dapedon_core::quantities::{Search, Tolerance, balance, volume};
use dapedon_core::surface::{Level, Surface};
use proptest::prelude::*;

fn search(yielded: f64, range: [f64; 2]) -> Search {
    Search {
        yielded,
        range,
        amount: 0.0,
    }
}

/// A hillside that rises by 1 over a square of 10; a level yard cut into it.
fn hillside() -> Surface {
    let corners = [
        (0.0, 0.0, 0.0),
        (10.0, 0.0, 1.0),
        (10.0, 10.0, 1.0),
        (0.0, 10.0, 0.0),
    ];
    solid(&corners, &[[0, 1, 2], [0, 2, 3]])
}

/// At height h the cut is 50 (1 - h)², the fill 50 h².
#[test]
fn a_yard_in_a_hillside() {
    let yard = Surface::Level(Level::new(frame(), 0.0));
    let found = balance(
        &hillside(),
        &yard,
        None,
        None,
        &search(0.81, [-1.0, 2.0]),
        None,
    )
    .unwrap();
    assert!(found.meets);
    // 0.9 (1 - h) = h.
    near(found.best.shift, 0.9 / 1.9, 1e-9);
    near(found.best.cut, 50.0 * (1.0 / 1.9f64).powi(2), 1e-9);
    for tried in &found.tried {
        let h = tried.shift.clamp(0.0, 1.0);
        near(
            tried.cut,
            50.0 * (1.0 - h).powi(2) + 100.0 * (h - tried.shift).max(0.0),
            1e-9,
        );
        near(
            tried.fill,
            50.0 * h * h + 100.0 * (tried.shift - h).max(0.0),
            1e-9,
        );
    }
    // The roundest height within an amount: 0.5 leaves 50 (0.81 / 4 - 1 / 4).
    let search_within = Search {
        amount: 2.5,
        ..search(0.81, [-1.0, 2.0])
    };
    let rough = balance(&hillside(), &yard, None, None, &search_within, None).unwrap();
    near(rough.best.shift, 0.5, 1e-12);
    near(rough.best.surplus(0.81), -50.0 * 0.19 / 4.0, 1e-9);
    // A range in which they do not meet: the best is at its end.
    let low = balance(
        &hillside(),
        &yard,
        None,
        None,
        &search(1.0, [-1.0, 0.2]),
        None,
    )
    .unwrap();
    assert_eq!((low.meets, low.best.shift), (false, 0.2));
    let high = balance(
        &hillside(),
        &yard,
        None,
        None,
        &search(1.0, [0.7, 2.0]),
        None,
    )
    .unwrap();
    assert_eq!((high.meets, high.best.shift), (false, 0.7));
}

/// Only half of the yard moves, the other half stays 0.5 below: its cut is fixed.
#[test]
fn a_part_that_moves() {
    let yard = Surface::Level(Level::new(frame(), 0.0));
    let half = zones(vec![vec![ring(&[
        (0.0, 0.0),
        (10.0, 0.0),
        (10.0, 5.0),
        (0.0, 5.0),
    ])]]);
    let found = balance(
        &hillside(),
        &yard,
        None,
        Some(&half),
        &search(1.0, [0.0, 4.0]),
        None,
    )
    .unwrap();
    // Fixed 25; moving: cut less fill is 50 (0.5 - h).
    near(found.best.shift, 1.0, 1e-9);
    near(found.best.fill, 25.0, 1e-9);
    let within = balance(
        &hillside(),
        &yard,
        Some(&half),
        None,
        &search(1.0, [0.0, 4.0]),
        None,
    )
    .unwrap();
    near(within.best.shift, 0.5, 1e-9);
    near(within.best.cut, 25.0 / 4.0, 1e-9);
    let none = balance(
        &hillside(),
        &yard,
        Some(&half),
        Some(&half),
        &search(1.0, [0.0, 4.0]),
        None,
    )
    .unwrap();
    near(none.best.shift, 0.5, 1e-9);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Each figure is that of measuring the shifted design, and at the shift that is found they meet.
    #[test]
    fn shifts_are_measured_as_shifted(seed in 0usize..90, yielded in 0.6..1.2f64, by in -0.8..0.8f64) {
        let ground = sheet(30.0, 20.0, 150, seed, |e, n| (e / 4.0).sin() + (n / 3.0).cos());
        let design = sheet(30.0, 20.0, 40, seed + 7, |e, n| 0.02 * e - 0.01 * n).raised(by);
        let found = balance(&ground, &design, None, None, &search(yielded, [-3.0, 3.0]), None).unwrap();
        prop_assert!(found.meets && found.best.surplus(yielded).abs() < 1e-9);
        let (first, last) = (found.tried[0], found.tried[found.tried.len() / 3]);
        for shifted in [found.best, first, last] {
            let measured = measure(&ground, &design.raised(shifted.shift));
            prop_assert!((measured.volume.cut - shifted.cut).abs() < 1e-8);
            prop_assert!((measured.volume.fill - shifted.fill).abs() < 1e-8);
        }
        let site = zones(vec![vec![ring(&[(3.0, 3.0), (20.0, 4.0), (18.0, 17.0)])]]);
        let found = balance(&ground, &design, Some(&site), None, &search(yielded, [-3.0, 3.0]), None).unwrap();
        let raised = design.raised(found.best.shift);
        let measured = volume(&ground, &raised, Some(&site), Tolerance::ZERO).unwrap()[0];
        prop_assert!((measured.volume.cut - found.best.cut).abs() < 1e-8);
        prop_assert!(found.best.surplus(yielded).abs() < 1e-9);
    }
}
