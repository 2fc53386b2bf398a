//! The curve of a balance: what is left over at each shift of the design.

use std::fmt::Write as _;

use dapedon_job::{Balanced, TriedShift};

use crate::drawing::Svg;
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};

/// Where the curve is drawn: left, top, width and height.
const PLOT: [f64; 4] = [120.0, 64.0, 820.0, 400.0];

/// From shift and volume to the drawing.
struct Plot {
    shifts: [f64; 2],
    volumes: [f64; 2],
}

impl Plot {
    fn x(&self, shift: f64) -> f64 {
        PLOT[0] + (shift - self.shifts[0]) / (self.shifts[1] - self.shifts[0]) * PLOT[2]
    }

    fn y(&self, volume: f64) -> f64 {
        PLOT[1] + (self.volumes[1] - volume) / (self.volumes[1] - self.volumes[0]) * PLOT[3]
    }

    fn path(&self, tried: &[TriedShift], of: impl Fn(&TriedShift) -> f64) -> String {
        let mut path = String::new();
        for (index, tried) in tried.iter().enumerate() {
            let (x, y) = (self.x(tried.shift.value), self.y(of(tried)));
            let _ = write!(path, "{}{x:.1} {y:.1}", if index == 0 { "M" } else { "L" });
        }
        path
    }
}

/// Draws the surplus against the shift, with what cut makes and what fill needs, as SVG.
///
/// `length` and `volume` are the symbols of the units.
pub fn balance_curve(balanced: &Balanced, length: &str, volume: &str) -> String {
    let tried = balanced.telling();
    let all = tried
        .iter()
        .flat_map(|t| [t.surplus, t.compacted_from_cut, t.fill]);
    let (low, high) = all.fold((0.0f64, 0.0f64), |(low, high), v| {
        (low.min(v.value), high.max(v.value))
    });
    let room = 0.04 * (high - low).max(1e-9);
    let plot = Plot {
        shifts: match (tried.first(), tried.last()) {
            (Some(first), Some(last)) if last.shift.value > first.shift.value => {
                [first.shift.value, last.shift.value]
            }
            _ => [-0.5, 0.5].map(|side| balanced.best.shift.value + side),
        },
        volumes: [low - room, high + room],
    };
    let [left, top, width, tall] = PLOT;
    let (right, bottom) = (left + width, top + tall);
    let mut svg = Svg::default();
    svg.open([1000.0, 540.0], None, "Surplus against shift");
    svg.words(
        left,
        26.0,
        "start",
        &format!("Volume left over, {volume}, by the height the design is raised"),
    );
    svg.line(format_args!(
        r##"<rect x="{left}" y="{top}" width="{width}" height="{tall}" fill="#fbfaf7" stroke="#2d2a26" stroke-width="0.8"/>"##
    ));
    let step = round_up((plot.volumes[1] - plot.volumes[0]) / 8.0);
    for tick in between(plot.volumes[0], plot.volumes[1], step) {
        let y = plot.y(tick);
        svg.line(format_args!(
            r##"<path d="M{left} {y:.1}h{width}" stroke="#ddd8cc" stroke-width="0.8"/>"##
        ));
        svg.words(left - 8.0, y + 4.5, "end", &grouped(tick, decimals(step)));
    }
    let step = round_up((plot.shifts[1] - plot.shifts[0]) / 10.0);
    for tick in between(plot.shifts[0], plot.shifts[1], step) {
        let x = plot.x(tick);
        svg.line(format_args!(
            r##"<path d="M{x:.1} {bottom:.1}v5" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        svg.words(x, bottom + 20.0, "middle", &grouped(tick, decimals(step)));
    }
    svg.words(
        right,
        bottom + 42.0,
        "end",
        &format!("lowered\u{2002}←\u{2002}shift, {length}\u{2002}→\u{2002}raised"),
    );
    let zero = plot.y(0.0);
    svg.line(format_args!(
        r##"<path d="M{left} {zero:.1}h{width}" stroke="#2d2a26" stroke-width="1"/>"##
    ));
    let curves = [
        (
            plot.path(tried, |t| t.compacted_from_cut.value),
            "#b5683e",
            "1.6",
            "6 4",
            "compacted volume from the cut",
        ),
        (
            plot.path(tried, |t| t.fill.value),
            "#43869c",
            "1.6",
            "2 3",
            "compacted volume of the fill",
        ),
        (
            plot.path(tried, |t| t.surplus.value),
            "#1c1a17",
            "2.4",
            "none",
            "surplus; below zero: shortfall",
        ),
    ];
    let mut x = left;
    for (path, colour, thick, dashes, words) in curves {
        svg.line(format_args!(
            r##"<path d="{path}" fill="none" stroke="{colour}" stroke-width="{thick}" stroke-dasharray="{dashes}" stroke-linejoin="round"/>"##
        ));
        svg.line(format_args!(
            r##"<path d="M{x:.1} 47h30" stroke="{colour}" stroke-width="{thick}" stroke-dasharray="{dashes}"/>"##
        ));
        svg.words(x + 38.0, 51.5, "start", words);
        x += 60.0 + 7.4 * words.len() as f64;
    }
    let rest = &balanced.as_designed;
    if (plot.shifts[0]..=plot.shifts[1]).contains(&rest.shift.value) {
        mark(&mut svg, &plot, rest, "as designed", false);
    }
    let words = match balanced.balanced {
        true => "balanced",
        false => "closest",
    };
    mark(
        &mut svg,
        &plot,
        &balanced.best,
        &format!(
            "{words} at {} {length}",
            grouped(balanced.best.shift.value, 3)
        ),
        true,
    );
    svg.line(format_args!("</svg>"));
    svg.text
}

/// A place on the curve, with words beside it.
fn mark(svg: &mut Svg, plot: &Plot, at: &TriedShift, words: &str, filled: bool) {
    let (x, y) = (plot.x(at.shift.value), plot.y(at.surplus.value));
    let fill = if filled { "#1c1a17" } else { "#ffffff" };
    svg.line(format_args!(
        r##"<circle cx="{x:.1}" cy="{y:.1}" r="5" fill="{fill}" stroke="#1c1a17" stroke-width="1.6"/>"##
    ));
    // Words stand above the curve, on the side with more room.
    let (anchor, aside) = match x > PLOT[0] + 0.8 * PLOT[2] {
        true => ("end", -10.0),
        false => ("start", 10.0),
    };
    svg.line(format_args!(
        r##"<text x="{:.1}" y="{:.1}" text-anchor="{anchor}" font-weight="600" fill="#1c1a17" stroke="#fbfaf7" stroke-width="3.5" stroke-linejoin="round" paint-order="stroke">{}</text>"##,
        x + aside,
        y - 10.0,
        crate::drawing::escape(words)
    ));
}
