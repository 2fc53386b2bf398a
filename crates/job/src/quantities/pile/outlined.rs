//! One outline: the base below it, and what lies between.

use std::sync::Arc;

use dapedon_core::quantities::{Toe, Tolerance, coverage, volume};
use dapedon_core::surface::{Outline, Surface, Tin};
use dapedon_core::zones::{Zone, Zones};

use super::PileError;
use crate::error::JobError;
use crate::input::BaseSource;
use crate::quantities::measurement::ZoneMeasurement;
use crate::quantities::scene::Scene;
use crate::surfaces::{kept, not_laid};

/// An outline on a surface.
pub(crate) struct Outlined {
    pub(crate) zone: Zone,
    /// The surface about it.
    pub(crate) near: Arc<Surface>,
    /// The heights along it, or why there are none.
    toe: Result<Toe, PileError>,
}

impl Outlined {
    pub(crate) fn of(surface: &Surface, zone: Zone) -> Self {
        let near = Arc::new(surface.near(&zone.extent()));
        let toe = Toe::of(&near, &zone).map_err(|error| PileError::Base {
            name: zone.name().into(),
            error,
        });
        Outlined { zone, near, toe }
    }

    /// The heights along it.
    ///
    /// # Errors
    ///
    /// When the surface does not lie under all of it.
    pub(crate) fn toe(&self) -> Result<&Toe, PileError> {
        self.toe.as_ref().map_err(Clone::clone)
    }

    /// The ground within it.
    ///
    /// # Errors
    ///
    /// When the surface does not reach there at all.
    pub(crate) fn ground(&self) -> Result<Tin, JobError> {
        match &self.toe {
            Ok(toe) => Ok(toe.ground().clone()),
            Err(_) => kept(&self.near, &self.zone),
        }
    }

    /// What it stands on; a surface is known by what it was made to.
    pub(crate) fn base(
        &self,
        base: &BaseSource,
        made: impl FnOnce() -> Arc<Surface>,
    ) -> Result<Arc<Surface>, PileError> {
        let Some(base) = base.of_toe() else {
            return Ok(Arc::new(made().near(&self.zone.extent())));
        };
        let found = self.toe()?.base(base).map_err(|error| PileError::Base {
            name: self.zone.name().into(),
            error,
        });
        Ok(Arc::new(Surface::Tin(found?)))
    }

    /// What lies between another surface and the one it is on: fill is above that, cut below it.
    ///
    /// # Errors
    ///
    /// When the other surface does not reach there at all.
    pub(crate) fn from(
        &self,
        base: &Arc<Surface>,
        scene: &Scene,
    ) -> Result<ZoneMeasurement, JobError> {
        let zones = Zones::new(self.near.frame(), vec![self.zone.clone()]);
        let found = volume(base, &self.near, Some(&zones), Tolerance::ZERO);
        let found = found.map_err(|error| not_laid(error, base, &self.near, Some(&zones)))?;
        let outlines = [base, &self.near].map(|surface| Outline::of(surface));
        let covered = coverage(&outlines[0], &outlines[1], Some(&zones));
        let rows = found.iter().zip(&covered);
        let row = |(found, covered)| scene.row(self.zone.name().into(), found, covered);
        let rows: Vec<ZoneMeasurement> = rows.map(row).collect();
        // Of one zone there is one row.
        Ok(ZoneMeasurement::sum(self.zone.name(), &rows, &scene.units))
    }
}
