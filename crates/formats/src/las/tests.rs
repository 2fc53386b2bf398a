use std::io::Cursor;

use dapedon_core::units::LengthUnit;
use las::point::Format;
use las::{Builder, Color, Point, Transform, Vector, Vlr, Writer};
use proptest::prelude::*;

use super::*;

/// Points on a slope, some of them ground, some with several returns.
fn shots(count: usize) -> Vec<Shot> {
    let shot = |i: usize| Shot {
        east: 4000.0 + (i % 97) as f64 * 0.25,
        north: 9000.0 + (i / 97) as f64 * 0.5,
        height: 31.5 + (i % 13) as f64 * 0.125,
        class: [2, 2, 1, 5][i % 4],
        number: 1 + (i % 3 == 2) as u8,
        returns: 2,
        withheld: i % 50 == 7,
    };
    (0..count).map(shot).collect()
}

fn read(bytes: &[u8]) -> Result<(CloudFacts, Vec<Shot>), LasError> {
    let cloud = Cloud::open(Cursor::new(bytes.to_vec()))?;
    let about = cloud.about().clone();
    let mut all = Vec::new();
    cloud.each(|batch| all.extend_from_slice(batch))?;
    Ok((about, all))
}

fn written(packed: bool, count: usize) -> Vec<u8> {
    let mut bytes = Vec::new();
    write(
        &mut bytes,
        packed,
        LengthUnit::Metre,
        Some("EPSG:31999"),
        &shots(count),
    )
    .unwrap();
    bytes
}

/// The same points by the crate's own writer, in any format it knows.
fn by_format(format: u8, packed: bool, vlrs: Vec<Vlr>) -> Vec<u8> {
    let minor = match format {
        0..=3 => 2,
        4..=5 => 3,
        _ => 4,
    };
    let mut point_format = Format::new(format).unwrap();
    point_format.is_compressed = packed;
    point_format.extra_bytes = 3;
    let mut builder = Builder::from((1, minor));
    builder.point_format = point_format;
    builder.vlrs = vlrs;
    let axis = |offset: f64| Transform {
        scale: 0.001,
        offset,
    };
    builder.transforms = Vector {
        x: axis(4000.0),
        y: axis(9000.0),
        z: axis(0.0),
    };
    let mut writer = Writer::new(Cursor::new(Vec::new()), builder.into_header().unwrap()).unwrap();
    for shot in shots(1000) {
        let point = Point {
            x: shot.east,
            y: shot.north,
            z: shot.height,
            return_number: shot.number,
            number_of_returns: shot.returns,
            classification: las::point::Classification::new(shot.class).unwrap(),
            is_withheld: shot.withheld,
            gps_time: point_format.has_gps_time.then_some(1.5),
            color: point_format.has_color.then_some(Color::new(1, 2, 3)),
            nir: point_format.has_nir.then_some(7),
            waveform: point_format.has_waveform.then(Default::default),
            extra_bytes: vec![9; 3],
            ..Point::default()
        };
        writer.write_point(point).unwrap();
    }
    writer.into_inner().unwrap().into_inner()
}

#[test]
fn what_is_written_reads_back() {
    for packed in [false, true] {
        let bytes = written(packed, 120_000);
        let (about, found) = read(&bytes).unwrap();
        assert_eq!(found, shots(120_000));
        assert_eq!(
            (about.version.as_str(), about.packed),
            ("1.4, point format 6", packed)
        );
        assert_eq!(
            (about.points, about.unit),
            (120_000, Some(LengthUnit::Metre))
        );
        assert_eq!(about.crs.as_deref(), Some("EPSG:31999"));
        assert_eq!(about.bounds[0], 4000.0);
    }
}

#[test]
fn every_point_format_reads() {
    for format in 0..=10 {
        // The crate does not pack formats with waves.
        for packed in [false, !matches!(format, 4 | 5 | 9 | 10)] {
            let (about, found) = read(&by_format(format, packed, Vec::new())).unwrap();
            assert!(
                about.version.ends_with(&format!("point format {format}"))
                    && about.packed == packed
            );
            assert_eq!(found, shots(1000), "format {format}, packed {packed}");
        }
    }
}

/// Keys in feet with heights in metres: plan in feet, heights converted.
#[test]
fn keys_say_units() {
    let keys: Vec<u16> = [
        [1, 1, 1, 3],
        [1024, 0, 1, 1],
        [3076, 0, 1, 9003],
        [4099, 0, 1, 9001],
    ]
    .concat();
    let vlr = |keys: &[u16]| Vlr {
        user_id: "LASF_Projection".into(),
        record_id: 34_735,
        description: String::new(),
        data: keys.iter().flat_map(|key| key.to_le_bytes()).collect(),
    };
    let (about, found) = read(&by_format(1, true, vec![vlr(&keys)])).unwrap();
    assert_eq!(about.unit.map(|unit| unit.code()), Some("us-ft"));
    assert!((found[0].height - 31.5 * 3937.0 / 1200.0).abs() < 1e-9);
    assert_eq!(about.notes.len(), 1);
    let degrees: Vec<u16> = [[1, 1, 1, 1], [1024, 0, 1, 2]].concat();
    let fault = read(&by_format(1, false, vec![vlr(&degrees)])).unwrap_err();
    assert!(matches!(fault, LasError::Degrees));
}

#[test]
fn faults_say_what() {
    let fault = |bytes: &[u8]| {
        let error = read(bytes).map(|(about, _)| about).unwrap_err();
        assert!(!error.remedy().is_empty());
        error.to_string()
    };
    let plain = written(false, 5000);
    let packed = written(true, 120_000);
    let with = |bytes: &[u8], at: usize, new: &[u8]| {
        let mut bytes = bytes.to_vec();
        bytes[at..at + new.len()].copy_from_slice(new);
        bytes
    };
    assert_eq!(
        fault(b"P6 picture"),
        "the file does not start like a LAS file"
    );
    assert_eq!(fault(&plain[..100]), "the file ends within its header");
    let cut = fault(&plain[..plain.len() - 60]);
    assert_eq!(
        cut,
        "the file is incomplete: it has 4998 points, and its header gives 5000"
    );
    assert_eq!(
        fault(&packed[..packed.len() - 600]),
        "chunk 1 of the packed points cannot be read: the chunk table is missing"
    );
    assert_eq!(
        fault(&with(&plain, 104, &[17])),
        "the header is not valid: point format 17"
    );
    assert_eq!(
        fault(&with(&plain, 131, &0f64.to_le_bytes())),
        "the header is not valid: scale 0 / 0.001 / 0.001, offset 4000 / 9000 / 0"
    );
    assert_eq!(
        fault(&with(&plain, 131, &1e9f64.to_le_bytes())),
        "a coordinate or height is beyond ±1 000 000 000"
    );
    assert_eq!(
        fault(&with(&plain, 107, &u32::MAX.to_le_bytes())),
        "the file is incomplete: it has 5000 points, and its header gives 4294967295"
    );
    // Without the older count the newer one holds.
    let newer = with(&plain, 107, &[0; 4]);
    assert_eq!(read(&newer).unwrap().0.points, 5000);
    assert_eq!(
        fault(&with(&newer, 247, &u64::MAX.to_le_bytes())),
        format!(
            "the file is incomplete: it has 5000 points, and its header gives {}",
            u64::MAX
        )
    );
    assert_eq!(fault(&with(&newer, 247, &[0; 8])), "the file has no points");
    // A table that says more parts than there is room for.
    let start = u32::from_le_bytes(packed[96..100].try_into().unwrap()) as usize;
    let table = u64::from_le_bytes(packed[start..start + 8].try_into().unwrap()) as usize;
    assert!(fault(&with(&packed, table + 4, &[0xff; 4])).contains("4294967295 chunks in"));
    // A part whose layers are longer than it is.
    assert_eq!(
        fault(&with(&packed, start + 8 + 34, &[0xff; 4])),
        "chunk 1 of the packed points cannot be read: its layers are longer than the chunk"
    );
}

/// The same points whatever number of threads reads them.
#[test]
fn threads_do_not_change_the_order() {
    let bytes = written(true, 120_000);
    for threads in [1, 3] {
        let pool = rayon::ThreadPoolBuilder::new()
            .num_threads(threads)
            .build()
            .unwrap();
        assert_eq!(pool.install(|| read(&bytes)).unwrap().1, shots(120_000));
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(
        format in prop::sample::select(vec![0u8, 1, 3, 4, 6, 7, 8, 9]),
        packed in any::<bool>(),
        changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12),
        cut in any::<prop::sample::Index>(),
        cuts in any::<bool>(),
    ) {
        let mut bytes = by_format(format, packed && !matches!(format, 4 | 9), Vec::new());
        for (at, byte) in changes {
            let at = at.index(bytes.len());
            bytes[at] = byte;
        }
        let end = if cuts { cut.index(bytes.len()) } else { bytes.len() };
        let _ = read(&bytes[..end]);
    }
}
