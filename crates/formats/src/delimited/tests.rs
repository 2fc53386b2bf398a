use super::*;
use proptest::prelude::*;

fn options(roles: Option<&str>) -> Result<Options, DelimitedError> {
    Ok(Options {
        roles: roles.map(parse_roles).transpose()?,
        ..Options::default()
    })
}

fn points(text: &str, roles: Option<&str>) -> Result<Vec<(f64, f64, f64)>, DelimitedError> {
    let read = read(text.as_bytes(), &options(roles)?)?;
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
    let named = read("east,north,height\n1,2,3\n".as_bytes(), &Options::default()).unwrap();
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
            "\"3x\" is not a number, and north is expected".into(),
            Some((4, 3))
        )
    );
    assert_eq!(
        at("1,2,NaN,4\n").0,
        "\"NaN\" is not a number, and north is expected"
    );
    assert_eq!(at("1,2,3,inf\n").1, Some((2, 4)));
    assert_eq!(
        at("1,2,3\n"),
        (
            "the row has 3 fields, and height is expected in field 4".into(),
            Some((2, 4))
        )
    );
    assert_eq!(at("").0, "the file has no points");
    assert_eq!(fault("", None).0, "the file has no points");
    assert_eq!(
        fault("a,b,c\n1,2,3\n", None).0,
        "the header has no column for east; it has a, b, c"
    );
    assert_eq!(
        fault(header, Some("east,east,height")).0,
        "two columns are for east"
    );
    assert_eq!(
        fault(header, Some("east,north")).0,
        "the header has no column for height; it has east, north"
    );
    assert!(
        fault(header, Some("east,up"))
            .0
            .starts_with("\"up\" is not a column type")
    );
    let at = |rows: &str| fault(&format!("{header}{rows}"), None);
    assert_eq!(
        at("1,500000,25,6000000,5,31,4\n"),
        (
            "the row has 7 fields, and the header has 4".into(),
            Some((2, 5))
        )
    );
    // A point that parts thousands, where numbers have decimal commas.
    let semicolons = "point;east;north;height\n1;5,25;6;7\n2;1.005,25;6;7\n";
    assert_eq!(fault(semicolons, None).1, Some((3, 2)));
}

#[test]
fn encodings_and_decimal_commas() {
    let text = "Pt;East;North;Height;Code\r\n1;10,5;20;3;B\u{f6}schung\r\n2;11;21,0;-4;x\r\n";
    let wide = |first: [u8; 2], bytes: fn(u16) -> [u8; 2]| -> Vec<u8> {
        first
            .into_iter()
            .chain(text.encode_utf16().flat_map(bytes))
            .collect()
    };
    let latin: Vec<u8> = text.chars().map(|c| c as u8).collect();
    for (bytes, encoding) in [
        (text.as_bytes().to_vec(), "UTF-8"),
        (wide([0xff, 0xfe], u16::to_le_bytes), "UTF-16"),
        (wide([0xfe, 0xff], u16::to_be_bytes), "UTF-16"),
        (latin, "Latin-1"),
    ] {
        let found = read(bytes.as_slice(), &Options::default()).unwrap();
        assert_eq!((found.encoding, found.decimal_comma), (encoding, true));
        assert_eq!(found.header.as_ref().unwrap()[0], "Pt");
        assert_eq!(found.codes[0], ("B\u{f6}schung".into(), 1));
        let [a, b] = found.surface.vertices[..] else {
            panic!("{encoding}")
        };
        assert_eq!(
            (a, b),
            (Vertex::new(10.5, 20.0, 3.0), Vertex::new(11.0, 21.0, -4.0))
        );
    }
}

#[test]
fn codes_join_points_to_lines() {
    use dapedon_core::points::LineKind;
    let text = "P E N H Code\n1 0 0 1 crest1\n2 5 5 1 spot\n3 1 0 1 toe\n4 2 0 1 CREST1\n\
                5 0 9 1 crest2\n6 3 0 1 toe\n7 3 9 1 crest2\n8 4 4 4 tree\n";
    let mut with = Options::default();
    with.take.add("crest=breakline,toe=edge,tree=skip").unwrap();
    let found = read(text.as_bytes(), &with).unwrap();
    let lines: Vec<_> = (found.surface.lines.iter())
        .map(|line| (line.kind, line.points.as_slice()))
        .collect();
    let expected: [(LineKind, &[u32]); 3] = [
        (LineKind::Breakline, &[0, 3]),
        (LineKind::Edge, &[2, 5]),
        (LineKind::Breakline, &[4, 6]),
    ];
    assert_eq!(lines, expected);
    assert_eq!(found.surface.vertices.len(), 7);
    let crests: Vec<_> = found
        .codes
        .iter()
        .filter(|(code, _)| code.starts_with("crest"))
        .collect();
    assert_eq!(crests, [&("crest1".into(), 2), &("crest2".into(), 2)]);
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
        read(bytes.as_slice(), &Options::default())
            .unwrap()
            .surface
            .vertices,
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
        let _ = read(bytes.as_slice(), &Options::default());
        let _ = read(bytes.as_slice(), &options(Some("east,north,height")).unwrap());
        let mut wide = vec![0xff, 0xfe];
        wide.extend(bytes.iter().flat_map(|&byte| [byte, 0]));
        let _ = read(wide.as_slice(), &Options::default());
    }
}

#[test]
fn what_follows_the_heights_is_no_part_of_them() {
    let both = |text: &str| match points(text, None).unwrap_err() {
        DelimitedError::TwoReadings { readings } => readings.map(|r| r.to_string()),
        other => panic!("{other}"),
    };
    let skipped = ",skip,skip,skip,skip";
    let expected =
        ["east,north,height", "north,east,height"].map(|roles| format!("{roles}{skipped}"));
    assert_eq!(both("500.125 600.250 7.5 -812 92 80 71\n"), expected);
    let expected = [
        "point,east,north,height,code",
        "point,north,east,height,code",
    ];
    assert_eq!(both("12 500.125 600.250 7.5 105\n"), expected);
    assert_eq!(
        both("500.125 600.250 7.5 TOP\n")[0],
        "east,north,height,code"
    );
}

#[test]
fn a_first_line_may_count_the_points() {
    let roles = Some("east,north,height");
    let expected = vec![(1.5, 2.0, 3.0), (4.5, 5.0, 6.0)];
    for text in [
        "2\n1.5 2 3 9\n4.5 5 6 9\n",
        "2\n1.5,2,3\n4.5,5,6\n",
        "1\n1.5 2 3\n1\n4.5 5 6\n",
        "2\ne,n,h\n1.5,2,3\n4.5,5,6\n",
    ] {
        assert_eq!(points(text, roles).unwrap(), expected, "{text}");
    }
    let cut = points("3\n1.5 2 3\n4.5 5 6\n", roles)
        .unwrap_err()
        .to_string();
    assert_eq!(cut, "the first line gives 3 points, and the file has 2");
    assert!(matches!(points("2\n", roles), Err(DelimitedError::Empty)));
    // Without one, a row of a single number is too short.
    assert!(matches!(
        points("1.5 2 3\n7\n", roles),
        Err(DelimitedError::ShortRow { .. })
    ));
}

#[test]
fn columns_may_be_given_by_their_initials() {
    for (word, roles) in [
        ("PENZD", "point,east,north,height,code"),
        ("nez", "north,east,height"),
        ("ENH", "east,north,height"),
    ] {
        assert_eq!(parse_roles(word).unwrap(), parse_roles(roles).unwrap());
    }
    assert!(matches!(
        parse_roles("ENE"),
        Err(DelimitedError::RoleTwice { .. })
    ));
    // Places alone have no height; points need one.
    let roles = parse_roles("PEN").unwrap();
    let read = |places_only: bool| {
        let options = Options {
            roles: Some(roles.clone()),
            places_only,
            ..Options::default()
        };
        let mut names = Vec::new();
        each("A1,3,4\n".as_bytes(), &options, |point| {
            names.extend(point.name());
        })
        .map(|_| names)
    };
    assert!(matches!(read(false), Err(DelimitedError::NoColumn { .. })));
    assert_eq!(read(true).unwrap(), ["A1"]);
    assert!(matches!(
        parse_roles("XYZ"),
        Err(DelimitedError::UnknownRole { .. })
    ));
}
