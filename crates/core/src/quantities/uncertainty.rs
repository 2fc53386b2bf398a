//! How uncertain a volume is, from how accurate the points of both surfaces are.
//!
//! After the *Guide to the Expression of Uncertainty in Measurement* (JCGM 100:2008, 5.1.2): a volume is linear in the
//! heights of points, each of which counts with the integral of its own share of the facets around it. See `docs/methods.md`, "Uncertainty of a volume".

mod by_chance;
mod correlated;
mod of_bands;
mod of_sections;
mod point_sums;
mod point_weights;
mod weights;

use crate::overlay::volume::{Tolerance, ZoneVolume, volumes_with};
use crate::overlay::{Both, Overlay, OverlayError};
use crate::plan::Place;
use crate::surface::Surface;
use by_chance::ByChance;
pub use by_chance::GainByChance;
pub use of_bands::{BandUncertainty, band_uncertainty, slice_uncertainty};
pub use of_sections::{CountedCut, section_uncertainty};
use point_sums::{CUT_FILL_NET, Summed};
pub use point_weights::PointWeights;
use weights::{Entries, WeightFold};

/// How accurate the points of a surface are: standard uncertainties, in the unit of its frame.
///
/// ```
/// use dapedon_core::quantities::Accuracy;
/// let rover = Accuracy { height: 0.02, plan: 0.015, common_height: 0.01, ..Accuracy::EXACT };
/// assert!(rover.is_sound());
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Accuracy {
    /// Of the height of each point by itself.
    pub height: f64,
    /// Of the place of each point by itself, in east and in north.
    pub plan: f64,
    /// Of all heights alike: the setup, the datum.
    pub common_height: f64,
    /// Of all places alike, in east and in north.
    pub common_plan: f64,
    /// How far the errors of heights go together: at this distance their correlation has fallen to 1/e. Nothing where each point errs by itself.
    pub correlation: f64,
}

impl Accuracy {
    /// A design, or a level: nothing about it is uncertain.
    pub const EXACT: Accuracy = Accuracy {
        height: 0.0,
        plan: 0.0,
        common_height: 0.0,
        common_plan: 0.0,
        correlation: 0.0,
    };

    /// Of numbers in the order of its fields.
    pub const fn of([height, plan, common_height, common_plan, correlation]: [f64; 5]) -> Self {
        Accuracy {
            height,
            plan,
            common_height,
            common_plan,
            correlation,
        }
    }

    /// Its numbers, in the order of its fields.
    pub const fn numbers(&self) -> [f64; 5] {
        [
            self.height,
            self.plan,
            self.common_height,
            self.common_plan,
            self.correlation,
        ]
    }

    /// Whether all its numbers are finite and none is below zero.
    pub fn is_sound(&self) -> bool {
        let numbers = self.numbers();
        numbers
            .iter()
            .all(|value| value.is_finite() && *value >= 0.0)
    }

    /// The same in a unit that is so many times smaller.
    #[must_use]
    pub fn times(&self, factor: f64) -> Accuracy {
        Accuracy::of(self.numbers().map(|value| value * factor))
    }
}

/// What the points of one surface add to the uncertainty of a volume: standard uncertainties, which are independent of each other.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct UncertaintyParts {
    /// Of heights, each by itself.
    pub height: f64,
    /// Of places, each by itself.
    pub plan: f64,
    /// Of all heights alike.
    pub common_height: f64,
    /// Of all places alike.
    pub common_plan: f64,
    /// What of the first two is from points on slopes, steeper than one in ten; nothing where errors of heights go together.
    pub on_slopes: f64,
}

impl UncertaintyParts {
    /// All of them together.
    pub fn standard(&self) -> f64 {
        let parts = [self.height, self.plan, self.common_height, self.common_plan];
        parts.iter().map(|part| part * part).sum::<f64>().sqrt()
    }
}

/// What both surfaces add to the uncertainty of a volume. Their errors are independent.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct BothSides {
    /// The reference.
    pub reference: UncertaintyParts,
    /// The surveyed surface.
    pub surveyed: UncertaintyParts,
}

impl BothSides {
    /// Both of them together.
    pub fn standard(&self) -> f64 {
        libm::hypot(self.reference.standard(), self.surveyed.standard())
    }
}

/// The uncertainty of the volumes of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct VolumeUncertainty {
    /// Of the cut.
    pub cut: BothSides,
    /// Of the fill.
    pub fill: BothSides,
    /// Of fill less cut.
    pub net: BothSides,
    /// What cut and fill are too large by on average, beside all that: where the surfaces are closer than they are accurate.
    pub by_chance: GainByChance,
}

/// Volumes by zone, and how much each point of both surfaces counts in them.
#[derive(Debug, Clone)]
pub struct WeighedVolumes<'s> {
    /// The volumes of each zone.
    pub zones: Vec<ZoneVolume>,
    surfaces: [&'s Surface; 2],
    accuracies: [Accuracy; 2],
    by_chance: Vec<GainByChance>,
    /// What counts of the facets of each side.
    entries: [Entries; 2],
}

/// Measures the volumes of an overlay as [`volumes`](crate::quantities::volumes) does, to the same bits, and in the same walk how much
/// each point of both surfaces counts in them.
///
/// `surfaces` are those of the overlay, the reference first, and `accuracies` theirs. The points of a surface are the corners of its facets. The triangulation is kept as it
/// is; ground that is as high as the other surface counts as if it stayed on its side of zero.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{Accuracy, Tolerance, weighed_volumes};
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // Ten by ten metres at 2 m over a level, all heights 10 mm too high or too low: 1 m³ more or less.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let flat = Grid::new(frame, frame.to_local(0.0, 0.0), [1.0, 1.0], [11, 11], vec![2.0; 121]).unwrap();
/// let [level, flat] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(flat)];
/// let overlay = Overlay::new(&level, &flat, None).unwrap();
/// let survey = Accuracy { common_height: 0.01, ..Accuracy::EXACT };
/// let weighed = weighed_volumes(&overlay, Tolerance::ZERO, [&level, &flat], [Accuracy::EXACT, survey]).unwrap();
/// let found = weighed.uncertainty(&[0]);
/// assert!((found.fill.standard() - 1.0).abs() < 1e-12);
/// ```
pub fn weighed_volumes<'s>(
    overlay: &Overlay<'_>,
    tolerance: Tolerance,
    surfaces: [&'s Surface; 2],
    accuracies: [Accuracy; 2],
) -> Result<WeighedVolumes<'s>, OverlayError> {
    let weights = WeightFold::new(tolerance.value(), overlay.frame().precision());
    let by_chance = ByChance::of(overlay, &accuracies, tolerance.value());
    let (zones, (gathered, by_chance)) =
        volumes_with(overlay, tolerance, Both(weights, by_chance))?;
    Ok(WeighedVolumes {
        entries: WeightFold::entries(gathered, zones.len()),
        zones,
        surfaces,
        accuracies,
        by_chance,
    })
}

impl WeighedVolumes<'_> {
    /// How uncertain the sum of the volumes of some zones is. Zones share points, so it is less
    /// than the sum of their uncertainties, or as much.
    pub fn uncertainty(&self, zones: &[usize]) -> VolumeUncertainty {
        let one = |side: usize| {
            let (entries, accuracy) = (&self.entries[side], &self.accuracies[side]);
            if *accuracy == Accuracy::EXACT {
                return [UncertaintyParts::default(); 3];
            }
            let summed = Summed::over(self.surfaces[side], &entries.of(zones));
            parts(&summed, accuracy)
        };
        let (reference, surveyed) = rayon::join(|| one(0), || one(1));
        let [cut, fill, net] = [0, 1, 2].map(|kind| BothSides {
            reference: reference[kind],
            surveyed: surveyed[kind],
        });
        let by_chance = zones.iter().filter_map(|&zone| self.by_chance.get(zone));
        VolumeUncertainty {
            cut,
            fill,
            net,
            by_chance: GainByChance::sum(by_chance),
        }
    }

    /// By how much cut, and by how much fill, of the sum of some zones grow with each point of the reference.
    pub fn reference_weights(&self, zones: &[usize]) -> [PointWeights; 2] {
        // Where the reference rises there is more cut and less fill.
        self.weights(0, zones, [[1.0, 0.0], [0.0, -1.0]])
    }

    /// The same with each point of the surveyed surface.
    pub fn surveyed_weights(&self, zones: &[usize]) -> [PointWeights; 2] {
        self.weights(1, zones, [[-1.0, 0.0], [0.0, 1.0]])
    }

    fn weights(&self, side: usize, zones: &[usize], counts: [[f64; 2]; 2]) -> [PointWeights; 2] {
        let summed = Summed::over(self.surfaces[side], &self.entries[side].of(zones));
        counts.map(|counts| PointWeights::of(summed.numbered(counts)))
    }
}

/// Ground that rises more than this is a slope.
const STEEP: f64 = 0.1;

/// What the weights of one side make of its accuracy: of cut, fill and net.
fn parts(summed: &Summed<'_>, accuracy: &Accuracy) -> [UncertaintyParts; 3] {
    CUT_FILL_NET.map(|counts| {
        let (points, all) = (summed.points(counts), summed.all(counts));
        parts_of(points, summed.places(), all, accuracy)
    })
}

/// What points add that count so much with their height and their place, and what all of them add alike.
fn parts_of(
    points: impl Iterator<Item = [f64; 3]> + Clone,
    places: impl Iterator<Item = Place> + Clone,
    [weight, east, north]: [f64; 3],
    accuracy: &Accuracy,
) -> UncertaintyParts {
    let heights = points.clone().map(|[weight, ..]| weight);
    let of_heights = match accuracy.correlation > 0.0 {
        true => correlated::variance(places.zip(heights), accuracy.correlation),
        false => heights.map(|weight| weight * weight).sum::<f64>(),
    };
    let of_places = points
        .clone()
        .map(|[_, east, north]| east * east + north * north);
    // The weights of a point in plan are those of its height times the slope around it.
    let on_slopes =
        points.filter(|[weight, east, north]| libm::hypot(*east, *north) > STEEP * weight.abs());
    let on_slopes = on_slopes.map(|[weight, east, north]| {
        let plan = accuracy.plan * accuracy.plan * (east * east + north * north);
        accuracy.height * accuracy.height * weight * weight + plan
    });
    UncertaintyParts {
        on_slopes: match accuracy.correlation > 0.0 {
            true => 0.0,
            false => on_slopes.sum::<f64>().sqrt(),
        },
        height: accuracy.height * of_heights.max(0.0).sqrt(),
        plan: accuracy.plan * of_places.sum::<f64>().sqrt(),
        common_height: accuracy.common_height * weight.abs(),
        common_plan: accuracy.common_plan * libm::hypot(east, north),
    }
}

#[cfg(test)]
mod tests;
