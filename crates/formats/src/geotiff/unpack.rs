//! Chunks that the `tiff` crate does not unpack: edge tiles packed with LZW, which it gives up on where a
//! predictor leaves their padding to be skipped, and ZSTD, which it does in C only.

use std::io::{Read, Seek, SeekFrom};

use tiff::decoder::Decoder;
use tiff::tags::{ByteOrder, Tag};
use weezl::BitOrder;
use weezl::decode::Configuration;

use crate::guard::held;

/// Numbers of compressions, as their specifications have them.
const LZW: u32 = 5;
const ZSTD: u32 = 50_000;
/// Bytes of a chunk that are unpacked at most.
const MOST: usize = 1 << 30;

/// How the chunks of a file are packed.
pub(super) struct Packed {
    compression: u32,
    offsets: Vec<u64>,
    sizes: Vec<u64>,
    /// Bytes of a number.
    width: usize,
    /// 1 for whole numbers, 2 for signed ones, 3 for floats.
    format: u32,
    predictor: u32,
    order: ByteOrder,
    /// Numbers in a row of a chunk, and rows.
    wide: usize,
    high: usize,
}

impl Packed {
    /// `None` for a file that the crate unpacks whatever happens, or whose numbers are none of whole bytes.
    pub(super) fn of<R: Read + Seek>(decoder: &mut Decoder<R>) -> Option<Self> {
        let mut number = |tag, default: u32| match decoder.find_tag_unsigned(tag) {
            Ok(found) => Some(found.unwrap_or(default)),
            Err(_) => None,
        };
        let compression = number(Tag::Compression, 1)?;
        let bits = number(Tag::BitsPerSample, 8)?;
        let format = number(Tag::SampleFormat, 1)?;
        let predictor = number(Tag::Predictor, 1)?;
        let fits = matches!(compression, LZW | ZSTD)
            && matches!((format, bits), (1 | 2, 8 | 16 | 32 | 64) | (3, 32 | 64))
            && matches!((predictor, format), (1, _) | (2, 1 | 2) | (3, 3));
        let mut list = |tiles, strips| {
            let found = decoder.get_tag_u64_vec(tiles);
            found.or_else(|_| decoder.get_tag_u64_vec(strips)).ok()
        };
        let offsets = list(Tag::TileOffsets, Tag::StripOffsets)?;
        let sizes = list(Tag::TileByteCounts, Tag::StripByteCounts)?;
        let (wide, high) = decoder.chunk_dimensions();
        fits.then(|| Packed {
            compression,
            offsets,
            sizes,
            width: bits as usize / 8,
            format,
            predictor,
            order: decoder.byte_order(),
            wide: wide as usize,
            high: high as usize,
        })
    }

    /// The numbers of a chunk, padding and all; `None` where its bytes make no sense.
    pub(super) fn chunk(&self, input: &mut (impl Read + Seek), index: usize) -> Option<Vec<f64>> {
        let (offset, size) = (*self.offsets.get(index)?, *self.sizes.get(index)?);
        let whole = self.wide.checked_mul(self.high)?.checked_mul(self.width)?;
        if whole > MOST {
            return None;
        }
        input.seek(SeekFrom::Start(offset)).ok()?;
        let mut packed = Vec::new();
        input.take(size).read_to_end(&mut packed).ok()?;
        let mut bytes = match self.compression {
            LZW => unpack_lzw(&packed, whole),
            _ => unpack_zstd(&packed, whole)?,
        };
        let row = self.wide * self.width;
        let mut numbers = Vec::with_capacity(bytes.len() / self.width);
        for row in bytes.chunks_exact_mut(row) {
            match self.predictor {
                2 => self.add_up(row),
                3 => {
                    let shuffled = self.gather(row);
                    row.copy_from_slice(&shuffled);
                }
                _ => {}
            }
            numbers.extend(row.chunks_exact(self.width).map(|bytes| self.number(bytes)));
        }
        Some(numbers)
    }

    /// The bits of a number as a whole one.
    fn bits(&self, bytes: &[u8]) -> u64 {
        let add = |sum: u64, byte: &u8| sum << 8 | u64::from(*byte);
        match self.order {
            ByteOrder::LittleEndian => bytes.iter().rev().fold(0, add),
            ByteOrder::BigEndian => bytes.iter().fold(0, add),
        }
    }

    fn number(&self, bytes: &[u8]) -> f64 {
        let bits = self.bits(bytes);
        let unused = 64 - 8 * self.width as u32;
        match (self.format, self.width) {
            (3, 4) => f64::from(f32::from_bits(bits as u32)),
            (3, _) => f64::from_bits(bits),
            // Up to the top and down again carries the sign.
            (2, _) => ((bits << unused) as i64 >> unused) as f64,
            _ => bits as f64,
        }
    }

    /// Undoes differences between neighbours in a row.
    fn add_up(&self, row: &mut [u8]) {
        let mut sum = 0u64;
        for bytes in row.chunks_exact_mut(self.width) {
            sum = sum.wrapping_add(self.bits(bytes));
            let written = sum.to_le_bytes();
            bytes.copy_from_slice(&written[..self.width]);
            if self.order == ByteOrder::BigEndian {
                bytes.reverse();
            }
        }
    }

    /// Undoes differences between bytes, of which the first ones of all numbers come first, then the second
    /// ones; the most significant are the first whatever the file's order.
    fn gather(&self, row: &[u8]) -> Vec<u8> {
        let mut sum = 0u8;
        let planes: Vec<u8> = (row.iter())
            .map(|byte| {
                sum = sum.wrapping_add(*byte);
                sum
            })
            .collect();
        let mut gathered = vec![0; row.len()];
        for (index, bytes) in gathered.chunks_exact_mut(self.width).enumerate() {
            for (place, byte) in bytes.iter_mut().enumerate() {
                *byte = planes[place * self.wide + index];
            }
            if self.order == ByteOrder::LittleEndian {
                bytes.reverse();
            }
        }
        gathered
    }
}

/// As many bytes as there are, up to all of them.
fn unpack_lzw(packed: &[u8], whole: usize) -> Vec<u8> {
    let mut decoder = Configuration::with_tiff_size_switch(BitOrder::Msb, 8).build();
    let mut bytes = Vec::new();
    let mut stretch = vec![0; whole.min(1 << 16)];
    let mut rest = packed;
    while bytes.len() < whole {
        let step = decoder.decode_bytes(rest, &mut stretch);
        bytes.extend_from_slice(&stretch[..step.consumed_out]);
        rest = &rest[step.consumed_in..];
        if step.status.is_err() || step.consumed_in + step.consumed_out == 0 {
            break;
        }
    }
    bytes.truncate(whole);
    bytes
}

fn unpack_zstd(packed: &[u8], whole: usize) -> Option<Vec<u8>> {
    let unpacked = held(|| {
        let decoder = ruzstd::decoding::StreamingDecoder::new(packed).ok()?;
        let mut bytes = Vec::new();
        decoder.take(whole as u64).read_to_end(&mut bytes).ok()?;
        Some(bytes)
    });
    unpacked.flatten()
}

#[cfg(test)]
mod tests {
    use std::io::Cursor;

    use super::*;
    use proptest::prelude::*;

    const NUMBERS: [f64; 8] = [100.0, 101.0, 90.0, 30_000.0, 3.0, 4.0, 5.0, 77.0];

    fn packed(
        compression: u32,
        width: usize,
        format: u32,
        predictor: u32,
        order: ByteOrder,
    ) -> Packed {
        Packed {
            compression,
            offsets: vec![2],
            sizes: vec![9999],
            width,
            format,
            predictor,
            order,
            wide: 4,
            high: 2,
        }
    }

    /// The numbers as a writer packs them, by the definitions of the predictors.
    fn written(packed: &Packed) -> Vec<u8> {
        let mut bytes = Vec::new();
        for row in NUMBERS.chunks(4) {
            let bits = |value: f64| match (packed.format, packed.width) {
                (3, 4) => u64::from((value as f32).to_bits()),
                (3, _) => value.to_bits(),
                _ => value as u64,
            };
            let of = |bits: u64| -> Vec<u8> { bits.to_be_bytes()[8 - packed.width..].to_vec() };
            let big: Vec<Vec<u8>> = row.iter().map(|&value| of(bits(value))).collect();
            let mut row_bytes: Vec<u8> = match packed.predictor {
                2 => {
                    let before = [0.0].into_iter().chain(row.iter().copied());
                    let differences = row.iter().zip(before);
                    let each = differences
                        .map(|(&value, before)| of(bits(value).wrapping_sub(bits(before))));
                    each.flatten().collect()
                }
                3 => {
                    let planes: Vec<u8> = (0..packed.width)
                        .flat_map(|place| big.iter().map(move |b| b[place]))
                        .collect();
                    let before = [0].into_iter().chain(planes.iter().copied());
                    planes
                        .iter()
                        .zip(before)
                        .map(|(&byte, before)| byte.wrapping_sub(before))
                        .collect()
                }
                _ => big.into_iter().flatten().collect(),
            };
            if packed.order == ByteOrder::LittleEndian && packed.predictor != 3 {
                row_bytes
                    .chunks_exact_mut(packed.width)
                    .for_each(<[u8]>::reverse);
            }
            bytes.extend(row_bytes);
        }
        let packed = match packed.compression {
            LZW => weezl::encode::Encoder::with_tiff_size_switch(BitOrder::Msb, 8)
                .encode(&bytes)
                .unwrap(),
            _ => ruzstd::encoding::compress_to_vec(
                bytes.as_slice(),
                ruzstd::encoding::CompressionLevel::Fastest,
            ),
        };
        [b"II".as_slice(), &packed].concat()
    }

    #[test]
    fn every_predictor_of_every_number_is_undone() {
        for compression in [LZW, ZSTD] {
            for order in [ByteOrder::LittleEndian, ByteOrder::BigEndian] {
                for (width, format, predictor) in [
                    (2, 1, 1),
                    (2, 1, 2),
                    (2, 2, 2),
                    (4, 2, 2),
                    (8, 1, 2),
                    (4, 3, 1),
                    (4, 3, 3),
                    (8, 3, 3),
                ] {
                    let packed = packed(compression, width, format, predictor, order);
                    let found = packed.chunk(&mut Cursor::new(written(&packed)), 0);
                    assert_eq!(
                        found.unwrap(),
                        NUMBERS,
                        "{compression} {order:?} {width} {format} {predictor}"
                    );
                }
            }
        }
        let signed = packed(LZW, 2, 2, 1, ByteOrder::LittleEndian);
        assert_eq!(signed.number(&(-999i16).to_le_bytes()), -999.0);
    }

    proptest! {
        /// Whatever happens to the bytes, there is an answer.
        #[test]
        fn mutated_bytes_never_panic(zstd in any::<bool>(), changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..6)) {
            let packed = packed(if zstd { ZSTD } else { LZW }, 4, 3, 3, ByteOrder::LittleEndian);
            let mut bytes = written(&packed);
            for (at, byte) in changes {
                let at = at.index(bytes.len());
                bytes[at] = byte;
            }
            let found = packed.chunk(&mut Cursor::new(bytes), 0);
            prop_assert!(found.is_none_or(|numbers| numbers.len() <= 8));
        }
    }
}
