//! Items that count what was done up to a limit.

mod drawn;

use dapedon_contract::ContractError;
use dapedon_core::quantities::{self as core, Payable, payable, payable_uncertainty};
use dapedon_core::zones::Zone;

use super::ItemMeasurement;
use crate::bill::ItemMap;
use crate::bill::grounds::{GroundParts, ItemGround};
use crate::bill::inputs::BillInputs;
use crate::bill::model::{FarthestBeyond, ItemRow, ToLimit, WorkToLimit};
use crate::bill::passes::around;
use crate::bill::rows::{RowUnits, Rows, beyond, parted, written};
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::job_file::{self, Counts, ItemPlan};
use crate::quantities::uncertainty::Sureness;
use crate::quantities::{Extreme, UncertaintyOf};
use crate::surfaces::{apart, not_laid};
use crate::units::ReportUnits;
use crate::watch::Activity;
use drawn::DrawnToLimit;

struct ToLimitMeasured {
    plan: job_file::ToLimit,
    /// The numbers of the reference and of the surveyed surface.
    sides: [usize; 2],
    laid: ItemGround,
    /// Region by region: its area, and what was found there.
    found: Vec<(f64, Payable)>,
    uncertainty: Option<UncertaintyOf>,
    /// How far it is from the limit, to be drawn; none where a map would show nothing.
    drawn: Option<DrawnToLimit>,
}

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    plan: &job_file::ToLimit,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let sides = [desk.number(&plan.sides[0])?, desk.number(&plan.sides[1])?];
    let limit = desk.number(&plan.limit)?;
    let making = &desk.site.making;
    let surfaces = [sides[0], sides[1], limit].map(|number| desk.surface(number));
    let around = around(&surfaces);
    let zones_of = |name: &str| making.zones_of(name);
    let ground = std::iter::once(&plan.ground);
    let parted = GroundParts::of(ground, making.frame, around, zones_of)?;
    let laid = match &parted {
        Some(parted) => parted.lay(&plan.ground)?,
        None => ItemGround::everywhere(1),
    };
    let regions = parted.as_ref().map(GroundParts::regions);
    let three = surfaces.map(|surface| &**surface);
    let step = desk.watch.next(Activity::Measuring {
        reference: plan.sides[0].to_string(),
        surveyed: plan.sides[1].to_string(),
        number: 1,
        of: 1,
    })?;
    let watch = |share| step.at(share);
    let zones = regions.as_ref();
    let fault = |error| not_laid(error, three[0], three[1], zones);
    let found = payable(three, zones, plan.tolerance, &watch).map_err(fault);
    let found = step.unless_stopped(found)?;
    if found.iter().all(|own| own.compared <= 0.0) {
        return Err(apart(three[0], three[1], laid.drawn.as_ref()));
    }
    let made = sides.map(|side| &desk.made[side].1);
    let sure = Sureness::of(made).filter(|_| !plan.figure_only);
    let uncertainty = sure.map(|sure| {
        let groups = [laid.counted.clone()];
        let own = payable_uncertainty(three, zones, sure.accuracies, &groups).map_err(fault)?;
        let [cut, fill] = own.first().copied().unwrap_or_default();
        let [cut, fill] = [cut, fill].map(|own| UncertaintyOf::both(&own, &making.units));
        Ok::<_, JobError>(match plan.counts {
            Counts::Fill => fill,
            Counts::Net => UncertaintyOf::together([cut, fill].iter()).unwrap_or(cut),
            _ => cut,
        })
    });
    let uncertainty = uncertainty.transpose()?;
    let area = |region: usize| zones.and_then(|zones| Some(zones.zones().get(region)?.area()));
    let found = found.into_iter().enumerate();
    let found = found.map(|(region, own)| (area(region).unwrap_or(own.compared), own));
    let counted = zones.map(|zones| laid.counted_of(zones));
    let drawn = match plan.figure_only {
        true => None,
        false => DrawnToLimit::of(
            desk,
            plan,
            surfaces,
            [laid.drawn.as_ref(), counted.as_ref()],
        )?,
    };
    Ok(Box::new(ToLimitMeasured {
        drawn,
        plan: plan.clone(),
        sides,
        found: found.collect(),
        laid,
        uncertainty,
    }))
}

impl ToLimitMeasured {
    /// What counts of one direction, in cubes of the length unit.
    fn counted(&self, own: &core::ToLimit) -> f64 {
        let tolerance = if self.plan.pays_tolerance {
            own.in_tolerance
        } else {
            0.0
        };
        own.within.volume + tolerance
    }

    /// The work in some regions.
    fn work(&self, regions: &[usize], told: &ReportUnits, desk: &BillInputs<'_>) -> ToLimit {
        let all = || regions.iter().filter_map(|&region| self.found.get(region));
        let one = |of: fn(&Payable) -> core::ToLimit| {
            let sum =
                |part: fn(&core::ToLimit) -> f64| all().map(|(_, own)| part(&of(own))).sum::<f64>();
            let farthest = all().filter_map(|(_, own)| of(own).farthest);
            let farthest = farthest.max_by(|a, b| a.1.total_cmp(&b.1));
            let beyond = sum(|own| own.beyond.volume);
            let in_tolerance = sum(|own| own.in_tolerance);
            WorkToLimit {
                within: told.volume_of(sum(|own| own.within.volume)),
                in_tolerance: told.volume_of(in_tolerance),
                beyond: told.volume_of((beyond - in_tolerance).max(0.0)),
                beyond_area: told.area_of(sum(|own| own.beyond.area)),
                left: told.volume_of(sum(|own| own.left.volume)),
                farthest: farthest.map(|(at, by)| {
                    let at = desk.site.making.frame.to_grid(at);
                    FarthestBeyond {
                        by: told.length_of(by),
                        at: Extreme {
                            east: at.east,
                            north: at.north,
                        },
                    }
                }),
            }
        };
        ToLimit {
            cut: one(|own| own.cut),
            fill: one(|own| own.fill),
        }
    }
}

impl ItemMeasurement for ToLimitMeasured {
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let told = &units.told;
        let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
            let cubic = own
                .iter()
                .filter_map(|&region| self.found.get(region))
                .map(|(_, own)| match self.plan.counts {
                    Counts::Fill => self.counted(&own.fill),
                    Counts::Net => self.counted(&own.fill) - self.counted(&own.cut),
                    _ => self.counted(&own.cut),
                });
            let volume = told.volume_of(cubic.sum::<f64>());
            let figure = units.counted_volume(item, volume) * times as f64;
            Ok(ItemRow {
                zone: name.into(),
                unrounded: figure,
                rounded: written(item, figure)?,
                plan_area: zone.map(|zone| told.area_of(zone.area())),
                perimeter: zone.map(|zone| told.length_of(zone.perimeter())),
                measured: None,
                to_limit: Some(self.work(own, told, desk)),
            })
        };
        let mut found = parted(&self.laid, item, units, row)?;
        found
            .notes
            .extend(beyond(&self.laid, told.area, told.length));
        let whole = self.work(&self.laid.counted, told, desk);
        found.warnings.extend(self.findings(&whole, told));
        found.to_limit = Some(whole);
        Ok(found)
    }

    fn uncertainty(&self, _: &BillInputs<'_>) -> Option<UncertaintyOf> {
        self.uncertainty
    }

    fn by_itself(&self) -> Option<[usize; 2]> {
        Some(self.sides)
    }

    fn sheet(&self, desk: &BillInputs<'_>, item: &ItemPlan) -> Option<ItemMap> {
        Some(self.drawn.as_ref()?.sheet(desk, item, &self.plan))
    }
}

impl ToLimitMeasured {
    /// What was done beyond the limit, and ground that has none.
    fn findings(&self, whole: &ToLimit, told: &ReportUnits) -> Vec<Finding> {
        let mut found = Vec::new();
        let tolerance = self.plan.tolerance.value();
        let ways = match self.plan.counts {
            Counts::Cut => vec![("dug", "below", &whole.cut)],
            Counts::Fill => vec![("placed", "above", &whole.fill)],
            _ => vec![
                ("dug", "below", &whole.cut),
                ("placed", "above", &whole.fill),
            ],
        };
        for (done, side, own) in ways {
            let Some(farthest) = own.farthest.as_ref().filter(|own| own.by.value > tolerance)
            else {
                continue;
            };
            let symbol = told.length.symbol();
            let allowed = match tolerance {
                0.0 => String::new(),
                tolerance => format!(" by more than the tolerance of {tolerance} {symbol}"),
            };
            let words = format!(
                "{} {} were {done} {side} the limit{allowed} and are not paid; the most is {:.3} {symbol}, near east {:.1}, north {:.1}",
                figure_in_words(own.beyond.value),
                own.beyond.unit.symbol(),
                farthest.by.value,
                farthest.at.east,
                farthest.at.north
            );
            found.push(Finding::new(Code::BeyondLimit, words));
        }
        let counted = || {
            self.laid
                .counted
                .iter()
                .filter_map(|&region| self.found.get(region))
        };
        let missing: f64 = counted()
            .map(|(area, own)| (area - own.compared).max(0.0))
            .sum();
        if missing > self.laid.negligible && self.laid.drawn.is_some() {
            let area = told.area_of(missing);
            let words = format!(
                "{} {} of its zones are not covered by all three surfaces, reference, surveyed and limit: nothing is counted there",
                figure_in_words(area.value),
                area.unit.symbol()
            );
            found.push(Finding::new(Code::NotCompared, words));
        }
        found
    }
}
