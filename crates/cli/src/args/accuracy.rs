//! How accurate both sides of a measurement are, from the command line.

use clap::Parser;
use dapedon_diagnostic::Diagnostic;
use dapedon_job::StatedAccuracy;

#[derive(Debug, Parser)]
#[command(next_help_heading = "Uncertainty")]
pub(crate) struct AccuracyArgs {
    /// Accuracy of the reference: a kind of survey, numbers, or both, as in gnss or gnss,height=0.03
    ///
    /// Kinds: design, total-station, gnss, laser-scan, drone-photo, drone-laser, airborne-laser. Numbers are standard
    /// uncertainties in the length unit: height and plan of each point by itself, common-height and common-plan of all
    /// points alike, and the correlation length of heights. The accuracy of both sides gives the uncertainty of the volumes.
    #[arg(long, value_name = "ACCURACY", value_parser = accuracy)]
    pub(crate) reference_accuracy: Option<StatedAccuracy>,
    /// Accuracy of the surveyed surface, in the same way
    #[arg(long, value_name = "ACCURACY", value_parser = accuracy)]
    pub(crate) surveyed_accuracy: Option<StatedAccuracy>,
}

/// How accurate the one surface of a measurement is.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Uncertainty")]
pub(crate) struct SurveyAccuracyArgs {
    /// Accuracy of the survey: a kind, numbers, or both, as in gnss or gnss,height=0.03
    ///
    /// Kinds: design, total-station, gnss, laser-scan, drone-photo, drone-laser, airborne-laser. Numbers are standard
    /// uncertainties in the length unit: height and plan of each point by itself, common-height and common-plan of all
    /// points alike, and the correlation length of heights.
    #[arg(long, value_name = "ACCURACY", value_parser = accuracy)]
    pub(crate) accuracy: Option<StatedAccuracy>,
}

impl AccuracyArgs {
    /// That of the reference, and of the surveyed surface.
    pub(crate) fn both(&self) -> [Option<StatedAccuracy>; 2] {
        [
            self.reference_accuracy.clone(),
            self.surveyed_accuracy.clone(),
        ]
    }
}

pub(super) fn accuracy(text: &str) -> Result<StatedAccuracy, String> {
    text.parse()
        .map_err(|error: dapedon_job::AccuracyError| format!("{error}; {}", error.remedy()))
}
