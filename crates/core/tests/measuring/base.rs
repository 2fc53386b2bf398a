//! Bases of piles through their toes: against planes, against frusta, and what must hold for any outline.

use crate::shapes::{frame, near, place, sheet, vertex};
use dapedon_core::plan::Place;
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::quantities::{Base, BaseError, Toe, Tolerance, ZoneVolume, coverage, volume};
use dapedon_core::surface::Plane;
use dapedon_core::surface::{Grid, Level, Outline, Surface, Tin, Vertex};
use dapedon_core::zones::{Zone, Zones};
use proptest::prelude::*;

fn outline(corners: &[(f64, f64)]) -> Zone {
    let ring = corners.iter().chain(&corners[..1]);
    let ring = ring.map(|&(e, n)| place(e, n)).collect();
    Zone::new("pile", frame(), vec![vec![ring]]).unwrap()
}

/// What lies between the base through a toe and the surface, within the toe.
fn pile(surface: &Surface, toe: &Zone) -> (Tin, ZoneVolume) {
    let base = Toe::of(surface, toe).unwrap().base(Base::Toe).unwrap();
    let zones = Zones::new(frame(), vec![toe.clone()]);
    let from = Surface::Tin(base.clone());
    let measured = volume(&from, surface, Some(&zones), Tolerance::ZERO).unwrap();
    (base, measured[0])
}

/// A frustum on a grid of nodes a unit apart: 10 by 10 at its foot, 4 by 4 at its top and 3 high, on ground at 7. By
/// the prismoid formula (10 x 10 + 4 x 7 x 7 + 4 x 4) x 3 / 6 = 156. The facets of a cell meet along its diagonal from
/// south-west to north-east, so that two of the four ridges are cut across: a cell there, with corners a, a - 1, a - 1
/// and a - 1, has the mean a - 5/6 in place of a - 2/3. Of three cells on each of two ridges that is 1 in all.
#[test]
fn a_grid_of_a_frustum_stands_on_its_ground() {
    let height = |e: f64, n: f64| {
        let out = (e - 10.0).abs().max((n - 10.0).abs());
        7.0 + (3.0 * (5.0 - out) / 3.0).clamp(0.0, 3.0)
    };
    let nodes = (0..441).map(|node| height(f64::from(node % 21), f64::from(node / 21)));
    let grid = Grid::new(
        frame(),
        place(0.0, 0.0),
        [1.0, 1.0],
        [21, 21],
        nodes.collect(),
    )
    .unwrap();
    let surface = Surface::Grid(grid);
    let toe = outline(&[(3.5, 3.25), (16.0, 4.0), (17.25, 16.5), (4.0, 16.0)]);
    let (base, above) = pile(&surface, &toe);
    let zones = Zones::new(frame(), vec![toe]);
    let level = Surface::Level(Level::new(frame(), 7.0));
    let known = volume(&level, &surface, Some(&zones), Tolerance::ZERO).unwrap()[0];
    near(above.volume.fill, known.volume.fill, 1e-9);
    near(above.volume.fill, 155.0, 1e-9);
    let (least, most) = base.heights();
    assert!((least - 7.0).abs() < 1e-9 && (most - 7.0).abs() < 1e-9);
}

/// An outline with a corner turned in, on waves: the base fills it, and meets the ground all along it.
#[test]
fn the_base_ends_at_the_outline_and_fills_it() {
    let ground = sheet(30.0, 30.0, 300, 5, |e, n| 4.0 + (e / 5.0).sin() + 0.1 * n);
    let corners = [
        (4.0, 4.0),
        (26.0, 5.0),
        (25.0, 25.0),
        (15.0, 12.0),
        (5.0, 24.0),
    ];
    let toe = outline(&corners);
    let (base, measured) = pile(&ground, &toe);
    near(base.area(), toe.area(), 1e-9);
    near(measured.area.compared, toe.area(), 1e-9);
    let zones = Zones::new(frame(), vec![toe]);
    let ends = [Outline::of_tin(&base), Outline::of(&ground)];
    let covered = coverage(&ends[0], &ends[1], Some(&zones))[0];
    assert!(
        covered.surveyed_only < 1e-6 && covered.neither < 1e-6,
        "{covered:?}"
    );
    // Base and ground meet along the toe: there is nothing between their edges.
    for &[from, to] in &[[0, 1], [1, 2], [2, 3], [3, 4], [4, 0]] {
        let (a, b): ((f64, f64), (f64, f64)) = (corners[from], corners[to]);
        let middle = (0.5 * (a.0 + b.0), 0.5 * (a.1 + b.1));
        let around = 0.01;
        let strip = outline(&[
            (middle.0 - around, middle.1 - around),
            (middle.0 + around, middle.1 - around),
            (middle.0 + around, middle.1 + around),
            (middle.0 - around, middle.1 + around),
        ]);
        let zones = Zones::new(frame(), vec![strip]);
        let gap = volume(
            &Surface::Tin(base.clone()),
            &ground,
            Some(&zones),
            Tolerance::ZERO,
        );
        let gap = gap.unwrap()[0].difference.unwrap();
        // A hundredth from the edge, on slopes of less than one half against each other.
        assert!(
            gap.min.difference.abs().max(gap.max.difference.abs()) < 0.02,
            "{gap:?}"
        );
    }
}

/// A hole in the outline is no part of the pile, and its base goes round it.
#[test]
fn a_pile_around_a_hut() {
    let ground = sheet(20.0, 20.0, 200, 9, |e, n| 2.0 + 0.25 * e - 0.125 * n);
    let ring = |low: f64, high: f64| {
        let corners = [
            (low, low),
            (high, low),
            (high, high),
            (low, high),
            (low, low),
        ];
        corners.map(|(e, n)| place(e, n)).to_vec()
    };
    let toe = Zone::new(
        "pile",
        frame(),
        vec![vec![ring(4.0, 16.0), ring(8.0, 12.0)]],
    )
    .unwrap();
    let (base, measured) = pile(&ground, &toe);
    near(base.area(), 144.0 - 16.0, 1e-9);
    assert!(measured.volume.fill < 1e-6 && measured.volume.cut < 1e-6);
}

#[test]
fn a_pile_beyond_the_survey_has_no_base() {
    let ground = sheet(20.0, 20.0, 50, 9, |_, _| 2.0);
    let far = outline(&[(50.0, 50.0), (60.0, 50.0), (60.0, 60.0)]);
    assert!(matches!(
        Toe::of(&ground, &far).map(|_| ()),
        Err(BaseError::Overlay(_))
    ));
    let across = outline(&[(15.0, 5.0), (25.0, 5.0), (25.0, 15.0), (15.0, 15.0)]);
    match Toe::of(&ground, &across) {
        Err(BaseError::LeavesSurface { missing, .. }) => near(missing, 20.0, 1e-6),
        other => panic!("{other:?}"),
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// A heap of any shape within a plane, its outline anywhere on the plane: the base is the plane. To the rounding
    /// of grid coordinates along the toe.
    #[test]
    fn on_a_plane_the_base_is_that_plane(
        heights in prop::collection::vec(1i32..40, 9),
        slopes in [-8i32..8, -8i32..8],
        turns in prop::collection::vec(0i32..24, 8),
    ) {
        let [east, north] = slopes.map(|slope| f64::from(slope) / 64.0);
        let plane = |e: f64, n: f64| 10.0 + east * e + north * n;
        let mut points = vec![(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)];
        // A ring of points at the foot of the heap keeps what is outside of it on the plane.
        points.extend((0..16).map(|side| {
            let (sin, cos) = (f64::from(side) * std::f64::consts::TAU / 16.0).sin_cos();
            ((20.0 + 9.0 * cos).mul_add(64.0, 0.5).floor() / 64.0, (20.0 + 9.0 * sin).mul_add(64.0, 0.5).floor() / 64.0)
        }));
        let lifted = heights.iter().enumerate().map(|(index, height)| {
            let (e, n) = (16.0 + 4.0 * (index % 3) as f64, 16.0 + 4.0 * (index / 3) as f64);
            (e, n, plane(e, n) + f64::from(*height) / 16.0)
        });
        let flat = points.into_iter().map(|(e, n)| (e, n, plane(e, n)));
        let vertices = flat.chain(lifted).map(|(e, n, h)| {
            let at = place(e, n);
            Vertex::new(at.east, at.north, h)
        });
        let pick_up = PickUp::from(vertices.collect::<Vec<_>>());
        let heap = Surface::Tin(triangulate(frame(), &pick_up, &Rules::default()).unwrap().tin);
        // Eight corners round about, from 11 to 17 away.
        let corners = turns.iter().enumerate().map(|(side, turn)| {
            let (sin, cos) = (side as f64 * std::f64::consts::TAU / 8.0).sin_cos();
            let away = 11.0 + f64::from(*turn) / 4.0;
            ((20.0 + away * cos).mul_add(64.0, 0.5).floor() / 64.0, (20.0 + away * sin).mul_add(64.0, 0.5).floor() / 64.0)
        });
        let corners: Vec<(f64, f64)> = corners.collect();
        let toe = outline(&corners);
        let (_, above) = pile(&heap, &toe);
        let at = |(e, n): (f64, f64)| {
            let at = place(e, n);
            Vertex::new(at.east, at.north, plane(e, n))
        };
        let wide = [(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)].map(at);
        let known = Surface::Tin(Tin::from_facets(frame(), wide.to_vec(), vec![[0, 1, 2], [0, 2, 3]]).unwrap());
        let zones = Zones::new(frame(), vec![toe]);
        let expected = volume(&known, &heap, Some(&zones), Tolerance::ZERO).unwrap()[0];
        prop_assert!((above.volume.fill - expected.volume.fill).abs() < 1e-6, "{} {}", above.volume.fill, expected.volume.fill);
        prop_assert!((above.area.compared - expected.area.compared).abs() < 1e-6);
    }
}

/// Waves, and an outline with a corner turned in.
fn waves() -> (Surface, Zone) {
    let ground = sheet(30.0, 30.0, 300, 5, |e, n| 4.0 + (e / 5.0).sin() + 0.1 * n);
    let corners = [
        (4.0, 4.0),
        (26.0, 5.0),
        (25.0, 25.0),
        (15.0, 12.0),
        (5.0, 24.0),
    ];
    (ground, outline(&corners))
}

/// The mean height along an outline, and the plane that fits it, are those of the same heights read a thousand times
/// along each side: a second way, by points in place of integrals.
#[test]
fn levels_and_planes_fit_the_heights_along_the_toe() {
    let (ground, outline) = waves();
    let toe = Toe::of(&ground, &outline).unwrap();
    let Surface::Tin(tin) = &ground else {
        panic!("facets")
    };
    let height = |at: Place| {
        let found = (0..tin.facets().len()).find_map(|facet| {
            let [a, b, c] = tin.corners(facet);
            let side = |p: Vertex, q: Vertex| {
                (q.east - p.east) * (at.north - p.north) - (q.north - p.north) * (at.east - p.east)
            };
            let inside = side(a, b) >= -1e-9 && side(b, c) >= -1e-9 && side(c, a) >= -1e-9;
            inside.then(|| Plane::through(a, b, c).at(at))
        });
        found.unwrap()
    };
    let ring = &outline.rings()[0];
    let mut samples = Vec::new();
    for (from, to) in ring.iter().zip(ring.iter().cycle().skip(1)) {
        let length = (to.east - from.east).hypot(to.north - from.north);
        for index in 0..1000 {
            let share = (f64::from(index) + 0.5) / 1000.0;
            let at = |a: f64, b: f64| a + share * (b - a);
            let at = Place::new(at(from.east, to.east), at(from.north, to.north));
            samples.push((length / 1000.0, at, height(at)));
        }
    }
    let whole: f64 = samples.iter().map(|(weight, ..)| weight).sum();
    let mean = samples
        .iter()
        .map(|(weight, _, height)| weight * height)
        .sum::<f64>()
        / whole;
    // Of a thousand steps each side bends in, the middles miss some 1e-6.
    near(toe.mean(), mean, 1e-5);
    let lowest = samples
        .iter()
        .map(|(_, _, height)| *height)
        .fold(f64::INFINITY, f64::min);
    assert!(toe.lowest() <= lowest && toe.lowest() > lowest - 0.01);
    assert!(toe.highest() > toe.mean() && toe.mean() > toe.lowest());

    // What a plane of the least squares leaves over is nothing in all, and stands across both directions.
    let base = toe.base(Base::Plane).unwrap();
    let [a, b, c] = base.corners(0);
    let plane = Plane::through(a, b, c);
    for along in [
        |_: Place| 1.0,
        |at: Place| at.east / 30.0,
        |at: Place| at.north / 30.0,
    ] {
        let left = samples
            .iter()
            .map(|(weight, at, height)| weight * (height - plane.at(*at)) * along(*at));
        assert!(left.sum::<f64>().abs() < 1e-4 * whole);
    }
}

/// On ground that is a plane all bases but the levels are that plane; and a level at the mean leaves as much above the
/// plane as below it where the outline is a square.
#[test]
fn bases_agree_on_a_plane() {
    let pile = |e: f64, n: f64| (6.0 - (e - 15.0).abs().max((n - 15.0).abs())).max(0.0);
    let points = (0..961).map(|index| {
        let (e, n) = (f64::from(index % 31), f64::from(index / 31));
        vertex(e, n, 20.0 + 0.125 * e - 0.0625 * n + pile(e, n))
    });
    let pick_up = PickUp::from(points.collect::<Vec<_>>());
    let rules = Rules::default();
    let ground = Surface::Tin(triangulate(frame(), &pick_up, &rules).unwrap().tin);
    let outline = outline(&[(5.0, 5.0), (25.0, 5.0), (25.0, 25.0), (5.0, 25.0)]);
    let zones = Zones::new(frame(), vec![outline.clone()]);
    let toe = Toe::of(&ground, &outline).unwrap();
    let net = |base: Base| {
        let base = Surface::Tin(toe.base(base).unwrap());
        volume(&base, &ground, Some(&zones), Tolerance::ZERO).unwrap()[0]
            .volume
            .net
    };
    near(net(Base::Toe), net(Base::Plane), 1e-9);
    near(net(Base::Mean), net(Base::Plane), 1e-9);
    // The lowest corner is that to the north-west: 20 x 20 of a slab half of 0.125 x 20 + 0.0625 x 20 thick.
    near(net(Base::Lowest), net(Base::Plane) + 400.0 * 1.875, 1e-9);
}

/// An outline that is divided more finely, and started elsewhere, has the same bases.
#[test]
fn corners_along_a_side_change_nothing() {
    let (ground, _) = waves();
    let plain = outline(&[(4.0, 4.0), (26.0, 4.0), (26.0, 24.0), (4.0, 24.0)]);
    let fine = outline(&[
        (26.0, 10.0),
        (26.0, 24.0),
        (4.0, 24.0),
        (4.0, 9.5),
        (4.0, 4.0),
        (5.25, 4.0),
        (17.0, 4.0),
        (26.0, 4.0),
        (26.0, 7.25),
    ]);
    let [plain, fine] = [plain, fine].map(|outline| {
        let zones = Zones::new(frame(), vec![outline.clone()]);
        let toe = Toe::of(&ground, &outline).unwrap();
        [Base::Toe, Base::Plane, Base::Lowest, Base::Mean].map(|base| {
            let base = Surface::Tin(toe.base(base).unwrap());
            volume(&base, &ground, Some(&zones), Tolerance::ZERO).unwrap()[0]
                .volume
                .net
        })
    });
    for (plain, fine) in plain.iter().zip(fine).skip(1) {
        near(*plain, fine, 1e-7);
    }
    // Between the same heights a surface through the toe may be triangulated otherwise: a millimetre over 440.
    assert!((plain[0] - fine[0]).abs() < 0.44);
}
