//! The mass-haul diagram on a sheet.

use dapedon_core::units::LengthUnit;
use dapedon_job::{HaulDirection, LineHaul, LoopOfHaul};

use super::axes::Axes;
use super::frame::{SMALL, USUAL};
use super::paper_drawing::{Anchor, Ink, Item, PaperSheet, width_of};
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};
use dapedon_core::alignment::chainage_words;

/// Left of the plot, for volumes; above it, and below it, for chainages.
const LEFT: f64 = 24.0;
const ABOVE: f64 = 12.0;
const BELOW: f64 = 9.0;
/// From grid line to grid line at least, along and upwards.
const ALONG: f64 = 24.0;
const UP: f64 = 12.0;

/// Draws the diagram in a room: left, top, right, bottom.
pub(crate) fn draw(
    sheet: &mut PaperSheet,
    haul: &LineHaul,
    unit: LengthUnit,
    [left, top, right, bottom]: [f64; 4],
) {
    let ends = [haul.diagram.first(), haul.diagram.last()];
    let [Some(first), Some(last)] = ends else {
        return;
    };
    let (from, to) = (first.at.distance, last.at.distance);
    let sums = haul.diagram.iter().map(|at| at.sum.value);
    let (low, high) = sums.fold((0.0f64, 0.0f64), |(low, high), sum| {
        (low.min(sum), high.max(sum))
    });
    let high_enough = (high - low).max(1e-9);
    let room = bottom - top - ABOVE - BELOW;
    let step = round_up(UP * high_enough / room);
    let (low, high) = ((low / step).floor() * step, (high / step).ceil() * step);
    let axes = Axes {
        corner: [left + LEFT, bottom - BELOW],
        offsets: [from, to],
        heights: [low, high.max(low + step)],
        scale: [
            (right - left - LEFT - 4.0) / (to - from),
            room / (high - low).max(step),
        ],
    };
    let [plot, upper, end, lower] = axes.frame();
    let symbol = haul.surplus.unit.symbol();
    sheet.bold([left, top + 2.5], USUAL + 0.7, Anchor::Start, "Mass haul");
    let words = format!(
        "running sum of cut less fill, {symbol} compacted: it rises where cut is left over, and falls where fill takes it."
    );
    sheet.words([left, top + 7.0], SMALL, Anchor::Start, words);
    for value in between(axes.heights[0], axes.heights[1] + 1e-9 * step, step) {
        let y = axes.y(value);
        sheet.line(Ink::Grid, 0.12, vec![[plot, y], [end, y]]);
        sheet.words(
            [plot - 1.5, y],
            SMALL,
            Anchor::End,
            grouped(value, decimals(step)),
        );
    }
    let step = round_up(ALONG / axes.scale[0]);
    let shift = first.at.chainage - from;
    for chainage in between(from + shift, to + shift, step) {
        let x = axes.x(chainage - shift);
        sheet.line(Ink::Grid, 0.12, vec![[x, upper], [x, lower]]);
        let words = chainage_words(chainage, unit, decimals(step));
        sheet.words([x, lower + 3.5], SMALL, Anchor::Middle, words);
    }
    areas(sheet, haul, &axes);
    let curve = haul
        .diagram
        .iter()
        .map(|at| axes.place([at.at.distance, at.sum.value]));
    sheet.line(Ink::Surface(1), 0.5, curve.collect());
    sheet.line(
        Ink::Frame,
        0.3,
        vec![[plot, axes.y(0.0)], [end, axes.y(0.0)]],
    );
    sheet.frame([plot, upper, end, lower]);
    labels(sheet, haul, &axes);
}

/// A loop between the diagram and its line of balance, on the sheet.
fn ring(own: &LoopOfHaul, haul: &LineHaul, axes: &Axes) -> Vec<[f64; 2]> {
    let (from, to) = (own.from.distance, own.to.distance);
    let sign = if own.direction == HaulDirection::Ahead {
        1.0
    } else {
        -1.0
    };
    let mut ring = vec![[from, 0.0]];
    let curve = haul.diagram.iter().map(|at| [at.at.distance, at.sum.value]);
    ring.extend(curve.filter(|at| from <= at[0] && at[0] <= to && sign * at[1] > 0.0));
    ring.push([to, 0.0]);
    axes.clipped(&ring)
        .into_iter()
        .map(|at| axes.place(at))
        .collect()
}

/// What is carried ahead in one colour, and back in the other.
fn areas(sheet: &mut PaperSheet, haul: &LineHaul, axes: &Axes) {
    for own in &haul.loops {
        let ring = ring(own, haul, axes);
        let ink = match own.direction {
            HaulDirection::Ahead => Ink::Fill,
            HaulDirection::Back => Ink::Cut,
        };
        if ring.len() > 2 {
            sheet.items.push(Item::Patch { ink, ring });
        }
    }
}

/// What each loop carries and how far, where there is room; and where earth leaves or enters.
fn labels(sheet: &mut PaperSheet, haul: &LineHaul, axes: &Axes) {
    for own in &haul.loops {
        let symbol = own.volume.unit.symbol();
        let words = [
            format!(
                "{} {} {symbol}",
                own.direction.words(),
                grouped(own.volume.value, 0)
            ),
            format!(
                "{} {} on the mean",
                grouped(own.mean_distance.value, 0),
                own.mean_distance.unit.symbol()
            ),
        ];
        let wide = words
            .iter()
            .map(|words| width_of(words, SMALL))
            .fold(0.0, f64::max);
        let ring = ring(own, haul, axes);
        let Some(([x, y], area)) = middle(&ring) else {
            continue;
        };
        let (from, to) = (axes.x(own.from.distance), axes.x(own.to.distance));
        // As wide and high as a box of the same area.
        let high = area / (to - from);
        if wide + 4.0 > (to - from) / 2.0 || high < 10.0 {
            continue;
        }
        for (line, words) in words.into_iter().enumerate() {
            let y = y - 1.6 + 3.2 * line as f64;
            sheet.words([x, y], SMALL, Anchor::Middle, words);
        }
    }
    let surplus = haul.surplus.value;
    let least = 1e-9 * (haul.carried.value + haul.in_place.value);
    if surplus.abs() > least {
        let word = if surplus > 0.0 {
            "surplus"
        } else {
            "shortfall"
        };
        let does = if surplus > 0.0 { "leaves" } else { "enters" };
        let amount = grouped(surplus.abs(), 0);
        let words = format!(
            "{word} {amount} {} {does} at {}",
            haul.surplus.unit.symbol(),
            haul.access.station
        );
        let [_, top, right, _] = axes.frame();
        sheet.words([right, top - 3.5], USUAL, Anchor::End, words);
        let x = axes.x(haul.access.distance);
        let [_, upper, _, lower] = axes.frame();
        sheet.dashed(Ink::Line, 0.3, vec![[x, upper], [x, lower]]);
    }
}

/// The middle of an outline, and its area.
fn middle(ring: &[[f64; 2]]) -> Option<([f64; 2], f64)> {
    let next = ring.iter().cycle().skip(1);
    let (mut twice, mut x, mut y) = (0.0, 0.0, 0.0);
    for (a, b) in ring.iter().zip(next) {
        let cross = a[0] * b[1] - b[0] * a[1];
        twice += cross;
        x += cross * (a[0] + b[0]);
        y += cross * (a[1] + b[1]);
    }
    (twice != 0.0).then(|| ([x / (3.0 * twice), y / (3.0 * twice)], twice.abs() / 2.0))
}
