//! E57 clouds of scanners (ASTM E2807): all scans of a file, each moved to where its scanner stood.
//!
//! The package reads packet by packet; points are handed on in batches and never held. Lengths are in metres, as the standard has
//! it. Points have no classes. A scan whose file says no position is in the frame of its scanner.

use std::io::{Read, Seek, SeekFrom};

use dapedon_core::plan::{Extent, Place};
use dapedon_core::surface::FARTHEST;
use dapedon_core::units::LengthUnit;
use e57::{CartesianCoordinate, E57Reader, PointCloud};

use crate::guard::held;
use crate::las::{CloudFacts, Shot};
use crate::wkt;

/// Points that are handed on together.
const BATCH: usize = 1 << 15;

/// Why a scanner's cloud could not be read.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum E57Error {
    /// The file is not valid.
    #[error("the file is not valid: {why}")]
    Invalid {
        /// Why.
        why: String,
    },
    /// The file has no scan.
    #[error("the file has no scan")]
    NoScan,
    /// A coordinate is not usable.
    #[error("a coordinate of scan {scan} is not a number, or beyond ±{FARTHEST}")]
    Far {
        /// The scan, from one.
        scan: usize,
    },
    /// The coordinates are latitude and longitude in degrees.
    #[error("the coordinates are latitude and longitude in degrees")]
    Degrees,
}

impl E57Error {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            E57Error::Invalid { .. } => "get the complete file, or export the cloud as LAS or LAZ",
            E57Error::NoScan => "use a file with scans; pictures alone have no heights",
            E57Error::Far { .. } => "export the cloud again, without points that are not valid",
            E57Error::Degrees => {
                "convert it to the survey's grid: volumes need lengths, not degrees"
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(E57Error, "e57");

/// True when the first bytes are those of a scanner's cloud.
pub(crate) fn is_e57(head: &[u8]) -> bool {
    head.starts_with(b"ASTM-E57")
}

/// A scanner's cloud whose description has been read.
pub struct ScannedCloud<R: Read + Seek> {
    reader: E57Reader<R>,
    scans: Vec<PointCloud>,
    facts: CloudFacts,
}

fn invalid(error: &e57::Error) -> E57Error {
    E57Error::Invalid {
        why: error.to_string().to_lowercase(),
    }
}

fn broken() -> E57Error {
    E57Error::Invalid {
        why: "its parts contradict each other".into(),
    }
}

impl<R: Read + Seek> ScannedCloud<R> {
    /// Reads the description of the scans.
    ///
    /// # Errors
    ///
    /// When it is no such file, has no scan, or is in degrees.
    pub fn open(mut input: R) -> Result<Self, E57Error> {
        let length = input.seek(SeekFrom::End(0)).and_then(|length| {
            input.rewind()?;
            Ok(length)
        });
        let length = length.map_err(|error| E57Error::Invalid {
            why: error.to_string(),
        })?;
        let reader = held(|| E57Reader::new(input)).ok_or_else(broken)?;
        let reader = reader.map_err(|error| invalid(&error))?;
        let scans = reader.pointclouds();
        if scans.is_empty() {
            return Err(E57Error::NoScan);
        }
        let records = scans
            .iter()
            .map(|scan| scan.records)
            .fold(0, u64::saturating_add);
        if !fits(records, length) {
            let why = format!("{records} points do not fit into {length} bytes");
            return Err(E57Error::Invalid { why });
        }
        let system = reader
            .coordinate_metadata()
            .map(wkt::system)
            .unwrap_or_default();
        if system.is_geographic {
            return Err(E57Error::Degrees);
        }
        let placed = scans.iter().filter(|scan| scan.transform.is_some()).count();
        let bounds = bounds(&scans);
        let count = match scans.len() {
            1 => "1 scan".to_owned(),
            many => format!("{many} scans"),
        };
        let facts = CloudFacts {
            version: format!("1.0, {count}"),
            points: records,
            bounds,
            unit: Some(LengthUnit::Metre),
            crs: system.name,
            height_system: system.height_system,
            made_with: reader.library_version().unwrap_or_default().into(),
            notes: system
                .note
                .into_iter()
                .chain([format!("{count}, {placed} with a position")])
                .collect(),
            is_in_scanner_frame: placed == 0 && holds_origin(bounds),
            ..CloudFacts::default()
        };
        Ok(ScannedCloud {
            reader,
            scans,
            facts,
        })
    }

    /// What its description says.
    pub fn about(&self) -> &CloudFacts {
        &self.facts
    }

    /// Hands over all points, scan by scan, batch by batch. Points without a place are marked as deleted.
    ///
    /// # Errors
    ///
    /// When it is cut off or not valid, or a point lies where none can.
    pub fn each(mut self, mut take: impl FnMut(&[Shot])) -> Result<(), E57Error> {
        for (number, scan) in (1..).zip(&self.scans) {
            let read = held(|| scan_of(&mut self.reader, scan, number, &mut take));
            read.ok_or_else(broken)??;
        }
        Ok(())
    }
}

fn scan_of<R: Read + Seek>(
    reader: &mut E57Reader<R>,
    scan: &PointCloud,
    number: usize,
    take: &mut impl FnMut(&[Shot]),
) -> Result<(), E57Error> {
    let mut batch = Vec::with_capacity(BATCH);
    let points = reader
        .pointcloud_simple(scan)
        .map_err(|error| invalid(&error))?;
    for point in points {
        let place = match point.map_err(|error| invalid(&error))?.cartesian {
            CartesianCoordinate::Valid { x, y, z } => Some([x, y, z]),
            CartesianCoordinate::Direction { .. } | CartesianCoordinate::Invalid => None,
        };
        if place.is_some_and(|place| {
            place
                .iter()
                .any(|along| along.is_nan() || along.abs() > FARTHEST)
        }) {
            return Err(E57Error::Far { scan: number });
        }
        batch.push(Shot::bare(place));
        if batch.len() == BATCH {
            take(&batch);
            batch.clear();
        }
    }
    take(&batch);
    Ok(())
}

/// True for as many points as a file of so many bytes may hold: each takes a bit at least, unless all of them stand on one spot.
fn fits(records: u64, length: u64) -> bool {
    records <= length.saturating_mul(8)
}

/// Where the scans say they lie: west, south, east, north; not a number where one does not say it.
fn bounds(scans: &[PointCloud]) -> [f64; 4] {
    let mut extent = Extent::EMPTY;
    for scan in scans {
        let corners = scan.get_cartesian_bounds().and_then(|bounds| {
            let along = |low: Option<f64>, high: Option<f64>| Some([low?, high?]);
            Some([
                along(bounds.x_min, bounds.x_max)?,
                along(bounds.y_min, bounds.y_max)?,
                along(bounds.z_min, bounds.z_max)?,
            ])
        });
        let Some(corners) = corners else {
            return [f64::NAN; 4];
        };
        let all = (0..8).map(|i| {
            [
                corners[0][i & 1],
                corners[1][i >> 1 & 1],
                corners[2][i >> 2],
            ]
        });
        let placed = all.map(|corner| placed(corner, scan));
        extent = extent.union(&Extent::of(
            placed.map(|[east, north, _]| Place::new(east, north)),
        ));
    }
    [
        extent.min.east,
        extent.min.north,
        extent.max.east,
        extent.max.north,
    ]
}

/// A place of a scan where its scanner stood: turned by its quaternion, and moved.
fn placed(at: [f64; 3], scan: &PointCloud) -> [f64; 3] {
    let Some(pose) = &scan.transform else {
        return at;
    };
    let (q, t) = (&pose.rotation, &pose.translation);
    let cross = |a: [f64; 3], b: [f64; 3]| {
        [
            a[1] * b[2] - a[2] * b[1],
            a[2] * b[0] - a[0] * b[2],
            a[0] * b[1] - a[1] * b[0],
        ]
    };
    let axis = [q.x, q.y, q.z];
    let first = cross(axis, at);
    let second = cross(axis, first);
    let moved = [t.x, t.y, t.z];
    [0, 1, 2].map(|i| at[i] + 2.0 * (q.w * first[i] + second[i]) + moved[i])
}

fn holds_origin([west, south, east, north]: [f64; 4]) -> bool {
    (west..=east).contains(&0.0) && (south..=north).contains(&0.0)
}

#[cfg(test)]
mod tests;
