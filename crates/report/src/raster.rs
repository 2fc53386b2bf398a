//! Pictures of pixels: what lies below the lines of a map, in few colours and small, and whole drawings.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use dapedon_core::quantities::{DifferenceMap, Pixel};
use rayon::prelude::*;
use resvg::tiny_skia::Pixmap;

use crate::ReportError;
use crate::colours::Rgb;

/// Colours that a picture has at most; the first is none at all.
const PALETTE: usize = 256;
/// Steps of light in which slopes are shown at most, and what they range over.
const SHADES: usize = 16;
const LIGHT: [f64; 2] = [0.65, 1.06];
/// From line to line of a hatch, as a share of the longer side, and at least in pixels; a line is a fifth of it.
const HATCH: f64 = 1.0 / 110.0;
const CLOSEST: usize = 5;
/// How dark the lines of a hatch are.
const DARK: f64 = 0.78;
/// Pixels of a picture that is packed as small as can be, which takes its time.
const PATIENT: usize = 1 << 20;

/// What a value looks like.
pub(crate) trait Coloured: Sync {
    /// Its class.
    fn class(&self, value: f64) -> usize;
    /// The colours of all classes.
    fn colours(&self) -> Vec<Rgb>;
    /// True for classes that are hatched, so that grey print tells them.
    fn is_hatched(&self, class: usize) -> bool;
}

/// A map as a PNG in a data address: each class in its colour, shaded by the slope of the ground. Packed in a hurry where it is only
/// on its way to another picture.
pub(crate) fn data_address(
    map: &DifferenceMap,
    classes: &impl Coloured,
    in_a_hurry: bool,
) -> Result<String, png::EncodingError> {
    let colours = classes.colours();
    // Hatched or not, each in some shades; with very many classes some share a colour.
    let shared = (2 * colours.len()).div_ceil(PALETTE - 1).max(1);
    let kinds = colours.len().div_ceil(shared);
    let shades = ((PALETTE - 1) / (2 * kinds)).clamp(1, SHADES);
    let mut palette = vec![[255; 3]];
    for colour in colours.iter().step_by(shared) {
        for hatch in [1.0, DARK] {
            for shade in 0..shades {
                let share = (shade as f64 + 0.5) / shades as f64;
                let light = match shades {
                    1 => 1.0,
                    _ => LIGHT[0] + share * (LIGHT[1] - LIGHT[0]),
                };
                palette.push(
                    colour.map(|part| {
                        (f64::from(part) * light * hatch).round().clamp(0.0, 255.0) as u8
                    }),
                );
            }
        }
    }
    let apart = ((map.columns.max(map.rows) as f64 * HATCH) as usize).max(CLOSEST);
    let index = |(number, pixel): (usize, &Option<Pixel>)| -> u8 {
        let Some(pixel) = pixel else { return 0 };
        let class = classes.class(f64::from(pixel.difference));
        let (column, row) = (number % map.columns, number / map.columns);
        let is_dark = classes.is_hatched(class) && (column + row) % apart < apart.div_ceil(5);
        let share = (light(pixel) - LIGHT[0]) / (LIGHT[1] - LIGHT[0]);
        let shade = ((share * shades as f64) as usize).min(shades - 1);
        let kind = 2 * (class / shared) + usize::from(is_dark);
        u8::try_from(1 + kind * shades + shade).unwrap_or(u8::MAX)
    };
    let pixels: Vec<u8> = map.pixels.par_iter().enumerate().map(index).collect();
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, map.columns as u32, map.rows as u32);
    encoder.set_color(png::ColorType::Indexed);
    encoder.set_depth(png::BitDepth::Eight);
    encoder.set_palette(palette.concat());
    encoder.set_trns(vec![0]);
    encoder.set_compression(match in_a_hurry {
        true => png::Compression::Fastest,
        false => compression(pixels.len()),
    });
    let mut writer = encoder.write_header()?;
    writer.write_image_data(&pixels)?;
    writer.finish()?;
    Ok(format!("data:image/png;base64,{}", STANDARD.encode(&bytes)))
}

fn compression(pixels: usize) -> png::Compression {
    match pixels <= PATIENT {
        true => png::Compression::High,
        false => png::Compression::Balanced,
    }
}

/// Light from the north-west at 45 degrees (Lambert's cosine law), toned down so that the colour
/// still reads.
fn light(pixel: &Pixel) -> f64 {
    let [east, north] = pixel.slope.map(f64::from);
    let (sin45, cos45) = (0.5f64.sqrt(), 0.5f64.sqrt());
    let facing = (east - north) * sin45;
    let light = (sin45 + facing * cos45) / (1.0 + east * east + north * north).sqrt();
    (1.0 + 0.55 * (light - sin45)).clamp(LIGHT[0], LIGHT[1])
}

/// A whole drawing as a PNG of so many dots to an inch.
pub(crate) fn packed(pixels: &Pixmap, dots: f64) -> Result<Vec<u8>, ReportError> {
    // Drawings stand on white: no pixel is transparent.
    let colours: Vec<u8> = pixels
        .pixels()
        .iter()
        .flat_map(|pixel| [pixel.red(), pixel.green(), pixel.blue()])
        .collect();
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, pixels.width(), pixels.height());
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    // An inch has 0.0254 metres.
    let dots = (dots / 0.0254).round() as u32;
    encoder.set_pixel_dims(Some(png::PixelDimensions {
        xppu: dots,
        yppu: dots,
        unit: png::Unit::Meter,
    }));
    encoder.set_compression(compression(colours.len()));
    let mut writer = encoder.write_header()?;
    writer.write_image_data(&colours)?;
    writer.finish()?;
    Ok(bytes)
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::plan::Place;

    struct Two(usize);

    impl Coloured for Two {
        fn class(&self, value: f64) -> usize {
            (value as usize).min(self.0 - 1)
        }

        fn colours(&self) -> Vec<Rgb> {
            vec![[200, 100, 50]; self.0]
        }

        fn is_hatched(&self, class: usize) -> bool {
            class == 0
        }
    }

    fn map(difference: f32) -> DifferenceMap {
        let pixel = Pixel {
            difference,
            slope: [0.0; 2],
        };
        DifferenceMap {
            columns: 20,
            rows: 20,
            cell: 1.0,
            corner: Place::new(0.0, 20.0),
            pixels: (0..400).map(|i| (i % 20 > 0).then_some(pixel)).collect(),
        }
    }

    /// The colours of a picture, and how many pixels have each.
    fn colours(address: &str) -> std::collections::BTreeMap<Vec<u8>, usize> {
        let bytes = STANDARD
            .decode(address.split(',').next_back().unwrap())
            .unwrap();
        let mut decoder = png::Decoder::new(std::io::Cursor::new(bytes));
        decoder.set_transformations(png::Transformations::EXPAND);
        let mut reader = decoder.read_info().unwrap();
        let mut pixels = vec![0; reader.output_buffer_size().unwrap()];
        reader.next_frame(&mut pixels).unwrap();
        let mut found = std::collections::BTreeMap::new();
        for pixel in pixels.chunks_exact(4) {
            *found.entry(pixel.to_vec()).or_insert(0) += 1;
        }
        found
    }

    #[test]
    fn what_is_hatched_has_dark_lines() {
        let cut = colours(&data_address(&map(0.5), &Two(2), false).unwrap());
        // Nothing, the colour, and its lines: a fifth of the pixels.
        assert_eq!(cut.len(), 3);
        let dark = cut
            .iter()
            .find(|(pixel, _)| pixel[0] < 180 && pixel[3] == 255)
            .unwrap();
        assert_eq!(*dark.1, 380 / 5);
        assert_eq!(
            colours(&data_address(&map(1.5), &Two(2), false).unwrap()).len(),
            2
        );
        // However many classes there are, each has a colour.
        assert!(data_address(&map(900.0), &Two(1000), false).is_ok());
    }
}
