//! What is in a file, before it is trusted.

mod pair;
mod surface;

use std::collections::BTreeMap;
use std::path::Path;

use dapedon_core::{Alignment, Extent, Frame, LengthUnit, Surface, Zone};
use dapedon_formats::delimited::Delimited;
use dapedon_formats::dxf::{self, Drawing};
use dapedon_formats::features::{self, FeatureError, Features};
use dapedon_formats::{Format, RawSurface, RawZone, RawZones, asc, landxml, obj};
use serde::Serialize;

use crate::input::Input;
use crate::load::{self, Loaded, dxf_fault, landxml_fault};
use crate::measurement::Extreme;
use crate::{CloudFound, InputFile, JobError, Reading, clean, cloud};
pub use pair::{PairFound, pair};
pub use surface::{CellsFound, EmptyFound, PatchFound, SurfaceFound};

/// Elements of an alignment may be this far apart, as files round their places.
const GAP: f64 = 0.002;

/// What is in one file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Inspection {
    /// The command: `inspect`.
    pub command: &'static str,
    /// The file.
    pub file: InputFile,
    /// The length unit it says, or was said to be in.
    pub unit: Option<&'static str>,
    /// The coordinate system it says.
    pub crs: Option<String>,
    /// The columns of delimited text.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub columns: Option<ColumnsFound>,
    /// The points of a cloud.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cloud: Option<CloudFound>,
    /// The layers of a drawing.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<LayerFound>,
    /// The surfaces it holds, or what can be made one.
    pub surfaces: Vec<SurfaceFound>,
    /// The alignments it holds.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub lines: Vec<LineFound>,
    /// The attributes of its features.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub attributes: Vec<AttributeFound>,
    /// The zones it holds.
    pub zones: Vec<ZoneFound>,
    /// What is left out: how many of each kind.
    pub left_out: BTreeMap<String, usize>,
    /// What is odd about it.
    pub warnings: Vec<String>,
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

/// How delimited text was understood.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ColumnsFound {
    /// What parts the fields.
    pub delimiter: &'static str,
    /// The encoding.
    pub encoding: &'static str,
    /// True where numbers have decimal commas.
    pub decimal_comma: bool,
    /// Comment lines.
    pub comments: u64,
    /// The header, if there is one.
    pub header: Option<Vec<String>>,
    /// What each column was read as.
    pub roles: Vec<String>,
    /// The first rows under them.
    pub rows: Vec<Vec<String>>,
    /// The codes, and how many points have each.
    pub codes: Vec<(String, usize)>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct LayerFound {
    /// Its name.
    pub name: String,
    /// How many entities of each kind.
    pub kinds: BTreeMap<&'static str, usize>,
    /// Lowest and highest height, in the drawing's unit.
    pub heights: [f64; 2],
}

/// An alignment of a file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct LineFound {
    /// Its name.
    pub name: String,
    /// The distance along it.
    pub length: f64,
    /// Chainage at its start and end.
    pub chainage: [f64; 2],
    /// Jumps of the chainage.
    pub equations: usize,
    /// How many straights, arcs and spirals.
    pub elements: BTreeMap<&'static str, usize>,
    /// From where to where there are heights along it, as distances.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub profile: Option<[f64; 2]>,
}

impl LineFound {
    fn of(line: &Alignment) -> Self {
        let mut elements = BTreeMap::new();
        for element in line.elements() {
            *elements.entry(element.name()).or_insert(0) += 1;
        }
        let summits = line.profile().map(|profile| profile.summits());
        let ends = summits.and_then(|summits| Some([summits.first()?, summits.last()?]));
        LineFound {
            name: line.name().into(),
            length: line.length(),
            chainage: [0.0, line.length()].map(|distance| line.chainage().of(distance)),
            equations: line.chainage().equations().len(),
            elements,
            profile: ends.map(|ends| ends.map(|summit| summit.distance)),
        }
    }
}

/// An attribute of the features of a map.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct AttributeFound {
    /// Its name.
    pub name: String,
    /// How many features have a value of it.
    pub features: usize,
}

/// A zone of a file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct ZoneFound {
    /// Its name.
    pub name: String,
    /// Corners of all its rings.
    pub corners: usize,
    /// Parts.
    pub parts: usize,
    /// Holes.
    pub holes: usize,
    /// Area, in squares of the length unit.
    pub area: f64,
    /// South-west corner.
    pub min: Extreme,
    /// North-east corner.
    pub max: Extreme,
}

/// Looks into a file, and hands back its surfaces for drawing and comparing.
///
/// # Errors
///
/// When it cannot be read.
pub fn inspect(path: &Path, reading: &Reading) -> Result<(Inspection, Vec<Surface>), JobError> {
    let mut input = Input::open(path)?;
    let mut with = Vec::new();
    let mut look = Look {
        path,
        reading,
        raws: Vec::new(),
        zones: Vec::new(),
        lines: Vec::new(),
        plan_unit: None,
        plan_crs: None,
        attributes: Vec::new(),
        columns: None,
        cloud: None,
        layers: Vec::new(),
        left_out: BTreeMap::new(),
        warnings: Vec::new(),
    };
    match input.format {
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
            let drawing = dxf::read(input.reader()).map_err(|error| dxf_fault(path, error))?;
            look.drawing(drawing)?;
        }
        Format::Asc => {
            let grid = asc::read(input.reader()).map_err(|error| load::asc_fault(path, error))?;
            look.raws.push(RawSurface {
                grid: Some(grid),
                ..RawSurface::default()
            });
        }
        Format::GeoTiff => look.raws.push(load::geotiff(path)?),
        Format::Las => {
            let (loaded, found) = cloud::read(&[path.into()], reading)?;
            look.raws.push(loaded.surface);
            look.cloud = Some(found);
        }
        Format::Obj => {
            let read = obj::read(input.reader());
            look.raws.push(read.map_err(|error| JobError::Obj {
                path: path.into(),
                error,
            })?);
        }
        Format::GeoJson | Format::Shapefile => {
            let (features, files) = load::features(&mut input, path)?;
            with = files;
            look.features(features)?;
        }
    }
    let mut file = input.finish()?;
    file.with = with;
    look.finish(file)
}

/// What is seen on the way.
struct Look<'l> {
    path: &'l Path,
    reading: &'l Reading,
    raws: Vec<RawSurface>,
    zones: Vec<ZoneFound>,
    lines: Vec<LineFound>,
    plan_unit: Option<LengthUnit>,
    plan_crs: Option<String>,
    attributes: Vec<AttributeFound>,
    columns: Option<ColumnsFound>,
    cloud: Option<CloudFound>,
    layers: Vec<LayerFound>,
    left_out: BTreeMap<String, usize>,
    warnings: Vec<String>,
}

impl Look<'_> {
    fn delimited(&mut self, read: Delimited) {
        self.columns = Some(ColumnsFound {
            delimiter: read.delimiter,
            encoding: read.encoding,
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
                kinds: layer.kinds.clone(),
                heights: layer.heights(),
            })
            .collect();
        if let Ok(zones) = dxf::zones(&drawing, None) {
            for raw in &zones.zones {
                // A drawing has closed lines that were never meant as a zone: only sound ones count.
                match zone(raw, self.path) {
                    Ok(found) => self.zones.push(found),
                    Err(_) => {
                        let kind = "closed lines that cross themselves or hold no ground";
                        *self.left_out.entry(kind.into()).or_insert(0) += 1;
                    }
                }
            }
        }
        match dxf::surfaces(drawing, &self.reading.take) {
            Ok(raws) => self.raws = raws,
            Err(dxf::DxfError::Nothing) => {
                (self.warnings).push("there is nothing in it to make a surface of".into());
            }
            Err(error) => return Err(dxf_fault(self.path, error)),
        }
        Ok(())
    }

    /// Alignments and outlines of LandXML, in a walk of their own.
    fn plan(&mut self) -> Result<(), JobError> {
        let mut again = Input::open(self.path)?;
        let plan = match landxml::plan(again.reader()) {
            Ok(plan) => plan,
            Err(error) => {
                let text = format!("alignments and outlines cannot be read: {error}");
                self.warnings.push(text);
                return Ok(());
            }
        };
        self.plan_unit = plan.unit;
        for line in &plan.alignments {
            for gap in line.gaps(GAP) {
                self.warnings.push(format!(
                    "alignment \"{}\": element {} ends {:.3} off the next one's start, or where it is said to",
                    line.name(),
                    gap.element + 1,
                    gap.distance
                ));
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
                Err(error) => self.warnings.push(error.to_string()),
            }
        }
        Ok(())
    }

    /// Areas as zones, and what has heights as a surface.
    fn features(&mut self, features: Features) -> Result<(), JobError> {
        let named_by = self.reading.named_by.as_deref();
        self.plan_unit = features.unit;
        self.plan_crs = features.crs.clone();
        let mut attributes: BTreeMap<&str, usize> = BTreeMap::new();
        for (name, _) in features
            .features
            .iter()
            .flat_map(|feature| &feature.attributes)
        {
            *attributes.entry(name).or_insert(0) += 1;
        }
        self.attributes = (attributes.into_iter())
            .map(|(name, features)| AttributeFound {
                name: name.into(),
                features,
            })
            .collect();
        let without_heights =
            |error: &FeatureError| matches!(error, FeatureError::NoHeights { .. });
        let facets = (features.features.iter())
            .any(|feature| matches!(feature.shape, features::Shape::Facets(_)));
        let fault = |error| load::feature_fault(self.path, error);
        let zones = match facets {
            // Triangles with heights are ground, not hundreds of zones.
            true => Err(FeatureError::NoZone { left_out: 0 }),
            false => features.zones(named_by),
        };
        let made = features.surface(&self.reading.take, named_by);
        match (zones, made) {
            (Err(FeatureError::NoZone { left_out }), Err(error)) if without_heights(&error) => {
                return Err(fault(FeatureError::NoZone { left_out }));
            }
            (zones, made) => {
                match zones {
                    Ok(zones) => self.zones(zones)?,
                    Err(FeatureError::NoZone { .. }) => {}
                    Err(error) => return Err(fault(error)),
                }
                match made {
                    Ok(raw) => self.raws.push(raw),
                    Err(error) if without_heights(&error) => {}
                    Err(error) => return Err(fault(error)),
                }
            }
        }
        Ok(())
    }

    fn zones(&mut self, read: RawZones) -> Result<(), JobError> {
        if read.left_out > 0 {
            (self.left_out).insert("features that are not areas".into(), read.left_out);
        }
        if read.unnamed > 0 {
            let text = format!(
                "{} zones have no name and are numbered; --named-by names them by another attribute",
                read.unnamed
            );
            self.warnings.push(text);
        }
        let corners = || (read.zones.iter()).flat_map(|zone| zone.parts.iter().flatten().flatten());
        if clean::looks_like_degrees(&Extent::of(corners().copied()), corners().count()) {
            let text = "the coordinates look like degrees; volumes need a grid in metres or feet";
            self.warnings.push(text.into());
        }
        for raw in &read.zones {
            match zone(raw, self.path) {
                Ok(found) => self.zones.push(found),
                Err(error) => self.warnings.push(error.to_string()),
            }
        }
        Ok(())
    }

    fn finish(mut self, file: InputFile) -> Result<(Inspection, Vec<Surface>), JobError> {
        let said = self.raws.iter().find_map(|raw| raw.unit).or(self.plan_unit);
        let unit = said.or(self.reading.unit);
        let crs = (self.raws.iter().find_map(|raw| raw.crs.clone())).or(self.plan_crs);
        if unit.is_none() && !self.raws.is_empty() {
            self.warnings.push(
                "the file does not say its length unit; --unit will be needed to measure with it"
                    .into(),
            );
        }
        let names = self.raws.iter().flat_map(|raw| raw.names.clone()).collect();
        let (mut found, mut surfaces) = (Vec::new(), Vec::new());
        let several = self.raws.len() > 1;
        for mut raw in self.raws {
            for (kind, count) in std::mem::take(&mut raw.left_out) {
                *self.left_out.entry(kind).or_insert(0) += count;
            }
            let loaded = Loaded {
                file: file.clone(),
                surface: raw,
                notes: Vec::new(),
            };
            let (one, surface) =
                surface::found(loaded, unit, self.reading, several, &mut self.warnings)?;
            found.push(one);
            surfaces.extend(surface);
        }
        let inspection = Inspection {
            command: "inspect",
            file,
            unit: unit.map(LengthUnit::code),
            crs,
            columns: self.columns,
            cloud: self.cloud,
            layers: self.layers,
            surfaces: found,
            lines: self.lines,
            attributes: self.attributes,
            zones: self.zones,
            left_out: self.left_out,
            warnings: self.warnings,
            names,
        };
        Ok((inspection, surfaces))
    }
}

fn zone(raw: &RawZone, path: &Path) -> Result<ZoneFound, JobError> {
    let extent = load::zone_extent(raw);
    let frame = Frame::around(LengthUnit::Metre, extent);
    let made =
        Zone::new(raw.name.clone(), frame, raw.parts.clone()).map_err(|error| JobError::Zone {
            path: path.into(),
            name: raw.name.clone(),
            error,
        })?;
    Ok(ZoneFound {
        name: raw.name.clone(),
        corners: made.rings().iter().map(Vec::len).sum(),
        parts: raw.parts.len(),
        holes: made.rings().len() - raw.parts.len(),
        area: made.area(),
        min: corner(extent.min),
        max: corner(extent.max),
    })
}

pub(crate) fn corner(place: dapedon_core::Place) -> Extreme {
    Extreme {
        east: place.east,
        north: place.north,
    }
}
