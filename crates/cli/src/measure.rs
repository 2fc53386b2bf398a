//! `measure`: all items of the job, or those that are named.

use std::path::PathBuf;

use dapedon_core::plan::Place;
use dapedon_job::{Context, ItemMap, Job, Reading, bill};
use dapedon_report::{
    MapOptions, MapValue, MapWords, Picture, ReportError, Shown, describe, difference_map,
};

use crate::Outcome;
use crate::args::MeasureArgs;
use crate::error::CommandError;
use crate::names;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &MeasureArgs) -> Result<Outcome, CommandError> {
    let job = Job::read(names::job_file(&args.job)?)?;
    let outputs: Vec<PathBuf> = args.csv.iter().chain(&args.reports).cloned().collect();
    names::keep_off(&outputs, &job)?;

    let reading = Reading {
        ignore_crs: args.ignore_crs,
        ..Reading::default()
    };
    let mut files = Outputs::off(&reading.files);
    let (bill, sheets) = telling(|watch| {
        let context = Context {
            reading,
            watch,
            ..Context::of(&job)
        };
        bill(&context, &args.codes)
    })?;

    let pictures = match args.reports.is_empty() {
        false => sheets.iter().map(picture).collect::<Result<_, _>>()?,
        true => Vec::new(),
    };
    let how = args.explain || !args.codes.is_empty();
    let report = describe::bill(&bill, how, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &bill, &report, &outputs)?;
    Ok(match bill.has_findings() {
        true => Outcome::Finding,
        false => Outcome::Done,
    })
}

/// The map of what some items measure.
pub(crate) fn picture(sheet: &ItemMap) -> Result<Picture, ReportError> {
    let ItemMap {
        codes,
        reference,
        surveyed,
        ..
    } = sheet;
    let spots = sheet.spots.iter().map(|spot| MapValue {
        at: Place::new(spot.at[0], spot.at[1]),
        value: spot.difference,
    });
    let mut options = MapOptions::default();
    if !sheet.spots.is_empty() {
        options.shown.push(Shown::Values(spots.collect()));
    }
    let words = match sheet.to_limit {
        true => MapWords::LIMIT,
        false => MapWords::VOLUME,
    };
    let items = if codes.len() == 1 { "Item" } else { "Items" };
    Ok(Picture {
        caption: format!(
            "{items} {}: from {reference} to {surveyed}",
            codes.join(", ")
        ),
        svg: difference_map(&sheet.rows, sheet.tolerance, &sheet.scene, words, &options)?.0,
    })
}
