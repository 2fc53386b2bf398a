//! `inspect`: what is in files, before they are trusted.

use std::io::{self, Write};
use std::path::Path;

use anstyle::Style;
use dapedon_core::{AreaUnit, Frame, LengthUnit};
use dapedon_job::{
    AttributeFound, CellsFound, CloudFound, ColumnsFound, Extreme, Inspection, LayerFound,
    LineFound, OddFound, PairFound, SurfaceFound, ZoneFound, inspect, names_are_found, pair,
};
use dapedon_report::number::grouped;
use dapedon_report::{Mark, ground_map};
use serde::Serialize;

use crate::args::InspectArgs;
use crate::fault::Fault;
use crate::output::Outputs;
use crate::table::table;

/// Odd points and codes that are listed; the JSON lists all.
const LISTED: usize = 8;

/// What `--json` prints.
#[derive(Serialize)]
struct Printed<'p> {
    command: &'static str,
    files: &'p [Inspection],
    #[serde(skip_serializing_if = "Option::is_none")]
    pair: Option<PairFound>,
}

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
    if let (Some(path), [surfaces]) = (&args.map, grounds.as_slice()) {
        let odd = found[0].surfaces.first().map_or(&[][..], |s| &s.odd_points);
        let marks = surfaces.first().map(|surface| marks(odd, surface.frame()));
        let picture = ground_map(surfaces, &marks.unwrap_or_default())?;
        let mut staged = Outputs::default();
        staged.stage(path, picture.as_bytes())?;
        staged.commit()?;
    }

    let mut out = anstream::stdout().lock();
    if args.json {
        let printed = Printed {
            command: "inspect",
            files: &found,
            pair,
        };
        writeln!(out, "{}", serde_json::to_string_pretty(&printed)?)?;
        return Ok(());
    }
    for (index, inspection) in found.iter().enumerate() {
        if index > 0 {
            writeln!(out)?;
        }
        print(&mut out, inspection)?;
    }
    if let Some(pair) = &pair {
        writeln!(out)?;
        print_pair(&mut out, pair)?;
    }
    for path in map {
        writeln!(out, "Written: {}", path.display())?;
    }
    Ok(())
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
    let only_zones = inspection.surfaces.is_empty() && inspection.lines.is_empty();
    let unit = match inspection.unit {
        Some(code) => code,
        None if only_zones => "that of the survey; this file carries none",
        None => "not said",
    };
    writeln!(out, "  unit     {unit}")?;
    if let Some(crs) = &inspection.crs {
        writeln!(out, "  system   {crs}")?;
    }
    if let Some(columns) = &inspection.columns {
        print_columns(out, columns)?;
    }
    print_layers(out, &inspection.layers)?;
    let unit = (LengthUnit::ALL.into_iter()).find(|unit| Some(unit.code()) == inspection.unit);
    if let Some(cloud) = &inspection.cloud {
        print_cloud(out, cloud, unit)?;
    }
    for surface in &inspection.surfaces {
        print_surface(out, surface, unit)?;
    }
    print_lines(out, &inspection.lines)?;
    print_attributes(out, &inspection.attributes)?;
    print_zones(out, &inspection.zones)?;
    for (kind, number) in &inspection.left_out {
        writeln!(out, "  left out {kind}: {}", count(*number))?;
    }
    for warning in &inspection.warnings {
        writeln!(out, "  {bold}odd:{bold:#} {warning}")?;
    }
    Ok(())
}

fn print_columns(out: &mut impl Write, columns: &ColumnsFound) -> io::Result<()> {
    let mut said = vec![
        columns.encoding.to_owned(),
        format!("fields parted by {}", columns.delimiter),
    ];
    if columns.decimal_comma {
        said.push("decimal commas".into());
    }
    if columns.comments > 0 {
        said.push(format!("{} comment lines", columns.comments));
    }
    writeln!(out, "  text     {}", said.join(", "))?;
    let why = match &columns.header {
        Some(header) => format!("as the header says: {}", header.join(", ")),
        None => "as said with --columns; there is no header".into(),
    };
    writeln!(out, "  columns  {why}")?;
    let widths: Vec<usize> = (columns.roles.iter().enumerate())
        .map(|(index, role)| {
            let cells = columns.rows.iter().filter_map(|row| row.get(index));
            let widest = cells.map(|cell| cell.chars().count()).max();
            widest.unwrap_or(0).max(role.chars().count())
        })
        .collect();
    let rows = std::iter::once(&columns.roles).chain(&columns.rows);
    for row in rows {
        let cells = row
            .iter()
            .zip(&widths)
            .map(|(cell, &width)| format!("{cell:<width$}"));
        let line = cells.collect::<Vec<_>>().join("  ");
        writeln!(out, "             {}", line.trim_end())?;
    }
    if !columns.codes.is_empty() {
        let listed = columns.codes.iter().take(LISTED);
        let listed: Vec<String> = listed.map(|(code, n)| format!("{code} ({n})")).collect();
        let more = match columns.codes.len().saturating_sub(LISTED) {
            0 => String::new(),
            more => format!(", and {more} more"),
        };
        writeln!(out, "  codes    {}{more}", listed.join(", "))?;
    }
    Ok(())
}

fn print_layers(out: &mut impl Write, layers: &[LayerFound]) -> io::Result<()> {
    if layers.is_empty() {
        return Ok(());
    }
    let rows = layers.iter().map(|layer| {
        let kinds: Vec<String> = (layer.kinds.iter())
            .map(|(kind, number)| {
                format!(
                    "{} {kind}{}",
                    count(*number),
                    if *number == 1 { "" } else { "s" }
                )
            })
            .collect();
        let [low, high] = layer.heights;
        let heights = match low.is_finite() {
            true => format!("{low:.2} to {high:.2}"),
            false => "none".into(),
        };
        [layer.name.clone(), kinds.join(", "), heights]
    });
    let heading = ["layer", "holds", "heights"].map(String::from);
    writeln!(out, "{}", table(heading, rows.collect(), None))
}

fn print_cloud(
    out: &mut impl Write,
    cloud: &CloudFound,
    unit: Option<LengthUnit>,
) -> io::Result<()> {
    let packed = if cloud.packed { ", packed" } else { "" };
    let made = match cloud.made_with.as_str() {
        "" => String::new(),
        program => format!(", made with {program}"),
    };
    writeln!(out, "  cloud    version {}{packed}{made}", cloud.version)?;
    let deleted = match cloud.withheld {
        0 => String::new(),
        n => format!(", {} of them marked as deleted", whole(n)),
    };
    writeln!(out, "  points   {}{deleted}", whole(cloud.points))?;
    let returns = cloud.returns.iter().enumerate();
    let returns: Vec<String> = returns
        .map(|(index, points)| match index {
            0 => format!("{} first", whole(*points)),
            1 => format!("{} second", whole(*points)),
            2 => format!("{} third", whole(*points)),
            n => format!("{} {}th", whole(*points), n + 1),
        })
        .collect();
    writeln!(out, "  returns  {}", returns.join(", "))?;
    let of = match unit {
        Some(unit) => format!("a {}", AreaUnit::usual(unit).symbol()),
        None => "a square of its unit".into(),
    };
    writeln!(
        out,
        "  density  {:.1} points taken to {of}, over the {} that hold any",
        cloud.density,
        area(cloud.covered, unit)
    )?;
    let all: u64 = cloud.classes.iter().map(|class| class.points).sum();
    let rows = cloud.classes.iter().map(|class| {
        let [low, high] = class.heights;
        [
            format!("{} {}", class.class, class.name),
            whole(class.points),
            format!("{:.1} %", 100.0 * class.points as f64 / all as f64),
            format!("{low:.2} to {high:.2}"),
        ]
    });
    let heading = ["class", "points", "share", "heights"].map(String::from);
    writeln!(out, "{}", table(heading, rows.collect(), None))
}

fn whole(n: u64) -> String {
    grouped(n as f64, 0, " ")
}

fn print_cells(
    out: &mut impl Write,
    cells: &CellsFound,
    unit: Option<LengthUnit>,
) -> io::Result<()> {
    let symbol = unit.map_or("", LengthUnit::symbol);
    let [east, north] = cells.step;
    let side = match east == north {
        true => format!("{east} {symbol} square"),
        false => format!("{east} by {north} {symbol}"),
    };
    writeln!(
        out,
        "  cells    {} by {}, each {side}, {:.1} % of them without a height",
        count(cells.size[0]),
        count(cells.size[1]),
        100.0 * cells.without
    )?;
    if let Some(first) = cells.empty.first() {
        let whole: f64 = cells.empty.iter().map(|empty| empty.area).sum();
        let (word, other) = match cells.empty.len() {
            1 => ("1 area".to_owned(), String::new()),
            n => (format!("{} areas", count(n)), ", the largest".to_owned()),
        };
        let each = match cells.empty.len() {
            1 => String::new(),
            _ => format!(" {}", area(first.area, unit)),
        };
        writeln!(
            out,
            "  empty    {word} within its outline, {}{other}{each} about east {:.1}, north {:.1}",
            area(whole, unit),
            first.east,
            first.north
        )?;
    }
    Ok(())
}

fn print_surface(
    out: &mut impl Write,
    surface: &SurfaceFound,
    unit: Option<LengthUnit>,
) -> io::Result<()> {
    let bold = Style::new().bold();
    let name = match surface.name.as_str() {
        "" => "surface".to_owned(),
        name => format!("surface \"{name}\""),
    };
    let what = match surface.made_from {
        "grid" => "cells",
        _ => "points",
    };
    let mut parts = vec![format!("{} {what}", count(surface.points))];
    if surface.breaklines > 0 {
        parts.push(format!("{} breaklines", count(surface.breaklines)));
    }
    if surface.outlines > 0 {
        parts.push(format!("{} outlines", count(surface.outlines)));
    }
    let facets = match (surface.facets, surface.made_from) {
        (0, _) => "no facets".to_owned(),
        (n, "facets" | "grid") => format!("{} facets", count(n)),
        (n, _) => format!("{} facets can be made of them", count(n)),
    };
    parts.push(facets);
    writeln!(out, "  {bold}{name}{bold:#}")?;
    writeln!(out, "  holds    {}", parts.join(", "))?;
    if surface.points == 0 {
        return Ok(());
    }
    extent(out, surface.min, surface.max)?;
    let [low, high] = surface.heights;
    writeln!(out, "  heights  {low:.3} to {high:.3}")?;
    if surface.facets > 0 {
        writeln!(out, "  area     {} in plan", area(surface.area, unit))?;
    }
    if let Some(cells) = &surface.cells {
        print_cells(out, cells, unit)?;
    }
    if let (Some(spacing), Some(longest)) = (surface.spacing, surface.longest_edge) {
        let long = match surface.long_facets {
            0 => String::new(),
            n => format!(", {} facets with one over ten times that", count(n)),
        };
        writeln!(
            out,
            "  edges    {spacing:.2} in the middle, {longest:.2} the longest{long}"
        )?;
    }
    if surface.patches.len() > 1 {
        let sizes: Vec<String> = (surface.patches.iter().take(LISTED))
            .map(|patch| {
                let middle = |a: f64, b: f64| (a + b) / 2.0;
                let east = middle(patch.min.east, patch.max.east);
                let north = middle(patch.min.north, patch.max.north);
                format!(
                    "{} points about {east:.0} / {north:.0}",
                    count(patch.points)
                )
            })
            .collect();
        writeln!(
            out,
            "  patches  {}: {}",
            surface.patches.len(),
            sizes.join("; ")
        )?;
    }
    for odd in surface.odd_points.iter().take(LISTED) {
        writeln!(
            out,
            "  odd point at east {:.3}, north {:.3}: height {:.3}, {:+.3} from its neighbours",
            odd.east, odd.north, odd.height, odd.amount
        )?;
    }
    let more = surface.odd_points.len().saturating_sub(LISTED);
    if more > 0 {
        writeln!(
            out,
            "  and {} more odd points; --json lists them all",
            count(more)
        )?;
    }
    for note in &surface.notes {
        writeln!(out, "  - {note}")?;
    }
    Ok(())
}

fn print_lines(out: &mut impl Write, lines: &[LineFound]) -> io::Result<()> {
    if lines.is_empty() {
        return Ok(());
    }
    let rows = lines.iter().map(|line| {
        let elements: Vec<String> = (line.elements.iter())
            .map(|(name, number)| format!("{number} {name}{}", if *number == 1 { "" } else { "s" }))
            .collect();
        let [from, to] = line.chainage;
        let jumps = match line.equations {
            0 => String::new(),
            1 => ", 1 jump".into(),
            n => format!(", {n} jumps"),
        };
        let heights = match line.profile {
            Some(_) => "along it",
            None => "none",
        };
        [
            line.name.clone(),
            grouped(line.length, 3, " "),
            format!("{from:.3} to {to:.3}{jumps}"),
            elements.join(", "),
            heights.into(),
        ]
    });
    let heading = ["line", "length", "chainage", "elements", "heights"].map(String::from);
    writeln!(out, "{}", table(heading, rows.collect(), None))
}

fn print_attributes(out: &mut impl Write, attributes: &[AttributeFound]) -> io::Result<()> {
    if attributes.is_empty() {
        return Ok(());
    }
    let each = attributes.iter().take(2 * LISTED);
    let each: Vec<String> = each
        .map(|attribute| format!("{} ({})", attribute.name, count(attribute.features)))
        .collect();
    let more = match attributes.len().saturating_sub(2 * LISTED) {
        0 => String::new(),
        more => format!(", and {more} more"),
    };
    writeln!(
        out,
        "  attributes, and how many features have them: {}{more}",
        each.join(", ")
    )
}

fn print_zones(out: &mut impl Write, zones: &[ZoneFound]) -> io::Result<()> {
    if zones.is_empty() {
        return Ok(());
    }
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
    )
}

fn print_pair(out: &mut impl Write, pair: &PairFound) -> io::Result<()> {
    let bold = Style::new().bold();
    writeln!(out, "{bold}Can they be compared?{bold:#}")?;
    let [first, second] = pair.areas;
    let unit = (LengthUnit::ALL.into_iter()).find(|unit| Some(unit.code()) == pair.units[0]);
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

pub(crate) fn extent(out: &mut impl Write, min: Extreme, max: Extreme) -> io::Result<()> {
    writeln!(out, "  east     {:.3} to {:.3}", min.east, max.east)?;
    writeln!(out, "  north    {:.3} to {:.3}", min.north, max.north)
}
