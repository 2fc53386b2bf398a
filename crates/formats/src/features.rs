//! What map files hold: shapes with attributes, as zones and as what a surface is made of.

mod error;
mod heights;
mod layers;

use std::collections::HashMap;

use dapedon_core::plan::Place;
use dapedon_core::points::{Line, LineKind};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;

pub use error::FeatureError;
pub use layers::layer;

use crate::wkt::System;
use crate::{CodeUse, CodeUses, FlatOutline, HeightUnit, RawSurface, RawZone, RawZones};

/// The attribute that names a feature by default.
const NAME: &str = "name";

/// A corner of a shape.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Corner {
    /// Where it stands.
    pub place: Place,
    /// Its height, if it has one.
    pub height: Option<f64>,
}

/// What a feature looks like.
#[derive(Debug, Clone, PartialEq)]
pub enum Shape {
    /// Single points.
    Points(Vec<Corner>),
    /// Lines.
    Lines(Vec<Vec<Corner>>),
    /// Parts of rings, each an outer one and its holes.
    Areas(Vec<Vec<Vec<Corner>>>),
    /// Triangles.
    Facets(Vec<[Corner; 3]>),
    /// Nothing that can be used.
    Nothing,
}

/// A shape and the notes on it.
#[derive(Debug, Clone, PartialEq)]
pub struct Feature {
    /// Its attributes, as the file names them; those without a value are none.
    pub attributes: Vec<(String, String)>,
    /// Its shape.
    pub shape: Shape,
}

/// The features of a file.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Features {
    /// One by one, in the file's order.
    pub features: Vec<Feature>,
    /// The unit of coordinates, where the file says one.
    pub unit: Option<LengthUnit>,
    /// The unit of heights, where the file has one for them.
    pub height_unit: Option<HeightUnit>,
    /// A unit of the file that is not supported.
    pub unknown_unit: Option<String>,
    /// True where heights count downwards.
    pub is_depth: bool,
    /// True where coordinates are latitude and longitude: then they can be looked into, and not measured.
    pub is_geographic: bool,
    /// The coordinate system, as the file names it.
    pub crs: Option<String>,
    /// The system of heights, likewise.
    pub height_system: Option<String>,
    /// What was understood.
    pub notes: Vec<String>,
}

impl Features {
    /// None yet, in a coordinate system.
    pub(crate) fn within(system: System) -> Self {
        Features {
            unit: system.unit,
            height_unit: system.heights,
            unknown_unit: system.unknown_unit,
            is_depth: system.is_depth,
            is_geographic: system.is_geographic,
            crs: system.name,
            height_system: system.height_system,
            notes: system.note.into_iter().collect(),
            ..Features::default()
        }
    }

    /// Refuses what cannot be measured.
    ///
    /// # Errors
    ///
    /// When the coordinates are latitude and longitude.
    pub fn in_lengths(&self) -> Result<(), FeatureError> {
        match self.is_geographic {
            true => Err(FeatureError::Degrees),
            false => Ok(()),
        }
    }

    /// The attributes that any feature has, in the order they are met.
    pub fn attributes(&self) -> Vec<&str> {
        let mut found: Vec<&str> = Vec::new();
        for (name, _) in self.features.iter().flat_map(|feature| &feature.attributes) {
            if !found.contains(&name.as_str()) {
                found.push(name);
            }
        }
        found
    }

    /// The attribute that names features: the one that is wanted, or `name`, whatever its case.
    fn naming(&self, wanted: Option<&str>) -> Result<Option<String>, FeatureError> {
        match (self.attribute(wanted.unwrap_or(NAME)), wanted) {
            (None, Some(wanted)) => Err(FeatureError::NoAttribute {
                wanted: wanted.into(),
                found: self.attributes().into_iter().map(Into::into).collect(),
            }),
            (found, _) => Ok(found),
        }
    }

    /// True where any feature has an attribute of this name, whatever its case.
    pub fn has(&self, attribute: &str) -> bool {
        self.attribute(attribute).is_some()
    }

    /// An attribute by its name, in these letters or else whatever their case.
    fn attribute(&self, name: &str) -> Option<String> {
        let attributes = self.attributes();
        let exact = attributes.iter().find(|known| **known == name);
        let found = exact.or_else(|| {
            attributes
                .iter()
                .find(|known| known.eq_ignore_ascii_case(name))
        });
        found.map(|&name| name.into())
    }

    /// Keeps the features of one name.
    ///
    /// # Errors
    ///
    /// When the attribute that names them is unknown, or none has that name.
    pub fn keep(&mut self, name: &str, name_attribute: Option<&str>) -> Result<(), FeatureError> {
        let naming = self.naming(name_attribute)?;
        let named = |feature: &Feature| feature.named(naming.as_deref()) == Some(name);
        if !self.features.iter().any(named) {
            let names = self
                .features
                .iter()
                .filter_map(|f| f.named(naming.as_deref()));
            let mut found: Vec<String> = names.map(|name| format!("\"{name}\"")).collect();
            found.sort();
            found.dedup();
            return Err(FeatureError::NoSuchName {
                name: name.into(),
                found,
            });
        }
        self.features.retain(named);
        Ok(())
    }

    /// Its areas as zones, named by an attribute; of those alone that have the name `only`, where any has.
    ///
    /// # Errors
    ///
    /// When there are none, the attribute is unknown, or two of them have one name.
    pub fn zones(
        &self,
        only: Option<&str>,
        name_attribute: Option<&str>,
    ) -> Result<RawZones, FeatureError> {
        self.in_lengths()?;
        let naming = self.naming(name_attribute)?;
        let mut found = RawZones {
            unit: self.unit,
            unknown_unit: self.unknown_unit.clone(),
            crs: self.crs.clone(),
            notes: self.notes.clone(),
            ..RawZones::default()
        };
        for (number, feature) in self.features.iter().enumerate() {
            let ring = |ring: &Vec<Corner>| ring.iter().map(|corner| corner.place).collect();
            let parts: Vec<Vec<Vec<Place>>> = match &feature.shape {
                Shape::Areas(parts) => (parts.iter())
                    .map(|rings| rings.iter().map(ring).collect())
                    .collect(),
                Shape::Facets(facets) => (facets.iter())
                    .map(|[a, b, c]| vec![ring(&vec![*a, *b, *c, *a])])
                    .collect(),
                Shape::Points(_) | Shape::Lines(_) | Shape::Nothing => {
                    found.left_out += 1;
                    continue;
                }
            };
            let name = feature.named(naming.as_deref());
            found.unnamed += usize::from(name.is_none());
            let name = name.map_or_else(|| format!("zone {}", found.zones.len() + 1), Into::into);
            found.zones.push(RawZone {
                name,
                feature: number.to_string(),
                parts,
                attributes: feature.attributes.clone(),
            });
        }
        if found.zones.is_empty() {
            return Err(FeatureError::NoZone {
                left_out: found.left_out,
            });
        }
        if let Some(only) = only
            && found.zones.iter().any(|zone| zone.name == only)
        {
            found.zones.retain(|zone| zone.name == only);
        }
        let mut names: Vec<&str> = found.zones.iter().map(|zone| zone.name.as_str()).collect();
        names.sort_unstable();
        match names.windows(2).find(|pair| pair[0] == pair[1]) {
            Some(pair) => Err(FeatureError::NameTwice {
                name: pair[0].into(),
            }),
            None => Ok(found),
        }
    }

    /// What a surface is made of: its triangles, or else its points, and its lines as breaklines; what
    /// `take` names, as it says. What has no heights is skipped, but for outlines, which cut.
    ///
    /// # Errors
    ///
    /// When nothing has heights, or there are facets and other things.
    pub fn surface(
        self,
        take: &CodeUses,
        name_attribute: Option<&str>,
    ) -> Result<RawSurface, FeatureError> {
        self.in_lengths()?;
        let naming = self.naming(name_attribute)?;
        let features = self.features.len();
        let numeric = self.numeric();
        let mut names: Vec<String> = (self.features.iter())
            .filter_map(|feature| feature.named(naming.as_deref()).map(Into::into))
            .collect();
        names.sort();
        names.dedup();
        let concerned = take.names_any(names.iter().map(String::as_str));
        let mut made = SurfaceParts {
            surface: RawSurface {
                unit: self.unit,
                height_unit: self.height_unit,
                unknown_unit: self.unknown_unit,
                is_depth: self.is_depth,
                crs: self.crs,
                height_system: self.height_system,
                notes: self.notes,
                names,
                ..RawSurface::default()
            },
            numbers: HashMap::new(),
            loose: 0,
        };
        for feature in self.features {
            let taken = feature
                .named(naming.as_deref())
                .and_then(|name| take.of(name));
            match (concerned, taken) {
                (true, None) => made.leave_out("features not named in --codes"),
                (_, Some(CodeUse::Skip)) => made.leave_out("features with a code to skip"),
                (_, taken) => made.add(feature.shape, taken),
            }
        }
        let (surface, loose) = (made.surface, made.loose);
        if surface.vertices.is_empty() {
            return Err(FeatureError::NoHeights { features, numeric });
        }
        match &surface.facets {
            Some(facets) if loose > 0 => Err(FeatureError::Mixed {
                facets: facets.len(),
            }),
            _ => Ok(surface),
        }
    }
}

impl Feature {
    fn named(&self, naming: Option<&str>) -> Option<&str> {
        let naming = naming?;
        let value = self.attributes.iter().find(|(name, _)| name == naming);
        value
            .map(|(_, value)| value.trim())
            .filter(|value| !value.is_empty())
    }
}

/// A surface on the way.
struct SurfaceParts {
    surface: RawSurface,
    /// Corners of facets at one place and height are one vertex.
    numbers: HashMap<[u64; 3], u32>,
    /// Points and lines beside facets.
    loose: usize,
}

impl SurfaceParts {
    fn leave_out(&mut self, kind: &str) {
        *self.surface.left_out.entry(kind.into()).or_insert(0) += 1;
    }

    fn add(&mut self, shape: Shape, taken: Option<CodeUse>) {
        match (shape, taken) {
            (Shape::Nothing, _) => self.leave_out("features without geometry"),
            (Shape::Facets(facets), None | Some(CodeUse::Triangles)) => {
                facets.into_iter().for_each(|facet| self.facet(facet));
            }
            (Shape::Points(points), Some(CodeUse::Line(_))) => {
                points.into_iter().for_each(|point| self.point(point));
            }
            (shape, Some(CodeUse::Line(kind))) => {
                shape.lines().for_each(|line| self.line(line, kind));
            }
            (Shape::Lines(lines), None) => {
                (lines.into_iter()).for_each(|line| self.line(line, LineKind::Breakline));
            }
            (Shape::Areas(_), None) => self.leave_out("areas"),
            (shape, None | Some(CodeUse::Points | CodeUse::Heights)) => {
                shape
                    .lines()
                    .flatten()
                    .for_each(|corner| self.point(corner));
            }
            (_, Some(CodeUse::Triangles)) => self.leave_out("features that are not triangles"),
            (_, Some(CodeUse::Skip)) => {}
        }
    }

    fn point(&mut self, corner: Corner) {
        match corner.vertex() {
            Some(vertex) => {
                self.loose += 1;
                self.surface.vertices.push(vertex);
            }
            None => self.leave_out("points without heights"),
        }
    }

    fn line(&mut self, line: Vec<Corner>, kind: LineKind) {
        let flat = line.iter().any(|corner| corner.height.is_none());
        if flat && kind.is_outline() {
            let mut ring: Vec<Place> = line.iter().map(|corner| corner.place).collect();
            if ring.first() != ring.last() {
                ring.extend(ring.first().copied());
            }
            return self.surface.outlines.push(FlatOutline { kind, ring });
        }
        if flat {
            return self.leave_out("lines without heights");
        }
        self.loose += 1;
        let first = self.surface.vertices.len() as u32;
        let vertices = line.iter().filter_map(|corner| corner.vertex());
        self.surface.vertices.extend(vertices);
        self.surface.lines.push(Line {
            kind,
            points: (first..self.surface.vertices.len() as u32).collect(),
        });
    }

    fn facet(&mut self, corners: [Corner; 3]) {
        let [Some(a), Some(b), Some(c)] = corners.map(|corner| corner.vertex()) else {
            return self.leave_out("triangles without heights");
        };
        let vertices = &mut self.surface.vertices;
        let facet = [a, b, c].map(|v| {
            let key = [v.east, v.north, v.height].map(f64::to_bits);
            *self.numbers.entry(key).or_insert_with(|| {
                vertices.push(v);
                vertices.len() as u32 - 1
            })
        });
        self.surface.facets.get_or_insert_default().push(facet);
    }
}

impl Shape {
    /// Areas, or facets where all of them are triangles with heights.
    pub fn of_areas(parts: Vec<Vec<Vec<Corner>>>) -> Self {
        let facet = |rings: &Vec<Vec<Corner>>| match rings.as_slice() {
            [ring] => match ring.as_slice() {
                [a, b, c, d]
                    if a == d && [a, b, c].iter().all(|corner| corner.height.is_some()) =>
                {
                    Some([*a, *b, *c])
                }
                _ => None,
            },
            _ => None,
        };
        match parts.iter().map(facet).collect() {
            Some(facets) => Shape::Facets(facets),
            None => Shape::Areas(parts),
        }
    }

    /// All its corners.
    pub fn corners(&self) -> Box<dyn Iterator<Item = &Corner> + '_> {
        match self {
            Shape::Points(points) => Box::new(points.iter()),
            Shape::Lines(lines) => Box::new(lines.iter().flatten()),
            Shape::Areas(parts) => Box::new(parts.iter().flatten().flatten()),
            Shape::Facets(facets) => Box::new(facets.iter().flatten()),
            Shape::Nothing => Box::new(std::iter::empty()),
        }
    }

    /// All that lies side by side in it, as lines.
    fn lines(self) -> Box<dyn Iterator<Item = Vec<Corner>>> {
        match self {
            Shape::Points(points) => Box::new(points.into_iter().map(|point| vec![point])),
            Shape::Lines(lines) => Box::new(lines.into_iter()),
            Shape::Areas(parts) => Box::new(parts.into_iter().flatten()),
            Shape::Facets(facets) => {
                Box::new((facets.into_iter()).map(|[a, b, c]| vec![a, b, c, a]))
            }
            Shape::Nothing => Box::new(std::iter::empty()),
        }
    }
}

impl Corner {
    fn vertex(&self) -> Option<Vertex> {
        let height = self.height?;
        Some(Vertex::new(self.place.east, self.place.north, height))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn corner(east: f64, north: f64, height: f64) -> Corner {
        Corner {
            place: Place::new(east, north),
            height: (!height.is_nan()).then_some(height),
        }
    }

    fn feature(name: &str, shape: Shape) -> Feature {
        Feature {
            attributes: vec![
                ("NAME".into(), name.into()),
                ("plot".into(), format!("p{name}")),
            ],
            shape,
        }
    }

    fn facet(shift: f64, height: f64) -> Shape {
        let at = |e: f64, n: f64| corner(e + shift, n, height);
        Shape::Facets(vec![[at(0.0, 0.0), at(1.0, 0.0), at(0.0, 1.0)]])
    }

    fn features(features: Vec<Feature>) -> Features {
        Features {
            features,
            ..Features::default()
        }
    }

    #[test]
    fn facets_share_their_corners() {
        let all = features(vec![
            feature("a", facet(0.0, 2.0)),
            feature("b", facet(1.0, 2.0)),
        ]);
        let made = all.clone().surface(&CodeUses::default(), None).unwrap();
        assert_eq!(
            (made.vertices.len(), made.facets.map(|f| f.len())),
            (5, Some(2))
        );
        let zones = all.zones(None, Some("PLOT")).unwrap();
        assert_eq!(zones.zones[1].name, "pb");
        let mixed = features(vec![
            feature("a", facet(0.0, 2.0)),
            feature("b", Shape::Points(vec![corner(5.0, 5.0, 2.0)])),
        ]);
        let fault = mixed.surface(&CodeUses::default(), None).unwrap_err();
        assert_eq!(fault, FeatureError::Mixed { facets: 1 });
    }

    #[test]
    fn lines_are_taken_as_they_are_named() {
        let line = |flat: bool| {
            let height = if flat { f64::NAN } else { 3.0 };
            Shape::Lines(vec![vec![
                corner(0.0, 0.0, height),
                corner(4.0, 0.0, height),
                corner(4.0, 4.0, height),
            ]])
        };
        let all = || {
            features(vec![
                feature("crest", line(false)),
                feature("limit", line(true)),
                feature(
                    "spots",
                    Shape::Points(vec![corner(1.0, 2.0, 5.0), corner(1.0, 3.0, f64::NAN)]),
                ),
            ])
        };
        let plain = all().surface(&CodeUses::default(), None).unwrap();
        assert_eq!(
            (
                plain.vertices.len(),
                plain.lines.len(),
                plain.outlines.len()
            ),
            (4, 1, 0)
        );
        assert_eq!(plain.left_out["lines without heights"], 1);
        assert_eq!(plain.names, ["crest", "limit", "spots"]);
        let mut take = CodeUses::default();
        take.add("limit=edge,spots=points").unwrap();
        let taken = all().surface(&take, None).unwrap();
        assert_eq!(
            (
                taken.vertices.len(),
                taken.lines.len(),
                taken.outlines.len()
            ),
            (1, 0, 1)
        );
        assert_eq!(taken.left_out["features not named in --codes"], 1);
        assert_eq!(taken.outlines[0].ring.len(), 4);
    }

    #[test]
    fn what_is_not_there_is_named() {
        let line = Shape::Lines(vec![vec![corner(0.0, 0.0, f64::NAN); 2]]);
        let all = features(vec![feature("a", line)]);
        let fault = all.zones(None, None).unwrap_err();
        assert_eq!(fault, FeatureError::NoZone { left_out: 1 });
        let fault = all.zones(None, Some("owner")).unwrap_err();
        assert_eq!(
            fault.to_string(),
            "no feature has the attribute \"owner\"; the attributes are NAME, plot"
        );
        let fault = all.surface(&CodeUses::default(), None).unwrap_err();
        assert_eq!(
            fault,
            FeatureError::NoHeights {
                features: 1,
                numeric: Vec::new()
            }
        );
    }
}
