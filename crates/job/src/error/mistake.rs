//! Mistakes that can be seen from how two surfaces lie to each other.

use dapedon_core::plan::{Extent, Place};
use dapedon_core::units::LengthUnit;

/// What would bring two surfaces together that do not overlap.
pub(crate) fn of_places(a: &Extent, b: &Extent) -> Option<&'static str> {
    // How many of the one unit make one of the other.
    const FACTORS: [(f64, &str); 4] = [
        (
            1.0 / 0.3048,
            "; they overlap if one is in feet and the other in metres",
        ),
        (
            1.0 / 0.0254,
            "; they overlap if one is in inches and the other in metres",
        ),
        (
            25.4,
            "; they overlap if one is in millimetres and the other in inches",
        ),
        (
            1000.0,
            "; they overlap if one is in millimetres and the other in metres",
        ),
    ];
    let size = |extent: &Extent| libm::hypot(extent.width(), extent.height());
    // Of about the same size, too: one at the origin reaches everywhere when it is stretched.
    let moved = |to: &dyn Fn(Place) -> Place| {
        let moved = Extent::of([to(b.min), to(b.max)]);
        moved.meets(a) && (size(a) / 10.0..=size(a) * 10.0).contains(&size(&moved))
    };
    let scaled = |factor: f64| moved(&|p: Place| Place::new(p.east * factor, p.north * factor));
    if moved(&|p| Place::new(p.north, p.east)) {
        return Some("; they overlap if east and north of one are swapped");
    }
    let found = FACTORS
        .into_iter()
        .find(|(factor, _)| scaled(*factor) || scaled(1.0 / factor));
    found.map(|(_, words)| words)
}

/// Differences of height that are nearly the same throughout: the middle one, and how far half of
/// them are from it.
pub(crate) fn of_heights(middle: f64, half: f64, unit: LengthUnit) -> Option<String> {
    let (size, symbol) = (middle.abs(), unit.symbol());
    let least = LengthUnit::Metre.convert(0.05, unit);
    let side = if middle < 0.0 { "below" } else { "above" };
    (size >= least && half < size / 10.0).then(|| {
        format!(
            "the second is {size:.3} {symbol} {side} the first nearly everywhere (half of the ground within ±{half:.3} {symbol}): check the datum and the instrument height, unless this is a layer"
        )
    })
}

/// Heights of which the ones are in feet and the others in metres, by their middles.
pub(crate) fn of_units(first: [f64; 2], second: [f64; 2]) -> Option<&'static str> {
    let middle = |[low, high]: [f64; 2]| (low + high) / 2.0;
    let ratio = middle(second) / middle(first);
    let near = |expected: f64| (ratio / expected - 1.0).abs() < 0.03;
    // The ranges must agree too, or any two heights could be taken for it.
    let spans = (second[1] - second[0]) / (first[1] - first[0]);
    let alike = |expected: f64| (spans / expected - 1.0).abs() < 0.3;
    let found = |expected: f64| near(expected) && alike(expected);
    (found(0.3048) || found(1.0 / 0.3048))
        .then_some("the heights of one look like feet, of the other like metres")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn mistakes_are_seen() {
        let at = |e: f64, n: f64| Extent::of([Place::new(e, n), Place::new(e + 10.0, n + 10.0)]);
        assert!(
            of_places(&at(500.0, 6000.0), &at(6002.0, 505.0))
                .unwrap()
                .contains("swapped")
        );
        let feet = Extent::of([Place::new(1640.0, 19_685.0), Place::new(1670.0, 19_710.0)]);
        assert!(
            of_places(&at(500.0, 6000.0), &feet)
                .unwrap()
                .contains("feet")
        );
        let inches = [0.0, 10.0].map(|d| Place::new((500.0 + d) / 0.0254, (6000.0 + d) / 0.0254));
        let inches = Extent::of(inches);
        let hint = of_places(&at(499.0, 5999.0), &inches).unwrap();
        assert!(hint.contains("inches"), "{hint}");
        assert_eq!(of_places(&at(500.0, 6000.0), &at(900.0, 100.0)), None);
        assert!(
            of_heights(-1.5, 0.02, LengthUnit::Metre)
                .unwrap()
                .contains("1.500 m below")
        );
        assert_eq!(of_heights(0.3, 0.1, LengthUnit::Metre), None);
        assert!(of_units([30.0, 36.0], [98.4, 118.1]).is_some());
        assert_eq!(of_units([30.0, 36.0], [31.0, 35.0]), None);
    }
}
