//! `measure`: all items of the job, or those that are named.

mod how;

use std::fmt::Write as _;
use std::path::{Path, PathBuf};

use anstyle::{AnsiColor, Style};
use dapedon_job::{Bill, BillItem, Context, JOB_FILE, Job, Reading, bill};
use dapedon_report::number::{grouped, money, written};
use dapedon_report::words::{self, Told};
use dapedon_report::{BillDocument, bill_csv};
use rust_decimal::Decimal;

use crate::Outcome;
use crate::args::MeasureArgs;
use crate::fault::Fault;
use crate::output::{Outputs, print_result};
use crate::progress::telling;
use crate::table::{Line, lined, wrapped};

/// Descriptions are broken at this many characters.
const DESCRIPTION: usize = 44;

pub(crate) fn run(args: &MeasureArgs) -> Result<Outcome, Fault> {
    let here = Path::new(JOB_FILE);
    let path = match &args.job.job {
        Some(path) => path,
        None if here.exists() => here,
        None => return Err(Fault::NoJobHere),
    };
    let job = Job::read(path)?;
    let outputs: Vec<&Path> = args
        .csv
        .iter()
        .chain(&args.report)
        .map(PathBuf::as_path)
        .collect();
    let inputs = job.files();
    let inputs: Vec<&Path> = inputs.iter().map(PathBuf::as_path).collect();
    Outputs::check(&outputs, &inputs)?;

    let (bill, sheets) = telling(|tell| {
        let context = Context {
            reading: Reading {
                any_crs: args.any_crs,
                ..Reading::default()
            },
            tell,
            ..Context::of(&job)
        };
        bill(&context, &args.codes)
    })?;

    let mut files = Outputs::default();
    if let Some(path) = &args.csv {
        let text = bill_csv(&bill).map_err(|source| Fault::Write {
            path: path.clone(),
            source,
        })?;
        files.stage(path, &text)?;
    }
    if let Some(path) = &args.report {
        let document = BillDocument::new(args.title.clone(), &bill, &sheets)?;
        files.stage(path, document.html()?.as_bytes())?;
    }
    print_result(files, args.json, &bill, &outputs, |out| {
        write!(out, "{}", spoken(&bill, args.how || !args.codes.is_empty()))
    })?;
    Ok(match bill.has_findings() {
        true => Outcome::Finding,
        false => Outcome::Done,
    })
}

/// The bill as it is read on a terminal, or aloud.
fn spoken(bill: &Bill, how: bool) -> String {
    let bold = Style::new().bold();
    let off = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
    let told = Told::of(bill, " ");
    let mut text = String::new();
    let mut say = |line: std::fmt::Arguments<'_>| {
        // Writing to a string does not fail.
        let _ = text.write_fmt(line);
        text.push('\n');
    };
    let contract = bill
        .job
        .contract
        .as_ref()
        .map_or(String::new(), |contract| format!(", contract {contract}"));
    say(format_args!("{bold}{}{bold:#}{contract}\n", bill.job.name));
    say(format_args!("{}", lines(bill, off)));

    if how {
        for item in bill.items() {
            say(format_args!(
                "\n{bold}{}  {}{bold:#}",
                item.code, item.description
            ));
            say(format_args!("{}", how::item(item, bill, &told)));
        }
    }
    if !bill.moved.is_empty() {
        say(format_args!(
            "\n{bold}What is dug, placed, brought in and taken away{bold:#}"
        ));
        for moved in &bill.moved {
            say(format_args!("  {bold}{}{bold:#}", moved.material));
            for line in words::moved(moved, &told) {
                say(format_args!("    {line}"));
            }
        }
    }
    let pieces: u64 = bill.overlays.iter().map(|overlay| overlay.pieces).sum();
    let worst = bill
        .overlays
        .iter()
        .map(|overlay| overlay.closure)
        .fold(0.0, f64::max);
    let fill = match worst {
        0.0 => "they fill the area of the outlines".to_owned(),
        _ => format!("they fill the area of the outlines to {worst:.0e}"),
    };
    let overlays = bill.overlays.len();
    if overlays > 0 {
        say(format_args!(
            "\nExact over {} pieces of {overlays} {}, each made once; {fill}.",
            grouped(pieces as f64, 0, " "),
            if overlays == 1 { "overlay" } else { "overlays" }
        ));
    }
    for item in bill.items() {
        for finding in &item.findings {
            say(format_args!("{off}▲ {}: {finding}{off:#}", item.code));
        }
    }
    for warning in &bill.warnings {
        say(format_args!("{bold}warning:{bold:#} {warning}"));
    }
    for item in bill.items() {
        for warning in &item.warnings {
            say(format_args!(
                "{bold}warning:{bold:#} item {}: {warning}",
                item.code
            ));
        }
    }
    text
}

/// The table of the bill.
fn lines(bill: &Bill, off: Style) -> String {
    let with_currency = |word: &str| match &bill.currency {
        Some(currency) => format!("{word}, {currency}"),
        None => word.to_owned(),
    };
    let heading = [
        "item".into(),
        "description".into(),
        "unit".into(),
        "contract".into(),
        "measured".into(),
        "of contract, %".into(),
        with_currency("rate"),
        with_currency("amount"),
    ];
    let amount =
        |amount: Option<Decimal>| amount.map_or(String::new(), |amount| written(amount, " "));
    let mut rows = Vec::new();
    for section in &bill.sections {
        if !section.section.is_empty() {
            rows.push(Line::Heading(section.section.clone()));
        }
        rows.extend(section.items.iter().map(|item| line(item, off)));
        if let (Some(sum), false) = (section.amount, section.section.is_empty()) {
            let mut cells: [String; 8] = Default::default();
            cells[1] = "sum of the section".into();
            cells[7] = written(sum, " ");
            rows.push(Line::Sum(cells));
        }
    }
    let total = bill.amount.map(|sum| {
        let mut cells: [String; 8] = Default::default();
        cells[1] = "total".into();
        cells[7] = amount(Some(sum));
        cells
    });
    lined(3, heading, rows, total)
}

fn line(item: &BillItem, off: Style) -> Line<[String; 8]> {
    let figure = |value: Decimal| written(value, " ");
    let mark = if item.findings.is_empty() { "" } else { "▲ " };
    let cells = [
        item.code.clone(),
        wrapped(&item.description, DESCRIPTION),
        item.unit.clone(),
        item.contract.map_or(String::new(), figure),
        format!("{mark}{}", figure(item.quantity)),
        item.share
            .map_or(String::new(), |share| grouped(share * 100.0, 1, " ")),
        item.rate.map_or(String::new(), |rate| money(rate, " ")),
        item.amount
            .map_or(String::new(), |amount| written(amount, " ")),
    ];
    match item.findings.is_empty() {
        true => Line::Plain(cells),
        false => Line::Styled(cells, off),
    }
}
