//! Units, as they are named on the command line.

use clap::Parser;
use clap::builder::{PossibleValue, PossibleValuesParser, TypedValueParser};
use dapedon_core::units::LengthUnit;
use dapedon_job::{AreaAsked, Asked, VolumeAsked};

/// The units that are measured and told in.
#[derive(Debug, Parser)]
pub(crate) struct UnitArgs {
    /// The length unit to measure in [default: that of the first surface]
    #[arg(long, value_parser = unit::<LengthUnit>())]
    pub(crate) length_unit: Option<LengthUnit>,
    /// The unit of areas [default: the square of the length unit]
    #[arg(long, value_parser = unit::<AreaAsked>())]
    pub(crate) area_unit: Option<AreaAsked>,
    /// The unit of volumes [default: m3, or yd3 where the length unit is a foot]
    #[arg(long, value_parser = unit::<VolumeAsked>())]
    pub(crate) volume_unit: Option<VolumeAsked>,
}

/// Reads a unit by its code.
pub(crate) fn unit<U: Asked>() -> impl TypedValueParser<Value = U> {
    let values = U::ALL.iter();
    let values = values.map(|(_, code, what)| PossibleValue::new(*code).help(*what));
    PossibleValuesParser::new(values)
        .try_map(|code| U::of_code(&code).ok_or_else(|| format!("no unit of {}", U::OF)))
}
