//! Accuracies as they are stated: a kind of survey, numbers, or both.

use std::fmt;
use std::str::FromStr;

use dapedon_core::quantities::Accuracy;
use dapedon_core::units::LengthUnit;

use super::{AccuracyInFile, SurfaceAccuracy, SurveyKind};

/// The numbers that may be stated, and the greatest of each that is believed, in metres.
const NUMBERS: [(&str, f64); 5] = [
    ("height", 2.0),
    ("plan", 5.0),
    ("common-height", 2.0),
    ("common-plan", 5.0),
    ("correlation", 10_000.0),
];

/// An accuracy as it is stated: `gnss`, `height=0.02,common-height=0.01`, or `gnss,height=0.03`.
///
/// Numbers are standard uncertainties, in a length unit that is known later.
#[derive(Debug, Clone, PartialEq)]
pub struct StatedAccuracy {
    /// The kind whose usual values stand for numbers that are not stated.
    pub kind: Option<SurveyKind>,
    /// The numbers, in the order of [`Accuracy`]'s.
    numbers: [Option<f64>; 5],
}

impl StatedAccuracy {
    /// A kind, if one is stated, and the numbers that are stated: of height, plan, common height, common plan, and the
    /// correlation length.
    ///
    /// # Errors
    ///
    /// When nothing is stated, or a number is below zero or none.
    pub fn new(kind: Option<SurveyKind>, numbers: [Option<f64>; 5]) -> Result<Self, AccuracyError> {
        for ((key, _), number) in NUMBERS.iter().zip(numbers) {
            if let Some(value) = number.filter(|value| !(value.is_finite() && *value >= 0.0)) {
                return Err(AccuracyError::BelowZero { key, value });
            }
        }
        let [height, plan, common_height, common_plan, _] = numbers;
        let says = [height, plan, common_height, common_plan];
        if kind.is_none() && says.iter().all(Option::is_none) {
            return Err(AccuracyError::Nothing);
        }
        Ok(StatedAccuracy { kind, numbers })
    }

    /// Its numbers from their unit in another one; those that are not stated as its file says of its points, or else the usual ones of its kind.
    ///
    /// # Errors
    ///
    /// When a number is greater than that of any survey.
    pub(crate) fn resolved(
        &self,
        [of, to]: [LengthUnit; 2],
        in_file: Option<&AccuracyInFile>,
    ) -> Result<SurfaceAccuracy, AccuracyError> {
        let usual = self.kind.map_or(Accuracy::EXACT, SurveyKind::usual);
        let in_file = match self.kind {
            // What is exact is so whatever a file says.
            Some(SurveyKind::Design) => [None; 5],
            _ => in_file.map_or([None; 5], AccuracyInFile::numbers),
        };
        let mut found = [0.0; 5];
        let rows = found
            .iter_mut()
            .zip(NUMBERS)
            .zip(self.numbers.into_iter().zip(in_file).zip(usual.numbers()));
        for ((found, (key, greatest)), ((number, in_file), usual)) in rows {
            *found = match number {
                Some(value) if of.convert(value, LengthUnit::Metre) > greatest => {
                    return Err(AccuracyError::TooGreat {
                        key,
                        value,
                        unit: of,
                    });
                }
                Some(value) => of.convert(value, to),
                None => in_file.unwrap_or_else(|| LengthUnit::Metre.convert(usual, to)),
            };
        }
        let own = Accuracy::of(found);
        let both = self.numbers.iter().zip(in_file);
        let stands = { both }.any(|(number, in_file)| number.is_none() && in_file.is_none());
        let kinds = self
            .kind
            .filter(|kind| stands && *kind != SurveyKind::Design);
        let usual = kinds.into_iter().collect();
        let taken = self.numbers.iter().zip(in_file);
        let taken = { taken }.any(|(number, in_file)| number.is_none() && in_file.is_some());
        let words = match taken {
            true => format!("{self}, points as in its file"),
            false => self.to_string(),
        };
        Ok(SurfaceAccuracy::of(Some(words), usual, &own, to))
    }
}

impl fmt::Display for StatedAccuracy {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let numbers = NUMBERS.iter().zip(self.numbers);
        let numbers = numbers.filter_map(|((key, _), number)| Some(format!("{key}={}", number?)));
        let kind = self.kind.map(|kind| kind.code().to_owned());
        let words: Vec<String> = kind.into_iter().chain(numbers).collect();
        f.write_str(&words.join(", "))
    }
}

impl FromStr for StatedAccuracy {
    type Err = AccuracyError;

    fn from_str(text: &str) -> Result<Self, AccuracyError> {
        let (mut kind, mut numbers) = (None, [None; 5]);
        for word in text
            .split(',')
            .map(str::trim)
            .filter(|word| !word.is_empty())
        {
            let Some((key, figure)) = word.split_once('=') else {
                let known = word
                    .parse()
                    .map_err(|_| AccuracyError::NotKnown { word: word.into() })?;
                if kind.replace(known).is_some() {
                    return Err(AccuracyError::Twice { word: word.into() });
                }
                continue;
            };
            let (key, figure) = (key.trim(), figure.trim());
            let known = NUMBERS.iter().zip(&mut numbers);
            let Some((_, number)) = { known }.find(|((own, _), _)| *own == key) else {
                return Err(AccuracyError::NotKnown { word: key.into() });
            };
            let value = figure.parse().map_err(|_| AccuracyError::NoNumber {
                text: figure.into(),
            })?;
            if number.replace(value).is_some() {
                return Err(AccuracyError::Twice { word: key.into() });
            }
        }
        StatedAccuracy::new(kind, numbers)
    }
}

/// Why an accuracy cannot be used.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum AccuracyError {
    /// Neither a kind of survey nor a number of an accuracy.
    #[error("\"{word}\" is no kind of survey and no number of an accuracy")]
    NotKnown {
        /// What was given.
        word: String,
    },
    /// No number stands where one is expected.
    #[error("\"{text}\" is not a number")]
    NoNumber {
        /// What was given.
        text: String,
    },
    /// One thing is stated twice in one accuracy.
    #[error("\"{word}\" is stated a second time")]
    Twice {
        /// What it is.
        word: String,
    },
    /// An accuracy says neither a kind of survey nor how accurate points are.
    #[error("the accuracy says nothing about heights or places")]
    Nothing,
    /// A number of an accuracy is below zero, or not finite.
    #[error("the accuracy has {key} {value}, which is below zero or no number")]
    BelowZero {
        /// Which number.
        key: &'static str,
        /// What was given.
        value: f64,
    },
    /// A number of an accuracy is greater than that of any survey: perhaps millimetres.
    #[error("the accuracy has {key} {value} {}, more than any survey is off by", unit.symbol())]
    TooGreat {
        /// Which number.
        key: &'static str,
        /// What was given.
        value: f64,
        /// The unit it is taken in.
        unit: LengthUnit,
    },
}

impl AccuracyError {
    pub(crate) fn remedy(&self) -> String {
        match self {
            AccuracyError::TooGreat { unit, .. } => format!(
                "give standard uncertainties in {}, not in millimetres",
                unit.symbol()
            ),
            AccuracyError::BelowZero { .. } => "give a standard uncertainty of zero or more".into(),
            AccuracyError::Twice { .. } => "state it once".into(),
            AccuracyError::NotKnown { .. }
            | AccuracyError::NoNumber { .. }
            | AccuracyError::Nothing => format!(
                "use a kind ({}), numbers as in height=0.02,common-height=0.01, or both",
                SurveyKind::listed()
            ),
        }
    }
}

dapedon_diagnostic::diagnostic!(AccuracyError, "accuracy");
crate::error::job_error!(AccuracyError);

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::units::Foot;

    const METRES: [LengthUnit; 2] = [LengthUnit::Metre; 2];

    #[test]
    fn what_is_stated_is_read_back() {
        for text in [
            "gnss",
            "height=0.02",
            "gnss, height=0.03, common-plan=0",
            "height=0.02, plan=0.03, common-height=0.01, common-plan=0.02, correlation=5",
        ] {
            let stated: StatedAccuracy = text.parse().unwrap();
            assert_eq!(stated.to_string(), text);
            assert_eq!(stated.to_string().parse(), Ok(stated));
        }
    }

    #[test]
    fn usual_values_stand_for_numbers_that_are_not_stated() {
        let feet = LengthUnit::Foot(Foot::UsSurvey);
        let stated: StatedAccuracy = "gnss,height=0.1".parse().unwrap();
        let found = stated.resolved([feet, LengthUnit::Metre], None).unwrap();
        assert_eq!(found.height.value, 0.1 * 1200.0 / 3937.0);
        assert_eq!(found.plan.value, SurveyKind::Gnss.usual().plan);
        assert_eq!(found.usual_values_of, [SurveyKind::Gnss]);
        let own: StatedAccuracy = "height=0.02".parse().unwrap();
        let found = own.resolved(METRES, None).unwrap();
        assert!(found.usual_values_of.is_empty());
        assert_eq!(found.plan.value, 0.0);
        let design: StatedAccuracy = "design".parse().unwrap();
        assert!(design.resolved(METRES, None).unwrap().is_exact());
    }

    #[test]
    fn what_is_no_accuracy_is_refused_by_name() {
        let refused = |text: &str| {
            let read: Result<StatedAccuracy, _> = text.parse();
            let error = read
                .and_then(|stated| stated.resolved(METRES, None))
                .unwrap_err();
            let code: &'static str = (&error).into();
            assert!(!error.remedy().is_empty());
            code
        };
        assert_eq!(refused("good"), "not-known");
        assert_eq!(refused("heigth=0.02"), "not-known");
        assert_eq!(refused("height=2cm"), "no-number");
        assert_eq!(refused("height=NaN"), "below-zero");
        assert_eq!(refused("height=inf"), "below-zero");
        assert_eq!(refused("common-plan=-0.01"), "below-zero");
        assert_eq!(refused("height=20"), "too-great");
        assert_eq!(refused("gnss,plan=15"), "too-great");
        assert_eq!(refused(""), "nothing");
        assert_eq!(refused("correlation=5"), "nothing");
        assert_eq!(refused("gnss,design"), "twice");
        assert_eq!(refused("height=1,height=1"), "twice");
    }
}
