//! Uncertainties of volumes by sections against what becomes of them when points are moved.

use super::*;
use crate::alignment::Course;
use crate::plan::Place;
use crate::quantities::chance::Chance;
use crate::quantities::uncertainty::tests::{draw, ground, plain, rolling};
use crate::surface::Surface;

/// Sections across the middle, which count a little more each, on a bend; one in two parts.
fn cuts() -> Vec<CountedCut> {
    let at = |number: u32| {
        let course = Course {
            place: Place::new(2.0 + 1.5 * f64::from(number), 7.0),
            direction: 0.1,
        };
        let spans = if number == 3 {
            vec![[-5.0, -1.0], [0.5, 4.0]]
        } else {
            vec![[-5.0, 5.5]]
        };
        CountedCut {
            cut: Cut { course, spans },
            length: 1.5 + 0.1 * f64::from(number),
            turned: 0.05,
        }
    };
    (0..7).map(at).collect()
}

fn volumes_of(sides: [&Surface; 2]) -> [f64; 3] {
    let indexes = sides.map(FacetIndex::of);
    let (mut cut, mut fill) = (0.0, 0.0);
    for counted in cuts() {
        let [from, to] = [0, 1].map(|side: usize| counted.cut.through(&indexes[side]));
        let areas = from.areas(&to, &counted.cut);
        cut += counted.length * areas.cut.area + counted.turned * areas.cut.moment;
        fill += counted.length * areas.fill.area + counted.turned * areas.fill.moment;
    }
    [cut, fill, fill - cut]
}

fn stated(sides: [&Surface; 2], accuracies: [Accuracy; 2]) -> [f64; 3] {
    let indexes = sides.map(FacetIndex::of);
    let found = section_uncertainty([&indexes[0], &indexes[1]], &cuts(), accuracies);
    [found.cut, found.fill, found.net].map(|own| own.standard())
}

#[test]
fn surveys_that_are_drawn_scatter_as_stated() {
    const DRAWS: usize = 1500;
    let tins = [ground(14, 5, plain), ground(14, 8, rolling)];
    let accuracies = [
        Accuracy {
            height: 0.02,
            ..Accuracy::EXACT
        },
        Accuracy {
            height: 0.03,
            common_height: 0.01,
            ..Accuracy::EXACT
        },
    ];
    let exact = [&tins[0], &tins[1]].map(|tin| Surface::Tin(tin.clone()));
    let sides = [&exact[0], &exact[1]];
    let (truth, own) = (volumes_of(sides), stated(sides, accuracies));
    let mut chance = Chance(77);
    let mut squares = [0.0; 3];
    for _ in 0..DRAWS {
        let [a, b] = draw([&tins[0], &tins[1]], accuracies, &mut chance);
        let found = volumes_of([&a, &b]);
        for kind in 0..3 {
            squares[kind] += (found[kind] - truth[kind]).powi(2) / DRAWS as f64;
        }
    }
    for kind in 0..3 {
        // So many draws tell a spread to 1.8 %.
        let drawn = squares[kind].sqrt();
        assert!(
            (drawn / own[kind] - 1.0).abs() < 0.06,
            "{kind}: {drawn} {}",
            own[kind]
        );
    }
}

#[test]
fn grids_and_their_triangles_and_swapped_sides_are_as_uncertain() {
    let heights: Vec<f64> = (0..225)
        .map(|i| rolling((i % 15) as f64, (i / 15) as f64))
        .collect();
    let frame = crate::quantities::uncertainty::tests::frame();
    let corner = frame.to_local(0.0, 0.0);
    let grid = crate::surface::Grid::new(frame, corner, [1.0, 1.0], [15, 15], heights).unwrap();
    let tin = Surface::Tin(grid.to_tin().unwrap());
    let grid = Surface::Grid(grid);
    let below = Surface::Tin(ground(14, 2, plain));
    let own = Accuracy {
        height: 0.02,
        plan: 0.03,
        common_height: 0.01,
        common_plan: 0.02,
        correlation: 1.5,
    };
    let other = Accuracy {
        height: 0.01,
        ..Accuracy::EXACT
    };
    let [of_grid, of_tin] = [&grid, &tin].map(|top| stated([&below, top], [other, own]));
    let swapped = stated([&grid, &below], [own, other]);
    for (grid, (tin, swapped)) in of_grid
        .iter()
        .zip(of_tin.iter().zip([swapped[1], swapped[0], swapped[2]]))
    {
        assert!((grid / tin - 1.0).abs() < 1e-9 && (grid / swapped - 1.0).abs() < 1e-9);
    }
}
