//! Numbers for tests that look like chance.

/// Numbers that look like chance, the same each time: a linear congruential generator (D. E. Knuth's MMIX constants).
pub(crate) struct Chance(pub(crate) u64);

impl Chance {
    /// Evenly from zero to one.
    pub(crate) fn even(&mut self) -> f64 {
        self.0 = self
            .0
            .wrapping_mul(6_364_136_223_846_793_005)
            .wrapping_add(1_442_695_040_888_963_407);
        (self.0 >> 11) as f64 / (1u64 << 53) as f64
    }

    /// With a mean of nothing and a variance of one (G. Box and M. Muller).
    pub(crate) fn normal(&mut self) -> f64 {
        let (a, b) = (1.0 - self.even(), self.even());
        (-2.0 * libm::log(a)).sqrt() * libm::cos(std::f64::consts::TAU * b)
    }
}
