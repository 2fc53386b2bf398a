//! How accurate a file says its points are.

/// Standard uncertainties that a file states of its points one by one, in its length unit.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct PointAccuracies {
    /// Of heights.
    pub height: StatedOfPoints,
    /// Of places, in east and in north.
    pub plan: StatedOfPoints,
}

/// One number that is stated of many points.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct StatedOfPoints {
    /// Of how many.
    pub points: u64,
    /// The greatest of them.
    pub greatest: f64,
    squares: f64,
}

impl StatedOfPoints {
    /// Takes that of a point; nothing where it is not above zero, or no number: nothing that was measured is exact.
    pub fn take(&mut self, value: f64) {
        if value.is_finite() && value > 0.0 {
            self.points += 1;
            self.greatest = self.greatest.max(value);
            self.squares += value * value;
        }
    }

    /// The root of the mean of their squares; none where it is stated of no point.
    ///
    /// ```
    /// use dapedon_formats::StatedOfPoints;
    /// let mut heights = StatedOfPoints::default();
    /// [0.03, 0.04, f64::NAN, 0.0, -1.0].into_iter().for_each(|value| heights.take(value));
    /// assert_eq!(heights.points, 2);
    /// assert!((heights.root_mean_square().unwrap() - 0.0353553).abs() < 1e-6);
    /// ```
    pub fn root_mean_square(&self) -> Option<f64> {
        (self.points > 0).then(|| (self.squares / self.points as f64).sqrt())
    }

    /// The same in a unit that is so many times smaller.
    pub fn times(&mut self, factor: f64) {
        self.greatest *= factor;
        self.squares *= factor * factor;
    }
}
