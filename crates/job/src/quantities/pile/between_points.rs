//! What the spacing of points leaves out of piles, by each of their bases.

use std::sync::Arc;

use dapedon_core::quantities::{Tolerance, between_points_by, volume};
use dapedon_core::surface::Surface;
use dapedon_core::zones::{Zone, Zones};

use super::outlined::Outlined;
use crate::error::JobError;
use crate::input::BaseSource;
use crate::quantities::uncertainty::UncertaintyOf;
use crate::surfaces::{MadeSurface, not_laid};
use crate::units::ReportUnits;

/// What the spacing of the points of a survey leaves out of piles: cut and fill from each base, pile by pile.
pub(crate) struct LeftOut {
    bases: usize,
    /// In cubes of the length unit.
    found: Vec<[f64; 3]>,
    /// Whether errors of heights are independent, and so in it.
    independent: bool,
}

impl LeftOut {
    /// Of all piles above all bases; none where it is not known: how accurate the survey is, or its triangles are not chosen among points of a
    /// file.
    pub(crate) fn of(
        surface: &MadeSurface,
        zones: &[Zone],
        bases: &[(BaseSource, Option<Arc<Surface>>)],
    ) -> Result<Option<Self>, JobError> {
        let (Some(accuracy), Some(lines)) = (&surface.side.accuracy, surface.chosen_triangles())
        else {
            return Ok(None);
        };
        let Surface::Tin(tin) = &*surface.surface else {
            return Ok(None);
        };
        let measure = |surface: &Surface| -> Result<Vec<[f64; 3]>, JobError> {
            let mut all = Vec::new();
            for zone in zones {
                let outlined = Outlined::of(surface, zone.clone());
                let within = Zones::new(surface.frame(), vec![zone.clone()]);
                for (index, (base, made)) in bases.iter().enumerate() {
                    let own = || made.clone().unwrap_or_else(|| outlined.near.clone());
                    let base = match outlined.base(base, own) {
                        // Others than the first are left out where the survey does not reach all along the outline.
                        Err(_) if index > 0 => {
                            all.push([0.0; 3]);
                            continue;
                        }
                        base => base?,
                    };
                    let found = volume(&base, &outlined.near, Some(&within), Tolerance::ZERO);
                    let found = found
                        .map_err(|error| not_laid(error, &base, &outlined.near, Some(&within)))?;
                    let own = found.first().map(|zone| zone.volume).unwrap_or_default();
                    all.push([own.cut, own.fill, own.net]);
                }
            }
            Ok(all)
        };
        let full = measure(&surface.surface)?;
        let found = between_points_by(tin, &lines, &full, measure)?;
        Ok(found.map(|found| LeftOut {
            bases: bases.len(),
            found,
            independent: accuracy.correlation.value == 0.0,
        }))
    }

    /// Adds it to the uncertainty of a pile above a base: of what is above it, or below it.
    pub(crate) fn add_to(
        &self,
        own: &mut UncertaintyOf,
        [pile, base]: [usize; 2],
        below: bool,
        units: &ReportUnits,
    ) {
        let found = self.found.get(pile * self.bases + base);
        let [cut, fill, _] = found.copied().unwrap_or_default();
        let found = if below { cut } else { fill };
        own.add_between_points(1, self.independent, found, units);
    }
}
