//! A height with its place, in the room of one number.

/// A height and its place within a cell, in an order that is that of heights: 24 bits of the height, and the place to
/// the 65536th of the cell's side each way.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct PackedHeight(u64);

impl PackedHeight {
    /// `share` is where it stands, in sides of the cell.
    pub(super) fn new(height: f64, share: [f64; 2]) -> Self {
        let bits = (height as f32).to_bits();
        // Negative numbers descend by their bits, positive ones ascend.
        let ordered = match bits >> 31 {
            0 => bits | 1 << 31,
            _ => !bits,
        };
        // Never less than nothing, and held at the last one: rounded by the half that is added.
        let [east, north] = share.map(|along| (along * 65536.0 + 0.5) as u16);
        PackedHeight(u64::from(ordered) << 32 | u64::from(east) << 16 | u64::from(north))
    }

    pub(super) fn height(self) -> f64 {
        let ordered = (self.0 >> 32) as u32;
        f64::from(f32::from_bits(match ordered >> 31 {
            0 => !ordered,
            _ => ordered & !(1 << 31),
        }))
    }

    pub(super) fn within(self, side: f64) -> [f64; 2] {
        [self.0 >> 16, self.0].map(|bits| f64::from(bits as u16) / 65536.0 * side)
    }
}

/// The middle one of some heights, of which there is at least one, and its place; of an even number the mean of the two
/// in the middle, midway between their places.
pub(super) fn median(shots: &mut [PackedHeight], side: f64) -> (f64, [f64; 2]) {
    let half = shots.len() / 2;
    let even = shots.len().is_multiple_of(2);
    let (below, &mut middle, _) = shots.select_nth_unstable(half);
    let before = match even {
        true => below.iter().copied().max(),
        false => None,
    };
    let (a, b) = (before.unwrap_or(middle), middle);
    let ([ae, an], [be, bn]) = (a.within(side), b.within(side));
    let height = (a.height() + b.height()) / 2.0;
    (height, [(ae + be) / 2.0, (an + bn) / 2.0])
}
