//! What a difference looks like: clay where ground was cut, water where it was filled.
//!
//! Lightness falls with depth on both sides, so the classes stay apart in grey print and for eyes
//! that do not tell the hues apart.

use crate::ticks::round_up;

pub(crate) type Rgb = [u8; 3];

const CUT: [Rgb; 5] = [
    [246, 224, 204],
    [233, 188, 152],
    [212, 147, 103],
    [181, 104, 62],
    [138, 66, 32],
];
const FILL: [Rgb; 5] = [
    [216, 232, 236],
    [172, 207, 216],
    [120, 174, 190],
    [67, 134, 156],
    [26, 92, 116],
];
/// Differences up to this are rounding, as they are where volumes are measured.
pub(crate) const STILL: f64 = 1e-8;

pub(crate) const UNCHANGED: Rgb = [222, 220, 212];

/// Heights from low to high: dusk, moss, straw. Lightness rises with height.
pub(crate) const HEIGHTS: [Rgb; 7] = [
    [84, 82, 110],
    [95, 105, 122],
    [108, 129, 123],
    [128, 152, 118],
    [160, 174, 118],
    [199, 195, 131],
    [233, 219, 167],
];

/// Classes of equal depth on both sides of zero.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Classes {
    /// The depth of a class.
    pub(crate) step: f64,
    /// Differences up to this size are unchanged.
    pub(crate) tolerance: f64,
    /// How many classes the deepest cut and the highest fill need.
    pub(crate) cut: usize,
    pub(crate) fill: usize,
}

impl Classes {
    pub(crate) fn new(min: f64, max: f64, tolerance: f64) -> Self {
        let step = round_up(max.abs().max(min.abs()) / CUT.len() as f64);
        let needed = |depth: f64| ((depth / step).ceil().max(0.0) as usize).min(CUT.len());
        Classes {
            step,
            tolerance,
            cut: needed(-min),
            fill: needed(max),
        }
    }

    pub(crate) fn of(&self, difference: f64) -> Rgb {
        if difference.abs() <= self.tolerance.max(STILL) {
            return UNCHANGED;
        }
        let class = ((difference.abs() / self.step) as usize).min(CUT.len() - 1);
        if difference < 0.0 {
            CUT[class]
        } else {
            FILL[class]
        }
    }

    pub(crate) fn cut_colour(&self, class: usize) -> Rgb {
        CUT[class]
    }

    pub(crate) fn fill_colour(&self, class: usize) -> Rgb {
        FILL[class]
    }
}

pub(crate) fn hex([r, g, b]: Rgb) -> String {
    format!("#{r:02x}{g:02x}{b:02x}")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn classes_part_at_round_depths() {
        let classes = Classes::new(-4.2, 1.1, 0.02);
        assert_eq!((classes.step, classes.cut, classes.fill), (1.0, 5, 2));
        assert_eq!(classes.of(-0.5), CUT[0]);
        assert_eq!(classes.of(-4.2), CUT[4]);
        assert_eq!(classes.of(1.0), FILL[1]);
        assert_eq!(classes.of(0.02), UNCHANGED);
        assert_eq!(Classes::new(0.0, 1.0, 0.0).of(-1e-12), UNCHANGED);
        assert_eq!(Classes::new(0.0, 0.0, 0.0).of(0.0), UNCHANGED);
    }
}
