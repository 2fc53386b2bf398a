//! Why a figure of a contract cannot be worked out.

use crate::{ConversionError, Missing};

/// Why a figure of a contract cannot be worked out.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ContractError {
    /// A rate is per load, and no vehicle is given.
    #[error("no vehicle is given for the loads")]
    NoVehicle,
    /// A result is out of range for a bill.
    #[error("the result {figure} is out of range for a bill")]
    Beyond {
        /// The figure.
        figure: f64,
    },
    /// A converted volume has more digits than a bill can hold.
    #[error("the volume of \"{material}\" has more digits than a bill can hold")]
    BeyondConversion {
        /// The material.
        material: String,
    },
    /// A property of the material is needed and not given.
    #[error("the {missing} of \"{material}\" is needed and not given")]
    MaterialLacks {
        /// The material.
        material: String,
        /// What it lacks.
        missing: Missing,
    },
}

impl ContractError {
    /// A conversion of a material that cannot be made.
    pub fn conversion(material: &str, error: ConversionError) -> Self {
        let material = material.into();
        match error {
            ConversionError::Missing(missing) => ContractError::MaterialLacks { material, missing },
            ConversionError::Beyond => ContractError::BeyondConversion { material },
        }
    }

    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use ContractError as E;
        match self {
            E::NoVehicle => "add --vehicle, with a vehicle of the job or as in holds=10,carries=16",
            E::Beyond { .. } | E::BeyondConversion { .. } => "check the units of the surfaces",
            E::MaterialLacks { .. } => "add it to the material",
        }
    }
}

dapedon_diagnostic::diagnostic!(ContractError, "contract");
