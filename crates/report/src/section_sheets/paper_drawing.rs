//! A drawing in millimetres of paper, from which pictures and drawings are written alike.

use std::fmt::Write;

use crate::drawing::{Svg, escape, words_width};

/// Units of an SVG for a millimetre.
const UNITS: f64 = 1.0 / MILLIMETRE;
const MILLIMETRE: f64 = 0.18;
/// The size of words that [`words_width`] tells, in units.
const USUAL: f64 = 14.0;

/// What something drawn stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Ink {
    /// A surface, by its number.
    Surface(usize),
    /// The line itself: its middle, or its heights.
    Line,
    /// Ground to be cut.
    Cut,
    /// Ground to be filled.
    Fill,
    /// Offsets and heights behind all.
    Grid,
    /// Frames and axes.
    Frame,
    /// Words.
    Words,
}

/// Something drawn: places in millimetres, from the upper left corner of the sheet to the right and down.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Item {
    /// A line.
    Line {
        ink: Ink,
        corners: Vec<[f64; 2]>,
        /// In millimetres.
        width: f64,
        dashed: bool,
    },
    /// A filled outline.
    Patch { ink: Ink, ring: Vec<[f64; 2]> },
    /// Words.
    Words {
        at: [f64; 2],
        /// How high figures are, in millimetres.
        size: f64,
        anchor: Anchor,
        bold: bool,
        words: String,
    },
}

/// Where words stand from their place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Anchor {
    Start,
    Middle,
    End,
}

/// A sheet of paper with what is drawn on it.
#[derive(Debug, Clone, PartialEq)]
pub struct PaperSheet {
    /// Its title.
    pub(crate) title: String,
    /// Its width and height in millimetres.
    pub(crate) size: [f64; 2],
    pub(crate) items: Vec<Item>,
}

impl PaperSheet {
    pub(crate) fn new(title: String, size: [f64; 2]) -> Self {
        PaperSheet {
            title,
            size,
            items: Vec::new(),
        }
    }

    pub(crate) fn line(&mut self, ink: Ink, width: f64, corners: Vec<[f64; 2]>) {
        self.stroke(ink, width, corners, false);
    }

    pub(crate) fn dashed(&mut self, ink: Ink, width: f64, corners: Vec<[f64; 2]>) {
        self.stroke(ink, width, corners, true);
    }

    fn stroke(&mut self, ink: Ink, width: f64, corners: Vec<[f64; 2]>, dashed: bool) {
        self.items.push(Item::Line {
            ink,
            corners,
            width,
            dashed,
        });
    }

    pub(crate) fn frame(&mut self, [left, top, right, bottom]: [f64; 4]) {
        let corners = vec![
            [left, top],
            [right, top],
            [right, bottom],
            [left, bottom],
            [left, top],
        ];
        self.line(Ink::Frame, 0.2, corners);
    }

    pub(crate) fn words(
        &mut self,
        at: [f64; 2],
        size: f64,
        anchor: Anchor,
        words: impl Into<String>,
    ) {
        self.write(at, size, anchor, words.into(), false);
    }

    pub(crate) fn bold(
        &mut self,
        at: [f64; 2],
        size: f64,
        anchor: Anchor,
        words: impl Into<String>,
    ) {
        self.write(at, size, anchor, words.into(), true);
    }

    fn write(&mut self, at: [f64; 2], size: f64, anchor: Anchor, words: String, bold: bool) {
        self.items.push(Item::Words {
            at,
            size,
            anchor,
            bold,
            words,
        });
    }

    /// The sheet as SVG.
    pub fn svg(&self) -> String {
        let mut svg = Svg::default();
        let units = self.size.map(|along| along * UNITS);
        svg.open(units, Some(self.size), &self.title);
        for item in &self.items {
            match item {
                Item::Line {
                    ink,
                    corners,
                    width,
                    dashed,
                } => {
                    let dashes = if *dashed {
                        r#" stroke-dasharray="9 5""#
                    } else {
                        ""
                    };
                    svg.line(format_args!(
                        r#"<path d="{}" fill="none" stroke="{}" stroke-width="{:.2}" stroke-linejoin="round"{dashes}/>"#,
                        path(corners, false),
                        colour(*ink),
                        width * UNITS
                    ));
                }
                Item::Patch { ink, ring } => {
                    svg.line(format_args!(
                        r#"<path d="{}" fill="{}" stroke="none"/>"#,
                        path(ring, true),
                        colour(*ink)
                    ));
                    if *ink == Ink::Cut {
                        self.hatch(&mut svg, ring);
                    }
                }
                Item::Words {
                    at,
                    size,
                    anchor,
                    bold,
                    words,
                } => {
                    let [x, y] = at.map(|along| along * UNITS);
                    let anchor = match anchor {
                        Anchor::Start => "start",
                        Anchor::Middle => "middle",
                        Anchor::End => "end",
                    };
                    let weight = if *bold { r#" font-weight="bold""# } else { "" };
                    svg.line(format_args!(
                        r##"<text x="{x:.1}" y="{y:.1}" dy="0.35em" font-size="{:.1}" text-anchor="{anchor}" fill="#2d2a26"{weight}>{}</text>"##,
                        font(*size),
                        escape(words)
                    ));
                }
            }
        }
        svg.line(format_args!("</svg>"));
        svg.text
    }

    /// Hatches an outline, so that grey print tells cut from fill: lines up to the right, cut off where they leave it.
    fn hatch(&self, svg: &mut Svg, ring: &[[f64; 2]]) {
        const APART: f64 = 1.8;
        // Along a line of the hatch x + y is the same.
        let sums = ring.iter().map(|[x, y]| x + y);
        let (low, high) = sums.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), sum| {
            (low.min(sum), high.max(sum))
        });
        let mut text = String::new();
        let mut level = (low / APART).ceil() * APART;
        while level < high {
            let next = ring.iter().cycle().skip(1);
            let mut crossed: Vec<f64> = (ring.iter().zip(next))
                .filter_map(|([x, y], [x2, y2])| {
                    let (a, b) = (x + y - level, x2 + y2 - level);
                    ((a < 0.0) != (b < 0.0)).then(|| x + a / (a - b) * (x2 - x))
                })
                .collect();
            crossed.sort_by(f64::total_cmp);
            for pair in crossed.chunks_exact(2) {
                let ends = [pair[0], pair[1]].map(|x| [x * UNITS, (level - x) * UNITS]);
                let _ = write!(
                    text,
                    "M{:.1} {:.1}L{:.1} {:.1}",
                    ends[0][0], ends[0][1], ends[1][0], ends[1][1]
                );
            }
            level += APART;
        }
        if !text.is_empty() {
            svg.line(format_args!(
                r##"<path d="{text}" stroke="#5c2a10" stroke-opacity="0.55" stroke-width="0.9" fill="none"/>"##
            ));
        }
    }
}

/// How wide words are of a size, in millimetres.
pub(crate) fn width_of(words: &str, size: f64) -> f64 {
    words_width(words) * font(size) / USUAL * MILLIMETRE
}

/// The font that makes figures so high.
fn font(size: f64) -> f64 {
    // A figure of DejaVu Sans is 0.73 of its font high.
    size / 0.73 * UNITS
}

fn path(corners: &[[f64; 2]], closed: bool) -> String {
    let mut text = String::new();
    for (index, [x, y]) in corners.iter().enumerate() {
        let letter = if index == 0 { 'M' } else { 'L' };
        let _ = write!(text, "{letter}{:.1} {:.1}", x * UNITS, y * UNITS);
    }
    if closed {
        text.push('Z');
    }
    text
}

/// Colours of surfaces: the reference, the surveyed one, and others in turn.
const SURFACES: [&str; 6] = [
    "#6b4a2b", "#0b4f6c", "#4f7a28", "#7a2a6b", "#a8641a", "#3b3b98",
];

fn colour(ink: Ink) -> &'static str {
    match ink {
        Ink::Surface(number) if number < 2 => SURFACES[number],
        Ink::Surface(number) => SURFACES[2 + (number - 2) % (SURFACES.len() - 2)],
        Ink::Line => "#8a1c1c",
        Ink::Cut => "#e8b79a",
        Ink::Fill => "#b9d6e2",
        Ink::Grid => "#dcd8cf",
        Ink::Frame => "#2d2a26",
        Ink::Words => "#2d2a26",
    }
}
