//! What may stand in a job file, as serde reads it and its schema says it.

mod bill;
mod build_up;
mod surface;

use std::collections::BTreeMap;

use crate::units::{AreaAsked, Code, VolumeAsked};
use dapedon_core::units::{LengthUnit, MassUnit};

pub(crate) use bill::*;
pub(crate) use build_up::*;
use schemars::JsonSchema;
use serde::Deserialize;
pub(crate) use surface::*;
use toml::Spanned;

/// A name, and where it stands.
pub(crate) type Name = Spanned<String>;

/// A job file.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
#[schemars(title = "Dapedon job file")]
pub(crate) struct JobEntries {
    /// What the job is.
    pub(crate) job: FactsEntry,
    /// How figures are reported.
    #[serde(default)]
    pub(crate) report: ReportEntry,
    /// Surfaces, by their names.
    #[serde(default, rename = "surface")]
    #[schemars(with = "BTreeMap<String, SurfaceEntry>")]
    pub(crate) surfaces: BTreeMap<Name, SurfaceEntry>,
    /// Zones, by their names.
    #[serde(default, rename = "zone")]
    #[schemars(with = "BTreeMap<String, ZoneEntry>")]
    pub(crate) zones: BTreeMap<Name, ZoneEntry>,
    /// Lines, by their names.
    #[serde(default, rename = "line")]
    #[schemars(with = "BTreeMap<String, LineEntry>")]
    pub(crate) lines: BTreeMap<Name, LineEntry>,
    /// Build-ups, by their names.
    #[serde(default, rename = "build-up")]
    #[schemars(with = "BTreeMap<String, BuildUpEntry>")]
    pub(crate) build_ups: BTreeMap<Name, BuildUpEntry>,
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
}

/// What the job is.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct FactsEntry {
    /// Its name.
    pub(crate) name: String,
    /// The contract it belongs to.
    pub(crate) contract: Option<String>,
    /// Who takes part, as free text: client, contractor and so on.
    #[serde(default)]
    pub(crate) parties: BTreeMap<String, String>,
    /// The length unit of the figures in this file, and of files that carry none.
    pub(crate) unit: Code<LengthUnit>,
    /// The coordinate system, as the files say it: one that says another is refused.
    pub(crate) coordinates: Option<String>,
    /// The system of heights, as the files say it: one that says another is refused.
    pub(crate) height_system: Option<String>,
    /// The currency of costs.
    pub(crate) currency: Option<String>,
    /// The unit of volume that densities, vehicles, prices and counted figures are to one of: m3, ft3 or yd3 [default:
    /// m3, or yd3 where the unit is a foot].
    pub(crate) volume_unit: Option<Code<VolumeAsked>>,
    /// The unit of masses: t, or ton for 2000 lb [default: t, or ton where the unit is a foot].
    pub(crate) mass_unit: Option<Code<MassUnit>>,
}

/// So many numbers, neither fewer nor more: the reader of TOML would pass over what is too many.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Numbers<const N: usize>(pub(crate) [f64; N]);

impl<'de, const N: usize> Deserialize<'de> for Numbers<N> {
    fn deserialize<D: serde::Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        let all = Vec::<f64>::deserialize(from)?;
        let numbers = all.try_into().map_err(|all: Vec<f64>| {
            serde::de::Error::custom(format!(
                "{} numbers stand where {N} are expected",
                all.len()
            ))
        })?;
        Ok(Numbers(numbers))
    }
}

/// How figures are reported.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ReportEntry {
    /// The unit of areas: m2, ha, ft2, yd2 or acre.
    pub(crate) area_unit: Option<Code<AreaAsked>>,
    /// The unit of volumes: m3, ft3 or yd3.
    pub(crate) volume_unit: Option<Code<VolumeAsked>>,
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

/// A zone: from a file, or by its corners.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ZoneEntry {
    /// The file it is in, as `file#name` for one of several; without a name all of them, by their own names.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// Its corners, each as east and north, in the job's unit.
    #[schemars(with = "Option<Vec<[f64; 2]>>")]
    pub(crate) corners: Option<Spanned<Vec<Numbers<2>>>>,
    /// The attribute that names features of GeoJSON and shapefiles.
    pub(crate) name_attribute: Option<String>,
    /// The surface of which it is what lies below a level, or above; such a zone is measured in, and no surface is
    /// made with it.
    #[schemars(with = "Option<String>")]
    pub(crate) surface: Option<Name>,
    /// It is where the surface lies below this level.
    #[schemars(with = "Option<f64>")]
    pub(crate) below: Option<Spanned<f64>>,
    /// It is where the surface lies above this level.
    #[schemars(with = "Option<f64>")]
    pub(crate) above: Option<Spanned<f64>>,
    /// Of what lies below, only what is connected to this place, as east and north.
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) pool: Option<Spanned<Numbers<2>>>,
}

/// A line: from a file, or by its corners.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct LineEntry {
    /// The file it is in, as `file#name`: an alignment of LandXML, a line of a drawing's layer or of a map.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// Its corners, each as east, north and height, in the job's unit.
    #[schemars(with = "Option<Vec<[f64; 3]>>")]
    pub(crate) corners: Option<Spanned<Vec<Numbers<3>>>>,
    /// Heights along it, each as distance from its start and height, in place of its own.
    #[schemars(with = "Option<Vec<[f64; 2]>>")]
    pub(crate) heights: Option<Spanned<Vec<Numbers<2>>>>,
    /// The attribute that names features of GeoJSON and shapefiles.
    pub(crate) name_attribute: Option<String>,
}
