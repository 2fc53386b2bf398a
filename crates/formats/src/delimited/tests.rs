use super::*;
use proptest::prelude::*;

fn points(text: &str, roles: Option<&str>) -> Result<Vec<(f64, f64, f64)>, DelimitedError> {
    let roles = roles.map(parse_roles).transpose()?;
    let read = read(text.as_bytes(), roles.as_deref())?;
    Ok(read
        .surface
        .vertices
        .iter()
        .map(|v| (v.east, v.north, v.height))
        .collect())
}

#[test]
fn delimiters_headers_and_comments() {
    let expected = vec![(10.5, 20.0, 3.0), (11.0, 21.0, -4.0)];
    for text in [
        "point,east,north,height\n1,10.5,20,3\n2,11,21,-4\n",
        "\u{feff}No;Northing (m);Easting (m);Height (m)\r\n1;20;10.5;3\r\n\r\n2;21;11;-4",
        "# station 4\nE\tN\tZ\tcode\n10.5\t20\t3\tbank\n# end\n11\t21\t-4\t\"top, left\"\n",
        "  P   E     N    H\n  1  10.5  20   3 \n  2  11    21  -4e0\n",
    ] {
        assert_eq!(points(text, None).unwrap(), expected, "{text}");
    }
    assert_eq!(
        points(
            "1 20 10.5 3 a\n2 21 11 -4 b\n",
            Some("point,north,east,height,code")
        )
        .unwrap(),
        expected
    );
    let named = read("east,north,height\n1,2,3\n".as_bytes(), None).unwrap();
    assert_eq!(
        (named.delimiter, named.reading.to_string()),
        ("commas", "east,north,height".into())
    );
}

#[test]
fn two_readings_are_both_shown() {
    let both = |text: &str| match points(text, None).unwrap_err() {
        DelimitedError::TwoReadings { readings } => readings.map(|r| r.to_string()),
        other => panic!("{other}"),
    };
    assert_eq!(
        both("500.1,600.2,7\n"),
        ["east,north,height", "north,east,height"]
    );
    assert_eq!(
        both("1,500.1,600.2,7,K\n"),
        [
            "point,east,north,height,code",
            "point,north,east,height,code"
        ]
    );
    assert_eq!(
        both("P1 500.1 600.2 7\n"),
        ["point,east,north,height", "point,north,east,height"]
    );
    assert_eq!(
        both("x,y,z\n1,2,3\n"),
        ["east,north,height", "north,east,height"]
    );
    assert_eq!(
        both("e,n,height,level\n1,2,3,4\n"),
        ["east,north,height,skip", "east,north,skip,height"]
    );
}

#[test]
fn faults_say_line_and_column() {
    let fault = |text: &str, roles: Option<&str>| {
        let error = points(text, roles).unwrap_err();
        assert!(!error.remedy().is_empty());
        (error.to_string(), error.at().map(|at| (at.line, at.column)))
    };
    let header = "point,east,north,height\n";
    let at = |rows: &str| fault(&format!("{header}{rows}"), None);
    assert_eq!(
        at("1,2,3,4\n\n2,2,3x,4\n"),
        (
            "\"3x\" is not a number, and north is expected there".into(),
            Some((4, 3))
        )
    );
    assert_eq!(
        at("1,2,NaN,4\n").0,
        "\"NaN\" is not a number, and north is expected there"
    );
    assert_eq!(at("1,2,3,inf\n").1, Some((2, 4)));
    assert_eq!(
        at("1,2,3\n"),
        (
            "the row has 3 fields, and height is expected in field 4".into(),
            Some((2, 4))
        )
    );
    assert_eq!(at("").0, "there is no point in it");
    assert_eq!(fault("", None).0, "there is no point in it");
    assert_eq!(
        fault("a,b,c\n1,2,3\n", None).0,
        "no column is headed as east; the header reads a, b, c"
    );
    assert_eq!(
        fault(header, Some("east,east,height")).0,
        "two columns are named east"
    );
    assert_eq!(
        fault(header, Some("east,north")).0,
        "no column is headed as height; the header reads east, north"
    );
    assert!(
        fault(header, Some("east,up"))
            .0
            .starts_with("\"up\" is no role")
    );
    assert!(matches!(
        read(&b"\xff\xfe1\x00"[..], None),
        Err(DelimitedError::Utf16)
    ));
}

#[test]
fn what_is_written_reads_back() {
    let vertices = [
        Vertex::new(500_000.125, 6e6, -3.5),
        Vertex::new(1.0, 2.0, 0.001),
    ];
    let mut bytes = Vec::new();
    write(
        &mut bytes,
        vertices.into_iter().zip(["toe", "say \"a, b\""]),
        3,
    )
    .unwrap();
    assert_eq!(
        read(bytes.as_slice(), None).unwrap().surface.vertices,
        vertices
    );
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20)) {
        let mut bytes = b"# pick-up\npoint,east,north,height,code\n1,500000.1,6000000.2,31.4,\"toe\"\n2,2,3,4,5\n".to_vec();
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let _ = read(bytes.as_slice(), None);
        let _ = read(bytes.as_slice(), Some(&[Role::East, Role::North, Role::Height]));
    }
}
