//! The shift at which the cut of a design makes its fill.

use dapedon_job::{Balanced, ShiftedHeight, TriedShift};

use super::cells;
use crate::number::grouped;
use crate::report::{
    Block, Column, Group, Input, Kind, Picture, Report, Row, RowKind, ShownOn, Table,
};

/// How many of the tried shifts are shown, about; a spreadsheet gets all of them.
const SHOWN: usize = 9;

/// A balance, with pictures of it.
pub fn balance(balanced: &Balanced, pictures: Vec<Picture>) -> Report {
    let b = balanced;
    let volume = b.units.volume.symbol();
    let mut report = Report {
        lead: vec![result(b)],
        inputs: [("Ground", &b.ground), ("Design", &b.design)]
            .map(|(role, side)| Input::side(role, side))
            .into_iter()
            .chain(Input::zones(&b.zone_files))
            .collect(),
        findings: b.warnings.clone(),
        ..Report::default()
    };
    report.add_on(ShownOn::Terminal, Block::Paragraph(result(b)));
    report.add(Block::Paragraph(left_over(b)));
    let mut facts = vec![("shifted".to_owned(), b.shifted.clone())];
    if !b.zones.is_empty() {
        facts.push(("within".into(), b.zones.join(", ")));
    }
    facts.push((
        "factors".into(),
        format!(
            "1 {volume} bank is {} {volume} loose and {} {volume} compacted",
            grouped(b.swell, 3),
            grouped(b.shrink, 3)
        ),
    ));
    report.add(Block::Facts(facts));
    report.pictures("Surplus at each shift", pictures);
    report.add_on(ShownOn::Terminal, Block::Table(shifts(b, shown(b))));
    let all = b.tried.iter().map(|tried| (String::new(), *tried));
    report.add_on(ShownOn::Sheet, Block::Table(shifts(b, all.collect())));
    if !b.heights.is_empty() {
        report.add(Block::Table(heights(b)));
    }
    report.add_on(ShownOn::Terminal, Block::Inputs);
    report
}

/// The new heights of a line.
fn heights(b: &Balanced) -> Table {
    let height = Kind::Length(Some(b.units.length), 3);
    let row = |own: &ShiftedHeight| {
        let cells = cells![
            own.chainage,
            own.designed,
            own.shifted,
            own.shifted - own.designed
        ];
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::new("chainage", Kind::Chainage(b.units.length, 2))],
        groups: vec![Group {
            note: "where grades meet, and where the shift begins and is whole".into(),
            ..Group::new(
                "New heights of the line",
                vec![
                    Column::new("as designed", height.clone()),
                    Column::new("new height", height.clone()),
                    Column::new("shift", height),
                ],
            )
        }],
        rows: b.heights.iter().map(row).collect(),
    }
}

/// Some of the tried shifts, with words for the best one and that of the design.
fn shown(b: &Balanced) -> Vec<(String, TriedShift)> {
    let telling = b.telling();
    let step = telling.len().div_ceil(SHOWN).max(1);
    let spelled = |tried: &TriedShift| grouped(tried.shift.value, 3);
    let apart =
        |tried: &&TriedShift| tried.shift.value != 0.0 && spelled(tried) != spelled(&b.best);
    let some = telling.iter().step_by(step).chain(telling.last());
    let some = some.filter(apart).map(|tried| (String::new(), *tried));
    let mut rows: Vec<(String, TriedShift)> = some.collect();
    rows.dedup_by_key(|(_, tried)| tried.shift);
    if b.as_designed.shift != b.best.shift {
        rows.push(("as designed".into(), b.as_designed));
    }
    let best = if b.balanced { "balanced" } else { "closest" };
    rows.push((best.into(), b.best));
    rows.sort_by(|(_, a), (_, b)| a.shift.value.total_cmp(&b.shift.value));
    rows
}

fn shifts(b: &Balanced, rows: Vec<(String, TriedShift)>) -> Table {
    let units = b.units;
    let volume = Kind::Volume(units.volume, units.decimals);
    let rows = rows.into_iter().map(|(words, tried)| {
        let cells = cells![
            words,
            tried.shift,
            tried.cut,
            tried.compacted_from_cut,
            tried.fill,
            tried.surplus,
            in_words(&tried, units.decimals),
            tried.surplus_bank,
            tried.surplus_loose,
        ];
        Row::new(RowKind::Plain, cells)
    });
    let columns = vec![
        Column::new("shift", Kind::Length(Some(units.length), 3)),
        Column::new("cut in the bank", volume.clone()).head("cut"),
        Column::new("makes compacted", volume.clone()).head("cut as fill"),
        Column::new("fill compacted", volume.clone()).head("fill"),
        Column::new("surplus compacted", volume.clone()).head("surplus"),
        Column::text("in words"),
        Column::new("surplus in the bank", volume.clone()).on(ShownOn::Sheet),
        Column::new("surplus loose", volume).on(ShownOn::Sheet),
    ];
    Table {
        of: None,
        keys: vec![Column::text("").on(ShownOn::Terminal)],
        groups: vec![Group {
            note: "cut as bank volume, fill and surplus as compacted volume".into(),
            ..Group::new(format!("Tried shifts, {}", units.volume.symbol()), columns)
        }],
        rows: rows.collect(),
    }
}

/// Where it balances, in a sentence.
fn result(b: &Balanced) -> String {
    let (length, volume) = (b.units.length.symbol(), b.units.volume.symbol());
    let figure = |value: f64| grouped(value, b.units.decimals);
    let TriedShift {
        shift, cut, fill, ..
    } = b.best;
    let way = match shift {
        shift if shift.value > 0.0 => format!("raised by {} {length}", grouped(shift.value, 3)),
        shift if shift.value < 0.0 => format!("lowered by {} {length}", grouped(-shift.value, 3)),
        _ => "not moved".into(),
    };
    let volumes = format!(
        "cut {} {volume}, fill {} {volume}",
        figure(cut.value),
        figure(fill.value)
    );
    let [low, high] = b.range.map(|shift| grouped(shift.value, 3));
    match b.balanced {
        true => format!("Balanced with {} {way}: {volumes}.", b.shifted),
        false => format!(
            "No balance between {low} and {high} {length}. Closest with {} {way}: {volumes}.",
            b.shifted
        ),
    }
}

/// What is left over or missing, in a sentence.
fn left_over(b: &Balanced) -> String {
    let volume = b.units.volume.symbol();
    let figure = |value: f64| grouped(value, b.units.decimals);
    let TriedShift {
        surplus,
        surplus_loose,
        ..
    } = b.best;
    match in_words(&b.best, b.units.decimals) {
        "balanced" => "Nothing is left over.".into(),
        "surplus" => format!(
            "Surplus: {} {volume} compacted, to haul away as {} {volume} loose.",
            figure(surplus.value),
            figure(surplus_loose.value)
        ),
        _ => format!(
            "Shortfall: {} {volume} compacted, to bring in as {} {volume} loose.",
            figure(-surplus.value),
            figure(-surplus_loose.value)
        ),
    }
}

/// Surplus, shortfall, or balanced where it is shown as nothing.
fn in_words(tried: &TriedShift, decimals: usize) -> &'static str {
    let shown = 0.5 * 10f64.powi(-(decimals as i32));
    match tried.surplus {
        surplus if surplus.value.abs() < shown => "balanced",
        surplus if surplus.value > 0.0 => "surplus",
        _ => "shortfall",
    }
}
