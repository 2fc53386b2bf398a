//! Units of length, area and volume, distinguished and exactly defined.

/// The two feet in use on site. They differ by two parts in a million: at a grid coordinate of two
/// million feet that is four feet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Foot {
    /// 0.3048 m exactly.
    International,
    /// 1200/3937 m exactly.
    UsSurvey,
}

/// A unit of length.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum LengthUnit {
    /// The metre.
    Metre,
    /// The international foot, or the US survey foot.
    Foot(Foot),
}

/// A unit of area. Those built on the foot say on which.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum AreaUnit {
    /// Square metre.
    SquareMetre,
    /// Hectare, 10 000 m².
    Hectare,
    /// Square foot.
    SquareFoot(Foot),
    /// Square yard, 9 square feet.
    SquareYard(Foot),
    /// Acre, 43 560 square feet.
    Acre(Foot),
}

/// A unit of volume. Those built on the foot say on which.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum VolumeUnit {
    /// Cubic metre.
    CubicMetre,
    /// Cubic foot.
    CubicFoot(Foot),
    /// Cubic yard, 27 cubic feet.
    CubicYard(Foot),
}

/// A unit of mass.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum MassUnit {
    /// The tonne, 1000 kg.
    Tonne,
    /// The short ton, 2000 lb.
    ShortTon,
}

impl MassUnit {
    /// The unit a mass is reported in when nothing else is asked for.
    pub const fn usual(length: LengthUnit) -> Self {
        match length {
            LengthUnit::Metre => MassUnit::Tonne,
            LengthUnit::Foot(_) => MassUnit::ShortTon,
        }
    }

    /// The word and symbol for it.
    pub const fn symbol(self) -> &'static str {
        match self {
            MassUnit::Tonne => "t",
            MassUnit::ShortTon => "ton",
        }
    }
}

/// An exact ratio, so that a foot of one kind converts to a yard of the same kind without passing
/// through metres.
#[derive(Debug, Clone, Copy)]
struct Ratio {
    over: f64,
    under: f64,
}

impl Foot {
    /// The foot in metres.
    const fn ratio(self) -> Ratio {
        match self {
            Foot::International => Ratio {
                over: 381.0,
                under: 1250.0,
            },
            Foot::UsSurvey => Ratio {
                over: 1200.0,
                under: 3937.0,
            },
        }
    }

    const fn prefix(self) -> &'static str {
        match self {
            Foot::International => "",
            Foot::UsSurvey => "us-",
        }
    }

    const fn suffix(self) -> &'static str {
        match self {
            Foot::International => "",
            Foot::UsSurvey => " (US survey)",
        }
    }
}

/// `value × (from / to)^power`, exact where both stand on the same base.
fn scale(value: f64, from: Option<Foot>, to: Option<Foot>, power: i32) -> f64 {
    if from == to {
        return value;
    }
    let one = Ratio {
        over: 1.0,
        under: 1.0,
    };
    let (from, to) = (from.map_or(one, Foot::ratio), to.map_or(one, Foot::ratio));
    value * (from.over * to.under).powi(power) / (from.under * to.over).powi(power)
}

impl LengthUnit {
    /// Every length unit, in the order help texts list them.
    pub const ALL: [LengthUnit; 3] = [
        LengthUnit::Metre,
        LengthUnit::Foot(Foot::International),
        LengthUnit::Foot(Foot::UsSurvey),
    ];

    /// The foot this unit is, if it is one.
    pub const fn foot(self) -> Option<Foot> {
        match self {
            LengthUnit::Metre => None,
            LengthUnit::Foot(foot) => Some(foot),
        }
    }

    /// The word for this unit on the command line and in JSON: `m`, `ft`, `us-ft`.
    pub const fn code(self) -> &'static str {
        match self {
            LengthUnit::Metre => "m",
            LengthUnit::Foot(Foot::International) => "ft",
            LengthUnit::Foot(Foot::UsSurvey) => "us-ft",
        }
    }

    /// The name people read.
    pub const fn name(self) -> &'static str {
        match self {
            LengthUnit::Metre => "metre",
            LengthUnit::Foot(Foot::International) => "international foot",
            LengthUnit::Foot(Foot::UsSurvey) => "US survey foot",
        }
    }

    /// The symbol in a table's heading.
    pub const fn symbol(self) -> &'static str {
        match self {
            LengthUnit::Metre => "m",
            LengthUnit::Foot(_) => "ft",
        }
    }

    /// Converts a length in this unit to `to`.
    ///
    /// ```
    /// use dapedon_core::units::{Foot, LengthUnit};
    /// let survey_foot = LengthUnit::Foot(Foot::UsSurvey);
    /// assert_eq!(survey_foot.convert(3937.0, LengthUnit::Metre), 1200.0);
    /// ```
    pub fn convert(self, value: f64, to: LengthUnit) -> f64 {
        scale(value, self.foot(), to.foot(), 1)
    }
}

impl AreaUnit {
    /// The unit an area is shown in when nothing else is asked for.
    pub const fn usual(length: LengthUnit) -> Self {
        match length {
            LengthUnit::Metre => AreaUnit::SquareMetre,
            LengthUnit::Foot(foot) => AreaUnit::SquareFoot(foot),
        }
    }

    const fn foot(self) -> Option<Foot> {
        match self {
            AreaUnit::SquareMetre | AreaUnit::Hectare => None,
            AreaUnit::SquareFoot(foot) | AreaUnit::SquareYard(foot) | AreaUnit::Acre(foot) => {
                Some(foot)
            }
        }
    }

    const fn base_units(self) -> f64 {
        match self {
            AreaUnit::SquareMetre | AreaUnit::SquareFoot(_) => 1.0,
            AreaUnit::Hectare => 10_000.0,
            AreaUnit::SquareYard(_) => 9.0,
            AreaUnit::Acre(_) => 43_560.0,
        }
    }

    /// The word for this unit on the command line and in JSON.
    pub fn code(self) -> String {
        match self {
            AreaUnit::SquareMetre => "m2".into(),
            AreaUnit::Hectare => "ha".into(),
            AreaUnit::SquareFoot(foot) => format!("{}ft2", foot.prefix()),
            AreaUnit::SquareYard(foot) => format!("{}yd2", foot.prefix()),
            AreaUnit::Acre(foot) => format!("{}acre", foot.prefix()),
        }
    }

    /// The symbol in a table's heading.
    pub const fn symbol(self) -> &'static str {
        match self {
            AreaUnit::SquareMetre => "m²",
            AreaUnit::Hectare => "ha",
            AreaUnit::SquareFoot(_) => "ft²",
            AreaUnit::SquareYard(_) => "yd²",
            AreaUnit::Acre(_) => "acre",
        }
    }

    /// The name people read, with the kind of foot where it is not the international one.
    pub fn name(self) -> String {
        match self.foot() {
            None => self.symbol().into(),
            Some(foot) => format!("{}{}", self.symbol(), foot.suffix()),
        }
    }

    /// Converts an area in squares of `length` to this unit.
    ///
    /// ```
    /// use dapedon_core::units::{AreaUnit, Foot, LengthUnit};
    /// let acre = AreaUnit::Acre(Foot::UsSurvey);
    /// assert_eq!(acre.from_square(87_120.0, LengthUnit::Foot(Foot::UsSurvey)), 2.0);
    /// ```
    pub fn from_square(self, area: f64, length: LengthUnit) -> f64 {
        scale(area, length.foot(), self.foot(), 2) / self.base_units()
    }

    /// Converts an area in this unit to another one.
    ///
    /// ```
    /// use dapedon_core::units::AreaUnit;
    /// assert_eq!(AreaUnit::Hectare.convert(0.25, AreaUnit::SquareMetre), 2500.0);
    /// ```
    pub fn convert(self, value: f64, to: AreaUnit) -> f64 {
        if self == to {
            return value;
        }
        scale(value * self.base_units(), self.foot(), to.foot(), 2) / to.base_units()
    }
}

impl VolumeUnit {
    /// The unit a volume is shown in when nothing else is asked for: cubic metres, or cubic yards
    /// of the survey's own foot.
    pub const fn usual(length: LengthUnit) -> Self {
        match length {
            LengthUnit::Metre => VolumeUnit::CubicMetre,
            LengthUnit::Foot(foot) => VolumeUnit::CubicYard(foot),
        }
    }

    const fn foot(self) -> Option<Foot> {
        match self {
            VolumeUnit::CubicMetre => None,
            VolumeUnit::CubicFoot(foot) | VolumeUnit::CubicYard(foot) => Some(foot),
        }
    }

    const fn base_units(self) -> f64 {
        match self {
            VolumeUnit::CubicMetre | VolumeUnit::CubicFoot(_) => 1.0,
            VolumeUnit::CubicYard(_) => 27.0,
        }
    }

    /// The word for this unit on the command line and in JSON.
    pub fn code(self) -> String {
        match self {
            VolumeUnit::CubicMetre => "m3".into(),
            VolumeUnit::CubicFoot(foot) => format!("{}ft3", foot.prefix()),
            VolumeUnit::CubicYard(foot) => format!("{}yd3", foot.prefix()),
        }
    }

    /// The symbol in a table's heading.
    pub const fn symbol(self) -> &'static str {
        match self {
            VolumeUnit::CubicMetre => "m³",
            VolumeUnit::CubicFoot(_) => "ft³",
            VolumeUnit::CubicYard(_) => "yd³",
        }
    }

    /// The name people read, with the kind of foot where it is not the international one.
    pub fn name(self) -> String {
        match self.foot() {
            None => self.symbol().into(),
            Some(foot) => format!("{}{}", self.symbol(), foot.suffix()),
        }
    }

    /// Converts a volume in cubes of `length` to this unit.
    ///
    /// ```
    /// use dapedon_core::units::{Foot, LengthUnit, VolumeUnit};
    /// let yard = VolumeUnit::CubicYard(Foot::UsSurvey);
    /// assert_eq!(yard.from_cubic(81.0, LengthUnit::Foot(Foot::UsSurvey)), 3.0);
    /// ```
    pub fn from_cubic(self, volume: f64, length: LengthUnit) -> f64 {
        scale(volume, length.foot(), self.foot(), 3) / self.base_units()
    }

    /// Converts a volume in this unit to another one.
    ///
    /// ```
    /// use dapedon_core::units::{Foot, VolumeUnit};
    /// let [feet, yards] = [VolumeUnit::CubicFoot, VolumeUnit::CubicYard].map(|of| of(Foot::International));
    /// assert_eq!(feet.convert(54.0, yards), 2.0);
    /// ```
    pub fn convert(self, value: f64, to: VolumeUnit) -> f64 {
        if self == to {
            return value;
        }
        scale(value * self.base_units(), self.foot(), to.foot(), 3) / to.base_units()
    }
}

/// A word that is the code of no unit.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("\"{0}\" is not a unit code")]
pub struct UnitError(String);

/// The one of some units that has a code.
fn coded<U: Copy>(
    text: &str,
    mut units: impl Iterator<Item = U>,
    code: impl Fn(U) -> String,
) -> Result<U, UnitError> {
    units
        .find(|&unit| code(unit) == text)
        .ok_or_else(|| UnitError(text.into()))
}

impl std::str::FromStr for LengthUnit {
    type Err = UnitError;

    fn from_str(text: &str) -> Result<Self, UnitError> {
        coded(text, LengthUnit::ALL.into_iter(), |unit| unit.code().into())
    }
}

impl std::str::FromStr for AreaUnit {
    type Err = UnitError;

    /// ```
    /// use dapedon_core::units::{AreaUnit, Foot};
    /// assert_eq!("us-acre".parse(), Ok(AreaUnit::Acre(Foot::UsSurvey)));
    /// ```
    fn from_str(text: &str) -> Result<Self, UnitError> {
        let feet = [Foot::International, Foot::UsSurvey].into_iter();
        let of_feet = feet.flat_map(|foot| {
            [
                AreaUnit::SquareFoot(foot),
                AreaUnit::SquareYard(foot),
                AreaUnit::Acre(foot),
            ]
        });
        let all = [AreaUnit::SquareMetre, AreaUnit::Hectare].into_iter();
        coded(text, all.chain(of_feet), AreaUnit::code)
    }
}

impl std::str::FromStr for VolumeUnit {
    type Err = UnitError;

    fn from_str(text: &str) -> Result<Self, UnitError> {
        let feet = [Foot::International, Foot::UsSurvey].into_iter();
        let of_feet =
            feet.flat_map(|foot| [VolumeUnit::CubicFoot(foot), VolumeUnit::CubicYard(foot)]);
        let all = [VolumeUnit::CubicMetre].into_iter();
        coded(text, all.chain(of_feet), VolumeUnit::code)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const METRE: LengthUnit = LengthUnit::Metre;
    const FOOT: LengthUnit = LengthUnit::Foot(Foot::International);
    const SURVEY_FOOT: LengthUnit = LengthUnit::Foot(Foot::UsSurvey);

    #[test]
    fn feet_are_what_the_law_says() {
        assert_eq!(FOOT.convert(10_000.0, METRE), 3048.0);
        assert_eq!(METRE.convert(1200.0, SURVEY_FOOT), 3937.0);
        // Two parts in a million: 0.999 998 exactly.
        assert!((FOOT.convert(1e6, SURVEY_FOOT) - 999_998.0).abs() < 1e-6);
        assert_eq!(METRE.convert(0.1, METRE), 0.1);
    }

    #[test]
    fn areas_and_volumes_follow_the_length() {
        assert_eq!(AreaUnit::Hectare.from_square(25_000.0, METRE), 2.5);
        assert_eq!(
            AreaUnit::SquareYard(Foot::UsSurvey).from_square(18.0, SURVEY_FOOT),
            2.0
        );
        // The international acre is 4046.856 422 4 m² exactly.
        let acre = AreaUnit::Acre(Foot::International).from_square(4_046.856_422_4, METRE);
        assert!((acre - 1.0).abs() < 1e-15);
        // The international yard is 0.9144 m exactly.
        let yard = VolumeUnit::CubicYard(Foot::International).from_cubic(0.9144f64.powi(3), METRE);
        assert!((yard - 1.0).abs() < 1e-15);
        assert_eq!(
            VolumeUnit::CubicFoot(Foot::UsSurvey).from_cubic(7.0, SURVEY_FOOT),
            7.0
        );
        assert_eq!(
            VolumeUnit::usual(SURVEY_FOOT).from_cubic(27.0, SURVEY_FOOT),
            1.0
        );
    }

    #[test]
    fn units_are_known_by_their_codes() {
        for unit in LengthUnit::ALL {
            assert_eq!(unit.code().parse(), Ok(unit));
            let (area, volume) = (AreaUnit::usual(unit), VolumeUnit::usual(unit));
            assert_eq!(area.code().parse(), Ok(area));
            assert_eq!(volume.code().parse(), Ok(volume));
        }
        assert_eq!("ha".parse(), Ok(AreaUnit::Hectare));
        let none = "furlong".parse::<LengthUnit>().unwrap_err();
        assert_eq!(none.to_string(), "\"furlong\" is not a unit code");
    }
}
