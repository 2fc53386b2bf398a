//! The long-section on a sheet: all surfaces along the line, the difference below, and what the line is made of.

use dapedon_core::alignment::{Alignment, chainage_words};
use dapedon_core::quantities::{SectionLine, SectionPart};
use dapedon_core::units::LengthUnit;

use super::axes::Axes;
use super::cross::surfaces;
use super::frame::{SMALL, USUAL};
use super::paper_drawing::{Anchor, Ink, Item, PaperSheet, width_of};
use crate::ticks::{between, decimals, round_up};

/// Left of the plots, for heights and the names of strips.
pub(crate) const LEFT: f64 = 22.0;
/// Above the plots.
const ABOVE: f64 = 7.0;
/// The plot of the difference, and the gap above it.
const DIFFERENCE: f64 = 32.0;
const GAP: f64 = 7.0;
/// A strip, and the room of chainages between plots and strips.
const STRIP: f64 = 7.0;
const CHAINAGES: f64 = 7.0;
/// From grid line to grid line at least.
const ALONG: f64 = 22.0;
const UP: f64 = 7.0;
/// Empty height above and below, in grid lines.
const AIR: f64 = 0.2;

/// A long-section that is to be drawn, over a stretch of the line.
pub(crate) struct Long<'l> {
    /// Along a line, and not from place to place.
    pub(crate) is_line: bool,
    pub(crate) line: &'l Alignment,
    pub(crate) lines: &'l [SectionLine],
    pub(crate) between: [f64; 2],
    pub(crate) unit: LengthUnit,
    /// Millimetres for a unit, along and upwards.
    pub(crate) scale: [f64; 2],
}

impl Long<'_> {
    /// How high the plot of heights may be: what difference, chainages and strips leave.
    pub(crate) fn plot_height(&self, room: f64) -> f64 {
        let difference = match self.lines.len() {
            0 | 1 => 0.0,
            _ => GAP + DIFFERENCE,
        };
        room - ABOVE - difference - CHAINAGES - 2.0 * STRIP
    }

    /// The heights of all surfaces and of the line over the stretch.
    pub(crate) fn heights(&self) -> Option<[f64; 2]> {
        let [from, to] = self.between;
        let parts = self.lines.iter().flat_map(|line| &line.parts);
        let shown = parts.filter(|part| part.offsets[1] >= from && part.offsets[0] <= to);
        let own = shown
            .flat_map(|part| part.heights)
            .chain(self.profile().into_iter().map(|at| at[1]));
        own.fold(None, |reach: Option<[f64; 2]>, height| {
            let [low, high] = reach.unwrap_or([height; 2]);
            Some([low.min(height), high.max(height)])
        })
    }

    /// The heights of the line itself, where it has some.
    fn profile(&self) -> Vec<[f64; 2]> {
        let Some(profile) = self.line.profile() else {
            return Vec::new();
        };
        let [from, to] = self.between;
        let steps = 400;
        let at = |step: u32| from + (to - from) * f64::from(step) / f64::from(steps);
        let heights = (0..=steps).filter_map(|step| Some([at(step), profile.height(at(step))?]));
        heights.collect()
    }

    /// Draws it in a room: left, top, right, bottom.
    pub(crate) fn draw(&self, sheet: &mut PaperSheet, [left, top, _, bottom]: [f64; 4]) {
        let step = round_up(UP / self.scale[1]);
        let [low, high] = self.heights().unwrap_or([0.0, step]);
        let low = (low / step - AIR).floor() * step;
        let most = self.plot_height(bottom - top) / self.scale[1];
        let high = ((high / step + AIR).ceil() * step).min(low + most);
        let plot = left + LEFT;
        let axes = Axes {
            corner: [plot, top + ABOVE + (high - low) * self.scale[1]],
            offsets: self.between,
            heights: [low, high],
            scale: self.scale,
        };
        self.plot(sheet, &axes, step);
        surfaces(sheet, &axes, self.lines);
        let own: Vec<[f64; 2]> = self
            .profile()
            .into_iter()
            .filter(|at| low <= at[1] && at[1] <= high)
            .map(|at| axes.place(at))
            .collect();
        if own.len() > 1 {
            sheet.dashed(Ink::Line, 0.3, own);
        }
        let below = match self.lines.len() {
            0 | 1 => axes.corner[1],
            _ => self.difference(sheet, axes.corner[1] + GAP, plot),
        };
        self.chainages(sheet, plot, below);
        let strip = below + CHAINAGES;
        if self.is_line {
            self.horizontal(sheet, [plot, strip]);
            self.vertical(sheet, [plot, strip + STRIP]);
        }
    }

    fn x(&self, plot: f64, distance: f64) -> f64 {
        plot + (distance - self.between[0]) * self.scale[0]
    }

    fn plot(&self, sheet: &mut PaperSheet, axes: &Axes, step: f64) {
        let [left, top, right, bottom] = axes.frame();
        let places = decimals(step);
        for height in between(axes.heights[0], axes.heights[1] + 1e-9 * step, step) {
            let y = axes.y(height);
            sheet.line(Ink::Grid, 0.12, vec![[left, y], [right, y]]);
            sheet.words(
                [left - 1.5, y],
                SMALL,
                Anchor::End,
                format!("{height:.places$}").replace('-', "−"),
            );
        }
        for x in self.ticks(left).map(|(_, x)| x) {
            sheet.line(Ink::Grid, 0.12, vec![[x, top], [x, bottom]]);
        }
        sheet.frame([left, top, right, bottom]);
    }

    /// Round chainages, and where they stand.
    fn ticks(&self, plot: f64) -> impl Iterator<Item = (f64, f64)> {
        let step = round_up(ALONG / self.scale[0]);
        let [from, to] = self.between;
        let stations = self.line.stations(step, 100_000).unwrap_or_default();
        let chainage = self.line.chainage();
        let round = stations.into_iter().filter(move |distance| {
            let count = chainage.of(*distance) / step;
            (count - count.round()).abs() < 1e-6 && (from..=to).contains(distance)
        });
        round.map(move |distance| (distance, self.x(plot, distance)))
    }

    /// The difference between the first two surfaces, filled; below it the room that is left begins.
    fn difference(&self, sheet: &mut PaperSheet, top: f64, plot: f64) -> f64 {
        let [reference, surveyed, ..] = self.lines else {
            return top;
        };
        let level = |line: &SectionLine, of: &dyn Fn(f64) -> Option<f64>| SectionLine {
            parts: line
                .parts
                .iter()
                .filter_map(|part| {
                    Some(SectionPart {
                        offsets: part.offsets,
                        heights: [of(part.offsets[0])?, of(part.offsets[1])?],
                    })
                })
                .collect(),
        };
        let mut difference = SectionLine::default();
        for patch in reference.patches(surveyed) {
            difference
                .parts
                .extend(upright(&patch.ring, reference, surveyed));
        }
        let zero = level(reference, &|_| Some(0.0));
        let [low, high] = difference.heights().unwrap_or([0.0, 0.0]);
        let reach = low.abs().max(high.abs()).max(1e-3);
        let step = round_up(reach / 3.0);
        let scale = DIFFERENCE / 2.0 / (step * (reach / step + AIR).ceil());
        let heights = DIFFERENCE / 2.0 / scale;
        let axes = Axes {
            corner: [plot, top + DIFFERENCE],
            offsets: self.between,
            heights: [-heights, heights],
            scale: [self.scale[0], scale],
        };
        let [left, top, right, bottom] = axes.frame();
        for patch in zero.patches(&difference) {
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
        let places = decimals(step);
        for value in between(-heights, heights, step) {
            let y = axes.y(value);
            sheet.line(Ink::Grid, 0.12, vec![[left, y], [right, y]]);
            let words = format!("{value:+.places$}").replace('-', "−");
            let words = if value == 0.0 { "0".into() } else { words };
            sheet.words([left - 1.5, y], SMALL, Anchor::End, words);
        }
        let y = axes.y(0.0);
        sheet.line(Ink::Frame, 0.2, vec![[left, y], [right, y]]);
        sheet.words(
            [left, top - 2.2],
            SMALL,
            Anchor::Start,
            "Difference: fill above, cut below",
        );
        sheet.frame([left, top, right, bottom]);
        bottom
    }

    fn chainages(&self, sheet: &mut PaperSheet, plot: f64, top: f64) {
        let places = decimals(round_up(ALONG / self.scale[0]));
        for (distance, x) in self.ticks(plot) {
            sheet.line(Ink::Frame, 0.15, vec![[x, top], [x, top + 1.2]]);
            let words = chainage_words(self.line.chainage().of(distance), self.unit, places);
            sheet.words([x, top + 3.4], SMALL, Anchor::Middle, words);
        }
    }

    /// A strip of straights, arcs and spirals.
    fn horizontal(&self, sheet: &mut PaperSheet, [plot, top]: [f64; 2]) {
        let mut start = 0.0;
        let mut parts = Vec::new();
        for element in self.line.elements() {
            let end = start + element.length();
            let [into, out] = [0.0, element.length()].map(|at| element.curvature(at));
            let turn = if into + out > 0.0 { "left" } else { "right" };
            let radius = |curvature: f64| format!("{:.0}", 1.0 / curvature.abs());
            let words = match element.name() {
                "straight" => vec!["straight".to_owned()],
                "arc" => vec![
                    format!("R {} {turn}", radius(into)),
                    format!("R {}", radius(into)),
                ],
                _ => {
                    let tightest = if into.abs() > out.abs() { into } else { out };
                    let whole = format!("spiral to R {} {turn}", radius(tightest));
                    vec![whole, "spiral".into()]
                }
            };
            // Lines of many short straights are one.
            match parts.last_mut() {
                Some((_, last, same)) if *same == words && element.name() == "straight" => {
                    *last = end;
                }
                _ => parts.push((start, end, words)),
            }
            start = end;
        }
        self.strip(sheet, [plot, top], "plan", &parts);
    }

    /// A strip of grades and vertical curves.
    fn vertical(&self, sheet: &mut PaperSheet, [plot, top]: [f64; 2]) {
        let Some(profile) = self.line.profile() else {
            return;
        };
        let ends = profile.pieces();
        let grade = |grade: f64, places: usize| match grade {
            0.0 => "level".into(),
            grade => format!("{:+.places$} %", 100.0 * grade).replace('-', "−"),
        };
        let parts: Vec<(f64, f64, Vec<String>)> = (ends.iter())
            .map(|piece| {
                let [from, to] = piece.between;
                let words = match piece.grades {
                    [into, out] if into == out => vec![grade(into, 2), grade(into, 0)],
                    _ => vec![
                        format!("curve {:.0} {}", to - from, self.unit.symbol()),
                        format!("{:.0}", to - from),
                    ],
                };
                (from, to, words)
            })
            .collect();
        self.strip(sheet, [plot, top], "heights", &parts);
    }

    fn strip(
        &self,
        sheet: &mut PaperSheet,
        [plot, top]: [f64; 2],
        name: &str,
        parts: &[(f64, f64, Vec<String>)],
    ) {
        let right = self.x(plot, self.between[1]);
        sheet.frame([plot, top, right, top + STRIP]);
        sheet.words([plot - 1.5, top + STRIP / 2.0], SMALL, Anchor::End, name);
        for (from, to, words) in parts {
            let [from, to] = [from, to].map(|at| at.clamp(self.between[0], self.between[1]));
            let (x, end) = (self.x(plot, from), self.x(plot, to));
            if end - x <= 0.0 {
                continue;
            }
            sheet.line(Ink::Frame, 0.15, vec![[end, top], [end, top + STRIP]]);
            // The first words that have room; none of a part that is too short.
            let fits = |words: &&String| width_of(words, SMALL) + 1.0 <= end - x;
            if let Some(words) = words.iter().find(fits) {
                let middle = [(x + end) / 2.0, top + STRIP / 2.0];
                sheet.words(middle, SMALL, Anchor::Middle, words.clone());
            }
        }
    }

    /// What stands above it all.
    pub(crate) fn title(&self, sheet: &mut PaperSheet, [left, top]: [f64; 2]) {
        let [from, to] = self
            .between
            .map(|at| chainage_words(self.line.chainage().of(at), self.unit, 2));
        let what = if self.is_line {
            "Long-section"
        } else {
            "Profile"
        };
        let words = format!("{what}, {from} to {to}");
        sheet.bold([left, top + 2.5], USUAL + 0.7, Anchor::Start, words);
    }
}

/// The difference over a patch, part by part: between the offsets of its corners both surfaces are straight.
fn upright(ring: &[[f64; 2]], reference: &SectionLine, surveyed: &SectionLine) -> Vec<SectionPart> {
    let mut offsets: Vec<f64> = ring.iter().map(|at| at[0]).collect();
    offsets.sort_by(f64::total_cmp);
    offsets.dedup();
    let parts = offsets.windows(2).filter_map(|pair| {
        // Within, so that at a step each side has its own height.
        let within = [0.25, 0.75].map(|share| pair[0] + share * (pair[1] - pair[0]));
        let at = |offset: f64| Some(surveyed.height(offset)? - reference.height(offset)?);
        let (a, b) = (at(within[0])?, at(within[1])?);
        let half = (b - a) / 2.0;
        Some(SectionPart {
            offsets: [pair[0], pair[1]],
            heights: [a - half, b + half],
        })
    });
    parts.collect()
}
