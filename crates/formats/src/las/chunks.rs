//! The packed parts of a LAZ cloud.
//!
//! Every size that a file says is held against the bytes that are there before anything is read by it.

use std::io::{Cursor, Read, Seek, SeekFrom};

use laz::laszip::{ChunkTable, LazItem, LazItemType, LazVlr};
use laz::record::{
    LayeredPointRecordDecompressor, RecordDecompressor, SequentialPointRecordDecompressor,
};
use laz::{DecompressionSelection, LasZipError};

use super::LasError;
use super::header::Header;
use super::record::{Shot, Transform};
use crate::guard::held;

/// Points of a part that is read; files have some fifty thousand.
const MOST: u64 = 1 << 24;
/// Points that are unpacked before they are looked at.
const STRETCH: usize = 1024;
/// Parts that are unpacked together, for each thread.
const AHEAD: usize = 2;

/// The parts of a packed cloud.
#[derive(Debug)]
pub(super) struct Chunks {
    items: Vec<LazItem>,
    record: usize,
    layered: bool,
    /// Bytes and points of each.
    table: Vec<[u64; 2]>,
    next: usize,
}

/// One part, as it is packed.
pub(super) struct Chunk {
    number: usize,
    bytes: Vec<u8>,
    points: usize,
}

impl Chunks {
    /// Reads the table of parts; the input stands where points start, and then behind what precedes the
    /// first part.
    pub(super) fn read(
        input: &mut (impl Read + Seek),
        packing: &[u8],
        length: u64,
        header: &Header,
    ) -> Result<Self, LasError> {
        let said = |what: String| LasError::Header { what };
        // 2 is point by point, 3 in layers; both in parts.
        let kind = packing.first().copied().unwrap_or(0);
        if !matches!(kind, 2 | 3) {
            return Err(LasError::Packing {
                what: format!("kind {kind}"),
            });
        }
        let vlr = LazVlr::from_buffer(packing).map_err(|error| LasError::Packing {
            what: error.to_string(),
        })?;
        let items = vlr.items().clone();
        let record = usize::from(header.record);
        let first = items.first().map(LazItem::item_type);
        let expected = match header.transform.extended {
            true => LazItemType::Point14,
            false => LazItemType::Point10,
        };
        let size: usize = items.iter().map(|item| usize::from(item.size())).sum();
        let whole = items.iter().all(|item| item.size() == size_of(item));
        if first != Some(expected) || size != record || !whole {
            return Err(said(format!("the packed point size is not {record} bytes")));
        }
        let start = header.start + 8;
        let mut at = [0; 8];
        input.read_exact(&mut at).map_err(early)?;
        let mut table_at = i64::from_le_bytes(at);
        if table_at <= header.start as i64 {
            // A writer that could not go back wrote it at the end.
            input.seek(SeekFrom::End(-8))?;
            input.read_exact(&mut at)?;
            table_at = i64::from_le_bytes(at);
        }
        let table_at = u64::try_from(table_at).unwrap_or(0);
        if table_at < start || table_at.saturating_add(8) > length {
            return Err(LasError::Unpacking {
                part: 1,
                why: "the chunk table is missing".into(),
            });
        }
        let room = table_at - start;
        let mut head = [0; 8];
        input.seek(SeekFrom::Start(table_at))?;
        input.read_exact(&mut head)?;
        let count = u32::from_le_bytes([head[4], head[5], head[6], head[7]]);
        // Each part starts with a point as it is.
        if u64::from(count) > room / record as u64 {
            return Err(said(format!("{count} chunks in {room} bytes")));
        }
        input.seek(SeekFrom::Start(table_at))?;
        let variable = vlr.uses_variable_size_chunks();
        let table = held(|| ChunkTable::read(&mut &mut *input, variable));
        let table = table.ok_or(LasError::Unpacking {
            part: 1,
            why: "the chunk table is not valid".into(),
        })?;
        let table = table.map_err(early)?;
        let mut left = header.about.points;
        let mut used = 0u64;
        let mut parts = Vec::new();
        for entry in table.as_ref() {
            let points = match variable {
                true => entry.point_count.min(left),
                false => u64::from(vlr.chunk_size()).min(left),
            };
            used = used.saturating_add(entry.byte_count);
            if used > room {
                return Err(LasError::CutOff {
                    there: header.about.points - left,
                    said: header.about.points,
                });
            }
            if points > MOST {
                return Err(said(format!("{points} points in one chunk")));
            }
            left -= points;
            parts.push([entry.byte_count, points]);
        }
        if left > 0 {
            return Err(LasError::CutOff {
                there: header.about.points - left,
                said: header.about.points,
            });
        }
        input.seek(SeekFrom::Start(start))?;
        Ok(Chunks {
            items,
            record,
            layered: kind == 3,
            table: parts,
            next: 0,
        })
    }

    /// The bytes of the next parts.
    pub(super) fn next(
        &mut self,
        input: &mut impl Read,
        threads: usize,
    ) -> Result<Vec<Chunk>, LasError> {
        let end = (self.next + AHEAD * threads).min(self.table.len());
        let parts = self.next..end;
        self.next = end;
        parts
            .map(|index| {
                let [size, points] = self.table[index];
                let mut bytes = vec![0; size as usize];
                input.read_exact(&mut bytes)?;
                Ok(Chunk {
                    number: index + 1,
                    bytes,
                    points: points as usize,
                })
            })
            .collect()
    }

    /// Unpacks a part.
    pub(super) fn unpack(
        &self,
        chunk: &Chunk,
        transform: &Transform,
    ) -> Result<Vec<Shot>, LasError> {
        let fault = |why: String| LasError::Unpacking {
            part: chunk.number,
            why,
        };
        if chunk.points == 0 {
            return Ok(Vec::new());
        }
        if self.layered && !self.layers_fit(&chunk.bytes) {
            return Err(fault("its layers are longer than the chunk".into()));
        }
        let unpacked = held(|| self.unpacked(chunk, transform, fault));
        unpacked.unwrap_or_else(|| Err(fault("its data is not valid".into())))
    }

    fn unpacked(
        &self,
        chunk: &Chunk,
        transform: &Transform,
        fault: impl Fn(String) -> LasError,
    ) -> Result<Vec<Shot>, LasError> {
        let input = Cursor::new(chunk.bytes.as_slice());
        let mut unpacker: Box<dyn RecordDecompressor<Cursor<&[u8]>>> = match self.layered {
            true => Box::new(LayeredPointRecordDecompressor::new(input)),
            false => Box::new(SequentialPointRecordDecompressor::new(input)),
        };
        let set = unpacker.set_fields_from(&self.items);
        set.map_err(|error: LasZipError| fault(error.to_string()))?;
        unpacker.set_selection(
            DecompressionSelection::base()
                .decompress_z()
                .decompress_classification()
                .decompress_flags(),
        );
        let mut shots = Vec::new();
        let mut records = vec![0; STRETCH * self.record];
        let mut left = chunk.points;
        while left > 0 {
            let many = left.min(STRETCH);
            let records = &mut records[..many * self.record];
            unpacker
                .decompress_many(records)
                .map_err(|error| fault(error.to_string()))?;
            let each = records.chunks_exact(self.record);
            shots.extend(each.map(|record| transform.shot(record)));
            left -= many;
        }
        Ok(shots)
    }

    /// The layers of a part, whose sizes follow its first point, end within it.
    fn layers_fit(&self, bytes: &[u8]) -> bool {
        let layers: usize = self.items.iter().map(layers_of).sum();
        let from = self.record + 4;
        let Some(sizes) = bytes.get(from..from + 4 * layers) else {
            return false;
        };
        let sizes = sizes.as_chunks::<4>().0.iter();
        let total: u64 = sizes.map(|&size| u64::from(u32::from_le_bytes(size))).sum();
        total <= (bytes.len() - from - 4 * layers) as u64
    }
}

/// How many layers an item is packed in.
fn layers_of(item: &LazItem) -> usize {
    match item.item_type() {
        LazItemType::Point14 => 9,
        LazItemType::RGBNIR14 => 2,
        LazItemType::Byte14(count) => usize::from(count),
        _ => 1,
    }
}

/// The bytes that an item of a kind has.
fn size_of(item: &LazItem) -> u16 {
    match item.item_type() {
        LazItemType::Point10 => 20,
        LazItemType::GpsTime => 8,
        LazItemType::RGB12 | LazItemType::RGB14 => 6,
        LazItemType::WavePacket13 | LazItemType::WavePacket14 => 29,
        LazItemType::Point14 => 30,
        LazItemType::RGBNIR14 => 8,
        LazItemType::Byte(count) | LazItemType::Byte14(count) => count,
    }
}

/// What ends too early was cut off.
fn early(error: std::io::Error) -> LasError {
    match error.kind() {
        std::io::ErrorKind::UnexpectedEof => LasError::Unpacking {
            part: 1,
            why: "the chunk table is incomplete".into(),
        },
        _ => LasError::Io(error),
    }
}
