//! What is drawn over the colours of a map: contours, triangles, points, lines with chainages, spot values.

mod arrows;

use std::fmt::Write;

use dapedon_core::alignment::{Alignment, chainage_words};
use dapedon_core::plan::{Frame, Place, round_up};
use dapedon_core::quantities::{SpotGrid, contours, crossings};
use dapedon_core::surface::{HeightAt, Surface, Tin, heights_at};

use super::difference::ink;
use super::labels::{LabelBox, Labels};
use super::{MapContours, MapCut, MapOptions, MapValue, Shown};
use crate::drawing::{Svg, View, escape, words_width};
use crate::ticks::{between, decimals};

/// Contours over the whole range, where no interval is given.
const CONTOURS: f64 = 20.0;
/// Each contour of so many is an index contour.
const INDEX: f64 = 5.0;
/// Corners of contours, triangles and points at most: more is not seen, and heavy.
const MOST_CORNERS: u64 = 400_000;
const MOST_TRIANGLES: usize = 60_000;
/// From label to label along a contour, in units of the drawing.
const SPACING: f64 = 260.0;
/// The size of small words.
const SMALL: f64 = 11.0;
/// From chainage to chainage along a line, in units of the drawing.
const CHAINAGES: f64 = 70.0;
/// Places of a grid of spots at most.
const MOST_SPOTS: usize = 20_000;

/// The ground that is drawn.
pub(super) struct Ground<'g> {
    pub(super) surface: &'g Surface,
    /// What differences are from; none where heights are shown.
    pub(super) reference: Option<&'g Surface>,
    pub(super) frame: Frame,
    /// Decimals of values on it.
    pub(super) decimals: usize,
}

/// The facets of a surface.
fn facets(surface: &Surface) -> Option<Tin> {
    match surface {
        Surface::Tin(tin) => Some(tin.clone()),
        Surface::Grid(grid) => grid.to_tin().ok(),
        Surface::Level(_) => None,
    }
}

/// Triangles and points; true where they are too many to be drawn.
pub(super) fn details(
    svg: &mut Svg,
    view: &View,
    ground: &Ground<'_>,
    options: &MapOptions,
) -> bool {
    let (triangles, points) = (options.has(&Shown::Triangles), options.has(&Shown::Points));
    if !triangles && !points {
        return false;
    }
    let Some(tin) = facets(ground.surface).filter(|tin| tin.facets().len() <= MOST_TRIANGLES)
    else {
        return true;
    };
    if triangles {
        let mut path = String::new();
        for facet in 0..tin.facets().len() {
            let corners = tin.corners(facet).map(|corner| view.place(corner.place()));
            for (index, (x, y)) in corners.into_iter().enumerate() {
                let _ = write!(path, "{}{x:.1} {y:.1}", if index == 0 { "M" } else { "L" });
            }
            path.push('Z');
        }
        svg.line(format_args!(
            r##"<path d="{path}" stroke="#4a463f" stroke-width="0.35" stroke-opacity="0.6"/>"##
        ));
    }
    if points {
        let mut path = String::new();
        for vertex in tin.vertices() {
            let (x, y) = view.place(vertex.place());
            let _ = write!(path, "M{:.1} {y:.1}h2.4M{x:.1} {:.1}v2.4", x - 1.2, y - 1.2);
        }
        svg.line(format_args!(
            r##"<path d="{path}" stroke="#2d2a26" stroke-width="0.6"/>"##
        ));
    }
    false
}

/// Breaklines; true where they are asked for and there are none.
pub(super) fn breaklines(svg: &mut Svg, view: &View, options: &MapOptions) -> bool {
    let asked = options.shown.iter().find_map(|shown| match shown {
        Shown::Breaklines(lines) => Some(lines),
        _ => None,
    });
    let mut path = String::new();
    for line in asked.iter().flat_map(|lines| lines.iter()) {
        for (index, &corner) in line.iter().enumerate() {
            let (x, y) = view.place(corner);
            let _ = write!(path, "{}{x:.1} {y:.1}", if index == 0 { "M" } else { "L" });
        }
    }
    if !path.is_empty() {
        svg.line(format_args!(
            r##"<path d="{path}" stroke="#8a1c5a" stroke-width="1" stroke-linejoin="round"/>"##
        ));
    }
    asked.is_some() && path.is_empty()
}

/// Contours with labels that are read uphill, lines with their chainages, sections and hauls; how many of the last have no room for their words.
pub(super) fn lines(
    svg: &mut Svg,
    view: &View,
    ground: &Ground<'_>,
    options: &MapOptions,
    labels: &mut Labels,
) -> usize {
    let mut without_room = 0;
    for shown in &options.shown {
        match shown {
            Shown::Contours(interval) => {
                if let Some(drawn) = found(ground, *interval) {
                    contoured(svg, view, ground.frame, &drawn, labels);
                }
            }
            Shown::Lines(drawn) => contoured(svg, view, ground.frame, drawn, labels),
            Shown::Line(line) => chained(svg, view, ground.frame, line, labels),
            Shown::Cuts(cuts) => sections(svg, view, ground.frame, cuts, labels),
            Shown::Places(named) => arrows::places(svg, view, ground.frame, named, labels),
            Shown::Arrows(carried) => {
                without_room += arrows::arrows(svg, view, ground.frame, carried, labels);
            }
            _ => {}
        }
    }
    without_room
}

/// The contours of the surface at an interval, or a round one; each fifth is an index contour.
fn found(ground: &Ground<'_>, interval: Option<f64>) -> Option<MapContours> {
    let tin = facets(ground.surface)?;
    let (low, high) = tin.heights();
    let mut interval = interval.unwrap_or_else(|| round_up((high - low) / CONTOURS));
    let levels = |interval: f64| -> Vec<f64> { between(low, high, interval).collect() };
    // So many that they would be a grey mass are drawn at a larger interval.
    while (high - low) / interval > 5_000.0 || crossings(&tin, &levels(interval)) > MOST_CORNERS {
        interval *= 2.0;
    }
    let is_index = |level: f64| {
        let count = level / (INDEX * interval);
        (count - count.round()).abs() < 1e-6
    };
    let lines = contours(&tin, &levels(interval)).into_iter();
    Some(MapContours {
        decimals: decimals(interval),
        lines: lines.map(|line| (is_index(line.level), line)).collect(),
    })
}

fn contoured(svg: &mut Svg, view: &View, frame: Frame, drawn: &MapContours, labels: &mut Labels) {
    let places = drawn.decimals;
    let mut paths = [String::new(), String::new()];
    let mut words = Vec::new();
    let all_plain = !drawn.lines.iter().any(|(is_index, _)| *is_index);
    for (is_index, line) in &drawn.lines {
        let mut gaps = Vec::new();
        if *is_index || all_plain {
            let label = format!("{:.places$}", line.level);
            let width = (words_width(&label) * SMALL / 14.0 + 6.0) / view.scale;
            for own in line.labels(width, SPACING / view.scale) {
                let (x, y) = view.place(frame.to_local(own.at.east, own.at.north));
                if labels.take(LabelBox::about([x, y], [width * view.scale, SMALL + 2.0])) {
                    gaps.push(own.between);
                    words.push(format!(
                        r##"<text transform="translate({x:.1} {y:.1}) rotate({:.1})" text-anchor="middle" dy="0.35em" font-size="{SMALL}" fill="#5c4326">{label}</text>"##,
                        -own.turned.to_degrees()
                    ));
                }
            }
        }
        for part in line.without(&gaps) {
            let path = &mut paths[usize::from(*is_index)];
            let mut before = None;
            for corner in part {
                let (x, y) = view.place(frame.to_local(corner.east, corner.north));
                let told = format!("{x:.1} {y:.1}");
                // Corners that are one on the sheet are drawn once.
                if before.as_ref() != Some(&told) {
                    let _ = write!(path, "{}{told}", if before.is_none() { "M" } else { "L" });
                    before = Some(told);
                }
            }
        }
    }
    for (path, width) in paths.iter().zip([0.45, 0.95]) {
        if !path.is_empty() {
            svg.line(format_args!(
                r##"<path d="{path}" stroke="#7a5a34" stroke-width="{width}" stroke-linejoin="round"/>"##
            ));
        }
    }
    words
        .iter()
        .for_each(|words| svg.line(format_args!("{words}")));
}

/// Where sections are cut, with their chainages at the right ends, where there is room.
fn sections(svg: &mut Svg, view: &View, frame: Frame, cuts: &[MapCut], labels: &mut Labels) {
    let on_sheet = |place: Place| view.place(frame.to_local(place.east, place.north));
    let mut path = String::new();
    for cut in cuts {
        let [(a, b), (c, d)] = cut.ends.map(on_sheet);
        let _ = write!(path, "M{a:.1} {b:.1}L{c:.1} {d:.1}");
    }
    svg.line(format_args!(
        r##"<path d="{path}" stroke="#5a1f6b" stroke-width="0.9"/>"##
    ));
    for cut in cuts {
        let [(a, b), (c, d)] = cut.ends.map(on_sheet);
        let length = libm::hypot(c - a, d - b);
        if length == 0.0 {
            continue;
        }
        let size = [words_width(&cut.label) * SMALL / 14.0 + 4.0, SMALL + 2.0];
        let (along, down) = ((c - a) / length, (d - b) / length);
        // As far as half of the words reach along the section, and across it.
        let reach = |along: f64, down: f64| {
            3.0 + (along * size[0]).abs() / 2.0 + (down * size[1]).abs() / 2.0
        };
        let (away, aside) = (reach(along, down), reach(down, along));
        // Beyond the right end, beyond the left one, or beside the line within.
        let tries = [
            [c + along * away, d + down * away],
            [a - along * away, b - down * away],
            [
                c - along * away + down * aside,
                d - down * away - along * aside,
            ],
        ];
        let mut free = |at: &[f64; 2]| labels.take(LabelBox::about(*at, size));
        if let Some([x, y]) = tries.into_iter().find(&mut free) {
            small(svg, x, y, "#5a1f6b", &cut.label);
        }
    }
}

/// A line, with ticks at round chainages.
fn chained(svg: &mut Svg, view: &View, frame: Frame, line: &Alignment, labels: &mut Labels) {
    let on_sheet = |place: Place| view.place(frame.to_local(place.east, place.north));
    let mut path = String::new();
    for (index, place) in line.places(0.3 / view.scale).into_iter().enumerate() {
        let (x, y) = on_sheet(place);
        let _ = write!(path, "{}{x:.1} {y:.1}", if index == 0 { "M" } else { "L" });
    }
    svg.line(format_args!(
        r##"<path d="{path}" stroke="#1c1a17" stroke-width="1.4" stroke-dasharray="14 3 3 3"/>"##
    ));
    let interval = round_up(CHAINAGES / view.scale);
    let Ok(stations) = line.stations(interval, 10_000) else {
        return;
    };
    for distance in stations {
        let Some(course) = line.at(distance) else {
            continue;
        };
        let chainage = line.chainage().of(distance);
        let count = chainage / interval;
        if (count - count.round()).abs() > 1e-6 {
            continue;
        }
        let tick = 4.0 / view.scale;
        let ((a, b), (c, d)) = (
            on_sheet(course.offset(-tick)),
            on_sheet(course.offset(tick)),
        );
        svg.line(format_args!(
            r##"<path d="M{a:.1} {b:.1}L{c:.1} {d:.1}" stroke="#1c1a17" stroke-width="1"/>"##
        ));
        let words = chainage_words(chainage, frame.unit(), decimals(interval));
        let size = [words_width(&words) * SMALL / 14.0 + 4.0, SMALL + 2.0];
        let (x, y) = on_sheet(course.offset((size[0] / 2.0 + 8.0) / view.scale));
        if labels.take(LabelBox::about([x, y], size)) {
            small(svg, x, y, "#1c1a17", &words);
        }
    }
    if let Some(end) = line.at(line.length()) {
        let (x, y) = on_sheet(end.place);
        if let Some(own) = labels.place([x, y], [words_width(line.name()) + 6.0, 18.0]) {
            let [x, y] = own.middle();
            small(svg, x, y, "#1c1a17", line.name());
        }
    }
}

/// Values at places: those that are given, and differences or heights at the places of a grid; how many have no room.
pub(super) fn spots(
    svg: &mut Svg,
    view: &View,
    ground: &Ground<'_>,
    options: &MapOptions,
    labels: &mut Labels,
) -> usize {
    let mut without_room = 0;
    for shown in &options.shown {
        let on_grid;
        let values = match shown {
            Shown::Spots(spacing) => {
                on_grid = self::on_grid(view, ground, *spacing);
                &on_grid
            }
            Shown::Values(values) => values,
            _ => continue,
        };
        for MapValue { at, value } in values {
            let (words, colour) = match ground.reference {
                Some(_) => (signed(*value, ground.decimals), ink(*value)),
                None => (format!("{value:.*}", ground.decimals), ink(0.0)),
            };
            let (x, y) = view.place(ground.frame.to_local(at.east, at.north));
            let width = words_width(&words) * SMALL / 14.0 + 4.0;
            // The words stand to the right of the place; or to its left, above or below, where there is room.
            let (aside, above) = (width / 2.0 + 3.0, SMALL * 0.9);
            let sides = [[aside, 0.0], [-aside, 0.0], [0.0, -above], [0.0, above]];
            let room = [width + 2.0, SMALL + 1.0];
            let beside = |[right, down]: &[f64; 2]| [x + right, y + down];
            let free = sides
                .iter()
                .map(beside)
                .find(|at| labels.take(LabelBox::about(*at, room)));
            if let Some([words_x, words_y]) = free {
                svg.line(format_args!(
                    r##"<circle cx="{x:.1}" cy="{y:.1}" r="1.5" fill="{colour}"/>"##
                ));
                small(svg, words_x, words_y, &colour, &words);
            } else {
                without_room += 1;
            }
        }
    }
    without_room
}

/// Differences, or heights, at the places of a grid over what is shown.
fn on_grid(view: &View, ground: &Ground<'_>, spacing: f64) -> Vec<MapValue> {
    let mut spacing = spacing;
    let extent = ground.surface.extent().intersection(&view.extent);
    let places = loop {
        let grid = SpotGrid {
            spacing: [spacing; 2],
            origin: Place::new(0.0, 0.0),
            turned: 0.0,
        };
        match grid.over(ground.frame, &extent, MOST_SPOTS) {
            Ok(places) => break places,
            // So many have no room on any sheet.
            Err(error) if error.spacing.is_finite() => spacing = 1.01 * error.spacing,
            Err(_) => return Vec::new(),
        }
    };
    let one = |found: &HeightAt| match found {
        HeightAt::One { height, .. } => Some(*height),
        _ => None,
    };
    let to = heights_at(ground.surface, &places);
    let from = ground
        .reference
        .map(|reference| heights_at(reference, &places));
    let value = |(number, (place, to)): (usize, (&Place, &HeightAt))| {
        let from = from.as_ref().map_or(Some(0.0), |from| one(&from[number]));
        Some(MapValue {
            at: ground.frame.to_grid(*place),
            value: one(to)? - from?,
        })
    };
    places
        .iter()
        .zip(&to)
        .enumerate()
        .filter_map(value)
        .collect()
}

/// A difference with its sign.
fn signed(value: f64, decimals: usize) -> String {
    let words = format!("{:.decimals$}", value.abs());
    match (words.parse() == Ok(0.0), value < 0.0) {
        (true, _) => words,
        (_, true) => format!("−{words}"),
        (_, false) => format!("+{words}"),
    }
}

/// Small words amidst a place, with a pale edge.
fn small(svg: &mut Svg, x: f64, y: f64, colour: &str, words: &str) {
    svg.line(format_args!(
        r##"<text x="{x:.1}" y="{y:.1}" text-anchor="middle" dy="0.35em" font-size="{SMALL}" fill="{colour}" stroke="#ffffff" stroke-width="2.4" stroke-linejoin="round" paint-order="stroke">{}</text>"##,
        escape(words)
    ));
}
