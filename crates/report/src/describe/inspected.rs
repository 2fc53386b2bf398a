//! What is in files, before they are trusted.

mod cloud;
mod surface;

use dapedon_core::alignment::chainage_words;
use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};
use dapedon_job::{
    AttributeFound, ColumnsFound, Extreme, FeaturesFound, Inspected, Inspection, LayerFound,
    LineFound, PairFound, StatedVolumeFound, ZoneFound,
};

use super::{cells, count};
use crate::number::{grouped, range};
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, Table};

/// How many outliers and codes are reported; the JSON lists all.
pub const LISTED: usize = 8;
/// How many zones are shown; the JSON lists all.
const ZONES: usize = 60;

/// What is in some files, and whether two of them can be compared.
pub fn inspected(inspected: &Inspected) -> Report {
    let mut report = Report::default();
    let several = inspected.files.len() > 1;
    for inspection in &inspected.files {
        file(inspection, &mut report);
        let own = inspection.warnings.iter().cloned();
        let path = &inspection.file.path;
        report.findings.extend(own.map(|finding| match several {
            true => finding.at(path),
            false => finding,
        }));
    }
    if let Some(pair) = &inspected.pair {
        compared(pair, &mut report);
    }
    report
}

/// A label, and the notes on it.
type Fact = (String, String);

fn fact(label: &str, words: impl Into<String>) -> Fact {
    (label.into(), words.into())
}

/// An area, in squares of the unit where that is known.
fn area(area: f64, unit: Option<LengthUnit>) -> String {
    let symbol = unit.map_or("", |unit| AreaUnit::usual(unit).symbol());
    let figure = grouped(area, 1);
    format!("{figure} {symbol}").trim_end().into()
}

/// The unit of a code.
fn unit_of(code: Option<&str>) -> Option<LengthUnit> {
    code.and_then(|code| code.parse().ok())
}

/// The first of some, and how many more there are.
fn some<T>(all: &[T], most: usize, told: impl Fn(&T) -> String) -> String {
    let first: Vec<String> = all.iter().take(most).map(told).collect();
    let more = match all.len().saturating_sub(most) {
        0 => String::new(),
        more => format!(", and {more} more"),
    };
    first.join(", ") + &more
}

fn table(of: &str, keys: Vec<Column>, columns: Vec<Column>, rows: Vec<Vec<Cell>>) -> Option<Block> {
    let rows = rows
        .into_iter()
        .map(|cells| Row::new(RowKind::Plain, cells));
    let table = Table {
        of: Some(("file", of.into())),
        keys,
        groups: vec![Group::new("", columns)],
        rows: rows.collect(),
    };
    (!table.is_empty()).then_some(Block::Table(table))
}

fn file(inspection: &Inspection, report: &mut Report) {
    let file = &inspection.file;
    report.heading(&file.path);
    let mut facts = vec![fact(
        "format",
        format!("{}, {} bytes", file.format, count(file.bytes)),
    )];
    if !file.other_files.is_empty() {
        let others: Vec<&str> = file
            .other_files
            .iter()
            .map(|other| other.path.as_str())
            .collect();
        facts.push(fact("with", others.join(", ")));
    }
    let only_zones = inspection.surfaces.is_empty() && inspection.lines.is_empty();
    let unit = match inspection.unit.as_deref() {
        Some(code) => code,
        None if only_zones => "the unit of the survey; none in this file",
        None => "not stated",
    };
    facts.push(fact("unit", unit));
    facts.extend(inspection.crs.iter().map(|crs| fact("system", crs)));
    let heights = inspection.height_system.iter();
    facts.extend(heights.map(|heights| fact("heights", format!("in {heights}"))));
    if let Some(found) = &inspection.columns {
        facts.extend(text(found));
    }
    report.add(Block::Facts(facts));
    let path = &file.path;
    if let Some(found) = &inspection.columns {
        columns(found, path)
            .into_iter()
            .for_each(|block| report.add(block));
        if !found.codes.is_empty() {
            let codes = some(&found.codes, LISTED, |(code, n)| format!("{code} ({n})"));
            report.add(Block::Facts(vec![fact("codes", codes)]));
        }
    }
    let unit = unit_of(inspection.unit.as_deref());
    let mut add = |block: Option<Block>| block.into_iter().for_each(|block| report.add(block));
    add(layers(&inspection.layers, path));
    if let Some(found) = &inspection.cloud {
        add(Some(Block::Facts(cloud::facts(found, unit))));
        add(cloud::classes(found, path));
    }
    for found in &inspection.surfaces {
        add(Some(Block::Facts(surface::facts(found, unit))));
        add(Some(Block::Notes(found.notes.clone())));
    }
    let unit = inspection.unit.as_deref();
    let unit = unit.and_then(|code| code.parse().ok());
    add(lines(&inspection.lines, unit, path));
    add(inspection.features.as_ref().map(features));
    if !inspection.attributes.is_empty() {
        add(attributes(&inspection.attributes, path));
    }
    add(zones(&inspection.zones, path));
    let more = inspection.zones.len().saturating_sub(ZONES);
    let more = (more > 0).then(|| format!("and {} more zones: --json lists all", count(more)));
    add(Some(Block::Lines(more.into_iter().collect())));
    add(stated(&inspection.stated_volumes, path));
    let left_out = inspection.skipped.iter();
    let left_out = left_out.map(|(kind, number)| format!("skipped, {kind}: {}", count(*number)));
    add(Some(Block::Lines(left_out.collect())));
    if let Some(reading) = &inspection.reading {
        let about =
            "to read such files with --as, or as = in a job file, keep under a name:".to_owned();
        let lines = reading.lines().map(|line| format!("  {line}"));
        add(Some(Block::Lines(
            [about].into_iter().chain(lines).collect(),
        )));
    }
}

/// How delimited text is written.
fn text(found: &ColumnsFound) -> Vec<Fact> {
    let mut said = vec![
        found.encoding.to_string(),
        format!("fields separated by {}", found.delimiter),
    ];
    said.extend(found.decimal_comma.then(|| "decimal commas".into()));
    said.extend((found.comments > 0).then(|| format!("{} comment lines", found.comments)));
    let why = match &found.header {
        Some(header) => format!("from the header: {}", header.join(", ")),
        None => "from --columns; no header".into(),
    };
    vec![fact("text", said.join(", ")), fact("columns", why)]
}

/// The first rows under what each column was read as.
fn columns(found: &ColumnsFound, path: &str) -> Option<Block> {
    let columns: Vec<Column> = found.roles.iter().map(Column::text).collect();
    let rows = found
        .rows
        .iter()
        .map(|row| row.iter().map(Cell::from).collect());
    table(path, Vec::new(), columns, rows.collect())
}

fn layers(layers: &[LayerFound], path: &str) -> Option<Block> {
    let rows = layers.iter().map(|layer| {
        let kinds = layer.kinds.iter().map(|(kind, number)| {
            let kind: &str = kind;
            let is_many = kind.ends_with('s') || kind.starts_with("without");
            match number {
                1 => format!("1 {}", kind.trim_end_matches('s')),
                _ if is_many => format!("{} {kind}", count(*number)),
                _ => format!("{} {kind}s", count(*number)),
            }
        });
        let kinds: Vec<String> = kinds.collect();
        let heights = layer.heights.map(|heights| range(heights, 2));
        cells![
            &layer.name,
            kinds.join(", "),
            heights.unwrap_or_else(|| "none".into())
        ]
    });
    let columns = vec![Column::text("holds"), Column::text("heights")];
    table(path, vec![Column::text("layer")], columns, rows.collect())
}

/// The features of a map, by kind, and where they lie.
fn features(found: &FeaturesFound) -> Block {
    let kinds: Vec<String> = (found.kinds.iter())
        .map(|(kind, number)| format!("{kind} {}", count(*number)))
        .collect();
    let heights = match found.with_heights {
        0 => "none with heights".into(),
        some => format!("{} with heights", count(some)),
    };
    let mut facts = vec![fact("holds", format!("{}; {heights}", kinds.join(", ")))];
    if let (Some(min), Some(max)) = (found.min, found.max) {
        facts.push(fact("east", range([min.east, max.east], 3)));
        facts.push(fact("north", range([min.north, max.north], 3)));
    }
    Block::Facts(facts)
}

/// The attributes of features, with some of their values.
fn attributes(attributes: &[AttributeFound], path: &str) -> Option<Block> {
    let has_layers = attributes.iter().any(|attribute| attribute.layer.is_some());
    let rows = attributes.iter().map(|a| {
        let layer = has_layers.then(|| a.layer.clone().unwrap_or_default());
        let rest = cells![&a.name, a.samples.join(", "), count(a.features)];
        layer.map(Cell::from).into_iter().chain(rest).collect()
    });
    let columns = vec![
        Column::text("values, for example"),
        Column::text("features"),
    ];
    let mut first = vec![Column::text("attribute")];
    if has_layers {
        first.insert(0, Column::text("layer"));
    }
    table(path, first, columns, rows.collect())
}

fn lines(lines: &[LineFound], unit: Option<LengthUnit>, path: &str) -> Option<Block> {
    let named = |chainage: f64| match unit {
        Some(unit) => chainage_words(chainage, unit, 3),
        None => format!("{chainage:.3}"),
    };
    let rows = lines.iter().map(|line| {
        let elements = line.elements.iter();
        let elements: Vec<String> = elements
            .map(|(name, number)| format!("{number} {name}{}", if *number == 1 { "" } else { "s" }))
            .collect();
        let [from, to] = line.chainage;
        let jumps = match line.equations {
            0 => String::new(),
            1 => ", 1 chainage equation".into(),
            n => format!(", {n} chainage equations"),
        };
        let heights = match line.profile {
            Some(_) => "along it",
            None => "none",
        };
        cells![
            &line.name,
            line.length,
            format!("{} to {}{jumps}", named(from), named(to)),
            elements.join(", "),
            heights,
        ]
    });
    let columns = vec![
        Column::new("length", Kind::Length(None, 3)),
        Column::text("chainage"),
        Column::text("elements"),
        Column::text("heights"),
    ];
    table(path, vec![Column::text("line")], columns, rows.collect())
}

/// Volumes that a file states, next to what is measured between the same surfaces.
fn stated(volumes: &[StatedVolumeFound], path: &str) -> Option<Block> {
    let figure = |volume: Option<f64>| volume.map_or("none".into(), |volume| grouped(volume, 1));
    let rows = volumes.iter().map(|one| {
        cells![
            format!("{} to {}", one.reference, one.surveyed),
            figure(one.stated_cut),
            figure(one.measured_cut),
            figure(one.stated_fill),
            figure(one.measured_fill),
            one.unit.parse().map_or("", VolumeUnit::symbol),
        ]
    });
    let columns = vec![
        Column::text("cut stated"),
        Column::text("measured"),
        Column::text("fill stated"),
        Column::text("measured"),
        Column::text("unit"),
    ];
    table(path, vec![Column::text("volume")], columns, rows.collect())
}

/// The first zones; how many more there are is said below them.
fn zones(zones: &[ZoneFound], path: &str) -> Option<Block> {
    let rows = zones.iter().take(ZONES).map(|z| {
        cells![
            &z.name,
            z.parts,
            z.holes,
            z.corners,
            z.area,
            range([z.min.east, z.max.east], 1),
            range([z.min.north, z.max.north], 1),
        ]
    });
    let columns = vec![
        Column::new("parts", Kind::Count),
        Column::new("holes", Kind::Count),
        Column::new("corners", Kind::Count),
        Column::new("area", Kind::Length(None, 1)),
        Column::text("east"),
        Column::text("north"),
    ];
    table(path, vec![Column::text("zone")], columns, rows.collect())
}

/// East and north, from where to where.
fn extent(min: Extreme, max: Extreme) -> [Fact; 2] {
    [
        fact("east", range([min.east, max.east], 3)),
        fact("north", range([min.north, max.north], 3)),
    ]
}

/// How two files lie to each other.
fn compared(pair: &PairFound, report: &mut Report) {
    report.heading("Can they be compared?");
    let unit = unit_of(pair.units[0].as_deref());
    let [first, second] = pair.areas;
    let mut facts = vec![fact(
        "ground",
        format!(
            "{} and {}; both cover {}",
            area(first, unit),
            area(second, unit),
            area(pair.common_area, unit)
        ),
    )];
    if let (Some(middle), Some(spread)) = (pair.median_difference, pair.half_within) {
        // Rounded first, so that nothing is not a minus.
        let middle = (middle * 1000.0).round() / 1000.0 + 0.0;
        let words = format!(
            "second less first: median {middle:+.3}, half of the ground within ±{spread:.3} of it"
        );
        facts.push(fact("heights", words));
    }
    report.add(Block::Facts(facts));
    if pair.warnings.is_empty() {
        report.add(Block::Lines(vec!["yes, no problem found".into()]));
    }
    let both = "comparing the two";
    report
        .findings
        .extend(pair.warnings.iter().map(|finding| finding.clone().at(both)));
}
