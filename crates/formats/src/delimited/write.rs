//! Points as delimited text.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;

use crate::fixed::Fixed;

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
        let number = index + 1;
        let [east, north, height] = [v.east, v.north, v.height].map(|n| Fixed(n, decimals));
        let code = if code.contains(['"', ',', '\n']) {
            format!("\"{}\"", code.replace('"', "\"\""))
        } else {
            code.into()
        };
        writeln!(out, "{number},{east},{north},{height},{code}")?;
    }
    Ok(())
}
