//! The curves of a basin: its volume and the area of its water, by level.

use std::fmt::Write as _;

use dapedon_job::{Capacity, LevelRow};

use crate::drawing::Svg;
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};

/// Where the curves are drawn: left, top, width and height.
const PLOT: [f64; 4] = [96.0, 84.0, 844.0, 380.0];
/// The colours of volume and area.
const COLOURS: [&str; 2] = ["#2f6b82", "#b5683e"];

/// Draws level against volume, and against area on a scale of its own, as SVG.
pub fn capacity_curve(capacity: &Capacity) -> String {
    let told = capacity.units;
    let (length, area) = (told.length.symbol(), told.area.symbol());
    let volume = told.volume.symbol();
    let rows = &capacity.levels;
    let most = |of: fn(&LevelRow) -> f64| rows.iter().map(of).fold(0.0, f64::max).max(1e-9);
    let (volumes, areas) = (
        most(|row| row.best().value),
        most(|row| row.water_area.value),
    );
    let low = rows.first().map_or(0.0, |row| row.level.value);
    let high = rows
        .last()
        .map_or(1.0, |row| row.level.value)
        .max(low + 1e-9);
    let [left, top, width, tall] = PLOT;
    let (right, bottom) = (left + width, top + tall);
    let y = |level: f64| bottom - (level - low) / (high - low) * tall;
    let mut svg = Svg::default();
    svg.open([1000.0, 556.0], None, "Level against volume and area");
    svg.words(
        left,
        26.0,
        "start",
        &format!("Volume of the basin by level in {length}"),
    );
    svg.line(format_args!(
        r##"<rect x="{left}" y="{top}" width="{width}" height="{tall}" fill="#fbfaf7" stroke="#2d2a26" stroke-width="0.8"/>"##
    ));
    let step = round_up((high - low) / 8.0);
    for tick in between(low, high, step) {
        let y = y(tick);
        svg.line(format_args!(
            r##"<path d="M{left} {y:.1}h{width}" stroke="#ddd8cc" stroke-width="0.8"/>"##
        ));
        let words = grouped(tick, decimals(step));
        svg.words(left - 8.0, y + 4.5, "end", &words);
    }
    // Volume is reported below, area above: each has its own scale.
    let scales = [
        (
            volumes,
            bottom,
            5.0,
            20.0,
            42.0,
            format!("volume, {volume}"),
        ),
        (
            areas,
            top,
            -5.0,
            -10.0,
            -28.0,
            format!("water area, {area}"),
        ),
    ];
    for ((most, edge, mark, figures, name, words), colour) in scales.into_iter().zip(COLOURS) {
        let step = round_up(most / 8.0);
        for tick in between(0.0, most, step) {
            let x = left + tick / most * width;
            svg.line(format_args!(
                r##"<path d="M{x:.1} {edge:.1}v{mark}" stroke="{colour}" stroke-width="0.9"/>"##
            ));
            let words = grouped(tick, decimals(step));
            svg.words(x, edge + figures, "middle", &words);
        }
        svg.words(right, edge + name, "end", &words);
    }
    let mut x = left;
    let figures = |row: &LevelRow| [row.best().value / volumes, row.water_area.value / areas];
    for (index, (words, dashes)) in [("volume", "none"), ("area", "7 4")]
        .into_iter()
        .enumerate()
    {
        let colour = COLOURS[index];
        let mut path = String::new();
        for row in rows {
            let (at, y) = (left + figures(row)[index] * width, y(row.level.value));
            let _ = write!(
                path,
                "{}{at:.1} {y:.1}",
                if path.is_empty() { "M" } else { "L" }
            );
        }
        let line = format!(r##"stroke="{colour}" stroke-width="2.2" stroke-dasharray="{dashes}""##);
        svg.line(format_args!(
            r##"<path d="{path}" fill="none" {line} stroke-linejoin="round"/>"##
        ));
        svg.line(format_args!(r##"<path d="M{x:.1} 44h30" {line}/>"##));
        svg.words(x + 38.0, 48.5, "start", words);
        x += 130.0;
    }
    if let Some(over) = capacity
        .spill
        .filter(|over| (low..=high).contains(&over.level.value))
    {
        let y = y(over.level.value);
        svg.line(format_args!(
            r##"<path d="M{left} {y:.1}h{width}" stroke="#1c1a17" stroke-width="1.2" stroke-dasharray="2 3"/>"##
        ));
        let words = format!("spill level {}", grouped(over.level.value, 3));
        svg.words(right - 8.0, y + 18.0, "end", &words);
    }
    svg.line(format_args!("</svg>"));
    svg.text
}
