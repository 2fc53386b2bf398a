//! Heights as a GeoTIFF.

use std::io::{Seek, Write};

use dapedon_core::units::{Foot, LengthUnit};
use tiff::encoder::TiffEncoder;
use tiff::encoder::colortype::Gray64Float;
use tiff::tags::Tag;

use super::GeoTiffError;
use super::band::METADATA;
use crate::RawGrid;
use crate::geokeys::directory;

/// Stands where there is no height.
const NONE: f64 = -9999.0;
/// Rows that are written together.
const ROWS: u32 = 64;

/// Writes a grid as 64-bit floats, not packed, pixels as areas.
/// `systems` are those of plan and of heights.
///
/// # Errors
///
/// When writing fails, or the grid is too large for the format.
pub fn write(
    out: impl Write + Seek,
    grid: &RawGrid,
    unit: LengthUnit,
    systems: [Option<&str>; 2],
) -> Result<(), GeoTiffError> {
    let [columns, rows] = grid.size;
    let mut encoder = TiffEncoder::new(out)?;
    let mut image = encoder.new_image::<Gray64Float>(columns as u32, rows as u32)?;
    image.rows_per_strip(ROWS)?;
    let mut lines = grid.heights.chunks(columns).rev();
    let mut strip = Vec::new();
    loop {
        strip.clear();
        for line in lines.by_ref().take(ROWS as usize) {
            strip.extend(line.iter().map(|h| if h.is_nan() { NONE } else { *h }));
        }
        if strip.is_empty() {
            break;
        }
        image.write_strip(&strip)?;
    }
    let [dx, dy] = grid.step;
    let west = grid.corner.east - dx / 2.0;
    let north = grid.corner.north + (rows as f64 - 0.5) * dy;
    let tags = image.encoder();
    tags.write_tag(Tag::ModelPixelScaleTag, &[dx, dy, 0.0][..])?;
    tags.write_tag(
        Tag::ModelTiepointTag,
        &[0.0, 0.0, 0.0, west, north, 0.0][..],
    )?;
    tags.write_tag(Tag::GeoKeyDirectoryTag, &directory(unit, systems)[..])?;
    if systems[1].is_none() {
        // Without a system of heights no key may give their unit.
        let metadata = format!(
            "<GDALMetadata>\n  <Item name=\"UNITTYPE\" sample=\"0\" role=\"unittype\">{}</Item>\n</GDALMetadata>\n",
            unit_words(unit)
        );
        tags.write_tag(METADATA, metadata.as_str())?;
    }
    tags.write_tag(Tag::GdalNodata, NONE.to_string().as_str())?;
    image.finish()?;
    Ok(())
}

/// The unit of heights in the words that readers know.
fn unit_words(unit: LengthUnit) -> &'static str {
    match unit {
        LengthUnit::Metre => "metre",
        LengthUnit::Foot(Foot::International) => "foot",
        LengthUnit::Foot(Foot::UsSurvey) => "US survey foot",
    }
}
