//! How accurate surfaces are: what was stated of them, and what follows for a surface that is made from others.

mod in_file;
mod kinds;
mod stated;

use dapedon_core::quantities::Accuracy;
use dapedon_core::units::LengthUnit;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::Length;
pub use in_file::{AccuracyInFile, StatedByPoint};
pub use kinds::SurveyKind;
pub use stated::{AccuracyError, StatedAccuracy};

/// How accurate the points of a surface are: standard uncertainties.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct SurfaceAccuracy {
    /// As it was stated, of it or of what it is made from; not of a level.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stated: Option<String>,
    /// Kinds of survey whose usual values stand for numbers that were not stated.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub usual_values_of: Vec<SurveyKind>,
    /// Of the height of each point by itself.
    pub height: Length,
    /// Of the place of each point by itself, in east and in north.
    pub plan: Length,
    /// Of all heights alike: the setup, the datum.
    pub common_height: Length,
    /// Of all places alike, in east and in north.
    pub common_plan: Length,
    /// Distance at which the correlation of heights has fallen to 1/e.
    pub correlation: Length,
}

/// By how many standard uncertainties a figure is shown with ±: in 95 of 100 cases the true figure lies within.
pub const COVERAGE_FACTOR: f64 = 2.0;

impl SurfaceAccuracy {
    /// That of a level, which is exact by what it is.
    pub(crate) fn of_a_level(unit: LengthUnit) -> Self {
        SurfaceAccuracy::of(None, Vec::new(), &Accuracy::EXACT, unit)
    }

    fn of(
        stated: Option<String>,
        usual: Vec<SurveyKind>,
        own: &Accuracy,
        unit: LengthUnit,
    ) -> Self {
        let numbers = own.numbers().map(|value| Length::new(value, unit));
        let [height, plan, common_height, common_plan, correlation] = numbers;
        SurfaceAccuracy {
            stated,
            usual_values_of: usual,
            height,
            plan,
            common_height,
            common_plan,
            correlation,
        }
    }

    /// Its figures, in the order of the numbers of [`Accuracy`].
    pub fn figures(&self) -> [Length; 5] {
        [
            self.height,
            self.plan,
            self.common_height,
            self.common_plan,
            self.correlation,
        ]
    }

    /// Its numbers, in its unit.
    pub(crate) fn numbers(&self) -> Accuracy {
        Accuracy::of(self.figures().map(|figure| figure.value))
    }

    /// True where nothing about it is uncertain.
    pub fn is_exact(&self) -> bool {
        let Accuracy { correlation, .. } = self.numbers();
        let exact = Accuracy {
            correlation,
            ..Accuracy::EXACT
        };
        self.numbers() == exact
    }

    /// That of a height at a point, with what is common to all.
    pub(crate) fn of_a_height(&self) -> f64 {
        libm::hypot(self.height.value, self.common_height.value)
    }

    /// That of a surface that is partly this and partly another: of each number the greater, since it is not told where
    /// which of them lies.
    pub(crate) fn or_worse(&self, other: &SurfaceAccuracy) -> SurfaceAccuracy {
        self.with(other, f64::max)
    }

    /// That of a surface whose heights are the difference of this and another.
    pub(crate) fn and(&self, other: &SurfaceAccuracy) -> SurfaceAccuracy {
        let both = self.with(other, libm::hypot);
        SurfaceAccuracy {
            correlation: Length {
                value: self.correlation.value.max(other.correlation.value),
                ..self.correlation
            },
            ..both
        }
    }

    fn with(&self, other: &SurfaceAccuracy, rule: fn(f64, f64) -> f64) -> SurfaceAccuracy {
        if self == other {
            return self.clone();
        }
        let mut numbers = self.numbers().numbers();
        for (own, other) in numbers.iter_mut().zip(other.numbers().numbers()) {
            *own = rule(*own, other);
        }
        let mut usual = self.usual_values_of.clone();
        let more = other.usual_values_of.iter();
        usual.extend(more.filter(|kind| !self.usual_values_of.contains(kind)));
        let words = [self, other].into_iter().filter(|own| !own.is_exact());
        let words: Vec<&str> = words.filter_map(|own| own.stated.as_deref()).collect();
        let stated = match words.is_empty() {
            true => self.stated.clone().or_else(|| other.stated.clone()),
            false => Some(words.join("; ")),
        };
        SurfaceAccuracy::of(stated, usual, &Accuracy::of(numbers), self.height.unit)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(text: &str) -> SurfaceAccuracy {
        let stated: StatedAccuracy = text.parse().unwrap();
        stated.resolved([LengthUnit::Metre; 2], None).unwrap()
    }

    #[test]
    fn a_surface_from_two_is_as_accurate_as_the_worse() {
        let (one, other) = (
            of("height=0.02,plan=0.05"),
            of("height=0.03,common-height=0.01"),
        );
        let both = one.or_worse(&other).numbers();
        assert_eq!(
            both,
            Accuracy {
                height: 0.03,
                plan: 0.05,
                common_height: 0.01,
                ..Accuracy::EXACT
            }
        );
        assert_eq!(both, other.or_worse(&one).numbers());
        assert_eq!(one.or_worse(&one), one);
        let difference = one.and(&other);
        assert!((difference.height.value - 0.0013f64.sqrt()).abs() < 1e-15);
        // What is exact adds nothing, and is not told of.
        let design = of("design");
        assert_eq!(one.or_worse(&design).stated, one.stated);
        assert_eq!(
            one.and(&design).numbers(),
            Accuracy {
                correlation: 0.0,
                ..one.numbers()
            }
        );
    }
}
