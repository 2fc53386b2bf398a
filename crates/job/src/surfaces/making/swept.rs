//! Tops along lines: embankments, and typical sections carried along.

use dapedon_core::alignment::{Alignment, ByDistance};
use dapedon_core::derived::{
    Across, BreakHeight, RunOut, SectionBreak, Slopes, Top, TypicalSection, run_out,
};
use dapedon_core::quantities::laid_on;
use dapedon_core::surface::{FacetIndex, Surface, Vertex};
use dapedon_core::units::LengthUnit;

use super::{Making, Raised};
use crate::error::JobError;
use crate::input::lines::{self, CHORD};
use crate::job_file::{BreakHeightPlan, BreakPlan, ByChainage, EmbankmentPlan, SweptPlan};
use crate::surfaces::lines::{distance, stretch};
use crate::surfaces::recipe::Step;
use crate::surfaces::{LineError, SurfaceError};

impl Making<'_> {
    /// An embankment along a line; along one that is laid on a surface, `laid` is that surface.
    pub(super) fn embankment(
        &self,
        plan: &EmbankmentPlan,
        ground: &Surface,
        laid: Option<&Surface>,
        done: &mut Step,
    ) -> Result<RunOut, JobError> {
        let read = self.stock.lines.get(&plan.line);
        let read = read.ok_or(SurfaceError::LineWithoutHeights)?;
        done.notes.extend(read.several_profiles.clone());
        let laid = match (laid, &plan.laid_on) {
            (Some(surface), Some(name)) => Some(self.line_on(&read.line, surface, name)?),
            _ if self.is_raised(&plan.line) => {
                Some(read.line.converted(self.job_unit(), self.frame.unit()))
            }
            _ => None,
        };
        let corners = match laid {
            Some(line) => {
                let line = self.as_raised(&plan.line, line);
                let chord = LengthUnit::Metre.convert(CHORD, self.frame.unit());
                let corners = lines::corners(&line, chord).into_iter();
                let whole = corners.map(|(e, n, height)| Some(Vertex::new(e, n, height?)));
                whole.collect::<Option<Vec<Vertex>>>()
            }
            None => read.corners.clone(),
        };
        let corners = corners.ok_or(SurfaceError::LineWithoutHeights)?;
        let local = |v: &Vertex| {
            let at = self.frame.to_local(v.east, v.north);
            Vertex::new(at.east, at.north, v.height)
        };
        let corners: Vec<Vertex> = corners.iter().map(local).collect();
        let length: f64 = corners
            .windows(2)
            .map(|pair| libm::hypot(pair[1].east - pair[0].east, pair[1].north - pair[0].north))
            .sum();
        done.notes.push(format!(
            "the line is {length:.2} {} long",
            self.frame.unit().symbol()
        ));
        let top = Top::crest(self.frame, &corners, self.convert(plan.width), plan.ends)?;
        Ok(run_out(&top, ground, self.slopes(plan.slopes))?)
    }

    /// A typical section carried along a line.
    pub(super) fn swept(
        &self,
        plan: &SweptPlan,
        ground: &Surface,
        laid: Option<&Surface>,
        done: &mut Step,
    ) -> Result<RunOut, JobError> {
        let read = self.stock.lines.get(&plan.line);
        let read = read.ok_or(SurfaceError::LineWithoutHeights)?;
        done.notes.extend(read.several_profiles.clone());
        let line = &read.line;
        let unit = self.job_unit();
        // Chainages and figures are in the job's unit, the surface in that of the frame.
        let section = TypicalSection {
            left: breaks(&plan.section.left, line, unit)?,
            right: breaks(&plan.section.right, line, unit)?,
        };
        let section = section.scaled(|length| self.convert(length));
        let between = stretch(line, &plan.between, unit)?.map(|at| self.convert(at));
        let line = match (laid, &plan.laid_on) {
            (Some(surface), Some(name)) => self.line_on(line, surface, name)?,
            _ => line.converted(unit, self.frame.unit()),
        };
        let line = self.as_raised(&plan.line, line);
        let between = between.map(|at| at.min(line.length()));
        let chord = self.convert(plan.chord);
        let top = Top::swept(self.frame, &line, &section, between, plan.ends, chord)?;
        done.notes.push(format!(
            "along {:.2} {} of the line",
            between[1] - between[0],
            self.frame.unit().symbol()
        ));
        let slopes = Slopes {
            cut: plan.section.cut,
            fill: plan.section.fill,
            chord: plan.chord,
        };
        Ok(run_out(&top, ground, self.slopes(slopes))?)
    }

    fn is_raised(&self, name: &str) -> bool {
        matches!(&self.raised, Some((Raised::Line(line, _), _)) if line == name)
    }

    /// A line with its heights raised, where it is the one that is.
    fn as_raised(&self, name: &str, line: Alignment) -> Alignment {
        let Some((Raised::Line(raised, over), by)) = &self.raised else {
            return line;
        };
        let chord = LengthUnit::Metre.convert(CHORD, self.frame.unit());
        let profile = line
            .profile()
            .filter(|_| raised == name)
            .map(|profile| profile.raised(*by, over, chord));
        match profile {
            Some(profile) => line.with_profile(Some(profile)),
            None => line,
        }
    }

    /// A line of the job, in the unit of the frame.
    pub(crate) fn line_of(&self, name: &str) -> Option<Alignment> {
        let read = self.stock.lines.get(name)?;
        Some(read.line.converted(self.job_unit(), self.frame.unit()))
    }

    /// A line of the job laid on a surface, in the unit of the frame.
    fn line_on(
        &self,
        line: &Alignment,
        surface: &Surface,
        name: &str,
    ) -> Result<Alignment, LineError> {
        let unit = self.frame.unit();
        let line = line.converted(self.job_unit(), unit);
        let chord = LengthUnit::Metre.convert(CHORD, unit);
        let laid = laid_on(&FacetIndex::of(surface), &line, self.frame, chord);
        let profile = laid.map_err(|error| LineError::LeavesSurface {
            surface: name.into(),
            chainage: dapedon_core::alignment::chainage_words(
                line.chainage().of(error.distance),
                unit,
                2,
            ),
        })?;
        Ok(line.with_profile(Some(profile)))
    }
}

/// The breaks of one side, with distances along the line in place of chainages.
fn breaks(
    plans: &[BreakPlan],
    line: &Alignment,
    unit: LengthUnit,
) -> Result<Vec<SectionBreak>, LineError> {
    let figure = |given: &ByChainage| match given {
        ByChainage::Fixed(value) => Ok(ByDistance::constant(*value)),
        ByChainage::Table(table) => {
            let row = |(named, value): &(_, f64)| Ok([distance(line, *named, unit)?, *value]);
            let rows = table
                .iter()
                .map(row)
                .collect::<Result<Vec<_>, LineError>>()?;
            ByDistance::new(rows).ok_or(LineError::Unsorted)
        }
    };
    let one = |plan: &BreakPlan| {
        let across = figure(&plan.across)?;
        Ok(SectionBreak {
            across: match plan.is_offset {
                true => Across::Offset(across),
                false => Across::Width(across),
            },
            height: match &plan.height {
                BreakHeightPlan::AboveLine(given) => BreakHeight::AboveLine(figure(given)?),
                BreakHeightPlan::Drop(given) => BreakHeight::Drop(figure(given)?),
                BreakHeightPlan::Fall(given) => BreakHeight::Fall(figure(given)?),
            },
        })
    };
    plans.iter().map(one).collect()
}
