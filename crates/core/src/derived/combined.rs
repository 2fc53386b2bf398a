//! One surface of two: the higher, the lower, or the other one where it is.

use crate::derived::Treatment;
use crate::derived::assembly::{OpenEdges, Shards, Source, assemble};
use crate::derived::zonewise::{near, parted, shards};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::clip::Room;
use crate::plan::{Polygon, Precision};
use crate::surface::Plane;
use crate::surface::{Outline, Surface, Vertex};
use crate::zones::regions::{Region, regions};
use crate::zones::{Zone, Zones};

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
/// Both are split where they cross, and facets that are nowhere skipped stay whole. Where the one ends
/// above or below the other, the step between them is vertical.
///
/// # Errors
///
/// When the frames differ, or both are levels.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
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
    let met = match Overlay::new(surface, other, None) {
        Ok(overlay) => overlay.fold(&Choose {
            choice,
            precision: surface.frame().precision(),
        })?,
        // Each holds where it is.
        Err(OverlayError::Apart) => Vec::new(),
        Err(error) => return Err(error),
    };
    let [mut own, mut others] = parts(surface, other, choice, &met);
    let (rim, others_rim) = rayon::join(|| OpenEdges::of(surface), || OpenEdges::of(other));
    let (outside, others_outside) = rayon::join(
        || beyond(surface, other, &others_rim),
        || beyond(other, surface, &rim),
    );
    own.append(outside?);
    others.append(others_outside?);
    fn source<'s>(surface: &'s Surface, rim: &'s OpenEdges, shards: Shards) -> Source<'s> {
        let mut treatments = vec![Treatment::Drop; 2];
        treatments[KEPT as usize] = Treatment::Keep;
        Source {
            surface,
            shards,
            treatments,
            untouched: KEPT,
            rim: Some(rim),
        }
    }
    let sources = [
        source(surface, &rim, own),
        source(other, &others_rim, others),
    ];
    let made = assemble(frame, &sources);
    made.map(Surface::Tin).map_err(|_| OverlayError::Apart)
}

/// The label of parts that are kept, and of those that are not.
const KEPT: u32 = 0;
const LEFT_OUT: u32 = 1;

/// The parts of a surface that are outside the outline of another, as far as its facets come near to it.
fn beyond(surface: &Surface, other: &Surface, rim: &OpenEdges) -> Result<Shards, OverlayError> {
    let Outline::Edges(edges) = rim.outline(other) else {
        return Ok(Shards::default());
    };
    let Some(near) = near(surface, &other.extent()) else {
        return Ok(Shards::default());
    };
    let frame = surface.frame();
    let domain = Zones::new(frame, vec![Zone::of_parts(edges, Vec::new())]);
    let parted = regions(&domain, Some(near));
    let outside = parted.into_iter().filter(|region| region.zones.is_empty());
    let outside: Vec<Zone> = outside.map(|Region { ground, .. }| ground).collect();
    shards(surface, &Zones::new(frame, outside), KEPT)
}

/// Two facets that meet, and which of them keeps a part where they do, and which loses one.
#[derive(Debug, Clone, Copy)]
struct Met {
    facets: [u32; 2],
    keeps: [bool; 2],
    loses: [bool; 2],
}

/// Says of each two facets that meet which one is chosen.
struct Choose {
    choice: Choice,
    precision: Precision,
}

impl Choice {
    /// What is chosen of a piece: its parts that the own and the other surface keep, where they have one.
    fn of(self, piece: &Polygon, [own, other]: [Plane; 2], same: f64) -> [Option<Polygon>; 2] {
        // By how much the other one is to be preferred.
        let sign = match self {
            Choice::Highest => 1.0,
            Choice::Lowest => -1.0,
            Choice::Other => return [None, Some(*piece)],
        };
        let (values, least, greatest) = piece.values(|at| sign * (other.at(at) - own.at(at)));
        if greatest <= same {
            [Some(*piece), None]
        } else if least >= -same {
            [None, Some(*piece)]
        } else {
            let above = piece.part_above(&values, 0.0);
            [
                Some(piece.part_above(&values.map(|v| -v), 0.0)),
                Some(above),
            ]
        }
    }
}

impl Fold for Choose {
    type Part = Vec<Met>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let kept = (self.choice).of(
            piece.outline,
            [piece.reference, piece.surveyed],
            self.precision.length(),
        );
        // Specks are rounding along edges, and no reason to cut a facet.
        let speck = self.precision.speck();
        let sized = |part: &Option<Polygon>| part.as_ref().is_some_and(|part| part.area() > speck);
        let loses = [sized(&kept[1]), sized(&kept[0])];
        part.push(Met {
            facets: piece.facets,
            keeps: kept.map(|part| part.is_some()),
            loses,
        });
    }

    fn join(&self, part: &mut Self::Part, mut next: Self::Part) {
        part.append(&mut next);
    }
}

/// The parts that both surfaces keep of the facets that lose others; those that lose none stay whole.
fn parts(surface: &Surface, other: &Surface, choice: Choice, met: &[Met]) -> [Shards; 2] {
    let sides = [surface, other];
    let mut shards = [Shards::default(), Shards::default()];
    // A level has one facet without end, which is never whole.
    let mut loses = sides.map(|side| vec![matches!(side, Surface::Level(_)); side.slots().max(1)]);
    for met in met {
        for (side, loses) in loses.iter_mut().enumerate() {
            let facet = met.facets[side];
            if met.loses[side] && !std::mem::replace(&mut loses[facet as usize], true) {
                shards[side].leave_out(facet, LEFT_OUT);
            }
        }
    }
    let same = surface.frame().precision().length();
    let mut room = Room::default();
    for met in met {
        let cut = [0, 1].map(|side| met.keeps[side] && loses[side][met.facets[side] as usize]);
        if cut == [false, false] {
            continue;
        }
        let facets = [0, 1].map(|side| sides[side].facet(met.facets[side] as usize));
        let planes = [0, 1].map(|side| match facets[side] {
            Some([a, b, c]) => Plane::through(a, b, c),
            None => Plane::level(sides[side].heights().0),
        });
        let triangles = facets.map(|facet| facet.map(|corners| corners.map(Vertex::place)));
        let piece = match triangles {
            [Some(own), Some(other)] => Polygon::triangle(own).within(&other, &mut room).copied(),
            [one, other] => one.or(other).map(Polygon::triangle),
        };
        let Some(piece) = piece else { continue };
        for (side, kept) in choice.of(&piece, planes, same).into_iter().enumerate() {
            if let Some(kept) = kept.filter(|_| cut[side]) {
                shards[side].push(met.facets[side], KEPT, &kept);
            }
        }
    }
    shards
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
    let part = |surface, held: bool| {
        parted(surface, zones, |within| match within.is_empty() == held {
            true => Treatment::Drop,
            false => Treatment::Keep,
        })
    };
    let rims = [OpenEdges::of(inside), OpenEdges::of(outside)];
    let (mut inner, mut outer) = (part(inside, true)?, part(outside, false)?);
    (inner.rim, outer.rim) = (Some(&rims[0]), Some(&rims[1]));
    let made = assemble(frame, &[outer, inner]);
    made.map(Surface::Tin).map_err(|_| OverlayError::Apart)
}
