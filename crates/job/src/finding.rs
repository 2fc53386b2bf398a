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

/// How much the system of maps on the web stretches lengths: by one over the cosine of the latitude.
pub(crate) const STRETCH: &str = "by half at 48 degrees of latitude, and to twice at 60";

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
    pub message: String,
    /// What to do about it, where something can be done.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub remedy: Option<String>,
    /// Why it is in order, where the job file acknowledges it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub acknowledged: Option<String>,
}

impl Finding {
    /// A finding in words.
    pub(crate) fn new(code: Code, words: impl Into<String>) -> Self {
        Finding {
            code,
            severity: code.severity(),
            place: None,
            message: words.into(),
            remedy: None,
            acknowledged: None,
        }
    }

    /// What was found while a result was drawn, and what to do about it.
    pub fn of(code: Code, words: impl Into<String>, remedy: &str) -> Self {
        Finding::new(code, words).remedy(remedy)
    }

    /// Coordinates in the system of maps on the web.
    pub(crate) fn web_mercator(name: &str) -> Self {
        let words = format!("{name} stretches lengths: {STRETCH}");
        Finding::new(Code::WebMercator, words).remedy("convert the file to the survey's grid")
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
            Some(place) => write!(f, "{place}: {}", self.message),
            None => f.write_str(&self.message),
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
    OffContract "off-contract" Failed "A quantity differs from its contract quantity by more than the allowed share."
    BelowLeast "below-least" Failed "A quantity is below the lowest expected."
    AboveMost "above-most" Failed "A quantity is above the highest expected."
    OpinionOff "opinion-off" Failed "A second opinion differs from a volume by more than the limit."
    DoesNotConform "does-not-conform" Failed "A built surface does not lie within the limits of its design."
    ConformityNotShown "conformity-not-shown" Failed "The uncertainty is too large to show that a built surface lies within the limits of its design."
    PlanNotReached "plan-not-reached" Failed "No spacing of points makes a volume as certain as is wanted."
    AboveEdge "above-edge" Failed "A level is above the spill level of the basin."
    BelowPaid "below-paid" Warning "A quantity to date is below what was paid before: money goes back."
    RateChanged "rate-changed" Warning "The rate of a line is not the one it was claimed at before."
    SurveyAfterPeriod "survey-after-period" Warning "A claim is measured to a survey that is later than its period."
    PeriodsDiffer "periods-differ" Warning "Two surveys differ by another volume than their figures to date, and nothing explains it."
    NotCompared "not-compared" Warning "Ground is covered by only one surface, or by none, and is not in any volume."
    NothingCompared "nothing-compared" Warning "The two surfaces do not overlap in a zone."
    Closure "closure" Warning "The closure error is too large: the areas of the pieces do not add up to the measured area."
    Fold "fold" Warning "A surface overlaps itself: that ground is counted once for each overlap."
    ZonesOverlap "zones-overlap" Warning "Zones overlap, and their total counts the shared ground more than once."
    SameSurface "same-surface" Warning "A surface is compared with itself."
    FinishedLevel "finished-level" Warning "A finished level is measured without the build-up below it."
    TakenAsSame "taken-as-same" Warning "Two coordinate systems or height systems were treated as the same."
    UnitNotUsed "unit-not-used" Warning "A file has another unit than the command line. The unit of the file is used."
    UnitOverridden "unit-overridden" Warning "The unit of a file was overridden."
    NoEffect "no-effect" Warning "An option has no effect."
    Outliers "outliers" Warning "Outliers: points far above or below all their neighbours."
    NoHeights "no-heights" Warning "All heights of a drawing or map file are 0: perhaps it was drawn without heights."
    StepsAsPoints "steps-as-points" Warning "A surface with vertical steps is written as points, which cannot hold them."
    ScannerFrame "scanner-frame" Warning "The scans of a cloud have no position in a grid."
    FarPoints "far-points" Warning "A few points are far from all others."
    MissingHeights "missing-heights" Warning "Some heights look like marks for a missing measurement."
    Patches "patches" Warning "Points are in separate areas, and long triangles bridge the gaps."
    NotOnMap "not-on-map" Warning "Something that was asked for has no room on a map."
    LevelsOutside "levels-outside" Warning "A level is outside the range of a surface, and has no contour."
    SpotsOutside "spots-outside" Warning "Some places are outside a surface, or where it steps, and have no difference."
    HaulUnbalanced "haul-unbalanced" Warning "Cut of a haul plan has no place to go to, or nothing comes for fill."
    EndsWithinWidth "ends-within-width" Warning "A surface ends within the width of a section, and the rest of it is not in the areas."
    SectionsCross "sections-cross" Warning "Sections cross each other on the inner side of a curve: the ground beyond counts twice."
    LineCrossesItself "line-crosses-itself" Warning "A line crosses itself: a place there has two chainages."
    LineBends "line-bends" Warning "A line bends without a curve. Sections there are square to the line ahead."
    ProfileShort "profile-short" Warning "The heights of a line end before the line does."
    FlatTriangles "flat-triangles" Warning "Flat triangles between points of one contour cut off valleys, ridges and summits."
    LinesCross "lines-cross" Warning "Lines cross each other at different heights."
    SeveralProfiles "several-profiles" Warning "A line has several profiles of heights, and the first is used."
    LeftOut "left-out" Warning "Part of a file was skipped."
    ZoneNotes "zone-notes" Warning "Zones were read with an assumption, or with something skipped."
    AtTheEnd "at-the-end" Warning "A pile touches the edge of the survey and is not measured."
    BeyondSurface "beyond-surface" Warning "Part of an outline is outside a surface and is not measured."
    NotSurveyedBefore "not-surveyed-before" Warning "The earlier survey does not cover all of an outline."
    HeightUnit "height-unit" Warning "The unit of heights is not known. The unit in plan is assumed."
    NoUnit "no-unit" Warning "A file has no length unit."
    NoSurface "no-surface" Warning "No surface can be made of a file."
    Degrees "degrees" Warning "Coordinates look like degrees."
    WebMercator "web-mercator" Warning "Coordinates are in the system of maps on the web, which stretches lengths."
    Unreadable "unreadable" Warning "Part of a file cannot be used."
    StatedVolume "stated-volume" Warning "A volume that a file states is not the one between its surfaces."
    Gap "gap" Warning "Elements of an alignment do not connect."
    Unnamed "unnamed" Warning "Zones without a name are numbered."
    UnitsDiffer "units-differ" Warning "Two files are in different length units."
    SystemsDiffer "systems-differ" Warning "Two files, or two layers of one, are in different coordinate systems or height systems."
    HeightsApart "heights-apart" Warning "One surface is above the other by nearly the same height everywhere."
    SidesSwapped "sides-swapped" Warning "An item counts cut and nearly all is fill, or the other way round."
    DatesReversed "dates-reversed" Warning "The reference is later than the surveyed surface, by the dates in their files."
    HeightsAlike "heights-alike" Warning "All points of a survey have the same height."
    AccuracyMissing "accuracy-missing" Warning "The accuracy of only one of two surfaces is known, and no uncertainty is given."
    AccuracyCoarse "accuracy-coarse" Warning "Heights are stated to be less accurate than those of any survey for volumes."
    AccuracyShared "accuracy-shared" Warning "Two surfaces share a survey, whose errors count as if they were independent."
    ToleranceFine "tolerance-fine" Warning "A tolerance is smaller than the uncertainty of a difference at a point."
    OutlineOnFlank "outline-on-flank" Warning "The outline of a pile or a pit runs over its flank."
    UnitSuspected "unit-suspected" Warning "Heights of two surfaces look as if they were in different units."
    PlanShift "plan-shift" Warning "A shift in plan explains most of the difference of two surfaces."
    SameEverywhere "same-everywhere" Warning "Two surfaces of files differ by the same everywhere."
    StateUnusual "state-unusual" Warning "An item takes cut as compacted, or fill as bank."
    BetweenPointsUnknown "between-points-unknown" Warning "What the spacing of points leaves out is asked for and not known."
    LimitsFine "limits-fine" Warning "Limits of height are nearer to each other than the uncertainty of a difference on both sides."
    BeyondLimit "beyond-limit" Warning "Work was done beyond the limit it is paid up to."
    CommonErrorUnknown "common-error-unknown" Warning "A file states the accuracy of its points, and nobody that of the whole survey."
    GainedByChance "gained-by-chance" Warning "Cut or fill is too large, because errors count where two surfaces are closer than the uncertainty of their difference."
    PointsFarApart "points-far-apart" Warning "The ground bends so much between the points of a survey that flat triangles miss some of its volume."
    AcknowledgedNothing "acknowledged-nothing" Warning "A warning is acknowledged that is not there."
    UncertaintyLeftOut "uncertainty-left-out" Warning "There are too many bands or slices for the uncertainty of each."
    NetUncertain "net-uncertain" Warning "A net volume is less than its uncertainty."
    UntouchedShift "untouched-shift" Warning "On untouched ground two surveys differ in height by more than their stated accuracy explains."
    UntouchedTilt "untouched-tilt" Warning "On untouched ground one survey leans against the other by more than their stated accuracy explains."
    UntouchedNoise "untouched-noise" Warning "On untouched ground single places differ by more than the stated accuracy explains."
    UntouchedFew "untouched-few" Warning "Untouched ground has too few points to find a shift by."
    UntouchedNotFound "untouched-not-found" Warning "No ground is found that looks untouched."
    LittleShared "little-shared" Warning "Two surfaces overlap little, or not at all."
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
