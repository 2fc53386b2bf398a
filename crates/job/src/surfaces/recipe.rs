//! How a surface of a job came about, step by step.

use std::collections::HashSet;
use std::sync::Arc;

use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize, Serializer};

use crate::figure::{Area, Length, Volume};
use crate::input::InputFile;
use crate::zones::ZoneOrigin;

/// How a surface came about.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Recipe {
    /// Its name in the job.
    pub name: String,
    /// What it starts from.
    pub start: Origin,
    /// What was done to it, in order.
    pub steps: Vec<Step>,
}

/// What a surface starts from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Origin {
    /// A file.
    File {
        /// The file.
        file: InputFile,
        /// What it is, in words.
        kind: String,
        /// What was understood, converted, merged or skipped.
        notes: Vec<String>,
    },
    /// A horizontal plane.
    Level(f64),
    /// Another surface of the job, shared by all that are made from it.
    Surface(Arc<Recipe>),
    /// What was reported before, where a surface is needed more than once.
    Above,
}

/// A step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// What was done.
    pub action: String,
    /// Where alone it was done.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub zones: Vec<String>,
    /// The line of the job file it stands in.
    pub job_file_line: usize,
    /// The other surface of the step.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub other_surface: Option<Arc<Recipe>>,
    /// What must be known of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub notes: Vec<String>,
    /// What it changed, where that was asked for.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub change: Option<Change>,
    /// The layers that it went below.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub layers: Vec<LayerQuantity>,
    /// Other files that it needed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub files: Vec<InputFile>,
}

/// What a step changed.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Change {
    /// The plan area where heights changed.
    pub area_changed: Area,
    /// The volume added, where it was raised.
    pub volume_added: Volume,
    /// The volume removed, where it was lowered.
    pub volume_removed: Volume,
    /// The plan area that came to it.
    pub area_added: Area,
    /// The plan area that was skipped.
    pub area_removed: Area,
}

/// What a layer comes to within a zone.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LayerQuantity {
    /// The build-up it belongs to.
    pub build_up: String,
    /// The zone.
    pub zone: String,
    /// Where the zone comes from.
    pub origin: ZoneOrigin,
    /// Name of the layer, usually its material.
    pub layer: String,
    /// How thick it is, in the length unit.
    pub thickness: Length,
    /// The plan area.
    pub area: Area,
    /// The same along the slope of the finished surface.
    pub sloping_area: Area,
    /// Plan area times thickness.
    pub volume: Volume,
    /// Further units to count it in.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub counted: Vec<Count>,
}

/// What a layer is counted in besides area and volume.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Count {
    /// The unit.
    pub unit: String,
    /// How many.
    pub count: Decimal,
    /// Whole ones: rounded up.
    pub whole: bool,
    /// What they cost.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Decimal>,
}

impl Step {
    /// What was done, and where.
    pub fn words(&self) -> String {
        match self.zones.as_slice() {
            [] => self.action.clone(),
            zones => format!("{}, zone {}", self.action, zones.join(", ")),
        }
    }
}

impl Recipe {
    /// The same, in which each surface is reported where it comes first and named where it comes again: what is made of two
    /// that are made of the same two, and so on, would be reported twice as often at each step.
    pub fn told_once(&self) -> Recipe {
        self.told(&mut HashSet::new())
    }

    fn told<'r>(&'r self, told: &mut HashSet<&'r str>) -> Recipe {
        if !told.insert(&self.name) {
            return Recipe {
                name: self.name.clone(),
                start: Origin::Above,
                steps: Vec::new(),
            };
        }
        let start = match &self.start {
            Origin::Surface(recipe) => Origin::Surface(Arc::new(recipe.told(told))),
            other => other.clone(),
        };
        let steps = self.steps.iter().map(|step| Step {
            other_surface: step
                .other_surface
                .as_ref()
                .map(|with| Arc::new(with.told(told))),
            ..step.clone()
        });
        Recipe {
            name: self.name.clone(),
            start,
            steps: steps.collect(),
        }
    }

    /// All files that it needed, in the order they are met, each once.
    pub fn files(&self) -> Vec<&InputFile> {
        let mut files = Vec::new();
        self.add_files(&mut files, &mut HashSet::new());
        files
    }

    fn add_files<'r>(&'r self, files: &mut Vec<&'r InputFile>, seen: &mut HashSet<&'r str>) {
        if !seen.insert(&self.name) {
            return;
        }
        let mut add = |file: &'r InputFile| {
            if !files.contains(&file) {
                files.push(file);
            }
        };
        match &self.start {
            Origin::File { file, .. } => add(file),
            Origin::Level(_) | Origin::Above => {}
            Origin::Surface(recipe) => recipe.add_files(files, seen),
        }
        for step in &self.steps {
            if let Some(recipe) = &step.other_surface {
                recipe.add_files(files, seen);
            }
            for file in &step.files {
                if !files.contains(&file) {
                    files.push(file);
                }
            }
        }
    }

    /// All steps on the way from its start, those of the surfaces it starts from first.
    pub fn all_steps(&self) -> Vec<&Step> {
        let mut steps = match &self.start {
            Origin::Surface(recipe) => recipe.all_steps(),
            Origin::File { .. } | Origin::Level(_) | Origin::Above => Vec::new(),
        };
        steps.extend(&self.steps);
        steps
    }

    /// All layers that were gone below, on the way from its start.
    pub fn layers(&self) -> Vec<&LayerQuantity> {
        let mut layers = match &self.start {
            Origin::Surface(recipe) => recipe.layers(),
            Origin::File { .. } | Origin::Level(_) | Origin::Above => Vec::new(),
        };
        layers.extend(self.steps.iter().flat_map(|step| &step.layers));
        layers
    }
}

/// Writes a recipe with each of its surfaces told once.
pub(crate) fn once<S: Serializer>(
    recipe: &Option<Arc<Recipe>>,
    serializer: S,
) -> Result<S::Ok, S::Error> {
    let once = recipe.as_ref().map(|recipe| recipe.told_once());
    once.serialize(serializer)
}
