//! The overlays that items need, each made once for all of them.

use std::rc::Rc;

use dapedon_core::{
    Coverage, Extent, Frame, Outline, Surface, Tolerance, Zone, Zones, coverage, volumes,
};

use super::grounds::Laid;
use crate::job_file::Ground;
use crate::measure::{apart, not_laid};
use crate::measurement::ZoneMeasurement;
use crate::{JobError, Scene, Spot};

/// Two surfaces, and all that is asked between them.
pub(crate) struct Pass {
    /// The surfaces, as they are numbered by whoever asks.
    pub(crate) sides: [usize; 2],
    tolerances: Vec<Tolerance>,
    parts: Vec<Part>,
    /// For each tolerance, for each part, region by region.
    measured: Vec<Vec<Vec<ZoneMeasurement>>>,
}

/// The ground of some items.
struct Part {
    ground: Ground,
    laid: Laid,
    /// The item that asked first.
    spot: Spot,
}

/// Where an item finds what was measured for it.
#[derive(Clone, Copy)]
pub(crate) struct Ticket {
    pub(crate) pass: usize,
    part: usize,
    tolerance: usize,
}

impl Ticket {
    /// Which surfaces, and which ground, whatever counts as unchanged there.
    pub(crate) fn place(self) -> [usize; 2] {
        [self.pass, self.part]
    }
}

/// All passes.
#[derive(Default)]
pub(crate) struct Passes(pub(crate) Vec<Pass>);

impl Passes {
    /// Asks for what lies between two surfaces on some ground: laid out by `lay` where nobody asked for it yet.
    pub(crate) fn ask(
        &mut self,
        sides: [usize; 2],
        ground: &Ground,
        tolerance: Tolerance,
        spot: &Spot,
        lay: impl FnOnce() -> Result<Laid, JobError>,
    ) -> Result<Ticket, JobError> {
        let pass = self.0.iter().position(|pass| pass.sides == sides);
        let pass = pass.unwrap_or_else(|| {
            self.0.push(Pass {
                sides,
                tolerances: Vec::new(),
                parts: Vec::new(),
                measured: Vec::new(),
            });
            self.0.len() - 1
        });
        let found = &mut self.0[pass];
        let part = match found.parts.iter().position(|part| part.ground == *ground) {
            Some(part) => part,
            None => {
                found.parts.push(Part {
                    ground: ground.clone(),
                    laid: lay().map_err(|error| error.in_job(spot))?,
                    spot: spot.clone(),
                });
                found.parts.len() - 1
            }
        };
        let tolerances = &mut found.tolerances;
        let known = tolerances.iter().position(|known| *known == tolerance);
        let tolerance = known.unwrap_or_else(|| {
            tolerances.push(tolerance);
            tolerances.len() - 1
        });
        Ok(Ticket {
            pass,
            part,
            tolerance,
        })
    }

    /// What counts as unchanged for a ticket.
    pub(crate) fn tolerance(&self, ticket: Ticket) -> Tolerance {
        self.0[ticket.pass].tolerances[ticket.tolerance]
    }

    /// The ground of a ticket, and what was measured there, region by region.
    pub(crate) fn found(&self, ticket: Ticket) -> (&Laid, &[ZoneMeasurement]) {
        let pass = &self.0[ticket.pass];
        (
            &pass.parts[ticket.part].laid,
            &pass.measured[ticket.tolerance][ticket.part],
        )
    }
}

impl Pass {
    /// Measures all that was asked for, in one walk over the overlay. `scene` holds the two surfaces, which end at
    /// `outlines`.
    pub(crate) fn measure(
        &mut self,
        scene: &Scene,
        outlines: [&Outline; 2],
    ) -> Result<(), JobError> {
        let (reference, surveyed) = (&*scene.reference, &*scene.surveyed);
        let everywhere = self.parts.iter().all(|part| part.laid.drawn.is_none());
        let regions: Vec<Zone> = match everywhere {
            true => Vec::new(),
            false => {
                let regions = self.parts.iter().flat_map(|part| &part.laid.regions);
                regions.cloned().collect()
            }
        };
        let zones = (!everywhere).then(|| Zones::new(scene.frame(), regions));
        let found = volumes(reference, surveyed, zones.as_ref(), &self.tolerances);
        let found = found.map_err(|error| {
            let error = not_laid(error, reference, surveyed, zones.as_ref());
            self.parts
                .first()
                .map_or(JobError::Unbounded, |part| error.in_job(&part.spot))
        })?;
        let covered: Vec<Vec<Coverage>> = self
            .parts
            .iter()
            .map(|part| match &part.laid.drawn {
                None => coverage(outlines[0], outlines[1], None),
                Some(_) => {
                    let zones = Zones::new(scene.frame(), part.laid.regions.clone());
                    coverage(outlines[0], outlines[1], Some(&zones))
                }
            })
            .collect();
        for by_region in found {
            let mut by_region = by_region.iter();
            let mut parts = Vec::new();
            for (part, covered) in self.parts.iter().zip(&covered) {
                let own: Vec<ZoneMeasurement> = covered
                    .iter()
                    .zip(by_region.by_ref())
                    .map(|(covered, measured)| scene.row(String::new(), measured, covered))
                    .collect();
                if own.iter().all(|region| region.closure.pieces == 0) {
                    let regions = part.laid.drawn.as_ref();
                    return Err(apart(reference, surveyed, regions).in_job(&part.spot));
                }
                parts.push(own);
            }
            self.measured.push(parts);
        }
        Ok(())
    }

    /// How many pieces all of it is summed over, and the largest difference of closure.
    pub(crate) fn closure(&self) -> (u64, f64) {
        let regions = self.measured.first().into_iter().flatten().flatten();
        regions.fold((0, 0.0), |(pieces, worst), region| {
            let closure = region.closure;
            (pieces + closure.pieces, f64::max(worst, closure.relative))
        })
    }
}

/// An extent that holds two surfaces and some ground around; none where neither has an end.
pub(crate) fn around(sides: &[Rc<Surface>]) -> Option<Extent> {
    let extents = sides.iter().map(|side| side.extent());
    let bounded = extents.filter(|extent| extent.width().is_finite());
    let all = bounded.reduce(|all, extent| all.union(&extent))?;
    let margin = 1.0 + 0.01 * all.width().max(all.height());
    Some(Extent {
        min: dapedon_core::Place::new(all.min.east - margin, all.min.north - margin),
        max: dapedon_core::Place::new(all.max.east + margin, all.max.north + margin),
    })
}

/// The ground of an item between two surfaces.
pub(crate) fn lay(
    ground: &Ground,
    frame: Frame,
    sides: &[Rc<Surface>],
    zones_of: impl Fn(&str) -> Result<Vec<Zone>, JobError>,
) -> Result<Laid, JobError> {
    let around = around(sides);
    match ground.zones.is_empty() && ground.plots.is_empty() {
        true => Laid::everywhere(frame, around.ok_or(JobError::Unbounded)?),
        false => Laid::of(ground, frame, around, zones_of),
    }
}
