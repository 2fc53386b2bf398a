//! Convex polygons side by side, made to share their corners.

use rustc_hash::FxHashMap;

use crate::plan::cells::Rows;
use crate::plan::places::Places;
use crate::plan::{Extent, Place, cross};
use crate::surface::Vertex;

/// A corner of a polygon: a numbered place, and the height there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Corner {
    pub(crate) place: u32,
    pub(crate) height: f64,
}

/// Makes polygons that do not overlap meet corner to corner: where one of them has a corner on the side of
/// another, that one gets a corner there too, at its own height. Those too thin to have an area are empty.
pub(crate) fn stitch(
    polygons: impl Iterator<Item = Vec<Vertex>>,
    places: &mut Places,
) -> Vec<Vec<Corner>> {
    let mut stitched: Vec<Vec<Corner>> = polygons
        .map(|polygon| {
            let corner = |v: Vertex| Corner {
                place: places.number(v.place()),
                height: v.height,
            };
            let mut corners: Vec<Corner> = polygon.into_iter().map(corner).collect();
            corners.dedup_by_key(|corner| corner.place);
            if corners.len() > 1 && corners[0].place == corners[corners.len() - 1].place {
                corners.pop();
            }
            if corners.len() < 3 {
                corners.clear();
            }
            corners
        })
        .collect();

    let alone = unmatched(&stitched);
    let ends = alone.keys().flat_map(|&(from, to)| [from, to]);
    let ends = Candidates::of(ends, places);
    for polygon in &mut stitched {
        let mut whole = Vec::with_capacity(polygon.len());
        for (here, next) in sides(polygon) {
            whole.push(here);
            if !alone.contains_key(&ascending(here.place, next.place)) {
                continue;
            }
            let rise = next.height - here.height;
            let between = ends.on(here.place, next.place, places);
            whole.extend(between.into_iter().map(|(share, place)| Corner {
                place,
                height: here.height + share * rise,
            }));
        }
        *polygon = whole;
    }
    stitched
}

/// The sides of a polygon.
pub(crate) fn sides(polygon: &[Corner]) -> impl Iterator<Item = (Corner, Corner)> + '_ {
    let next = polygon.iter().cycle().skip(1);
    polygon.iter().zip(next).map(|(&here, &next)| (here, next))
}

fn ascending(a: u32, b: u32) -> (u32, u32) {
    (a.min(b), a.max(b))
}

/// The sides that are not walked as often one way as the other.
fn unmatched(polygons: &[Vec<Corner>]) -> FxHashMap<(u32, u32), i32> {
    let mut net = FxHashMap::default();
    for (here, next) in polygons.iter().flat_map(|polygon| sides(polygon)) {
        let way = if here.place < next.place { 1 } else { -1 };
        *net.entry(ascending(here.place, next.place)).or_insert(0) += way;
    }
    net.retain(|_, &mut net| net != 0);
    net
}

/// Places by the rows of the plan they stand in, from west to east.
struct Candidates {
    rows: Rows,
    standing: Vec<Vec<(f64, u32)>>,
}

impl Candidates {
    fn of(numbers: impl Iterator<Item = u32>, places: &Places) -> Self {
        let mut numbers: Vec<u32> = numbers.collect();
        numbers.sort_unstable();
        numbers.dedup();
        let extent = Extent::of(numbers.iter().map(|&number| places.at(number)));
        let rows = Rows::new(
            [extent.min.north, extent.max.north],
            (numbers.len() / 8).min(1 << 16),
        );
        let mut standing = vec![Vec::new(); rows.count()];
        for number in numbers {
            let at = places.at(number);
            standing[rows.of(at.north)].push((at.east, number));
        }
        for row in &mut standing {
            row.sort_by(|a, b| a.0.total_cmp(&b.0));
        }
        Candidates { rows, standing }
    }

    /// The places that stand on an edge between its ends, in order, with how far along it they are.
    fn on(&self, from: u32, to: u32, places: &Places) -> Vec<(f64, u32)> {
        let (a, b) = (places.at(from), places.at(to));
        let near = places.resolution();
        let run = [b.east - a.east, b.north - a.north];
        let square = run[0] * run[0] + run[1] * run[1];
        let (west, east) = (a.east.min(b.east), a.east.max(b.east));
        let (south, north) = (a.north.min(b.north), a.north.max(b.north));
        let rows = self.rows.between(south - near, north + near);
        let mut found = Vec::new();
        for row in &self.standing[rows] {
            let first = row.partition_point(|&(at, _)| at < west - near);
            let beside = row[first..].iter();
            for &(_, number) in beside.take_while(|&&(at, _)| at <= east + near) {
                let at = places.at(number);
                let aside = cross(a, b, at);
                let along = ((at.east - a.east) * run[0] + (at.north - a.north) * run[1]) / square;
                let on = aside * aside <= near * near * square;
                if on && along > 0.0 && along < 1.0 && number != from && number != to {
                    found.push((along, number));
                }
            }
        }
        found.sort_by(|a, b| a.0.total_cmp(&b.0));
        found
    }
}

/// Parts a convex polygon, which may have corners along its sides, into triangles that have an area.
pub(crate) fn triangles(polygon: &[Corner], places: &Places) -> Vec<[Corner; 3]> {
    let mut left = polygon.to_vec();
    let mut found = Vec::with_capacity(left.len().saturating_sub(2));
    while left.len() > 3 {
        let count = left.len();
        let ear = |at: usize| {
            [
                left[(at + count - 1) % count],
                left[at],
                left[(at + 1) % count],
            ]
        };
        // What is left of a convex polygon has an area as long as the ear that is cut has not all of it.
        let ears = (0..count).filter_map(|at| {
            let area = area(ear(at), places);
            (area > 0.0).then_some((at, area))
        });
        let at = match ears.min_by(|a, b| a.1.total_cmp(&b.1)) {
            Some((at, _)) => {
                found.push(ear(at));
                at
            }
            // Corners stand so close together that each ear is thinner than coordinates resolve, though the whole need not be: the
            // one goes that takes the least with it.
            None => {
                let size = |at: usize| {
                    let [a, b, c] = ear(at).map(|corner| places.at(corner.place));
                    cross(a, b, c).abs()
                };
                let least = (0..count).min_by(|&a, &b| size(a).total_cmp(&size(b)));
                least.unwrap_or(0)
            }
        };
        left.remove(at);
    }
    if let [a, b, c] = left[..]
        && area([a, b, c], places) > 0.0
    {
        found.push([a, b, c]);
    }
    found
}

/// The area of a triangle; nothing where it is thinner than coordinates resolve.
fn area(corners: [Corner; 3], places: &Places) -> f64 {
    let [a, b, c] = corners.map(|corner| places.at(corner.place));
    let square = |p: Place, q: Place| (q.east - p.east).powi(2) + (q.north - p.north).powi(2);
    let longest = square(a, b).max(square(b, c)).max(square(c, a));
    let (twice, thin) = (cross(a, b, c), places.resolution());
    match twice > 0.0 && twice * twice > thin * thin * longest {
        true => twice / 2.0,
        false => 0.0,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A long thin triangle whose corners are clusters a few hundredths of a micrometre wide: each ear is thinner than that, the whole is not.
    #[test]
    fn clustered_corners_lose_nothing() {
        let corners = [
            (28.584602019064558, -2.002642049194044),
            (28.584601992739305, -2.0026420520829533),
            (28.418448475731168, -2.0441546317610957),
            (28.41844845444365, -2.0441546370796573),
            (28.41844831732351, -2.0441546713384113),
            (33.070850031722074, -1.5103244411956513),
            (33.07084996071035, -1.510324448988405),
        ];
        let mut places = Places::within(1e-8);
        let polygon: Vec<Corner> = corners
            .iter()
            .map(|&(east, north)| Corner {
                place: places.number(Place::new(east, north)),
                height: 0.0,
            })
            .collect();
        let found = triangles(&polygon, &places);
        let sum: f64 = found.iter().map(|three| area(*three, &places)).sum();
        let next = corners.iter().cycle().skip(1);
        let twice = corners.iter().zip(next).map(|(a, b)| a.0 * b.1 - b.0 * a.1);
        let whole = twice.sum::<f64>() / 2.0;
        // Five metres times the resolution is what may go.
        assert!((sum - whole).abs() < 1e-7, "{sum} {whole}");
    }

    fn polygon(corners: &[(f64, f64, f64)]) -> Vec<Vertex> {
        corners
            .iter()
            .map(|&(e, n, h)| Vertex::new(e, n, h))
            .collect()
    }

    #[test]
    fn a_corner_on_a_side_is_shared() {
        let long = polygon(&[
            (0.0, 0.0, 0.0),
            (4.0, 0.0, 4.0),
            (4.0, 3.0, 4.0),
            (0.0, 3.0, 0.0),
        ]);
        let left = polygon(&[
            (0.0, 3.0, 7.0),
            (1.0, 3.0, 7.0),
            (1.0, 5.0, 7.0),
            (0.0, 5.0, 7.0),
        ]);
        // A hair beside where the other ends.
        let right = polygon(&[(1.0 + 1e-10, 3.0, 7.0), (4.0, 3.0, 7.0), (1.0, 5.0, 7.0)]);
        let mut places = Places::within(1e-8);
        let stitched = stitch([long, left, right].into_iter(), &mut places);
        assert_eq!(stitched.iter().map(Vec::len).collect::<Vec<_>>(), [5, 4, 3]);
        let shared = stitched[0]
            .iter()
            .find(|c| places.at(c.place).east == 1.0)
            .unwrap();
        assert_eq!((shared.height, shared.place), (1.0, stitched[1][1].place));
        let alone = unmatched(&stitched);
        let outer = [&stitched[0], &stitched[1], &stitched[2]]
            .map(|p| p.len())
            .iter()
            .sum::<usize>();
        // Three sides are walked both ways.
        assert_eq!(alone.len(), outer - 2 * 3);

        let parted = triangles(&stitched[0], &places);
        assert_eq!(parted.len(), 3);
        let whole: f64 = parted.iter().map(|&t| area(t, &places)).sum();
        assert_eq!(whole, 12.0);
    }

    #[test]
    fn corners_along_sides_make_no_empty_triangle() {
        let mut places = Places::within(1e-8);
        let along = polygon(&[
            (0.0, 0.0, 0.0),
            (1.0, 0.0, 0.0),
            (2.0, 0.0, 0.0),
            (3.0, 0.0, 0.0),
            (2.0, 1.0, 0.0),
            (1.0, 2.0, 0.0),
            (0.0, 3.0, 0.0),
        ]);
        let stitched = stitch([along].into_iter(), &mut places);
        let parted = triangles(&stitched[0], &places);
        assert_eq!(parted.len(), 5);
        assert_eq!(parted.iter().map(|&t| area(t, &places)).sum::<f64>(), 4.5);
    }

    #[test]
    fn what_has_no_area_is_empty() {
        let mut places = Places::within(1e-8);
        let sliver = polygon(&[
            (0.0, 0.0, 0.0),
            (1.0, 0.0, 0.0),
            (1.0, 1e-9, 0.0),
            (0.0, 1e-9, 0.0),
        ]);
        assert!(stitch([sliver].into_iter(), &mut places)[0].is_empty());
    }
}
