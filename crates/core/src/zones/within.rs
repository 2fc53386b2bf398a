//! Which places lie in a zone, its edges included.

use crate::plan::cells::Rows;
use crate::plan::membership::EdgeRows;
use crate::plan::{Edge, Place, Precision};
use crate::zones::Zone;

/// A zone that can be asked about many places. A place on an edge is in it, also where rounding put it a little off.
pub struct WithinZone<'z> {
    zone: &'z Zone,
    ground: EdgeRows<'z>,
    /// The edges by the rows of the plan that they pass, for those a place may stand on.
    rows: Rows,
    passing: Vec<Vec<&'z Edge>>,
    near: f64,
}

impl<'z> WithinZone<'z> {
    /// Sorts the edges of a zone by where they are.
    ///
    /// ```
    /// use dapedon_core::plan::{Frame, Place};
    /// use dapedon_core::units::LengthUnit;
    /// use dapedon_core::zones::{WithinZone, Zone};
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let ring = [(0.0, 0.0), (9.0, 0.0), (0.0, 9.0), (0.0, 0.0)].map(|(e, n)| Place::new(e, n));
    /// let yard = Zone::new("yard", frame, vec![vec![ring.to_vec()]]).unwrap();
    /// let within = WithinZone::of(&yard, frame.precision());
    /// assert!(within.holds(Place::new(4.5, 4.5)) && within.holds(Place::new(0.0, 9.0)));
    /// assert!(!within.holds(Place::new(5.0, 5.0)));
    /// ```
    pub fn of(zone: &'z Zone, precision: Precision) -> Self {
        let extent = zone.extent();
        let edges = zone.edges();
        let bounds = [extent.min.north, extent.max.north];
        let rows = Rows::new(bounds, (edges.len() / 4).min(4096));
        let near = precision.length();
        let mut passing = vec![Vec::new(); rows.count()];
        for edge in edges {
            let [from, to] = [edge.from.north, edge.to.north];
            for row in rows.between(from.min(to) - near, from.max(to) + near) {
                passing[row].push(edge);
            }
        }
        WithinZone {
            zone,
            ground: EdgeRows::of(edges),
            rows,
            passing,
            near,
        }
    }

    /// The zone.
    pub fn zone(&self) -> &'z Zone {
        self.zone
    }

    /// True for a place in the zone or on its edge, in the coordinates of its frame.
    pub fn holds(&self, place: Place) -> bool {
        let extent = self.zone.extent();
        let outside = |value: f64, low: f64, high: f64| {
            !(low - self.near..=high + self.near).contains(&value)
        };
        if outside(place.east, extent.min.east, extent.max.east)
            || outside(place.north, extent.min.north, extent.max.north)
        {
            return false;
        }
        let mut edges = self.passing[self.rows.of(place.north)].iter();
        self.ground.hold(place) || edges.any(|edge| distance(edge, place) <= self.near)
    }
}

/// How far a place stands from an edge.
fn distance(edge: &Edge, place: Place) -> f64 {
    let (east, north) = (
        edge.to.east - edge.from.east,
        edge.to.north - edge.from.north,
    );
    let (from_east, from_north) = (place.east - edge.from.east, place.north - edge.from.north);
    let along = from_east * east + from_north * north;
    let share = (along / (east * east + north * north)).clamp(0.0, 1.0);
    libm::hypot(from_east - share * east, from_north - share * north)
}
