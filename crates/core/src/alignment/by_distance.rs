//! A figure that changes along a line.

/// A figure that changes along a line: linear between the distances at which it is given, the same before the first and behind
/// the last.
///
/// ```
/// use dapedon_core::alignment::ByDistance;
/// let width = ByDistance::new(vec![[0.0, 3.5], [50.0, 4.5]]).unwrap();
/// assert_eq!(width.at(-10.0), 3.5);
/// assert_eq!(width.at(25.0), 4.0);
/// assert_eq!(width.at(60.0), 4.5);
/// ```
#[derive(Debug, Clone, PartialEq)]
pub struct ByDistance {
    given: Vec<[f64; 2]>,
}

impl ByDistance {
    /// The same figure everywhere.
    pub fn constant(value: f64) -> Self {
        ByDistance {
            given: vec![[0.0, value]],
        }
    }

    /// Figures by distance; `None` where there is none, one is no number, or distances do not grow.
    pub fn new(given: Vec<[f64; 2]>) -> Option<Self> {
        let grows = given.windows(2).all(|pair| pair[0][0] < pair[1][0]);
        let are_numbers = given.iter().flatten().all(|value| value.is_finite());
        (grows && are_numbers && !given.is_empty()).then_some(ByDistance { given })
    }

    /// The figure at a distance.
    pub fn at(&self, distance: f64) -> f64 {
        let after = self.given.partition_point(|[at, _]| *at <= distance);
        let before = after
            .checked_sub(1)
            .and_then(|before| self.given.get(before));
        match (before, self.given.get(after)) {
            (Some([from, low]), Some([to, high])) => {
                low + (distance - from) / (to - from) * (high - low)
            }
            (Some([_, only]), None) | (None, Some([_, only])) => *only,
            (None, None) => 0.0,
        }
    }

    /// The same with each distance and figure changed; distances must grow as before.
    #[must_use]
    pub fn mapped(&self, change: impl Fn([f64; 2]) -> [f64; 2]) -> Self {
        ByDistance {
            given: self.given.iter().copied().map(change).collect(),
        }
    }

    /// The distances at which it is given.
    pub fn distances(&self) -> impl Iterator<Item = f64> + '_ {
        self.given.iter().map(|[at, _]| *at)
    }

    /// The greatest figure, without its sign.
    pub fn greatest(&self) -> f64 {
        let sizes = self.given.iter().map(|[_, value]| value.abs());
        sizes.fold(0.0, f64::max)
    }
}
