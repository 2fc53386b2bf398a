//! The columns of delimited text and the layers of a drawing.

use std::io::{self, Write};

use dapedon_job::{ColumnsFound, LayerFound};
use dapedon_report::number::range;

use super::{LISTED, count};
use crate::table::table;

pub(super) fn columns(out: &mut impl Write, columns: &ColumnsFound) -> io::Result<()> {
    let mut said = vec![
        columns.encoding.to_string(),
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

pub(super) fn layers(out: &mut impl Write, layers: &[LayerFound]) -> io::Result<()> {
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
        let heights = layer.heights.map(|heights| range(heights, 2));
        let heights = heights.unwrap_or_else(|| "none".into());
        [layer.name.clone(), kinds.join(", "), heights]
    });
    let heading = ["layer", "holds", "heights"].map(String::from);
    writeln!(out, "{}", table(heading, rows.collect(), None))
}
