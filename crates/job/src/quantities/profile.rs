//! Profiles: surfaces cut upright along any line, or from place to place.

mod error;
mod model;

use dapedon_core::alignment::{Alignment, Course, NamedChainage, chainage_words};
use dapedon_core::plan::{Place, round_up};
use dapedon_core::quantities::{Cut, SectionLine, long_section};
use dapedon_core::surface::{FARTHEST, FacetIndex};
use dapedon_core::units::{AreaUnit, LengthUnit};

use crate::context::Context;
use crate::error::JobError;
use crate::figure::Area;
use crate::finding::{Code, Finding};
use crate::input::lines::aligned;
use crate::input::{LineSource, Source};
use crate::job_file::Job;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::sections::SectionCorners;
use crate::schema::Schema;
use crate::site::{Site, SiteLine};
use crate::surfaces::{MadeSurface, stretch};
use crate::watch::Activity;

pub use error::ProfileError;
pub use model::{GroundProfile, ProfileAreas, ProfileGround, ProfilePlace, ProfileReach};

/// Chords of a curve stand no farther than this from it, in metres.
const CHORD: f64 = 0.005;
/// Places of a table, where no interval is asked for, and at most.
const USUAL: f64 = 20.0;
const MOST: f64 = 100_000.0;
/// Round chainages of a whole line at most.
const WHOLE_LINE: usize = 10_000_000;
/// Decimals of chainages in words.
const DECIMALS: usize = 2;

/// What is cut, and along what.
#[derive(Debug, Clone)]
pub struct ProfileRequest {
    /// The surfaces; of two or more the first is the one that others are compared with.
    pub surfaces: Vec<Source>,
    /// Along what.
    pub along: ProfileAlong,
    /// From place to place of the table; without, an interval that gives some twenty.
    pub every: Option<f64>,
    /// Hand over the corners of all surfaces.
    pub corners: bool,
}

/// Along what a profile is cut.
#[derive(Debug, Clone)]
pub enum ProfileAlong {
    /// Straight from place to place, as east and north in the unit of the results.
    Places(Vec<[f64; 2]>),
    /// A line, or a stretch of it.
    Line {
        /// The line.
        line: LineSource,
        /// From and to which chainage; its ends where none is given.
        between: [Option<NamedChainage>; 2],
    },
}

/// Cuts surfaces along a line or from place to place, and hands back what a sheet is drawn from.
///
/// # Errors
///
/// When a file cannot be used, places are too few, or no surface is there.
pub fn profile(
    context: &Context<'_>,
    request: &ProfileRequest,
) -> Result<(GroundProfile, ProfileGround), JobError> {
    context.run(|| {
        let sources: Vec<&Source> = request.surfaces.iter().collect();
        let mut site = Site::open(context, &sources, &[])?;
        let made = sources.iter().map(|source| site.surface(source));
        let made = made.collect::<Result<Vec<MadeSurface>, JobError>>()?;
        let (units, frame) = (site.making.units, site.making.frame);
        let unit = frame.unit();
        let (found, between, places) = match &request.along {
            ProfileAlong::Places(places) => {
                let line = through(places)?;
                let whole = [0.0, line.length()];
                let joints = line.joints().to_vec();
                let found = SiteLine {
                    source: "the places".into(),
                    file: None,
                    line,
                };
                (found, whole, joints)
            }
            ProfileAlong::Line { line, between } => {
                let found = site.line(line)?;
                let between = stretch(&found.line, between, unit)?;
                (found, between, Vec::new())
            }
        };
        let line = &found.line;
        let step = context.watch.next(Activity::Cutting)?;
        let chord = LengthUnit::Metre.convert(CHORD, unit);
        let same = frame.precision().worked_out();
        let indexes: Vec<FacetIndex<'_>> = made
            .iter()
            .map(|made| FacetIndex::of(&made.surface))
            .collect();
        let cut = |index: &FacetIndex<'_>| {
            long_section(index, line, frame, between, chord).joined(same)
        };
        let lines: Vec<SectionLine> = step.unless_stopped(Ok::<_, JobError>(
            indexes.iter().map(cut).collect::<Vec<_>>(),
        ))?;
        if lines.iter().all(|line| line.parts.is_empty()) {
            return Err(ProfileError::NothingThere.into());
        }
        let names: Vec<String> = sources.iter().map(ToString::to_string).collect();
        // Offsets of a cut are distances along the line here.
        let whole = Cut {
            course: Course {
                place: Place::new(0.0, 0.0),
                direction: 0.0,
            },
            spans: vec![between],
        };
        let mut warnings = std::mem::take(&mut site.making.warnings);
        for (name, line) in names.iter().zip(&lines) {
            let gaps = whole.width() - line.covered();
            if gaps > 1e-6 * whole.width() {
                let words = format!(
                    "{name} does not reach along the whole profile: {gaps:.2} of {:.2} {} are without it",
                    whole.width(),
                    unit.symbol()
                );
                warnings.push(Finding::new(Code::EndsWithinWidth, words));
            }
        }
        let listing = Listing {
            line,
            unit,
            lines: &lines,
        };
        let interval = request.every;
        let listed = listing.places(between, &places, interval)?;
        let areas = match lines.as_slice() {
            [reference, surveyed, ..] => {
                let found = reference.areas(surveyed, &whole);
                let area = |square: f64| Area::new(square, AreaUnit::usual(unit));
                (found.compared > 0.0).then(|| ProfileAreas {
                    cut: area(found.cut.area),
                    fill: area(found.fill.area),
                    compared: found.compared,
                })
            }
            _ => None,
        };
        let reach = lines.iter().map(|line| listing.reach(line)).collect();
        let corners = match request.corners {
            true => names
                .iter()
                .zip(&lines)
                .map(|(name, line)| SectionCorners {
                    surface: name.clone(),
                    runs: line.runs(same),
                })
                .collect(),
            false => Vec::new(),
        };
        let ground = ProfileGround {
            lines,
            between,
            line: line.clone(),
        };
        let profile = GroundProfile {
            command: "profile".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            crs: site.systems.plan.clone(),
            height_system: site.systems.heights.clone(),
            surfaces: made.into_iter().map(|made| made.side).collect(),
            length: units.length_of(between[1] - between[0]),
            line: match &request.along {
                ProfileAlong::Places(_) => None,
                ProfileAlong::Line { .. } => Some(LineFacts::of(found, &units)),
            },
            places: listed,
            reach,
            areas,
            corners,
            warnings: context.acknowledged("", warnings),
        };
        Ok((profile, ground))
    })
}

/// Straights from place to place.
fn through(places: &[[f64; 2]]) -> Result<Alignment, ProfileError> {
    let figures = places.iter().flatten();
    if let Some(&value) = { figures }.find(|value| value.is_nan() || value.abs() > FARTHEST) {
        return Err(ProfileError::NoPlace { value });
    }
    let corners: Vec<_> = places.iter().map(|&[e, n]| (e, n, None)).collect();
    let line = aligned("profile", &corners);
    match line.length() > 0.0 {
        true => Ok(line),
        false => Err(ProfileError::TooFew),
    }
}

/// What is listed of a profile.
struct Listing<'l> {
    line: &'l Alignment,
    unit: LengthUnit,
    lines: &'l [SectionLine],
}

impl Listing<'_> {
    /// The places of the table: both ends, those that were given, and others at round chainages.
    fn places(
        &self,
        [from, to]: [f64; 2],
        given: &[f64],
        every: Option<f64>,
    ) -> Result<Vec<ProfilePlace>, ProfileError> {
        let length = to - from;
        let every = every.unwrap_or_else(|| round_up(length / USUAL));
        let count = length / every;
        if count.is_nan() || count > MOST {
            return Err(ProfileError::ManyPlaces {
                interval: every,
                count,
                enough: round_up(length / MOST),
            });
        }
        let chainage = self.line.chainage();
        // Those of the whole line, of which the profile may be a small part.
        let stations = self.line.stations(every, WHOLE_LINE);
        let stations = stations.map_err(|error| ProfileError::ManyPlaces {
            interval: every,
            count: error.count,
            enough: round_up(error.length / WHOLE_LINE as f64),
        })?;
        let is_round = |at: &f64| {
            let count = chainage.of(*at) / every;
            (count - count.round()).abs() < 1e-6
        };
        let mut distances: Vec<f64> = stations;
        distances.retain(is_round);
        distances.extend(given);
        distances.extend([from, to]);
        distances.retain(|at| (from..=to).contains(at));
        distances.sort_by(f64::total_cmp);
        let same = dapedon_core::plan::RELATIVE * to.abs().max(1.0);
        distances.dedup_by(|next, kept| *next - *kept <= same);
        Ok(distances
            .into_iter()
            .filter_map(|at| self.place(at))
            .collect())
    }

    fn place(&self, distance: f64) -> Option<ProfilePlace> {
        let at = self.line.at(distance)?.place;
        let chainage = self.line.chainage().of(distance);
        let heights: Vec<Option<f64>> = self
            .lines
            .iter()
            .map(|line| line.height(distance))
            .collect();
        let first = heights.first().copied().flatten();
        let differences = heights.iter().skip(1);
        Some(ProfilePlace {
            chainage,
            station: chainage_words(chainage, self.unit, DECIMALS),
            distance,
            east: at.east,
            north: at.north,
            differences: differences
                .map(|height| Some((*height)? - first?))
                .collect(),
            heights,
        })
    }

    /// The lowest and the highest place of a surface.
    fn reach(&self, line: &SectionLine) -> Option<ProfileReach> {
        let corners = line.parts.iter().flat_map(|part| {
            part.offsets
                .into_iter()
                .zip(part.heights)
                .map(|(at, height)| [at, height])
        });
        let (mut lowest, mut highest): (Option<[f64; 2]>, Option<[f64; 2]>) = (None, None);
        for corner in corners {
            if lowest.is_none_or(|[_, height]| corner[1] < height) {
                lowest = Some(corner);
            }
            if highest.is_none_or(|[_, height]| corner[1] > height) {
                highest = Some(corner);
            }
        }
        let named = |[at, height]: [f64; 2]| {
            let chainage = self.line.chainage().of(at);
            (chainage_words(chainage, self.unit, DECIMALS), height)
        };
        let ((lowest_at, lowest), (highest_at, highest)) = (named(lowest?), named(highest?));
        Some(ProfileReach {
            lowest,
            lowest_at,
            highest,
            highest_at,
        })
    }
}
