//! What a surface is at a place, its height and the facet that holds it; and the facets along a line.

mod along;

pub use along::FacetOnLine;

use crate::plan::cells::Cells;
use crate::plan::groups::Groups;
use crate::plan::side::side;
use crate::plan::{Extent, Place};
use crate::surface::{Plane, Surface, Tin, Vertex};

/// A surface that can be asked at places. It is made once and asked as often as wanted, from several threads too.
///
/// ```
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::surface::{FacetIndex, HeightAt, Surface, Tin, Vertex};
/// use dapedon_core::units::LengthUnit;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, 1.0), (4.0, 0.0, 3.0), (0.0, 4.0, 1.0)].map(|(e, n, h)| Vertex::new(e, n, h));
/// let roof = Surface::Tin(Tin::from_facets(frame, corners.to_vec(), vec![[0, 1, 2]]).unwrap());
/// let index = FacetIndex::of(&roof);
/// assert_eq!(index.at(Place::new(1.0, 2.0)), HeightAt::One { height: 1.5, facet: 0 });
/// assert_eq!(index.at(Place::new(3.0, 2.0)), HeightAt::None);
/// ```
#[derive(Debug)]
pub struct FacetIndex<'s> {
    surface: &'s Surface,
    /// Of a surface of facets; a grid is asked by its own cells.
    facets: Option<FacetsByCell>,
}

/// What a surface is at a place.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum HeightAt {
    /// The surface does not reach there.
    None,
    /// One height.
    One {
        /// The height.
        height: f64,
        /// The first of the facets that hold the place.
        facet: u32,
    },
    /// The surface steps there, or lies over itself.
    Several {
        /// The lowest height.
        low: f64,
        /// The highest height.
        high: f64,
    },
}

impl<'s> FacetIndex<'s> {
    /// Sorts the facets of a surface by where they lie.
    pub fn of(surface: &'s Surface) -> Self {
        let facets = match surface {
            Surface::Tin(tin) => Some(FacetsByCell::of(tin)),
            Surface::Grid(_) | Surface::Level(_) => None,
        };
        FacetIndex { surface, facets }
    }

    /// The surface.
    pub(crate) fn surface(&self) -> &'s Surface {
        self.surface
    }

    /// The height at a place in the coordinates of the surface's frame. A place on an edge or a corner is on the surface; which facet
    /// holds a place is decided exactly.
    pub fn at(&self, place: Place) -> HeightAt {
        let mut found = Found::default();
        match self.surface {
            Surface::Level(level) => found.add(0, level.height()),
            Surface::Grid(grid) => {
                let cells = grid.cells_in(&Extent::of([place]));
                for (facet, corners) in grid.facets_of(cells) {
                    found.take(facet, corners, place);
                }
            }
            Surface::Tin(tin) => {
                let near = self
                    .facets
                    .as_ref()
                    .map_or(&[][..], |facets| facets.near(place));
                for &facet in near {
                    found.take(facet, tin.corners(facet as usize), place);
                }
            }
        }
        found.height(self.surface.frame().precision().worked_out())
    }
}

/// Heights on the way.
#[derive(Clone, Copy, Default)]
pub(super) struct Found(Option<(u32, [f64; 2])>);

impl Found {
    /// Takes the height of a facet, if it holds the place.
    fn take(&mut self, facet: u32, corners: [Vertex; 3], place: Place) {
        if let Some(height) = Self::height_on(corners, place) {
            self.add(facet, height);
        }
    }

    /// The height of a facet at a place that it holds.
    pub(super) fn height_on(corners: [Vertex; 3], place: Place) -> Option<f64> {
        let [a, b, c] = corners.map(|corner| corner.place());
        let holds = [(a, b), (b, c), (c, a)]
            .iter()
            .all(|&(from, to)| side(from, to, place) >= 0.0);
        holds.then(|| {
            let [a, b, c] = corners;
            // At a corner the height is its own, to the last bit.
            let own = corners.iter().find(|corner| corner.place() == place);
            own.map_or_else(|| Plane::through(a, b, c).at(place), |corner| corner.height)
        })
    }

    pub(super) fn add(&mut self, facet: u32, height: f64) {
        let (_, [low, high]) = self.0.get_or_insert((facet, [height; 2]));
        (*low, *high) = (low.min(height), high.max(height));
    }

    pub(super) fn height(self, same: f64) -> HeightAt {
        match self.0 {
            None => HeightAt::None,
            Some((facet, [low, high])) if high - low <= same => {
                HeightAt::One { height: low, facet }
            }
            Some((_, [low, high])) => HeightAt::Several { low, high },
        }
    }
}

/// Cells that a facet may reach into, on the whole.
const ENTRIES: usize = 12;

/// Facets by the cells of the plan that they reach into.
#[derive(Debug)]
struct FacetsByCell {
    extent: Extent,
    cells: Cells,
    facets: Groups<u32>,
}

impl FacetsByCell {
    fn of(tin: &Tin) -> Self {
        let extent = tin.extent();
        let triangles = || {
            (0u32..).zip(tin.facets()).map(|(facet, corners)| {
                let places = corners.map(|corner| tin.vertices()[corner as usize].place());
                (facet, places)
            })
        };
        // Slivers reach into many cells: then these are made larger, until facets stand in few of them each.
        let facets = tin.facets().len();
        let mut wanted = facets as f64;
        let cells = loop {
            let cells = Cells::over(&extent, wanted);
            let mut entries = 0;
            for (_, triangle) in triangles() {
                cells.reached(triangle, |_| entries += 1);
                if entries > ENTRIES * facets {
                    break;
                }
            }
            if entries <= ENTRIES * facets || wanted <= 1.0 {
                break cells;
            }
            wanted = (wanted / 4.0).max(1.0);
        };
        let facets = Groups::of(cells.count(), |put| {
            for (facet, triangle) in triangles() {
                cells.reached(triangle, |cell| put(cell, facet));
            }
        });
        FacetsByCell {
            extent,
            cells,
            facets,
        }
    }

    /// The facets that may hold a place, ascending.
    fn near(&self, place: Place) -> &[u32] {
        let here = Extent::of([place]);
        if !self.extent.meets(&here) {
            return &[];
        }
        self.facets.get(self.cells.of(place))
    }
}
