//! Why there is no haul plan.

use dapedon_core::quantities::HaulPlanError;

use crate::error::job_error;

/// Why there is no haul plan.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ZoneHaulError {
    /// Nothing says between which zones.
    #[error("nothing says between which zones material is carried")]
    NoZones,
    /// Ground is in two zones.
    #[error("the zones \"{}\" and \"{}\" overlap on {area}: it would be carried twice", .zones[0], .zones[1])]
    Overlap {
        /// The two.
        zones: [String; 2],
        /// How much.
        area: String,
    },
    /// A coordinate that is none.
    #[error("{value} is not a coordinate")]
    NoPlace {
        /// The figure.
        value: f64,
    },
    /// A cost that cannot be weighed against the haul.
    #[error("\"{name}\" has a cost, and the haul has no rate to weigh it against")]
    CostWithoutRate {
        /// The borrow pit or tip.
        name: String,
    },
    /// There is no plan.
    #[error(transparent)]
    Plan(HaulPlanError),
}

impl ZoneHaulError {
    fn remedy(&self) -> String {
        let remedy = match self {
            ZoneHaulError::NoZones => "give two or more zones with --zone",
            ZoneHaulError::Overlap { .. } => "redraw the zones so that they only touch",
            ZoneHaulError::NoPlace { .. } => "give east and north of the survey",
            ZoneHaulError::CostWithoutRate { .. } => {
                "add --haul-rate: what a unit of volume costs over a kilometre, or a mile where lengths are feet"
            }
            ZoneHaulError::Plan(HaulPlanError::TooMany { .. }) => "join zones that lie together",
            ZoneHaulError::Plan(HaulPlanError::NoFigure) => "use figures of zero or more",
            ZoneHaulError::Plan(_) => "please report this as a bug",
        };
        remedy.into()
    }
}

dapedon_diagnostic::diagnostic!(ZoneHaulError, "haul");
job_error!(ZoneHaulError);
