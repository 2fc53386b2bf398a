//! The heights of a line shifted, whole or over a stretch.

use std::sync::Arc;

use dapedon_core::alignment::{Alignment, NamedChainage, RaisedStretch, chainage_words};
use dapedon_core::quantities::{Balance, Search, Tolerance, volume};
use dapedon_core::surface::Surface;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::Zones;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{BalanceError, BalanceRequest, made_anew};
use crate::error::JobError;
use crate::site::Site;
use crate::surfaces::{Raised, not_laid, stretch};

/// A line whose heights are shifted.
#[derive(Debug, Clone, PartialEq)]
pub struct LineShift {
    /// The line of the job.
    pub line: String,
    /// Between which chainages; to its ends where none is given.
    pub between: [Option<NamedChainage>; 2],
    /// How long the smooth ends are, within that stretch; an end of the line has none.
    pub ease: f64,
}

/// A height of a line, as designed and shifted.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShiftedHeight {
    /// Its chainage.
    pub chainage: f64,
    /// The same as the trade writes it.
    pub station: String,
    /// The height as designed.
    pub designed: f64,
    /// The height after the best shift.
    pub shifted: f64,
}

/// A line of the job, and the stretch of it that is shifted, in the unit at hand.
pub(super) fn stretch_of(
    site: &Site<'_>,
    asked: &LineShift,
) -> Result<(Alignment, RaisedStretch), JobError> {
    let no_line = || BalanceError::NoLine {
        name: asked.line.clone(),
    };
    let line = site.making.line_of(&asked.line).ok_or_else(no_line)?;
    let unit = site.making.frame.unit();
    let [from, to] = stretch(&line, &asked.between, unit)?;
    let long = to - from;
    let ends =
        f64::from(u8::from(asked.between[0].is_some()) + u8::from(asked.between[1].is_some()));
    if ends > 0.0 && !(asked.ease > 0.0 && asked.ease.is_finite()) {
        return Err(BalanceError::NoEnds.into());
    }
    if ends * asked.ease > long {
        return Err(BalanceError::LongEnds { long }.into());
    }
    // An end of the line has no smooth end: whatever goes on there is raised with it.
    let between = [
        asked.between[0].map_or(f64::NEG_INFINITY, |_| from),
        asked.between[1].map_or(f64::INFINITY, |_| to),
    ];
    let over = RaisedStretch {
        between,
        ease: asked.ease,
    };
    let named = line.with_name(asked.line.clone());
    Ok((named, over))
}

/// Makes the design anew for each height of a line.
pub(super) fn by_line(
    site: &mut Site<'_>,
    request: &BalanceRequest,
    raised: &Raised,
    (ground, design, zones): (&Arc<Surface>, &Arc<Surface>, Option<&Zones>),
    search: &Search,
) -> Result<(Balance, [f64; 2]), JobError> {
    // As far as the design stands over and under the ground, and as far again: slopes grow with the shift.
    let search = match request.range {
        Some(_) => *search,
        None => {
            let measured = volume(ground, design, zones, Tolerance::ZERO);
            let measured = measured.map_err(|error| not_laid(error, ground, design, zones))?;
            let reach = measured.iter().filter_map(|zone| zone.difference);
            let [low, high] = reach.fold([0.0f64; 2], |[low, high], found| {
                [
                    low.min(found.min.difference),
                    high.max(found.max.difference),
                ]
            });
            // Slopes that end on the ground stand over it by rounding.
            let nothing = 1e3 * site.making.frame.precision().length();
            let end = |value: f64| if value.abs() <= nothing { 0.0 } else { value };
            Search {
                range: [end(-high), end(-low)],
                ..*search
            }
        }
    };
    let found = made_anew(site, request, raised, (ground, zones), &search)?;
    Ok((found, search.range))
}

/// The heights of a line where its grades meet, where it ends, and where the shift begins and is whole.
pub(super) fn new_heights(
    line: &Alignment,
    over: &RaisedStretch,
    shift: f64,
    unit: LengthUnit,
) -> Vec<ShiftedHeight> {
    let Some(profile) = line.profile() else {
        return Vec::new();
    };
    let [from, to] = over.between;
    let ends = [from, from + over.ease, to - over.ease, to];
    let mut distances: Vec<f64> = profile.summits().iter().map(|at| at.distance).collect();
    distances.extend(ends.into_iter().filter(|at| at.is_finite()));
    distances.sort_by(f64::total_cmp);
    distances.dedup();
    let height = |at: f64| {
        let designed = profile.height(at)?;
        let chainage = line.chainage().of(at);
        Some(ShiftedHeight {
            chainage,
            station: chainage_words(chainage, unit, 2),
            designed,
            shifted: designed + shift * over.share(at),
        })
    };
    distances.into_iter().filter_map(height).collect()
}
