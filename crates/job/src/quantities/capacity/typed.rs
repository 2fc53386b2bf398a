//! What a basin holds by levels and areas that somebody else measured.

use std::path::PathBuf;

use dapedon_core::quantities::{Between, TypedAreas, TypedAreasError, WaterAtLevel};
use dapedon_formats::delimited::{Pair, read_pairs};

use super::rows::held;
use super::{Capacity, CapacityAnswer, CapacityError};
use crate::context::Context;
use crate::error::JobError;
use crate::figure::Volume;
use crate::input::InputError;
use crate::input::{Input, InputFile, Reading};
use crate::job_file::Job;
use crate::schema::Schema;
use crate::surfaces::SurfaceFacts;

/// Where levels with their areas come from.
#[derive(Debug, Clone, PartialEq)]
pub enum AreasSource {
    /// They are given.
    Said(Vec<[f64; 2]>),
    /// They stand in a file, two numbers a row.
    File(PathBuf),
}

/// The basin that is asked for.
#[derive(Debug, Clone)]
pub struct AreasRequest {
    /// The levels with their areas, in the length unit and the area unit.
    pub areas: AreasSource,
    /// How far the water is to stay below the highest level.
    pub freeboard: f64,
    /// Levels whose volumes are wanted.
    pub wanted_levels: Vec<f64>,
    /// Volumes whose levels are wanted, in the volume unit.
    pub volumes: Vec<f64>,
}

const WAYS: [(Between, &str); 2] = [
    (Between::AverageEndArea, "average end area"),
    (Between::Conic, "conic"),
];

/// What a basin holds, by average end areas and as frusta, from levels with their areas.
///
/// # Errors
///
/// When a file cannot be used, or levels and areas make no basin.
pub fn capacity_of_areas(
    context: &Context<'_>,
    request: &AreasRequest,
) -> Result<Capacity, JobError> {
    let job = context.job;
    let length = (context.units.length)
        .or(context.reading.unit)
        .or(job.map(|job| job.unit));
    let length = length.ok_or(CapacityError::NoUnit)?;
    let told = context.report_units(length);
    let (side, pairs) = read(&request.areas, &context.reading)?;
    let (square, cubic) = (told.area_of(1.0).value, told.volume_of(1.0).value);
    let squares = pairs
        .iter()
        .map(|pair| [pair.numbers[0], pair.numbers[1] / square]);
    let areas = TypedAreas::new(&squares.collect::<Vec<_>>());
    let areas = areas.map_err(|error| {
        let error = in_unit(error, square);
        let line = pair_of(&error).and_then(|pair| pairs.get(pair - 1));
        CapacityError::Areas {
            path: side.file.as_ref().map(|file| file.path.clone().into()),
            line: line.map(|pair| pair.line).filter(|&line| line > 0),
            error,
        }
    })?;
    let known = areas.pairs();
    let [lowest, highest] = [known[0][0], known[known.len() - 1][0]];
    let brim = highest - request.freeboard;
    if brim <= lowest {
        let (to, lowest) = (brim, lowest);
        return Err(CapacityError::Dry { to, lowest }.into());
    }
    // By average end areas, so that the table has the area there.
    let last = areas.area_at(brim, Between::AverageEndArea);
    let levels = known.iter().copied().filter(|[level, _]| *level < brim);
    let levels = levels.chain(last.map(|area| [brim, area]));
    let found: Vec<WaterAtLevel> = levels
        .map(|[level, area]| WaterAtLevel {
            level,
            area,
            ..WaterAtLevel::default()
        })
        .collect();
    let mut wanted = Vec::new();
    for &volume in &request.volumes {
        if !(volume > 0.0 && volume.is_finite()) {
            return Err(CapacityError::NoVolume { volume }.into());
        }
        wanted.extend(WAYS.map(|(between, by)| {
            let level = areas.level_of(volume / cubic, between);
            let level = level.filter(|level| *level <= brim);
            let area = level.and_then(|level| areas.area_at(level, between));
            CapacityAnswer {
                asked: "volume".into(),
                method: by.into(),
                volume: Some(Volume::new(volume, told.volume)),
                level: level.map(|level| told.length_of(level)),
                water_area: area.map(|area| told.area_of(area)),
                above_spill_level: false,
            }
        }));
    }
    for &level in &request.wanted_levels {
        wanted.extend(WAYS.map(|(between, by)| {
            CapacityAnswer {
                asked: "level".into(),
                method: by.into(),
                volume: areas
                    .volume_at(level, between)
                    .map(|volume| told.volume_of(volume)),
                level: Some(told.length_of(level)),
                water_area: areas.area_at(level, between).map(|area| told.area_of(area)),
                above_spill_level: false,
            }
        }));
    }
    Ok(Capacity {
        command: "capacity".into(),
        schema: Schema,
        job: job.map(Job::facts),
        units: told,
        coverage_factor: None,
        surface: side,
        zone: None,
        zone_files: Vec::new(),
        pool: None,
        lowest_level: told.length_of(lowest),
        spill: None,
        freeboard: told.length_of(request.freeboard),
        levels: held(&found, false, lowest, None, told),
        answers: wanted,
        warnings: Vec::new(),
    })
}

fn read(areas: &AreasSource, reading: &Reading) -> Result<(SurfaceFacts, Vec<Pair>), JobError> {
    match areas {
        AreasSource::Said(said) => {
            let side = SurfaceFacts {
                source: "levels and areas".into(),
                kind: "typed in".into(),
                ..SurfaceFacts::default()
            };
            let pairs = said.iter().map(|&numbers| Pair { line: 0, numbers });
            Ok((side, pairs.collect()))
        }
        AreasSource::File(path) => {
            let mut input = Input::open(path, &reading.files)?;
            let pairs =
                read_pairs(input.reader()).map_err(|error| InputError::unreadable(path, error))?;
            let file: InputFile = input.finish()?;
            let side = SurfaceFacts {
                source: path.display().to_string(),
                kind: "levels and areas, delimited text".into(),
                file: Some(file),
                ..SurfaceFacts::default()
            };
            Ok((side, pairs))
        }
    }
}

/// The pair that an error is about.
fn pair_of(error: &TypedAreasError) -> Option<usize> {
    match error {
        TypedAreasError::TooFew { .. } => None,
        TypedAreasError::NoArea { pair, .. }
        | TypedAreasError::OutOfOrder { pair, .. }
        | TypedAreasError::Shrinks { pair, .. } => Some(*pair),
    }
}

/// The error with its areas as they were given, where a square of the length unit is so many of them.
fn in_unit(mut error: TypedAreasError, square: f64) -> TypedAreasError {
    if let TypedAreasError::Shrinks { below, area, .. } = &mut error {
        (*below, *area) = (*below * square, *area * square);
    }
    if let TypedAreasError::NoArea { area, .. } = &mut error {
        *area *= square;
    }
    error
}
