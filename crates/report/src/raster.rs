//! The picture below the lines: differences in colour, shaded by the slope of the ground.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use dapedon_core::quantities::{DifferenceMap, Pixel};

use crate::colours::Rgb;

/// The map as a PNG in a data address.
pub(crate) fn data_address(
    map: &DifferenceMap,
    colour: impl Fn(f64) -> Rgb,
) -> Result<String, png::EncodingError> {
    let mut pixels = Vec::with_capacity(4 * map.pixels.len());
    for pixel in &map.pixels {
        match pixel {
            Some(pixel) => {
                let [r, g, b] = shade(colour(f64::from(pixel.difference)), pixel);
                pixels.extend([r, g, b, 255]);
            }
            None => pixels.extend([255, 255, 255, 0]),
        }
    }
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, map.columns as u32, map.rows as u32);
    encoder.set_color(png::ColorType::Rgba);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.set_compression(png::Compression::High);
    let mut writer = encoder.write_header()?;
    writer.write_image_data(&pixels)?;
    writer.finish()?;
    Ok(format!("data:image/png;base64,{}", STANDARD.encode(&bytes)))
}

/// Light from the north-west at 45 degrees (Lambert's cosine law), toned down so that the colour
/// still reads.
fn shade(colour: Rgb, pixel: &Pixel) -> Rgb {
    let [east, north] = pixel.slope.map(f64::from);
    let (sin45, cos45) = (0.5f64.sqrt(), 0.5f64.sqrt());
    let facing = (east - north) * sin45;
    let light = (sin45 + facing * cos45) / (1.0 + east * east + north * north).sqrt();
    let factor = 1.0 + 0.55 * (light - sin45);
    colour.map(|part| {
        (f64::from(part) * factor.clamp(0.65, 1.06))
            .round()
            .clamp(0.0, 255.0) as u8
    })
}
