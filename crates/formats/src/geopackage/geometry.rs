//! A stored geometry: the header of GeoPackage, then well-known binary (OGC 06-103r4, ISO 13249-3).

use dapedon_core::plan::Place;

use crate::features::{Corner, Shape};

/// How deep geometries may lie within each other.
const DEPTH: usize = 8;
/// Bytes of the header before its extent.
const HEADER: usize = 8;

/// Why a geometry could not be read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Unread {
    /// It ends too early, or is no geometry.
    NotValid,
    /// Its kind is not supported.
    Kind(&'static str),
}

/// Reads a geometry.
pub(super) fn shape(bytes: &[u8]) -> Result<Shape, Unread> {
    let front = bytes.get(..HEADER).ok_or(Unread::NotValid)?;
    if !front.starts_with(b"GP") {
        return Err(Unread::NotValid);
    }
    let flags = front[3];
    if flags & 0x20 != 0 {
        return Err(Unread::Kind("geometries of another application"));
    }
    if flags & 0x10 != 0 {
        return Ok(Shape::Nothing);
    }
    let extent = match flags >> 1 & 7 {
        0 => 0,
        1 => 32,
        2 | 3 => 48,
        4 => 64,
        _ => return Err(Unread::NotValid),
    };
    let mut parts = Parts::default();
    let mut input = Bytes {
        rest: bytes.get(HEADER + extent..).ok_or(Unread::NotValid)?,
        is_little: true,
    };
    parts.geometry(&mut input, DEPTH)?;
    parts.shape()
}

/// Bytes ahead, in the order that the last geometry named.
struct Bytes<'b> {
    rest: &'b [u8],
    is_little: bool,
}

impl Bytes<'_> {
    fn take<const N: usize>(&mut self) -> Result<[u8; N], Unread> {
        let (first, rest) = self.rest.split_first_chunk().ok_or(Unread::NotValid)?;
        self.rest = rest;
        Ok(*first)
    }

    fn u32(&mut self) -> Result<u32, Unread> {
        let bytes = self.take()?;
        Ok(match self.is_little {
            true => u32::from_le_bytes(bytes),
            false => u32::from_be_bytes(bytes),
        })
    }

    fn f64(&mut self) -> Result<f64, Unread> {
        let bytes = self.take()?;
        Ok(match self.is_little {
            true => f64::from_le_bytes(bytes),
            false => f64::from_be_bytes(bytes),
        })
    }

    /// How many of something follow, each of which takes some bytes at least.
    fn count(&mut self, least: usize) -> Result<usize, Unread> {
        let count = self.u32()? as usize;
        match count.checked_mul(least) {
            Some(bytes) if bytes <= self.rest.len() => Ok(count),
            _ => Err(Unread::NotValid),
        }
    }
}

/// Which values a corner has.
#[derive(Clone, Copy)]
struct Values {
    has_height: bool,
    has_measure: bool,
}

impl Values {
    fn bytes(self) -> usize {
        8 * (2 + usize::from(self.has_height) + usize::from(self.has_measure))
    }

    fn corner(self, input: &mut Bytes<'_>) -> Result<Corner, Unread> {
        let place = Place::new(input.f64()?, input.f64()?);
        let height = match self.has_height {
            true => Some(input.f64()?).filter(|height| height.is_finite()),
            false => None,
        };
        if self.has_measure {
            input.f64()?;
        }
        Ok(Corner { place, height })
    }

    fn corners(self, input: &mut Bytes<'_>) -> Result<Vec<Corner>, Unread> {
        let count = input.count(self.bytes())?;
        (0..count).map(|_| self.corner(input)).collect()
    }
}

/// What a geometry and those within it are made of.
#[derive(Default)]
struct Parts {
    points: Vec<Corner>,
    lines: Vec<Vec<Corner>>,
    areas: Vec<Vec<Vec<Corner>>>,
}

impl Parts {
    /// Reads a geometry, and what is within it.
    fn geometry(&mut self, input: &mut Bytes<'_>, depth: usize) -> Result<(), Unread> {
        input.is_little = match input.take()? {
            [0] => false,
            [1] => true,
            _ => return Err(Unread::NotValid),
        };
        let kind = input.u32()?;
        // Thousands tell the values of the standard; the high bits those of an older custom.
        let thousands = (kind & 0xffff) / 1000;
        let values = Values {
            has_height: matches!(thousands, 1 | 3) || kind & 0x8000_0000 != 0,
            has_measure: matches!(thousands, 2 | 3) || kind & 0x4000_0000 != 0,
        };
        match (kind & 0xffff) % 1000 {
            1 => {
                let corner = values.corner(input)?;
                // A point that is not a number is an empty one.
                if !corner.place.east.is_nan() && !corner.place.north.is_nan() {
                    self.points.push(corner);
                }
            }
            2 => self.lines.push(values.corners(input)?),
            3 | 17 => {
                let rings = input.count(4)?;
                let rings = (0..rings).map(|_| values.corners(input));
                let rings: Vec<_> = rings.collect::<Result<_, _>>()?;
                if !rings.is_empty() {
                    self.areas.push(rings);
                }
            }
            4..=7 | 15 | 16 => {
                let count = input.count(5)?;
                let inner = depth.checked_sub(1).ok_or(Unread::NotValid)?;
                for _ in 0..count {
                    self.geometry(input, inner)?;
                }
            }
            8..=14 => return Err(Unread::Kind("curves")),
            _ => return Err(Unread::NotValid),
        }
        Ok(())
    }

    /// One kind of things: a feature of several kinds is none that can be told to be a zone, a line or a point.
    fn shape(self) -> Result<Shape, Unread> {
        let Parts {
            points,
            lines,
            areas,
        } = self;
        match (points.is_empty(), lines.is_empty(), areas.is_empty()) {
            (true, true, true) => Ok(Shape::Nothing),
            (false, true, true) => Ok(Shape::Points(points)),
            (true, false, true) => Ok(Shape::Lines(lines)),
            (true, true, false) => Ok(Shape::of_areas(areas)),
            _ => Err(Unread::Kind("collections of several kinds")),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The header, with an extent of a kind.
    fn header(extent: u8, bytes: usize) -> Vec<u8> {
        let mut front = vec![b'G', b'P', 0, 1 | extent << 1, 0, 0, 0, 0];
        front.extend(vec![0; bytes]);
        front
    }

    fn numbers(values: &[f64]) -> Vec<u8> {
        values
            .iter()
            .flat_map(|value| value.to_le_bytes())
            .collect()
    }

    /// A line in little endian, of a kind.
    fn line(kind: u32, corners: u32, values: &[f64]) -> Vec<u8> {
        let head = [&[1][..], &kind.to_le_bytes(), &corners.to_le_bytes()].concat();
        [head, numbers(values)].concat()
    }

    fn heights(bytes: &[u8]) -> Vec<Option<f64>> {
        let shape = shape(bytes).unwrap();
        shape.corners().map(|corner| corner.height).collect()
    }

    #[test]
    fn values_are_told_by_thousands_or_by_high_bits() {
        let three = [1.0, 2.0, 7.0, 3.0, 4.0, 8.0];
        for (kind, values, expected) in [
            (1002, &three[..], [Some(7.0), Some(8.0)]),
            (0x8000_0002, &three, [Some(7.0), Some(8.0)]),
            (2002, &three, [None, None]),
            (2, &three[..4], [None, None]),
            (
                3002,
                &[1.0, 2.0, 7.0, 0.0, 3.0, 4.0, f64::NAN, 0.0],
                [Some(7.0), None],
            ),
        ] {
            for (extent, bytes) in [(0, 0), (1, 32), (2, 48), (3, 48), (4, 64)] {
                let all = [header(extent, bytes), line(kind, 2, values)].concat();
                assert_eq!(heights(&all), expected, "{kind:x}");
            }
        }
    }

    #[test]
    fn geometries_within_each_other_are_one_shape() {
        let one = line(1002, 2, &[1.0, 2.0, 7.0, 3.0, 4.0, 8.0]);
        let mut big: Vec<u8> = vec![0, 0, 0, 3, 234, 0, 0, 0, 1];
        for value in [5.0_f64, 6.0, 9.0] {
            big.extend(value.to_be_bytes());
        }
        let both = [header(0, 0), line(1005, 2, &[]), one.clone(), big].concat();
        assert_eq!(heights(&both), [Some(7.0), Some(8.0), Some(9.0)]);
        let point = [&[1, 1, 0, 0, 0][..], &numbers(&[1.0, 2.0])].concat();
        let mixed = [header(0, 0), line(7, 2, &[]), one, point].concat();
        assert_eq!(
            shape(&mixed),
            Err(Unread::Kind("collections of several kinds"))
        );
        let nested = [header(0, 0), line(7, 1, &[]).repeat(DEPTH + 2)].concat();
        assert_eq!(shape(&nested), Err(Unread::NotValid));
    }

    #[test]
    fn triangles_are_facets_and_what_is_empty_is_nothing() {
        let corners = [0.0, 0.0, 1.0, 9.0, 0.0, 2.0, 0.0, 9.0, 3.0, 0.0, 0.0, 1.0];
        let ring = [&4_u32.to_le_bytes()[..], &numbers(&corners)].concat();
        let triangle = [line(1017, 1, &[]), ring].concat();
        let net = [header(0, 0), line(1016, 2, &[]), triangle.repeat(2)].concat();
        let Ok(Shape::Facets(facets)) = shape(&net) else {
            panic!("no facets")
        };
        assert_eq!(facets.len(), 2);
        let point = [header(0, 0), vec![1, 1, 0, 0, 0], numbers(&[f64::NAN; 2])].concat();
        for nothing in [
            point,
            [header(0, 0), line(4, 0, &[])].concat(),
            vec![b'G', b'P', 0, 0x11, 0, 0, 0, 0],
        ] {
            assert_eq!(shape(&nothing), Ok(Shape::Nothing));
        }
        let arc = [header(0, 0), line(8, 0, &[])].concat();
        assert_eq!(shape(&arc), Err(Unread::Kind("curves")));
    }

    #[test]
    fn what_is_cut_off_is_not_valid() {
        let whole = [
            header(1, 32),
            line(1002, 2, &[1.0, 2.0, 7.0, 3.0, 4.0, 8.0]),
        ]
        .concat();
        for end in 0..whole.len() {
            assert_eq!(shape(&whole[..end]), Err(Unread::NotValid), "{end}");
        }
        let many = [header(0, 0), line(1002, u32::MAX, &[1.0; 6])].concat();
        assert_eq!(shape(&many), Err(Unread::NotValid));
    }
}
