//! What is measured of one surface alone: its area along the slope, and piles on it.

use std::sync::Arc;

use dapedon_core::quantities::ground_areas;
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zone;

use super::grounds::{Laid, Parted};
use super::passes::around;
use crate::error::JobError;
use crate::input::BaseSource;
use crate::job_file::Ground;
use crate::quantities::pile::outlined::Outlined;
use crate::quantities::{Scene, ZoneMeasurement, apart};
use crate::site::SiteError;
use crate::surfaces::Making;
use crate::zones::told_apart;

/// One surface.
pub(crate) struct One<'o, 'j> {
    pub(crate) making: &'o Making<'j>,
    pub(crate) surface: &'o Arc<Surface>,
}

/// What was measured of it.
pub(crate) enum Alone {
    /// Areas along the slope, region by region.
    Sloping(Laid, Vec<f64>),
    /// Piles above their bases.
    Piles(Vec<Pile>),
}

/// A pile: its outline, what was measured, and its base below it.
pub(crate) struct Pile {
    pub(crate) zone: Zone,
    pub(crate) measured: ZoneMeasurement,
    pub(crate) base: Arc<Surface>,
}

impl One<'_, '_> {
    /// Its area along the slope.
    pub(crate) fn sloping(&self, ground: &Ground) -> Result<Alone, JobError> {
        let frame = self.making.frame;
        let zones_of = |name: &str| self.making.zones_of(name);
        let around = around(&[self.surface]);
        let parted = Parted::of(std::iter::once(ground), frame, around, zones_of)?;
        let parted = parted.ok_or(SiteError::Unbounded)?;
        let laid = parted.lay(ground)?;
        let found = ground_areas(self.surface, &parted.regions())?;
        let sloping = found.iter().map(|area| area.sloping).collect();
        Ok(Alone::Sloping(laid, sloping))
    }

    /// The piles within some outlines, each above its own base.
    pub(crate) fn piles(&self, ground: &Ground, base: &BaseSource) -> Result<Alone, JobError> {
        let mut known = Vec::new();
        for name in &ground.zones {
            known.extend(self.making.zones_of(name)?);
        }
        let names: Vec<(String, String)> = (known.iter())
            .map(|known| (known.zone.name().to_owned(), known.of.clone()))
            .collect();
        let zones = known.into_iter().zip(told_apart(&names));
        let zones: Vec<Zone> = zones.map(|(known, name)| known.zone.named(name)).collect();
        apart(&zones)?;
        let piles = zones.into_iter().map(|zone| self.pile(zone, base));
        Ok(Alone::Piles(piles.collect::<Result<_, _>>()?))
    }

    fn pile(&self, zone: Zone, base: &BaseSource) -> Result<Pile, JobError> {
        let outlined = Outlined::of(self.surface, zone);
        let base = outlined.base(base, || outlined.near.clone())?;
        let scene = Scene::of(self.making, [&base, self.surface], None);
        Ok(Pile {
            measured: outlined.from(&base, &scene)?,
            zone: outlined.zone,
            base,
        })
    }
}
