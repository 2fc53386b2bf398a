//! The shift of a design at which its cut makes its fill.

mod line;

use std::sync::Arc;

use dapedon_contract::{Shrink, Swell};
use dapedon_core::quantities::{Balance, Search, Shifted, at_rest, balance_by, coverage};
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::Zones;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::context::Context;
use crate::digits::figure_in_words;
use crate::error::{JobError, job_error};
use crate::figure::{Length, Volume};
use crate::finding::{Code, Finding};
use crate::input::{InputFile, Source, ZoneSource};
use crate::schema::{Schema, Word};
use crate::site::Site;
use crate::surfaces::{Raised, SurfaceFacts, not_laid};
use crate::units::ReportUnits;
use crate::watch::Activity;
use line::{by_line, new_heights, stretch_of};

pub use line::{LineShift, ShiftedHeight};

/// What to balance.
#[derive(Debug, Clone)]
pub struct BalanceRequest {
    /// The ground.
    pub ground: Source,
    /// The design that is to be shifted.
    pub design: Source,
    /// Cut and fill count within these zones.
    pub zones: Vec<ZoneSource>,
    /// Only what is within these zones is shifted.
    pub moving: Vec<ZoneSource>,
    /// The platform of the design whose level is shifted, with its slopes, instead of all of it.
    pub platform: Option<String>,
    /// The line of the design whose heights are shifted, instead of all of it.
    pub line: Option<LineShift>,
    /// How much a unit in the bank is loose.
    pub swell: Swell,
    /// How much fill a unit in the bank makes.
    pub shrink: Shrink,
    /// The lowest and highest shift; without one, from no fill to no cut.
    pub range: Option<[f64; 2]>,
    /// A surplus or shortfall up to this is a balance, in the volume unit.
    pub max_leftover: f64,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct Balanced {
    /// The command: `balance`.
    pub command: Word,
    /// The version of its schema.
    pub schema: Schema,
    /// The units of all figures.
    pub units: ReportUnits,
    /// The ground.
    pub ground: SurfaceFacts,
    /// The design.
    pub design: SurfaceFacts,
    /// What is shifted, in words.
    pub shifted: String,
    /// Where cut and fill count, by name; everywhere where none is named.
    pub zones: Vec<String>,
    /// The files the zones come from.
    pub zone_files: Vec<InputFile>,
    /// Loose volume for a unit in the bank.
    pub swell: f64,
    /// Compacted volume for a unit in the bank.
    pub shrink: f64,
    /// A surplus or shortfall up to this is a balance.
    pub max_leftover: Volume,
    /// The lowest and the highest shift.
    pub range: [Length; 2],
    /// The shifts that were tried, ascending.
    pub tried: Vec<TriedShift>,
    /// The design as it is.
    pub as_designed: TriedShift,
    /// True where cut and fill meet.
    pub balanced: bool,
    /// The shift at which they do, or else come closest.
    pub best: TriedShift,
    /// Of a line that is shifted its new heights, where its grades meet and where the shift begins and is whole.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub heights: Vec<ShiftedHeight>,
    /// What must be known before a figure is trusted.
    pub warnings: Vec<Finding>,
}

/// A shift, and what it comes to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct TriedShift {
    /// By how much the design is raised; lowered where that is negative.
    pub shift: Length,
    /// What is dug, in the bank.
    pub cut: Volume,
    /// What that makes compacted.
    pub compacted_from_cut: Volume,
    /// What is needed compacted.
    pub fill: Volume,
    /// What is left of the cut, compacted; negative where it is not enough.
    pub surplus: Volume,
    /// The same as it was in the bank.
    pub surplus_bank: Volume,
    /// The same loose, as it is hauled.
    pub surplus_loose: Volume,
}

impl Balanced {
    /// The tried shifts that tell something: where there is both cut and fill, and one beyond on each side; all of
    /// them where the two do not meet.
    pub fn telling(&self) -> &[TriedShift] {
        if !self.balanced {
            return &self.tried;
        }
        let first = self
            .tried
            .iter()
            .rposition(|tried| tried.fill.value <= 0.0)
            .unwrap_or(0);
        let last = self.tried.iter().position(|tried| tried.cut.value <= 0.0);
        let last = last.unwrap_or(self.tried.len() - 1);
        // Where the two never stand side by side, all of them.
        self.tried.get(first..=last).unwrap_or(&self.tried)
    }
}

/// Finds the shift at which cut and fill meet.
///
/// # Errors
///
/// When a file cannot be used or the two sides cannot be compared.
pub fn balance(context: &Context<'_>, request: &BalanceRequest) -> Result<Balanced, JobError> {
    context.run(|| {
        let mut named = request.zones.clone();
        let moving = request.moving.iter();
        named.extend(moving.filter(|zone| !request.zones.contains(zone)).cloned());
        let mut site = Site::open(context, &[&request.ground, &request.design], &named)?;
        let zones = site.zones(&request.zones)?;
        let moving = site.zones(&request.moving)?;
        let ground = site.surface(&request.ground)?;
        let design = site.surface(&request.design)?;
        site.making.warn(&[&ground, &design]);
        let units = site.making.units;
        let told = |value: f64| units.volume_of(value);
        let amount = request.max_leftover / told(1.0).value;
        // From where the design lies wholly below the ground to where it lies wholly above.
        let (ground_heights, design_heights) = (ground.surface.heights(), design.surface.heights());
        let widest = [
            ground_heights.0 - design_heights.1,
            ground_heights.1 - design_heights.0,
        ];
        let search = Search {
            yielded: request.shrink.compacted(),
            range: request.range.unwrap_or(widest),
            amount,
        };
        let (from, to) = (&*ground.surface, &*design.surface);
        let along = request.line.as_ref().map(|line| stretch_of(&site, line));
        let along = along.transpose()?;
        let (found, range) = match (&request.platform, &along) {
            (_, Some((line, over))) => {
                let raised = Raised::Line(line.name().to_owned(), *over);
                by_line(
                    &mut site,
                    request,
                    &raised,
                    (&ground.surface, &design.surface, zones.as_ref()),
                    &search,
                )?
            }
            (Some(name), None) => by_platform(
                context,
                &mut site,
                request,
                name,
                (&ground.surface, zones.as_ref()),
                &search,
            )?,
            (None, None) => {
                let step = context.watch.next(Activity::Measuring {
                    reference: request.ground.to_string(),
                    surveyed: request.design.to_string(),
                    number: 1,
                    of: 1,
                })?;
                let found = dapedon_core::quantities::balance(
                    from,
                    to,
                    zones.as_ref(),
                    moving.as_ref(),
                    &search,
                    Some(&|share| step.at(share)),
                );
                let found = found.map_err(|error| not_laid(error, from, to, zones.as_ref()));
                let found = step.unless_stopped(found)?;
                (found, search.range)
            }
        };
        let tried = |tried: &Shifted| {
            let surplus = tried.surplus(search.yielded);
            TriedShift {
                shift: units.length_of(tried.shift),
                cut: told(tried.cut),
                compacted_from_cut: told(tried.cut) * search.yielded,
                fill: told(tried.fill),
                surplus: told(surplus),
                surplus_bank: told(surplus) / search.yielded,
                surplus_loose: told(surplus) / search.yielded * request.swell.loose(),
            }
        };
        let laid = |error| not_laid(error, from, to, zones.as_ref());
        let as_designed = match found.tried.iter().find(|tried| tried.shift == 0.0) {
            Some(rest) => *rest,
            None => at_rest(from, to, zones.as_ref()).map_err(laid)?,
        };
        let as_designed = tried(&as_designed);
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(site.zone_notes(&named));
        let covered = coverage(&Outline::of(from), &Outline::of(to), zones.as_ref());
        let alone: f64 = covered
            .iter()
            .map(|c| c.reference_only + c.surveyed_only)
            .sum();
        let extent = from.extent().intersection(&to.extent());
        if alone > from.frame().precision().area(&extent) && alone.is_finite() {
            warnings.push(Finding::new(
                Code::NotCompared,
                format!(
                    "{} {} covered by only one surface, not counted",
                    figure_in_words(units.area_of(alone).value),
                    units.area.symbol()
                ),
            ));
        }
        let names = |zones: &Option<Zones>| -> Vec<String> {
            let zones = zones.as_ref().map_or(&[][..], Zones::zones);
            zones.iter().map(|zone| zone.name().to_owned()).collect()
        };
        let moves = match (&request.platform, names(&moving).as_slice()) {
            _ if request.line.is_some() => {
                let line = request.line.as_ref().map(|own| own.line.as_str());
                format!("the line \"{}\"", line.unwrap_or_default())
            }
            (Some(name), _) => format!("the platform \"{name}\""),
            (None, []) => "the whole design".into(),
            (None, names) => format!("the design within {}", names.join(", ")),
        };
        let Balance {
            tried: all,
            best,
            meets,
        } = found;
        Ok(Balanced {
            command: "balance".into(),
            schema: Schema,
            units,
            ground: ground.side,
            design: design.side,
            shifted: moves,
            zones: names(&zones),
            zone_files: site.zone_files(&named),
            swell: request.swell.loose(),
            shrink: request.shrink.compacted(),
            max_leftover: Volume::new(request.max_leftover, units.volume),
            range: range.map(|shift| units.length_of(shift)),
            tried: all.iter().map(tried).collect(),
            as_designed,
            balanced: meets,
            best: tried(&best),
            heights: along
                .map(|(line, over)| new_heights(&line, &over, best.shift, units.length))
                .unwrap_or_default(),
            warnings: context.acknowledged("", warnings),
        })
    })
}

/// Makes the design anew for each level of its platform.
fn by_platform(
    context: &Context<'_>,
    site: &mut Site<'_>,
    request: &BalanceRequest,
    name: &str,
    (ground, zones): (&Arc<Surface>, Option<&Zones>),
    search: &Search,
) -> Result<(Balance, [f64; 2]), JobError> {
    let plan = match (context.job, &request.design) {
        (Some(job), Source::Named(design)) => job.platform(design, name),
        _ => None,
    };
    let plan = plan.ok_or_else(|| BalanceError::NoPlatform { name: name.into() })?;
    // From where it lies wholly below the ground within its outline to where it lies wholly above.
    let search = match request.range {
        Some(_) => *search,
        None => {
            let [least, most] = site.making.over_ground(plan, ground)?;
            Search {
                range: [-most, -least],
                ..*search
            }
        }
    };
    let raised = Raised::Platform(name.into());
    let found = made_anew(site, request, &raised, (ground, zones), &search)?;
    Ok((found, search.range))
}

/// Makes the design anew for each shift of what is raised.
fn made_anew(
    site: &mut Site<'_>,
    request: &BalanceRequest,
    raised: &Raised,
    (ground, zones): (&Arc<Surface>, Option<&Zones>),
    search: &Search,
) -> Result<Balance, JobError> {
    let warnings = site.making.warnings.clone();
    let found = balance_by(
        |shift| {
            site.making.raise(raised.clone(), shift);
            let design = site.surface(&request.design)?;
            let found = at_rest(ground, &design.surface, zones);
            let found = found.map_err(|e| not_laid(e, ground, &design.surface, zones))?;
            Ok::<_, JobError>(Shifted { shift, ..found })
        },
        search,
    );
    // Each making says the same.
    site.making.warnings = warnings;
    found
}

/// Why a design cannot be balanced.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum BalanceError {
    /// The design is not made along a line of that name.
    #[error("the design is not made along the line \"{name}\"")]
    NoLine {
        /// The name.
        name: String,
    },
    /// A stretch is shifted, and nothing says how long its smooth ends are.
    #[error("a stretch of the line is shifted without smooth ends: its heights would jump")]
    NoEnds,
    /// The smooth ends are longer than the stretch.
    #[error("the smooth ends are longer than the stretch of {long:.2} that is shifted")]
    LongEnds {
        /// How long the stretch is.
        long: f64,
    },
    /// The design has no platform of that name.
    #[error("the design has no platform \"{name}\"")]
    NoPlatform {
        /// The name.
        name: String,
    },
}

impl BalanceError {
    fn remedy(&self) -> &'static str {
        match self {
            BalanceError::NoLine { .. } => {
                "use a surface of the job with an embankment or a typical section, and the name of its line"
            }
            BalanceError::NoEnds => "give the length of the smooth ends",
            BalanceError::LongEnds { .. } => "use shorter ends, or a longer stretch",
            BalanceError::NoPlatform { .. } => {
                "use a surface of the job with a platform, and the name of the platform's outline"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(BalanceError, "balance");
job_error!(BalanceError);
