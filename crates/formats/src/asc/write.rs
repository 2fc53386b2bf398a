//! Heights as an ASCII grid.

use std::io::{self, Write};

use crate::RawGrid;
use crate::fixed::Fixed;

/// Stands where there is no height.
const NONE: i32 = -9999;

/// Writes a grid of square cells, or of cells told by `dx` and `dy`.
///
/// # Errors
///
/// When writing fails.
pub fn write(mut out: impl Write, grid: &RawGrid, decimals: usize) -> io::Result<()> {
    let [columns, rows] = grid.size;
    let [dx, dy] = grid.step;
    writeln!(out, "ncols {columns}\nnrows {rows}")?;
    writeln!(
        out,
        "xllcorner {}\nyllcorner {}",
        grid.corner.east - dx / 2.0,
        grid.corner.north - dy / 2.0
    )?;
    if dx == dy {
        writeln!(out, "cellsize {dx}")?;
    } else {
        writeln!(out, "dx {dx}\ndy {dy}")?;
    }
    writeln!(out, "NODATA_value {NONE}")?;
    for row in grid.heights.chunks(columns).rev() {
        for (index, &height) in row.iter().enumerate() {
            let blank = if index == 0 { "" } else { " " };
            match height.is_nan() {
                true => write!(out, "{blank}{NONE}")?,
                false => write!(out, "{blank}{}", Fixed(height, decimals))?,
            }
        }
        writeln!(out)?;
    }
    Ok(())
}
