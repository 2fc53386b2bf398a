//! Places at which heights are read: on a grid, turned as wanted.

use crate::plan::{Extent, Frame, Place};
use crate::zones::WithinZone;

/// A grid of places: rows and columns through an origin, turned about it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SpotGrid {
    /// From place to place along rows, and from row to row.
    pub spacing: [f64; 2],
    /// A place of the grid, in grid coordinates.
    pub origin: Place,
    /// The direction of its rows, as an angle from east towards north, in radians.
    pub turned: f64,
}

/// A grid has more places than are wanted.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[error("the grid would have {count:.0} places")]
pub struct TooManySpots {
    /// How many it would have.
    pub count: f64,
    /// A spacing that would do, with the same proportions: that along rows.
    pub spacing: f64,
}

impl SpotGrid {
    /// The places of the grid over an extent of the frame, in its coordinates: row by row from the north, each from the west, as far
    /// as the rows are not turned.
    ///
    /// # Errors
    ///
    /// When there would be more than `most`.
    ///
    /// ```
    /// use dapedon_core::plan::{Extent, Frame, Place};
    /// use dapedon_core::quantities::SpotGrid;
    /// use dapedon_core::units::LengthUnit;
    /// let frame = Frame::new(LengthUnit::Metre, [1000.0, 2000.0]);
    /// let grid = SpotGrid { spacing: [10.0, 10.0], origin: Place::new(0.0, 0.0), turned: 0.0 };
    /// let extent = Extent::of([Place::new(-1.0, -1.0), Place::new(11.0, 1.0)]);
    /// assert_eq!(grid.over(frame, &extent, 100).unwrap(), [Place::new(0.0, 0.0), Place::new(10.0, 0.0)]);
    /// ```
    pub fn over(
        &self,
        frame: Frame,
        extent: &Extent,
        most: usize,
    ) -> Result<Vec<Place>, TooManySpots> {
        let origin = frame.to_local(self.origin.east, self.origin.north);
        let (sin, cos) = libm::sincos(self.turned);
        let Extent { min, max } = *extent;
        let corners = [
            min,
            Place::new(max.east, min.north),
            max,
            Place::new(min.east, max.north),
        ];
        let on_axes = corners.map(|corner| {
            let (east, north) = (corner.east - origin.east, corner.north - origin.north);
            Place::new(east * cos + north * sin, north * cos - east * sin)
        });
        let reach = Extent::of(on_axes);
        // A place a hair beyond the extent is on its edge.
        let slack = 1e-9;
        let count = |low: f64, high: f64, step: f64| {
            let [first, last] = [(low / step - slack).ceil(), (high / step + slack).floor()];
            (first, (last - first + 1.0).max(0.0))
        };
        let [along, across] = self.spacing;
        let (first_column, columns) = count(reach.min.east, reach.max.east, along);
        let (first_row, rows) = count(reach.min.north, reach.max.north, across);
        let is_length = |step: f64| step > 0.0 && step.is_finite();
        if !self.spacing.into_iter().all(is_length) || columns * rows > most as f64 {
            return Err(TooManySpots {
                count: columns * rows,
                spacing: along * libm::sqrt(columns * rows / most as f64),
            });
        }
        let (columns, rows) = (columns as u32, rows as u32);
        let near = slack * along.max(across);
        let wide = Extent {
            min: Place::new(min.east - near, min.north - near),
            max: Place::new(max.east + near, max.north + near),
        };
        let places = (0..rows).rev().flat_map(move |row| {
            let up = (first_row + f64::from(row)) * across;
            (0..columns).map(move |column| {
                let ahead = (first_column + f64::from(column)) * along;
                Place::new(
                    origin.east + ahead * cos - up * sin,
                    origin.north + ahead * sin + up * cos,
                )
            })
        });
        Ok(places
            .filter(|place| wide.meets(&Extent::of([*place])))
            .collect())
    }

    /// The places of the grid in some zones, each with the first zone that holds it.
    ///
    /// # Errors
    ///
    /// When there would be more than `most` over their extent.
    pub fn within(
        &self,
        frame: Frame,
        zones: &[WithinZone<'_>],
        most: usize,
    ) -> Result<Vec<(Place, usize)>, TooManySpots> {
        let extents = zones.iter().map(|within| within.zone().extent());
        let extent = extents.fold(Extent::EMPTY, |all, extent| all.union(&extent));
        let places = self.over(frame, &extent, most)?;
        let zone = |place: Place| zones.iter().position(|within| within.holds(place));
        let found = places
            .into_iter()
            .filter_map(|place| Some((place, zone(place)?)));
        Ok(found.collect())
    }
}
