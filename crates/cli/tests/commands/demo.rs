//! The sample job runs from end to end, the same each time.

use crate::site::Site;
use crate::site::number;

#[test]
fn the_sample_job_runs_and_reruns() {
    let site = Site::new();
    let first = site.succeed("demo reach");
    let folder = site.path().join("reach");
    let read = || {
        let entries = [folder.clone(), folder.join("claims")].map(|folder| {
            let entries = std::fs::read_dir(folder).unwrap();
            entries.map(|entry| entry.unwrap().path())
        });
        let mut files: Vec<_> = (entries.into_iter().flatten())
            .filter(|path| path.is_file())
            .map(|path| (path.clone(), std::fs::read(path).unwrap()))
            .collect();
        files.sort();
        files
    };
    let files = read();
    assert_eq!(site.succeed("demo reach"), first);
    assert!(read() == files, "a rerun changed the files");
    for (path, _) in &files {
        // Of three records one is named.
        let name = path.file_name().unwrap().to_str().unwrap();
        let name = name.replace("-002.", "-001.").replace("-003.", "-001.");
        assert!(first.contains(&name), "{path:?} is not named");
    }
    assert!(files.iter().map(|(_, bytes)| bytes.len()).sum::<usize>() < 5_000_000);
    // The pick-up says no unit, on purpose.
    let warnings: Vec<&str> = first
        .lines()
        .filter(|line| line.contains("warning:"))
        .collect();
    assert!(
        matches!(warnings.as_slice(), [one] if one.ends_with("the file has no length unit")),
        "{warnings:?}"
    );
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
    let highest = number(&bund["difference"]["max"]);
    let fill = number(&bund["volume"]["fill"]);
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
        let net = number(&zone["volume"]["net"]);
        // Cells of half a metre cut the edges of a crest, and the noise of a flight is three centimetres.
        assert!((net / volume - 1.0).abs() < 0.01, "{name}: {net} {volume}");
    }
}

/// Without outlines the piles of the yard are found, each within one spacing of its points, which are cells of half a
/// metre: every corner of the outline lies that near to the toe that was made, and the toe that near to the outline.
/// Outlines that are written measure the same.
#[test]
fn the_piles_are_found_where_they_were_made() {
    let site = Site::new();
    site.succeed("demo reach");
    let line = "pile yard --job reach/dapedon.toml";
    let found = site.json(&format!("{line} --outlines found.geojson --json"));
    let again = site.json(&format!("{line} --zone found.geojson --json"));
    assert_eq!(found["zones"], again["zones"]);
    let outlines: serde_json::Value = serde_json::from_str(&site.read("found.geojson")).unwrap();
    // As they are made: the middle, half of the flat top, the height, the slope.
    let made = [
        ((80.0, 21.0), (5.0, 3.0), 4.6, 1.6),
        ((113.0, 22.0), (12.0, 0.6), 2.4, 1.5),
        ((145.0, 20.0), (0.0, 0.0), 5.2, 1.45),
    ];
    let features = outlines["features"].as_array().unwrap();
    assert_eq!(features.len(), made.len());
    for (feature, (middle, half, height, slope)) in features.iter().zip(made) {
        let rings = feature["geometry"]["coordinates"].as_array().unwrap();
        assert_eq!(rings.len(), 1);
        let corner = |place: &serde_json::Value| {
            let number = |index: usize| number(&place[index]);
            (number(0) - 412_000.0, number(1) - 5_861_000.0)
        };
        let corners: Vec<(f64, f64)> = rings[0].as_array().unwrap().iter().map(corner).collect();
        let out = height * slope;
        let off = |(e, n): (f64, f64)| {
            let beyond = |at: f64, middle: f64, half: f64| ((at - middle).abs() - half).max(0.0);
            beyond(e, middle.0, half.0).hypot(beyond(n, middle.1, half.1)) - out
        };
        let farthest = corners
            .iter()
            .map(|&corner| off(corner).abs())
            .fold(0.0, f64::max);
        // Cells of half a metre: less than two of them outside the toe.
        assert!(farthest < 1.0, "{farthest}");
        // The toe, around its corners.
        for step in 0..720 {
            let (sin, cos) = (f64::from(step) * std::f64::consts::PI / 360.0).sin_cos();
            let toe = (
                middle.0 + f64::copysign(half.0, cos) + out * cos,
                middle.1 + f64::copysign(half.1, sin) + out * sin,
            );
            let near = corners
                .windows(2)
                .map(|side| to_side(toe, side[0], side[1]));
            assert!(near.fold(f64::INFINITY, f64::min) < 1.0, "{toe:?}");
        }
    }
}

/// How far a place is from a side.
fn to_side(at: (f64, f64), from: (f64, f64), to: (f64, f64)) -> f64 {
    let (e, n) = (to.0 - from.0, to.1 - from.1);
    let along = (at.0 - from.0) * e + (at.1 - from.1) * n;
    let share = (along / (e * e + n * n)).clamp(0.0, 1.0);
    (at.0 - from.0 - share * e).hypot(at.1 - from.1 - share * n)
}
