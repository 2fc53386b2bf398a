//! Payment claims: what is due of each line and of the whole, to the hundredth.
//!
//! A line is claimed to date; what is due of it is that less what was claimed or certified before, and each part of the
//! difference is told: this period's work, what an earlier claim had wrong, what the payer did not accept, and a rate
//! that changed. The whole is worked out to date too: work, materials on site, price adjustment, retention, advances.

mod line;
mod valuation;

pub use line::{ClaimedBefore, LinePart, LineParts, LineWorth};
pub use valuation::{ClaimTerms, PeriodFacts, Valuation, ValuationError};
