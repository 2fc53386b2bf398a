//! Labels that stand clear of each other and of outlines.

/// A box on the sheet: its left, top, right and bottom.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct LabelBox {
    pub(crate) left: f64,
    pub(crate) top: f64,
    pub(crate) right: f64,
    pub(crate) bottom: f64,
}

impl LabelBox {
    /// A box of a size about a place.
    pub(crate) fn about([x, y]: [f64; 2], [width, height]: [f64; 2]) -> Self {
        LabelBox {
            left: x - width / 2.0,
            top: y - height / 2.0,
            right: x + width / 2.0,
            bottom: y + height / 2.0,
        }
    }

    pub(crate) fn middle(&self) -> [f64; 2] {
        [
            (self.left + self.right) / 2.0,
            (self.top + self.bottom) / 2.0,
        ]
    }

    /// True where a place is in it.
    pub(crate) fn holds(&self, [x, y]: [f64; 2]) -> bool {
        (self.left..=self.right).contains(&x) && (self.top..=self.bottom).contains(&y)
    }

    fn meets(&self, other: &LabelBox) -> bool {
        self.left < other.right
            && other.left < self.right
            && self.top < other.bottom
            && other.top < self.bottom
    }

    fn is_within(&self, other: &LabelBox) -> bool {
        self.left >= other.left
            && self.right <= other.right
            && self.top >= other.top
            && self.bottom <= other.bottom
    }

    /// True where a line between two places runs through it.
    fn is_crossed(&self, from: [f64; 2], to: [f64; 2]) -> bool {
        let (mut enters, mut leaves) = (0.0f64, 1.0f64);
        for (from, to, low, high) in [
            (from[0], to[0], self.left, self.right),
            (from[1], to[1], self.top, self.bottom),
        ] {
            if from == to {
                if from <= low || from >= high {
                    return false;
                }
                continue;
            }
            let (one, other) = ((low - from) / (to - from), (high - from) / (to - from));
            enters = enters.max(one.min(other));
            leaves = leaves.min(one.max(other));
        }
        enters < leaves
    }
}

/// The labels of a map, and what they must stand clear of.
pub(crate) struct Labels {
    within: LabelBox,
    taken: Vec<LabelBox>,
    lines: Vec<[[f64; 2]; 2]>,
}

/// Rings on which a label is looked for around its place, and places on each.
const RINGS: u32 = 26;
const AROUND: u32 = 16;
/// From ring to ring.
const STEP: f64 = 11.0;

impl Labels {
    /// None yet, to stand within a frame and clear of some lines.
    pub(crate) fn new(within: LabelBox, lines: Vec<[[f64; 2]; 2]>) -> Self {
        Labels {
            within,
            taken: Vec::new(),
            lines,
        }
    }

    /// Labels that look for a place stand clear of this line too.
    pub(crate) fn avoid(&mut self, line: [[f64; 2]; 2]) {
        self.lines.push(line);
    }

    fn is_free(&self, own: &LabelBox) -> bool {
        own.is_within(&self.within) && !self.taken.iter().any(|other| own.meets(other))
    }

    fn is_clear(&self, own: &LabelBox) -> bool {
        self.is_free(own)
            && !self
                .lines
                .iter()
                .any(|[from, to]| own.is_crossed(*from, *to))
    }

    /// Takes a box at its place, if it is free there; lines may run below it.
    pub(crate) fn take(&mut self, own: LabelBox) -> bool {
        let free = self.is_free(&own);
        if free {
            self.taken.push(own);
        }
        free
    }

    /// Takes room for a label of a size, at its place or as near to it as it stands clear; none where there is no room.
    pub(crate) fn place(&mut self, at: [f64; 2], size: [f64; 2]) -> Option<LabelBox> {
        let here = LabelBox::about(at, size);
        let around = (1..=RINGS).flat_map(|ring| {
            let reach = f64::from(ring) * STEP;
            (0..AROUND).map(move |number| {
                let (sin, cos) =
                    libm::sincos(f64::from(number) / f64::from(AROUND) * std::f64::consts::TAU);
                // Labels are wider than high: the ring is drawn out along them.
                let middle = [
                    at[0] + (reach + size[0] / 2.0) * cos,
                    at[1] + (reach + size[1] / 2.0) * sin,
                ];
                LabelBox::about(middle, size)
            })
        });
        let found = std::iter::once(here)
            .chain(around)
            .find(|own| self.is_clear(own))?;
        self.taken.push(found);
        Some(found)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const FRAME: LabelBox = LabelBox {
        left: 0.0,
        top: 0.0,
        right: 600.0,
        bottom: 400.0,
    };

    #[test]
    fn a_label_stands_at_its_place_if_it_is_clear_there() {
        let mut labels = Labels::new(FRAME, vec![[[0.0, 300.0], [600.0, 300.0]]]);
        let first = labels.place([100.0, 100.0], [80.0, 20.0]).unwrap();
        assert_eq!(first.middle(), [100.0, 100.0]);
        let second = labels.place([100.0, 100.0], [80.0, 20.0]).unwrap();
        assert!(!second.meets(&first));
        let on_line = labels.place([400.0, 300.0], [80.0, 20.0]).unwrap();
        assert!(!on_line.is_crossed([0.0, 300.0], [600.0, 300.0]));
        assert!(labels.place([100.0, 100.0], [700.0, 20.0]).is_none());
        assert!(labels.take(LabelBox::about([500.0, 50.0], [10.0, 10.0])));
        assert!(!labels.take(LabelBox::about([505.0, 50.0], [10.0, 10.0])));
    }

    proptest! {
        /// However many labels are wanted at whatever places: none meets another, none is crossed by a line, none leaves the frame.
        #[test]
        fn labels_do_not_meet(
            places in prop::collection::vec((0.0f64..600.0, 0.0f64..400.0), 1..60),
            lines in prop::collection::vec(prop::array::uniform4(0.0f64..600.0), 0..6),
        ) {
            let lines: Vec<[[f64; 2]; 2]> = lines.iter().map(|&[a, b, c, d]| [[a, b], [c, d]]).collect();
            let mut labels = Labels::new(FRAME, lines.clone());
            let placed: Vec<LabelBox> = places.iter().filter_map(|&(x, y)| labels.place([x, y], [60.0, 16.0])).collect();
            for (index, own) in placed.iter().enumerate() {
                prop_assert!(own.is_within(&FRAME));
                prop_assert!(!placed[..index].iter().any(|other| own.meets(other)));
                prop_assert!(!lines.iter().any(|[from, to]| own.is_crossed(*from, *to)));
            }
        }
    }
}
