//! How uncertain what a basin holds is, from how accurate its bed was surveyed.

use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::quantities::{
    Accuracy, Pool, SideOfLevel, Tolerance, UncertaintyParts, between_points_by, level_area,
    weighed_volumes,
};
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
    /// What the spacing of points leaves out, where that is asked for and known.
    pub(super) left_out: Option<LeftOut>,
}

/// What the spacing of the points of a bed leaves out of the volumes up to some levels.
pub(super) struct LeftOut {
    levels: Vec<f64>,
    /// In cubes of the length unit.
    found: Vec<[f64; 3]>,
    /// Whether errors of heights are independent, and so in it.
    independent: bool,
}

impl LeftOut {
    /// Up to some levels, as volumes up to them are measured on a bed; none where it is not known.
    pub(super) fn of(
        bed: &MadeSurface,
        levels: Vec<f64>,
        volumes: impl Fn(&Surface, &[f64]) -> Result<Vec<f64>, JobError> + Sync,
    ) -> Result<Option<Self>, JobError> {
        let (Some(accuracy), Some(lines)) = (&bed.side.accuracy, bed.chosen_triangles()) else {
            return Ok(None);
        };
        let Surface::Tin(tin) = &*bed.surface else {
            return Ok(None);
        };
        let measure = |surface: &Surface| -> Result<Vec<[f64; 3]>, JobError> {
            let found = volumes(surface, &levels)?;
            Ok(found
                .into_iter()
                .map(|volume| [0.0, volume, volume])
                .collect())
        };
        let full = measure(&bed.surface)?;
        let found = between_points_by(tin, &lines, &full, measure)?;
        Ok(found.map(|found| LeftOut {
            levels,
            found,
            independent: accuracy.correlation.value == 0.0,
        }))
    }

    fn at(&self, level: f64) -> Option<f64> {
        let index = self.levels.iter().position(|own| *own == level)?;
        Some(self.found.get(index)?[1])
    }
}

impl SurveyedBed<'_> {
    /// True where a table of so many levels has uncertainties.
    pub(super) fn covers(&self, levels: usize) -> bool {
        self.bed.surface.facets().saturating_mul(levels) <= MOST
    }

    /// The standard uncertainty of the volume up to a level, in cubes of the length unit; none where it is not known how accurate the bed is,
    /// or nothing is under water.
    pub(super) fn standard(&self, level: f64) -> Result<Option<f64>, JobError> {
        let Some(parts) = self.parts(level)? else {
            return Ok(None);
        };
        let Some(left_out) = &self.left_out else {
            return Ok(Some(parts.standard()));
        };
        // Errors of single heights change the halves too, where they are independent.
        let heights = if left_out.independent {
            parts.height
        } else {
            0.0
        };
        let found = left_out.at(level).unwrap_or_default();
        let between = (found * found - heights * heights).max(0.0);
        Ok(Some((parts.standard() * parts.standard() + between).sqrt()))
    }

    /// What the points of the bed add to the uncertainty of the volume up to a level.
    fn parts(&self, level: f64) -> Result<Option<UncertaintyParts>, JobError> {
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
        let weighed = weighed_volumes(
            &overlay,
            Tolerance::ZERO,
            [bed, &water],
            [accuracy.numbers(), Accuracy::EXACT],
        )?;
        let all: Vec<usize> = (0..weighed.zones.len()).collect();
        let [_, fill] = weighed.reference_weights(&all);
        Ok((!fill.is_empty()).then(|| fill.parts(bed, &accuracy.numbers())))
    }
}
