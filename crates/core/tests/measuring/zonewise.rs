//! Ground lowered zone by zone: formation against finished level, steps, closure.

use crate::shapes::{frame, integral, measure, near, ring, sheet, zones};
use dapedon_core::derived::{Treatment, zonewise};
use dapedon_core::overlay::OverlayError;
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Grid, Level, Outline, Surface, Tin};
use dapedon_core::zones::{Zone, Zones};
use proptest::prelude::*;

fn rect(e: f64, n: f64, width: f64, height: f64) -> Vec<dapedon_core::plan::Place> {
    ring(&[
        (e, n),
        (e + width, n),
        (e + width, n + height),
        (e, n + height),
    ])
}

fn areas(surface: &Surface) -> f64 {
    let level = Outline::of(&Surface::Level(Level::new(frame(), 0.0)));
    coverage(&Outline::of(surface), &level, None)[0].both
}

/// Two pavements side by side, one with a hole in it and a patch in the hole: what is dug is area times
/// thickness, zone by zone, and no facet is tilted at a step.
#[test]
fn formation_is_finished_less_the_layers() {
    let finished = sheet(100.0, 60.0, 900, 5, |e, n| {
        20.0 + 0.02 * e + (n / 9.0).sin()
    });
    let road = vec![rect(5.0, 5.0, 40.0, 50.0), rect(15.0, 15.0, 20.0, 20.0)];
    let yard = vec![rect(45.0, 5.0, 50.0, 30.0)];
    let patch = vec![rect(18.0, 18.0, 6.0, 8.0)];
    let zones = zones(vec![road, yard, patch]);
    let layers = [0.55, 0.3, 0.12];
    let sizes = [40.0 * 50.0 - 400.0, 1500.0, 48.0];
    let formation = zonewise(&finished, &zones, |zones| match zones {
        [] => Treatment::Keep,
        [zone, ..] => Treatment::Raise(-layers[*zone as usize]),
    })
    .unwrap();
    let dug: f64 = layers.iter().zip(sizes).map(|(t, a)| t * a).sum();
    near(integral(&finished) - integral(&formation), dug, 1e-9);
    let measured = volume(&finished, &formation, Some(&zones), Tolerance::ZERO).unwrap();
    for ((zone, size), layer) in measured.iter().zip(sizes).zip(layers) {
        near(zone.volume.cut, size * layer, 1e-9);
        near(zone.area.cut, size, 1e-9);
        let found = zone.difference.unwrap();
        // Vertical: nowhere in a zone is the step half done.
        near(found.min.difference, -layer, 1e-9);
        near(found.max.difference, -layer, 1e-9);
    }
    let whole = measure(&finished, &formation);
    near(whole.volume.cut, dug, 1e-9);
    near(
        whole.area.unchanged,
        6000.0 - sizes.iter().sum::<f64>(),
        1e-9,
    );
    near(areas(&formation), areas(&finished), 1e-9);
    // Raised again it is what it was.
    let back = zonewise(&formation, &zones, |zones| match zones {
        [] => Treatment::Keep,
        [zone, ..] => Treatment::Raise(layers[*zone as usize]),
    });
    let back = measure(&finished, &back.unwrap());
    assert_eq!((back.area.cut, back.area.fill), (0.0, 0.0));
}

/// The last of several zones that ground lies in decides, where the caller says so.
#[test]
fn an_order_settles_overlaps() {
    let ground = sheet(40.0, 40.0, 300, 8, |e, _| 0.1 * e);
    let zones = zones(vec![
        vec![rect(5.0, 5.0, 20.0, 20.0)],
        vec![rect(15.0, 15.0, 20.0, 20.0)],
    ]);
    let layers = [1.0, 0.25];
    let made = zonewise(&ground, &zones, |zones| match zones {
        [] => Treatment::Keep,
        [.., last] => Treatment::Raise(layers[*last as usize]),
    });
    let fill = measure(&ground, &made.unwrap()).volume.fill;
    near(fill, (400.0 - 100.0) * 1.0 + 400.0 * 0.25, 1e-9);
}

#[test]
fn inside_and_outside_are_the_whole() {
    let ground = sheet(50.0, 30.0, 400, 3, |e, n| 5.0 + (e / 4.0).sin() + 0.05 * n);
    let zones = zones(vec![vec![
        rect(10.0, 5.0, 25.0, 18.0),
        rect(14.0, 8.0, 5.0, 5.0),
    ]]);
    let part = |inside: bool| {
        let treat = |zones: &[u32]| match zones.is_empty() == inside {
            true => Treatment::Drop,
            false => Treatment::Keep,
        };
        zonewise(&ground, &zones, treat).unwrap()
    };
    near(areas(&part(true)), 450.0 - 25.0, 1e-9);
    near(areas(&part(false)), 1500.0 - 425.0, 1e-9);
    near(
        integral(&part(true)) + integral(&part(false)),
        integral(&ground),
        1e-9,
    );
    // A slab within a zone, from a level that has no end.
    let level = Surface::Level(Level::new(frame(), 7.5));
    let slab = |outside| {
        zonewise(&level, &zones, |zones| match zones {
            [] => outside,
            _ => Treatment::Level(8.0),
        })
    };
    near(integral(&slab(Treatment::Drop).unwrap()), 425.0 * 8.0, 1e-9);
    assert_eq!(slab(Treatment::Keep).unwrap_err(), OverlayError::Unbounded);
    let nothing = zonewise(&ground, &zones, |_| Treatment::Drop);
    assert_eq!(nothing.unwrap_err(), OverlayError::Apart);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// Whatever the zones, what is dug is the sum over the ground of what each place is lowered by; a grid
    /// and its facets written out are lowered alike.
    #[test]
    fn what_is_dug_is_area_times_thickness(
        rects in prop::collection::vec((0.0..20.0f64, 0.0..15.0f64, 1.0..12.0f64, 1.0..9.0f64), 1..4),
        layers in prop::collection::vec(0.05..2.0f64, 4),
    ) {
        // To the 64th: coordinates of some millions hold that without rounding.
        let rects: Vec<_> = (rects.into_iter())
            .map(|(e, n, w, h)| [e, n, w, h].map(|value| (value * 64.0).round() / 64.0))
            .map(|[e, n, w, h]| (e, n, w, h))
            .collect();
        let heights = (0..31 * 21).map(|i| f64::from(i * 37 % 11) / 7.0).collect();
        let corner = dapedon_core::plan::Place::new(crate::shapes::ORIGIN[0] - 1.0, crate::shapes::ORIGIN[1] - 1.0);
        let grid = Grid::new(frame(), corner, [1.0; 2], [31, 21], heights).unwrap();
        let tin: Tin = grid.to_tin().unwrap();
        let (grid, tin) = (Surface::Grid(grid), Surface::Tin(tin));
        let made: Vec<Zone> = (rects.iter().enumerate())
            .map(|(i, &(e, n, w, h))| Zone::new(i.to_string(), frame(), vec![vec![rect(e, n, w, h)]]).unwrap())
            .collect();
        let zones = Zones::new(frame(), made);
        let treat = |zones: &[u32]| {
            let sum: f64 = zones.iter().map(|&zone| layers[zone as usize]).sum();
            if zones.is_empty() { Treatment::Keep } else { Treatment::Raise(-sum) }
        };
        // Within 30 by 20 of the ground.
        let inside = |&(e, n, w, h): &(f64, f64, f64, f64)| ((e + w).min(29.0) - e).max(0.0) * ((n + h).min(19.0) - n).max(0.0);
        let dug: f64 = rects.iter().zip(&layers).map(|(rect, layer)| inside(rect) * layer).sum();
        let [by_grid, by_tin] = [&grid, &tin].map(|ground| zonewise(ground, &zones, treat).unwrap());
        prop_assert!((integral(&tin) - integral(&by_grid) - dug).abs() < 1e-8);
        prop_assert!((integral(&by_tin) - integral(&by_grid)).abs() < 1e-8);
        prop_assert!((areas(&by_grid) - 600.0).abs() < 1e-8);
    }
}
