//! Where zones come from, by which they are known: names may be shared by files.

use std::collections::HashMap;

use dapedon_core::zones::Zone;
use dapedon_formats::RawZone;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::input::InputFile;

/// Where a zone comes from: a feature of a file, or an entry of the job.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
pub struct ZoneOrigin {
    /// The digest of its file, or the name of its entry.
    #[serde(flatten)]
    home: ZoneFrom,
    /// Which one of them it is.
    feature: String,
}

#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
enum ZoneFrom {
    /// SHA-256 of the file.
    File(String),
    /// Name of the zone in the job file.
    Entry(String),
}

/// A zone and where it comes from.
#[derive(Debug, Clone)]
pub(crate) struct KnownZone {
    pub(crate) zone: Zone,
    pub(crate) origin: ZoneOrigin,
    /// What tells it from one of the same name: its file, or its entry.
    pub(crate) of: String,
}

impl ZoneOrigin {
    /// A zone of a file, or else of an entry of the job.
    pub(crate) fn new(file: Option<&InputFile>, entry: &str, zone: &RawZone) -> Self {
        ZoneOrigin {
            home: match file {
                Some(file) => ZoneFrom::File(file.sha256.clone()),
                None => ZoneFrom::Entry(entry.into()),
            },
            feature: zone.feature.clone(),
        }
    }
}

/// The first zone that is named twice, if any is: by where it comes from.
pub(crate) fn twice<'o>(origins: impl IntoIterator<Item = &'o ZoneOrigin>) -> Option<usize> {
    let mut seen = HashMap::new();
    let mut origins = origins.into_iter().enumerate();
    origins.find_map(|(index, origin)| seen.insert(origin, index).map(|_| index))
}

/// The names that zones are known by: their own, and where several share one, with what tells them apart. `named` are
/// their names, each with that.
pub(crate) fn told_apart(named: &[(String, String)]) -> Vec<String> {
    let mut counts: HashMap<&str, usize> = HashMap::new();
    for (name, _) in named {
        *counts.entry(name).or_default() += 1;
    }
    let told = named.iter().map(|(name, of)| match counts[name.as_str()] {
        1 => name.clone(),
        _ => format!("{name} ({of})"),
    });
    let mut told: Vec<String> = told.collect();
    // Whatever is alike still is numbered.
    let mut used: HashMap<String, usize> = HashMap::new();
    for name in &mut told {
        let times = used.entry(name.clone()).or_default();
        *times += 1;
        if *times > 1 {
            *name = format!("{name} {times}");
        }
    }
    told
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_that_are_shared_say_where_they_are_from() {
        let named = [
            ("1", "a.geojson"),
            ("2", "a.geojson"),
            ("1", "b.geojson"),
            ("1", "b.geojson"),
        ];
        let named = named.map(|(name, of)| (name.to_owned(), of.to_owned()));
        assert_eq!(
            told_apart(&named),
            ["1 (a.geojson)", "2", "1 (b.geojson)", "1 (b.geojson) 2"]
        );
    }
}
