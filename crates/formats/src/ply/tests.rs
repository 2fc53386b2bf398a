use std::io::Cursor;

use proptest::prelude::*;

use super::*;

const MESH: &str = "ply\nformat ascii 1.0\ncomment made up\nelement vertex 4\nproperty float x\nproperty float y\n\
    property float z\nproperty uchar red\nelement face 2\nproperty list uchar int vertex_indices\n\
    element edge 1\nproperty int vertex1\nproperty int vertex2\nend_header\n\
    0 0 5 1\n4.5 0 5 1\n4 3 6.25 1\n0 3 6 255\n4 0 1 2 3\n2 0 1\n0 1\n";

/// Places as the header says, in binary.
fn binary(order: &str, kind: &str, places: &[[f64; 3]], faces: &[&[i32]]) -> Vec<u8> {
    let mut bytes = format!(
        "ply\nformat binary_{order}_endian 1.0\nelement vertex {}\nproperty {kind} x\nproperty {kind} y\nproperty ushort i\nproperty {kind} z\n",
        places.len()
    );
    if !faces.is_empty() {
        bytes += &format!(
            "element face {}\nproperty list uchar int vertex_index\n",
            faces.len()
        );
    }
    let mut bytes = (bytes + "end_header\n").into_bytes();
    let mut put = |mut value: Vec<u8>| {
        if order == "big" {
            value.reverse();
        }
        bytes.extend(value);
    };
    let number = |value: f64| match kind {
        "float" => (value as f32).to_le_bytes().to_vec(),
        _ => value.to_le_bytes().to_vec(),
    };
    for [x, y, z] in places {
        put(number(*x));
        put(number(*y));
        put(vec![7, 0]);
        put(number(*z));
    }
    for face in faces {
        put(vec![face.len() as u8]);
        face.iter()
            .for_each(|corner| put(corner.to_le_bytes().to_vec()));
    }
    bytes
}

const PLACES: [[f64; 3]; 4] = [
    [0.0, 0.0, 5.0],
    [4.5, 0.0, 5.0],
    [4.0, 3.0, 6.25],
    [0.0, 3.0, 6.0],
];

#[test]
fn a_mesh_is_the_same_in_text_and_in_binary() {
    let text = read(MESH.as_bytes()).unwrap();
    assert_eq!(text.facets.as_deref(), Some(&[[0, 1, 2], [0, 2, 3]][..]));
    assert_eq!(text.left_out["elements \"edge\""], 1);
    assert_eq!(text.left_out["faces of fewer than three corners"], 1);
    for (order, kind) in [
        ("little", "float"),
        ("little", "double"),
        ("big", "float"),
        ("big", "double"),
    ] {
        let made = read(binary(order, kind, &PLACES, &[&[0, 1, 2, 3]]).as_slice()).unwrap();
        assert_eq!(
            (&made.vertices, &made.facets),
            (&text.vertices, &text.facets),
            "{order} {kind}"
        );
    }
}

#[test]
fn a_cloud_is_handed_on_in_batches() {
    let count = 2 * BATCH + 7;
    let place = |i: usize| [i as f64, 2.0 * i as f64, f64::from(i as u32 % 10)];
    let mut places: Vec<[f64; 3]> = (0..count).map(place).collect();
    places[5] = [f64::NAN; 3];
    let bytes = binary("little", "double", &places, &[]);
    let cloud = PlyCloud::open(Cursor::new(bytes)).unwrap();
    let last = (count - 1) as f64;
    assert_eq!(cloud.about().bounds, [0.0, 0.0, last, 2.0 * last]);
    assert_eq!(cloud.about().points, count as u64);
    let (mut batches, mut sum, mut withheld) = (Vec::new(), 0.0, 0);
    cloud
        .each(|batch| {
            batches.push(batch.len());
            sum += batch.iter().map(|shot| shot.east).sum::<f64>();
            withheld += batch.iter().filter(|shot| shot.withheld).count();
        })
        .unwrap();
    assert_eq!((batches, withheld), (vec![BATCH, BATCH, 7], 1));
    assert_eq!(sum, last * (last + 1.0) / 2.0 - 5.0);
}

#[test]
fn coarse_places_are_noted() {
    let shifted = PLACES.map(|[x, y, z]| [5e5 + x, 54e5 + y, z]);
    let notes = |kind| {
        read(binary("little", kind, &shifted, &[&[0, 1, 2]]).as_slice())
            .unwrap()
            .notes
    };
    assert_eq!(
        notes("float"),
        ["places are stored in single precision: they are rounded to 0.5"]
    );
    assert!(notes("double").is_empty());
    assert!(read(MESH.as_bytes()).unwrap().notes.is_empty());
}

#[test]
fn faces_are_told_from_the_header() {
    assert!(has_faces(MESH.as_bytes()));
    assert!(!has_faces(MESH.replace("face 2", "face 0").as_bytes()));
    assert!(!has_faces(&binary("little", "float", &PLACES, &[])));
    assert!(!has_faces(b"ply\nend_header\nelement face 3\n"));
}

#[test]
fn faults_say_what_is_wrong() {
    let fault = |from: &str, to: &str| {
        let error = read(MESH.replacen(from, to, 1).as_bytes()).unwrap_err();
        assert!(!error.remedy().is_empty());
        error.to_string()
    };
    assert_eq!(
        fault("0 1 2 3\n", "0 1 2 4\n"),
        "face 1 refers to point 4, and the file has 4, counted from 0"
    );
    assert_eq!(
        fault("0 1 2 3\n", "0 1 2 -1\n"),
        "face 1 refers to point -1, and the file has 4, counted from 0"
    );
    assert_eq!(
        fault("float z", "float h"),
        "the file has no elements \"vertex\" with x, y and z; it has vertex, face, edge"
    );
    assert_eq!(
        fault("2 0 1\n0 1\n", ""),
        "the file is incomplete: it ends within the elements \"face\""
    );
    assert_eq!(
        fault("4 0 1 2 3\n2 0 1\n", "2 0 1\n2 0 1\n"),
        "the file has no face of three corners or more (4 points)"
    );
    assert_eq!(
        fault("end_header", "end"),
        "the file is not valid: its header has no end"
    );
    let turned = "ply\nformat ascii 1.0\nelement face 1\nproperty list uchar int vertex_index\nelement vertex 1\n\
        property float x\nproperty float y\nproperty float z\nend_header\n3 0 0 0\n1 2 3\n";
    assert!(matches!(read(turned.as_bytes()), Err(PlyError::FacesFirst)));
    assert!(fault("4.5", "4,5").starts_with("the file is not valid"));
    assert!(fault("format ascii", "format ebcdic").starts_with("the file is not valid"));
    let endless = "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\n\
        element void 18446744073709551615\nend_header\n0 0 0\n";
    assert_eq!(
        read(endless.as_bytes()).unwrap_err().to_string(),
        "the file is not valid: the elements \"void\" have no properties"
    );
    let whole = binary("little", "double", &PLACES, &[]);
    let cut = PlyCloud::open(Cursor::new(&whole[..whole.len() - 3]))
        .err()
        .unwrap();
    assert_eq!(
        cut.to_string(),
        "the file is incomplete: it ends within the elements \"vertex\""
    );
    let far = binary("little", "double", &[[1e200, 0.0, 0.0]], &[]);
    let far = PlyCloud::open(Cursor::new(far)).err().unwrap();
    assert!(
        far.to_string()
            .starts_with("a coordinate of point 1 is beyond"),
        "{far}"
    );
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(
        is_text: bool,
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12),
    ) {
        let mut bytes = match is_text {
            true => MESH.as_bytes().to_vec(),
            false => binary("little", "float", &PLACES, &[&[0, 1, 2], &[0, 2, 3]]),
        };
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let _ = read(bytes.as_slice());
        if let Ok(cloud) = PlyCloud::open(Cursor::new(bytes)) {
            let _ = cloud.each(|_| ());
        }
    }
}
