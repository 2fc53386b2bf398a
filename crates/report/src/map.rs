//! The map of a measurement: where cut and fill lie.

use std::fmt::{self, Write};

use dapedon_core::{Edge, Extent, Outline, Overlay, Place, Surface, difference_map};
use dapedon_job::{Measurement, Scene};

use crate::ReportError;
use crate::colours::{Classes, Rgb, UNCHANGED, hex};
use crate::number::grouped;
use crate::raster;
use crate::ticks::{between, decimals, round_up};

/// Pixels along the longer side of the raster.
const PIXELS: usize = 900;
/// The drawing's width, and the room its map may take, in its own units.
const WIDTH: f64 = 1000.0;
const ROOM: [f64; 2] = [710.0, 620.0];
const LEFT: f64 = 62.0;
const TOP: f64 = 26.0;
/// Outlines of more edges than this would be heavier than what they show.
const EDGES: usize = 20_000;

/// Draws the map of a measurement as SVG.
///
/// # Errors
///
/// When the surfaces cannot be overlaid or the raster not packed.
pub fn map(measurement: &Measurement, scene: &Scene) -> Result<String, ReportError> {
    let overlay = Overlay::new(&scene.reference, &scene.surveyed, scene.zones.as_ref())?;
    let shown = shown(scene);
    let differences = measurement.zones.iter().filter_map(|zone| zone.difference);
    let (min, max) = differences.fold((0.0f64, 0.0f64), |(min, max), d| {
        (min.min(d.min), max.max(d.max))
    });
    let classes = Classes::new(min, max, measurement.tolerance);
    let raster = difference_map(&overlay, shown, PIXELS);
    let image = raster::data_address(&raster, &classes)?;

    let view = View::new(shown);
    let mut svg = Svg::default();
    let height = TOP + view.height + 64.0;
    let height = height.max(330.0);
    svg.open(height);
    let [width, tall] =
        [raster.columns as f64, raster.rows as f64].map(|count| count * raster.cell * view.scale);
    let (left, top) = view.place(raster.corner);
    svg.line(format_args!(
        r#"<clipPath id="map"><rect x="{LEFT}" y="{TOP}" width="{:.1}" height="{:.1}"/></clipPath>"#,
        view.width, view.height
    ));
    svg.line(format_args!(
        r##"<rect x="{LEFT}" y="{TOP}" width="{:.1}" height="{:.1}" fill="#fbfaf7"/>"##,
        view.width, view.height
    ));
    svg.line(format_args!(
        r#"<image clip-path="url(#map)" x="{left:.2}" y="{top:.2}" width="{width:.2}" height="{tall:.2}" preserveAspectRatio="none" href="{image}"/>"#
    ));
    svg.line(format_args!(r#"<g clip-path="url(#map)" fill="none">"#));
    for (surface, dashes) in [(&scene.reference, "7 4"), (&scene.surveyed, "2 3")] {
        svg.outline(surface, &view, dashes);
    }
    svg.zones(scene, &view);
    svg.line(format_args!("</g>"));
    svg.coordinates(scene, &view);
    svg.legend(
        &classes,
        scene.unit.symbol(),
        LEFT + view.width + 26.0,
        TOP + 62.0,
        min,
        max,
    );
    svg.scale_bar(&view, scene.unit.symbol(), TOP + view.height + 44.0);
    svg.key(scene, &view, TOP + view.height + 44.0);
    svg.north(LEFT + view.width + 44.0, TOP + 4.0);
    svg.line(format_args!("</svg>"));
    Ok(svg.text)
}

/// The ground to show: the zones, or what both sides share, with a margin.
fn shown(scene: &Scene) -> Extent {
    let both = scene
        .reference
        .extent()
        .intersection(&scene.surveyed.extent());
    let extent = match &scene.zones {
        Some(zones) => zones.extent(),
        None => both,
    };
    let margin = 0.04 * extent.width().max(extent.height());
    Extent {
        min: Place::new(extent.min.east - margin, extent.min.north - margin),
        max: Place::new(extent.max.east + margin, extent.max.north + margin),
    }
}

/// From ground to drawing.
struct View {
    extent: Extent,
    scale: f64,
    width: f64,
    height: f64,
}

impl View {
    fn new(extent: Extent) -> Self {
        let scale = (ROOM[0] / extent.width()).min(ROOM[1] / extent.height());
        View {
            extent,
            scale,
            width: extent.width() * scale,
            height: extent.height() * scale,
        }
    }

    fn place(&self, place: Place) -> (f64, f64) {
        (
            LEFT + (place.east - self.extent.min.east) * self.scale,
            TOP + (self.extent.max.north - place.north) * self.scale,
        )
    }
}

#[derive(Default)]
struct Svg {
    text: String,
}

impl Svg {
    fn line(&mut self, line: fmt::Arguments<'_>) {
        // Writing to a string does not fail.
        let _ = self.text.write_fmt(line);
        self.text.push('\n');
    }

    fn open(&mut self, height: f64) {
        self.line(format_args!(
            r#"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {height:.0}" role="img" font-family="Helvetica, Arial, 'DejaVu Sans', sans-serif" font-size="14">"#
        ));
        self.line(format_args!(
            "<title>Map of the difference between the two surfaces</title>"
        ));
        self.line(format_args!(
            r##"<rect width="{WIDTH}" height="{height:.0}" fill="#ffffff"/>"##
        ));
    }

    fn words(&mut self, x: f64, y: f64, anchor: &str, words: &str) {
        self.line(format_args!(
            r##"<text x="{x:.1}" y="{y:.1}" text-anchor="{anchor}" fill="#2d2a26">{}</text>"##,
            escape(words)
        ));
    }

    fn outline(&mut self, surface: &Surface, view: &View, dashes: &str) {
        let Some(edges) = edges_in_view(surface, view) else {
            return;
        };
        let mut path = String::new();
        for edge in &edges {
            let ((a, b), (c, d)) = (view.place(edge.from), view.place(edge.to));
            let _ = write!(path, "M{a:.1} {b:.1}L{c:.1} {d:.1}");
        }
        self.line(format_args!(
            r##"<path d="{path}" stroke="#57534c" stroke-width="0.9" stroke-dasharray="{dashes}"/>"##
        ));
    }

    fn zones(&mut self, scene: &Scene, view: &View) {
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
            self.line(format_args!(
                r##"<path d="{path}" stroke="#1c1a17" stroke-width="1.6" stroke-linejoin="round"/>"##
            ));
        }
        for zone in zones {
            let (x, y) = view.place(label_place(zone.rings(), zone.extent()));
            self.line(format_args!(
                r##"<text x="{x:.1}" y="{:.1}" text-anchor="middle" font-weight="600" font-size="15" fill="#1c1a17" stroke="#ffffff" stroke-width="3.5" stroke-linejoin="round" paint-order="stroke">{}</text>"##,
                y + 4.5,
                escape(zone.name())
            ));
        }
    }

    /// Grid coordinates along the west and south border.
    fn coordinates(&mut self, scene: &Scene, view: &View) {
        let [east, north] = scene.frame().origin();
        let Extent { min, max } = view.extent;
        let step = round_up(90.0 / view.scale);
        let places = decimals(step);
        let bottom = TOP + view.height;
        self.line(format_args!(
            r##"<rect x="{LEFT}" y="{TOP}" width="{:.1}" height="{:.1}" fill="none" stroke="#2d2a26" stroke-width="0.8"/>"##,
            view.width, view.height
        ));
        for tick in between(min.east + east, max.east + east, step) {
            let (x, _) = view.place(Place::new(tick - east, 0.0));
            self.line(format_args!(
                r##"<path d="M{x:.1} {bottom:.1}v5M{x:.1} {TOP}v-5" stroke="#2d2a26" stroke-width="0.8"/>"##
            ));
            self.words(
                x,
                bottom + 19.0,
                "middle",
                &grouped(tick, places, "\u{202f}"),
            );
        }
        for tick in between(min.north + north, max.north + north, step) {
            let (_, y) = view.place(Place::new(0.0, tick - north));
            let right = LEFT + view.width;
            self.line(format_args!(
                r##"<path d="M{LEFT} {y:.1}h-5M{right:.1} {y:.1}h5" stroke="#2d2a26" stroke-width="0.8"/>"##
            ));
            let x = LEFT - 9.0;
            self.line(format_args!(
                r##"<text transform="translate({x:.1} {y:.1}) rotate(-90)" text-anchor="middle" fill="#2d2a26">{}</text>"##,
                grouped(tick, places, "\u{202f}")
            ));
        }
        self.words(LEFT - 34.0, TOP - 10.0, "start", "north");
        self.words(LEFT + view.width, bottom + 19.0, "start", "\u{2002}east");
    }

    fn legend(&mut self, classes: &Classes, unit: &str, x: f64, top: f64, min: f64, max: f64) {
        let places = decimals(classes.step);
        let mut y = top;
        let swatch = |svg: &mut Svg, y: f64, colour: Rgb, words: &str| {
            svg.line(format_args!(
                r##"<rect x="{x:.1}" y="{y:.1}" width="24" height="19" fill="{}" stroke="#8b867c" stroke-width="0.5"/>"##,
                hex(colour)
            ));
            svg.words(x + 32.0, y + 14.5, "start", words);
        };
        let bounds = |class: usize| {
            let (from, to) = (
                class as f64 * classes.step,
                (class + 1) as f64 * classes.step,
            );
            format!("{from:.places$} to {to:.places$} {unit}")
        };
        if classes.fill > 0 {
            self.words(x, y - 6.0, "start", &format!("Fill, up to {max:.2} {unit}"));
            for class in (0..classes.fill).rev() {
                swatch(self, y, classes.fill_colour(class), &bounds(class));
                y += 20.0;
            }
            y += 6.0;
        }
        let words = if classes.tolerance > 0.0 {
            format!("unchanged (±{} {unit})", classes.tolerance)
        } else {
            "unchanged".into()
        };
        swatch(self, y, UNCHANGED, &words);
        y += 27.0;
        if classes.cut > 0 {
            for class in 0..classes.cut {
                swatch(self, y, classes.cut_colour(class), &bounds(class));
                y += 20.0;
            }
            self.words(
                x,
                y + 14.0,
                "start",
                &format!("Cut, down to {:.2} {unit}", -min),
            );
        }
    }

    fn scale_bar(&mut self, view: &View, unit: &str, y: f64) {
        let length = round_up(100.0 / view.scale);
        let half = length / 2.0 * view.scale;
        let middle = LEFT + half;
        let end = LEFT + 2.0 * half;
        self.line(format_args!(
            r##"<rect x="{LEFT}" y="{y:.1}" width="{half:.1}" height="5" fill="#2d2a26"/><rect x="{middle:.1}" y="{y:.1}" width="{half:.1}" height="5" fill="#ffffff" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        let words = format!("{} {unit}", grouped(length, decimals(length), "\u{202f}"));
        self.words(end + 6.0, y + 7.0, "start", &words);
    }

    /// What the dashed lines are.
    fn key(&mut self, scene: &Scene, view: &View, y: f64) {
        let sides = [
            (&scene.surveyed, "2 3", "edge of surveyed"),
            (&scene.reference, "7 4", "edge of reference"),
        ];
        let mut x = LEFT + view.width;
        for (surface, dashes, words) in sides {
            if edges_in_view(surface, view).is_some() {
                x -= 172.0;
                self.line(format_args!(
                    r##"<path d="M{x:.1} {:.1}h30" stroke="#57534c" stroke-width="1.2" stroke-dasharray="{dashes}"/>"##,
                    y + 3.0
                ));
                self.words(x + 36.0, y + 7.0, "start", words);
            }
        }
    }

    fn north(&mut self, x: f64, y: f64) {
        self.line(format_args!(
            r##"<path d="M{x:.1} {y:.1}l7 24l-7 -5l-7 5z" fill="#2d2a26"/>"##
        ));
        self.words(x + 14.0, y + 18.0, "start", "N");
    }
}

/// The outline of a surface as far as it is shown; none where it is not, or would be too heavy.
fn edges_in_view(surface: &Surface, view: &View) -> Option<Vec<Edge>> {
    let Outline::Edges(mut edges) = Outline::of(surface) else {
        return None;
    };
    edges.retain(|edge| Extent::of([edge.from, edge.to]).meets(&view.extent));
    (1..=EDGES).contains(&edges.len()).then_some(edges)
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

fn escape(words: &str) -> String {
    words
        .replace('&', "&amp;")
        .replace('<', "&lt;")
        .replace('>', "&gt;")
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
