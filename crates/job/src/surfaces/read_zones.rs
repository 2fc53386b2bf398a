//! Zones as they are read: from files, and those that a job draws.

use dapedon_core::alignment::chainage_words;
use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{RawZone, RawZones};

use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{FilesRead, InputFile, Reading, load};
use crate::job_file::NameError;
use crate::job_file::{Job, Shape, StripPlan, ZoneShape};
use crate::surfaces::{LineError, lines, stretch};
use crate::zones::ZoneOrigin;

/// Chords of a strip's edges stand no farther than this from them, in metres.
const CHORD: f64 = 0.001;
/// Parts of a strip at most.
const MOST_STRIPS: usize = 20_000;

/// Zones as they were read.
#[derive(Default)]
pub(crate) struct ReadZones {
    pub(crate) file: Option<InputFile>,
    pub(crate) crs: Option<String>,
    pub(crate) zones: Vec<RawZone>,
    pub(crate) notes: Vec<Finding>,
}

impl ReadZones {
    /// The zones, which go by the name of an entry, and where each comes from.
    pub(crate) fn known<'z>(
        &'z self,
        entry: &'z str,
    ) -> impl Iterator<Item = (&'z RawZone, ZoneOrigin)> {
        let origin = move |zone: &RawZone| ZoneOrigin::new(self.file.as_ref(), entry, zone);
        self.zones.iter().map(move |zone| (zone, origin(zone)))
    }
}

/// Zones of a name in a job that were drawn, in the job's unit.
pub(super) fn drawn_zones(job: &Job, name: &str, read: &FilesRead) -> Result<ReadZones, JobError> {
    let plan = job.zones.get(name);
    let plan = plan.ok_or_else(|| NameError::no_such_zone(name, job))?;
    let shape = match &plan.shape {
        ZoneShape::Drawn(shape) => shape,
        ZoneShape::Strip(strip) => {
            return strips(job, name, strip, read).map_err(|error| error.in_job(&plan.spot));
        }
        ZoneShape::Level(_) => return Err(NameError::no_such_zone(name, job).into()),
    };
    match shape {
        Shape::Corners(corners) => {
            let mut ring: Vec<Place> = corners.iter().map(|&[e, n]| Place::new(e, n)).collect();
            if ring.first() != ring.last() {
                ring.extend(ring.first().copied());
            }
            let zone = RawZone {
                name: name.into(),
                parts: vec![vec![ring]],
                ..RawZone::default()
            };
            Ok(ReadZones {
                file: None,
                crs: None,
                zones: vec![zone],
                notes: Vec::new(),
            })
        }
        Shape::File {
            path,
            name: within,
            name_attribute,
        } => {
            let reading = Reading {
                name_attribute: name_attribute.clone(),
                files: read.clone(),
                ..Reading::default()
            };
            let read = load::zones(path, within.as_deref(), &reading, job.unit, job.unit);
            let (file, mut found) = read.map_err(|error| error.in_job(&plan.spot))?;
            let notes = zone_notes(&file.path, &found, job.unit);
            // One zone has the name it has in the job; several keep their own.
            if let [zone] = &mut found.zones[..] {
                zone.name = name.into();
            }
            Ok(ReadZones {
                file: Some(file),
                crs: found.crs,
                zones: found.zones,
                notes,
            })
        }
    }
}

/// The strip along a line, whole or in parts between round chainages.
fn strips(
    job: &Job,
    name: &str,
    strip: &StripPlan,
    read: &FilesRead,
) -> Result<ReadZones, JobError> {
    let found = lines::of_job(job, &strip.line, read)?;
    let line = &found.line;
    let between = stretch(line, &strip.between, job.unit)?;
    let mut stops = between.to_vec();
    if let Some(every) = strip.every {
        let round = line.stations(every, MOST_STRIPS);
        let round = round.map_err(|error| LineError::ManyStrips {
            interval: every,
            count: error.count,
        })?;
        let joints = line.joints();
        let is_round = |at: &f64| {
            let count = line.chainage().of(*at) / every;
            (count - count.round()).abs() < 1e-6 || !joints.contains(at)
        };
        stops.extend(round.into_iter().filter(is_round));
    }
    stops.retain(|at| (between[0]..=between[1]).contains(at));
    stops.sort_by(f64::total_cmp);
    stops.dedup_by(|next, before| *next - *before <= 1e-6 * strip.every.unwrap_or(1.0));
    let chord = LengthUnit::Metre.convert(CHORD, job.unit);
    let words = |at: f64| chainage_words(line.chainage().of(at), job.unit, 2);
    let zone = |pair: &[f64]| RawZone {
        name: match strip.every {
            None => name.into(),
            Some(_) => format!("{name} {} to {}", words(pair[0]), words(pair[1])),
        },
        // Which strip of its line it is, whatever it is named.
        feature: format!("{:?} {:?}", strip.offsets, pair),
        parts: vec![vec![line.strip([pair[0], pair[1]], strip.offsets, chord)]],
        ..RawZone::default()
    };
    Ok(ReadZones {
        zones: stops.windows(2).map(zone).collect(),
        file: found.file,
        crs: found.systems[0].clone(),
        notes: Vec::new(),
    })
}

/// What was understood and skipped of a file of zones.
pub(super) fn zone_notes(path: &str, found: &RawZones, to: LengthUnit) -> Vec<Finding> {
    let mut notes = Vec::new();
    if let Some(unit) = found.unit.filter(|&unit| unit != to) {
        notes.push(Finding::new(
            Code::ZoneNotes,
            format!(
                "zones of {path} converted from {} to {}",
                unit.name(),
                to.name()
            ),
        ));
    }
    notes.extend(
        found
            .notes
            .iter()
            .map(|note| Finding::new(Code::ZoneNotes, note).at(format!("zones of {path}"))),
    );
    if found.left_out > 0 {
        notes.push(Finding::new(
            Code::LeftOut,
            format!("{} features of {path} skipped: not areas", found.left_out),
        ));
    }
    if found.unnamed > 0 {
        notes.push(Finding::new(
            Code::Unnamed,
            format!(
                "{} zones of {path} without a name are numbered",
                found.unnamed
            ),
        ));
    }
    notes
}
