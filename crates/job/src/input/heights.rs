//! Heights of a file in the unit of its plan.

use std::path::PathBuf;

use dapedon_core::units::LengthUnit;
use dapedon_formats::{Format, HeightSystem, HeightUnit, height_system};

use crate::digits::count_in_words;
use crate::finding::{Code, Finding};
use crate::input::InputError;
use crate::input::Reading;
use crate::input::clean::{drop_height, missing_heights};
use crate::input::load::overridden;
use crate::input::loaded::LoadedSurface;

impl LoadedSurface {
    /// Finds out whether a drawing or map file has no heights at all: what is drawn in plan lies at 0.
    pub(crate) fn no_heights(&self) -> Option<Finding> {
        let is_drawn = |format: &Format| *format == Format::Dxf || format.is_map();
        let mut drawn = Format::ALL.into_iter().filter(is_drawn);
        let surface = &self.surface;
        let is_flat = drawn.any(|format| format.name() == self.file.format)
            && !surface.vertices.is_empty()
            && surface.vertices.iter().all(|v| v.height == 0.0);
        let found = is_flat.then(|| {
            Finding::new(
                Code::NoHeights,
                "all heights are 0: perhaps it is drawn without heights",
            )
        })?;
        Some(match surface.written_heights.as_slice() {
            [] => found,
            layers => {
                let uses = layers.join(",");
                found.remedy(format!("numbers are written on {}: to use them as heights, add --codes \"{uses}=heights\"", layers.join(", ")))
            }
        })
    }

    /// Removes points and cells with the height that marks a missing one, as the file has it. Without such a height, finds
    /// out whether there seems to be one.
    ///
    /// # Errors
    ///
    /// When no height is left.
    pub(crate) fn drop_missing(
        &mut self,
        nodata: Option<f64>,
    ) -> Result<Option<Finding>, InputError> {
        let Some(height) = nodata else {
            let suspected = match &self.surface.grid {
                Some(grid) => missing_heights(grid.heights.iter().copied(), "cell"),
                None => missing_heights(self.surface.vertices.iter().map(|v| v.height), "point"),
            };
            return Ok(suspected);
        };
        let dropped = drop_height(&mut self.surface, height);
        if dropped > 0 {
            let dropped = count_in_words(dropped);
            let note = format!("{dropped} points without a height removed, no-data value {height}");
            self.notes.push(note);
        }
        let is_left = match &self.surface.grid {
            Some(grid) => grid.heights.iter().any(|height| !height.is_nan()),
            None => !self.surface.vertices.is_empty(),
        };
        match is_left || dropped == 0 {
            true => Ok(None),
            false => Err(InputError::NoHeightLeft {
                path: PathBuf::from(&self.file.path),
                height,
            }),
        }
    }

    /// Takes all lengths of the file in the unit that overrides its own, if one does; says which unit it has.
    pub(crate) fn override_unit(&mut self, reading: &Reading) -> Option<Finding> {
        let unit = reading.forced_unit()?;
        let surface = &mut self.surface;
        let plan = (surface.stated_unit.take())
            .or(surface.unknown_unit.take())
            .or(surface.unit.map(|own| own.name().into()));
        surface.unit = Some(unit);
        surface.height_unit = Some(HeightUnit::Length(unit));
        let words = overridden(plan, unit)?;
        Some(Finding::new(Code::UnitOverridden, words))
    }

    /// Converts heights to the unit of the plan, where the file or its height system has another one for them.
    ///
    /// # Errors
    ///
    /// When a unit is not supported, or heights count downwards.
    pub(crate) fn settle_heights(
        &mut self,
        plan: LengthUnit,
    ) -> Result<Option<Finding>, InputError> {
        let path = || PathBuf::from(&self.file.path);
        if let Some(unit) = self.surface.unknown_unit.take() {
            return Err(InputError::UnknownUnit { path: path(), unit });
        }
        let name = self.surface.height_system.as_deref();
        let by_system = name.and_then(height_system);
        if self.surface.is_depth || by_system == Some(HeightSystem::Depths) {
            return Err(InputError::Depths {
                path: path(),
                system: name.unwrap_or("no name").into(),
            });
        }
        let unit = match (self.surface.height_unit.take(), by_system) {
            (Some(unit), _) | (None, Some(HeightSystem::Heights(unit))) => unit,
            (None, _) => {
                let unknown = name.filter(|name| name.starts_with("EPSG:"));
                return Ok(unknown.map(|name| unknown_system(name, plan)));
            }
        };
        self.surface.height_unit = Some(HeightUnit::Length(plan));
        let factor = unit.factor(plan);
        if let Some(note) = unit.note(plan) {
            self.notes.push(note);
            for vertex in &mut self.surface.vertices {
                vertex.height *= factor;
            }
            if let Some(grid) = &mut self.surface.grid {
                grid.heights.iter_mut().for_each(|height| *height *= factor);
            }
        }
        Ok(None)
    }
}

fn unknown_system(name: &str, plan: LengthUnit) -> Finding {
    let words = format!(
        "the unit of the height system {name} is not known: {} is assumed, as in plan",
        plan.name()
    );
    Finding::new(Code::HeightUnit, words)
}
