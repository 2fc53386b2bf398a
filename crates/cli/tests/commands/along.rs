//! What a job makes along lines: typical sections, benches, strips, build-ups by offset; and ground made anew within a zone.

use crate::site::{Site, number};

/// Level ground at 10, 400 by 200, and a job with lines over it.
fn site(rest: &str) -> Site {
    let site = Site::new();
    site.write(
        "level.csv",
        "east,north,height\n500000,6000000,10\n500400,6000000,10\n500400,6000200,10\n500000,6000200,10\n",
    );
    site.write(
        "dapedon.toml",
        &format!(
            r#"
[job]
name = "Lines"
unit = "m"

[surface.ground]
file = "level.csv"

[line.straight]
corners = [[500100, 6000100, 13], [500200, 6000100, 13]]

[line.climbing]
corners = [[500100, 6000100, 10], [500200, 6000100, 14]]

[line.plan]
file = "plan.geojson"
heights-from = "ground"
{rest}
"#
        ),
    );
    site.write(
        "plan.geojson",
        r#"{"type":"LineString","coordinates":[[500100,6000100],[500180,6000100],[500180,6000160]]}"#,
    );
    site
}

fn volume(site: &Site, name: &str) -> [f64; 2] {
    let json = site.json(&format!("volume ground {name} --json"));
    ["cut", "fill"].map(|what| number(&json["zones"][0]["volume"][what]))
}

#[track_caller]
fn near(found: f64, expected: f64) {
    assert!(
        (found - expected).abs() <= 1e-9 * expected.abs().max(1.0),
        "{found} {expected}"
    );
}

const ROAD: &str = r#"
[typical-section.road]
left = [{ width = 4, fall = 0.05 }]
right = [{ offset = [["0+020", 3], ["0+070", 5]], height = 0 }]
cut-slope = 1
fill-slope = 2
fill-bench = { every = 2, width = 1 }

[surface.road]
start = "ground"
steps = [{ swept = { section = "road", line = "straight" } }]

[surface."part"]
start = "ground"
steps = [{ swept = { section = "road", line = "straight", from = "0+020", to = "0+070" } }]
"#;

/// The area of a section whose left half is 4 wide and falls by 0.2, and whose right half is `width` wide, at 3 over the ground, with a bench
/// in its slopes of 1:2 after 2 of height.
fn section(width: f64) -> f64 {
    let slope = |height: f64| {
        let below = height - 2.0;
        2.0 * 2.0 * 2.0 / 2.0 + 4.0 * below + below + below * below * 2.0 / 2.0
    };
    4.0 * 2.9 + slope(2.8) + 3.0 * width + slope(3.0)
}

#[test]
fn a_typical_section_runs_along_a_line() {
    let site = site(ROAD);
    let part = 50.0 * section(4.0);
    let found = volume(&site, "part");
    // The right edge stands askew where it widens: its slope is as wide across the line, but for the turn of two degrees at both ends.
    assert!((found[1] - part).abs() < 2e-3 * part, "{} {part}", found[1]);
    let json = site.json("surface road --json");
    let step = &json["recipe"]["steps"][0];
    assert_eq!(
        step["action"],
        "typical section \"road\" along \"straight\", slopes 1:1 in cut, 1:2 with 1 m benches every 2 m of height in fill"
    );
    assert_eq!(step["notes"][0], "along 100.00 m of the line");
    // The whole: 20 of a width of 3, 50 that widen to 5, and 30 of 5.
    let whole = 20.0 * section(3.0) + part + 30.0 * section(5.0);
    let found = volume(&site, "road")[1];
    assert!((found - whole).abs() < 1e-3 * whole, "{found} {whole}");
}

/// Feet in place of metres, figures and chainages with them: the same body.
#[test]
fn a_typical_section_is_the_same_in_another_unit() {
    let site = site(ROAD);
    let metres = site.json("volume ground road --json");
    let feet = site.json("volume ground road --json --length-unit ft");
    let volume = |json: &serde_json::Value| number(&json["zones"][0]["volume"]["fill"]);
    near(volume(&metres), volume(&feet) * 0.9144f64.powi(3));
}

#[test]
fn strips_along_a_line_are_zones() {
    let site = site(
        r#"
[zone.lane]
line = "climbing"
left = -2
right = 5
from = "0+010"
to = "0+090"

[zone.parts]
line = "climbing"
left = -2
right = 5
every = 30

[build-up.paving]
zones = "parts"
layers = [{ name = "stone", thickness = 0.5 }]

[typical-section.road]
both = [{ width = 6, fall = 0 }]
cut-slope = 1
fill-slope = 1

[surface.road]
start = "ground"
steps = [{ swept = { section = "road", line = "climbing", ends = "upright" } }]

[surface.formation]
start = "road"
steps = [{ build-up = "paving" }]
"#,
    );
    let lane = site.json("volume ground road --zone lane --json");
    // From 0.4 to 3.6 high over 80, 7 wide.
    near(
        number(&lane["zones"][0]["volume"]["fill"]),
        80.0 * 7.0 * 2.0,
    );
    let parts = site.json("volume ground road --zone parts --json");
    let zones = parts["zones"].as_array().unwrap();
    let names: Vec<&str> = zones.iter().map(|z| z["zone"].as_str().unwrap()).collect();
    let expected = [
        "parts 0+000.00 to 0+030.00",
        "parts 0+030.00 to 0+060.00",
        "parts 0+060.00 to 0+090.00",
        "parts 0+090.00 to 0+100.00",
    ];
    assert_eq!(names, expected);
    for (zone, [from, to]) in
        zones
            .iter()
            .zip([[0.0, 30.0], [30.0, 60.0], [60.0, 90.0], [90.0, 100.0]])
    {
        let middle = 0.04 * (from + to) / 2.0;
        near(number(&zone["volume"]["fill"]), 7.0 * middle * (to - from));
    }
    // Layers by ranges of offset, with their amounts by chainage.
    let formation = site.json("surface formation --json");
    let layers = formation["recipe"]["steps"][0]["layers"]
        .as_array()
        .unwrap();
    let amounts: Vec<f64> = layers.iter().map(|l| number(&l["volume"])).collect();
    for (amount, expected) in amounts.iter().zip([105.0, 105.0, 105.0, 35.0]) {
        near(*amount, expected);
    }
}

/// A line without heights takes them from a surface, and what is made along it is in the record of inputs.
#[test]
fn a_line_is_laid_on_a_surface() {
    let site = site(
        r#"
[surface.raised]
start = "ground"
steps = [{ raise = 2 }]

[line.laid]
file = "plan.geojson"
heights-from = "raised"

[typical-section.dyke]
both = [{ width = 1.5, fall = 0 }]
cut-slope = 1
fill-slope = 2

[surface.dyke]
start = "ground"
steps = [{ swept = { section = "dyke", line = "laid", ends = "upright" } }]

[surface.crest]
start = "ground"
steps = [{ embankment = { line = "laid", width = 3, cut-slope = 1, fill-slope = 2, ends = "upright" } }]
"#,
    );
    let (swept, crest) = (volume(&site, "dyke"), volume(&site, "crest"));
    near(swept[1], crest[1]);
    // 3 wide and 2 high at 1:2, 140 along: the bend takes from the inner side what it gives to the outer one, but for the cone.
    let area = 3.0 * 2.0 + 2.0 * 4.0;
    assert!((swept[1] - 140.0 * area).abs() < 8.0, "{swept:?}");
    let json = site.json("surface dyke --json");
    let files = json["recipe"]["steps"][0]["files"].as_array().unwrap();
    let names: Vec<&str> = files.iter().map(|f| f["path"].as_str().unwrap()).collect();
    assert_eq!(names, ["plan.geojson", "level.csv"]);
}

/// A drawing of one polyline: 30 east, a quarter of a circle of radius 50 to the left, and 30 north; at height 13 where it is drawn there.
fn drawn_arc(height: f64) -> String {
    let bulge = (std::f64::consts::PI / 8.0).tan();
    format!(
        "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n6\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n0\nLWPOLYLINE\n8\nROAD\n90\n4\n70\n0\n38\n{height}\n\
         10\n500100\n20\n6000050\n10\n500130\n20\n6000050\n42\n{bulge}\n10\n500180\n20\n6000100\n10\n500180\n20\n6000130\n0\nENDSEC\n0\nEOF\n"
    )
}

#[test]
fn arcs_of_drawings_are_arcs() {
    let site = site(
        r#"
[line.drawn]
file = "arc.dxf"

[typical-section.dyke]
both = [{ width = 1.5, fall = 0 }]
cut-slope = 1
fill-slope = 2

[surface.dyke]
start = "ground"
steps = [{ swept = { section = "dyke", line = "drawn", ends = "upright", chord-tolerance = 0.00001 } }]
"#,
    );
    site.write("arc.dxf", &drawn_arc(13.0));
    // 3 wide and 3 high at 1:2. Chords a hundredth of a millimetre off take 4/3 of that over the radius.
    let quarter = 25.0 * std::f64::consts::PI;
    let expected = (60.0 + quarter) * (3.0 * 3.0 + 2.0 * 9.0);
    let [_, fill] = volume(&site, "dyke");
    assert!((fill / expected - 1.0).abs() < 1e-6, "{fill} {expected}");
    // In plan alone it has no heights.
    site.write("arc.dxf", &drawn_arc(0.0));
    let said = site.refuse("volume ground dyke --json");
    assert!(said.contains("heights"), "{said}");
    let sections = site.json("sections ground level=12 --line drawn --json --every 20 --left 5 --right 5 --curve-correction");
    near(
        number(&sections["sections"].as_array().unwrap().last().unwrap()["chainage"]),
        60.0 + quarter,
    );
    near(number(&sections["total"]["fill"]), 20.0 * (60.0 + quarter));
}

#[test]
fn a_line_runs_beside_another() {
    let job = r#"
[line.drawn]
file = "arc.dxf"

[line.kerb]
parallel-to = "drawn"
offset = -10

[line.verge]
parallel-to = "kerb"
offset = 15.5

[surface.bund]
start = "ground"
steps = [{ embankment = { line = "verge", width = 3, cut-slope = 1, fill-slope = 2, ends = "upright", chord-tolerance = 0.00001 } }]
"#;
    let site = site(job);
    site.write("arc.dxf", &drawn_arc(13.0));
    let length =
        |line: &str| number(&site.json(&format!("profile ground --line {line} --json"))["length"]);
    let quarter = |radius: f64| radius * std::f64::consts::FRAC_PI_2;
    near(length("kerb"), 60.0 + quarter(40.0));
    near(length("verge"), 60.0 + quarter(55.5));
    // It has the heights of the line that it runs beside. An embankment follows chords a millimetre off.
    let expected = (60.0 + quarter(55.5)) * 27.0;
    let [_, fill] = volume(&site, "bund");
    assert!((fill / expected - 1.0).abs() < 1e-5, "{fill} {expected}");
    let json = site.json("surface bund --json");
    assert_eq!(json["recipe"]["steps"][0]["files"][0]["path"], "arc.dxf");

    let said = |from: &str, to: &str, command: &str| {
        site.write("other.toml", &site.read("dapedon.toml").replace(from, to));
        site.refuse(&format!("{command} --job other.toml"))
    };
    let tight = said("offset = -10", "offset = -50", "profile ground --line kerb");
    assert!(
        tight.contains("there is no line at -50 beside \"drawn\": at 30.000 from its start the line turns with a radius of 50.000")
            && tight.contains("use a smaller offset"),
        "{tight}"
    );
    for (from, to, expected) in [
        ("offset = -10", "", "the parallel line has no offset"),
        (
            "parallel-to = \"drawn\"",
            "",
            "the line has an offset, and is parallel to no line",
        ),
        (
            "parallel-to = \"drawn\"",
            "parallel-to = \"verge\"",
            "the line \"kerb\" is parallel to itself, by way of \"verge\"",
        ),
        (
            "parallel-to = \"drawn\"",
            "parallel-to = \"kerb\"",
            "the line \"kerb\" is parallel to itself",
        ),
        (
            "parallel-to = \"drawn\"",
            "parallel-to = \"rail\"",
            "there is no line \"rail\"",
        ),
        (
            "offset = -10",
            "offset = nan",
            "NaN is not a coordinate or height",
        ),
        (
            "offset = -10",
            "offset = -10\ncorners = [[0, 0, 0], [1, 1, 1]]",
            "the line is parallel to another, and has a file or corners",
        ),
    ] {
        let found = said(from, to, "profile ground --line kerb");
        assert!(found.contains(expected), "{to}: {found}");
    }
}

#[test]
fn ground_is_made_anew_within_a_zone() {
    let site = site(
        r#"
[zone.pond]
corners = [[500100, 6000050], [500140, 6000050], [500140, 6000070], [500100, 6000070]]

[line.invert]
corners = [[500110, 6000060, 8], [500130, 6000060, 8]]

[surface.pond]
start = "ground"
steps = [{ zones = "pond", regrade = { lines = "invert" } }]

[surface.points]
file = "pond.csv"

[surface.pond-by-points]
start = "ground"
steps = [{ zones = "pond", regrade = { surface = "points" } }]
"#,
    );
    site.write(
        "pond.csv",
        "east,north,height\n500110,6000060,8\n500130,6000060,8\n500300,6000060,8\n500200,6000190,1\n",
    );
    // A roof upside down: hipped at both ends.
    let roof = 2.0 * (20.0 * 20.0 / 2.0 + 2.0 * (10.0 * 20.0) / 3.0);
    near(volume(&site, "pond")[0], roof);
    near(volume(&site, "pond-by-points")[0], roof);
    let json = site.json("surface pond-by-points --json");
    let step = &json["recipe"]["steps"][0];
    assert_eq!(
        step["notes"][0],
        "zone \"pond\": 2 points within, 4 along its edge; 2 outside it or on its edge not used"
    );
    assert_eq!(
        step["action"],
        "ground made anew from the points of \"points\""
    );
}

/// What cannot be made along a line is said with its line of the job file.
#[test]
fn mistakes_along_lines_are_said() {
    let cases = [
        (
            "both = []\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "the typical section has no breaks",
        ),
        (
            "both = [{ width = 1 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "the break has no height, or more than one",
        ),
        (
            "both = [{ fall = 1 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "the break has no width, or a width and an offset",
        ),
        (
            "both = [{ width = -1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "the break has a width below zero",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\nleft = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "breaks are given for both sides, and for one of them",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 0\nfill-slope = 1",
            "line = \"straight\"",
            "cut-slope = 0 is not above zero",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1\nfill-bench = { every = 2, width = 4, fall = -0.5 }",
            "line = \"straight\"",
            "fill-bench: its crossfall of -0.5 is too steep",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\", from = \"0+100\"",
            "the stretch from 0+100.00 to 0+100.00 has no length",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\", from = \"1+000\"",
            "chainage 1+000.00 is not on the line, which runs from 0+000.00 to 0+100.00",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\", from = \"here\"",
            "\"here\" is not a chainage",
        ),
        (
            "both = [{ width = 1, fall = [[\"0+050\", 1], [\"0+020\", 2]] }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "the chainages of the table do not grow along the line",
        ),
        (
            "both = [{ width = 1, fall = 0 }, { offset = 0.5, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"straight\"",
            "break 2 is nearer to the line than the one before it",
        ),
        (
            "both = [{ width = 1, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"nowhere\"",
            "there is no line \"nowhere\"",
        ),
        (
            "both = [{ width = 80, fall = 0 }]\ncut-slope = 1\nfill-slope = 1",
            "line = \"plan\"",
            "the line bends too sharply for the width of the section",
        ),
    ];
    for (section, along, expected) in cases {
        let site = site(&format!(
            "[typical-section.road]\n{section}\n[surface.road]\nstart = \"ground\"\nsteps = [{{ swept = {{ section = \"road\", {along} }} }}]\n"
        ));
        let told = site.refuse("surface road");
        assert!(told.contains(expected), "{expected}:\n{told}");
        assert!(told.contains("dapedon.toml"), "{told}");
    }
    let zones = [
        (
            "line = \"straight\"",
            "the strip along the line has no width",
        ),
        (
            "line = \"straight\"\nleft = 3\nright = -3",
            "left = 3 is not to the left of right = -3",
        ),
        (
            "left = 3\nright = 4",
            "the zone has a key of a strip, and no line",
        ),
        (
            "line = \"straight\"\nleft = -3\nright = 3\nevery = 0",
            "the interval of the strip is not above zero",
        ),
        (
            "line = \"straight\"\nleft = -3\nright = 3\nevery = 0.001",
            "strips; at most 20000 are made",
        ),
        (
            "line = \"straight\"\nleft = -3\nright = 3\nfrom = \"0+080\"\nto = \"0+020\"",
            "the stretch from 0+080.00 to 0+020.00 has no length",
        ),
        (
            "line = \"straight\"\nleft = -3\nright = 3\ncorners = [[1, 2]]",
            "the zone has both an outline and a line",
        ),
    ];
    for (keys, expected) in zones {
        let site = site(&format!("[zone.strip]\n{keys}\n"));
        let told = site.refuse("volume ground ground --zone strip");
        assert!(told.contains(expected), "{expected}:\n{told}");
    }
    let steps = [
        (
            "regrade = { points = [[500050, 6000050, 3]] }",
            "regrade needs zones",
        ),
        (
            "zones = \"pond\", regrade = { points = [[500125, 6000055, 3], [500125, 6000055, 4]] }",
            "two heights at east 500125.00, north 6000055.00 within the zone \"pond\": 3.000 and 4.000",
        ),
        (
            "platform = { outline = \"pond\", level = 9, cut-slope = 1, fill-slope = 1, chord-tolerance = 1e-9 }",
            "chord-tolerance = 0.000000001 is finer than coordinates are written",
        ),
        (
            "zones = \"pond\", regrade = {}",
            "regrade has nothing to make the ground from",
        ),
        (
            "zones = \"pond\", regrade = { points = [[500050, 6000050, 3]] }",
            "no point or line is within the zone \"pond\"",
        ),
        (
            "zones = \"pond\", regrade = { lines = \"plan\" }",
            "the line \"plan\" is laid on \"ground\"",
        ),
        (
            "zones = \"far\", regrade = { points = [[500395, 6000150, 3]] }",
            "the surface does not reach the edge of the zone \"far\"",
        ),
    ];
    for (step, expected) in steps {
        let site = site(&format!(
            "[zone.pond]\ncorners = [[500100, 6000050], [500140, 6000050], [500140, 6000070]]\n[zone.far]\ncorners = [[500380, 6000100], [500440, 6000100], [500440, 6000170], [500380, 6000170]]\n[surface.made]\nstart = \"ground\"\nsteps = [{{ {step} }}]\n"
        ));
        let told = site.refuse("surface made");
        assert!(told.contains(expected), "{expected}:\n{told}");
    }
    let site = site(
        "[surface.a]\nstart = \"ground\"\nsteps = [{ embankment = { line = \"on-a\", width = 3, cut-slope = 1, fill-slope = 1 } }]\n[line.on-a]\ncorners = [[500010, 6000010, 1], [500020, 6000010, 1]]\nheights-from = \"a\"\n",
    );
    assert!(
        site.refuse("surface a")
            .contains("the surface \"a\" is made from itself")
    );
}

/// The heights of a line are shifted until what is made along it balances; whole, or over a stretch.
#[test]
fn a_line_is_shifted_until_it_balances() {
    let site = site(
        r#"
[typical-section.road]
both = [{ width = 5, fall = 0 }]
cut-slope = 2
fill-slope = 2

[surface.road]
start = "ground"
steps = [{ swept = { section = "road", line = "wavy" } }]

[surface.crest]
start = "ground"
steps = [{ embankment = { line = "wavy", width = 10, cut-slope = 2, fill-slope = 2, ends = "upright" } }]

[line.wavy]
corners = [[500100, 6000100, 11], [500150, 6000100, 9.5], [500200, 6000100, 11]]
"#,
    );
    let run = |rest: &str| site.json(&format!("balance ground {rest} --json"));
    // On level ground a line whose heights are even about it balances: the mean of 11 and 9.5 is a quarter too high.
    let whole = run("road --line wavy");
    let shift = |found: &serde_json::Value| number(&found["best"]["shift"]);
    assert!((shift(&whole) + 0.25).abs() < 1e-6, "{whole}");
    assert_eq!(whole["shifted"], "the line \"wavy\"");
    let heights = whole["heights"].as_array().unwrap();
    assert_eq!(heights.len(), 3);
    near(number(&heights[1]["designed"]), 9.5);
    assert!((number(&heights[1]["shifted"]) - 9.25).abs() < 1e-6);
    assert!((shift(&run("crest --line wavy")) - shift(&whole)).abs() < 1e-6);
    // Over a stretch: the ends stay.
    let part = run("road --line wavy --from 0+020 --to 0+080 --smooth-ends 10");
    let heights = part["heights"].as_array().unwrap();
    let stations: Vec<&str> = heights
        .iter()
        .map(|h| h["station"].as_str().unwrap())
        .collect();
    assert_eq!(
        stations,
        [
            "0+000.00", "0+020.00", "0+030.00", "0+050.00", "0+070.00", "0+080.00", "0+100.00"
        ]
    );
    near(
        number(&heights[1]["shifted"]),
        number(&heights[1]["designed"]),
    );
    assert!(
        shift(&part) < shift(&whole),
        "a stretch has to make up for the whole: {part}"
    );
    assert!(number(&part["best"]["surplus"]).abs() < 1e-3);
    let told =
        site.succeed("balance ground road --line wavy --from 0+020 --to 0+080 --smooth-ends 10");
    assert!(told.contains("New heights of the line"), "{told}");
    for (rest, expected) in [
        (
            "road --line straight",
            "the design is not made along the line \"straight\"",
        ),
        (
            "road --line wavy --from 0+020 --to 0+030 --smooth-ends 8",
            "the smooth ends are longer than the stretch of 10.00",
        ),
        (
            "road --line wavy --from 0+080 --to 0+030 --smooth-ends 1",
            "the stretch from 0+080.00 to 0+030.00 has no length",
        ),
        ("road --line wavy --platform pad", "cannot be used with"),
    ] {
        let told = site.refuse(&format!("balance ground {rest}"));
        assert!(told.contains(expected), "{rest}\n{told}");
    }
}
