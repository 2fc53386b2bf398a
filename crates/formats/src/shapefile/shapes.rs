//! Records of a shapefile as shapes.

use dapedon_core::plan::Place;
use shapefile::record::polygon::GenericPolygon;
use shapefile::record::traits::{HasXY, HasZ};
use shapefile::{Patch, PointZ, PolygonRing, Shape as Record};

use crate::features::{Corner, Shape};

/// The shape of a record.
pub(super) fn shape(record: Record) -> Shape {
    let flat = |x: f64, y: f64| Corner {
        place: Place::new(x, y),
        height: None,
    };
    let raised = |p: &PointZ| Corner {
        place: Place::new(p.x(), p.y()),
        height: (p.z().is_finite() && p.z() > shapefile::NO_DATA).then_some(p.z()),
    };
    match record {
        Record::NullShape => Shape::Nothing,
        Record::Point(p) => Shape::Points(vec![flat(p.x, p.y)]),
        Record::PointM(p) => Shape::Points(vec![flat(p.x, p.y)]),
        Record::PointZ(p) => Shape::Points(vec![raised(&p)]),
        Record::Multipoint(all) => Shape::Points(each(all.points(), |p| flat(p.x, p.y))),
        Record::MultipointM(all) => Shape::Points(each(all.points(), |p| flat(p.x, p.y))),
        Record::MultipointZ(all) => Shape::Points(each(all.points(), raised)),
        Record::Polyline(line) => lines(line.parts(), |p| flat(p.x, p.y)),
        Record::PolylineM(line) => lines(line.parts(), |p| flat(p.x, p.y)),
        Record::PolylineZ(line) => lines(line.parts(), raised),
        Record::Polygon(area) => areas(&area, |p| flat(p.x, p.y)),
        Record::PolygonM(area) => areas(&area, |p| flat(p.x, p.y)),
        Record::PolygonZ(area) => areas(&area, raised),
        Record::Multipatch(patches) => {
            let mut facets = Vec::new();
            let mut parts: Vec<Vec<Vec<Corner>>> = Vec::new();
            for patch in patches.patches() {
                match patch {
                    Patch::TriangleStrip(points) => {
                        let corners = each(points, raised);
                        facets.extend(corners.windows(3).map(|w| [w[0], w[1], w[2]]));
                    }
                    Patch::TriangleFan(points) => {
                        let corners = each(points, raised);
                        let around = corners.get(1..).unwrap_or_default().windows(2);
                        facets.extend(around.map(|w| [corners[0], w[0], w[1]]));
                    }
                    Patch::InnerRing(points) => match parts.last_mut() {
                        Some(part) => part.push(each(points, raised)),
                        None => parts.push(vec![each(points, raised)]),
                    },
                    Patch::OuterRing(points) | Patch::FirstRing(points) | Patch::Ring(points) => {
                        parts.push(vec![each(points, raised)]);
                    }
                }
            }
            match (Shape::of_areas(parts), facets.is_empty()) {
                (Shape::Facets(more), _) => {
                    facets.extend(more);
                    Shape::Facets(facets)
                }
                (areas, true) => areas,
                (_, false) => Shape::Facets(facets),
            }
        }
    }
}

fn each<P>(points: &[P], corner: impl Fn(&P) -> Corner) -> Vec<Corner> {
    points.iter().map(corner).collect()
}

fn lines<P>(parts: &[Vec<P>], corner: impl Fn(&P) -> Corner) -> Shape {
    Shape::Lines(parts.iter().map(|part| each(part, &corner)).collect())
}

/// Outer rings are parts of their own. Which of them a hole lies in the file does not say, and does not
/// matter: a ring is reported a hole by its turning.
fn areas<P>(area: &GenericPolygon<P>, corner: impl Fn(&P) -> Corner) -> Shape {
    let mut parts: Vec<Vec<Vec<Corner>>> = Vec::new();
    let mut holes = Vec::new();
    for ring in area.rings() {
        match ring {
            PolygonRing::Outer(points) => parts.push(vec![each(points, &corner)]),
            PolygonRing::Inner(points) => holes.push(each(points, &corner)),
        }
    }
    match parts.first_mut() {
        Some(first) => first.append(&mut holes),
        // All turn the wrong way: a file that tells no holes.
        None => parts.extend(holes.into_iter().map(|ring| vec![ring])),
    }
    Shape::of_areas(parts)
}
