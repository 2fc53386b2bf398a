//! Terrain grids from the command line, and one ground in every format that can carry it.

use crate::site::Site;
use crate::site::number;

const GRID: &str = "ncols 6\nnrows 5\nxllcorner 500000\nyllcorner 6000000\ncellsize 4\nNODATA_value -9999\n\
    12 12.5 13 13.5 14 14.25\n11.5 12 -9999 -9999 13.5 14\n11 11.5 -9999 -9999 13 13.5\n\
    10.5 11 11.5 12 12.5 12.75\n10 10.5 11 11.5 12 12.5\n";

fn figures(site: &Site, surface: &str) -> [f64; 3] {
    let json = site.json(&format!("volume level=11.7 {surface} --unit m --json"));
    let zone = &json["zones"][0];
    [("volume", "cut"), ("volume", "fill"), ("area", "compared")]
        .map(|(kind, of)| number(&zone[kind][of]))
}

#[test]
fn one_ground_gives_the_same_figures_from_every_format() {
    let site = Site::new();
    site.write("grid.asc", GRID);
    let endings = ["tif", "asc", "xml", "dxf", "obj", "geojson"];
    let outs: Vec<String> = endings.iter().map(|e| format!("--out same.{e}")).collect();
    site.succeed(&format!("surface grid.asc --unit m {}", outs.join(" ")));
    let expected = figures(&site, "grid.asc");
    for ending in endings {
        let found = figures(&site, &format!("same.{ending}"));
        for (found, expected) in found.iter().zip(expected) {
            // Nothing but the order of summing differs.
            assert!(
                (found - expected).abs() < 1e-9,
                "{ending} {found} {expected}"
            );
        }
    }
    // Grid against grid is nothing, and so is grid against its own facets.
    for other in ["same.tif", "same.obj"] {
        let json = site.json(&format!("volume grid.asc {other} --unit m --json"));
        assert_eq!(number(&json["zones"][0]["volume"]["fill"]), 0.0);
        assert_eq!(number(&json["zones"][0]["area"]["unchanged"]), expected[2]);
    }
    // Its own cells are the default, and other ones are read off its facets.
    site.succeed("surface grid.asc --unit m --cell 2 --out fine.asc");
    assert!(
        site.read("fine.asc").starts_with("ncols 10\nnrows 8"),
        "{}",
        site.read("fine.asc")
    );
    let refused = site.refuse("surface ground.xml --out ground.tif");
    assert!(
        refused.contains("a grid needs a cell size") && refused.contains("--cell"),
        "{refused}"
    );
}

#[test]
fn what_a_grid_lacks_is_said() {
    let site = Site::new();
    site.write("grid.asc", GRID);
    insta::assert_snapshot!(site.succeed("inspect grid.asc --unit m"));
    // No height anywhere in the zone.
    site.zone(
        "hole.geojson",
        &[("hole", &[(9, 9), (13, 9), (13, 11), (9, 11), (9, 9)])],
    );
    let refused = site.refuse("volume level=10 grid.asc --unit m --zone hole.geojson");
    assert!(
        refused.contains("only one of the surfaces has ground within the zones"),
        "{refused}"
    );
}

/// A run that is interrupted while it writes leaves nothing beside its place.
#[cfg(unix)]
#[test]
fn interrupted_work_leaves_nothing() {
    use std::process::{Command, Stdio};
    let site = Site::new();
    let side = 700;
    let row = "10.123 11.456 ".repeat(side / 2);
    let rows = format!("{row}\n").repeat(side);
    site.write(
        "large.asc",
        &format!("ncols {side}\nnrows {side}\nxllcorner 0\nyllcorner 0\ncellsize 1\n{rows}"),
    );
    let before = site.files();
    let mut child = Command::new(env!("CARGO_BIN_EXE_dapedon"))
        .current_dir(site.path())
        .args(["surface", "large.asc", "--unit", "m", "--out", "large.dxf"])
        .stdout(Stdio::null())
        .spawn()
        .unwrap();
    // As soon as it writes beside its place it is interrupted; a run that is done before has its file.
    while child.try_wait().unwrap().is_none() {
        if site
            .files()
            .iter()
            .any(|name| name.starts_with(".dapedon-"))
        {
            let id = child.id().to_string();
            Command::new("kill").args(["-INT", &id]).status().unwrap();
            break;
        }
    }
    let code = child.wait().unwrap().code();
    let mut left = site.files();
    if code == Some(0) {
        left.retain(|name| name != "large.dxf");
    } else {
        assert_eq!(code, Some(130));
    }
    assert_eq!(left, before);
}
