//! The table of a basin as comma-separated text, for a spreadsheet.

use std::io;

use dapedon_job::Capacity;

/// A basin: a line for each level, figures unrounded.
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
        "average end area",
        "conic",
    ])?;
    for row in &capacity.levels {
        let figures = [
            row.level,
            row.depth,
            row.area,
            row.step,
            row.volume,
            row.by_average_end_area,
            row.by_conic,
        ];
        out.write_record(figures.map(|figure| figure.to_string()))?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}
