//! Grids of places: how many there are, where they lie, and which are in a zone.

use crate::shapes::{ORIGIN, frame, ring, zones};
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::SpotGrid;
use dapedon_core::zones::WithinZone;
use proptest::prelude::*;

fn grid(spacing: [f64; 2], turned: f64) -> SpotGrid {
    SpotGrid {
        spacing,
        origin: Place::new(ORIGIN[0], ORIGIN[1]),
        turned,
    }
}

#[test]
fn places_on_the_edge_are_in() {
    let zones = zones(vec![vec![ring(&[
        (0.0, 0.0),
        (20.0, 0.0),
        (20.0, 10.0),
        (0.0, 10.0),
    ])]]);
    let within = WithinZone::of(&zones.zones()[0], frame().precision());
    let found = grid([5.0, 2.5], 0.0)
        .within(frame(), &[within], 1000)
        .unwrap();
    assert_eq!(found.len(), 5 * 5);
    // From the north-west, row by row.
    assert_eq!(found[0].0, Place::new(0.0, 10.0));
    assert_eq!(found[24].0, Place::new(20.0, 0.0));
    // A tenth is no double: the rows at 0.3 and 0.7 are on the edges all the same.
    let thin = self::zones_between(0.3, 0.7);
    let within = WithinZone::of(&thin.zones()[0], frame().precision());
    let found = grid([0.1, 0.1], 0.0)
        .within(frame(), &[within], 1000)
        .unwrap();
    assert_eq!(found.len(), 5 * 5);
}

fn zones_between(low: f64, high: f64) -> dapedon_core::zones::Zones {
    zones(vec![vec![ring(&[
        (low, low),
        (high, low),
        (high, high),
        (low, high),
    ])]])
}

#[test]
fn too_many_places_are_counted_not_made() {
    let extent = Extent::of([Place::new(0.0, 0.0), Place::new(1e5, 1e5)]);
    let refused = grid([0.1, 0.1], 0.3)
        .over(frame(), &extent, 1_000_000)
        .unwrap_err();
    // A square of 1e5 turned by 0.3 reaches over 1e5 times the sum of sine and cosine.
    let side = 1e5 * (0.3f64.sin() + 0.3f64.cos()) / 0.1;
    assert!(
        (refused.count / side.powi(2) - 1.0).abs() < 1e-4,
        "{refused:?}"
    );
    let would = grid([refused.spacing * 1.01; 2], 0.3).over(frame(), &extent, 1_000_000);
    assert!(would.is_ok());
    assert!(
        grid([f64::NAN, 1.0], 0.0)
            .over(frame(), &extent, 10)
            .is_err()
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// Turned as it may be, a grid has a place to each cell of its own over a large extent, and all of them stand on it.
    #[test]
    fn turned_grids_cover_the_ground(turned in -4.0..4.0f64, along in 1.0..3.0f64, across in 1.0..3.0f64) {
        let extent = Extent::of([Place::new(-50.0, -40.0), Place::new(60.0, 70.0)]);
        let grid = grid([along, across], turned);
        let places = grid.over(frame(), &extent, 1_000_000).unwrap();
        let cells = 110.0 * 110.0 / (along * across);
        // Along the border a row or column is in or out.
        let border = 2.0 * 440.0 / along.min(across);
        prop_assert!((places.len() as f64 - cells).abs() < border, "{} {cells}", places.len());
        for place in places {
            prop_assert!(extent.meets(&Extent::of([place])));
            let (sin, cos) = turned.sin_cos();
            let ahead = (place.east * cos + place.north * sin) / along;
            let up = (place.north * cos - place.east * sin) / across;
            prop_assert!((ahead - ahead.round()).abs() < 1e-9 && (up - up.round()).abs() < 1e-9);
        }
    }
}
