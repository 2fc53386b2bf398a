//! A survey shifted in height until it agrees with another on ground that nobody touched.

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::spread_together;
use dapedon_core::surface::Surface;
use dapedon_core::zones::{Zones, without_overlaps};

use super::Making;
use crate::error::JobError;
use crate::surfaces::recipe::Step;
use crate::surfaces::{SurfaceError, not_laid};

impl Making<'_> {
    /// The surface raised by what it is lower than another on average within some zones; with the tilt of the difference taken off too,
    /// where that is asked for.
    pub(super) fn fit(
        &self,
        surface: &Surface,
        other: &Surface,
        zones: &Zones,
        tilt: bool,
        done: &mut Step,
    ) -> Result<Surface, JobError> {
        let zones = without_overlaps(zones);
        let laid = Overlay::new(other, surface, Some(&zones));
        let overlay = laid.map_err(|error| not_laid(error, other, surface, Some(&zones)))?;
        let found = spread_together(&overlay)?.ok_or(SurfaceError::NothingToFit)?;
        let symbol = self.frame.unit().symbol();
        let by = -found.mean;
        let way = if by < 0.0 { "lowered" } else { "raised" };
        let mut words = format!("{way} by {:.4} {symbol}", by.abs());
        let made = match tilt {
            false => surface.raised(by),
            true => {
                let plane = found.plane.ok_or(SurfaceError::NarrowToFit)?;
                let rise = plane.rise.map(|rise| -rise);
                let at = self.frame.to_grid(plane.middle);
                words += &format!(
                    " at east {:.1}, north {:.1}, and by {:+.3} in 1000 to the east and {:+.3} in 1000 to the north from there",
                    at.east,
                    at.north,
                    1000.0 * rise[0],
                    1000.0 * rise[1]
                );
                let leaned = surface.leaned(plane.middle, by, rise);
                leaned.ok_or(SurfaceError::Endless)?
            }
        };
        // Whatever is measured from it, a reader sees by how much.
        let area = self.units.area_in_words(found.area);
        done.action += &format!(", {words}, from {area}");
        Ok(made)
    }
}
