//! What attributes of elements say.

use std::borrow::Cow;

use dapedon_core::units::{Foot, LengthUnit};
use quick_xml::events::BytesStart;

use super::LandXmlError;
use crate::{HeightUnit, PointAccuracies};

/// The coordinate system by its number, or else by its name.
pub(super) fn coordinate_system(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<Option<String>, LandXmlError> {
    let said = |text: Option<String>| text.filter(|text| !text.trim().is_empty());
    if let Some(code) = said(attribute(element, "epsgCode", offset)?) {
        return Ok(Some(format!(
            "EPSG:{}",
            code.trim().trim_start_matches("EPSG:")
        )));
    }
    for name in ["ogcWktCode", "name", "desc"] {
        if let Some(text) = said(attribute(element, name, offset)?) {
            return Ok(Some(text.trim().into()));
        }
    }
    Ok(None)
}

/// The system of heights by its name, or else the datum of heights.
pub(super) fn height_system(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<Option<String>, LandXmlError> {
    for name in ["verticalCoordinateSystemName", "verticalDatum"] {
        let text = attribute(element, name, offset)?;
        if let Some(text) = text.filter(|text| !text.trim().is_empty()) {
            return Ok(Some(text.trim().into()));
        }
    }
    Ok(None)
}

/// The unit of heights, where the element of units has one for them.
pub(super) fn height_unit(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<Option<HeightUnit>, LandXmlError> {
    let word = attribute(element, "elevationUnit", offset)?;
    let Some(word) = word.filter(|word| !word.trim().is_empty()) else {
        return Ok(None);
    };
    match HeightUnit::of_words(&word) {
        Some(unit) => Ok(Some(unit)),
        None => Err(LandXmlError::Unit {
            offset,
            found: word,
        }),
    }
}

pub(super) fn unit(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<Option<LengthUnit>, LandXmlError> {
    let Some(word) = attribute(element, "linearUnit", offset)? else {
        return Ok(None);
    };
    match word.as_str() {
        "meter" | "metre" => Ok(Some(LengthUnit::Metre)),
        "foot" => Ok(Some(LengthUnit::Foot(Foot::International))),
        "USSurveyFoot" => Ok(Some(LengthUnit::Foot(Foot::UsSurvey))),
        _ => Err(LandXmlError::Unit {
            offset,
            found: word,
        }),
    }
}

/// The number of a point, which is nearly always its only attribute.
pub(super) fn point_id(element: &BytesStart<'_>, offset: u64) -> Result<u64, LandXmlError> {
    let only = element
        .attributes_raw()
        .strip_prefix(" id=\"")
        .and_then(|raw| raw.strip_suffix('"'));
    if let Some(id) = only.and_then(|raw| integer(raw.as_bytes())) {
        return Ok(id);
    }
    let id = find(element, "id", offset)?.ok_or(LandXmlError::NoId { offset })?;
    integer(id.trim().as_bytes()).ok_or_else(|| LandXmlError::NotANumber {
        offset,
        found: id.into_owned(),
    })
}

/// How accurate a point is said to be: standard uncertainties of its northing, easting and height; not a number where it is not said.
#[derive(Debug, Clone, Copy)]
pub(super) struct AccuracyOfPoint([f64; 3]);

impl Default for AccuracyOfPoint {
    fn default() -> Self {
        AccuracyOfPoint([f64::NAN; 3])
    }
}

impl AccuracyOfPoint {
    /// Adds it to those of other points.
    pub(super) fn add_to(self, all: &mut PointAccuracies) {
        let AccuracyOfPoint([north, east, height]) = self;
        all.height.take(height);
        all.plan
            .take(libm::sqrt((north * north + east * east) / 2.0));
    }
}

/// How accurate a point is said to be.
pub(super) fn point_accuracy(
    element: &BytesStart<'_>,
    offset: u64,
) -> Result<AccuracyOfPoint, LandXmlError> {
    let mut found = AccuracyOfPoint::default();
    // Hardly any file says it.
    if !element.attributes_raw().contains("StdError") {
        return Ok(found);
    }
    let names = ["northingStdError", "eastingStdError", "elevationStdError"];
    for (value, name) in found.0.iter_mut().zip(names) {
        if let Some(text) = find(element, name, offset)? {
            *value = text.trim().parse().unwrap_or(f64::NAN);
        }
    }
    Ok(found)
}

pub(super) fn find<'e>(
    element: &'e BytesStart<'_>,
    name: &str,
    offset: u64,
) -> Result<Option<Cow<'e, str>>, LandXmlError> {
    for attribute in element.attributes().with_checks(false) {
        let attribute = attribute.map_err(|source| LandXmlError::Attribute { offset, source })?;
        if attribute.key.local_name().as_ref() == name {
            return Ok(Some(attribute.value));
        }
    }
    Ok(None)
}

/// An attribute's text, its entities resolved where they are well-formed.
pub(super) fn attribute(
    element: &BytesStart<'_>,
    name: &str,
    offset: u64,
) -> Result<Option<String>, LandXmlError> {
    Ok(find(element, name, offset)?.map(plain))
}

/// The texts of two attributes; empty where there is none.
pub(super) fn both(
    element: &BytesStart<'_>,
    names: [&str; 2],
    offset: u64,
) -> Result<[String; 2], LandXmlError> {
    let mut found = [String::new(), String::new()];
    for attribute in element.attributes().with_checks(false) {
        let attribute = attribute.map_err(|source| LandXmlError::Attribute { offset, source })?;
        let own = attribute.key.local_name();
        if let Some(at) = names.iter().position(|name| own.as_ref() == *name) {
            found[at] = plain(attribute.value);
        }
    }
    Ok(found)
}

/// A text with its entities resolved, where they are well-formed.
fn plain(value: Cow<'_, str>) -> String {
    match quick_xml::escape::unescape(&value) {
        Ok(plain) => plain.into_owned(),
        Err(_) => value.into_owned(),
    }
}

pub(super) fn integer(word: &[u8]) -> Option<u64> {
    if word.is_empty() || word.len() > 19 {
        return None;
    }
    word.iter().try_fold(0u64, |value, byte| {
        byte.is_ascii_digit()
            .then(|| value * 10 + u64::from(byte - b'0'))
    })
}

pub(super) fn lossy(bytes: &[u8]) -> String {
    String::from_utf8_lossy(bytes).into_owned()
}
