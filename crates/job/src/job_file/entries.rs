//! What may stand in a job file, as serde reads it and its schema says it.

mod accuracy;
mod bill;
mod build_up;
mod calendar;
mod checks;
mod claims;
mod surface;
mod typical_section;

use std::collections::BTreeMap;

use crate::units::{RequestedAreaUnit, RequestedVolumeUnit, UnitCode};
use dapedon_core::units::{LengthUnit, MassUnit};

pub(crate) use accuracy::*;
pub(crate) use bill::*;
pub(crate) use build_up::*;
pub(crate) use calendar::*;
pub(crate) use checks::*;
pub(crate) use claims::*;
use schemars::JsonSchema;
use serde::Deserialize;
pub(crate) use surface::*;
use toml::Spanned;
pub(crate) use typical_section::*;

/// A name, and where it stands.
pub(crate) type Name = Spanned<String>;

/// A job file.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
#[schemars(title = "Dapedon job file")]
pub(crate) struct JobEntries {
    /// The job itself.
    pub(crate) job: FactsEntry,
    /// Units and decimals of results.
    #[serde(default)]
    pub(crate) report: ReportEntry,
    /// Surfaces, by their names.
    #[serde(default, rename = "surface")]
    #[schemars(with = "BTreeMap<String, SurfaceEntry>")]
    pub(crate) surfaces: BTreeMap<Name, SurfaceEntry>,
    /// How files of one origin are read, by names for `as` and `--as`.
    #[serde(default, rename = "reading")]
    #[schemars(with = "BTreeMap<String, ReadingEntry>")]
    pub(crate) readings: BTreeMap<Name, ReadingEntry>,
    /// Zones, by their names.
    #[serde(default, rename = "zone")]
    #[schemars(with = "BTreeMap<String, ZoneEntry>")]
    pub(crate) zones: BTreeMap<Name, ZoneEntry>,
    /// Lines, by their names.
    #[serde(default, rename = "line")]
    #[schemars(with = "BTreeMap<String, LineEntry>")]
    pub(crate) lines: BTreeMap<Name, LineEntry>,
    /// Typical sections, by their names.
    #[serde(default, rename = "typical-section")]
    #[schemars(with = "BTreeMap<String, TypicalSectionEntry>")]
    pub(crate) typical_sections: BTreeMap<Name, TypicalSectionEntry>,
    /// Build-ups, by their names.
    #[serde(default, rename = "build-up")]
    #[schemars(with = "BTreeMap<String, BuildUpEntry>")]
    pub(crate) build_ups: BTreeMap<Name, BuildUpEntry>,
    /// Bands of difference, by names for `bands` and `--bands`.
    #[serde(default, rename = "bands")]
    #[schemars(with = "BTreeMap<String, BandsEntry>")]
    pub(crate) bands: BTreeMap<Name, BandsEntry>,
    /// Materials, by their names.
    #[serde(default, rename = "material")]
    #[schemars(with = "BTreeMap<String, MaterialEntry>")]
    pub(crate) materials: BTreeMap<Name, MaterialEntry>,
    /// Vehicles, by their names.
    #[serde(default, rename = "vehicle")]
    #[schemars(with = "BTreeMap<String, VehicleEntry>")]
    pub(crate) vehicles: BTreeMap<Name, VehicleEntry>,
    /// The items of the bill, in its order.
    #[serde(default, rename = "item")]
    #[schemars(with = "Vec<ItemEntry>")]
    pub(crate) items: Vec<Spanned<ItemEntry>>,
    /// Work days.
    pub(crate) calendar: Option<CalendarEntry>,
    /// Terms of payment.
    #[serde(default)]
    pub(crate) terms: TermsEntry,
    /// Payment claims, in their order.
    #[serde(default, rename = "claim")]
    #[schemars(with = "Vec<ClaimEntry>")]
    pub(crate) claims: Vec<Spanned<ClaimEntry>>,
    /// What the payer certified of claims.
    #[serde(default, rename = "certificate")]
    #[schemars(with = "Vec<CertificateEntry>")]
    pub(crate) certificates: Vec<Spanned<CertificateEntry>>,
    /// Ground that nobody touched between two surveys.
    #[serde(default)]
    #[schemars(with = "Vec<UntouchedEntry>")]
    pub(crate) untouched: Vec<Spanned<UntouchedEntry>>,
    /// Built surfaces that are checked against their designs.
    #[serde(default)]
    #[schemars(with = "Vec<ConformityEntry>")]
    pub(crate) conformity: Vec<Spanned<ConformityEntry>>,
    /// Warnings that somebody has looked into.
    #[serde(default)]
    #[schemars(with = "Vec<AcknowledgedEntry>")]
    pub(crate) acknowledged: Vec<Spanned<AcknowledgedEntry>>,
}

/// A file of readings alone, as a person keeps them for all jobs.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(crate) struct ReadingEntries {
    /// How files of one origin are read, by names.
    #[serde(default, rename = "reading")]
    pub(crate) readings: BTreeMap<Name, ReadingEntry>,
}

/// The job itself.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct FactsEntry {
    /// Name of the job.
    pub(crate) name: String,
    /// Contract name or number.
    pub(crate) contract: Option<String>,
    /// Parties to the contract, as free text: client, contractor and so on.
    #[serde(default)]
    pub(crate) parties: BTreeMap<String, String>,
    /// Length unit of this file, and of files without one: m, ft or us-ft.
    pub(crate) unit: UnitCode<LengthUnit>,
    /// Coordinate system, as in "EPSG:25832". Files in another system are refused.
    pub(crate) coordinates: Option<String>,
    /// Height system, as in "EPSG:7837". Files in another height system are refused.
    pub(crate) height_system: Option<String>,
    /// Currency of rates and costs.
    pub(crate) currency: Option<String>,
    /// Volume unit of densities, vehicles, prices and counts: m3, ft3 or yd3 [default: m3; yd3
    /// where the length unit is a foot].
    pub(crate) volume_unit: Option<UnitCode<RequestedVolumeUnit>>,
    /// Unit of masses: t, or ton for 2000 lb [default: t; ton where the length unit is a foot].
    pub(crate) mass_unit: Option<UnitCode<MassUnit>>,
}

/// So many numbers, neither fewer nor more: the reader of TOML would pass over what is too many.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Numbers<const N: usize>(pub(crate) [f64; N]);

impl<'de, const N: usize> Deserialize<'de> for Numbers<N> {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let all = Vec::<f64>::deserialize(from)?;
        let numbers = all.try_into().map_err(|all: Vec<f64>| {
            serde::de::Error::custom(format!("{} numbers found, {N} expected", all.len()))
        })?;
        Ok(Numbers(numbers))
    }
}

/// Units and decimals of results.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ReportEntry {
    /// Unit of areas: m2, ha, ft2, yd2 or acre.
    pub(crate) area_unit: Option<UnitCode<RequestedAreaUnit>>,
    /// Unit of volumes: m3, ft3 or yd3.
    pub(crate) volume_unit: Option<UnitCode<RequestedVolumeUnit>>,
    /// Decimals of areas and volumes.
    #[schemars(with = "Option<u8>", range(max = 6))]
    pub(crate) decimals: Option<Spanned<u8>>,
}

/// One text, or several.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a text, or a list of them")]
pub(crate) enum OneOrMany {
    /// One.
    One(String),
    /// Several.
    Many(Vec<String>),
}

/// The texts of an entry, each with the place of all of them.
pub(crate) fn all(entry: &Option<Spanned<OneOrMany>>) -> Vec<Name> {
    let Some(entry) = entry else {
        return Vec::new();
    };
    let texts = match entry.get_ref() {
        OneOrMany::One(one) => std::slice::from_ref(one),
        OneOrMany::Many(many) => many,
    };
    let spanned = texts
        .iter()
        .map(|text| Spanned::new(entry.span(), text.clone()));
    spanned.collect()
}

/// A zone: from a file, by its corners, a strip along a line, or where a surface is below or above a level.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ZoneEntry {
    /// File of the zone; `file#name` for one of several. Without #name: all zones of the file.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// Corners as east and north, in the job's unit.
    #[schemars(with = "Option<Vec<[f64; 2]>>")]
    pub(crate) corners: Option<Spanned<Vec<Numbers<2>>>>,
    /// Attribute that names the features of GeoJSON files and shapefiles.
    pub(crate) name_attribute: Option<String>,
    /// Line that the zone is a strip along, between the offsets `left` and `right`.
    #[schemars(with = "Option<String>")]
    pub(crate) line: Option<Name>,
    /// Left edge of the strip: its offset, to the right of the line where positive.
    #[schemars(with = "Option<f64>")]
    pub(crate) left: Option<Spanned<f64>>,
    /// Right edge of the strip: its offset, to the right of the line where positive.
    #[schemars(with = "Option<f64>")]
    pub(crate) right: Option<Spanned<f64>>,
    /// First chainage of the strip, as in "0+120" [default: the start of the line].
    #[schemars(with = "Option<String>")]
    pub(crate) from: Option<Name>,
    /// Last chainage of the strip [default: the end of the line].
    #[schemars(with = "Option<String>")]
    pub(crate) to: Option<Name>,
    /// Interval: the strip in parts, cut at round chainages and named by them.
    #[schemars(with = "Option<f64>")]
    pub(crate) every: Option<Spanned<f64>>,
    /// Surface for `below` and `above`. Such a zone limits measurements, not the steps of a
    /// surface.
    #[schemars(with = "Option<String>")]
    pub(crate) surface: Option<Name>,
    /// Zone where the surface is below this level.
    #[schemars(with = "Option<f64>")]
    pub(crate) below: Option<Spanned<f64>>,
    /// Zone where the surface is above this level.
    #[schemars(with = "Option<f64>")]
    pub(crate) above: Option<Spanned<f64>>,
    /// Only the ground below the level that is connected to this position, as east and north.
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) pool: Option<Spanned<Numbers<2>>>,
}

/// Bands of difference: ground by how much it differs. Heights in the job's unit; cut is negative.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct BandsEntry {
    /// Edges, rising, as in [-1.0, -0.5, 0.5, 1.0].
    #[schemars(with = "Option<Vec<f64>>")]
    pub(crate) edges: Option<Spanned<Vec<f64>>>,
    /// Height of bands of equal height, in place of edges.
    #[schemars(with = "Option<f64>")]
    pub(crate) step: Option<Spanned<f64>>,
    /// Largest height difference in the middle band [default: the tolerance].
    #[schemars(with = "Option<f64>")]
    pub(crate) middle: Option<Spanned<f64>>,
    /// Colours of all bands on maps, from the lowest to the highest, as in "#8a4220".
    #[schemars(with = "Option<Vec<String>>")]
    pub(crate) colours: Option<Spanned<Vec<String>>>,
}

/// A line: from a file, by its corners, or parallel to another line.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct LineEntry {
    /// File of the line, as `file#name`: a LandXML alignment (or alignment/profile), a drawing
    /// layer with one line, a map feature, or points in their order.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// Corners as east, north and height, in the job's unit.
    #[schemars(with = "Option<Vec<[f64; 3]>>")]
    pub(crate) corners: Option<Spanned<Vec<Numbers<3>>>>,
    /// Line that this one is parallel to, in place of a file or corners: it has the heights of that line.
    #[schemars(with = "Option<String>")]
    pub(crate) parallel_to: Option<Name>,
    /// How far it runs beside that line, in the job's unit: to the right where positive, to the left where negative.
    #[schemars(with = "Option<f64>")]
    pub(crate) offset: Option<Spanned<f64>>,
    /// Heights along the line, as distance from its start and height. They replace its own heights.
    #[schemars(with = "Option<Vec<[f64; 2]>>")]
    pub(crate) heights: Option<Spanned<Vec<Numbers<2>>>>,
    /// Surface that the line is laid on, in place of heights of its own.
    #[schemars(with = "Option<String>")]
    pub(crate) heights_from: Option<Name>,
    /// Attribute that names the features of GeoJSON files and shapefiles.
    pub(crate) name_attribute: Option<String>,
}
