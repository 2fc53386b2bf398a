//! The map of a difference: where cut and fill lie.

use std::fmt::Write;

use dapedon_core::plan::{Edge, Place};
use dapedon_job::{BandFigures, BandSide, Scene, ZoneMeasurement};

use super::classes::BandColours;
use super::labels::{LabelBox, Labels};
use super::over::{self, Ground};
use super::sheet::Sheet;
use super::{LeftOut, MapOptions, Shown};
use crate::ReportError;
use crate::colours::hex;
use crate::drawing::{Svg, View, edges_in_view, escape, words_width};
use crate::number::grouped;
use crate::raster;

/// What a map calls the two sides, and what lies between them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct MapWords {
    /// The surface that is measured from.
    pub reference: &'static str,
    /// The surface that is measured to.
    pub surveyed: &'static str,
    /// Where the second one is higher.
    pub fill: &'static str,
    /// Where it is lower.
    pub cut: &'static str,
    /// Decimals of differences on it.
    pub decimals: usize,
}

impl MapWords {
    /// Of a measurement between two surfaces.
    pub const VOLUME: MapWords = MapWords {
        reference: "reference",
        surveyed: "surveyed",
        fill: "Fill",
        cut: "Cut",
        decimals: 2,
    };
    /// Of a built surface against its design.
    pub const CONFORMITY: MapWords = MapWords {
        reference: "design",
        surveyed: "built",
        fill: "Above design",
        cut: "Below design",
        // Tolerances are a matter of millimetres.
        decimals: 3,
    };
    /// Of work against the limit it is paid up to.
    pub const LIMIT: MapWords = MapWords {
        reference: "limit",
        surveyed: "surveyed",
        fill: "Above limit",
        cut: "Below limit",
        decimals: 2,
    };
    /// Of piles and pits against their bases.
    pub const BASE: MapWords = MapWords {
        reference: "base",
        surveyed: "surface",
        fill: "Above base",
        cut: "Below base",
        decimals: 2,
    };
}

/// From line to line of a legend and of labels.
const LINE: f64 = 20.0;
const LABEL: f64 = 17.0;

/// Draws the map of a measurement as SVG: its rows, the tolerance up to which ground counts as unchanged, and the surfaces and
/// zones; and says what it could not show.
///
/// # Errors
///
/// When the map does not fit its paper, the surfaces cannot be overlaid or the raster not packed.
pub fn difference_map(
    rows: &[ZoneMeasurement],
    tolerance: f64,
    scene: &Scene,
    words: MapWords,
    options: &MapOptions,
) -> Result<(String, LeftOut), ReportError> {
    let drawn = scene.drawn(rows, tolerance, options.room())?;
    let Some(told) = drawn.bands.zones.last() else {
        return Err(ReportError::NothingToDraw);
    };
    let own: Vec<[u8; 3]> = drawn.bands.colours.iter().map(|colour| colour.0).collect();
    let same = scene.frame().precision().length();
    let reach = extremes(rows);
    let continuous = options.has(&Shown::Continuous).then_some(reach);
    let colours = BandColours::new(&drawn.edges, told, &own, same, continuous);
    let bands: Vec<_> = colours.legend().collect();
    let unit = scene.units.length;
    let room = 120.0 + 2.0 * LINE * bands.len() as f64;
    let title = options.title.as_ref();
    let sheet = Sheet::of(options.paper.as_ref(), scene.shown(), unit, title, room)?;
    let view = &sheet.view;
    let image = raster::data_address(&drawn.raster, &colours, options.is_picture)?;

    let mut svg = Svg::default();
    sheet.open(&mut svg, "Map of the difference between the two surfaces");
    svg.paper(view);
    svg.picture(&drawn.raster, &image, view);
    svg.line(format_args!(
        r#"<g clip-path="url(#{})" fill="none">"#,
        view.cut()
    ));
    let mut left_out = LeftOut::default();
    let ground = Ground {
        surface: &scene.surveyed,
        reference: Some(&scene.reference),
        frame: scene.frame(),
        decimals: words.decimals,
    };
    left_out.details = over::details(&mut svg, view, &ground, options);
    left_out.breaklines = over::breaklines(&mut svg, view, options);
    let ends = scene.outlines();
    let [reference, surveyed] = [&ends[0], &ends[1]].map(|outline| edges_in_view(outline, view));
    svg.outline(&reference, view, "7 4");
    svg.outline(&surveyed, view, "2 3");
    outlines(&mut svg, scene, view);
    let mut labels = Labels::new(frame(view), zone_edges(scene, view));
    left_out.labels = over::lines(&mut svg, view, &ground, options, &mut labels);
    left_out.labels += zone_labels(&mut svg, rows, scene, view, &mut labels, words);
    left_out.labels += over::spots(&mut svg, view, &ground, options, &mut labels);
    svg.line(format_args!("</g>"));
    svg.coordinates(scene.frame(), view);
    legend(&mut svg, &colours, scene, sheet.legend, reach, words);
    svg.scale_bar(view, unit.symbol(), sheet.below);
    key(&mut svg, [&reference, &surveyed], view, sheet.below, words);
    svg.north(sheet.legend[0] + 18.0, sheet.legend[1] + 4.0);
    sheet.title(&mut svg, title);
    svg.line(format_args!("</svg>"));
    Ok((svg.text, left_out))
}

/// The lowest and the highest difference.
fn extremes(rows: &[ZoneMeasurement]) -> [f64; 2] {
    let differences = rows.iter().filter_map(|zone| zone.difference);
    differences.fold([0.0f64; 2], |[min, max], d| {
        [min.min(d.min.value), max.max(d.max.value)]
    })
}

/// The frame of the map, which labels stand within.
pub(super) fn frame(view: &View) -> LabelBox {
    LabelBox {
        left: view.left + 2.0,
        top: view.top + 2.0,
        right: view.left + view.width - 2.0,
        bottom: view.top + view.height - 2.0,
    }
}

/// The edges of all zones on the sheet.
fn zone_edges(scene: &Scene, view: &View) -> Vec<[[f64; 2]; 2]> {
    let zones = scene.zones.as_ref().map_or(&[][..], |zones| zones.zones());
    let mut edges = Vec::new();
    for ring in zones.iter().flat_map(|zone| zone.rings()) {
        let places: Vec<[f64; 2]> = ring
            .iter()
            .map(|&corner| view.place(corner).into())
            .collect();
        let next = places.iter().cycle().skip(1);
        edges.extend(places.iter().zip(next).map(|(&from, &to)| [from, to]));
    }
    edges
}

fn outlines(svg: &mut Svg, scene: &Scene, view: &View) {
    let zones = scene.zones.as_ref().map_or(&[][..], |zones| zones.zones());
    for zone in zones {
        let mut path = String::new();
        for ring in zone.rings() {
            for (index, &corner) in ring.iter().enumerate() {
                let (x, y) = view.place(corner);
                let _ = write!(path, "{}{x:.1} {y:.1}", if index == 0 { "M" } else { "L" });
            }
            path.push('Z');
        }
        svg.line(format_args!(
            r##"<path d="{path}" stroke="#1c1a17" stroke-width="1.6" stroke-linejoin="round"/>"##
        ));
    }
}

/// The name of each zone with its volumes: amidst it where there is room, or beside it with a leader; how many have no room.
fn zone_labels(
    svg: &mut Svg,
    rows: &[ZoneMeasurement],
    scene: &Scene,
    view: &View,
    labels: &mut Labels,
    words: MapWords,
) -> usize {
    let mut without_room = 0;
    let zones = scene.zones.as_ref().map_or(&[][..], |zones| zones.zones());
    let told = |volume: f64| grouped(volume, scene.units.decimals);
    for (zone, row) in zones.iter().zip(rows) {
        let mut lines = vec![zone.name().to_owned()];
        for (what, volume) in [(words.cut, row.volume.cut), (words.fill, row.volume.fill)] {
            // What is nothing as it is written says nothing.
            let words = told(volume.value);
            if words.contains(|digit: char| ('1'..='9').contains(&digit)) {
                let symbol = scene.units.volume.symbol();
                lines.push(format!("{} {words} {symbol}", what.to_lowercase()));
            }
        }
        let width = lines
            .iter()
            .map(|line| words_width(line))
            .fold(0.0, f64::max)
            + 8.0;
        let size = [width, LABEL * lines.len() as f64 + 4.0];
        let amidst = view.place(label_place(zone.rings(), zone.extent()));
        let amidst = [amidst.0, amidst.1];
        // Where there is no room for all of it, the name alone.
        let own = labels.place(amidst, size).or_else(|| {
            lines.truncate(1);
            let size = [words_width(&lines[0]) + 8.0, LABEL + 4.0];
            labels.place(amidst, size)
        });
        let Some(own) = own else {
            without_room += 1;
            continue;
        };
        let [x, _] = own.middle();
        if !own.holds(amidst) {
            let end = nearest(&own, amidst);
            svg.line(format_args!(
                r##"<path d="M{:.1} {:.1}L{:.1} {:.1}" stroke="#1c1a17" stroke-width="0.9"/><circle cx="{:.1}" cy="{:.1}" r="2" fill="#1c1a17"/>"##,
                end[0], end[1], amidst[0], amidst[1], amidst[0], amidst[1]
            ));
        }
        for (number, line) in lines.iter().enumerate() {
            let weight = if number == 0 {
                r#" font-weight="600""#
            } else {
                ""
            };
            svg.line(format_args!(
                r##"<text x="{x:.1}" y="{:.1}" text-anchor="middle"{weight} fill="#1c1a17" stroke="#ffffff" stroke-width="3.5" stroke-linejoin="round" paint-order="stroke">{}</text>"##,
                own.top + LABEL * (number as f64 + 0.85),
                escape(line)
            ));
        }
    }
    without_room
}

/// The place of a box's border nearest to another place.
fn nearest(own: &LabelBox, [x, y]: [f64; 2]) -> [f64; 2] {
    [x.clamp(own.left, own.right), y.clamp(own.top, own.bottom)]
}

/// The bands with their colours and amounts, from the highest difference to the lowest.
fn legend(
    svg: &mut Svg,
    colours: &BandColours<'_>,
    scene: &Scene,
    [x, top]: [f64; 2],
    [min, max]: [f64; 2],
    words: MapWords,
) {
    let unit = scene.units.length.symbol();
    let bands: Vec<_> = colours.legend().collect();
    let has = |side: BandSide| bands.iter().any(|(band, _)| band.side == side);
    let (area, volume) = (scene.units.area.symbol(), scene.units.volume.symbol());
    let decimals = scene.units.decimals.min(1);
    let mut y = top + 62.0;
    let mut side = None;
    for (band, colour) in &bands {
        if side != Some(band.side) {
            match band.side {
                BandSide::Fill => {
                    svg.bold(
                        x,
                        y - 6.0,
                        &format!("{}, to {max:.*} {unit}", words.fill, words.decimals),
                    );
                }
                BandSide::Cut => {
                    y += 22.0;
                    svg.bold(
                        x,
                        y - 6.0,
                        &format!("{}, to {:.*} {unit}", words.cut, words.decimals, -min),
                    );
                }
                BandSide::Middle => y += 6.0,
            }
            side = Some(band.side);
        }
        svg.swatch(x, y, *colour, &range(band, unit));
        if band.side == BandSide::Cut {
            svg.hatched(x, y, [24.0, 19.0]);
        }
        let amount = band.cut.value.max(band.fill.value);
        let told = match band.side {
            BandSide::Middle => format!("{} {area}", grouped(band.area.value, decimals)),
            _ => format!(
                "{} {area}, {} {volume}",
                grouped(band.area.value, decimals),
                grouped(amount, decimals)
            ),
        };
        svg.faint(x + 32.0, y + 14.5 + 16.0, &told);
        y += 2.0 * LINE - 3.0;
    }
    if !has(BandSide::Fill) && !has(BandSide::Cut) {
        svg.words(x, y + 14.0, "start", "no difference");
    }
}

/// The edges of a band in words.
fn range(band: &BandFigures, unit: &str) -> String {
    let edge = |edge: f64| {
        let decimals = (0..3).find(|&places| {
            let shown = edge * 10f64.powi(places);
            (shown - shown.round()).abs() < 1e-6
        });
        let edge = edge.abs();
        format!("{edge:.*}", decimals.unwrap_or(3).unsigned_abs() as usize)
    };
    let (from, to) = (band.from.map(|f| f.value), band.to.map(|f| f.value));
    match (band.side, from, to) {
        (BandSide::Middle, _, Some(0.0)) => "unchanged".into(),
        (BandSide::Middle, _, Some(to)) => format!("within ±{} {unit}", edge(to)),
        (BandSide::Cut, Some(far), Some(near)) => format!("{} to {} {unit}", edge(near), edge(far)),
        (BandSide::Fill, Some(near), Some(far)) => {
            format!("{} to {} {unit}", edge(near), edge(far))
        }
        (BandSide::Cut, None, Some(near)) | (BandSide::Fill, Some(near), None) => {
            format!("more than {} {unit}", edge(near))
        }
        _ => "all".into(),
    }
}

/// What the dashed lines are.
fn key(
    svg: &mut Svg,
    [reference, surveyed]: [&Vec<Edge>; 2],
    view: &View,
    y: f64,
    words: MapWords,
) {
    let sides = [
        (surveyed, "2 3", words.surveyed),
        (reference, "7 4", words.reference),
    ];
    let mut x = view.left + view.width;
    for (edges, dashes, words) in sides {
        if !edges.is_empty() {
            x -= 176.0;
            svg.line(format_args!(
                r##"<path d="M{x:.1} {:.1}h30" stroke="#57534c" stroke-width="1.2" stroke-dasharray="{dashes}"/>"##,
                y + 3.0
            ));
            svg.words(x + 36.0, y + 7.0, "start", &format!("edge of {words}"));
        }
    }
}

/// The colour of something that stands for a difference.
pub(super) fn ink(difference: f64) -> String {
    let colour = match difference {
        d if d < 0.0 => [122, 52, 20],
        d if d > 0.0 => [18, 74, 96],
        _ => [45, 42, 38],
    };
    hex(colour)
}

/// Amidst the widest run of the zone along its middle northing.
pub(super) fn label_place(rings: &[Vec<Place>], extent: dapedon_core::plan::Extent) -> Place {
    let north = extent.middle().north;
    let mut crossings = Vec::new();
    for ring in rings {
        let next = ring.iter().cycle().skip(1);
        for (a, b) in ring.iter().zip(next) {
            if (a.north <= north) != (b.north <= north) {
                crossings
                    .push(a.east + (north - a.north) / (b.north - a.north) * (b.east - a.east));
            }
        }
    }
    crossings.sort_by(f64::total_cmp);
    let widest = crossings
        .chunks_exact(2)
        .max_by(|a, b| (a[1] - a[0]).total_cmp(&(b[1] - b[0])));
    widest.map_or(extent.middle(), |run| {
        Place::new((run[0] + run[1]) / 2.0, north)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::plan::Extent;

    #[test]
    fn labels_stand_inside_their_zone() {
        // A U, open to the north: at half height the west arm is the wider one.
        let corners = [
            (0.0, 0.0),
            (10.0, 0.0),
            (10.0, 8.0),
            (9.0, 8.0),
            (9.0, 2.0),
            (4.0, 2.0),
            (4.0, 8.0),
            (0.0, 8.0),
        ];
        let ring: Vec<Place> = corners.iter().map(|&(e, n)| Place::new(e, n)).collect();
        let extent = Extent::of(ring.iter().copied());
        assert_eq!(label_place(&[ring], extent), Place::new(2.0, 4.0));
    }
}
