//! How finely the numbers of a survey are distinguished: all tolerances are here, under their names.
//!
//! None of them is a choice for the user. They follow from what is measured: how far its coordinates lie from zero, which
//! says what a double loses of them, over how much ground edges may leave gaps, and what no instrument resolves. They are
//! lengths of the ground, so that a survey in feet is judged as the same one in metres.

use crate::plan::{Extent, Frame};
use crate::units::LengthUnit;

/// Sums and shares that differ by less of the whole are the same.
pub const RELATIVE: f64 = 1e-9;

/// Sums of products that cancel to less of what they are made of are nothing but rounding.
pub(crate) const CANCELLED: f64 = 1e-12;

/// Points whose spread across a line is a smaller share of that along it stand in the line: squares of lengths.
pub(crate) const IN_LINE: f64 = 1e-6;

/// Of a length that was followed piece by piece so much may be missing, as a share, and it is whole.
pub(crate) const FOLLOWED: f64 = 1e-6;

/// What no instrument resolves, in metres.
const FINEST: f64 = 1e-8;

/// What is lost of a coordinate: half of the last digit of a double, in each of some sixteen steps.
const LOST: f64 = 8.0 * f64::EPSILON;

/// Ends of a line that was drawn closed may stand so far apart, in metres: its coordinates were written to the
/// millimetre.
const WRITTEN: f64 = 1e-3;

/// What several steps of arithmetic may open between places that are one, in lengths of one step.
const STEPS: f64 = 100.0;

/// How finely places, heights and areas of a survey are distinguished, in its unit.
///
/// ```
/// use dapedon_core::plan::Frame;
/// use dapedon_core::units::LengthUnit;
/// let near = Frame::new(LengthUnit::Metre, [0.0, 0.0]).precision();
/// assert_eq!(near.length(), 1e-8);
/// // A double of nine thousand kilometres holds less.
/// let far = Frame::new(LengthUnit::Metre, [500_000.0, 9_000_000.0]).precision();
/// assert!(far.length() > near.length() && far.length() < 2e-8);
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Precision {
    unit: LengthUnit,
    length: f64,
}

impl Precision {
    /// Places no farther apart are one, and heights that differ by no more are the same: well below what any instrument
    /// resolves, above what a double loses.
    pub fn length(self) -> f64 {
        self.length
    }

    /// The same for places and heights that were worked out in several steps, as where slopes meet the ground.
    pub fn worked_out(self) -> f64 {
        STEPS * self.length
    }

    /// Areas no larger are what rounding leaves along edges that nearly meet, over ground of an extent: a strip as wide
    /// as coordinates resolve, along two of its sides. Ground without end counts as a kilometre each way.
    pub fn area(self, extent: &Extent) -> f64 {
        let along = extent.width() + extent.height();
        let far = LengthUnit::Metre.convert(2000.0, self.unit);
        self.length * if along.is_finite() { along } else { far }
    }

    /// Pieces no larger are nothing: a square as wide as what several steps of arithmetic may open.
    pub(crate) fn speck(self) -> f64 {
        self.worked_out() * self.worked_out()
    }

    /// Ends of a line that are no farther apart were drawn as one place.
    pub(crate) fn written(self) -> f64 {
        LengthUnit::Metre.convert(WRITTEN, self.unit)
    }
}

impl Frame {
    /// How finely what is held in it is distinguished.
    pub fn precision(&self) -> Precision {
        let [east, north] = self.origin().map(f64::abs);
        let finest = LengthUnit::Metre.convert(FINEST, self.unit());
        Precision {
            unit: self.unit(),
            length: finest.max(LOST * east.max(north)),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Place;
    use crate::units::Foot;

    /// The same ground in metres and in feet is distinguished by the same lengths and areas.
    #[test]
    fn the_unit_makes_no_difference() {
        let foot = LengthUnit::Foot(Foot::International);
        for origin in [[0.0, 0.0], [400_000.0, 5_000_000.0], [0.0, -30_000_000.0]] {
            let metres = Frame::new(LengthUnit::Metre, origin).precision();
            let feet = origin.map(|value| LengthUnit::Metre.convert(value, foot));
            let feet = Frame::new(foot, feet).precision();
            let to_feet = |value: f64| LengthUnit::Metre.convert(value, foot);
            let near = |a: f64, b: f64| (a / b - 1.0).abs() < 1e-6;
            let far = Extent::of([Place::new(0.0, 0.0), Place::new(300.0, 200.0)]);
            let in_feet = Extent::of([far.min, Place::new(to_feet(300.0), to_feet(200.0))]);
            assert!(near(feet.length(), to_feet(metres.length())));
            assert!(near(feet.worked_out(), to_feet(metres.worked_out())));
            assert!(near(feet.written(), to_feet(metres.written())));
            let square = |value: f64| to_feet(to_feet(value));
            assert!(near(feet.area(&in_feet), square(metres.area(&far))));
            let endless = Extent::EVERYWHERE;
            assert!(near(feet.area(&endless), square(metres.area(&endless))));
        }
    }

    /// Taking an origin off and putting it on again moves no place by as much as places are distinguished by.
    #[test]
    fn it_is_more_than_a_double_loses() {
        for origin in [0.0, 6e6, 4e7, 9e8] {
            let frame = Frame::new(LengthUnit::Metre, [origin, origin]);
            for step in 0..1000 {
                let east = origin + f64::from(step) * 1.234_567;
                let local = frame.to_local(east / 3.0 * 3.0, east);
                let back = frame.to_grid(Place::new(local.east / 7.0 * 7.0, local.north));
                assert!((back.east - east).abs() < frame.precision().length());
            }
        }
    }
}
