//! Systems of the EPSG registry, by name and by what they are.

use super::projection::{Projection, letters};
use super::{Node, PROJECTED, parsed};

/// The code of the system of maps on the web.
pub(super) const WEB_MERCATOR: u16 = 3857;

/// The text of a system by its code.
fn text(code: u16) -> Option<&'static str> {
    crs_definitions::from_code(code).map(|known| known.wkt)
}

/// All projected systems of the registry that are known here.
fn all() -> impl Iterator<Item = (u16, &'static str)> {
    (0..=u16::MAX)
        .filter_map(|code| Some((code, text(code)?)))
        .filter(|(_, text)| text.starts_with("PROJCS"))
}

fn projection(text: &str) -> Option<Projection> {
    let root = parsed(text);
    Projection::of(root.find(PROJECTED)?)
}

/// The code of a system that has no code of its own, by its parameters.
pub(super) fn code_of(system: &Node<'_>) -> Option<u16> {
    let wanted = Projection::of(system)?;
    let meridian = wanted.meridian_of_origin()?;
    // Most are passed over by their meridian, before the rest is read.
    let may_be = |text: &str| {
        let after = ["\"central_meridian\",", "\"longitude_of_center\","]
            .iter()
            .find_map(|key| text.split_once(key));
        let number = after.and_then(|(_, rest)| rest.split([']', ',']).next()?.parse::<f64>().ok());
        number.is_some_and(|number| (number - meridian).abs() < 1e-6 || text.contains("\"grad\""))
    };
    let known = all().filter(|(_, text)| may_be(text));
    let same =
        known.filter(|(_, text)| projection(text).is_some_and(|known| known.is_same(&wanted)));
    // Of several, the one with the plainest name: variants say in brackets what is special about them.
    let plainest = same.min_by_key(|(_, text)| text.split('"').nth(1).map_or(0, str::len));
    plainest.map(|(code, _)| code)
}

/// True for a system with the name of a registered one and other parameters.
pub(super) fn is_misnamed(system: &Node<'_>) -> bool {
    let registered = system
        .name()
        .as_deref()
        .and_then(code)
        .and_then(text)
        .and_then(projection);
    registered
        .zip(Projection::of(system))
        .is_some_and(|(known, own)| !known.is_same(&own))
}

/// The code of a system that is named: a code itself, or a name as registries and programs write it.
fn code(name: &str) -> Option<u16> {
    if let Some(code) = name
        .get(..5)
        .filter(|front| front.eq_ignore_ascii_case("EPSG:"))
        .and_then(|_| name.get(5..))
    {
        return code.trim().parse().ok();
    }
    let wanted = plain(name);
    let mut known = all().filter(|(_, text)| {
        let own = text.split('"').nth(1).unwrap_or_default();
        // The datum before the stroke is often left out where the grid has a name of its own.
        plain(own) == wanted
    });
    known.next().map(|(code, _)| code)
}

/// Letters and digits of a name, with years of the last century in two digits.
fn plain(name: &str) -> String {
    let letters = letters(name);
    let mut made = String::with_capacity(letters.len());
    let mut rest = letters.as_str();
    while let Some(next) = rest.chars().next() {
        let year = (rest.strip_prefix("19"))
            .filter(|after| after.len() >= 2 && after.bytes().take(2).all(|b| b.is_ascii_digit()));
        let is_whole = !made.ends_with(|c: char| c.is_ascii_digit());
        match year.filter(|_| is_whole) {
            Some(after) => {
                made.push_str(&after[..2]);
                rest = &after[2..];
            }
            None => {
                made.push(next);
                rest = &rest[next.len_utf8()..];
            }
        }
    }
    made
}

/// True when two names stand for one projected system: the same name, the same code, or codes of systems with the same
/// projection, datum, meridian, false origin and unit.
///
/// ```
/// use dapedon_formats::same_system;
/// assert!(same_system("NAD_1983_UTM_Zone_10N", "EPSG:26910"));
/// assert!(same_system("Site grid", "SITE GRID"));
/// assert!(!same_system("EPSG:26910", "EPSG:26911"));
/// ```
pub fn same_system(one: &str, other: &str) -> bool {
    if one.eq_ignore_ascii_case(other) {
        return true;
    }
    let (Some(one), Some(other)) = (code(one), code(other)) else {
        return false;
    };
    let known = |code: u16| text(code).and_then(projection);
    one == other
        || known(one)
            .zip(known(other))
            .is_some_and(|(one, other)| one.is_same(&other))
}

/// True for the system of maps on the web, by its codes and names: it stretches lengths by one over the cosine of the latitude, and is
/// nothing to measure in.
///
/// ```
/// use dapedon_formats::is_web_mercator;
/// assert!(is_web_mercator("EPSG:3857") && is_web_mercator("WGS_1984_Web_Mercator_Auxiliary_Sphere"));
/// assert!(!is_web_mercator("EPSG:32633"));
/// ```
pub fn is_web_mercator(name: &str) -> bool {
    let code = name.rsplit(':').next().unwrap_or(name).trim();
    let letters = letters(name);
    ["3857", "3785", "900913", "102100", "102113"].contains(&code)
        || letters.contains("webmercator")
        || letters.contains("pseudomercator")
        || letters.contains("popularvisualisation")
}

#[cfg(test)]
mod tests {
    use super::super::system;
    use super::*;

    /// Systems as another widespread kind of `.prj` writes them, and their codes.
    const PRJ: [(&str, &str); 7] = [
        (
            r#"PROJCS["NAD_1983_UTM_Zone_10N",GEOGCS["GCS_North_American_1983",DATUM["D_North_American_1983",SPHEROID["GRS_1980",6378137.0,298.257222101]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",500000.0],PARAMETER["False_Northing",0.0],PARAMETER["Central_Meridian",-123.0],PARAMETER["Scale_Factor",0.9996],PARAMETER["Latitude_Of_Origin",0.0],UNIT["Meter",1.0]]"#,
            "EPSG:26910",
        ),
        (
            r#"PROJCS["British_National_Grid",GEOGCS["GCS_OSGB_1936",DATUM["D_OSGB_1936",SPHEROID["Airy_1830",6377563.396,299.3249646]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",400000.0],PARAMETER["False_Northing",-100000.0],PARAMETER["Central_Meridian",-2.0],PARAMETER["Scale_Factor",0.9996012717],PARAMETER["Latitude_Of_Origin",49.0],UNIT["Meter",1.0]]"#,
            "EPSG:27700",
        ),
        (
            r#"PROJCS["NAD_1983_StatePlane_California_V_FIPS_0405_Feet",GEOGCS["GCS_North_American_1983",DATUM["D_North_American_1983",SPHEROID["GRS_1980",6378137.0,298.257222101]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Lambert_Conformal_Conic"],PARAMETER["False_Easting",6561666.666666666],PARAMETER["False_Northing",1640416.666666667],PARAMETER["Central_Meridian",-118.0],PARAMETER["Standard_Parallel_1",34.03333333333333],PARAMETER["Standard_Parallel_2",35.46666666666667],PARAMETER["Latitude_Of_Origin",33.5],UNIT["Foot_US",0.3048006096012192]]"#,
            "EPSG:2229",
        ),
        (
            r#"PROJCS["RGF_1993_Lambert_93",GEOGCS["GCS_RGF_1993",DATUM["D_RGF_1993",SPHEROID["GRS_1980",6378137.0,298.257222101]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Lambert_Conformal_Conic"],PARAMETER["False_Easting",700000.0],PARAMETER["False_Northing",6600000.0],PARAMETER["Central_Meridian",3.0],PARAMETER["Standard_Parallel_1",44.0],PARAMETER["Standard_Parallel_2",49.0],PARAMETER["Latitude_Of_Origin",46.5],UNIT["Meter",1.0]]"#,
            "EPSG:2154",
        ),
        (
            r#"PROJCS["ETRS_1989_UTM_Zone_32N",GEOGCS["GCS_ETRS_1989",DATUM["D_ETRS_1989",SPHEROID["GRS_1980",6378137.0,298.257222101]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",500000.0],PARAMETER["False_Northing",0.0],PARAMETER["Central_Meridian",9.0],PARAMETER["Scale_Factor",0.9996],PARAMETER["Latitude_Of_Origin",0.0],UNIT["Meter",1.0]]"#,
            "EPSG:25832",
        ),
        (
            r#"PROJCS["GDA_1994_MGA_Zone_56",GEOGCS["GCS_GDA_1994",DATUM["D_GDA_1994",SPHEROID["GRS_1980",6378137.0,298.257222101]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Transverse_Mercator"],PARAMETER["False_Easting",500000.0],PARAMETER["False_Northing",10000000.0],PARAMETER["Central_Meridian",153.0],PARAMETER["Scale_Factor",0.9996],PARAMETER["Latitude_Of_Origin",0.0],UNIT["Meter",1.0]]"#,
            "EPSG:28356",
        ),
        // The second kind of text, without a code.
        (
            r#"PROJCRS["a grid",BASEGEOGCRS["NZGD2000",DATUM["New Zealand Geodetic Datum 2000",ELLIPSOID["GRS 1980",6378137,298.257222101,LENGTHUNIT["metre",1]]],PRIMEM["Greenwich",0,ANGLEUNIT["degree",0.0174532925199433]]],CONVERSION["c",METHOD["Transverse Mercator"],PARAMETER["Latitude of natural origin",0,ANGLEUNIT["degree",0.0174532925199433]],PARAMETER["Longitude of natural origin",173,ANGLEUNIT["degree",0.0174532925199433]],PARAMETER["Scale factor at natural origin",0.9996,SCALEUNIT["unity",1]],PARAMETER["False easting",1600000,LENGTHUNIT["metre",1]],PARAMETER["False northing",10000000,LENGTHUNIT["metre",1]]],CS[Cartesian,2],AXIS["northing (N)",north,LENGTHUNIT["metre",1]],AXIS["easting (E)",east,LENGTHUNIT["metre",1]]]"#,
            "EPSG:2193",
        ),
    ];

    #[test]
    fn systems_without_a_code_are_recognised_by_their_parameters() {
        for (text, code) in PRJ {
            let found = system(text);
            assert_eq!(found.name.as_deref(), Some(code));
            assert!(found.note.is_some_and(|note| note.contains(code)));
        }
    }

    #[test]
    fn a_system_that_differs_in_one_parameter_is_another() {
        let utm = PRJ[0].0;
        for (from, to) in [
            ("-123.0", "-123.5"),
            ("500000.0", "500000.5"),
            ("0.9996", "0.99961"),
            ("D_North_American_1983", "D_Site_Datum"),
            ("Greenwich\",0.0", "Paris\",2.33722917"),
            ("UNIT[\"Meter\",1.0]", "UNIT[\"Foot\",0.3048]"),
        ] {
            let found = system(&utm.replace(from, to));
            let name = found.name.unwrap();
            assert!(name.starts_with("NAD_1983_UTM_Zone_10N"), "{to}");
            assert!(!same_system(&name, "EPSG:26910"), "{to}");
        }
    }

    #[test]
    fn the_system_of_the_web_is_known_by_its_method() {
        let own = r#"PROJCS["Our web map",GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]],PROJECTION["Mercator_Auxiliary_Sphere"],UNIT["Meter",1.0]]"#;
        let found = system(own).name.unwrap();
        assert!(found == "EPSG:3857" && is_web_mercator(&found), "{found}");
    }

    #[test]
    fn names_of_registries_and_programs_are_the_same_system() {
        for (one, other) in [
            ("NAD83 / UTM zone 10N", "NAD_1983_UTM_Zone_10N"),
            ("ETRS89 / UTM zone 32N", "epsg:25832"),
            ("GDA_1994_MGA_Zone_56", "EPSG:28356"),
            ("WGS_1984_UTM_Zone_33N", "EPSG:32633"),
        ] {
            assert!(same_system(one, other) && same_system(other, one), "{one}");
        }
        for (one, other) in [
            ("EPSG:25832", "EPSG:32632"),
            ("EPSG:25832", "EPSG:25833"),
            ("site grid", "site grid 2"),
            ("EPSG:2229", "EPSG:26945"),
            ("EPSG:", "EPSG:x"),
        ] {
            assert!(!same_system(one, other), "{one}");
        }
    }

    /// Each system of the registry is found again by its parameters alone, under its own code or that of an equal one.
    #[test]
    fn every_system_of_the_registry_is_the_same_as_itself() {
        let mut compared = 0;
        for (code, text) in all().step_by(7) {
            let Some(own) = projection(text) else {
                continue;
            };
            compared += 1;
            let root = parsed(text);
            let node = root.find(PROJECTED).unwrap();
            let Some(found) = code_of(node) else {
                panic!("{code} is not found")
            };
            let other = projection(super::text(found).unwrap()).unwrap();
            assert!(other.is_same(&own), "{code} and {found}");
        }
        assert!(compared > 400, "{compared}");
    }
}
