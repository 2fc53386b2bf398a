//! The same volumes found in other ways, and figures that somebody else states.

use dapedon_job::{
    Bill, BillItem, GridSize, Opinion, OpinionFigure, OpinionMethod, OpinionVerdict, ReportUnits,
    SecondOpinions, Volume,
};

use super::bill::DESCRIPTION;
use super::cells;
use crate::number::grouped;
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// Adds them to a report; of an item by its code, of which only one figure counts, or of all that was measured.
pub(super) fn opinions(
    found: &SecondOpinions,
    units: &ReportUnits,
    item: Option<(&str, &str)>,
    on: ShownOn,
    report: &mut Report,
) {
    let of = item.map(|(code, _)| ("item", code.to_owned()));
    let counts = |name: &str| item.is_none_or(|(_, figure)| figure == name);
    let limit = found.limit.map_or(String::new(), |limit| {
        format!(
            " Allowed are {} %: of the figure where it is stated by others, else of the greater of cut and fill.",
            share(limit)
        )
    });
    let words = format!(
        "The same volumes, found in other ways between the same surfaces. Another method may differ by its own error (95 %), other triangles and other people by the uncertainty of what was measured, where that is known.{limit}"
    );
    // Of items the words stand above all of them.
    if item.is_none() || found.limit.is_some() {
        report.add_on(on, Block::Paragraph(words));
    }
    let own = [("cut", found.cut), ("fill", found.fill), ("net", found.net)];
    for (name, figure) in own.into_iter().filter(|(name, _)| counts(name)) {
        let rows: Vec<Row> = (found.opinions.iter())
            .filter_map(|opinion| Some(row(opinion, figure_of(opinion, name)?)))
            .collect();
        if !rows.is_empty() {
            report.add_on(
                on,
                Block::Table(table(name, figure, units, of.clone(), rows)),
            );
        }
    }
    if !found.grid.is_empty() {
        let table = grids(&found.grid, units, counts, of);
        report.add_on(on, Block::Table(table));
    }
    let lines = explained(found);
    if !lines.is_empty() {
        report.add_on(on, Block::Lines(lines));
    }
}

/// Adds those of all items of a bill, a row each.
pub(super) fn opinions_of_items(bill: &Bill, on: ShownOn, report: &mut Report) {
    let items = bill.items().filter_map(|item| {
        let found = item.second_opinions.as_ref()?;
        Some((item, found, counted(item)))
    });
    let rows: Vec<Row> = items
        .map(|(item, found, name)| item_row(item, found, name))
        .collect();
    if rows.is_empty() {
        return;
    }
    report.add_on(on, Block::heading("Second opinions"));
    let words = "What is measured of each item, found in other ways between the same surfaces: by a grid from its trend, by parallel sections where no tolerance applies, and with other triangles between the same points where somebody chose them. Another method may differ by its own error (95 %), other triangles and other people by the uncertainty of what was measured, where that is known. What others state stands below. The computation of each item has the details.";
    report.add_on(on, Block::Paragraph(words.into()));
    let volume = Kind::Volume(bill.units.volume, bill.units.decimals);
    let otherwise = ["by a grid", "by sections", "other triangles"];
    let columns = ["computed"].into_iter().chain(otherwise);
    let columns =
        columns.map(|name| Column::new(format!("{name}, volume"), volume.clone()).head(name));
    let columns = columns.chain([Column::text("verdict")]);
    let title = format!("Measured in other ways, {}", bill.units.volume.symbol());
    report.add_on(
        on,
        Block::Table(Table {
            of: None,
            keys: vec![
                Column::text("item"),
                Column {
                    wrap: Some(DESCRIPTION),
                    ..Column::text("description")
                },
            ],
            groups: vec![Group::new(title, columns.collect())],
            rows,
        }),
    );
    let mut lines = Vec::new();
    for item in bill.items() {
        let Some(found) = &item.second_opinions else {
            continue;
        };
        for opinion in stated(found) {
            for (name, own) in opinion.figures() {
                lines.push(format!(
                    "Item {}: a {name} of {} {} is {}, {} {} than computed ({}): {}.",
                    item.code,
                    grouped(own.value.value, bill.units.decimals),
                    own.value.unit.symbol(),
                    method(opinion),
                    grouped(own.difference.value.abs(), bill.units.decimals),
                    if own.difference.value < 0.0 {
                        "less"
                    } else {
                        "more"
                    },
                    own.share.map_or("no share of it".into(), |of| format!(
                        "{} %",
                        share(of.abs())
                    )),
                    verdict(own)
                ));
            }
        }
        lines.extend(explained(found));
    }
    if !lines.is_empty() {
        report.add_on(on, Block::Lines(lines));
    }
}

/// The figure that counts in an item.
pub(super) fn counted(item: &BillItem) -> &'static str {
    match item.measure.as_str() {
        "cut" => "cut",
        "capacity" => "fill",
        measure if measure.starts_with("fill") || measure.starts_with("pile") => "fill",
        _ => "net",
    }
}

fn stated(found: &SecondOpinions) -> impl Iterator<Item = &Opinion> {
    let all = found.opinions.iter();
    all.filter(|opinion| opinion.method == OpinionMethod::Stated)
}

/// What other ways find of an item; of two sides triangulated otherwise, what is farther off.
fn item_row(item: &BillItem, found: &SecondOpinions, name: &str) -> Row {
    let own = match name {
        "cut" => found.cut,
        "fill" => found.fill,
        _ => found.net,
    };
    let of = |methods: &[OpinionMethod]| {
        let all = found.opinions.iter();
        let all = all.filter(|opinion| methods.contains(&opinion.method));
        let figures = all.filter_map(|opinion| figure_of(opinion, name));
        let off = |figure: &&OpinionFigure| figure.difference.value.abs();
        figures.max_by(|a, b| off(a).total_cmp(&off(b)))
    };
    let ways = [
        of(&[OpinionMethod::Grid]),
        of(&[OpinionMethod::Sections]),
        of(&[
            OpinionMethod::OtherDiagonalsOfReference,
            OpinionMethod::OtherDiagonalsOfSurveyed,
        ]),
    ];
    let mut cells = cells![&item.code, &item.description, own];
    cells.extend(ways.map(|figure| Cell::from(figure.map(|figure| figure.value))));
    let verdicts = || ways.into_iter().flatten().map(|figure| figure.verdict);
    let words = if verdicts().any(|own| own == OpinionVerdict::BeyondLimit) {
        "beyond the limit"
    } else if verdicts().any(|own| own == OpinionVerdict::Differs) {
        "differs"
    } else {
        "agrees"
    };
    cells.extend(cells![words]);
    Row::new(RowKind::Plain, cells)
}

fn share(of: f64) -> String {
    grouped(100.0 * of, 1)
}

fn figure_of<'o>(opinion: &'o Opinion, name: &str) -> Option<&'o OpinionFigure> {
    let mut all = opinion.figures();
    all.find_map(|(own, figure)| (own == name).then_some(figure))
}

fn method(opinion: &Opinion) -> String {
    let by = opinion.by.as_deref().unwrap_or("somebody else");
    match opinion.method {
        OpinionMethod::Grid => "grid, from its trend".into(),
        OpinionMethod::Sections => "parallel sections".into(),
        OpinionMethod::OtherDiagonalsOfReference | OpinionMethod::OtherDiagonalsOfSurveyed => {
            format!("other triangles in \"{by}\"")
        }
        OpinionMethod::NoBreaklinesOfReference | OpinionMethod::NoBreaklinesOfSurveyed => {
            format!("without the breaklines of \"{by}\"")
        }
        _ => format!("stated by {by}"),
    }
}

fn verdict(figure: &OpinionFigure) -> &'static str {
    match figure.verdict {
        OpinionVerdict::Agrees => "agrees",
        OpinionVerdict::Differs => "differs",
        OpinionVerdict::WithinLimit => "within the limit",
        OpinionVerdict::BeyondLimit => "beyond the limit",
        _ => "not judged",
    }
}

fn row(opinion: &Opinion, figure: &OpinionFigure) -> Row {
    let failed = figure.verdict == OpinionVerdict::BeyondLimit;
    let mut cells = cells![method(opinion), figure.value, figure.difference];
    cells.push(match figure.share {
        Some(share) => Cell::Number(share),
        None => Cell::Empty,
    });
    cells.push(Cell::from(figure.may_differ));
    let words = match opinion.method.is_for_comparison() {
        true => "for comparison",
        false => verdict(figure),
    };
    cells.extend(cells![words]);
    let kind = if failed { RowKind::Off } else { RowKind::Plain };
    Row::new(kind, cells)
}

fn table(
    name: &str,
    own: Volume,
    units: &ReportUnits,
    of: Option<(&'static str, String)>,
    rows: Vec<Row>,
) -> Table {
    let volume = Kind::Volume(units.volume, units.decimals);
    let title = format!(
        "{}: {} {} computed analytically",
        capital(name),
        grouped(own.value, units.decimals),
        own.unit.symbol()
    );
    let columns = vec![
        Column::new(format!("{name} otherwise"), volume.clone()).head(name),
        Column::new(format!("difference of {name}"), volume.clone()).head("difference"),
        Column::new(format!("share of {name}"), Kind::Share).head("share"),
        Column::new(format!("{name} may differ by"), volume).head("may differ ±"),
        Column::text("verdict"),
    ];
    Table {
        of,
        keys: vec![Column::text("found by")],
        groups: vec![Group::new(title, columns)],
        rows,
    }
}

fn capital(word: &str) -> String {
    let mut letters = word.chars();
    let first = letters.next().map(|first| first.to_ascii_uppercase());
    first.into_iter().chain(letters).collect()
}

/// What grids give by the size of their cells, of the figures that count.
fn grids(
    sizes: &[GridSize],
    units: &ReportUnits,
    counts: impl Fn(&str) -> bool,
    of: Option<(&'static str, String)>,
) -> Table {
    let volume = Kind::Volume(units.volume, units.decimals);
    let all = ["cut", "fill", "net"];
    let columns = all.into_iter().filter(|name| counts(name));
    let columns = columns.flat_map(|name| {
        [
            Column::new(format!("least {name}"), volume.clone()).head(format!("{name} from")),
            Column::new(format!("greatest {name}"), volume.clone()).head("to"),
        ]
    });
    let columns: Vec<Column> = columns.collect();
    let row = |size: &GridSize| {
        let mut cells = cells![size.cell];
        let figures = all.into_iter().zip([size.cut, size.fill, size.net]);
        let figures = figures.filter(|(name, _)| counts(name));
        cells.extend(figures.flat_map(|(_, ends)| ends.map(Cell::from)));
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of,
        keys: vec![Column::new("cell", Kind::Length(Some(units.length), 2))],
        groups: vec![Group {
            note: "by where the grid happens to start".into(),
            ..Group::new(
                format!("By grids of one cell size alone, {}", units.volume.symbol()),
                columns,
            )
        }],
        rows: sizes.iter().map(row).collect(),
    }
}

/// What would explain figures of others that do not agree.
fn explained(found: &SecondOpinions) -> Vec<String> {
    let mut lines = Vec::new();
    for opinion in stated(found) {
        for (name, figure) in opinion.figures() {
            if figure.verdict == OpinionVerdict::Agrees {
                continue;
            }
            let by = opinion.by.as_deref().unwrap_or("somebody else");
            let own = opinion.explanations.iter();
            let own = own.filter(|own| *own.figure == *name);
            let mut words: Vec<String> = own.map(|own| format!("  {}.", own.words)).collect();
            let head = match words.is_empty() {
                true => format!("Nothing that was tried explains the {name} stated by {by}."),
                false => format!("What would explain the {name} stated by {by}:"),
            };
            lines.push(head);
            lines.append(&mut words);
        }
    }
    lines
}
