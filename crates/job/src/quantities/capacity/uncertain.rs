//! How uncertain what a basin holds is, from how accurate its bed was surveyed.

use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::quantities::{Pool, SideOfLevel, Tolerance, level_area, weighed_volumes};
use dapedon_core::surface::{Level, Surface, Tin};
use dapedon_core::zones::{Zone, Zones};

use crate::error::JobError;
use crate::surfaces::{MadeSurface, not_laid};

/// Triangles times levels that are looked through for a whole table at most; beyond, only what was asked for has its uncertainty.
const MOST: usize = 20_000_000;

/// A bed, and where water stands on it.
pub(super) struct SurveyedBed<'b> {
    pub(super) bed: &'b MadeSurface,
    /// The zone that the basin ends at.
    pub(super) zones: Option<&'b Zones>,
    /// The ground within it.
    pub(super) kept: &'b Tin,
    /// The pool that counts, where not all of the ground does.
    pub(super) pool: Option<&'b Pool>,
}

impl SurveyedBed<'_> {
    /// True where a table of so many levels has uncertainties.
    pub(super) fn covers(&self, levels: usize) -> bool {
        self.bed.surface.facets().saturating_mul(levels) <= MOST
    }

    /// The standard uncertainty of the volume up to a level, in cubes of the length unit; none where it is not known how accurate the bed is,
    /// or nothing is under water.
    pub(super) fn standard(&self, level: f64) -> Result<Option<f64>, JobError> {
        let Some(accuracy) = &self.bed.side.accuracy else {
            return Ok(None);
        };
        let bed = &*self.bed.surface;
        let frame = bed.frame();
        let wet = match self.pool {
            None => None,
            Some(pool) => {
                let reached = pool.reached(self.kept, level);
                let parts = reached.map_or(Vec::new(), |wet| {
                    level_area(&wet, level, SideOfLevel::Below)
                });
                match Zone::new("water", frame, parts) {
                    Ok(zone) => Some(Zones::new(frame, vec![zone])),
                    // Nothing with an area is under water.
                    Err(_) => return Ok(None),
                }
            }
        };
        let zones = wet.as_ref().or(self.zones);
        let water = Surface::Level(Level::new(frame, level));
        let overlay = match Overlay::new(bed, &water, zones) {
            Ok(overlay) => overlay,
            Err(OverlayError::Apart) => return Ok(None),
            Err(error) => return Err(not_laid(error, bed, &water, zones)),
        };
        let weighed = weighed_volumes(&overlay, Tolerance::ZERO, [bed, &water])?;
        let all: Vec<usize> = (0..weighed.zones.len()).collect();
        let [_, fill] = weighed.reference_weights(&all);
        Ok((!fill.is_empty()).then(|| fill.parts(bed, &accuracy.numbers()).standard()))
    }
}
