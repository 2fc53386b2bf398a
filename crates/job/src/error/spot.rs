//! A place in a job file.

use std::fmt;
use std::ops::Range;
use std::path::{Path, PathBuf};

/// A place in a job file, and the line it is in.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Spot {
    /// The job file.
    pub path: PathBuf,
    /// The line, counted from one.
    pub line: usize,
    /// The column, counted from one.
    pub column: usize,
    /// What the line says.
    text: String,
    /// How many characters of it are meant.
    width: usize,
}

impl fmt::Display for Spot {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Spot {
            path, line, column, ..
        } = self;
        write!(f, "{}, line {line}, column {column}", path.display())
    }
}

impl Spot {
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
        let column = text[start..from].chars().count();
        let meant = text[from..to.max(from)].lines().next().unwrap_or_default();
        Spot {
            path: path.into(),
            line: text[..from].matches('\n').count() + 1,
            column: column + 1,
            text: line.into(),
            width: meant.trim_end().chars().count().max(1),
        }
    }

    /// The line, with what is meant marked below it.
    pub(crate) fn shown(&self) -> String {
        let number = self.line.to_string();
        let text = self.text.replace('\t', " ");
        let (margin, before) = (" ".repeat(number.len()), " ".repeat(self.column - 1));
        format!(
            "{number} | {}\n{margin} | {before}{}",
            text.trim_end(),
            "~".repeat(self.width)
        )
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_place_is_shown() {
        let text = "[job]\nname = \"Aü\"\nunit = \"mm\"\n";
        let at = text.find("\"mm\"").unwrap();
        let spot = Spot::of(Path::new("d.toml"), text, at..at + 4);
        assert_eq!(spot.to_string(), "d.toml, line 3, column 8");
        assert_eq!(spot.shown(), "3 | unit = \"mm\"\n  |        ~~~~");
        let end = Spot::of(Path::new("d.toml"), text, 900..950);
        assert_eq!((end.line, end.column), (4, 1));
    }
}
