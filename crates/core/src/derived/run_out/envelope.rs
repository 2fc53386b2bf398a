//! The highest of many planes, each of which holds in its own part of the plan.

use super::patches::Patch;
use crate::plan::cross;
use crate::plan::{Extent, Place, Precision};
use crate::surface::Vertex;

/// Convex pieces that do not overlap, each at the height of the highest patch there.
pub(super) fn envelope(patches: &[Patch], precision: Precision) -> Vec<Vec<Vertex>> {
    let extents: Vec<Extent> = (patches.iter())
        .map(|patch| Extent::of(patch.corners.iter().copied()))
        .collect();
    let mut pieces = Vec::new();
    for (index, patch) in patches.iter().enumerate() {
        let mut parts = vec![patch.corners.clone()];
        for (other, over) in patches.iter().enumerate() {
            if other == index || parts.is_empty() || !extents[index].meets(&extents[other]) {
                continue;
            }
            let mut left = Vec::with_capacity(parts.len());
            for part in parts {
                match hidden(&part, patch, over, other < index, precision) {
                    Some(hidden) => without(part, &hidden, precision, &mut left),
                    None => left.push(part),
                }
            }
            parts = left;
        }
        let raised = |at: Place| Vertex::new(at.east, at.north, patch.plane.at(at));
        pieces.extend(
            parts
                .into_iter()
                .map(|part| part.into_iter().map(raised).collect::<Vec<_>>()),
        );
    }
    pieces
}

/// The part of a piece over which another patch is higher; where they are the same, the first one holds.
fn hidden(
    part: &[Place],
    patch: &Patch,
    over: &Patch,
    first: bool,
    precision: Precision,
) -> Option<Vec<Place>> {
    let same = precision.length();
    let mut shared = part.to_vec();
    for (from, to) in edges(&over.corners) {
        shared = left_of(&shared, precision, |at| cross(from, to, at));
        if area(&shared) <= precision.speck() {
            return None;
        }
    }
    let rise = |at: Place| over.plane.at(at) - patch.plane.at(at);
    let greatest = shared
        .iter()
        .map(|&at| rise(at))
        .fold(f64::NEG_INFINITY, f64::max);
    let least = shared
        .iter()
        .map(|&at| rise(at))
        .fold(f64::INFINITY, f64::min);
    if greatest <= same {
        return (least >= -same && first).then_some(shared);
    }
    let higher = left_of(&shared, precision, rise);
    (area(&higher) > precision.speck()).then_some(higher)
}

/// Parts a convex piece by the edges of a convex part of it, and hands on all but that part.
fn without(
    mut piece: Vec<Place>,
    part: &[Place],
    precision: Precision,
    left: &mut Vec<Vec<Place>>,
) {
    for (from, to) in edges(part) {
        let beyond = left_of(&piece, precision, |at| -cross(from, to, at));
        if area(&beyond) > precision.speck() {
            left.push(beyond);
        }
        piece = left_of(&piece, precision, |at| cross(from, to, at));
    }
}

fn edges(corners: &[Place]) -> impl Iterator<Item = (Place, Place)> + '_ {
    let next = corners.iter().cycle().skip(1);
    corners.iter().zip(next).map(|(&from, &to)| (from, to))
}

/// The part of a convex polygon where a linear function is not below zero. Corners that rounding tells apart
/// are one: the side between them would have no direction.
fn left_of(corners: &[Place], precision: Precision, side: impl Fn(Place) -> f64) -> Vec<Place> {
    let mut kept = Vec::with_capacity(corners.len() + 1);
    for (here, next) in edges(corners) {
        let (a, b) = (side(here), side(next));
        if a >= 0.0 {
            kept.push(here);
        }
        if a * b < 0.0 {
            let share = a / (a - b);
            kept.push(Place::new(
                here.east + share * (next.east - here.east),
                here.north + share * (next.north - here.north),
            ));
        }
    }
    let near = precision.length();
    let same = |a: &Place, b: &Place| (a.east - b.east).abs() + (a.north - b.north).abs() < near;
    kept.dedup_by(|next, before| same(next, before));
    if kept.len() > 1 && same(&kept[0], &kept[kept.len() - 1]) {
        kept.pop();
    }
    kept
}

fn area(corners: &[Place]) -> f64 {
    (2..corners.len())
        .map(|i| cross(corners[0], corners[i - 1], corners[i]))
        .sum::<f64>()
        / 2.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::surface::Plane;
    use crate::units::LengthUnit;

    /// Two strips that meet at an inner corner: each place is covered once, at the higher plane.
    #[test]
    fn strips_are_parted_where_they_meet() {
        let patch = |corners: [(f64, f64); 4], plane: [(f64, f64, f64); 3]| {
            let [a, b, c] = plane.map(|(e, n, h)| Vertex::new(e, n, h));
            Patch {
                corners: corners.map(|(e, n)| Place::new(e, n)).to_vec(),
                plane: Plane::through(a, b, c),
            }
        };
        let patches = [
            patch(
                [(0.0, 0.0), (6.0, 0.0), (6.0, 4.0), (0.0, 4.0)],
                [(0.0, 0.0, 9.0), (6.0, 0.0, 9.0), (0.0, 4.0, 5.0)],
            ),
            patch(
                [(0.0, 0.0), (4.0, 0.0), (4.0, 6.0), (0.0, 6.0)],
                [(0.0, 0.0, 9.0), (0.0, 6.0, 9.0), (4.0, 0.0, 5.0)],
            ),
        ];
        let precision = Frame::new(LengthUnit::Metre, [0.0, 0.0]).precision();
        let pieces = envelope(&patches, precision);
        let places = |piece: &Vec<Vertex>| piece.iter().map(|v| v.place()).collect::<Vec<_>>();
        let covered: f64 = pieces.iter().map(|piece| area(&places(piece))).sum();
        assert_eq!(covered, 24.0 + 24.0 - 16.0);
        for vertex in pieces.iter().flatten() {
            let highest = (9.0 - vertex.north).max(9.0 - vertex.east);
            assert!(vertex.east > 4.0 || vertex.north > 4.0 || vertex.height == highest);
        }
    }
}
