//! A surface whose heights are the difference of two others.

use crate::derived::assembly::collect;
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::surface::{Surface, Vertex};

/// The surface whose height at each place is that of `surveyed` less that of `reference`, where both are.
///
/// Its integral is the net volume between the two; its contours are lines of equal cut or fill.
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
pub fn difference(reference: &Surface, surveyed: &Surface) -> Result<Surface, OverlayError> {
    let pieces = Overlay::new(reference, surveyed, None)?.fold(&Differences)?;
    let made = collect(reference.frame(), pieces);
    made.map(Surface::Tin).map_err(|_| OverlayError::Apart)
}

struct Differences;

impl Fold for Differences {
    type Part = Vec<Vec<Vertex>>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let corners = piece.outline.corners().iter();
        let difference = corners.map(|&at| {
            let height = piece.surveyed.at(at) - piece.reference.at(at);
            Vertex::new(at.east, at.north, height)
        });
        part.push(difference.collect());
    }

    fn join(&self, part: &mut Self::Part, mut next: Self::Part) {
        part.append(&mut next);
    }
}
