//! Heights written beside points: as text, or as attributes of an inserted block.

use std::collections::BTreeSet;

use dapedon_core::surface::Vertex;
use rstar::RTree;
use rstar::primitives::GeomWithData;

/// A written height is looked for within so many heights of its letters from its point.
const REACH: f64 = 3.0;

/// Points that a number is tried with.
const NEAREST: usize = 8;

/// Where a point stands, and which it is.
type Place = GeomWithData<[f64; 2], usize>;

/// Tags of attributes that hold a height.
const HEIGHT_TAGS: [&str; 18] = [
    "H",
    "Z",
    "HEIGHT",
    "HGT",
    "ELEV",
    "ELEVATION",
    "EL",
    "LEVEL",
    "RL",
    "ALT",
    "ALTITUDE",
    "HOEHE",
    "HÖHE",
    "COTA",
    "KOTE",
    "QUOTA",
    "COTE",
    "KOTA",
];

/// A number that is written in a drawing.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WrittenNumber {
    /// Where it is written, or the point that it is an attribute of.
    pub at: Vertex,
    /// The number.
    pub value: f64,
    /// How far from it its point may be; zero where it is the point's own.
    pub reach: f64,
}

/// The number that a text consists of: digits with a point or a comma, a sign, and an m for metres after it.
pub(super) fn number(text: &str) -> Option<f64> {
    let text = text.trim();
    let text = text.strip_suffix('m').map_or(text, str::trim_end);
    let digits = text.strip_prefix(['+', '-']).unwrap_or(text);
    let is_number = digits.starts_with(|c: char| c.is_ascii_digit())
        && digits
            .chars()
            .all(|c| c.is_ascii_digit() || matches!(c, '.' | ','))
        && digits.chars().filter(|c| matches!(c, '.' | ',')).count() <= 1;
    let value: f64 = is_number.then(|| text.replace(',', ".").parse().ok())??;
    value.is_finite().then_some(value)
}

/// How far the point of a text may be from it.
pub(super) fn reach(letters: f64) -> f64 {
    REACH * letters.max(0.0)
}

/// The height among the attributes of a block, as tag and text: one with the tag of a height, or else the only number with
/// decimals.
pub(super) fn height_of(attributes: &[(String, String)]) -> Option<f64> {
    let is_height = |tag: &str| HEIGHT_TAGS.contains(&tag);
    let tagged = attributes
        .iter()
        .find(|(tag, text)| is_height(tag) && number(text).is_some());
    if let Some((_, text)) = tagged {
        return number(text);
    }
    let mut decimals = (attributes.iter())
        .filter(|(_, text)| text.contains(['.', ',']))
        .filter_map(|(_, text)| number(text));
    let first = decimals.next();
    first.filter(|_| decimals.next().is_none())
}

/// Points that written heights make.
#[derive(Debug, Default, PartialEq)]
pub(super) struct WrittenPoints {
    pub(super) points: Vec<Vertex>,
    /// Of these, how many have no point near and lie where their text begins.
    pub(super) alone: usize,
    /// Numbers whose point has a height already.
    pub(super) known: usize,
}

/// Gives each number to the nearest point within its reach, the closest pairs first, and each point to one number.
pub(super) fn matched(numbers: &[WrittenNumber], points: &[Vertex]) -> WrittenPoints {
    let mut found = WrittenPoints::default();
    let places: Vec<Place> = points
        .iter()
        .zip(0..)
        .map(|(at, index)| Place::new([at.east, at.north], index))
        .collect();
    let tree = RTree::bulk_load(places);
    let mut pairs = Vec::new();
    let written_beside = numbers
        .iter()
        .enumerate()
        .filter(|(_, number)| number.reach > 0.0);
    for (index, number) in written_beside {
        let near = tree.nearest_neighbor_iter_with_distance_2(&[number.at.east, number.at.north]);
        // However large the letters are, a number belongs to one of the nearest points.
        for (place, squared) in near.take(NEAREST) {
            let away = squared.sqrt();
            if away > number.reach {
                break;
            }
            pairs.push((away, index, place.data));
        }
    }
    pairs.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)).then(a.2.cmp(&b.2)));
    let (mut point_of, mut used) = (vec![None; numbers.len()], BTreeSet::new());
    for (_, number, point) in pairs {
        if point_of[number].is_none() && used.insert(point) {
            point_of[number] = Some(point);
        }
    }
    for (number, point) in numbers.iter().zip(point_of) {
        let at = point.map_or(number.at, |point| points[point]);
        if at.height != 0.0 && (point.is_some() || number.reach == 0.0) {
            found.known += 1;
            continue;
        }
        found.alone += usize::from(point.is_none() && number.reach > 0.0);
        found.points.push(Vertex {
            height: number.value,
            ..at
        });
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_are_read_as_they_are_written() {
        for (text, value) in [
            ("12.34", Some(12.34)),
            (" +12,5 ", Some(12.5)),
            ("-0.75 m", Some(-0.75)),
            ("105", Some(105.0)),
            ("12.5.3", None),
            ("1e5", None),
            ("MH 12", None),
            ("nan", None),
            ("", None),
            ("-", None),
        ] {
            assert_eq!(number(text), value, "{text}");
        }
    }

    #[test]
    fn the_height_of_a_block_is_found_by_its_tag_or_its_decimals() {
        let all = |pairs: &[(&str, &str)]| {
            let own = |&(tag, text): &(&str, &str)| (tag.to_owned(), text.to_owned());
            height_of(&pairs.iter().map(own).collect::<Vec<_>>())
        };
        assert_eq!(all(&[("NUM", "101"), ("RL", "12")]), Some(12.0));
        assert_eq!(
            all(&[("A", "101"), ("B", "12.50"), ("C", "KERB")]),
            Some(12.5)
        );
        assert_eq!(all(&[("A", "1.5"), ("B", "12.50")]), None);
        assert_eq!(all(&[("Z", "none"), ("B", "12.50")]), Some(12.5));
    }

    /// Letters as high as the drawing is wide reach every point: that costs no more than letters of a usual size.
    #[test]
    fn letters_of_any_height_find_the_nearest_points() {
        let at = |i: u32| Vertex::new(f64::from(i % 200), f64::from(i / 200), 0.0);
        let points: Vec<Vertex> = (0..40_000).map(at).collect();
        let written = |(i, v): (usize, &Vertex)| WrittenNumber {
            at: Vertex::new(v.east + 0.2, v.north + 0.1, 0.0),
            value: i as f64,
            reach: 1e6,
        };
        let numbers: Vec<WrittenNumber> = points.iter().enumerate().map(written).collect();
        let found = matched(&numbers, &points);
        assert!(
            found
                .points
                .iter()
                .zip(&points)
                .zip(0..)
                .all(|((found, at), i)| {
                    (found.east, found.north, found.height) == (at.east, at.north, f64::from(i))
                })
        );
    }

    #[test]
    fn each_number_has_one_point() {
        let point = |east: f64, height: f64| Vertex::new(east, 0.0, height);
        let written = |east: f64, value: f64| WrittenNumber {
            at: point(east, 0.0),
            value,
            reach: 1.5,
        };
        // Two points within reach of one number; one number without a point; a point with a height.
        let points = [point(0.0, 0.0), point(1.0, 0.0), point(20.0, 7.0)];
        let numbers = [
            written(0.9, 2.0),
            written(0.3, 1.0),
            written(10.0, 3.0),
            written(20.5, 9.0),
        ];
        let found = matched(&numbers, &points);
        assert_eq!(
            found.points,
            [point(1.0, 2.0), point(0.0, 1.0), point(10.0, 3.0)]
        );
        assert_eq!((found.alone, found.known), (1, 1));
        let own = WrittenNumber {
            reach: 0.0,
            ..written(5.0, 4.0)
        };
        assert_eq!(matched(&[own], &points).points, [point(5.0, 4.0)]);
    }
}
