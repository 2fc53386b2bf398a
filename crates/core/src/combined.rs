//! One surface of two: the higher, the lower, or the other one where it is.

use crate::assembly::{Shards, Source, assemble};
use crate::plan::RESOLUTION;
use crate::regions::{Region, regions};
use crate::zonewise::{around, shards};
use crate::{Fold, Outline, Overlay, OverlayError, Piece, Surface, Treatment, Zone, Zones};

/// Which of two surfaces holds where both are.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Choice {
    /// The higher one.
    Highest,
    /// The lower one.
    Lowest,
    /// The other one, whatever its height.
    Other,
}

/// One surface of two: where both are, what is chosen; where only one is, that one. A level holds only where
/// the other one is, since it has no end.
///
/// Both are parted where they cross, and facets that are nowhere left out stay whole. Where the one ends
/// above or below the other, the step between them is vertical.
///
/// # Errors
///
/// When the frames differ, or both are levels.
///
/// ```
/// use dapedon_core::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, 0.0), (10.0, 0.0, 2.0), (10.0, 4.0, 2.0), (0.0, 4.0, 0.0)];
/// let slope = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let slope = Surface::Tin(Tin::from_facets(frame, slope, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let water = Surface::Level(Level::new(frame, 1.0));
/// let seen = combined(&slope, &water, Choice::Highest).unwrap();
/// let filled = volume(&slope, &seen, None, Tolerance::ZERO).unwrap();
/// // A wedge, 5 long, 4 wide and 1 deep.
/// assert_eq!(filled[0].volume.fill, 10.0);
/// ```
pub fn combined(
    surface: &Surface,
    other: &Surface,
    choice: Choice,
) -> Result<Surface, OverlayError> {
    let frame = surface.frame();
    if other.frame() != frame {
        return Err(OverlayError::FramesDiffer);
    }
    let [mut own, mut others] = match Overlay::new(surface, other, None) {
        Ok(overlay) => overlay.fold(&Choose(choice)),
        // Each holds where it is.
        Err(OverlayError::Apart) => [Shards::default(), Shards::default()],
        Err(error) => return Err(error),
    };
    own.append(beyond(surface, other)?);
    others.append(beyond(other, surface)?);
    let source = |surface, shards| Source {
        surface,
        shards,
        treatments: vec![Treatment::Keep],
    };
    let made = assemble(frame, &[source(surface, own), source(other, others)]);
    made.map(Surface::Tin).map_err(|_| OverlayError::Apart)
}

/// The parts of a surface that lie beyond the outline of another.
fn beyond(surface: &Surface, other: &Surface) -> Result<Shards, OverlayError> {
    let (Outline::Edges(edges), Surface::Tin(_) | Surface::Grid(_)) = (Outline::of(other), surface)
    else {
        return Ok(Shards::default());
    };
    let frame = surface.frame();
    let domain = Zones::new(frame, vec![Zone::of_parts(edges, Vec::new())]);
    let parted = regions(
        &domain,
        Some(around(surface.extent().union(&other.extent()))),
    );
    let outside = parted.into_iter().filter(|region| region.zones.is_empty());
    let outside: Vec<Zone> = outside.map(|Region { ground, .. }| ground).collect();
    match shards(surface, &Zones::new(frame, outside)) {
        Err(OverlayError::Apart) => Ok(Shards::default()),
        found => found,
    }
}

/// Parts each piece where the surfaces cross, and hands the parts to the one that is chosen.
struct Choose(Choice);

impl Fold for Choose {
    type Part = [Shards; 2];

    fn part(&self) -> Self::Part {
        [Shards::default(), Shards::default()]
    }

    fn piece(&self, [own, others]: &mut Self::Part, piece: &Piece<'_>) {
        let outline = piece.outline;
        let [facet, other] = piece.facets;
        // By how much the other one is to be preferred.
        let sign = match self.0 {
            Choice::Highest => 1.0,
            Choice::Lowest => -1.0,
            Choice::Other => return others.push(other, 0, outline),
        };
        let (values, least, greatest) =
            outline.values(|p| sign * (piece.surveyed.at(p) - piece.reference.at(p)));
        if greatest <= RESOLUTION {
            own.push(facet, 0, outline);
        } else if least >= -RESOLUTION {
            others.push(other, 0, outline);
        } else {
            others.push(other, 0, &outline.part_above(&values, 0.0));
            own.push(facet, 0, &outline.part_above(&values.map(|v| -v), 0.0));
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (part, next) in part.iter_mut().zip(next) {
            part.append(next);
        }
    }
}

/// A surface that holds within zones, and another one outside them.
///
/// # Errors
///
/// When the frames differ, nothing is left, or the one outside has no end.
pub fn within(inside: &Surface, outside: &Surface, zones: &Zones) -> Result<Surface, OverlayError> {
    let frame = outside.frame();
    if inside.frame() != frame || zones.frame() != frame {
        return Err(OverlayError::FramesDiffer);
    }
    if matches!(outside, Surface::Level(_)) {
        return Err(OverlayError::Unbounded);
    }
    let inner = match inside {
        Surface::Level(_) => zones.extent(),
        _ => inside.extent().union(&zones.extent()),
    };
    let parted = regions(zones, Some(around(inner.union(&outside.extent()))));
    let part = |surface, held: bool| {
        let grounds = parted
            .iter()
            .filter(|region| region.zones.is_empty() != held);
        let grounds: Vec<Zone> = grounds.map(|region| region.ground.clone()).collect();
        let treatments = vec![Treatment::Keep; grounds.len()];
        let shards = match shards(surface, &Zones::new(frame, grounds)) {
            Err(OverlayError::Apart) => Shards::default(),
            found => found?,
        };
        Ok(Source {
            surface,
            shards,
            treatments,
        })
    };
    let made = assemble(frame, &[part(outside, false)?, part(inside, true)?]);
    made.map(Surface::Tin).map_err(|_| OverlayError::Apart)
}
