//! Names of files as they are typed: any that a system allows, and outputs that end as what they hold.

use std::ffi::OsString;
use std::path::{Path, PathBuf};
use std::str::FromStr;

use clap::builder::{OsStringValueParser, TypedValueParser};
use dapedon_job::{BaseSource, Source, SourceError, ZoneSource};

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
    ending(
        &["svg"],
        "a picture is written as SVG: end its name in .svg",
    )
}

/// A file that a page is written to.
pub(super) fn page() -> impl TypedValueParser<Value = PathBuf> {
    ending(
        &["html", "htm"],
        "a page is written as HTML: end its name in .html; a browser prints it as PDF",
    )
}

/// A file that a table is written to.
pub(super) fn table() -> impl TypedValueParser<Value = PathBuf> {
    ending(
        &["csv", "txt"],
        "a table is written as comma-separated text: end its name in .csv",
    )
}

/// A name that ends as it should, or in nothing, as devices and pipes do.
fn ending(
    endings: &'static [&'static str],
    remedy: &'static str,
) -> impl TypedValueParser<Value = PathBuf> {
    OsStringValueParser::new().try_map(move |typed| {
        let path = Path::new(&typed);
        let fits = match path.extension() {
            None => true,
            Some(own) => endings
                .iter()
                .any(|ending| own.eq_ignore_ascii_case(ending)),
        };
        match fits {
            true => Ok(PathBuf::from(typed)),
            false => Err(remedy),
        }
    })
}
