//! A drawing as a picture of pixels.

use std::sync::{Arc, LazyLock};

use resvg::tiny_skia::{Color, Pixmap, Transform};
use resvg::usvg::{Options, Tree, fontdb};

use crate::ReportError;

/// The fonts that drawings are written in: the same on every machine.
static FONTS: [&[u8]; 2] = [
    include_bytes!("../../fonts/DejaVuSans.ttf"),
    include_bytes!("../../fonts/DejaVuSans-Bold.ttf"),
];
/// Their name.
const FAMILY: &str = "DejaVu Sans";
/// Pixels of a picture at most.
const MOST: f64 = 1e8;

static KNOWN: LazyLock<Arc<fontdb::Database>> = LazyLock::new(|| {
    let mut known = fontdb::Database::new();
    for font in FONTS {
        known.load_font_data(font.to_vec());
    }
    for set in [
        fontdb::Database::set_sans_serif_family,
        fontdb::Database::set_serif_family,
        fontdb::Database::set_monospace_family,
    ] {
        set(&mut known, FAMILY);
    }
    Arc::new(known)
});

/// Scripts that the fonts have no letters for, as ranges of their numbers: those of India and of South-East Asia, of China, Japan
/// and Korea, and pictures.
const WITHOUT: [[u32; 2]; 5] = [
    [0x0700, 0x0e7f],
    [0x0f00, 0x109f],
    [0x1100, 0x13ff],
    [0x2e80, 0xfaff],
    [0x1_f000, 0x3_ffff],
];

/// The letters of words that a picture cannot show: they are boxes there.
pub fn without_letter(words: &str) -> usize {
    let lacks = |c: &char| {
        WITHOUT
            .iter()
            .any(|[from, to]| (*from..=*to).contains(&u32::from(*c)))
    };
    words.chars().filter(lacks).count()
}

/// A drawing as a PNG of so many pixels for each of its units; for paper, `dots` to an inch.
///
/// # Errors
///
/// When it is too large, or no drawing.
pub fn png(svg: &str, dots: f64) -> Result<Vec<u8>, ReportError> {
    let options = Options {
        font_family: FAMILY.into(),
        fontdb: KNOWN.clone(),
        // An inch has 96 units of a drawing (SVG, 8.9).
        dpi: 96.0,
        ..Options::default()
    };
    let tree =
        Tree::from_str(svg, &options).map_err(|error| ReportError::Drawing(error.to_string()))?;
    let size = tree.size();
    let scale = dots / 96.0;
    let [width, height] =
        [size.width(), size.height()].map(|along| (f64::from(along) * scale).round().max(1.0));
    if width * height > MOST {
        return Err(ReportError::Drawing(format!(
            "{width:.0} by {height:.0} pixels are too many"
        )));
    }
    let mut pixels = Pixmap::new(width as u32, height as u32)
        .ok_or_else(|| ReportError::Drawing(format!("{width:.0} by {height:.0} pixels")))?;
    // The last pixels may stand beyond the edge of the drawing.
    pixels.fill(Color::WHITE);
    resvg::render(
        &tree,
        Transform::from_scale(scale as f32, scale as f32),
        &mut pixels.as_mut(),
    );
    crate::raster::packed(&pixels, dots)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn letters_are_drawn_and_what_is_not_is_known() {
        let drawing = |words: &str| {
            format!(
                r##"<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 40" font-family="DejaVu Sans"><rect width="200" height="40" fill="#fff"/><text x="5" y="25">{words}</text></svg>"##
            )
        };
        let one = png(&drawing("насыпь 12.5 m³"), 96.0).unwrap();
        assert_eq!(one, png(&drawing("насыпь 12.5 m³"), 96.0).unwrap());
        assert_ne!(one, png(&drawing(""), 96.0).unwrap());
        assert_eq!(
            [
                without_letter("Ünal −±³ насыпь حاجز"),
                without_letter("築堤 1")
            ],
            [0, 2]
        );
        // Letters that are lacking are all drawn as the same box.
        assert_eq!(
            png(&drawing("築"), 96.0).unwrap(),
            png(&drawing("堤"), 96.0).unwrap()
        );
        assert!(png("no drawing", 96.0).is_err());
        assert!(png(&drawing("x"), 1e7).is_err());
    }
}
