//! Maps: as pictures, on paper at a true scale, and with what is drawn over them.

use std::fs;

use crate::site::{Site, number};

const LINE: &str = "volume ground.xml survey.csv --unit m";

/// Width, height and dots to an inch of a PNG.
fn picture(site: &Site, name: &str) -> [u32; 3] {
    let bytes = fs::read(site.path().join(name)).unwrap();
    assert!(bytes.starts_with(b"\x89PNG\r\n"));
    let word = |at: usize| u32::from_be_bytes(bytes[at..at + 4].try_into().unwrap());
    let dots = bytes.windows(4).position(|four| four == b"pHYs").unwrap();
    // Dots to a metre.
    [
        word(16),
        word(20),
        (f64::from(word(dots + 4)) * 0.0254).round() as u32,
    ]
}

#[test]
fn maps_are_drawn_as_svg_or_png() {
    let site = Site::new();
    let line = format!("{LINE} --zone zone.geojson --bands -1,1,2 --map");
    site.succeed(&format!("{line} map.svg"));
    let svg = site.read("map.svg");
    for words in [
        "yard",
        "fill 90.0 m³",
        "Fill, to 1.50 m",
        "1 to 2 m",
        "60.0 m², 90.0 m³",
        "Difference from ground.xml to survey.csv",
        "2031-01-02",
    ] {
        assert!(svg.contains(words), "{words}");
    }
    site.succeed(&format!("{line} map.png"));
    let [width, height, dots] = picture(&site, "map.png");
    assert_eq!((width, dots), (1000, 96));
    assert!(height > 300);
    let first = fs::read(site.path().join("map.png")).unwrap();
    site.succeed(&format!("{line} map.png"));
    assert_eq!(fs::read(site.path().join("map.png")).unwrap(), first);
    site.succeed(&format!("{line} large.png --dpi 192"));
    assert_eq!(picture(&site, "large.png"), [2000, 2 * height, 192]);
}

#[test]
fn paper_has_its_size_and_a_round_scale() {
    let site = Site::new();
    site.succeed(&format!("{LINE} --map a3.png --paper A3"));
    assert_eq!(picture(&site, "a3.png"), [3307, 2339, 200]);
    site.succeed(&format!("{LINE} --map a4.svg --paper a4 --upright"));
    let svg = site.read("a4.svg");
    assert!(
        svg.contains(r#"width="210mm" height="297mm""#),
        "{}",
        &svg[..200]
    );
    // 20 m and a margin on some 130 mm: 1:150 is the largest round scale that fits.
    assert!(svg.contains(">1:150<"), "no scale");
    site.succeed(&format!(
        "{LINE} --map a4.svg --paper letter --scale 1:500 --length-unit ft"
    ));
    let svg = site.read("a4.svg");
    assert!(svg.contains(r#"width="279.4mm" height="215.9mm""#) && svg.contains(">1:500<"));
    let refused = site.refuse(&format!("{LINE} --map a4.svg --paper a4 --scale 20"));
    assert!(
        refused.contains("does not fit the paper at 1:20; it fits at 1:"),
        "{refused}"
    );
    assert!(refused.contains("do: use --scale 1"), "{refused}");
    let refused = site.refuse(&format!("{LINE} --map a3.png --paper a3 --dpi 1200"));
    assert!(refused.contains("use a smaller --dpi"), "{refused}");
    for (typed, words) in [
        ("--paper a4", "--map"),
        ("--map m.svg --scale 100", "--paper"),
        ("--map m.svg --paper a4 --scale x", "expected a scale"),
        ("--map m.svg --dpi 5", "expected 10 to 1200"),
        ("--map m.jpg", "use the ending .svg or .png"),
        ("--map m.svg --show wings", "expected contours"),
        ("--map m.svg --show spots", "spots=20"),
        (
            "--map m.svg --show contours=-1",
            "expected a length above zero after contours=",
        ),
    ] {
        let (code, _, refused) = site.run(&format!("{LINE} {typed}"));
        assert!(code == 2 && refused.contains(words), "{typed}: {refused}");
    }
}

#[test]
fn what_is_asked_for_is_drawn_over_a_map() {
    let site = Site::new();
    site.write("tilted.csv", "point,east,north,height\n1,500000,6000000,9\n2,500020,6000000,11\n3,500020,6000010,11\n4,500000,6000010,9\n");
    site.write(
        "line.xml",
        r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="road" length="16" staStart="100">
<CoordGeom><Line><Start>6000005 500002</Start><End>6000005 500018</End></Line></CoordGeom></Alignment></Alignments></LandXML>"#,
    );
    let line = "volume ground.xml tilted.csv --unit m --map map.svg";
    let shows = "--show contours=0.5 --show spots=5 --show triangles --show points --show line=line.xml#road";
    site.succeed(&format!("{line} {shows}"));
    let svg = site.read("map.svg");
    // Differences at 5 m: a tenth to the metre.
    for words in [">−0.50<", ">+0.50<", ">road<", ">0+100<"] {
        assert!(svg.contains(words), "{words}");
    }
    site.succeed(&format!("{line} --show continuous"));
    assert_ne!(site.read("map.svg"), svg);
    // Spots of their own, contours of their own, a surface and piles.
    site.succeed("spots ground.xml tilted.csv --grid 5 --unit m --map spots.svg --paper a4");
    assert!(
        site.read("spots.svg").contains(">+0.50<")
            && site.read("spots.svg").contains("grid of 5 by 5 m")
    );
    site.succeed("contours tilted.csv --interval 0.5 --unit m --map contours.png");
    assert_eq!(picture(&site, "contours.png")[0], 1000);
    site.succeed("contours tilted.csv --from ground.xml --levels 0 --unit m --map zero.svg");
    assert!(site.read("zero.svg").contains("Cut, to 1.00 m"));
    site.succeed("surface tilted.csv --unit m --map ground.svg --show contours --show spots=5");
    assert!(site.read("ground.svg").contains(">9.50<"));
    site.succeed("surface tilted.csv --unit m --map plain.svg");
    site.succeed("surface tilted.csv --unit m --map smooth.svg --show continuous");
    assert_ne!(site.read("plain.svg"), site.read("smooth.svg"));
    // So close that values have no room: said, and the figures are the same.
    let crowded = site.json(&format!("{line} --show spots=0.2 --json"));
    assert!(
        crowded["warnings"]
            .to_string()
            .contains("labels have no room on the map"),
        "{}",
        crowded["warnings"]
    );
    let plain = site.json("volume ground.xml tilted.csv --unit m --json");
    assert_eq!(crowded["zones"], plain["zones"]);
    let refused = site.refuse(&format!("{line} --show line=line.xml#path"));
    assert!(refused.contains("line.xml"), "{refused}");
    let refused =
        site.refuse("volume ground.xml tilted.csv --unit m --map line.xml --show line=line.xml");
    assert!(refused.contains("would be overwritten"), "{refused}");
}

/// A line that is drawn is an input like any other: recorded, and in the system of the surfaces.
#[test]
fn a_line_on_a_map_is_compared_and_recorded() {
    let site = Site::new();
    let grid = |epsg: u32| {
        format!(
            r#"{{"type":"FeatureCollection","crs":{{"type":"name","properties":{{"name":"urn:ogc:def:crs:EPSG::{epsg}"}}}},"features":[{{"type":"Feature","properties":{{}},"geometry":{{"type":"LineString","coordinates":[[500002,6000005],[500018,6000005]]}}}}]}}"#
        )
    };
    site.write("line.geojson", &grid(25832));
    site.write("other.geojson", &grid(25833));
    let ground = site.read("ground.xml");
    let placed = ground.replace(
        "<Surfaces>",
        r#"<CoordinateSystem epsgCode="25832"/><Surfaces>"#,
    );
    assert_ne!(ground, placed);
    site.write("placed.xml", &placed);
    for command in [
        "volume placed.xml survey.csv",
        "spots placed.xml survey.csv --grid 5",
        "pile placed.xml --zone zone.geojson",
        "contours survey.csv --from placed.xml --levels 1.5",
        "surface placed.xml",
        "inspect placed.xml",
    ] {
        let line = format!("{command} --unit m --json --map map.svg --show");
        let told = site.json(&format!("{line} line=line.geojson"));
        let file = &told["line_files"][0];
        assert_eq!(file["path"], "line.geojson", "{command}");
        assert_eq!(file["sha256"].as_str().map(str::len), Some(64), "{command}");
        let refused = site.refuse(&format!("{line} line=other.geojson"));
        assert!(
            refused.contains("25833") && refused.contains("25832"),
            "{command}: {refused}"
        );
        let taken = site.json(&format!("{line} line=other.geojson --ignore-crs"));
        let warned = match taken["files"].get(0) {
            Some(file) => file["warnings"].to_string(),
            None => taken["warnings"].to_string(),
        };
        assert!(
            warned.contains("other.geojson in EPSG:25833"),
            "{command}: {warned}"
        );
    }
    site.succeed("volume placed.xml survey.csv --unit m --report page.html --map map.svg --show line=line.geojson");
    assert!(site.read("page.html").contains("<b>Line on the map</b>"));
}

#[test]
fn breaklines_are_those_of_points() {
    let site = Site::new();
    site.write(
        "coded.csv",
        "point,east,north,height,code\n1,500000,6000000,9,\n2,500020,6000000,9,\n3,500020,6000010,9,\n4,500000,6000010,9,\n5,500004,6000005,12,ridge\n6,500016,6000005,12,ridge\n",
    );
    let line = "surface coded.csv --unit m --codes ridge=breakline --json --map map.svg --show";
    let told = site.json(&format!("{line} breaklines"));
    assert_eq!(told["warnings"].as_array().map(Vec::len), Some(0), "{told}");
    let with = site.read("map.svg");
    site.succeed(&format!("{line} points"));
    let added = with.lines().filter(|line| line.contains("#8a1c5a")).count();
    assert_eq!(
        (added, site.read("map.svg").contains("#8a1c5a")),
        (1, false)
    );
    let none =
        site.json("volume ground.xml survey.csv --unit m --json --map map.svg --show breaklines");
    let words = none["warnings"].to_string();
    assert!(words.contains("has no breaklines"), "{words}");
}

/// Many zones, tiny ones among them, names that would do harm, and names in other scripts.
#[test]
fn zones_are_labelled_whatever_they_are_called() {
    let site = Site::new();
    let names = [
        "<script>alert(1)</script>",
        "насыпь",
        "築堤",
        "حاجز",
        "a & b",
    ];
    let squares: Vec<(String, Vec<(i32, i32)>)> = (0..40)
        .map(|i: i32| {
            let (e, n) = (2 * (i % 10), 2 * (i / 10));
            let name = names
                .get(usize::try_from(i).unwrap())
                .map_or(format!("zone {i}"), |name| (*name).into());
            (
                name,
                vec![(e, n), (e + 1, n), (e + 1, n + 1), (e, n + 1), (e, n)],
            )
        })
        .collect();
    let zones: Vec<(&str, &[(i32, i32)])> = squares
        .iter()
        .map(|(name, ring)| (name.as_str(), ring.as_slice()))
        .collect();
    site.zone("many.geojson", &zones);
    let found = site.json(&format!("{LINE} --zone many.geojson --map map.svg --json"));
    assert_eq!(found["zones"].as_array().unwrap().len(), 40);
    assert_eq!(number(&found["zones"][1]["area"]["compared"]), 1.0);
    // On large paper each is labelled, most with a leader.
    site.succeed(&format!(
        "{LINE} --zone many.geojson --map map.svg --paper a3"
    ));
    let svg = site.read("map.svg");
    assert!(!svg.contains("<script>") && svg.contains("&lt;script&gt;") && svg.contains("築堤"));
    for (name, _) in squares.iter().skip(5) {
        assert!(svg.contains(&format!(">{name}<")), "{name}");
    }
    let boxes = site.json(&format!("{LINE} --zone many.geojson --map map.png --json"));
    assert!(
        boxes["warnings"]
            .to_string()
            .contains("2 letters are in no font"),
        "{}",
        boxes["warnings"]
    );
    site.succeed(&format!(
        "{LINE} --zone many.geojson --map map.png --paper a3"
    ));
}
