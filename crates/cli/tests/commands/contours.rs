//! Contours: where they run, what they are written to, and what is refused.

use serde_json::Value;

use crate::site::{Site, number};

/// A pyramid of 12 by 12 and 6 high, its foot at 10.
const PYRAMID: &str = r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Surfaces><Surface name="p"><Definition surfType="TIN"><Pnts>
<P id="1">6000000 500000 10</P><P id="2">6000000 500012 10</P><P id="3">6000012 500012 10</P><P id="4">6000012 500000 10</P>
<P id="5">6000006 500006 16</P></Pnts><Faces><F>1 2 5</F><F>2 3 5</F><F>3 4 5</F><F>4 1 5</F></Faces></Definition></Surface></Surfaces></LandXML>"#;

fn site() -> Site {
    let site = Site::new();
    site.write("pyramid.xml", PYRAMID);
    site
}

fn level(json: &Value, index: usize) -> [f64; 4] {
    let level = &json["levels"][index];
    ["level", "lines", "closed", "length"].map(|key| number(&level[key]))
}

#[test]
fn contours_of_a_pyramid_are_squares() {
    let site = site();
    let found = site.json("contours pyramid.xml --json --interval 1 --index-interval 2");
    assert_eq!(found["levels"].as_array().unwrap().len(), 7);
    for index in 1..6 {
        let height = 10.0 + f64::from(u32::try_from(index).unwrap());
        let [own, lines, closed, length] = level(&found, index);
        // At h above the foot a square of side 12 - 2h.
        let side = 12.0 - 2.0 * (height - 10.0);
        assert_eq!([own, lines, closed], [height, 1.0, 1.0]);
        assert!((length - 4.0 * side).abs() < 1e-9, "{length} {side}");
        assert_eq!(found["levels"][index]["is_index"], index % 2 == 0);
    }
    // The foot itself is the edge of the surface, and the top a single place.
    assert_eq!(level(&found, 0)[1], 0.0);
    assert_eq!(level(&found, 6)[1], 0.0);
    let few = site.json("contours pyramid.xml --json --interval 1 --min-length 20");
    assert_eq!(few["left_out"], 2);
    // In feet: the same lines at the same ground.
    let feet = site.json("contours pyramid.xml --json --levels 39.37007874015748 --length-unit ft");
    assert!((level(&feet, 0)[3] * 0.3048 - 32.0).abs() < 1e-9);
    insta::assert_snapshot!(site.succeed("contours pyramid.xml --interval 2"));
}

#[test]
fn the_difference_has_contours_too() {
    let site = site();
    // Against the level ground at 10 over 20 by 10: half of the pyramid and more.
    let found = site.json("contours pyramid.xml --from ground.xml --json --levels 3,0.5,-1");
    let levels: Vec<f64> = (0..3).map(|index| level(&found, index)[0]).collect();
    assert_eq!(levels, [-1.0, 0.5, 3.0]);
    // The square at 3 reaches from 3 to 9 and is whole; at 0.5 it is cut off at 10 north.
    assert!((level(&found, 2)[3] - 24.0).abs() < 1e-9);
    let open = level(&found, 1);
    assert_eq!([open[1], open[2]], [1.0, 0.0]);
    assert!((open[3] - (11.0 + 2.0 * 9.5)).abs() < 1e-9, "{open:?}");
    let said = Site::warnings(&found);
    assert!(
        said.iter()
            .any(|words| words.contains("no contour at -1 m")),
        "{said:?}"
    );
}

#[test]
fn lines_are_written_and_read_back() {
    let site = site();
    let outs = ["dxf", "geojson", "shp", "xml"].map(|ending| format!("--out c.{ending}"));
    let line = format!(
        "contours pyramid.xml --interval 1 --outlines zones.geojson --label-height 0.4 {}",
        outs.join(" ")
    );
    site.succeed(&line);
    let drawn = site.read("c.dxf");
    assert_eq!(drawn.matches("0\nPOLYLINE\n").count(), 5);
    // Closed: nine to the third power and one.
    assert_eq!(drawn.matches("\n70\n9\n").count(), 5);
    assert_eq!(
        drawn.matches("TEXT\n8\nCONTOUR_INDEX_TEXT\n").count(),
        1,
        "{drawn}"
    );
    // Contours read as breaklines are the pyramid between the lowest and the highest of them.
    for ending in ["dxf", "geojson", "shp"] {
        let found = site.json(&format!("volume level=11 c.{ending} --json --unit m"));
        let volume = number(&found["zones"][0]["volume"]["fill"]);
        // The frustum from 11 to 15: squares of 10 and 2.
        let frustum = 4.0 / 3.0 * (100.0 + 20.0 + 4.0);
        assert!((volume - frustum).abs() < 1e-6, "{ending}: {volume}");
    }
    let features = site.succeed("inspect c.xml");
    assert!(
        features.contains("13") && features.contains("zone"),
        "{features}"
    );
    // A closed one is a zone: the ground above 13.
    let above = site.json("volume ground.xml pyramid.xml --json --zone zones.geojson#13");
    assert!((number(&above["zones"][0]["area"]["compared"]) - 36.0).abs() < 1e-9);
    let first = site.read("c.geojson");
    site.succeed(&line);
    assert_eq!((site.read("c.dxf"), site.read("c.geojson")), (drawn, first));
}

#[test]
fn contours_that_cannot_be_are_refused() {
    let site = site();
    for (line, code, words) in [
        (
            "contours level=10",
            "contours/no-end",
            "same height everywhere",
        ),
        (
            "contours pyramid.xml --levels 30,40",
            "contours/outside",
            "10.000 to 16.000",
        ),
        (
            "contours pyramid.xml --interval 100",
            "contours/flat",
            "no multiple of 100",
        ),
        (
            "contours pyramid.xml --interval 0.0001",
            "contours/many-levels",
            "use an interval of 0.002 or more",
        ),
        (
            "contours pyramid.xml --out c.png",
            "command/no-drawing-writer",
            ".dxf",
        ),
        (
            "contours pyramid.xml --outlines c.dxf",
            "command/no-outline-writer",
            ".shp",
        ),
        (
            "contours ground.xml --from survey.csv --levels 9",
            "contours/outside",
            "-1.500 to -1.500",
        ),
    ] {
        let refused = site.refuse(&format!("{line} --unit m"));
        assert!(
            refused.contains(&format!("code: {code}")) && refused.contains(words),
            "{line}: {refused}"
        );
    }
    let (code, _, refused) = site.run("contours pyramid.xml --levels 1,x");
    assert!(
        code == 2 && refused.contains("is not a height"),
        "{refused}"
    );
}
