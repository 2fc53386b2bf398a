use dapedon_core::alignment::{Element, Growth};
use dapedon_core::plan::Place;
use dapedon_core::points::LineKind;
use dapedon_core::surface::Vertex;
use dapedon_core::units::{Foot, LengthUnit};

use super::*;
use proptest::prelude::*;

/// Two surfaces under a prefix, one face invisible, one point number out of line.
const TWO: &str = r#"<?xml version="1.0"?>
<l:LandXML xmlns:l="http://www.landxml.org/schema/LandXML-1.0" date="2031-04-05">
 <l:Units><l:Imperial linearUnit="USSurveyFoot"/></l:Units>
 <l:Surfaces>
  <l:Surface name="ground &amp; bank"><l:SourceData><l:DataPoints/></l:SourceData>
   <l:Definition surfType="TIN"><l:Pnts>
    <l:P id="4">100.5 20.25 7</l:P><l:P id="5">100.5 30.25 8
    </l:P><l:P id="2">110.5<!-- north --> 20.25 9e0</l:P><l:P id="6">110.5 30.25 1.0</l:P></l:Pnts>
   <l:Faces><l:F n="1 0 0">4 5 2</l:F><l:F i="1">5 6 2</l:F></l:Faces></l:Definition></l:Surface>
  <l:Surface name="lid"><l:Definition surfType="TIN"><l:Pnts><l:P id="1">0 0 0</l:P><l:P id="2">0 1 0</l:P>
   <l:P id="3">1 0 0</l:P></l:Pnts><l:Faces><l:F>1 2 3</l:F></l:Faces></l:Definition></l:Surface>
 </l:Surfaces>
</l:LandXML>"#;

fn surface(faces: &str) -> String {
    format!(
        "<LandXML><Units><Metric linearUnit=\"meter\"/></Units><Surfaces><Surface name=\"s\"><Definition>\n\
         <Pnts><P id=\"1\">0 0 0</P><P id=\"2\">0 1 0</P><P id=\"3\">1 0 0</P></Pnts>\n{faces}\n\
         </Definition></Surface></Surfaces></LandXML>"
    )
}

#[test]
fn a_named_surface_is_read_as_it_stands() {
    let ground = read(TWO.as_bytes(), Some("ground & bank"), &CodeUses::default()).unwrap();
    assert_eq!(ground.unit, Some(LengthUnit::Foot(Foot::UsSurvey)));
    assert_eq!(ground.date.as_deref(), Some("2031-04-05"));
    assert_eq!(ground.vertices[1], Vertex::new(30.25, 100.5, 8.0));
    assert_eq!(ground.vertices[2], Vertex::new(20.25, 110.5, 9.0));
    assert_eq!(
        (ground.facets.unwrap(), ground.invisible),
        (vec![[0, 1, 2]], 1)
    );
    assert_eq!(
        read(TWO.as_bytes(), Some("lid"), &CodeUses::default())
            .unwrap()
            .vertices
            .len(),
        3
    );
}

/// Points of a surface may be survey points, before it or after it; and a surface may have units of its own.
#[test]
fn points_may_be_survey_points_and_units_may_be_nested() {
    let surface = |name: &str, units: &str, last: &str| {
        format!(
            "<Surface name=\"{name}\">{units}<Definition><Pnts><P id=\"1\">0 0 0</P><P id=\"2\" pntRef=\"a &amp; b\"/>{last}</Pnts>\
             <Faces><F>1 2 3</F></Faces></Definition></Surface>"
        )
    };
    let last = "<P id=\"3\" pntRef=\"late\"></P>";
    let file = |last: &str| {
        let own = "<Units><Imperial linearUnit=\"foot\" elevationUnit=\"feet\"/></Units>";
        format!(
            "<LandXML><Units><Metric linearUnit=\"meter\"/></Units><CgPoints><CgPoint name=\"a &amp; b\" code=\"K\">0 4 7</CgPoint></CgPoints>\
             <Surfaces>{}{}{}</Surfaces><CgPoints><CgPoint name=\"late\">3 0 8</CgPoint><CgPoint name=\"flat\">3 0</CgPoint></CgPoints></LandXML>",
            surface("first", own, last),
            surface("second", "", "<P id=\"3\">3 0 9</P>"),
            TWO_POINTS
        )
    };
    let mut found = Vec::new();
    let text = file(last);
    each(
        text.as_bytes(),
        &CodeUses::default(),
        |_, _| true,
        |contents| found.push(contents.raw),
    )
    .unwrap();
    let names: Vec<&str> = found.iter().map(|raw| raw.name.as_str()).collect();
    assert_eq!(names, ["first", "second", "third", POINTS]);
    assert_eq!(
        found[0].vertices[1..],
        [Vertex::new(4.0, 0.0, 7.0), Vertex::new(0.0, 3.0, 8.0)]
    );
    let foot = LengthUnit::Foot(Foot::International);
    let units = [
        foot,
        LengthUnit::Metre,
        LengthUnit::Metre,
        LengthUnit::Metre,
    ]
    .map(Some);
    assert_eq!(found.iter().map(|raw| raw.unit).collect::<Vec<_>>(), units);
    assert_eq!(
        (found[0].height_unit.is_some(), found[1].height_unit),
        (true, None)
    );
    let named = read(text.as_bytes(), Some("first"), &CodeUses::default()).unwrap();
    assert_eq!(named.vertices, found[0].vertices);
    for missing in ["flat", "nowhere"] {
        let text = file(&last.replace("late", missing));
        let fault = read(text.as_bytes(), Some("first"), &CodeUses::default()).unwrap_err();
        assert!(fault.to_string().contains(missing), "{fault}");
        assert_eq!(
            fault.offset(),
            text.find(&format!("<P id=\"3\" pntRef=\"{missing}\""))
                .map(|at| at as u64)
        );
    }
}

/// A surface without facets, of points alone.
const TWO_POINTS: &str = "<Surface name=\"third\"><Definition><Pnts><P id=\"1\">0 0 0</P><P id=\"2\">0 1 0</P></Pnts></Definition></Surface>";

#[test]
fn source_data_stand_in_for_faces() {
    let text = r#"<LandXML><Units><Metric linearUnit="meter"/></Units><CoordinateSystem name="site grid" epsgCode="25832"/>
        <Surfaces><Surface name="ground"><SourceData>
        <DataPoints><PntList3D>100 10 1 100 20 2
          110 10 3</PntList3D></DataPoints>
        <Breaklines><Breakline brkType="standard"><PntList3D>101 11 5 102 12 6</PntList3D></Breakline></Breaklines>
        <Contours><Contour elev="7.5"><PntList2D>103 13 104 14</PntList2D></Contour></Contours>
        <Boundaries><Boundary bndType="outer"><PntList3D>0 0 1 0 9 1 9 9 1</PntList3D></Boundary>
        <Boundary bndType="void"><PntList2D>1 1 1 2 2 2</PntList2D></Boundary></Boundaries>
        <DataPoints><PntList2D>1 2</PntList2D></DataPoints><PointFiles><PointFile fileName="a.txt"/></PointFiles>
        </SourceData></Surface></Surfaces></LandXML>"#;
    let ground = read(text.as_bytes(), None, &CodeUses::default()).unwrap();
    assert_eq!(ground.crs.as_deref(), Some("EPSG:25832"));
    assert!(ground.facets.is_none());
    assert_eq!(ground.vertices.len(), 3 + 2 + 2 + 3);
    assert_eq!(ground.vertices[1], Vertex::new(20.0, 100.0, 2.0));
    assert_eq!(ground.vertices[6], Vertex::new(14.0, 104.0, 7.5));
    let lines: Vec<_> = ground
        .lines
        .iter()
        .map(|line| (line.kind, line.points.len()))
        .collect();
    let expected = [
        (LineKind::Breakline, 2),
        (LineKind::Breakline, 2),
        (LineKind::Edge, 3),
    ];
    assert_eq!(lines, expected);
    assert_eq!(ground.outlines[0].kind, LineKind::Hole);
    assert_eq!(ground.outlines[0].ring.last(), Some(&Place::new(1.0, 1.0)));
    assert_eq!(ground.left_out.values().sum::<usize>(), 2);
    let odd = text.replace("\"void\"", "\"lake\"");
    let error = read(odd.as_bytes(), None, &CodeUses::default()).unwrap_err();
    assert!(error.to_string().starts_with("the boundary type \"lake\""));
    let odd = text.replace("1 1 1 2 2 2", "1 1 1 2 2");
    let error = read(odd.as_bytes(), None, &CodeUses::default()).unwrap_err();
    assert_eq!(error.to_string(), "<PntList2D> has 5 numbers, expected 6");
}

#[test]
fn faces_of_a_grid_have_four_corners() {
    let text = surface("<P id=\"4\">1 1 9</P><Faces><F>1 2 4 3</F></Faces>");
    let refused = read(text.as_bytes(), None, &CodeUses::default()).unwrap_err();
    assert_eq!(refused.to_string(), "<F> has 4 numbers, expected 3");
    let grid = text.replace("<Definition>", "<Definition surfType=\"grid\">");
    let read = read(grid.as_bytes(), None, &CodeUses::default()).unwrap();
    assert_eq!(read.facets.unwrap(), [[0, 1, 3], [0, 3, 2]]);
}

#[test]
fn survey_points_with_codes_make_a_surface() {
    let text = r#"<LandXML><Units><Metric linearUnit="meter"/></Units><CgPoints>
        <CgPoint name="1" code="crest1">100.5 20.25 7</CgPoint><CgPoint name="2" code="crest1">101 21 8</CgPoint>
        <CgPoint name="3" code="tree">102 22 9</CgPoint><CgPoint name="4">103 23</CgPoint><CgPoint pntRef="1"/>
        </CgPoints></LandXML>"#;
    let mut take = CodeUses::default();
    take.add("crest=breakline,tree=skip").unwrap();
    let points = read(text.as_bytes(), None, &take).unwrap();
    assert_eq!(
        points.vertices,
        [
            Vertex::new(20.25, 100.5, 7.0),
            Vertex::new(21.0, 101.0, 8.0)
        ]
    );
    assert_eq!(points.lines[0].points, [0, 1]);
    assert_eq!(points.left_out.values().sum::<usize>(), 2);
    // Beside a surface they want to be asked for.
    let both = TWO.replace(
        " <l:Surfaces>",
        "<l:CgPoints><l:CgPoint>1 2 3</l:CgPoint></l:CgPoints> <l:Surfaces>",
    );
    let asked = read(both.as_bytes(), Some(POINTS), &take).unwrap();
    assert_eq!(asked.vertices, [Vertex::new(2.0, 1.0, 3.0)]);
}

#[test]
fn several_surfaces_want_a_name() {
    let several = read(TWO.as_bytes(), None, &CodeUses::default()).unwrap_err();
    assert_eq!(
        several.to_string(),
        "the file has 2 surfaces: \"ground & bank\", \"lid\""
    );
    let unknown = read(TWO.as_bytes(), Some("roof"), &CodeUses::default()).unwrap_err();
    assert!(matches!(unknown, LandXmlError::NoSuchSurface { names, .. } if names.len() == 2));
}

#[test]
fn what_is_written_reads_back() {
    let vertices = [
        (500_000.123, 6e6, 1.5),
        (500_001.0, 6e6, -2.25),
        (500_000.5, 6_000_002.75, 0.125),
    ];
    let vertices = vertices.map(|(e, n, h)| Vertex::new(e, n, h));
    for unit in LengthUnit::ALL {
        let mut bytes = Vec::new();
        write(
            &mut bytes,
            &Head {
                name: "a \"b\" <c>",
                unit,
                crs: Some("EPSG:25832"),
                height_system: Some("made-up heights & depths"),
                date: "2031-01-02",
            },
            &vertices,
            &[[0, 1, 2]],
            3,
        )
        .unwrap();
        let back = read(bytes.as_slice(), Some("a \"b\" <c>"), &CodeUses::default()).unwrap();
        assert_eq!(
            (back.unit, back.facets.unwrap()),
            (Some(unit), vec![[0, 1, 2]])
        );
        assert_eq!(
            (back.crs.as_deref(), back.vertices.as_slice()),
            (Some("EPSG:25832"), &vertices[..])
        );
        assert_eq!(
            back.height_system.as_deref(),
            Some("made-up heights & depths")
        );
    }
}

#[test]
fn faults_are_found_where_they_are() {
    let fault = |text: &str| {
        let error = read(text.as_bytes(), None, &CodeUses::default()).unwrap_err();
        let at = error
            .offset()
            .map(|offset| crate::locate(text.as_bytes(), offset).unwrap());
        assert!(!error.remedy().is_empty());
        (error.to_string(), at.map(|at| (at.line, at.column)))
    };
    let face = |faces: &str| fault(&surface(&format!("<Faces>{faces}</Faces>")));
    assert_eq!(
        face("<F>1 2 9</F>"),
        (
            "a face refers to point 9, which is not in the surface".into(),
            Some((3, 8))
        )
    );
    assert_eq!(
        face("<F>1 2</F>"),
        ("<F> has 2 numbers, expected 3".into(), Some((3, 8)))
    );
    assert_eq!(
        face("<F>1 2 x3</F>"),
        ("\"x3\" is not a number".into(), Some((3, 15)))
    );
    assert_eq!(
        face("<F/>"),
        ("<F> has 0 numbers, expected 3".into(), Some((3, 8)))
    );
    let point = |p: &str| fault(&surface("").replace("<P id=\"3\">1 0 0</P>", p));
    assert_eq!(
        point("<P id=\"3\">1 NaN 0</P>"),
        ("\"NaN\" is not a number".into(), Some((2, 57)))
    );
    assert_eq!(
        point("<P id=\"3\">1 0 1e999</P>").0,
        "\"1e999\" is not a number"
    );
    assert_eq!(
        point("<P id=\"2\">1 0 0</P>").0,
        "point number 2 is given twice"
    );
    assert_eq!(point("<P>1 0 0</P>").0, "a point has no id");
    let empty = surface("").replace(
        "<P id=\"1\">0 0 0</P><P id=\"2\">0 1 0</P><P id=\"3\">1 0 0</P>",
        "",
    );
    assert_eq!(
        fault(&empty).0,
        "surface \"s\" has neither faces nor points"
    );
    assert_eq!(
        fault("<gml/>"),
        (
            "the outermost element is <gml>, not <LandXML>".into(),
            Some((1, 1))
        )
    );
    assert_eq!(fault("plain text").0, "the file has no XML element");
    assert_eq!(fault("<LandXML></LandXML>").0, "the file has no surface");
    let whole = surface("<Faces><F>1 2 3</F></Faces>");
    let cut = fault(&whole[..whole.len() - 26]);
    assert!(cut.0.starts_with("the file ends inside <Sur"), "{}", cut.0);
    assert!(
        fault("<LandXML><Surfaces></Surf></LandXML>")
            .0
            .starts_with("the XML is not well-formed")
    );
    let unit = fault("<LandXML><Units><Metric linearUnit=\"furlong\"/></Units></LandXML>");
    assert!(unit.0.starts_with("the length unit \"furlong\""));
}

/// A line of a straight, a spiral, an arc to the right and a spiral back, and outlines. The spirals
/// follow their series for 30 long and a radius of 100.
const PLAN: &str = r#"<LandXML><Units><Metric linearUnit="meter"/></Units>
    <CgPoints><CgPoint name="peg 1">0 -40</CgPoint></CgPoints>
    <Alignments><Alignment name="bank" length="70" staStart="1000"><CoordGeom>
    <Line><Start pntRef="peg 1"/><End>0 0</End></Line>
    <Spiral length="30" radiusStart="INF" radiusEnd="100" rot="cw" spiType="clothoid">
      <Start>0 0</Start><PI>0 20.02</PI><End>-1.497594 29.932573</End></Spiral>
    </CoordGeom><StaEquation staAhead="2000" staBack="1040" staInternal="1040"/>
    <Profile><ProfAlign name="crest"><PVI>1000 24</PVI><ParaCurve length="20">1030 25.5</ParaCurve><PVI>1070 25.5</PVI></ProfAlign>
    <ProfAlign name="ground"><PVI>1000 20</PVI><PVI>1070 21</PVI></ProfAlign></Profile></Alignment></Alignments>
    <Parcels><Parcel name="yard"><CoordGeom>
      <Line><Start>0 0</Start><End>0 20</End></Line>
      <Curve rot="ccw"><Start>0 20</Start><Center>10 20</Center><End>20 20</End></Curve>
      <IrregularLine><Start>20 20</Start><End>0 0</End><PntList2D>20 20 20 0 0 0</PntList2D></IrregularLine>
    </CoordGeom></Parcel></Parcels>
    <PlanFeatures><PlanFeature name="fence"><CoordGeom><Line><Start>0 0</Start><End>5 5</End></Line></CoordGeom></PlanFeature></PlanFeatures>
    </LandXML>"#;

#[test]
fn alignments_and_outlines_are_read() {
    let plan = plan(PLAN.as_bytes()).unwrap();
    assert_eq!(plan.unit, Some(LengthUnit::Metre));
    let line = &plan.alignments[0];
    let names: Vec<_> = line
        .elements()
        .iter()
        .map(|element| element.name())
        .collect();
    assert_eq!(
        (line.name(), names, line.length()),
        ("bank", vec!["straight", "spiral"], 70.0)
    );
    assert_eq!(line.at(10.0).unwrap().place, Place::new(-30.0, 0.0));
    // The end as stated, to its six decimals, is where the spiral comes to.
    assert_eq!(line.gaps(2e-5), []);
    assert_eq!(
        [39.0, 50.0].map(|d| line.chainage().of(d)),
        [1039.0, 2010.0]
    );
    let profile = line.profile().unwrap();
    // Below the summit by (0 - 0.05) * 20 / 8.
    assert!((profile.height(30.0).unwrap() - (25.5 - 0.125)).abs() < 1e-12);
    assert_eq!((plan.zones.zones.len(), plan.zones.left_out), (1, 1));
    let yard = &plan.zones.zones[0];
    let ring = &yard.parts[0][0];
    assert_eq!((yard.name.as_str(), ring.first()), ("yard", ring.last()));
    // A square of 20 with half a circle of 10 to the east.
    let twice: f64 = ring
        .windows(2)
        .map(|p| p[0].east * p[1].north - p[1].east * p[0].north)
        .sum();
    let expected = 400.0 + 50.0 * std::f64::consts::PI;
    assert!(
        (twice / 2.0 - expected).abs() < 31.5 * CHORD,
        "{}",
        twice / 2.0
    );
}

#[test]
fn faults_of_alignments_are_found() {
    let fault = |from: &str, to: &str| {
        plan(PLAN.replacen(from, to, 1).as_bytes())
            .unwrap_err()
            .to_string()
    };
    assert_eq!(
        fault("pntRef=\"peg 1\"", "pntRef=\"peg 9\""),
        "point \"peg 9\" is used before it is defined, has no height, or is not in the file"
    );
    assert_eq!(
        fault("clothoid", "radioid"),
        "the spiral type \"radioid\" is not supported; expected clothoid, cubic, bloss, cosine or sinusoid"
    );
    assert_eq!(fault("<PI>0 20.02</PI>", ""), "Spiral has no PI");
    assert_eq!(fault("rot=\"ccw\"", ""), "Curve has no rot");
    assert_eq!(
        fault("1070 25.5", "1020 25.5"),
        "alignment \"bank\": the vertical intersection point at 20 is not beyond the one before it"
    );
    let cut = &PLAN[..PLAN.find("<PlanFeatures>").unwrap()];
    let cut = plan(cut.as_bytes()).unwrap_err().to_string();
    assert_eq!(cut, "the file ends inside <LandXML>: it is incomplete");
    let other = plan("<gml/>".as_bytes()).unwrap_err().to_string();
    assert_eq!(other, "the outermost element is <gml>, not <LandXML>");
    assert_eq!(
        fault("<End>0 20</End>", "<End>0 2o</End>"),
        "\"2o\" is not a number"
    );
}

proptest! {
    /// Whatever happens to the bytes, the reader of alignments answers.
    #[test]
    fn mutated_plans_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20)) {
        let mut bytes = PLAN.as_bytes().to_vec();
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        if let Ok(plan) = plan(bytes.as_slice()) {
            for line in &plan.alignments {
                let _ = (line.gaps(1e-3), line.at(line.length() / 2.0));
            }
        }
    }

    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20), cut in any::<prop::sample::Index>()) {
        let mut bytes = TWO.as_bytes().to_vec();
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        bytes.truncate(cut.index(bytes.len()) + 1);
        let _ = read(bytes.as_slice(), Some("lid"), &CodeUses::default());
    }
}

/// A transition out of a straight that runs north, and one back into a straight, by the name of their kind.
fn transitions(kind: &str, elements: [&Element; 2]) -> String {
    let place = |at: Place| format!("{} {}", at.north, at.east);
    let spiral = |element: &Element, radii: [&str; 2], rot: &str| {
        let (start, end) = (element.at(0.0), element.at(element.length()));
        // Where the tangents of both ends meet.
        let [(a, b), (c, d)] =
            [start, end].map(|course| (course.direction.cos(), course.direction.sin()));
        let (east, north) = (
            end.place.east - start.place.east,
            end.place.north - start.place.north,
        );
        let along = (east * d - north * c) / (a * d - b * c);
        let pi = Place::new(start.place.east + along * a, start.place.north + along * b);
        format!(
            r#"<Spiral spiType="{kind}" length="{}" radiusStart="{}" radiusEnd="{}" rot="{rot}"><Start>{}</Start><PI>{}</PI><End>{}</End></Spiral>"#,
            element.length(),
            radii[0],
            radii[1],
            place(start.place),
            place(pi),
            place(end.place)
        )
    };
    format!(
        r#"<LandXML><Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="line" length="60" staStart="0"><CoordGeom>{}{}</CoordGeom></Alignment></Alignments></LandXML>"#,
        spiral(elements[0], ["INF", "150"], "cw"),
        spiral(elements[1], ["150", "INF"], "cw")
    )
}

#[test]
fn transition_curves_are_what_they_are_called() {
    let (from, north, curvature) = (
        Place::new(0.0, 0.0),
        std::f64::consts::FRAC_PI_2,
        -1.0 / 150.0,
    );
    for (kind, growth) in [
        ("bloss", Growth::Bloss),
        ("cosine", Growth::Cosine),
        ("sinusoid", Growth::Sine),
        ("clothoid", Growth::Even),
    ] {
        let out = Element::transition(from, from, north, [0.0, curvature], 40.0, growth);
        let end = out.at(40.0);
        let back = Element::transition(
            end.place,
            from,
            end.direction,
            [curvature, 0.0],
            40.0,
            growth,
        );
        let read = plan(transitions(kind, [&out, &back]).as_bytes()).unwrap();
        let line = &read.alignments[0];
        for distance in [0.0, 13.0, 40.0, 55.5, 80.0] {
            let expected = if distance < 40.0 {
                out.at(distance)
            } else {
                back.at(distance - 40.0)
            };
            let found = line.at(distance).unwrap();
            assert!(
                (found.place.east - expected.place.east).abs() < 1e-9,
                "{kind} {distance}"
            );
            assert!(
                (found.place.north - expected.place.north).abs() < 1e-9,
                "{kind} {distance}"
            );
        }
        assert_eq!(line.gaps(1e-6), [], "{kind}");
    }
    // A cubic parabola from both its ends.
    let end = Place::new(1.7, 40.0);
    let out = Element::cubic_parabola(from, end, north, true);
    let beyond = Place::new(end.east + 9.0, end.north + 39.0);
    let into = out.at(out.length()).direction - 0.12;
    let back = Element::cubic_parabola(end, beyond, into + std::f64::consts::PI, false);
    let read = plan(transitions("cubic", [&out, &back]).as_bytes()).unwrap();
    let line = &read.alignments[0];
    assert!((line.length() - out.length() - back.length()).abs() < 1e-9);
    let found = line.at(out.length() / 2.0).unwrap().place;
    // By the cube of the way along the tangent.
    assert!((found.east - 1.7 * (found.north / 40.0).powi(3)).abs() < 1e-9);
    let halfway = (
        line.at(out.length() + back.length() / 2.0).unwrap(),
        back.at(back.length() / 2.0),
    );
    assert!((halfway.0.place.east - halfway.1.place.east).abs() < 1e-7);
    let refused = plan(transitions("radioid", [&out, &back]).as_bytes()).unwrap_err();
    assert!(refused.to_string().contains("radioid"), "{refused}");
    let between = transitions("cubic", [&out, &back]).replace("INF", "90");
    assert!(
        plan(between.as_bytes())
            .unwrap_err()
            .to_string()
            .contains("between two arcs")
    );
}
