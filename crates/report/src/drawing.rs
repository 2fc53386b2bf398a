//! What every drawing of ground shares: scale, frame, coordinates, outlines, scale bar, north.

use std::fmt::{self, Write};

use dapedon_core::plan::{Edge, Extent, Frame, Place};
use dapedon_core::quantities::DifferenceMap;
use dapedon_core::surface::Outline;
use dapedon_formats::visible;

use crate::colours::{Rgb, hex};
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};

/// Words of a drawing, high, in its units.
const WORDS: f64 = 14.0;
/// Outlines of more edges than this would be heavier than what they show.
const EDGES: usize = 20_000;

/// From ground to drawing.
pub(crate) struct View {
    pub(crate) extent: Extent,
    pub(crate) scale: f64,
    /// Where the map stands on the sheet.
    pub(crate) left: f64,
    pub(crate) top: f64,
    pub(crate) width: f64,
    pub(crate) height: f64,
}

impl View {
    /// The name of what cuts pictures and lines to the map. Drawings on one page share names, so that it is one of
    /// the size: equal names cut alike.
    pub(crate) fn cut(&self) -> String {
        format!("map-{:.0}-{:.0}", 10.0 * self.width, 10.0 * self.height)
    }

    pub(crate) fn place(&self, place: Place) -> (f64, f64) {
        (
            self.left + (place.east - self.extent.min.east) * self.scale,
            self.top + (self.extent.max.north - place.north) * self.scale,
        )
    }
}

#[derive(Default)]
pub(crate) struct Svg {
    pub(crate) text: String,
}

impl Svg {
    pub(crate) fn line(&mut self, line: fmt::Arguments<'_>) {
        // Writing to a string does not fail.
        let _ = self.text.write_fmt(line);
        self.text.push('\n');
    }

    /// Begins a drawing of a size in its units; on paper of one in millimetres.
    pub(crate) fn open(&mut self, [width, height]: [f64; 2], paper: Option<[f64; 2]>, title: &str) {
        let paper = paper.map_or(String::new(), |[width, height]| {
            format!(r#" width="{width}mm" height="{height}mm""#)
        });
        // Rounded, the scale would be a little off.
        let [width, height] = [width, height].map(|along| (1000.0 * along).round() / 1000.0);
        self.line(format_args!(
            r#"<svg xmlns="http://www.w3.org/2000/svg"{paper} viewBox="0 0 {width} {height}" role="img" font-family="'DejaVu Sans', Verdana, Helvetica, Arial, sans-serif" font-size="{WORDS}">"#
        ));
        self.line(format_args!("<title>{}</title>", escape(title)));
        self.line(format_args!(
            r##"<rect width="100%" height="100%" fill="#ffffff"/>"##
        ));
    }

    /// Words that stand out.
    pub(crate) fn bold(&mut self, x: f64, y: f64, words: &str) {
        self.line(format_args!(
            r##"<text x="{x:.1}" y="{y:.1}" font-weight="bold" fill="#2d2a26">{}</text>"##,
            escape(words)
        ));
    }

    /// Words that stand back.
    pub(crate) fn faint(&mut self, x: f64, y: f64, words: &str) {
        self.line(format_args!(
            r##"<text x="{x:.1}" y="{y:.1}" font-size="12" fill="#6b665d">{}</text>"##,
            escape(words)
        ));
    }

    /// The hatch of cut over a box.
    pub(crate) fn hatched(&mut self, x: f64, y: f64, [width, height]: [f64; 2]) {
        let mut path = String::new();
        let mut from = 5.0;
        while from < width + height {
            // From the left or the lower edge up to the right, as in the picture.
            let (x1, y1) = (x + (from - height).max(0.0), y + from.min(height));
            let (x2, y2) = (x + from.min(width), y + (from - width).max(0.0));
            let _ = write!(path, "M{x1:.1} {y1:.1}L{x2:.1} {y2:.1}");
            from += 7.0;
        }
        self.line(format_args!(
            r##"<path d="{path}" stroke="#000000" stroke-opacity="0.28" stroke-width="1.3" fill="none"/>"##
        ));
    }

    pub(crate) fn words(&mut self, x: f64, y: f64, anchor: &str, words: &str) {
        self.line(format_args!(
            r##"<text x="{x:.1}" y="{y:.1}" text-anchor="{anchor}" fill="#2d2a26">{}</text>"##,
            escape(words)
        ));
    }

    pub(crate) fn outline(&mut self, edges: &[Edge], view: &View, dashes: &str) {
        if edges.is_empty() {
            return;
        }
        let mut path = String::new();
        for edge in edges {
            let ((a, b), (c, d)) = (view.place(edge.from), view.place(edge.to));
            let _ = write!(path, "M{a:.1} {b:.1}L{c:.1} {d:.1}");
        }
        self.line(format_args!(
            r##"<path d="{path}" stroke="#57534c" stroke-width="0.9" stroke-dasharray="{dashes}"/>"##
        ));
    }

    /// The picture below the lines, cut to the map.
    pub(crate) fn picture(&mut self, raster: &DifferenceMap, image: &str, view: &View) {
        let [width, tall] = [raster.columns as f64, raster.rows as f64]
            .map(|count| count * raster.cell * view.scale);
        let (left, top) = view.place(raster.corner);
        self.line(format_args!(
            r#"<image clip-path="url(#{})" x="{left:.2}" y="{top:.2}" width="{width:.2}" height="{tall:.2}" preserveAspectRatio="none" href="{image}"/>"#,
            view.cut()
        ));
    }

    /// The paper of the map, and what cuts to it.
    pub(crate) fn paper(&mut self, view: &View) {
        self.line(format_args!(
            r#"<clipPath id="{}"><rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}"/></clipPath>"#,
            view.cut(),
            view.left,
            view.top,
            view.width,
            view.height
        ));
        self.line(format_args!(
            r##"<rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}" fill="#fbfaf7"/>"##,
            view.left, view.top, view.width, view.height
        ));
    }

    /// A colour of the legend and what it stands for.
    pub(crate) fn swatch(&mut self, x: f64, y: f64, colour: Rgb, words: &str) {
        self.line(format_args!(
            r##"<rect x="{x:.1}" y="{y:.1}" width="24" height="19" fill="{}" stroke="#8b867c" stroke-width="0.5"/>"##,
            hex(colour)
        ));
        self.words(x + 32.0, y + 14.5, "start", words);
    }

    /// Grid coordinates along the west and south border.
    pub(crate) fn coordinates(&mut self, frame: Frame, view: &View) {
        let [east, north] = frame.origin();
        let Extent { min, max } = view.extent;
        let step = round_up(90.0 / view.scale);
        let places = decimals(step);
        let (left, top) = (view.left, view.top);
        let bottom = top + view.height;
        self.line(format_args!(
            r##"<rect x="{left:.1}" y="{top:.1}" width="{:.1}" height="{:.1}" fill="none" stroke="#2d2a26" stroke-width="0.8"/>"##,
            view.width, view.height
        ));
        for tick in between(min.east + east, max.east + east, step) {
            let (x, _) = view.place(Place::new(tick - east, 0.0));
            self.line(format_args!(
                r##"<path d="M{x:.1} {bottom:.1}v5M{x:.1} {top:.1}v-5" stroke="#2d2a26" stroke-width="0.8"/>"##
            ));
            // Half a label's length: one nearer to the corner would run into the word there.
            if left + view.width - x < 34.0 {
                continue;
            }
            self.words(x, bottom + 19.0, "middle", &grouped(tick, places));
        }
        for tick in between(min.north + north, max.north + north, step) {
            let (_, y) = view.place(Place::new(0.0, tick - north));
            let right = left + view.width;
            self.line(format_args!(
                r##"<path d="M{left:.1} {y:.1}h-5M{right:.1} {y:.1}h5" stroke="#2d2a26" stroke-width="0.8"/>"##
            ));
            // Half a label's length: one nearer to the corner would run into those along the south.
            if (bottom - y).min(y - top) < 30.0 {
                continue;
            }
            let x = left - 9.0;
            self.line(format_args!(
                r##"<text transform="translate({x:.1} {y:.1}) rotate(-90)" text-anchor="middle" fill="#2d2a26">{}</text>"##,
                grouped(tick, places)
            ));
        }
        self.words(left - 34.0, top - 10.0, "start", "north");
        // Below the numbers: beside them the legend may stand.
        self.words(left + view.width, bottom + 35.0, "end", "east");
    }

    pub(crate) fn scale_bar(&mut self, view: &View, unit: &str, y: f64) {
        let left = view.left;
        let length = round_up(100.0 / view.scale);
        let half = length / 2.0 * view.scale;
        let middle = left + half;
        let end = left + 2.0 * half;
        self.line(format_args!(
            r##"<rect x="{left:.1}" y="{y:.1}" width="{half:.1}" height="5" fill="#2d2a26"/><rect x="{middle:.1}" y="{y:.1}" width="{half:.1}" height="5" fill="#ffffff" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        let words = format!("{} {unit}", grouped(length, decimals(length)));
        self.words(end + 6.0, y + 7.0, "start", &words);
    }

    pub(crate) fn north(&mut self, x: f64, y: f64) {
        self.line(format_args!(
            r##"<path d="M{x:.1} {y:.1}l7 24l-7 -5l-7 5z" fill="#2d2a26"/>"##
        ));
        self.words(x + 14.0, y + 18.0, "start", "N");
    }
}

/// An outline as far as it is shown; nothing where it is not, or would be too heavy.
pub(crate) fn edges_in_view(outline: &Outline, view: &View) -> Vec<Edge> {
    let Outline::Edges(edges) = outline else {
        return Vec::new();
    };
    let shown = |edge: &&Edge| Extent::of([edge.from, edge.to]).meets(&view.extent);
    let edges: Vec<Edge> = edges.iter().filter(shown).copied().collect();
    match edges.len() <= EDGES {
        true => edges,
        false => Vec::new(),
    }
}

/// Words as they may stand in SVG.
pub(crate) fn escape(words: &str) -> String {
    visible(words)
        .replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
}

/// About how wide words are, in the usual size: no narrower than they are drawn.
pub(crate) fn words_width(words: &str) -> f64 {
    let letter = |c: char| match c {
        'i' | 'l' | 'j' | '.' | ',' | ':' | ';' | '\'' | '|' | '!' | ' ' => 0.36,
        'm' | 'w' | 'M' | 'W' | '@' | '%' => 1.0,
        '0'..='9' => 0.64,
        c if c.is_uppercase() => 0.76,
        c if u32::from(c) >= 0x1100 => 1.05,
        _ => 0.65,
    };
    words.chars().map(letter).sum::<f64>() * WORDS
}
