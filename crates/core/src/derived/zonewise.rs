//! A surface changed zone by zone, with vertical steps where zones end.

use rayon::prelude::*;

use crate::derived::assembly::{Shards, Source, assemble};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::{Extent, Place};
use crate::surface::{Level, Surface, Vertex};
use crate::zones::Zones;
use crate::zones::regions::regions;

/// What becomes of the ground within some zones.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Treatment {
    /// It stays as it is.
    Keep,
    /// It is raised by an amount; lowered where that is negative.
    Raise(f64),
    /// It is set level at a height.
    Level(f64),
    /// It is skipped.
    Drop,
}

impl Treatment {
    /// The height after the change.
    pub(crate) fn of(self, height: f64) -> f64 {
        match self {
            Treatment::Keep | Treatment::Drop => height,
            Treatment::Raise(by) => height + by,
            Treatment::Level(level) => level,
        }
    }
}

/// Changes a surface zone by zone: `treat` is given the zones that ground lies in, as indices in ascending
/// order, none where it lies in none.
///
/// Facets are cut along the outlines and nowhere else, and each part is changed as a whole: where two
/// parts side by side are changed differently, the step between them is vertical and stands exactly on the
/// outline. The result is a surface like any other.
///
/// # Errors
///
/// When the frames differ or nothing is left; when the surface is a level, which has no end, and ground
/// outside all zones is not dropped.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let ring = |e: f64| [(e, 0.0), (e + 4.0, 0.0), (e + 4.0, 5.0), (e, 5.0), (e, 0.0)].map(|(e, n)| Place::new(e, n));
/// let zone = |e: f64| Zone::new("yard", frame, vec![vec![ring(e).to_vec()]]).unwrap();
/// let zones = Zones::new(frame, vec![zone(0.0), zone(4.0)]);
/// let slab = Surface::Level(Level::new(frame, 10.0));
/// let layers = [0.25, 0.5];
/// let formation = zonewise(&slab, &zones, |zones| match zones {
///     [] => Treatment::Drop,
///     [zone, ..] => Treatment::Raise(-layers[*zone as usize]),
/// });
/// let measured = volume(&slab, &formation.unwrap(), None, Tolerance::ZERO).unwrap();
/// assert_eq!(measured[0].volume.cut, 20.0 * 0.25 + 20.0 * 0.5);
/// ```
pub fn zonewise(
    surface: &Surface,
    zones: &Zones,
    treat: impl Fn(&[u32]) -> Treatment,
) -> Result<Surface, OverlayError> {
    let frame = surface.frame();
    if zones.frame() != frame {
        return Err(OverlayError::FramesDiffer);
    }
    if matches!(surface, Surface::Level(_)) && treat(&[]) != Treatment::Drop {
        return Err(OverlayError::Unbounded);
    }
    let source = parted(surface, zones, treat)?;
    match assemble(frame, &[source]) {
        Ok(tin) => Ok(Surface::Tin(tin)),
        Err(_) => Err(OverlayError::Apart),
    }
}

/// The parts of a surface, and what becomes of each: facets away from all zones are not looked at.
pub(crate) fn parted<'s>(
    surface: &'s Surface,
    zones: &Zones,
    treat: impl Fn(&[u32]) -> Treatment,
) -> Result<Source<'s>, OverlayError> {
    let (mut treatments, mut grounds) = (vec![treat(&[])], Vec::new());
    for region in regions(zones, near(surface, &zones.extent())) {
        treatments.push(treat(&region.zones));
        grounds.push(region.ground);
    }
    let grounds = Zones::new(surface.frame(), grounds);
    Ok(Source {
        surface,
        shards: shards(surface, &grounds, 1)?,
        treatments,
        untouched: 0,
        rim: None,
    })
}

/// What holds an extent, all facets of a surface that meet it, and some ground around; none where the surface
/// has no end.
pub(crate) fn near(surface: &Surface, extent: &Extent) -> Option<Extent> {
    let facets = match surface {
        Surface::Tin(tin) => {
            let facets = (0..tin.facets().len()).into_par_iter();
            let met = facets
                .map(|facet| Extent::of(tin.corners(facet).map(Vertex::place)))
                .filter(|facet| facet.meets(extent));
            met.reduce(|| Extent::EMPTY, |a, b| a.union(&b))
        }
        Surface::Grid(grid) => {
            let [east, north] = grid.step();
            let Extent { min, max } = *extent;
            Extent {
                min: Place::new(min.east - east, min.north - north),
                max: Place::new(max.east + east, max.north + north),
            }
        }
        Surface::Level(_) => return None,
    };
    Some(around(extent.union(&facets)))
}

/// The parts of a surface within grounds that do not overlap, each labelled with its ground, counted from
/// `first`.
pub(crate) fn shards(
    surface: &Surface,
    grounds: &Zones,
    first: u32,
) -> Result<Shards, OverlayError> {
    let level = Surface::Level(Level::new(surface.frame(), 0.0));
    match Overlay::new(surface, &level, Some(grounds)) {
        Err(OverlayError::Apart) => Ok(Shards::default()),
        overlay => overlay?.fold(&Parts { first }),
    }
}

/// An extent, and as much ground around it as it is wide: the triangles between the outlines within and its
/// corners are slivers where those are close.
pub(crate) fn around(extent: Extent) -> Extent {
    let margin = extent.width().max(extent.height()).max(1.0);
    let Extent { min, max } = extent;
    Extent {
        min: Place::new(min.east - margin, min.north - margin),
        max: Place::new(max.east + margin, max.north + margin),
    }
}

/// Gathers the parts of the reference surface, each labelled with the zone it lies in.
struct Parts {
    first: u32,
}

impl Fold for Parts {
    type Part = Shards;

    fn part(&self) -> Shards {
        Shards::default()
    }

    fn piece(&self, part: &mut Shards, piece: &Piece<'_>) {
        // The grounds do not overlap: a piece lies in one.
        if let Some(&ground) = piece.zones.first() {
            part.push(piece.facets[0], self.first + ground, piece.outline);
        }
    }

    fn join(&self, part: &mut Shards, next: Shards) {
        part.append(next);
    }
}
