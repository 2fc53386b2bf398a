//! What must be known before a figure is trusted, or is not as it should be: by a code that does not change.

use std::fmt;
use std::str::FromStr;

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Serialize};

/// How much a finding weighs.
#[derive(
    Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema,
)]
#[serde(rename_all = "snake_case")]
pub enum Severity {
    /// It must be known before a figure is trusted.
    Warning,
    /// Something is not as it should be: the exit code is 1.
    Failed,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Finding {
    /// What kind of finding it is.
    pub code: Code,
    /// How much it weighs.
    pub severity: Severity,
    /// Where: a file, a zone, an item.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub place: Option<String>,
    /// What was found, with its figures.
    pub words: String,
    /// What to do about it, where something can be done.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub remedy: Option<String>,
}

impl Finding {
    /// A finding in words.
    pub(crate) fn new(code: Code, words: impl Into<String>) -> Self {
        Finding {
            code,
            severity: code.severity(),
            place: None,
            words: words.into(),
            remedy: None,
        }
    }

    /// The same at a place; within the one that it says itself, if it does.
    pub fn at(mut self, place: impl fmt::Display) -> Self {
        self.place = Some(match self.place {
            Some(own) => format!("{place}: {own}"),
            None => place.to_string(),
        });
        self
    }

    /// The same at a place, if there is one.
    pub(crate) fn within(self, place: &Option<String>) -> Self {
        match place {
            Some(place) => self.at(place),
            None => self,
        }
    }

    /// The same with what to do about it.
    pub(crate) fn remedy(mut self, remedy: impl Into<String>) -> Self {
        self.remedy = Some(remedy.into());
        self
    }
}

impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match &self.place {
            Some(place) => write!(f, "{place}: {}", self.words),
            None => f.write_str(&self.words),
        }
    }
}

macro_rules! codes {
    ($($name:ident $code:literal $severity:ident $meaning:literal)+) => {
        /// What kind of finding it is.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[non_exhaustive]
        pub enum Code {
            $(#[doc = $meaning] #[serde(rename = $code)] $name,)+
        }

        impl Code {
            /// All of them.
            pub const ALL: &[Code] = &[$(Code::$name),+];

            /// How it is written.
            pub const fn code(self) -> &'static str {
                match self { $(Code::$name => $code),+ }
            }

            /// What it means, in a sentence.
            pub const fn meaning(self) -> &'static str {
                match self { $(Code::$name => $meaning),+ }
            }

            /// How much it weighs.
            pub const fn severity(self) -> Severity {
                match self { $(Code::$name => Severity::$severity),+ }
            }
        }
    };
}

codes! {
    OffContract "off-contract" Failed "A quantity is off its contract quantity by more than the share that is allowed."
    BelowLeast "below-least" Failed "A quantity is less than the least expected."
    AboveMost "above-most" Failed "A quantity is more than the most expected."
    AboveEdge "above-edge" Failed "A level lies above where water runs over the edge of the basin."
    NotCompared "not-compared" Warning "Ground is covered by one surface only, or by neither, and is in no volume."
    NothingCompared "nothing-compared" Warning "Two surfaces do not meet within a zone."
    Closure "closure" Warning "The areas of the pieces do not add up to the area of their domain."
    Fold "fold" Warning "A surface folds over itself: ground below a fold counts once for each."
    ZonesOverlap "zones-overlap" Warning "Zones share ground, which their total counts more than once."
    SameSurface "same-surface" Warning "A surface is measured against itself."
    FinishedLevel "finished-level" Warning "A finished level is measured without the build-up that lies below it."
    TakenAsSame "taken-as-same" Warning "Two coordinate systems or systems of heights were taken as the same."
    UnitNotUsed "unit-not-used" Warning "A file says another unit than the command line: its own holds."
    NoEffect "no-effect" Warning "An option has nothing to act on."
    Outliers "outliers" Warning "Points stand out from all their neighbours."
    ZeroHeights "zero-heights" Warning "Some points have height 0, far from all others."
    Patches "patches" Warning "Points lie in separate patches, and long triangles bridge them."
    LinesCross "lines-cross" Warning "Lines cross each other at different heights."
    LeftOut "left-out" Warning "Something in a file was left out."
    ZoneNotes "zone-notes" Warning "Something was understood or left out where zones were read."
    AtTheEnd "at-the-end" Warning "A pile reaches to where the surface ends, and is left out."
    BeyondSurface "beyond-surface" Warning "Part of an outline lies beyond a surface, and is not measured."
    NotSurveyedBefore "not-surveyed-before" Warning "The survey before does not reach all of an outline."
    NoUnit "no-unit" Warning "A file does not say its length unit."
    NoSurface "no-surface" Warning "No surface can be made of a file."
    Degrees "degrees" Warning "Coordinates look like degrees."
    Unreadable "unreadable" Warning "Part of a file cannot be used."
    Gap "gap" Warning "Elements of an alignment do not join."
    Unnamed "unnamed" Warning "Zones have no name, and are numbered."
    UnitsDiffer "units-differ" Warning "Two files are in different length units."
    SystemsDiffer "systems-differ" Warning "Two files are in different coordinate systems or systems of heights."
    HeightsApart "heights-apart" Warning "One surface lies above the other by nearly the same height throughout."
    LittleShared "little-shared" Warning "Two surfaces share little ground, or none."
}

impl fmt::Display for Code {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.code())
    }
}

impl FromStr for Code {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        (Code::ALL.iter().copied())
            .find(|code| code.code() == text)
            .ok_or(())
    }
}

impl JsonSchema for Code {
    fn schema_name() -> std::borrow::Cow<'static, str> {
        "Code".into()
    }

    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        let codes: Vec<&str> = Code::ALL.iter().map(|code| code.code()).collect();
        json_schema!({ "type": "string", "enum": codes })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn codes_are_read_as_they_are_written() {
        for (index, &code) in Code::ALL.iter().enumerate() {
            assert_eq!(code.code().parse(), Ok(code));
            assert_eq!(serde_json::to_value(code).unwrap(), code.code());
            let again = Code::ALL[..index].iter().any(|c| c.code() == code.code());
            assert!(!again, "{code}");
        }
    }

    #[test]
    fn places_stand_before_words() {
        let found = Finding::new(Code::Fold, "it folds")
            .at("surface a")
            .at("file.xml");
        assert_eq!(found.to_string(), "file.xml: surface a: it folds");
    }
}
