//! How dense a survey must be, from ground of known shape.

use crate::site::{Site, number};

/// A dome over 60 by 60 m, known every metre.
fn site() -> Site {
    let site = Site::new();
    let mut text = String::from("east,north,height\n");
    for row in 0..=60 {
        for column in 0..=60 {
            let (e, n) = (f64::from(column), f64::from(row));
            let height = 14.0 - 0.004 * ((e - 30.0).powi(2) + (n - 30.0).powi(2));
            let (east, north) = (500_000.0 + e, 6_000_000.0 + n);
            text += &format!("{east},{north},{height:.4}\n");
        }
    }
    site.write("ground.csv", &text);
    let field: [(&str, &[(i32, i32)]); 1] =
        [("field", &[(10, 10), (50, 10), (50, 50), (10, 50), (10, 10)])];
    site.zone("field.geojson", &field);
    site
}

const PLAN: &str = "plan ground.csv --unit m --zone field.geojson --json";

fn parts(row: &serde_json::Value) -> [f64; 4] {
    let keys = ["heights", "places", "common_height", "between_points"];
    keys.map(|key| number(&row["parts"][key]))
}

#[test]
fn parts_follow_the_spacing() {
    let found = site().json(&format!(
        "{PLAN} --accuracy height=0.02,common-height=0.005 --spacing 10,5,2.5"
    ));
    let rows = found["spacings"].as_array().unwrap();
    let spacings: Vec<f64> = rows.iter().map(|row| number(&row["spacing"])).collect();
    assert_eq!(spacings, [10.0, 5.0, 2.5]);
    for row in rows {
        let spacing = number(&row["spacing"]);
        let [heights, _, common, between] = parts(row);
        assert!((common - 0.005 * 1600.0).abs() < 1e-6);
        // Each point counts with a square of the grid: 1600 m² × 20 mm / √(1600 / s²), somewhat less along the edge.
        let expected = 0.02 * 40.0 * spacing;
        assert!(
            (heights - expected).abs() < 0.25 * expected,
            "{spacing}: {heights}"
        );
        // Two triangles of a square miss a s² / 3 of a dome a (x² + y²).
        let expected = 1600.0 * 0.004 * spacing * spacing / 3.0;
        assert!(
            (between - expected).abs() < 0.1 * expected,
            "{spacing}: {between}"
        );
        let all = number(&row["standard"]);
        assert!((all - heights.hypot(common).hypot(between)).abs() < 1e-9 * all);
    }
    assert!(found.get("wanted").is_none() && found.get("spacing").is_none());
}

#[test]
fn the_widest_spacing_that_is_enough_is_found() {
    let site = site();
    let line = format!("{PLAN} --accuracy height=0.02,common-height=0.005 --wanted 40");
    let found = site.json(&line);
    let spacing = number(&found["spacing"]);
    for row in found["spacings"].as_array().unwrap() {
        let enough = 2.0 * number(&row["standard"]) <= 40.0;
        assert_eq!(enough, number(&row["spacing"]) <= spacing, "{row}");
    }
    // By the closed forms above 2 √(8² + (0.8 s)² + (2.13 s²)²) is 42 at 3 m, and 24 at 2 m.
    assert_eq!(spacing, 2.0);
    let told = site.succeed(&line.replace("--json", ""));
    assert!(
        told.contains("Points every 2 m are enough for ±40 m³ at 95 %"),
        "{told}"
    );
    // In feet the same ground is as large.
    let feet = site.json(&format!("{line} --length-unit ft").replace(
        "0.02,common-height=0.005",
        "0.0656168,common-height=0.0164042",
    ));
    assert_eq!(feet["units"]["length"], "ft");
    assert!((number(&feet["area"]) / number(&found["area"]) - 10.7639).abs() < 1e-3);
}

#[test]
fn what_no_survey_reaches_is_said() {
    let site = site();
    let (code, out, _) = site.run(&format!(
        "{PLAN} --accuracy height=0.02,common-height=0.05 --wanted 40"
    ));
    assert_eq!(code, 1);
    let found: serde_json::Value = serde_json::from_str(&out).unwrap();
    let warning = &found["warnings"][0];
    assert_eq!(warning["code"], "plan-not-reached");
    let words = warning["message"].as_str().unwrap();
    assert!(
        words.contains("in common makes ±160.0 m³ with any spacing"),
        "{words}"
    );
    let (code, out, _) = site.run(
        &format!("{PLAN} --accuracy height=0.02 --wanted 40 --spacing 10").replace(" --json", ""),
    );
    assert!(
        code == 1 && out.contains("No spacing below is enough"),
        "{out}"
    );
}

#[test]
fn a_plan_that_cannot_be_is_refused() {
    let site = site();
    for (line, words) in [
        (
            "plan ground.csv --unit m --zone field.geojson --accuracy gnss",
            "--wanted",
        ),
        (
            "plan ground.csv --unit m --accuracy gnss --wanted 10",
            "--zone",
        ),
        (
            "plan ground.csv --unit m --zone field.geojson --wanted 10",
            "--accuracy",
        ),
        (
            "plan ground.csv --unit m --zone field.geojson --accuracy gnss --wanted -3",
            "--wanted",
        ),
        (
            "plan ground.csv --unit m --zone field.geojson --accuracy height=30 --wanted 10",
            "height",
        ),
        (
            "plan ground.csv --unit m --zone field.geojson --accuracy gnss --spacing 0",
            "above zero",
        ),
        (
            "plan ground.csv --unit m --zone field.geojson --accuracy gnss --spacing 0.001",
            "no spacing makes a survey",
        ),
    ] {
        let told = site.refuse(line).replace('\n', " ");
        assert!(told.contains(words), "{line}: {told}");
    }
}
