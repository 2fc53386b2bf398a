//! What is found in map files: areas as zones, and what has heights.

use std::collections::BTreeMap;
use std::path::Path;

use dapedon_core::plan::{Extent, Frame};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zone;
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::features::{self, FeatureError, Features};
use dapedon_formats::{RawSurface, RawZone, RawZones, visible};

use super::{AttributeFound, FeaturesFound, Inspector, LayerFound, ZoneFound, corner, degrees};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::maps::MapFile;
use crate::input::{InputFile, clean, load, loaded};
use crate::quantities::Extreme;
use crate::schema::Word;
use crate::surfaces::SurfaceError;

/// Values of an attribute that are shown.
const SAMPLES: usize = 3;
/// Letters of a value that are shown.
const SHOWN: usize = 30;

impl Inspector<'_> {
    /// All layers of a map file: areas as zones, and what has heights as surfaces. Of one with several, zones and surfaces are called
    /// as they are asked for.
    pub(super) fn map(&mut self, mut file: MapFile<'_>) -> Result<Vec<InputFile>, JobError> {
        let layers = file.layers();
        let mut found = FeaturesFound::of(&Features::default());
        let mut systems = Vec::new();
        for index in 0..layers.len().max(1) {
            let layer = &layers.get(index).filter(|_| layers.len() > 1).cloned();
            let features = file.features(index)?;
            let own = FeaturesFound::of(&features);
            if let Some(layer) = layer {
                self.layers.push(LayerFound {
                    name: layer.clone(),
                    kinds: own.kinds.clone(),
                    heights: heights(&features),
                });
            }
            found = found.with(own);
            systems.push((features.crs.clone(), features.unit));
            self.attributes.extend(attributes(&features, layer));
            self.features(features, layer)?;
        }
        self.features = Some(found);
        let first = systems.first().cloned().unwrap_or_default();
        let differ = systems.iter().any(|other| *other != first);
        (self.plan_crs, self.plan_unit) = first;
        if differ {
            let words = "the layers have different coordinate systems or units; those of the first are shown";
            self.warnings.push(Finding::new(Code::SystemsDiffer, words));
        }
        Ok(file.with)
    }

    /// Areas as zones, and what has heights as a surface.
    fn features(&mut self, mut features: Features, layer: &Option<String>) -> Result<(), JobError> {
        let fault = |error| load::feature_fault(self.path, error);
        let wanted = self.reading.height_by.as_deref();
        if let Some(attribute) = wanted.filter(|wanted| layer.is_none() || features.has(wanted)) {
            features.take_heights(attribute).map_err(fault)?;
        }
        // A layer need not have the attribute that names those of another.
        let wanted = self.reading.name_attribute.as_deref();
        let name_attribute = wanted.filter(|wanted| layer.is_none() || features.has(wanted));
        if features.is_geographic {
            let words = "the coordinates are latitude and longitude in degrees; volumes need a grid in metres or feet";
            self.warnings
                .push(Finding::new(Code::Degrees, words).within(layer));
            return Ok(());
        }
        let without_heights =
            |error: &FeatureError| matches!(error, FeatureError::NoHeights { .. });
        let facets = (features.features.iter())
            .any(|feature| matches!(feature.shape, features::Shape::Facets(_)));
        let zones = match facets {
            // Triangles with heights are ground, not hundreds of zones.
            true => Err(FeatureError::NoZone { left_out: 0 }),
            false => features.zones(None, name_attribute),
        };
        let made = features.surface(&self.reading.take, name_attribute);
        match (zones, made) {
            (Err(FeatureError::NoZone { .. }), Err(error)) if without_heights(&error) => {
                let found =
                    Finding::new(Code::NoSurface, format!("no areas for zones, and {error}"));
                self.warnings
                    .push(found.remedy(Diagnostic::remedy(&error)).within(layer));
            }
            (zones, made) => {
                match zones {
                    Ok(zones) => self.zones(zones, layer)?,
                    Err(FeatureError::NoZone { .. }) => {}
                    Err(error)
                        if layer.is_some() || matches!(error, FeatureError::NameTwice { .. }) =>
                    {
                        let found = Finding::new(Code::Unreadable, error.to_string());
                        self.warnings
                            .push(found.remedy(Diagnostic::remedy(&error)).within(layer));
                    }
                    Err(error) => return Err(fault(error)),
                }
                match made {
                    Ok(raw) => self.raws.push(RawSurface {
                        name: layer.clone().unwrap_or_default(),
                        ..raw
                    }),
                    Err(error) if without_heights(&error) => {}
                    Err(error) => return Err(fault(error)),
                }
            }
        }
        Ok(())
    }

    fn zones(&mut self, read: RawZones, layer: &Option<String>) -> Result<(), JobError> {
        if read.left_out > 0 {
            let kind = "features that are not areas".into();
            *self.left_out.entry(kind).or_insert(0) += read.left_out;
        }
        self.warnings.extend(
            read.notes
                .iter()
                .map(|note| Finding::new(Code::ZoneNotes, note.clone()).within(layer)),
        );
        if read.unnamed > 0 {
            let text = format!("{} zones have no name and are numbered", read.unnamed);
            self.warnings.push(
                Finding::new(Code::Unnamed, text)
                    .remedy("choose another attribute with --name-attribute")
                    .within(layer),
            );
        }
        let corners = || (read.zones.iter()).flat_map(|zone| zone.parts.iter().flatten().flatten());
        if clean::looks_like_degrees(&Extent::of(corners().copied()), corners().count()) {
            self.warnings.push(degrees().within(layer));
        }
        for raw in &read.zones {
            match zone(raw, self.path) {
                Ok(found) => self.zones.push(ZoneFound {
                    name: layer.as_ref().map_or(found.name.clone(), |layer| {
                        format!("{layer}/{}", found.name)
                    }),
                    ..found
                }),
                Err(error) => self
                    .warnings
                    .push(Finding::new(Code::Unreadable, error.to_string()).within(layer)),
            }
        }
        Ok(())
    }
}

/// The attributes that features have, with some of their values.
fn attributes(features: &Features, layer: &Option<String>) -> Vec<AttributeFound> {
    let mut found: BTreeMap<&str, AttributeFound> = BTreeMap::new();
    for (name, value) in features
        .features
        .iter()
        .flat_map(|feature| &feature.attributes)
    {
        let one = found.entry(name).or_insert_with(|| AttributeFound {
            name: name.clone(),
            layer: layer.clone(),
            features: 0,
            samples: Vec::new(),
        });
        one.features += 1;
        let value = value.trim();
        if one.samples.len() < SAMPLES
            && !value.is_empty()
            && !one.samples.iter().any(|known| known == value)
        {
            one.samples.push(shortened(&visible(value)));
        }
    }
    found.into_values().collect()
}

/// A value as far as it can be shown in a line with others.
fn shortened(value: &str) -> String {
    match value.char_indices().nth(SHOWN) {
        Some((end, _)) => format!("{}…", value[..end].trim_end()),
        None => value.into(),
    }
}

/// The lowest and the highest height of some features.
fn heights(features: &Features) -> Option<[f64; 2]> {
    let corners = (features.features.iter()).flat_map(|feature| feature.shape.corners());
    let heights = corners.filter_map(|corner| corner.height);
    heights.fold(None, |found: Option<[f64; 2]>, height| {
        let [low, high] = found.unwrap_or([height; 2]);
        Some([low.min(height), high.max(height)])
    })
}

impl FeaturesFound {
    /// These and those of another layer.
    fn with(mut self, other: Self) -> Self {
        for (kind, count) in other.kinds {
            *self.kinds.entry(kind).or_insert(0) += count;
        }
        let ends =
            |one: &Option<Extreme>, other: &Option<Extreme>, pick: fn(f64, f64) -> f64| match (
                one, other,
            ) {
                (Some(one), Some(other)) => Some(Extreme {
                    east: pick(one.east, other.east),
                    north: pick(one.north, other.north),
                }),
                (one, other) => one.or(*other),
            };
        FeaturesFound {
            kinds: self.kinds,
            with_heights: self.with_heights + other.with_heights,
            min: ends(&self.min, &other.min, f64::min),
            max: ends(&self.max, &other.max, f64::max),
        }
    }

    fn of(features: &Features) -> Self {
        let mut kinds: BTreeMap<Word, usize> = BTreeMap::new();
        let (mut extent, mut with_heights) = (Extent::EMPTY, 0);
        for feature in &features.features {
            let kind = match &feature.shape {
                features::Shape::Points(_) => "points",
                features::Shape::Lines(_) => "lines",
                features::Shape::Areas(_) => "areas",
                features::Shape::Facets(_) => "triangles",
                features::Shape::Nothing => "without geometry",
            };
            *kinds.entry(kind.into()).or_insert(0) += 1;
            extent = extent.union(&Extent::of(
                feature.shape.corners().map(|corner| corner.place),
            ));
            with_heights += usize::from(
                feature
                    .shape
                    .corners()
                    .any(|corner| corner.height.is_some()),
            );
        }
        let ends = (!extent.is_empty()).then(|| [extent.min, extent.max].map(corner));
        FeaturesFound {
            kinds,
            with_heights,
            min: ends.map(|[min, _]| min),
            max: ends.map(|[_, max]| max),
        }
    }
}

pub(super) fn zone(raw: &RawZone, path: &Path) -> Result<ZoneFound, JobError> {
    let extent = loaded::zone_extent(raw);
    let frame = Frame::around(LengthUnit::Metre, extent);
    let made = Zone::new(raw.name.clone(), frame, raw.parts.clone()).map_err(|error| {
        JobError::from(SurfaceError::Zone {
            path: path.into(),
            name: raw.name.clone(),
            error,
        })
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
