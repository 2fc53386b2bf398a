//! The second opinions that an item asks for.

use std::ops::Range;

use rust_decimal::Decimal;
use toml::Spanned;

use crate::job_file::JobFileError;
use crate::job_file::check::Checked;

/// Second opinions of an item.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct ItemOpinions {
    /// Quantities that others state, and who does.
    pub(crate) stated: Vec<(String, Decimal)>,
    /// The share that any of them may differ by.
    pub(crate) limit: Option<Decimal>,
}

impl ItemOpinions {
    /// The keys that ask for them.
    pub(super) const KEYS: [&str; 3] = ["second-opinion", "stated", "agree-within"];

    /// Where an item has these keys.
    pub(super) fn spans(
        item: &Checked<'_>,
    ) -> impl Iterator<Item = (&'static str, Option<Range<usize>>)> {
        let entry = item.entry;
        let spans = [
            entry.second_opinion.as_ref().map(Spanned::span),
            entry.stated.as_ref().map(Spanned::span),
            entry.agree_within.as_ref().map(Spanned::span),
        ];
        Self::KEYS.into_iter().zip(spans)
    }

    /// Those that an item asks for, if it does.
    pub(super) fn of(item: &Checked<'_>) -> Result<Option<Self>, JobFileError> {
        let entry = item.entry;
        let asked = entry.second_opinion.as_ref();
        let asked = asked.is_some_and(|asked| *asked.get_ref());
        let stated = entry.stated.as_ref().map_or(&[][..], |all| all.get_ref());
        if !asked && stated.is_empty() && entry.agree_within.is_none() {
            return Ok(None);
        }
        let stated = stated.iter().map(|stated| {
            let quantity = item.figure(&stated.quantity)?;
            match stated.by.trim() {
                "" => {
                    let what = "nobody is named who states the quantity";
                    let span = Spanned::span(&stated.quantity);
                    Err(item.sheet.fault(span, what, "add by = \"...\""))
                }
                by => Ok((by.to_owned(), quantity)),
            }
        });
        let limit = entry.agree_within.as_ref().map(|text| item.share(text));
        Ok(Some(ItemOpinions {
            stated: stated.collect::<Result<_, _>>()?,
            limit: limit.transpose()?,
        }))
    }
}
