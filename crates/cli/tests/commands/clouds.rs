//! Clouds, from the command line: which points are used, the notes, and what is refused.

use crate::site::number;
use std::fs;

use dapedon_core::units::{Foot, LengthUnit};
use dapedon_formats::las::{self, Shot};

use crate::site::Site;

/// Points every half unit over 20 by 10, four to a square: a slope of 0.1 from 10, some of them bushes.
fn slope() -> Vec<Shot> {
    let shot = |index: u32| {
        let (e, n) = (
            0.25 + 0.5 * f64::from(index % 40),
            0.25 + 0.5 * f64::from(index / 40),
        );
        let bush = index % 10 == 3;
        Shot {
            east: 500_000.0 + e,
            north: 6_000_000.0 + n,
            height: 10.0 + 0.1 * e + if bush { 2.0 } else { 0.0 },
            class: if bush { 5 } else { 2 },
            number: 1,
            returns: 1,
            withheld: false,
        }
    };
    (0..800).map(shot).collect()
}

fn cloud(site: &Site, name: &str, unit: LengthUnit, crs: Option<&str>, shots: &[Shot]) {
    let mut bytes = Vec::new();
    las::write(&mut bytes, name.ends_with("laz"), unit, crs, shots).unwrap();
    fs::write(site.path().join(name), bytes).unwrap();
}

fn site() -> Site {
    let site = Site::new();
    let shots = slope();
    cloud(&site, "slope.laz", LengthUnit::Metre, None, &shots);
    cloud(&site, "slope.las", LengthUnit::Metre, None, &shots);
    let (west, east): (Vec<_>, Vec<_>) = shots.iter().partition(|shot| shot.east < 500_009.0);
    fs::create_dir(site.path().join("flight")).unwrap();
    cloud(&site, "flight/a.laz", LengthUnit::Metre, None, &west);
    cloud(&site, "flight/b.las", LengthUnit::Metre, None, &east);
    site
}

/// The fill above level 10, and the area it is on.
fn fill(site: &Site, surface: &str) -> (f64, f64) {
    let json = site.json(&format!("volume level=10 {surface} --json"));
    let zone = &json["zones"][0];
    let figure = |name: &str, of: &str| number(&zone[name][of]);
    (figure("volume", "fill"), figure("area", "compared"))
}

#[track_caller]
fn near(found: (f64, f64), expected: (f64, f64), within: f64) {
    let apart = (found.0 - expected.0)
        .abs()
        .max((found.1 - expected.1).abs());
    assert!(apart < within, "{found:?} {expected:?}");
}

#[test]
fn a_slope_is_the_wedge_it_is() {
    let site = site();
    // From the middles of the outermost cells: 19 by 9, at a mean height of 1 above the level. Bushes stand on the
    // eastern two of four points in every fifth column of cells; what is left there stands in the west of its cell, as
    // the lowest points do, and is carried to its middle along the slope. Places are held to the 65536th of a cell.
    let wedge = |above: f64| (171.0 + above, 171.0);
    for keep in ["mean", "median", "lowest", "highest"] {
        let surface = format!("slope.laz --thin 1 --keep {keep}");
        near(fill(&site, &surface), wedge(0.0), 2e-4);
    }
    near(fill(&site, "slope.las --thin 1"), wedge(0.0), 2e-4);
    // Bushes are 2 higher: where they stand, two of four points of a column.
    let (all, _) = fill(&site, "slope.laz --thin 1 --keep mean --classes all");
    assert!((all - 171.0 - 36.0).abs() < 1.0, "{all}");
    // Every point, triangulated, is the slope itself, out to 19.5 by 9.5.
    near(fill(&site, "slope.laz --thin none"), (185.25, 185.25), 1e-9);
    // One point a cell, at the mean place of its points, lies on the slope.
    let points = "slope.laz --thin 1 --keep mean --triangulate";
    near(fill(&site, points), wedge(0.0), 1e-9);
}

/// A lattice of one point a cell on a slope of 1 in 2, anywhere in its cells: against the slope itself there is neither
/// cut nor fill. Heights that stood at the middles as they are gave half a spacing of it, 0.25 a square metre.
#[test]
fn a_lattice_on_a_slope_gives_no_false_cut() {
    let site = Site::new();
    site.write(
        "plane.csv",
        "east,north,height\n499990,5999990,5\n500050,5999990,35\n500050,6000050,35\n499990,6000050,5\n",
    );
    for keep in ["mean", "median", "lowest", "highest"] {
        for (thin, spacing) in [(1.0, 1.0), (1.0, 0.5), (0.75, 0.25)] {
            for offset in [0.0, 0.1, 0.5, 0.9] {
                let shots = (0..900).map(|index| {
                    let along = |count: u32| offset + spacing * f64::from(count);
                    let (e, n) = (
                        500_000.0 + along(index % 30),
                        6_000_000.0 + along(index / 30),
                    );
                    Shot {
                        east: e,
                        north: n,
                        height: 5.0 + 0.5 * (e - 499_990.0),
                        class: 2,
                        number: 1,
                        returns: 1,
                        withheld: false,
                    }
                });
                let shots: Vec<Shot> = shots.collect();
                cloud(&site, "lattice.las", LengthUnit::Metre, None, &shots);
                let line = format!(
                    "volume plane.csv lattice.las --unit m --thin {thin} --keep {keep} --json"
                );
                let zone = &site.json(&line)["zones"][0];
                let moved = ["cut", "fill"].map(|way| number(&zone["volume"][way]));
                let area = number(&zone["area"]["compared"]);
                // The file holds heights to a millimetre, the cells to what the 65536th of a cell makes.
                let worst = (moved[0] + moved[1]) / area;
                assert!(worst < 6e-4, "{keep} {thin} {spacing} {offset}: {worst}");
            }
        }
    }
}

#[test]
fn several_files_are_one_cloud() {
    let site = site();
    let whole = fill(&site, "slope.laz --thin 1");
    assert_eq!(fill(&site, "flight/a.laz+flight/b.las --thin 1"), whole);
    assert_eq!(fill(&site, "flight --thin 1"), whole);
    let json = site.json("volume level=10 flight --thin 1 --json");
    let file = &json["surveyed"]["file"];
    assert!(file["path"].as_str().unwrap().ends_with("a.laz"));
    assert_eq!(file["other_files"].as_array().unwrap().len(), 1);
    assert_eq!(file["other_files"][0]["sha256"].as_str().unwrap().len(), 64);
    let notes = json["surveyed"]["notes"].to_string();
    assert!(
        notes.contains("720 of 800 points of 2 files used"),
        "{notes}"
    );
    let looked = site.json("inspect flight --thin 1 --json");
    assert_eq!(looked["files"][0]["cloud"]["points"], 800);
    let looked = site.succeed("inspect flight/a.laz+flight/b.las --thin 1");
    assert!(looked.contains("  with     flight/b.las"), "{looked}");
    // Each must be there, and none may be overwritten.
    assert!(
        site.refuse("surface flight/a.laz+c.laz")
            .contains("in: c.laz")
    );
    let over = site.refuse("surface flight/a.laz+slope.las --map slope.las");
    assert!(over.contains("would be overwritten"), "{over}");
}

#[test]
fn inspect_says_what_a_cloud_holds() {
    let site = site();
    insta::assert_snapshot!(site.succeed("inspect slope.laz --thin 1"));
    let json = site.json("inspect slope.laz --json");
    let cloud = &json["files"][0]["cloud"];
    assert_eq!(
        (cloud["points"].as_u64(), cloud["points_used"].as_u64()),
        (Some(800), Some(720))
    );
    assert_eq!(cloud["classes"][1]["class"], 5);
    // Points half a unit apart: three abreast take 1.5, rounded up to 2.
    assert_eq!(cloud["cell"], 2.0);
}

#[test]
fn empty_areas_within_are_found() {
    let site = Site::new();
    let mut shots = slope();
    shots.retain(|shot| {
        let (e, n) = (shot.east - 500_010.0, shot.north - 6_000_005.0);
        e.abs().max(n.abs()) > 2.0
    });
    cloud(&site, "hole.las", LengthUnit::Metre, None, &shots);
    let json = site.json("inspect hole.las --thin 1 --classes all --json");
    let cells = &json["files"][0]["surfaces"][0]["cells"];
    assert_eq!(cells["size"], serde_json::json!([20, 10]));
    assert_eq!(cells["empty"][0]["area"], 16.0);
    assert_eq!(cells["empty"][0]["east"], 500_010.0);
    assert_eq!(cells["share_without_height"], 0.08);
    let said = site.succeed("inspect hole.las --thin 1 --classes all");
    assert!(
        said.contains("1 area within its outline, 16.0 m² about east 500010.0"),
        "{said}"
    );
}

#[test]
fn what_is_no_cloud_to_measure_is_refused() {
    let site = site();
    let refused = |line: &str, said: &[&str]| {
        let text = site.refuse(line);
        for said in said {
            assert!(text.contains(said), "{line}\n{text}");
        }
    };
    refused(
        "surface slope.laz --classes 9",
        &[
            "no points of these classes",
            "2 (ground), 5 (high vegetation)",
            "in: slope.laz",
            "--classes all",
        ],
    );
    refused("surface slope.laz --classes 2,x", &["\"x\" is not a class"]);
    refused(
        "surface slope.laz --thin 0",
        &["expected a length above zero"],
    );
    // Feet and metres are no one cloud; neither are two systems.
    cloud(
        &site,
        "feet.laz",
        LengthUnit::Foot(Foot::UsSurvey),
        None,
        &slope(),
    );
    refused(
        "surface slope.laz+feet.laz",
        &["cannot be one cloud", "US survey foot (feet.laz)"],
    );
    cloud(
        &site,
        "other.laz",
        LengthUnit::Metre,
        Some("EPSG:31999"),
        &slope(),
    );
    refused(
        "surface slope.laz+other.laz",
        &["cannot be one cloud", "EPSG:31999"],
    );
    site.succeed("surface slope.laz+other.laz --ignore-crs");
    // Every other point far away: two surveys, none of them stray.
    let mut stray = slope();
    for shot in stray.iter_mut().skip(1).step_by(2) {
        shot.east += 900_000.0;
        shot.north += 900_000.0;
    }
    cloud(&site, "stray.laz", LengthUnit::Metre, None, &stray);
    refused(
        "surface stray.laz --thin 0.5",
        &["thinning needs 18000", "remove points far away"],
    );
    // Cells too large or too small to be ground.
    refused(
        "surface slope.laz --thin 50",
        &["no surface can be made from these cells", "--triangulate"],
    );
    refused(
        "surface slope.laz --thin 0.01",
        &["no grid cell has three heights"],
    );
    let unused = site.succeed("surface ground.xml --thin 1");
    assert!(unused.contains("warning: no input is a cloud"), "{unused}");
    // Degrees.
    let globe = |shot: &Shot| Shot {
        east: 9.0 + (shot.east - 500_000.0) / 100.0,
        north: 52.0 + (shot.north - 6_000_000.0) / 100.0,
        ..*shot
    };
    let degrees: Vec<Shot> = slope().iter().map(globe).collect();
    cloud(&site, "degrees.las", LengthUnit::Metre, None, &degrees);
    refused(
        "inspect degrees.las",
        &["the coordinates look like degrees"],
    );
    // Cut off, and not what its name says.
    let whole = fs::read(site.path().join("slope.las")).unwrap();
    fs::write(site.path().join("cut.las"), &whole[..whole.len() - 100]).unwrap();
    refused(
        "inspect cut.las",
        &["the file is incomplete: it has 796 points, and its header gives 800"],
    );
    fs::write(site.path().join("named.laz"), "nothing of the kind").unwrap();
    refused(
        "inspect named.laz",
        &["the file does not start like a LAS file", "in: named.laz"],
    );
    fs::create_dir(site.path().join("none")).unwrap();
    refused("surface none", &["this is a folder"]);
}

/// Two points far away change neither the default cell nor a figure, and are listed.
#[test]
fn strays_change_nothing_and_are_listed() {
    let site = Site::new();
    let mut shots = slope();
    cloud(&site, "clean.las", LengthUnit::Metre, None, &shots);
    for shift in [0.0, 3.0] {
        shots.push(Shot {
            east: 490_000.0 + shift,
            north: 5_990_000.0,
            height: 0.0,
            ..shots[0]
        });
    }
    cloud(&site, "strays.las", LengthUnit::Metre, None, &shots);
    near(fill(&site, "strays.las"), fill(&site, "clean.las"), 1e-9);
    let json = site.json("volume level=10 strays.las --json");
    let found = &json["warnings"][0];
    assert_eq!(found["code"], "far-points", "{json}");
    assert!(
        found["message"]
            .as_str()
            .unwrap()
            .starts_with("2 points far from all others are not used; first near east 490"),
        "{found}"
    );
    let looked = site.json("inspect strays.las --unit m --json");
    assert_eq!(looked["files"][0]["warnings"][0]["code"], "far-points");
    // Cells that are given hold as well, though the grid out to the strays would not fit into memory.
    near(
        fill(&site, "strays.las --thin 0.5"),
        fill(&site, "clean.las --thin 0.5"),
        1e-9,
    );
    let rows: String = shots
        .iter()
        .map(|shot| format!("{},{},{}\n", shot.east, shot.north, shot.height))
        .collect();
    site.write("strays.csv", &format!("east,north,height\n{rows}"));
    let json = site.json("volume level=10 strays.csv --unit m --json");
    let codes: Vec<_> = json["warnings"]
        .as_array()
        .unwrap()
        .iter()
        .map(|found| found["code"].as_str().unwrap())
        .collect();
    assert!(codes.contains(&"far-points"), "{codes:?}");
    let dropped = site.json("surface strays.csv --unit m --drop-outliers --json");
    assert!(number(&dropped["min"]["east"]) >= 500_000.0, "{dropped}");
}

/// Text is thinned as a cloud where cells are given: the same ground as from the cloud itself.
#[test]
fn text_is_thinned_like_a_cloud() {
    let site = site();
    let ground = slope().into_iter().filter(|shot| shot.class == 2);
    let rows: Vec<String> = ground
        .map(|shot| {
            format!(
                "{:.3} {:.3} {:.3} -812 90 91 92",
                shot.east, shot.north, shot.height
            )
        })
        .collect();
    site.write(
        "slope.pts",
        &format!("{}\n{}\n", rows.len(), rows.join("\n")),
    );
    let line = "--thin 1 --columns east,north,height,skip,skip,skip,skip --unit m";
    near(
        fill(&site, &format!("slope.pts {line}")),
        fill(&site, "slope.las --thin 1"),
        2e-4,
    );
    let looked = site.json(&format!("inspect slope.pts {line} --json"));
    assert_eq!(looked["files"][0]["cloud"]["points"], rows.len());
    site.write(
        "cut.pts",
        &format!("{}\n{}\n", rows.len(), rows[..40].join("\n")),
    );
    let refused = site.refuse(&format!("surface cut.pts {line}"));
    assert!(refused.contains("code: delimited/count"), "{refused}");
    // Without cells it is points.
    let json = site
        .json("surface slope.pts --columns east,north,height,skip,skip,skip,skip --unit m --json");
    assert_eq!(json["kind"], "points, delimited text");
}

/// A scanner's cloud is ground like any other; one without a position says so.
#[test]
fn scans_are_ground_where_their_scanner_stood() {
    let site = Site::new();
    let scan = |name: &str, to: Option<[f64; 2]>| {
        let path = site.path().join(name);
        let mut writer = e57::E57Writer::from_file(path, "made up").unwrap();
        let prototype = vec![
            e57::Record::CARTESIAN_X_F64,
            e57::Record::CARTESIAN_Y_F64,
            e57::Record::CARTESIAN_Z_F64,
        ];
        let mut scan = writer.add_pointcloud("scan", prototype).unwrap();
        scan.set_transform(to.map(|[x, y]| e57::Transform {
            rotation: e57::Quaternion {
                w: 1.0,
                x: 0.0,
                y: 0.0,
                z: 0.0,
            },
            translation: e57::Translation { x, y, z: 0.0 },
        }));
        for shot in slope().iter().filter(|shot| shot.class == 2) {
            let at = [shot.east - 500_010.0, shot.north - 6_000_005.0, shot.height];
            scan.add_point(at.map(e57::RecordValue::Double).to_vec())
                .unwrap();
        }
        scan.finalize().unwrap();
        writer.finalize().unwrap();
    };
    scan("placed.e57", Some([500_010.0, 6_000_005.0]));
    scan("own.e57", None);
    near(
        fill(&site, "placed.e57 --thin 1"),
        fill(&site, "own.e57 --thin 1"),
        1e-6,
    );
    let json = site.json("volume level=10 own.e57 --thin 1 --json");
    assert_eq!(json["warnings"][0]["code"], "scanner-frame");
    let json = site.json("volume ground.xml placed.e57 --thin 1 --json");
    assert!(
        json["warnings"]
            .as_array()
            .unwrap()
            .iter()
            .all(|found| found["code"] != "scanner-frame")
    );
    let refused = site.refuse("volume ground.xml own.e57 --thin 1");
    assert!(refused.contains("code: no-overlap/surfaces"), "{refused}");
}

/// A PLY file without faces is a cloud, with faces a mesh; text or binary.
#[test]
fn ply_files_are_clouds_or_meshes() {
    let site = Site::new();
    let shots = slope();
    let header = |kind: &str, faces: &str| {
        format!(
            "ply\nformat {kind} 1.0\nelement vertex {}\nproperty double x\nproperty double y\nproperty double z\n{faces}end_header\n",
            shots.len()
        )
    };
    let mut binary = header("binary_little_endian", "").into_bytes();
    let (mut text, mut mesh) = (header("ascii", ""), String::new());
    for shot in &shots {
        let place = [shot.east, shot.north, shot.height];
        binary.extend(place.iter().flat_map(|along| along.to_le_bytes()));
        text += &format!("{} {} {}\n", shot.east, shot.north, shot.height);
    }
    let quads = (0..19 * 39).map(|i| {
        let corner = (i / 39) * 40 + i % 39;
        format!(
            "4 {corner} {} {} {}\n",
            corner + 1,
            corner + 41,
            corner + 40
        )
    });
    let faces = "element face 741\nproperty list uchar uint vertex_indices\n";
    mesh += &text.replace("end_header", &format!("{faces}end_header"));
    mesh.extend(quads);
    site.write("text.ply", &text);
    site.write("mesh.ply", &mesh);
    fs::create_dir(site.path().join("scans")).unwrap();
    fs::write(site.path().join("scans/binary.ply"), &binary).unwrap();
    fs::write(site.path().join("scans/notes.txt"), "made up").unwrap();
    fs::write(site.path().join("scans/mesh.ply"), &mesh).unwrap();
    // As of the same points in a cloud of another format, which holds them to a thousandth.
    cloud(&site, "slope.las", LengthUnit::Metre, None, &shots);
    let expected = fill(&site, "slope.las --unit m --thin 1 --classes all");
    for name in ["text.ply", "scans"] {
        let found = fill(&site, &format!("{name} --unit m --thin 1"));
        near(found, expected, 0.2);
    }
    let all = site.json("inspect text.ply --unit m --json");
    assert_eq!(all["files"][0]["cloud"]["points"], 800);
    assert_eq!(all["files"][0]["cloud"]["cell"], 2.0);
    // Quads between the points: the slope, and every tenth point 2 higher, which carries a square of 0.5.
    let (volume, area) = fill(&site, "mesh.ply --unit m");
    assert!((area - 19.5 * 9.5).abs() < 1e-9, "{area}");
    assert!(volume > 1.0 * area, "{volume}");
    let said = site.succeed("inspect mesh.ply --unit m");
    assert!(
        said.contains("PLY mesh") && said.contains("1 482 triangles"),
        "{said}"
    );
    site.write("cut.ply", &text[..text.len() / 2]);
    let refused = site.refuse("volume level=10 cut.ply --unit m");
    assert!(refused.contains("the file is incomplete"), "{refused}");
}
