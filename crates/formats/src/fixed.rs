//! Numbers with so many decimals.

use std::fmt;

/// A number that is written with so many decimals, as `{:.3}` would write it; but for numbers that a
/// double holds to the last decimal, which are nearly all, in a tenth of the time.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Fixed(pub(crate) f64, pub(crate) usize);

/// Beyond this not every whole number is a double.
const WHOLE: f64 = 9_007_199_254_740_992.0;

impl fmt::Display for Fixed {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Fixed(value, decimals) = *self;
        let scaled = (value * 10f64.powi(decimals as i32)).round();
        if decimals > 12 || scaled.is_nan() || scaled.abs() >= WHOLE {
            return write!(f, "{value:.decimals$}");
        }
        // From the last digit to the first.
        let mut digits = [b'0'; 32];
        let mut at = digits.len();
        let mut left = scaled.abs() as u64;
        let mut written = 0;
        while left > 0 || written <= decimals {
            if written == decimals && decimals > 0 {
                at -= 1;
                digits[at] = b'.';
            }
            at -= 1;
            digits[at] = b'0' + (left % 10) as u8;
            left /= 10;
            written += 1;
        }
        if scaled < 0.0 {
            at -= 1;
            digits[at] = b'-';
        }
        f.write_str(std::str::from_utf8(&digits[at..]).map_err(|_| fmt::Error)?)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn numbers_are_written_as_they_should_be() {
        for (value, decimals, written) in [
            (0.0, 3, "0.000"),
            (-0.0, 2, "0.00"),
            (-1.5, 0, "-2"),
            (12.0, 0, "12"),
            (0.05, 1, "0.1"),
            (-0.001, 3, "-0.001"),
            (6_000_000.123, 3, "6000000.123"),
            (1e300, 1, &format!("{:.1}", 1e300)),
        ] {
            assert_eq!(Fixed(value, decimals).to_string(), written);
        }
    }

    proptest! {
        /// Read back, a number is within half of the last decimal, and a hair for the rounding.
        #[test]
        fn numbers_read_back(value in -1e7..1e7f64, decimals in 0usize..9) {
            let text = Fixed(value, decimals).to_string();
            let back: f64 = text.parse().unwrap();
            prop_assert!((back - value).abs() <= 0.5 * 10f64.powi(-(decimals as i32)) + 2e-9);
            prop_assert_eq!(text.split('.').nth(1).map_or(0, str::len), decimals);
        }
    }
}
