//! Differences at places: on grids, at points, along lines.

use serde_json::Value;

use crate::site::{Site, number};

/// A plane of 20 by 10 over the level ground at 10: 9 in the west, 11 in the east.
const TILTED: &str = "point,east,north,height\n1,500000,6000000,9\n2,500020,6000000,11\n3,500020,6000010,11\n4,500000,6000010,9\n";
/// The same 2 higher.
const LATER: &str = "point,east,north,height\n1,500000,6000000,11\n2,500020,6000000,13\n3,500020,6000010,13\n4,500000,6000010,11\n";
/// East along the middle for 10, then a quarter turn to the left of radius 5 and off the ground; chainage from 100.
const LINE: &str = r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="road" length="17.853981633974" staStart="100">
<CoordGeom><Line><Start>6000005 500000</Start><End>6000005 500010</End></Line>
<Curve rot="ccw" radius="5"><Start>6000005 500010</Start><Center>6000010 500010</Center><End>6000010 500015</End></Curve></CoordGeom></Alignment></Alignments></LandXML>"#;

fn site() -> Site {
    let site = Site::new();
    site.write("tilted.csv", TILTED);
    site.write("later.csv", LATER);
    site.write("line.xml", LINE);
    site
}

fn spots(json: &Value) -> &Vec<Value> {
    json["spots"].as_array().unwrap()
}

/// Every difference is that of the planes there.
#[track_caller]
fn on_the_plane(json: &Value) {
    for spot in spots(json) {
        let east = number(&spot["east"]) - 500_000.0;
        let found = number(&spot["difference"][0]);
        // A plane through corners 20 apart, in coordinates of half a million.
        assert!((found - (east / 10.0 - 1.0)).abs() < 1e-9, "{spot}");
    }
}

#[test]
fn a_grid_has_its_places_in_the_zones() {
    let site = site();
    let line = "spots ground.xml tilted.csv --json --unit m --grid";
    let all = site.json(&format!("{line} 5"));
    assert_eq!(spots(&all).len(), 5 * 3);
    on_the_plane(&all);
    let summary = &all["summary"][0];
    assert_eq!(
        (&summary["compared"], &summary["not_compared"]),
        (&15.into(), &0.into())
    );
    assert_eq!(
        [&summary["lowest"], &summary["highest"]].map(number),
        [-1.0, 1.0]
    );
    assert!(number(&summary["mean"]).abs() < 1e-12);
    // In the zone from 2 to 12 east and 2 to 8 north, its edges included.
    let zoned = site.json(&format!(
        "{line} 2,3 --origin 500000,6000002 --zone zone.geojson"
    ));
    assert_eq!(spots(&zoned).len(), 6 * 3);
    assert!(spots(&zoned).iter().all(|spot| spot["zone"] == "yard"));
    on_the_plane(&zoned);
    // Turned by a right angle the spacings change places.
    let turned = site.json(&format!(
        "{line} 3,2 --origin 500000,6000002 --rotation 90 --zone zone.geojson"
    ));
    assert_eq!(spots(&turned).len(), 6 * 3);
    // Within a tolerance they are unchanged: a fifth either side of the middle, three of five columns.
    let still = site.json(&format!("{line} 5 --tolerance 0.5"));
    assert!((number(&still["summary"][0]["within_tolerance"]) - 0.6).abs() < 1e-12);
    assert_eq!(spots(&still)[0]["state"][0], "cut");
    assert_eq!(spots(&still)[2]["state"][0], "unchanged");
    insta::assert_snapshot!(site.succeed("spots ground.xml tilted.csv --grid 10 --unit m"));
}

#[test]
fn units_and_sides_may_change() {
    let site = site();
    let metres = site.json("spots ground.xml tilted.csv --json --unit m --grid 5");
    let feet = site.json(
        "spots ground.xml tilted.csv --json --unit m --grid 16.404199475065617 --length-unit ft",
    );
    assert_eq!(spots(&metres).len(), spots(&feet).len());
    let swapped = site.json("spots tilted.csv ground.xml --json --grid 5 --unit m");
    let each = spots(&metres).iter().zip(spots(&feet)).zip(spots(&swapped));
    for ((metres, feet), swapped) in each {
        let [own, foot, other] = [metres, feet, swapped].map(|spot| number(&spot["difference"][0]));
        assert!(
            (own - foot * 0.3048).abs() < 1e-9 && own == -other,
            "{metres} {feet} {swapped}"
        );
    }
}

#[test]
fn several_surveys_have_a_column_each() {
    let site = site();
    let both = site.json("spots ground.xml tilted.csv later.csv --json --unit m --grid 5");
    for spot in spots(&both) {
        let differences = [0, 1].map(|index| number(&spot["difference"][index]));
        assert!((differences[1] - differences[0] - 2.0).abs() < 1e-9);
    }
    let said =
        site.succeed("spots ground.xml tilted.csv later.csv --grid 10 --unit m --csv both.csv");
    assert!(
        said.contains("tilted.csv") && said.contains("later.csv"),
        "{said}"
    );
    let csv = site.read("both.csv");
    assert!(csv.contains("difference of later.csv"), "{csv}");
}

#[test]
fn along_a_line_there_are_chainage_and_offset() {
    let site = site();
    let found = site.json("spots ground.xml tilted.csv --json --line line.xml#road --every 5 --offsets -1,0,1 --unit m");
    on_the_plane(&found);
    // At 100, 105, 110, 115 and the end; the joint is at 110.
    assert_eq!(spots(&found).len(), 5 * 3);
    let first = &spots(&found)[0];
    assert_eq!(
        [&first["chainage"], &first["offset"], &first["north"]].map(number),
        [100.0, -1.0, 6_000_006.0]
    );
    let last = &spots(&found)[14];
    // To the right of north is east.
    assert!(
        (number(&last["east"]) - 500_016.0).abs() < 1e-9
            && (number(&last["chainage"]) - 117.853_981_633_974).abs() < 1e-9
    );
    assert!((number(&found["line"]["length"]) - 17.853_981_633_974).abs() < 1e-9);
    // Places of a grid beside the same line: only those that are square to it have a chainage.
    let grid =
        site.json("spots ground.xml tilted.csv --json --line line.xml#road --grid 5 --unit m");
    let beside = |east: f64, north: f64| {
        let mut all = spots(&grid).iter();
        let at = |spot: &&Value| {
            number(&spot["east"]) == 500_000.0 + east
                && number(&spot["north"]) == 6_000_000.0 + north
        };
        all.find(at)
            .map(|spot| [&spot["chainage"], &spot["offset"]].map(Value::as_f64))
            .unwrap()
    };
    assert_eq!(beside(5.0, 0.0), [Some(105.0), Some(5.0)]);
    assert_eq!(beside(5.0, 10.0), [Some(105.0), Some(-5.0)]);
    // Square to the middle of the turn, whose centre is at 10 / 10.
    let [chainage, offset] = beside(20.0, 0.0).map(Option::unwrap);
    assert!((chainage - (110.0 + 5.0 * std::f64::consts::FRAC_PI_4)).abs() < 1e-9);
    assert!((offset - (200f64.sqrt() - 5.0)).abs() < 1e-9);
    insta::assert_snapshot!(
        site.succeed("spots ground.xml tilted.csv --line line.xml#road --every 10 --unit m")
    );
}

#[test]
fn points_of_files_keep_their_names() {
    let site = site();
    // No heights, a name, and one point that is off the ground.
    site.write(
        "pegs.csv",
        "point,east,north\nA1,500005,6000005\nA2,500010,6000002\nfar,500030,6000002\n",
    );
    let line = "spots ground.xml tilted.csv --json --unit m --points";
    let found = site.json(&format!("{line} pegs.csv"));
    let names: Vec<&str> = spots(&found)
        .iter()
        .map(|spot| spot["number"].as_str().unwrap())
        .collect();
    assert_eq!(names, ["A1", "A2", "far"]);
    assert_eq!(number(&spots(&found)[0]["difference"][0]), -0.5);
    let far = &spots(&found)[2];
    assert!(
        far["reference"].is_null()
            && far["difference"][0].is_null()
            && far["state"][0] == "outside"
    );
    let said = Site::warnings(&found);
    assert!(
        said.iter().any(|words| words
            .contains("1 of 3 places is outside ground.xml (reference); first at east 500030.000")),
        "{said:?}"
    );
    let features = r#"{"type":"Feature","properties":{"name":"B1"},"geometry":{"type":"Point","coordinates":[500005,6000005]}}"#;
    site.write(
        "pegs.geojson",
        &format!("{{\"type\":\"FeatureCollection\",\"features\":[{features}]}}"),
    );
    let found = site.json(&format!("{line} pegs.geojson"));
    assert_eq!(spots(&found)[0]["number"], "B1");
    assert!(found["points_file"]["path"] == "pegs.geojson");
}

#[test]
fn a_step_is_said() {
    let site = Site::new();
    site.write(
        "step.xml",
        r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Surfaces><Surface name="s"><Definition surfType="TIN"><Pnts>
<P id="1">6000000 500000 10</P><P id="2">6000000 500010 10</P><P id="3">6000010 500010 10</P><P id="4">6000010 500000 10</P>
<P id="5">6000000 500010 12</P><P id="6">6000000 500020 12</P><P id="7">6000010 500020 12</P><P id="8">6000010 500010 12</P>
</Pnts><Faces><F>1 2 3</F><F>1 3 4</F><F>5 6 7</F><F>5 7 8</F></Faces></Definition></Surface></Surfaces></LandXML>"#,
    );
    let found = site.json("spots ground.xml step.xml --json --grid 5");
    let on_step: Vec<&Value> = spots(&found)
        .iter()
        .filter(|spot| spot["state"][0] == "step")
        .collect();
    assert_eq!(on_step.len(), 3);
    assert_eq!(on_step[0]["surveyed"][0]["low"], 10.0);
    assert_eq!(on_step[0]["surveyed"][0]["high"], 12.0);
    let said = Site::warnings(&found);
    assert!(
        said.iter()
            .any(|words| words.contains("3 of 15 places are where step.xml (surveyed) steps")),
        "{said:?}"
    );
    let read = site.succeed("spots ground.xml step.xml --grid 5");
    assert!(
        read.contains("10.000 to 12.000") && read.contains("on a step"),
        "{read}"
    );
}

#[test]
fn places_are_written_to_drawings_and_maps() {
    let site = site();
    let outs = ["dxf", "geojson", "shp", "xml"].map(|ending| format!("--out spots.{ending}"));
    let line = format!(
        "spots ground.xml tilted.csv --grid 5 --tolerance 0.1 --unit m {}",
        outs.join(" ")
    );
    site.succeed(&line);
    let first = site.read("spots.dxf");
    assert_eq!(first.matches("\nPOINT\n").count(), 15);
    for (layer, count) in [("CUT", 6), ("FILL", 6), ("UNCHANGED", 3)] {
        assert_eq!(
            first.matches(&format!("POINT\n8\n{layer}\n")).count(),
            count,
            "{layer}"
        );
        assert_eq!(
            first.matches(&format!("TEXT\n8\n{layer}_TEXT\n")).count(),
            count
        );
    }
    // Read back, they are the surveyed surface.
    for ending in ["dxf", "geojson", "shp", "xml"] {
        let found = site.json(&format!("volume tilted.csv spots.{ending} --json --unit m"));
        let volume = &found["zones"][0]["volume"];
        assert!(
            number(&volume["cut"]) < 1e-6 && number(&volume["fill"]) < 1e-6,
            "{ending}: {volume}"
        );
        assert!((number(&found["zones"][0]["area"]["compared"]) - 200.0).abs() < 1e-6);
    }
    let again = site.read("spots.geojson");
    site.succeed(&line);
    assert_eq!(site.read("spots.dxf"), first);
    assert_eq!(site.read("spots.geojson"), again);
    assert!(
        again.contains("\"state\":\"cut\"") && again.contains("\"difference\":-1.0"),
        "{again}"
    );
}

#[test]
fn places_that_cannot_be_are_refused() {
    let site = site();
    let line = "spots ground.xml tilted.csv --unit m";
    for (typed, code, words) in [
        (
            "--grid 0.0001",
            "spots/many-places",
            "use a spacing of 0.02 or more",
        ),
        (
            "--line line.xml#road --every 0.00001",
            "spots/many-stations",
            "makes 1785",
        ),
        (
            "--line line.xml#path --every 5",
            "input/not-one-line",
            "line.xml",
        ),
        (
            "--grid 7 --origin 500003,6000001 --zone far.geojson",
            "spots/no-places",
            "no place of the grid",
        ),
        (
            "--points off.csv",
            "spots/none-reached",
            "none of 2 places is on both surfaces; the first is at east 500100.000",
        ),
        (
            "--grid 5 --out spots.txt",
            "command/no-drawing-writer",
            "use the ending .dxf, .geojson, .shp or .xml",
        ),
        ("--points empty.csv", "input/empty", "empty.csv"),
        (
            "--grid 5 --out ground.xml",
            "command/over-input",
            "ground.xml",
        ),
        (
            "--points zone.geojson",
            "input/wrong-kind",
            "the file holds no points",
        ),
    ] {
        site.zone(
            "far.geojson",
            &[("bit", &[(1, 2), (2, 2), (2, 3), (1, 3), (1, 2)])],
        );
        site.write(
            "off.csv",
            "point,east,north\n1,500100,6000000\n2,500200,6000000\n",
        );
        site.write("empty.csv", "");
        let refused = site.refuse(&format!("{line} {typed}"));
        assert!(
            refused.contains(&format!("code: {code}")) && refused.contains(words),
            "{typed}: {refused}"
        );
    }
    for (typed, words) in [
        ("", "--grid"),
        ("--grid 0", "expected a spacing above zero"),
        ("--grid nan", "is not a number"),
        ("--every 5", "--line"),
        ("--grid 5 --points pegs.csv", "cannot be used with"),
        ("--grid 5 --origin 7", "expected east and north"),
    ] {
        let (code, _, refused) = site.run(&format!("{line} {typed}"));
        assert!(code == 2 && refused.contains(words), "{typed}: {refused}");
    }
}

/// A point within a bow of the line is square to both its arms: the nearer one is told, the other one beside it.
#[test]
fn a_point_may_stand_beside_a_line_twice() {
    let site = Site::new();
    site.write(
        "ground.csv",
        "east,north,height\n0,0,5\n100,0,5\n100,100,5\n0,100,5\n",
    );
    site.write("line.csv", "east,north\n20,10\n20,90\n60,90\n60,10\n");
    site.write("points.csv", "name,east,north,height\nP1,30,50,5\n");
    let found = site
        .json("spots ground.csv ground.csv --points points.csv --line line.csv --unit m --json");
    let spot = &found["spots"][0];
    let near = |found: f64, expected: f64| assert!((found - expected).abs() < 1e-9, "{found}");
    near(number(&spot["chainage"]), 40.0);
    near(number(&spot["offset"]), 10.0);
    // The other arm, and the short side between them.
    let others = spot["also_beside"].as_array().unwrap();
    let told: Vec<[f64; 2]> = others
        .iter()
        .map(|at| [number(&at[0]), number(&at[1])])
        .collect();
    for (found, expected) in told.iter().zip([[160.0, 30.0], [90.0, 40.0]]) {
        near(found[0], expected[0]);
        near(found[1], expected[1]);
    }
    assert_eq!(told.len(), 2);
}
