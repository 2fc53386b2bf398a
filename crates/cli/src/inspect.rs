//! `inspect`: what is in files, before they are trusted.

mod features;
mod ground;
mod text;

use std::io::{self, Write};
use std::path::Path;

use anstyle::Style;
use dapedon_core::{AreaUnit, Frame, LengthUnit};
use dapedon_job::{
    Extreme, Inspected, Inspection, OddFound, PairFound, inspect, names_are_found, pair,
};
use dapedon_report::number::{grouped, range};
use dapedon_report::{Mark, ground_map};

use crate::args::InspectArgs;
use crate::fault::Fault;
use crate::output::{Outputs, print_result};

/// Odd points and codes that are listed; the JSON lists all.
const LISTED: usize = 8;

pub(crate) fn run(args: &InspectArgs) -> Result<(), Fault> {
    let inputs: Vec<&Path> = args.files.iter().map(|path| path.as_path()).collect();
    let map: Vec<&Path> = args.map.iter().map(|path| path.as_path()).collect();
    if !map.is_empty() && inputs.len() > 1 {
        return Err(Fault::SeveralPictures {
            files: inputs.len(),
        });
    }
    Outputs::check(&map, &inputs)?;
    let reading = args.reading.reading()?;
    let (mut found, mut grounds) = (Vec::new(), Vec::new());
    for path in inputs {
        let (inspection, surfaces) = inspect(path, &reading)?;
        found.push(inspection);
        // Kept for a picture or a comparison only: a file may be as large as memory allows.
        grounds.push(if args.files.len() <= 2 {
            surfaces
        } else {
            Vec::new()
        });
    }
    names_are_found(&reading, &found)?;
    let pair = match (found.as_slice(), grounds.as_slice()) {
        ([a, b], [first, second]) => pair((a, first), (b, second)),
        _ => None,
    };
    let mut staged = Outputs::default();
    if let (Some(path), [surfaces]) = (&args.map, grounds.as_slice()) {
        let odd = found[0].surfaces.first().map_or(&[][..], |s| &s.odd_points);
        let marks = surfaces.first().map(|surface| marks(odd, surface.frame()));
        let picture = ground_map(surfaces, &marks.unwrap_or_default())?;
        staged.stage(path, picture.as_bytes())?;
    }
    let inspected = Inspected::of(found, pair);
    print_result(staged, args.json, &inspected, &map, |mut out| {
        for (index, inspection) in inspected.files.iter().enumerate() {
            if index > 0 {
                writeln!(out)?;
            }
            print(&mut out, inspection)?;
        }
        if let Some(pair) = &inspected.pair {
            writeln!(out)?;
            print_pair(&mut out, pair)?;
        }
        Ok(())
    })
}

/// Odd points as marks on a picture.
pub(crate) fn marks(odd: &[OddFound], frame: Frame) -> Vec<Mark> {
    let mark = |odd: &OddFound| Mark {
        at: frame.to_local(odd.east, odd.north),
        words: format!("{:+.2}", odd.amount).replace('-', "−"),
    };
    odd.iter().take(LISTED).map(mark).collect()
}

fn count(n: usize) -> String {
    grouped(n as f64, 0, " ")
}

fn whole(n: u64) -> String {
    grouped(n as f64, 0, " ")
}

/// An area, in squares of the unit where that is known.
fn area(area: f64, unit: Option<LengthUnit>) -> String {
    let symbol = unit.map_or("", |unit| AreaUnit::usual(unit).symbol());
    format!("{} {symbol}", grouped(area, 1, " "))
        .trim_end()
        .into()
}

fn print(out: &mut impl Write, inspection: &Inspection) -> io::Result<()> {
    let bold = Style::new().bold();
    let file = &inspection.file;
    let bytes = grouped(file.bytes as f64, 0, " ");
    writeln!(
        out,
        "{bold}{}{bold:#}  {}, {bytes} bytes",
        file.path, file.format
    )?;
    if !file.with.is_empty() {
        let others: Vec<&str> = file.with.iter().map(|other| other.path.as_str()).collect();
        writeln!(out, "  with     {}", others.join(", "))?;
    }
    let only_zones = inspection.surfaces.is_empty() && inspection.lines.is_empty();
    let unit = match inspection.unit.as_deref() {
        Some(code) => code,
        None if only_zones => "that of the survey; this file carries none",
        None => "not said",
    };
    writeln!(out, "  unit     {unit}")?;
    if let Some(crs) = &inspection.crs {
        writeln!(out, "  system   {crs}")?;
    }
    if let Some(heights) = &inspection.height_system {
        writeln!(out, "  heights  in {heights}")?;
    }
    if let Some(columns) = &inspection.columns {
        text::columns(out, columns)?;
    }
    text::layers(out, &inspection.layers)?;
    let unit =
        (LengthUnit::ALL.into_iter()).find(|unit| Some(unit.code()) == inspection.unit.as_deref());
    if let Some(cloud) = &inspection.cloud {
        ground::cloud(out, cloud, unit)?;
    }
    for surface in &inspection.surfaces {
        ground::surface(out, surface, unit)?;
    }
    features::lines(out, &inspection.lines)?;
    features::attributes(out, &inspection.attributes)?;
    features::zones(out, &inspection.zones)?;
    for (kind, number) in &inspection.left_out {
        writeln!(out, "  left out {kind}: {}", count(*number))?;
    }
    for warning in &inspection.warnings {
        writeln!(out, "  {bold}odd:{bold:#} {warning}")?;
    }
    Ok(())
}

fn print_pair(out: &mut impl Write, pair: &PairFound) -> io::Result<()> {
    let bold = Style::new().bold();
    writeln!(out, "{bold}Can they be compared?{bold:#}")?;
    let [first, second] = pair.areas;
    let unit =
        (LengthUnit::ALL.into_iter()).find(|unit| Some(unit.code()) == pair.units[0].as_deref());
    writeln!(
        out,
        "  ground   {} and {}, of which both cover {}",
        area(first, unit),
        area(second, unit),
        area(pair.shared, unit)
    )?;
    if let (Some(middle), Some(spread)) = (pair.middle_difference, pair.spread) {
        // Rounded first, so that nothing is not a minus.
        let middle = (middle * 1000.0).round() / 1000.0 + 0.0;
        writeln!(
            out,
            "  heights  the second less the first: {middle:+.3} in the middle, half of the ground within ±{spread:.3} of that"
        )?;
    }
    if pair.warnings.is_empty() {
        writeln!(out, "  nothing stands against it")?;
    }
    for warning in &pair.warnings {
        writeln!(out, "  {bold}odd:{bold:#} {warning}")?;
    }
    Ok(())
}

pub(crate) fn extent(
    out: &mut (impl Write + ?Sized),
    min: Extreme,
    max: Extreme,
) -> io::Result<()> {
    writeln!(out, "  east     {}", range([min.east, max.east], 3))?;
    writeln!(out, "  north    {}", range([min.north, max.north], 3))
}
