//! One cross-section on a sheet.

use dapedon_core::quantities::SectionLine;
use dapedon_core::units::LengthUnit;
use dapedon_job::Section;

use super::axes::Axes;
use super::frame::{SMALL, USUAL, fitted};
use super::paper_drawing::{Anchor, Ink, Item, PaperSheet, width_of};
use crate::ticks::{between, decimals, round_up};

/// Left of a plot, for the heights; above it, for chainage, areas and heights on the line; below it, for the offsets.
const LEFT: f64 = 13.0;
const ABOVE: f64 = 10.5;
const BELOW: f64 = 6.5;
/// From grid line to grid line at least, along and upwards.
const ALONG: f64 = 13.0;
const UP: f64 = 4.9;
/// Empty height above and below the surfaces, in grid lines, makes room for their lines.
const AIR: f64 = 0.15;
/// A section without heights is so high.
const EMPTY: f64 = 12.0;

/// A section that is to be drawn.
pub(crate) struct Cross<'c> {
    pub(crate) section: &'c Section,
    pub(crate) lines: &'c [SectionLine],
    pub(crate) names: &'c [String],
    /// The offsets that are shown.
    pub(crate) reach: [f64; 2],
    pub(crate) unit: LengthUnit,
    /// Millimetres for a unit, along and upwards.
    pub(crate) scale: [f64; 2],
    /// How high a plot may be.
    pub(crate) highest: f64,
}

/// A stretch of a section with heights of its own: all of it, where it is not too high for its sheet.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Stretch {
    offsets: [f64; 2],
    heights: [f64; 2],
}

impl Cross<'_> {
    /// Its width and height on the sheet.
    pub(crate) fn size(&self) -> [f64; 2] {
        let width = (self.reach[1] - self.reach[0]) * self.scale[0];
        [LEFT + width + 5.0, ABOVE + self.plot_height() + BELOW]
    }

    fn step(&self) -> f64 {
        round_up(UP / self.scale[1])
    }

    fn plot_height(&self) -> f64 {
        let heights = self.stretches().into_iter();
        let high = heights.map(|stretch| (stretch.heights[1] - stretch.heights[0]) * self.scale[1]);
        high.fold(0.0, f64::max).max(EMPTY)
    }

    /// The section in stretches that are each no higher than the sheet: from left to right as far as each one goes.
    fn stretches(&self) -> Vec<Stretch> {
        let mut offsets: Vec<f64> = (self.lines.iter())
            .flat_map(|line| line.parts.iter().flat_map(|part| part.offsets))
            .filter(|offset| self.reach[0] < *offset && *offset < self.reach[1])
            .chain(self.reach)
            .collect();
        offsets.sort_by(f64::total_cmp);
        offsets.dedup();
        let offsets = self.finer(&offsets);
        let mut done: Vec<Stretch> = Vec::new();
        let mut open: Option<([f64; 2], Option<[f64; 2]>)> = None;
        for pair in offsets.windows(2) {
            let [from, to] = [pair[0], pair[1]];
            let own = self.heights_over([from, to]);
            let Some((over, heights)) = open else {
                open = Some(([from, to], own));
                continue;
            };
            let both = match (heights, own) {
                (Some(a), Some(b)) => Some([a[0].min(b[0]), a[1].max(b[1])]),
                (one, other) => one.or(other),
            };
            let fits = both.is_none_or(|both| {
                let [low, high] = self.rounded(both);
                (high - low) * self.scale[1] <= self.highest
            });
            match fits {
                true => open = Some(([over[0], to], both)),
                false => {
                    done.push(self.stretch(over, heights));
                    open = Some(([from, to], own));
                }
            }
        }
        done.extend(open.map(|(over, heights)| self.stretch(over, heights)));
        done
    }

    /// The same offsets, with others between them where a surface rises by a good part of what the sheet is high.
    fn finer(&self, offsets: &[f64]) -> Vec<f64> {
        let part = self.highest / self.scale[1] / 6.0;
        let mut finer = Vec::new();
        for pair in offsets.windows(2) {
            let [from, to] = [pair[0], pair[1]];
            let steep = self
                .parts_over([from, to])
                .map(|[start, end]| (end - start).abs());
            let count = (steep.fold(0.0, f64::max) / part).ceil().clamp(1.0, 100.0);
            let step = (to - from) / count;
            finer.extend((0..count as u32).map(|index| from + f64::from(index) * step));
        }
        finer.extend(offsets.last().copied());
        finer
    }

    fn stretch(&self, offsets: [f64; 2], heights: Option<[f64; 2]>) -> Stretch {
        let [low, high] = heights.map_or([0.0, EMPTY / self.scale[1]], |heights| {
            self.rounded(heights)
        });
        // What is upright and higher than the sheet is cut off at its top.
        let most = self.highest / self.scale[1];
        Stretch {
            offsets,
            heights: [low, high.min(low + most)],
        }
    }

    /// The heights of all surfaces over some offsets.
    fn heights_over(&self, offsets: [f64; 2]) -> Option<[f64; 2]> {
        let heights = self.parts_over(offsets).flatten();
        heights.fold(None, |reach: Option<[f64; 2]>, height| {
            let [low, high] = reach.unwrap_or([height; 2]);
            Some([low.min(height), high.max(height)])
        })
    }

    /// The heights at both ends of some offsets between which all surfaces are straight, of those that are there.
    fn parts_over(&self, [from, to]: [f64; 2]) -> impl Iterator<Item = [f64; 2]> {
        let middle = (from + to) / 2.0;
        self.lines.iter().filter_map(move |line| {
            let after = line.parts.partition_point(|part| part.offsets[0] <= middle);
            let part = line.parts.get(..after)?.last()?;
            let [start, end] = part.offsets;
            let at = |offset: f64| {
                part.heights[0]
                    + (part.heights[1] - part.heights[0]) * ((offset - start) / (end - start))
            };
            (middle <= end).then(|| [at(from), at(to)])
        })
    }

    /// Out to round heights.
    fn rounded(&self, [low, high]: [f64; 2]) -> [f64; 2] {
        let step = self.step();
        [
            (low / step - AIR).floor() * step,
            (high / step + AIR).ceil() * step,
        ]
    }

    /// Draws it with its upper left corner at a place.
    pub(crate) fn draw(&self, sheet: &mut PaperSheet, [left, top]: [f64; 2]) {
        let bottom = top + ABOVE + self.plot_height();
        let plot = left + LEFT;
        let right = plot + (self.reach[1] - self.reach[0]) * self.scale[0];
        self.heads(sheet, [left, top], right);
        let stretches = self.stretches();
        for (number, stretch) in stretches.iter().enumerate() {
            let axes = Axes {
                corner: [
                    plot + (stretch.offsets[0] - self.reach[0]) * self.scale[0],
                    bottom,
                ],
                offsets: stretch.offsets,
                heights: stretch.heights,
                scale: self.scale,
            };
            self.grid(sheet, &axes);
            self.ground(sheet, &axes);
            self.heights(sheet, &axes, number, stretches.len());
        }
        self.offsets(sheet, plot, bottom);
        let [first, top] = [plot, bottom - self.plot_height()];
        let x = first - self.reach[0] * self.scale[0];
        if self.reach[0] <= 0.0 && 0.0 <= self.reach[1] {
            sheet.dashed(Ink::Line, 0.2, vec![[x, top], [x, bottom]]);
        }
        sheet.frame([first, top, right, bottom]);
    }

    /// Chainage and areas; below them the heights on the line.
    fn heads(&self, sheet: &mut PaperSheet, [left, top]: [f64; 2], right: f64) {
        let section = self.section;
        let station = &section.station;
        sheet.bold(
            [left, top + 2.5],
            USUAL + 0.7,
            Anchor::Start,
            station.clone(),
        );
        let taken = width_of(station, USUAL + 0.7) + 6.0;
        let areas = match (section.cut, section.fill) {
            (Some(cut), Some(fill)) => format!(
                "cut {:.2} {}, fill {:.2} {}",
                cut.value,
                cut.unit.symbol(),
                fill.value,
                fill.unit.symbol()
            ),
            _ => "no ground".into(),
        };
        let areas = fitted(&areas, USUAL, right - left - taken);
        sheet.words([right, top + 2.5], USUAL, Anchor::End, areas);
        let told = self.names.iter().zip(&section.heights);
        let told = told.filter_map(|(name, height)| Some(format!("{name} {:.3}", (*height)?)));
        let own = section
            .line_height
            .map(|height| format!("line {height:.3}"));
        let told: Vec<String> = told.chain(own).collect();
        let words = fitted(&told.join(", "), SMALL, right - left - LEFT);
        sheet.words([left + LEFT, top + 7.2], SMALL, Anchor::Start, words);
    }

    /// Lines at round heights and offsets.
    fn grid(&self, sheet: &mut PaperSheet, axes: &Axes) {
        let [left, top, right, bottom] = axes.frame();
        for (_, y) in self.round_heights(axes) {
            sheet.line(Ink::Grid, 0.12, vec![[left, y], [right, y]]);
        }
        let step = round_up(ALONG / self.scale[0]);
        for offset in between(axes.offsets[0], axes.offsets[1], step) {
            let x = axes.x(offset);
            sheet.line(Ink::Grid, 0.12, vec![[x, top], [x, bottom]]);
        }
    }

    fn round_heights(&self, axes: &Axes) -> impl Iterator<Item = (f64, f64)> {
        let (step, axes) = (self.step(), *axes);
        between(axes.heights[0], axes.heights[1] + 1e-9 * step, step)
            .map(move |height| (height, axes.y(height)))
    }

    /// The heights beside a stretch; of a later one within its own left edge, with its datum at the foot.
    fn heights(&self, sheet: &mut PaperSheet, axes: &Axes, number: usize, of: usize) {
        let [left, top, right, bottom] = axes.frame();
        let places = decimals(self.step());
        for (height, y) in self.round_heights(axes) {
            let words = format!("{height:.places$}").replace('-', "−");
            if number == 0 {
                sheet.words([left - 1.5, y], SMALL, Anchor::End, words);
            } else if height > axes.heights[0] && width_of(&words, SMALL) + 2.0 < right - left {
                sheet.words([left + 0.8, y], SMALL, Anchor::Start, words);
            }
        }
        if number > 0 {
            sheet.dashed(Ink::Frame, 0.3, vec![[left, top], [left, bottom]]);
        }
        if of > 1 {
            let datum = format!("datum {:.places$} {}", axes.heights[0], self.unit.symbol());
            let datum = fitted(&datum, SMALL, right - left - 2.0);
            sheet.bold([left + 1.0, bottom - 1.6], SMALL, Anchor::Start, datum);
        }
    }

    /// Cut and fill between the first two surfaces, and the lines of all.
    fn ground(&self, sheet: &mut PaperSheet, axes: &Axes) {
        if let [reference, surveyed, ..] = self.lines {
            for patch in reference.patches(surveyed) {
                let ring: Vec<[f64; 2]> = axes
                    .clipped(&patch.ring)
                    .into_iter()
                    .map(|at| axes.place(at))
                    .collect();
                if ring.len() > 2 {
                    sheet.items.push(Item::Patch {
                        ink: if patch.is_fill { Ink::Fill } else { Ink::Cut },
                        ring,
                    });
                }
            }
        }
        surfaces(sheet, axes, self.lines);
        if let Some(height) = self
            .section
            .line_height
            .filter(|_| axes.offsets[0] <= 0.0 && 0.0 <= axes.offsets[1])
            && axes.heights[0] <= height
            && height <= axes.heights[1]
        {
            let [x, y] = axes.place([0.0, height]);
            sheet.line(Ink::Line, 0.3, vec![[x - 1.2, y], [x + 1.2, y]]);
        }
    }

    fn offsets(&self, sheet: &mut PaperSheet, plot: f64, bottom: f64) {
        let step = round_up(ALONG / self.scale[0]);
        let places = decimals(step);
        for offset in between(self.reach[0], self.reach[1], step) {
            let x = plot + (offset - self.reach[0]) * self.scale[0];
            sheet.line(Ink::Frame, 0.15, vec![[x, bottom], [x, bottom + 1.0]]);
            let words = match offset {
                0.0 => "0".into(),
                offset => format!("{offset:.places$}").replace('-', "−"),
            };
            sheet.words([x, bottom + 3.0], SMALL, Anchor::Middle, words);
        }
    }
}

/// The lines of all surfaces in a plot: the reference below the others.
pub(crate) fn surfaces(sheet: &mut PaperSheet, axes: &Axes, lines: &[SectionLine]) {
    for (number, line) in lines.iter().enumerate() {
        for run in line.runs(1e-6) {
            let mut drawn: Vec<[f64; 2]> = Vec::new();
            for pair in run.windows(2) {
                let Some([from, to]) = axes.within(pair[0], pair[1]) else {
                    continue;
                };
                let [from, to] = [axes.place(from), axes.place(to)];
                if drawn.last().is_some_and(|last| *last != from) {
                    sheet.line(Ink::Surface(number), 0.35, std::mem::take(&mut drawn));
                }
                if drawn.is_empty() {
                    drawn.push(from);
                }
                drawn.push(to);
            }
            if drawn.len() > 1 {
                sheet.line(Ink::Surface(number), 0.35, drawn);
            }
        }
    }
}
