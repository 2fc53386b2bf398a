//! The title block of a map: what it shows, of which job, drawn from which files.

use dapedon_formats::visible;

use crate::drawing::{Svg, words_width};

/// From line to line, and above the first.
const LINE: f64 = 19.0;
const HEAD: f64 = 30.0;
/// The room for what a line is called.
const LABEL: f64 = 110.0;

/// What a title block says.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct TitleBlock {
    /// What the map shows.
    pub heading: String,
    /// Lines: what each says, and of what.
    pub lines: Vec<(String, String)>,
}

impl TitleBlock {
    /// Adds a line, if it says something.
    pub fn line(&mut self, label: &str, words: impl Into<String>) {
        let words = words.into();
        if !words.is_empty() {
            self.lines.push((label.into(), words));
        }
    }

    /// Lines stand in two columns.
    fn rows(&self) -> usize {
        // The scale is a line of its own on paper.
        (self.lines.len() + 1).div_ceil(2)
    }

    /// Its height, with the gap above it.
    pub(super) fn height(&self) -> f64 {
        HEAD + LINE * self.rows() as f64 + 14.0
    }

    /// Draws it in a box.
    pub(super) fn draw(
        &self,
        svg: &mut Svg,
        [left, top, right, bottom]: [f64; 4],
        scale: Option<&str>,
    ) {
        let (width, height) = (right - left, bottom - top - 4.0);
        svg.line(format_args!(
            r##"<rect x="{left:.1}" y="{top:.1}" width="{width:.1}" height="{height:.1}" fill="none" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        svg.bold(
            left + 10.0,
            top + 22.0,
            &shortened(&self.heading, width - 20.0),
        );
        let scale = scale.map(|scale| ("Scale".to_owned(), scale.to_owned()));
        let lines: Vec<&(String, String)> = self.lines.iter().chain(&scale).collect();
        let rows = self.rows();
        let column = width / 2.0;
        for (number, (label, words)) in lines.into_iter().enumerate() {
            let x = left + 10.0 + column * (number / rows) as f64;
            let y = top + HEAD + LINE * ((number % rows) as f64 + 0.75);
            svg.faint(x, y, label);
            svg.words(
                x + LABEL,
                y,
                "start",
                &shortened(words, column - LABEL - 20.0),
            );
        }
    }
}

/// Words that fit a width; what is too long is cut in the middle, where names of files say least.
fn shortened(words: &str, width: f64) -> String {
    let words = visible(words);
    if words_width(&words) <= width {
        return words.into_owned();
    }
    let letters: Vec<char> = words.chars().collect();
    let mut kept = letters.len();
    while kept > 2 {
        kept -= 1;
        let (head, tail) = (kept.div_ceil(2), kept / 2);
        let start: String = letters[..head].iter().collect();
        let end: String = letters[letters.len() - tail..].iter().collect();
        let shorter = format!("{start}…{end}");
        if words_width(&shorter) <= width {
            return shorter;
        }
    }
    "…".into()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn long_words_are_cut_in_the_middle() {
        assert_eq!(shortened("ground.xml", 200.0), "ground.xml");
        let cut = shortened("a-very-long-name-of-a-folder/survey-of-march.csv", 150.0);
        assert!(
            cut.starts_with("a-very") && cut.ends_with(".csv") && cut.contains('…'),
            "{cut}"
        );
        assert_eq!(shortened("anything", 1.0), "…");
    }
}
