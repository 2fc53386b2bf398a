//! Which zones a facet lies in, and the parts of it that do.

use super::lookup::Lookup;
use crate::plan::Edge;
use crate::plan::clip::{Polygon, Room};
use crate::plan::{Extent, Place};
use crate::zones::{Zone, Zones};

/// A convex part of a facet, and the zones it lies in.
pub(super) struct Part {
    pub(super) polygon: Polygon,
    zones: [usize; 2],
}

/// The parts of one facet.
#[derive(Default)]
pub(super) struct Parts {
    parts: Vec<Part>,
    zones: Vec<u32>,
    seen: Vec<(u32, u32)>,
    /// For each zone where it stands in those that are seen, from one; zero where it is not.
    places: Vec<u32>,
    near: Vec<u32>,
    room: Room,
}

impl Parts {
    pub(super) fn iter(&self) -> impl Iterator<Item = (&Polygon, &[u32])> {
        let zones = |part: &Part| &self.zones[part.zones[0]..part.zones[1]];
        self.parts
            .iter()
            .map(move |part| (&part.polygon, zones(part)))
    }

    fn push(&mut self, polygon: Polygon, zones: impl IntoIterator<Item = u32>) {
        let start = self.zones.len();
        self.zones.extend(zones);
        let zones = [start, self.zones.len()];
        self.parts.push(Part { polygon, zones });
    }
}

/// The zones with a coarse grid that knows where no outline passes, so that only the facets near
/// an outline are cut.
#[derive(Debug)]
pub(super) struct Limits<'z> {
    zones: &'z [Zone],
    /// For zones of many triangles, which of them reach where.
    lookups: Vec<Option<Lookup<'z>>>,
    extent: Extent,
    columns: usize,
    rows: usize,
    /// For each cell the zones that reach into it: those it lies inside, and those whose outline
    /// passes.
    cells: Vec<Vec<(u32, Reach)>>,
}

/// Zones that all cells together name, about, at most.
const MOST_NAMED: f64 = 4e6;

#[derive(Debug, Clone, Copy, PartialEq)]
enum Reach {
    Inside,
    Outline,
}

impl<'z> Limits<'z> {
    pub(super) fn new(zones: &'z Zones) -> Self {
        let extent = zones.extent();
        let zones = zones.zones();
        let edges: usize = zones.iter().map(|zone| zone.edges().len()).sum();
        // Where zones lie over each other every cell names as many: then cells are fewer.
        let area: f64 = zones.iter().map(Zone::area).sum();
        let over = (area / (extent.width() * extent.height())).max(1.0);
        let most = (MOST_NAMED / over).max(256.0);
        let wanted = ((16 * edges).clamp(4096, 1 << 20) as f64).min(most);
        let columns = (wanted * extent.width() / extent.height())
            .sqrt()
            .clamp(1.0, wanted);
        let rows = (wanted / columns).ceil() as usize;
        let columns = columns.ceil() as usize;
        let mut limits = Limits {
            zones,
            lookups: zones
                .iter()
                .map(|zone| Lookup::of(zone.triangles()))
                .collect(),
            extent,
            columns,
            rows,
            cells: vec![Vec::new(); columns * rows],
        };
        for (index, zone) in zones.iter().enumerate() {
            limits.enter(index as u32, zone);
        }
        limits
    }

    fn cell_of(&self, place: Place) -> [f64; 2] {
        [
            (place.east - self.extent.min.east) / self.extent.width() * self.columns as f64,
            (place.north - self.extent.min.north) / self.extent.height() * self.rows as f64,
        ]
    }

    fn enter(&mut self, index: u32, zone: &Zone) {
        // Wider than any rounding here, narrower than would matter.
        const SLACK: f64 = 1e-6;
        let last = [self.columns - 1, self.rows - 1];
        let clamp = |value: f64, axis: usize| (value.max(0.0) as usize).min(last[axis]);
        // Rows that it reaches into, and no others: there may be many zones.
        let reach = zone.extent();
        let (south, north) = (self.cell_of(reach.min)[1], self.cell_of(reach.max)[1]);
        let (lowest, highest) = (clamp(south - SLACK, 1), clamp(north + SLACK, 1));
        let mut crossings: Vec<Vec<f64>> = vec![Vec::new(); highest - lowest + 1];

        for &Edge { from, to } in zone.edges() {
            let (a, b) = (self.cell_of(from), self.cell_of(to));
            let (low, high) = if a[1] <= b[1] { (a, b) } else { (b, a) };
            let east_at = |north: f64| {
                let share = (north - low[1]) / (high[1] - low[1]);
                if share.is_finite() {
                    low[0] + share.clamp(0.0, 1.0) * (high[0] - low[0])
                } else {
                    low[0]
                }
            };
            let (first, last) = (clamp(low[1] - SLACK, 1), clamp(high[1] + SLACK, 1));
            for row in first..=last {
                let Some(crossings) = crossings.get_mut(row.saturating_sub(lowest)) else {
                    continue;
                };
                let (south, north) = (row as f64 - SLACK, row as f64 + 1.0 + SLACK);
                let (mut west, mut east) = (east_at(south), east_at(north));
                if high[1] - low[1] < SLACK {
                    (west, east) = (low[0], high[0]);
                }
                let (west, east) = (west.min(east), west.max(east));
                for column in clamp(west - SLACK, 0)..=clamp(east + SLACK, 0) {
                    let cell = &mut self.cells[row * self.columns + column];
                    if cell.last() != Some(&(index, Reach::Outline)) {
                        cell.push((index, Reach::Outline));
                    }
                }
                let middle = row as f64 + 0.5;
                if (a[1] <= middle) != (b[1] <= middle) {
                    crossings.push(east_at(middle));
                }
            }
        }

        for (row, crossings) in (lowest..).zip(&mut crossings) {
            crossings.sort_by(f64::total_cmp);
            for pair in crossings.chunks_exact(2) {
                for column in clamp(pair[0], 0)..=clamp(pair[1], 0) {
                    let middle = column as f64 + 0.5;
                    let cell = &mut self.cells[row * self.columns + column];
                    let outline = cell.last().is_some_and(|&(zone, _)| zone == index);
                    if !outline && pair[0] < middle && middle < pair[1] {
                        cell.push((index, Reach::Inside));
                    }
                }
            }
        }
    }

    /// The parts of a facet that lie in zones; all the zones' triangles for a facet without end.
    pub(super) fn cut(&self, corners: Option<[Place; 3]>, extent: &Extent, parts: &mut Parts) {
        parts.parts.clear();
        parts.zones.clear();
        let Some(corners) = corners else {
            for (index, zone) in self.zones.iter().enumerate() {
                for &triangle in zone.triangles() {
                    parts.push(Polygon::triangle(triangle), [index as u32]);
                }
            }
            return;
        };
        let shared = extent.intersection(&self.extent);
        if shared.is_empty() {
            return;
        }
        let whole = Polygon::triangle(corners);
        let cells = self.survey(&shared, &mut parts.seen, &mut parts.places);
        let mut seen = std::mem::take(&mut parts.seen);
        let mut room = parts.room;
        let mut near = std::mem::take(&mut parts.near);
        if self.extent.holds(extent) {
            let inside = seen
                .iter()
                .filter(|&&(_, count)| count == cells)
                .map(|&(zone, _)| zone);
            parts.push(whole, inside);
            if parts.zones.is_empty() {
                parts.parts.clear();
            }
            seen.retain(|&(_, count)| count != cells);
        }
        for &(index, _) in &seen {
            let zone = &self.zones[index as usize];
            if !zone.extent().meets(extent) {
                continue;
            }
            let mut cut = |triangle: &[Place; 3]| {
                let near = Extent::of(*triangle).meets(extent);
                if near && let Some(&part) = whole.within(triangle, &mut room) {
                    parts.push(part, [index]);
                }
            };
            match &self.lookups[index as usize] {
                Some(lookup) => {
                    lookup.find(extent, &mut near);
                    near.iter()
                        .for_each(|&triangle| cut(&zone.triangles()[triangle as usize]));
                }
                None => zone.triangles().iter().for_each(cut),
            }
        }
        parts.seen = seen;
        parts.near = near;
    }

    /// The zones met in the cells that `extent` reaches, each with the number of cells that lie
    /// inside it (none once its outline was met); and how many cells there are.
    fn survey(&self, extent: &Extent, seen: &mut Vec<(u32, u32)>, places: &mut Vec<u32>) -> u32 {
        seen.clear();
        places.resize(self.zones.len(), 0);
        let (low, high) = (self.cell_of(extent.min), self.cell_of(extent.max));
        let clamp = |value: f64, count: usize| (value.max(0.0) as usize).min(count - 1);
        let (west, east) = (clamp(low[0], self.columns), clamp(high[0], self.columns));
        let (south, north) = (clamp(low[1], self.rows), clamp(high[1], self.rows));
        const OUTLINE: u32 = u32::MAX;
        for row in south..=north {
            for cell in &self.cells[row * self.columns + west..=row * self.columns + east] {
                for &(zone, reach) in cell {
                    let place = &mut places[zone as usize];
                    if *place == 0 {
                        seen.push((zone, 0));
                        *place = seen.len() as u32;
                    }
                    let at = *place as usize - 1;
                    match reach {
                        Reach::Outline => seen[at].1 = OUTLINE,
                        Reach::Inside if seen[at].1 != OUTLINE => seen[at].1 += 1,
                        Reach::Inside => {}
                    }
                }
            }
        }
        for &(zone, _) in seen.iter() {
            places[zone as usize] = 0;
        }
        ((north - south + 1) * (east - west + 1)) as u32
    }
}
