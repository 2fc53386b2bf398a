//! What GDAL's metadata says of the heights of a GeoTIFF: their unit, and how values become heights.

use std::io::{Read, Seek};

use quick_xml::Reader;
use quick_xml::events::Event;
use tiff::decoder::Decoder;
use tiff::tags::Tag;

/// The tag of the metadata, an XML text.
pub(super) const METADATA: Tag = Tag::Unknown(42_112);
/// Bytes of metadata that are read.
const LONGEST: u64 = 1 << 20;

/// What is said of the first band.
#[derive(Debug, PartialEq)]
pub(super) struct BandFacts {
    /// The words for the unit of heights.
    pub(super) unit: Option<String>,
    /// What values are multiplied by.
    pub(super) scale: f64,
    /// What is added to that.
    pub(super) offset: f64,
}

impl BandFacts {
    /// Of a file; of one without metadata, values are heights.
    pub(super) fn of<R: Read + Seek>(decoder: &mut Decoder<R>) -> Self {
        let entry = decoder.image_ifd().find_entry(METADATA);
        let text = match entry.is_some_and(|entry| entry.count() <= LONGEST) {
            true => decoder.get_tag_ascii_string(METADATA).ok(),
            false => None,
        };
        Self::read(text.as_deref().unwrap_or_default())
    }

    fn read(text: &str) -> Self {
        let mut found = BandFacts {
            unit: None,
            scale: 1.0,
            offset: 0.0,
        };
        let mut reader = Reader::from_str(text.trim_end_matches('\0'));
        let mut role = String::new();
        loop {
            match reader.read_event() {
                Ok(Event::Start(item)) => {
                    let of = |name: &str| {
                        let attribute = item.try_get_attribute(name).ok().flatten()?;
                        Some(attribute.value.into_owned())
                    };
                    let first = of("sample").is_none_or(|sample| sample == "0");
                    role = of("role").filter(|_| first).unwrap_or_default();
                }
                Ok(Event::Text(words)) => {
                    let words = words.trim();
                    let number = || words.parse().ok().filter(|n: &f64| n.is_finite());
                    match role.as_str() {
                        "unittype" if !words.is_empty() => found.unit = Some(words.into()),
                        "scale" => found.scale = number().filter(|&n| n != 0.0).unwrap_or(1.0),
                        "offset" => found.offset = number().unwrap_or(0.0),
                        _ => {}
                    }
                }
                Ok(Event::End(_)) => role.clear(),
                Ok(Event::Eof) | Err(_) => return found,
                Ok(_) => {}
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn unit_scale_and_offset_of_the_first_band_are_read() {
        let text = "<GDALMetadata>\n<Item name=\"OFFSET\" sample=\"0\" role=\"offset\">100</Item>
            <Item name=\"SCALE\" sample=\"0\" role=\"scale\">0.01</Item>
            <Item name=\"UNITTYPE\" sample=\"0\" role=\"unittype\">ft</Item>
            <Item name=\"SCALE\" sample=\"1\" role=\"scale\">7</Item>
            <Item name=\"NOTE\">1</Item></GDALMetadata>\0";
        let expected = BandFacts {
            unit: Some("ft".into()),
            scale: 0.01,
            offset: 100.0,
        };
        assert_eq!(BandFacts::read(text), expected);
        for text in [
            "",
            "<a",
            "<Item role=\"scale\">zero</Item>",
            "<Item role=\"scale\">0</Item>",
        ] {
            assert_eq!(BandFacts::read(text).scale, 1.0, "{text}");
        }
    }
}
