//! A payment claim: its lines, what is due and why, the sums, and how each quantity came about.

mod compared;
mod list;
mod packed;
mod sums;

use dapedon_contract::LinePart;
use dapedon_job::{COVERAGE_FACTOR, Claim, ClaimLine, ClaimStatus, QuantityFrom};

use super::bill::{DESCRIPTION, computed};
use super::cells;
use super::to_limit::work_to_limit;
use crate::number::money;
use crate::report::{
    Block, Cell, Column, Formula, Group, Headline, Input, Kind, Picture, Report, Row, RowKind,
    ShownOn, Table,
};
pub use compared::compared_claims;
pub use list::claim_list;
pub use packed::packed;
use sums::{sums, terms};

/// What stands across a claim that is not issued.
const DRAFT: &str = "DRAFT, not issued";

/// A payment claim, with maps of what was measured, or why there are none.
pub fn claim(claim: &Claim, maps: Result<Vec<Picture>, String>) -> Report {
    let draft = claim.status == ClaimStatus::Draft;
    let measured = claim.measured.as_deref();
    let surfaces = measured.map_or(&[][..], |bill| &bill.surfaces);
    let of_zones = measured.map_or(&[][..], |bill| &bill.zone_files);
    let of_lines = measured.map_or(&[][..], |bill| &bill.line_files);
    let mut report = Report {
        mark: draft.then(|| DRAFT.into()),
        lead: vec![format!(
            "Payment claim {} of {}, for the period from {} to {}.",
            claim.number, claim.date, claim.period.from, claim.period.to
        )],
        job: Some(claim.job.clone()),
        headlines: headlines(claim),
        inputs: (surfaces.iter())
            .map(|side| Input::side("Surface", side))
            .chain(Input::zones(of_zones))
            .chain(Input::files("Line", of_lines))
            .collect(),
        findings: claim.warnings.clone(),
        ..Report::default()
    };
    let contract =
        (claim.job.contract.as_ref()).map_or(String::new(), |name| format!(", contract {name}"));
    let status = if draft {
        format!(" ({DRAFT})")
    } else {
        String::new()
    };
    let name = format!(
        "{}{contract}: payment claim {}{status}",
        claim.job.name, claim.number
    );
    report.add_on(ShownOn::Terminal, Block::heading(name));
    report.add_on(ShownOn::Page, Block::heading("The claim"));
    report.add(Block::Table(lines(claim)));
    let words = "Due is what is claimed to date less what was certified before. Amounts are quantities times rates, rounded to two decimals, halves away from zero; sums are sums of the rounded amounts.";
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    let words = "Measured to these surveys:";
    if let Some(table) = surveys(claim) {
        report.add(Block::Paragraph(words.into()));
        report.add(Block::Table(table));
    }
    why(claim, &mut report);
    report.heading("What is to be paid");
    report.add(Block::Table(sums(claim)));
    report.add(Block::Lines(terms(claim)));
    not_measured(claim, &mut report);
    if !claim.not_claimed.is_empty() {
        let words = format!(
            "Items of the bill that nothing is claimed of: {}.",
            claim.not_claimed.join(", ")
        );
        report.add(Block::Paragraph(words));
    }
    if let Some(bill) = measured {
        work_to_limit(bill, &mut report);
        report.add_on(
            ShownOn::Page,
            Block::heading("How each quantity is computed"),
        );
        computed(bill, ShownOn::Page, &mut report);
    }
    match maps {
        Ok(pictures) => report.pictures("Map", pictures),
        Err(why) => {
            report.add_on(ShownOn::Page, Block::heading("Map"));
            let words = format!("No map is drawn: {why}.");
            report.add_on(ShownOn::Page, Block::Paragraph(words));
        }
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    report.heading("Record");
    report.add(Block::Lines(record(claim)));
    report
}

fn headlines(claim: &Claim) -> Vec<Headline> {
    let currency = claim.currency.as_deref().unwrap_or_default();
    let headline = |label: &str, figure: String, words: &str| Headline {
        label: label.into(),
        figure,
        words: words.into(),
    };
    let amount = |amount| {
        format!("{} {currency}", money(amount))
            .trim_end()
            .to_owned()
    };
    let valuation = &claim.valuation;
    let status = match claim.status {
        ClaimStatus::Draft => "draft",
        ClaimStatus::Issued => "issued",
    };
    vec![
        headline("To be paid now", amount(valuation.payable), ""),
        headline("Due before tax", amount(valuation.due), ""),
        headline("Work and materials to date", amount(valuation.gross), ""),
        headline("Status", status.into(), ""),
    ]
}

/// The lines of a claim.
fn lines(claim: &Claim) -> Table {
    let currency = Kind::Money(claim.currency.clone());
    let sheet = |column: Column| column.on(ShownOn::Sheet);
    let columns = vec![
        Column::text("unit"),
        sheet(Column::new("contract", Kind::Count)),
        Column::new("quantity before", Kind::Count).head("before"),
        Column::new("quantity of this claim", Kind::Count).head("this claim"),
        Column::new("quantity to date", Kind::Count).head("to date"),
        Column::new("of contract", Kind::Share),
        Column::new("rate", currency.clone()),
        Column::new("amount to date", currency.clone()),
        Column::new("amount due", currency).head("due"),
        sheet(Column::text("quantity from")),
        sheet(Column::text("status")),
    ];
    let total = |words: &str, kind: RowKind, own: &dyn Fn(&&ClaimLine) -> bool| {
        let sum = |of: fn(&ClaimLine) -> LinePart| {
            let parts = claim.lines.iter().filter(own);
            parts
                .map(|line| of(line).amount)
                .sum::<rust_decimal::Decimal>()
        };
        let amounts = [sum(|line| line.worth.to_date), sum(|line| line.worth.due)];
        let mut cells = cells!["", words, "", "", "", "", "", "", ""];
        cells.extend(amounts.map(Cell::from));
        Row::new(kind, cells)
    };
    // The sums add up the lines above them.
    let summed = |row: Row, by: Formula| row.by(AMOUNT, by.clone()).by(DUE, by);
    let mut rows = Vec::new();
    let mut section: Option<&str> = None;
    let of_work = claim.lines.iter().filter(|line| !line.on_site);
    for line in of_work {
        let own = if line.extra {
            "Besides the bill"
        } else {
            &line.section
        };
        if section != Some(own) && !own.is_empty() {
            rows.push(Row::section(own));
        }
        section = Some(own);
        rows.push(row(claim, line));
    }
    let on_site: Vec<&ClaimLine> = claim.lines.iter().filter(|line| line.on_site).collect();
    if !on_site.is_empty() {
        let work = Formula::SumOf((0..rows.len()).collect());
        let sum = total("sum of the work", RowKind::Sum, &|line| !line.on_site);
        rows.push(summed(sum, work));
        rows.push(Row::section("Materials on site"));
        let first = rows.len();
        rows.extend(on_site.into_iter().map(|line| row(claim, line)));
        let materials = Formula::SumOf((first..rows.len()).collect());
        let words = "sum of materials on site";
        let sum = total(words, RowKind::Sum, &|line| line.on_site);
        rows.push(summed(sum, materials));
    }
    let all = total("total", RowKind::Total, &|_| true);
    rows.push(summed(all, Formula::SumOfAll));
    Table {
        of: None,
        keys: vec![
            Column::text("item"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("description")
            },
        ],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

// The numbers of the cells of a line that follow from each other.
const BEFORE: usize = 4;
const PERIOD: usize = 5;
const TO_DATE: usize = 6;
const RATE: usize = 8;
const AMOUNT: usize = 9;
const DUE: usize = 10;

fn row(claim: &Claim, line: &ClaimLine) -> Row {
    let worth = &line.worth;
    let status = match claim.status {
        ClaimStatus::Draft => DRAFT,
        ClaimStatus::Issued => "issued",
    };
    let cells = cells![
        &line.code,
        &line.description,
        &line.unit,
        line.contract,
        worth.certified.quantity,
        worth.due.quantity,
        worth.to_date.quantity,
        line.share_of_contract.map(dapedon_contract::binary),
        line.rate,
        worth.to_date.amount,
        worth.due.amount,
        quantity_from(line),
        status,
    ];
    let period = Formula::Less {
        from: TO_DATE,
        off: BEFORE,
    };
    let amount = Formula::Amount {
        quantity: TO_DATE,
        rate: RATE,
    };
    let row = Row::new(RowKind::Plain, cells);
    row.by(PERIOD, period).by(AMOUNT, amount)
}

/// Where the quantity of a line comes from, in words.
fn quantity_from(line: &ClaimLine) -> &'static str {
    match line.quantity_from {
        QuantityFrom::Measured => "measured",
        QuantityFrom::Typed => "typed in",
        QuantityFrom::CarriedForward => "carried forward",
    }
}

/// What was measured for this claim: to which survey, of which day, and how certain.
fn surveys(claim: &Claim) -> Option<Table> {
    let measured = claim
        .lines
        .iter()
        .filter(|line| line.quantity_from == QuantityFrom::Measured);
    let rows = measured.map(|line| {
        let cells = cells![
            &line.code,
            line.surveyed.as_ref(),
            line.survey_date.map(|date| date.to_string()),
            line.worth.to_date.quantity,
            line.uncertainty.map(|own| own * COVERAGE_FACTOR),
            &line.unit,
        ];
        Row::new(RowKind::Plain, cells)
    });
    let rows: Vec<Row> = rows.collect();
    let columns = vec![
        Column::text("surveyed"),
        Column::text("day of the survey").head("on"),
        Column::new("quantity to date", Kind::Count).head("to date"),
        Column::new("uncertainty (k = 2)", Kind::Figure(1)).head("±"),
        Column::text("unit"),
    ];
    (!rows.is_empty()).then(|| Table {
        of: None,
        keys: vec![Column::text("item")],
        groups: vec![Group::new("", columns)],
        rows,
    })
}

/// What is due that is not work of the period: corrections, what was not certified, rates that changed.
fn why(claim: &Claim, report: &mut Report) {
    let before = claim.number.saturating_sub(1);
    let mut rows = Vec::new();
    let mut add = |code: &str, words: String, unit: &str, part: LinePart| {
        let cells = cells![code, words, unit, part.quantity, part.amount];
        rows.push(Row::new(RowKind::Plain, cells));
    };
    for line in &claim.lines {
        let parts = &line.worth.parts;
        if parts.not_certified != LinePart::default() {
            let reason = line.certified_otherwise.as_deref().unwrap_or_default();
            let by = (claim.certificate.as_ref()).map_or("", |own| own.by.as_str());
            let words = format!("claimed in claim {before} and not certified by {by}: {reason}");
            add(&line.code, words, &line.unit, parts.not_certified);
        }
        if parts.change_of_rate.amount != rust_decimal::Decimal::ZERO {
            let words = "change of the rate, on what was claimed before".to_owned();
            add(&line.code, words, &line.unit, parts.change_of_rate);
        }
        for own in claim.corrections.iter().filter(|own| own.item == line.code) {
            let mut words = format!(
                "correction of claim {}, {} to {}: {}",
                own.claim, own.was, own.is, own.reason
            );
            if let Some(document) = &own.document {
                words += &format!(" ({document})");
            }
            add(&line.code, words, &own.unit, own.change);
        }
        let due = line.worth.due;
        if parts.period != due && !parts.period.quantity.is_zero() {
            let words = "work of this period".to_owned();
            add(&line.code, words, &line.unit, parts.period);
        }
    }
    if !rows.is_empty() {
        report.heading("What is due, in its parts");
    }
    if let Some(own) = &claim.certificate {
        let document = (own.document.as_ref()).map_or(String::new(), |name| format!(", {name}"));
        let words = format!(
            "Claim {} was certified by {} on {}{document}. What it does not name was certified as claimed.",
            own.claim, own.by, own.date
        );
        report.add(Block::Paragraph(words));
    }
    if rows.is_empty() {
        return;
    }
    let columns = vec![
        Column::text("unit"),
        Column::new("quantity", Kind::Count),
        Column::new("amount", Kind::Money(claim.currency.clone())),
    ];
    report.add(Block::Table(Table {
        of: None,
        keys: vec![
            Column::text("item"),
            Column {
                wrap: Some(DESCRIPTION),
                ..Column::text("what it is")
            },
        ],
        groups: vec![Group::new("", columns)],
        rows,
    }));
}

/// Lines that are not measured as they stand, with the reasons.
fn not_measured(claim: &Claim, report: &mut Report) {
    let mut told = Vec::new();
    let mut carried = Vec::new();
    for line in &claim.lines {
        let share = line.share.zip(line.measured).map(|(share, measured)| {
            let percent = (share * rust_decimal::Decimal::ONE_HUNDRED).normalize();
            format!("{percent} % of {measured} {} measured", line.unit)
        });
        let how = match (line.quantity_from, share) {
            (_, Some(share)) => share,
            (QuantityFrom::Typed, None) => "typed in".into(),
            (QuantityFrom::CarriedForward, None) if line.reason.is_none() => {
                carried.push(line.code.as_str());
                continue;
            }
            (QuantityFrom::CarriedForward, None) => "carried forward".into(),
            (QuantityFrom::Measured, None) => continue,
        };
        let said = [&line.reason, &line.document];
        let said: Vec<&str> = said.into_iter().flatten().map(String::as_str).collect();
        let said = match said.is_empty() {
            true => String::new(),
            false => format!(": {}", said.join(", ")),
        };
        told.push(format!("{}  {how}{said}", line.code));
    }
    if !carried.is_empty() {
        let before = claim.number.saturating_sub(1);
        let words = format!(
            "carried forward from claim {before}: {}",
            carried.join(", ")
        );
        told.push(words);
    }
    if !told.is_empty() {
        report.heading("Quantities that are not measured as they stand");
        report.add(Block::Lines(told));
    }
}

/// The record, by its digest.
fn record(claim: &Claim) -> Vec<String> {
    let mut lines = Vec::new();
    match &claim.record {
        Some(own) => {
            lines.push(format!(
                "record of claim {}, SHA-256 {}",
                own.claim, own.digest
            ));
            lines.push("dapedon audit checks it, and measures the claim again".into());
        }
        None => lines.push("none: this is a draft, and may change".into()),
    }
    if let Some(own) = &claim.previous {
        lines.push(format!("after claim {}, SHA-256 {}", own.claim, own.digest));
    }
    lines
}
