//! A surface put together from the facets of others: whole where they may stay so, cut where they must.

use rayon::prelude::*;
use rustc_hash::{FxHashMap, FxHashSet};

use crate::derived::Treatment;
use crate::derived::stitch::{Corner, stitch, triangles};
use crate::plan::places::Places;
use crate::plan::{Extent, Frame, Place, Polygon};
use crate::surface::Plane;
use crate::surface::neighbours::bits;
use crate::surface::outline::unshared;
use crate::surface::{Grid, Outline, Surface, Tin, TinError, Vertex};

/// Convex parts of a surface's facets that do not overlap, each with what becomes of it.
#[derive(Debug, Default)]
pub(crate) struct Shards {
    /// Many, so that joining two of these moves nothing.
    chunks: Vec<Chunk>,
}

#[derive(Debug, Default)]
struct Chunk {
    corners: Vec<Place>,
    shards: Vec<Shard>,
}

#[derive(Debug, Clone, Copy)]
struct Shard {
    facet: u32,
    label: u32,
    /// Where its corners end.
    end: usize,
}

impl Shards {
    /// Takes a part of a facet; its treatment follows later by its label.
    pub(crate) fn push(&mut self, facet: u32, label: u32, part: &Polygon) {
        if self.chunks.is_empty() {
            self.chunks.push(Chunk::default());
        }
        let last = self.chunks.len() - 1;
        let Chunk { corners, shards } = &mut self.chunks[last];
        corners.extend_from_slice(part.corners());
        let end = corners.len();
        shards.push(Shard { facet, label, end });
    }

    /// Notes that a part of a facet is skipped, under a label of its own.
    pub(crate) fn leave_out(&mut self, facet: u32, label: u32) {
        self.push(facet, label, &Polygon::default());
    }

    pub(crate) fn append(&mut self, mut next: Shards) {
        self.chunks.append(&mut next.chunks);
    }

    fn iter(&self) -> impl Iterator<Item = (Shard, &[Place])> {
        self.chunks.iter().flat_map(|Chunk { corners, shards }| {
            let starts = std::iter::once(0).chain(shards.iter().map(|shard| shard.end));
            let parts = shards.iter().zip(starts);
            parts.map(move |(&shard, start)| (shard, &corners[start..shard.end]))
        })
    }
}

/// The parts of one surface, and what becomes of each label. Every part of a facet has a label, or none has.
pub(crate) struct Source<'s> {
    pub(crate) surface: &'s Surface,
    pub(crate) shards: Shards,
    pub(crate) treatments: Vec<Treatment>,
    /// The label of facets of which no part has one.
    pub(crate) untouched: u32,
    /// Where the surface ends, where it is put together with another one.
    pub(crate) rim: Option<&'s OpenEdges>,
}

/// Where a surface ends: edges of a triangulation by their vertices; a grid knows for itself.
#[derive(Debug, Default)]
pub(crate) struct OpenEdges(Vec<[u32; 2]>);

impl OpenEdges {
    pub(crate) fn of(surface: &Surface) -> Self {
        match surface {
            Surface::Tin(tin) => OpenEdges(unshared(tin)),
            Surface::Grid(_) | Surface::Level(_) => OpenEdges::default(),
        }
    }

    /// The same as edges in plan; none where the surface does not end.
    pub(crate) fn outline(&self, surface: &Surface) -> Outline {
        match surface {
            Surface::Tin(tin) => Outline::along(tin, &self.0),
            other => Outline::of(other),
        }
    }
}

/// Puts parts of surfaces together.
///
/// A facet of which every part is treated alike stays one. Parts of the others are made to meet corner to corner,
/// with each other and with the facets next to them; where neighbours have different heights the step between
/// them is vertical.
///
/// # Errors
///
/// When nothing is left.
pub(crate) fn assemble(frame: Frame, sources: &[Source<'_>]) -> Result<Tin, TinError> {
    let mut built = Built::new(frame);
    let mut polygons = Vec::new();
    let known: Vec<(Kept, Vec<bool>)> = (sources.par_iter())
        .map(|source| {
            let kept = Kept::of(source);
            let seams = source.seams(&kept);
            (kept, seams)
        })
        .collect();
    for (source, (kept, seams)) in sources.iter().zip(known) {
        built.whole(source, &kept, &seams, &mut polygons);
        source.cut(&kept, &mut polygons);
    }
    built.pieces(polygons);
    built.finish()
}

/// Puts convex pieces together, given with heights at their corners, in local coordinates.
///
/// # Errors
///
/// When no piece has an area.
pub(crate) fn collect(
    frame: Frame,
    pieces: impl IntoIterator<Item = Vec<Vertex>>,
) -> Result<Tin, TinError> {
    let mut built = Built::new(frame);
    built.pieces(pieces.into_iter().collect());
    built.finish()
}

/// What is known of the facets of a source once all parts are seen.
struct Kept {
    /// For each facet the treatment of all its parts; none where they differ.
    whole: Vec<Option<u32>>,
}

impl Kept {
    fn of(source: &Source<'_>) -> Self {
        #[derive(Clone, Copy, PartialEq)]
        enum Seen {
            Nothing,
            One(u32),
            Several,
        }
        // Treatments that are the same under several labels are one.
        let same = |label: u32| {
            let treatment = source.treatments[label as usize];
            let first = source
                .treatments
                .iter()
                .position(|other| *other == treatment);
            first.map_or(label, |first| first as u32)
        };
        let canonical: Vec<u32> = (0..source.treatments.len() as u32).map(same).collect();
        let slots = source.surface.slots();
        let mut seen = vec![Seen::Nothing; slots];
        for (shard, _) in source.shards.iter() {
            let Some(seen) = seen.get_mut(shard.facet as usize) else {
                continue;
            };
            let label = canonical[shard.label as usize];
            *seen = match *seen {
                Seen::Nothing => Seen::One(label),
                Seen::One(one) if one == label => Seen::One(one),
                _ => Seen::Several,
            };
        }
        let untouched = canonical[source.untouched as usize];
        let whole = seen.into_iter().map(|seen| match seen {
            Seen::One(label) => Some(label),
            Seen::Nothing => Some(untouched),
            Seen::Several => None,
        });
        Kept {
            whole: whole.collect(),
        }
    }
}

impl Source<'_> {
    fn vertex_count(&self) -> usize {
        match self.surface {
            Surface::Tin(tin) => tin.vertices().len(),
            Surface::Grid(grid) => grid.heights().len(),
            Surface::Level(_) => 0,
        }
    }

    /// The vertices of a facet, where it is there.
    fn corners(&self, facet: usize) -> Option<[usize; 3]> {
        match self.surface {
            Surface::Tin(tin) => Some(tin.facets()[facet].map(|vertex| vertex as usize)),
            Surface::Grid(grid) => grid.nodes(facet),
            Surface::Level(_) => None,
        }
    }

    fn vertex(&self, vertex: usize) -> Vertex {
        match self.surface {
            Surface::Tin(tin) => tin.vertices()[vertex],
            Surface::Grid(grid) => grid.vertex(vertex),
            Surface::Level(level) => Vertex::new(0.0, 0.0, level.height()),
        }
    }

    /// The vertices at which facets that stay whole may meet such as are cut: those of cut facets and, where
    /// several surfaces come together, those along the outline.
    fn seams(&self, kept: &Kept) -> Vec<bool> {
        let mut seams = vec![false; self.vertex_count()];
        for (shard, _) in self.shards.iter() {
            let facet = shard.facet as usize;
            if let Some(None) = kept.whole.get(facet)
                && let Some(corners) = self.corners(facet)
            {
                corners.into_iter().for_each(|vertex| seams[vertex] = true);
            }
        }
        if let Some(OpenEdges(rim)) = self.rim {
            rim.iter()
                .flatten()
                .for_each(|&vertex| seams[vertex as usize] = true);
            if let Surface::Grid(grid) = self.surface {
                border(grid, &mut seams);
            }
        }
        if let Surface::Tin(tin) = self.surface {
            across_steps(tin, &mut seams);
        }
        seams
    }

    /// Hands on the parts of facets that do not stay whole.
    fn cut(&self, kept: &Kept, polygons: &mut Vec<Vec<Vertex>>) {
        for (shard, corners) in self.shards.iter() {
            let facet = shard.facet as usize;
            let treatment = self.treatments[shard.label as usize];
            if treatment == Treatment::Drop || matches!(kept.whole.get(facet), Some(Some(_))) {
                continue;
            }
            let nodes = (self.surface.slots() > 0)
                .then(|| self.corners(facet))
                .flatten();
            let own = nodes.map(|nodes| nodes.map(|node| self.vertex(node)));
            let plane = match own {
                Some([a, b, c]) => Plane::through(a, b, c),
                None => Plane::level(self.surface.heights().0),
            };
            let height = |at: Place| {
                let same = own.iter().flatten().find(|vertex| vertex.place() == at);
                same.map_or_else(|| plane.at(at), |vertex| vertex.height)
            };
            let lifted = corners
                .iter()
                .map(|&at| Vertex::new(at.east, at.north, treatment.of(height(at))));
            polygons.push(lifted.collect());
        }
    }
}

/// Marks the vertices that stand where marked ones do: a facet on the other lip of a vertical step, however low, has
/// vertices of its own there.
fn across_steps(tin: &Tin, seams: &mut [bool]) {
    let vertices = tin.vertices();
    let marked = vertices.iter().zip(&*seams).filter(|(_, seam)| **seam);
    let marked = marked.map(|(vertex, _)| vertex.place());
    let extent = Extent::of(marked.clone());
    let places: FxHashSet<[u64; 2]> = marked.map(bits).collect();
    for (vertex, seam) in vertices.iter().zip(seams) {
        let place = vertex.place();
        *seam = *seam || extent.holds(&Extent::of([place])) && places.contains(&bits(place));
    }
}

/// Marks the nodes along the outline of a grid: those of which a cell around them is not whole.
fn border(grid: &Grid, seams: &mut [bool]) {
    let [columns, rows] = grid.size();
    let there = |facet: usize| grid.nodes(facet).is_some();
    for row in 0..rows {
        for column in 0..columns {
            let cell = |column: usize, row: usize| {
                let first = grid.first_facet([column, row]) as usize;
                there(first) && there(first + 1)
            };
            let inner = column > 0 && row > 0 && column + 1 < columns && row + 1 < rows;
            let whole = inner
                && cell(column - 1, row - 1)
                && cell(column, row - 1)
                && cell(column - 1, row)
                && cell(column, row);
            seams[row * columns + column] |= !whole;
        }
    }
}

/// A surface as it grows.
struct Built {
    frame: Frame,
    vertices: Vec<Vertex>,
    facets: Vec<[u32; 3]>,
    places: Places,
    /// The vertices at numbered places.
    at: FxHashMap<u32, Vec<u32>>,
}

impl Built {
    fn new(frame: Frame) -> Self {
        Built {
            frame,
            vertices: Vec::new(),
            facets: Vec::new(),
            places: Places::within(frame.precision().length()),
            at: FxHashMap::default(),
        }
    }

    fn finish(self) -> Result<Tin, TinError> {
        Tin::of_local(self.frame, self.vertices, self.facets)
    }

    /// Takes the facets that stay whole; those along a seam are passed on, to be stitched.
    fn whole(
        &mut self,
        source: &Source<'_>,
        kept: &Kept,
        seams: &[bool],
        polygons: &mut Vec<Vec<Vertex>>,
    ) {
        let mut by_treatment: Vec<Vec<usize>> = vec![Vec::new(); source.treatments.len()];
        for (facet, label) in kept.whole.iter().enumerate() {
            if let Some(label) = label {
                by_treatment[*label as usize].push(facet);
            }
        }
        // The number of each vertex under the treatment that is at hand.
        let mut numbers = vec![(u32::MAX, 0u32); source.vertex_count()];
        for (label, facets) in by_treatment.into_iter().enumerate() {
            let treatment = source.treatments[label];
            if treatment == Treatment::Drop {
                continue;
            }
            for corners in facets.into_iter().filter_map(|facet| source.corners(facet)) {
                let lifted = corners.map(|vertex| {
                    let Vertex {
                        east,
                        north,
                        height,
                    } = source.vertex(vertex);
                    Vertex::new(east, north, treatment.of(height))
                });
                if corners.iter().filter(|&&vertex| seams[vertex]).count() > 1 {
                    polygons.push(lifted.to_vec());
                    continue;
                }
                let number = |corner: usize| {
                    let (vertex, lifted) = (corners[corner], lifted[corner]);
                    if numbers[vertex].0 != label as u32 {
                        let index = match seams[vertex] {
                            true => {
                                let place = self.places.number(lifted.place());
                                self.vertex(Corner {
                                    place,
                                    height: lifted.height,
                                })
                            }
                            false => self.push(lifted),
                        };
                        numbers[vertex] = (label as u32, index);
                    }
                    numbers[vertex].1
                };
                let facet = [0, 1, 2].map(number);
                self.facets.push(facet);
            }
        }
    }

    fn push(&mut self, vertex: Vertex) -> u32 {
        self.vertices.push(vertex);
        self.vertices.len() as u32 - 1
    }

    /// The vertex at a place and height: those less than coordinates resolve apart are one.
    fn vertex(&mut self, corner: Corner) -> u32 {
        let known = self.at.entry(corner.place).or_default();
        let near = self.places.resolution();
        let same =
            |&&vertex: &&u32| (self.vertices[vertex as usize].height - corner.height).abs() <= near;
        if let Some(&vertex) = known.iter().find(same) {
            return vertex;
        }
        let at = self.places.at(corner.place);
        let index = self.vertices.len() as u32;
        known.push(index);
        self.vertices
            .push(Vertex::new(at.east, at.north, corner.height));
        index
    }

    fn pieces(&mut self, polygons: Vec<Vec<Vertex>>) {
        let stitched = stitch(polygons.into_iter(), &mut self.places);
        for polygon in &stitched {
            for triangle in triangles(polygon, &self.places) {
                let facet = triangle.map(|corner| self.vertex(corner));
                self.facets.push(facet);
            }
        }
    }
}
