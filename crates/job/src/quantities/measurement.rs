//! What was measured, in the units it is reported in: the object that `--json` prints and every
//! report shows.

use dapedon_core::plan::{RELATIVE, Sum};
use dapedon_core::quantities::Volumes as CoreVolumes;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length, Volume};
use crate::finding::{Code, Finding};
use crate::input::InputFile;
use crate::job_file::JobFacts;
use crate::quantities::bands::Bands;
use crate::quantities::convert::ConvertedLine;
use crate::quantities::depths::ZoneDepths;
use crate::quantities::opinions::SecondOpinions;
use crate::quantities::uncertainty::{Uncertainty, ZoneUncertainty};
use crate::quantities::untouched::{ProposedUntouched, Untouched};
use crate::schema::{Schema, Word};
use crate::surfaces::SurfaceFacts;
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
    /// Currency of rates and costs.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub currency: Option<String>,
    /// From this side.
    pub reference: SurfaceFacts,
    /// To this side.
    pub surveyed: SurfaceFacts,
    /// Differences up to this size, in the length unit, count as unchanged.
    pub tolerance: Length,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
    /// A row a zone; one named `all` when no zone was given.
    pub zones: Vec<ZoneMeasurement>,
    /// The sum of the zones, when there are several.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub total: Option<ZoneMeasurement>,
    /// How uncertain the volumes are, where it is known how accurate both surfaces are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub uncertainty: Option<Uncertainty>,
    /// How both sides compare on ground that nobody touched, where such ground was named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub untouched: Option<Untouched>,
    /// Ground that may be untouched, where a proposal was asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub proposed_untouched: Option<ProposedUntouched>,
    /// The same found in other ways, and figures that somebody else states, where that was asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub second_opinions: Option<SecondOpinions>,
    /// Cut and fill by depth, zone by zone and then all of them, where that was asked for.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub by_depth: Vec<ZoneDepths>,
    /// The ground by how much it differs, where that was asked for.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bands: Option<Bands>,
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
    pub zones: Vec<Volumes>,
    /// Their sum.
    pub total: Volumes,
    /// By how much the net is more with the build-up than without.
    pub net_difference: Volume,
    /// What the layers come to that were gone below.
    pub layers: Volume,
}

/// What was measured in one zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct ZoneMeasurement {
    /// Name of the job.
    pub zone: String,
    /// Plan areas.
    pub area: Areas,
    /// Volumes.
    pub volume: Volumes,
    /// Differences of height; none where nothing was compared.
    pub difference: Option<Difference>,
    /// The proof that nothing was lost.
    pub closure: Closure,
}

/// Plan areas of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Areas {
    /// Both sides lie there; cut, fill and unchanged add up to it.
    pub compared: Area,
    /// The surveyed surface is lower.
    pub cut: Area,
    /// The surveyed surface is higher.
    pub fill: Area,
    /// Neither, within the tolerance.
    pub unchanged: Area,
    /// Only the reference lies there.
    pub reference_only: Area,
    /// Only the surveyed surface lies there.
    pub surveyed_only: Area,
    /// Neither side lies there, within the zone; none where no zone says where that ends.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub neither: Option<Area>,
}

/// Volumes of a zone.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Volumes {
    /// Taken away.
    pub cut: Volume,
    /// Put there.
    pub fill: Volume,
    /// Fill less cut.
    pub net: Volume,
    /// Between the surfaces where they are unchanged, whichever is on top; in none of the others.
    pub unchanged: Volume,
}

/// Differences of height: surveyed less reference.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Difference {
    /// The least.
    pub min: Length,
    /// The greatest.
    pub max: Length,
    /// The mean over the compared area.
    pub mean: Length,
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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Closure {
    /// The number of pieces the figures are summed over.
    pub pieces: u64,
    /// The area of the pieces.
    pub area: Area,
    /// The area of the domain.
    pub domain: Area,
    /// Their difference against the domain.
    pub relative: f64,
}

impl ZoneMeasurement {
    /// Net in words, so that nobody has to guess a sign.
    pub fn net_in_words(&self) -> &'static str {
        match self.volume.net.value {
            net if net > 0.0 => "more fill than cut",
            net if net < 0.0 => "more cut than fill",
            _ => "cut equals fill",
        }
    }

    /// Says of its volumes how uncertain they are.
    pub(crate) fn is_uncertain_by(&mut self, own: &ZoneUncertainty) {
        let volume = &mut self.volume;
        let each = [
            (&mut volume.cut, own.cut),
            (&mut volume.fill, own.fill),
            (&mut volume.net, own.net),
        ];
        for (figure, own) in each {
            figure.uncertainty = Some(own.standard.value);
        }
    }

    /// The sum of `zones`, or `None` when there are fewer than two.
    pub(crate) fn total(zones: &[ZoneMeasurement], units: &ReportUnits) -> Option<ZoneMeasurement> {
        (zones.len() > 1).then(|| ZoneMeasurement::sum("total", zones, units))
    }

    /// The sum of `zones`, under a name.
    pub(crate) fn sum<'z>(
        name: &str,
        zones: impl IntoIterator<Item = &'z ZoneMeasurement>,
        units: &ReportUnits,
    ) -> ZoneMeasurement {
        let zones: Vec<&ZoneMeasurement> = zones.into_iter().collect();
        let total = |of: &dyn Fn(&ZoneMeasurement) -> Area| {
            Area::sum(units.area, zones.iter().map(|zone| of(zone)))
        };
        let neither = zones.iter().filter_map(|zone| zone.area.neither);
        let area = Areas {
            compared: total(&|z| z.area.compared),
            cut: total(&|z| z.area.cut),
            fill: total(&|z| z.area.fill),
            unchanged: total(&|z| z.area.unchanged),
            reference_only: total(&|z| z.area.reference_only),
            surveyed_only: total(&|z| z.area.surveyed_only),
            neither: (neither.clone().next()).map(|_| Area::sum(units.area, neither)),
        };
        ZoneMeasurement {
            zone: name.into(),
            area,
            volume: Volumes::sum(zones.iter().map(|zone| &zone.volume), units),
            difference: Difference::over(&zones, area.compared),
            closure: Closure::of(
                zones.iter().map(|z| z.closure.pieces).sum(),
                total(&|z| z.closure.area),
                total(&|z| z.closure.domain),
            ),
        }
    }

    /// The ground that was not compared, and who covers it alone.
    pub(crate) fn not_compared(&self) -> impl Iterator<Item = (Area, &'static str)> {
        let alone = [
            (Some(self.area.reference_only), "only the reference"),
            (Some(self.area.surveyed_only), "only the surveyed surface"),
            (self.area.neither, "neither surface"),
        ];
        let found = alone.into_iter();
        found.filter_map(|(area, who)| Some((area.filter(|area| area.value > 0.0)?, who)))
    }
}

/// Volumes of a report, in cubes of the length unit.
pub(crate) fn volume_of_report(own: &Volumes, units: &ReportUnits) -> CoreVolumes {
    let cubes = |figure: Volume| units.cubes_of(figure.value);
    CoreVolumes {
        cut: cubes(own.cut),
        fill: cubes(own.fill),
        net: cubes(own.net),
        unchanged: cubes(own.unchanged),
    }
}

impl Volumes {
    /// The sum of some.
    pub(crate) fn sum<'v>(
        all: impl Iterator<Item = &'v Volumes> + Clone,
        units: &ReportUnits,
    ) -> Volumes {
        let sum = |of: fn(&Volumes) -> Volume| Volume::sum(units.volume, all.clone().map(of));
        Volumes {
            cut: sum(|v| v.cut),
            fill: sum(|v| v.fill),
            net: sum(|v| v.net),
            unchanged: sum(|v| v.unchanged),
        }
    }
}

impl Difference {
    /// Over all of some zones: the least, the greatest, and the mean over their area.
    fn over(zones: &[&ZoneMeasurement], compared: Area) -> Option<Difference> {
        let measured = zones.iter().filter_map(|zone| zone.difference);
        let mut all = measured.reduce(|a, b| {
            let least = if b.min.value < a.min.value { b } else { a };
            let greatest = if b.max.value > a.max.value { b } else { a };
            Difference {
                min: least.min,
                min_at: least.min_at,
                max: greatest.max,
                max_at: greatest.max_at,
                mean: a.mean,
            }
        })?;
        let mut weighted = Sum::default();
        for zone in zones {
            let mean = zone.difference.map_or(0.0, |d| d.mean.value);
            weighted += mean * zone.area.compared.value;
        }
        all.mean.value = weighted.value() / compared.value;
        Some(all)
    }
}

impl Closure {
    pub(crate) fn of(pieces: u64, area: Area, domain: Area) -> Self {
        let gap = (area.value - domain.value).abs();
        Closure {
            pieces,
            area,
            domain,
            relative: if domain.value > 0.0 {
                gap / domain.value
            } else {
                0.0
            },
        }
    }

    /// What to say where the pieces do not fill their domain.
    pub(crate) fn finding(&self) -> Option<Finding> {
        let Closure { area, domain, .. } = self;
        let symbol = area.unit.symbol();
        (self.relative > RELATIVE).then(|| {
            let words = format!(
                "the pieces add up to {} {symbol}, and the measured area is {} {symbol}",
                area.value, domain.value
            );
            Finding::new(Code::Closure, words)
        })
    }
}
