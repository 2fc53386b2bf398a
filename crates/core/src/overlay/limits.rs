//! Which zones a facet lies in, and the parts of it that do.

use super::lookup::Lookup;
use crate::plan::cells::Cells;
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
    cells: Cells,
    /// For each cell the zones that reach into it: those it lies inside, and those whose outline
    /// passes.
    reaching: Vec<Vec<(u32, Reach)>>,
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
        let cells = Cells::over(&extent, wanted);
        let mut limits = Limits {
            zones,
            lookups: zones
                .iter()
                .map(|zone| Lookup::of(zone.triangles()))
                .collect(),
            extent,
            cells,
            reaching: vec![Vec::new(); cells.count()],
        };
        for (index, zone) in zones.iter().enumerate() {
            limits.enter(index as u32, zone);
        }
        limits
    }

    fn enter(&mut self, index: u32, zone: &Zone) {
        // Rows that it reaches into, and no others: there may be many zones. Edges reach a little farther than their
        // ends.
        let [_, rows] = self.cells.under(&zone.extent());
        let first = rows.start().saturating_sub(1);
        let mut crossings: Vec<Vec<f64>> = vec![Vec::new(); rows.end() + 2 - first];
        for &edge in zone.edges() {
            for (row, columns) in self.cells.passed(edge) {
                for column in columns {
                    let reaching = &mut self.reaching[self.cells.number(column, row)];
                    if reaching.last() != Some(&(index, Reach::Outline)) {
                        reaching.push((index, Reach::Outline));
                    }
                }
            }
            for (row, at) in self.cells.crossed(edge) {
                crossings[row - first].push(at);
            }
        }
        for (row, crossings) in (first..).zip(&mut crossings) {
            crossings.sort_by(f64::total_cmp);
            for pair in crossings.chunks_exact(2) {
                for column in self.cells.middles(pair[0], pair[1]) {
                    let reaching = &mut self.reaching[self.cells.number(column, row)];
                    if reaching.last().is_none_or(|&(zone, _)| zone != index) {
                        reaching.push((index, Reach::Inside));
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
        let [columns, rows] = self.cells.under(extent);
        let count = columns.clone().count() * rows.clone().count();
        const OUTLINE: u32 = u32::MAX;
        for row in rows {
            let [west, east] =
                [columns.start(), columns.end()].map(|&column| self.cells.number(column, row));
            for cell in &self.reaching[west..=east] {
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
        count as u32
    }
}
