//! What may stand in a job file, as serde reads it and its schema says it.

mod bill;

use std::collections::BTreeMap;

pub(crate) use bill::*;
use schemars::JsonSchema;
use serde::Deserialize;
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
    pub(crate) unit: UnitEntry,
    /// The coordinate system, as the files say it: one that says another is refused.
    pub(crate) coordinates: Option<String>,
    /// The system of heights, as the files say it: one that says another is refused.
    pub(crate) height_system: Option<String>,
    /// The currency of costs.
    pub(crate) currency: Option<String>,
    /// The unit of volume that densities, vehicles, prices and counted figures are to one of: m3, ft3 or yd3 [default:
    /// m3, or yd3 where the unit is a foot].
    pub(crate) volume_unit: Option<VolumeEntry>,
    /// The unit of masses: t, or ton for 2000 lb [default: t, or ton where the unit is a foot].
    pub(crate) mass_unit: Option<MassEntry>,
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

/// A length unit.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
pub(crate) enum UnitEntry {
    /// Metre.
    #[serde(rename = "m")]
    Metre,
    /// International foot.
    #[serde(rename = "ft")]
    Foot,
    /// US survey foot.
    #[serde(rename = "us-ft")]
    UsSurveyFoot,
}

/// How figures are reported.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct ReportEntry {
    /// The unit of areas: m2, ha, ft2, yd2 or acre.
    pub(crate) area_unit: Option<AreaEntry>,
    /// The unit of volumes: m3, ft3 or yd3.
    pub(crate) volume_unit: Option<VolumeEntry>,
    /// Decimals of areas and volumes.
    #[schemars(with = "Option<u8>", range(max = 6))]
    pub(crate) decimals: Option<Spanned<u8>>,
}

/// A unit of areas.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum AreaEntry {
    M2,
    Ha,
    Ft2,
    Yd2,
    Acre,
}

/// A unit of volumes.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum VolumeEntry {
    M3,
    Ft3,
    Yd3,
}

/// A unit of mass.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum MassEntry {
    T,
    Ton,
}

/// A surface: from a file, a level, or another surface; and what is done to it.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct SurfaceEntry {
    /// The file it is in, or `file#name` where that holds several; `a.laz+b.laz` or a folder for a cloud.
    #[schemars(with = "Option<String>")]
    pub(crate) file: Option<Name>,
    /// The height of a horizontal plane.
    #[schemars(with = "Option<f64>")]
    pub(crate) level: Option<Spanned<f64>>,
    /// The surface of this job that it starts from.
    #[schemars(with = "Option<String>")]
    pub(crate) start: Option<Name>,
    /// What is done to it, one step after the other.
    #[serde(default)]
    #[schemars(with = "Vec<StepEntry>")]
    pub(crate) steps: Vec<Spanned<StepEntry>>,
    /// It is a finished level, to be dug below by a build-up: measuring it as it is is warned of.
    #[serde(default)]
    pub(crate) finished: bool,
    /// The length unit of the file, where it carries none and is not in the job's.
    pub(crate) unit: Option<UnitEntry>,
    /// What the columns of delimited text hold, as in "point,east,north,height,code".
    #[schemars(with = "Option<String>")]
    pub(crate) columns: Option<Name>,
    /// What codes of points or layers of a drawing are taken as, as in "CREST,TOE=breakline".
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) take: Option<Spanned<OneOrMany>>,
    /// A height that means that none was measured.
    pub(crate) no_height: Option<f64>,
    /// Which height holds where one place is given with several: first, last, lowest, highest or mean.
    pub(crate) same_place: Option<SamePlaceEntry>,
    /// Facets with a longer edge are dropped, breaklines aside.
    #[schemars(with = "Option<f64>")]
    pub(crate) max_edge: Option<Spanned<f64>>,
    /// Points that stand out from all their neighbours are dropped.
    #[serde(default)]
    pub(crate) drop_odd: bool,
    /// A file of outlines to cut it along, where it is made of points.
    #[schemars(with = "Option<String>")]
    pub(crate) outline: Option<Name>,
    /// The attribute that names features of GeoJSON and shapefiles.
    pub(crate) named_by: Option<String>,
    /// The classes of a cloud that are taken: ground, all, or numbers as in "2,8".
    #[schemars(with = "Option<String>")]
    pub(crate) class: Option<Name>,
    /// The side of the cells that a cloud is thinned to.
    #[schemars(with = "Option<f64>")]
    pub(crate) thin: Option<Spanned<f64>>,
    /// The height that a cell of a cloud keeps: lowest, mean, median or highest.
    pub(crate) keep: Option<KeepEntry>,
    /// A thinned cloud is triangulated, one point a cell, instead of made a grid.
    #[serde(default)]
    pub(crate) triangulate: bool,
}

/// Which height holds where one place is given with several.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SamePlaceEntry {
    First,
    Last,
    Lowest,
    Highest,
    Mean,
}

/// The height that a cell of a cloud keeps.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum KeepEntry {
    Lowest,
    Mean,
    Median,
    Highest,
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

/// A step: one thing that is done, and the zones it is limited to.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case", default)]
#[schemars(extend("minProperties" = 1))]
pub(crate) struct StepEntry {
    /// The step is limited to these zones.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Raises by an amount.
    pub(crate) raise: Option<f64>,
    /// Lowers by an amount.
    pub(crate) lower: Option<f64>,
    /// Sets level at a height.
    pub(crate) level: Option<f64>,
    /// Moves in plan, so far to the east and to the north.
    #[serde(rename = "move")]
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) shift: Option<Numbers<2>>,
    /// Takes the higher of this surface and another one.
    #[schemars(with = "Option<String>")]
    pub(crate) highest: Option<Name>,
    /// Takes the lower of this surface and another one.
    #[schemars(with = "Option<String>")]
    pub(crate) lowest: Option<Name>,
    /// Takes another surface where that one is.
    #[schemars(with = "Option<String>")]
    pub(crate) take: Option<Name>,
    /// Keeps what is inside or outside the zones.
    pub(crate) keep: Option<SideEntry>,
    /// Puts in a platform with side slopes.
    pub(crate) platform: Option<PlatformEntry>,
    /// Puts in an embankment along a line, with side slopes.
    pub(crate) embankment: Option<EmbankmentEntry>,
    /// Lowers by the layers of build-ups, each within its own zones.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) build_up: Option<Spanned<OneOrMany>>,
    /// Lowers only down to the top of this layer of the build-ups.
    #[schemars(with = "Option<String>")]
    pub(crate) stop_at: Option<Name>,
    /// Which build-up holds where their zones overlap; without it that is refused.
    pub(crate) overlap: Option<OverlapEntry>,
    /// Makes heights the difference: this surface less another one.
    #[schemars(with = "Option<String>")]
    pub(crate) difference: Option<Name>,
}

/// Which build-up holds where zones overlap.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum OverlapEntry {
    /// The one that is named first.
    First,
}

/// Which side of zones is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SideEntry {
    Inside,
    Outside,
}

/// A platform: the ground of a zone, level or falling to one side, with slopes that run out.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PlatformEntry {
    /// The zone it covers.
    #[schemars(with = "String")]
    pub(crate) outline: Name,
    /// Its height; of one that falls, at `at`, or in the middle of its outline's extent.
    pub(crate) level: f64,
    /// How much it falls for each unit of length, as 0.02 for 2 in 100.
    #[serde(default)]
    pub(crate) fall: f64,
    /// Where to it falls, in degrees clockwise from north.
    pub(crate) towards: Option<f64>,
    /// Where it has its height, as east and north.
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) at: Option<Numbers<2>>,
    /// The slopes in cut: n in 1 in n.
    pub(crate) cut_slope: f64,
    /// The slopes in fill: n in 1 in n.
    pub(crate) fill_slope: f64,
    /// The surface that slopes run out to; without one, the surface as it is before the step.
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// How far the broken slope may stand from the round one at a corner [default: 0.01 m].
    pub(crate) chord: Option<f64>,
}

/// An embankment: a top of a width along a line that has heights, with slopes that run out.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct EmbankmentEntry {
    /// The line it follows.
    #[schemars(with = "String")]
    pub(crate) line: Name,
    /// The width of its top.
    pub(crate) width: f64,
    /// The slopes in cut: n in 1 in n.
    pub(crate) cut_slope: f64,
    /// The slopes in fill: n in 1 in n.
    pub(crate) fill_slope: f64,
    /// The surface that slopes run out to; without one, the surface as it is before the step.
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// How it ends: sloping as along its sides, or upright [default: sloping].
    pub(crate) ends: Option<EndsEntry>,
    /// How far the broken slope may stand from the round one at a corner [default: 0.01 m].
    pub(crate) chord: Option<f64>,
}

/// How an embankment ends.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum EndsEntry {
    Sloping,
    Upright,
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
    pub(crate) named_by: Option<String>,
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
    pub(crate) named_by: Option<String>,
}

/// A build-up: the layers over some zones, from the top down.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct BuildUpEntry {
    /// The zones it covers.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Its layers, from the top down.
    #[schemars(with = "Vec<LayerEntry>")]
    pub(crate) layers: Vec<Spanned<LayerEntry>>,
}

/// A layer of a build-up.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct LayerEntry {
    /// Its material.
    pub(crate) name: String,
    /// How thick it is, in the job's unit, or with a unit as in "150 mm".
    pub(crate) thickness: ThicknessEntry,
    /// What else it is counted in.
    #[serde(default)]
    pub(crate) counted: Vec<CountedEntry>,
}

/// A thickness.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(untagged, expecting = "expected a number, or a text as in \"150 mm\"")]
pub(crate) enum ThicknessEntry {
    /// In the job's unit.
    Number(f64),
    /// With a unit: mm, cm, m, in or ft.
    Words(String),
}

/// What a layer is counted in besides area and volume: by its volume, or by what area one of them covers or
/// what volume one of them holds.
#[derive(Debug, Clone, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CountedEntry {
    /// The unit: tonnes, loads, rolls, pallets.
    #[serde(rename = "in")]
    pub(crate) unit: String,
    /// How many there are to a unit of volume, as 2.1 tonnes.
    pub(crate) per_volume: Option<f64>,
    /// The area that one of them covers.
    pub(crate) covers: Option<f64>,
    /// The volume that one of them holds.
    pub(crate) holds: Option<f64>,
    /// Only whole ones are to be had: the count is rounded up for each layer and zone.
    #[serde(default)]
    pub(crate) whole: bool,
    /// What one of them costs, in the job's currency.
    pub(crate) cost: Option<f64>,
}
