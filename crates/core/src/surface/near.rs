//! The part of a surface about an extent, so that little of a large one is looked at.

use crate::plan::Extent;
use crate::surface::{Surface, Tin, Vertex};

impl Surface {
    /// The surface with no more of it than is needed where an extent is: every facet that meets it, uncut. Grids and
    /// levels, of which any part is found at once, stay as they are.
    ///
    /// ```
    /// use dapedon_core::plan::{Extent, Frame, Place};
    /// use dapedon_core::surface::{Surface, Tin, Vertex};
    /// use dapedon_core::units::{LengthUnit};
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// // Two squares side by side.
    /// let corners = [(0.0, 0.0), (4.0, 0.0), (4.0, 4.0), (0.0, 4.0), (8.0, 0.0), (8.0, 4.0)];
    /// let corners = corners.map(|(e, n)| Vertex::new(e, n, 1.0)).to_vec();
    /// let facets = vec![[0, 1, 2], [0, 2, 3], [1, 4, 5], [1, 5, 2]];
    /// let ground = Surface::Tin(Tin::from_facets(frame, corners, facets).unwrap());
    /// let west = Extent::of([Place::new(1.0, 1.0), Place::new(2.0, 2.0)]);
    /// assert_eq!(ground.near(&west).facets(), 2);
    /// // Where nothing is near it stays what it is.
    /// assert_eq!(ground.near(&Extent::of([Place::new(9.0, 9.0)])).facets(), 4);
    /// ```
    pub fn near(&self, extent: &Extent) -> Surface {
        let Surface::Tin(tin) = self else {
            return self.clone();
        };
        let mut numbers = vec![u32::MAX; tin.vertices().len()];
        let (mut vertices, mut facets): (Vec<Vertex>, Vec<[u32; 3]>) = Default::default();
        for facet in tin.facets() {
            let corners = facet.map(|vertex| tin.vertices()[vertex as usize]);
            if !Extent::of(corners.map(Vertex::place)).meets(extent) {
                continue;
            }
            facets.push(facet.map(|vertex| {
                let number = &mut numbers[vertex as usize];
                if *number == u32::MAX {
                    *number = vertices.len() as u32;
                    vertices.push(tin.vertices()[vertex as usize]);
                }
                *number
            }));
        }
        let near = Tin::of_local(tin.frame(), vertices, facets);
        near.map_or_else(|_| self.clone(), Surface::Tin)
    }
}

impl Tin {
    /// Surfaces of one frame that do not overlap, as one; none where there are none.
    pub fn side_by_side<'t>(tins: impl IntoIterator<Item = &'t Tin>) -> Option<Tin> {
        let mut tins = tins.into_iter();
        let first = tins.next()?;
        let (mut vertices, mut facets) = (first.vertices().to_vec(), first.facets().to_vec());
        for tin in tins {
            let from = vertices.len() as u32;
            vertices.extend(tin.vertices());
            facets.extend(
                tin.facets()
                    .iter()
                    .map(|facet| facet.map(|vertex| from + vertex)),
            );
        }
        Tin::of_local(first.frame(), vertices, facets).ok()
    }
}
