//! `demo`: the sample job, written and run from end to end.

mod files;
mod terrain;
mod yard;

use std::fs;
use std::path::Path;

use anstyle::Style;
use clap::Parser;
use dapedon_job::JOB_FILE;

use crate::args::{Args, DemoArgs};
use crate::fault::Fault;
use crate::output::Outputs;

/// The codes along which the ground breaks.
const BREAKS: &str = "crest,toe,strip,floor,bench,pit top,bund top,bund toe=breakline";

pub(crate) fn run(args: &DemoArgs) -> Result<(), Fault> {
    let folder = &args.folder;
    let fault = |source| Fault::Write {
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
        "First a look at what was handed over: the designer's ground, the surveyor's pick-up, the limits.",
        &["inspect", &at("ground.xml"), &survey, &at("zones.geojson")],
    )?;
    step(
        "The pick-up carries no unit, so it is said; and its codes say where the ground breaks. Points of one\n\
         string are joined, and no triangle crosses them. The surface goes to the designer as a drawing.",
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
        "What was cut and filled from the ground to the survey, zone by zone, with a map and a page to send.",
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
        "A job file gives names to all of this, and says what the drawings leave out: the bank is placed to its core,\n\
         below the topsoil. What is left to place, from the survey up to the core; and what it would be to the\n\
         finished level.",
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
        "The haul road follows a line, its sides run out until they meet the ground, and two build-ups lie in it side\n\
         by side. The formation below them, how it came about, and what the layers come to:",
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
        "What is dug and filled for it. Measured to the finished road, the layers would be forgotten.",
        &["volume", "ground", "haul road formation", "--job", &job],
    )?;
    step(
        "At what level the compound's cut makes its fill: what is dug swells by a quarter on the lorry, and shrinks by\n\
         a tenth once it is rolled. Ten cubic metres either way will do.",
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
        "At the end of April the stockpile yard is flown. What the cloud and the authority's ground hold, and\n\
         whether the two can be compared:",
        &["inspect", &at("authority-ground.tif"), &at("yard.laz")],
    )?;
    step(
        "What lies in the piles, from the authority's ground up to the cloud's, within outlines from a map.",
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
        "Nobody surveyed what the piles stand on. Each above a base through its own toe, what other bases make of it, and\n\
         what that weighs: the outlines say the material, the job its density.",
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
        "Without outlines the piles are found, and their outlines can be corrected and used as zones.",
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
        "The topsoil bund of the March survey, as a pile.",
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
        "What the pit gives down to a level, in lifts of half a metre: single and running.",
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
        "What the lagoon holds, every quarter metre up to 0.3 m below its bund, and the outline of its water at 25 as a\n\
         zone.",
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
        "And what the pit holds, should it fill with water: level by level up to a hand's breadth below where it would\n\
         run over, and the level of 5000 m³.",
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
        "The bill: seventeen items over these surfaces, each overlay made once. One of them is off its contract quantity\n\
         by more than the bill allows, and is marked; a script would be told by exit code 1. The page shows how each\n\
         quantity comes about.",
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
        "One of its lines in full.",
        &["measure", "2.1", "--job", &job],
    )?;

    let outputs = [
        ("march.dxf", "the surveyed surface, as a drawing"),
        ("march-ground.svg", "a picture of it"),
        ("march.svg", "the map"),
        (
            "march.html",
            "the report: open it in a browser, or print it",
        ),
        ("left-to-place.svg", "the map of what is left to place"),
        ("haul-road.svg", "a picture of the haul road's formation"),
        (
            "haul-road-formation.xml",
            "the formation, to set out (LandXML)",
        ),
        ("compound-balance.svg", "the curve of the balance"),
        ("yard.svg", "the map of the piles"),
        ("piles.csv", "the piles, for a spreadsheet"),
        ("piles.html", "the piles as a page, to send or print"),
        (
            "piles-found.geojson",
            "the outlines of piles that were found",
        ),
        ("piles-found.svg", "a map of them"),
        (
            "lagoon-water.geojson",
            "the outline of the lagoon's water at 25",
        ),
        ("lagoon.csv", "what the lagoon holds, for a spreadsheet"),
        ("lagoon.svg", "the curve of what the lagoon holds"),
        ("pit.svg", "the curve of what the pit holds"),
        ("bill.csv", "the bill, for a spreadsheet"),
        ("bill.html", "the bill as a page, to send or print"),
    ];
    let inputs = files.iter().map(|file| (file.name, file.what));
    Outputs::default().finish(|out| {
        writeln!(out, "\n{bold}Files{bold:#}")?;
        for (name, what) in inputs.chain(outputs) {
            writeln!(out, "  {:<32} {what}", at(name))?;
        }
        Ok(())
    })
}

/// Shows the command a person would type, and runs it.
fn step(why: &str, arguments: &[&str]) -> Result<(), Fault> {
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
fn nobody_elses(folder: &Path, files: &[files::SampleFile]) -> Result<(), Fault> {
    let job = folder.join(JOB_FILE);
    let is_ours = fs::read_to_string(&job).is_ok_and(|text| text.contains(files::OURS));
    let taken = files.iter().map(|file| folder.join(file.name));
    match taken.into_iter().find(|path| path.exists()) {
        Some(path) if !is_ours => Err(Fault::NotTheSample { path }),
        _ => Ok(()),
    }
}
