//! The header of a cloud, and what is written between it and the points.

use std::io::{Read, Seek, SeekFrom};

use las::raw;

use super::record::{LENGTHS, Transform};
use super::{CloudFacts, LasError};
use crate::geokeys::Keys;
use crate::heights::{HeightSystem, HeightUnit, height_system};
use crate::wkt;

/// Longest record beside the points that is read: a coordinate system takes some thousand bytes.
const LONGEST: u64 = 1 << 20;
/// Records beside the points that are looked at.
const RECORDS: u32 = 10_000;
/// Bytes before the text of a record behind the points.
const BEHIND: u64 = 60;
/// Numbers of the records that matter, as the standard gives them.
const GEO_KEYS: u16 = 34_735;
pub(super) const WELL_KNOWN_TEXT: u16 = 2112;
const PACKING: u16 = 22_204;

pub(super) struct Header {
    pub(super) about: CloudFacts,
    pub(super) transform: Transform,
    /// Where points start.
    pub(super) start: u64,
    /// How long a record is.
    pub(super) record: u16,
    /// The record that says how points are packed.
    pub(super) packing: Option<Vec<u8>>,
}

/// What the records beside the points say.
#[derive(Default)]
struct HeaderRecords {
    keys: Option<Vec<u16>>,
    text: Option<String>,
    packing: Option<Vec<u8>>,
}

impl Header {
    pub(super) fn read(input: &mut (impl Read + Seek), length: u64) -> Result<Self, LasError> {
        let raw = raw::Header::read_from(&mut *input).map_err(|error| match error {
            las::Error::InvalidFileSignature(_) => LasError::NotLas,
            las::Error::Io(error) if error.kind() == std::io::ErrorKind::UnexpectedEof => {
                LasError::NoHeader
            }
            las::Error::Io(error) => LasError::Io(error),
            other => header(other.to_string()),
        })?;
        let start = u64::from(raw.offset_to_point_data);
        if start < u64::from(raw.header_size) || start > length {
            return Err(header(format!("points start at byte {start} of {length}")));
        }
        input.seek(SeekFrom::Start(u64::from(raw.header_size)))?;
        let mut beside = HeaderRecords::default();
        beside.before(input, start, raw.number_of_variable_length_records)?;
        if let Some(behind) = &raw.evlr {
            let from = behind.start_of_first_evlr;
            beside.behind(input, from, behind.number_of_evlrs, length)?;
        }
        // The two top bits tell that points are packed.
        let format = raw.point_data_record_format & 0x3f;
        let packed = raw.point_data_record_format & 0xc0 != 0;
        let record = raw.point_data_record_length;
        let shortest = LENGTHS.get(usize::from(format));
        let shortest = shortest.ok_or_else(|| header(format!("point format {format}")))?;
        if record < *shortest {
            return Err(header(format!(
                "{record} bytes for a point of format {format}"
            )));
        }
        let scale = [raw.x_scale_factor, raw.y_scale_factor, raw.z_scale_factor];
        let offset = [raw.x_offset, raw.y_offset, raw.z_offset];
        if scale.iter().any(|&s| s == 0.0 || !s.is_finite())
            || !offset.iter().all(|o| o.is_finite())
        {
            return Err(header(format!(
                "scale {} / {} / {}, offset {} / {} / {}",
                scale[0], scale[1], scale[2], offset[0], offset[1], offset[2]
            )));
        }
        // The older field holds unless it is empty, as the standard has it.
        let points = match (raw.number_of_point_records, raw.large_file) {
            (0, Some(large)) => large.number_of_point_records,
            (points, _) => u64::from(points),
        };
        if points == 0 {
            return Err(LasError::NoPoints);
        }
        let mut about = CloudFacts {
            version: format!(
                "{}.{}, point format {format}",
                raw.version.major, raw.version.minor
            ),
            packed,
            points,
            bounds: [raw.min_x, raw.min_y, raw.max_x, raw.max_y],
            made_with: words(&raw.generating_software),
            date: day(raw.file_creation_year, raw.file_creation_day_of_year),
            ..CloudFacts::default()
        };
        let factor = beside.system(&mut about)?;
        let packing = match (packed, beside.packing) {
            (true, None) => {
                return Err(header("the record of the compression is missing".into()));
            }
            (true, packing) => packing,
            (false, _) => None,
        };
        Ok(Header {
            about,
            transform: Transform {
                scale: [scale[0], scale[1], scale[2] * factor],
                offset: [offset[0], offset[1], offset[2] * factor],
                extended: format >= 6,
            },
            start,
            record,
            packing,
        })
    }
}

impl HeaderRecords {
    /// Records between the header and the points.
    fn before(
        &mut self,
        input: &mut (impl Read + Seek),
        end: u64,
        count: u32,
    ) -> Result<(), LasError> {
        for _ in 0..count.min(RECORDS) {
            // A count that is too great is a common fault, and does no harm.
            if input.stream_position()? + 54 > end {
                break;
            }
            let Ok(record) = raw::Vlr::read_from(&mut *input, false) else {
                break;
            };
            self.take(&record.user_id, record.record_id, record.data);
        }
        Ok(())
    }

    /// Records behind the points, of which only a coordinate system is read.
    fn behind(
        &mut self,
        input: &mut (impl Read + Seek),
        start: u64,
        count: u32,
        length: u64,
    ) -> Result<(), LasError> {
        let mut at = start;
        for _ in 0..count.min(RECORDS) {
            if at.saturating_add(BEHIND) > length {
                break;
            }
            let mut head = [0; BEHIND as usize];
            input.seek(SeekFrom::Start(at))?;
            input.read_exact(&mut head)?;
            let size = head[20..28].try_into().map_or(0, u64::from_le_bytes);
            at = at.saturating_add(BEHIND).saturating_add(size);
            if at > length {
                break;
            }
            let id = u16::from_le_bytes([head[18], head[19]]);
            if size <= LONGEST && id == WELL_KNOWN_TEXT {
                let mut data = vec![0; size as usize];
                input.read_exact(&mut data)?;
                self.take(&head[2..18], id, data);
            }
        }
        Ok(())
    }

    fn take(&mut self, user: &[u8], id: u16, data: Vec<u8>) {
        match (words(user).as_str(), id) {
            ("LASF_Projection", GEO_KEYS) => {
                let pairs = data.as_chunks::<2>().0;
                self.keys = Some(pairs.iter().map(|&pair| u16::from_le_bytes(pair)).collect());
            }
            ("LASF_Projection", WELL_KNOWN_TEXT) => {
                self.text = Some(String::from_utf8_lossy(&data).into_owned());
            }
            ("laszip encoded", PACKING) => self.packing = Some(data),
            _ => {}
        }
    }

    /// Says what is known of the coordinate system, and what heights are multiplied by.
    fn system(&self, about: &mut CloudFacts) -> Result<f64, LasError> {
        let text = self.text.as_deref().map(wkt::system);
        let keys = self.keys.as_deref().map(Keys::of);
        let geographic = text.as_ref().is_some_and(|text| text.is_geographic)
            || text.is_none() && keys.as_ref().is_some_and(Keys::is_geographic);
        if geographic {
            return Err(LasError::Degrees);
        }
        if let Some(keys) = keys {
            about.unit = keys.unit();
            about.crs = keys.crs();
            about.height_system = keys.height_system();
            about.height_unit = keys.height_unit();
            about.unknown_unit = keys.unknown_unit();
        }
        if let Some(text) = text {
            about.height_unit = text.heights.or(about.height_unit);
            // A text that states the unit holds, whatever the keys are.
            let of_keys = about.unknown_unit.take().filter(|_| text.unit.is_none());
            about.unknown_unit = text.unknown_unit.or(of_keys);
            about.is_depth = text.is_depth;
            about.unit = text.unit.or(about.unit);
            about.notes.extend(text.note);
            about.crs = text.name.or(about.crs.take());
            about.height_system = text.height_system.or(about.height_system.take());
        }
        let by_system = || match height_system(about.height_system.as_deref()?)? {
            HeightSystem::Heights(unit) => Some(unit),
            HeightSystem::Depths => None,
        };
        let heights = about.height_unit.or_else(by_system);
        about.height_unit = heights;
        let factor = match (heights, about.unit) {
            (Some(heights), Some(plan)) => {
                about.height_unit = Some(HeightUnit::Length(plan));
                about.notes.extend(heights.note(plan));
                heights.factor(plan)
            }
            _ => 1.0,
        };
        Ok(factor)
    }
}

fn header(what: String) -> LasError {
    LasError::Header { what }
}

/// Text up to its first zero.
fn words(bytes: &[u8]) -> String {
    let end = bytes.iter().position(|&b| b == 0).unwrap_or(bytes.len());
    let text = String::from_utf8_lossy(&bytes[..end]);
    let plain = |c: char| if c.is_control() { ' ' } else { c };
    text.chars().map(plain).collect::<String>().trim().into()
}

/// A day given as its number in a year.
fn day(year: u16, day: u16) -> Option<String> {
    let leap = year.is_multiple_of(4) && (!year.is_multiple_of(100) || year.is_multiple_of(400));
    let months = [
        31,
        if leap { 29 } else { 28 },
        31,
        30,
        31,
        30,
        31,
        31,
        30,
        31,
        30,
        31,
    ];
    let mut left = day.checked_sub(1)?;
    if !(1900..2200).contains(&year) {
        return None;
    }
    for (month, days) in months.into_iter().enumerate() {
        if left < days {
            return Some(format!("{year}-{:02}-{:02}", month + 1, left + 1));
        }
        left -= days;
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_are_found_in_their_month() {
        assert_eq!(day(2026, 1).as_deref(), Some("2026-01-01"));
        assert_eq!(day(2026, 60).as_deref(), Some("2026-03-01"));
        assert_eq!(day(2024, 60).as_deref(), Some("2024-02-29"));
        assert_eq!(day(2024, 366).as_deref(), Some("2024-12-31"));
        assert_eq!(day(2026, 366), None);
        assert_eq!((day(2026, 0), day(0, 5)), (None, None));
    }

    #[test]
    fn words_end_at_zero() {
        assert_eq!(words(b"LASF_Projection\0"), "LASF_Projection");
        assert_eq!(words(b" a\tb \xff\0junk"), "a b \u{fffd}");
    }
}
