//! The levels of a table.

use dapedon_core::plan::RELATIVE;

use super::{CapacityError, CapacityRequest};

/// Rows of a table at most.
const MOST: f64 = 100_000.0;

/// The levels of the table.
pub(super) fn levels(
    request: &CapacityRequest,
    lowest: f64,
    brim: f64,
) -> Result<Vec<f64>, CapacityError> {
    let (from, to) = (request.from.unwrap_or(lowest), request.to.unwrap_or(brim));
    if let Some(from) = request.from
        && (from >= to || from.is_nan())
    {
        return Err(CapacityError::UpsideDown { from, to });
    }
    if to.is_nan() || to <= lowest {
        return Err(CapacityError::Dry { to, lowest });
    }
    let step = request.step.unwrap_or_else(|| round_step(to - from));
    if step.is_nan() || step <= 0.0 {
        return Err(CapacityError::NoStep { step });
    }
    if (to - from) / step > MOST {
        return Err(CapacityError::TooMany { from, to, step });
    }
    // From a level that is named in whole steps; else at whole multiples of the step.
    let first = match request.from {
        Some(from) => from,
        None => (from / step).ceil() * step,
    };
    let inner = (0..).map(|index| first + f64::from(index) * step);
    let slack = RELATIVE * step;
    let inner = inner.take_while(|level| *level < to - slack);
    let mut levels = vec![from];
    levels.extend(inner.filter(|level| *level > from + slack));
    levels.push(to);
    Ok(levels)
}

/// The least of 1, 2, 5 and their tens that makes no more than 25 steps.
fn round_step(range: f64) -> f64 {
    let ten = libm::pow(10f64, libm::log10(range / 25.0).floor());
    let steps = [1.0, 2.0, 5.0, 10.0].map(|step| step * ten);
    let fits = |step: &f64| range / step <= 25.0 * (1.0 + RELATIVE);
    steps.into_iter().find(fits).unwrap_or(10.0 * ten)
}
