//! What would explain a figure that somebody else states.

use dapedon_contract::binary;
use dapedon_core::quantities::{GridRange, GridTrend, Volumes};
use dapedon_core::units::{LengthUnit, VolumeUnit};
use rust_decimal::Decimal;

use super::model::{Explanation, Opinion, OpinionVerdict};
use super::{Measured, StatedFigures, each};
use crate::digits::figure_in_words;

/// A figure that is found in another way is the stated one where they differ by no more than this share.
const SAME: f64 = 0.001;
/// A shift in height that a survey may have, in metres.
const SHIFT: f64 = 0.5;

/// The areas that were measured, in squares of the length unit.
#[derive(Debug, Clone, Copy)]
pub(super) struct MeasuredAreas {
    pub(super) compared: f64,
    pub(super) cut: f64,
    pub(super) fill: f64,
}

/// What would explain the figures of somebody that do not agree.
pub(super) fn explained(
    own: &Measured<'_>,
    (exact, areas): (&Volumes, &MeasuredAreas),
    trend: Option<&GridTrend>,
    stated: &StatedFigures,
    opinion: &Opinion,
) -> Vec<Explanation> {
    let figures = stated.each().into_iter().enumerate();
    let named = ["cut", "fill", "net"];
    let all = figures.filter_map(|(index, figure)| Some((index, named[index], figure?)));
    let apart = all.filter(|(_, name, _)| {
        let mut found = opinion.figures();
        found.any(|(other, figure)| other == *name && figure.verdict != OpinionVerdict::Agrees)
    });
    let explained = apart.flat_map(|(index, name, figure)| {
        let told = Told {
            own,
            exact,
            areas,
            index,
            figure,
        };
        let words = told.found_otherwise();
        let words = words.into_iter().chain(told.by_a_grid(trend));
        let words: Vec<String> = words.chain(told.by_a_shift()).collect();
        words.into_iter().map(move |words| Explanation {
            figure: name.into(),
            words,
        })
    });
    explained.collect()
}

/// One figure that somebody states.
struct Told<'t> {
    own: &'t Measured<'t>,
    exact: &'t Volumes,
    areas: &'t MeasuredAreas,
    /// Which of cut, fill and net it is.
    index: usize,
    figure: Decimal,
}

impl Told<'_> {
    /// True for a figure of the report that is as good as the stated one.
    fn is(&self, told: f64) -> bool {
        let stated = binary(self.figure);
        let last_digit = 0.5 * 0.1f64.powi(self.figure.scale() as i32);
        (told - stated).abs() <= (SAME * stated.abs()).max(last_digit)
    }

    fn words(&self, told: f64) -> String {
        format!(
            "{} {}",
            figure_in_words(told),
            self.own.units.volume.symbol()
        )
    }

    /// Other figures that are found between the two surfaces, or by mistake.
    fn found_otherwise(&self) -> Vec<String> {
        let told = |value: f64| self.own.units.volume_of(value).value;
        let own = told(each(self.exact)[self.index]);
        let mut found = Vec::new();
        let swapped = match self.index {
            0 => ("with the sides swapped", self.exact.fill),
            1 => ("with the sides swapped", self.exact.cut),
            _ => ("with the sign the other way", -self.exact.net),
        };
        let others = self.own.others.iter();
        let others = others.map(|(words, all)| (words.as_str(), each(all)[self.index]));
        for (words, value) in std::iter::once(swapped).chain(others) {
            let value = told(value);
            if self.is(value) && value != own {
                found.push(format!("{words} it is {}", self.words(value)));
            }
        }
        let unit = self.own.units.volume;
        for other in other_units(self.own.units.length) {
            let (value, symbol) = (unit.convert(own, other), other.symbol());
            if other != unit && self.is(value) {
                let words = figure_in_words(value);
                found.push(format!("in {symbol} it is {words} {symbol}"));
            }
        }
        found
    }

    /// The finest grid that may find it.
    fn by_a_grid(&self, trend: Option<&GridTrend>) -> Option<String> {
        let stated = self.own.units.cubes_of(binary(self.figure));
        let range = |level: &dapedon_core::quantities::GridLevel| -> GridRange {
            [level.cut, level.fill, level.net][self.index]
        };
        let levels = trend?.levels.iter().rev();
        let mut may = levels.map(|level| (level.cell, range(level)));
        let (cell, range) =
            may.find(|(_, range)| (range.least..=range.greatest).contains(&stated))?;
        let [least, greatest] = [range.least, range.greatest]
            .map(|value| self.words(self.own.units.volume_of(value).value));
        Some(format!(
            "a grid of {cell} {} finds between {least} and {greatest}, as it happens to start",
            self.own.units.length.symbol()
        ))
    }

    /// The shift of the surveyed surface that would make it.
    fn by_a_shift(&self) -> Option<String> {
        let stated = self.own.units.cubes_of(binary(self.figure));
        let more = stated - each(self.exact)[self.index];
        let grows = match self.index {
            0 => -self.areas.cut,
            1 => self.areas.fill,
            _ => self.areas.compared,
        };
        let up = more / grows;
        let length = self.own.units.length;
        let metres = length.convert(up, LengthUnit::Metre).abs();
        let way = if up < 0.0 { "lower" } else { "higher" };
        (metres.is_finite() && metres > 0.0 && metres <= SHIFT).then(|| {
            let name = self.own.names[1];
            let symbol = length.symbol();
            format!(
                "about as much is found with \"{name}\" {:.3} {symbol} {way}",
                up.abs()
            )
        })
    }
}

/// The units of volume that a figure may be in by mistake.
fn other_units(length: LengthUnit) -> [VolumeUnit; 3] {
    let foot = match length {
        LengthUnit::Foot(foot) => foot,
        LengthUnit::Metre => dapedon_core::units::Foot::International,
    };
    [
        VolumeUnit::CubicMetre,
        VolumeUnit::CubicFoot(foot),
        VolumeUnit::CubicYard(foot),
    ]
}
