//! How dense a survey must be.

use dapedon_job::{PlannedSpacing, SurveyPlan, Volume};

use super::{cells, count};
use crate::number::{grouped, rounded_with};
use crate::report::{Block, Cell, Column, Group, Input, Kind, Report, Row, RowKind, Table};

/// How uncertain a volume will be by the spacing of points.
pub fn survey_plan(plan: &SurveyPlan) -> Report {
    let mut report = Report {
        lead: vec![format!(
            "Survey of {} for the volume over {} {}.",
            plan.surface.source,
            grouped(plan.area.value, plan.units.decimals),
            plan.area.unit.symbol()
        )],
        job: plan.job.clone(),
        inputs: (std::iter::once(Input::side("Ground", &plan.surface)))
            .chain(Input::zones(&plan.zone_files))
            .collect(),
        findings: plan.warnings.clone(),
        ..Report::default()
    };
    report.add(Block::Paragraph(answer(plan)));
    report.add(Block::Table(spacings(plan)));
    report.add(Block::Lines(known(plan)));
    report.add(Block::Inputs);
    report
}

/// The widest spacing that is enough.
fn answer(plan: &SurveyPlan) -> String {
    let symbol = plan.units.volume.symbol();
    let Some(wanted) = plan.wanted else {
        return "By the spacing of points on a grid:".into();
    };
    let wanted = format!("±{} {symbol} at 95 %", written_alone(wanted.value));
    let own = plan.spacing.and_then(|spacing| {
        let own = plan.spacings.iter();
        own.clone().find(|own| own.spacing == spacing)
    });
    match own {
        Some(own) => format!(
            "Points every {} {} are enough for {wanted}: about {} points on a grid.",
            grouped(own.spacing.value, decimals(own.spacing.value)),
            own.spacing.unit.symbol(),
            count(own.points)
        ),
        None => format!("No spacing below is enough for {wanted}."),
    }
}

/// A figure that somebody typed.
fn written_alone(value: f64) -> String {
    grouped(value, decimals(value))
}

/// As many decimals as a round figure has.
fn decimals(value: f64) -> usize {
    let places = (0..4).find(|&places| {
        let shown = value * 10f64.powi(places);
        (shown - shown.round()).abs() < 1e-6 * shown.abs()
    });
    places.unwrap_or(4).unsigned_abs() as usize
}

fn known(plan: &SurveyPlan) -> Vec<String> {
    let stated = plan.accuracy.stated.as_deref().unwrap_or_default();
    vec![
        format!(
            "± is at 95 % (k = {}). Points are as accurate as {stated} is; the surface that is measured against counts as exact.",
            plan.coverage_factor
        ),
        format!(
            "What lies between points is measured on {}: the volume that a grid of that spacing misses, wherever it begins.",
            plan.surface.source
        ),
        "Points along edges, crests and toes take more off than as many points between them."
            .into(),
    ]
}

/// By spacing.
fn spacings(plan: &SurveyPlan) -> Table {
    let volume = Kind::Volume(plan.units.volume, plan.units.decimals);
    let length = plan.units.length.symbol();
    let columns = vec![
        Column::new("points", Kind::Count),
        Column::new("heights of points", volume.clone()).head("heights"),
        Column::new("positions of points", volume.clone()).head("positions"),
        Column::new("what all points have in common", volume.clone()).head("common"),
        Column::new("what lies between points", volume.clone()).head("between points"),
        Column::new("uncertainty of the volume", volume.clone()).head("all"),
        Column::text("enough"),
    ];
    let row = |own: &PlannedSpacing| {
        let factor = plan.coverage_factor;
        let all = factor * own.standard.value;
        let part = |standard: f64| match rounded_with(factor * standard, all) {
            Some([part, _]) => Cell::Written(part),
            None => Cell::Number(factor * standard),
        };
        let [heights, places, height, place, between] =
            own.parts.each().map(|own: Volume| own.value);
        let spacing = own.spacing.value;
        let mut cells = vec![Cell::from(grouped(spacing, decimals(spacing)))];
        cells.extend(cells![own.points as u64]);
        let common = libm::hypot(height, place);
        cells.extend([heights, places, common, between, own.standard.value].map(part));
        let enough = plan.wanted.map(|wanted| all <= wanted.value);
        cells.push(Cell::from(match enough {
            Some(true) => "yes",
            Some(false) => "no",
            None => "",
        }));
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("spacing").head(format!("spacing, {length}"))],
        groups: vec![Group::new(
            format!("Uncertainty by cause, ± {}", volume.symbol()),
            columns,
        )],
        rows: plan.spacings.iter().map(row).collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn round_figures_have_the_decimals_that_they_have() {
        let told = |value: f64| grouped(value, decimals(value));
        assert_eq!(
            [12.0, 1.5, 0.7, 0.05].map(told),
            ["12", "1.5", "0.7", "0.05"]
        );
        assert_eq!(written_alone(1.0 / 3.0), "0.3333");
    }
}
