//! A report as one page of HTML that needs nothing else.

use dapedon_formats::visible_lines;
use dapedon_job::{Finding, InputFile, JobFacts, Severity, SurfaceFacts};
use minijinja::syntax::SyntaxConfig;
use minijinja::value::Serde;
use minijinja::{Environment, Error};
use serde::Serialize;

use super::cells::read;
use crate::ReportError;
use crate::number::grouped;
use crate::report::{Block, Cell, Column, Group, InputOf, Report, Row, RowKind, Table};

/// Texts of so many characters stay in one line.
const SHORT: usize = 18;
/// Tables of more rows may go on on the next page.
const LONG: usize = 15;

/// A report as a page under a title. Text of others in it is safe to be read: characters that no page may hold are seen
/// instead.
///
/// # Errors
///
/// When the page cannot be laid out.
pub fn page(report: &Report, title: &str) -> Result<String, ReportError> {
    Ok(laid(&Laid::of(report, title))?)
}

fn laid(page: &Laid<'_>) -> Result<String, Error> {
    let mut environment = Environment::new();
    let mut syntax = SyntaxConfig::builder();
    environment.set_syntax(syntax.trim_blocks(true).lstrip_blocks(true).build()?);
    environment.add_filter("count", |value: f64| grouped(value, 0));
    for (name, text) in [
        ("style.css", include_str!("page/style.css")),
        ("head.html", include_str!("page/head.html")),
        ("inputs.html", include_str!("page/inputs.html")),
        ("report.html", include_str!("page/report.html")),
    ] {
        environment.add_template(name, text)?;
    }
    let text = environment
        .get_template("report.html")?
        .render(Serde(page))?;
    Ok(visible_lines(&text).into_owned())
}

/// A page, all figures written.
#[derive(Serialize)]
struct Laid<'r> {
    title: &'r str,
    program: &'static str,
    mark: &'r Option<String>,
    lead: &'r [String],
    job: &'r Option<JobFacts>,
    headlines: Vec<LaidHeadline<'r>>,
    warnings: Vec<String>,
    failed: Vec<String>,
    acknowledged: Vec<String>,
    blocks: Vec<LaidBlock<'r>>,
}

#[derive(Serialize)]
struct LaidHeadline<'r> {
    label: &'r str,
    figure: &'r str,
    words: &'r str,
}

/// One of its fields is there.
#[derive(Serialize)]
#[serde(untagged)]
enum LaidBlock<'r> {
    Heading { heading: &'r str, small: bool },
    Paragraph { paragraph: &'r str },
    Lines { lines: Vec<LaidLine<'r>> },
    Facts { facts: &'r [(String, String)] },
    Notes { notes: &'r [String] },
    Table { table: LaidTable },
    Picture { picture: LaidPicture<'r> },
    Inputs { inputs: Vec<LaidInput<'r>> },
}

#[derive(Serialize)]
struct LaidLine<'r> {
    words: &'r str,
    strong: bool,
}

#[derive(Serialize)]
struct LaidPicture<'r> {
    caption: &'r str,
    svg: &'r str,
}

#[derive(Serialize)]
#[serde(untagged)]
enum LaidInput<'r> {
    Side {
        role: &'r str,
        side: &'r SurfaceFacts,
    },
    File {
        role: &'r str,
        file: &'r InputFile,
    },
}

#[derive(Serialize)]
struct LaidTable {
    class: &'static str,
    heads: Vec<LaidCell>,
    rows: Vec<LaidRow>,
}

#[derive(Serialize)]
struct LaidRow {
    class: &'static str,
    cells: Vec<LaidCell>,
}

#[derive(Serialize)]
struct LaidCell {
    text: String,
    class: String,
    span: Option<usize>,
}

impl<'r> Laid<'r> {
    fn of(report: &'r Report, title: &'r str) -> Self {
        let of = |severity: Severity| {
            let found = report.findings.iter();
            let found =
                found.filter(|found| found.severity == severity && found.acknowledged.is_none());
            found.map(told).collect()
        };
        let blocks = report.blocks.iter().filter(|(on, _)| on.page());
        Laid {
            title,
            program: concat!("Dapedon ", env!("CARGO_PKG_VERSION")),
            mark: &report.mark,
            lead: &report.lead,
            job: &report.job,
            headlines: (report.headlines.iter())
                .map(|headline| LaidHeadline {
                    label: &headline.label,
                    figure: &headline.figure,
                    words: &headline.words,
                })
                .collect(),
            warnings: of(Severity::Warning),
            failed: of(Severity::Failed),
            acknowledged: (report.findings.iter()).filter_map(acknowledged).collect(),
            blocks: blocks
                .flat_map(|(_, block)| block_of(block, report))
                .collect(),
        }
    }
}

/// A finding in a sentence.
fn told(finding: &Finding) -> String {
    match &finding.remedy {
        Some(remedy) => format!("{finding}; {remedy}"),
        None => finding.to_string(),
    }
}

/// A finding that is acknowledged, with the reason.
fn acknowledged(finding: &Finding) -> Option<String> {
    let reason = finding.acknowledged.as_ref()?;
    Some(format!("{finding}. Reason: {reason}"))
}

fn block_of<'r>(block: &'r Block, report: &'r Report) -> Vec<LaidBlock<'r>> {
    let laid = match block {
        Block::Heading { words, small } => LaidBlock::Heading {
            heading: words,
            small: *small,
        },
        Block::Paragraph(words) => LaidBlock::Paragraph { paragraph: words },
        Block::Lines(lines) => LaidBlock::Lines {
            lines: lines.iter().map(|line| line_of(line, lines)).collect(),
        },
        Block::Facts(facts) => LaidBlock::Facts { facts },
        Block::Notes(notes) => LaidBlock::Notes { notes },
        Block::Table(table) => return groups(table),
        Block::Picture(picture) => LaidBlock::Picture {
            picture: LaidPicture {
                caption: &picture.caption,
                svg: &picture.svg,
            },
        },
        Block::Inputs => LaidBlock::Inputs {
            inputs: (report.inputs.iter())
                .map(|input| match &input.of {
                    InputOf::Side(side) => LaidInput::Side {
                        role: &input.role,
                        side,
                    },
                    InputOf::File(file) => LaidInput::File {
                        role: &input.role,
                        file,
                    },
                })
                .collect(),
        },
    };
    vec![laid]
}

/// A line; one with others below it is strong.
fn line_of<'r>(line: &'r str, lines: &[String]) -> LaidLine<'r> {
    let is_above = !line.starts_with(' ') && lines.iter().any(|line| line.starts_with(' '));
    LaidLine {
        words: line.trim_start(),
        strong: is_above,
    }
}

/// The groups of a table, each under its title.
fn groups(table: &Table) -> Vec<LaidBlock<'_>> {
    let mut laid = Vec::new();
    let mut first = table.keys.len();
    for group in &table.groups {
        if group.on.page() {
            if !group.title.is_empty() {
                laid.push(LaidBlock::Heading {
                    heading: &group.title,
                    small: false,
                });
            }
            if !group.note.is_empty() {
                laid.push(LaidBlock::Paragraph {
                    paragraph: &group.note,
                });
            }
            laid.push(LaidBlock::Table {
                table: table_of(table, group, first),
            });
        }
        first += group.columns.len();
    }
    laid
}

fn table_of(table: &Table, group: &Group, first: usize) -> LaidTable {
    let own = (group.columns.iter().enumerate()).map(|(index, column)| (first + index, column));
    let columns: Vec<(usize, &Column)> = (table.keys.iter().enumerate())
        .chain(own)
        .filter(|(_, column)| column.on.page())
        .collect();
    let cell = |text: String, index: usize, column: &Column| LaidCell {
        class: class(&text, index, column),
        text,
        span: None,
    };
    let heads = (columns.iter())
        .map(|&(index, column)| LaidCell {
            class: class("", index, column),
            text: capital(&column.head),
            span: None,
        })
        .collect();
    let row = |row: &Row| {
        let class = match row.kind {
            RowKind::Plain => "",
            RowKind::Off => "off",
            RowKind::Section => "section",
            RowKind::Sum => "subtotal",
            RowKind::Total => "total",
        };
        let cells = match (row.kind, row.cells.first()) {
            (RowKind::Section, Some(Cell::Text(words))) => vec![LaidCell {
                text: words.clone(),
                class: String::new(),
                span: Some(columns.len()),
            }],
            _ => (columns.iter())
                .map(|&(index, column)| {
                    let text = read(row.cells.get(index).unwrap_or(&Cell::Empty), column);
                    let marked = column.marked && row.kind == RowKind::Off && !text.is_empty();
                    let text = if marked { format!("▲ {text}") } else { text };
                    cell(text, index, column)
                })
                .collect(),
        };
        LaidRow { class, cells }
    };
    LaidTable {
        class: if table.rows.len() > LONG { "long" } else { "" },
        heads,
        rows: table.rows_of(&columns).into_iter().map(row).collect(),
    }
}

/// How a cell is laid out: words at the left, what is short in one line, sentences wide.
fn class(text: &str, index: usize, column: &Column) -> String {
    let short = !text.is_empty() && text.chars().count() <= SHORT;
    let classes = [
        ("words", column.kind.is_words() && index > 0),
        ("short", short),
        ("wide", column.wrap.is_some()),
    ];
    let classes = classes
        .iter()
        .filter(|(_, is)| *is)
        .map(|(class, _)| *class);
    classes.collect::<Vec<_>>().join(" ")
}

/// Words with a capital at their head.
fn capital(words: &str) -> String {
    let mut letters = words.chars();
    match letters.next() {
        Some(first) => first.to_uppercase().chain(letters).collect(),
        None => String::new(),
    }
}
