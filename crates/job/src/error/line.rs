//! A place in a job file.

use std::fmt;
use std::ops::Range;
use std::path::{Path, PathBuf};

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};

/// A place in a job file, and the line it is in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JobFileLine {
    /// The job file.
    pub path: PathBuf,
    /// The line, counted from one.
    pub line: usize,
    /// The column, counted from one.
    pub column: usize,
    /// What the line says.
    text: Box<str>,
    /// The bytes of it that are meant.
    meant: Range<usize>,
}

impl fmt::Display for JobFileLine {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let JobFileLine {
            path, line, column, ..
        } = self;
        write!(f, "{}, line {line}, column {column}", path.display())
    }
}

impl JobFileLine {
    /// The place of a span of bytes in a text.
    pub(crate) fn of(path: &Path, text: &str, span: Range<usize>) -> Self {
        let within = |at: usize| {
            let at = at.min(text.len());
            (0..=at)
                .rev()
                .find(|&at| text.is_char_boundary(at))
                .unwrap_or(0)
        };
        let (from, to) = (within(span.start), within(span.end));
        let start = text[..from].rfind('\n').map_or(0, |end| end + 1);
        let line = text[start..].lines().next().unwrap_or_default();
        let shown = |at: usize| at.min(line.len());
        let column = text[start..from].chars().count();
        let meant = text[from..to.max(from)].lines().next().unwrap_or_default();
        JobFileLine {
            path: path.into(),
            line: text[..from].matches('\n').count() + 1,
            column: column + 1,
            text: line.into(),
            // A line that ends in a carriage return is shown without: what is meant may lie there.
            meant: shown(from - start)..shown(from - start + meant.trim_end().len()),
        }
    }

    /// The line, with what is meant marked below it.
    pub(crate) fn shown(&self) -> String {
        let meant = AnnotationKind::Primary.span(self.meant.clone());
        let line = Snippet::source(&*self.text).line_start(self.line);
        let shown = Renderer::plain()
            .render(&[Group::with_level(Level::ERROR).element(line.annotation(meant))]);
        // The frame above and below the line is for several snippets.
        let rows = shown.lines().map(str::trim_end);
        let rows: Vec<&str> = rows.filter(|row| row.trim() != "|").collect();
        rows.join("\n")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_place_is_shown() {
        let text = "[job]\nname = \"Aü\"\nunit = \"mm\"\n";
        let at = text.find("\"mm\"").unwrap();
        let spot = JobFileLine::of(Path::new("d.toml"), text, at..at + 4);
        assert_eq!(spot.to_string(), "d.toml, line 3, column 8");
        assert_eq!(spot.shown(), "3 | unit = \"mm\"\n  |        ^^^^");
        let end = JobFileLine::of(Path::new("d.toml"), text, 900..950);
        assert_eq!((end.line, end.column), (4, 1));
    }

    /// Wherever a mistake is given to be, the line is shown: at ends of lines of either kind, in wide letters, beyond the end.
    #[test]
    fn every_place_can_be_shown() {
        for text in ["", "\n", "a = [\r\n\r\nb = \"ü\u{4e2d}\t\"\r\n", "x\ny = 1"] {
            for from in 0..=text.len() + 2 {
                for to in from..=text.len() + 2 {
                    let spot = JobFileLine::of(Path::new("d.toml"), text, from..to);
                    assert!(spot.shown().starts_with(&spot.line.to_string()));
                }
            }
        }
    }
}
