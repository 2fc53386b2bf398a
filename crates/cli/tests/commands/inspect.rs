//! `inspect`: what it says of files that are odd, and of two that are to be compared.

use crate::site::number;
use crate::site::{GROUND, Site};

#[test]
fn a_pair_says_whether_it_can_be_compared() {
    let site = Site::new();
    let pair = |line: &str| site.json(&format!("inspect {line} --unit m --json"))["pair"].clone();
    let found = pair("ground.xml survey.csv");
    let shared = number(&found["common_area"]);
    assert!((shared - 160.0).abs() < 1e-9, "{shared}");
    let middle = number(&found["median_difference"]);
    assert!((middle - 1.5).abs() < 1e-6 && number(&found["half_within"]) < 1e-6);
    // Level and 1.5 higher throughout: that may be a datum.
    assert!(found["warnings"].to_string().contains("nearly everywhere"));

    site.write("swapped.xml", &swapped());
    let found = pair("ground.xml swapped.xml");
    assert!(found["warnings"].to_string().contains("swapped"), "{found}");
    site.write("feet.xml", &GROUND.replace("meter", "foot"));
    let found = pair("ground.xml feet.xml");
    assert!(found["warnings"].to_string().contains("do not overlap"));
    let said = site.succeed("inspect ground.xml survey.csv --unit m");
    assert!(said.contains("Can they be compared?"), "{said}");
    assert!(pair("ground.xml zone.geojson").is_null());
}

/// The ground with east and north the other way round.
fn swapped() -> String {
    let mut text = GROUND.to_owned();
    for (north, east) in [
        ("6000000", "500000"),
        ("6000000", "500020"),
        ("6000010", "500020"),
        ("6000010", "500000"),
    ] {
        text = text.replace(&format!(">{north} {east} "), &format!(">{east} {north} "));
    }
    text
}

#[test]
fn a_drawing_is_listed_layer_by_layer() {
    let site = Site::new();
    let entities = "0 3DFACE 8 GROUND 10 0 20 0 30 4 11 9 21 0 31 4 12 9 22 9 32 5 13 0 23 9 33 5 \
        0 LWPOLYLINE 8 LIMIT 90 4 70 1 10 0 20 0 10 9 20 0 10 9 20 9 10 0 20 9 \
        0 TEXT 8 NOTES 10 0 20 0 40 2 1 Bank";
    let text = format!("0 SECTION 2 ENTITIES {entities} 0 ENDSEC 0 EOF");
    site.write(
        "plan.dxf",
        &(text.split_whitespace().collect::<Vec<_>>().join("\n") + "\n"),
    );
    insta::assert_snapshot!(site.succeed("inspect plan.dxf"));
    let limited = site.json("volume level=0 plan.dxf --unit m --zone plan.dxf#LIMIT --json");
    assert_eq!(limited["zones"][0]["zone"], "LIMIT");
    assert_eq!(number(&limited["zones"][0]["volume"]["fill"]), 81.0 * 4.5);
    let refused = site.refuse("volume level=0 plan.dxf --unit m --zone plan.dxf#EDGE");
    assert!(refused.contains("no layer \"EDGE\""), "{refused}");
    site.write("cut.dxf", &site.read("plan.dxf").replace("\nEOF\n", "\n"));
    let refused = site.refuse("inspect cut.dxf");
    assert!(
        refused.contains("incomplete") && refused.contains("cut.dxf, line"),
        "{refused}"
    );
}

#[test]
fn names_that_are_nowhere_are_refused() {
    let site = Site::new();
    let refused = site.refuse("inspect ground.xml survey.csv --codes crest=breakline");
    assert!(
        refused.contains("no code or layer has the name \"crest\"; the names are a"),
        "{refused}"
    );
    let said = site.succeed("inspect ground.xml survey.csv --codes a=breakline --unit m");
    assert!(said.contains("1 breakline"), "{said}");
}

/// Files of which nothing can be made have no heights, or ones that no survey has: neither is reported as if it were one.
#[test]
fn nothing_is_told_without_end() {
    let site = Site::new();
    let grid = |cell: &str, heights: &str| {
        format!(
            "ncols 2\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize {cell}\nnodata_value -9\n{heights}\n"
        )
    };
    let landxml = |what: &str| {
        format!(
            "<?xml version=\"1.0\"?><LandXML xmlns=\"http://www.landxml.org/schema/LandXML-1.2\" version=\"1.2\">\
             <Units><Metric linearUnit=\"meter\"/></Units>{what}</LandXML>"
        )
    };
    let far = "<CgPoints><CgPoint name=\"a\">1 1e308 3</CgPoint><CgPoint name=\"b\">1 -1e308 3</CgPoint></CgPoints>";
    let nothing = "<Surfaces><Surface name=\"s\"><SourceData></SourceData></Surface></Surfaces>";
    let files = [
        ("without.asc", grid("1", "-9 -9\n-9 -9"), "heights  none"),
        ("wide.asc", grid("1e308", "1 2\n3 4"), "5e307 to 1.5e308"),
        ("endless.asc", grid("1", "1e400 2\n3 inf"), "2.000 to 3.000"),
        ("far.xml", landxml(far), "-1e308 to 1e308"),
        ("nothing.xml", landxml(nothing), "0 points"),
        (
            "far.obj",
            "v 0 0 0\nv 1 0 1e308\nv 1e308 1e308 0\nf 1 2 3\n".into(),
            "0.000 to 1e308",
        ),
    ];
    for (name, text, told) in files {
        site.write(name, &text);
        let said = site.succeed(&format!("inspect {name}"));
        assert!(said.contains(told), "{said}");
        let long = said.lines().any(|line| line.chars().count() > 160);
        let endless = |word: &str| ["inf", "-inf", "NaN"].contains(&word);
        assert!(!long && !said.split_whitespace().any(endless), "{said}");
        let json = site.succeed(&format!("inspect {name} --json"));
        let json: serde_json::Value = serde_json::from_str(&json).unwrap();
        // Either there is a number, or there is none; not a place or a range of none.
        let found = &json["files"][0]["surfaces"][0];
        for key in ["min", "max", "heights"] {
            let numbers = |value: &serde_json::Value| match value {
                serde_json::Value::Object(ends) => ends.values().all(serde_json::Value::is_number),
                serde_json::Value::Array(ends) => ends.iter().all(serde_json::Value::is_number),
                other => other.is_null(),
            };
            assert!(numbers(&found[key]), "{name} {key}: {found}");
        }
    }
}

#[test]
fn pictures_are_of_one_file() {
    let site = Site::new();
    site.succeed("inspect ground.xml --map ground.svg");
    assert!(site.read("ground.svg").contains("<svg"));
    let refused = site.refuse("inspect ground.xml survey.csv --map both.svg");
    assert!(refused.contains("2 are given"), "{refused}");
    let refused = site.refuse("inspect zone.geojson --map zone.svg");
    assert!(refused.contains("no surface to draw"), "{refused}");
}

#[test]
fn what_stands_in_the_way_is_told() {
    let site = Site::new();
    let odd = |name: &str, text: &str| {
        site.write(name, text);
        site.succeed(&format!("inspect {name}"))
    };
    let line = odd("line.csv", "east,north,height\n0,0,1\n5,5,2\n9,9,3\n");
    assert!(
        line.contains("no surface can be made: all 3 points are on one straight line"),
        "{line}"
    );
    let step = odd(
        "step.csv",
        "east,north,height\n0,0,1\n50,0,2\n0,90,3\n0,0,7\n",
    );
    assert!(
        step.contains("points 1 and 4 have the same position"),
        "{step}"
    );
    let degrees = odd(
        "degrees.csv",
        "east,north,height\n9.1,52.5,61\n9.2,52.5,62\n9.1,52.6,61\n",
    );
    assert!(degrees.contains("look like degrees"), "{degrees}");
    let two = odd(
        "source.xml",
        &GROUND.replace("<F>1 2 3</F><F>1 3 4</F>", ""),
    );
    assert!(
        two.contains("2 facets can be made of them") || two.contains("no triangles"),
        "{two}"
    );
}

/// A parcel of 20 by 10 and a line along it, beside the ground.
fn with_plan() -> String {
    let place = |n: i32, e: i32| format!("{} {}", 6_000_000 + n, 500_000 + e);
    let side =
        |from: String, to: String| format!("<Line><Start>{from}</Start><End>{to}</End></Line>");
    let corners = [(0, 0), (0, 20), (10, 20), (10, 0), (0, 0)];
    let sides: String = (corners.windows(2))
        .map(|p| side(place(p[0].0, p[0].1), place(p[1].0, p[1].1)))
        .collect();
    GROUND.replace(
        "</Surfaces>",
        &format!(
            "</Surfaces><Parcels><Parcel name=\"plot 7\"><CoordGeom>{sides}</CoordGeom></Parcel></Parcels>\
             <Alignments><Alignment name=\"bank\" staStart=\"100\"><CoordGeom>{}{}</CoordGeom></Alignment></Alignments>",
            side(place(0, 0), place(0, 20)),
            side(place(1, 20), place(9, 20)),
        ),
    )
}

#[test]
fn alignments_and_parcels_are_listed_and_limit() {
    let site = Site::new();
    site.write("plan.xml", &with_plan());
    let found = &site.json("inspect plan.xml --json")["files"][0];
    let line = &found["lines"][0];
    assert_eq!(
        (&line["name"], &line["length"]),
        (&"bank".into(), &28.0.into())
    );
    assert_eq!(line["chainage"], serde_json::json!([100.0, 128.0]));
    assert!(
        found["warnings"]
            .to_string()
            .contains("element 1 ends 1.000 away"),
        "{found}"
    );
    assert_eq!(
        (&found["zones"][0]["name"], &found["zones"][0]["area"]),
        (&"plot 7".into(), &200.0.into())
    );
    let said = site.succeed("inspect plan.xml");
    assert!(
        said.contains("2 straights") && said.contains("0+100.000 to 0+128.000"),
        "{said}"
    );
    let within = site.json("volume ground.xml survey.csv --unit m --zone plan.xml --json");
    assert_eq!(within["zones"][0]["zone"], "plot 7");
    let refused = site.refuse("volume ground.xml survey.csv --unit m --zone ground.xml");
    assert!(refused.contains("no closed parcel"), "{refused}");
}

/// Volumes that a file states stand next to what is measured between its surfaces, in the unit they are stated in.
#[test]
fn stated_volumes_are_checked() {
    let site = Site::new();
    // Level ground at 10 and 12, over 9 by 6 feet: 108 cubic feet of fill, 4 cubic yards.
    let surface = |name: &str, height: u32| {
        format!(
            "<Surface name=\"{name}\"><Definition><Pnts><P id=\"1\">0 0 {height}</P><P id=\"2\">0 9 {height}</P><P id=\"3\">6 9 {height}</P>\
             <P id=\"4\">6 0 {height}</P></Pnts><Faces><F>1 2 3</F><F>1 3 4</F></Faces></Definition></Surface>"
        )
    };
    let file = |unit: &str, fill: &str| {
        format!(
            "<LandXML><Units><Imperial linearUnit=\"foot\"/></Units><Surfaces>{}{}</Surfaces><SurfVolumes volUnit=\"{unit}\">\
             <SurfVolume surfBase=\"ground\" surfCompare=\"design\" volCut=\"0\" volFill=\"{fill}\"/>\
             <SurfVolume surfBase=\"ground\" surfCompare=\"gone\" volCut=\"7\"/></SurfVolumes></LandXML>",
            surface("ground", 10),
            surface("design", 12)
        )
    };
    for (unit, fill, measured, differs) in [
        ("cubicYard", "4.0", 4.0, false),
        ("cubicFeet", "108", 108.0, false),
        ("cubicFeet", "120", 108.0, true),
        ("acreFeet", "108", 108.0, false),
    ] {
        site.write("design.xml", &file(unit, fill));
        let json = site.json("inspect design.xml --json");
        let found = &json["files"][0]["stated_volumes"];
        assert!(
            (number(&found[0]["measured_fill"]) - measured).abs() < 1e-9,
            "{found}"
        );
        assert_eq!(number(&found[0]["measured_cut"]), 0.0);
        assert_eq!(
            (
                number(&found[1]["stated_cut"]),
                found[1]["measured_cut"].is_null()
            ),
            (7.0, true)
        );
        let warned = json["files"][0]["warnings"].to_string();
        assert_eq!(
            warned.contains("fill 120.0 stated, 108.0 measured"),
            differs,
            "{warned}"
        );
    }
    insta::assert_snapshot!(site.succeed("inspect design.xml"));
}
