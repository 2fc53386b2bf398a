//! `demo`: the sample job, written and run from end to end.

mod april;
mod claims;
mod files;
mod may;
mod outputs;
mod road;
mod terrain;
mod yard;

use std::fs;
use std::path::Path;

use anstyle::Style;
use clap::Parser;
use dapedon_job::JOB_FILE;

use crate::args::{Args, DemoArgs};
use crate::error::CommandError;
use crate::output::Outputs;

/// The codes along which the ground breaks.
const BREAKS: &str = "crest,toe,strip,floor,bench,pit top,bund top,bund toe=breakline";

pub(crate) fn run(args: &DemoArgs) -> Result<(), CommandError> {
    let folder = &args.folder;
    let fault = |source| CommandError::Write {
        path: folder.clone(),
        source,
    };
    let files = files::all().map_err(fault)?;
    nobody_elses(folder, &files)?;
    fs::create_dir_all(folder).map_err(fault)?;
    let mut inputs = Outputs::default();
    for file in &files {
        inputs.stage(&folder.join(file.name), &file.bytes)?;
    }
    let bold = Style::new().bold();
    inputs.finish(|out| {
        writeln!(
            out,
            "{bold}Tern Reach flood bank{bold:#}, a made-up job: an earth bank along a river, clay from a borrow"
        )?;
        writeln!(out, "pit beside it, and the stripped topsoil stored in a bund.")
    })?;
    let at = |name: &str| folder.join(name).display().to_string();
    let survey = at("survey-march.csv");
    step(
        "Inspect the files: the designer's ground, the surveyor's pick-up, the limits of work.",
        &["inspect", &at("ground.xml"), &survey, &at("zones.geojson")],
    )?;
    step(
        "Make a surface from the pick-up. It has no unit, so the unit is given; points with the codes of\nbreaklines are joined into lines. The surface is written as a drawing for the designer.",
        &[
            "surface",
            &survey,
            "--unit",
            "m",
            "--codes",
            BREAKS,
            "--out",
            &at("march.dxf"),
            "--map",
            &at("march-ground.svg"),
        ],
    )?;
    step(
        "Measure cut and fill from the ground to the survey, zone by zone, with a map and a report.",
        &[
            "volume",
            &at("ground.xml"),
            &survey,
            "--unit",
            "m",
            "--codes",
            BREAKS,
            "--zone",
            &at("zones.geojson"),
            "--tolerance",
            "0.05",
            "--bands",
            "step=1",
            "--title",
            "Tern Reach flood bank: earthworks to the end of March",
            "--map",
            &at("march.svg"),
            "--report",
            &at("march.html"),
        ],
    )?;
    let job = at("dapedon.toml");
    step(
        "The job file names surfaces and zones, and adds what the drawings leave out: the bank is filled to its\ncore, below the topsoil. Measure the fill still to place up to the core, and compare with the finished level.",
        &[
            "volume",
            "march",
            "bank core",
            "--job",
            &job,
            "--zone",
            "flood bank",
            "--map",
            &at("left-to-place.svg"),
        ],
    )?;
    step(
        "Show where the difference lies: a map on A3 paper with spot values, contours and the haul road, in the bands\nthat the job keeps for every month.",
        &[
            "volume",
            "ground",
            "march",
            "--job",
            &job,
            "--tolerance",
            "0.05",
            "--bands",
            "monthly",
            "--zone",
            "flood bank",
            "--zone",
            "borrow pit",
            "--zone",
            "topsoil bund",
            "--map",
            &at("march-a3.png"),
            "--paper",
            "a3",
            "--dpi",
            "100",
            "--show",
            "spots=30",
            "--show",
            "contours=1",
            "--show",
            "line=haul road",
        ],
    )?;
    step(
        "Follow the haul road: heights of the ground and of the formation every 20 m, in both lanes and at both edges.",
        &[
            "spots",
            "ground",
            "haul road formation",
            "--job",
            &job,
            "--line",
            "haul road",
            "--every",
            "20",
            "--offsets",
            "-4,-2,2,4",
            "--out",
            &at("haul-road-spots.dxf"),
            "--csv",
            &at("haul-road-spots.csv"),
        ],
    )?;
    step(
        "Check the earthworks of the bank by cross-sections along its line: end areas every 20 m, beside the volume\nbetween the surfaces over the same strip; then how the cut is hauled to the fill.",
        &[
            "sections",
            "ground",
            "march",
            "--job",
            &job,
            "--line",
            "flood bank",
            "--every",
            "20",
            "--width",
            "15",
            "--curve-correction",
            "--mass-haul",
            "--shrink",
            "10%",
            "--free-haul",
            "50",
            "--csv",
            &at("bank-sections.csv"),
            "--sheets",
            &at("bank-sections.svg"),
            "--sheets",
            &at("bank-sections.dxf"),
            "--title",
            "Tern Reach flood bank: cross-sections to the end of March",
            "--report",
            &at("bank-sections.html"),
        ],
    )?;
    step(
        "Cut a profile through the bank and the pit, from place to place.",
        &[
            "profile",
            "ground",
            "march",
            "--job",
            &job,
            "--through",
            "412124,5861161",
            "--through",
            "412236,5861022",
            "--sheets",
            &at("profile.svg"),
        ],
    )?;
    step(
        "Plan which cut goes to which fill with the least haul; what is left over goes to a tip in the corner of the site.",
        &[
            "haul",
            "ground",
            "march",
            "--job",
            &job,
            "--zone",
            &at("zones.geojson"),
            "--shrink",
            "10%",
            "--tip",
            "name=tip,east=412020,north=5861030",
            "--map",
            &at("haul.svg"),
        ],
    )?;
    step(
        "Draw the contours of the March survey, for the designer and as a map.",
        &[
            "contours",
            "march",
            "--job",
            &job,
            "--interval",
            "0.5",
            "--out",
            &at("march-contours.dxf"),
            "--map",
            &at("march-contours.svg"),
        ],
    )?;
    step(
        "The haul road follows an alignment, with side slopes down to the ground and two build-ups side by side.\nShow how its formation is made, and the quantities of the layers.",
        &[
            "surface",
            "haul road formation",
            "--job",
            &job,
            "--map",
            &at("haul-road.svg"),
            "--out",
            &at("haul-road-formation.xml"),
        ],
    )?;
    step(
        "Measure cut and fill for the haul road, down to the formation below its layers.",
        &["volume", "ground", "haul road formation", "--job", &job],
    )?;
    step(
        "A stretch of the formation is handed over: check it against the design, 20 mm above to 30 mm below. Two spots are\nout: the exit code is 1. Their outlines go to the grader.",
        &[
            "conformity",
            "haul road formation",
            "road as built",
            "--job",
            &job,
            "--zone",
            "finished stretch",
            "--above",
            "0.02",
            "--below",
            "0.03",
            "--out",
            &at("road-out-of-tolerance.geojson"),
            "--map",
            &at("road-conformity.svg"),
            "--report",
            &at("road-conformity.html"),
        ],
    )?;
    step(
        "Find the level at which the compound's cut makes its fill, with 25 % swell and 10 % shrink.\nUp to ten cubic metres may be left over.",
        &[
            "balance",
            "ground",
            "compound",
            "--job",
            &job,
            "--platform",
            "compound",
            "--swell",
            "25%",
            "--shrink",
            "10%",
            "--max-leftover",
            "10",
            "--curve",
            &at("compound-balance.svg"),
        ],
    )?;
    step(
        "The stockpile yard is flown at the end of April. Inspect the point cloud and the authority's terrain\ngrid, and check whether the two can be compared.",
        &["inspect", &at("authority-ground.tif"), &at("yard.laz")],
    )?;
    step(
        "Measure the piles from the terrain grid up to the cloud, within outlines from a map.",
        &[
            "volume",
            &at("authority-ground.tif"),
            &at("yard.laz"),
            "--thin",
            "0.5",
            "--zone",
            &at("piles.shp"),
            "--tolerance",
            "0.05",
            "--map",
            &at("yard.svg"),
        ],
    )?;
    step(
        "The ground under the piles was not surveyed. Measure each pile above its own toe, compare other bases, and\nfind the mass: the outlines give the material, the job file its density.",
        &[
            "pile",
            "yard",
            "--job",
            &job,
            "--zone",
            &at("piles.shp"),
            "--material-attribute",
            "material",
            "--compare-bases",
            "--previous",
            "ground",
            "--csv",
            &at("piles.csv"),
            "--report",
            &at("piles.html"),
        ],
    )?;
    step(
        "Find the piles without outlines. Their outlines are written, to be corrected and used as zones.",
        &[
            "pile",
            "yard",
            "--job",
            &job,
            "--outlines",
            &at("piles-found.geojson"),
            "--map",
            &at("piles-found.svg"),
        ],
    )?;
    step(
        "Measure the topsoil bund of the March survey as a pile.",
        &[
            "pile",
            "march",
            "--job",
            &job,
            "--zone",
            "topsoil bund",
            "--material",
            "topsoil",
            "--compare-bases",
        ],
    )?;
    step(
        "Measure the pit down to a level, in depth slices of half a metre.",
        &[
            "volume",
            "ground",
            "level=22.5",
            "--job",
            &job,
            "--zone",
            "borrow pit",
            "--by-depth",
            "0.5",
        ],
    )?;
    step(
        "List the volume of the lagoon every quarter metre up to 0.3 m below its bund, and write the waterline at\nlevel 25 as a zone.",
        &[
            "capacity",
            "lagoon",
            "--job",
            &job,
            "--pool",
            "412128,5861079",
            "--step",
            "0.25",
            "--freeboard",
            "0.3",
            "--volume",
            "1500",
            "--waterline",
            &format!("25={}", at("lagoon-water.geojson")),
            "--csv",
            &at("lagoon.csv"),
            "--curve",
            &at("lagoon.svg"),
        ],
    )?;
    step(
        "List the volume of the pit by level, if it filled with water, up to 0.1 m below its spill level, and find\nthe level of 5000 m³.",
        &[
            "capacity",
            "march",
            "--job",
            &job,
            "--pool",
            "412230,5861060",
            "--step",
            "0.25",
            "--freeboard",
            "0.1",
            "--volume",
            "5000",
            "--curve",
            &at("pit.svg"),
        ],
    )?;
    step(
        "Check the survey of April against that of March on the terrace, which nobody touched, and look for more such\nground. The survey is shifted: the job file says why, and corrects it before anything is paid by it.",
        &[
            "volume",
            "march",
            "april",
            "--job",
            &job,
            "--zone",
            "borrow pit",
            "--second-opinion",
            "--untouched",
            "terrace",
            "--propose-untouched",
            &at("untouched-found.geojson"),
            "--report",
            &at("april.html"),
        ],
    )?;
    step(
        "Measure the bill: twenty items over these surfaces. One differs from its contract quantity by more than\nthe job allows, and the formation has spots out of tolerance: both are marked, and the exit code is 1. The report shows how each quantity is computed.",
        &[
            "measure",
            "--job",
            &job,
            "--title",
            "Tern Reach flood bank: measured bill",
            "--csv",
            &at("bill.csv"),
            "--report",
            &at("bill.html"),
        ],
    )?;
    step(
        "Show the computation of one item.",
        &["measure", "2.1", "--job", &job],
    )?;
    step(
        "Follow the pit from survey to survey: what was dug in each month, and what was filled again; how much is left,\nand when it is done at this pace.",
        &[
            "progress",
            "--job",
            &job,
            "--title",
            "Tern Reach flood bank: progress of the borrow pit",
            "--csv",
            &at("progress.csv"),
            "--report",
            &at("progress.html"),
        ],
    )?;

    claims::issued(folder)?;
    let steps = [
        (
            "1",
            "The first payment claim, to the end of March. It was issued as a record that does not change.",
        ),
        (
            "2",
            "The second claim counts from the record of the first. In April the pit was dug deeper than agreed: that is
measured, and not claimed.",
        ),
        (
            "3",
            "In the third, the difference that the engineer did not certify is claimed again, and what the first claim had
wrong is a line of its own.",
        ),
    ];
    for (number, why) in steps {
        let page = at(&format!("claim-{number}.html"));
        step(
            why,
            &["claim", "show", number, "--job", &job, "--report", &page],
        )?;
    }
    step(
        "A year later: is each claim what it was? All are rebuilt from their inputs.",
        &["audit", &folder.display().to_string()],
    )?;

    let channel = at("channel.toml");
    step(
        "A second, small job is in US survey feet: a channel as a typical section along its line, with benches. Its sections\nhave stations, its volumes are cubic yards. Where the bedding ends there is an upright face: a section on it has\ntwo areas.",
        &[
            "sections",
            "ground",
            "channel formation",
            "--job",
            &channel,
            "--line",
            "centerline",
            "--to",
            "14+50",
            "--every",
            "50",
            "--width",
            "60",
            "--sheets",
            &at("channel-sections.svg"),
        ],
    )?;
    step(
        "Measure its bill: excavation by sections, and stone bedding by stretches of a hundred feet.",
        &["measure", "--job", &channel],
    )?;

    let inputs = files.iter().map(|file| (file.name, file.what));
    Outputs::default().finish(|out| {
        writeln!(out, "\n{bold}Files{bold:#}")?;
        for (name, what) in inputs.chain(outputs::OUTPUTS.iter().copied()) {
            writeln!(out, "  {:<34} {what}", at(name))?;
        }
        Ok(())
    })
}

/// Shows the command a person would type, and runs it.
fn step(why: &str, arguments: &[&str]) -> Result<(), CommandError> {
    let (bold, faint) = (Style::new().bold(), Style::new().dimmed());
    let quoted = arguments.iter().map(|argument| {
        if argument.contains([' ', '#']) {
            format!("\"{argument}\"")
        } else {
            (*argument).to_owned()
        }
    });
    let typed = quoted.collect::<Vec<_>>().join(" ");
    Outputs::default().finish(|out| {
        writeln!(out, "\n{why}")?;
        writeln!(out, "{faint}${faint:#} {bold}dapedon {typed}{bold:#}\n")
    })?;
    match Args::try_parse_from(["dapedon"].iter().chain(arguments)) {
        Ok(args) => crate::run(args.command).map(|_| ()),
        Err(error) => error.exit(),
    }
}

/// The sample job goes into a folder where none of its files stands, or which holds the sample job already: the file of
/// another job, or a survey of that name, is never written over.
fn nobody_elses(folder: &Path, files: &[files::SampleFile]) -> Result<(), CommandError> {
    let job = folder.join(JOB_FILE);
    let is_ours = fs::read_to_string(&job).is_ok_and(|text| text.contains(files::OURS));
    let taken = files.iter().map(|file| folder.join(file.name));
    match taken.into_iter().find(|path| path.exists()) {
        Some(path) if !is_ours => Err(CommandError::NotTheSample { path }),
        _ => Ok(()),
    }
}
