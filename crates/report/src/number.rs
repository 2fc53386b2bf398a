//! Numbers as people read them.

use dapedon_core::surface::FARTHEST;
use dapedon_job::in_threes;
use rust_decimal::prelude::ToPrimitive;
use rust_decimal::{Decimal, RoundingStrategy};

/// Halves are rounded away from zero.
const AWAY: RoundingStrategy = RoundingStrategy::MidpointAwayFromZero;

/// What digits are grouped by: a narrow space that no line is broken at. A terminal shows it as a space.
pub const GAP: char = '\u{202f}';

/// A number rounded to `decimals`, its digits grouped in threes by a [`GAP`] (SI brochure, 5.4.4), with a true minus
/// sign. Nothing is ever shown as minus zero.
///
/// ```
/// use dapedon_report::number::grouped;
/// assert_eq!(grouped(-1234567.891, 1), "−1\u{202f}234\u{202f}567.9");
/// assert_eq!(grouped(-0.04, 1), "0.0");
/// ```
pub fn grouped(value: f64, decimals: usize) -> String {
    let plain = format!("{:.decimals$}", value.abs());
    let below = value < 0.0 && plain.bytes().any(|digit| (b'1'..=b'9').contains(&digit));
    let sign = if below { "−" } else { "" };
    format!("{sign}{}", in_threes(&plain, GAP))
}

/// A figure and its uncertainty, the uncertainty rounded to two digits and the figure to the same place (JCGM 100:2008, 7.2.6);
/// none where nothing is uncertain, or digits do not reach.
///
/// ```
/// use dapedon_report::number::{rounded_with, written};
/// let words = |figure, uncertainty| rounded_with(figure, uncertainty).unwrap().map(written);
/// assert_eq!(words(45_678.9, 1234.5), ["45\u{202f}700", "1\u{202f}200"]);
/// assert_eq!(words(-3.14159, 0.0996), ["−3.14", "0.10"]);
/// ```
pub fn rounded_with(figure: f64, uncertainty: f64) -> Option<[Decimal; 2]> {
    // Beyond these digits do not reach.
    if !(1e-9..1e15).contains(&uncertainty) {
        return None;
    }
    // What rounds up to three digits has one fewer behind the point.
    let place = |value: f64| 1 - libm::log10(value).floor() as i32;
    let to = |value: f64, places: i32| -> Option<Decimal> {
        let value = Decimal::from_f64_retain(value)?;
        match u32::try_from(places) {
            Ok(places) => {
                let mut rounded = value.round_dp_with_strategy(places, AWAY);
                rounded.rescale(places);
                Some(rounded)
            }
            Err(_) => {
                let step = Decimal::from(10i64.checked_pow(places.unsigned_abs())?);
                let rounded = value.checked_div(step)?.round_dp_with_strategy(0, AWAY);
                rounded.checked_mul(step)
            }
        }
    };
    let first = place(uncertainty);
    let rounded = to(uncertainty, first)?.to_f64()?;
    let place = place(rounded).min(first);
    Some([to(figure, place)?, to(uncertainty, place)?])
}

/// From where to where, as in an extent. What is outside any survey is known by its power of ten, not by all its digits.
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

/// A figure of a contract, with the decimals that it carries.
///
/// ```
/// use dapedon_report::number::written;
/// use rust_decimal::dec;
/// assert_eq!(written(dec!(-1234567.80)), "−1\u{202f}234\u{202f}567.80");
/// assert_eq!(written(dec!(4)), "4");
/// ```
pub fn written(figure: Decimal) -> String {
    let sign = if figure.is_sign_negative() && !figure.is_zero() {
        "−"
    } else {
        ""
    };
    format!("{sign}{}", in_threes(&figure.abs().to_string(), GAP))
}

/// An amount of money or a rate: to the hundredth, or with as many decimals more as it has.
///
/// ```
/// use dapedon_report::number::money;
/// use rust_decimal::dec;
/// assert_eq!(money(dec!(3.8)), "3.80");
/// assert_eq!(money(dec!(0.0425)), "0.0425");
/// ```
pub fn money(amount: Decimal) -> String {
    let mut amount = amount.normalize();
    if amount.scale() < 2 {
        amount.rescale(2);
    }
    written(amount)
}
