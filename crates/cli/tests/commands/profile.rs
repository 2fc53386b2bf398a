//! Surfaces cut along a line, or from place to place.

use crate::site::{Site, number};

/// Level ground at 10 over 100 by 100, and a roof over it: a ridge to the east at 14, 20 to each side down to 10.
fn site() -> Site {
    let site = Site::new();
    site.write(
        "level.csv",
        "east,north,height\n1000,2000,10\n1100,2000,10\n1100,2100,10\n1000,2100,10\n",
    );
    site.write(
        "roof.csv",
        "east,north,height,code\n1000,2030,10,s\n1100,2030,10,s\n1000,2050,14,r\n1100,2050,14,r\n1000,2070,10,n\n1100,2070,10,n\n",
    );
    site
}

const READ: &str = "--unit m --codes s,r,n=breakline";

#[test]
fn a_profile_has_the_heights_of_all_surfaces() {
    let site = site();
    let found = site.json(&format!(
        "profile level.csv roof.csv --through 1050,2020 --through 1050,2050 --through 1080,2090 --every 10 --corners --json {READ}"
    ));
    assert_eq!(number(&found["length"]), 80.0);
    let places = found["places"].as_array().unwrap();
    let stations: Vec<&str> = places
        .iter()
        .map(|p| p["station"].as_str().unwrap())
        .collect();
    assert_eq!(
        stations,
        [
            "0+000.00", "0+010.00", "0+020.00", "0+030.00", "0+040.00", "0+050.00", "0+060.00",
            "0+070.00", "0+080.00"
        ]
    );
    // Up the roof square to it, and down it aslant: 3 east for 4 north.
    let heights: Vec<Option<f64>> = places.iter().map(|p| p["heights"][1].as_f64()).collect();
    let expected = [
        None,
        Some(10.0),
        Some(12.0),
        Some(14.0),
        Some(12.4),
        Some(10.8),
        None,
        None,
        None,
    ];
    for (found, expected) in heights.iter().zip(expected) {
        match (found, expected) {
            (Some(found), Some(expected)) => {
                assert!((found - expected).abs() < 1e-9, "{found} {expected}");
            }
            (found, expected) => assert_eq!(*found, expected),
        }
    }
    let corner = &places[4];
    assert_eq!(
        [&corner["east"], &corner["north"]].map(number),
        [1056.0, 2058.0]
    );
    assert!((number(&corner["differences"][0]) - 2.4).abs() < 1e-9);
    // Triangles 20 and 25 long, 4 high.
    assert!((number(&found["areas"]["fill"]) - 90.0).abs() < 1e-9);
    assert_eq!(number(&found["areas"]["cut"]), 0.0);
    assert!((number(&found["areas"]["compared"]) - 45.0).abs() < 1e-9);
    assert_eq!(found["reach"][1]["highest_at"], "0+030.00");
    let corners = found["corners"][1]["runs"][0].as_array().unwrap();
    assert_eq!(corners.len(), 3);
    let warnings = Site::warnings(&found);
    assert!(
        warnings.iter().any(|w| w.contains(
            "roof.csv does not reach along the whole profile: 35.00 of 80.00 m are without it"
        )),
        "{warnings:?}"
    );
}

/// The other way round the heights are the same, and cut is fill when the surfaces are swapped.
#[test]
fn a_profile_is_the_same_from_the_other_end() {
    let site = site();
    let run = |surfaces: &str, through: &str| {
        site.json(&format!(
            "profile {surfaces} {through} --every 10 --json {READ}"
        ))
    };
    let there = run(
        "level.csv roof.csv",
        "--through 1010,2035 --through 1090,2065",
    );
    let back = run(
        "roof.csv level.csv",
        "--through 1090,2065 --through 1010,2035",
    );
    let close = |a: f64, b: f64| assert!((a - b).abs() < 1e-9, "{a} {b}");
    close(
        number(&there["areas"]["fill"]),
        number(&back["areas"]["cut"]),
    );
    close(
        number(&there["reach"][1]["highest"]),
        number(&back["reach"][0]["highest"]),
    );
}

#[test]
fn a_profile_runs_along_a_line() {
    let site = site();
    site.write(
        "line.geojson",
        r#"{"type":"LineString","coordinates":[[1050,2000],[1050,2100]]}"#,
    );
    let found = site.json(&format!(
        "profile roof.csv --line line.geojson --from 0+040 --to 0+060 --json {READ}"
    ));
    assert_eq!(number(&found["length"]), 20.0);
    assert_eq!(number(&found["reach"][0]["lowest"]), 12.0);
    assert_eq!(found["line"]["file"]["path"], "line.geojson");
    assert!(found.get("areas").is_none());
    let told = site.succeed(&format!("profile roof.csv level.csv --line line.geojson --sheets one.svg --sheets one.dxf --sheets one.png --csv one.csv --report one.html {READ}"));
    assert!(told.contains("0+050.00"), "{told}");
    let svg = site.read("one.svg");
    assert!(
        svg.contains("Long-section, 0+000.00 to 0+100.00")
            && svg.contains("Profile of roof.csv, level.csv")
    );
    assert!(site.read("one.dxf").contains("SURFACE_"));
    assert!(site.read("one.csv").contains("height of level.csv"));
    assert!(site.read("one.html").contains("<svg"));
}

#[test]
fn bad_profiles_are_refused() {
    let site = site();
    for (line, expected) in [
        (
            "--through 1050,2020",
            "a profile needs two different places",
        ),
        (
            "--through 1050,2020 --through 1050,2020",
            "a profile needs two different places",
        ),
        (
            "--through 1050 --through 1050,2020",
            "expected east and north, as in 412100,5861040",
        ),
        (
            "--through nan,1 --through 1050,2020",
            "expected east and north",
        ),
        (
            "--through 5,5 --through 6,6",
            "no surface is anywhere along the profile",
        ),
        (
            "--through 1,2e10 --through 6,6",
            "20000000000 is not a coordinate",
        ),
        (
            "--through 1050,2020 --through 1060,2020 --every 0.00001",
            "at most 100000 are listed",
        ),
        (
            "--through 1050,2020 --through 1060,2020 --every 0",
            "above zero",
        ),
        (
            "--through 1050,2020 --through 1060,2020 --sheets a.doc",
            "a.doc",
        ),
        (
            "--through 1050,2020 --through 1060,2020 --from 0+010",
            "cannot be used with",
        ),
        ("", "--through"),
    ] {
        let told = site.refuse(&format!("profile level.csv {line} --unit m"));
        assert!(told.contains(expected), "{line}: {expected}\n{told}");
    }
}

/// An alignment with two profiles: the first is used and that is said, or one is named.
#[test]
fn one_of_several_profiles_is_named() {
    let site = site();
    site.write(
        "line.xml",
        r#"<LandXML version="1.2"><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="road" length="100" staStart="0">
<CoordGeom><Line><Start>2050 1000</Start><End>2050 1100</End></Line></CoordGeom>
<Profile><ProfAlign name="left"><PVI>0 11</PVI><PVI>100 11</PVI></ProfAlign><ProfAlign name="right"><PVI>0 12</PVI><PVI>100 14</PVI></ProfAlign></Profile>
</Alignment></Alignments></LandXML>"#,
    );
    let heights = |line: &str| {
        let found = site.json(&format!(
            "sections level.csv level.csv --line {line} --every 50 --width 5 --unit m --json"
        ));
        let sections = found["sections"].as_array().unwrap();
        let heights: Vec<f64> = sections.iter().map(|s| number(&s["line_height"])).collect();
        (heights, Site::warnings(&found))
    };
    let (first, warnings) = heights("line.xml");
    assert_eq!(first, [11.0, 11.0, 11.0]);
    let expected = "the line has 2 profiles: \"left\", \"right\"; the first is used";
    assert!(
        warnings.iter().any(|w| w.contains(expected)),
        "{warnings:?}"
    );
    let (named, warnings) = heights("line.xml#road/right");
    assert_eq!(named, [12.0, 13.0, 14.0]);
    assert!(
        !warnings.iter().any(|w| w.contains("profiles")),
        "{warnings:?}"
    );
    assert_eq!(heights("line.xml#road").0, [11.0, 11.0, 11.0]);
    let told = site.refuse(
        "sections level.csv level.csv --line line.xml#road/middle --every 50 --width 5 --unit m",
    );
    assert!(told.contains("road/middle"), "{told}");
}

/// A small part of a long line has its round chainages too.
#[test]
fn a_small_part_of_a_long_line_is_listed() {
    let site = site();
    site.write(
        "long.geojson",
        r#"{"type":"LineString","coordinates":[[1050,2000],[1050,92000]]}"#,
    );
    let found = site.json(
        "profile level.csv --line long.geojson --from 0+020 --to 0+030 --every 2 --json --unit m",
    );
    assert_eq!(found["places"].as_array().unwrap().len(), 6);
}
