//! Two claims of a job, line by line.

use dapedon_contract::{LinePart, Valuation};
use dapedon_job::{ClaimComparison, ClaimStatus};
use rust_decimal::Decimal;

use super::super::bill::DESCRIPTION;
use super::super::cells;
use crate::number::money;
use crate::report::{Block, Cell, Column, Group, Headline, Kind, Report, Row, RowKind, Table};

/// Two claims of a job.
pub fn compared_claims(found: &ClaimComparison) -> Report {
    let [first, second] = &found.claims;
    let names = [first, second].map(|own| match own.status {
        ClaimStatus::Issued => format!("claim {}", own.number),
        ClaimStatus::Draft => format!("claim {} (draft)", own.number),
    });
    let change = second.valuation.gross.saturating_sub(first.valuation.gross);
    let currency = found.currency.as_deref().unwrap_or_default();
    let mut report = Report {
        lead: vec![format!("From {} to {}, to date.", names[0], names[1])],
        job: Some(found.job.clone()),
        headlines: vec![Headline {
            label: "Change of the gross amount to date".into(),
            figure: format!("{} {currency}", money(change)).trim_end().into(),
            words: String::new(),
        }],
        ..Report::default()
    };
    report.heading(format!("From {} to {}", names[0], names[1]));
    report.add(Block::Table(lines(found, &names)));
    report.heading("Sums to date");
    report.add(Block::Table(sums(found, &names)));
    report
}

fn lines(found: &ClaimComparison, names: &[String; 2]) -> Table {
    let currency = || Kind::Money(found.currency.clone());
    let quantity = |own: Option<LinePart>| Cell::from(own.map(|own| own.quantity));
    let amount = |own: Option<LinePart>| Cell::from(own.map(|own| own.amount));
    let rows = found.lines.iter().map(|own| {
        let change = Some(own.change);
        let mut cells = cells![&own.code, &own.description, &own.unit];
        cells.extend([own.first, own.second, change].map(quantity));
        cells.extend([own.first, own.second, change].map(amount));
        Row::new(RowKind::Plain, cells)
    });
    let of = |what: &str, kind: &dyn Fn() -> Kind| {
        let column = |name: &str| Column::new(format!("{what}, {name}"), kind()).head(name);
        vec![column(&names[0]), column(&names[1]), column("change")]
    };
    let mut quantities = vec![Column::text("unit")];
    quantities.extend(of("quantity to date", &|| Kind::Count));
    Table {
        of: None,
        keys: vec![
            Column::text("item"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("description")
            },
        ],
        groups: vec![
            Group::new("Quantities to date", quantities),
            Group::new("Amounts to date", of("amount to date", &currency)),
        ],
        rows: rows.collect(),
    }
}

fn sums(found: &ClaimComparison, names: &[String; 2]) -> Table {
    let [first, second] = [&found.claims[0].valuation, &found.claims[1].valuation];
    let row = |words: &str, of: fn(&Valuation) -> Decimal| {
        let [was, is] = [of(first), of(second)];
        Row::new(RowKind::Plain, cells![words, was, is, is - was])
    };
    let currency = || Kind::Money(found.currency.clone());
    Table {
        of: None,
        keys: vec![Column::text("sum")],
        groups: vec![Group::new(
            "",
            vec![
                Column::new(names[0].as_str(), currency()),
                Column::new(names[1].as_str(), currency()),
                Column::new("change", currency()),
            ],
        )],
        rows: vec![
            row("work", |own| own.work),
            row("materials on site", |own| own.materials_on_site),
            row("price adjustment", |own| own.price_adjustment),
            row("gross", |own| own.gross),
            row("retention held", |own| own.retention_held),
            row("net", |own| own.net),
        ],
    }
}
