//! Round numbers along an axis.

/// The least of 1, 2, 5 and their tens that is at least `size`.
pub(crate) fn round_up(size: f64) -> f64 {
    if !(size.is_finite() && size > 0.0) {
        return 1.0;
    }
    let ten = libm::pow(10f64, libm::log10(size).floor());
    // A hair of slack, so that 0.2 is not found to be more than 2 × 0.1.
    let steps = [1.0, 2.0, 5.0, 10.0].map(|step| step * ten);
    steps
        .into_iter()
        .find(|&step| step >= size * (1.0 - 1e-9))
        .unwrap_or(10.0 * ten)
}

/// Decimals needed to write multiples of a round step.
pub(crate) fn decimals(step: f64) -> usize {
    (-libm::log10(step).floor()).max(0.0) as usize
}

/// The multiples of `step` between two values.
pub(crate) fn between(from: f64, to: f64, step: f64) -> impl Iterator<Item = f64> {
    let first = (from / step).ceil() as i64;
    let last = (to / step).floor() as i64;
    (first..=last).map(move |i| i as f64 * step)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn steps_are_round() {
        assert_eq!(
            [0.3, 0.2, 7.0, 20.1, 1000.0].map(round_up),
            [0.5, 0.2, 10.0, 50.0, 1000.0]
        );
        assert_eq!([0.5, 0.02, 5.0].map(decimals), [1, 2, 0]);
        assert_eq!(round_up(0.0), 1.0);
        assert!(between(-2.5, 5.1, 2.5).eq([-2.5, 0.0, 2.5, 5.0]));
    }
}
