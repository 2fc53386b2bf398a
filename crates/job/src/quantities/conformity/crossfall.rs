//! Crossfalls of a built surface along a line, held against those of its design.

use dapedon_core::alignment::chainage_words;
use dapedon_core::plan::{Frame, RELATIVE};
use dapedon_core::quantities::{Crossfall, Cut, section_uncertainty};
use dapedon_core::surface::FacetIndex;
use dapedon_core::zones::Zones;

use super::{ConformityVerdict, CrossfallAt, CrossfallsWithin, Extreme, SideOfLine};
use crate::accuracy::COVERAGE_FACTOR;
use crate::conformity_rules::{Acceptance, ConformityError, CrossfallRules};
use crate::error::JobError;
use crate::quantities::cuts_along;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::uncertainty::Sureness;
use crate::site::SiteLine;
use crate::surfaces::MadeSurface;
use crate::units::ReportUnits;

/// Decimals of chainages in words.
const DECIMALS: usize = 2;
/// The share of a width that both surfaces must cover.
const COVERED: f64 = 0.5;

/// What crossfalls are taken of, and how they are judged.
pub(super) struct Along<'a> {
    pub(super) made: [&'a MadeSurface; 2],
    pub(super) rules: &'a CrossfallRules,
    pub(super) line: &'a SiteLine,
    pub(super) zones: Option<&'a Zones>,
    pub(super) sure: Option<&'a Sureness>,
    pub(super) acceptance: Acceptance,
    pub(super) share: f64,
    pub(super) frame: Frame,
    pub(super) units: &'a ReportUnits,
}

impl Along<'_> {
    /// Every crossfall, and what follows.
    ///
    /// # Errors
    ///
    /// When there is no zone, no section, or neither surface covers any of them.
    pub(super) fn judged(&self) -> Result<CrossfallsWithin, JobError> {
        let zones = self.zones.ok_or(ConformityError::CrossfallZone)?;
        let cuts = cuts_along(self.line, self.frame, zones, self.rules.every)?;
        let indexes = self.made.map(|made| FacetIndex::of(&made.surface));
        let (mut places, mut not_compared) = (Vec::new(), 0);
        for (distance, cut) in &cuts {
            for side in [SideOfLine::Left, SideOfLine::Right] {
                let Some(own) = on_side(cut, side) else {
                    continue;
                };
                match self.at(*distance, own, side, &indexes) {
                    Some(found) => places.push(found),
                    None => not_compared += 1,
                }
            }
        }
        if places.is_empty() {
            return Err(ConformityError::NoCrossfall.into());
        }
        let count = |is: &dyn Fn(&CrossfallAt) -> bool| places.iter().filter(|own| is(own)).count();
        let limit = self.rules.within;
        let within = count(&|own| own.difference().abs() <= limit);
        let [shown_within, shown_beyond] = [
            ConformityVerdict::Conforms,
            ConformityVerdict::DoesNotConform,
        ]
        .map(|verdict| count(&|own| own.verdict == verdict));
        // Of what is not surveyed nothing is shown.
        let wanted = self.share * (places.len() + not_compared) as f64;
        let rounding = RELATIVE * wanted;
        let verdict = match (
            shown_within as f64 + rounding >= wanted,
            shown_beyond as f64 > (places.len() + not_compared) as f64 - wanted + rounding,
        ) {
            (true, _) => ConformityVerdict::Conforms,
            (false, true) => ConformityVerdict::DoesNotConform,
            (false, false) => ConformityVerdict::NotShown,
        };
        Ok(CrossfallsWithin {
            line: LineFacts::of(self.line.clone(), self.units),
            every: self.units.length_of(self.rules.every),
            allowed: limit,
            verdict,
            compared: places.len(),
            not_compared,
            within,
            shown_within,
            shown_beyond,
            places,
        })
    }

    /// The crossfall on one side of a section; none where a surface covers too little of it.
    fn at(
        &self,
        distance: f64,
        cut: Cut,
        side: SideOfLine,
        indexes: &[FacetIndex<'_>; 2],
    ) -> Option<CrossfallAt> {
        let width = cut.width();
        let [design, built] = [0, 1].map(|own: usize| {
            let found = Crossfall::of(&cut.through(&indexes[own]));
            found.filter(|found| found.width >= COVERED * width)
        });
        let (design, built) = (design?, built?);
        let expanded = self.sure.map(|sure| {
            let counted = [built.counted(cut.clone())];
            let found = section_uncertainty([&indexes[0], &indexes[1]], &counted, sure.accuracies);
            COVERAGE_FACTOR * found.net.standard()
        });
        // Falls are told in the direction in which the design falls, away from the line where it is level.
        let outwards = match side {
            SideOfLine::Left => 1.0,
            SideOfLine::Right => -1.0,
        };
        let falls = if design.slope * outwards < 0.0 {
            -outwards
        } else {
            outwards
        };
        let [design_fall, built_fall] = [design, built].map(|own| own.slope * falls);
        let off = (built_fall - design_fall).abs();
        let guard = match self.acceptance {
            Acceptance::GuardBand => expanded.unwrap_or(0.0),
            Acceptance::Simple => 0.0,
        };
        let limit = self.rules.within;
        let at = self.frame.to_grid(cut.course.place);
        Some(CrossfallAt {
            chainage: self.line.line.chainage().of(distance),
            station: chainage_words(
                self.line.line.chainage().of(distance),
                self.units.length,
                DECIMALS,
            ),
            side,
            at: Extreme {
                east: at.east,
                north: at.north,
            },
            width: self.units.length_of(built.width),
            design: design_fall,
            built: built_fall,
            uncertainty: expanded,
            verdict: if off + guard <= limit {
                ConformityVerdict::Conforms
            } else if off - guard > limit {
                ConformityVerdict::DoesNotConform
            } else {
                ConformityVerdict::NotShown
            },
        })
    }
}

/// What of a cut lies on one side of its line; none where nothing does.
fn on_side(cut: &Cut, side: SideOfLine) -> Option<Cut> {
    let [low, high] = match side {
        SideOfLine::Left => [f64::NEG_INFINITY, 0.0],
        SideOfLine::Right => [0.0, f64::INFINITY],
    };
    let spans = cut
        .spans
        .iter()
        .map(|[from, to]| [from.clamp(low, high), to.clamp(low, high)]);
    let spans: Vec<[f64; 2]> = spans.filter(|[from, to]| to > from).collect();
    (!spans.is_empty()).then_some(Cut {
        course: cut.course,
        spans,
    })
}
