//! Heights of features from one of their attributes: contours and spot heights of maps drawn in plan.

use super::{Corner, FeatureError, Features, Shape};

/// Values that are no numbers are listed up to so many.
const LISTED: usize = 10;

/// A number as attributes write it, with a decimal point or comma.
fn number(text: &str) -> Option<f64> {
    let value: f64 = text.trim().replace(',', ".").parse().ok()?;
    value.is_finite().then_some(value)
}

impl Features {
    /// Gives every corner of a feature the height that the feature has as an attribute, whatever the case of its name. A
    /// feature without a value has no height.
    ///
    /// # Errors
    ///
    /// When no feature has the attribute, or a value is no number.
    pub fn take_heights(&mut self, attribute: &str) -> Result<(), FeatureError> {
        let name = self
            .attribute(attribute)
            .ok_or_else(|| FeatureError::NoHeightAttribute {
                wanted: attribute.into(),
                found: self.numeric(),
            })?;
        let mut wrong = Vec::new();
        for (index, feature) in self.features.iter_mut().enumerate() {
            let value = feature
                .attributes
                .iter()
                .find(|(own, value)| *own == name && !value.trim().is_empty());
            let height = value.and_then(|(_, text)| number(text));
            if let (Some((_, text)), None) = (value, height)
                && wrong.len() < LISTED
            {
                wrong.push(format!("{}: \"{}\"", index + 1, text.trim()));
            }
            feature
                .shape
                .corners_mut()
                .for_each(|corner| corner.height = height);
        }
        match wrong.is_empty() {
            true => {
                self.notes
                    .push(format!("heights from the attribute {name}"));
                Ok(())
            }
            false => Err(FeatureError::NotHeights {
                attribute: name,
                rows: wrong,
            }),
        }
    }

    /// The attributes whose values are numbers throughout, in the order they are met.
    pub fn numeric(&self) -> Vec<String> {
        let all = self.attributes();
        let is_numeric = |name: &&str| {
            let values = self.features.iter().flat_map(|feature| &feature.attributes);
            values
                .filter(|(own, _)| own == *name)
                .all(|(_, value)| value.trim().is_empty() || number(value).is_some())
        };
        all.into_iter().filter(is_numeric).map(Into::into).collect()
    }
}

impl Shape {
    fn corners_mut(&mut self) -> Box<dyn Iterator<Item = &mut Corner> + '_> {
        match self {
            Shape::Points(points) => Box::new(points.iter_mut()),
            Shape::Lines(lines) => Box::new(lines.iter_mut().flatten()),
            Shape::Areas(parts) => Box::new(parts.iter_mut().flatten().flatten()),
            Shape::Facets(facets) => Box::new(facets.iter_mut().flatten()),
            Shape::Nothing => Box::new(std::iter::empty()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::super::Feature;
    use super::*;
    use crate::CodeUses;
    use dapedon_core::plan::Place;

    fn contour(north: f64, elev: &str) -> Feature {
        let corner = |east: f64| Corner {
            place: Place::new(east, north),
            height: None,
        };
        Feature {
            attributes: vec![
                ("ELEV".into(), elev.into()),
                ("kind".into(), "index".into()),
            ],
            shape: Shape::Lines(vec![vec![corner(0.0), corner(9.0)]]),
        }
    }

    fn all(values: &[&str]) -> Features {
        let contours = values
            .iter()
            .zip(0..)
            .map(|(elev, i)| contour(f64::from(i), elev));
        Features {
            features: contours.collect(),
            ..Features::default()
        }
    }

    #[test]
    fn contours_get_the_height_of_their_attribute() {
        let mut found = all(&["12.5", "13,0", ""]);
        assert_eq!(found.numeric(), ["ELEV"]);
        found.take_heights("elev").unwrap();
        let made = found.surface(&CodeUses::default(), None).unwrap();
        let heights: Vec<f64> = made.vertices.iter().map(|v| v.height).collect();
        assert_eq!(heights, [12.5, 12.5, 13.0, 13.0]);
        assert_eq!(
            (made.lines.len(), made.left_out["lines without heights"]),
            (2, 1)
        );
        assert_eq!(made.notes, ["heights from the attribute ELEV"]);
    }

    #[test]
    fn what_is_no_height_is_listed() {
        let words: Vec<&str> = ["1", "low", "inf"].into_iter().cycle().take(30).collect();
        let FeatureError::NotHeights { rows, .. } = all(&words).take_heights("ELEV").unwrap_err()
        else {
            panic!("another error")
        };
        assert_eq!(
            (rows.len(), rows[0].as_str(), rows[1].as_str()),
            (10, "2: \"low\"", "3: \"inf\"")
        );
        let fault = all(&["1"]).take_heights("height").unwrap_err().to_string();
        assert!(
            fault.contains("\"height\"") && fault.contains("ELEV"),
            "{fault}"
        );
    }
}
