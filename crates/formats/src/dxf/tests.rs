use dapedon_core::units::{Foot, LengthUnit};
use proptest::prelude::*;

use super::*;
use crate::{CodeUses, RawSurface};

const BINARY: &[u8] = b"AutoCAD Binary DXF\r\n\x1a\0";

/// Pairs as text, from words divided by blanks; `_` in a word stands for a blank.
fn drawing(entities: &str, blocks: &str, unit: i32) -> String {
    let blocks = match blocks {
        "" => String::new(),
        blocks => format!("0 SECTION 2 BLOCKS {blocks} 0 ENDSEC"),
    };
    let all = format!(
        "999 made_up 0 SECTION 2 HEADER 9 $ACADVER 1 AC1015 9 $INSUNITS 70 {unit} 0 ENDSEC \
         {blocks} 0 SECTION 2 ENTITIES {entities} 0 ENDSEC 0 EOF"
    );
    let mut text = String::new();
    for word in all.split_whitespace() {
        text.push_str(&word.replace('_', " "));
        text.push('\n');
    }
    text
}

/// The same pairs in the binary form; `wide` as versions since the thirteenth write them.
fn binary(text: &str, wide: bool) -> Vec<u8> {
    let mut bytes = BINARY.to_vec();
    let lines: Vec<&str> = text.lines().collect();
    for pair in lines.chunks(2) {
        let code: i16 = pair[0].trim().parse().unwrap();
        match (wide, code) {
            (true, _) => bytes.extend(code.to_le_bytes()),
            (false, 0..255) => bytes.push(code as u8),
            (false, _) => {
                bytes.push(255);
                bytes.extend(code.to_le_bytes());
            }
        }
        match code {
            10..=59 | 210..=239 => bytes.extend(pair[1].parse::<f64>().unwrap().to_le_bytes()),
            60..=79 => bytes.extend(pair[1].parse::<i16>().unwrap().to_le_bytes()),
            90..=99 => bytes.extend(pair[1].parse::<i32>().unwrap().to_le_bytes()),
            _ => {
                bytes.extend(pair[1].as_bytes());
                bytes.push(0);
            }
        }
    }
    bytes
}

const EVERYTHING: &str = "
    0 POINT 8 SPOTS 10 1 20 2 30 3
    0 LINE 8 EDGES 10 0 20 0 30 1 11 4 21 0 31 2
    0 LWPOLYLINE 8 CONTOURS 90 3 70 1 38 7.5 10 0 20 0 10 4 20 0 42 1 10 4 20 3
    0 POLYLINE 8 CRESTS 66 1 70 8 0 VERTEX 8 CRESTS 10 0 20 0 30 5 70 32
      0 VERTEX 8 CRESTS 10 9 20 0 30 6 70 32 0 SEQEND
    0 POLYLINE 8 MESH 70 16 71 2 72 3
      0 VERTEX 10 0 20 0 30 1 0 VERTEX 10 0 20 1 30 1 0 VERTEX 10 0 20 2 30 1
      0 VERTEX 10 1 20 0 30 1 0 VERTEX 10 1 20 1 30 1 0 VERTEX 10 1 20 2 30 1 0 SEQEND
    0 POLYLINE 8 MESH 70 64 71 4 72 1
      0 VERTEX 70 192 10 5 20 0 30 2 0 VERTEX 70 192 10 6 20 0 30 2
      0 VERTEX 70 192 10 6 20 1 30 2 0 VERTEX 70 192 10 5 20 1 30 2
      0 VERTEX 70 128 71 1 72 2 73 -3 74 4 0 SEQEND
    0 3DFACE 8 FACES 10 0 20 0 30 1 11 2 21 0 31 1 12 2 22 2 32 1 13 0 23 2 33 1
    0 3DFACE 8 FACES 10 2 20 0 30 1 11 4 21 0 31 1 12 2 22 2 32 1 13 2 23 2 33 1
    0 ARC 8 EDGES 10 0 20 0 30 4 40 10 50 270 51 90
    0 CIRCLE 8 PADS 10 50 20 50 40 5
    0 INSERT 8 TREES 2 sign 10 100 20 200 30 9 41 2 50 90
    0 INSERT 8 TREES 2 missing 10 1 20 2
    0 TEXT 8 NOTES 10 0 20 0 40 2 1 Top_of_bank
    0 TEXT 8 NOTES 10 0 20 0 40 2 1 Toe
    0 POINT 8 SPOTS 67 1 10 1 20 2 30 3";
const SIGN: &str = "0 BLOCK 8 0 2 SIGN 70 0 10 1 20 0 30 0 3 SIGN
    0 POINT 8 0 10 2 20 0 30 0 0 LINE 8 POSTS 10 1 20 0 30 0 11 1 21 1 31 1 0 ENDBLK 8 0";

fn made(bytes: &[u8]) -> Drawing {
    read(bytes).unwrap()
}

#[test]
fn everything_is_read_layer_by_layer() {
    let text = drawing(EVERYTHING, SIGN, 6);
    for bytes in [
        text.clone().into_bytes(),
        binary(&text, false),
        binary(&text, true),
    ] {
        let found = made(&bytes);
        assert_eq!(found.unit, Some(LengthUnit::Metre));
        let layer = |name: &str| &found.layers[name];
        assert_eq!(layer("SPOTS").points, [Vertex::new(1.0, 2.0, 3.0)]);
        let [line, arc] = &layer("EDGES").lines[..] else {
            panic!("two lines")
        };
        assert_eq!(line.places[1], Vertex::new(4.0, 0.0, 2.0));
        // The right half of a circle of 10, from south to north.
        let arc = &arc.places;
        let (first, last) = (arc[0], *arc.last().unwrap());
        assert!((first.north + 10.0).abs() < 1e-9 && (last.north - 10.0).abs() < 1e-9);
        assert!(arc.iter().all(|v| v.east > -1e-9 && v.height == 4.0));
        let contour = &layer("CONTOURS").lines[0].places;
        assert!(contour[0] == *contour.last().unwrap());
        // Half a circle of 1.5 bulges east of the side from (4, 0) to (4, 3).
        let east = contour.iter().map(|v| v.east).fold(0.0, f64::max);
        assert!((east - 5.5).abs() < CHORD);
        assert_eq!(
            layer("CRESTS").lines[0].places[1],
            Vertex::new(9.0, 0.0, 6.0)
        );
        assert_eq!(
            (layer("MESH").vertices.len(), layer("MESH").facets.len()),
            (10, 6)
        );
        // Two faces share two corners: five places, three facets.
        assert_eq!(
            (layer("FACES").vertices.len(), layer("FACES").facets.len()),
            (5, 3)
        );
        assert_eq!(layer("NOTES").kinds["text"], 2);
        let pad = &layer("PADS").lines[0].places;
        assert_eq!(pad.first(), pad.last());
        // One east of the block's base, twice as large, turned to the north.
        let tree = layer("TREES").points[0];
        assert!((tree.east - 100.0).abs() < 1e-9 && (tree.north - 202.0).abs() < 1e-9);
        assert_eq!(tree.height, 9.0);
        assert_eq!(layer("POSTS").lines.len(), 1);
        let left: Vec<_> = found
            .left_out
            .iter()
            .map(|(kind, (count, _))| (kind.as_str(), *count))
            .collect();
        assert_eq!(
            left,
            [
                ("INSERT of a missing block", 1),
                ("POINT in paper space", 1),
            ]
        );
    }
}

#[test]
fn layers_become_surfaces() {
    let text = drawing(EVERYTHING, SIGN, 6);
    let take = |words: &str| {
        let mut take = CodeUses::default();
        take.add(words).unwrap();
        take
    };
    let surface =
        |wanted: Option<&str>, take: &CodeUses| surface(made(text.as_bytes()), wanted, take);
    let all = surfaces(made(text.as_bytes()), &CodeUses::default()).unwrap();
    let names: Vec<_> = all.iter().map(|raw| raw.name.as_str()).collect();
    assert_eq!(names, ["FACES", "MESH"]);
    assert!(
        all[0]
            .left_out
            .keys()
            .any(|kind| kind.starts_with("INSERT of a missing block (first at line"))
    );
    let refused = surface(None, &CodeUses::default()).unwrap_err();
    assert_eq!(
        refused.to_string(),
        "the drawing has faces on 2 layers: FACES, MESH"
    );
    let faces = surface(Some("faces"), &CodeUses::default()).unwrap();
    assert_eq!((faces.vertices.len(), faces.facets.unwrap().len()), (5, 3));
    let taken = surface(None, &take("crests=breakline,spots=points,pads=edge")).unwrap();
    assert_eq!(
        (
            taken.vertices.len(),
            taken.lines.len(),
            taken.outlines.len()
        ),
        (3, 1, 1)
    );
    assert!(
        taken
            .left_out
            .contains_key("shapes on layer EDGES that are not for ground")
    );
    // Names that are for another file change nothing here.
    let other = surface(Some("faces"), &take("crest=breakline")).unwrap();
    assert_eq!(other.facets.unwrap().len(), 3);
    let missing = surface(Some("roof"), &CodeUses::default())
        .unwrap_err()
        .to_string();
    assert!(
        missing.starts_with("no layer \"roof\" has anything on it"),
        "{missing}"
    );
}

#[test]
fn lines_without_heights_stay_out_of_ground() {
    let lines = "0 POINT 8 A 10 1 20 2 30 31 0 LWPOLYLINE 8 LIMIT 90 2 10 0 20 0 10 4 20 0";
    let found = surface(
        made(drawing(lines, "", 6).as_bytes()),
        None,
        &CodeUses::default(),
    )
    .unwrap();
    assert_eq!((found.vertices.len(), found.lines.len()), (1, 0));
    assert_eq!(found.left_out["lines at height 0 on layer LIMIT"], 1);
}

#[test]
fn units_are_kept_or_converted() {
    let lines = "0 POINT 8 A 10 12000 20 24000 30 3000";
    let unit = |number: i32| {
        let found = made(drawing(lines, "", number).as_bytes());
        (found.unit, found.layers["A"].points[0].east)
    };
    assert_eq!(unit(4), (Some(LengthUnit::Metre), 12.0));
    assert_eq!(
        unit(1),
        (Some(LengthUnit::Foot(Foot::International)), 1000.0)
    );
    assert_eq!(unit(21), (Some(LengthUnit::Foot(Foot::UsSurvey)), 12_000.0));
    assert_eq!(unit(0), (None, 12_000.0));
}

#[test]
fn closed_lines_are_zones() {
    let found = zones(&made(drawing(EVERYTHING, SIGN, 6).as_bytes()), None).unwrap();
    let names: Vec<_> = found.zones.iter().map(|zone| zone.name.as_str()).collect();
    assert_eq!((names, found.left_out), (vec!["CONTOURS", "PADS"], 4));
}

/// A symbol at a spot height is one point, whatever it draws; one that holds ground, or lies at height 0, is drawn.
#[test]
fn symbols_at_a_height_are_points() {
    let cross = "0 BLOCK 8 0 2 CROSS 70 0 10 0 20 0 30 0
        0 CIRCLE 8 0 10 0 20 0 30 0 40 0.5 0 LINE 8 0 10 -1 20 0 30 0 11 1 21 0 31 0 0 ENDBLK 8 0
        0 BLOCK 8 0 2 TAG 70 0 10 0 20 0 30 0 0 INSERT 8 0 2 CROSS 10 0 20 0 30 0
        0 TEXT 8 0 10 0 20 0 40 2 1 12.5 0 ENDBLK 8 0
        0 BLOCK 8 0 2 WALL 70 0 10 0 20 0 30 0 0 LINE 8 0 10 0 20 0 30 0 11 1 21 0 31 2 0 ENDBLK 8 0";
    let text = drawing(
        "0 INSERT 8 SPOTS 2 CROSS 10 5 20 6 30 12.5 0 INSERT 8 SPOTS 2 TAG 10 7 20 8 30 12.25 41 3 50 30
         0 INSERT 8 WALLS 2 WALL 10 1 20 2 30 10 0 INSERT 8 PLAN 2 CROSS 10 1 20 2 30 0",
        cross,
        6,
    );
    let found = read(text.as_bytes()).unwrap();
    assert_eq!(found.symbols, 2);
    let spots = &found.layers["SPOTS"];
    assert_eq!(
        spots.points,
        [Vertex::new(5.0, 6.0, 12.5), Vertex::new(7.0, 8.0, 12.25)]
    );
    assert!(spots.lines.is_empty());
    assert_eq!(found.layers["WALLS"].lines.len(), 1);
    assert_eq!(found.layers["PLAN"].lines.len(), 2);
    // What they draw can limit, and is ground where their layer is named as lines.
    let limits = zones(&found, Some("SPOTS")).unwrap();
    assert_eq!((limits.zones.len(), limits.left_out), (2, 2));
    let mut uses = CodeUses::default();
    uses.add("SPOTS=breakline").unwrap();
    let lines = surface(read(text.as_bytes()).unwrap(), None, &uses).unwrap();
    assert_eq!(lines.lines.len(), 4);
    let made = surface(found, Some("SPOTS"), &CodeUses::default()).unwrap();
    assert!(made.lines.is_empty() && made.vertices.len() == 2);
    assert!(
        made.notes
            .iter()
            .any(|note| note.ends_with("one point each: 2")),
        "{:?}",
        made.notes
    );
}

/// Blocks multiply: an array without an end, and a tree that doubles at each step, are refused or read soon.
#[test]
fn blocks_are_bounded() {
    let block = |name: &str, entities: &str| {
        format!("0 BLOCK 8 0 2 {name} 70 0 10 0 20 0 30 0 {entities} 0 ENDBLK 8 0 ")
    };
    let array = "0 INSERT 8 A 2 EMPTY 10 1 20 2 30 3 70 30000 71 30000";
    for (empty, at) in [("", "3"), ("0 POINT 8 0 10 0 20 0 30 0", "0")] {
        let array = array.replace("30 3 ", &format!("30 {at} "));
        let text = drawing(&array, &block("EMPTY", empty), 6);
        assert!(matches!(
            read(text.as_bytes()),
            Err(DxfError::TooMany { .. })
        ));
    }
    let twice = |name: usize| format!("0 INSERT 8 0 2 T{name} 10 0 20 0 30 0 ").repeat(2);
    let mut tree: String = (0..40)
        .map(|i| block(&format!("T{i}"), &twice(i + 1)))
        .collect();
    tree += &block("T40", "");
    let text = drawing("0 INSERT 8 A 2 T30 10 1 20 2 30 5", &tree, 6);
    assert_eq!(read(text.as_bytes()).unwrap().symbols, 1);
    let deep = drawing("0 INSERT 8 A 2 T0 10 1 20 2 30 5", &tree, 6);
    assert!(matches!(
        read(deep.as_bytes()),
        Err(DxfError::TooMany { .. })
    ));
}

#[test]
fn faults_say_what_and_where() {
    let fault = |text: &str| {
        let error = read(text.as_bytes()).unwrap_err();
        assert!(!error.remedy().is_empty());
        (error.to_string(), error.at())
    };
    let text = drawing("0 POINT 8 A 10 1 20 2x 30 3", "", 6);
    let (said, at) = fault(&text);
    assert_eq!(said, "\"2x\" is not a number, in group 20 of POINT");
    let line = text.lines().position(|line| line == "2x").unwrap() as u64 + 1;
    assert_eq!(at, Some(DrawingPosition::Line(line)));
    let whole = drawing(EVERYTHING, SIGN, 6);
    for cut in [whole.len() / 2, whole.len() - 4] {
        let cut: String = whole[..cut].into();
        let cut = cut.rsplit_once('\n').unwrap().0;
        assert!(fault(cut).0.contains("incomplete"), "{cut}");
    }
    let binary = binary(&whole, true);
    let cut = read(&binary[..binary.len() - 30]).unwrap_err();
    assert!(matches!(
        cut,
        DxfError::CutOff {
            at: DrawingPosition::Byte(_)
        }
    ));
    let shifted = whole.replacen("\nPOINT\n", "\nPOINT\n\n", 1);
    assert!(fault(&shifted).0.contains("where a group code is expected"));
    let corners = drawing("0 LWPOLYLINE 8 A 90 3 10 0 20 0 10 1 20 1", "", 6);
    assert_eq!(fault(&corners).0, "LWPOLYLINE has 2 corners and declares 3");
    let face = drawing(
        "0 POLYLINE 8 A 70 64 0 VERTEX 70 192 10 0 20 0 0 VERTEX 70 128 71 1 72 2 73 3 0 SEQEND",
        "",
        6,
    );
    assert_eq!(
        fault(&face).0,
        "a face refers to corner 2 of a mesh with 1 corners"
    );
    assert_eq!(
        fault("0\nSECTION\n2\nHEADER\n0\nENDSEC\n0\nEOF\n").0,
        "the drawing has no ENTITIES section"
    );
    assert!(fault("hello\nthere\n").0.contains("\"hello\" found where"));
}

#[test]
fn blocks_that_insert_themselves_end() {
    let inner = "0 BLOCK 2 A 0 INSERT 8 0 2 B 70 300 71 300 0 ENDBLK 0 BLOCK 2 B 0 INSERT 8 0 2 C 70 300 71 300 0 POINT 8 0 0 ENDBLK
        0 BLOCK 2 C 0 INSERT 8 0 2 A 0 POINT 8 0 10 1 20 1 0 ENDBLK";
    let error = read(drawing("0 INSERT 8 X 2 A", inner, 6).as_bytes()).unwrap_err();
    assert!(matches!(error, DxfError::TooMany { .. }));
}

#[test]
fn what_is_written_reads_back() {
    let at = |e: f64, n: f64, h: f64| Vertex::new(500_000.0 + e, 6_000_000.0 + n, h);
    let vertices = [
        at(0.0, 0.0, 1.25),
        at(4.0, 0.0, 2.5),
        at(4.0, 3.0, 0.0),
        at(0.0, 3.5, -1.0),
    ];
    let facets = [[0, 1, 2], [0, 2, 3]];
    let unit = LengthUnit::Foot(Foot::UsSurvey);
    let mut bytes = Vec::new();
    write(&mut bytes, "top soil", unit, &vertices, &facets, 3).unwrap();
    let back = surface(made(&bytes), None, &CodeUses::default()).unwrap();
    assert_eq!(
        (back.unit, back.vertices.as_slice()),
        (Some(unit), &vertices[..])
    );
    assert_eq!(back.facets.unwrap(), facets);
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(wide in any::<Option<bool>>(), changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20)) {
        let text = drawing(EVERYTHING, SIGN, 6);
        let mut bytes = wide.map_or_else(|| text.clone().into_bytes(), |wide| binary(&text, wide));
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        if let Ok(drawing) = read(bytes.as_slice()) {
            let _ = zones(&drawing, None);
            let _ = surface(drawing, None, &CodeUses::default());
        }
    }
}

fn used(entities: &str, blocks: &str, uses: &str) -> RawSurface {
    let mut take = CodeUses::default();
    take.add(uses).unwrap();
    surface(made(drawing(entities, blocks, 6).as_bytes()), None, &take).unwrap()
}

#[test]
fn splines_and_ellipses_are_chords_near_the_curve() {
    // A quarter of a circle of 10 as a rational spline: two knots at each end, the weight of its corner half the root of two.
    let weight = std::f64::consts::FRAC_1_SQRT_2;
    let quarter = format!(
        "0 SPLINE 8 A 70 4 71 2 72 6 73 3 74 0 40 0 40 0 40 0 40 1 40 1 40 1 41 1 41 {weight} 41 1
         10 10 20 0 30 5 10 10 20 10 30 5 10 0 20 10 30 5"
    );
    // A straight spline of the third degree in two spans, from height 0 to 6.
    let straight = "0 SPLINE 8 B 71 3 72 9 73 5 40 0 40 0 40 0 40 0 40 1 40 2 40 2 40 2 40 2
        10 0 20 0 30 0 10 2 20 0 30 1 10 6 20 0 30 3 10 10 20 0 30 5 10 12 20 0 30 6";
    let fitted = "0 SPLINE 8 C 71 3 72 0 73 0 74 2 11 0 21 0 31 0 11 5 21 5 31 1";
    let ellipse = "0 ELLIPSE 8 D 10 100 20 50 30 2 11 0 21 8 31 0 210 0 220 0 230 1 40 0.5 41 0 42 6.283185307179586";
    let half = "0 ELLIPSE 8 E 10 0 20 0 30 2 11 8 21 0 31 0 40 0.5 41 0 42 3.141592653589793";
    let found = made(
        drawing(
            &[&quarter, straight, fitted, ellipse, half].join("\n"),
            "",
            6,
        )
        .as_bytes(),
    );
    let line = |layer: &str| &found.layers[layer].lines[0].places;
    let area = |line: &[Vertex]| -> f64 {
        let cross = |p: &[Vertex]| p[0].east * p[1].north - p[1].east * p[0].north;
        line.windows(2).map(cross).sum::<f64>() / 2.0
    };
    for v in line("A") {
        assert!((v.east.hypot(v.north) - 10.0).abs() < 1e-12 && (v.height - 5.0).abs() < 1e-12);
    }
    // The sector less what lies between chords no farther than CHORD from an arc of 5 pi: two thirds of that strip.
    let sector = area(line("A"));
    assert!((0.0..CHORD * 16.0).contains(&(25.0 * std::f64::consts::PI - sector)));
    for v in line("B") {
        assert!((v.height - v.east / 2.0).abs() < 1e-12 && v.north == 0.0);
    }
    assert_eq!(line("B").last(), Some(&Vertex::new(12.0, 0.0, 6.0)));
    assert!(!found.layers.contains_key("C"));
    assert_eq!(found.left_out["SPLINE without control points"].0, 1);
    let whole = line("D");
    assert_eq!(whole.first(), whole.last());
    for v in whole {
        let [across, along] = [(v.east - 100.0) / 4.0, (v.north - 50.0) / 8.0];
        assert!((across.hypot(along) - 1.0).abs() < 1e-12 && v.height == 2.0);
    }
    assert!(line("E").iter().all(|v| v.north > -1e-9));
    assert!((area(line("E")) - 16.0 * std::f64::consts::PI).abs() < 0.03);
}

#[test]
fn a_spline_whose_numbers_do_not_fit_is_left_out() {
    for broken in [
        // Knots too few; knots that fall; a weight of zero; a degree of zero.
        "71 2 72 5 73 3 40 0 40 0 40 1 40 1 40 1 10 0 20 0 30 0 10 1 20 0 30 0 10 2 20 0 30 0",
        "71 2 72 6 73 3 40 0 40 0 40 3 40 1 40 1 40 1 10 0 20 0 30 0 10 1 20 0 30 0 10 2 20 0 30 0",
        "71 1 72 4 73 2 40 0 40 0 40 1 40 1 41 1 41 0 10 0 20 0 30 0 10 1 20 0 30 0",
        "71 0 72 2 73 1 40 0 40 1 10 0 20 0 30 0",
    ] {
        let found = made(drawing(&format!("0 SPLINE 8 A {broken}"), "", 6).as_bytes());
        assert_eq!(found.left_out["SPLINE without control points"].0, 1);
    }
}

#[test]
fn a_helix_is_the_spline_that_it_carries() {
    let helix = "0 HELIX 8 A 71 1 72 4 73 2 40 0 40 0 40 1 40 1 10 0 20 0 30 1 10 4 20 0 30 3
        90 29 10 9 20 9 30 9 11 8 21 8 31 8 12 0 22 0 32 1 40 5 41 3 42 2";
    let found = made(drawing(helix, "", 6).as_bytes());
    let line = &found.layers["A"].lines[0].places;
    assert_eq!(line.last(), Some(&Vertex::new(4.0, 0.0, 3.0)));
    assert!(line.iter().all(|v| v.north == 0.0));
}

#[test]
fn meshes_have_faces_of_any_number_of_corners() {
    let corners = "10 0 20 0 30 1 10 4 20 0 30 1 10 4 20 4 30 1 10 0 20 4 30 1 10 2 20 6 30 2";
    let mesh = |level: i32, faces: &str| {
        format!(
            "0 MESH 8 A 71 2 72 0 91 {level} 92 5 {corners} {faces} 94 1 90 0 90 1 95 1 140 0 90 0"
        )
    };
    let sound = mesh(0, "93 9 90 4 90 0 90 1 90 2 90 3 90 3 90 3 90 2 90 4");
    let found = made(drawing(&sound, "", 6).as_bytes());
    let layer = &found.layers["A"];
    assert_eq!((layer.vertices.len(), layer.facets.len()), (5, 3));
    assert_eq!(layer.facets[2], [3, 2, 4]);
    let smooth = mesh(2, "93 4 90 3 90 0 90 1 90 2");
    let found = made(drawing(&smooth, "", 6).as_bytes());
    assert_eq!(found.left_out["MESH drawn smooth"].0, 1);
    for broken in [
        "93 4 90 3 90 0 90 1 90 5",
        "93 4 90 3 90 0 90 1 90 -1",
        "93 4 90 4 90 0 90 1 90 2",
        "93 9 90 3 90 0",
    ] {
        let text = drawing(&mesh(0, broken), "", 6);
        let error = read(text.as_bytes()).unwrap_err();
        assert!(
            matches!(
                error,
                DxfError::UnknownCorner { .. } | DxfError::Count { .. }
            ),
            "{broken}"
        );
    }
}

#[test]
fn filled_areas_are_ground_where_their_layer_is_named_as_triangles() {
    // Corners in the order of a bow tie, and a triangle beside them that shares two of them.
    let filled = "0 SOLID 8 A 10 0 20 0 30 3 11 4 21 0 31 3 12 0 22 4 32 3 13 4 23 4 33 3
        0 TRACE 8 A 10 4 20 0 30 3 11 8 21 0 31 3 12 4 22 4 32 3 13 4 23 4 33 3 0 POINT 8 A 10 1 20 1 30 9";
    let found = used(filled, "", "A=triangles");
    assert_eq!(
        (found.vertices.len(), found.facets.map(|f| f.len())),
        (5, Some(3))
    );
    let plain = surface(
        made(drawing(filled, "", 6).as_bytes()),
        None,
        &CodeUses::default(),
    )
    .unwrap();
    assert_eq!(
        (plain.vertices.len(), plain.left_out["filled areas"]),
        (1, 2)
    );
}

#[test]
fn heights_written_as_text_belong_to_the_points_beside_them() {
    let spots = "0 POINT 8 P 10 0 20 0 0 POINT 8 P 10 10 20 0 0 POINT 8 P 10 0 20 10
        0 TEXT 8 T 10 0.5 20 0.5 40 1 1 12.50 0 TEXT 8 T 10 9 20 0 40 1 72 1 11 10.5 21 0.5 1 12,75
        0 MTEXT 8 T 10 0.5 20 10.5 40 1 3 {\\fPlain; 1 13.00} 0 TEXT 8 T 10 50 20 50 40 1 1 KERB";
    let found = used(spots, "", "T=heights");
    let expected = [(0.0, 0.0, 12.5), (10.0, 0.0, 12.75), (0.0, 10.0, 13.0)];
    assert_eq!(
        found.vertices,
        expected.map(|(e, n, h)| Vertex::new(e, n, h))
    );
    assert_eq!(found.notes, ["layer T: 3 points from written heights"]);
    let flat = surface(
        made(drawing(spots, "", 6).as_bytes()),
        None,
        &CodeUses::default(),
    )
    .unwrap();
    assert!(flat.vertices.iter().all(|v| v.height == 0.0));
    assert_eq!(flat.written_heights, ["T"]);
    assert_eq!(flat.left_out["texts"], 4);
}

#[test]
fn heights_written_as_attributes_belong_to_their_block() {
    let block = "0 BLOCK 2 SPOT 10 0 20 0 30 0 0 CIRCLE 8 0 10 0 20 0 40 0.2 0 ATTDEF 8 0 10 0 20 0 2 RL 1 0 0 ENDBLK";
    let spot = |east: i32, attributes: &str| {
        format!("0 INSERT 8 S 66 1 2 SPOT 10 {east} 20 0 30 0 {attributes} 0 SEQEND 8 S")
    };
    let entities = [
        spot(
            0,
            "0 ATTRIB 8 S 10 1 20 1 40 1 1 101 2 NO 0 ATTRIB 8 S 10 1 20 2 40 1 1 12.5 2 RL",
        ),
        spot(
            5,
            "0 ATTRIB 8 S 10 6 20 1 40 1 1 102 2 NO 0 ATTRIB 8 S 10 6 20 2 40 1 1 12.75 2 RL",
        ),
        spot(9, "0 ATTRIB 8 S 10 9 20 1 40 1 1 103 2 NO"),
    ];
    let found = used(&entities.join("\n"), block, "S=heights");
    assert_eq!(
        found.vertices,
        [Vertex::new(0.0, 0.0, 12.5), Vertex::new(5.0, 0.0, 12.75)]
    );
}

#[test]
fn a_drawing_with_nothing_to_use_says_what_it_has() {
    let text = drawing(
        "0 TEXT 8 T 10 0 20 0 40 1 1 KERB 0 HATCH 8 H 0 HATCH 8 H",
        "",
        4,
    );
    let error = surface(made(text.as_bytes()), None, &CodeUses::default()).unwrap_err();
    let words =
        "the drawing has nothing to make a surface from: it has HATCH 2, text 1; unit: millimetres";
    assert_eq!(error.to_string(), words);
    let layer = drawing("0 POINT 8 B\\U+00F6schung 10 1 20 2 30 3", "", 6);
    assert!(made(layer.as_bytes()).layers.contains_key("Böschung"));
}
