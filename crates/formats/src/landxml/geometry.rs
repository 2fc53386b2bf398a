//! The elements of `CoordGeom`: straights, arcs, transition curves and lines of many corners.

use std::collections::HashMap;

use dapedon_core::alignment::{Element, Growth, Turn};
use dapedon_core::plan::Place;

use super::LandXmlError;

/// A geometry element at hand: its attributes, and the places within it by their role.
#[derive(Default)]
pub(super) struct Geometry {
    pub(super) attributes: HashMap<String, String>,
    pub(super) places: HashMap<String, Place>,
    pub(super) list: Vec<Place>,
}

impl Geometry {
    /// The elements that it is: several where it is a line of many corners.
    pub(super) fn elements(&self, name: &str, offset: u64) -> Result<Vec<Element>, LandXmlError> {
        let mut elements = Vec::new();
        let element: &'static str = match name {
            "Line" => "Line",
            "Curve" => "Curve",
            "Spiral" => "Spiral",
            _ => "IrregularLine",
        };
        let place = |part: &'static str| {
            self.places.get(part).copied().ok_or(LandXmlError::Missing {
                offset,
                element,
                part,
            })
        };
        let (from, to) = (place("Start")?, place("End")?);
        let turn = || match self.attributes.get("rot").map(String::as_str) {
            Some("cw") => Ok(Turn::Right),
            Some("ccw") => Ok(Turn::Left),
            _ => Err(LandXmlError::Missing {
                offset,
                element,
                part: "rot",
            }),
        };
        match element {
            "Line" => elements.push(Element::straight(from, to)),
            "Curve" => {
                let arc = Element::arc(from, to, place("Center")?, turn()?);
                elements.push(arc);
            }
            "Spiral" => {
                let kind = self
                    .attributes
                    .get("spiType")
                    .map_or("clothoid", String::as_str);
                // Those that have a published definition.
                let growth = match kind {
                    "clothoid" => Some(Growth::Even),
                    "bloss" => Some(Growth::Bloss),
                    "cosine" => Some(Growth::Cosine),
                    "sinusoid" => Some(Growth::Sine),
                    "cubic" => None,
                    _ => {
                        return Err(LandXmlError::Spiral {
                            offset,
                            found: kind.into(),
                        });
                    }
                };
                let (turn, pi) = (turn()?, place("PI")?);
                let said = |part: &'static str| {
                    let text = self.attributes.get(part);
                    text.map(String::as_str).ok_or(LandXmlError::Missing {
                        offset,
                        element,
                        part,
                    })
                };
                let curvature = |part: &'static str| match said(part)? {
                    "INF" => Ok::<f64, LandXmlError>(0.0),
                    radius => match number(radius, offset)? {
                        0.0 => Ok(0.0),
                        radius => Ok(turn.sign() / radius),
                    },
                };
                let towards =
                    |place: Place| libm::atan2(pi.north - place.north, pi.east - place.east);
                let ends = [curvature("radiusStart")?, curvature("radiusEnd")?];
                elements.push(match growth {
                    Some(growth) => {
                        let length = number(said("length")?, offset)?;
                        Element::transition(from, to, towards(from), ends, length, growth)
                    }
                    None => {
                        let is_out = ends[0] == 0.0;
                        // Between two arcs it has no straight end.
                        if !is_out && ends[1] != 0.0 {
                            return Err(LandXmlError::Spiral {
                                offset,
                                found: "cubic, between two arcs".into(),
                            });
                        }
                        let tangent = towards(if is_out { from } else { to });
                        Element::cubic_parabola(from, to, tangent, is_out)
                    }
                });
            }
            _ => {
                let mut places = vec![from];
                places.extend(self.list.iter().copied().filter(|&p| p != from && p != to));
                places.push(to);
                let straights = places
                    .windows(2)
                    .map(|pair| Element::straight(pair[0], pair[1]));
                elements.extend(straights);
            }
        }
        Ok(elements)
    }
}

/// A finite number.
pub(super) fn number(text: &str, offset: u64) -> Result<f64, LandXmlError> {
    let parsed: Option<f64> = fast_float2::parse(text.trim()).ok();
    parsed
        .filter(|number| number.is_finite())
        .ok_or_else(|| LandXmlError::NotANumber {
            offset,
            found: text.into(),
        })
}
