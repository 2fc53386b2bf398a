//! What bad input gets: one clear error, exit 2, nothing written.

use crate::site::{GROUND, SURVEY, Site};

/// Both sides, with outputs that must not appear.
const PLAIN: &str = "volume ground.xml survey.csv --unit m --map map.svg --report page.html";

#[track_caller]
fn says(error: &str, parts: &[&str]) {
    for part in parts {
        assert!(error.contains(part), "expected \"{part}\" in\n{error}");
    }
    assert_eq!(error.matches("error:").count(), 1, "{error}");
}

#[test]
fn files_that_are_not_what_they_should_be() {
    let site = Site::new();
    says(
        &site.refuse("volume missing.xml survey.csv --unit m"),
        &["cannot be read: no such file", "in: missing.xml"],
    );
    site.write("empty.csv", "");
    says(
        &site.refuse("volume ground.xml empty.csv --unit m"),
        &["the file is empty", "in: empty.csv"],
    );
    says(
        &site.refuse("volume . survey.csv --unit m"),
        &["this is a folder"],
    );
    site.write("what.bin", "\u{1}\u{2}");
    says(
        &site.refuse("volume ground.xml what.bin"),
        &["the file format is not recognised", "LandXML (.xml"],
    );
    says(
        &site.refuse("volume ground.xml zone.geojson"),
        &["has heights to make a surface from", "in: zone.geojson"],
    );
    says(
        &site.refuse(&format!("{PLAIN} --zone survey.csv")),
        &["the file holds surfaces, and zones are needed here"],
    );
}

#[test]
fn broken_landxml() {
    let site = Site::new();
    let ground = |text: &str| {
        site.write("broken.xml", text);
        site.refuse("volume broken.xml survey.csv --unit m --map map.svg")
    };
    says(&ground("not xml at all"), &["the file has no XML element"]);
    says(
        &ground("<notes/>"),
        &["<notes>, not <LandXML>", "broken.xml, line 1, column 1"],
    );
    says(
        &ground(&GROUND[..GROUND.len() - 60]),
        &["it is incomplete", "do: get the complete file"],
    );
    says(
        &ground(&GROUND.replace("<F>1 3 4", "<F>1 3 77")),
        &["point 77", "line 7, column 27"],
    );
    says(
        &ground(&GROUND.replace("500020 10</P>\n", "5ooo20 10</P>\n")),
        &["\"5ooo20\" is not a number", "line 5, column 50"],
    );
    says(
        &ground(&GROUND.replace(" 500000 10", " NaN 10")),
        &["\"NaN\" is not a number"],
    );
    says(
        &ground(&GROUND.replace("6000010", "6000000")),
        &["triangles has a plan area"],
    );
    says(
        &site.refuse("volume ground.xml#roof survey.csv --unit m"),
        &["the file has no surface \"roof\"", "\"ground\""],
    );
}

#[test]
fn broken_points() {
    let site = Site::new();
    let survey = |text: &str| {
        site.write("broken.csv", text);
        site.refuse("volume ground.xml broken.csv --unit m --report page.html")
    };
    says(
        &survey(&SURVEY.replace("6000010,11.5,a\n4", "6000010,x11.5,a\n4")),
        &["\"x11.5\" is not a number", "broken.csv, line 4, column 4"],
    );
    says(
        &survey(&SURVEY.replace("500016", "NaN")),
        &[
            "\"NaN\" is not a number, and east is expected",
            "line 3, column 2",
        ],
    );
    says(
        &survey("1,500000,6000000,11.5\n2,500016,6000000,11.5\n"),
        &[
            "the order of the columns is not clear",
            "point,east,north,height",
            "point,north,east,height",
            "--columns",
        ],
    );
    says(
        &survey("east,north,height\n1,1,1\n2,2,1\n3,3,1\n"),
        &["all 3 points are on one straight line"],
    );
    says(
        &survey("east,north,height\n1,1,1\n2,2,1\n"),
        &["2 different positions in plan, and a surface needs three"],
    );
    says(
        &survey("east,north,height\n1,1,1\n2,5,1\n4,3,1\n2,5,2\n"),
        &["points 2 and 4 have the same position"],
    );
    says(
        &survey(&SURVEY.replace("500016", "5e300")),
        &["point 2 has a coordinate", "beyond ±1 000 000 000"],
    );
    let twice = site.refuse("volume ground.xml survey.csv --columns east,east,north,height");
    says(&twice, &["two columns are for east"]);
}

#[test]
fn zones_that_cannot_be() {
    let site = Site::new();
    let zone = |ring: &[(i32, i32)]| {
        site.zone("bad.geojson", &[("bad", ring)]);
        site.refuse(&format!("{PLAIN} --zone bad.geojson"))
    };
    says(
        &zone(&[(0, 0), (4, 4), (4, 0), (0, 4), (0, 0)]),
        &["zone \"bad\": the outline crosses itself at east 500002.000, north 6000002.000"],
    );
    says(
        &zone(&[(0, 0), (4, 4), (4, 0)]),
        &["ring 1 is open", "close the outline"],
    );
    says(
        &zone(&[(90, 0), (94, 4), (94, 0), (90, 0)]),
        &["outside the ground that both surfaces cover", "500090.0"],
    );
    says(
        &site.refuse(&format!("{PLAIN} --zone zone.geojson#roof")),
        &["the file has no zone \"roof\"", "\"yard\""],
    );
    says(
        &site.refuse(&format!("{PLAIN} --zone zone.geojson --zone zone.geojson")),
        &["zone \"yard\" is given twice"],
    );
}

#[test]
fn sides_that_cannot_be_compared() {
    let site = Site::new();
    let unknown = site.refuse("volume ground.xml survey.csv");
    says(
        &unknown,
        &[
            "the file has no length unit",
            "in: survey.csv",
            "--unit us-ft (US survey foot)",
        ],
    );
    let swapped = "volume ground.xml survey.csv --unit m --columns point,north,east,height,code";
    says(
        &site.refuse(swapped),
        &[
            "do not overlap",
            "reference: east 500000.0 to 500020.0",
            "they overlap if east and north of one are swapped",
        ],
    );
    says(
        &site.refuse("volume ground.xml survey.csv --unit ft"),
        &[
            "do not overlap",
            "they overlap if one is in feet and the other in metres",
        ],
    );
    says(
        &site.refuse("volume level=1 level=2 --unit m"),
        &["two levels have no edge", "--zone"],
    );
    says(
        &site.refuse("volume level=1 level=2"),
        &["two levels have no length unit"],
    );
    says(
        &site.refuse("volume ground.xml level=high"),
        &["is not a height"],
    );
    says(
        &site.refuse(&format!("{PLAIN} --tolerance -0.1")),
        &["a height of zero or more"],
    );
}

#[test]
fn outputs_that_cannot_be_written() {
    let site = Site::new();
    let base = "volume ground.xml survey.csv --unit m";
    says(
        &site.refuse(&format!("{base} --map nowhere/map.svg")),
        &["cannot be written", "in: nowhere/map.svg"],
    );
    says(
        &site.refuse(&format!("{base} --map map.svg --report .")),
        &["cannot be written: it is a folder"],
    );
    says(
        &site.refuse(&format!("{base} --map ./survey.csv")),
        &["would be overwritten"],
    );
    says(
        &site.refuse(&format!("{base} --map a.x --report a.x")),
        &["two outputs have the same file"],
    );
    assert_eq!(site.read("survey.csv"), SURVEY);
}

#[test]
fn errors_look_alike() {
    let site = Site::new();
    site.write("swapped.csv", "x,y,z\n500000,6000000,11.5\n");
    insta::assert_snapshot!(site.refuse("volume ground.xml swapped.csv --unit m"));
}
