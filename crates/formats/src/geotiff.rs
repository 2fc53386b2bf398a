//! GeoTIFF: heights of pixels, as the OGC GeoTIFF 1.1 standard places them.
//!
//! Strips and tiles, the compressions and predictors of the `tiff` crate, whole numbers and floats of
//! every width, classic and big files. One band; its pixels stand east and north.

mod band;
mod pixels;
mod place;
mod stored;
mod unpack;
mod write;

use std::io::{Read, Seek};

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use tiff::decoder::{Decoder, Limits};
use tiff::tags::Tag;
use tiff::{TiffError, TiffUnsupportedError};

use crate::geokeys::Keys;
use crate::{HeightUnit, RawGrid};
use band::BandFacts;
use pixels::{Pixels, mask};
use place::PixelPlace;
use stored::Stored;
pub use write::write;

/// Why a GeoTIFF could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum GeoTiffError {
    /// The TIFF is damaged, or its compression is not supported.
    #[error("{}", plain(.0))]
    Tiff(#[from] TiffError),
    /// The picture has several bands, and a terrain grid has one.
    #[error("the picture has {bands} bands, and a terrain grid has one")]
    Bands {
        /// How many.
        bands: u32,
    },
    /// The file has no position for its pixels.
    #[error("the file has no position for its pixels")]
    NoPlace,
    /// The pixels are rotated against east and north.
    #[error("the pixels are rotated against east and north")]
    Turned,
    /// The world file is not valid, or rotates the pixels.
    #[error("the world file is not valid: six numbers without a rotation are expected")]
    World,
    /// The mask is not one of bits or whole numbers.
    #[error("the mask has pixels of one bit that cannot be read")]
    MaskNumbers,
    /// Two units are stated for the heights.
    #[error("the heights have two units: {key} by key 4099, {band} by the band")]
    HeightUnits {
        /// That of the key.
        key: &'static str,
        /// That of the band.
        band: &'static str,
    },
    /// The mask has another size than the heights.
    #[error("the mask has {columns} by {rows} pixels, another size than the heights")]
    Mask {
        /// Columns.
        columns: u32,
        /// Rows.
        rows: u32,
    },
    /// The pixels are colours of a palette.
    #[error("the pixels are colours of a palette, not heights")]
    Palette,
    /// The compression is not supported.
    #[error("the compression {packing} is not supported")]
    Packing {
        /// Its name.
        packing: String,
    },
    /// The coordinates are latitude and longitude in degrees.
    #[error("the coordinates are latitude and longitude in degrees")]
    Degrees,
    /// The file has too many pixels.
    #[error("{columns} by {rows} pixels are too many")]
    TooMany {
        /// Columns.
        columns: u32,
        /// Rows.
        rows: u32,
    },
}

/// The crate's words, with what a person can make of them.
fn plain(error: &TiffError) -> String {
    match error {
        TiffError::IoError(error) if error.kind() == std::io::ErrorKind::UnexpectedEof => {
            "the pixels end too soon: the file is incomplete, or its compression is not supported"
                .into()
        }
        TiffError::IoError(error) => error.to_string(),
        TiffError::LimitsExceeded => {
            "the header gives a strip or tile size that is too large".into()
        }
        other => other.to_string(),
    }
}

impl GeoTiffError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use GeoTiffError as E;
        match self {
            E::Tiff(TiffError::UnsupportedError(_)) => {
                "export it with LZW or deflate compression, or without compression"
            }
            E::Tiff(_) => "get the file again, without compression",
            E::Packing { .. } => {
                "export it with LZW, deflate or ZSTD compression, or without compression"
            }
            E::World => "correct the world file, or export the grid as a GeoTIFF",
            E::HeightUnits { .. } => "correct the metadata of the file",
            E::Mask { .. } | E::MaskNumbers => {
                "export the file again, without the mask or with the right one"
            }
            E::Bands { .. } | E::Palette => "use the terrain model, not a picture of it",
            E::NoPlace => "export it as a GeoTIFF or as an ASCII grid",
            E::Turned => "resample it to the survey's east and north",
            E::Degrees => "convert it to the survey's grid: volumes need lengths, not degrees",
            E::TooMany { .. } => "clip it to the site, or resample it to larger pixels",
        }
    }
}

dapedon_diagnostic::diagnostic!(GeoTiffError, "geotiff");

/// Heights, and what the file says of them.
#[derive(Debug)]
pub struct GeoTiff {
    /// The heights at the middles of pixels.
    pub grid: RawGrid,
    /// The unit of coordinates.
    pub unit: Option<LengthUnit>,
    /// The unit of heights, where the file has one for them.
    pub height_unit: Option<HeightUnit>,
    /// A unit that is not supported.
    pub unknown_unit: Option<String>,
    /// The coordinate system.
    pub crs: Option<String>,
    /// The system of heights.
    pub height_system: Option<String>,
    /// What was understood.
    pub notes: Vec<String>,
}

/// Pixels that a file may have.
const MOST: u64 = 1 << 30;

/// True when the first bytes are those of a TIFF.
pub(crate) fn is_tiff(head: &[u8]) -> bool {
    [&b"II*\0"[..], b"MM\0*", b"II+\0", b"MM\0+"]
        .iter()
        .any(|mark| head.starts_with(mark))
}

/// Reads heights: values as they are stored, whatever a picture would make of them, times the scale and plus the offset that
/// the file states. `world` is the text of a world file beside it, for a file without a position of its own.
///
/// # Errors
///
/// When it is no GeoTIFF of heights in a projected system.
pub fn read(input: impl Read + Seek, world: Option<&str>) -> Result<GeoTiff, GeoTiffError> {
    let input = Stored::of(input).map_err(TiffError::IoError)?;
    if input.is_palette {
        return Err(GeoTiffError::Palette);
    }
    let compression = input.compression;
    read_stored(input, world).map_err(|error| match error {
        GeoTiffError::Tiff(TiffError::UnsupportedError(
            TiffUnsupportedError::UnsupportedCompressionMethod(_)
            | TiffUnsupportedError::UnknownCompressionMethod,
        )) => GeoTiffError::Packing {
            packing: stored::packing(compression),
        },
        other => other,
    })
}

fn read_stored<R: Read + Seek>(
    input: Stored<R>,
    world: Option<&str>,
) -> Result<GeoTiff, GeoTiffError> {
    let mut limits = Limits::default();
    limits.decoding_buffer_size = 1 << 30;
    limits.intermediate_buffer_size = 1 << 30;
    let mut decoder = Decoder::new(input)?.with_limits(limits);
    let (columns, rows) = decoder.dimensions()?;
    if u64::from(columns) * u64::from(rows) >= MOST {
        return Err(GeoTiffError::TooMany { columns, rows });
    }
    let bands = decoder
        .find_tag_unsigned(Tag::SamplesPerPixel)?
        .unwrap_or(1u32);
    let extra = decoder.find_tag_unsigned_vec::<u16>(Tag::ExtraSamples)?;
    let has_alpha = bands == 2 && extra.is_some_and(|kinds| matches!(kinds[..], [1 | 2]));
    if bands != 1 && !has_alpha {
        return Err(GeoTiffError::Bands { bands });
    }
    let samples = bands as usize;
    let numbers = |decoder: &mut Decoder<_>, tag| match decoder.find_tag(tag) {
        Ok(Some(value)) => value.into_f64_vec().unwrap_or_default(),
        _ => Vec::new(),
    };
    let keys = Keys::of(
        &decoder
            .get_tag_u16_vec(Tag::GeoKeyDirectoryTag)
            .unwrap_or_default(),
    );
    if keys.is_geographic() {
        return Err(GeoTiffError::Degrees);
    }
    let scale = numbers(&mut decoder, Tag::ModelPixelScaleTag);
    let tie = numbers(&mut decoder, Tag::ModelTiepointTag);
    let matrix = numbers(&mut decoder, Tag::ModelTransformationTag);
    let PixelPlace { step, start } = PixelPlace::of(&scale, &tie, &matrix, world)?;
    // A number is short: a text as long as a file says is not asked for.
    let entry = decoder.image_ifd().find_entry(Tag::GdalNodata);
    let short = entry.is_some_and(|entry| entry.count() <= 256);
    let none = match short {
        true => decoder.get_tag_ascii_string(Tag::GdalNodata).ok(),
        false => None,
    };
    let none: Option<f64> =
        none.and_then(|text| fast_float2::parse(text.trim_matches(['\0', ' '])).ok());

    let band = BandFacts::of(&mut decoder);
    let (height_unit, unknown_unit) = height_unit(&keys, band.unit.as_deref())?;
    let size = [columns as usize, rows as usize];
    let Pixels { mut heights, shown } = Pixels::read(&mut decoder, size, samples)?;
    let shown = match shown {
        Some(shown) => Some(shown),
        None => mask(&mut decoder, size)?,
    };
    for height in &mut heights {
        let is_none = !height.is_finite()
            || none.is_some_and(|none| *height == none || (*height as f32) == none as f32);
        *height = match is_none {
            true => f64::NAN,
            false => *height * band.scale + band.offset,
        };
    }
    let [columns, rows] = size;
    let mut notes = Vec::new();
    if let Some(shown) = shown {
        let mut hidden = 0;
        for (height, _) in (heights.iter_mut().zip(shown)).filter(|(_, shown)| !shown) {
            hidden += usize::from(!height.is_nan());
            *height = f64::NAN;
        }
        let by = if has_alpha { "alpha band" } else { "mask" };
        notes.push(format!("{hidden} heights removed by the {by} of the file"));
    }
    let from_south = step[1] < 0.0;
    for row in 0..if from_south { 0 } else { rows / 2 } {
        let (south, north) = heights.split_at_mut((rows - 1 - row) * columns);
        south[row * columns..(row + 1) * columns].swap_with_slice(&mut north[..columns]);
    }
    let half = if keys.is_point() { 0.0 } else { 0.5 };
    if (band.scale, band.offset) != (1.0, 0.0) {
        let BandFacts { scale, offset, .. } = &band;
        notes.push(format!(
            "heights are values times {scale} plus {offset}, as the file states"
        ));
    }
    if keys.is_point() {
        notes.push("heights are at the pixel corners, not at the centres".into());
    }
    Ok(GeoTiff {
        grid: RawGrid {
            corner: Place::new(
                start[0] + half * step[0],
                match from_south {
                    true => start[1] - half * step[1],
                    false => start[1] - (rows as f64 - 1.0 + half) * step[1],
                },
            ),
            step: step.map(f64::abs),
            size: [columns, rows],
            heights,
        },
        unit: keys.unit(),
        height_unit,
        unknown_unit,
        crs: keys.crs(),
        height_system: keys.height_system(),
        notes,
    })
}

/// The unit of heights by the key or the words of the band; and one of the two that is not supported, where the other does
/// not help.
fn height_unit(
    keys: &Keys,
    words: Option<&str>,
) -> Result<(Option<HeightUnit>, Option<String>), GeoTiffError> {
    let by_band = words.and_then(HeightUnit::of_words);
    match (keys.height_unit(), by_band) {
        (Some(key), Some(band)) if key != band => Err(GeoTiffError::HeightUnits {
            key: key.name(),
            band: band.name(),
        }),
        (Some(unit), _) | (None, Some(unit)) => Ok((Some(unit), keys.unknown_plan_unit())),
        (None, None) => {
            let of_band = || words.map(str::to_owned);
            Ok((None, keys.unknown_unit().or_else(of_band)))
        }
    }
}

#[cfg(test)]
mod tests;
