//! The numbers of pixels, and which of them are shown.

use std::io::{Read, Seek};

use tiff::decoder::{Decoder, DecodingResult};
use tiff::tags::Tag;

use super::GeoTiffError;
use super::unpack::Packed;

/// The number of a picture that is the mask of another one of the same size, among the kinds of pictures.
const MASK: u32 = 4;

/// Heights row by row from the north, and whether each is shown.
pub(super) struct Pixels {
    pub(super) heights: Vec<f64>,
    pub(super) shown: Option<Vec<bool>>,
}

impl Pixels {
    /// Of the picture that the decoder stands at, whose second sample, if it has one, says what is shown. No more is held than was
    /// read.
    pub(super) fn read<R: Read + Seek>(
        decoder: &mut Decoder<R>,
        size: [usize; 2],
        samples: usize,
    ) -> Result<Self, GeoTiffError> {
        let (mut heights, mut shown) = (Vec::new(), Vec::new());
        each_line(decoder, size, samples, |sample, at, line| match sample {
            0 => put(&mut heights, at, line.iter().copied(), f64::NAN),
            _ => put(
                &mut shown,
                at,
                line.iter().map(|&value| value != 0.0),
                false,
            ),
        })?;
        let all = size[0] * size[1];
        heights.resize(all, f64::NAN);
        let shown = (samples > 1).then(|| {
            shown.resize(all, false);
            shown
        });
        Ok(Pixels { heights, shown })
    }
}

/// Puts values from a place on; up to there are others.
fn put<T: Clone>(into: &mut Vec<T>, at: usize, values: impl ExactSizeIterator<Item = T>, none: T) {
    let end = at + values.len();
    if into.len() < end {
        into.resize(end, none);
    }
    for (place, value) in into[at..end].iter_mut().zip(values) {
        *place = value;
    }
}

/// What the mask of a file shows, where there is one: that of its heights, not those of overviews. A later picture that cannot
/// be read is none.
pub(super) fn mask<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    size: [usize; 2],
) -> Result<Option<Vec<bool>>, GeoTiffError> {
    while decoder.more_images() && decoder.next_image().is_ok() {
        if decoder
            .find_tag_unsigned(Tag::NewSubfileType)
            .ok()
            .flatten()
            != Some(MASK)
        {
            continue;
        }
        let (columns, rows) = decoder.dimensions()?;
        if [columns as usize, rows as usize] != size {
            return Err(GeoTiffError::Mask { columns, rows });
        }
        let mut shown = Vec::new();
        match decoder.find_tag_unsigned(Tag::BitsPerSample)? {
            None | Some(1u16) => each_line_of_bits(decoder, size, |at, bits| {
                put(&mut shown, at, bits.iter().copied(), false);
            })?,
            _ => each_line(decoder, size, 1, |_, at, line| {
                put(
                    &mut shown,
                    at,
                    line.iter().map(|&value| value != 0.0),
                    false,
                );
            })?,
        }
        shown.resize(size[0] * size[1], false);
        return Ok(Some(shown));
    }
    Ok(None)
}

/// Hands out parts of rows: which sample of the pixels, where the first of them stands among all, and the numbers.
fn each_line<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    [columns, rows]: [usize; 2],
    samples: usize,
    mut line: impl FnMut(usize, usize, &[f64]),
) -> Result<(), GeoTiffError> {
    let (wide, high) = decoder.chunk_dimensions();
    let (wide, high) = (wide.max(1) as usize, high.max(1) as usize);
    let (across, down) = (columns.div_ceil(wide), rows.div_ceil(high));
    let packed = match samples {
        1 => Packed::of(decoder),
        _ => None,
    };
    // Samples stand in chunks of their own, or one after the other for each pixel.
    let apart = decoder.find_tag_unsigned(Tag::PlanarConfiguration)? == Some(2u16);
    let (planes, stride) = if apart { (samples, 1) } else { (1, samples) };
    let mut gathered = Vec::new();
    for chunk in 0..planes * across * down {
        let (width, height) = decoder.chunk_data_dimensions(chunk as u32);
        let (mut width, height) = (width as usize, height as usize);
        let values = match (decoder.read_chunk(chunk as u32), &packed) {
            (Ok(read), _) => numbers(read),
            (Err(error), None) => return Err(error.into()),
            (Err(error), Some(packed)) => {
                width = wide;
                let values = packed.chunk(decoder.inner(), chunk);
                let values = values.filter(|values| values.len() >= width * height);
                values.ok_or(error)?
            }
        };
        let (plane, place) = (chunk / (across * down), chunk % (across * down));
        let (west, north) = (place % across * wide, place / across * high);
        let lines = values.chunks_exact((width * stride).max(1));
        for (row, all) in lines.take(height.min(rows - north)).enumerate() {
            let at = (north + row) * columns + west;
            let reach = width.min(columns - west);
            if stride == 1 {
                line(plane, at, &all[..reach]);
                continue;
            }
            for sample in 0..stride {
                gathered.clear();
                gathered.extend(all.iter().skip(sample).step_by(stride).take(reach));
                line(sample, at, &gathered);
            }
        }
    }
    Ok(())
}

/// The same of pixels of one bit, eight to a byte, each row of a chunk from a byte of its own.
fn each_line_of_bits<R: Read + Seek>(
    decoder: &mut Decoder<R>,
    [columns, rows]: [usize; 2],
    mut line: impl FnMut(usize, &[bool]),
) -> Result<(), GeoTiffError> {
    let (wide, high) = decoder.chunk_dimensions();
    let (wide, high) = (wide.max(1) as usize, high.max(1) as usize);
    let across = columns.div_ceil(wide);
    let mut bits = Vec::new();
    for chunk in 0..across * rows.div_ceil(high) {
        let (width, height) = decoder.chunk_data_dimensions(chunk as u32);
        let (width, height) = (width as usize, height as usize);
        let DecodingResult::U8(bytes) = decoder.read_chunk(chunk as u32)? else {
            return Err(GeoTiffError::MaskNumbers);
        };
        let (west, north) = (chunk % across * wide, chunk / across * high);
        let lines = bytes.chunks_exact(width.div_ceil(8).max(1));
        for (row, bytes) in lines.take(height.min(rows - north)).enumerate() {
            bits.clear();
            let all = bytes
                .iter()
                .flat_map(|byte| (0..8).rev().map(move |bit| byte >> bit & 1 == 1));
            bits.extend(all.take(width.min(columns - west)));
            line((north + row) * columns + west, &bits);
        }
    }
    Ok(())
}

fn numbers(read: DecodingResult) -> Vec<f64> {
    match read {
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
    }
}
