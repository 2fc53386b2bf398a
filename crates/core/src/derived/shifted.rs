//! A surface raised, lowered, leaned or moved as a whole.

use crate::plan::Place;
use crate::surface::{Level, Surface, Vertex};

impl Surface {
    /// The same surface higher by an amount; lower where that is negative.
    ///
    /// ```
    /// use dapedon_core::plan::{Frame};
    /// use dapedon_core::surface::{Level, Surface};
    /// use dapedon_core::units::{LengthUnit};
    /// let water = Surface::Level(Level::new(Frame::new(LengthUnit::Metre, [0.0, 0.0]), 12.5));
    /// assert_eq!(water.raised(-0.5).heights(), (12.0, 12.0));
    /// ```
    pub fn raised(&self, by: f64) -> Surface {
        self.shifted([0.0, 0.0, by])
    }

    /// The same surface elsewhere in plan: so far to the east and to the north.
    pub fn moved(&self, [east, north]: [f64; 2]) -> Surface {
        self.shifted([east, north, 0.0])
    }

    /// The same surface higher by a plane: by an amount at a place in local coordinates, and rising from there by so much per unit to the
    /// east and to the north. None for a level, which has no corners to be raised.
    ///
    /// ```
    /// use dapedon_core::plan::Frame;
    /// use dapedon_core::surface::{Grid, Surface};
    /// use dapedon_core::units::LengthUnit;
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let flat = Grid::new(frame, frame.to_local(0.0, 0.0), [5.0, 5.0], [3, 3], vec![1.0; 9]).unwrap();
    /// let leaned = Surface::Grid(flat).leaned(frame.to_local(5.0, 5.0), 0.5, [0.1, 0.0]).unwrap();
    /// assert_eq!(leaned.heights(), (1.0, 2.0));
    /// ```
    pub fn leaned(&self, at: Place, by: f64, [east, north]: [f64; 2]) -> Option<Surface> {
        let up =
            |place: Place| by + east * (place.east - at.east) + north * (place.north - at.north);
        match self {
            Surface::Tin(tin) => Some(Surface::Tin(tin.mapped(|v| {
                let place = Place::new(v.east, v.north);
                Vertex::new(v.east, v.north, v.height + up(place))
            }))),
            Surface::Grid(grid) => Some(Surface::Grid(grid.raised_by(up))),
            Surface::Level(_) => None,
        }
    }

    fn shifted(&self, [east, north, up]: [f64; 3]) -> Surface {
        match self {
            Surface::Tin(tin) => Surface::Tin(
                tin.mapped(|v| Vertex::new(v.east + east, v.north + north, v.height + up)),
            ),
            Surface::Grid(grid) => Surface::Grid(grid.shifted([east, north, up])),
            Surface::Level(level) => Surface::Level(Level::new(self.frame(), level.height() + up)),
        }
    }
}
