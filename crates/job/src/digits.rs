//! Digits as people read them: the whole ones in threes.

/// A written figure without a sign, its whole digits grouped in threes by a gap (SI brochure, 5.4.4).
///
/// ```
/// use dapedon_job::in_threes;
/// assert_eq!(in_threes("1234567.875", ' '), "1 234 567.875");
/// assert_eq!(in_threes("999", ' '), "999");
/// ```
pub fn in_threes(plain: &str, gap: char) -> String {
    let (whole, fraction) = plain.split_at(plain.find('.').unwrap_or(plain.len()));
    let mut text = String::new();
    for (index, digit) in whole.char_indices() {
        if index > 0 && (whole.len() - index).is_multiple_of(3) {
            text.push(gap);
        }
        text.push(digit);
    }
    text + fraction
}

/// A figure with a decimal, or with as many as it takes to say that it is something.
pub(crate) fn figure_in_words(value: f64) -> String {
    let sign = if value < 0.0 { "−" } else { "" };
    match value.abs() {
        0.0 => "0.0".into(),
        large @ 0.05.. => format!("{sign}{}", in_threes(&format!("{large:.1}"), ' ')),
        small => {
            let decimals = (-libm::log10(small)).ceil().clamp(1.0, 12.0) as usize;
            format!("{value:.decimals$}")
        }
    }
}

/// A count.
pub(crate) fn count_in_words(count: impl ToString) -> String {
    in_threes(&count.to_string(), ' ')
}
