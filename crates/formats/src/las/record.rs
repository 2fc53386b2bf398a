//! One point of a cloud.

/// A point of a cloud, in the unit of its plan.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shot {
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// Height.
    pub height: f64,
    /// Its class: 2 is ground.
    pub class: u8,
    /// Which return of its pulse it is, from one.
    pub number: u8,
    /// How many returns its pulse has.
    pub returns: u8,
    /// True where it is marked as deleted.
    pub withheld: bool,
}

impl Shot {
    /// A point of a format without classes and returns; marked as deleted where it has no place.
    pub fn bare(place: Option<[f64; 3]>) -> Self {
        let [east, north, height] = place.unwrap_or_default();
        Shot {
            east,
            north,
            height,
            class: 0,
            number: 1,
            returns: 1,
            withheld: place.is_none(),
        }
    }
}

/// From the whole numbers of a record to coordinates.
#[derive(Debug, Clone, Copy)]
pub(super) struct Transform {
    pub(super) scale: [f64; 3],
    pub(super) offset: [f64; 3],
    /// True for point formats from 6 on, which have room for more returns and classes.
    pub(super) extended: bool,
}

/// The shortest record of each point format.
pub(super) const LENGTHS: [u16; 11] = [20, 28, 26, 34, 57, 63, 30, 36, 38, 59, 67];

impl Transform {
    /// Reads a record, which is as long as its point format needs.
    #[inline]
    pub(super) fn shot(&self, record: &[u8]) -> Shot {
        let axis = |axis: usize| {
            let bytes = record[4 * axis..4 * axis + 4]
                .try_into()
                .unwrap_or_default();
            f64::from(i32::from_le_bytes(bytes)) * self.scale[axis] + self.offset[axis]
        };
        let (pulse, flags) = (record[14], record[15]);
        let (number, returns, class, withheld) = match self.extended {
            true => (pulse & 15, pulse >> 4, record[16], flags & 4 != 0),
            false => (pulse & 7, pulse >> 3 & 7, flags & 31, flags & 128 != 0),
        };
        Shot {
            east: axis(0),
            north: axis(1),
            height: axis(2),
            class,
            number,
            returns,
            withheld,
        }
    }
}
