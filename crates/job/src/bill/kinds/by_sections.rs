//! Items that count a volume from sections along a line.

use dapedon_contract::ContractError;
use dapedon_core::zones::Zones;

use super::ItemMeasurement;
use crate::bill::inputs::BillInputs;
use crate::bill::model::{ItemRow, ItemSections};
use crate::bill::rows::{RowUnits, Rows, written};
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::figure::Volume;
use crate::finding::Finding;
use crate::job_file::{self, Counts, ItemPlan};
use crate::quantities::uncertainty::Sureness;
use crate::quantities::{SectionVolumes, UncertaintyOf, ZoneUncertainty, measured_sections};
use crate::watch::Activity;

/// What was measured.
struct Sectioned {
    counts: Counts,
    found: ItemSections,
    uncertainty: Option<ZoneUncertainty>,
    /// The numbers of both surfaces.
    surfaces: [usize; 2],
    warnings: Vec<Finding>,
}

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    plan: &job_file::BySections,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let numbers = [desk.number(&plan.sides[0])?, desk.number(&plan.sides[1])?];
    let found = desk.site.line(&plan.rules.line)?;
    let mut zones = Vec::new();
    for name in &plan.zones {
        let known = desk.site.making.zones_of(name)?;
        zones.extend(known.into_iter().map(|known| known.zone));
    }
    let zones = (!zones.is_empty()).then(|| Zones::new(desk.site.making.frame, zones));
    let surfaces = numbers.map(|number| &**desk.surface(number));
    let sure = Sureness::of(numbers.map(|number| &desk.made[number].1));
    let names = [0, 1].map(|side: usize| plan.sides[side].to_string());
    let step = desk.watch.next(Activity::Cutting)?;
    let measured = measured_sections(
        &plan.rules,
        &desk.site,
        &found,
        (&surfaces, &names),
        (zones.as_ref(), sure.as_ref()),
        &|share| step.at(share),
    );
    let measured = step.unless_stopped(measured)?;
    let file = found.file.filter(|file| !desk.line_files.contains(file));
    desk.line_files.extend(file);
    Ok(Box::new(Sectioned {
        counts: plan.counts,
        found: ItemSections {
            line: found.source,
            rules: plan.rules.words(desk.site.making.units.length),
            sections: measured.sections,
            volume: measured.volume,
            exact: measured.exact,
        },
        uncertainty: measured.uncertainty,
        surfaces: numbers,
        warnings: measured.warnings,
    }))
}

impl ItemMeasurement for Sectioned {
    fn uncertainty(&self, _: &BillInputs<'_>) -> Option<UncertaintyOf> {
        let own = self.uncertainty.as_ref()?;
        Some(match self.counts {
            Counts::Fill => own.fill,
            Counts::Net => own.net,
            _ => own.cut,
        })
    }

    fn by_itself(&self) -> Option<[usize; 2]> {
        Some(self.surfaces)
    }

    fn rows(
        &self,
        _: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let counted = |of: &SectionVolumes| -> Volume {
            match self.counts {
                Counts::Fill => of.fill,
                Counts::Net => of.net,
                _ => of.cut,
            }
        };
        let own = counted(&self.found.volume);
        let figure = units.counted_volume(item, own);
        let row = ItemRow {
            zone: self.found.line.clone(),
            unrounded: figure,
            rounded: written(item, figure)?,
            plan_area: None,
            perimeter: None,
            measured: None,
            to_limit: None,
        };
        let sections = self.found.sections;
        let symbol = own.unit.symbol();
        let beside = match &self.found.exact {
            Some(exact) => {
                let exact = counted(exact).value;
                let off = own.value - exact;
                let word = if off < 0.0 { "less" } else { "more" };
                let share = match exact {
                    0.0 => String::new(),
                    exact => format!(" ({:.2} %)", 100.0 * (off / exact).abs()),
                };
                format!(
                    "between the surfaces over the same strip {} {symbol}: by sections {} {symbol}{share} {word}",
                    figure_in_words(exact),
                    figure_in_words(off.abs())
                )
            }
            None => {
                "they cross each other, and there is no volume between the surfaces to compare with"
                    .into()
            }
        };
        let notes = vec![format!("{sections} sections; {beside}")];
        Ok(Rows {
            rows: vec![row],
            notes,
            warnings: self.warnings.clone(),
            by_sections: Some(self.found.clone()),
            ..Rows::default()
        })
    }
}
