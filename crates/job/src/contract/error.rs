//! Why an item cannot be measured, and what to do about it.

use std::path::PathBuf;

use dapedon_core::{ConversionError, Missing};

use crate::job_file::nearest;

/// Why an item cannot be measured.
#[derive(Debug, thiserror::Error)]
pub enum BillError {
    /// The job has no items.
    #[error("it has no items")]
    NoItems {
        /// The job file.
        path: PathBuf,
    },
    /// The job has no such item, material or vehicle.
    #[error("the job has no {kind} \"{name}\"")]
    Unknown {
        /// What it would be.
        kind: &'static str,
        /// Its code or name.
        name: String,
        /// The one that is most like it.
        near: Option<String>,
        /// All there are.
        known: Vec<String>,
    },
    /// A layer that lies nowhere in the zones of an item.
    #[error("the layer \"{layer}\" lies in none of the zones")]
    NoSuchLayer {
        /// The layer.
        layer: String,
    },
    /// A layer that is not counted in the unit of the item.
    #[error("the layer \"{layer}\" of the build-up \"{build_up}\" is not counted in {unit}")]
    NotCounted {
        /// The layer.
        layer: String,
        /// Its build-up.
        build_up: String,
        /// The unit of the item.
        unit: String,
    },
    /// A rate by the load without a vehicle.
    #[error("nothing says which vehicle hauls the loads")]
    NoVehicle,
    /// Two rates for one volume.
    #[error("two rates are said for {way}")]
    RateTwice {
        /// Cut or fill.
        way: &'static str,
    },
    /// A rate by another unit of mass.
    #[error("masses are in {unit} here, and a rate is for another unit of mass")]
    OtherMass {
        /// The unit of masses.
        unit: &'static str,
    },
    /// More than a bill can hold.
    #[error("it comes to {figure}, which is no figure of a bill")]
    Beyond {
        /// The figure.
        figure: f64,
    },
    /// A conversion that leaves the range of a bill.
    #[error("a volume of \"{material}\" comes to more digits than a bill has")]
    BeyondConversion {
        /// The material.
        material: String,
    },
    /// A conversion needs what the material does not say.
    #[error("it needs the {missing} of \"{material}\", which is not said")]
    MaterialLacks {
        /// The material.
        material: String,
        /// What it lacks.
        missing: Missing,
    },
}

impl BillError {
    /// A conversion of a material that cannot be made.
    pub(crate) fn conversion(material: &str, error: ConversionError) -> Self {
        let material = material.into();
        match error {
            ConversionError::Missing(missing) => BillError::MaterialLacks { material, missing },
            ConversionError::Beyond => BillError::BeyondConversion { material },
        }
    }

    /// A figure that no bill holds.
    pub(crate) fn beyond(figure: f64) -> Self {
        BillError::Beyond { figure }
    }

    /// A name that is none of those known.
    pub(crate) fn unknown<'n>(
        kind: &'static str,
        name: &str,
        known: impl Iterator<Item = &'n str> + Clone,
    ) -> Self {
        BillError::Unknown {
            kind,
            name: name.into(),
            near: nearest(name, known.clone()).map(Into::into),
            known: known.map(Into::into).collect(),
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> String {
        use BillError as E;
        match self {
            E::NoItems { .. } => {
                "add [[item]] tables: docs/job-file.md says what may stand in them".into()
            }
            E::Unknown {
                near: Some(near), ..
            } => format!("say {near}"),
            E::Unknown { known, .. } if known.is_empty() => "add it to the job file".into(),
            E::Unknown { known, .. } => format!("say one of {}", known.join(", ")),
            E::NoSuchLayer { .. } => {
                "see that the build-up covers them, and lies in the survey".into()
            }
            E::NotCounted { .. } => {
                "say how, in counted of that layer, or name one build-up with build-up".into()
            }
            E::NoVehicle => "say --vehicle, as a name of the job or as holds=10,carries=16".into(),
            E::RateTwice { .. } => "keep one of them".into(),
            E::OtherMass { unit } => format!("say the rate for one {unit}"),
            E::Beyond { .. } | E::BeyondConversion { .. } => {
                "see that the surfaces are in the units they say".into()
            }
            E::MaterialLacks { .. } => "say it with the material".into(),
        }
    }
}
