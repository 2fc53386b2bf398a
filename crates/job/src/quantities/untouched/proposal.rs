//! Ground that is proposed as untouched.

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::steady_ground;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

use super::{ProposedUntouched, Surveys, UntouchedError, rows};
use crate::error::JobError;
use crate::surfaces::not_laid;

/// Differences that spread by less are as good as the same, in metres.
const LEAST_NOISE: f64 = 0.0005;

/// Its corners are written to a thousandth.
const WRITTEN: f64 = 1000.0;

/// The name it has.
const NAME: &str = "proposed";

/// The largest connected ground outside of what is measured on which two surveys differ by the same everywhere; none where there is no
/// such ground.
pub(crate) fn proposed(
    surveys: &Surveys<'_>,
    measured: Option<&Zones>,
) -> Result<Option<ProposedUntouched>, JobError> {
    let [from, to] = surveys.surfaces;
    let laid = Overlay::new(from, to, None);
    let overlay = laid.map_err(|error| not_laid(error, from, to, None))?;
    let frame = from.frame();
    let extent: Extent = from.extent().intersection(&to.extent());
    let noise = LengthUnit::Metre.convert(LEAST_NOISE, frame.unit());
    let measured = measured.map_or(&[][..], Zones::zones);
    let Some(steady) = steady_ground(&overlay, extent, measured, noise)? else {
        return Ok(None);
    };
    let rings = steady.outline.iter().map(|ring| {
        let grid = ring.iter().map(|&place| frame.to_grid(place));
        let whole = |value: f64| (value * WRITTEN).round() / WRITTEN;
        grid.map(|at| Place::new(whole(at.east), whole(at.north)))
            .collect::<Vec<_>>()
    });
    let rings: Vec<_> = rings.collect();
    let outline = rings.iter().map(|ring| {
        let corners = ring.iter().map(|at| [at.east, at.north]);
        corners.collect()
    });
    let outline = outline.collect();
    let not_covered = || UntouchedError::NotCovered { zone: NAME.into() };
    let zone = Zone::new(NAME, frame, vec![rings]).map_err(|_| not_covered())?;
    let (rows, _) = rows(surveys, &Zones::new(frame, vec![zone]))?;
    let (ground, _) = rows.into_iter().next().ok_or_else(not_covered)?;
    Ok(Some(ProposedUntouched { outline, ground }))
}
