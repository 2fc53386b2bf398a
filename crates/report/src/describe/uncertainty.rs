//! How uncertain the volumes of a measurement are, and what makes it.

use dapedon_job::{
    Measurement, SurfaceAccuracy, SurfaceFacts, Uncertainty, UncertaintyOf, UncertaintyParts,
    Volume, ZoneMeasurement, ZoneUncertainty,
};

use super::cells;
use crate::number::{rounded_with, written};
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// What the points of a surface add, each in words.
const PARTS: [(&str, &str); 4] = [
    ("heights", "the height of each point"),
    ("positions", "the position of each point"),
    ("common height", "all heights alike"),
    ("common position", "all positions alike"),
];

/// The volumes of a row, and what each is called.
fn volumes(zone: &ZoneMeasurement) -> [(&'static str, Volume); 3] {
    let volume = &zone.volume;
    [
        ("cut", volume.cut),
        ("fill", volume.fill),
        ("net", volume.net),
    ]
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
    report.add(Block::Table(parts(m, own, sides)));
    report.add(Block::Paragraph(most(m, own, sides)));
    report.add(Block::Table(accuracies(
        sides,
        &Kind::Length(Some(m.units.length), 3),
    )));
    for side in sides {
        let kinds = side.accuracy.iter().flat_map(|own| &own.usual_values_of);
        let kinds: Vec<&str> = kinds.map(|kind| kind.code()).collect();
        if !kinds.is_empty() {
            let words = format!(
                "\"{}\": what is not stated is the usual value of {}. The page on methods lists these values and where they come from.",
                side.source,
                kinds.join(" and ")
            );
            report.add(Block::Paragraph(words));
        }
    }
}

/// Each volume with its uncertainty, and the parts that each side adds to it.
fn parts(m: &Measurement, own: &Uncertainty, sides: [&SurfaceFacts; 2]) -> Table {
    let volume = Kind::Volume(m.units.volume, m.units.decimals);
    let of_side = |name: &str, side: &SurfaceFacts, of: fn(&UncertaintyOf) -> &UncertaintyParts| {
        let counts = |index: usize| {
            let all = own.zones.iter().flat_map(each);
            { all }.any(|found| of(found).each()[index].value > 0.0)
        };
        let columns = PARTS.iter().enumerate().map(|(index, (head, _))| {
            let on = match counts(index) {
                true => ShownOn::Both,
                false => ShownOn::Sheet,
            };
            let column = Column::new(format!("{name}, {head}"), volume.clone());
            column.head(*head).on(on)
        });
        let on = match (0..PARTS.len()).any(counts) {
            true => ShownOn::Both,
            false => ShownOn::Sheet,
        };
        Group {
            on,
            ..Group::new(
                format!(
                    "From \"{}\" ({name}), ± {}",
                    side.source,
                    m.units.volume.symbol()
                ),
                columns.collect(),
            )
        }
    };
    let groups = vec![
        Group::new(
            format!("Volume, {}", m.units.volume.name()),
            vec![
                Column::new("rounded", volume.clone()).head("rounded"),
                Column::new("uncertainty", volume.clone()).head("±"),
            ],
        ),
        of_side("reference", sides[0], |found| &found.reference),
        of_side("surveyed", sides[1], |found| &found.surveyed),
    ];
    let rows = |kind: RowKind, zone: &ZoneMeasurement, found: &ZoneUncertainty| {
        let named = volumes(zone).into_iter().zip(each(found));
        let rows = named.map(|((of, figure), found)| {
            let expanded = own.coverage_factor * found.standard.value;
            let mut cells = cells![&zone.zone, of];
            cells.extend(match rounded_with(figure.value, expanded) {
                Some(both) => both.map(Cell::Written),
                None => [figure.value, expanded].map(Cell::Number),
            });
            let parts = found.reference.each().into_iter();
            let parts = parts.chain(found.surveyed.each());
            // To the same place as the whole.
            cells.extend(parts.map(|part| {
                let part = own.coverage_factor * part.value;
                match rounded_with(part, expanded) {
                    Some([part, _]) => Cell::Written(part),
                    None => Cell::Number(part),
                }
            }));
            Row::new(kind, cells)
        });
        rows.collect::<Vec<_>>()
    };
    let zones = m.zones.iter().zip(&own.zones);
    let zones = zones.flat_map(|(zone, found)| rows(RowKind::Plain, zone, found));
    let total = m.total.iter().zip(&own.total);
    let total = total.flat_map(|(zone, found)| rows(RowKind::Total, zone, found));
    Table {
        of: None,
        keys: vec![Column::text("zone"), Column::text("of")],
        groups,
        rows: zones.chain(total).collect(),
    }
}

/// Where most of it comes from, in a sentence.
fn most(m: &Measurement, own: &Uncertainty, sides: [&SurfaceFacts; 2]) -> String {
    let whole = own.total.as_ref().or(own.zones.first());
    let zone = m.total.as_ref().or(m.zones.first());
    let (Some(whole), Some(zone)) = (whole, zone) else {
        return String::new();
    };
    // What is measured is most of the time all cut or all fill: then the net says as much.
    let net = &whole.net;
    let parts = sides.into_iter().zip([&net.reference, &net.surveyed]);
    let parts = parts.flat_map(|(side, own)| {
        let named = PARTS.iter().zip(own.each());
        named.map(move |((_, words), part)| (side, *words, part.value))
    });
    let greatest = parts.max_by(|a, b| a.2.total_cmp(&b.2));
    let Some((side, words, part)) = greatest.filter(|(_, _, part)| *part > 0.0) else {
        return "Both surfaces are stated to be exact: nothing is uncertain.".into();
    };
    let expanded = own.coverage_factor * net.standard.value;
    let told = |value: f64| match rounded_with(value, expanded) {
        Some([value, _]) => written(value),
        None => value.to_string(),
    };
    format!(
        "Most of the uncertainty of the net{} comes from {words} in \"{}\": ±{} of ±{} {}.",
        match m.total {
            Some(_) => format!(" of {}", zone.zone),
            None => String::new(),
        },
        side.source,
        told(own.coverage_factor * part),
        told(expanded),
        m.units.volume.symbol()
    )
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
