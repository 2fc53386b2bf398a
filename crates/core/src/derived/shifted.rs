//! A surface raised, lowered or moved as a whole.

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
