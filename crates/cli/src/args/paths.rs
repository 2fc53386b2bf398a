//! Names of files as they are typed: any that a system allows, and outputs that end as what they hold.

use std::ffi::OsString;
use std::path::{Path, PathBuf};
use std::str::FromStr;

use clap::builder::{OsStringValueParser, TypedValueParser};
use dapedon_job::{BaseSource, LineSource, Source, SourceError, ZoneSource};

/// A surface; a name that is no UTF-8 is that of a file.
pub(super) fn source() -> impl TypedValueParser<Value = Source> {
    OsStringValueParser::new()
        .try_map(|typed| read(typed, |path| Source::File { path, name: None }))
}

/// A base, likewise.
pub(super) fn base() -> impl TypedValueParser<Value = BaseSource> {
    OsStringValueParser::new().try_map(|typed| {
        read(typed, |path| {
            BaseSource::Surface(Source::File { path, name: None })
        })
    })
}

/// Zones, likewise.
pub(super) fn zone() -> impl TypedValueParser<Value = ZoneSource> {
    OsStringValueParser::new().try_map(|typed| match typed.into_string() {
        Ok(text) => ZoneSource::from_str(&text),
        Err(path) => Ok(ZoneSource::File {
            path: path.into(),
            name: None,
        }),
    })
}

/// A line, or the points of a file, likewise.
pub(super) fn line() -> impl TypedValueParser<Value = LineSource> {
    OsStringValueParser::new().try_map(|typed| match typed.into_string() {
        Ok(text) => LineSource::from_str(&text),
        Err(path) => Ok(LineSource::File {
            path: path.into(),
            name: None,
        }),
    })
}

fn read<S: FromStr<Err = SourceError>>(
    typed: OsString,
    file: impl FnOnce(PathBuf) -> S,
) -> Result<S, SourceError> {
    match typed.into_string() {
        Ok(text) => text.parse(),
        Err(path) => Ok(file(path.into())),
    }
}

/// A file that a picture is written to.
pub(super) fn picture() -> impl TypedValueParser<Value = PathBuf> {
    written("a picture is written as SVG: use the ending .svg")
}

/// A file that a map is written to.
pub(super) fn map() -> impl TypedValueParser<Value = PathBuf> {
    OsStringValueParser::new().try_map(|typed| {
        let path = PathBuf::from(typed);
        let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
        let others = OTHERS.iter().filter(|other| **other != "png");
        match ending.is_some_and(|own| { others }.any(|other| own == *other)) {
            true => Err("a map is written as SVG or PNG: use the ending .svg or .png"),
            false => Ok(path),
        }
    })
}

/// A file that a report is written to.
pub(super) fn report() -> impl TypedValueParser<Value = PathBuf> {
    OsStringValueParser::new().try_map(|typed| {
        let ending = Path::new(&typed).extension();
        let ending = ending.map(|ending| ending.to_ascii_lowercase());
        let mut others = OTHERS.iter().filter(|other| **other != "xlsx");
        match ending.is_some_and(|own| others.any(|other| own == *other)) {
            true => Err("a report is written as HTML or as a workbook: use the ending .html or .xlsx; a browser prints the page as PDF"),
            false => Ok(PathBuf::from(typed)),
        }
    })
}

/// A file that a table is written to.
pub(super) fn table() -> impl TypedValueParser<Value = PathBuf> {
    written("a table is written as CSV: use the ending .csv")
}

/// What nothing is written as: a file of such a name would not be what it says.
const OTHERS: [&str; 13] = [
    "png", "jpg", "jpeg", "gif", "webp", "pdf", "doc", "docx", "odt", "xls", "xlsm", "xlsx", "ods",
];

/// A name that does not end as what is not written.
fn written(remedy: &'static str) -> impl TypedValueParser<Value = PathBuf> {
    OsStringValueParser::new().try_map(move |typed| {
        let ending = Path::new(&typed).extension();
        match ending.is_some_and(|own| OTHERS.iter().any(|other| own.eq_ignore_ascii_case(other))) {
            true => Err(remedy),
            false => Ok(PathBuf::from(typed)),
        }
    })
}
