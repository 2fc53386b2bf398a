//! What a basin holds, level by level.

use dapedon_core::{
    AreaUnit, Basin, LengthUnit, Pool, Spill, Storage, Surface, Tin, VolumeUnit, average_end_area,
    conic, mask,
};
use serde::Serialize;

use crate::measurement::{Extreme, JobFacts, Side, Units};
use crate::sides::{Ask, Sides};
use crate::{InputFile, Job, JobError, Reading, Source, ZoneSource};

/// Rows of a table at most.
const MOST: f64 = 100_000.0;

/// The basin that is asked for.
#[derive(Debug, Clone)]
pub struct CapacityRequest<'j> {
    /// The job that names stand in.
    pub job: Option<&'j Job>,
    /// The bed.
    pub surface: Source,
    /// The zone that it ends at.
    pub zone: Option<ZoneSource>,
    /// The pool that holds this place, as east and north, in the unit measured in.
    pub pool: Option<[f64; 2]>,
    /// What the files do not say themselves.
    pub reading: Reading,
    /// The unit to measure in; without one, that of the surface.
    pub length_unit: Option<LengthUnit>,
    /// The unit of areas, for the foot of the survey.
    pub area_unit: Option<fn(LengthUnit) -> AreaUnit>,
    /// The unit of volumes, for the foot of the survey.
    pub volume_unit: Option<fn(LengthUnit) -> VolumeUnit>,
    /// The lowest level of the table; without one, the lowest place.
    pub from: Option<f64>,
    /// The highest one; without one, where water runs over the edge, less the freeboard.
    pub to: Option<f64>,
    /// The step from level to level; without one, a round one.
    pub step: Option<f64>,
    /// How far the water is to stay below where it runs over.
    pub freeboard: f64,
    /// Volumes whose levels are wanted, in the volume unit.
    pub volumes: Vec<f64>,
}

/// Why there is no table.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum CapacityError {
    /// The levels are upside down.
    #[error("the levels are to rise from {from} to {to}")]
    UpsideDown {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
    },
    /// The levels lie below the basin.
    #[error("up to {to} there is no water: the lowest place of the basin is at {lowest}")]
    Dry {
        /// The highest level.
        to: f64,
        /// The lowest place.
        lowest: f64,
    },
    /// A step of nothing.
    #[error("a step of {step} leads to no other level")]
    NoStep {
        /// The step.
        step: f64,
    },
    /// Too many levels.
    #[error("steps of {step} from {from} to {to} are more than a hundred thousand levels")]
    TooMany {
        /// The lowest.
        from: f64,
        /// The highest.
        to: f64,
        /// The step.
        step: f64,
    },
    /// Several zones where one is wanted.
    #[error("a basin has one outline, and {count} zones are named")]
    SeveralZones {
        /// How many.
        count: usize,
    },
    /// The place of a pool is off the surface.
    #[error("east {east}, north {north} lies beyond the surface, or the zone")]
    Beyond {
        /// East.
        east: f64,
        /// North.
        north: f64,
    },
    /// A wanted volume that is none.
    #[error("{volume} is no volume of water")]
    NoVolume {
        /// The volume.
        volume: f64,
    },
}

impl CapacityError {
    /// What to do about it.
    pub fn remedy(&self) -> String {
        use CapacityError as E;
        match self {
            E::UpsideDown { .. } => {
                "say the lower one with --from, the higher one with --to".into()
            }
            E::Dry { lowest, .. } => format!("name a level above {lowest}"),
            E::NoStep { .. } => "say a height above zero, as --step 0.25".into(),
            E::TooMany { .. } => "say a larger step".into(),
            E::SeveralZones { .. } => "name one of them, as FILE#NAME".into(),
            E::Beyond { .. } => "name a place within it, in the survey's grid, east first".into(),
            E::NoVolume { .. } => "say a volume above zero".into(),
        }
    }
}

/// What a basin holds.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Capacity {
    /// The command: `capacity`.
    pub command: &'static str,
    /// The job whose names were used.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<JobFacts>,
    /// The units of all figures.
    pub units: Units,
    /// The bed.
    pub surface: Side,
    /// The zone that it ends at.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// The files the zone comes from.
    pub zone_files: Vec<InputFile>,
    /// The place whose pool it is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub pool: Option<Extreme>,
    /// The lowest place of the basin.
    pub lowest: f64,
    /// Where water runs over the edge.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub runs_over: Option<RunsOver>,
    /// How far the water stays below that.
    pub freeboard: f64,
    /// Level by level, from the lowest up.
    pub levels: Vec<Held>,
    /// The levels of wanted volumes.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub wanted: Vec<Wanted>,
    /// What the reader must know before trusting a figure.
    pub warnings: Vec<String>,
}

/// Where water runs over the edge of a basin.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct RunsOver {
    /// At this level.
    pub level: f64,
    /// Here.
    pub at: Extreme,
}

/// What is held at a level.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Held {
    /// The level.
    pub level: f64,
    /// The depth at the lowest place.
    pub depth: f64,
    /// The area of the water; at the lowest place that of its level floor.
    pub area: f64,
    /// The volume since the level before.
    pub step: f64,
    /// The volume up to here, integrated exactly over the facets.
    pub volume: f64,
    /// The same from the areas of the table by average end areas.
    pub by_average_end_area: f64,
    /// The same from the areas of the table as frusta of cones.
    pub by_conic: f64,
}

/// The level of a wanted volume.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Wanted {
    /// The volume.
    pub volume: f64,
    /// Its level and area; none where the basin holds less up to the highest level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub level: Option<f64>,
    /// The area of the water there.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub area: Option<f64>,
}

/// What a basin holds at each of some levels.
///
/// # Errors
///
/// When a file cannot be used, or the levels or the place are none of the basin's.
pub fn capacity(request: &CapacityRequest<'_>) -> Result<Capacity, JobError> {
    let level = Source::Level(0.0);
    let zones: Vec<ZoneSource> = request.zone.iter().cloned().collect();
    let Sides {
        mut making,
        made,
        zones,
        zone_files,
        zone_notes,
        unit,
        ..
    } = Sides::of(&Ask {
        job: request.job,
        sources: [&request.surface, &level],
        more: &[],
        zones: &zones,
        reading: &request.reading,
        length_unit: request.length_unit,
        area_unit: request.area_unit,
        volume_unit: request.volume_unit,
    })?;
    let [bed, _] = made;
    let mut warnings = std::mem::take(&mut making.warnings);
    warnings.extend(zone_notes);
    let (area_unit, volume_unit) = (making.area_unit, making.volume_unit);
    let zone = match zones.as_ref().map(|zones| zones.zones()) {
        None => None,
        Some([zone]) => Some(zone),
        Some(zones) => {
            return Err(CapacityError::SeveralZones { count: zones.len() }.into());
        }
    };
    let kept: Tin = match (zone, &*bed.surface) {
        (Some(zone), surface) => mask(surface, zone)?,
        (None, Surface::Tin(tin)) => tin.clone(),
        (None, Surface::Grid(grid)) => grid.to_tin().map_err(|_| JobError::NoEnd)?,
        (None, Surface::Level(_)) => return Err(JobError::Unbounded),
    };
    if let Some(zone) = zone {
        let beyond = area_unit.from_square(zone.area() - kept.area(), unit);
        if beyond > 1e-6 {
            warnings.push(format!(
                "{beyond:.1} {} of the zone lie beyond the surface, and hold nothing here",
                area_unit.symbol()
            ));
        }
    }
    let frame = making.frame;
    let (basin, spill) = match request.pool {
        None => (Basin::of(&kept), Spill::lowest(&kept)),
        Some([east, north]) => {
            let pool = Pool::around(&kept, frame.to_local(east, north));
            let pool = pool.map_err(|_| CapacityError::Beyond { east, north })?;
            (pool.basin, Some(pool.spill))
        }
    };
    let lowest = match request.pool {
        // Of a pool only what it reaches first.
        Some(_) => basin.first_wet(),
        None => basin.heights()[0],
    };
    let brim = spill.map_or(basin.heights()[1], |spill| spill.level);
    let levels = levels(request, lowest, brim - request.freeboard)?;
    let found = basin.at(&levels);
    if let (Some(spill), Some(last)) = (spill, levels.last())
        && *last > spill.level
    {
        let at = frame.to_grid(spill.at);
        warnings.push(format!(
            "above {:.3} water runs over the edge near east {:.1}, north {:.1}: what is told above it would need a wall",
            spill.level, at.east, at.north
        ));
    }
    let top = levels.last().copied().unwrap_or(brim);
    let wanted = request.volumes.iter().map(|&volume| {
        if !(volume > 0.0 && volume.is_finite()) {
            return Err(CapacityError::NoVolume { volume });
        }
        let one = volume_unit.from_cubic(1.0, unit);
        let found = basin.level_of(volume / one, top);
        Ok(Wanted {
            volume,
            level: found.map(|found| found.level),
            area: found.map(|found| area_unit.from_square(found.area, unit)),
        })
    });
    let wanted = wanted.collect::<Result<Vec<_>, _>>()?;
    let place = |[east, north]: [f64; 2]| Extreme { east, north };
    Ok(Capacity {
        command: "capacity",
        job: request.job.map(Job::facts),
        units: Units {
            length: unit.code().into(),
            area: area_unit.code(),
            volume: volume_unit.code(),
        },
        surface: bed.side,
        zone: zone.map(|zone| zone.name().into()),
        zone_files,
        pool: request.pool.map(place),
        lowest,
        runs_over: spill.map(|spill| {
            let at = frame.to_grid(spill.at);
            RunsOver {
                level: spill.level,
                at: place([at.east, at.north]),
            }
        }),
        freeboard: request.freeboard,
        levels: held(
            &found,
            lowest,
            |area| area_unit.from_square(area, unit),
            |volume| volume_unit.from_cubic(volume, unit),
        ),
        wanted,
        warnings,
    })
}

/// The levels of the table.
fn levels(
    request: &CapacityRequest<'_>,
    lowest: f64,
    brim: f64,
) -> Result<Vec<f64>, CapacityError> {
    let (from, to) = (request.from.unwrap_or(lowest), request.to.unwrap_or(brim));
    if let Some(from) = request.from
        && (from >= to || from.is_nan())
    {
        return Err(CapacityError::UpsideDown { from, to });
    }
    if to.is_nan() || to <= lowest {
        return Err(CapacityError::Dry { to, lowest });
    }
    let step = request.step.unwrap_or_else(|| round_step(to - from));
    if step.is_nan() || step <= 0.0 {
        return Err(CapacityError::NoStep { step });
    }
    if (to - from) / step > MOST {
        return Err(CapacityError::TooMany { from, to, step });
    }
    // From a level that is named in whole steps; else at whole multiples of the step.
    let first = match request.from {
        Some(from) => from,
        None => (from / step).ceil() * step,
    };
    let inner = (0..).map(|index| first + f64::from(index) * step);
    let slack = 1e-9 * step;
    let inner = inner.take_while(|level| *level < to - slack);
    let mut levels = vec![from];
    levels.extend(inner.filter(|level| *level > from + slack));
    levels.push(to);
    Ok(levels)
}

/// The least of 1, 2, 5 and their tens that makes no more than 25 steps.
fn round_step(range: f64) -> f64 {
    let ten = 10f64.powf((range / 25.0).log10().floor());
    let steps = [1.0, 2.0, 5.0, 10.0].map(|step| step * ten);
    let fits = |step: &f64| range / step <= 25.0 * (1.0 + 1e-9);
    steps.into_iter().find(fits).unwrap_or(10.0 * ten)
}

fn held(
    found: &[Storage],
    lowest: f64,
    area: impl Fn(f64) -> f64,
    volume: impl Fn(f64) -> f64,
) -> Vec<Held> {
    let mut rows: Vec<Held> = Vec::new();
    let (mut average, mut cone) = (0.0, 0.0);
    for (index, storage) in found.iter().enumerate() {
        let before = index.checked_sub(1).map(|index| found[index]);
        // What lies below the first level is known by the integral alone.
        match before {
            None => (average, cone) = (storage.volume, storage.volume),
            Some(before) => {
                // Level ground is under water from its own level on.
                let areas = [before.area + before.level_ground, storage.area];
                let step = storage.level - before.level;
                average += average_end_area(areas, step);
                cone += conic(areas, step);
            }
        }
        rows.push(Held {
            level: storage.level,
            depth: (storage.level - lowest).max(0.0),
            area: area(match storage.area {
                // Of the lowest level its floor.
                0.0 => storage.level_ground,
                wet => wet,
            }),
            step: volume(storage.volume - before.map_or(0.0, |before| before.volume)),
            volume: volume(storage.volume),
            by_average_end_area: volume(average),
            by_conic: volume(cone),
        });
    }
    rows
}
