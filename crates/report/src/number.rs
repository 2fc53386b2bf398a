//! Numbers as people read them.

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
