//! What was measured, in the units it is reported in: the object that `--json` prints and every
//! report shows.

use dapedon_core::plan::Sum;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::finding::Finding;
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::convert::ConvertedLine;
use crate::quantities::depths::ZoneDepths;
use crate::schema::{Schema, Word};
use crate::surfaces::Side;
use crate::units::ReportUnits;

/// A measurement between two surfaces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Measurement {
    /// The command: `volume`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The currency of costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// From this side.
    pub reference: Side,
    /// To this side.
    pub surveyed: Side,
    /// Differences up to this size, in the length unit, count as unchanged.
    pub tolerance: f64,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// A row a zone; one named `all` when no zone was given.
    pub zones: Vec<ZoneMeasurement>,
    /// The sum of the zones, when there are several.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<ZoneMeasurement>,
    /// Cut and fill by depth, zone by zone and then all of them, where that was asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub by_depth: Vec<ZoneDepths>,
    /// The same without what build-ups take off, where a side is dug below one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub without_build_up: Option<WithoutBuildUp>,
    /// What cut and fill become when they are hauled and placed, where that was asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub converted: Vec<ConvertedLine>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<Finding>,
}

/// What is measured to a finished level, where the formation below it is what is dug to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WithoutBuildUp {
    /// The volumes, zone by zone, in the order of the measurement's.
    pub zones: Vec<Volume>,
    /// Their sum.
    pub total: Volume,
    /// By how much the net is more with the build-up than without.
    pub net_difference: f64,
    /// What the layers come to that were gone below.
    pub layers: f64,
}

/// What was measured in one zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ZoneMeasurement {
    /// Its name.
    pub zone: String,
    /// Plan areas.
    pub area: Area,
    /// Volumes.
    pub volume: Volume,
    /// Differences of height; none where nothing was compared.
    pub difference: Option<Difference>,
    /// The proof that nothing was lost.
    pub closure: Closure,
}

/// Plan areas of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
pub struct Area {
    /// Both sides lie there; cut, fill and unchanged add up to it.
    pub compared: f64,
    /// The surveyed surface is lower.
    pub cut: f64,
    /// The surveyed surface is higher.
    pub fill: f64,
    /// Neither, within the tolerance.
    pub unchanged: f64,
    /// Only the reference lies there.
    pub reference_only: f64,
    /// Only the surveyed surface lies there.
    pub surveyed_only: f64,
    /// Neither side lies there, within the zone; none where no zone says where that ends.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub neither: Option<f64>,
}

/// Volumes of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
pub struct Volume {
    /// Taken away.
    pub cut: f64,
    /// Put there.
    pub fill: f64,
    /// Fill less cut.
    pub net: f64,
    /// Between the surfaces where they are unchanged, whichever is on top; in none of the others.
    pub unchanged: f64,
}

/// Differences of height: surveyed less reference.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Difference {
    /// The least.
    pub min: f64,
    /// The greatest.
    pub max: f64,
    /// The mean over the compared area.
    pub mean: f64,
    /// Where the least is.
    pub min_at: Extreme,
    /// Where the greatest is.
    pub max_at: Extreme,
}

/// A place in grid coordinates.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Extreme {
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
}

/// The areas of the pieces against the area of their domain, which is found from the outlines alone.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
pub struct Closure {
    /// The number of pieces the figures are summed over.
    pub pieces: u64,
    /// The area of the pieces.
    pub area: f64,
    /// The area of the domain.
    pub domain: f64,
    /// Their difference against the domain.
    pub relative: f64,
}

impl ZoneMeasurement {
    /// Net in words, so that nobody has to guess a sign.
    pub fn net_in_words(&self) -> &'static str {
        match self.volume.net {
            net if net > 0.0 => "shortfall",
            net if net < 0.0 => "surplus",
            _ => "balanced",
        }
    }

    /// The sum of `zones`, or `None` when there are fewer than two.
    pub(crate) fn total(zones: &[ZoneMeasurement]) -> Option<ZoneMeasurement> {
        (zones.len() > 1).then(|| ZoneMeasurement::sum("total", zones))
    }

    /// The sum of `zones`, under a name.
    pub(crate) fn sum<'z>(
        name: &str,
        zones: impl IntoIterator<Item = &'z ZoneMeasurement>,
    ) -> ZoneMeasurement {
        let zones: Vec<&ZoneMeasurement> = zones.into_iter().collect();
        let sum = |of: &dyn Fn(&ZoneMeasurement) -> f64| {
            let mut sum = Sum::default();
            zones.iter().for_each(|&zone| sum += of(zone));
            sum.value()
        };
        let area = Area {
            compared: sum(&|z| z.area.compared),
            cut: sum(&|z| z.area.cut),
            fill: sum(&|z| z.area.fill),
            unchanged: sum(&|z| z.area.unchanged),
            reference_only: sum(&|z| z.area.reference_only),
            surveyed_only: sum(&|z| z.area.surveyed_only),
            neither: (zones.iter().any(|z| z.area.neither.is_some()))
                .then(|| sum(&|z| z.area.neither.unwrap_or_default())),
        };
        let measured = || zones.iter().filter_map(|zone| zone.difference);
        let difference = measured().reduce(|a, b| {
            let (min, min_at) = if b.min < a.min {
                (b.min, b.min_at)
            } else {
                (a.min, a.min_at)
            };
            let (max, max_at) = if b.max > a.max {
                (b.max, b.max_at)
            } else {
                (a.max, a.max_at)
            };
            Difference {
                min,
                max,
                mean: 0.0,
                min_at,
                max_at,
            }
        });
        let weighted = sum(&|z| z.difference.map_or(0.0, |d| d.mean * z.area.compared));
        let (pieces, domain) = (sum(&|z| z.closure.area), sum(&|z| z.closure.domain));
        ZoneMeasurement {
            zone: name.into(),
            area,
            volume: Volume {
                cut: sum(&|z| z.volume.cut),
                fill: sum(&|z| z.volume.fill),
                net: sum(&|z| z.volume.net),
                unchanged: sum(&|z| z.volume.unchanged),
            },
            difference: difference.map(|difference| Difference {
                mean: weighted / area.compared,
                ..difference
            }),
            closure: Closure::of(zones.iter().map(|z| z.closure.pieces).sum(), pieces, domain),
        }
    }
}

impl Closure {
    pub(crate) fn of(pieces: u64, area: f64, domain: f64) -> Self {
        Closure {
            pieces,
            area,
            domain,
            relative: if domain > 0.0 {
                (area - domain).abs() / domain
            } else {
                0.0
            },
        }
    }
}
