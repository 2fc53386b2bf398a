//! `inspect`: what is in files, before they are trusted.

use std::io::Write;

use anstyle::Style;
use dapedon_job::{Content, Extreme, Inspection, inspect};
use dapedon_report::number::grouped;

use crate::args::InspectArgs;
use crate::fault::Fault;
use crate::table::table;

pub(crate) fn run(args: &InspectArgs) -> Result<(), Fault> {
    let unit = args.reading.unit.map(Into::into);
    let look = |path: &std::path::PathBuf| inspect(path, args.reading.roles().as_deref(), unit);
    let found = args.files.iter().map(look).collect::<Result<Vec<_>, _>>()?;
    let mut out = anstream::stdout().lock();
    if args.json {
        writeln!(out, "{}", serde_json::to_string_pretty(&found)?)?;
        return Ok(());
    }
    for (index, inspection) in found.iter().enumerate() {
        if index > 0 {
            writeln!(out)?;
        }
        print(&mut out, inspection)?;
    }
    Ok(())
}

fn print(out: &mut impl Write, inspection: &Inspection) -> std::io::Result<()> {
    let bold = Style::new().bold();
    let Inspection {
        file,
        unit,
        content,
        warnings,
        ..
    } = inspection;
    let count = |n: usize| grouped(n as f64, 0, " ");
    let bytes = grouped(file.bytes as f64, 0, " ");
    writeln!(
        out,
        "{bold}{}{bold:#}  {}, {bytes} bytes",
        file.path, file.format
    )?;
    let unit = match unit {
        Some(code) => (*code).to_owned(),
        None => "not said".into(),
    };
    match content {
        Content::Points(points) => {
            writeln!(out, "  unit     {unit}")?;
            writeln!(
                out,
                "  points   {}, fields parted by {}",
                count(points.points),
                points.delimiter
            )?;
            writeln!(out, "  columns  {}", pairs(&points.columns, &points.first))?;
            let header = points
                .header
                .as_ref()
                .map_or("none; named with --columns".into(), |h| h.join(", "));
            writeln!(out, "  header   {header}")?;
            extent(out, points.min, points.max)?;
            writeln!(
                out,
                "  heights  {:.3} to {:.3}",
                points.heights[0], points.heights[1]
            )?;
        }
        Content::Surfaces(surfaces) => {
            writeln!(out, "  unit     {unit}")?;
            let rows = surfaces.iter().map(|s| {
                let range = |from: f64, to: f64| format!("{from:.1} to {to:.1}");
                [
                    s.name.clone(),
                    count(s.points),
                    count(s.facets),
                    grouped(s.area, 1, " "),
                    range(s.min.east, s.max.east),
                    range(s.min.north, s.max.north),
                    format!("{:.2} to {:.2}", s.heights[0], s.heights[1]),
                ]
            });
            let heading = [
                "surface",
                "points",
                "facets",
                "plan area",
                "east",
                "north",
                "heights",
            ];
            writeln!(
                out,
                "{}",
                table(heading.map(String::from), rows.collect(), None)
            )?;
        }
        Content::Zones(zones) => {
            writeln!(
                out,
                "  unit     that of the survey; this format carries none"
            )?;
            let rows = zones.iter().map(|z| {
                let range = |from: f64, to: f64| format!("{from:.1} to {to:.1}");
                [
                    z.name.clone(),
                    count(z.parts),
                    count(z.holes),
                    count(z.corners),
                    grouped(z.area, 1, " "),
                    range(z.min.east, z.max.east),
                    range(z.min.north, z.max.north),
                ]
            });
            let heading = ["zone", "parts", "holes", "corners", "area", "east", "north"];
            writeln!(
                out,
                "{}",
                table(heading.map(String::from), rows.collect(), None)
            )?;
        }
    }
    for warning in warnings {
        writeln!(out, "  {bold}odd:{bold:#} {warning}")?;
    }
    Ok(())
}

fn extent(out: &mut impl Write, min: Extreme, max: Extreme) -> std::io::Result<()> {
    writeln!(out, "  east     {:.3} to {:.3}", min.east, max.east)?;
    writeln!(out, "  north    {:.3} to {:.3}", min.north, max.north)
}

/// Each role with what the first row holds under it.
fn pairs(roles: &[String], first: &[String]) -> String {
    let blank = String::new();
    let pair = |(index, role): (usize, &String)| {
        let value = first.get(index).unwrap_or(&blank);
        format!("{role} = {value}")
    };
    roles
        .iter()
        .enumerate()
        .map(pair)
        .collect::<Vec<_>>()
        .join(", ")
}
