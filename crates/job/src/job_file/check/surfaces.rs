//! Surfaces of a job: where they start from, and that none needs itself.

use std::collections::{BTreeMap, BTreeSet};
use std::path::PathBuf;

use dapedon_core::points::{Duplicates, FlatTriangles, Keep, Rules};
use dapedon_core::surface::FARTHEST;
use dapedon_formats::CodeUses;
use dapedon_formats::delimited::parse_roles;
use toml::Spanned;

use super::super::entries::{
    AccuracyEntry, DuplicatesEntry, FlatTrianglesEntry, JobEntries, KeepEntry, Name, ReadingEntry,
    SurfaceEntry, all,
};
use super::super::{BuildUpPlan, JobFileError, LinePlan, Start, StepAction, SurfacePlan};
use super::dates::date;
use super::{JobFileText, steps, typical_sections};
use crate::accuracy::{AccuracyError, StatedAccuracy};
use crate::input::{ClassesError, CloudRules, FilesRead, Memory, Reading, Source, Thin};
use crate::units::UnitCode;

/// Checks all surfaces.
pub(super) fn surfaces(
    sheet: &JobFileText<'_>,
    entries: &JobEntries,
    zones: &BTreeSet<&str>,
    build_ups: &BTreeMap<String, BuildUpPlan>,
    readings: &BTreeMap<String, Reading>,
    lines: &BTreeMap<String, LinePlan>,
) -> Result<BTreeMap<String, SurfacePlan>, JobFileError> {
    let names: BTreeSet<&str> = entries
        .surfaces
        .keys()
        .map(|name| name.get_ref().as_str())
        .collect();
    let sections = typical_sections::all(sheet, &entries.typical_sections)?;
    let known = steps::KnownNames {
        surfaces: &names,
        zones,
        lines,
        sections: &sections,
        build_ups,
    };
    let mut plans = BTreeMap::new();
    for (name, entry) in &entries.surfaces {
        let start = start(sheet, name, entry, &names, readings)?;
        if !matches!(start, Start::File(..)) {
            only_for_files(sheet, name, entry)?;
        }
        let steps = entry
            .steps
            .iter()
            .map(|step| steps::step(sheet, step, &known));
        let plan = SurfacePlan {
            start,
            steps: steps.collect::<Result<_, _>>()?,
            finished: entry.finished,
            accuracy: accuracy(sheet, entry)?,
            date: (entry.date.as_ref())
                .map(|day| date(sheet, day))
                .transpose()?,
            spot: sheet.spot(name.span()),
        };
        plans.insert(name.get_ref().clone(), plan);
    }
    // A surface that build-ups start from is a finished level, whether the job file states it or not.
    let finished: Vec<String> = (plans.values())
        .filter(|plan: &&SurfacePlan| {
            matches!(
                plan.steps.first().map(|step| &step.act),
                Some(StepAction::BuildUp { .. })
            )
        })
        .filter_map(|plan| match &plan.start {
            Start::Surface(name) => Some(name.clone()),
            Start::File(..) | Start::Level(_) => None,
        })
        .collect();
    for name in finished {
        if let Some(plan) = plans.get_mut(&name) {
            plan.finished = true;
        }
    }
    no_loop(sheet, entries, &plans)?;
    Ok(plans)
}

/// How accurate a surface is stated to be.
fn accuracy(
    sheet: &JobFileText<'_>,
    entry: &SurfaceEntry,
) -> Result<Option<StatedAccuracy>, JobFileError> {
    let Some(stated) = &entry.accuracy else {
        return Ok(None);
    };
    let read = match stated.get_ref() {
        AccuracyEntry::Words(text) => text.parse(),
        AccuracyEntry::Numbers(numbers) => numbers.stated(),
    };
    // What no survey is off by is refused where it stands, not first when it is measured.
    let found = read.and_then(|stated| stated.resolved([sheet.unit; 2], None).map(|_| stated));
    let fault =
        |error: AccuracyError| sheet.fault(stated.span(), error.to_string(), error.remedy());
    found.map(Some).map_err(fault)
}

fn start(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &SurfaceEntry,
    names: &BTreeSet<&str>,
    readings: &BTreeMap<String, Reading>,
) -> Result<Start, JobFileError> {
    match (&entry.file, &entry.level, &entry.start) {
        (Some(file), None, None) => {
            let source = source(sheet, file.get_ref());
            let mut own = Reading {
                usual_unit: Some(sheet.unit),
                ..reading(sheet, &entry.reading())?
            };
            if let Some(read_as) = &entry.read_as {
                let known = readings.keys().map(String::as_str).collect();
                let kept = sheet.known(read_as, "reading", &known)?;
                if let Some(kept) = readings.get(&kept) {
                    own = own.over(kept);
                }
            }
            Ok(Start::File(source, Box::new(own)))
        }
        (None, Some(level), None) => {
            if level.get_ref().is_nan() || level.get_ref().abs() > FARTHEST {
                let what = format!("{} is not a height", level.get_ref());
                return Err(sheet.fault(level.span(), what, "correct it"));
            }
            Ok(Start::Level(*level.get_ref()))
        }
        (None, None, Some(start)) => Ok(Start::Surface(sheet.known(start, "surface", names)?)),
        (None, None, None) => {
            let what = format!(
                "the surface \"{}\" has no file, level or start",
                name.get_ref()
            );
            let remedy = "add one of file = \"...\", level = ... and start = \"another surface\"";
            Err(sheet.fault(name.span(), what, remedy))
        }
        _ => {
            let what = format!(
                "the surface \"{}\" has more than one of file, level and start",
                name.get_ref()
            );
            Err(sheet.fault(name.span(), what, "keep one of them"))
        }
    }
}

/// The files of a surface, as they are named from the job file's folder.
fn source(sheet: &JobFileText<'_>, text: &str) -> Source {
    let parts: Vec<PathBuf> = text.split('+').map(|part| sheet.file(part)).collect();
    let several = parts.len() > 1 && text.split('+').all(|part| !part.is_empty());
    if several && !sheet.file(text).exists() {
        return Source::Files(parts);
    }
    let (path, name) = sheet.file_and_name(text);
    Source::File { path, name }
}

/// How files are read, by its keys.
pub(super) fn reading(
    sheet: &JobFileText<'_>,
    entry: &ReadingEntry,
) -> Result<Reading, JobFileError> {
    let mut take = CodeUses::default();
    for words in all(&entry.codes) {
        take.add(words.get_ref()).map_err(|error| {
            let remedy = "write it as in codes = \"CREST=breakline,LIMIT=edge\"";
            sheet.fault(words.span(), error.to_string(), remedy)
        })?;
    }
    let columns = match &entry.columns {
        None => None,
        Some(columns) => Some(
            parse_roles(columns.get_ref())
                .map_err(|error| sheet.fault(columns.span(), error.to_string(), error.remedy()))?,
        ),
    };
    let length = |value: &Option<Spanned<f64>>| match value {
        Some(value) if *value.get_ref() > 0.0 && value.get_ref().is_finite() => {
            Ok(Some(*value.get_ref()))
        }
        Some(value) => {
            let what = format!("{} is not above zero", value.get_ref());
            Err(sheet.fault(value.span(), what, "correct it"))
        }
        None => Ok(None),
    };
    let classes = match &entry.classes {
        None => Default::default(),
        Some(class) => class.get_ref().parse().map_err(|error: ClassesError| {
            sheet.fault(class.span(), error.to_string(), "correct it")
        })?,
    };
    Ok(Reading {
        columns,
        take,
        unit: entry.unit.map(|UnitCode(unit)| unit),
        override_unit: entry.override_unit,
        usual_unit: None,
        named: None,
        memory: Memory::default(),
        nodata: entry.nodata,
        rules: Rules {
            max_edge: length(&entry.max_edge)?,
            flat: match entry.flat_triangles {
                None | Some(FlatTrianglesEntry::Keep) => FlatTriangles::Keep,
                Some(FlatTrianglesEntry::Drop) => FlatTriangles::Drop,
                Some(FlatTrianglesEntry::Relax) => FlatTriangles::Relax,
            },
            duplicates: entry
                .duplicates
                .map_or(Duplicates::Refuse, |rule| match rule {
                    DuplicatesEntry::First => Duplicates::First,
                    DuplicatesEntry::Last => Duplicates::Last,
                    DuplicatesEntry::Lowest => Duplicates::Lowest,
                    DuplicatesEntry::Highest => Duplicates::Highest,
                    DuplicatesEntry::Mean => Duplicates::Mean,
                }),
        },
        drop_outliers: entry.drop_outliers,
        outline: entry
            .outline
            .as_ref()
            .map(|outline| sheet.file(outline.get_ref())),
        name_attribute: entry.name_attribute.clone(),
        height_by: entry.height_by.clone(),
        cloud: CloudRules {
            classes,
            thin: length(&entry.thin)?.map(Thin::Cell),
            keep: entry.keep.map_or(Keep::Median, |keep| match keep {
                KeepEntry::Lowest => Keep::Lowest,
                KeepEntry::Mean => Keep::Mean,
                KeepEntry::Median => Keep::Median,
                KeepEntry::Highest => Keep::Highest,
            }),
            triangulate: entry.triangulate,
        },
        ignore_crs: false,
        files: FilesRead::default(),
    })
}

/// What says how a file is read stands with a file.
fn only_for_files(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &SurfaceEntry,
) -> Result<(), JobFileError> {
    let said = [
        ("as", entry.read_as.is_some()),
        ("unit", entry.unit.is_some()),
        ("override-unit", entry.override_unit),
        ("columns", entry.columns.is_some()),
        ("codes", entry.codes.is_some()),
        ("nodata", entry.nodata.is_some()),
        ("duplicates", entry.duplicates.is_some()),
        ("max-edge", entry.max_edge.is_some()),
        ("flat-triangles", entry.flat_triangles.is_some()),
        ("drop-outliers", entry.drop_outliers),
        ("outline", entry.outline.is_some()),
        ("name-attribute", entry.name_attribute.is_some()),
        ("height-by", entry.height_by.is_some()),
        ("classes", entry.classes.is_some()),
        ("thin", entry.thin.is_some()),
        ("keep", entry.keep.is_some()),
        ("triangulate", entry.triangulate),
    ];
    match said.into_iter().find(|(_, said)| *said) {
        None => Ok(()),
        Some((key, _)) => {
            let what = format!(
                "{key} is for reading a file, and the surface \"{}\" has none",
                name.get_ref()
            );
            Err(sheet.fault(
                name.span(),
                what,
                format!("remove {key}, or move it to the surface with the file"),
            ))
        }
    }
}

/// Surfaces that are made from each other, one below the other, at most.
const DEEPEST: usize = 100;

/// No surface needs itself, however far round, or more others in a row than can be followed.
fn no_loop(
    sheet: &JobFileText<'_>,
    entries: &JobEntries,
    plans: &BTreeMap<String, SurfacePlan>,
) -> Result<(), JobFileError> {
    /// How deep what a surface is made of goes; or else those that need each other, or are too deep.
    fn depth<'p>(
        name: &'p str,
        plans: &'p BTreeMap<String, SurfacePlan>,
        path: &mut Vec<&'p str>,
        known: &mut BTreeMap<&'p str, usize>,
    ) -> Result<usize, SurfaceOrderError<'p>> {
        if let Some(from) = path.iter().position(|&other| other == name) {
            return Err(SurfaceOrderError::Loop(path[from..].to_vec()));
        }
        if let Some(&depth) = known.get(name) {
            return Ok(depth);
        }
        path.push(name);
        let mut own = 1;
        let needed = plans.get(name).map(SurfacePlan::needs).unwrap_or_default();
        for next in needed {
            if path.len() > DEEPEST {
                return Err(SurfaceOrderError::Deep(path[0]));
            }
            own = own.max(1 + depth(next, plans, path, known)?);
        }
        path.pop();
        known.insert(name, own);
        match own > DEEPEST {
            true => Err(SurfaceOrderError::Deep(name)),
            false => Ok(own),
        }
    }
    let mut known = BTreeMap::new();
    for name in plans.keys() {
        let Err(wrong) = depth(name, plans, &mut Vec::new(), &mut known) else {
            continue;
        };
        let (first, what, remedy) = match wrong {
            SurfaceOrderError::Loop(mut found) => {
                let first = found[0];
                found.push(first);
                let what = format!(
                    "the surface \"{first}\" is made from itself: {}",
                    found.join(", made from ")
                );
                (first, what, "start one of them from a file")
            }
            SurfaceOrderError::Deep(first) => {
                let what = format!(
                    "the surface \"{first}\" is made from a chain of more than {DEEPEST} surfaces"
                );
                (first, what, "join the steps of several surfaces")
            }
        };
        let mut keys = entries.surfaces.keys();
        let span = keys.find(|key| key.get_ref() == first).map(Spanned::span);
        return Err(sheet.fault(span.unwrap_or(0..0), what, remedy));
    }
    Ok(())
}

/// Why surfaces cannot be made from each other.
enum SurfaceOrderError<'p> {
    Loop(Vec<&'p str>),
    Deep(&'p str),
}

impl SurfacePlan {
    /// The surfaces it is made of.
    pub(crate) fn needs(&self) -> Vec<&str> {
        let start = match &self.start {
            Start::Surface(name) => Some(name.as_str()),
            Start::File(..) | Start::Level(_) => None,
        };
        let steps = self.steps.iter().flat_map(|step| step.act.needs());
        start.into_iter().chain(steps).collect()
    }
}
