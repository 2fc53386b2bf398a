//! A zone is known by where it comes from, an item's figure by what the item says: neither by what else is named or
//! asked for in the same run.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;

use dapedon_contract::binary;
use dapedon_job::{
    Bill, BillItem, Context, Job, JobError, Reading, Request, Source, ZoneSource, bill, measure,
};
use proptest::prelude::*;
use tempfile::TempDir;

struct Folder(TempDir);

/// A zone: its name, and its west, south, width and height.
type Rect = (&'static str, [f64; 4]);

impl Folder {
    /// Ground of 60 by 40 at 10, and one that rises from 8 in the west to 14 in the east.
    fn new() -> Self {
        let folder = Folder(TempDir::new().unwrap());
        let ground = |west: f64, east: f64| {
            format!("east,north,height\n0,0,{west}\n60,0,{east}\n60,40,{east}\n0,40,{west}\n")
        };
        folder.write("ground.csv", &ground(10.0, 10.0));
        folder.write("slope.csv", &ground(8.0, 14.0));
        folder
    }

    fn write(&self, name: &str, text: &str) {
        fs::write(self.0.path().join(name), text).unwrap();
    }

    fn zones(&self, file: &str, rects: &[Rect]) {
        let feature = |(name, [e, n, w, h]): &Rect| {
            let ring = [(*e, *n), (e + w, *n), (e + w, n + h), (*e, n + h), (*e, *n)];
            let ring = ring.map(|(e, n)| format!("[{e},{n}]")).join(",");
            format!(
                r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"Polygon","coordinates":[[{ring}]]}}}}"#
            )
        };
        let features: Vec<String> = rects.iter().map(feature).collect();
        let features = features.join(",");
        self.write(
            file,
            &format!(r#"{{"type":"FeatureCollection","features":[{features}]}}"#),
        );
    }

    fn job(&self, text: &str) -> Job {
        let head = "[job]\nname = \"made up\"\nunit = \"m\"\n\
                    [surface.ground]\nfile = \"ground.csv\"\n[surface.slope]\nfile = \"slope.csv\"\n";
        self.write("dapedon.toml", &format!("{head}{text}"));
        Job::read(&self.0.path().join("dapedon.toml")).unwrap()
    }
}

fn measured(job: &Job, codes: &[&str]) -> Result<Bill, JobError> {
    let codes: Vec<String> = codes.iter().map(|code| (*code).into()).collect();
    bill(&Context::of(job), &codes).map(|(bill, _)| bill)
}

/// Two files, each with zones "1" and "2".
const TWO_FILES: &str = r#"
[zone.west]
file = "west.geojson"

[zone.east]
file = "east.geojson"

[zone."first of the west"]
file = "west.geojson#1"

[surface.formation]
start = "ground"
steps = [{ build-up = "road" }]

[build-up.road]
zones = ["west", "east"]
layers = [{ name = "stone", thickness = 0.5, counted = [{ in = "t", per-volume = 2 }] }]
"#;

fn two_files() -> Folder {
    let folder = Folder::new();
    folder.zones(
        "west.geojson",
        &[("1", [0.0, 0.0, 10.0, 10.0]), ("2", [0.0, 20.0, 5.0, 10.0])],
    );
    folder.zones(
        "east.geojson",
        &[
            ("1", [40.0, 0.0, 20.0, 20.0]),
            ("2", [40.0, 30.0, 2.0, 10.0]),
        ],
    );
    folder
}

fn item(code: &str, rest: &str) -> String {
    format!("[[item]]\ncode = \"{code}\"\ndescription = \"made up\"\n{rest}\n")
}

fn rows(item: &BillItem) -> Vec<(&str, f64)> {
    let rows = item.rows.iter();
    rows.map(|row| (row.zone.as_str(), binary(row.rounded)))
        .collect()
}

/// West: 100 and 50 m², by 0.5 are 50 and 25 m³. East: 400 and 20 m² are 200 and 10 m³.
#[test]
fn layers_count_in_the_zones_of_their_own_file() {
    let folder = two_files();
    let layer = "unit = \"m3\"\nmeasure = \"layer\"\nsurveyed = \"formation\"\nlayer = \"stone\"\n";
    let items = [
        item("west", &format!("{layer}zones = \"west\"")),
        item("east", &format!("{layer}zones = \"east\"")),
        item("one", &format!("{layer}zones = \"first of the west\"")),
        item("all", layer),
        item(
            "t",
            &format!("{}zones = \"east\"", layer.replace("m3", "t")),
        ),
    ];
    let bill = measured(&folder.job(&format!("{TWO_FILES}{}", items.concat())), &[]).unwrap();
    let quantities: Vec<f64> = bill.items().map(|item| binary(item.quantity)).collect();
    assert_eq!(quantities, [75.0, 210.0, 50.0, 285.0, 420.0]);
    let all = bill.items().nth(3).unwrap();
    assert_eq!(
        rows(all),
        [
            ("1 (west)", 50.0),
            ("2 (west)", 25.0),
            ("1 (east)", 200.0),
            ("2 (east)", 10.0)
        ]
    );
}

/// The layer "base" stands in two build-ups, counted by other rates.
#[test]
fn layers_are_counted_as_their_own_build_up_says() {
    let folder = two_files();
    let text = r#"
[zone.west]
file = "west.geojson"

[zone.east]
file = "east.geojson"

[surface.formation]
start = "ground"
steps = [{ build-up = ["path", "road"] }]

[build-up.path]
zones = "west"
layers = [{ name = "base", thickness = 0.2, counted = [{ in = "t", per-volume = 2 }] }]

[build-up.road]
zones = "east"
layers = [{ name = "base", thickness = 0.5, counted = [{ in = "t", per-volume = 3 }] }]
"#;
    let layer = "unit = \"t\"\nmeasure = \"layer\"\nsurveyed = \"formation\"\nlayer = \"base\"\n";
    let items = [
        item("both", layer),
        item("road", &format!("{layer}build-up = \"road\"")),
    ];
    let bill = measured(&folder.job(&format!("{text}{}", items.concat())), &[]).unwrap();
    let quantities: Vec<f64> = bill.items().map(|item| binary(item.quantity)).collect();
    // 150 by 0.2 by 2 are 60, 420 by 0.5 by 3 are 630.
    assert_eq!(quantities, [690.0, 630.0]);
}

/// Zones, plots and piles of two files that share their names.
#[test]
fn zones_and_plots_of_one_name_are_told_apart() {
    let folder = two_files();
    let cut = "unit = \"m2\"\nmeasure = \"area\"\nreference = \"ground\"\nsurveyed = \"slope\"\n";
    let items = [
        item("zones", &format!("{cut}zones = [\"west\", \"east\"]")),
        item("plots", &format!("{cut}plots = [\"west\", \"east\"]")),
        item(
            "piles",
            "unit = \"m3\"\nmeasure = \"pile\"\nsurveyed = \"slope\"\nzones = [\"west\", \"east\"]",
        ),
    ];
    let job = folder.job(&format!("{TWO_FILES}{}", items.concat()));
    let bill = measured(&job, &[]).unwrap();
    let names = ["1 (west)", "2 (west)", "1 (east)", "2 (east)"];
    let areas = [100.0, 50.0, 400.0, 20.0];
    for (index, item) in bill.items().enumerate() {
        let own: Vec<&str> = item.rows.iter().map(|row| row.zone.as_str()).collect();
        assert_eq!(own, names, "{}", item.code);
        let plan = item.rows.iter().filter_map(|row| row.plan_area);
        assert_eq!(plan.map(|area| area.value).collect::<Vec<_>>(), areas);
        assert_eq!(binary(item.quantity), [570.0, 570.0, 0.0][index]);
    }
    // One and the same zone is still refused twice, whatever it is called.
    let twice = item(
        "twice",
        &format!("{cut}zones = [\"west\", \"first of the west\"]"),
    );
    let job = folder.job(&format!("{TWO_FILES}{twice}"));
    let error = measured(&job, &[]).unwrap_err();
    assert!(error.to_string().contains("given twice"), "{error}");
}

#[test]
fn zones_of_one_name_are_measured_side_by_side() {
    let folder = two_files();
    let file = |name: &str| folder.0.path().join(name);
    let source = |name: &str| Source::File {
        path: file(name),
        name: None,
    };
    let zone = |name: &str| ZoneSource::File {
        path: file(name),
        name: None,
    };
    let request = |zones: Vec<ZoneSource>| Request {
        zones,
        ..Request::between(source("ground.csv"), source("slope.csv"))
    };
    let context = Context {
        reading: Reading {
            unit: Some(dapedon_core::units::LengthUnit::Metre),
            ..Reading::default()
        },
        ..Context::default()
    };
    let both = [zone("west.geojson"), zone("east.geojson")];
    let (found, _) = measure(&context, &request(both.to_vec())).unwrap();
    let areas = found.zones.iter().map(|zone| zone.area.compared.value);
    for (area, expected) in areas.zip([100.0, 50.0, 400.0, 20.0]) {
        assert!((area - expected).abs() < 1e-9);
    }
    let mut names: Vec<&str> = found.zones.iter().map(|zone| zone.zone.as_str()).collect();
    assert!(
        names[0].starts_with("1 (") && names[0].contains("west.geojson"),
        "{names:?}"
    );
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), 4);
    let twice = [both[0].clone(), both[0].clone()];
    assert!(measure(&context, &request(twice.to_vec())).is_err());
}

/// What a reader of an item sees.
fn told(item: &BillItem) -> impl PartialEq + std::fmt::Debug + use<> {
    let rows = |rows: &[dapedon_job::ItemRow]| {
        let rows = rows.iter().map(|row| (row.zone.clone(), row.rounded));
        rows.collect::<Vec<_>>()
    };
    let outside: Vec<dapedon_job::ItemRow> = item.outside_plots.clone().into_iter().collect();
    (
        [item.quantity, item.measured],
        [rows(&item.rows), rows(&item.counted_twice), rows(&outside)],
        (item.notes.clone(), item.warnings.clone()),
    )
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, ..ProptestConfig::default() })]

    /// Items of zones and plots that cross as they like: each alone is what it is among the others, to the last digit
    /// that is written. Ground is halves of a metre, so that halves of a cubic metre come often.
    #[test]
    fn an_item_is_the_same_alone_and_in_the_bill(
        rects in prop::collection::vec((-10i32..110, -10i32..70, 1i32..80, 1i32..60), 4..7),
        picks in prop::collection::vec((0usize..5, 0usize..5, 0usize..4, 0u8..3), 2..6),
    ) {
        let folder = Folder::new();
        let zone = |index: usize, (e, n, w, h): (i32, i32, i32, i32)| {
            let half = |value: i32| f64::from(value) / 2.0;
            let (west, south, east, north) = (half(e), half(n), half(e + w), half(n + h));
            format!(
                "[zone.z{index}]\ncorners = [[{west}, {south}], [{east}, {south}], [{east}, {north}], [{west}, {north}]]\n"
            )
        };
        let mut text: String = rects.iter().enumerate().map(|(i, &rect)| zone(i, rect)).collect();
        for (index, &(one, other, counts, decimals)) in picks.iter().enumerate() {
            let (one, other) = (one % rects.len(), other % rects.len());
            let counts = ["cut", "fill", "net", "area"][counts];
            let unit = if counts == "area" { "m2" } else { "m3" };
            let ground = match (index % 3, one == other) {
                (0, _) => format!("zones = \"z{one}\""),
                (1, false) => format!("zones = [\"z{one}\", \"z{other}\"]"),
                (_, false) => format!("plots = [\"z{one}\", \"z{other}\"]"),
                (_, true) => format!("zones = \"z{one}\"\nplots = \"z{}\"", (one + 1) % rects.len()),
            };
            text += &item(
                &index.to_string(),
                &format!("unit = \"{unit}\"\nmeasure = \"{counts}\"\nreference = \"ground\"\nsurveyed = \"slope\"\ndecimals = {decimals}\n{ground}"),
            );
        }
        let job = folder.job(&text);
        // Zones off both surfaces are refused with either.
        let Ok(together) = measured(&job, &[]) else { return Ok(()) };
        for item in together.items() {
            let alone = measured(&job, &[&item.code]).unwrap();
            let alone = alone.items().next().unwrap();
            prop_assert_eq!(told(alone), told(item), "item {}", &item.code);
        }
    }
}
