//! A curve that fills the plane and keeps neighbours close (G. M. Morton's order, 1966).

use crate::plan::{Extent, Place};

/// Where along the curve a cell lies, by its column and row.
pub(crate) fn cell(column: u32, row: u32) -> u64 {
    spread(column) | spread(row) << 1
}

/// Where along the curve a place lies, on the finest grid over `extent`.
pub(crate) fn position(place: Place, extent: &Extent) -> u64 {
    let share =
        |value: f64, from: f64, length: f64| ((value - from) / length * f64::from(u32::MAX)) as u32;
    cell(
        share(place.east, extent.min.east, extent.width()),
        share(place.north, extent.min.north, extent.height()),
    )
}

/// The bits of `value`, each followed by a zero.
fn spread(value: u32) -> u64 {
    let mut bits = u64::from(value);
    for (shift, mask) in [
        (16, 0x0000_ffff_0000_ffff),
        (8, 0x00ff_00ff_00ff_00ff),
        (4, 0x0f0f_0f0f_0f0f_0f0f),
        (2, 0x3333_3333_3333_3333),
        (1, 0x5555_5555_5555_5555),
    ] {
        bits = (bits | (bits << shift)) & mask;
    }
    bits
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_and_rows_take_turns() {
        assert_eq!(
            [cell(0, 0), cell(1, 0), cell(0, 1), cell(1, 1), cell(2, 0)],
            [0, 1, 2, 3, 4]
        );
        assert_eq!(cell(u32::MAX, u32::MAX), u64::MAX);
        let extent = Extent::of([Place::new(0.0, 0.0), Place::new(8.0, 8.0)]);
        assert_eq!(position(extent.min, &extent), 0);
        assert_eq!(position(extent.max, &extent), u64::MAX);
    }
}
