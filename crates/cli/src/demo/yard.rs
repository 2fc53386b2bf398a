//! The stockpile yard, flown at the end of April: three piles on ground that an authority's terrain grid
//! shows as it was.

use dapedon_core::plan::Place;
use dapedon_formats::las::Shot;
use dapedon_formats::{RawGrid, RawZone};

use super::terrain::{LENGTH, WIDTH, ground};

/// What was flown: from south-west to north-east.
const FLOWN: [(f64, f64); 2] = [(56.0, 3.0), (160.0, 40.0)];
/// Points stand about so far apart.
const SPACING: f64 = 0.3;
/// The authority's cells.
const CELL: f64 = 2.0;
/// A hut that hides the ground from the camera: its middle and half its side.
const HUT: (f64, f64, f64) = (66.0, 33.0, 2.2);

/// A pile: a box that is rounded at its corners, as high as it may be for its slope.
struct Pile {
    name: &'static str,
    material: &'static str,
    middle: (f64, f64),
    /// Half the length and width of its flat top.
    half: (f64, f64),
    height: f64,
    slope: f64,
}

const PILES: [Pile; 3] = [
    Pile {
        name: "pile 1",
        material: "clay",
        middle: (80.0, 21.0),
        half: (5.0, 3.0),
        height: 4.6,
        slope: 1.6,
    },
    Pile {
        name: "pile 2",
        material: "topsoil",
        middle: (113.0, 22.0),
        half: (12.0, 0.6),
        height: 2.4,
        slope: 1.5,
    },
    Pile {
        name: "pile 3",
        material: "gravel",
        middle: (145.0, 20.0),
        half: (0.0, 0.0),
        height: 5.2,
        slope: 1.45,
    },
];

impl Pile {
    /// How far a place lies outside the flat top.
    fn distance(&self, e: f64, n: f64) -> f64 {
        let east = ((e - self.middle.0).abs() - self.half.0).max(0.0);
        let north = ((n - self.middle.1).abs() - self.half.1).max(0.0);
        libm::hypot(east, north)
    }

    fn rise(&self, e: f64, n: f64) -> f64 {
        (self.height - self.distance(e, n) / self.slope).max(0.0)
    }

    /// An outline a good metre outside the toe, corners cut off.
    fn outline(&self) -> Vec<(f64, f64)> {
        let out = self.height * self.slope + 1.2;
        let (a, b) = (self.half.0 + out, self.half.1 + out);
        let cut = 0.6 * out;
        let corners = [
            (-a, -b + cut),
            (-a + cut, -b),
            (a - cut, -b),
            (a, -b + cut),
            (a, b - cut),
            (a - cut, b),
            (-a + cut, b),
            (-a, b - cut),
        ];
        let (east, north) = self.middle;
        corners.map(|(e, n)| (east + e, north + n)).to_vec()
    }
}

/// A number from zero to one that looks like chance and is the same each time.
fn chance(index: u64, salt: u64) -> f64 {
    let mut x =
        index.wrapping_mul(0x9e37_79b9_7f4a_7c15) ^ salt.wrapping_mul(0xd1b5_4a32_d192_ed03);
    x = (x ^ (x >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
    x = (x ^ (x >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
    ((x ^ (x >> 31)) >> 11) as f64 / (1u64 << 53) as f64
}

/// How high something grows at a place: a few bushes along the yard's edge.
fn growth(e: f64, n: f64) -> f64 {
    let bushes = [
        (95.0, 37.0, 1.6),
        (99.0, 38.0, 1.2),
        (131.0, 36.0, 2.0),
        (152.0, 6.0, 1.4),
    ];
    let over = bushes.map(|(x, y, r)| 1.0 - libm::hypot(e - x, n - y) / r);
    1.1 * over.into_iter().fold(0.0, f64::max)
}

/// The flight, row by row, in the site's coordinates from `corner`.
pub(super) fn flight(corner: [f64; 2]) -> Vec<Shot> {
    let [from, to] = FLOWN;
    let columns = ((to.0 - from.0) / SPACING) as u64;
    let rows = ((to.1 - from.1) / SPACING) as u64;
    let mut shots = Vec::new();
    for index in 0..columns * rows {
        let along = |at: u64, salt: u64| (at as f64 + chance(index, salt)) * SPACING;
        let (e, n) = (
            from.0 + along(index % columns, 1),
            from.1 + along(index / columns, 2),
        );
        if (e - HUT.0).abs().max((n - HUT.1).abs()) < HUT.2 {
            continue;
        }
        let growth = growth(e, n);
        let rise: f64 = PILES.iter().map(|pile| pile.rise(e, n)).sum();
        let noise = 0.03 * (chance(index, 3) - 0.5);
        let lost = chance(index, 4) < 0.0003;
        let (class, above) = match (lost, growth > 0.0) {
            (true, _) => (7, -3.0 - 9.0 * chance(index, 5)),
            (_, true) => (5, growth * (0.5 + chance(index, 6))),
            _ => (2, 0.0),
        };
        shots.push(Shot {
            east: corner[0] + e,
            north: corner[1] + n,
            height: ground(e, n) + rise + noise + above,
            class,
            number: 1,
            returns: 1,
            withheld: false,
        });
    }
    shots
}

/// The ground as the authority's grid has it.
pub(super) fn authority(corner: [f64; 2]) -> RawGrid {
    let size = [LENGTH, WIDTH].map(|side| (side / CELL) as usize);
    let middle = |index: usize| (index as f64 + 0.5) * CELL;
    let heights = (0..size[0] * size[1]).map(|index| {
        let height = ground(middle(index % size[0]), middle(index / size[0]));
        (height * 100.0).round() / 100.0
    });
    RawGrid {
        corner: Place::new(corner[0] + CELL / 2.0, corner[1] + CELL / 2.0),
        step: [CELL; 2],
        size,
        heights: heights.collect(),
    }
}

/// The outlines of the piles, and what each is made of.
pub(super) fn outlines(corner: [f64; 2]) -> (Vec<RawZone>, Vec<&'static str>) {
    let zone = |pile: &Pile| {
        let outline = pile.outline();
        let closed = outline.iter().chain(outline.first());
        let ring = closed.map(|(e, n)| Place::new(corner[0] + e, corner[1] + n));
        RawZone {
            name: pile.name.into(),
            parts: vec![vec![ring.collect()]],
            ..RawZone::default()
        }
    };
    let materials = PILES.iter().map(|pile| pile.material);
    (PILES.iter().map(zone).collect(), materials.collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::PI;

    /// A pile's volume by rings around its flat top: a box with rounded sides is its top, the wedges along
    /// its sides and a cone at its corners.
    fn volume(pile: &Pile) -> f64 {
        let (a, b, h) = (pile.half.0, pile.half.1, pile.height);
        let out = h * pile.slope;
        4.0 * a * b * h + 2.0 * (2.0 * a + 2.0 * b) * out * h / 2.0 + PI * out * out * h / 3.0
    }

    #[test]
    fn piles_are_what_they_are_said_to_be() {
        for pile in &PILES {
            let step = 0.05;
            let cells = (0..1200 * 1200).map(|i| {
                let e = pile.middle.0 - 30.0 + (f64::from(i % 1200) + 0.5) * step;
                let n = pile.middle.1 - 30.0 + (f64::from(i / 1200) + 0.5) * step;
                pile.rise(e, n) * step * step
            });
            let summed: f64 = cells.sum();
            assert!((summed / volume(pile) - 1.0).abs() < 1e-3, "{}", pile.name);
            assert!(pile.outline().iter().all(|&(e, n)| pile.rise(e, n) == 0.0));
        }
    }
}
