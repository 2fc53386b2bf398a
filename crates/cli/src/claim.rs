//! `claim`: payment claims drawn up, issued, listed and shown.

use std::path::PathBuf;

use dapedon_job::{
    Claim, ClaimMaps, ClaimStatus, Context, Job, PackRequest, compare_claims, draw_up, issue,
    list_claims, maps_of_claim, pack, show_claim,
};
use dapedon_report::{Picture, csv, describe, page, workbook};

use crate::args::{ClaimCommand, ClaimOutputs, JobArgs};
use crate::error::CommandError;
use crate::measure::picture;
use crate::names::{job_file, keep_off};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(what: &ClaimCommand) -> Result<(), CommandError> {
    match what {
        ClaimCommand::DrawUp(args) => {
            let job = checked(args)?;
            let context = Context::of(&job);
            let drawn = telling(|watch| {
                let context = Context {
                    watch,
                    ..context.clone()
                };
                draw_up(&context, args.number)
            })?;
            written(
                args,
                &context,
                &drawn.claim,
                ClaimMaps::Drawn(drawn.maps),
                None,
            )
        }
        ClaimCommand::Issue(args) => {
            let job = checked(args)?;
            let context = Context::of(&job);
            let issued = telling(|watch| {
                let context = Context {
                    watch,
                    ..context.clone()
                };
                issue(&context, args.number)
            })?;
            let record = Some(issued.path);
            written(
                args,
                &context,
                &issued.claim,
                ClaimMaps::Drawn(issued.maps),
                record,
            )
        }
        ClaimCommand::Show(args) => {
            let job = checked(args)?;
            let claim = show_claim(&job, args.number)?;
            let maps = match args.reports.is_empty() {
                false => telling(|watch| maps_of_claim(&job, args.number, &watch))?,
                true => ClaimMaps::Drawn(Vec::new()),
            };
            written(args, &Context::of(&job), &claim, maps, None)
        }
        ClaimCommand::Compare(args) => {
            let job = read(&args.job)?;
            keep_off(args.csv.as_slice(), &job)?;
            let context = Context::of(&job);
            let numbers = [args.first, args.second];
            let found = telling(|watch| {
                let context = Context {
                    watch,
                    ..context.clone()
                };
                compare_claims(&context, numbers)
            })?;
            let report = describe::compared_claims(&found);
            let mut files = Outputs::off(&context.reading.files);
            files.stage_csv(args.csv.as_ref(), &report)?;
            let outputs: Vec<PathBuf> = args.csv.iter().cloned().collect();
            print_result(files, args.json, &found, &report, &outputs)
        }
        ClaimCommand::Pack(args) => {
            let job = read(&args.job)?;
            keep_off(std::slice::from_ref(&args.to), &job)?;
            let number = args.number;
            let claim = show_claim(&job, number)?;
            let maps = telling(|watch| maps_of_claim(&job, number, &watch))?;
            let report = describe::claim(&claim, pictures(maps)?);
            let html = page(&report, &title(&claim))?;
            let documents = vec![
                (format!("claim-{number}.html"), html.into_bytes()),
                (format!("claim-{number}.csv"), csv(&report)?),
                (
                    format!("claim-{number}.xlsx"),
                    workbook(&report, &title(&claim))?,
                ),
            ];
            let to = args.to.clone();
            let request = PackRequest {
                number,
                to,
                documents,
            };
            let packed = pack(&job, &request)?;
            let report = describe::packed(&packed);
            print_result(Outputs::default(), args.json, &packed, &report, &[])
        }
        ClaimCommand::List(args) => {
            let job = read(&args.job)?;
            keep_off(args.csv.as_slice(), &job)?;
            let list = list_claims(&job)?;
            let report = describe::claim_list(&list);
            let mut files = Outputs::default();
            files.stage_csv(args.csv.as_ref(), &report)?;
            let outputs: Vec<PathBuf> = args.csv.iter().cloned().collect();
            print_result(files, args.json, &list, &report, &outputs)
        }
    }
}

/// The job, by its whole path: a record means the same wherever it was called from.
fn read(args: &JobArgs) -> Result<Job, CommandError> {
    let path = std::path::absolute(job_file(args)?)?;
    Ok(Job::read(&path)?)
}

fn checked(args: &ClaimOutputs) -> Result<Job, CommandError> {
    let job = read(&args.job)?;
    let outputs: Vec<PathBuf> = args.csv.iter().chain(&args.reports).cloned().collect();
    keep_off(&outputs, &job)?;
    Ok(job)
}

/// What a page is called where it is not said.
fn title(claim: &Claim) -> String {
    let draft = match claim.status {
        ClaimStatus::Draft => ", draft",
        ClaimStatus::Issued => "",
    };
    format!("Payment claim {}{draft}", claim.number)
}

/// The maps of a claim, drawn; or why there are none.
fn pictures(maps: ClaimMaps) -> Result<Result<Vec<Picture>, String>, CommandError> {
    Ok(match maps {
        ClaimMaps::Drawn(maps) => Ok(maps.iter().map(picture).collect::<Result<_, _>>()?),
        ClaimMaps::NotDrawn(why) => Err(why),
    })
}

fn written(
    args: &ClaimOutputs,
    context: &Context<'_>,
    claim: &Claim,
    maps: ClaimMaps,
    record: Option<PathBuf>,
) -> Result<(), CommandError> {
    let mut files = Outputs::off(&context.reading.files);
    let pictures = match args.reports.is_empty() {
        false => pictures(maps)?,
        true => Ok(Vec::new()),
    };
    let report = describe::claim(claim, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    let title = args.title.clone().unwrap_or_else(|| title(claim));
    files.stage_reports(&args.reports, &report, &title)?;
    let outputs = args.csv.iter().chain(&args.reports).cloned();
    let outputs: Vec<PathBuf> = outputs.chain(record).collect();
    print_result(files, args.json, claim, &report, &outputs)
}
