//! LAS and LAZ clouds, versions 1.0 to 1.4, every point format (ASPRS LAS 1.4).
//!
//! Points are delivered in batches as they are read, and never held. Of packed clouds only the places,
//! returns, classes and flags are unpacked, several chunks at a time.

mod chunks;
mod error;
mod header;
mod record;
mod write;

use std::io::{Read, Seek, SeekFrom};

use dapedon_core::surface::FARTHEST;
use dapedon_core::units::LengthUnit;
use rayon::prelude::*;

use crate::HeightUnit;

use chunks::Chunks;
pub use error::LasError;
use header::Header;
pub use record::Shot;
use record::Transform;
pub use write::write;

/// Bytes that are read together of a cloud that is not packed.
const BATCH: usize = 1 << 20;

/// What a cloud's header says.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct CloudFacts {
    /// The version of the format, and what its points are like.
    pub version: String,
    /// True where it is packed.
    pub packed: bool,
    /// How many points it holds.
    pub points: u64,
    /// Where the header says they lie: west, south, east, north.
    pub bounds: [f64; 4],
    /// The unit of coordinates.
    pub unit: Option<LengthUnit>,
    /// The unit of heights, where the header has one for them. Where that of coordinates is known too, heights are read in
    /// that.
    pub height_unit: Option<HeightUnit>,
    /// A unit that is not supported.
    pub unknown_unit: Option<String>,
    /// True where heights count downwards.
    pub is_depth: bool,
    /// The coordinate system.
    pub crs: Option<String>,
    /// The system of heights.
    pub height_system: Option<String>,
    /// The program that wrote it.
    pub made_with: String,
    /// The day it was made.
    pub date: Option<String>,
    /// What was understood.
    pub notes: Vec<String>,
    /// True where no position is given, and points lie around the origin: as a scanner saw them.
    pub is_in_scanner_frame: bool,
}

/// A cloud whose header has been read.
#[derive(Debug)]
pub struct Cloud<R> {
    input: R,
    about: CloudFacts,
    parts: Parts,
    record: usize,
    transform: Transform,
}

/// How points are stored.
#[derive(Debug)]
enum Parts {
    Plain { left: u64 },
    Packed(Chunks),
}

/// True when the first bytes are those of a cloud.
pub(crate) fn is_cloud(head: &[u8]) -> bool {
    head.starts_with(b"LASF")
}

impl<R: Read + Seek + Send> Cloud<R> {
    /// Reads a cloud's header.
    ///
    /// # Errors
    ///
    /// When it is none, or says what cannot be.
    pub fn open(mut input: R) -> Result<Self, LasError> {
        let length = input.seek(SeekFrom::End(0))?;
        input.seek(SeekFrom::Start(0))?;
        let header = Header::read(&mut input, length)?;
        let record = usize::from(header.record);
        input.seek(SeekFrom::Start(header.start))?;
        let parts = match &header.packing {
            Some(packing) => {
                let chunks = Chunks::read(&mut input, packing, length, &header)?;
                Parts::Packed(chunks)
            }
            None => {
                let there = (length - header.start) / record as u64;
                if there < header.about.points {
                    return Err(LasError::CutOff {
                        there,
                        said: header.about.points,
                    });
                }
                Parts::Plain {
                    left: header.about.points,
                }
            }
        };
        Ok(Cloud {
            input,
            about: header.about,
            parts,
            record,
            transform: header.transform,
        })
    }

    /// What the header says.
    pub fn about(&self) -> &CloudFacts {
        &self.about
    }

    /// Hands over all points, in the file's order, batch by batch; the next ones are read meanwhile.
    ///
    /// # Errors
    ///
    /// When it is cut off or cannot be unpacked, or a point lies where none can.
    pub fn each(mut self, mut take: impl FnMut(&[Shot]) + Send) -> Result<(), LasError> {
        let mut ready: Vec<Vec<Shot>> = Vec::new();
        loop {
            let (next, ()) = rayon::join(
                || self.next(),
                || ready.iter().for_each(|batch| take(batch)),
            );
            ready = next?;
            if ready.is_empty() {
                return Ok(());
            }
        }
    }

    /// The next batches; none at the end.
    fn next(&mut self) -> Result<Vec<Vec<Shot>>, LasError> {
        let threads = rayon::current_num_threads();
        let transform = self.transform;
        let batches: Vec<Vec<Shot>> = match &mut self.parts {
            Parts::Plain { left } => {
                let many = (BATCH * threads / self.record).max(1) as u64;
                let many = many.min(*left);
                *left -= many;
                let mut bytes = vec![0; many as usize * self.record];
                self.input.read_exact(&mut bytes)?;
                let size = (BATCH / self.record).max(1) * self.record;
                let read = |bytes: &[u8]| {
                    let records = bytes.chunks_exact(self.record);
                    records.map(|record| transform.shot(record)).collect()
                };
                bytes.par_chunks(size).map(read).collect()
            }
            Parts::Packed(chunks) => {
                let packed = chunks.next(&mut self.input, threads)?;
                let unpack = |chunk: chunks::Chunk| chunks.unpack(&chunk, &transform);
                let read = packed.into_par_iter().map(unpack);
                read.collect::<Result<_, _>>()?
            }
        };
        let far = |shot: &&Shot| {
            let reach = shot.east.abs().max(shot.north.abs()).max(shot.height.abs());
            reach.is_nan() || reach > FARTHEST
        };
        match batches.par_iter().flatten().find_any(far) {
            Some(_) => Err(LasError::Far),
            None => Ok(batches),
        }
    }
}

#[cfg(test)]
mod tests;
