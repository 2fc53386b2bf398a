//! What is measured of an item that is followed: items of their own, measured as any other.

use dapedon_contract::Expected;
use dapedon_core::units::VolumeUnit;

use crate::bill::{BillItem, ItemMap};
use crate::input::Source;
use crate::job_file::{Between, Counts, ItemKind, ItemPlan, PaidUnit, ProgressPlan, ToLimit};

/// The measurements of an item that is followed.
pub(super) struct ItemParts<'j> {
    pub(super) item: &'j ItemPlan,
    pub(super) plan: &'j ProgressPlan,
    pub(super) counts: Counts,
    plans: Vec<(Part, ItemPlan)>,
}

/// What a measurement is of; surveys by their number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Part {
    /// From the reference to a survey.
    ToDate(usize),
    /// From the survey before to a survey.
    Period(usize),
    /// The reference and the survey before against a survey: what was dug and filled again, placed and dug again.
    Again(usize),
    /// From the reference to a survey, up to the design.
    Done(usize),
    /// From the reference to the design.
    Design,
    /// From the survey before to a survey without the limit, to be drawn.
    Map(usize),
}

/// What was measured of an item.
pub(super) struct Found<'b>(Vec<(Part, &'b BillItem)>);

impl<'j> ItemParts<'j> {
    /// What to measure of an item; none where it is not followed.
    pub(super) fn of(item: &'j ItemPlan) -> Option<Self> {
        let plan = item.progress.as_ref()?;
        let (counts, reference, pays_tolerance, limited) = match &item.what {
            ItemKind::Between(Between { counts, sides, .. }) => (*counts, &sides[0], false, false),
            ItemKind::ToLimit(own) => {
                let ToLimit {
                    counts,
                    sides,
                    pays_tolerance,
                    ..
                } = own;
                (*counts, &sides[0], *pays_tolerance, true)
            }
            _ => return None,
        };
        let surveys: Vec<Source> = (plan.surveys.iter())
            .map(|survey| Source::Named(survey.clone()))
            .collect();
        let mut plans = Vec::new();
        let mut ask = |part: Part, what: Option<ItemKind>| {
            let code = format!("{} {part:?}", item.code);
            let plan = what.map(|what| ItemPlan {
                code,
                // In one section, in their order.
                section: String::new(),
                what,
                // What is expected of the whole is not asked of a part of it.
                expected: Expected::default(),
                spot: plan.spot.clone(),
                ..item.clone()
            });
            plans.extend(plan.map(|plan| (part, plan)));
        };
        for (number, survey) in surveys.iter().enumerate() {
            let before = number.checked_sub(1).and_then(|before| surveys.get(before));
            let from = before.unwrap_or(reference);
            let Source::Named(name) = survey else {
                continue;
            };
            let to_date = item.what.measured_to(name);
            ask(
                Part::ToDate(number),
                to_date.map(ItemKind::without_opinions),
            );
            if let Some(before) = before {
                let period = item.what.measured_between(before, survey);
                ask(Part::Period(number), period);
                let sides = [reference, before];
                let again = item.what.against(Counts::Cut, sides, survey);
                ask(Part::Again(number), again);
            }
            if let Some(design) = &plan.design
                && counts.is_volume()
                && (pays_tolerance || !limited)
            {
                let sides = [reference, survey];
                let done = item.what.against(counts, sides, design);
                ask(Part::Done(number), done);
            }
            if limited {
                let map = item.what.without_limit(from, survey);
                ask(Part::Map(number), map);
            }
        }
        if let Some(design) = &plan.design {
            let whole = item.what.without_limit(reference, design);
            ask(Part::Design, whole);
        }
        for (part, plan) in &mut plans {
            if let Part::Again(_) = part {
                // A volume, whatever the item counts and is paid by.
                plan.pays = PaidUnit::Volume(VolumeUnit::CubicMetre);
                plan.stuff = None;
            }
        }
        Some(ItemParts {
            item,
            plan,
            counts,
            plans,
        })
    }

    /// What is to be measured, in order.
    pub(super) fn plans(&self) -> impl Iterator<Item = &ItemPlan> {
        self.plans.iter().map(|(_, plan)| plan)
    }

    /// The next measurements are those of this item.
    pub(super) fn take<'b>(&self, measured: &mut impl Iterator<Item = &'b BillItem>) -> Found<'b> {
        let parts = self.plans.iter().map(|(part, _)| *part);
        Found(parts.zip(measured).collect())
    }
}

impl<'b> Found<'b> {
    /// What was measured of a part, where it was asked for.
    pub(super) fn part(&self, part: Part) -> Option<&'b BillItem> {
        let mut all = self.0.iter();
        all.find(|(own, _)| *own == part).map(|(_, item)| *item)
    }
}

/// The maps of the periods, each with the items that it is of.
pub(super) fn period_maps(all: &[ItemParts<'_>], maps: Vec<ItemMap>) -> Vec<ItemMap> {
    let shows_period = |parts: &ItemParts<'_>, part: Part| match part {
        Part::Map(_) => true,
        Part::Period(_) | Part::ToDate(0) => matches!(parts.item.what, ItemKind::Between(_)),
        _ => false,
    };
    let periods = maps.into_iter().filter(|map| !map.to_limit);
    let periods = periods.filter_map(|map| {
        let own = all.iter().filter(|parts| {
            parts
                .plans
                .iter()
                .any(|(part, plan)| shows_period(parts, *part) && map.codes.contains(&plan.code))
        });
        let codes: Vec<String> = own.map(|parts| parts.item.code.clone()).collect();
        (!codes.is_empty()).then_some(ItemMap { codes, ..map })
    });
    periods.collect()
}
