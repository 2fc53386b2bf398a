//! What a job file says of its job.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::input::InputFile;

/// What a job file says of its job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct JobFacts {
    /// Name of the job.
    pub name: String,
    /// Contract name or number.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub contract: Option<String>,
    /// Who takes part, by what they are.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    pub parties: BTreeMap<String, String>,
    /// The job file.
    pub file: InputFile,
}
