//! A surface, a cloud and the cells of a grid, as they are read.

use std::io::{self, Write};

use anstyle::Style;
use dapedon_core::{AreaUnit, LengthUnit};
use dapedon_job::{CellsFound, CloudFound, SurfaceFound};
use dapedon_report::number::range;

use super::{LISTED, area, count, extent, whole};
use crate::table::table;

pub(super) fn cloud(
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

fn cells_of(out: &mut impl Write, cells: &CellsFound, unit: Option<LengthUnit>) -> io::Result<()> {
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

pub(super) fn surface(
    out: &mut impl Write,
    surface: &SurfaceFound,
    unit: Option<LengthUnit>,
) -> io::Result<()> {
    let bold = Style::new().bold();
    let name = match surface.name.as_str() {
        "" => "surface".to_owned(),
        name => format!("surface \"{name}\""),
    };
    let what = match &*surface.made_from {
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
    let facets = match (surface.facets, &*surface.made_from) {
        (0, _) => "no facets".to_owned(),
        (n, "facets" | "grid") => format!("{} facets", count(n)),
        (n, _) => format!("{} facets can be made of them", count(n)),
    };
    parts.push(facets);
    writeln!(out, "  {bold}{name}{bold:#}")?;
    writeln!(out, "  holds    {}", parts.join(", "))?;
    if let (Some(min), Some(max)) = (surface.min, surface.max) {
        extent(out, min, max)?;
    }
    if surface.points > 0 {
        let heights = surface.heights.map(|heights| range(heights, 3));
        writeln!(out, "  heights  {}", heights.as_deref().unwrap_or("none"))?;
    }
    if surface.facets > 0 {
        writeln!(out, "  area     {} in plan", area(surface.area, unit))?;
    }
    if let Some(cells) = &surface.cells {
        cells_of(out, cells, unit)?;
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
