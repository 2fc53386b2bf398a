//! Projected systems by what they are: projection, datum, meridian, false origin and unit, whatever their names.

use std::collections::BTreeMap;

use super::Node;

/// Angles that differ by less are the same, in degrees: a centimetre on the ground.
const ANGLE: f64 = 1e-7;
/// Lengths that differ by less are the same, in metres: files round false origins in feet.
const LENGTH: f64 = 1e-3;
/// Scales that differ by less are the same.
const SCALE: f64 = 1e-9;

/// A parameter of a projection.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Parameter {
    Latitude,
    Longitude,
    FirstParallel,
    SecondParallel,
    Azimuth,
    Turn,
    Scale,
    FalseEasting,
    FalseNorthing,
}

impl Parameter {
    /// By its name in any of the dialects; `None` for one that is not compared, such as the kind of a sphere.
    fn of(name: &str) -> Option<Self> {
        Some(match letters(name).as_str() {
            "latitudeoforigin"
            | "latitudeofcenter"
            | "latitudeofnaturalorigin"
            | "latitudeoffalseorigin"
            | "latitudeofprojectioncentre" => Parameter::Latitude,
            "centralmeridian"
            | "longitudeofcenter"
            | "longitudeoforigin"
            | "longitudeofnaturalorigin"
            | "longitudeoffalseorigin"
            | "longitudeofprojectioncentre" => Parameter::Longitude,
            "standardparallel1"
            | "latitudeof1ststandardparallel"
            | "pseudostandardparallel1"
            | "latitudeofpseudostandardparallel" => Parameter::FirstParallel,
            "standardparallel2" | "latitudeof2ndstandardparallel" => Parameter::SecondParallel,
            "azimuth"
            | "azimuthofinitialline"
            | "azimuthatprojectioncentre"
            | "colatitudeofconeaxis" => Parameter::Azimuth,
            "rectifiedgridangle" | "xyplanerotation" | "anglefromrectifiedtoskewgrid" => {
                Parameter::Turn
            }
            "scalefactor"
            | "scalefactoratnaturalorigin"
            | "scalefactoratprojectioncentre"
            | "scalefactoronpseudostandardparallel" => Parameter::Scale,
            "falseeasting" | "eastingatfalseorigin" | "eastingatprojectioncentre" => {
                Parameter::FalseEasting
            }
            "falsenorthing" | "northingatfalseorigin" | "northingatprojectioncentre" => {
                Parameter::FalseNorthing
            }
            _ => return None,
        })
    }

    fn tolerance(self) -> f64 {
        match self {
            Parameter::FalseEasting | Parameter::FalseNorthing => LENGTH,
            Parameter::Scale => SCALE,
            _ => ANGLE,
        }
    }
}

/// A projected system without its name.
#[derive(Debug, Clone)]
pub(crate) struct Projection {
    method: &'static str,
    /// Names that the datum goes by.
    datum: Vec<String>,
    /// The prime meridian, in degrees from Greenwich.
    meridian: f64,
    /// The unit of the plan, in metres.
    unit: f64,
    /// Angles in degrees, lengths in metres.
    parameters: BTreeMap<Parameter, f64>,
}

impl Projection {
    /// What a projected system is, where all that matters is there.
    pub(super) fn of(system: &Node<'_>) -> Option<Self> {
        let method = system.find(&["PROJECTION", "METHOD"])?;
        let datum = system.find(&["DATUM", "GEODETICDATUM", "TRF", "ENSEMBLE"])?;
        let base = system.find(&["GEOGCS", "BASEGEOGCRS", "BASEGEODCRS"])?;
        let number = |node: &Node<'_>, at: usize| node.values.get(at)?.parse::<f64>().ok();
        let angle = base
            .nodes
            .iter()
            .find(|n| n.is(&["UNIT", "ANGLEUNIT"]))
            .and_then(|unit| number(unit, 1));
        let degrees = angle.map_or(1.0, f64::to_degrees);
        let meridian = system
            .find(&["PRIMEM", "PRIMEMERIDIAN"])
            .and_then(|node| number(node, 1))
            .unwrap_or(0.0);
        let unit = system.metres()?;
        let second = system.find(&["CONVERSION"]);
        let mut parameters = BTreeMap::new();
        for node in second
            .unwrap_or(system)
            .nodes
            .iter()
            .filter(|node| node.is(&["PARAMETER"]))
        {
            let Some((parameter, value)) = (node.values.first())
                .and_then(|name| Some((Parameter::of(name)?, number(node, 1)?)))
            else {
                continue;
            };
            // The second kind of text gives each number its own unit.
            let own = node
                .nodes
                .iter()
                .find(|n| n.is(&["LENGTHUNIT", "ANGLEUNIT", "SCALEUNIT"]))
                .and_then(|unit| number(unit, 1));
            let value = match parameter {
                Parameter::FalseEasting | Parameter::FalseNorthing => value * own.unwrap_or(unit),
                Parameter::Scale => value,
                _ => value * own.map_or(degrees, f64::to_degrees),
            };
            parameters.insert(parameter, value);
        }
        let mut found = Projection {
            method: self::method(method.values.first()?)?,
            datum: datum_names(datum.values.first()?),
            // Meridians are written in the unit of angles, but where that of Paris is in degrees beside grads.
            meridian: if (degrees - 1.0).abs() < 1e-9 || (meridian - 2.337_229_17).abs() < 1e-6 {
                meridian
            } else {
                meridian * degrees
            },
            unit,
            parameters,
        };
        found.settle();
        Some(found)
    }

    /// What dialects leave out or say twice.
    fn settle(&mut self) {
        use Parameter as P;
        let at = |parameters: &BTreeMap<P, f64>, key| parameters.get(&key).copied();
        let (first, latitude) = (
            at(&self.parameters, P::FirstParallel),
            at(&self.parameters, P::Latitude),
        );
        // A cone that touches at its origin.
        if self.method == "lambert"
            && !self.parameters.contains_key(&P::SecondParallel)
            && (first == latitude || first.is_none())
        {
            self.parameters.remove(&P::FirstParallel);
        }
        for (key, value) in [
            (P::Scale, 1.0),
            (P::Latitude, 0.0),
            (P::FalseEasting, 0.0),
            (P::FalseNorthing, 0.0),
        ] {
            self.parameters.entry(key).or_insert(value);
        }
        // On a cone that cuts at two parallels, either may be the first.
        if let (Some(a), Some(b)) = (first, at(&self.parameters, P::SecondParallel))
            && a < b
        {
            self.parameters.insert(P::FirstParallel, b);
            self.parameters.insert(P::SecondParallel, a);
        }
        // An angle that turns the grid back by the azimuth is the rule.
        if self.parameters.get(&P::Turn) == self.parameters.get(&P::Azimuth) {
            self.parameters.remove(&P::Turn);
        }
    }

    /// True for the same system: no place has other coordinates in it.
    pub(crate) fn is_same(&self, other: &Projection) -> bool {
        let keys = self.parameters.keys().eq(other.parameters.keys());
        let values = || self.parameters.iter().zip(other.parameters.values());
        self.method == other.method
            && keys
            && values().all(|((key, a), b)| (a - b).abs() <= key.tolerance())
            && (self.meridian - other.meridian).abs() <= ANGLE
            && (self.unit / other.unit - 1.0).abs() < 5e-7
            && self.datum.iter().any(|name| other.datum.contains(name))
    }

    /// The easting and northing of its false origin, in metres, and its central meridian: what tells most systems apart.
    pub(super) fn meridian_of_origin(&self) -> Option<f64> {
        self.parameters.get(&Parameter::Longitude).copied()
    }
}

/// Letters and digits of a name, small.
pub(super) fn letters(name: &str) -> String {
    let own = name.chars().filter(|c| c.is_alphanumeric());
    own.flat_map(char::to_lowercase).collect()
}

/// True for the method of maps on the web, by its name in any of the dialects.
pub(super) fn is_of_the_web(method: &str) -> bool {
    matches!(
        letters(method).as_str(),
        "mercatorauxiliarysphere" | "popularvisualisationpseudomercator"
    )
}

/// The method of a projection, by its name in any of the dialects.
fn method(name: &str) -> Option<&'static str> {
    Some(match letters(name).as_str() {
        "transversemercator" | "gausskruger" => "transverse mercator",
        "transversemercatorsouthorientated" | "transversemercatorsouthoriented" => {
            "transverse mercator south"
        }
        "lambertconformalconic"
        | "lambertconformalconic1sp"
        | "lambertconformalconic2sp"
        | "lambertconicconformal1sp"
        | "lambertconicconformal2sp" => "lambert",
        "obliquestereographic" | "doublestereographic" => "oblique stereographic",
        "hotineobliquemercatorazimuthcenter"
        | "hotineobliquemercatorvariantb"
        | "obliquemercator"
        | "rectifiedskeworthomorphiccenter" => "oblique mercator at its centre",
        "hotineobliquemercator"
        | "hotineobliquemercatorvarianta"
        | "hotineobliquemercatorazimuthnaturalorigin"
        | "rectifiedskeworthomorphicnaturalorigin" => "oblique mercator at its origin",
        "swissobliquecylindrical" => "oblique mercator at its centre",
        "albers" | "albersconicequalarea" | "albersequalarea" => "albers",
        "cassini" | "cassinisoldner" => "cassini",
        "krovak" | "krovaknorthorientated" => "krovak",
        "polarstereographic" | "polarstereographicvarianta" => "polar stereographic",
        "mercator1sp" | "mercatorvarianta" => "mercator",
        _ => return None,
    })
}

/// Names that a datum goes by: its words without those that mean a datum, and its initials with its year.
fn datum_names(name: &str) -> Vec<String> {
    const EMPTY: [&str; 12] = [
        "d", "datum", "of", "the", "de", "du", "des", "la", "pour", "for", "and", "system",
    ];
    let split = |c: char| !c.is_alphanumeric();
    let lower = name.to_lowercase();
    let words: Vec<&str> = lower.split(split).filter(|word| !word.is_empty()).collect();
    let is_year = |word: &str| {
        word.len() == 4
            && (word.starts_with("19") || word.starts_with("20"))
            && word.bytes().all(|b| b.is_ascii_digit())
    };
    let kept: Vec<&str> = words
        .iter()
        .copied()
        .filter(|word| !EMPTY.contains(word))
        .collect();
    let mut names = vec![kept.concat()];
    if let Some((year, before)) = words.split_last()
        && is_year(year)
    {
        let small = [
            "d", "of", "the", "de", "du", "la", "les", "las", "para", "for", "and",
        ];
        let initials = before
            .iter()
            .filter(|word| !small.contains(word))
            .filter_map(|word| word.chars().next());
        names.push(initials.chain(year.chars()).collect());
    }
    // Names that no rule leads to, of systems in wide use.
    const SAME: [[&str; 2]; 12] = [
        [
            "sirgas2000",
            "sistemareferenciageocentricoparalasamericas2000",
        ],
        ["nad19832011", "nad83nationalspatialreference2011"],
        ["nad1983nsrs2007", "nad83nationalspatialreference2007"],
        ["nad1983csrs", "nad83canadianspatialreference"],
        ["nad1983harn", "nad83highaccuracyreferencenetwork"],
        ["belge1972", "reseaunationalbelge1972"],
        ["belge1950", "reseaunationalbelge1950"],
        ["mgi", "militargeographischeinstitut"],
        ["sjtsk", "jednotnetrigonometrickesitekatastralni"],
        ["ch1903plus", "ch1903"],
        ["ntf", "nouvelletriangulationfrancaise"],
        ["europeanterrestrialreference1989ensemble", "etrs1989"],
    ];
    for [short, long] in SAME {
        let has = |known: &str| names.iter().any(|name| name == known);
        if has(short) || has(long) {
            names.extend([short.to_owned(), long.to_owned()]);
        }
    }
    names
}
