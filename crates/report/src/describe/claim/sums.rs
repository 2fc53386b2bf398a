//! What a claim comes to, and by which terms.

use dapedon_contract::{Valuation, plain};
use dapedon_job::{Claim, ClaimAmount};
use rust_decimal::Decimal;

use super::super::cells;
use crate::number::money;
use crate::report::{Column, Formula, Group, Kind, Row, RowKind, Table};

/// The sums of a claim: to date, as they were certified before, and what is new.
pub(super) fn sums(claim: &Claim) -> Table {
    let (now, before) = (&claim.valuation, &claim.before);
    let row = |words: String, kind: RowKind, of: &dyn Fn(&Valuation) -> Decimal| {
        let [to_date, was] = [of(now), of(before)];
        let new = Formula::Less { from: 1, off: 2 };
        Row::new(kind, cells![words, to_date, was, to_date - was]).by(3, new)
    };
    let sum = |row: Row, rows: std::ops::Range<usize>| {
        let rows: Vec<usize> = rows.collect();
        let of = |cell: usize| (cell, Formula::SumOf(rows.clone()));
        let formulas = row.formulas.into_iter().chain([of(1), of(2)]);
        Row {
            formulas: formulas.collect(),
            ..row
        }
    };
    let plain_row =
        |words: &str, of: &dyn Fn(&Valuation) -> Decimal| row(words.into(), RowKind::Plain, of);
    let mut rows = vec![plain_row("work", &|own| own.work)];
    let mut optional = |words: &str, of: &dyn Fn(&Valuation) -> Decimal| {
        if !(of(now).is_zero() && of(before).is_zero()) {
            rows.push(plain_row(words, of));
        }
    };
    optional("materials on site", &|own| own.materials_on_site);
    optional("price adjustment", &|own| own.price_adjustment);
    let gross = rows.len();
    let own = row("gross".into(), RowKind::Sum, &|own| own.gross);
    rows.push(sum(own, 0..gross));
    let mut optional = |words: &str, of: &dyn Fn(&Valuation) -> Decimal| {
        if !(of(now).is_zero() && of(before).is_zero()) {
            rows.push(plain_row(words, of));
        }
    };
    optional("less retention", &|own| -own.retention);
    optional("retention released", &|own| own.retention_released);
    optional("advances", &|own| own.advance);
    optional("less advances recovered", &|own| -own.advance_recovered);
    let net = rows.len();
    let own = row("net".into(), RowKind::Sum, &|own| own.net);
    rows.push(sum(own, gross..net));
    let this = |words: String, kind: RowKind, amount: Decimal| {
        Row::new(kind, cells![words, "", "", amount])
    };
    if let Some(tax) = claim.terms.tax {
        let name = claim.terms.tax_name.as_deref().unwrap_or("tax");
        let words = format!("{name}, {} % of what is due", percent(tax));
        let share = Formula::ShareOf {
            row: net,
            share: tax,
        };
        rows.push(this(words, RowKind::Plain, now.tax).by(3, share));
    }
    let all = Formula::SumOf((net..rows.len()).collect());
    rows.push(this("to be paid now".into(), RowKind::Total, now.payable).by(3, all));
    let currency = || Kind::Money(claim.currency.clone());
    let columns = vec![
        Column::new("to date", currency()),
        Column::new("certified before", currency()),
        Column::new("this claim", currency()),
    ];
    Table {
        of: None,
        keys: vec![Column::text("sum")],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

fn percent(share: Decimal) -> String {
    plain(share.saturating_mul(Decimal::ONE_HUNDRED))
}

/// The terms of payment, and what was typed in, each in a line.
pub(super) fn terms(claim: &Claim) -> Vec<String> {
    let currency = claim.currency.as_deref().unwrap_or_default();
    let mut lines = Vec::new();
    if let Some(share) = claim.terms.retention {
        let mut words = format!("retention: {} % of the gross amount", percent(share));
        if !claim.terms.retention_on_materials {
            words += " without materials on site";
        }
        if let Some(limit) = claim.terms.retention_limit {
            words += &format!(", no more than {} {currency}", money(limit));
            if claim.valuation.retention == limit {
                words += ", which is reached";
            }
        }
        lines.push(words);
    }
    let why = |reason: &str, document: &Option<String>| {
        let document = document
            .as_ref()
            .map_or(String::new(), |own| format!(", {own}"));
        format!("{reason}{document}")
    };
    if let Some(own) = &claim.price_adjustment {
        let why = why(&own.reason, &own.document);
        lines.push(format!(
            "price adjustment: factor {} on the work of this period: {why}",
            plain(own.factor)
        ));
    }
    let amounts = [
        ("retention released", &claim.release),
        ("advance", &claim.advance),
        ("advance recovered", &claim.recovery),
    ];
    for (words, own) in amounts {
        if let Some(ClaimAmount {
            amount,
            reason,
            document,
            ..
        }) = own
        {
            let why = why(reason, document);
            lines.push(format!("{words}: {} {currency}: {why}", money(*amount)));
        }
    }
    lines
}
