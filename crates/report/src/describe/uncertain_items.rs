//! How uncertain the items of a bill are, and their total.

use dapedon_job::{Bill, BillItem, ItemUncertainty};
use rust_decimal::Decimal;
use rust_decimal::prelude::ToPrimitive;

use super::bill::DESCRIPTION;
use super::cells;
use super::uncertainty::greatest;
use crate::number::rounded_with;
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, Table};

/// Adds it to a report.
pub(super) fn uncertain_items(bill: &Bill, report: &mut Report) {
    let items = || {
        let items = bill.items();
        items.filter_map(|item| Some((item, item.uncertainty.as_ref()?)))
    };
    let Some((_, first)) = items().next() else {
        return;
    };
    report.heading("Uncertainty");
    let between = |own: &ItemUncertainty| {
        let sides = [own.from.reference, own.from.surveyed];
        sides.iter().any(|side| side.between_points.is_some())
    };
    let (with, without): (Vec<_>, Vec<_>) = items().partition(|(_, own)| between(own));
    let spacing = match (with.is_empty(), without.is_empty()) {
        (true, _) => "What the spacing of points leaves out is not in it.".to_owned(),
        (false, true) => "What the spacing of points leaves out is in it.".to_owned(),
        (false, false) => {
            let codes: Vec<&str> = with.iter().map(|(item, _)| item.code.as_str()).collect();
            let word = if codes.len() == 1 { "item" } else { "items" };
            format!(
                "What the spacing of points leaves out is in it for {word} {}, and for no other.",
                codes.join(", ")
            )
        }
    };
    let factors = match items().any(|(_, own)| !own.factors.is_empty()) {
        true => {
            "Uncertain factors of materials are in it; other factors, and rates, count as exact."
        }
        false => "Factors and rates count as exact.",
    };
    let words = format!(
        "In 95 of 100 cases the true quantity is within ± of the figure (coverage factor k = {}). It follows from the stated accuracy of the surfaces. {spacing} {factors} Errors of a survey that several items share are in all of them at once, so the total is not the sum of squares. Items that are not listed have surfaces whose accuracy is not stated, or that are exact, or count something other than a volume: areas, layers.",
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
        // Parts of the measured volume and of factors, as shares of what is paid.
        let volume = own.measured / item.measured.to_f64().unwrap_or_default().abs();
        let factor = own
            .factors
            .iter()
            .max_by(|a, b| a.share.abs().total_cmp(&b.share.abs()));
        let most = match (most, factor) {
            (Some((_, _, part)), Some(factor))
                if part.value / own.from.standard.value * volume < factor.share.abs() =>
            {
                Some(format!("{} of {}", factor.factor.words(), factor.material))
            }
            (most, _) => most.map(|(side, words, _)| format!("{words} in \"{side}\"")),
        };
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
