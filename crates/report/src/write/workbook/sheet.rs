//! A sheet of a workbook: blocks below each other.

use std::collections::BTreeMap;

use rust_xlsxwriter::{Format, Image, Worksheet};

use super::formats::Formats;
use crate::ReportError;
use crate::map::png;
use crate::report::{Block, Picture, Report, Table};

/// Pixels to an inch of pictures, and the inches that they are wide at most.
const DOTS: f64 = 110.0;
const WIDE: f64 = 9.5;
/// How wide columns are, in letters: at least, and at most.
const WIDTH: [usize; 2] = [6, 46];
/// Lines of a row at most.
const MOST_LINES: usize = 25;
/// What a cell holds at most, in letters.
const LETTERS: usize = 32_000;

/// A sheet, filled from the top down.
pub(super) struct Sheet<'f> {
    pub(super) page: Worksheet,
    pub(super) formats: &'f Formats,
    /// The next free row.
    pub(super) row: u32,
    /// The letters of the widest cell of each column.
    pub(super) widths: Vec<usize>,
    /// The rows of the heads of its tables.
    pub(super) heads: Vec<u32>,
    /// Words that are broken in their cells: row, column, and the letters of each word.
    broken: Vec<(u32, usize, Vec<usize>)>,
    /// How many columns people print; none where that is all of them.
    pub(super) printed: Option<usize>,
}

impl<'f> Sheet<'f> {
    /// A sheet of a name. Printed, it has the title of the workbook below it.
    pub(super) fn new(
        name: String,
        title: &str,
        formats: &'f Formats,
    ) -> Result<Self, ReportError> {
        let mut page = Worksheet::new();
        page.set_name(name)?;
        page.set_landscape();
        // A4.
        page.set_paper_size(9);
        page.set_print_fit_to_pages(1, 0);
        // An ampersand is doubled: alone it begins a code. A footer has 255 letters at most.
        let title: String = title.chars().take(100).collect();
        let title = title.replace('&', "&&");
        page.set_footer(format!("&L{title}&C&A&R&P / &N"));
        Ok(Sheet {
            page,
            formats,
            row: 0,
            widths: Vec::new(),
            heads: Vec::new(),
            broken: Vec::new(),
            printed: None,
        })
    }

    /// What the report is, its figures that are looked for first, and what was found.
    pub(super) fn summary(&mut self, report: &Report, title: &str) -> Result<(), ReportError> {
        let formats = self.formats;
        self.page.set_row_height(self.row, 24)?;
        self.text(0, title, &formats.title)?;
        if let Some(mark) = &report.mark {
            self.text(0, mark, &formats.heading)?;
        }
        for words in &report.lead {
            self.text(0, words, &formats.words)?;
        }
        if let Some(job) = &report.job {
            let contract = job.contract.iter().map(|own| ("contract", own.as_str()));
            let parties = job
                .parties
                .iter()
                .map(|(who, name)| (who.as_str(), name.as_str()));
            let file = [
                ("job file", job.file.path.as_str()),
                ("SHA-256", job.file.sha256.as_str()),
            ];
            self.row = self.row.saturating_add(1);
            let facts = [("job", job.name.as_str())].into_iter();
            for (what, words) in facts.chain(contract).chain(parties).chain(file) {
                self.pair(what, words)?;
            }
        }
        if !report.headlines.is_empty() {
            self.row = self.row.saturating_add(1);
        }
        for own in &report.headlines {
            let words = match own.words.as_str() {
                "" => own.figure.clone(),
                words => format!("{}, {words}", own.figure),
            };
            self.pair(&own.label, &words)?;
        }
        if report.sheets().any(Table::has_formulas) {
            let words = "Figures are values; amounts, sums and shares are formulas over them. A figure that is changed here is no measurement any more.";
            self.row = self.row.saturating_add(1);
            self.text(0, words, &formats.words)?;
        }
        if !report.findings.is_empty() {
            self.row = self.row.saturating_add(1);
            self.text(0, "Before relying on these figures", &formats.heading)?;
        }
        for finding in &report.findings {
            let reason = finding.acknowledged.as_ref();
            let reason = reason.map_or(String::new(), |own| format!(" (acknowledged: {own})"));
            let remedy = finding.remedy.as_ref();
            let remedy = remedy.map_or(String::new(), |own| format!("; {own}"));
            self.text(0, &format!("{finding}{remedy}{reason}"), &formats.words)?;
        }
        Ok(())
    }

    /// What a fact is, and the fact beside it.
    fn pair(&mut self, what: &str, words: &str) -> Result<(), ReportError> {
        self.wide(0, what.chars().count());
        self.page
            .write_string_with_format(self.row, 0, cut(what), &self.formats.small_heading)?;
        self.text(1, words, &self.formats.words)
    }

    /// Words in a row of their own: they run on over the cells beside them.
    fn text(&mut self, column: u16, words: &str, format: &Format) -> Result<(), ReportError> {
        self.page
            .write_string_with_format(self.row, column, cut(words), format)?;
        self.row = self.row.saturating_add(1);
        Ok(())
    }

    /// A block below what is there.
    pub(super) fn block(&mut self, block: &Block) -> Result<(), ReportError> {
        let formats = self.formats;
        match block {
            Block::Heading { words, .. } => {
                self.gap();
                self.text(0, words, &formats.small_heading)?;
            }
            Block::Paragraph(words) => self.text(0, words, &formats.words)?,
            Block::Lines(lines) => {
                for line in lines {
                    self.text(0, line, &formats.words)?;
                }
            }
            Block::Facts(facts) => {
                for (label, words) in facts {
                    self.pair(label, words)?;
                }
            }
            Block::Notes(notes) => {
                for note in notes {
                    self.text(0, note, &formats.words)?;
                }
            }
            Block::Table(table) => self.table(table)?,
            Block::Picture(picture) => self.picture(picture)?,
            Block::Inputs => {}
        }
        Ok(())
    }

    /// An empty row, unless the sheet is empty.
    pub(super) fn gap(&mut self) {
        if self.row > 0 {
            self.row = self.row.saturating_add(1);
        }
    }

    /// A picture with its caption; the rows that it covers stay empty.
    fn picture(&mut self, picture: &Picture) -> Result<(), ReportError> {
        self.gap();
        self.text(0, &picture.caption, &self.formats.small_heading)?;
        let drawn = png(&picture.svg, DOTS)?;
        let image = Image::new_from_buffer(&drawn)?.set_alt_text(&picture.caption);
        // Spreadsheets count 96 pixels to an inch.
        let [wide, high] = [image.width(), image.height()];
        let scale = (WIDE * 96.0 / wide.max(1.0)).min(1.0);
        let image = image.set_scale_width(scale).set_scale_height(scale);
        self.page.insert_image(self.row, 0, &image)?;
        let rows = (high * scale / 20.0).ceil() + 1.0;
        self.row = self.row.saturating_add(rows.clamp(1.0, 1000.0) as u32);
        Ok(())
    }

    /// A column is to hold so many letters.
    pub(super) fn wide(&mut self, column: usize, letters: usize) {
        if self.widths.len() <= column {
            self.widths.resize(column.saturating_add(1), 0);
        }
        if let Some(width) = self.widths.get_mut(column) {
            *width = (*width).max(letters);
        }
    }

    /// Words of a cell that are broken where they are longer than its column.
    pub(super) fn broken(&mut self, column: usize, words: &str) {
        let letters = words.split_whitespace().map(|word| word.chars().count());
        self.broken.push((self.row, column, letters.collect()));
    }

    /// Rows as high as the words that are broken in them.
    fn heights(&mut self) -> Result<(), ReportError> {
        let mut lines: BTreeMap<u32, usize> = BTreeMap::new();
        for (row, column, words) in &self.broken {
            let width = self.widths.get(*column).map_or(WIDTH[0], |own| shown(*own));
            let own = lines_of(words, width);
            let most = lines.entry(*row).or_insert(1);
            *most = own.clamp(*most, MOST_LINES);
        }
        for (row, lines) in lines.into_iter().filter(|(_, lines)| *lines > 1) {
            self.page.set_row_height(row, 15.0 * lines as f64)?;
        }
        Ok(())
    }

    /// The columns that are printed: those for people, and so many more that words beside a table are whole.
    fn print_area(&mut self) -> Result<(), ReportError> {
        const LETTERS_PRINTED: usize = 110;
        let Some(printed) = self.printed else {
            return Ok(());
        };
        let mut letters = 0usize;
        let mut columns = 0usize;
        for width in &self.widths {
            if columns >= printed && letters >= LETTERS_PRINTED {
                break;
            }
            letters = letters.saturating_add(shown(*width));
            columns = columns.saturating_add(1);
        }
        let last = u16::try_from(columns.saturating_sub(1)).unwrap_or(u16::MAX);
        self.page.set_print_area(0, 0, self.row, last)?;
        Ok(())
    }

    /// The sheet, with columns as wide as what they hold, and the heads of its only table held while it is scrolled.
    pub(super) fn done(mut self) -> Result<Worksheet, ReportError> {
        for (column, &letters) in (0u16..).zip(&self.widths) {
            self.page
                .set_column_width(column, shown(letters) as f64 + 2.0)?;
        }
        self.heights()?;
        self.print_area()?;
        if let [head] = self.heads[..] {
            // Heads far down would leave no room for what scrolls.
            if head < 12 {
                self.page.set_freeze_panes(head.saturating_add(1), 0)?;
            }
            self.page.set_repeat_rows(head, head)?;
        }
        Ok(self.page)
    }
}

/// How wide a column of some letters is.
fn shown(letters: usize) -> usize {
    letters.clamp(WIDTH[0], WIDTH[1])
}

/// How many lines words of some letters take in a column.
fn lines_of(words: &[usize], width: usize) -> usize {
    let (mut lines, mut at) = (1usize, 0usize);
    for &word in words {
        let joined = match at {
            0 => word,
            at => at.saturating_add(word).saturating_add(1),
        };
        if joined <= width {
            at = joined;
            continue;
        }
        lines = lines.saturating_add(usize::from(at > 0));
        // A word longer than the column is broken itself.
        let before = word.saturating_sub(1);
        lines = lines.saturating_add(before / width.max(1));
        at = (before % width.max(1)).saturating_add(1);
    }
    lines
}

/// A text as long as a cell holds.
pub(super) fn cut(text: &str) -> String {
    text.replace(crate::number::GAP, " ")
        .chars()
        .take(LETTERS)
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_broken_at_the_width_of_their_column() {
        assert_eq!(lines_of(&[], 10), 1);
        assert_eq!(lines_of(&[4, 5], 10), 1);
        assert_eq!(lines_of(&[4, 6], 10), 2);
        assert_eq!(lines_of(&[10, 10, 1], 10), 3);
        assert_eq!(lines_of(&[25], 10), 3);
        assert_eq!(lines_of(&[3, 25, 4], 10), 4);
    }
}
