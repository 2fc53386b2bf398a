//! The map of a measurement: where cut and fill lie.

use std::fmt::Write;

use dapedon_core::plan::{Extent, Place};
use dapedon_job::{Scene, ZoneMeasurement};

use crate::ReportError;
use crate::colours::{Classes, STILL, UNCHANGED};
use crate::drawing::{LEFT, Svg, TOP, View, edges_in_view, escape};
use crate::raster;
use crate::ticks::decimals;

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
}

impl MapWords {
    /// Of a measurement between two surfaces.
    pub const VOLUME: MapWords = MapWords {
        reference: "reference",
        surveyed: "surveyed",
        fill: "Fill",
        cut: "Cut",
    };
    /// Of piles and pits against their bases.
    pub const BASE: MapWords = MapWords {
        reference: "base",
        surveyed: "surface",
        fill: "Above base",
        cut: "Below base",
    };
}

/// Draws the map of a measurement as SVG: its rows, the tolerance up to which ground counts as unchanged, and
/// the surfaces and zones.
///
/// # Errors
///
/// When the surfaces cannot be overlaid or the raster not packed.
pub fn map(rows: &[ZoneMeasurement], tolerance: f64, scene: &Scene) -> Result<String, ReportError> {
    worded_map(rows, tolerance, scene, MapWords::VOLUME)
}

/// The same in other words.
///
/// # Errors
///
/// When the surfaces cannot be overlaid or the raster not packed.
pub fn worded_map(
    rows: &[ZoneMeasurement],
    tolerance: f64,
    scene: &Scene,
    words: MapWords,
) -> Result<String, ReportError> {
    let shown = scene.shown();
    let differences = rows.iter().filter_map(|zone| zone.difference);
    let (min, max) = differences.fold((0.0f64, 0.0f64), |(min, max), d| {
        (min.min(d.min.value), max.max(d.max.value))
    });
    let [min, max] = [min, max].map(|d| if d.abs() <= STILL { 0.0 } else { d });
    let classes = Classes::new(min, max, tolerance);
    let raster = scene.picture()?;
    let image = raster::data_address(&raster, |difference| classes.of(difference))?;

    let view = View::new(shown);
    let mut svg = Svg::default();
    let height = TOP + view.height + 64.0;
    let height = height.max(330.0);
    svg.open(height, "Map of the difference between the two surfaces");
    svg.paper(&view);
    svg.picture(&raster, &image, &view);
    svg.line(format_args!(
        r#"<g clip-path="url(#{})" fill="none">"#,
        view.cut()
    ));
    for (surface, dashes) in [(&*scene.reference, "7 4"), (&*scene.surveyed, "2 3")] {
        svg.outline(surface, &view, dashes);
    }
    zones(&mut svg, scene, &view);
    svg.line(format_args!("</g>"));
    svg.coordinates(scene.frame(), &view);
    legend(
        &mut svg,
        &classes,
        scene.units.length.symbol(),
        [LEFT + view.width + 26.0, TOP + 62.0],
        [min, max],
        words,
    );
    svg.scale_bar(&view, scene.units.length.symbol(), TOP + view.height + 44.0);
    key(&mut svg, scene, &view, TOP + view.height + 44.0, words);
    svg.north(LEFT + view.width + 44.0, TOP + 4.0);
    svg.line(format_args!("</svg>"));
    Ok(svg.text)
}

fn zones(svg: &mut Svg, scene: &Scene, view: &View) {
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
    for zone in zones {
        let (x, y) = view.place(label_place(zone.rings(), zone.extent()));
        svg.line(format_args!(
            r##"<text x="{x:.1}" y="{:.1}" text-anchor="middle" font-weight="600" font-size="15" fill="#1c1a17" stroke="#ffffff" stroke-width="3.5" stroke-linejoin="round" paint-order="stroke">{}</text>"##,
            y + 4.5,
            escape(zone.name())
        ));
    }
}

fn legend(
    svg: &mut Svg,
    classes: &Classes,
    unit: &str,
    [x, top]: [f64; 2],
    [min, max]: [f64; 2],
    words: MapWords,
) {
    let places = decimals(classes.step);
    let mut y = top;
    let bounds = |class: usize| {
        let (from, to) = (
            class as f64 * classes.step,
            (class + 1) as f64 * classes.step,
        );
        format!("{from:.places$} to {to:.places$} {unit}")
    };
    if classes.fill > 0 {
        svg.words(
            x,
            y - 6.0,
            "start",
            &format!("{}, up to {max:.2} {unit}", words.fill),
        );
        for class in (0..classes.fill).rev() {
            svg.swatch(x, y, classes.fill_colour(class), &bounds(class));
            y += 20.0;
        }
        y += 6.0;
    }
    let still = if classes.tolerance > 0.0 {
        format!("unchanged (±{} {unit})", classes.tolerance)
    } else {
        "unchanged".into()
    };
    svg.swatch(x, y, UNCHANGED, &still);
    y += 27.0;
    if classes.cut > 0 {
        for class in 0..classes.cut {
            svg.swatch(x, y, classes.cut_colour(class), &bounds(class));
            y += 20.0;
        }
        svg.words(
            x,
            y + 14.0,
            "start",
            &format!("{}, down to {:.2} {unit}", words.cut, -min),
        );
    }
}

/// What the dashed lines are.
fn key(svg: &mut Svg, scene: &Scene, view: &View, y: f64, words: MapWords) {
    let sides = [
        (&*scene.surveyed, "2 3", words.surveyed),
        (&*scene.reference, "7 4", words.reference),
    ];
    let mut x = LEFT + view.width;
    for (surface, dashes, words) in sides {
        if edges_in_view(surface, view).is_some() {
            x -= 172.0;
            svg.line(format_args!(
                r##"<path d="M{x:.1} {:.1}h30" stroke="#57534c" stroke-width="1.2" stroke-dasharray="{dashes}"/>"##,
                y + 3.0
            ));
            svg.words(x + 36.0, y + 7.0, "start", &format!("edge of {words}"));
        }
    }
}

/// Amidst the widest run of the zone along its middle northing.
fn label_place(rings: &[Vec<Place>], extent: Extent) -> Place {
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
