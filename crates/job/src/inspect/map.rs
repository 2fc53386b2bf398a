//! What is found in map files: areas as zones, and what has heights.

use std::collections::BTreeMap;
use std::path::Path;

use dapedon_core::plan::{Extent, Frame};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zone;
use dapedon_formats::features::{self, FeatureError, Features};
use dapedon_formats::{RawZone, RawZones};

use super::{AttributeFound, Inspector, ZoneFound, corner};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{clean, load, loaded};
use crate::surfaces::SurfaceError;

impl Inspector<'_> {
    /// Areas as zones, and what has heights as a surface.
    pub(super) fn features(&mut self, features: Features) -> Result<(), JobError> {
        let name_attribute = self.reading.name_attribute.as_deref();
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
            false => features.zones(None, name_attribute),
        };
        let made = features.surface(&self.reading.take, name_attribute);
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
            let text = "the coordinates look like degrees; volumes need a grid in metres or feet";
            self.warnings.push(Finding::new(Code::Degrees, text));
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
