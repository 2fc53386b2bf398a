//! The shift at which the cut of a design makes its fill.

use dapedon_job::{Balanced, TriedShift};

use super::cells;
use crate::number::grouped;
use crate::report::{Block, Column, Group, Input, Kind, On, Picture, Report, Row, RowKind, Table};

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
    report.add_on(On::Terminal, Block::Paragraph(result(b)));
    report.add(Block::Paragraph(left_over(b)));
    let mut facts = vec![("shifted".to_owned(), b.moves.clone())];
    if !b.zones.is_empty() {
        facts.push(("within".into(), b.zones.join(", ")));
    }
    facts.push((
        "factors".into(),
        format!(
            "1 {volume} dug in the bank is {} {volume} loose and makes {} {volume} compacted",
            grouped(b.loose_per_bank, 3),
            grouped(b.compacted_per_bank, 3)
        ),
    ));
    report.add(Block::Facts(facts));
    report.pictures("Surplus at each shift", pictures);
    report.add_on(On::Terminal, Block::Table(shifts(b, shown(b))));
    let all = b.tried.iter().map(|tried| (String::new(), *tried));
    report.add_on(On::Sheet, Block::Table(shifts(b, all.collect())));
    report.add_on(On::Terminal, Block::Inputs);
    report
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
    let best = if b.meets { "balanced" } else { "closest" };
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
            tried.makes,
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
        Column::new("makes compacted", volume.clone()).head("makes fill"),
        Column::new("fill compacted", volume.clone()).head("fill"),
        Column::new("surplus compacted", volume.clone()).head("surplus"),
        Column::text("in words"),
        Column::new("surplus in the bank", volume.clone()).on(On::Sheet),
        Column::new("surplus loose", volume).on(On::Sheet),
    ];
    Table {
        of: None,
        keys: vec![Column::text("").on(On::Terminal)],
        groups: vec![Group {
            note: "cut in the bank, the others compacted".into(),
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
        _ => "left as it is".into(),
    };
    let volumes = format!(
        "cut {} {volume}, fill {} {volume}",
        figure(cut.value),
        figure(fill.value)
    );
    let [low, high] = b.range.map(|shift| grouped(shift.value, 3));
    match b.meets {
        true => format!("Balanced with {} {way}: {volumes}.", b.moves),
        false => format!(
            "No balance between {low} and {high} {length}. Closest with {} {way}: {volumes}.",
            b.moves
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
            "Left over: {} {volume} compacted, to be hauled away as {} {volume} loose.",
            figure(surplus.value),
            figure(surplus_loose.value)
        ),
        _ => format!(
            "Missing: {} {volume} compacted, to be hauled in as {} {volume} loose.",
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
