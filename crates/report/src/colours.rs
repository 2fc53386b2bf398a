//! What a difference looks like: clay where ground was cut, water where it was filled.
//!
//! Lightness falls with depth on both sides, so the classes stay apart in grey print and for eyes
//! that do not tell the hues apart.

pub(crate) type Rgb = [u8; 3];

pub(crate) const CUT: [Rgb; 5] = [
    [246, 224, 204],
    [233, 188, 152],
    [212, 147, 103],
    [181, 104, 62],
    [138, 66, 32],
];
pub(crate) const FILL: [Rgb; 5] = [
    [216, 232, 236],
    [172, 207, 216],
    [120, 174, 190],
    [67, 134, 156],
    [26, 92, 116],
];
pub(crate) const UNCHANGED: Rgb = [222, 220, 212];

/// Heights from low to high: dusk, moss, straw. Lightness rises with height.
pub(crate) const HEIGHTS: [Rgb; 7] = [
    [84, 82, 110],
    [95, 105, 122],
    [108, 129, 123],
    [128, 152, 118],
    [160, 174, 118],
    [199, 195, 131],
    [233, 219, 167],
];

/// A colour along some, from the first at 0 to the last at 1.
pub(crate) fn ramp(colours: &[Rgb], share: f64) -> Rgb {
    let at = share.clamp(0.0, 1.0) * (colours.len() - 1) as f64;
    let low = (at as usize).min(colours.len().saturating_sub(2));
    let share = at - low as f64;
    [0, 1, 2].map(|part| {
        let [from, to] = [colours[low][part], colours[low + 1][part]].map(f64::from);
        (from + share * (to - from)).round() as u8
    })
}

pub(crate) fn hex([r, g, b]: Rgb) -> String {
    format!("#{r:02x}{g:02x}{b:02x}")
}

#[cfg(test)]
mod tests {
    use super::*;

    /// How light a colour is to the eye (ITU-R BT.709).
    fn lightness([r, g, b]: Rgb) -> f64 {
        0.2126 * f64::from(r) + 0.7152 * f64::from(g) + 0.0722 * f64::from(b)
    }

    #[test]
    fn colours_pass_into_each_other_and_grow_dark() {
        assert_eq!(
            (ramp(&CUT, 0.0), ramp(&CUT, 0.5), ramp(&CUT, 1.0)),
            (CUT[0], CUT[2], CUT[4])
        );
        for colours in [&CUT, &FILL] {
            let light: Vec<f64> = (0..=20)
                .map(|i| lightness(ramp(colours, f64::from(i) / 20.0)))
                .collect();
            assert!(light.windows(2).all(|pair| pair[0] > pair[1]), "{light:?}");
        }
        assert!(
            HEIGHTS
                .windows(2)
                .all(|pair| lightness(pair[0]) < lightness(pair[1]))
        );
    }
}
