//! The sheet that a map is drawn on: where the map, the legend and the title block stand, and at which scale.

use dapedon_core::plan::{Extent, Place};
use dapedon_core::units::LengthUnit;

use super::paper::{Paper, TooLarge};
use super::title::TitleBlock;
use crate::drawing::{Svg, View};

/// Millimetres on paper for a unit of the drawing: words of 14 units are 2.5 mm high.
const MILLIMETRES: f64 = 0.18;
/// The width of a drawing for a screen, and the room its map may take, in units.
const SCREEN: f64 = 1000.0;
pub(super) const ROOM: [f64; 2] = [710.0, 620.0];
/// Left of a map, for the coordinates along it, and above it.
const LEFT: f64 = 62.0;
const TOP: f64 = 26.0;
/// Below a map, for coordinates and the scale bar.
const BELOW: f64 = 64.0;
/// From a map to its legend, and the legend's width.
const GAP: f64 = 26.0;
const LEGEND: f64 = 250.0;
/// What a printer leaves white around, in millimetres.
const MARGIN: f64 = 8.0;
/// A drawing for a screen is at least so high: the legend needs it.
const LEAST: f64 = 330.0;

/// A scale in words; in feet also by the inch.
fn scale_words(scale: u32, unit: LengthUnit) -> String {
    match unit {
        LengthUnit::Foot(_) if scale.is_multiple_of(12) => {
            format!("1:{scale}, 1 in to {} ft", scale / 12)
        }
        _ => format!("1:{scale}"),
    }
}

/// The upper left corner of a map on paper.
fn corner() -> (f64, f64) {
    let margin = MARGIN / MILLIMETRES;
    (margin + LEFT - 20.0, margin + TOP)
}

/// The room that a map has on paper above a title block of some height.
fn room_above(paper: &Paper, title: f64) -> [f64; 2] {
    let margin = MARGIN / MILLIMETRES;
    let [width, height] = paper.millimetres().map(|along| along / MILLIMETRES);
    let (left, top) = corner();
    [
        width - left - GAP - LEGEND - margin,
        height - top - BELOW - title - margin,
    ]
}

/// The room that a map has on paper at most, in millimetres.
pub(super) fn room_on(paper: &Paper) -> [f64; 2] {
    room_above(paper, 0.0).map(|along| along * MILLIMETRES)
}

/// A sheet.
pub(crate) struct Sheet {
    size: [f64; 2],
    millimetres: Option<[f64; 2]>,
    pub(crate) view: View,
    /// The upper left corner of the legend.
    pub(crate) legend: [f64; 2],
    /// Where the scale bar stands.
    pub(crate) below: f64,
    /// The box of the title block.
    title: [f64; 4],
    /// The scale in words, where it is true.
    scale: Option<String>,
}

impl Sheet {
    /// A sheet for an extent: paper, or else a screen.
    ///
    /// # Errors
    ///
    /// When the extent does not fit the paper at the scale that was asked for.
    pub(crate) fn of(
        paper: Option<&Paper>,
        shown: Extent,
        unit: LengthUnit,
        title: Option<&TitleBlock>,
        legend: f64,
    ) -> Result<Self, TooLarge> {
        let title = title.map_or(0.0, TitleBlock::height);
        match paper {
            None => Ok(Sheet::screen(shown, title, legend)),
            Some(paper) => Sheet::paper(paper, shown, unit, title),
        }
    }

    fn screen(shown: Extent, title: f64, legend: f64) -> Self {
        let scale = (ROOM[0] / shown.width()).min(ROOM[1] / shown.height());
        let view = View {
            extent: shown,
            scale,
            left: LEFT,
            top: TOP,
            width: shown.width() * scale,
            height: shown.height() * scale,
        };
        let bottom = (TOP + view.height + BELOW).max(TOP + legend).max(LEAST);
        Sheet {
            size: [SCREEN, bottom + title],
            millimetres: None,
            legend: [LEFT + view.width + GAP, TOP],
            below: TOP + view.height + BELOW - 20.0,
            title: [LEFT, bottom, SCREEN - GAP, bottom + title],
            view,
            scale: None,
        }
    }

    fn paper(paper: &Paper, shown: Extent, unit: LengthUnit, title: f64) -> Result<Self, TooLarge> {
        let millimetres = paper.millimetres();
        let size = millimetres.map(|along| along / MILLIMETRES);
        let margin = MARGIN / MILLIMETRES;
        let (left, top) = corner();
        let room = room_above(paper, title);
        let scale = paper.scale_for(&shown, unit, room.map(|along| along * MILLIMETRES))?;
        // Units of the drawing for a unit of the ground.
        let per_unit =
            1000.0 * unit.convert(1.0, LengthUnit::Metre) / f64::from(scale) / MILLIMETRES;
        // The map fills its room, with what is shown in its middle.
        let (middle, [width, height]) = (shown.middle(), room.map(|along| along / per_unit));
        let extent = Extent {
            min: Place::new(middle.east - width / 2.0, middle.north - height / 2.0),
            max: Place::new(middle.east + width / 2.0, middle.north + height / 2.0),
        };
        let bottom = size[1] - margin - title;
        Ok(Sheet {
            millimetres: Some(millimetres),
            legend: [left + room[0] + GAP, top],
            below: top + room[1] + BELOW - 20.0,
            title: [margin, bottom, size[0] - margin, bottom + title],
            view: View {
                extent,
                scale: per_unit,
                left,
                top,
                width: room[0],
                height: room[1],
            },
            size,
            scale: Some(scale_words(scale, unit)),
        })
    }

    /// Begins the drawing.
    pub(crate) fn open(&self, svg: &mut Svg, title: &str) {
        svg.open(self.size, self.millimetres, title);
    }

    /// Draws the title block.
    pub(crate) fn title(&self, svg: &mut Svg, title: Option<&TitleBlock>) {
        if let Some(title) = title {
            title.draw(svg, self.title, self.scale.as_deref());
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::map::paper::PaperSize;
    use dapedon_core::units::Foot;

    #[test]
    fn paper_is_true_to_scale() {
        let extent = Extent::of([Place::new(-40.0, -25.0), Place::new(60.0, 35.0)]);
        for (unit, metres) in [
            (LengthUnit::Metre, 1.0),
            (LengthUnit::Foot(Foot::International), 0.3048),
        ] {
            for upright in [false, true] {
                let paper = Paper {
                    size: PaperSize::A3,
                    upright,
                    scale: Some(1000),
                };
                let sheet = Sheet::of(Some(&paper), extent, unit, None, 300.0).unwrap();
                let [(x, y), (x2, y2)] =
                    [extent.min, extent.max].map(|place| sheet.view.place(place));
                // On paper a metre is a millimetre.
                assert!(((x2 - x) * MILLIMETRES - 100.0 * metres).abs() < 1e-9);
                assert!(((y - y2) * MILLIMETRES - 60.0 * metres).abs() < 1e-9);
                let [width, height] = paper.millimetres();
                assert!(
                    x > 0.0 && x2 * MILLIMETRES < width && y2 > 0.0 && y * MILLIMETRES < height
                );
                assert_eq!(sheet.size.map(|along| along * MILLIMETRES), [width, height]);
            }
        }
        let feet = LengthUnit::Foot(Foot::UsSurvey);
        assert_eq!(scale_words(600, feet), "1:600, 1 in to 50 ft");
        assert_eq!(scale_words(600, LengthUnit::Metre), "1:600");
    }

    #[test]
    fn a_screen_holds_map_legend_and_title() {
        let extent = Extent::of([Place::new(0.0, 0.0), Place::new(500.0, 20.0)]);
        let sheet = Sheet::of(None, extent, LengthUnit::Metre, None, 640.0).unwrap();
        assert_eq!(sheet.size[0], SCREEN);
        assert!(sheet.size[1] >= TOP + 640.0 && sheet.below < sheet.size[1]);
    }
}
