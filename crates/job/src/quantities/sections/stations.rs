//! Where sections are cut.

use dapedon_core::alignment::Alignment;
use dapedon_core::units::LengthUnit;

use super::{MOST, SectionsError};
use crate::error::JobError;
use crate::section_rules::SectionRules;
use crate::surfaces::{LineError, distance, stretch};

/// Along which stretch of the line, and at which distances of it.
pub(super) struct Stations {
    pub(super) between: [f64; 2],
    pub(super) distances: Vec<f64>,
}

/// The stations that are asked for.
pub(super) fn stations(
    rules: &SectionRules,
    line: &Alignment,
    unit: LengthUnit,
) -> Result<Stations, JobError> {
    let [from, to] = stretch(line, &rules.between, unit)?;
    let mut distances = vec![from, to];
    let listed = rules.at.iter().map(|named| distance(line, *named, unit));
    let listed: Result<Vec<f64>, LineError> = listed.collect();
    distances.extend(listed?);
    if let Some(every) = rules.every {
        distances.extend(regular(rules, line, every)?);
    }
    Ok(Stations {
        between: [from, to],
        distances: within(distances, [from, to]),
    })
}

/// The distances at round chainages of an interval, and where the elements of the line meet.
fn regular(rules: &SectionRules, line: &Alignment, every: f64) -> Result<Vec<f64>, SectionsError> {
    let found = line.stations(every, MOST);
    let found = found.map_err(|error| SectionsError::ManySections {
        interval: every,
        count: error.count,
        enough: dapedon_core::plan::round_up(error.length / MOST as f64),
    })?;
    if rules.geometry_points {
        return Ok(found);
    }
    let joints = line.joints();
    let is_round = |distance: &f64| {
        let count = line.chainage().of(*distance) / every;
        (count - count.round()).abs() < 1e-6 || !joints.contains(distance)
    };
    Ok(found.into_iter().filter(is_round).collect())
}

/// The same stations at another interval, over the same stretch.
pub(super) fn at_interval(
    rules: &SectionRules,
    line: &Alignment,
    between: [f64; 2],
    every: f64,
) -> Option<Vec<f64>> {
    let found = regular(rules, line, every).ok()?;
    Some(within(found.into_iter().chain(between).collect(), between))
}

/// Rising, each once, and within a stretch.
fn within(mut distances: Vec<f64>, [from, to]: [f64; 2]) -> Vec<f64> {
    distances.retain(|distance| (from..=to).contains(distance));
    distances.sort_by(f64::total_cmp);
    // A hair apart they are one.
    let same = dapedon_core::plan::RELATIVE * to.abs().max(1.0);
    distances.dedup_by(|next, kept| *next - *kept <= same);
    distances
}
