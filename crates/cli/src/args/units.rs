//! Units, as they are named on the command line.

use clap::Parser;
use clap::builder::{PossibleValue, PossibleValuesParser, TypedValueParser};
use dapedon_core::units::LengthUnit;
use dapedon_job::{RequestedAreaUnit, RequestedUnit, RequestedVolumeUnit};

/// The units that are measured and told in.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Units")]
pub(crate) struct UnitArgs {
    /// Length unit of the results [default: that of the first surface]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// Area unit of the results [default: the square of the length unit]
    #[arg(long, value_parser = unit::<RequestedAreaUnit>())]
    pub(crate) area_unit: Option<RequestedAreaUnit>,
    /// Volume unit of the results [default: m3; yd3 for surveys in feet]
    #[arg(long, value_parser = unit::<RequestedVolumeUnit>())]
    pub(crate) volume_unit: Option<RequestedVolumeUnit>,
}

/// Reads a unit by its code.
pub(crate) fn unit<U: RequestedUnit>() -> impl TypedValueParser<Value = U> {
    let values = U::ALL.iter();
    let values = values.map(|(_, code, what)| PossibleValue::new(*code).help(*what));
    PossibleValuesParser::new(values)
        .try_map(|code| U::of_code(&code).ok_or_else(|| format!("not a unit of {}", U::OF)))
}
