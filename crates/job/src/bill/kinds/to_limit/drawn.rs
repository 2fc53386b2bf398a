//! A map of work against its limit.

use std::sync::Arc;

use dapedon_core::derived::{Choice, combined};
use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    HeightLimits, SideOfLevel, Tolerance, ZoneVolume, coverage, patches_beyond, volumes,
};
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::Zones;

use crate::band_rules::BandRules;
use crate::bill::inputs::BillInputs;
use crate::bill::{ItemMap, MapSpot};
use crate::error::JobError;
use crate::job_file::{self, Counts, ItemPlan};
use crate::quantities::conformity::bands_of_limits;
use crate::quantities::{Scene, ZoneMeasurement};

/// The surveyed surface over its limit, ready to be drawn.
pub(super) struct DrawnToLimit {
    /// The surface that nothing is to be beyond: the limit, or the reference where the limit asks for nothing.
    limit: Arc<Surface>,
    surveyed: Arc<Surface>,
    zones: Option<Zones>,
    counted: Option<Zones>,
    rules: BandRules,
    rows: Vec<ZoneMeasurement>,
    /// The worst places beyond.
    spots: Vec<MapSpot>,
}

/// Worst places on a map at most.
const SPOTS: usize = 12;
/// Pieces of ground beyond a limit that are put together to patches at most.
const MOST_PIECES: u64 = 500_000;

impl DrawnToLimit {
    /// None where limit and surveyed surface cannot be laid over each other.
    pub(super) fn of(
        desk: &BillInputs<'_>,
        plan: &job_file::ToLimit,
        [reference, surveyed, limit]: [&Arc<Surface>; 3],
        [zones, counted]: [Option<&Zones>; 2],
    ) -> Result<Option<Self>, JobError> {
        let tolerance = plan.tolerance.value();
        let (choice, limits) = match plan.counts {
            Counts::Fill => (
                Some(Choice::Highest),
                HeightLimits::new(None, Some(tolerance)),
            ),
            Counts::Net => (None, HeightLimits::new(Some(-tolerance), Some(tolerance))),
            _ => (
                Some(Choice::Lowest),
                HeightLimits::new(Some(-tolerance), None),
            ),
        };
        let Some(limits) = limits else {
            return Ok(None);
        };
        let both_levels = matches!(
            (&**reference, &**limit),
            (Surface::Level(_), Surface::Level(_))
        );
        let limit = match choice.filter(|_| !both_levels) {
            Some(choice) => Arc::new(combined(reference, limit, choice)?),
            None => limit.clone(),
        };
        let Ok(overlay) = Overlay::new(&limit, surveyed, zones) else {
            return Ok(None);
        };
        let found = volumes(&overlay, &[Tolerance::ZERO])?;
        let measured: Vec<ZoneVolume> = found.into_iter().flatten().collect();
        let ends = [&limit, surveyed].map(|side| Outline::of(side));
        let scene = Scene::of(&desk.site.making, [&limit, surveyed], zones.cloned());
        let rows = scene.rows(&measured, &coverage(&ends[0], &ends[1], zones));
        // Where zones overlap a place is one all the same.
        let counting = counted.map(|counted| Overlay::new(&limit, surveyed, Some(counted)));
        let counting = counting.transpose()?;
        let ground = counting.as_ref().unwrap_or(&overlay);
        let patches = patches_beyond(ground, &limits, MOST_PIECES)?.unwrap_or_default();
        let frame = desk.site.making.frame;
        let spots = patches.iter().take(SPOTS).map(|patch| {
            let at = frame.to_grid(patch.at);
            let beyond = tolerance + patch.greatest;
            MapSpot {
                at: [at.east, at.north],
                difference: match patch.side {
                    SideOfLevel::Above => beyond,
                    SideOfLevel::Below => -beyond,
                },
            }
        });
        let spots = spots.collect();
        Ok(Some(DrawnToLimit {
            spots,
            rules: bands_of_limits(&limits),
            rows,
            limit,
            surveyed: surveyed.clone(),
            zones: zones.cloned(),
            counted: counted.cloned(),
        }))
    }

    /// The map of an item.
    pub(super) fn sheet(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        plan: &job_file::ToLimit,
    ) -> ItemMap {
        let surfaces = [&self.limit, &self.surveyed];
        let scene = Scene::of(&desk.site.making, surfaces, self.zones.clone())
            .counting(self.counted.clone());
        ItemMap {
            codes: vec![item.code.clone()],
            reference: format!("limit \"{}\"", plan.limit),
            surveyed: plan.sides[1].to_string(),
            tolerance: 0.0,
            rows: self.rows.clone(),
            scene: scene.in_bands(Some(self.rules.clone())),
            to_limit: true,
            spots: self.spots.clone(),
        }
    }
}
