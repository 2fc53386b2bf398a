//! A map of ground as it is: heights in colour, shaded by slope.

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Frame, Place};
use dapedon_core::quantities::{difference_map, pixels_in_room};
use dapedon_core::surface::{Level, Outline, Surface};

use super::difference::frame;
use super::labels::Labels;
use super::over::{self, Ground};
use super::sheet::Sheet;
use super::{LeftOut, MapOptions, Shown};
use crate::ReportError;
use crate::colours::{HEIGHTS, Rgb, ramp};
use crate::drawing::{Svg, edges_in_view};
use crate::raster::{self, Coloured};
use crate::ticks::{between, decimals, round_up};

/// Classes that the heights are split into: about half of these to all, and one for round bounds.
const MOST: f64 = 10.0;
/// Classes where colours pass into each other.
const FINE: usize = 60;

/// A place to be marked, in local coordinates, with the word beside it.
#[derive(Debug, Clone)]
pub struct Mark {
    /// Where.
    pub at: Place,
    /// What to say there.
    pub words: String,
}

/// Draws surfaces as SVG, in the frame of the first: heights, outlines, marks, and what is asked for besides, of the first; and
/// says what it could not show.
///
/// # Errors
///
/// When there is nothing to draw, the map does not fit its paper, or the raster cannot be packed.
pub fn ground_map(
    surfaces: &[Surface],
    marks: &[Mark],
    options: &MapOptions,
) -> Result<(String, LeftOut), ReportError> {
    let Some(first) = surfaces.first() else {
        return Err(ReportError::NothingToDraw);
    };
    let own = first.frame();
    let here: Vec<&Surface> = surfaces.iter().filter(|s| s.frame() == own).collect();
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
    let classes = Heights {
        is_continuous: options.has(&Shown::Continuous),
        ..Heights::new(low, high)
    };
    let title = options.title.as_ref();
    let room = 80.0 + 20.0 * classes.bounds.len() as f64;
    let sheet = Sheet::of(options.paper.as_ref(), shown, own.unit(), title, room)?;
    let view = &sheet.view;

    let mut svg = Svg::default();
    sheet.open(&mut svg, "Heights of the ground");
    svg.paper(view);
    let zero = Surface::Level(Level::new(own, 0.0));
    for surface in &here {
        let overlay = Overlay::new(&zero, surface, None)?;
        let pixels = pixels_in_room(&shown, options.room());
        let raster = difference_map(&overlay, shown, pixels)?;
        let image = raster::data_address(&raster, &classes, options.is_picture)?;
        svg.picture(&raster, &image, view);
    }
    svg.line(format_args!(
        r#"<g clip-path="url(#{})" fill="none">"#,
        view.cut()
    ));
    let ground = Ground {
        surface: first,
        reference: None,
        frame: own,
        decimals: 2,
    };
    let details = over::details(&mut svg, view, &ground, options);
    let breaklines = over::breaklines(&mut svg, view, options);
    for surface in &here {
        svg.outline(&edges_in_view(&Outline::of(surface), view), view, "none");
    }
    let mut labels = Labels::new(frame(view), Vec::new());
    over::lines(&mut svg, view, &ground, options, &mut labels);
    let without_room = over::spots(&mut svg, view, &ground, options, &mut labels);
    for mark in marks {
        let (x, y) = view.place(mark.at);
        svg.line(format_args!(
            r##"<circle cx="{x:.1}" cy="{y:.1}" r="7" stroke="#a3201c" stroke-width="2"/>"##
        ));
        svg.words(x + 11.0, y + 5.0, "start", &mark.words);
    }
    svg.line(format_args!("</g>"));
    svg.coordinates(own, view);
    legend(&mut svg, &classes, own, sheet.legend);
    svg.scale_bar(view, own.unit().symbol(), sheet.below);
    svg.north(sheet.legend[0] + 18.0, sheet.legend[1] + 4.0);
    sheet.title(&mut svg, title);
    svg.line(format_args!("</svg>"));
    let left_out = LeftOut {
        labels: without_room,
        details,
        breaklines,
    };
    Ok((svg.text, left_out))
}

fn legend(svg: &mut Svg, classes: &Heights, frame: Frame, [x, top]: [f64; 2]) {
    let unit = frame.unit().symbol();
    let mut y = top + 62.0;
    svg.bold(
        x,
        y - 6.0,
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
    /// Colours pass into each other.
    is_continuous: bool,
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
            is_continuous: false,
        }
    }

    /// The classes are spread over all colours there are.
    fn colour(&self, class: usize) -> Rgb {
        let most = (self.bounds.len() - 2).max(1) as f64;
        ramp(&HEIGHTS, class as f64 / most)
    }
}

impl Coloured for Heights {
    fn class(&self, height: f64) -> usize {
        if self.is_continuous {
            let share = (height - self.low) / (self.high - self.low);
            // The cast saturates: level ground is in the first.
            return ((share * FINE as f64) as usize).min(FINE - 1);
        }
        let above = self.bounds.partition_point(|&bound| bound <= height);
        above.saturating_sub(1).min(self.bounds.len() - 2)
    }

    fn colours(&self) -> Vec<Rgb> {
        if self.is_continuous {
            let share = |class: usize| class as f64 / (FINE - 1) as f64;
            return (0..FINE)
                .map(|class| ramp(&HEIGHTS, share(class)))
                .collect();
        }
        (0..self.bounds.len() - 1)
            .map(|class| self.colour(class))
            .collect()
    }

    fn is_hatched(&self, _: usize) -> bool {
        false
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
        let of = |height: f64| classes.colours()[classes.class(height)];
        assert_eq!((of(28.4), of(32.9)), (HEIGHTS[0], HEIGHTS[6]));
        let level = Heights::new(5.0, 5.0);
        assert_eq!(level.colours()[level.class(5.0)], HEIGHTS[0]);
    }
}
