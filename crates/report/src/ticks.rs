//! Round numbers along an axis.

pub(crate) use dapedon_core::plan::round_up;

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
        assert_eq!([0.5, 0.02, 5.0].map(decimals), [1, 2, 0]);
        assert!(between(-2.5, 5.1, 2.5).eq([-2.5, 0.0, 2.5, 5.0]));
    }
}
