//! What lies where: the areas of a measurement, found from outlines alone.

use crate::plan::sweep::{Tally, sweep};
use crate::plan::{Edge, Extent, Place, Precision, Sum};
use crate::surface::Outline;
use crate::zones::Zones;

/// Areas of a zone by which side covers them, found without the overlay.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Coverage {
    /// Both sides lie there.
    pub both: f64,
    /// The reference lies there, the surveyed does not.
    pub reference_only: f64,
    /// The surveyed lies there, the reference does not.
    pub surveyed_only: f64,
    /// The zone lies there, neither side does; nothing where there are no zones.
    pub neither: f64,
    /// What the pieces of an overlay must add up to: where a side folds over itself, its facets
    /// count each time. Without folds the same as `both`.
    pub pieces: f64,
}

/// Ground that a surface covers more than once.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Overlap {
    /// The area covered again.
    pub area: f64,
    /// A place amidst it, in local coordinates.
    pub at: Place,
}

/// The areas that each side covers in each zone, or everywhere when there are none.
pub fn coverage(reference: &Outline, surveyed: &Outline, zones: Option<&Zones>) -> Vec<Coverage> {
    let sides = [reference.edges(), surveyed.edges()];
    let Some(zones) = zones else {
        let norths = sides
            .iter()
            .flatten()
            .flat_map(|edges| edges.iter().map(|e| e.from.north));
        // Around both there is ground without end, and none of it is anybody's.
        return vec![Coverage {
            neither: 0.0,
            ..cover([sides[0], sides[1], None], range(norths))
        }];
    };
    let zone = |zone: &crate::zones::Zone| {
        let norths = [zone.extent().min.north, zone.extent().max.north];
        cover([sides[0], sides[1], Some(zone.edges())], norths)
    };
    zones.zones().iter().map(zone).collect()
}

impl Outline {
    /// The ground that the surface covers more than once, if any: more than rounding leaves along its edges.
    pub fn overlap(&self, precision: Precision) -> Option<Overlap> {
        let edges = self.edges()?;
        let norths = range(edges.iter().map(|e| e.from.north));
        let again: Again = sweep([Some(edges)], norths, Again::default);
        let area = again.area.value();
        let extent = Extent::of(edges.iter().map(|edge| edge.from));
        (area > precision.area(&extent)).then_some(Overlap { area, at: again.at })
    }

    /// The ground that the surface covers, once or more.
    pub fn area(&self) -> f64 {
        let Some(edges) = self.edges() else {
            return f64::INFINITY;
        };
        let norths = range(edges.iter().map(|e| e.from.north));
        sweep([Some(edges)], norths, Again::default).ground.value()
    }
}

/// The area that two zones share.
pub fn shared_area(one: &crate::zones::Zone, other: &crate::zones::Zone) -> f64 {
    if !one.extent().meets(&other.extent()) {
        return 0.0;
    }
    let both = one.extent().intersection(&other.extent());
    let layers = [Some(one.edges()), Some(other.edges()), None];
    cover(layers, [both.min.north, both.max.north]).both
}

fn range(norths: impl Iterator<Item = f64>) -> [f64; 2] {
    norths.fold([f64::INFINITY, f64::NEG_INFINITY], |[low, high], n| {
        [low.min(n), high.max(n)]
    })
}

fn cover(layers: [Option<&[Edge]>; 3], norths: [f64; 2]) -> Coverage {
    let sums: Sums = sweep(layers, norths, Sums::default);
    let [both, reference_only, surveyed_only, neither, pieces] = sums.0.map(Sum::value);
    Coverage {
        both,
        reference_only,
        surveyed_only,
        neither,
        pieces,
    }
}

/// The areas of a [`Coverage`], in its order.
#[derive(Default)]
struct Sums([Sum; 5]);

impl Tally<3> for Sums {
    fn take(&mut self, [reference, surveyed, zone]: [i32; 3], area: f64, _: Place) {
        if zone <= 0 {
            return;
        }
        let kind = match (reference > 0, surveyed > 0) {
            (true, true) => 0,
            (true, false) => 1,
            (false, true) => 2,
            (false, false) => 3,
        };
        self.0[kind] += area;
        if kind == 0 {
            self.0[4] += area * f64::from(reference * surveyed);
        }
    }

    fn join(&mut self, next: Self) {
        for (sum, next) in self.0.iter_mut().zip(next.0) {
            *sum += next;
        }
    }
}

/// What one surface covers, what it covers again, and the largest trapezoid of the latter.
#[derive(Default)]
struct Again {
    ground: Sum,
    area: Sum,
    largest: f64,
    at: Place,
}

impl Tally<1> for Again {
    fn take(&mut self, [times]: [i32; 1], area: f64, at: Place) {
        if times > 0 {
            self.ground += area;
        }
        if times > 1 {
            self.area += area * f64::from(times - 1);
            if area > self.largest {
                (self.largest, self.at) = (area, at);
            }
        }
    }

    fn join(&mut self, next: Self) {
        self.ground += next.ground;
        self.area += next.area;
        if next.largest > self.largest {
            (self.largest, self.at) = (next.largest, next.at);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::surface::{Surface, Tin, Vertex};
    use crate::units::LengthUnit;
    use crate::zones::Zone;

    const FRAME: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, FRAME)
    }

    fn square(min: f64, max: f64) -> Vec<Vertex> {
        let corners = [(min, min), (max, min), (max, max), (min, max)];
        corners
            .map(|(e, n)| Vertex::new(FRAME[0] + e, FRAME[1] + n, 0.0))
            .to_vec()
    }

    fn tin(squares: &[(f64, f64)]) -> Outline {
        let vertices = squares
            .iter()
            .flat_map(|&(min, max)| square(min, max))
            .collect();
        let facets = (0..squares.len() as u32)
            .flat_map(|i| [[0, 1, 2], [0, 2, 3]].map(|f| f.map(|v| v + 4 * i)));
        Outline::of(&Surface::Tin(
            Tin::from_facets(frame(), vertices, facets.collect()).unwrap(),
        ))
    }

    fn near(a: f64, b: f64) {
        assert!((a - b).abs() < 1e-9, "{a} is not {b}");
    }

    #[test]
    fn partial_overlap_in_a_zone() {
        let mut ring: Vec<Place> = square(0.0, 20.0).iter().map(|v| v.place()).collect();
        ring.push(ring[0]);
        let zones = Zones::new(
            frame(),
            vec![Zone::new("z", frame(), vec![vec![ring]]).unwrap()],
        );
        let found = coverage(&tin(&[(-5.0, 12.0)]), &tin(&[(8.0, 15.0)]), Some(&zones))[0];
        near(found.both, 16.0);
        near(found.reference_only, 144.0 - 16.0);
        near(found.surveyed_only, 49.0 - 16.0);
        near(found.neither, 400.0 - 144.0 - 49.0 + 16.0);
        near(found.pieces, 16.0);
    }

    #[test]
    fn a_fold_is_found_with_its_place() {
        let folded = tin(&[(0.0, 10.0), (7.0, 12.0)]);
        let overlap = folded.overlap(frame().precision()).unwrap();
        near(overlap.area, 9.0);
        assert!((7.0..10.0).contains(&overlap.at.east) && (7.0..10.0).contains(&overlap.at.north));
        near(folded.area(), 116.0);
        assert_eq!(
            tin(&[(0.0, 10.0), (10.0, 12.0)]).overlap(frame().precision()),
            None
        );
        let found = coverage(&folded, &tin(&[(6.0, 20.0)]), None)[0];
        near(found.both, 16.0 + 25.0 - 9.0);
        near(found.pieces, 41.0);
    }

    #[test]
    fn a_level_covers_everything() {
        let found = coverage(&Outline::Endless, &tin(&[(0.0, 3.0), (5.0, 6.0)]), None)[0];
        near(found.both, 10.0);
        near(found.surveyed_only, 0.0);
    }
}
