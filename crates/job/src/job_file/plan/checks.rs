//! What is checked of a job, and the findings that are acknowledged, once every name in them is known.

use crate::conformity_rules::{Acceptance, CrossfallRules, LimitRules};
use crate::error::JobFileLine;
use crate::finding::{Code, Finding};
use crate::input::Source;

/// Ground that nobody touched between two surveys.
#[derive(Debug, Clone)]
pub(crate) struct UntouchedPlan {
    pub(crate) zones: Vec<String>,
    /// The earlier and the later survey.
    pub(crate) sides: [Source; 2],
    pub(crate) spot: JobFileLine,
}

/// A built surface that is held against its design.
#[derive(Debug, Clone)]
pub(crate) struct ConformityPlan {
    pub(crate) description: String,
    /// The design, and what was built.
    pub(crate) sides: [Source; 2],
    pub(crate) zones: Vec<String>,
    pub(crate) limits: LimitRules,
    pub(crate) acceptance: Acceptance,
    pub(crate) crossfall: Option<CrossfallRules>,
    pub(crate) spot: JobFileLine,
}

/// A warning that somebody has looked into.
#[derive(Debug, Clone)]
pub(crate) struct AcknowledgedPlan {
    pub(crate) code: Code,
    /// Words that its place or its message has, where not all of that code are meant.
    pub(crate) about: Option<String>,
    pub(crate) reason: String,
    pub(crate) spot: JobFileLine,
}

impl AcknowledgedPlan {
    /// True for a finding that is meant.
    pub(crate) fn is_of(&self, of: &str, finding: &Finding) -> bool {
        let about = self.about.as_deref();
        let said = || format!("{of}: {finding}");
        finding.code == self.code && about.is_none_or(|about| has_words(&said(), about))
    }
}

/// True where a text has some words, and not only as a part of longer ones: "item 1.1" is no part of "item 1.10" or "item 1.1.2".
fn has_words(text: &str, words: &str) -> bool {
    let goes_on = |after: &str| {
        let mut letters = after.chars();
        match letters.next() {
            Some('.' | '-' | '_') => letters.next().is_some_and(char::is_alphanumeric),
            first => first.is_some_and(char::is_alphanumeric),
        }
    };
    text.match_indices(words).any(|(at, found)| {
        let before: String = text[..at].chars().rev().take(2).collect();
        let after = &text[at + found.len()..];
        !goes_on(&before) && !goes_on(after)
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_found_whole() {
        let said = "item 1.10: zone \"east\": 4.5 m² not compared";
        for words in ["east", "item 1.10", "zone \"east\"", "4.5 m²", said] {
            assert!(has_words(said, words), "{words}");
        }
        for words in ["item 1.1", "1.1", "10: zo", "eas", "tem 1", "5 m²", "west"] {
            assert!(!has_words(said, words), "{words}");
        }
        assert!(has_words("east-west: west", "west") && !has_words("east-west", "east"));
        assert!(has_words("größer ß", "ß") && !has_words("größer", "ß"));
    }
}
