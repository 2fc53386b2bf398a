//! The table of a basin as comma-separated text, for a spreadsheet.

use std::io;

use dapedon_job::Capacity;

/// A basin: a line for each level, figures unrounded; what was not integrated is empty.
///
/// # Errors
///
/// When it cannot be written.
pub fn capacity_csv(capacity: &Capacity) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    out.write_record([
        "level",
        "depth",
        "area",
        "since below",
        "volume",
        "room above",
        "average end area",
        "conic",
        "above the edge",
    ])?;
    for row in &capacity.levels {
        let figures = [
            Some(row.level),
            Some(row.depth),
            Some(row.area),
            row.step,
            row.volume,
            Some(row.room),
            Some(row.by_average_end_area),
            Some(row.by_conic),
        ];
        let cell = |figure: Option<f64>| figure.map_or(String::new(), |figure| figure.to_string());
        let above = if row.above_edge { "yes" } else { "" };
        let cells = figures.map(cell).into_iter().chain([above.to_owned()]);
        out.write_record(cells)?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}
