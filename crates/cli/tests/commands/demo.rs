//! The sample job runs from end to end, the same each time.

use crate::site::Site;

#[test]
fn the_sample_job_runs_and_reruns() {
    let site = Site::new();
    let first = site.succeed("demo reach");
    let folder = site.path().join("reach");
    let read = || {
        let entries = std::fs::read_dir(&folder)
            .unwrap()
            .map(|entry| entry.unwrap().path());
        let mut files: Vec<_> = entries
            .map(|path| (path.clone(), std::fs::read(path).unwrap()))
            .collect();
        files.sort();
        files
    };
    let files = read();
    assert_eq!(site.succeed("demo reach"), first);
    assert!(read() == files, "a rerun changed the files");
    for (path, _) in &files {
        assert!(
            first.contains(path.file_name().unwrap().to_str().unwrap()),
            "{path:?} is not named"
        );
    }
    assert!(files.iter().map(|(_, bytes)| bytes.len()).sum::<usize>() < 4_000_000);
    assert!(!first.contains("warning:"), "{first}");
}

#[test]
fn the_bund_holds_what_its_shape_says() {
    // A box of 52 by 3 on top, slopes of 1 to 1.5, rounded ends, on nearly level ground: between
    // the height at its lowest toe and at its highest the volume is bracketed by closed forms.
    let site = Site::new();
    site.succeed("demo reach");
    let json = site.json(
        "volume reach/ground.xml reach/survey-march.csv --unit m --zone reach/zones.geojson --json",
    );
    let bund = &json["zones"][2];
    assert_eq!(bund["zone"], "topsoil bund");
    let volume = |height: f64| {
        // Steiner's formula for the area around a box at a distance, integrated over the height.
        let (box_area, perimeter, slope) = (52.0 * 3.0, 2.0 * (52.0 + 3.0), 1.5);
        box_area * height
            + perimeter * slope * height.powi(2) / 2.0
            + std::f64::consts::PI * slope.powi(2) * height.powi(3) / 3.0
    };
    let highest = bund["difference"]["max"].as_f64().unwrap();
    let fill = bund["volume"]["fill"].as_f64().unwrap();
    assert!(
        fill < volume(highest) && fill > volume(highest - 0.6),
        "{fill}"
    );
}

#[test]
fn the_piles_hold_what_their_shapes_say() {
    let site = Site::new();
    site.succeed("demo reach");
    let json = site.json(
        "volume reach/authority-ground.tif reach/yard.laz --thin 0.5 --zone reach/piles.shp --json",
    );
    // A flat top of 2a by 2b, h high, its slopes 1 to s and rounded at the corners: the top, the wedges
    // along its sides, and a cone.
    let pile = |a: f64, b: f64, h: f64, s: f64| {
        let out = h * s;
        4.0 * a * b * h + 2.0 * (a + b) * out * h + std::f64::consts::PI * out * out * h / 3.0
    };
    let expected = [
        ("pile 1", pile(5.0, 3.0, 4.6, 1.6)),
        ("pile 2", pile(12.0, 0.6, 2.4, 1.5)),
        ("pile 3", pile(0.0, 0.0, 5.2, 1.45)),
    ];
    for (zone, (name, volume)) in json["zones"].as_array().unwrap().iter().zip(expected) {
        assert_eq!(zone["zone"], name);
        let net = zone["volume"]["net"].as_f64().unwrap();
        // Cells of half a metre cut the edges of a crest, and the noise of a flight is three centimetres.
        assert!((net / volume - 1.0).abs() < 0.01, "{name}: {net} {volume}");
    }
}
