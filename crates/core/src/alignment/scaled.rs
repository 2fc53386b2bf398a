//! A line in another unit.

use super::element::{Element, Kind};
use super::transition::Cubic;
use super::{Alignment, Chainage, Curve, Equation, Profile, VerticalPoint};
use crate::plan::Place;
use crate::units::LengthUnit;

impl Alignment {
    /// The same line in another unit: places, lengths, chainages and heights.
    pub fn converted(&self, from: LengthUnit, to: LengthUnit) -> Alignment {
        if from == to {
            return self.clone();
        }
        let told = |length: f64| from.convert(length, to);
        let place = |place: Place| Place::new(told(place.east), told(place.north));
        let elements = self.elements.iter().map(|element| Element {
            kind: match element.kind {
                Kind::Straight => Kind::Straight,
                Kind::Arc {
                    centre,
                    radius,
                    turn,
                } => Kind::Arc {
                    centre: place(centre),
                    radius: told(radius),
                    turn,
                },
                // Curvature is one over a length.
                Kind::Spiral(curvature, growth) => {
                    Kind::Spiral(curvature.map(|own| to.convert(own, from)), growth)
                }
                // Its factor is one over a length squared.
                Kind::Cubic(cubic) => Kind::Cubic(Cubic {
                    factor: to.convert(to.convert(cubic.factor, from), from),
                    reach: told(cubic.reach),
                    ..cubic
                }),
            },
            from: place(element.from),
            to: place(element.to),
            direction: element.direction,
            length: told(element.length),
        });
        let jumps = self.chainage.equations().iter().map(|jump| Equation {
            distance: told(jump.distance),
            back: told(jump.back),
            ahead: told(jump.ahead),
        });
        let chainage = Chainage::new(told(self.chainage.start()), jumps.collect());
        let profile = self.profile.as_ref().and_then(|profile| {
            let summits = profile.summits().iter().map(|summit| VerticalPoint {
                distance: told(summit.distance),
                height: told(summit.height),
                curve: match summit.curve {
                    Curve::None => Curve::None,
                    Curve::Parabola(lengths) => Curve::Parabola(lengths.map(told)),
                    Curve::Circle(radius) => Curve::Circle(told(radius)),
                },
            });
            Profile::new(summits.collect()).ok()
        });
        Alignment::new(self.name.clone(), elements.collect(), chainage, profile)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::Turn;
    use crate::units::Foot;

    #[test]
    fn a_line_is_the_same_in_feet() {
        let at = Place::new;
        let spiral = Element::spiral(at(0.0, 0.0), at(0.0, 0.0), 0.3, [0.0, 0.01], 50.0);
        let end = spiral.at(50.0);
        let centre = at(
            end.place.east - 100.0 * libm::sin(end.direction),
            end.place.north + 100.0 * libm::cos(end.direction),
        );
        let arc = Element::arc(
            end.place,
            at(centre.east, centre.north + 100.0),
            centre,
            Turn::Left,
        );
        let jump = Equation {
            distance: 30.0,
            back: 130.0,
            ahead: 200.0,
        };
        let summit = |distance: f64, height: f64| VerticalPoint {
            distance,
            height,
            curve: Curve::None,
        };
        let profile = Profile::new(vec![summit(0.0, 10.0), summit(60.0, 13.0)]).unwrap();
        let line = Alignment::new(
            "line",
            vec![spiral, arc],
            Chainage::new(100.0, vec![jump]),
            Some(profile),
        );
        let foot = LengthUnit::Foot(Foot::International);
        let feet = line.converted(LengthUnit::Metre, foot);
        for step in 0..=10 {
            let distance = line.length() * f64::from(step) / 10.0;
            let (own, other) = (
                line.at(distance).unwrap(),
                feet.at(distance / 0.3048 * (1.0 - 1e-15)).unwrap(),
            );
            assert!((own.place.east - other.place.east * 0.3048).abs() < 1e-9);
            assert!((own.place.north - other.place.north * 0.3048).abs() < 1e-9);
            let height = |line: &Alignment, at: f64| line.profile().unwrap().height(at);
            let (own, other) = (height(&line, distance), height(&feet, distance / 0.3048));
            assert!(
                own.zip(other)
                    .is_none_or(|(own, other)| (own - other * 0.3048).abs() < 1e-9)
            );
        }
        assert!((feet.chainage().of(40.0 / 0.3048) - 210.0 / 0.3048).abs() < 1e-9);
    }
}
