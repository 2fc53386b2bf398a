//! The overlays that items need, each made once for all of them.

use std::sync::Arc;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::{
    Coverage, PointWeights, Tolerance, coverage, volumes, weighed_volumes,
};
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::Zones;

use super::grounds::{GroundParts, ItemGround};
use crate::band_rules::BandRules;
use crate::error::{JobError, JobFileLine};
use crate::finding::Finding;
use crate::job_file::MeasuredZones;
use crate::quantities::bands::{self, Bands};
use crate::quantities::sanity::shifted_in_plan;
use crate::quantities::uncertainty::Sureness;
use crate::quantities::{Scene, Volumes, ZoneMeasurement, ZoneUncertainty};
use crate::surfaces::{apart, not_laid};
use crate::units::ReportUnits;
use crate::watch::Step;
use crate::zones::KnownZone;

/// Two surfaces, and all that is asked between them.
pub(crate) struct Pass {
    /// The surfaces, as they are numbered by whoever asks.
    pub(crate) sides: [usize; 2],
    tolerances: Vec<Tolerance>,
    parts: Vec<PassGround>,
    /// The ground of each region; none where it is everywhere.
    regions: Option<Zones>,
    /// For each tolerance, region by region.
    measured: Vec<Vec<ZoneMeasurement>>,
    /// For each tolerance, how uncertain what counts on each ground is, where that is known.
    uncertain: Vec<Vec<GroundUncertainty>>,
    /// Whether any item is to know how uncertain it is.
    pub(crate) uncertain_asked: bool,
    /// How accurate both sides are, where that is known and asked for.
    pub(crate) sure: Option<Sureness>,
    bands: Vec<BandsAsked>,
}

/// Bands that some items ask for.
struct BandsAsked {
    rules: BandRules,
    tolerance: usize,
    part: usize,
    /// The item that asked first.
    spot: JobFileLine,
    /// Once they are measured.
    found: Option<Bands>,
}

/// How uncertain the volumes on some ground are.
pub(crate) struct GroundUncertainty {
    pub(crate) volumes: ZoneUncertainty,
    /// By how much cut and fill grow with the points of the reference and of the surveyed surface.
    /// Nothing of a side that is exact.
    pub(crate) weights: [[PointWeights; 2]; 2],
}

/// The ground of some items.
struct PassGround {
    ground: MeasuredZones,
    /// The item that asked first.
    spot: JobFileLine,
    /// Once it is measured.
    laid: ItemGround,
}

/// Where an item finds what was measured for it.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) struct PassIndex {
    pub(crate) pass: usize,
    part: usize,
    tolerance: usize,
    bands: Option<usize>,
}

impl PassIndex {
    /// True where surfaces, ground and tolerance are the same.
    pub(crate) fn measures_as(self, other: PassIndex) -> bool {
        (self.place(), self.tolerance) == (other.place(), other.tolerance)
    }

    /// Which surfaces, and which ground, whatever counts as unchanged there.
    pub(crate) fn place(self) -> [usize; 2] {
        [self.pass, self.part]
    }
}

/// All passes.
#[derive(Default)]
pub(crate) struct Passes(pub(crate) Vec<Pass>);

impl Passes {
    /// Asks for what lies between two surfaces on some ground.
    pub(crate) fn ask(
        &mut self,
        sides: [usize; 2],
        ground: &MeasuredZones,
        tolerance: Tolerance,
        bands: Option<&BandRules>,
        spot: &JobFileLine,
    ) -> PassIndex {
        let pass = self.0.iter().position(|pass| pass.sides == sides);
        let pass = pass.unwrap_or_else(|| {
            self.0.push(Pass {
                sides,
                tolerances: Vec::new(),
                parts: Vec::new(),
                regions: None,
                measured: Vec::new(),
                uncertain: Vec::new(),
                uncertain_asked: false,
                sure: None,
                bands: Vec::new(),
            });
            self.0.len() - 1
        });
        let found = &mut self.0[pass];
        let part = found.parts.iter().position(|part| part.ground == *ground);
        let part = part.unwrap_or_else(|| {
            found.parts.push(PassGround {
                ground: ground.clone(),
                spot: spot.clone(),
                laid: ItemGround::everywhere(0),
            });
            found.parts.len() - 1
        });
        let known = found
            .tolerances
            .iter()
            .position(|known| *known == tolerance);
        let tolerance = known.unwrap_or_else(|| {
            found.tolerances.push(tolerance);
            found.tolerances.len() - 1
        });
        let bands = bands.map(|rules| {
            let known = found.bands.iter().position(|known| {
                (known.part, known.tolerance) == (part, tolerance) && known.rules == *rules
            });
            known.unwrap_or_else(|| {
                found.bands.push(BandsAsked {
                    rules: rules.clone(),
                    tolerance,
                    part,
                    spot: spot.clone(),
                    found: None,
                });
                found.bands.len() - 1
            })
        });
        PassIndex {
            pass,
            part,
            tolerance,
            bands,
        }
    }

    /// Asks for how uncertain what is measured for a ticket is.
    pub(crate) fn ask_uncertainty(&mut self, ticket: PassIndex) {
        self.0[ticket.pass].uncertain_asked = true;
    }

    /// What counts as unchanged for a ticket.
    pub(crate) fn tolerance(&self, ticket: PassIndex) -> Tolerance {
        self.0[ticket.pass].tolerances[ticket.tolerance]
    }

    /// The edges of the bands that were asked for with a ticket.
    pub(crate) fn rules(&self, ticket: PassIndex) -> Option<&BandRules> {
        Some(&self.0[ticket.pass].bands[ticket.bands?].rules)
    }

    /// The bands that were asked for with a ticket.
    pub(crate) fn bands(&self, ticket: PassIndex) -> Option<&Bands> {
        self.0[ticket.pass].bands[ticket.bands?].found.as_ref()
    }

    /// How uncertain what was asked for with a ticket is, where that is known.
    pub(crate) fn uncertainty(&self, ticket: PassIndex) -> Option<&GroundUncertainty> {
        let pass = &self.0[ticket.pass];
        pass.uncertain.get(ticket.tolerance)?.get(ticket.part)
    }

    /// The regions that count for a ticket, which do not overlap; none where that is everywhere.
    pub(crate) fn counted(&self, ticket: PassIndex) -> Option<Zones> {
        let pass = &self.0[ticket.pass];
        let regions = pass.regions.as_ref()?;
        Some(pass.parts[ticket.part].laid.counted_of(regions))
    }

    /// The ground of a ticket, and what was measured between its surfaces, region by region.
    pub(crate) fn found(&self, ticket: PassIndex) -> (&ItemGround, &[ZoneMeasurement]) {
        let pass = &self.0[ticket.pass];
        (
            &pass.parts[ticket.part].laid,
            &pass.measured[ticket.tolerance],
        )
    }
}

impl Pass {
    /// Measures all that was asked for, in one walk over the overlay: each piece lies in one region, whatever the
    /// number of items that count it. `scene` holds the two surfaces, which end at `outlines`. Says where a shift in plan explains what lies
    /// between them.
    pub(crate) fn measure(
        &mut self,
        scene: &Scene,
        outlines: [&Outline; 2],
        sure: Option<Sureness>,
        (step, names): (&Step, [&str; 2]),
        zones_of: impl Fn(&str) -> Result<Vec<KnownZone>, JobError>,
    ) -> Result<Option<Finding>, JobError> {
        let sides = [&scene.reference, &scene.surveyed];
        let (reference, surveyed) = (&**sides[0], &**sides[1]);
        let grounds = self.parts.iter().map(|part| &part.ground);
        let parted = GroundParts::of(grounds, scene.frame(), around(&sides), zones_of)?;
        let regions = parted.as_ref().map(GroundParts::regions);
        for part in &mut self.parts {
            part.laid = match &parted {
                Some(parted) => parted
                    .lay(&part.ground)
                    .map_err(|error| error.in_job(&part.spot))?,
                None => ItemGround::everywhere(1),
            };
        }
        let first = self.parts.first().map(|part| &part.spot);
        let watch = |share| step.at(share);
        let laid = Overlay::new(reference, surveyed, regions.as_ref());
        let fault = |error| {
            let error = not_laid(error, reference, surveyed, regions.as_ref());
            match first {
                Some(spot) => error.in_job(spot),
                None => error,
            }
        };
        let laid = laid.map_err(fault)?.watched(&watch);
        let found = match &sure {
            None => volumes(&laid, &self.tolerances).map_err(fault)?,
            Some(sure) => {
                // One tolerance after the other: what is gathered is larger than the surfaces.
                let mut found = Vec::new();
                for &tolerance in &self.tolerances {
                    let weighed =
                        weighed_volumes(&laid, tolerance, [reference, surveyed], sure.accuracies);
                    let weighed = weighed.map_err(fault)?;
                    let grounds = self.parts.iter().map(|part| {
                        let counted = &part.laid.counted;
                        let own = weighed.uncertainty(counted);
                        GroundUncertainty {
                            volumes: ZoneUncertainty::of(&own, &scene.units),
                            weights: [
                                match sure.errs(0) {
                                    true => weighed.reference_weights(counted),
                                    false => Default::default(),
                                },
                                match sure.errs(1) {
                                    true => weighed.surveyed_weights(counted),
                                    false => Default::default(),
                                },
                            ],
                        }
                    });
                    self.uncertain.push(grounds.collect());
                    found.push(weighed.zones);
                }
                found
            }
        };
        let covered: Vec<Coverage> = coverage(outlines[0], outlines[1], regions.as_ref());
        for by_region in found {
            let rows = by_region.iter().zip(&covered);
            let rows = rows.map(|(found, covered)| scene.row(String::new(), found, covered));
            self.measured.push(rows.collect());
        }
        for asked in &mut self.bands {
            let rows = &self.measured[asked.tolerance];
            let counted = &self.parts[asked.part].laid.counted;
            let tolerance = self.tolerances[asked.tolerance].value();
            let counted_rows = counted.iter().map(|&region| &rows[region]);
            let edges = bands::edges(&asked.rules, tolerance, &scene.units, counted_rows)
                .map_err(|error| JobError::from(error).in_job(&asked.spot))?;
            let by_region = dapedon_core::quantities::bands(&laid, &edges).map_err(fault)?;
            let all = bands::summed(counted.iter().map(|&region| &by_region[region]));
            let all = (!all.is_empty()).then_some(("all", &all));
            let mut found = Bands::of(&asked.rules, &edges, &scene.units, all.into_iter());
            if let Some(sure) = &sure {
                let (units, groups) = (&scene.units, [counted.clone()]);
                let surfaces = [reference, surveyed];
                let added = found.add_uncertainty(&edges, &laid, surfaces, sure, units, &groups);
                added.map_err(|error| error.in_job(&asked.spot))?;
            }
            asked.found = Some(found);
        }
        let whole = self.summed(&scene.units);
        let shifted = shifted_in_plan(&laid, Some(&whole), names, scene.frame().unit());
        let shifted = shifted.map_err(fault)?;
        drop(laid);
        self.sure = sure;
        self.regions = regions;
        let measured = self.measured.first().map_or(&[][..], Vec::as_slice);
        for part in &self.parts {
            let is_bare = |&region: &usize| measured[region].closure.pieces == 0;
            if part.laid.counted.iter().all(is_bare) {
                let drawn = part.laid.drawn.as_ref();
                return Err(apart(reference, surveyed, drawn).in_job(&part.spot));
            }
        }
        Ok(shifted)
    }

    /// The regions that count for any item, each once.
    fn counted_regions(&self) -> Vec<usize> {
        let counted = self.parts.iter().flat_map(|part| &part.laid.counted);
        let mut counted: Vec<usize> = counted.copied().collect();
        counted.sort_unstable();
        counted.dedup();
        counted
    }

    /// What was measured on all ground that counts for any item.
    fn summed(&self, told: &ReportUnits) -> ZoneMeasurement {
        let measured = self.measured.first().map_or(&[][..], Vec::as_slice);
        let counted = self.counted_regions();
        let rows = counted.iter().filter_map(|&region| measured.get(region));
        ZoneMeasurement::sum("all", rows, told)
    }

    /// All ground that counts for any item, where that is not everywhere, and the volumes on it.
    pub(crate) fn whole(&self, told: &ReportUnits) -> (Option<Zones>, Volumes) {
        let counted = self.counted_regions();
        let volume = self.summed(told).volume;
        let zones = self.regions.as_ref().map(|regions| {
            let own = counted
                .iter()
                .filter_map(|&region| regions.zones().get(region));
            Zones::new(regions.frame(), own.cloned().collect())
        });
        (zones, volume)
    }

    /// The finest of its tolerances, where any item has one.
    pub(crate) fn finest_tolerance(&self) -> f64 {
        let own = self.tolerances.iter().map(|tolerance| tolerance.value());
        own.filter(|own| *own > 0.0).reduce(f64::min).unwrap_or(0.0)
    }

    /// How many pieces all of it is summed over, and how far their area is from that of the outlines, relatively.
    pub(crate) fn closure(&self, told: &ReportUnits) -> (u64, f64) {
        let regions = self.measured.first().into_iter().flatten();
        let closure = ZoneMeasurement::sum("all", regions, told).closure;
        (closure.pieces, closure.relative)
    }
}

/// An extent that holds some surfaces and some ground around; none where none of them has an end.
pub(crate) fn around(sides: &[&Arc<Surface>]) -> Option<Extent> {
    let extents = sides.iter().map(|side| side.extent());
    let bounded = extents.filter(|extent| extent.width().is_finite());
    let all = bounded.reduce(|all, extent| all.union(&extent))?;
    let margin = 1.0 + 0.01 * all.width().max(all.height());
    Some(Extent {
        min: Place::new(all.min.east - margin, all.min.north - margin),
        max: Place::new(all.max.east + margin, all.max.north + margin),
    })
}
