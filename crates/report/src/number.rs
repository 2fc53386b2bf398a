//! Numbers as people read them.

use dapedon_core::FARTHEST;

/// A number rounded to `decimals`, its digits grouped in threes by `separator` (SI brochure, 5.4.4),
/// with a true minus sign. Nothing is ever shown as minus zero.
///
/// ```
/// use dapedon_report::number::grouped;
/// assert_eq!(grouped(-1234567.891, 1, " "), "−1 234 567.9");
/// assert_eq!(grouped(-0.04, 1, " "), "0.0");
/// ```
pub fn grouped(value: f64, decimals: usize, separator: &str) -> String {
    let plain = format!("{:.decimals$}", value.abs());
    let (whole, fraction) = plain.split_at(plain.find('.').unwrap_or(plain.len()));
    let mut text = String::new();
    if value < 0.0 && plain.bytes().any(|digit| (b'1'..=b'9').contains(&digit)) {
        text.push('−');
    }
    for (index, digit) in whole.char_indices() {
        if index > 0 && (whole.len() - index) % 3 == 0 {
            text.push_str(separator);
        }
        text.push(digit);
    }
    text + fraction
}

/// From where to where, as in an extent. What lies beyond any survey is told by its power of ten, not by all its digits.
///
/// ```
/// use dapedon_report::number::range;
/// assert_eq!(range([-1.25, 80.0], 2), "-1.25 to 80.00");
/// assert_eq!(range([0.0, 5e307], 1), "0.0 to 5e307");
/// ```
pub fn range(ends: [f64; 2], decimals: usize) -> String {
    let [low, high] = ends.map(|value| match value.abs() <= FARTHEST {
        true => format!("{value:.decimals$}"),
        false => format!("{value:e}"),
    });
    format!("{low} to {high}")
}

/// An amount of money or a rate: to the hundredth, or as many decimals more as it has, up to six.
///
/// ```
/// use dapedon_report::number::money;
/// assert_eq!(money(3.8, " "), "3.80");
/// assert_eq!(money(0.0425, " "), "0.0425");
/// ```
pub fn money(amount: f64, separator: &str) -> String {
    let written = |decimals: i32| {
        let ten = 10f64.powi(decimals);
        ((amount * ten).round() / ten - amount).abs() < 1e-9
    };
    let decimals = (2..6).find(|&decimals| written(decimals)).unwrap_or(6);
    grouped(amount, decimals as usize, separator)
}
