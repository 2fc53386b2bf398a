//! Why a figure of a contract cannot be worked out.

use crate::{ConversionError, Missing};

/// Why a figure of a contract cannot be worked out.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ContractError {
    /// A rate by the load without a vehicle.
    #[error("nothing says which vehicle hauls the loads")]
    NoVehicle,
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
            E::NoVehicle => "say --vehicle, as a name of the job or as holds=10,carries=16",
            E::Beyond { .. } | E::BeyondConversion { .. } => {
                "see that the surfaces are in the units they say"
            }
            E::MaterialLacks { .. } => "say it with the material",
        }
    }
}

dapedon_diagnostic::diagnostic!(ContractError, "contract");
