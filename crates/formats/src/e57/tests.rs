use std::io::Cursor;

use e57::{E57Writer, Quaternion, Record, RecordValue, Transform, Translation};
use proptest::prelude::*;

use super::*;

/// A file of scans, each with its points and its position.
fn written(scans: &[(&[[f64; 3]], Option<Transform>)], system: Option<&str>) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    let mut writer = E57Writer::new(&mut bytes, "made up").unwrap();
    writer.set_coordinate_metadata(system.map(Into::into));
    for (points, pose) in scans {
        let prototype = vec![
            Record::CARTESIAN_X_F64,
            Record::CARTESIAN_Y_F64,
            Record::CARTESIAN_Z_F64,
        ];
        let mut scan = writer.add_pointcloud("scan", prototype).unwrap();
        scan.set_transform(pose.clone());
        for point in *points {
            scan.add_point(point.map(RecordValue::Double).to_vec())
                .unwrap();
        }
        scan.finalize().unwrap();
    }
    writer.finalize().unwrap();
    drop(writer);
    bytes.into_inner()
}

fn pose(quarter: bool, to: [f64; 3]) -> Transform {
    let half = std::f64::consts::FRAC_1_SQRT_2;
    let [x, y, z] = to;
    let (w, turn) = if quarter { (half, half) } else { (1.0, 0.0) };
    Transform {
        rotation: Quaternion {
            w,
            x: 0.0,
            y: 0.0,
            z: turn,
        },
        translation: Translation { x, y, z },
    }
}

fn shots(bytes: &[u8]) -> Result<Vec<Shot>, E57Error> {
    let mut found = Vec::new();
    ScannedCloud::open(Cursor::new(bytes))?.each(|batch| found.extend_from_slice(batch))?;
    Ok(found)
}

#[test]
fn scans_lie_where_their_scanners_stood() {
    let points = [[0.0, 0.0, 1.0], [2.0, 1.0, 3.0]];
    let bytes = written(
        &[
            (&points, Some(pose(false, [500.0, 600.0, 10.0]))),
            (&points, Some(pose(true, [500.0, 600.0, 10.0]))),
        ],
        None,
    );
    let cloud = ScannedCloud::open(Cursor::new(&bytes)).unwrap();
    let about = cloud.about().clone();
    assert_eq!((about.points, about.version.as_str()), (4, "1.0, 2 scans"));
    assert_eq!(about.unit, Some(LengthUnit::Metre));
    assert!(!about.is_in_scanner_frame);
    // The second is turned by a quarter to the left.
    for (found, expected) in about.bounds.iter().zip([499.0, 600.0, 502.0, 602.0]) {
        assert!((found - expected).abs() < 1e-9, "{:?}", about.bounds);
    }
    let found: Vec<[f64; 3]> = shots(&bytes)
        .unwrap()
        .iter()
        .map(|shot| [shot.east, shot.north, shot.height])
        .collect();
    let expected = [
        [500.0, 600.0, 11.0],
        [502.0, 601.0, 13.0],
        [500.0, 600.0, 11.0],
        [499.0, 602.0, 13.0],
    ];
    for (found, expected) in found.iter().flatten().zip(expected.iter().flatten()) {
        assert!((found - expected).abs() < 1e-9, "{found} {expected}");
    }
}

#[test]
fn a_scan_without_a_position_is_in_the_frame_of_its_scanner() {
    let around = [[-5.0, -5.0, 1.0], [5.0, 5.0, 3.0]];
    let bytes = written(&[(&around, None)], None);
    assert!(
        ScannedCloud::open(Cursor::new(&bytes))
            .unwrap()
            .about()
            .is_in_scanner_frame
    );
    let far = [[500.0, 600.0, 1.0], [505.0, 605.0, 3.0]];
    let bytes = written(
        &[(&far, None)],
        Some("PROJCS[\"p\",UNIT[\"metre\",1],AUTHORITY[\"EPSG\",\"31999\"]]"),
    );
    let about = ScannedCloud::open(Cursor::new(&bytes))
        .unwrap()
        .about()
        .clone();
    assert!(!about.is_in_scanner_frame);
    assert_eq!(about.crs.as_deref(), Some("EPSG:31999"));
}

#[test]
fn what_cannot_be_measured_is_refused() {
    let open = |bytes: &[u8]| ScannedCloud::open(Cursor::new(bytes)).map(|_| ());
    assert!(matches!(open(&written(&[], None)), Err(E57Error::NoScan)));
    let degrees = written(
        &[(&[[7.0, 51.0, 1.0]], None)],
        Some("GEOGCS[\"W\",UNIT[\"degree\",0.0174]]"),
    );
    assert!(matches!(open(&degrees), Err(E57Error::Degrees)));
    let far = written(&[(&[[1.0, 2.0, 1e300]], None)], None);
    assert!(matches!(shots(&far), Err(E57Error::Far { scan: 1 })));
    let whole = written(&[(&[[1.0, 2.0, 3.0]], None)], None);
    for cut in [20, whole.len() / 2, whole.len() - 1] {
        assert!(
            matches!(open(&whole[..cut]), Err(E57Error::Invalid { .. })),
            "{cut}"
        );
    }
}

/// Points that all stand on one spot take no bits: a small file could hold any number of them.
#[test]
fn more_points_than_fit_into_a_file_are_refused() {
    assert!(fits(8000, 1000) && !fits(8001, 1000));
    assert!(fits(u64::MAX, u64::MAX) && !fits(u64::MAX, 1 << 40));
}

proptest! {
    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..20)) {
        let points: Vec<[f64; 3]> = (0..50).map(|i| [f64::from(i), 2.0, 3.0]).collect();
        let mut bytes = written(&[(&points, Some(pose(true, [1.0, 2.0, 3.0])))], None);
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let _ = shots(&bytes);
    }
}
