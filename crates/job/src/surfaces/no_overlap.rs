//! Two surfaces, or surfaces and zones, that do not overlap.

use dapedon_core::overlay::OverlayError;
use dapedon_core::plan::{Extent, Frame};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;

use crate::error::{JobError, PlaceInPlan, job_error, mistake};

/// Why two surfaces do not overlap.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum NoOverlapError {
    /// The two surfaces do not overlap.
    #[error("the two surfaces do not overlap\n  reference: {reference}\n  surveyed:  {surveyed}")]
    Surfaces {
        /// Where the reference lies.
        reference: PlaceInPlan,
        /// Where the surveyed lies.
        surveyed: PlaceInPlan,
        /// What would bring them together.
        hint: Option<&'static str>,
    },
    /// The zones are outside the ground that both surfaces cover.
    #[error(
        "the zones are outside the ground that both surfaces cover\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    Zones {
        /// Where both surfaces lie.
        surfaces: PlaceInPlan,
        /// Where the zones lie.
        zones: PlaceInPlan,
    },
    /// Only one of the two surfaces has ground within the zones.
    #[error(
        "only one of the surfaces has ground within the zones\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    InZones {
        /// Where both surfaces lie.
        surfaces: PlaceInPlan,
        /// Where the zones lie.
        zones: PlaceInPlan,
    },
}

impl NoOverlapError {
    fn remedy(&self) -> String {
        match self {
            NoOverlapError::Surfaces { hint, .. } => {
                let hint = hint.map_or("", |hint| hint);
                format!("check that both are in the same coordinate system{hint}")
            }
            NoOverlapError::Zones { .. } => {
                "check that the zones are in the survey's coordinate system".into()
            }
            NoOverlapError::InZones { .. } => {
                "check for areas without heights with dapedon inspect, or move the zones".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(NoOverlapError, "no-overlap");
job_error!(NoOverlapError);

/// Why two sides cannot be laid over each other, with what would help.
pub(crate) fn not_laid(
    error: OverlayError,
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
) -> JobError {
    match error {
        OverlayError::Apart => apart(reference, surveyed, zones),
        other => other.into(),
    }
}

fn grid(frame: Frame, extent: Extent) -> Extent {
    Extent {
        min: frame.to_grid(extent.min),
        max: frame.to_grid(extent.max),
    }
}

/// The two sides do not overlap, or the zones from what both cover; with what would help.
pub(crate) fn apart(reference: &Surface, surveyed: &Surface, zones: Option<&Zones>) -> JobError {
    let frame = reference.frame();
    let [a, b] = [reference, surveyed].map(|side| grid(frame, side.extent()));
    let both = a.intersection(&b);
    if let Some(zones) = zones.filter(|_| !both.is_empty()) {
        let zones = grid(frame, zones.extent());
        let (surfaces, within) = (PlaceInPlan(both), both.meets(&zones));
        let zones = PlaceInPlan(zones);
        let error = match within {
            true => NoOverlapError::InZones { surfaces, zones },
            false => NoOverlapError::Zones { surfaces, zones },
        };
        return error.into();
    }
    let hint = mistake::of_places(&a, &b);
    NoOverlapError::Surfaces {
        reference: PlaceInPlan(a),
        surveyed: PlaceInPlan(b),
        hint,
    }
    .into()
}
