//! Alignments, zones and the attributes of features.

use std::io::{self, Write};

use dapedon_job::{AttributeFound, LineFound, ZoneFound};
use dapedon_report::number::{grouped, range};

use super::{LISTED, count};
use crate::table::table;

pub(super) fn lines(out: &mut impl Write, lines: &[LineFound]) -> io::Result<()> {
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

pub(super) fn attributes(out: &mut impl Write, attributes: &[AttributeFound]) -> io::Result<()> {
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

pub(super) fn zones(out: &mut impl Write, zones: &[ZoneFound]) -> io::Result<()> {
    if zones.is_empty() {
        return Ok(());
    }
    let rows = zones.iter().map(|z| {
        [
            z.name.clone(),
            count(z.parts),
            count(z.holes),
            count(z.corners),
            grouped(z.area, 1, " "),
            range([z.min.east, z.max.east], 1),
            range([z.min.north, z.max.north], 1),
        ]
    });
    let heading = ["zone", "parts", "holes", "corners", "area", "east", "north"];
    writeln!(
        out,
        "{}",
        table(heading.map(String::from), rows.collect(), None)
    )
}
