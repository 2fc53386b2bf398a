//! A surface as it is reported: where it came from, what it is, and how it came about.

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::accuracy::{AccuracyInFile, SurfaceAccuracy};
use crate::input::InputFile;
use crate::surfaces::recipe::{Recipe, once};

/// One side of a measurement.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SurfaceFacts {
    /// As it was named.
    pub source: String,
    /// What it is, in words.
    pub kind: String,
    /// The file, unless it is a level.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub file: Option<InputFile>,
    /// The day its file says it is from.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub survey_date: Option<String>,
    /// Points it was made from.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub points: Option<usize>,
    /// Facets it has.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub triangles: Option<usize>,
    /// How accurate its points are, where that is stated or known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub accuracy: Option<SurfaceAccuracy>,
    /// How accurate its file says its points are.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub accuracy_in_file: Option<AccuracyInFile>,
    /// What was understood, converted, merged or skipped on the way.
    pub notes: Vec<String>,
    /// How it was made, where it is a surface of a job.
    #[serde(skip_serializing_if = "Option::is_none", serialize_with = "once")]
    pub recipe: Option<Arc<Recipe>>,
}

impl SurfaceFacts {
    /// True where a build-up was taken off on the way.
    pub fn is_below_layers(&self) -> bool {
        self.recipe
            .as_ref()
            .is_some_and(|recipe| !recipe.layers().is_empty())
    }

    /// The files it was made from.
    pub fn files(&self) -> Vec<&InputFile> {
        match (&self.recipe, &self.file) {
            (Some(recipe), _) => recipe.files(),
            (None, file) => file.iter().collect(),
        }
    }
}
