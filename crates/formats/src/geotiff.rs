//! GeoTIFF: heights of pixels, as the OGC GeoTIFF 1.1 standard places them.
//!
//! Strips and tiles, the compressions and predictors of the `tiff` crate, whole numbers and floats of
//! every width, classic and big files. One band; its pixels stand east and north.

mod band;
mod unpack;
mod write;

use std::io::{Read, Seek};

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use tiff::TiffError;
use tiff::decoder::{Decoder, DecodingResult, Limits};
use tiff::tags::Tag;

use crate::geokeys::Keys;
use crate::{HeightUnit, RawGrid};
use band::BandFacts;
use unpack::Packed;
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
            E::Bands { .. } => "use the terrain model, not a picture of it",
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

/// Reads heights.
///
/// # Errors
///
/// When it is no GeoTIFF of heights in a projected system.
pub fn read(input: impl Read + Seek) -> Result<GeoTiff, GeoTiffError> {
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
    if bands != 1 {
        return Err(GeoTiffError::Bands { bands });
    }
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
    // East of a pixel's corner is start + column * step, north likewise with rows from the north.
    let (step, start) = match (scale.as_slice(), tie.as_slice(), matrix.as_slice()) {
        ([dx, dy, ..], [i, j, _, x, y, ..], _) => ([*dx, *dy], [x - i * dx, y + j * dy]),
        (_, _, m) if m.len() >= 8 => {
            if m[1] != 0.0 || m[4] != 0.0 {
                return Err(GeoTiffError::Turned);
            }
            ([m[0], -m[5]], [m[3], m[7]])
        }
        _ => return Err(GeoTiffError::NoPlace),
    };
    if !(step[0] > 0.0 && step[1] > 0.0) {
        return Err(GeoTiffError::Turned);
    }
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
    let band_unit = band.unit.as_deref().and_then(HeightUnit::of_words);
    let unknown_unit =
        (keys.unknown_unit()).or_else(|| band.unit.clone().filter(|_| band_unit.is_none()));
    let mut heights = pixels(&mut decoder, columns as usize, rows as usize)?;
    for height in &mut heights {
        let is_none = !height.is_finite()
            || none.is_some_and(|none| *height == none || (*height as f32) == none as f32);
        *height = match is_none {
            true => f64::NAN,
            false => *height * band.scale + band.offset,
        };
    }
    let (columns, rows) = (columns as usize, rows as usize);
    for row in 0..rows / 2 {
        let (south, north) = heights.split_at_mut((rows - 1 - row) * columns);
        south[row * columns..(row + 1) * columns].swap_with_slice(&mut north[..columns]);
    }
    let half = if keys.is_point() { 0.0 } else { 0.5 };
    let mut notes = Vec::new();
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
                start[1] - (rows as f64 - 1.0 + half) * step[1],
            ),
            step,
            size: [columns, rows],
            heights,
        },
        unit: keys.unit(),
        height_unit: band_unit.or(keys.height_unit()),
        unknown_unit,
        crs: keys.crs(),
        height_system: keys.height_system(),
        notes,
    })
}

/// All pixels, row by row from the north. A row of chunks is put together at a time, so that no more is
/// held than was read.
fn pixels<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    columns: usize,
    rows: usize,
) -> Result<Vec<f64>, GeoTiffError> {
    let (wide, high) = decoder.chunk_dimensions();
    let (wide, high) = (wide.max(1) as usize, high.max(1) as usize);
    let (across, down) = (columns.div_ceil(wide), rows.div_ceil(high));
    let packed = Packed::of(decoder);
    let mut all: Vec<f64> = Vec::new();
    for band in 0..down {
        let first = all.len();
        for chunk in 0..across {
            let index = (band * across + chunk) as u32;
            let (width, height) = decoder.chunk_data_dimensions(index);
            let (mut width, height) = (width as usize, height as usize);
            let values = match (decoder.read_chunk(index), &packed) {
                (Ok(read), _) => numbers(read)?,
                (Err(error), None) => return Err(error.into()),
                (Err(error), Some(packed)) => {
                    width = wide;
                    let values = packed.chunk(decoder.inner(), index as usize);
                    let values = values.filter(|values| values.len() >= width * height);
                    values.ok_or(error)?
                }
            };
            if chunk == 0 {
                all.resize(first + columns * height.min(rows - band * high), f64::NAN);
            }
            let west = chunk * wide;
            for (row, line) in values.chunks_exact(width.max(1)).take(height).enumerate() {
                let at = first + row * columns + west;
                let reach = line.len().min(columns - west);
                if let Some(place) = all.get_mut(at..at + reach) {
                    place.copy_from_slice(&line[..reach]);
                }
            }
        }
    }
    all.resize(columns * rows, f64::NAN);
    Ok(all)
}

fn numbers(read: DecodingResult) -> Result<Vec<f64>, GeoTiffError> {
    Ok(match read {
        DecodingResult::U8(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::I8(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::U16(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::I16(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::U32(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::I32(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::U64(v) => v.into_iter().map(|n| n as f64).collect(),
        DecodingResult::I64(v) => v.into_iter().map(|n| n as f64).collect(),
        DecodingResult::F16(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::F32(v) => v.into_iter().map(f64::from).collect(),
        DecodingResult::F64(v) => v,
    })
}

#[cfg(test)]
mod tests;
