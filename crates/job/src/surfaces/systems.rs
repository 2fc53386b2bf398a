//! The systems that files are in, of plan and of heights: one of each for all that is measured together.

use dapedon_formats::same_system;

use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::surfaces::SurfaceError;

/// The systems that all files are in.
#[derive(Debug, Default)]
pub(crate) struct Systems {
    pub(crate) plan: Option<String>,
    pub(crate) heights: Option<String>,
    /// What must be known of them, and of files in general.
    pub(crate) warnings: Vec<Finding>,
}

/// Two names for what may be one system.
pub(crate) type Two = [String; 2];

/// The one name among some; where others are allowed, each pair of them, else the first such pair.
pub(crate) fn the_one<'s>(
    said: impl Iterator<Item = &'s String>,
    is_same: impl Fn(&str, &str) -> bool,
    any: bool,
) -> Result<(Option<String>, Vec<Two>), Two> {
    let (mut first, mut others): (Option<&String>, Vec<Two>) = (None, Vec::new());
    for name in said {
        match first {
            None => first = Some(name),
            Some(first) if is_same(first, name) => {}
            Some(first) => {
                let two = [first.clone(), name.clone()];
                match any {
                    true if others.contains(&two) => {}
                    true => others.push(two),
                    false => return Err(two),
                }
            }
        }
    }
    Ok((first.cloned(), others))
}

/// What is drawn in plan, as zones, is in the coordinate system of the surfaces; a note where another one is taken for it.
pub(crate) fn same_crs(
    what: &'static str,
    path: &str,
    zones: &Option<String>,
    surfaces: &Option<String>,
    any: bool,
) -> Result<Option<Finding>, JobError> {
    match (zones, surfaces) {
        (Some(zones), Some(surfaces)) if !same_system(zones, surfaces) => match any {
            true => {
                let words = format!("{what} of {path} in {zones} treated as {surfaces}");
                Ok(Some(Finding::new(Code::TakenAsSame, words)))
            }
            false => Err(SurfaceError::ZonesCrsDiffer {
                what,
                path: path.into(),
                zones: zones.clone(),
                surfaces: surfaces.clone(),
            }
            .into()),
        },
        _ => Ok(None),
    }
}
