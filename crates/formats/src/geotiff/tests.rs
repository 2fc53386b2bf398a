use std::io::Cursor;

use dapedon_core::units::Foot;
use proptest::prelude::*;
use tiff::encoder::TiffEncoder;
use tiff::encoder::colortype::{ColorType, Gray8, Gray32Float};
use tiff::tags::{PhotometricInterpretation, SampleFormat};

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
    let back = read(Cursor::new(written()), None).unwrap();
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
        let error = read(Cursor::new(bytes), None).unwrap_err();
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

/// Heights with an alpha band after each.
struct WithAlpha;

impl ColorType for WithAlpha {
    type Inner = f32;
    const TIFF_VALUE: PhotometricInterpretation = PhotometricInterpretation::BlackIsZero;
    const BITS_PER_SAMPLE: &'static [u16] = &[32, 32];
    const SAMPLE_FORMAT: &'static [SampleFormat] = &[SampleFormat::IEEEFP, SampleFormat::IEEEFP];

    fn horizontal_predict(_: &[f32], _: &mut Vec<f32>) {}
}

const HEIGHTS: [f32; 6] = [10.3, 11.25, 12.5, 13.0, 14.75, 15.1];

/// Heights of three by two pixels, in pictures of one kind or the other.
fn pictures<C: ColorType<Inner = f32>>(
    data: &[f32],
    tags: &[(Tag, u16)],
    mask: Option<[usize; 2]>,
) -> Vec<u8>
where
    [f32]: tiff::encoder::TiffValue,
{
    let mut out = Cursor::new(Vec::new());
    let mut encoder = TiffEncoder::new(&mut out).unwrap();
    let mut image = encoder.new_image::<C>(3, 2).unwrap();
    let directory = image.encoder();
    directory
        .write_tag(Tag::ModelPixelScaleTag, &[2.0, 2.0, 0.0][..])
        .unwrap();
    let tie = [0.0, 0.0, 0.0, 100.0, 204.0, 0.0];
    directory
        .write_tag(Tag::ModelTiepointTag, &tie[..])
        .unwrap();
    for (tag, value) in tags {
        directory.write_tag(*tag, *value).unwrap();
    }
    image.write_data(data).unwrap();
    if let Some([columns, rows]) = mask {
        let mut image = encoder
            .new_image::<Gray8>(columns as u32, rows as u32)
            .unwrap();
        image
            .encoder()
            .write_tag(Tag::NewSubfileType, 4u32)
            .unwrap();
        let shown: Vec<u8> = (0..columns * rows)
            .map(|i| if i == 4 { 0 } else { 255 })
            .collect();
        image.write_data(&shown).unwrap();
    }
    out.into_inner()
}

/// From the south-west on, with the middle of the southern row removed.
fn without_one(found: &GeoTiff) {
    let [a, b, c, d, _, f] = HEIGHTS.map(f64::from);
    let expected = [d, f64::NAN, f, a, b, c];
    assert_eq!(format!("{:?}", found.grid.heights), format!("{expected:?}"));
    assert!(
        found.notes[0].starts_with("1 heights removed by the"),
        "{:?}",
        found.notes
    );
}

#[test]
fn masks_and_alpha_bands_remove_heights() {
    let masked = pictures::<Gray32Float>(&HEIGHTS, &[], Some([3, 2]));
    without_one(&read(Cursor::new(masked), None).unwrap());
    let mut both: Vec<f32> = HEIGHTS.iter().flat_map(|&height| [height, 255.0]).collect();
    both[9] = 0.0;
    let alpha = pictures::<WithAlpha>(&both, &[(Tag::ExtraSamples, 2)], None);
    without_one(&read(Cursor::new(alpha), None).unwrap());
    let other = pictures::<Gray32Float>(&HEIGHTS, &[], Some([2, 2]));
    let error = read(Cursor::new(other), None).unwrap_err();
    assert_eq!(
        error.to_string(),
        "the mask has 2 by 2 pixels, another size than the heights"
    );
    let bands = pictures::<WithAlpha>(&both, &[], None);
    assert!(matches!(
        read(Cursor::new(bands), None),
        Err(GeoTiffError::Bands { bands: 2 })
    ));
}

/// The interpretation of a picture changes nothing; a palette is refused.
#[test]
fn values_are_heights_as_they_are_stored() {
    let plain = pictures::<Gray32Float>(&HEIGHTS, &[], None);
    let entry: Vec<u8> = [262u16, 3, 1, 0]
        .iter()
        .flat_map(|n| n.to_le_bytes())
        .collect();
    let at = plain.windows(8).position(|window| window == entry).unwrap() + 8;
    let as_if = |photometric: u8| {
        let mut bytes = plain.clone();
        bytes[at] = photometric;
        read(Cursor::new(bytes), None)
    };
    let [a, b, c, d, e, f] = HEIGHTS.map(f64::from);
    for photometric in [0, 1, 4] {
        assert_eq!(as_if(photometric).unwrap().grid.heights, [d, e, f, a, b, c]);
    }
    assert!(matches!(as_if(3), Err(GeoTiffError::Palette)));
}

#[test]
fn two_units_of_heights_are_refused_and_one_helps() {
    let keys = |unit: u16| Keys::of(&[1, 1, 0, 1, 4099, 0, 1, unit]);
    let of = |unit, words| height_unit(&keys(unit), words);
    let foot = HeightUnit::Length(LengthUnit::Foot(Foot::International));
    assert_eq!(of(9002, Some("ft")).unwrap(), (Some(foot), None));
    assert_eq!(of(32_767, Some("feet")).unwrap(), (Some(foot), None));
    // A word that says nothing does no harm beside a key; a key that is not supported none beside a word.
    assert_eq!(of(9002, Some("elevation")).unwrap(), (Some(foot), None));
    assert_eq!(of(9014, Some("ft")).unwrap(), (Some(foot), None));
    assert_eq!(
        of(32_767, Some("fathom")).unwrap(),
        (None, Some("fathom".into()))
    );
    assert_eq!(of(9014, None).unwrap(), (None, Some("EPSG:9014".into())));
    let error = of(9001, Some("ft")).unwrap_err();
    assert_eq!(
        error.to_string(),
        "the heights have two units: metre by key 4099, international foot by the band"
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
        let _ = read(Cursor::new(bytes), None);
    }
}
