//! What well-known text (OGC WKT 1 and 2) says of a coordinate system: its name, its units.

mod projection;
mod registry;

use dapedon_core::units::{Foot, LengthUnit};

use crate::heights::HeightUnit;
pub use registry::{is_web_mercator, same_system};

/// The name of a system that has none.
const NO_NAME: &str = "survey grid";
/// Keywords of projected systems.
const PROJECTED: &[&str] = &["PROJCS", "PROJCRS", "PROJECTEDCRS"];
/// How deep a text may be nested.
const DEPTH: usize = 64;

/// A keyword with what stands in its brackets.
#[derive(Debug, Default)]
struct Node<'t> {
    keyword: &'t str,
    values: Vec<&'t str>,
    nodes: Vec<Node<'t>>,
}

/// What a coordinate system says that matters here.
#[derive(Debug, Default, PartialEq)]
pub(crate) struct System {
    /// Its code in the EPSG registry, or else its name.
    pub(crate) name: Option<String>,
    /// That it was recognised by its parameters, where it has no code.
    pub(crate) note: Option<String>,
    /// The unit of the plan.
    pub(crate) unit: Option<LengthUnit>,
    /// The system of heights: its code in the EPSG registry, or else its name.
    pub(crate) height_system: Option<String>,
    /// The unit of heights, where they have one of their own.
    pub(crate) heights: Option<HeightUnit>,
    /// A unit that is not supported, by its length in metres.
    pub(crate) unknown_unit: Option<String>,
    /// True where heights count downwards.
    pub(crate) is_depth: bool,
    /// True for latitude and longitude.
    pub(crate) is_geographic: bool,
}

/// Reads what a text says; of one that is cut off or no such text, what can be made out.
pub(crate) fn system(text: &str) -> System {
    let root = parsed(text);
    let projected = root.find(PROJECTED);
    let geographic = root.find(&["GEOGCS", "GEOGCRS", "GEODCRS", "GEOGRAPHICCRS"]);
    let vertical = root.find(&["VERT_CS", "VERTCS", "VERTCRS", "VERTICALCRS"]);
    let local = root.find(&["LOCAL_CS", "ENGCRS", "ENGINEERINGCRS"]);
    let plan = projected.or(local);
    let called = |node: &Node<'_>| node.code().or_else(|| node.name());
    let without_code = projected.filter(|node| node.code().is_none());
    let is_of_the_web = |node: &Node<'_>| {
        let method = node.find(&["PROJECTION", "METHOD"]);
        method
            .and_then(Node::name)
            .is_some_and(|name| projection::is_of_the_web(&name))
    };
    let recognised = without_code
        .and_then(|node| match is_of_the_web(node) {
            true => Some(registry::WEB_MERCATOR),
            false => registry::code_of(node),
        })
        .map(|code| format!("EPSG:{code}"));
    System {
        note: recognised.as_ref().map(|code| {
            let name = projected
                .and_then(Node::name)
                .unwrap_or_else(|| "without a name".into());
            format!("coordinate system {name} recognised as {code} by its parameters")
        }),
        name: recognised.or_else(|| {
            let name = plan.and_then(called)?;
            // A name of the registry over other parameters is not that system.
            let is_other = without_code.is_some_and(registry::is_misnamed);
            Some(if is_other {
                format!("{name} (not as registered)")
            } else {
                name
            })
        }),
        height_system: vertical.and_then(called),
        unit: plan.and_then(Node::metres).and_then(unit),
        heights: vertical
            .and_then(Node::metres)
            .and_then(HeightUnit::of_metres),
        unknown_unit: (plan.and_then(Node::metres))
            .filter(|&metres| unit(metres).is_none())
            .or_else(|| {
                let heights = vertical.and_then(Node::metres);
                heights.filter(|&metres| HeightUnit::of_metres(metres).is_none())
            })
            .map(|metres| format!("of {metres} m")),
        is_depth: vertical.is_some_and(Node::counts_down),
        is_geographic: plan.is_none() && geographic.is_some(),
    }
}

/// Reads a text as far as it goes.
fn parsed(text: &str) -> Node<'_> {
    let mut rest = text.trim_matches(['\0', ' ', '\n', '\r', '\t', '\u{feff}']);
    node(&mut rest, 0)
}

/// Reads a keyword and its brackets, and leaves what follows.
fn node<'t>(rest: &mut &'t str, depth: usize) -> Node<'t> {
    let end = rest.find(['[', '(', ',', ']', ')']).unwrap_or(rest.len());
    let keyword = rest[..end].trim();
    *rest = &rest[end..];
    let mut found = Node {
        keyword,
        ..Node::default()
    };
    let Some(inner) = rest.strip_prefix(['[', '(']) else {
        return found;
    };
    *rest = inner;
    loop {
        *rest = rest.trim_start_matches([',', ' ', '\n', '\r', '\t']);
        match rest.chars().next() {
            None => return found,
            Some(']' | ')') => {
                *rest = &rest[1..];
                return found;
            }
            Some('"') => {
                let quoted = &rest[1..];
                let end = quoted.find('"').unwrap_or(quoted.len());
                found.values.push(&quoted[..end]);
                *rest = quoted.get(end + 1..).unwrap_or_default();
            }
            Some('[' | '(') => *rest = &rest[1..],
            Some(_) if depth < DEPTH => {
                let next = node(rest, depth + 1);
                match next.nodes.is_empty() && next.values.is_empty() {
                    true => found.values.push(next.keyword),
                    false => found.nodes.push(next),
                }
            }
            Some(_) => {
                *rest = "";
                return found;
            }
        }
    }
}

impl Node<'_> {
    /// True for one of these keywords.
    fn is(&self, keywords: &[&str]) -> bool {
        keywords
            .iter()
            .any(|k| k.eq_ignore_ascii_case(self.keyword))
    }

    /// The first of these keywords, outermost first.
    fn find(&self, keywords: &[&str]) -> Option<&Self> {
        match self.is(keywords) {
            true => Some(self),
            false => self.nodes.iter().find_map(|node| node.find(keywords)),
        }
    }

    /// Its name, unless that is a word for none.
    fn name(&self) -> Option<String> {
        let name = self.values.first().filter(|name| {
            let none = ["", "unknown", "unnamed", NO_NAME];
            !none
                .iter()
                .any(|none| none.eq_ignore_ascii_case(name.trim()))
        });
        name.map(|&name| name.into())
    }

    /// Its code in the EPSG registry.
    fn code(&self) -> Option<String> {
        let own = self.nodes.iter().rev().filter(|node| {
            ["AUTHORITY", "ID"]
                .iter()
                .any(|k| k.eq_ignore_ascii_case(node.keyword))
        });
        let mut codes = own.filter_map(|node| match node.values[..] {
            [name, code, ..] if name.eq_ignore_ascii_case("EPSG") => Some(format!("EPSG:{code}")),
            _ => None,
        });
        codes.next()
    }

    /// True where its axis points down, or its direction is turned round.
    fn counts_down(&self) -> bool {
        self.nodes.iter().any(|node| {
            let is = |keyword: &str| keyword.eq_ignore_ascii_case(node.keyword);
            let says = |word: &str| node.values.iter().any(|v| v.eq_ignore_ascii_case(word));
            is("AXIS") && says("down")
                || is("PARAMETER")
                    && says("Direction")
                    && node.values.get(1).is_some_and(|v| v.starts_with('-'))
        })
    }

    /// Its length unit in metres: its own, or that of its axes.
    fn metres(&self) -> Option<f64> {
        let is = |node: &&Self, names: &[&str]| {
            names
                .iter()
                .any(|name| name.eq_ignore_ascii_case(node.keyword))
        };
        let own = self.nodes.iter().find(|n| is(n, &["UNIT", "LENGTHUNIT"]));
        let axes = self.nodes.iter().filter(|n| is(n, &["AXIS"]));
        let of_axis = axes
            .flat_map(|axis| &axis.nodes)
            .find(|n| is(n, &["UNIT", "LENGTHUNIT"]));
        own.or(of_axis)?.values.get(1)?.parse().ok()
    }
}

/// A unit by its length in metres, distinguished where files round it: the two feet differ by two millionths.
pub(crate) fn unit(metres: f64) -> Option<LengthUnit> {
    let known = LengthUnit::ALL.into_iter();
    let close =
        |unit: &LengthUnit| (unit.convert(1.0, LengthUnit::Metre) / metres - 1.0).abs() < 5e-7;
    known.filter(close).min_by(|a, b| {
        let off = |unit: &LengthUnit| (unit.convert(1.0, LengthUnit::Metre) - metres).abs();
        off(a).total_cmp(&off(b))
    })
}

/// The text of a projected system of which only its unit and code are known.
pub(crate) fn text(unit: LengthUnit, crs: Option<&str>) -> String {
    let name = match unit {
        LengthUnit::Metre => "metre",
        LengthUnit::Foot(Foot::International) => "foot",
        LengthUnit::Foot(Foot::UsSurvey) => "US survey foot",
    };
    let metres = unit.convert(1.0, LengthUnit::Metre);
    let code = crs.and_then(|crs| crs.strip_prefix("EPSG:"));
    let authority = code.map_or(String::new(), |code| {
        format!(",AUTHORITY[\"EPSG\",\"{code}\"]")
    });
    format!(
        "LOCAL_CS[\"{}\",UNIT[\"{name}\",{metres}]{authority}]",
        crs.unwrap_or(NO_NAME)
    )
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const COMPOUND: &str = r#"COMPD_CS["made up + heights",PROJCS["Made up / zone 9",GEOGCS["M",DATUM["D",
        SPHEROID["S",6378137,298.257]],PRIMEM["Greenwich",0],UNIT["degree",0.0174532925199433],AUTHORITY["EPSG","4999"]],
        PROJECTION["Transverse_Mercator"],PARAMETER["false_easting",500000],UNIT["US survey foot",0.3048006096012192,
        AUTHORITY["EPSG","9003"]],AXIS["E",EAST],AUTHORITY["EPSG","32999"]],
        VERT_CS["heights",VERT_DATUM["h",2005],UNIT["metre",1]]]"#;

    #[test]
    fn both_kinds_of_text_say_name_and_units() {
        let found = system(COMPOUND);
        assert_eq!(found.name.as_deref(), Some("EPSG:32999"));
        assert_eq!(found.unit, Some(LengthUnit::Foot(Foot::UsSurvey)));
        assert_eq!(found.heights, Some(HeightUnit::Length(LengthUnit::Metre)));
        assert_eq!(found.height_system.as_deref(), Some("heights"));
        assert!(!found.is_geographic);
        assert_eq!((found.unknown_unit, found.is_depth), (None, false));
        let second = r#"PROJCRS["Made up",BASEGEOGCRS["M",DATUM["D",ELLIPSOID["S",6378137,298.2,LENGTHUNIT["metre",1]]]],
            CONVERSION["c",METHOD["Transverse Mercator"]],CS[Cartesian,2],AXIS["(E)",east,LENGTHUNIT["foot",0.3048]],
            ID["EPSG",31999]]"#;
        let found = system(second);
        assert_eq!(found.name.as_deref(), Some("EPSG:31999"));
        assert_eq!(found.unit, Some(LengthUnit::Foot(Foot::International)));
        assert_eq!(found.heights, None);
    }

    #[test]
    fn heights_of_other_dialects_and_units_are_understood() {
        let of = |vertical: &str| {
            system(&format!(
                r#"COMPD_CS["c",PROJCS["p",UNIT["metre",1]],{vertical}]"#
            ))
        };
        let found = of(
            r#"VERTCS["Levels_Foot_US",VDATUM["Levels"],PARAMETER["Vertical_Shift",0.0],PARAMETER["Direction",1.0],UNIT["Foot_US",0.3048006096012192]]"#,
        );
        let foot = LengthUnit::Foot(Foot::UsSurvey);
        assert_eq!(found.heights, Some(HeightUnit::Length(foot)));
        assert_eq!(found.height_system.as_deref(), Some("Levels_Foot_US"));
        assert!(!found.is_depth);
        assert!(of(r#"VERTCS["l",PARAMETER["Direction",-1.0],UNIT["m",1]]"#).is_depth);
        assert!(of(r#"VERTCRS["l",AXIS["depth (D)",down,LENGTHUNIT["metre",1]]]"#).is_depth);
        let odd = of(r#"VERT_CS["l",UNIT["fathom",1.8288]]"#);
        assert_eq!(odd.unknown_unit.as_deref(), Some("of 1.8288 m"));
        let odd = system(r#"PROJCS["p",UNIT["link",0.201168]]"#);
        assert_eq!(
            (odd.unit, odd.unknown_unit.as_deref()),
            (None, Some("of 0.201168 m"))
        );
    }

    #[test]
    fn degrees_are_told_and_nonsense_says_nothing() {
        assert!(system(r#"GEOGCS["W",UNIT["degree",0.0174]]"#).is_geographic);
        for text in ["", "PROJCS", "PROJCS[", "]]]", "PROJCS[\"a", "((((", "\"\""] {
            assert!(!system(text).is_geographic, "{text}");
        }
        assert_eq!(system(&"A[".repeat(100_000)), System::default());
    }

    #[test]
    fn what_is_written_reads_back() {
        for unit in LengthUnit::ALL {
            let found = system(&text(unit, Some("EPSG:31999")));
            assert_eq!(
                (found.unit, found.name.as_deref()),
                (Some(unit), Some("EPSG:31999"))
            );
            assert_eq!(system(&text(unit, None)).name, None);
        }
    }

    proptest! {
        /// Whatever the text, there is an answer.
        #[test]
        fn any_text_has_an_answer(cut in 0..COMPOUND.len(), junk in "[\\[\\]\",A-Zé ]{0,12}") {
            let text = format!("{}{junk}{}", &COMPOUND[..cut], &COMPOUND[cut..]);
            system(&text);
            system(&COMPOUND[..cut]);
        }
    }
}
