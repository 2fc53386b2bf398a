//! Points as delimited text.

use std::io::{self, Write};

use dapedon_core::Vertex;

/// Writes points in grid coordinates under a header, each with its number and code.
///
/// # Errors
///
/// When writing fails.
pub fn write<'c>(
    mut out: impl Write,
    points: impl IntoIterator<Item = (Vertex, &'c str)>,
    decimals: usize,
) -> io::Result<()> {
    writeln!(out, "point,east,north,height,code")?;
    for (index, (v, code)) in points.into_iter().enumerate() {
        let (number, east, north, height) = (index + 1, v.east, v.north, v.height);
        let code = if code.contains(['"', ',', '\n']) {
            format!("\"{}\"", code.replace('"', "\"\""))
        } else {
            code.into()
        };
        writeln!(
            out,
            "{number},{east:.decimals$},{north:.decimals$},{height:.decimals$},{code}"
        )?;
    }
    Ok(())
}
