//! By how much volumes grow with each point of a surface: the ground of the facets around it.

use std::collections::HashMap;

use super::weights::Entry;
use crate::plan::Place;
use crate::surface::{Plane, Surface, Vertex};

/// The corners of a facet, with the numbers of its points; none of a level, which is one point.
pub(super) fn corners(surface: &Surface, facet: u32) -> Option<[(usize, Vertex); 3]> {
    match surface {
        Surface::Tin(tin) => {
            let points = tin
                .facets()
                .get(facet as usize)?
                .map(|point| point as usize);
            let vertex = |point: usize| tin.vertices().get(point).map(|&vertex| (point, vertex));
            let [a, b, c] = points.map(vertex);
            Some([a?, b?, c?])
        }
        Surface::Grid(grid) => {
            let nodes = grid.nodes(facet as usize)?;
            Some(nodes.map(|node| (node, grid.vertex(node))))
        }
        Surface::Level(_) => None,
    }
}

/// Where a point of a surface is.
pub(super) fn place(surface: &Surface, number: u32) -> Place {
    let number = number as usize;
    let vertex = match surface {
        Surface::Tin(tin) => tin.vertices().get(number).copied().unwrap_or_default(),
        Surface::Grid(grid) => grid.vertex(number),
        Surface::Level(_) => Vertex::default(),
    };
    vertex.place()
}

/// By how much cut and fill grow with one point: with its height, and with its place in east and in north.
#[derive(Debug, Clone, Copy, Default)]
struct PointSums([[f64; 3]; 2]);

/// Which of the points at hand each point of a surface is.
enum Index {
    /// Of all points; more than there are where it is none of them.
    Dense(Vec<u32>),
    /// Of the few that are at hand.
    Few(HashMap<usize, u32>),
}

/// The points that count in some zones.
pub(super) struct Summed<'s> {
    surface: &'s Surface,
    numbers: Vec<u32>,
    points: Vec<PointSums>,
    /// The sums over all points.
    all: PointSums,
}

/// What counts: cut, fill, and both.
pub(super) const CUT_FILL_NET: [[f64; 2]; 3] = [[1.0, 0.0], [0.0, 1.0], [1.0, 1.0]];

impl PointSums {
    #[inline]
    fn add(&mut self, kind: usize, gain: [f64; 3]) {
        if let Some(own) = self.0.get_mut(kind) {
            own.iter_mut()
                .zip(gain)
                .for_each(|(sum, more)| *sum += more);
        }
    }

    fn of(&self, [cut, fill]: [f64; 2]) -> [f64; 3] {
        let [of_cut, of_fill] = self.0;
        [0, 1, 2].map(|axis| cut * of_cut[axis] + fill * of_fill[axis])
    }
}

impl Summed<'_> {
    /// The points that count, by their numbers.
    pub(super) fn numbered(&self, counts: [f64; 2]) -> impl Iterator<Item = (u32, [f64; 3])> {
        self.numbers.iter().copied().zip(self.points(counts))
    }

    /// Of each point that counts: with its height, and with its place.
    pub(super) fn points(&self, counts: [f64; 2]) -> impl Iterator<Item = [f64; 3]> + Clone {
        self.points.iter().map(move |point| point.of(counts))
    }

    /// Where the same points are.
    pub(super) fn places(&self) -> impl Iterator<Item = Place> + Clone {
        self.numbers
            .iter()
            .map(|&number| place(self.surface, number))
    }

    /// Of all points alike.
    pub(super) fn all(&self, counts: [f64; 2]) -> [f64; 3] {
        self.all.of(counts)
    }
}

impl Index {
    /// For so many facets of a surface.
    fn of(surface: &Surface, facets: usize) -> Self {
        let count = match surface {
            Surface::Tin(tin) => tin.vertices().len(),
            Surface::Grid(grid) => grid.heights().len(),
            Surface::Level(_) => 1,
        };
        match facets < count / 16 {
            true => Index::Few(HashMap::new()),
            false => Index::Dense(vec![u32::MAX; count]),
        }
    }

    /// That of a point, which is the next one if it is new.
    #[inline]
    fn find(&mut self, point: usize, next: usize) -> usize {
        let known = match self {
            Index::Dense(all) => match all.get_mut(point) {
                Some(known) => known,
                None => return next,
            },
            Index::Few(few) => few.entry(point).or_insert(u32::MAX),
        };
        if *known == u32::MAX {
            *known = next as u32;
        }
        *known as usize
    }
}

impl<'s> Summed<'s> {
    /// Sums over the facets around each point.
    pub(super) fn over(surface: &'s Surface, entries: &[&[Entry]]) -> Self {
        let mut summed = Summed {
            surface,
            numbers: Vec::new(),
            points: Vec::new(),
            all: PointSums::default(),
        };
        let facets = entries.iter().map(|entries| entries.len()).sum();
        let mut index = Index::of(surface, facets);
        for entry in entries.iter().copied().flatten() {
            let Some(corners) = corners(surface, entry.facet) else {
                // A level has one height, and lies everywhere.
                summed.gain(
                    &mut index,
                    0,
                    entry.kind(),
                    [entry.moments.area(), 0.0, 0.0],
                );
                continue;
            };
            let [a, b, c] = corners.map(|(_, vertex)| vertex);
            let plane = Plane::through(a, b, c);
            let places = [a, b, c].map(|vertex| vertex.place());
            let weights = entry.moments.at_corners(places);
            for ((number, _), weight) in corners.into_iter().zip(weights) {
                let slopes = [plane.slope_east, plane.slope_north];
                let gain = [weight, weight * slopes[0], weight * slopes[1]];
                summed.gain(&mut index, number, entry.kind(), gain);
            }
        }
        summed
    }

    #[inline]
    fn gain(&mut self, index: &mut Index, number: usize, kind: usize, gain: [f64; 3]) {
        let at = index.find(number, self.points.len());
        if at == self.points.len() {
            self.points.push(PointSums::default());
            self.numbers.push(number as u32);
        }
        if let Some(point) = self.points.get_mut(at) {
            point.add(kind, gain);
            self.all.add(kind, gain);
        }
    }
}
