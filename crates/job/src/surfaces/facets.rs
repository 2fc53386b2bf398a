//! The facets of a surface, and those within zones or outside them.

use dapedon_core::derived::{Treatment, mask, zonewise};
use dapedon_core::surface::{Surface, Tin};
use dapedon_core::zones::{Zone, Zones};

use crate::error::JobError;
use crate::surfaces::SurfaceError;
use crate::surfaces::no_overlap::not_laid;

/// The facets of a surface, written out.
///
/// # Errors
///
/// When it has no end.
pub(crate) fn facets(surface: &Surface) -> Result<Tin, JobError> {
    match surface {
        Surface::Tin(tin) => Ok(tin.clone()),
        Surface::Grid(grid) => grid
            .to_tin()
            .map_err(|_| JobError::from(SurfaceError::ManyFacets)),
        Surface::Level(_) => Err(SurfaceError::NoGround.into()),
    }
}

/// What of a surface lies in a zone.
///
/// # Errors
///
/// When nothing does.
pub(crate) fn kept(surface: &Surface, zone: &Zone) -> Result<Tin, JobError> {
    mask(surface, zone).map_err(|error| {
        let zones = Zones::new(surface.frame(), vec![zone.clone()]);
        not_laid(error, surface, surface, Some(&zones))
    })
}

/// The rest of a surface, outside some zones; none where they cover it.
pub(crate) fn rest(surface: &Surface, zones: &Zones) -> Option<Tin> {
    let rest = zonewise(surface, zones, |within| match within {
        [] => Treatment::Keep,
        _ => Treatment::Drop,
    });
    rest.ok().and_then(|rest| facets(&rest).ok())
}
