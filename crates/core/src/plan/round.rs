//! Round numbers.

/// The least of 1, 2, 5 and their tens that is at least `size`.
///
/// ```
/// use dapedon_core::plan::round_up;
/// assert_eq!([0.3, 0.2, 7.0, 20.1].map(round_up), [0.5, 0.2, 10.0, 50.0]);
/// ```
pub fn round_up(size: f64) -> f64 {
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
