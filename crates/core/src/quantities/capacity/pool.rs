//! The pool that holds a place: only water that is connected to it counts, up to where it spills.

use std::cmp::{Ordering, Reverse};
use std::collections::BinaryHeap;

use super::Basin;
use crate::plan::Place;
use crate::plan::cross;
use crate::surface::Tin;
use crate::surface::neighbours::{Around, Neighbours, rim};

/// A pool around a place.
#[derive(Debug, Clone)]
pub struct Pool {
    /// Its bed: each facet counts from the level at which the pool reaches it.
    pub basin: Basin,
    /// The lowest level at which there is water in it: that of the deepest place that is reached without going up.
    pub lowest: f64,
    /// Where it runs over the edge of the surface.
    pub spill: Spill,
    /// The level at which each facet is reached.
    from: Vec<f64>,
}

/// Where water runs over the edge of a surface.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spill {
    /// At this level.
    pub level: f64,
    /// Where: the highest place on the lowest way out, in local coordinates.
    pub at: Place,
    /// Levels that are no farther apart are the same.
    same: f64,
}

impl Spill {
    /// True for a level above the one at which water spills.
    pub fn is_below(&self, level: f64) -> bool {
        level > self.level + self.same
    }
}

/// Why there is no pool.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum PoolError {
    /// The place is outside the surface.
    #[error("the position is outside the surface")]
    Beyond,
}

/// A vertex on the way of the water, by the level at which it is reached.
#[derive(PartialEq)]
struct Reached {
    level: f64,
    vertex: u32,
}

impl Eq for Reached {}

impl Ord for Reached {
    fn cmp(&self, other: &Self) -> Ordering {
        let by_level = self.level.total_cmp(&other.level);
        by_level.then(self.vertex.cmp(&other.vertex))
    }
}

impl PartialOrd for Reached {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Pool {
    /// The pool that holds a place, in local coordinates.
    ///
    /// Water goes from corner to corner along the edges of facets, and over a vertical step between two corners at
    /// one place: what lies below a level is connected just as its corners are. A corner is reached at the highest
    /// level on the lowest way to it (the first that a search by ascending level finds); a facet counts from the level at
    /// which its lowest corner is reached, as water on it touches that corner first.
    ///
    /// Where the bed is part of a larger surface, `rest` is the rest of that: what stands higher there along the edge
    /// of the bed holds the water.
    ///
    /// # Errors
    ///
    /// When the place is outside the surface.
    pub fn around(tin: &Tin, place: Place, rest: Option<&Tin>) -> Result<Self, PoolError> {
        let holds = |index: usize| {
            let [a, b, c] = tin.corners(index).map(|corner| corner.place());
            let sides = [(a, b), (b, c), (c, a)];
            sides
                .iter()
                .all(|&(from, to)| cross(from, to, place) >= 0.0)
        };
        let facet = (0..tin.facets().len()).find(|&index| holds(index));
        let facet = facet.ok_or(PoolError::Beyond)?;
        let height = |vertex: u32| tin.vertices()[vertex as usize].height;
        let near = Neighbours::of(tin);
        let mut start = lowest(tin.facets()[facet], height);
        // Water runs down first.
        while let Some(&next) = near
            .of_vertex(start)
            .iter()
            .min_by(|&&a, &&b| height(a).total_cmp(&height(b)))
            && height(next) < height(start)
        {
            start = next;
        }
        let mut reached = vec![f64::INFINITY; tin.vertices().len()];
        // The highest place on the way to each corner.
        let mut sills: Vec<u32> = (0..tin.vertices().len() as u32).collect();
        let mut ahead = BinaryHeap::new();
        reached[start as usize] = height(start);
        ahead.push(Reverse(Reached {
            level: height(start),
            vertex: start,
        }));
        while let Some(Reverse(Reached { level, vertex })) = ahead.pop() {
            if level > reached[vertex as usize] {
                continue;
            }
            for &next in near.of_vertex(vertex) {
                let at = level.max(height(next));
                if at < reached[next as usize] {
                    reached[next as usize] = at;
                    sills[next as usize] = match height(next) > level {
                        true => next,
                        false => sills[vertex as usize],
                    };
                    ahead.push(Reverse(Reached {
                        level: at,
                        vertex: next,
                    }));
                }
            }
        }
        let mut around = Around::of(rest, tin.frame());
        let ends = rim(tin).map(|vertex| {
            let place = tin.vertices()[vertex as usize].place();
            let own = reached[vertex as usize];
            (around.over(place, own), own, vertex)
        });
        let spill = ends.min_by(|a, b| a.0.total_cmp(&b.0));
        let (level, own, spill) = spill.unwrap_or((height(start), height(start), start));
        // Over a wall at the edge itself, or over a sill on the way there.
        let sill = if level > own {
            spill
        } else {
            sills[spill as usize]
        };
        let from = tin.facets().iter();
        let from = from.map(|&facet| reached[lowest(facet, height) as usize]);
        Ok(Pool {
            from: from.collect(),
            basin: Basin::reached(tin, |facet| reached[lowest(facet, height) as usize]),
            lowest: height(start),
            spill: Spill {
                level,
                at: tin.vertices()[sill as usize].place(),
                same: tin.frame().precision().worked_out(),
            },
        })
    }
}

impl Pool {
    /// The facets of its bed that it has reached below a level; none where there are none.
    pub fn reached(&self, tin: &Tin, level: f64) -> Option<Tin> {
        let facets = tin.facets().iter().zip(&self.from);
        let facets = facets.filter(|(_, from)| **from < level);
        let facets: Vec<[u32; 3]> = facets.map(|(&facet, _)| facet).collect();
        Tin::of_local(tin.frame(), tin.vertices().to_vec(), facets).ok()
    }
}

impl Spill {
    /// The lowest place of the edge of a surface; where it is part of a larger one, `rest` is the rest of that, and what
    /// stands higher there along the edge holds the water.
    pub fn lowest(tin: &Tin, rest: Option<&Tin>) -> Option<Self> {
        let mut around = Around::of(rest, tin.frame());
        let same = tin.frame().precision().worked_out();
        let ends = rim(tin).map(|vertex| {
            let vertex = tin.vertices()[vertex as usize];
            let level = around.over(vertex.place(), vertex.height);
            Spill {
                level,
                at: vertex.place(),
                same,
            }
        });
        ends.min_by(|a, b| a.level.total_cmp(&b.level))
    }
}

fn lowest(facet: [u32; 3], height: impl Fn(u32) -> f64) -> u32 {
    let [a, b, c] = facet;
    let lower = |a: u32, b: u32| if height(b) < height(a) { b } else { a };
    lower(lower(a, b), c)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::derived::{Treatment, zonewise};
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::surface::{Surface, Vertex};
    use crate::units::LengthUnit;
    use crate::zones::{Zone, Zones};

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, ORIGIN)
    }

    fn local(east: f64, north: f64) -> Place {
        frame().to_local(ORIGIN[0] + east, ORIGIN[1] + north)
    }

    /// A trough of 20 by 2 along east, level across, by heights at every 2.
    fn trough(heights: &[f64]) -> Tin {
        let mut vertices = Vec::new();
        let mut facets = Vec::new();
        for (index, height) in (0u32..).zip(heights) {
            for north in [0.0, 2.0] {
                vertices.push(Vertex::new(
                    ORIGIN[0] + 2.0 * f64::from(index),
                    ORIGIN[1] + north,
                    *height,
                ));
            }
            if index > 0 {
                let (sw, nw, se, ne) = (2 * index - 2, 2 * index - 1, 2 * index, 2 * index + 1);
                facets.extend([[sw, se, ne], [sw, ne, nw]]);
            }
        }
        Tin::from_facets(frame(), vertices, facets).unwrap()
    }

    /// Two basins with floors at 0 and 1, a sill at 2 between them, and ends at 5 and 4: by hand, of 2 wide prisms.
    #[test]
    fn two_basins_join_at_their_sill() {
        // Height by place: 5 at 0, 0 at 4, 2 at 8, 1 at 12, 4 at 16.
        let tin = trough(&[5.0, 2.5, 0.0, 1.0, 2.0, 1.5, 1.0, 2.5, 4.0]);
        let west = Pool::around(&tin, local(4.5, 1.0), None).unwrap();
        let east = Pool::around(&tin, local(12.5, 1.0), None).unwrap();
        assert_eq!((west.lowest, east.lowest), (0.0, 1.0));
        let levels = [1.0, 2.0, 2.5];
        let found = west.basin.at(&levels);
        // At 1: a triangle from 3.2 to 6, 1 deep, 2 wide: 2.8. At 2: from 2.4 to 8, 2 deep: 11.2.
        let expected = [2.8, 11.2];
        for (found, expected) in found.iter().zip(expected) {
            assert!((found.volume - expected).abs() < 1e-9, "{found:?}");
        }
        // East alone: at 1 nothing, at 2 from 8 to 13.333 1 deep: 5.3333.
        let found = east.basin.at(&levels);
        assert!(found[0].volume.abs() < 1e-9);
        assert!((found[1].volume - 16.0 / 3.0).abs() < 1e-9, "{found:?}");
        // Above the sill both are one.
        let both = [&west, &east].map(|pool| pool.basin.at(&levels)[2]);
        assert!((both[0].volume - both[1].volume).abs() < 1e-9);
        let whole = Basin::of(&tin).at(&levels)[2];
        assert!((both[0].volume - whole.volume).abs() < 1e-9);
    }

    /// Two pits in a plateau at 10 with a notch in its east edge at 7, the sill between them as given.
    fn plateau(sill: f64) -> Tin {
        let corners = [
            (0.0, 0.0, 10.0),
            (10.0, 0.0, 10.0),
            (20.0, 0.0, 10.0),
            (20.0, 5.0, 7.0),
            (20.0, 10.0, 10.0),
            (10.0, 10.0, 10.0),
            (0.0, 10.0, 10.0),
            (5.0, 5.0, 0.0),
            (15.0, 5.0, 1.0),
            (10.0, 5.0, sill),
        ];
        let points = corners.map(|(e, n, h)| Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, h));
        let pick_up = PickUp::from(points.to_vec());
        triangulate(frame(), &pick_up, &Rules::default())
            .unwrap()
            .tin
    }

    #[test]
    fn water_spills_over_the_lowest_way_out() {
        // Over the notch in the edge; and where the sill is higher, over that.
        for (sill, spills, over) in [(4.0, 7.0, (20.0, 5.0)), (8.0, 8.0, (10.0, 5.0))] {
            let tin = plateau(sill);
            let west = Pool::around(&tin, local(4.0, 5.0), None).unwrap();
            assert_eq!(
                (west.spill.level, west.spill.at),
                (spills, local(over.0, over.1))
            );
            let east = Pool::around(&tin, local(15.5, 5.0), None).unwrap();
            assert_eq!((east.lowest, east.spill.level), (1.0, 7.0));
            // Just below the sill only the west counts, just above it both do, and their sum is all there is.
            let apart = [sill - 1e-9, sill + 1e-9];
            let [own, other, all] =
                [&west.basin, &east.basin, &Basin::of(&tin)].map(|basin| basin.at(&apart));
            assert!((own[0].volume + other[0].volume - all[0].volume).abs() < 1e-9);
            assert!((own[1].volume - all[1].volume).abs() < 1e-9);
        }
        assert_eq!(
            Pool::around(&plateau(4.0), local(25.0, 5.0), None).unwrap_err(),
            PoolError::Beyond
        );
    }

    /// A pond of 4 by 4 set 2 deep into ground at 10, with vertical sides: it fills from its floor, and spills its
    /// lip onto the ground about it, which is the rim.
    #[test]
    fn a_pond_with_upright_sides() {
        let corners = [(0.0, 0.0), (12.0, 0.0), (12.0, 12.0), (0.0, 12.0)];
        let corners = corners.map(|(e, n)| Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, 10.0));
        let ground =
            Tin::from_facets(frame(), corners.to_vec(), vec![[0, 1, 2], [0, 2, 3]]).unwrap();
        let ring = [(4.0, 4.0), (8.0, 4.0), (8.0, 8.0), (4.0, 8.0), (4.0, 4.0)];
        let ring = ring
            .map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n))
            .to_vec();
        let pond = Zone::new("pond", frame(), vec![vec![ring]]).unwrap();
        let zones = Zones::new(frame(), vec![pond]);
        let dug = zonewise(&Surface::Tin(ground), &zones, |zones| match zones {
            [] => Treatment::Keep,
            _ => Treatment::Raise(-2.0),
        });
        let Surface::Tin(dug) = dug.unwrap() else {
            panic!("facets")
        };
        let pool = Pool::around(&dug, local(6.0, 6.5), None).unwrap();
        assert_eq!((pool.lowest, pool.spill.level), (8.0, 10.0));
        let found = pool.basin.at(&[8.0, 9.5, 10.0]);
        assert!(found[0].volume.abs() < 1e-9 && found[0].area.abs() < 1e-9);
        assert!((found[0].level_ground - 16.0).abs() < 1e-9);
        assert!(
            (found[1].volume - 24.0).abs() < 1e-9 && (found[1].area - 16.0).abs() < 1e-9,
            "{found:?}"
        );
        assert!((found[2].volume - 32.0).abs() < 1e-9, "{found:?}");
    }
}
