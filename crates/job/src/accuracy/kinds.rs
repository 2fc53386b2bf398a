//! Kinds of survey, and the values that are usual for each.

use dapedon_core::quantities::Accuracy;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use strum::{EnumString, IntoStaticStr, VariantArray};

/// A kind of survey.
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    EnumString,
    IntoStaticStr,
    VariantArray,
    Serialize,
    Deserialize,
    JsonSchema,
)]
#[strum(serialize_all = "kebab-case")]
#[serde(rename_all = "kebab-case")]
pub enum SurveyKind {
    /// A design, or another surface that is what it is by definition: exact.
    Design,
    /// Points taken with a total station and a prism on a pole.
    TotalStation,
    /// Points taken with a satellite rover, corrected in real time.
    Gnss,
    /// A scan from a tripod.
    LaserScan,
    /// Photographs from a drone, with control points.
    DronePhoto,
    /// A laser scan from a drone, with control points.
    DroneLaser,
    /// A laser scan from an aeroplane or a helicopter.
    AirborneLaser,
}

impl SurveyKind {
    /// How it is written.
    pub fn code(self) -> &'static str {
        self.into()
    }

    /// The usual values, in metres.
    ///
    /// Standards state the whole of a point; how it is parted into what each point has by itself and what all share is an
    /// assumption, on the careful side. See `docs/methods.md`, "Usual values".
    pub fn usual(self) -> Accuracy {
        Accuracy::of(match self {
            SurveyKind::Design => [0.0; 5],
            SurveyKind::TotalStation => [0.010, 0.010, 0.005, 0.005, 0.0],
            SurveyKind::Gnss => [0.020, 0.015, 0.015, 0.010, 0.0],
            SurveyKind::LaserScan => [0.010, 0.010, 0.005, 0.005, 2.0],
            SurveyKind::DronePhoto => [0.040, 0.030, 0.030, 0.020, 5.0],
            SurveyKind::DroneLaser => [0.030, 0.040, 0.030, 0.030, 2.0],
            SurveyKind::AirborneLaser => [0.060, 0.200, 0.080, 0.100, 10.0],
        })
    }

    /// Where its values come from.
    pub fn source(self) -> &'static str {
        match self {
            SurveyKind::Design => "exact by definition: nothing was measured",
            SurveyKind::TotalStation => {
                "ISO 17123-5 tests the instrument, to a few millimetres; the pole and the ground under it make most of the rest"
            }
            SurveyKind::Gnss => {
                "ISO 17123-8 tests rovers; 15 to 25 mm in height and 10 to 15 mm in plan are common, with the base and its fit to the site common to all points"
            }
            SurveyKind::LaserScan => {
                "ISO 17123-9 tests scanners, to a few millimetres; rough ground and the fit of the scans make most of the rest"
            }
            SurveyKind::DronePhoto => {
                "5 cm class of vertical accuracy (ASPRS Positional Accuracy Standards), of which 3 cm are common"
            }
            SurveyKind::DroneLaser => {
                "somewhat better than the 5 cm class of vertical accuracy (ASPRS Positional Accuracy Standards), of which 3 cm are common"
            }
            SurveyKind::AirborneLaser => {
                "10 cm class of vertical accuracy (ASPRS Positional Accuracy Standards), of which 8 cm are common to a strip"
            }
        }
    }

    /// All of them, as a message lists them.
    pub(crate) fn listed() -> String {
        let codes: Vec<&str> = Self::VARIANTS.iter().map(|kind| kind.code()).collect();
        codes.join(", ")
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The page lists the values that are used.
    #[test]
    fn the_page_on_methods_lists_the_usual_values() {
        let mut table = String::from(
            "| kind | height | plan | common height | common plan | correlation | from |\n",
        );
        table.push_str("| --- | --- | --- | --- | --- | --- | --- |\n");
        for kind in SurveyKind::VARIANTS {
            let own = kind.usual();
            let millimetres = [own.height, own.plan, own.common_height, own.common_plan];
            let cells = millimetres.map(|value| format!("{:.0} mm", value * 1000.0));
            let correlation = match own.correlation {
                0.0 => "none".into(),
                length => format!("{length} m"),
            };
            table.push_str(&format!(
                "| `{}` | {} | {correlation} | {} |\n",
                kind.code(),
                cells.join(" | "),
                kind.source()
            ));
        }
        let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/methods.md");
        let page = std::fs::read_to_string(path).unwrap();
        if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
            let start = page.find("| kind | height |").unwrap();
            let end = start + page[start..].find("\n\n").unwrap() + 1;
            std::fs::write(path, format!("{}{table}{}", &page[..start], &page[end..])).unwrap();
            return;
        }
        assert!(
            page.contains(&table),
            "write it anew with DAPEDON_WRITE_DOCS=1 cargo test -p dapedon-job"
        );
    }

    #[test]
    fn kinds_are_read_as_they_are_written_and_are_sound() {
        for kind in SurveyKind::VARIANTS {
            assert_eq!(kind.code().parse(), Ok(*kind));
            assert_eq!(serde_json::to_value(kind).unwrap(), kind.code());
            assert!(kind.usual().is_sound());
        }
    }
}
