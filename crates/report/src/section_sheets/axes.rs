//! The plot of a section: from offsets or distances and heights to places on the sheet.

/// Where a stretch of a section stands on its sheet.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Axes {
    /// Where the first offset and the lowest height stand.
    pub(crate) corner: [f64; 2],
    /// The offsets that are shown.
    pub(crate) offsets: [f64; 2],
    /// The heights that are shown.
    pub(crate) heights: [f64; 2],
    /// Millimetres for a unit, along and upwards.
    pub(crate) scale: [f64; 2],
}

impl Axes {
    pub(crate) fn x(&self, offset: f64) -> f64 {
        self.corner[0] + (offset - self.offsets[0]) * self.scale[0]
    }

    pub(crate) fn y(&self, height: f64) -> f64 {
        self.corner[1] - (height - self.heights[0]) * self.scale[1]
    }

    pub(crate) fn place(&self, [offset, height]: [f64; 2]) -> [f64; 2] {
        [self.x(offset), self.y(height)]
    }

    pub(crate) fn width(&self) -> f64 {
        (self.offsets[1] - self.offsets[0]) * self.scale[0]
    }

    pub(crate) fn height(&self) -> f64 {
        (self.heights[1] - self.heights[0]) * self.scale[1]
    }

    /// Left, top, right and bottom of the plot.
    pub(crate) fn frame(&self) -> [f64; 4] {
        let [left, bottom] = self.corner;
        [left, bottom - self.height(), left + self.width(), bottom]
    }

    /// An outline as far as it is within the plot: cut at each of its four sides (Sutherland and Hodgman).
    pub(crate) fn clipped(&self, ring: &[[f64; 2]]) -> Vec<[f64; 2]> {
        let mut kept: Vec<[f64; 2]> = ring.to_vec();
        for (axis, bound, sign) in [
            (0, self.offsets[0], 1.0),
            (0, self.offsets[1], -1.0),
            (1, self.heights[0], 1.0),
            (1, self.heights[1], -1.0),
        ] {
            let inside = |at: &[f64; 2]| sign * (at[axis] - bound);
            let mut next = Vec::new();
            for (index, here) in kept.iter().enumerate() {
                let before = kept[(index + kept.len() - 1) % kept.len()];
                let (a, b) = (inside(&before), inside(here));
                if (a < 0.0) != (b < 0.0) {
                    let share = a / (a - b);
                    next.push([0, 1].map(|i| before[i] + share * (here[i] - before[i])));
                }
                if b >= 0.0 {
                    next.push(*here);
                }
            }
            kept = next;
        }
        kept
    }

    /// The part of a straight line that is within the plot.
    pub(crate) fn within(&self, from: [f64; 2], to: [f64; 2]) -> Option<[[f64; 2]; 2]> {
        let (mut enters, mut leaves) = (0.0f64, 1.0f64);
        for (axis, bounds) in [(0, self.offsets), (1, self.heights)] {
            let (a, b) = (from[axis], to[axis]);
            if a == b {
                if a < bounds[0] || a > bounds[1] {
                    return None;
                }
                continue;
            }
            let (one, other) = ((bounds[0] - a) / (b - a), (bounds[1] - a) / (b - a));
            enters = enters.max(one.min(other));
            leaves = leaves.min(one.max(other));
        }
        let at = |share: f64| [0, 1].map(|i| from[i] + share * (to[i] - from[i]));
        (enters <= leaves).then(|| [at(enters), at(leaves)])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_leaves_the_plot_is_cut_off() {
        let axes = Axes {
            corner: [10.0, 90.0],
            offsets: [-5.0, 5.0],
            heights: [0.0, 4.0],
            scale: [2.0, 10.0],
        };
        assert_eq!(axes.place([-5.0, 0.0]), [10.0, 90.0]);
        assert_eq!(axes.frame(), [10.0, 50.0, 30.0, 90.0]);
        assert_eq!(
            axes.within([-10.0, 2.0], [10.0, 2.0]),
            Some([[-5.0, 2.0], [5.0, 2.0]])
        );
        assert_eq!(axes.within([-10.0, 9.0], [10.0, 9.0]), None);
        let ring = axes.clipped(&[[-9.0, 1.0], [9.0, 1.0], [9.0, 8.0], [-9.0, 8.0]]);
        assert_eq!(ring.len(), 4);
        assert!(ring.contains(&[-5.0, 1.0]) && ring.contains(&[5.0, 4.0]));
        assert!(
            axes.clipped(&[[6.0, 0.0], [7.0, 0.0], [7.0, 1.0]])
                .is_empty()
        );
    }
}
