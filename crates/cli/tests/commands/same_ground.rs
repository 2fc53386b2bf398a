//! One ground, in every format that can carry it and in every unit: one volume.

use std::fs;

use dapedon_core::units::{Foot, LengthUnit};
use dapedon_formats::las::{self, Shot};

use crate::site::{Site, number};

/// Units as they are typed, their metres, and what a drawing, a LandXML file and a text of systems call them.
const UNITS: [Unit; 3] = [
    Unit {
        code: "m",
        length: LengthUnit::Metre,
        metres: 1.0,
        drawing: 6,
        landxml: "<Metric linearUnit=\"meter\"/>",
        text: "UNIT[\"metre\",1]",
    },
    Unit {
        code: "ft",
        length: LengthUnit::Foot(Foot::International),
        metres: 0.3048,
        drawing: 2,
        landxml: "<Imperial linearUnit=\"foot\"/>",
        text: "UNIT[\"foot\",0.3048]",
    },
    Unit {
        code: "us-ft",
        length: LengthUnit::Foot(Foot::UsSurvey),
        metres: 1200.0 / 3937.0,
        drawing: 21,
        landxml: "<Imperial linearUnit=\"USSurveyFoot\"/>",
        text: "UNIT[\"Foot_US\",0.3048006096012192]",
    },
];
/// Columns and rows of points, one unit apart. Coordinates are small, so that no digit of a height is lost beside them.
const SIZE: [u32; 2] = [21, 11];
/// Above level 9, in cubes of the unit: 20 by 10, by 2 in the middle.
const FILL: f64 = 400.0;

struct Unit {
    code: &'static str,
    length: LengthUnit,
    metres: f64,
    drawing: u8,
    landxml: &'static str,
    text: &'static str,
}

/// Points at whole coordinates: 9.5 high in the west and 12.5 in the east, steeper along the way than north of it.
fn points() -> Vec<[f64; 3]> {
    let [columns, rows] = SIZE;
    let all = 0..columns * rows;
    all.map(|i| {
        let (east, north) = (f64::from(i % columns), f64::from(i / columns));
        [
            1000.0 + east,
            2000.0 + north,
            9.5 + east * 0.125 + north * 0.05,
        ]
    })
    .collect()
}

/// The corners of every square between the points, counter-clockwise.
fn squares() -> Vec<[u32; 4]> {
    let [columns, rows] = SIZE;
    let corner = |row: u32| (0..columns - 1).map(move |column| row * columns + column);
    (0..rows - 1)
        .flat_map(corner)
        .map(|at| [at, at + 1, at + columns + 1, at + columns])
        .collect()
}

/// Its facets: each square cut from corner to corner.
fn facets() -> Vec<[u32; 3]> {
    let halves = |[a, b, c, d]: [u32; 4]| [[a, b, c], [a, c, d]];
    squares().into_iter().flat_map(halves).collect()
}

fn lines(items: impl Iterator<Item = String>) -> String {
    items.collect::<Vec<_>>().join("\n") + "\n"
}

/// Writes the ground in a unit to every format by hand, but clouds, which are written to their thousandth. Names of files,
/// with what has to be said to read each.
fn write_all(site: &Site, unit: &Unit) -> Vec<String> {
    let points = points();
    let code = unit.code;
    let corner = |at: u32| points[at as usize];
    let [columns, rows] = SIZE;
    let own = format!(" --unit {code}");
    site.write(
        "g.csv",
        &(String::from("point,east,north,height,code\n")
            + &lines(
                (points.iter().enumerate())
                    .map(|(i, [e, n, h])| format!("{},{e},{n},{h},GR", i + 1)),
            )),
    );
    site.write(
        "g.xyz",
        &lines(points.iter().map(|[e, n, h]| format!("{e} {n} {h}"))),
    );
    let face = |[a, b, c]: [u32; 3]| format!("<F>{} {} {}</F>", a + 1, b + 1, c + 1);
    let pnt = |(i, [e, n, h]): (usize, &[f64; 3])| format!("<P id=\"{}\">{n} {e} {h}</P>", i + 1);
    site.write(
        "g.xml",
        &format!(
            "<LandXML><Units>{}</Units><Surfaces><Surface name=\"g\"><Definition surfType=\"TIN\"><Pnts>{}</Pnts><Faces>{}</Faces></Definition></Surface></Surfaces></LandXML>",
            unit.landxml,
            lines(points.iter().enumerate().map(pnt)),
            lines(facets().into_iter().map(face)),
        ),
    );
    let drawn = |[a, b, c]: [u32; 3]| {
        let corners = [a, b, c, c].into_iter().enumerate();
        let group = |(i, at): (usize, u32)| {
            let [e, n, h] = corner(at);
            format!("1{i}\n{e}\n2{i}\n{n}\n3{i}\n{h}")
        };
        format!(
            "0\n3DFACE\n8\nground\n{}",
            lines(corners.map(group)).trim_end()
        )
    };
    site.write(
        "g.dxf",
        &format!(
            "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n{}\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{}0\nENDSEC\n0\nEOF\n",
            unit.drawing,
            lines(facets().into_iter().map(drawn)),
        ),
    );
    let vertices = lines(points.iter().map(|[e, n, h]| format!("v {e} {n} {h}")));
    let faces = squares()
        .into_iter()
        .map(|[a, b, c, d]| format!("f {} {} {} {}", a + 1, b + 1, c + 1, d + 1));
    site.write("g.obj", &format!("{vertices}{}", lines(faces)));
    let bare = lines(points.iter().map(|[e, n, h]| format!("{e} {n} {h}")));
    let header = |faces: &str| {
        format!(
            "ply\nformat ascii 1.0\nelement vertex {}\nproperty double x\nproperty double y\nproperty double z\n{faces}end_header\n",
            points.len()
        )
    };
    let three = facets()
        .into_iter()
        .map(|[a, b, c]| format!("3 {a} {b} {c}"));
    let listed = format!(
        "element face {}\nproperty list uchar int vertex_indices\n",
        facets().len()
    );
    site.write(
        "mesh.ply",
        &format!("{}{bare}{}", header(&listed), lines(three)),
    );
    site.write("cloud.ply", &format!("{}{bare}", header("")));
    let feature = |[a, b, c]: [u32; 3]| {
        let ring = [a, b, c, a].map(|at| format!("{:?}", corner(at)));
        format!(
            "{{\"type\":\"Feature\",\"properties\":null,\"geometry\":{{\"type\":\"Polygon\",\"coordinates\":[[{}]]}}}}",
            ring.join(",")
        )
    };
    let features: Vec<String> = facets().into_iter().map(feature).collect();
    site.write(
        "g.geojson",
        &format!(
            "{{\"type\":\"FeatureCollection\",\"features\":[{}]}}",
            features.join(",")
        ),
    );
    let from_north = (0..rows).rev().map(|row| {
        let row = (0..columns).map(|column| corner(row * columns + column)[2].to_string());
        row.collect::<Vec<_>>().join(" ")
    });
    site.write(
        "g.asc",
        &format!(
            "ncols {columns}\nnrows {rows}\nxllcenter 1000\nyllcenter 2000\ncellsize 1\n{}",
            lines(from_north)
        ),
    );
    site.write("g.prj", &format!("LOCAL_CS[\"site\",{}]", unit.text));
    shapefile(site, &points);
    let shots: Vec<Shot> = points
        .iter()
        .map(|&[east, north, height]| Shot {
            east,
            north,
            height,
            class: 2,
            number: 1,
            returns: 1,
            withheld: false,
        })
        .collect();
    for (name, packed) in [("g.las", false), ("g.laz", true)] {
        let mut bytes = Vec::new();
        las::write(&mut bytes, packed, unit.length, None, &shots).unwrap();
        fs::write(site.path().join(name), bytes).unwrap();
    }
    let every = " --thin none";
    let stated = ["g.xml", "g.dxf", "g.asc", "g.shp"].map(String::from);
    let unsaid = ["g.csv", "g.obj", "mesh.ply", "g.geojson"].map(|name| format!("{name}{own}"));
    let clouds = ["g.las", "g.laz"].map(|name| format!("{name}{every}"));
    let bare = ["g.xyz", "cloud.ply"].map(|name| {
        let thinned = match name {
            "g.xyz" => " --columns east,north,height",
            _ => every,
        };
        format!("{name}{own}{thinned}")
    });
    stated
        .into_iter()
        .chain(unsaid)
        .chain(clouds)
        .chain(bare)
        .collect()
}

/// The points as a shapefile of points with heights, byte by byte as its description has it, without a table.
fn shapefile(site: &Site, points: &[[f64; 3]]) {
    let content = 4 + 4 * 8;
    let length = 100 + points.len() * (8 + content);
    let mut bytes = Vec::new();
    bytes.extend(9994u32.to_be_bytes());
    bytes.extend([0; 20]);
    bytes.extend(u32::try_from(length / 2).unwrap().to_be_bytes());
    bytes.extend([1000u32, 11].into_iter().flat_map(u32::to_le_bytes));
    let bounds = [1000.0, 2000.0, 1020.0, 2010.0, 9.5, 12.5, 0.0, 0.0f64];
    bytes.extend(bounds.into_iter().flat_map(f64::to_le_bytes));
    for (number, [east, north, height]) in (1u32..).zip(points) {
        let size = u32::try_from(content / 2).unwrap();
        bytes.extend([number, size].into_iter().flat_map(u32::to_be_bytes));
        bytes.extend(11u32.to_le_bytes());
        let measures = [*east, *north, *height, 0.0];
        bytes.extend(measures.into_iter().flat_map(f64::to_le_bytes));
    }
    fs::write(site.path().join("g.shp"), bytes).unwrap();
}

/// Fill above level 9 of the unit, and the compared area, in metres.
fn figures(site: &Site, surface: &str, unit: &Unit) -> [f64; 2] {
    let found = site.json(&format!("volume level=9 {surface} --volume-unit m3 --json"));
    let zone = &found["zones"][0];
    let area = number(&zone["area"]["compared"]);
    assert_eq!(number(&zone["volume"]["cut"]), 0.0, "{surface}");
    [number(&zone["volume"]["fill"]), area * unit.metres.powi(2)]
}

#[test]
fn one_ground_has_one_volume_from_every_format_in_every_unit() {
    for unit in &UNITS {
        let site = Site::new();
        let mut surfaces = write_all(&site, unit);
        // What the program writes itself, read back.
        let outs = ["tif", "xml", "dxf", "obj", "geojson", "csv", "asc"];
        for (from, endings) in [("g.asc", ["tif", "asc"].as_slice()), ("g.xml", &outs[1..6])] {
            let outs = endings.iter().map(|ending| format!("--out out.{ending}"));
            let outs = outs.collect::<Vec<_>>().join(" ");
            site.succeed(&format!("surface {from} --decimals 12 {outs}"));
        }
        surfaces.extend(outs.map(|ending| match ending {
            "tif" | "xml" | "dxf" => format!("out.{ending}"),
            _ => format!("out.{ending} --unit {}", unit.code),
        }));
        let volume = FILL * unit.metres.powi(3);
        for surface in &surfaces {
            let [fill, area] = figures(&site, surface, unit);
            // Heights carry some 2e-15 of the unit, and sums of 200 squares no more than 1e-12 of the volume.
            assert!(
                (fill / volume - 1.0).abs() < 1e-9,
                "{surface}, {}: {fill}, not {volume}",
                unit.code
            );
            let own = 200.0 * unit.metres.powi(2);
            assert!((area / own - 1.0).abs() < 1e-9, "{surface}: {area}");
        }
    }
}
