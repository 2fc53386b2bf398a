//! Why surfaces cannot be laid over each other: they lie apart.

use dapedon_core::overlay::OverlayError;
use dapedon_core::plan::{Extent, Frame};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;

use crate::error::{JobError, Span, job_error, mistake};

/// Why two surfaces cannot be laid over each other.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum ApartError {
    /// The two sides lie apart.
    #[error("the two surfaces do not overlap\n  reference: {reference}\n  surveyed:  {surveyed}")]
    Apart {
        /// Where the reference lies.
        reference: Span,
        /// Where the surveyed lies.
        surveyed: Span,
        /// What would bring them together.
        hint: Option<&'static str>,
    },
    /// The zones lie apart from what the two sides share.
    #[error(
        "the zones lie outside the ground that both surfaces cover\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    ZonesApart {
        /// Where both surfaces lie.
        surfaces: Span,
        /// Where the zones lie.
        zones: Span,
    },
    /// The zones lie where both sides reach, but one of them has no ground.
    #[error(
        "there is no ground of both surfaces within the zones: one of them has none there\n  both surfaces: {surfaces}\n  zones:         {zones}"
    )]
    NothingInZones {
        /// Where both surfaces lie.
        surfaces: Span,
        /// Where the zones lie.
        zones: Span,
    },
}

impl ApartError {
    fn remedy(&self) -> String {
        match self {
            ApartError::Apart { hint, .. } => {
                let hint = hint.map_or("", |hint| hint);
                format!("see that both are in one coordinate system{hint}")
            }
            ApartError::ZonesApart { .. } => {
                "see that the zones are in the survey's coordinate system".into()
            }
            ApartError::NothingInZones { .. } => {
                "see what inspect says of areas without heights, or move the zones".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(ApartError, "apart");
job_error!(ApartError);

/// Why two sides cannot be laid over each other, with what would mend it.
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

/// The two sides lie apart, or the zones from what both cover; with what would mend it.
pub(crate) fn apart(reference: &Surface, surveyed: &Surface, zones: Option<&Zones>) -> JobError {
    let frame = reference.frame();
    let [a, b] = [reference, surveyed].map(|side| grid(frame, side.extent()));
    let both = a.intersection(&b);
    if let Some(zones) = zones.filter(|_| !both.is_empty()) {
        let zones = grid(frame, zones.extent());
        let (surfaces, within) = (Span(both), both.meets(&zones));
        let zones = Span(zones);
        let error = match within {
            true => ApartError::NothingInZones { surfaces, zones },
            false => ApartError::ZonesApart { surfaces, zones },
        };
        return error.into();
    }
    let hint = mistake::of_places(&a, &b);
    ApartError::Apart {
        reference: Span(a),
        surveyed: Span(b),
        hint,
    }
    .into()
}
