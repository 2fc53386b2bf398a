//! What is in a file, before it is trusted.

mod found;
mod map;
mod pair;
mod proposal;
mod stated;
mod surface;

use std::collections::BTreeMap;
use std::path::Path;

use dapedon_core::surface::Surface;
use dapedon_core::units::LengthUnit;
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::delimited::Delimited;
use dapedon_formats::dxf::{self, Drawing};
use dapedon_formats::{Format, RawSurface, is_web_mercator, landxml};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::context::Context;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::maps::MapFile;
use crate::input::{
    CloudFound, Input, InputFile, LoadedSurface, Reading, cloud, dxf_fault, landxml_fault, load,
};
use crate::quantities::Extreme;
use crate::schema::{Schema, Word};
use crate::watch::Activity;
pub use found::{AttributeFound, ColumnsFound, FeaturesFound, LayerFound, LineFound, ZoneFound};
use map::zone;
pub use pair::{PairFound, pair};
pub use stated::StatedVolumeFound;
pub use surface::{CellsFound, EmptyFound, SeparateArea, SurfaceFound};

/// Elements of an alignment may be this far apart, as files round their places.
const GAP: f64 = 0.002;

/// What is in some files, and whether two of them can be compared.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Inspected {
    /// The command: `inspect`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// File by file.
    pub files: Vec<Inspection>,
    /// Of two files of which each holds a surface: how they lie to each other.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pair: Option<PairFound>,
    /// The files of lines that are drawn over its map.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub line_files: Vec<InputFile>,
}

impl Inspected {
    /// What was found in some files.
    pub fn of(files: Vec<Inspection>, pair: Option<PairFound>, line_files: Vec<InputFile>) -> Self {
        Inspected {
            command: "inspect".into(),
            schema: Schema,
            files,
            pair,
            line_files,
        }
    }
}

/// What is in one file.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Inspection {
    /// The file.
    pub file: InputFile,
    /// The length unit it says, or was given to be in.
    pub unit: Option<Word>,
    /// The coordinate system it says.
    pub crs: Option<String>,
    /// The system of heights, likewise.
    pub height_system: Option<String>,
    /// The columns of delimited text.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub columns: Option<ColumnsFound>,
    /// The points of a cloud.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cloud: Option<CloudFound>,
    /// The layers of a drawing, or of a map file with several.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<LayerFound>,
    /// The surfaces it holds, or what can be made one.
    pub surfaces: Vec<SurfaceFound>,
    /// The alignments it holds.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lines: Vec<LineFound>,
    /// The features of a map.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub features: Option<FeaturesFound>,
    /// The attributes of its features.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub attributes: Vec<AttributeFound>,
    /// The zones it holds.
    pub zones: Vec<ZoneFound>,
    /// The volumes that it states between its surfaces.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub stated_volumes: Vec<StatedVolumeFound>,
    /// What is skipped: how many of each kind.
    pub skipped: BTreeMap<String, usize>,
    /// What is odd about it.
    pub warnings: Vec<Finding>,
    /// How it was read, as keys for a job file; none where nothing had to be said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reading: Option<String>,
    /// The codes and layers that can be taken as something.
    #[serde(skip)]
    names: Vec<String>,
}

/// Every name that is to be taken as something is a code or layer of one of the files.
///
/// # Errors
///
/// When one is nowhere.
pub fn names_are_found(reading: &Reading, files: &[Inspection]) -> Result<(), JobError> {
    load::names_are_found(reading, files.iter().map(|file| &file.names))
}

/// Looks into a file, and hands back its surfaces for drawing and comparing.
///
/// # Errors
///
/// When it cannot be read.
pub fn inspect(context: &Context<'_>, path: &Path) -> Result<(Inspection, Vec<Surface>), JobError> {
    context.run(|| {
        let doing = Activity::Reading(path.display().to_string());
        let step = context.watch.next(doing)?;
        let reading = Reading {
            files: context.reading.files.within(&step),
            ..context.reading.clone()
        };
        step.unless_stopped(looked_into(path, &reading))
    })
}

fn looked_into(path: &Path, reading: &Reading) -> Result<(Inspection, Vec<Surface>), JobError> {
    let several = cloud::several(path)?;
    let mut look = Inspector {
        path,
        reading,
        raws: Vec::new(),
        zones: Vec::new(),
        lines: Vec::new(),
        stated: Vec::new(),
        plan_unit: None,
        plan_crs: None,
        attributes: Vec::new(),
        features: None,
        columns: None,
        cloud: None,
        layers: Vec::new(),
        left_out: BTreeMap::new(),
        warnings: Vec::new(),
    };
    if let Some(paths) = several {
        let (loaded, found) = cloud::read(&paths, reading)?;
        look.warnings.extend(loaded.findings);
        look.raws.push(loaded.surface);
        look.cloud = Some(found);
        return look.finish(loaded.file);
    }
    let mut input = Input::open(path, &reading.files)?;
    let mut with = Vec::new();
    match input.format {
        format if cloud::is_read_as_one(format, path, reading) => {
            let (loaded, found) = cloud::read(&[path.into()], reading)?;
            look.warnings.extend(loaded.findings);
            look.raws.push(loaded.surface);
            look.cloud = Some(found);
        }
        Format::Delimited => {
            let read = load::delimited(&mut input, path, reading)?;
            look.delimited(read);
        }
        Format::LandXml => {
            let keep = |_: &str, _: usize| true;
            let read = landxml::each(input.reader(), &reading.take, keep, |found| {
                look.raws.push(found.raw);
            });
            read.map_err(|error| landxml_fault(path, error))?;
            look.plan()?;
            if look.raws.is_empty() && look.zones.is_empty() && look.lines.is_empty() {
                return Err(landxml_fault(path, landxml::LandXmlError::NoSurface));
            }
        }
        Format::Dxf => {
            let drawing = load::drawing(&mut input, path, reading)?;
            look.drawing(drawing)?;
        }
        format if format.is_map() => {
            let file = MapFile::open(&mut input, path, &reading.files)?;
            with = look.map(file)?;
        }
        _ => {
            let (raw, files) = load::plain(&mut input, path, &look.reading.files)?;
            with.extend(files);
            look.raws.push(raw);
        }
    }
    let mut file = input.finish()?;
    file.other_files = with;
    look.finish(file)
}

/// What is seen on the way.
struct Inspector<'l> {
    path: &'l Path,
    reading: &'l Reading,
    raws: Vec<RawSurface>,
    zones: Vec<ZoneFound>,
    lines: Vec<LineFound>,
    stated: Vec<landxml::StatedVolume>,
    plan_unit: Option<LengthUnit>,
    plan_crs: Option<String>,
    attributes: Vec<AttributeFound>,
    features: Option<FeaturesFound>,
    columns: Option<ColumnsFound>,
    cloud: Option<CloudFound>,
    layers: Vec<LayerFound>,
    left_out: BTreeMap<String, usize>,
    warnings: Vec<Finding>,
}

impl Inspector<'_> {
    fn delimited(&mut self, read: Delimited) {
        self.columns = Some(ColumnsFound {
            delimiter: read.delimiter.into(),
            encoding: read.encoding.into(),
            decimal_comma: read.decimal_comma,
            comments: read.comments,
            header: read.header,
            roles: read.reading.roles.iter().map(ToString::to_string).collect(),
            rows: read.rows,
            codes: read.codes,
        });
        self.raws.push(read.surface);
    }

    fn drawing(&mut self, drawing: Drawing) -> Result<(), JobError> {
        self.layers = (drawing.layers.iter())
            .map(|(name, layer)| LayerFound {
                name: name.clone(),
                kinds: (layer.kinds.iter())
                    .map(|(&kind, &count)| (kind.into(), count))
                    .collect(),
                heights: layer.heights(),
            })
            .collect();
        if let Ok(zones) = dxf::zones(&drawing, None) {
            for raw in &zones.zones {
                // A drawing has closed lines that were never meant as a zone: only sound ones count.
                match zone(raw, self.path) {
                    Ok(found) => self.zones.push(found),
                    Err(_) => {
                        let kind = "closed lines that cross themselves or have no area";
                        *self.left_out.entry(kind.into()).or_insert(0) += 1;
                    }
                }
            }
        }
        match dxf::surfaces(drawing, &self.reading.take) {
            Ok(raws) => self.raws = raws,
            Err(error @ dxf::DxfError::Nothing { .. }) => {
                let found = Finding::new(Code::NoSurface, error.to_string());
                self.warnings.push(found.remedy(Diagnostic::remedy(&error)));
            }
            Err(error) => return Err(dxf_fault(self.path, error)),
        }
        Ok(())
    }

    /// Alignments and outlines of LandXML, in a walk of their own.
    fn plan(&mut self) -> Result<(), JobError> {
        let mut again = Input::open(self.path, &self.reading.files)?;
        let plan = match landxml::plan(again.reader()) {
            Ok(plan) => plan,
            Err(error) => {
                let text = format!("alignments and outlines cannot be read: {error}");
                self.warnings.push(Finding::new(Code::Unreadable, text));
                return Ok(());
            }
        };
        self.plan_unit = plan.unit;
        self.stated = plan.stated_volumes;
        for line in &plan.alignments {
            for gap in line.gaps(GAP) {
                self.warnings.push(Finding::new(Code::Gap, format!(
                    "element {} ends {:.3} away from the start of the next, or from its own end point",
                    gap.element + 1,
                    gap.distance
                )).at(format!("alignment \"{}\"", line.name())));
            }
            self.lines.push(LineFound::of(line));
        }
        if plan.zones.left_out > 0 {
            let kind = "parcels and plan features that are not closed";
            self.left_out.insert(kind.into(), plan.zones.left_out);
        }
        for raw in &plan.zones.zones {
            match zone(raw, self.path) {
                Ok(found) => self.zones.push(found),
                Err(error) => self
                    .warnings
                    .push(Finding::new(Code::Unreadable, error.to_string())),
            }
        }
        Ok(())
    }

    fn finish(mut self, file: InputFile) -> Result<(Inspection, Vec<Surface>), JobError> {
        let said = self.raws.iter().find_map(|raw| raw.unit).or(self.plan_unit);
        let unit = self.reading.forced_unit().or(said).or(self.reading.unit);
        if !self.reading.override_unit {
            self.warnings.extend(self.reading.unit_unused(said));
        }
        let crs = (self.raws.iter().find_map(|raw| raw.crs.clone())).or(self.plan_crs);
        if let Some(name) = crs.as_ref().filter(|name| is_web_mercator(name)) {
            self.warnings.push(Finding::web_mercator(name));
        }
        let height_system = self.raws.iter().find_map(|raw| raw.height_system.clone());
        if unit.is_none() && !self.raws.is_empty() {
            self.warnings.push(
                Finding::new(Code::NoUnit, "the file has no length unit")
                    .remedy("add --unit when you measure it"),
            );
        }
        let names = self.raws.iter().flat_map(|raw| raw.names.clone()).collect();
        let (mut found, mut surfaces) = (Vec::new(), Vec::new());
        let mut named = Vec::new();
        let several = self.raws.len() > 1;
        for mut raw in self.raws {
            for (kind, count) in std::mem::take(&mut raw.left_out) {
                *self.left_out.entry(kind).or_insert(0) += count;
            }
            let mut loaded = LoadedSurface {
                outline: load::outline(self.reading, unit.unwrap_or(LengthUnit::Metre))?,
                file: file.clone(),
                surface: raw,
                notes: Vec::new(),
                findings: Vec::new(),
            };
            self.warnings.extend(loaded.override_unit(self.reading));
            self.warnings.extend(loaded.no_heights());
            let missing = loaded.drop_missing(self.reading.nodata);
            let settled = unit.map(|unit| loaded.settle_heights(unit));
            for found in [Some(missing), settled].into_iter().flatten() {
                self.warnings.extend(found.unwrap_or_else(|error| {
                    let found = Finding::new(Code::Unreadable, error.to_string());
                    Some(found.remedy(Diagnostic::remedy(&error)))
                }));
            }
            let (one, surface) =
                surface::found(loaded, unit, self.reading, several, &mut self.warnings)?;
            if surface.is_some() {
                named.push(one.name.clone());
            }
            found.push(one);
            surfaces.extend(surface);
        }
        let by_name: Vec<(String, &Surface)> = named.into_iter().zip(&surfaces).collect();
        let metre = LengthUnit::Metre;
        let stated_volumes = stated::stated(
            &self.stated,
            &by_name,
            unit.unwrap_or(metre),
            &mut self.warnings,
        );
        let columns = self
            .columns
            .as_ref()
            .map(|columns| columns.roles.as_slice());
        let reading = proposal::proposal(self.reading, columns);
        let inspection = Inspection {
            reading,
            file,
            unit: unit.map(|unit| unit.code().into()),
            crs,
            height_system,
            columns: self.columns,
            cloud: self.cloud,
            layers: self.layers,
            surfaces: found,
            lines: self.lines,
            attributes: self.attributes,
            features: self.features,
            zones: self.zones,
            stated_volumes,
            skipped: self.left_out,
            warnings: self.warnings,
            names,
        };
        Ok((inspection, surfaces))
    }
}

/// Coordinates of a file that look like degrees.
fn degrees() -> Finding {
    let words = "the coordinates look like degrees; volumes need a grid in metres or feet";
    Finding::new(Code::Degrees, words)
}

pub(crate) fn corner(place: dapedon_core::plan::Place) -> Extreme {
    Extreme {
        east: place.east,
        north: place.north,
    }
}
