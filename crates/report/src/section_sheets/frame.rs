//! What sheets share: their frame, the title block, and the legend.

use super::paper_drawing::{Anchor, Ink, Item, PaperSheet, width_of};
use crate::map::TitleBlock;

/// What a printer leaves white around, in millimetres.
pub(crate) const MARGIN: f64 = 10.0;
/// How high words are.
pub(crate) const SMALL: f64 = 1.8;
pub(crate) const USUAL: f64 = 2.5;
const ROW: f64 = 4.8;
/// The room for what a row of the title block is called.
const LABEL: f64 = 24.0;
/// A swatch of the legend, and from one entry to the next.
const SWATCH: f64 = 9.0;
const GAP: f64 = 6.0;

/// An entry of the legend.
pub(crate) struct Entry {
    pub(crate) ink: Ink,
    pub(crate) words: String,
}

/// How high the title block is, with the legend above its rows.
pub(crate) fn height(title: &TitleBlock) -> f64 {
    // The heading and the legend have a row each; scale and number of the sheet are further lines.
    ROW * (2.7 + rows(title) as f64) + 1.0
}

fn rows(title: &TitleBlock) -> usize {
    (title.lines.len() + 2).div_ceil(2)
}

/// The room above the title block: left, top, right, bottom.
pub(crate) fn room([width, height_of_sheet]: [f64; 2], title: &TitleBlock) -> [f64; 4] {
    [
        MARGIN,
        MARGIN,
        width - MARGIN,
        height_of_sheet - MARGIN - height(title) - 2.0,
    ]
}

/// Draws frame, title block and legend.
pub(crate) fn draw(
    sheet: &mut PaperSheet,
    title: &TitleBlock,
    scale: &str,
    [number, of]: [usize; 2],
    legend: &[Entry],
) {
    let [width, high] = sheet.size;
    let (left, right, bottom) = (MARGIN, width - MARGIN, high - MARGIN);
    let top = bottom - height(title);
    sheet.frame([left, top, right, bottom]);
    let inner = left + 3.0;
    sheet.bold(
        [inner, top + 0.75 * ROW + 0.6],
        USUAL + 0.5,
        Anchor::Start,
        fitted(&title.heading, USUAL + 0.5, right - left - 6.0),
    );
    self::legend(sheet, legend, [inner, top + 2.0 * ROW], right - 3.0);
    let scale = ("Scale".to_owned(), scale.to_owned());
    let count = ("Sheet".to_owned(), format!("{number} of {of}"));
    let lines = title.lines.iter().chain([&scale, &count]);
    let (rows, column) = (rows(title), (right - left) / 2.0);
    for (index, (label, words)) in lines.enumerate() {
        let x = inner + column * (index / rows) as f64;
        let y = top + ROW * (3.0 + (index % rows) as f64);
        sheet.words([x, y], SMALL, Anchor::Start, label.clone());
        let words = fitted(words, USUAL, column - LABEL - 6.0);
        sheet.words([x + LABEL, y], USUAL, Anchor::Start, words);
    }
}

fn legend(sheet: &mut PaperSheet, entries: &[Entry], [left, y]: [f64; 2], right: f64) {
    let widths = entries
        .iter()
        .map(|entry| width_of(&entry.words, USUAL - 0.3));
    let all = right - left - (SWATCH + GAP) * entries.len() as f64;
    let room = widest(widths.collect(), all);
    let mut x = left;
    for Entry { ink, words } in entries {
        match ink {
            Ink::Cut | Ink::Fill => {
                let ring = [
                    [x, y - 1.3],
                    [x + SWATCH - 2.0, y - 1.3],
                    [x + SWATCH - 2.0, y + 1.3],
                    [x, y + 1.3],
                ];
                sheet.items.push(Item::Patch {
                    ink: *ink,
                    ring: ring.to_vec(),
                });
            }
            Ink::Line => sheet.dashed(*ink, 0.3, vec![[x, y], [x + SWATCH - 2.0, y]]),
            _ => sheet.line(*ink, 0.45, vec![[x, y], [x + SWATCH - 2.0, y]]),
        }
        let words = fitted(words, USUAL - 0.3, room.max(8.0));
        let wide = width_of(&words, USUAL - 0.3);
        sheet.words([x + SWATCH, y], USUAL - 0.3, Anchor::Start, words);
        x += SWATCH + wide + GAP;
    }
}

/// How wide each of some words may be, so that all have room: those that need less leave the rest to the others.
fn widest(mut widths: Vec<f64>, mut room: f64) -> f64 {
    widths.sort_by(f64::total_cmp);
    let mut left = widths.len();
    for width in widths {
        let share = room / left as f64;
        if width > share {
            return share;
        }
        room -= width;
        left -= 1;
    }
    f64::INFINITY
}

/// Words that fit a width in millimetres; what is too long is cut in the middle.
pub(crate) fn fitted(words: &str, size: f64, width: f64) -> String {
    if width_of(words, size) <= width {
        return words.to_owned();
    }
    let letters: Vec<char> = words.chars().collect();
    for kept in (2..letters.len()).rev() {
        let (head, tail) = (kept.div_ceil(2), kept / 2);
        let start: String = letters.iter().take(head).collect();
        let end: String = letters.iter().skip(letters.len() - tail).collect();
        let shorter = format!("{start}…{end}");
        if width_of(&shorter, size) <= width {
            return shorter;
        }
    }
    "…".into()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_fit_their_room() {
        for width in [2.0, 8.0, 20.0, 300.0] {
            let words = fitted(
                "a-very-long-name-of-a-folder/survey-of-march.csv",
                USUAL,
                width,
            );
            assert!(width_of(&words, USUAL) <= width || words == "…", "{words}");
        }
        assert_eq!(fitted("ground", USUAL, 50.0), "ground");
        // Short ones leave their room to the long one.
        assert_eq!(widest(vec![2.0, 9.0, 3.0], 12.0), 7.0);
        assert_eq!(widest(vec![2.0, 9.0, 3.0], 14.0), f64::INFINITY);
        assert_eq!(widest(vec![8.0, 9.0], 10.0), 5.0);
    }
}
