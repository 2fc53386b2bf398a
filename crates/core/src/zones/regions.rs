//! The plan divided by zones: regions that do not overlap, each within the same zones throughout.

use rustc_hash::{FxHashMap, FxHashSet};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation, mitigate_underflow};

use crate::plan::cross;
use crate::plan::crossing::{self, End, Meeting};
use crate::plan::membership::EdgeRows;
use crate::plan::places::Places;
use crate::plan::strips::Strips;
use crate::plan::{Edge, Extent, Place};
use crate::zones::{Zone, Zones};

/// Ground that lies in the same zones throughout.
#[derive(Debug, Clone)]
pub struct Region {
    /// Those zones, as indices in ascending order.
    pub zones: Vec<u32>,
    /// The ground.
    pub ground: Zone,
}

/// A region on the way.
struct Parts {
    zones: Vec<u32>,
    edges: Vec<Edge>,
    triangles: Vec<[Place; 3]>,
}

/// The regions that zones part the plan into; where `around` is given, with the one around them out to a
/// rectangle. EdgeRows may cross: they are split where they do.
pub fn regions(zones: &Zones, around: Option<Extent>) -> Vec<Region> {
    let Some(net) = net(zones, around) else {
        return Vec::new();
    };

    let rows: Vec<EdgeRows<'_>> = (zones.zones().iter())
        .map(|zone| EdgeRows::of(zone.edges()))
        .collect();
    let extents: Vec<Extent> = zones.zones().iter().map(Zone::extent).collect();
    let strips = Strips::of(&extents);
    let (mut found, mut known): (Vec<Parts>, FxHashMap<Vec<u32>, usize>) = Default::default();
    let place = |p: Point2<f64>| Place::new(p.x, p.y);
    // Which region each triangle of the net belongs to.
    let mut region_of = vec![usize::MAX; net.num_all_faces()];
    for face in net.inner_faces() {
        let [a, b, c] = face.positions().map(place);
        let middle = Place::new(
            (a.east + b.east + c.east) / 3.0,
            (a.north + b.north + c.north) / 3.0,
        );
        let within = strips.holding(middle);
        let within: Vec<u32> = within
            .filter(|&zone| rows[zone as usize].hold(middle))
            .collect();
        if within.is_empty() && around.is_none() {
            continue;
        }
        let region = *known.entry(within).or_insert_with_key(|within| {
            found.push(Parts {
                zones: within.clone(),
                edges: Vec::new(),
                triangles: Vec::new(),
            });
            found.len() - 1
        });
        region_of[face.fix().index()] = region;
        if cross(a, b, c) > 0.0 {
            found[region].triangles.push([a, b, c]);
        }
    }
    // The edges of a region are those beyond which there is another one; it lies on their left.
    for edge in net.directed_edges() {
        let here = edge
            .face()
            .as_inner()
            .map(|face| region_of[face.fix().index()]);
        let there = edge
            .rev()
            .face()
            .as_inner()
            .map(|face| region_of[face.fix().index()]);
        match here {
            Some(region) if region != usize::MAX && there != here => {
                let [from, to] = edge.positions().map(place);
                found[region].edges.push(Edge { from, to });
            }
            _ => {}
        }
    }
    found
        .into_iter()
        .map(|parts| Region {
            zones: parts.zones,
            ground: Zone::of_parts(parts.edges, parts.triangles),
        })
        .collect()
}

/// Zones that cover the same ground as some zones and do not overlap.
pub fn without_overlaps(zones: &Zones) -> Zones {
    let grounds = regions(zones, None).into_iter().map(|region| region.ground);
    Zones::new(zones.frame(), grounds.collect())
}

/// The outlines of zones as edges of a net; none where fewer than three places are left of them. It is built in one go:
/// places put in one by one, between edges that stand already, can be looked for in vain.
fn net(
    zones: &Zones,
    around: Option<Extent>,
) -> Option<ConstrainedDelaunayTriangulation<Point2<f64>>> {
    let resolution = zones.frame().precision().length();
    let mut places = Places::within(resolution);
    let mut points = Vec::new();
    let mut number = |place: Place| {
        let number = places.number(place) as usize;
        if number == points.len() {
            points.push(mitigate_underflow(Point2::new(place.east, place.north)));
        }
        number
    };
    if let Some(Extent { min, max }) = around {
        let corners = [
            (min.east, min.north),
            (max.east, min.north),
            (max.east, max.north),
            (min.east, max.north),
        ];
        for (east, north) in corners {
            number(Place::new(east, north));
        }
    }
    let edges = zones.zones().iter().flat_map(Zone::edges).copied();
    let pieces = split(edges.collect(), resolution)
        .into_iter()
        .map(|edge| [number(edge.from), number(edge.to)])
        .filter(|[from, to]| from != to)
        .collect();
    // What still crosses by less than coordinates resolve is divided by the other edge alone.
    ConstrainedDelaunayTriangulation::try_bulk_load_cdt(points, pieces, |_| {}).ok()
}

/// Edges split where they cross, so that those that are left meet at their ends alone. Places that are distinguished by less
/// than coordinates resolve are one; moving the ends of edges there may make them cross anew, which is looked for again a
/// few times.
fn split(mut edges: Vec<Edge>, resolution: f64) -> Vec<Edge> {
    const AGAIN: usize = 4;
    let mut places = Places::within(resolution);
    for _ in 0..AGAIN {
        let mut within: Vec<Vec<Place>> = vec![Vec::new(); edges.len()];
        crossing::each(&edges, |one, other, meeting| {
            match meeting {
                // Edges so short that their product is nothing cross nowhere.
                Meeting::Cross(at) if !at.east.is_finite() || !at.north.is_finite() => {}
                Meeting::Cross(at) => {
                    within[one].push(at);
                    within[other].push(at);
                }
                Meeting::Touch(End::From) => within[one].push(edges[other].from),
                Meeting::Touch(End::To) => within[one].push(edges[other].to),
            }
            true
        });
        let mut parted = Vec::with_capacity(edges.len());
        let mut seen = FxHashSet::default();
        for (edge, mut at) in edges.iter().zip(within) {
            let along = |place: &Place| {
                let (e, n) = (
                    edge.to.east - edge.from.east,
                    edge.to.north - edge.from.north,
                );
                (place.east - edge.from.east) * e + (place.north - edge.from.north) * n
            };
            at.sort_by(|a, b| along(a).total_cmp(&along(b)));
            let ends = [edge.from].into_iter().chain(at).chain([edge.to]);
            let numbers: Vec<u32> = ends.map(|place| places.number(place)).collect();
            for pair in numbers.windows(2) {
                let ends = [pair[0].min(pair[1]), pair[0].max(pair[1])];
                if pair[0] != pair[1] && seen.insert(ends) {
                    let [from, to] = ends.map(|number| places.at(number));
                    parted.push(Edge { from, to });
                }
            }
        }
        let done = parted.len() == edges.len();
        edges = parted;
        if done {
            break;
        }
    }
    edges
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::units::LengthUnit;

    fn zones(rects: &[[f64; 4]]) -> Zones {
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let zone = |&[e, n, w, h]: &[f64; 4]| {
            let ring = [(e, n), (e + w, n), (e + w, n + h), (e, n + h), (e, n)];
            let ring = ring.map(|(e, n)| Place::new(e, n)).to_vec();
            Zone::new("z", frame, vec![vec![ring]]).unwrap()
        };
        Zones::new(frame, rects.iter().map(zone).collect())
    }

    fn sizes(regions: &[Region]) -> Vec<(Vec<u32>, f64)> {
        let mut sizes: Vec<_> = regions
            .iter()
            .map(|r| (r.zones.clone(), r.ground.area()))
            .collect();
        sizes.sort_by(|a, b| a.0.cmp(&b.0));
        sizes
    }

    #[test]
    fn crossing_outlines_are_split() {
        let crossing = zones(&[[0.0, 0.0, 10.0, 10.0], [5.0, 5.0, 10.0, 10.0]]);
        let around = Extent::of([Place::new(-5.0, -5.0), Place::new(20.0, 20.0)]);
        let found = sizes(&regions(&crossing, Some(around)));
        let expected = [
            (vec![], 450.0),
            (vec![0], 75.0),
            (vec![0, 1], 25.0),
            (vec![1], 75.0),
        ];
        assert_eq!(found, expected);
        assert_eq!(sizes(&regions(&crossing, None)), expected[1..]);
    }

    /// Corners on a small lattice, edges that touch themselves at one of them: what was once more than the triangulation
    /// could bear.
    #[test]
    fn rings_that_touch_themselves_are_parted() {
        let ring = |corners: &[(f64, f64)]| {
            let corners = corners.iter().chain(corners.first());
            corners.map(|&(e, n)| Place::new(e, n)).collect::<Vec<_>>()
        };
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let zone = |corners: &[(f64, f64)]| Zone::new("z", frame, vec![vec![ring(corners)]]);
        let first = [
            zone(&[(7.0, 0.0), (2.0, 2.0), (6.0, 15.0)]),
            zone(&[
                (11.0, 15.0),
                (0.0, 0.0),
                (8.0, 5.0),
                (13.0, 0.0),
                (0.0, 0.0),
            ]),
        ];
        let second = [
            zone(&[
                (8.0, 0.0),
                (0.0, 0.0),
                (0.0, 0.0),
                (2.0, 0.0),
                (0.0, 0.0),
                (9.0, 5.0),
                (14.0, 10.0),
            ]),
            zone(&[
                (8.0, 0.0),
                (5.0, 0.0),
                (0.0, 0.0),
                (2.0, 10.0),
                (0.0, 0.0),
                (2.0, 10.0),
            ]),
        ];
        for rings in [first, second] {
            let zones: Vec<Zone> = rings.into_iter().flatten().collect();
            let sum: f64 = zones.iter().map(Zone::area).sum();
            let found = regions(&Zones::new(frame, zones), None);
            let ground: f64 = found.iter().map(|region| region.ground.area()).sum();
            assert!(!found.is_empty() && ground <= sum + 1e-9);
        }
    }

    /// A zone far smaller than coordinates resolve takes nothing from the others.
    #[test]
    fn a_zone_of_next_to_nothing_takes_nothing() {
        let mut both = zones(&[[0.0, 0.0, 10.0, 10.0]]).zones().to_vec();
        let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
        let ring = [
            (1e-321, 0.0),
            (0.0, 0.0),
            (0.0, 3e-28),
            (3e-28, 2e-129),
            (1e-321, 0.0),
        ];
        let ring = ring.map(|(e, n)| Place::new(e, n)).to_vec();
        both.extend(Zone::new("t", frame, vec![vec![ring]]));
        assert_eq!(both.len(), 2);
        let found = regions(&Zones::new(frame, both), None);
        let ground: f64 = found.iter().map(|region| region.ground.area()).sum();
        assert!((ground - 100.0).abs() < 1e-9, "{ground}");
    }

    #[test]
    fn shared_edges_and_zones_within_zones() {
        let nested = zones(&[
            [0.0, 0.0, 10.0, 10.0],
            [2.0, 2.0, 3.0, 3.0],
            [10.0, 0.0, 4.0, 10.0],
        ]);
        let found = sizes(&regions(&nested, None));
        assert_eq!(found, [(vec![0], 91.0), (vec![0, 1], 9.0), (vec![2], 40.0)]);
        let again = zones(&[[0.0, 0.0, 10.0, 10.0], [0.0, 0.0, 10.0, 10.0]]);
        assert_eq!(sizes(&regions(&again, None)), [(vec![0, 1], 100.0)]);
    }
}
