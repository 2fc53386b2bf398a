//! Grids against what is known, and against the same ground as a triangulation.

use crate::shapes::{ORIGIN, cone, frame, integral, measure, near, place, sheet, zones};
use dapedon_core::plan::Place;
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Grid, GridError, Level, Outline, Surface, Tin, Vertex};
use proptest::prelude::*;

fn grid(columns: usize, rows: usize, step: [f64; 2], height: impl Fn(f64, f64) -> f64) -> Grid {
    let heights = (0..columns * rows).map(|node| {
        let (i, j) = ((node % columns) as f64, (node / columns) as f64);
        height(i * step[0], j * step[1])
    });
    Grid::new(
        frame(),
        place(0.0, 0.0),
        step,
        [columns, rows],
        heights.collect(),
    )
    .unwrap()
}

/// The same facets as indexed ones, by the rule for cells written out once more.
fn as_tin(grid: &Grid) -> Surface {
    let [columns, rows] = grid.size();
    let [east, north] = grid.step();
    let vertices = (0..columns * rows).map(|node| {
        let (i, j) = ((node % columns) as f64, (node / columns) as f64);
        let height = grid.heights()[node];
        let height = if height.is_nan() { 0.0 } else { height };
        Vertex::new(ORIGIN[0] + i * east, ORIGIN[1] + j * north, height)
    });
    let mut facets = Vec::new();
    for j in 0..rows - 1 {
        for i in 0..columns - 1 {
            let sw = (j * columns + i) as u32;
            let around = [sw, sw + 1, sw + columns as u32 + 1, sw + columns as u32];
            let there: Vec<u32> = around
                .into_iter()
                .filter(|&node| !grid.heights()[node as usize].is_nan())
                .collect();
            match there[..] {
                [sw, se, ne, nw] => facets.extend([[sw, se, ne], [sw, ne, nw]]),
                [a, b, c] => facets.push([a, b, c]),
                _ => {}
            }
        }
    }
    Surface::Tin(Tin::from_facets(frame(), vertices.collect(), facets).unwrap())
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

#[test]
fn a_plane_on_a_grid() {
    let plane = Surface::Grid(grid(21, 11, [2.0, 3.0], |e, n| 5.0 + 0.1 * e - 0.05 * n));
    let measured = measure(&level(0.0), &plane);
    // 40 by 30 with its mean height in the middle, at 20 and 15.
    near(measured.volume.fill, 1200.0 * (5.0 + 2.0 - 0.75), 1e-12);
    near(measured.area.compared, 1200.0, 1e-12);
    // Two aligned grids, and one shifted by half a cell: planes 1 apart.
    let above = Surface::Grid(grid(21, 11, [2.0, 3.0], |e, n| 6.0 + 0.1 * e - 0.05 * n));
    near(measure(&plane, &above).volume.fill, 1200.0, 1e-12);
    let heights = (0..21 * 11).map(|node| {
        let (e, n) = (
            1.0 + 2.0 * f64::from(node % 21),
            1.5 + 3.0 * f64::from(node / 21),
        );
        4.0 + 0.1 * e - 0.05 * n
    });
    let shifted = Grid::new(
        frame(),
        place(1.0, 1.5),
        [2.0, 3.0],
        [21, 11],
        heights.collect(),
    );
    let shifted = measure(&plane, &Surface::Grid(shifted.unwrap()));
    near(shifted.volume.cut, 39.0 * 28.5, 1e-12);
}

#[test]
fn cells_part_along_their_diagonal() {
    // One cell with a raised south-east node: a pyramid of half the cell's area.
    let bump = Surface::Grid(grid(2, 2, [6.0, 4.0], |e, n| {
        if e > 0.0 && n == 0.0 { 3.0 } else { 0.0 }
    }));
    near(
        measure(&level(0.0), &bump).volume.fill,
        12.0 * 3.0 / 3.0,
        1e-12,
    );
    // With a raised north-east node both facets rise: twice that.
    let ridge = Surface::Grid(grid(2, 2, [6.0, 4.0], |e, n| {
        if e > 0.0 && n > 0.0 { 3.0 } else { 0.0 }
    }));
    near(measure(&level(0.0), &ridge).volume.fill, 24.0, 1e-12);
}

#[test]
fn a_grid_meets_a_triangulation() {
    let hill = |e: f64, n: f64| 10.0 + (e / 7.0).sin() + (n / 5.0).cos();
    let rough = grid(31, 21, [1.0, 1.0], hill);
    let tin = sheet(40.0, 30.0, 400, 11, |e, n| {
        10.0 + 0.3 * (e / 3.0).cos() * (n / 4.0).sin()
    });
    let by_grid = measure(&Surface::Grid(rough.clone()), &tin);
    let by_tin = measure(&as_tin(&rough), &tin);
    near(by_grid.volume.cut, by_tin.volume.cut, 1e-11);
    near(by_grid.volume.fill, by_tin.volume.fill, 1e-11);
    near(by_grid.area.compared, 600.0, 1e-11);
    let written_out = measure(&Surface::Tin(rough.to_tin().unwrap()), &tin);
    near(by_grid.volume.net, written_out.volume.net, 1e-11);
    let cone = cone(64, 9.0, 5.0);
    let moved = measure(&Surface::Grid(rough.clone()), &cone);
    near(
        moved.volume.net,
        measure(&as_tin(&rough), &cone).volume.net,
        1e-11,
    );
}

#[test]
fn what_makes_no_grid_says_why() {
    let made = |step: [f64; 2], size: [usize; 2], heights: Vec<f64>| {
        Grid::new(frame(), place(0.0, 0.0), step, size, heights).unwrap_err()
    };
    let none = f64::NAN;
    assert_eq!(
        made([1.0; 2], [1, 4], vec![0.0; 4]),
        GridError::TooFew {
            columns: 1,
            rows: 4
        }
    );
    assert_eq!(
        made([1.0; 2], [2, 2], vec![0.0; 3]),
        GridError::Count {
            found: 3,
            expected: 4
        }
    );
    assert_eq!(
        made([1.0, 0.0], [2, 2], vec![0.0; 4]),
        GridError::Step { step: [1.0, 0.0] }
    );
    assert_eq!(
        made([1.0; 2], [2, 2], vec![1.0, 1.0, none, none]),
        GridError::NoFacets
    );
    assert_eq!(
        made([1.0; 2], [2, 2], vec![1.0, 1.0, 1.0, f64::INFINITY]),
        GridError::OutOfRange
    );
    assert!(matches!(
        made([1.0; 2], [1 << 20, 1 << 20], Vec::new()),
        GridError::TooMany { .. }
    ));
    assert_eq!(made([1e9; 2], [2, 2], vec![0.0; 4]), GridError::OutOfRange);
}

/// Two aligned grids part where a sloping difference passes zero, as the wedges between them do.
#[test]
fn aligned_grids_part_along_the_line_of_no_difference() {
    let size = [41, 21];
    let flat = Surface::Grid(grid(size[0], size[1], [1.0; 2], |_, _| 7.0));
    // The difference is 0.1 (e - 13.3): zero within a column of cells.
    let sloping = Surface::Grid(grid(size[0], size[1], [1.0; 2], |e, _| {
        7.0 + 0.1 * (e - 13.3)
    }));
    let measured = measure(&flat, &sloping);
    near(measured.volume.cut, 0.1 * 13.3 * 13.3 / 2.0 * 20.0, 1e-12);
    near(measured.volume.fill, 0.1 * 26.7 * 26.7 / 2.0 * 20.0, 1e-12);
    near(measured.area.cut, 13.3 * 20.0, 1e-12);
    near(measured.area.fill, 26.7 * 20.0, 1e-12);
    let found = measured.difference.unwrap();
    near(found.min.difference, -1.33, 1e-12);
    near(found.max.difference, 2.67, 1e-12);
    near(found.mean, 0.1 * (20.0 - 13.3), 1e-12);
    assert_eq!(measured.pieces, 1600);
    // Within a tolerance of 0.2 a band 4 wide is unchanged.
    let tolerance = Tolerance::new(0.2).unwrap();
    let measured = volume(&flat, &sloping, None, tolerance).unwrap()[0];
    near(measured.area.unchanged, 4.0 * 20.0, 1e-12);
    near(
        measured.volume.cut,
        0.1 * (13.3 * 13.3 - 4.0) / 2.0 * 20.0,
        1e-12,
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Aligned grids, walked cell by cell, are the same as one of them written out as facets; whichever
    /// nodes are missing, however far they are shifted against each other.
    #[test]
    fn aligned_grids_are_their_facets(
        missing in prop::collection::vec(0usize..2000, 0..60),
        shift in [-30i32..30, -12..12],
        rise in -1.5..1.5f64,
        tolerance in prop::sample::select(vec![0.0, 0.25]),
    ) {
        let size = [50, 20];
        let made = |shift: [i32; 2], offset: usize, rise: f64| {
            let mut heights: Vec<f64> = (0..1000).map(|node| rise + (node * 37 % 11) as f64 / 8.0).collect();
            for node in missing.iter().filter_map(|node| node.checked_sub(offset)).filter(|&n| n < 1000) {
                heights[node] = f64::NAN;
            }
            let corner = place(f64::from(shift[0]) * 1.5, f64::from(shift[1]) * 2.0);
            Grid::new(frame(), corner, [1.5, 2.0], size, heights).unwrap()
        };
        let (reference, surveyed) = (made([0, 0], 0, 0.0), made(shift, 1000, rise));
        let (same, reference) = (as_tin(&reference), Surface::Grid(reference));
        let surveyed = Surface::Grid(surveyed);
        let tolerance = Tolerance::new(tolerance).unwrap();
        let [a, b] = [&reference, &same].map(|side| volume(side, &surveyed, None, tolerance).unwrap()[0]);
        for (found, expected) in [
            (a.volume.cut, b.volume.cut),
            (a.volume.fill, b.volume.fill),
            (a.volume.unchanged, b.volume.unchanged),
            (a.area.cut, b.area.cut),
            (a.area.compared, b.area.compared),
        ] {
            // Some thousand cells of height and area about one.
            prop_assert!((found - expected).abs() < 1e-9, "{found} {expected}");
        }
        let reach = |m: &dapedon_core::quantities::ZoneVolume| m.difference.map(|d| [d.min.difference, d.max.difference]);
        if let (Some(a), Some(b)) = (reach(&a), reach(&b)) {
            prop_assert!((a[0] - b[0]).abs() < 1e-9 && (a[1] - b[1]).abs() < 1e-9);
        }
        // Turned round, cut is fill; and the number of threads changes no bit.
        let back = volume(&surveyed, &reference, None, tolerance).unwrap()[0];
        prop_assert!((a.volume.cut - back.volume.fill).abs() < 1e-9);
        let alone = rayon::ThreadPoolBuilder::new().num_threads(1).build().unwrap();
        let alone = alone.install(|| volume(&reference, &surveyed, None, tolerance).unwrap()[0]);
        prop_assert_eq!(a, alone);
    }

    /// A grid with missing nodes is the same ground as its facets written out: volumes, areas, outline,
    /// closure, and the same with a zone.
    #[test]
    fn a_grid_is_its_facets(missing in prop::collection::vec(0usize..63, 0..25), lift in -1.0..1.0f64) {
        let mut heights: Vec<f64> = (0..63).map(|node| ((node * 37 % 11) as f64 - 5.0) / 4.0).collect();
        for node in missing {
            heights[node] = f64::NAN;
        }
        let made = Grid::new(frame(), place(0.0, 0.0), [1.5, 2.0], [9, 7], heights);
        prop_assume!(made.is_ok());
        let grid = made.unwrap();
        let (tin, level) = (as_tin(&grid), level(lift));
        let grid = Surface::Grid(grid);
        for limits in [None, Some(zones(vec![vec![crate::shapes::ring(&[(1.0, 1.0), (11.0, 2.0), (9.0, 11.0), (3.0, 8.0)])]]))] {
            let [a, b] = [&grid, &tin].map(|s| volume(&level, s, limits.as_ref(), Tolerance::ZERO).map(|m| m[0]));
            let (Ok(a), Ok(b)) = (a, b) else { continue };
            for (found, expected) in [
                (a.volume.cut, b.volume.cut),
                (a.volume.fill, b.volume.fill),
                (a.area.cut, b.area.cut),
                (a.area.compared, b.area.compared),
            ] {
                prop_assert!((found - expected).abs() < 1e-10, "{found} {expected}");
            }
        }
        let outlines = [Outline::of(&level), Outline::of(&grid)];
        let closed = coverage(&outlines[0], &outlines[1], None)[0];
        let Surface::Tin(same) = &tin else { unreachable!() };
        prop_assert!((closed.both - same.area()).abs() < 1e-10);
        prop_assert!((integral(&tin) - measure(&self::level(-9.0), &grid).volume.fill + 9.0 * same.area()).abs() < 1e-9);
        let corner = Place::new(0.0, 0.0);
        prop_assert!(grid.extent().min.east >= corner.east - 1e-9);
    }
}
