//! Facets as a DXF drawing.

use std::io::{self, Write};

use dapedon_core::surface::Vertex;
use dapedon_core::units::{Foot, LengthUnit};

use crate::drawing::Layer;
use crate::fixed::Fixed;

/// The colour that is black on paper and white on a dark screen.
const PLAIN: u8 = 7;

/// Writes facets as faces on one layer, in grid coordinates.
///
/// The drawing has the sections a reader needs and no more, in the oldest version in use, which every
/// reader knows.
///
/// # Errors
///
/// When writing fails.
pub fn write(
    mut out: impl Write,
    layer: &str,
    unit: LengthUnit,
    vertices: &[Vertex],
    facets: &[[u32; 3]],
    decimals: usize,
) -> io::Result<()> {
    let layer = layer_name(layer);
    let only = Layer {
        name: layer.clone(),
        colour: PLAIN,
    };
    open(&mut out, unit, &[&only])?;
    for facet in facets {
        write!(out, "0\n3DFACE\n8\n{layer}\n")?;
        // A face of three corners has its last one twice.
        for (corner, vertex) in [facet[0], facet[1], facet[2], facet[2]]
            .into_iter()
            .enumerate()
        {
            let v = vertices[vertex as usize];
            let [east, north, height] = [v.east, v.north, v.height].map(|n| Fixed(n, decimals));
            write!(
                out,
                "{}\n{east}\n{}\n{north}\n{}\n{height}\n",
                10 + corner,
                20 + corner,
                30 + corner
            )?;
        }
    }
    close(&mut out)
}

/// Writes all that comes before the first entity: version, unit and layers.
pub(super) fn open(out: &mut impl Write, unit: LengthUnit, layers: &[&Layer]) -> io::Result<()> {
    let unit = match unit {
        LengthUnit::Metre => 6,
        LengthUnit::Foot(Foot::International) => 2,
        LengthUnit::Foot(Foot::UsSurvey) => 21,
    };
    write!(
        out,
        "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n{unit}\n0\nENDSEC\n\
         0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n70\n{}\n",
        layers.len()
    )?;
    for Layer { name, colour } in layers {
        write!(
            out,
            "0\nLAYER\n2\n{name}\n70\n0\n62\n{colour}\n6\nCONTINUOUS\n"
        )?;
    }
    write!(out, "0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n")
}

/// Writes all that comes behind the last entity.
pub(super) fn close(out: &mut impl Write) -> io::Result<()> {
    write!(out, "0\nENDSEC\n0\nEOF\n")
}

/// A name that a layer may have in every version: letters, digits, dashes and underscores.
pub(super) fn layer_name(name: &str) -> String {
    let plain = |c: char| match c {
        c if c.is_ascii_alphanumeric() || c == '-' || c == '_' => c.to_ascii_uppercase(),
        _ => '_',
    };
    let name: String = name.chars().map(plain).take(31).collect();
    if name.is_empty() {
        "SURFACE".into()
    } else {
        name
    }
}
