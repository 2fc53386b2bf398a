//! A report on a terminal.

mod table;

use std::fmt::Write as _;

use anstyle::{AnsiColor, Style};
use dapedon_job::{Finding, Severity, SurfaceFacts};

use crate::number::{GAP, grouped};
use crate::report::{Block, InputOf, Report};

/// Sentences are broken at this many characters, or where the terminal ends.
const LINE: usize = 112;

/// What stands before what is not as it should be.
const MARK: &str = "▲";

/// A report as it is read on a terminal so wide, or aloud: what was measured from, the blocks, and last, where they are
/// read first, the findings.
pub fn terminal(report: &Report, width: Option<usize>) -> String {
    let mut writer = Writer {
        text: String::new(),
        width,
    };
    let shown = report.blocks.iter().filter(|(on, _)| on.terminal());
    let mut before = None;
    for (_, block) in shown {
        if parted(before, block) {
            writer.gap();
        }
        writer.block(block, report);
        before = Some(block);
    }
    writer.findings(&report.findings);
    writer.text.replace(GAP, " ")
}

struct Writer {
    text: String,
    width: Option<usize>,
}

impl Writer {
    fn say(&mut self, line: impl AsRef<str>) {
        self.text.push_str(line.as_ref());
        self.text.push('\n');
    }

    /// An empty line, but for the first and after another one.
    fn gap(&mut self) {
        if !self.text.is_empty() && !self.text.ends_with("\n\n") {
            self.text.push('\n');
        }
    }

    /// Characters of a line.
    fn most(&self) -> usize {
        self.width.map_or(LINE, |width| width.min(LINE))
    }

    fn bold(&mut self, words: &str) {
        let bold = Style::new().bold();
        self.say(format!("{bold}{words}{bold:#}"));
    }

    fn block(&mut self, block: &Block, report: &Report) {
        match block {
            Block::Heading { words, .. } => self.bold(words),
            Block::Paragraph(words) => {
                let most = self.most();
                self.say(table::wrapped(words, most));
            }
            Block::Lines(lines) => {
                for line in lines {
                    self.say(format!("  {line}"));
                }
            }
            Block::Facts(facts) => {
                let bold = Style::new().bold();
                for (label, words) in facts {
                    match words.as_str() {
                        "" => self.say(format!("  {bold}{label}{bold:#}")),
                        words => self.say(format!("  {label:<8} {words}")),
                    }
                }
            }
            Block::Notes(notes) => {
                for note in notes {
                    self.say(format!("  - {note}"));
                }
            }
            Block::Table(table) => {
                for group in table.groups.iter().filter(|group| group.on.terminal()) {
                    if !group.title.is_empty() {
                        self.gap();
                        let bold = Style::new().bold();
                        let note = match group.note.as_str() {
                            "" => String::new(),
                            note => format!(": {note}"),
                        };
                        self.say(format!("{bold}{}{bold:#}{note}", group.title));
                    }
                    for part in table::laid(table, group, self.width) {
                        self.say(part);
                    }
                }
            }
            Block::Picture(_) => {}
            Block::Inputs => {
                self.gap();
                self.inputs(report);
            }
        }
    }

    /// What was measured from, each with how it came about.
    fn inputs(&mut self, report: &Report) {
        let sides = report.inputs.iter().filter_map(|input| match &input.of {
            InputOf::Side(side) => Some((&input.role, side)),
            InputOf::File(_) => None,
        });
        let longest = sides.clone().map(|(role, _)| role.len()).max().unwrap_or(0);
        let bold = Style::new().bold();
        for (role, side) in sides {
            let steps = side.recipe.iter().flat_map(|recipe| recipe.all_steps());
            let lines = (std::iter::once(described(side)))
                .chain(side.notes.iter().cloned())
                .chain(steps.map(|step| step.words()));
            let most = self.most().saturating_sub(longest + 2).max(24);
            let lines: Vec<String> = lines.map(|line| table::wrapped(&line, most)).collect();
            for (index, line) in lines.iter().flat_map(|line| line.lines()).enumerate() {
                match index {
                    0 => self.say(format!("{bold}{role:<longest$}{bold:#}  {line}")),
                    _ => self.say(format!("{:longest$}  {line}", "")),
                }
            }
        }
    }

    fn findings(&mut self, findings: &[Finding]) {
        if !findings.is_empty() {
            self.gap();
        }
        let red = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
        let bold = Style::new().bold();
        for finding in findings {
            if let Some(reason) = &finding.acknowledged {
                self.say(format!("acknowledged: {finding}"));
                self.say(format!("     reason: {reason}"));
                continue;
            }
            match finding.severity {
                Severity::Failed => self.say(format!("{red}{MARK} {finding}{red:#}")),
                Severity::Warning => self.say(format!("{bold}warning:{bold:#} {finding}")),
            }
            if let Some(remedy) = &finding.remedy {
                self.say(format!("     do: {remedy}"));
            }
        }
    }
}

/// True where an empty line stands between two blocks.
fn parted(before: Option<&Block>, block: &Block) -> bool {
    match (before, block) {
        (Some(Block::Heading { .. }), Block::Heading { small: true, .. }) => false,
        (_, Block::Heading { .. }) => true,
        (Some(Block::Paragraph(_)), Block::Paragraph(_)) => false,
        (_, Block::Paragraph(_)) => true,
        (Some(Block::Lines(_) | Block::Paragraph(_)), Block::Table(_)) => true,
        _ => false,
    }
}

/// What a side is, in a line.
fn described(side: &SurfaceFacts) -> String {
    let mut text = format!("{}: {}", side.source, side.kind);
    if let (Some(points), Some(facets)) = (side.points, side.triangles) {
        let count = |n: usize| grouped(n as f64, 0);
        // Writing to a string does not fail.
        let _ = write!(
            text,
            ", {} points, {} triangles",
            count(points),
            count(facets)
        );
    }
    text
}
