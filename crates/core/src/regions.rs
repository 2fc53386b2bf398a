//! The plan parted by zones: regions that do not overlap, each within the same zones throughout.

use spade::handles::FixedVertexHandle;
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation, mitigate_underflow};

use crate::plan::cross;
use crate::rows::Rows;
use crate::{Edge, Extent, Place, Zone, Zones};

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
/// rectangle. Outlines may cross: they are split where they do.
pub fn regions(zones: &Zones, around: Option<Extent>) -> Vec<Region> {
    let mut net = ConstrainedDelaunayTriangulation::<Point2<f64>>::new();
    if let Some(Extent { min, max }) = around {
        let corners = [
            (min.east, min.north),
            (max.east, min.north),
            (max.east, max.north),
            (min.east, max.north),
        ];
        for (east, north) in corners {
            corner(&mut net, Place::new(east, north));
        }
    }
    for edge in zones.zones().iter().flat_map(Zone::edges) {
        let ends = [edge.from, edge.to].map(|place| corner(&mut net, place));
        if let [Some(from), Some(to)] = ends
            && from != to
        {
            net.add_constraint_and_split(from, to, |at| at);
        }
    }

    let rows: Vec<Rows<'_>> = (zones.zones().iter())
        .map(|zone| Rows::of(zone.edges()))
        .collect();
    let mut found: Vec<Parts> = Vec::new();
    let place = |p: Point2<f64>| Place::new(p.x, p.y);
    // Which region each triangle of the net belongs to.
    let mut region_of = vec![usize::MAX; net.num_all_faces()];
    for face in net.inner_faces() {
        let [a, b, c] = face.positions().map(place);
        let middle = Place::new(
            (a.east + b.east + c.east) / 3.0,
            (a.north + b.north + c.north) / 3.0,
        );
        let within = (zones.zones().iter().zip(&rows).zip(0u32..))
            .filter(|((zone, rows), _)| {
                zone.extent().holds(&Extent::of([middle])) && rows.hold(middle)
            })
            .map(|(_, index)| index);
        let within: Vec<u32> = within.collect();
        if within.is_empty() && around.is_none() {
            continue;
        }
        let known = found.iter().position(|parts| parts.zones == within);
        let region = known.unwrap_or_else(|| {
            found.push(Parts {
                zones: within,
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

/// A corner of the net; none for a coordinate that is no number, which zones have none of.
fn corner(
    net: &mut ConstrainedDelaunayTriangulation<Point2<f64>>,
    place: Place,
) -> Option<FixedVertexHandle> {
    let point = mitigate_underflow(Point2::new(place.east, place.north));
    net.insert(point).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Frame, LengthUnit};

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
