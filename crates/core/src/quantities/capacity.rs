//! What a basin holds: area and volume of the water at each of many levels.

mod pool;
mod typed;

use rayon::prelude::*;

use crate::quantities::WaterAtLevel;
use crate::quantities::water::{BasinFacet, Rising};
use crate::surface::{Tin, Vertex};
pub use pool::{Pool, PoolError, Spill};
pub use typed::{Between, TypedAreas, TypedAreasError};

/// Facets that are summed in one run.
const RUN: usize = 1 << 15;

/// The bed of a basin.
///
/// ```
/// use dapedon_core::plan::{Frame};
/// use dapedon_core::quantities::{Basin};
/// use dapedon_core::surface::{Tin, Vertex};
/// use dapedon_core::units::{LengthUnit};
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// // A pit of 6 by 6 with its deepest place 3 below the rim.
/// let corners = [(0.0, 0.0, 3.0), (6.0, 0.0, 3.0), (6.0, 6.0, 3.0), (0.0, 6.0, 3.0), (3.0, 3.0, 0.0)];
/// let vertices = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let pit = Tin::from_facets(frame, vertices, vec![[0, 1, 4], [1, 2, 4], [2, 3, 4], [3, 0, 4]]).unwrap();
/// let full = Basin::of(&pit).at(&[1.5, 3.0]);
/// assert_eq!((full[0].area, full[0].volume), (9.0, 4.5));
/// assert_eq!((full[1].area, full[1].volume), (36.0, 36.0));
/// ```
#[derive(Debug, Clone)]
pub struct Basin {
    beds: Vec<BasinFacet>,
}

impl Basin {
    /// All of a surface: whatever lies below a level holds water, connected or not.
    pub fn of(tin: &Tin) -> Self {
        Basin::reached(tin, |_| f64::NEG_INFINITY)
    }

    /// A surface of which each facet is reached from a level on.
    fn reached(tin: &Tin, from: impl Fn([u32; 3]) -> f64) -> Self {
        let beds = tin.facets().iter().enumerate().map(|(index, &facet)| {
            let corners = tin.corners(index);
            let mut heights = corners.map(|corner| corner.height);
            heights.sort_by(f64::total_cmp);
            BasinFacet {
                heights,
                area: plan_area(&corners),
                from: from(facet),
            }
        });
        Basin {
            beds: beds.collect(),
        }
    }

    /// The lowest and the highest height of the bed.
    pub fn heights(&self) -> [f64; 2] {
        let all = self.beds.iter().map(|bed| bed.heights);
        all.fold([f64::INFINITY, f64::NEG_INFINITY], |[low, high], bed| {
            [low.min(bed[0]), high.max(bed[2])]
        })
    }

    /// The level at which there is water first.
    pub fn first_wet(&self) -> f64 {
        let wet = self.beds.iter().map(|bed| bed.heights[0].max(bed.from));
        wet.fold(f64::INFINITY, f64::min)
    }

    /// The water at each of some ascending levels: one pass over the facets, whatever the number of levels.
    pub fn at(&self, levels: &[f64]) -> Vec<WaterAtLevel> {
        // Runs that do not depend on the number of threads, joined in their order.
        let runs = self.beds.par_chunks(RUN).map(|beds| {
            let mut rising = Rising::over(levels);
            beds.iter().for_each(|bed| rising.add(bed));
            rising
        });
        let mut whole = Rising::over(levels);
        for rising in runs.collect::<Vec<_>>() {
            whole.join(rising);
        }
        whole.storages()
    }

    /// The level at which the water has a volume, between the lowest place of the bed and a highest level; none where
    /// that holds less.
    ///
    /// The volume grows with the level, by the area for each unit. Its place is found among levels spread over the
    /// range, then among more between two of them, and at last on the curve that has both volumes and both areas.
    pub fn level_of(&self, volume: f64, highest: f64) -> Option<WaterAtLevel> {
        const SPREAD: usize = 64;
        let [mut low, mut high] = [self.first_wet(), highest];
        if high < low || self.at(&[high])[0].volume < volume {
            return None;
        }
        for _ in 0..6 {
            let share = |index: usize| index as f64 / SPREAD as f64;
            let levels = (0..=SPREAD).map(|index| low * (1.0 - share(index)) + high * share(index));
            let levels: Vec<f64> = levels.collect();
            let found = self.at(&levels);
            let after = found.partition_point(|storage| storage.volume < volume);
            match after {
                0 => return found.first().copied(),
                after => [low, high] = [levels[after - 1], levels[after.min(SPREAD)]],
            }
        }
        let [a, b] = [low, high].map(|level| self.at(&[level])[0]);
        let share = match b.volume > a.volume {
            true => (volume - a.volume) / (b.volume - a.volume),
            false => 1.0,
        };
        let level = low + share * (high - low);
        Some(self.at(&[level])[0])
    }
}

fn plan_area([a, b, c]: &[Vertex; 3]) -> f64 {
    crate::plan::cross(a.place(), b.place(), c.place()) / 2.0
}

/// The volume between two levels from their areas: half their sum, times the step (the average end area).
///
/// ```
/// assert_eq!(dapedon_core::quantities::average_end_area([4.0, 9.0], 2.0), 13.0);
/// ```
pub fn average_end_area([lower, upper]: [f64; 2], step: f64) -> f64 {
    (lower + upper) / 2.0 * step
}

/// The same as the frustum of a cone: a third of the step times both areas and their geometric mean.
///
/// ```
/// // A pyramid cut half way up: 1 by 1 on top of 2 by 2, 3 high.
/// assert_eq!(dapedon_core::quantities::conic([4.0, 1.0], 3.0), 7.0);
/// ```
pub fn conic([lower, upper]: [f64; 2], step: f64) -> f64 {
    (lower + upper + (lower * upper).sqrt()) / 3.0 * step
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Level, Surface};
    use crate::units::LengthUnit;
    use proptest::prelude::*;

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, ORIGIN)
    }

    /// A bowl: rings of so many sides about a middle, each with its radius and height.
    fn bowl(rings: &[(f64, f64)], bottom: f64, sides: u32) -> Tin {
        let mut vertices = vec![Vertex::new(ORIGIN[0], ORIGIN[1], bottom)];
        let mut facets = Vec::new();
        for (ring, &(radius, height)) in (0u32..).zip(rings) {
            for side in 0..sides {
                let (sin, cos) =
                    (f64::from(side) * std::f64::consts::TAU / f64::from(sides)).sin_cos();
                vertices.push(Vertex::new(
                    ORIGIN[0] + radius * cos,
                    ORIGIN[1] + radius * sin,
                    height,
                ));
                let of = |ring: u32, side: u32| 1 + ring * sides + side % sides;
                let (a, b) = (of(ring, side), of(ring, side + 1));
                match ring {
                    0 => facets.push([0, a, b]),
                    _ => {
                        let (c, d) = (of(ring - 1, side), of(ring - 1, side + 1));
                        facets.extend([[c, a, b], [c, b, d]]);
                    }
                }
            }
        }
        Tin::from_facets(frame(), vertices, facets).unwrap()
    }

    /// A regular polygon of n sides on a circle of radius r has the area n r² sin(2 pi / n) / 2.
    fn polygon(radius: f64, sides: u32) -> f64 {
        let n = f64::from(sides);
        n * radius * radius * (std::f64::consts::TAU / n).sin() / 2.0
    }

    /// Cone up to 4 with radius 6, and a frustum on it up to 10 with radius 9, both with 12 sides: pyramids and
    /// frusta, whose sections are like the polygon. Below a level l < 4 the radius is 1.5 l; above it 6 + (l - 4) / 2.
    #[test]
    fn a_cone_below_a_frustum() {
        let basin = Basin::of(&bowl(&[(6.0, 4.0), (9.0, 10.0)], 0.0, 12));
        let cone = |level: f64| polygon(1.5 * level, 12) * level / 3.0;
        let levels: Vec<f64> = (0..=20).map(|index| f64::from(index) / 2.0).collect();
        for found in basin.at(&levels) {
            let level = found.level;
            let (area, volume) = match level <= 4.0 {
                true => (polygon(1.5 * level, 12), cone(level)),
                false => {
                    let radius = 6.0 + (level - 4.0) / 2.0;
                    let ends = [polygon(6.0, 12), polygon(radius, 12)];
                    (ends[1], cone(4.0) + conic(ends, level - 4.0))
                }
            };
            // To the rounding of coordinates of six million, a nanometre, over sections of some 50 m about.
            assert!((found.area - area).abs() < 1e-7, "{found:?} {area}");
            assert!((found.volume - volume).abs() < 1e-6, "{found:?} {volume}");
        }
    }

    /// The polyhedron of a spherical cap holds less than the cap by its chords: here 2 % with 48 sides and 24 rings,
    /// and the conic formula over levels at the rings gives the polyhedron to what its sections bend between them.
    #[test]
    fn a_spherical_cap_is_held_to_its_facets() {
        let radius = 10.0f64;
        let ring = |step: u32| {
            let angle = f64::from(step) * std::f64::consts::FRAC_PI_2 / 24.0;
            (radius * angle.sin(), radius - radius * angle.cos())
        };
        let rings: Vec<(f64, f64)> = (1..=24).map(ring).collect();
        let basin = Basin::of(&bowl(&rings, 0.0, 48));
        let full = basin.at(&[5.0])[0];
        let cap = std::f64::consts::PI * 5.0 * 5.0 * (3.0 * radius - 5.0) / 3.0;
        let short = 1.0 - full.volume / cap;
        assert!(short > 0.0 && short < 0.02, "{short}");
    }

    #[test]
    fn formulas_from_areas_lie_beside_the_integral() {
        let basin = Basin::of(&bowl(&[(6.0, 4.0)], 0.0, 12));
        let found = basin.at(&[1.0, 2.0]);
        let (areas, exact) = (
            [found[0].area, found[1].area],
            found[1].volume - found[0].volume,
        );
        // Of a cone the conic formula is exact, and the average end area too much by a sixth of the gain in width.
        assert!((conic(areas, 1.0) - exact).abs() < 1e-9);
        let average = average_end_area(areas, 1.0);
        let over = polygon(1.5, 12) / 6.0;
        assert!(
            (average - exact - over).abs() < 1e-9,
            "{average} {exact} {over}"
        );
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]

        /// Against the overlay with a level plane, which knows nothing of this: on any ground and at any level.
        #[test]
        fn levels_are_what_the_overlay_measures(
            heights in prop::collection::vec(-64i32..64, 25),
            levels in prop::collection::vec(-40i32..40, 1..12),
            volume_share in 0.01..1.0f64,
        ) {
            let points = heights.iter().enumerate().map(|(index, height)| {
                let (e, n) = (3.0 * (index % 5) as f64, 3.0 * (index / 5) as f64);
                Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, f64::from(*height) / 16.0)
            });
            let pick_up = PickUp::from(points.collect::<Vec<_>>());
            let tin = triangulate(frame(), &pick_up, &Rules::default()).unwrap().tin;
            let basin = Basin::of(&tin);
            let mut levels: Vec<f64> = levels.iter().map(|level| f64::from(*level) / 8.0).collect();
            levels.sort_by(f64::total_cmp);
            let ground = Surface::Tin(tin);
            for found in basin.at(&levels) {
                let water = Surface::Level(Level::new(frame(), found.level));
                let measured = volume(&ground, &water, None, Tolerance::ZERO).unwrap()[0];
                prop_assert!((found.volume - measured.volume.fill).abs() < 1e-9 * (1.0 + measured.volume.fill));
                let (wet, still) = (measured.area.fill, measured.area.unchanged);
                prop_assert!((found.area - wet).abs() < 1e-9 * (1.0 + wet), "{found:?} {wet}");
                prop_assert!((found.level_ground - still).abs() < 1e-9 * (1.0 + still), "{found:?} {still}");
            }
            // The level of a volume holds that volume.
            let highest = basin.heights()[1] + 1.0;
            let wanted = volume_share * basin.at(&[highest])[0].volume;
            let found = basin.level_of(wanted, highest).unwrap();
            prop_assert!((found.volume - wanted).abs() < 1e-7 * (1.0 + wanted), "{found:?} {wanted}");
            prop_assert!(basin.level_of(1e9, highest).is_none());
        }
    }
}
