//! Heights of a surface at many places, all asked together.
//!
//! Where [`FacetIndex`](crate::surface::FacetIndex) sorts the facets and is asked place by place, here the places are sorted by cells and
//! each facet looks for those that it holds: there is nothing to be built for the facets, and both are passed once.

use rayon::prelude::*;

use crate::plan::cells::Cells;
use crate::plan::groups::Groups;
use crate::plan::{Extent, Place};
use crate::surface::facet_index::{FacetIndex, Found, HeightAt};
use crate::surface::{Surface, Tin};

/// Facets that are looked through by one thread at a time.
const FACETS: usize = 1 << 14;
/// Places that are asked by one thread at a time.
const PLACES: usize = 1 << 12;

/// The heights of a surface at some places, in the coordinates of its frame: what [`FacetIndex::at`] says of each.
///
/// ```
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::surface::{HeightAt, Level, Surface, heights_at};
/// use dapedon_core::units::LengthUnit;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let level = Surface::Level(Level::new(frame, 2.5));
/// assert_eq!(heights_at(&level, &[Place::new(1.0, 2.0)]), [HeightAt::One { height: 2.5, facet: 0 }]);
/// ```
pub fn heights_at(surface: &Surface, places: &[Place]) -> Vec<HeightAt> {
    match surface {
        Surface::Tin(tin) => on_facets(tin, places),
        // Their own cells say which facets a place is on.
        Surface::Grid(_) | Surface::Level(_) => {
            let index = FacetIndex::of(surface);
            let chunks = places.par_chunks(PLACES);
            let asked = chunks.map(|places| places.iter().map(|&at| index.at(at)));
            asked.flat_map_iter(|heights| heights).collect()
        }
    }
}

fn on_facets(tin: &Tin, places: &[Place]) -> Vec<HeightAt> {
    let by_cell = PlacesByCell::of(places, &tin.extent());
    let facets = tin.facets();
    let hits: Vec<Vec<(u32, u32, f64)>> = (0..facets.len())
        .into_par_iter()
        .step_by(FACETS)
        .map(|from| {
            let mut hits = Vec::new();
            for facet in from..facets.len().min(from + FACETS) {
                let corners = tin.corners(facet);
                by_cell.near(corners.map(|corner| corner.place()), |number, place| {
                    if let Some(height) = Found::height_on(corners, place) {
                        hits.push((number, facet as u32, height));
                    }
                });
            }
            hits
        })
        .collect();
    let mut found = vec![Found::default(); places.len()];
    for (number, facet, height) in hits.into_iter().flatten() {
        found[number as usize].add(facet, height);
    }
    let same = tin.frame().precision().worked_out();
    found.iter().map(|found| found.height(same)).collect()
}

/// Numbered places by the cell of the plan that they lie in.
struct PlacesByCell {
    cells: Cells,
    places: Groups<(u32, Place)>,
}

impl PlacesByCell {
    fn of(places: &[Place], extent: &Extent) -> Self {
        let cells = Cells::over(extent, (places.len() as f64).max(1.0));
        let within = || {
            (0u32..)
                .zip(places)
                .filter(|(_, place)| extent.meets(&Extent::of([**place])))
        };
        let places = Groups::of(cells.count(), |put| {
            within().for_each(|(number, place)| put(cells.of(*place), (number, *place)));
        });
        PlacesByCell { cells, places }
    }

    /// Visits the places that a triangle may hold.
    fn near(&self, triangle: [Place; 3], mut visit: impl FnMut(u32, Place)) {
        self.cells.reached(triangle, |cell| {
            let places = self.places.get(cell).iter();
            places.for_each(|&(number, place)| visit(number, place));
        });
    }
}
