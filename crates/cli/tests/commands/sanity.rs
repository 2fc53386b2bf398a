//! What a careful colleague would ask: sides that look swapped, dates the wrong way round, heights all alike.

use crate::site::{GROUND, Site};

/// The codes of the warnings of a result.
fn codes(result: &serde_json::Value) -> Vec<String> {
    let all = result["warnings"].as_array().unwrap().iter();
    all.map(|found| found["code"].as_str().unwrap().to_owned())
        .collect()
}

#[test]
fn an_item_that_counts_the_opposite_is_asked_about() {
    let site = Site::new();
    let warnings = |measure: &str, sides: [&str; 2]| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.ground]\nfile = \"ground.xml\"\n[surface.survey]\nfile = \"survey.csv\"\n\
                 [zone.yard]\nfile = \"zone.geojson\"\n\
                 [[item]]\ncode = \"1\"\ndescription = \"Dig\"\nmeasure = \"{measure}\"\nzones = \"yard\"\n\
                 reference = \"{}\"\nsurveyed = \"{}\"\nunit = \"m3\"\n",
                sides[0], sides[1]
            ),
        );
        let json = site.json("measure --json");
        codes(&json["sections"][0]["items"][0])
    };
    let (up, down) = (["ground", "survey"], ["survey", "ground"]);
    assert_eq!(warnings("cut", up), ["sides-swapped"]);
    assert_eq!(warnings("fill", down), ["sides-swapped"]);
    let none: [&str; 0] = [];
    assert_eq!(warnings("fill", up), none);
    assert_eq!(warnings("cut", down), none);
    assert_eq!(warnings("net", down), none);
    let out = site.succeed("measure");
    assert!(!out.contains("swap"), "{out}");
}

#[test]
fn a_reference_later_than_its_survey_is_asked_about() {
    let site = Site::new();
    site.write("later.xml", &GROUND.replace("2031-01-02", "2031-03-04"));
    site.write("odd.xml", &GROUND.replace("2031-01-02", "4 March 2031"));
    let found = |line: &str| {
        let all = codes(&site.json(&format!("volume {line} --json")));
        all.contains(&"dates-reversed".to_owned())
    };
    assert!(found("later.xml ground.xml"));
    assert!(!found("ground.xml later.xml"));
    assert!(!found("ground.xml ground.xml"));
    // What is no day, or is not known, says nothing.
    assert!(!found("odd.xml ground.xml"));
    assert!(!found("later.xml survey.csv --unit m"));
    // A design is handed over anew after what was dug to it.
    assert!(!found("later.xml ground.xml --reference-accuracy design"));
    let out = site.succeed("volume later.xml ground.xml");
    assert!(out.contains("is from 2031-03-04"), "{out}");
}

#[test]
fn surveyed_heights_that_are_all_alike_are_asked_about() {
    let site = Site::new();
    let points = |count: usize, last: f64| {
        let mut text = String::from("east,north,height\n");
        for index in 0..count {
            let height = if index + 1 == count { last } else { 12.0 };
            let (east, north) = (500_000 + index % 4 * 4, 6_000_000 + index / 4 * 2);
            text += &format!("{east},{north},{height}\n");
        }
        text
    };
    let found = |text: &str| {
        site.write("points.csv", text);
        let json = site.json("volume ground.xml points.csv --unit m --json");
        codes(&json).contains(&"heights-alike".to_owned())
    };
    assert!(found(&points(16, 12.0)));
    assert!(!found(&points(16, 12.001)));
    assert!(!found(&points(12, 12.0)));
}
