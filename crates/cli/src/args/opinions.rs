//! Second opinions, from the command line.

use clap::Parser;
use dapedon_diagnostic::Diagnostic;
use dapedon_job::{OpinionRules, StatedFigures};

use super::length;

#[derive(Debug, Parser)]
#[command(next_help_heading = "Second opinions")]
pub(crate) struct OpinionArgs {
    /// Measure again in other ways: by grids, by parallel sections, and with other triangles between the same points
    ///
    /// Samples are taken on a fine grid; what coarser grids would give is shown, and where it goes as cells get smaller. Each way may differ by its
    /// own error.
    #[arg(long)]
    pub(crate) second_opinion: bool,
    /// Figures that somebody else states, as in cut=4390,by=contractor; may be given more than once
    ///
    /// With cut, fill or net, in the volume unit of the report. Where they do not agree, what would explain them is looked for.
    #[arg(long, value_name = "FIGURES", value_parser = stated)]
    pub(crate) stated: Vec<StatedFigures>,
    /// Largest share that second opinions may differ by, as in 2%; beyond it the exit code is 1
    ///
    /// Of a stated figure it is a share of that figure; of other ways to measure, of the greater of cut and fill.
    #[arg(long, value_name = "SHARE", value_parser = share, allow_hyphen_values = true)]
    pub(crate) agree_within: Option<f64>,
    /// Finest cell of the grids [default: one that suits the area]
    #[arg(long, value_name = "LENGTH", value_parser = length)]
    pub(crate) grid_cell: Option<f64>,
}

impl OpinionArgs {
    /// What is asked for; nothing without one of the options.
    pub(crate) fn rules(&self) -> Option<OpinionRules> {
        let asked = self.second_opinion
            || !self.stated.is_empty()
            || self.agree_within.is_some()
            || self.grid_cell.is_some();
        asked.then(|| OpinionRules {
            cell: self.grid_cell,
            stated: self.stated.clone(),
            limit: self.agree_within,
        })
    }
}

fn stated(text: &str) -> Result<StatedFigures, String> {
    text.parse()
        .map_err(|error: dapedon_job::StatedError| format!("{error}; {}", error.remedy()))
}

/// A share, as in 2% or 0.02.
fn share(text: &str) -> Result<f64, String> {
    let (number, of) = match text.strip_suffix('%') {
        Some(percent) => (percent, 100.0),
        None => (text, 1.0),
    };
    let share = number.trim().parse::<f64>().map(|value| value / of);
    share
        .ok()
        .filter(|share| (0.0..=1.0).contains(share))
        .ok_or_else(|| "use a share from 0 to 100%, as in 2% or 0.02".into())
}
