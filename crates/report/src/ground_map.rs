//! A picture of ground as it is: heights in colour, shaded by slope.

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Frame, Place};
use dapedon_core::quantities::difference_map;
use dapedon_core::surface::{Level, Surface};

use crate::ReportError;
use crate::colours::{HEIGHTS, Rgb};
use crate::drawing::{LEFT, Svg, TOP, View};
use crate::raster;
use crate::ticks::{between, decimals, round_up};

/// Pixels along the longer side of the raster.
const PIXELS: usize = 900;
/// Classes that the heights are split into: about half of these to all, and one for round bounds.
const MOST: f64 = 10.0;

/// A place to be marked, in local coordinates, with the word beside it.
#[derive(Debug, Clone)]
pub struct Mark {
    /// Where.
    pub at: Place,
    /// What to say there.
    pub words: String,
}

/// Draws surfaces as SVG, in the frame of the first: heights, outlines, and marks.
///
/// # Errors
///
/// When there is nothing to draw, or the raster cannot be packed.
pub fn ground_map(surfaces: &[Surface], marks: &[Mark]) -> Result<String, ReportError> {
    let frame = surfaces.first().map(Surface::frame);
    let Some(frame) = frame else {
        return Err(ReportError::NothingToDraw);
    };
    let here: Vec<&Surface> = surfaces.iter().filter(|s| s.frame() == frame).collect();
    let extent = here
        .iter()
        .fold(Extent::EMPTY, |all, s| all.union(&s.extent()));
    let margin = 0.04 * extent.width().max(extent.height());
    let shown = Extent {
        min: Place::new(extent.min.east - margin, extent.min.north - margin),
        max: Place::new(extent.max.east + margin, extent.max.north + margin),
    };
    let heights = here.iter().map(|surface| surface.heights());
    let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), h| {
        (low.min(h.0), high.max(h.1))
    });
    let classes = Heights::new(low, high);

    let view = View::new(shown);
    let mut svg = Svg::default();
    svg.open(
        (TOP + view.height + 64.0).max(330.0),
        "Heights of the ground",
    );
    svg.paper(&view);
    let zero = Surface::Level(Level::new(frame, 0.0));
    for surface in &here {
        let overlay = Overlay::new(&zero, surface, None)?;
        let raster = difference_map(&overlay, shown, PIXELS)?;
        let image = raster::data_address(&raster, |height| classes.of(height))?;
        svg.picture(&raster, &image, &view);
    }
    svg.line(format_args!(
        r#"<g clip-path="url(#{})" fill="none">"#,
        view.cut()
    ));
    for surface in &here {
        svg.outline(surface, &view, "none");
    }
    for mark in marks {
        let (x, y) = view.place(mark.at);
        svg.line(format_args!(
            r##"<circle cx="{x:.1}" cy="{y:.1}" r="7" stroke="#a3201c" stroke-width="2"/>"##
        ));
        svg.words(x + 11.0, y + 5.0, "start", &mark.words);
    }
    svg.line(format_args!("</g>"));
    svg.coordinates(frame, &view);
    legend(&mut svg, &classes, frame, &view);
    svg.scale_bar(&view, frame.unit().symbol(), TOP + view.height + 44.0);
    svg.north(LEFT + view.width + 44.0, TOP + 4.0);
    svg.line(format_args!("</svg>"));
    Ok(svg.text)
}

fn legend(svg: &mut Svg, classes: &Heights, frame: Frame, view: &View) {
    let (x, unit) = (LEFT + view.width + 26.0, frame.unit().symbol());
    let mut y = TOP + 62.0;
    svg.words(
        x,
        y - 6.0,
        "start",
        &format!("Height, {:.2} to {:.2} {unit}", classes.low, classes.high),
    );
    let places = decimals(classes.step);
    for class in (0..classes.bounds.len() - 1).rev() {
        let (from, to) = (classes.bounds[class], classes.bounds[class + 1]);
        let words = format!("{from:.places$} to {to:.places$} {unit}");
        svg.swatch(x, y, classes.colour(class), &words);
        y += 20.0;
    }
}

/// Classes of equal height between round bounds.
struct Heights {
    low: f64,
    high: f64,
    step: f64,
    bounds: Vec<f64>,
}

impl Heights {
    fn new(low: f64, high: f64) -> Self {
        let step = round_up((high - low) / MOST);
        let first = (low / step).floor() * step;
        let mut bounds: Vec<f64> = between(first - step / 2.0, high + step, step).collect();
        while bounds.len() > 2 && bounds[bounds.len() - 2] >= high {
            bounds.pop();
        }
        Heights {
            low,
            high,
            step,
            bounds,
        }
    }

    fn of(&self, height: f64) -> Rgb {
        let above = self.bounds.partition_point(|&bound| bound <= height);
        self.colour(above.saturating_sub(1).min(self.bounds.len() - 2))
    }

    /// The classes are spread over all colours there are.
    fn colour(&self, class: usize) -> Rgb {
        let most = (self.bounds.len() - 2).max(1) as f64;
        let at = class as f64 / most * (HEIGHTS.len() - 1) as f64;
        let low = (at as usize).min(HEIGHTS.len() - 2);
        let share = at - low as f64;
        [0, 1, 2].map(|part| {
            let [from, to] = [HEIGHTS[low][part], HEIGHTS[low + 1][part]].map(f64::from);
            (from + share * (to - from)).round() as u8
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn heights_fall_in_round_classes() {
        let classes = Heights::new(28.37, 32.9);
        assert_eq!(classes.step, 0.5);
        assert_eq!(
            (classes.bounds[0], *classes.bounds.last().unwrap()),
            (28.0, 33.0)
        );
        assert_eq!(classes.of(28.4), HEIGHTS[0]);
        assert_eq!(classes.of(32.9), HEIGHTS[6]);
        let level = Heights::new(5.0, 5.0);
        assert_eq!(level.of(5.0), HEIGHTS[0]);
    }
}
