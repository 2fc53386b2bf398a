use std::io::Cursor;

use dapedon_core::units::Foot;
use proptest::prelude::*;

use super::*;

fn grid() -> RawGrid {
    let heights = (0..70 * 130).map(|i| {
        if i == 5 {
            f64::NAN
        } else {
            20.0 + f64::from(i % 97) / 8.0
        }
    });
    RawGrid {
        corner: Place::new(500_000.25, 6_000_000.75),
        step: [0.5, 1.5],
        size: [70, 130],
        heights: heights.collect(),
    }
}

fn written() -> Vec<u8> {
    let mut out = Cursor::new(Vec::new());
    let unit = LengthUnit::Foot(Foot::UsSurvey);
    write(
        &mut out,
        &grid(),
        unit,
        [Some("EPSG:2264"), Some("EPSG:5999")],
    )
    .unwrap();
    out.into_inner()
}

#[test]
fn what_is_written_reads_back() {
    let back = read(Cursor::new(written())).unwrap();
    let expected = grid();
    assert_eq!(
        (back.grid.size, back.grid.step),
        (expected.size, expected.step)
    );
    assert_eq!(back.grid.corner, expected.corner);
    assert_eq!(
        format!("{:?}", back.grid.heights),
        format!("{:?}", expected.heights)
    );
    assert_eq!(back.unit, Some(LengthUnit::Foot(Foot::UsSurvey)));
    assert_eq!(back.crs.as_deref(), Some("EPSG:2264"));
    assert_eq!(back.height_system.as_deref(), Some("EPSG:5999"));
}

#[test]
fn what_is_no_terrain_says_why() {
    let bytes = written();
    let fault = |bytes: Vec<u8>| {
        let error = read(Cursor::new(bytes)).unwrap_err();
        assert!(!error.remedy().is_empty());
        error.to_string()
    };
    assert!(fault(bytes[..bytes.len() / 2].to_vec()).contains("incomplete"));
    assert!(!fault(b"II*\0".to_vec()).is_empty());
    // The key that says a projected system is made to say a geographic one.
    let key: Vec<u8> = [1024u16, 0, 1, 1]
        .iter()
        .flat_map(|n| n.to_le_bytes())
        .collect();
    let at = bytes.windows(8).position(|window| window == key).unwrap();
    let mut degrees = bytes;
    degrees[at + 6] = 2;
    assert_eq!(
        fault(degrees),
        "the coordinates are latitude and longitude in degrees"
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(128))]

    /// Whatever happens to the bytes, the reader answers.
    #[test]
    fn mutated_bytes_never_panic(changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 1..12), tail in any::<bool>()) {
        let mut bytes = written();
        for (at, byte) in changes {
            // The directory stands at the end; there a change matters most.
            let at = if tail { bytes.len() - 1 - at.index(400) } else { at.index(bytes.len()) };
            bytes[at] = byte;
        }
        let _ = read(Cursor::new(bytes));
    }
}
