//! Why surfaces cannot be laid over each other: they lie apart.

use dapedon_core::{Extent, Frame, OverlayError, Surface, Zones};

use crate::error::{JobError, Span, mistake};

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
        return match within {
            true => JobError::NothingInZones { surfaces, zones },
            false => JobError::ZonesApart { surfaces, zones },
        };
    }
    let hint = mistake::of_places(&a, &b);
    JobError::Apart {
        reference: Span(a),
        surveyed: Span(b),
        hint,
    }
}
