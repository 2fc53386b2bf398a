//! Why a pile cannot be measured, and what to do about it.

use dapedon_core::quantities::BaseError;

use crate::error::job_error;

/// Why a pile cannot be measured.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum PileError {
    /// A pile without a base.
    #[error("the pile \"{name}\" has no base: {error}")]
    Base {
        /// The outline.
        name: String,
        /// Why.
        #[source]
        error: BaseError,
    },
    /// Two piles on the same ground.
    #[error("the piles \"{}\" and \"{}\" share ground, and each would count it", .names[0], .names[1])]
    Overlap {
        /// Their outlines.
        names: [String; 2],
    },
    /// The surface has no ground of its own.
    #[error("a level has no piles")]
    Level,
    /// Nothing stands clear.
    #[error("nothing {} by {clear} {length} on {area} {area_unit}{}", if *.pit { "lies below its surroundings" } else { "stands clear of its surroundings" }, goes_on(*.left_out))]
    NothingFound {
        /// How much was left out since the surface ends in it.
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
    /// A material is said for a pile that is none.
    #[error("a material is said for \"{name}\", and there is no such pile")]
    NoSuchPile {
        /// The name.
        name: String,
        /// Those there are.
        known: Vec<String>,
    },
    /// No file says the attribute.
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
        1 => ", but for one that reaches to where the surface ends".into(),
        count => format!(", but for {count} that reach to where the surface ends"),
    }
}

impl PileError {
    /// What to do about it.
    fn remedy(&self) -> String {
        use PileError as E;
        let one_of = |known: &[String], none: &str| match known.is_empty() {
            true => none.into(),
            false => format!("say one of {}", known.join(", ")),
        };
        match self {
            E::Base {
                error: BaseError::LeavesSurface { .. },
                ..
            } => "let the outline end within the survey, or survey all around the toe".into(),
            E::Base { .. } => {
                "see that the outline is around the pile, and in the survey's system".into()
            }
            E::Overlap { .. } => "let their outlines end at each other".into(),
            E::Level => "name a surveyed surface".into(),
            E::NothingFound { .. } => {
                "say a smaller --min-height or --min-area, or draw the outlines and name them with --zone".into()
            }
            E::NoSuchPile { known, .. } => one_of(known, "name one of the outlines"),
            E::NoAttribute { known, .. } => {
                one_of(known, "say the materials with --material NAME=MATERIAL")
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(PileError, "pile");
job_error!(PileError);
