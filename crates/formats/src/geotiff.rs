//! GeoTIFF: heights of pixels, as the OGC GeoTIFF 1.1 standard places them.
//!
//! Strips and tiles, the compressions and predictors of the `tiff` crate, whole numbers and floats of
//! every width, classic and big files. One band; its pixels stand east and north.

mod band;
mod place;
mod stored;
mod unpack;
mod write;

use std::io::{Read, Seek};

use dapedon_core::plan::Place;
use dapedon_core::units::LengthUnit;
use tiff::decoder::{Decoder, DecodingResult, Limits};
use tiff::tags::Tag;
use tiff::{TiffError, TiffUnsupportedError};

use crate::geokeys::Keys;
use crate::{HeightUnit, RawGrid};
use band::BandFacts;
use place::PixelPlace;
use stored::Stored;
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
    /// The world file beside it is not valid, or turned.
    #[error("the world file beside it is not six numbers of a grid that is not rotated")]
    World,
    /// The mask has another size than the heights.
    #[error("the mask has {columns} by {rows} pixels, another size than the heights")]
    Mask {
        /// Columns.
        columns: u32,
        /// Rows.
        rows: u32,
    },
    /// The pixels are numbers of colours.
    #[error("the pixels are numbers of colours in a palette, not heights")]
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
            E::Mask { .. } => "export the file again, without the mask or with the right one",
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
    let samples = Samples {
        count: bands as usize,
        apart: decoder.find_tag_unsigned(Tag::PlanarConfiguration)? == Some(2u16),
    };
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
    let band_unit = band.unit.as_deref().and_then(HeightUnit::of_words);
    let unknown_unit =
        (keys.unknown_unit()).or_else(|| band.unit.clone().filter(|_| band_unit.is_none()));
    let size = [columns as usize, rows as usize];
    let mut heights = pixels(&mut decoder, size, samples, 0)?;
    let shown = match has_alpha {
        true => Some(pixels(&mut decoder, size, samples, 1)?),
        false => mask(&mut decoder, size)?,
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
        for (height, _) in (heights.iter_mut().zip(shown)).filter(|(_, shown)| *shown == 0.0) {
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
        height_unit: band_unit.or(keys.height_unit()),
        unknown_unit,
        crs: keys.crs(),
        height_system: keys.height_system(),
        notes,
    })
}

/// How the numbers of a pixel are stored.
#[derive(Debug, Clone, Copy)]
struct Samples {
    /// How many there are.
    count: usize,
    /// Each in chunks of its own, instead of one after the other.
    apart: bool,
}

/// The mask of the heights, where the file has one: zero where there is none. Only whole masks count, not those of overviews.
fn mask<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    [columns, rows]: [usize; 2],
) -> Result<Option<Vec<f64>>, GeoTiffError> {
    const MASK: u32 = 4;
    while decoder.more_images() {
        decoder.next_image()?;
        if decoder.find_tag_unsigned(Tag::NewSubfileType)? != Some(MASK) {
            continue;
        }
        let found = decoder.dimensions()?;
        if (found.0 as usize, found.1 as usize) != (columns, rows) {
            return Err(GeoTiffError::Mask {
                columns: found.0,
                rows: found.1,
            });
        }
        let one = Samples {
            count: 1,
            apart: false,
        };
        if decoder.find_tag_unsigned(Tag::BitsPerSample)? != Some(1u16) {
            return pixels(decoder, [columns, rows], one, 0).map(Some);
        }
        return bits(decoder, [columns, rows]).map(Some);
    }
    Ok(None)
}

/// Pixels of one bit, eight to a byte, each row from a byte of its own.
fn bits<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    [columns, rows]: [usize; 2],
) -> Result<Vec<f64>, GeoTiffError> {
    let (wide, high) = decoder.chunk_dimensions();
    let (wide, high) = (wide.max(1) as usize, high.max(1) as usize);
    let across = columns.div_ceil(wide);
    let mut all = vec![0.0; columns * rows];
    for chunk in 0..across * rows.div_ceil(high) {
        let DecodingResult::U8(bytes) = decoder.read_chunk(chunk as u32)? else {
            return Err(GeoTiffError::Bands { bands: 1 });
        };
        let (width, _) = decoder.chunk_data_dimensions(chunk as u32);
        let (west, north) = (chunk % across * wide, chunk / across * high);
        let lines = bytes.chunks(width.div_ceil(8).max(1) as usize);
        for (row, line) in lines.enumerate().take(rows.saturating_sub(north).min(high)) {
            for column in 0..(width as usize).min(columns - west) {
                let byte = line.get(column / 8).copied().unwrap_or(0);
                let bit = byte >> (7 - column % 8) & 1;
                all[(north + row) * columns + west + column] = f64::from(bit);
            }
        }
    }
    Ok(all)
}

/// All pixels, row by row from the north. A row of chunks is put together at a time, so that no more is
/// held than was read.
fn pixels<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    [columns, rows]: [usize; 2],
    samples: Samples,
    sample: usize,
) -> Result<Vec<f64>, GeoTiffError> {
    let (wide, high) = decoder.chunk_dimensions();
    let (wide, high) = (wide.max(1) as usize, high.max(1) as usize);
    let (across, down) = (columns.div_ceil(wide), rows.div_ceil(high));
    let packed = match samples.count {
        1 => Packed::of(decoder),
        _ => None,
    };
    let (first_chunk, stride, sample) = match samples.apart {
        true => (sample * across * down, 1, 0),
        false => (0, samples.count, sample),
    };
    let mut all: Vec<f64> = Vec::new();
    for band in 0..down {
        let first = all.len();
        for chunk in 0..across {
            let index = (first_chunk + band * across + chunk) as u32;
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
            let lines = values.chunks_exact((width * stride).max(1));
            for (row, line) in lines.take(height).enumerate() {
                let at = first + row * columns + west;
                let reach = (line.len() / stride).min(columns - west);
                if let Some(places) = all.get_mut(at..at + reach) {
                    let values = line.iter().skip(sample).step_by(stride);
                    for (place, value) in places.iter_mut().zip(values) {
                        *place = *value;
                    }
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
