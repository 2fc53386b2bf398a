//! Figures that somebody else states.

use std::str::FromStr;

use dapedon_contract::binary;
use rust_decimal::Decimal;

use crate::error::job_error;
use crate::units::ReportUnits;

/// Figures that somebody else states, in the volume unit of the report.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct StatedFigures {
    /// Who states them.
    pub by: Option<String>,
    /// The cut.
    pub cut: Option<Decimal>,
    /// The fill.
    pub fill: Option<Decimal>,
    /// Fill less cut.
    pub net: Option<Decimal>,
}

/// What is wrong with figures that somebody else states.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum StatedError {
    /// A part is not a name and a value.
    #[error("\"{part}\" is not a stated figure")]
    NoFigure {
        /// The part.
        part: String,
    },
    /// A figure is not a number.
    #[error("\"{text}\" is not a volume")]
    NotANumber {
        /// What is written.
        text: String,
    },
    /// A cut or a fill is below zero.
    #[error("{name} = {value} is negative")]
    Negative {
        /// Cut or fill.
        name: &'static str,
        /// The figure.
        value: Decimal,
    },
    /// Nothing is stated.
    #[error("no figure is stated")]
    Nothing,
    /// A name is given twice.
    #[error("{name} is stated twice")]
    Twice {
        /// The name.
        name: String,
    },
}

/// Why a second opinion cannot be had.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum OpinionError {
    /// The cells of a grid are too small for the area.
    #[error("a grid with cells of {cell} has {samples:.0e} samples, too many")]
    TooFine {
        /// The cell.
        cell: f64,
        /// The samples.
        samples: f64,
    },
}

impl OpinionError {
    fn remedy(&self) -> String {
        match self {
            OpinionError::TooFine { .. } => {
                "use a larger --grid-cell, or none for one that suits the area".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(OpinionError, "opinion");
job_error!(OpinionError);

impl StatedError {
    fn remedy(&self) -> String {
        match self {
            StatedError::Negative { .. } => {
                "cut and fill are never negative: write the size, or net for fill less cut".into()
            }
            StatedError::Twice { .. } => {
                "give it once; figures of several people are given apart".into()
            }
            StatedError::NoFigure { .. }
            | StatedError::NotANumber { .. }
            | StatedError::Nothing => {
                "write it as in cut=4390,by=contractor, with cut, fill or net, and who states it"
                    .into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(StatedError, "stated");
job_error!(StatedError);

impl FromStr for StatedFigures {
    type Err = StatedError;

    fn from_str(text: &str) -> Result<Self, StatedError> {
        let mut stated = StatedFigures::default();
        for part in text.split(',') {
            let no_figure = || StatedError::NoFigure { part: part.into() };
            let (name, value) = part.split_once('=').ok_or_else(no_figure)?;
            let (name, value) = (name.trim(), value.trim());
            if name == "by" {
                let by = Some(value.to_owned()).filter(|by| !by.is_empty());
                if stated.by.replace(by.ok_or_else(no_figure)?).is_some() {
                    return Err(StatedError::Twice { name: name.into() });
                }
                continue;
            }
            let figure = match name {
                "cut" => &mut stated.cut,
                "fill" => &mut stated.fill,
                "net" => &mut stated.net,
                _ => return Err(no_figure()),
            };
            let number = value
                .parse()
                .map_err(|_| StatedError::NotANumber { text: value.into() })?;
            if figure.replace(number).is_some() {
                return Err(StatedError::Twice { name: name.into() });
            }
        }
        for (name, figure) in [("cut", stated.cut), ("fill", stated.fill)] {
            if let Some(value) = figure.filter(|value| *value < Decimal::ZERO) {
                return Err(StatedError::Negative { name, value });
            }
        }
        match stated.each().iter().all(Option::is_none) {
            true => Err(StatedError::Nothing),
            false => Ok(stated),
        }
    }
}

impl StatedFigures {
    /// Cut, fill and net, as they are stated.
    pub(super) fn each(&self) -> [Option<Decimal>; 3] {
        [self.cut, self.fill, self.net]
    }

    /// The same in cubes of the length unit.
    pub(super) fn figures(&self, units: &ReportUnits) -> [Option<f64>; 3] {
        self.each()
            .map(|figure| figure.map(|figure| units.cubes_of(binary(figure))))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rust_decimal::dec;

    #[test]
    fn figures_are_read_with_who_states_them() {
        let read: StatedFigures = "cut=4390.5, net=-4370,by=the contractor".parse().unwrap();
        assert_eq!(read.each(), [Some(dec!(4390.5)), None, Some(dec!(-4370))]);
        assert_eq!(read.by.as_deref(), Some("the contractor"));
        for (text, remedy) in [
            ("4390", "write it as"),
            ("cut=", "write it as"),
            ("cut=1e400", "write it as"),
            ("cut=NaN", "write it as"),
            ("by=me", "write it as"),
            ("by=,cut=1", "write it as"),
            ("cut=-1", "never negative"),
            ("cut=1,cut=2", "once"),
            ("area=4", "write it as"),
        ] {
            let error = text.parse::<StatedFigures>().unwrap_err();
            assert!(error.remedy().contains(remedy), "{text}: {error}");
        }
    }
}
