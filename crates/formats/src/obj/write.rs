//! Facets as an OBJ mesh.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;

use crate::fixed::Fixed;

/// Writes vertices as east, north, height, and faces between them.
///
/// # Errors
///
/// When writing fails.
pub fn write(
    mut out: impl Write,
    name: &str,
    vertices: &[Vertex],
    facets: &[[u32; 3]],
    decimals: usize,
) -> io::Result<()> {
    let name: String = (name.chars())
        .map(|c| {
            if c.is_control() || c.is_whitespace() {
                '_'
            } else {
                c
            }
        })
        .collect();
    writeln!(out, "o {name}")?;
    for v in vertices {
        let [east, north, height] = [v.east, v.north, v.height].map(|n| Fixed(n, decimals));
        writeln!(out, "v {east} {north} {height}")?;
    }
    for [a, b, c] in facets {
        writeln!(out, "f {} {} {}", a + 1, b + 1, c + 1)?;
    }
    Ok(())
}
