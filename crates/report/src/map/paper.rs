//! Paper that a map is drawn on, at a true scale.

use dapedon_core::plan::Extent;
use dapedon_core::units::LengthUnit;

/// Sheets of paper.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PaperSize {
    /// 210 by 297 mm.
    A4,
    /// 297 by 420 mm.
    A3,
    /// 594 by 841 mm.
    A1,
    /// 8.5 by 11 inches.
    Letter,
    /// 11 by 17 inches.
    Tabloid,
}

/// Paper for a map.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Paper {
    /// Its size.
    pub size: PaperSize,
    /// Higher than wide.
    pub upright: bool,
    /// The scale of the map, 1 to this; without, the largest round one at which it fits.
    pub scale: Option<u32>,
}

/// A drawing does not fit its paper at the scale that was asked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("the drawing does not fit the paper at 1:{asked}; it fits at 1:{fits}")]
pub struct TooLarge {
    /// The scale that was asked for.
    pub asked: u32,
    /// The largest round scale at which it fits.
    pub fits: u32,
}

impl Paper {
    /// Its width and height in millimetres.
    pub fn millimetres(&self) -> [f64; 2] {
        let [short, long] = match self.size {
            PaperSize::A4 => [210.0, 297.0],
            PaperSize::A3 => [297.0, 420.0],
            PaperSize::A1 => [594.0, 841.0],
            PaperSize::Letter => [215.9, 279.4],
            PaperSize::Tabloid => [279.4, 431.8],
        };
        match self.upright {
            true => [short, long],
            false => [long, short],
        }
    }

    /// The largest round scale at which so many units of the ground stand on a millimetre.
    pub(crate) fn round_scale(&self, per_millimetre: f64, unit: LengthUnit) -> u32 {
        let needed = 1000.0 * unit.convert(per_millimetre, LengthUnit::Metre);
        round_scale(needed, steps_of(unit))
    }

    /// The scale for an extent in some room, in millimetres: the one that was asked for, or the largest round one.
    ///
    /// # Errors
    ///
    /// When the extent does not fit at the scale that was asked for.
    pub(super) fn scale_for(
        &self,
        extent: &Extent,
        unit: LengthUnit,
        room: [f64; 2],
    ) -> Result<u32, TooLarge> {
        let metres = |length: f64| unit.convert(length, LengthUnit::Metre);
        let needed = (1000.0 * metres(extent.width()) / room[0])
            .max(1000.0 * metres(extent.height()) / room[1]);
        let fits = round_scale(needed, steps_of(unit));
        match self.scale {
            // A hair over is what rounding makes of a map that just fits.
            Some(asked) if f64::from(asked) < needed * (1.0 - 1e-9) => {
                Err(TooLarge { asked, fits })
            }
            Some(asked) => Ok(asked),
            None => Ok(fits),
        }
    }
}

/// The round scales of maps in a unit.
fn steps_of(unit: LengthUnit) -> &'static [f64] {
    match unit {
        LengthUnit::Metre => &METRIC,
        LengthUnit::Foot(_) => &FEET,
    }
}

/// Round scales of metric maps, between one power of ten and the next.
const METRIC: [f64; 9] = [1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 7.5];
/// Those of maps in feet: an inch to 10, 20, ... feet, of twelve inches each.
const FEET: [f64; 6] = [1.2, 2.4, 3.6, 4.8, 6.0, 7.2];

/// The largest round scale that is no larger than 1 to `needed`.
fn round_scale(needed: f64, steps: &[f64]) -> u32 {
    let mut ten = 1.0f64;
    while ten < 1e9 {
        for step in steps {
            let scale = step * ten;
            if (scale - scale.round()).abs() < 1e-9 && scale >= needed * (1.0 - 1e-9) {
                return scale.round() as u32;
            }
        }
        ten *= 10.0;
    }
    u32::MAX
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_core::plan::Place;

    #[test]
    fn scales_are_round_and_large_enough() {
        let metric = [0.3, 1.0, 2.4, 430.0, 501.0, 9999.0];
        let metric = metric.map(|needed| round_scale(needed, &METRIC));
        assert_eq!(metric, [1, 1, 3, 500, 750, 10_000]);
        // An inch to 20, to 50 and to 100 feet.
        let feet = [200.0, 500.0, 1000.0].map(|needed| round_scale(needed, &FEET));
        assert_eq!(feet, [240, 600, 1200]);
        let extent = Extent::of([Place::new(0.0, 0.0), Place::new(100.0, 60.0)]);
        let paper = |scale| Paper {
            size: PaperSize::A4,
            upright: false,
            scale,
        };
        let fit = |scale| paper(scale).scale_for(&extent, LengthUnit::Metre, [200.0, 150.0]);
        assert_eq!(fit(None), Ok(500));
        assert_eq!(fit(Some(600)), Ok(600));
        assert_eq!(
            fit(Some(499)),
            Err(TooLarge {
                asked: 499,
                fits: 500
            })
        );
    }
}
