//! How uncertain the volumes of a measurement are, and what makes it.

use dapedon_core::units::LengthUnit;
use dapedon_job::{
    Measurement, SurfaceAccuracy, SurfaceFacts, Uncertainty, UncertaintyOf, Volume,
    ZoneMeasurement, ZoneUncertainty,
};
use rust_decimal::Decimal;

use super::cells;
use crate::number::{rounded_with, written};
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// What the points of a surface add, each in words.
const PARTS: [&str; 5] = [
    "the height of each point",
    "the position of each point",
    "all heights alike",
    "all positions alike",
    "what lies between its points",
];

fn volumes(zone: &ZoneMeasurement) -> [Volume; 3] {
    [zone.volume.cut, zone.volume.fill, zone.volume.net]
}

fn each(own: &ZoneUncertainty) -> [&UncertaintyOf; 3] {
    [&own.cut, &own.fill, &own.net]
}

/// A volume with ±, in few words; none where it is not known how uncertain it is.
pub(super) fn plus_minus(m: &Measurement, figure: Volume) -> Option<String> {
    let own = m.uncertainty.as_ref()?;
    let [_, expanded] = rounded_with(figure.value, own.coverage_factor * figure.uncertainty?)?;
    Some(format!(
        "±{} {} at 95 %",
        written(expanded),
        figure.unit.symbol()
    ))
}

/// The expanded uncertainty of a volume, rounded; nothing where it is not known.
pub(super) fn expanded(figure: Volume, factor: Option<f64>) -> Cell {
    match expanded_of(figure.value, figure.uncertainty, factor) {
        Some(expanded) => Cell::Written(expanded),
        None => Cell::Empty,
    }
}

/// The same of any figure, as it is written.
pub(super) fn expanded_of(
    value: f64,
    standard: Option<f64>,
    factor: Option<f64>,
) -> Option<Decimal> {
    let [_, expanded] = rounded_with(value, factor? * standard?)?;
    Some(expanded)
}

/// Adds it to a report.
pub(super) fn uncertainty(m: &Measurement, report: &mut Report) {
    let sides = [&m.reference, &m.surveyed];
    let Some(own) = &m.uncertainty else { return };
    report.heading("Uncertainty");
    let whole = own.total.as_ref().or(own.zones.first());
    let between = whole.is_some_and(|whole| {
        let parts = [whole.net.reference, whole.net.surveyed];
        parts.iter().any(|own| own.between_points.is_some())
    });
    let spacing = match between {
        true => {
            "What the spacing of points leaves out is measured by leaving out half of the points, sixteen times."
        }
        false => "What the spacing of points leaves out is not in it (--between-points).",
    };
    let words = format!(
        "In 95 of 100 cases the true volume is within ± of the figure (coverage factor k = {}). It follows from the stated accuracy of both surfaces, with the triangles as they are. {spacing} Parts add up by their squares.",
        own.coverage_factor
    );
    report.add(Block::Paragraph(words));
    report.add(Block::Table(rounded(m, own)));
    let parts = parts(m, own, sides);
    if !parts.rows.is_empty() {
        report.add(Block::Table(parts));
    }
    report.add(Block::Paragraph(most(m, own, sides)));
    let help = help(m, own);
    if !help.is_empty() {
        report.add(Block::Lines(help));
    }
    stated(sides, m.units.length, report);
    if let Some(source) = &own.errors_count_once {
        let words = format!(
            "Both sides are made from \"{source}\". Where they differ the job says how, so its errors count once."
        );
        report.add(Block::Paragraph(words));
    }
}

/// Adds how accurate both surfaces are stated to be.
pub(super) fn stated(sides: [&SurfaceFacts; 2], length: LengthUnit, report: &mut Report) {
    report
        .blocks
        .extend((stated_of(&sides, length).into_iter()).map(|block| (ShownOn::Both, block)));
}

/// How accurate some surfaces are stated to be.
pub(super) fn stated_of(sides: &[&SurfaceFacts], length: LengthUnit) -> Vec<Block> {
    let kind = Kind::Length(Some(length), 3);
    let mut blocks = vec![Block::Table(accuracies(sides, &kind))];
    let usual = sides.iter().filter_map(|side| {
        let kinds = side.accuracy.as_ref()?.usual_values_of.iter();
        let kinds: Vec<&str> = kinds.map(|kind| kind.code()).collect();
        (!kinds.is_empty()).then(|| format!("{} for \"{}\"", kinds.join(" and "), side.source))
    });
    let usual: Vec<String> = usual.collect();
    if !usual.is_empty() {
        let words = format!(
            "What is not stated is the usual value of its kind: {}. The page on methods lists these values and where they come from.",
            usual.join(", ")
        );
        blocks.push(Block::Paragraph(words));
    }
    blocks
}

/// Each volume with its uncertainty.
fn rounded(m: &Measurement, own: &Uncertainty) -> Table {
    let volume = Kind::Volume(m.units.volume, m.units.decimals);
    let columns = ["cut", "fill", "net"].into_iter().flat_map(|name| {
        [
            Column::new(format!("{name}, rounded"), volume.clone()).head(name),
            Column::new(format!("uncertainty of {name}"), volume.clone()).head("±"),
        ]
    });
    let row = |kind: RowKind, zone: &ZoneMeasurement, found: &ZoneUncertainty| {
        let mut cells = cells![&zone.zone];
        for (figure, found) in volumes(zone).into_iter().zip(each(found)) {
            let expanded = own.coverage_factor * found.standard.value;
            cells.extend(match rounded_with(figure.value, expanded) {
                Some(both) => both.map(Cell::Written),
                None => [figure.value, expanded].map(Cell::Number),
            });
        }
        Row::new(kind, cells)
    };
    let zones = m.zones.iter().zip(&own.zones);
    let zones = zones.map(|(zone, found)| row(RowKind::Plain, zone, found));
    let total = m.total.iter().zip(&own.total);
    let total = total.map(|(zone, found)| row(RowKind::Total, zone, found));
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups: vec![Group::new(
            format!("Volume ± uncertainty, {}", m.units.volume.symbol()),
            columns.collect(),
        )],
        rows: zones.chain(total).collect(),
    }
}

/// What each side adds to the uncertainty of all volumes together.
fn parts(m: &Measurement, own: &Uncertainty, sides: [&SurfaceFacts; 2]) -> Table {
    let volume = Kind::Volume(m.units.volume, m.units.decimals);
    let whole = own.total.as_ref().or(own.zones.first());
    let rows = sides.iter().enumerate().flat_map(|(side, facts)| {
        let of = move |found: &UncertaintyOf| [found.reference, found.surveyed][side];
        PARTS.iter().enumerate().filter_map(move |(index, words)| {
            let each = each(whole?);
            let parts = each.map(|found| of(found).each()[index].value);
            let counts = parts.iter().any(|part| *part > 0.0);
            let cells = each.into_iter().zip(parts).map(|(found, part)| {
                let [part, expanded] =
                    [part, found.standard.value].map(|u| own.coverage_factor * u);
                // To the same place as the whole.
                match rounded_with(part, expanded) {
                    Some([part, _]) => Cell::Written(part),
                    None => Cell::Number(part),
                }
            });
            let mut row = cells![&facts.source, *words];
            row.extend(cells);
            counts.then(|| Row::new(RowKind::Plain, row))
        })
    });
    let columns = ["cut", "fill", "net"]
        .map(|name| Column::new(format!("part of {name}"), volume.clone()).head(name));
    let of = match m.total {
        Some(_) => " of the total",
        None => "",
    };
    Table {
        of: None,
        keys: vec![Column::text("surface"), Column::text("cause")],
        groups: vec![Group::new(
            format!(
                "Parts of the uncertainty{of}, ± {}",
                m.units.volume.symbol()
            ),
            columns.to_vec(),
        )],
        rows: rows.collect(),
    }
}

/// The greatest part of an uncertainty: of which side, what it is in words, and how much; none where there is none.
pub(super) fn greatest<'n>(
    own: &UncertaintyOf,
    names: [&'n str; 2],
) -> Option<(&'n str, &'static str, Volume)> {
    let sides = names.into_iter().zip([own.reference, own.surveyed]);
    let parts = sides.flat_map(|(name, own)| {
        let named = PARTS.iter().zip(own.each());
        named.map(move |(words, part)| (name, *words, part))
    });
    let greatest = parts.max_by(|a, b| a.2.value.total_cmp(&b.2.value));
    greatest.filter(|(_, _, part)| part.value > 0.0)
}

/// Where most of it comes from, in a sentence.
fn most(m: &Measurement, own: &Uncertainty, sides: [&SurfaceFacts; 2]) -> String {
    let whole = own.total.as_ref().or(own.zones.first());
    let Some(whole) = whole else {
        return String::new();
    };
    // What is measured is most of the time all cut or all fill: then the net says as much.
    let net = &whole.net;
    let names = sides.map(|side| side.source.as_str());
    let Some((side, words, part)) = greatest(net, names) else {
        return "Both surfaces are stated to be exact: nothing is uncertain.".into();
    };
    let expanded = own.coverage_factor * net.standard.value;
    let told = |value: f64| match rounded_with(value, expanded) {
        Some([value, _]) => written(value),
        None => value.to_string(),
    };
    format!(
        "Most of the uncertainty of the {}net comes from {words} in \"{}\": ±{} of ±{} {}.",
        match m.total {
            Some(_) => "total ",
            None => "",
        },
        side,
        told(own.coverage_factor * part.value),
        told(expanded),
        m.units.volume.symbol()
    )
}

/// What hardly counts.
const NOTHING: &str = "nothing";

/// What a better survey would take off the uncertainty of the net, survey by survey.
fn help(m: &Measurement, own: &Uncertainty) -> Vec<String> {
    let whole = own.total.as_ref().or(own.zones.first());
    let (Some(whole), false) = (whole, own.better_surveys.is_empty()) else {
        return Vec::new();
    };
    let expanded = own.coverage_factor * whole.net.standard.value;
    let symbol = m.units.volume.symbol();
    let off = |figure: Volume| match rounded_with(own.coverage_factor * figure.value, expanded) {
        Some([off, _]) if !off.is_zero() => format!("{} {symbol}", written(off)),
        _ => NOTHING.into(),
    };
    let lines = own.better_surveys.iter().map(|better| {
        let (more, figure) = match better.twice_the_points {
            Some(figure) => ("twice the points", figure),
            None => (
                "single points with half the error",
                better.half_the_error_of_points,
            ),
        };
        let on_slopes = better.twice_the_points_on_slopes.map(off);
        let on_slopes = match on_slopes.filter(|off| off != NOTHING) {
            Some(off) => format!(" (on its slopes alone, steeper than 1 in 10, {off})"),
            None => String::new(),
        };
        format!(
            "  \"{}\": {more}, {}{on_slopes}; half the common error of setup and datum, {}.",
            better.surface,
            off(figure),
            off(better.half_the_common_error)
        )
    });
    let told = match rounded_with(expanded, expanded) {
        Some([expanded, _]) => written(expanded),
        None => expanded.to_string(),
    };
    let words = format!("What would take how much off the ±{told} {symbol} of the net:");
    std::iter::once(words).chain(lines).collect()
}

/// How accurate some surfaces are stated to be.
fn accuracies(sides: &[&SurfaceFacts], length: &Kind) -> Table {
    let columns = ["height", "plan", "common height", "common plan"];
    let columns = columns.map(|name| Column::new(name, length.clone()).head(name));
    let correlated = sides.iter().filter_map(|side| side.accuracy.as_ref());
    let correlation = Column::new("correlation length", length.clone());
    let correlation = correlation.head("correlation length").on(
        match { correlated }.any(|own| own.correlation.value > 0.0) {
            true => ShownOn::Both,
            false => ShownOn::Sheet,
        },
    );
    let row = |side: &&SurfaceFacts| {
        let own: Option<&SurfaceAccuracy> = side.accuracy.as_ref();
        let stated = own.map_or("", |own| own.stated.as_deref().unwrap_or("a level: exact"));
        let mut cells = cells![&side.source, stated];
        if let Some(own) = own {
            cells.extend(own.figures().map(Cell::from));
        }
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("surface"), Column::text("stated as")],
        groups: vec![Group::new(
            format!("Accuracy, standard uncertainty in {}", length.symbol()),
            columns.into_iter().chain([correlation]).collect(),
        )],
        rows: sides.iter().map(row).collect(),
    }
}
