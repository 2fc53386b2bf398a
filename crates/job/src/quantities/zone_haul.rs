//! Haul between zones: which cut goes to which fill, with what is borrowed and tipped.

mod error;
mod model;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::{
    Bodies, Flow, HaulEnd, HaulPlan, Tolerance, bodies_over, coverage, each_overlap, haul_plan,
};
use dapedon_core::surface::{FARTHEST, Outline};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zones;

use crate::context::Context;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::scene::Scene;
use crate::quantities::spots::MapGround;
use crate::schema::Schema;
use crate::site::Site;
use crate::surfaces::not_laid;
use crate::units::ReportUnits;
use crate::watch::Activity;

pub use error::ZoneHaulError;
pub use model::{HaulRow, HaulSum, HaulZone, ZoneEnd, ZoneHaul, ZoneHaulGround};

/// Haul rates are for this distance: a kilometre, and a mile where lengths are feet.
const RATED_METRES: f64 = 1000.0;
const RATED_FEET: f64 = 5280.0;

/// What is carried where.
#[derive(Debug, Clone)]
pub struct ZoneHaulRequest {
    /// From this surface.
    pub reference: Source,
    /// To this one.
    pub surveyed: Source,
    /// The zones that are cut and filled.
    pub zones: Vec<ZoneSource>,
    /// Compacted volume for a unit in the bank.
    pub shrink: f64,
    /// Distance on the way for a unit as the crow flies.
    pub detour: f64,
    /// What a unit of compacted volume costs over a kilometre, or a mile.
    pub rate: Option<f64>,
    /// Where more can be had.
    pub borrow: Vec<HaulSite>,
    /// Where the rest can go.
    pub tips: Vec<HaulSite>,
}

/// A place outside the zones where material is had or left.
#[derive(Debug, Clone, PartialEq)]
pub struct HaulSite {
    /// Its name.
    pub name: String,
    /// Where it is, as east and north.
    pub at: [f64; 2],
    /// The most that it has or takes, in compacted volume of the report's unit.
    pub most: Option<f64>,
    /// What a unit of compacted volume costs there, besides its haul.
    pub cost: f64,
}

/// Plans the haul between zones with the least volume times distance, or the least cost, and hands back what a map is drawn from.
///
/// # Errors
///
/// When a file cannot be used, there are no zones or too many, or costs are given without a rate.
pub fn zone_haul(
    context: &Context<'_>,
    request: &ZoneHaulRequest,
) -> Result<(ZoneHaul, ZoneHaulGround), JobError> {
    context.run(|| {
        let sources = [&request.reference, &request.surveyed];
        let mut site = Site::open(context, &sources, &request.zones)?;
        let zones = site.zones(&request.zones)?.ok_or(ZoneHaulError::NoZones)?;
        check(request)?;
        apart_from_each_other(&zones, &site.making.units)?;
        let [reference, surveyed] = [site.surface(sources[0])?, site.surface(sources[1])?];
        site.making.warn(&[&reference, &surveyed]);
        let (from, to) = (&*reference.surface, &*surveyed.surface);
        let step = context.watch.next(Activity::Measuring {
            reference: sources[0].to_string(),
            surveyed: sources[1].to_string(),
            number: 1,
            of: 1,
        })?;
        let watch = |share| step.at(share);
        let laid = Overlay::new(from, to, Some(&zones));
        let overlay = laid.map_err(|error| not_laid(error, from, to, Some(&zones)))?;
        let found = bodies_over(&overlay.watched(&watch)).map_err(JobError::from);
        let found = step.unless_stopped(found)?;
        let units = site.making.units;
        let names = zones.zones().iter().map(|zone| zone.name().to_owned());
        let planning = Planning {
            request,
            units,
            names: names.collect(),
            bodies: found,
        };
        let plan = planning.plan()?;
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(site.zone_notes(&request.zones));
        if request.reference == request.surveyed {
            warnings.push(Finding::new(
                Code::SameSurface,
                "the reference and the surveyed surface are the same: there is no difference",
            ));
        }
        let outlines = [Outline::of(from), Outline::of(to)];
        warnings.extend(not_covered(&zones, &outlines, &units));
        warnings.extend(planning.unbalanced(&plan));
        let map = match &context.pictures {
            Some(map) => {
                let sides = [&reference.surface, &surveyed.surface];
                let frame = site.making.frame;
                let mut scene = Scene::of(&site.making, sides, Some(zones.clone()));
                scene.breaklines = surveyed.breaklines.clone();
                let sites = request.borrow.iter().chain(&request.tips);
                let places = sites.map(|site| frame.to_local(site.at[0], site.at[1]));
                scene.focus = Some(zones.extent().union(&Extent::of(places)));
                let rows = scene.measured_for_map(Tolerance::ZERO, map.room)?;
                Some(MapGround { rows, scene })
            }
            None => None,
        };
        let ground = ZoneHaulGround {
            arrows: planning.arrows(&plan),
            map,
        };
        let haul = ZoneHaul {
            command: "haul".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            currency: context.job.and_then(|job| job.currency.clone()),
            reference: reference.side,
            surveyed: surveyed.side,
            zone_files: site.zone_files(&request.zones),
            line_files: std::mem::take(&mut site.making.drawn.files),
            shrink: request.shrink,
            detour: request.detour,
            rate: request.rate,
            zones: planning.zones(&plan),
            rows: planning.rows(&plan),
            total: planning.total(&plan),
            warnings: context.acknowledged("", warnings),
        };
        Ok((haul, ground))
    })
}

/// No ground is in two zones: it would be carried twice.
fn apart_from_each_other(zones: &Zones, units: &ReportUnits) -> Result<(), ZoneHaulError> {
    let mut found = None;
    let precision = zones.frame().precision();
    each_overlap(
        zones.zones(),
        precision,
        |_| true,
        |pair, area| {
            found = Some((pair, area));
            false
        },
    );
    match found {
        None => Ok(()),
        Some((pair, area)) => Err(ZoneHaulError::Overlap {
            zones: pair.map(|zone| zones.zones()[zone].name().to_owned()),
            area: units.area_in_words(area),
        }),
    }
}

/// Ground of zones that one or both surfaces do not reach: what is cut and filled there is not in the plan.
fn not_covered(zones: &Zones, [from, to]: &[Outline; 2], units: &ReportUnits) -> Vec<Finding> {
    let precision = zones.frame().precision();
    let covered = coverage(from, to, Some(zones));
    let named = zones.zones().iter().zip(covered);
    named
        .filter_map(|(zone, covered)| {
            let missing = zone.area() - covered.both;
            let words = format!(
                "{} of {} are not covered by both surfaces, and not in the plan",
                units.area_in_words(missing),
                units.area_in_words(zone.area())
            );
            let finding = Finding::new(Code::NotCompared, words);
            (missing > precision.area(&zone.extent()))
                .then(|| finding.at(format!("zone \"{}\"", zone.name())))
        })
        .collect()
}

/// Places and costs that can be meant.
fn check(request: &ZoneHaulRequest) -> Result<(), ZoneHaulError> {
    let sites = || request.borrow.iter().chain(&request.tips);
    let figures = sites().flat_map(|site| site.at);
    if let Some(value) = { figures }.find(|value| value.is_nan() || value.abs() > FARTHEST) {
        return Err(ZoneHaulError::NoPlace { value });
    }
    if request.rate.is_none()
        && let Some(site) = sites().find(|site| site.cost > 0.0)
    {
        return Err(ZoneHaulError::CostWithoutRate {
            name: site.name.clone(),
        });
    }
    Ok(())
}

/// What a plan is made of.
struct Planning<'p> {
    request: &'p ZoneHaulRequest,
    units: ReportUnits,
    names: Vec<String>,
    bodies: Vec<Bodies>,
}

/// An end of a plan: where it is, and how much there is, in cubes of the survey's unit, compacted.
struct End<'e> {
    name: &'e str,
    kind: ZoneEnd,
    /// Which zone, or which site.
    number: usize,
    at: Place,
    volume: HaulEnd,
    cost: f64,
}

/// A plan with its ends.
struct Planned<'p> {
    sources: Vec<End<'p>>,
    destinations: Vec<End<'p>>,
    plan: HaulPlan,
}

impl Planning<'_> {
    fn plan(&self) -> Result<Planned<'_>, JobError> {
        let cubes = |told: f64| self.units.cubes_of(told);
        let of_zones =
            |kind: ZoneEnd, of: fn(&Bodies) -> dapedon_core::quantities::Body, factor: f64| {
                let named = self.names.iter().zip(&self.bodies).enumerate();
                named
                    .filter_map(move |(number, (name, bodies))| {
                        let body = of(bodies);
                        Some(End {
                            name,
                            kind,
                            number,
                            at: body.middle?,
                            volume: HaulEnd {
                                volume: factor * body.volume,
                                is_fixed: true,
                            },
                            cost: 0.0,
                        })
                    })
                    .collect::<Vec<_>>()
            };
        let mut sources = of_zones(ZoneEnd::Cut, |b| b.cut, self.request.shrink);
        let mut destinations = of_zones(ZoneEnd::Fill, |b| b.fill, 1.0);
        for (kind, sites, ends) in [
            (ZoneEnd::Borrow, &self.request.borrow, &mut sources),
            (ZoneEnd::Tip, &self.request.tips, &mut destinations),
        ] {
            ends.extend(sites.iter().enumerate().map(|(number, site)| End {
                name: &site.name,
                kind,
                number,
                at: Place::new(site.at[0], site.at[1]),
                volume: HaulEnd {
                    volume: site.most.map_or(f64::INFINITY, cubes),
                    is_fixed: false,
                },
                cost: site.cost,
            }));
        }
        let own = |ends: &[End<'_>]| ends.iter().map(|end| end.volume).collect::<Vec<_>>();
        let (from, to) = (own(&sources), own(&destinations));
        let plan = haul_plan(&from, &to, |i, j| {
            self.weight(&sources[i], &destinations[j])
        });
        let plan = plan.map_err(ZoneHaulError::Plan)?;
        Ok(Planned {
            sources,
            destinations,
            plan,
        })
    }

    /// The distance on the way, in the survey's unit.
    fn distance(&self, from: &End<'_>, to: &End<'_>) -> f64 {
        let straight = libm::hypot(to.at.east - from.at.east, to.at.north - from.at.north);
        self.request.detour * straight
    }

    /// What a unit of volume costs on its way; the distance itself, where there is no rate.
    fn weight(&self, from: &End<'_>, to: &End<'_>) -> f64 {
        self.cost(from, to)
            .unwrap_or_else(|| self.distance(from, to))
    }

    /// What a unit of the report's volume costs on its way, and at both ends.
    fn cost(&self, from: &End<'_>, to: &End<'_>) -> Option<f64> {
        let rate = self.request.rate?;
        let rated = match self.units.length {
            LengthUnit::Metre => RATED_METRES,
            LengthUnit::Foot(_) => RATED_FEET,
        };
        Some(rate * self.distance(from, to) / rated + from.cost + to.cost)
    }

    fn zones(&self, planned: &Planned<'_>) -> Vec<HaulZone> {
        let volume = |cubic: f64| self.units.volume_of(cubic);
        let rest = |ends: &[End<'_>], rest: &[f64], number: usize, kind: ZoneEnd| {
            let own = ends.iter().zip(rest);
            let own = own.filter(|(end, _)| end.kind == kind && end.number == number);
            own.map(|(_, rest)| *rest).sum::<f64>()
        };
        let named = self.names.iter().zip(&self.bodies).enumerate();
        named
            .map(|(number, (name, bodies))| HaulZone {
                zone: name.clone(),
                cut: volume(bodies.cut.volume),
                makes: volume(self.request.shrink * bodies.cut.volume),
                fill: volume(bodies.fill.volume),
                cut_middle: bodies.cut.middle.map(|at| [at.east, at.north]),
                fill_middle: bodies.fill.middle.map(|at| [at.east, at.north]),
                left_over: volume(rest(
                    &planned.sources,
                    &planned.plan.left_over,
                    number,
                    ZoneEnd::Cut,
                )),
                missing: volume(rest(
                    &planned.destinations,
                    &planned.plan.missing,
                    number,
                    ZoneEnd::Fill,
                )),
            })
            .collect()
    }

    fn rows(&self, planned: &Planned<'_>) -> Vec<HaulRow> {
        let row = |flow: &Flow| {
            let (from, to) = (
                planned.sources.get(flow.from)?,
                planned.destinations.get(flow.to)?,
            );
            let distance = self.distance(from, to);
            let volume = self.units.volume_of(flow.volume);
            Some(HaulRow {
                from: from.name.to_owned(),
                from_kind: from.kind,
                to: to.name.to_owned(),
                to_kind: to.kind,
                volume,
                distance: self.units.length_of(distance),
                haul: volume.value * distance,
                cost: self.cost(from, to).map(|each| each * volume.value),
            })
        };
        planned.plan.flows.iter().filter_map(row).collect()
    }

    fn total(&self, planned: &Planned<'_>) -> HaulSum {
        let rows = self.rows(planned);
        let volume: f64 = planned.plan.flows.iter().map(|flow| flow.volume).sum();
        let haul: f64 = rows.iter().map(|row| row.haul).sum();
        let costs: Option<Vec<f64>> = rows.iter().map(|row| row.cost).collect();
        let told = self.units.volume_of(volume);
        let sum = |of: &[f64]| self.units.volume_of(of.iter().sum());
        HaulSum {
            mean_distance: self.units.length_of(match told.value > 0.0 {
                true => haul / told.value,
                false => 0.0,
            }),
            volume: told,
            haul,
            cost: costs
                .filter(|_| self.request.rate.is_some())
                .map(|costs| costs.iter().sum()),
            left_over: sum(&planned.plan.left_over),
            missing: sum(&planned.plan.missing),
        }
    }

    /// Cut that nothing takes, fill that nothing comes for.
    fn unbalanced(&self, planned: &Planned<'_>) -> Option<Finding> {
        let total = self.total(planned);
        let told = |volume: crate::figure::Volume| {
            let figure = crate::digits::figure_in_words(volume.value);
            format!("{figure} {}", volume.unit.symbol())
        };
        let (words, remedy) = if total.left_over.value > 0.0 {
            (
                format!("{} of cut have no place to go to", told(total.left_over)),
                "add a tip: --tip name=...,east=...,north=...",
            )
        } else if total.missing.value > 0.0 {
            (
                format!("nothing comes for {} of fill", told(total.missing)),
                "add a borrow pit: --borrow name=...,east=...,north=...",
            )
        } else {
            return None;
        };
        Some(Finding::new(Code::HaulUnbalanced, words).remedy(remedy))
    }

    /// From where to where on a map, and how much.
    fn arrows(&self, planned: &Planned<'_>) -> Vec<([Place; 2], f64)> {
        let arrow = |flow: &Flow| {
            let (from, to) = (
                planned.sources.get(flow.from)?,
                planned.destinations.get(flow.to)?,
            );
            Some(([from.at, to.at], self.units.volume_of(flow.volume).value))
        };
        planned.plan.flows.iter().filter_map(arrow).collect()
    }
}
