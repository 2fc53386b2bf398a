//! What somebody else may have found between the same surfaces.

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{Tolerance, Volumes, volumes};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;

use super::sum;
use crate::error::JobError;
use crate::quantities::measurement::{self, ZoneMeasurement, volume_of_report};
use crate::units::ReportUnits;

/// What somebody else may have found in some zones, which do not overlap, each with what it is: without the tolerance, over all ground, in one of several zones
/// alone, and without the build-up, where that was measured too.
pub(crate) fn others<'r>(
    [from, to]: [&Surface; 2],
    zones: Option<&Zones>,
    tolerance: Tolerance,
    rows: impl Iterator<Item = &'r ZoneMeasurement>,
    bare: Option<&measurement::Volumes>,
    units: &ReportUnits,
) -> Result<Vec<(String, Volumes)>, JobError> {
    let between = |zones: Option<&Zones>, tolerance: Tolerance| -> Result<Volumes, JobError> {
        let found = volumes(&Overlay::new(from, to, zones)?, &[tolerance])?;
        Ok(sum(found.iter().flatten().map(|zone| zone.volume)))
    };
    let mut others = Vec::new();
    if tolerance != Tolerance::ZERO {
        let all = between(zones, Tolerance::ZERO)?;
        others.push(("without the tolerance".to_owned(), all));
    }
    let endless = matches!((from, to), (Surface::Level(_), Surface::Level(_)));
    if zones.is_some() && !endless {
        let words = "over all ground, not within its zones alone,".to_owned();
        others.push((words, between(None, tolerance)?));
    }
    let rows: Vec<&ZoneMeasurement> = rows.collect();
    if rows.len() > 1 {
        others.extend(rows.into_iter().map(|row| {
            let words = format!("in \"{}\" alone", row.zone);
            (words, volume_of_report(&row.volume, units))
        }));
    }
    let bare = bare.map(|bare| volume_of_report(bare, units));
    others.extend(bare.map(|bare| ("without the build-up".to_owned(), bare)));
    Ok(others)
}
