//! How uncertain the volumes of a measurement are, and what makes it.

use dapedon_job::{
    Bill, BillItem, ItemUncertainty, Measurement, SurfaceAccuracy, SurfaceFacts, Uncertainty,
    UncertaintyOf, Volume, ZoneMeasurement, ZoneUncertainty,
};

use rust_decimal::Decimal;
use rust_decimal::prelude::ToPrimitive;

use super::bill::DESCRIPTION;
use super::cells;
use crate::number::{rounded_with, written};
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// What the points of a surface add, each in words.
const PARTS: [&str; 4] = [
    "the height of each point",
    "the position of each point",
    "all heights alike",
    "all positions alike",
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

/// Adds it to a report.
pub(super) fn uncertainty(m: &Measurement, report: &mut Report) {
    let sides = [&m.reference, &m.surveyed];
    let Some(own) = &m.uncertainty else { return };
    report.heading("Uncertainty");
    let words = format!(
        "In 95 of 100 cases the true volume is within ± of the figure (coverage factor k = {}). It follows from the stated accuracy of both surfaces, with the triangles as they are. What the spacing of points leaves out is not in it. Parts add up by their squares.",
        own.coverage_factor
    );
    report.add(Block::Paragraph(words));
    report.add(Block::Table(rounded(m, own)));
    let parts = parts(m, own, sides);
    if !parts.rows.is_empty() {
        report.add(Block::Table(parts));
    }
    report.add(Block::Paragraph(most(m, own, sides)));
    let help = help(m, own, sides);
    if !help.is_empty() {
        report.add(Block::Lines(help));
    }
    report.add(Block::Table(accuracies(
        sides,
        &Kind::Length(Some(m.units.length), 3),
    )));
    if let Some(source) = &own.errors_count_once {
        let words = format!(
            "Both sides are made from \"{source}\". Where they differ the job says how, so its errors count once."
        );
        report.add(Block::Paragraph(words));
    }
    let usual = sides.into_iter().filter_map(|side| {
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
        report.add(Block::Paragraph(words));
    }
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

/// How uncertain the items of a bill are.
pub(super) fn of_items(bill: &Bill, report: &mut Report) {
    let items = || {
        let items = bill.items();
        items.filter_map(|item| Some((item, item.uncertainty.as_ref()?)))
    };
    let Some((_, first)) = items().next() else {
        return;
    };
    report.heading("Uncertainty");
    let words = format!(
        "In 95 of 100 cases the true quantity is within ± of the figure (coverage factor k = {}). It follows from the stated accuracy of the surfaces. What the spacing of points leaves out is not in it, and factors and rates count as exact. Errors of a survey that several items share are in all of them at once, so the total is not the sum of squares. Items that are not listed have a surface whose accuracy is not stated, or count something other than a volume between two surfaces.",
        first.coverage_factor
    );
    report.add(Block::Paragraph(words));
    let row = |(item, own): (&BillItem, &ItemUncertainty)| {
        let pair = |figure: Option<Decimal>, standard: Option<f64>| {
            let figure = figure.zip(standard);
            let both = figure.and_then(|(figure, standard)| {
                rounded_with(figure.to_f64()?, own.coverage_factor * standard)
            });
            match both {
                Some(both) => both.map(Cell::Written),
                None => [Cell::Empty, Cell::Empty],
            }
        };
        let quantity = match own.quantity {
            Some(standard) => pair(Some(item.quantity), Some(standard)),
            None => pair(Some(item.measured), Some(own.measured)),
        };
        let names = [&item.reference, &item.surveyed];
        let names = names.map(|name| name.as_deref().unwrap_or_default());
        let most = greatest(&own.from, names);
        let most = most.map(|(side, words, _)| format!("{words} in \"{side}\""));
        let unit = match own.quantity {
            Some(_) => &item.unit,
            None => &item.measured_unit,
        };
        let mut cells = cells![&item.code, &item.description, unit];
        cells.extend(quantity);
        cells.extend(pair(item.amount, own.amount));
        cells.push(most.into());
        Row::new(RowKind::Plain, cells)
    };
    let total = bill.amount_uncertainty.iter().filter_map(|own| {
        let amount = own.amount.to_f64()?;
        let [amount, uncertainty] = rounded_with(amount, own.coverage_factor * own.standard)?;
        let cells = cells![
            "",
            "total of these items",
            "",
            "",
            "",
            amount,
            uncertainty,
            ""
        ];
        Some(Row::new(RowKind::Total, cells))
    });
    // Rounded by their uncertainty, not to the hundredth.
    let currency = bill.currency.as_deref().unwrap_or_default();
    let amount = format!("amount, {currency}");
    report.add(Block::Table(Table {
        of: None,
        keys: vec![
            Column::text("item"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("description")
            },
        ],
        groups: vec![Group::new(
            "",
            vec![
                Column::text("unit"),
                Column::new("quantity", Kind::Count),
                Column::new("uncertainty of the quantity", Kind::Count).head("±"),
                Column::new("amount", Kind::Count).head(amount.trim_end_matches(", ")),
                Column::new("uncertainty of the amount", Kind::Count).head("±"),
                Column::text("most of it from"),
            ],
        )],
        rows: items().map(row).chain(total).collect(),
    }));
}

/// The greatest part of an uncertainty: of which side, what it is in words, and how much; none where there is none.
fn greatest<'n>(
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

/// What a better survey would take off the uncertainty of the net, survey by survey.
fn help(m: &Measurement, own: &Uncertainty, sides: [&SurfaceFacts; 2]) -> Vec<String> {
    let Some(whole) = own.total.as_ref().or(own.zones.first()) else {
        return Vec::new();
    };
    let net = &whole.net;
    let standard = net.standard.value;
    let expanded = own.coverage_factor * standard;
    // What is left of it where so much of its square is gone.
    let off = |gone: f64| {
        let left = (standard * standard - gone).max(0.0).sqrt();
        let off = own.coverage_factor * (standard - left);
        match rounded_with(off, expanded) {
            Some([off, _]) if !off.is_zero() => {
                format!("{} {}", written(off), m.units.volume.symbol())
            }
            _ => "nothing".into(),
        }
    };
    let square = |parts: &[Volume]| {
        parts
            .iter()
            .map(|part| part.value * part.value)
            .sum::<f64>()
    };
    let surveys = sides.into_iter().zip([&net.reference, &net.surveyed]);
    let lines = surveys.filter_map(|(side, parts)| {
        let single = square(&[parts.heights, parts.places]);
        let common = square(&[parts.common_height, parts.common_place]);
        if single + common <= 0.0 {
            return None;
        }
        let goes_together = (side.accuracy.as_ref()).is_some_and(|own| own.correlation.value > 0.0);
        // Twice the points halve the square of what each has by itself; half the error leaves a quarter of it.
        let (more, gone) = match goes_together {
            false => ("twice the points", single / 2.0),
            true => ("single points with half the error", single * 0.75),
        };
        Some(format!(
            "  \"{}\": {more}, {}; half the common error of setup and datum, {}.",
            side.source,
            off(gone),
            off(common * 0.75)
        ))
    });
    let lines: Vec<String> = lines.collect();
    match lines.is_empty() {
        true => lines,
        false => {
            let whole = match rounded_with(net.standard.value, expanded) {
                Some([_, expanded]) => written(expanded),
                None => expanded.to_string(),
            };
            let symbol = m.units.volume.symbol();
            let words = format!("What would take how much off the ±{whole} {symbol} of the net:");
            std::iter::once(words).chain(lines).collect()
        }
    }
}

/// How accurate both surfaces are stated to be.
fn accuracies(sides: [&SurfaceFacts; 2], length: &Kind) -> Table {
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
