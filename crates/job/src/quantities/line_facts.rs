//! What is known of a line that figures are along.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::Length;
use crate::input::InputFile;
use crate::site::SiteLine;
use crate::units::ReportUnits;

/// A line that figures are along.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LineFacts {
    /// As it was named.
    pub line: String,
    /// Its file.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<InputFile>,
    /// Its length.
    pub length: Length,
    /// The chainage of its start and of its end.
    pub chainage: [Length; 2],
}

impl LineFacts {
    pub(crate) fn of(found: SiteLine, units: &ReportUnits) -> Self {
        let length = found.line.length();
        let chainage = found.line.chainage();
        LineFacts {
            line: found.source,
            file: found.file,
            length: units.length_of(length),
            chainage: [0.0, length].map(|distance| units.length_of(chainage.of(distance))),
        }
    }
}
