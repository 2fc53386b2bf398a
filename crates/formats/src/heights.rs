//! The unit of heights, which need not be that of the plan: by the code of a unit, of a height system, or in words.

use dapedon_core::units::{Foot, LengthUnit};

/// A unit of heights.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum HeightUnit {
    /// One that surveys are in.
    Length(LengthUnit),
    /// The British foot as measured in 1936, in which one old system of heights is.
    BritishFoot1936,
}

/// The British foot of 1936 in metres, as the EPSG registry has it (unit 9095).
const BRITISH_FOOT_1936: f64 = 0.304_800_749_1;

impl HeightUnit {
    /// A unit by its number in the EPSG registry.
    pub(crate) fn of_code(code: u16) -> Option<Self> {
        match code {
            9095 => Some(HeightUnit::BritishFoot1936),
            _ => crate::geokeys::unit(code).map(HeightUnit::Length),
        }
    }

    /// A unit by its length in metres.
    pub(crate) fn of_metres(metres: f64) -> Option<Self> {
        let british = (metres / BRITISH_FOOT_1936 - 1.0).abs() < 1e-10;
        match british {
            true => Some(HeightUnit::BritishFoot1936),
            false => crate::wkt::unit(metres).map(HeightUnit::Length),
        }
    }

    /// A unit by the words that files use for it.
    pub(crate) fn of_words(words: &str) -> Option<Self> {
        let plain: String = (words.chars().filter(char::is_ascii_alphanumeric))
            .map(|c| c.to_ascii_lowercase())
            .collect();
        let unit = match plain.as_str() {
            "m" | "metre" | "metres" | "meter" | "meters" => LengthUnit::Metre,
            "ft" | "foot" | "feet" | "internationalfoot" | "internationalfeet" => {
                LengthUnit::Foot(Foot::International)
            }
            "usft" | "ftus" | "footus" | "ussurveyfoot" | "ussurveyfeet" | "ussurveyft"
            | "surveyfoot" | "surveyfeet" => LengthUnit::Foot(Foot::UsSurvey),
            _ => return None,
        };
        Some(HeightUnit::Length(unit))
    }

    /// What heights are multiplied by to be in the unit of the plan.
    pub fn factor(self, plan: LengthUnit) -> f64 {
        match self {
            HeightUnit::Length(heights) if heights == plan => 1.0,
            HeightUnit::Length(heights) => heights.convert(1.0, plan),
            HeightUnit::BritishFoot1936 => LengthUnit::Metre.convert(BRITISH_FOOT_1936, plan),
        }
    }

    /// What to say of heights that are converted to the unit of the plan; nothing where they are in it.
    pub fn note(self, plan: LengthUnit) -> Option<String> {
        (self.factor(plan) != 1.0)
            .then(|| format!("heights converted from {} to {}", self.name(), plan.name()))
    }

    /// Its name.
    pub fn name(self) -> &'static str {
        match self {
            HeightUnit::Length(unit) => unit.name(),
            HeightUnit::BritishFoot1936 => "British foot (1936)",
        }
    }
}

/// What the code of a height system says.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum HeightSystem {
    /// Heights, counted upwards, in a unit.
    Heights(HeightUnit),
    /// Depths, counted downwards.
    Depths,
}

/// Height systems in metres, counted upwards (vertical coordinate systems of the EPSG registry, version 11).
const IN_METRES: [u16; 230] = [
    3855, 3886, 3900, 4440, 4458, 5193, 5195, 5214, 5237, 5317, 5597, 5600, 5601, 5602, 5603, 5604,
    5605, 5606, 5607, 5608, 5609, 5610, 5611, 5613, 5615, 5616, 5617, 5618, 5619, 5620, 5621, 5701,
    5703, 5704, 5705, 5709, 5710, 5711, 5712, 5713, 5714, 5716, 5717, 5718, 5719, 5720, 5721, 5722,
    5723, 5724, 5725, 5726, 5727, 5728, 5729, 5730, 5731, 5732, 5733, 5735, 5736, 5737, 5738, 5740,
    5741, 5742, 5743, 5744, 5745, 5746, 5747, 5748, 5749, 5750, 5751, 5752, 5753, 5755, 5756, 5757,
    5758, 5759, 5760, 5761, 5762, 5763, 5764, 5765, 5766, 5767, 5768, 5769, 5770, 5771, 5772, 5773,
    5774, 5775, 5776, 5777, 5778, 5779, 5780, 5781, 5782, 5783, 5784, 5785, 5786, 5787, 5788, 5790,
    5791, 5792, 5793, 5794, 5795, 5796, 5797, 5798, 5799, 5829, 5843, 5868, 5869, 5870, 5871, 5872,
    5874, 5941, 6178, 6179, 6180, 6181, 6182, 6183, 6184, 6185, 6186, 6187, 6638, 6639, 6640, 6641,
    6642, 6643, 6644, 6647, 6693, 6694, 6695, 6916, 7446, 7447, 7651, 7652, 7699, 7700, 7707, 7832,
    7837, 7839, 7841, 7888, 7889, 7890, 7962, 7968, 7979, 8089, 8266, 8267, 8357, 8434, 8675, 8690,
    8691, 8841, 8881, 8904, 8911, 9130, 9245, 9255, 9274, 9279, 9303, 9335, 9351, 9389, 9390, 9392,
    9393, 9394, 9395, 9396, 9397, 9398, 9399, 9400, 9401, 9402, 9451, 9458, 9471, 9650, 9651, 9663,
    9666, 9669, 9675, 9681, 9721, 9722, 9923, 9927, 10190, 10352, 10353, 10354, 10482, 10483,
    10484, 10485, 10565, 10588, 20000, 20034, 20035, 20036,
];
/// Height systems counted downwards, in any unit.
const DEPTHS: [u16; 52] = [
    5336, 5612, 5614, 5706, 5715, 5734, 5739, 5789, 5831, 5861, 5862, 5863, 5864, 5865, 5866, 5867,
    5873, 6357, 6358, 6359, 7976, 8051, 8053, 8358, 8378, 8897, 9287, 9288, 9672, 10150, 10151,
    10349, 10364, 10370, 10371, 10372, 10373, 10374, 10375, 10376, 10377, 10378, 10379, 10547,
    10548, 10549, 10550, 10551, 10552, 10649, 10650, 10678,
];

/// What a height system counts in, named as files name it, `EPSG:` and a code; `None` for one that is not known.
///
/// ```
/// use dapedon_core::units::LengthUnit;
/// use dapedon_formats::{HeightSystem, height_system};
/// let Some(HeightSystem::Heights(unit)) = height_system("EPSG:8228") else { panic!() };
/// assert_eq!(unit.factor(LengthUnit::Metre), 0.3048);
/// assert_eq!(height_system("EPSG:5715"), Some(HeightSystem::Depths));
/// assert_eq!(height_system("local levels"), None);
/// ```
pub fn height_system(name: &str) -> Option<HeightSystem> {
    of_code(name.strip_prefix("EPSG:")?.trim().parse().ok()?)
}

/// Height systems of one datum under several codes, as they differ in their units, and the names in use for each.
const DATUMS: [(&[u16], &[&str]); 12] = [
    (
        &[5703, 6360, 8228],
        &[
            "navd88",
            "northamericanverticaldatumof1988",
            "northamericanverticaldatum1988",
        ],
    ),
    (
        &[5702, 7968],
        &[
            "ngvd29",
            "nationalgeodeticverticaldatumof1929",
            "nationalgeodeticverticaldatum1929",
        ],
    ),
    (&[5701], &["odn", "newlyn", "ordnancedatumnewlyn"]),
    (&[5711], &["ahd", "australianheightdatum"]),
    (&[3855], &["egm2008", "egm2008geoid"]),
    (&[5773], &["egm96", "egm96geoid"]),
    (
        &[7837],
        &[
            "dhhn2016",
            "deutscheshaupthohennetz2016",
            "deutscheshaupthoehennetz2016",
        ],
    ),
    (
        &[5783],
        &["dhhn92", "dhhn1992", "deutscheshaupthoehennetz1992"],
    ),
    (&[5709], &["nap", "normaalamsterdamspeil"]),
    (
        &[6647],
        &["cgvd2013", "canadiangeodeticverticaldatumof2013"],
    ),
    (&[5720], &["ngfign69", "nivellementgeneraldelafranceign69"]),
    (&[5621], &["evrf2007", "europeanverticalreferenceframe2007"]),
];

/// True when two names stand for heights above one datum: the same name, the same code, or a name and a code in use for
/// it. Their units may differ.
///
/// ```
/// use dapedon_formats::same_height_system;
/// assert!(same_height_system("NAVD88 height (ftUS)", "EPSG:5703"));
/// assert!(!same_height_system("EPSG:5703", "EPSG:5702"));
/// ```
pub fn same_height_system(one: &str, other: &str) -> bool {
    if one.eq_ignore_ascii_case(other) {
        return true;
    }
    let datum = |name: &str| {
        let code: Option<u16> = name
            .strip_prefix("EPSG:")
            .and_then(|code| code.trim().parse().ok());
        let letters: String = (name.chars().filter(char::is_ascii_alphanumeric))
            .map(|c| c.to_ascii_lowercase())
            .collect();
        DATUMS.iter().position(|(codes, names)| match code {
            Some(code) => codes.contains(&code),
            None => names.iter().any(|known| {
                let rest = letters.strip_prefix(known);
                rest.is_some_and(|rest| {
                    [
                        "",
                        "height",
                        "heightm",
                        "heightftus",
                        "heightft",
                        "footus",
                        "feet",
                        "ftus",
                        "ft",
                        "m",
                    ]
                    .contains(&rest)
                })
            }),
        })
    };
    datum(one).is_some_and(|found| datum(other) == Some(found))
}

fn of_code(code: u16) -> Option<HeightSystem> {
    let foot = |foot| {
        Some(HeightSystem::Heights(HeightUnit::Length(LengthUnit::Foot(
            foot,
        ))))
    };
    match code {
        5702 | 6360 | 8052 => foot(Foot::UsSurvey),
        6130 | 6131 | 6132 | 8050 | 8228 => foot(Foot::International),
        5754 => Some(HeightSystem::Heights(HeightUnit::BritishFoot1936)),
        _ if IN_METRES.binary_search(&code).is_ok() => {
            Some(HeightSystem::Heights(HeightUnit::Length(LengthUnit::Metre)))
        }
        _ if DEPTHS.binary_search(&code).is_ok() => Some(HeightSystem::Depths),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn codes_are_in_order_and_in_one_list() {
        assert!(IN_METRES.is_sorted() && DEPTHS.is_sorted());
        assert!(
            IN_METRES
                .iter()
                .all(|code| DEPTHS.binary_search(code).is_err())
        );
    }

    #[test]
    fn codes_say_their_unit() {
        let factor = |code, plan| match of_code(code) {
            Some(HeightSystem::Heights(unit)) => unit.factor(plan),
            other => panic!("{code}: {other:?}"),
        };
        let foot = LengthUnit::Foot(Foot::UsSurvey);
        // Of North America in metres and in both feet; of Belfast in its own foot.
        assert_eq!(factor(5703, LengthUnit::Metre), 1.0);
        assert_eq!(factor(6360, LengthUnit::Metre), 1200.0 / 3937.0);
        assert_eq!(factor(6360, foot), 1.0);
        assert_eq!(factor(8228, LengthUnit::Metre), 0.3048);
        assert_eq!(factor(5754, LengthUnit::Metre), BRITISH_FOOT_1936);
        assert!((factor(5703, foot) - 3937.0 / 1200.0).abs() < 1e-15);
        assert_eq!(of_code(5715), Some(HeightSystem::Depths));
        assert_eq!(of_code(1), None);
    }

    #[test]
    fn words_say_their_unit() {
        let unit = |words| HeightUnit::of_words(words).map(HeightUnit::name);
        assert_eq!(unit("US survey foot"), unit("us-ft"));
        assert_eq!(unit("US survey foot"), Some("US survey foot"));
        assert_eq!(unit(" Metre "), Some("metre"));
        assert_eq!(unit("ft"), Some("international foot"));
        assert_eq!((unit(""), unit("fathom")), (None, None));
    }
}
