//! Where a built surface lies beyond its limits: patches of ground, each with its worst place.

use super::HeightLimits;
use crate::derived::assembly::collect;
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::{Frame, Place, Sum, cross};
use crate::quantities::SideOfLevel;
use crate::quantities::level_area::sorted_parts;
use crate::surface::neighbours::{Neighbours, bits};
use crate::surface::{Tin, Vertex};
use crate::zones::in_grid;
use rustc_hash::FxHashMap;

/// Connected ground beyond a limit.
#[derive(Debug, Clone, PartialEq)]
pub struct PatchBeyond {
    /// Above the highest difference, or below the lowest.
    pub side: SideOfLevel,
    /// Its plan area.
    pub area: f64,
    /// The volume between the limit and the built surface.
    pub volume: f64,
    /// By how much it lies beyond the limit at most.
    pub greatest: f64,
    /// Where that is, in local coordinates.
    pub at: Place,
    /// Its parts, each an outer ring and its holes, closed, in grid coordinates. Parts touch at corners.
    pub parts: Vec<Vec<Vec<Place>>>,
}

/// The ground beyond the limits within the zones of an overlay, or everywhere where there are none: connected patches, the one that lies
/// farthest beyond its limit first. None where more than `most` pieces of the overlay lie beyond.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{HeightLimits, patches_beyond};
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // Level ground with one peak of 1 m on a grid of 1 m: above 0.5 m its six triangles are half as long.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let mut heights = vec![0.0; 25];
/// heights[12] = 1.0;
/// let built = Grid::new(frame, frame.to_local(0.0, 0.0), [1.0, 1.0], [5, 5], heights).unwrap();
/// let [design, built] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(built)];
/// let overlay = Overlay::new(&design, &built, None).unwrap();
/// let limits = HeightLimits::new(None, Some(0.5)).unwrap();
/// let found = patches_beyond(&overlay, &limits, 1000).unwrap().unwrap();
/// assert_eq!(found.len(), 1);
/// assert!((found[0].area - 0.75).abs() < 1e-9 && (found[0].volume - 0.125).abs() < 1e-9);
/// assert!((found[0].greatest - 0.5).abs() < 1e-12);
/// ```
pub fn patches_beyond(
    overlay: &Overlay<'_>,
    limits: &HeightLimits,
    most: u64,
) -> Result<Option<Vec<PatchBeyond>>, OverlayError> {
    let precision = overlay.frame().precision();
    let fold = BeyondFold {
        limits,
        same: precision.length(),
        sliver: precision.area(&overlay.extent()),
    };
    if overlay.fold(&Counted(&fold))? > most {
        return Ok(None);
    }
    let [above, below] = overlay.fold(&fold)?;
    let mut found = patches(overlay.frame(), SideOfLevel::Above, above);
    found.extend(patches(overlay.frame(), SideOfLevel::Below, below));
    // The order in which they were found tells equal ones apart.
    found.sort_by(|a, b| b.greatest.total_cmp(&a.greatest));
    Ok(Some(found))
}

struct BeyondFold<'f> {
    limits: &'f HeightLimits,
    same: f64,
    /// Pieces no larger are what rounding leaves.
    sliver: f64,
}

impl BeyondFold<'_> {
    /// By how much a piece lies beyond each limit at most.
    fn most(&self, piece: &Piece<'_>) -> [f64; 2] {
        let corners = piece.outline.corners().iter();
        let differences = corners.map(|&at| piece.surveyed.at(at) - piece.reference.at(at));
        differences.fold([f64::NEG_INFINITY; 2], |most, difference| {
            let beyond = self.limits.beyond(difference);
            [most[0].max(beyond[0]), most[1].max(beyond[1])]
        })
    }

    fn is_beyond(&self, most: f64) -> bool {
        most > self.same
    }
}

/// How many pieces lie beyond a limit.
struct Counted<'f>(&'f BeyondFold<'f>);

impl Fold for Counted<'_> {
    type Part = u64;

    fn part(&self) -> u64 {
        0
    }

    fn piece(&self, part: &mut u64, piece: &Piece<'_>) {
        let most = self.0.most(piece);
        *part += u64::from(most.iter().any(|&most| self.0.is_beyond(most)));
    }

    fn join(&self, part: &mut u64, next: u64) {
        *part += next;
    }
}

impl Fold for BeyondFold<'_> {
    /// Convex pieces beyond each limit, as high as they lie beyond it.
    type Part = [Vec<Vec<Vertex>>; 2];

    fn part(&self) -> Self::Part {
        [Vec::new(), Vec::new()]
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let most = self.most(piece);
        for (side, kept) in part.iter_mut().enumerate() {
            if !self.is_beyond(most[side]) {
                continue;
            }
            let excess = |at: Place| {
                let difference = piece.surveyed.at(at) - piece.reference.at(at);
                self.limits.beyond(difference)[side]
            };
            let (values, ..) = piece.outline.values(excess);
            let beyond = piece.outline.part_above(&values, 0.0);
            if beyond.area() > self.sliver {
                let corners = beyond.corners().iter();
                // On the limit rounding may leave a little less than nothing.
                let corners =
                    corners.map(|&at| Vertex::new(at.east, at.north, excess(at).max(0.0)));
                kept.push(corners.collect());
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, mut next) in part.iter_mut().zip(next) {
            own.append(&mut next);
        }
    }
}

/// Pieces as patches.
fn patches(frame: Frame, side: SideOfLevel, pieces: Vec<Vec<Vertex>>) -> Vec<PatchBeyond> {
    // Where nothing is beyond there are no pieces.
    let Ok(ground) = collect(frame, pieces) else {
        return Vec::new();
    };
    let (patch_of, count) = connected(&ground);
    let mut sums = vec![[Sum::ZERO; 2]; count];
    for &facet in ground.facets() {
        let corners = facet.map(|corner| ground.vertices()[corner as usize]);
        let [a, b, c] = corners.map(|corner| corner.place());
        let area = cross(a, b, c) / 2.0;
        let mean = corners.iter().map(|corner| corner.height).sum::<f64>() / 3.0;
        let [areas, volumes] = &mut sums[patch_of[facet[0] as usize]];
        *areas += area;
        *volumes += area * mean;
    }
    let mut highest: Vec<Option<Vertex>> = vec![None; count];
    let mut at_place: FxHashMap<[u64; 2], usize> = FxHashMap::default();
    for (corner, &patch) in ground.vertices().iter().zip(&patch_of) {
        at_place.insert(bits(corner.place()), patch);
        let own = &mut highest[patch];
        if own.is_none_or(|own| corner.height > own.height) {
            *own = Some(*corner);
        }
    }
    let mut parts: Vec<Vec<Vec<Vec<Place>>>> = vec![Vec::new(); count];
    for part in sorted_parts(&ground) {
        let first = part.first().and_then(|ring| ring.first());
        let Some(&patch) = first.and_then(|&corner| at_place.get(&bits(corner))) else {
            continue;
        };
        parts[patch].push(part.iter().map(|ring| in_grid(ring, frame)).collect());
    }
    let all = sums.into_iter().zip(highest).zip(parts);
    let found = all.filter_map(|(([area, volume], highest), parts)| {
        let highest = highest?;
        Some(PatchBeyond {
            side,
            area: area.value(),
            volume: volume.value(),
            greatest: highest.height,
            at: highest.place(),
            parts,
        })
    });
    found.collect()
}

/// The patch of each corner of a surface, and how many there are. Corners of a facet, and those at one place, are in one patch.
fn connected(ground: &Tin) -> (Vec<usize>, usize) {
    let near = Neighbours::of(ground);
    let mut patch_of = vec![usize::MAX; ground.vertices().len()];
    let mut count = 0;
    let mut open = Vec::new();
    for start in 0..ground.vertices().len() as u32 {
        if patch_of[start as usize] != usize::MAX {
            continue;
        }
        patch_of[start as usize] = count;
        open.push(start);
        while let Some(corner) = open.pop() {
            for &next in near.of_vertex(corner) {
                if patch_of[next as usize] == usize::MAX {
                    patch_of[next as usize] = count;
                    open.push(next);
                }
            }
        }
        count += 1;
    }
    (patch_of, count)
}
