//! Areas from outlines alone: how often each place of the plan is covered.
//!
//! A place is covered as often as the outlines wind round it. The plan is split into rows, and each
//! row into slabs between the ends and crossings of the edges that pass it; within a slab the edges
//! lie in order, and between two of them nothing changes. What is visited are the trapezoids.
//! Derived in `docs/methods.md`, "Closure".

use rayon::prelude::*;

use crate::plan::cells::Rows;
use crate::plan::{Edge, Place};

/// What to do with places of equal covering.
pub(crate) trait Tally<const N: usize>: Send + Sized {
    /// An area, at a place in its middle, that layer `i` covers `times[i]` times.
    fn take(&mut self, times: [i32; N], area: f64, at: Place);

    /// Adds the tally of the next row.
    fn join(&mut self, next: Self);
}

/// An edge within one row, running east.
#[derive(Debug, Clone, Copy)]
struct Reach {
    west: Place,
    east: Place,
    layer: usize,
    /// What crossing it northwards adds to the covering.
    gain: i32,
}

impl Reach {
    fn north_at(&self, east: f64) -> f64 {
        let share = (east - self.west.east) / (self.east.east - self.west.east);
        self.west.north + share * (self.east.north - self.west.north)
    }
}

/// A change of the covering along the south border of a row.
#[derive(Debug, Clone, Copy)]
struct Change {
    east: f64,
    layer: usize,
    gain: i32,
}

/// Visits all places between two northings, by how often each layer covers them. `None` is a layer
/// that covers everything once; outside all edges nothing is visited.
pub(crate) fn sweep<const N: usize, T: Tally<N>>(
    layers: [Option<&[Edge]>; N],
    [south, north]: [f64; 2],
    tally: impl Fn() -> T + Sync,
) -> T {
    let passing = |edge: &Edge| {
        edge.from.north.max(edge.to.north) >= south && edge.from.north.min(edge.to.north) <= north
    };
    let edges: Vec<(usize, Edge)> = (layers.iter().enumerate())
        .flat_map(|(layer, edges)| {
            edges
                .iter()
                .flat_map(move |e| e.iter().map(move |e| (layer, *e)))
        })
        .filter(|(_, edge)| passing(edge))
        .collect();
    let endless = layers.map(|layer| i32::from(layer.is_none()));

    // About as many rows as edges side by side, so that a row sees few of them at a time.
    let count = ((edges.len() as f64).sqrt() / 2.0).ceil().max(1.0) as usize;
    let bound = |row: usize| {
        if row == count {
            north
        } else {
            south + (north - south) / count as f64 * row as f64
        }
    };
    let rows = Rows::new([south, north], count);
    let mut passing: Vec<Vec<u32>> = vec![Vec::new(); count];
    for (index, (_, edge)) in edges.iter().enumerate() {
        let (low, high) = rows.between(edge.from.north, edge.to.north).into_inner();
        for row in &mut passing[low.saturating_sub(1)..=(high + 1).min(count - 1)] {
            row.push(index as u32);
        }
    }

    let tallies: Vec<T> = (passing.par_iter().enumerate())
        .map(|(row, members)| {
            let mut tally = tally();
            let members = members.iter().map(|&index| edges[index as usize]);
            sweep_row(members, [bound(row), bound(row + 1)], endless, &mut tally);
            tally
        })
        .collect();
    let mut whole = tally();
    for next in tallies {
        whole.join(next);
    }
    whole
}

fn sweep_row<const N: usize, T: Tally<N>>(
    edges: impl Iterator<Item = (usize, Edge)>,
    [south, north]: [f64; 2],
    endless: [i32; N],
    tally: &mut T,
) {
    let mut reaches = Vec::new();
    let mut changes = Vec::new();
    for (layer, Edge { from, to }) in edges {
        if (from.north < south) != (to.north < south) {
            let east = crossing(from, to, south);
            let gain = if from.north < south { -1 } else { 1 };
            changes.push(Change { east, layer, gain });
        }
        let (low, high) = if from.north <= to.north {
            (from, to)
        } else {
            (to, from)
        };
        if high.north < south || low.north > north {
            continue;
        }
        let clip = |p: Place| match p.north {
            n if n < south => Place::new(crossing(from, to, south), south),
            n if n > north => Place::new(crossing(from, to, north), north),
            _ => p,
        };
        let (from, to) = (clip(from), clip(to));
        if from.east < to.east {
            reaches.push(Reach {
                west: from,
                east: to,
                layer,
                gain: 1,
            });
        } else if from.east > to.east {
            reaches.push(Reach {
                west: to,
                east: from,
                layer,
                gain: -1,
            });
        }
    }
    reaches.sort_unstable_by(|a, b| a.west.east.total_cmp(&b.west.east));
    changes.sort_unstable_by(|a, b| a.east.total_cmp(&b.east));
    let mut stops: Vec<f64> = (reaches.iter().flat_map(|r| [r.west.east, r.east.east]))
        .chain(changes.iter().map(|c| c.east))
        .collect();
    stops.sort_unstable_by(f64::total_cmp);
    stops.dedup();

    let mut base = endless;
    let (mut reaches, mut changes) = (
        reaches.into_iter().peekable(),
        changes.into_iter().peekable(),
    );
    let mut active: Vec<Reach> = Vec::new();
    let mut slab = Slab::default();
    for pair in stops.windows(2) {
        let (west, east) = (pair[0], pair[1]);
        while let Some(change) = changes.next_if(|c| c.east <= west) {
            base[change.layer] += change.gain;
        }
        active.retain(|reach| reach.east.east > west);
        while let Some(reach) = reaches.next_if(|r| r.west.east <= west) {
            active.push(reach);
        }
        slab.visit(&active, base, [south, north], [west, east], tally);
    }
}

/// Where an edge that reaches both sides of a northing meets it; the same for every row.
fn crossing(from: Place, to: Place, north: f64) -> f64 {
    if from.north == north {
        return from.east;
    }
    if to.north == north {
        return to.east;
    }
    let (a, b) = if from.north < to.north {
        (from, to)
    } else {
        (to, from)
    };
    a.east + (north - a.north) / (b.north - a.north) * (b.east - a.east)
}

/// Edges in order from south to north between two eastings, and room to sort them.
#[derive(Default)]
struct Slab {
    /// Northings at the west and the east border, and the edge's place in the active list.
    order: Vec<([f64; 2], usize)>,
    stops: Vec<f64>,
}

impl Slab {
    fn visit<const N: usize, T: Tally<N>>(
        &mut self,
        active: &[Reach],
        base: [i32; N],
        [south, north]: [f64; 2],
        [west, east]: [f64; 2],
        tally: &mut T,
    ) {
        self.sort(active, west, east);
        let crossed =
            |pair: &[([f64; 2], usize)]| pair[0].0[0] > pair[1].0[0] || pair[0].0[1] > pair[1].0[1];
        self.stops.clear();
        if self.order.windows(2).any(crossed) {
            for (index, (a, _)) in self.order.iter().enumerate() {
                for (b, _) in &self.order[index + 1..] {
                    let (from, to) = (b[0] - a[0], b[1] - a[1]);
                    if (from < 0.0) != (to < 0.0) {
                        let at = west + from / (from - to) * (east - west);
                        if west < at && at < east {
                            self.stops.push(at);
                        }
                    }
                }
            }
            self.stops.sort_unstable_by(f64::total_cmp);
            self.stops.dedup();
        }
        let stops = std::mem::take(&mut self.stops);
        let mut from = west;
        for &to in stops.iter().chain([&east]) {
            if !stops.is_empty() {
                self.sort(active, from, to);
            }
            let mut times = base;
            let mut below = [south, south];
            for &(here, reach) in &self.order {
                trapezoid(times, below, here, [from, to], tally);
                let reach = &active[reach];
                times[reach.layer] += reach.gain;
                below = here;
            }
            trapezoid(times, below, [north, north], [from, to], tally);
            from = to;
        }
        self.stops = stops;
    }

    fn sort(&mut self, active: &[Reach], west: f64, east: f64) {
        self.order.clear();
        let ends = |r: &Reach| [r.north_at(west), r.north_at(east)];
        self.order
            .extend(active.iter().enumerate().map(|(index, r)| (ends(r), index)));
        let middle = |ends: &[f64; 2]| ends[0] + ends[1];
        self.order
            .sort_unstable_by(|(a, i), (b, j)| middle(a).total_cmp(&middle(b)).then(i.cmp(j)));
    }
}

fn trapezoid<const N: usize, T: Tally<N>>(
    times: [i32; N],
    below: [f64; 2],
    above: [f64; 2],
    [west, east]: [f64; 2],
    tally: &mut T,
) {
    let sides = [above[0] - below[0], above[1] - below[1]];
    let area = (sides[0] + sides[1]) / 2.0 * (east - west);
    let north = (below[0] + below[1] + above[0] + above[1]) / 4.0;
    tally.take(times, area, Place::new((west + east) / 2.0, north));
}
