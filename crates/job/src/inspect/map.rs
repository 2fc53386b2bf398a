//! What is found in map files: areas as zones, and what has heights.

use std::collections::BTreeMap;
use std::path::Path;

use dapedon_core::plan::{Extent, Frame};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zone;
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::features::{self, FeatureError, Features};
use dapedon_formats::{RawZone, RawZones, visible};

use super::{AttributeFound, FeaturesFound, Inspector, ZoneFound, corner, degrees};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{clean, load, loaded};
use crate::schema::Word;
use crate::surfaces::SurfaceError;

/// Values of an attribute that are shown.
const SAMPLES: usize = 3;

impl Inspector<'_> {
    /// Areas as zones, and what has heights as a surface.
    pub(super) fn features(&mut self, features: Features) -> Result<(), JobError> {
        let name_attribute = self.reading.name_attribute.as_deref();
        self.plan_unit = features.unit;
        self.plan_crs = features.crs.clone();
        self.attributes = attributes(&features);
        self.features = Some(FeaturesFound::of(&features));
        if features.is_geographic {
            let words = "the coordinates are latitude and longitude in degrees; volumes need a grid in metres or feet";
            self.warnings.push(Finding::new(Code::Degrees, words));
            return Ok(());
        }
        let without_heights =
            |error: &FeatureError| matches!(error, FeatureError::NoHeights { .. });
        let facets = (features.features.iter())
            .any(|feature| matches!(feature.shape, features::Shape::Facets(_)));
        let fault = |error| load::feature_fault(self.path, error);
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
                self.warnings.push(found.remedy(Diagnostic::remedy(&error)));
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
        self.warnings.extend(
            read.notes
                .iter()
                .map(|note| Finding::new(Code::ZoneNotes, note.clone())),
        );
        if read.unnamed > 0 {
            let text = format!("{} zones have no name and are numbered", read.unnamed);
            self.warnings.push(
                Finding::new(Code::Unnamed, text)
                    .remedy("choose another attribute with --name-attribute"),
            );
        }
        let corners = || (read.zones.iter()).flat_map(|zone| zone.parts.iter().flatten().flatten());
        if clean::looks_like_degrees(&Extent::of(corners().copied()), corners().count()) {
            self.warnings.push(degrees());
        }
        for raw in &read.zones {
            match zone(raw, self.path) {
                Ok(found) => self.zones.push(found),
                Err(error) => self
                    .warnings
                    .push(Finding::new(Code::Unreadable, error.to_string())),
            }
        }
        Ok(())
    }
}

/// The attributes that features have, with some of their values.
fn attributes(features: &Features) -> Vec<AttributeFound> {
    let mut found: BTreeMap<&str, AttributeFound> = BTreeMap::new();
    for (name, value) in features
        .features
        .iter()
        .flat_map(|feature| &feature.attributes)
    {
        let one = found.entry(name).or_insert_with(|| AttributeFound {
            name: name.clone(),
            features: 0,
            samples: Vec::new(),
        });
        one.features += 1;
        let value = value.trim();
        if one.samples.len() < SAMPLES
            && !value.is_empty()
            && !one.samples.iter().any(|known| known == value)
        {
            one.samples.push(visible(value).into_owned());
        }
    }
    found.into_values().collect()
}

impl FeaturesFound {
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
