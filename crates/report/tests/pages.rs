//! Maps and pages of a box dug into level ground, whose figures are plain.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;

use dapedon_core::quantities::Tolerance;
use dapedon_core::units::LengthUnit;
use dapedon_job::{Measurement, Request, Scene, ZoneSource, measure};
use dapedon_report::{
    MapOptions, MapWords, Picture, describe, difference_map, number::grouped, page,
};

/// Ground at 10.0 of 40 by 20; the survey is at 8.5 on the western half and 10.5 on the eastern.
fn measured(zone: Option<&str>, tolerance: f64) -> (Measurement, Scene) {
    let folder = tempfile::tempdir().unwrap();
    let path = |name: &str| folder.path().join(name);
    let points = |rows: &[(f64, f64, f64)]| {
        let rows = rows
            .iter()
            .map(|(e, n, h)| format!("{},{},{h}\n", 500_000.0 + e, 6e6 + n));
        format!("east,north,height\n{}", rows.collect::<String>())
    };
    let corners = [
        (0.0, 0.0, 10.0),
        (40.0, 0.0, 10.0),
        (40.0, 20.0, 10.0),
        (0.0, 20.0, 10.0),
    ];
    fs::write(path("ground.csv"), points(&corners)).unwrap();
    let step = |e: f64, h: f64| [(e, 0.0, h), (e, 20.0, h)];
    let dug = [
        step(0.0, 8.5),
        step(20.0, 8.5),
        step(20.001, 10.5),
        step(40.0, 10.5),
    ]
    .concat();
    fs::write(path("survey.csv"), points(&dug)).unwrap();
    let zones = zone.map(|name| {
        let ring = "[[500002,6000002],[500030,6000002],[500030,6000018],[500002,6000018],[500002,6000002]]";
        let text = format!(r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"Polygon","coordinates":[{ring}]}}}}"#);
        fs::write(path("zone.geojson"), text).unwrap();
        ZoneSource::File { path: path("zone.geojson"), name: None }
    });
    let source = |name: &str| path(name).display().to_string().parse().unwrap();
    let context = dapedon_job::Context {
        reading: dapedon_job::Reading {
            unit: Some(LengthUnit::Metre),
            ..dapedon_job::Reading::default()
        },
        ..dapedon_job::Context::default()
    };
    let request = Request {
        zones: zones.into_iter().collect(),
        tolerance: Tolerance::new(tolerance).unwrap(),
        ..Request::between(source("ground.csv"), source("survey.csv"))
    };
    measure(&context, &request).unwrap()
}

/// The words of an SVG, one text element a line.
fn words(svg: &str) -> Vec<String> {
    let texts = svg.split("<text").skip(1);
    texts
        .map(|text| {
            text.split_once('>')
                .unwrap()
                .1
                .split_once("</text>")
                .unwrap()
                .0
                .to_owned()
        })
        .collect()
}

/// The map of a measurement, for a screen.
fn map(measurement: &Measurement, scene: &Scene) -> String {
    let (rows, tolerance) = (&measurement.zones, measurement.tolerance.value);
    let drawn = difference_map(
        rows,
        tolerance,
        scene,
        MapWords::VOLUME,
        &MapOptions::default(),
    );
    drawn.unwrap().0
}

#[test]
fn the_map_says_what_its_colours_mean() {
    let (measurement, scene) = measured(Some("pit & pad"), 0.1);
    let words = words(&map(&measurement, &scene));
    for expected in [
        "pit &amp; pad",
        "N",
        "Fill, to 0.50 m",
        "Cut, to 1.50 m",
        "within ±0.1 m",
        "cut 432.0 m³",
        "fill 80.0 m³",
        "160.0 m², 80.0 m³",
        "east",
        "north",
    ] {
        assert!(
            words.iter().any(|word| word.trim() == expected),
            "{expected} is not among {words:?}"
        );
    }
    // Neither surface ends within the zone: no line is explained that is not drawn.
    assert!(!words.iter().any(|word| word.starts_with("edge of")));
    // The height of a band is the least of 1, 2, 5 and their tens that needs five for 1.5; the first begins at the tolerance.
    let count = |range: &str| words.iter().filter(|word| *word == range).count();
    assert_eq!(
        [count("0.1 to 0.5 m"), count("1 to 1.5 m")],
        [2, 1],
        "{words:?}"
    );
}

#[test]
fn a_map_without_zones_shows_what_both_cover() {
    let (measurement, scene) = measured(None, 0.0);
    let svg = map(&measurement, &scene);
    // Everything differs: no band is explained that nothing is in.
    assert!(!words(&svg).contains(&"unchanged".to_owned()));
    assert_eq!(svg.matches("<image").count(), 1);
    assert!(svg.len() < 60_000, "{} bytes", svg.len());
}

#[test]
fn the_page_shows_the_measured_figures() {
    let (measurement, scene) = measured(Some("yard"), 0.0);
    let zone = &measurement.zones[0];
    // 18 of the pit's 20 lie in the zone, 16 wide and 1.5 deep, and 10 of the pad's 20, 0.5 high;
    // between them stands a slope of a millimetre.
    assert!((zone.volume.cut.value - 18.0 * 16.0 * 1.5).abs() < 0.02);
    assert!((zone.volume.fill.value - 10.0 * 16.0 * 0.5).abs() < 0.02);
    let figure = |value: f64| grouped(value, 1);
    let net = figure(zone.volume.net.value);
    let svg = map(&measurement, &scene);
    let caption = "where it is".to_owned();
    let report = describe::volume(&measurement, vec![Picture { caption, svg }]);
    let page = page(&report, "Yard <2>").unwrap();
    assert!(page.contains("<figcaption>where it is</figcaption><svg"));
    assert!(
        page.contains("<h1>Yard &lt;2&gt;</h1>"),
        "the title is not escaped"
    );
    assert!(page.contains(&format!(
        "<td class=\"short\">{net}</td><td class=\"words short\">more cut than fill</td>"
    )));
    assert!(page.contains("No tolerance: every difference"));
    assert!(!page.contains("Before relying"), "nothing was doubtful");
    assert!(!page.contains("{{") && !page.contains("{%"));
    assert!(!page.contains("undefined") && !page.contains("none</td><td>none"));
}

#[test]
fn warnings_stand_before_the_figures() {
    let (mut measurement, _) = measured(None, 0.25);
    let finding = r#"{"code": "not-compared", "severity": "warning", "message": "12.0 m² covered by only the reference"}"#;
    measurement.warnings = vec![serde_json::from_str(finding).unwrap()];
    let page = page(&describe::volume(&measurement, Vec::new()), "Yard").unwrap();
    let at = |text: &str| page.find(text).unwrap();
    assert!(at("12.0 m² covered by only") < at("<h2>Volume,"));
    assert!(page.contains("Unchanged: differences within ±0.25 m"));
}
