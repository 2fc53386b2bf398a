//! Why a pile cannot be measured, and what to do about it.

use dapedon_core::quantities::BaseError;

use crate::error::job_error;

/// Why a pile cannot be measured.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum PileError {
    /// A pile has no base.
    #[error("the pile \"{name}\" has no base: {error}")]
    Base {
        /// The outline.
        name: String,
        /// Why.
        #[source]
        error: BaseError,
    },
    /// The outlines of two piles overlap.
    #[error("the outlines of the piles \"{}\" and \"{}\" overlap", .names[0], .names[1])]
    Overlap {
        /// Their outlines.
        names: [String; 2],
    },
    /// A level is given in place of a surveyed surface.
    #[error("a level cannot have piles")]
    Level,
    /// No pile is found.
    #[error("nothing {} by {clear} {length} on {area} {area_unit}{}", if *.pit { "is below its surroundings" } else { "is above its surroundings" }, goes_on(*.left_out))]
    NothingFound {
        /// How much was skipped since the surface ends in it.
        left_out: usize,
        /// Pits were looked for.
        pit: bool,
        /// The height that was asked for.
        clear: f64,
        /// The unit of lengths.
        length: &'static str,
        /// The area that was asked for.
        area: f64,
        /// The unit of areas.
        area_unit: &'static str,
    },
    /// A material is given for a pile that does not exist.
    #[error("--material names \"{name}\", and there is no such pile")]
    NoSuchPile {
        /// The name.
        name: String,
        /// Those there are.
        known: Vec<String>,
    },
    /// No outline has the attribute for the materials.
    #[error("no outline has the attribute \"{attribute}\"")]
    NoAttribute {
        /// The attribute.
        attribute: String,
        /// Those there are.
        known: Vec<String>,
    },
}

fn goes_on(left_out: usize) -> String {
    match left_out {
        0 => String::new(),
        1 => ", except one at the edge of the survey".into(),
        count => format!(", except {count} at the edge of the survey"),
    }
}

impl PileError {
    /// What to do about it.
    fn remedy(&self) -> String {
        use PileError as E;
        let one_of = |known: &[String], none: &str| match known.is_empty() {
            true => none.into(),
            false => format!("use one of {}", known.join(", ")),
        };
        match self {
            E::Base {
                error: BaseError::LeavesSurface { .. },
                ..
            } => "keep the outline within the survey, or survey all around the toe".into(),
            E::Base { .. } => {
                "check that the outline is around the pile, and in the survey's coordinate system".into()
            }
            E::Overlap { .. } => "redraw the outlines so that they only touch".into(),
            E::Level => "use a surveyed surface".into(),
            E::NothingFound { .. } => {
                "use a smaller --min-height or --min-area, or draw outlines and give them with --zone".into()
            }
            E::NoSuchPile { known, .. } => one_of(known, "use the name of an outline"),
            E::NoAttribute { known, .. } => {
                one_of(known, "give the materials with --material NAME=MATERIAL")
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(PileError, "pile");
job_error!(PileError);
