//! Where the pixels of a GeoTIFF lie.

use super::GeoTiffError;

/// From pixel to pixel and where the corner of the first one lies; rows count from the north, or from the south where
/// the second step is negative.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct PixelPlace {
    pub(super) step: [f64; 2],
    pub(super) start: [f64; 2],
}

impl PixelPlace {
    /// By the numbers of the three tags, or else by a world file.
    pub(super) fn of(
        scale: &[f64],
        ties: &[f64],
        matrix: &[f64],
        world: Option<&str>,
    ) -> Result<Self, GeoTiffError> {
        let place = match (scale, ties, matrix) {
            ([dx, dy, ..], [i, j, _, x, y, ..], _) => PixelPlace {
                step: [*dx, *dy],
                start: [x - i * dx, y + j * dy],
            },
            (_, _, m) if m.len() >= 8 => {
                if m[1] != 0.0 || m[4] != 0.0 {
                    return Err(GeoTiffError::Turned);
                }
                PixelPlace {
                    step: [m[0], -m[5]],
                    start: [m[3], m[7]],
                }
            }
            _ if ties.len() >= 18 => Self::of_ties(ties).ok_or(GeoTiffError::Turned)?,
            _ => {
                let world = world.ok_or(GeoTiffError::NoPlace)?;
                Self::of_world(world).ok_or(GeoTiffError::World)?
            }
        };
        let [east, north] = place.step;
        match east > 0.0 && north != 0.0 && north.is_finite() && east.is_finite() {
            true => Ok(place),
            false => Err(GeoTiffError::Turned),
        }
    }

    /// By several tie points, each of a pixel and a place, where they are all of one grid that is not turned.
    fn of_ties(ties: &[f64]) -> Option<Self> {
        let ties: Vec<[f64; 4]> = (ties.chunks_exact(6))
            .map(|t| [t[0], t[1], t[3], t[4]])
            .collect();
        let [i, j, x, y] = *ties.first()?;
        let across = ties.iter().find(|tie| tie[0] != i)?;
        let down = ties.iter().find(|tie| tie[1] != j)?;
        let dx = (across[2] - x) / (across[0] - i);
        let dy = (y - down[3]) / (down[1] - j);
        let place = PixelPlace {
            step: [dx, dy],
            start: [x - i * dx, y + j * dy],
        };
        let fits = |tie: &[f64; 4]| {
            let east = place.start[0] + tie[0] * dx;
            let north = place.start[1] - tie[1] * dy;
            (east - tie[2]).abs() < 0.01 * dx.abs() && (north - tie[3]).abs() < 0.01 * dy.abs()
        };
        ties.iter().all(fits).then_some(place)
    }

    /// By a world file: six numbers, the last two of which are the middle of the first pixel.
    fn of_world(text: &str) -> Option<Self> {
        let numbers: Result<Vec<f64>, _> = text.split_whitespace().map(str::parse).collect();
        let [dx, turned, skewed, dy, x, y] = numbers.ok()?[..] else {
            return None;
        };
        (turned == 0.0 && skewed == 0.0).then_some(PixelPlace {
            step: [dx, -dy],
            start: [x - dx / 2.0, y - dy / 2.0],
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn all_ways_give_the_same_place() {
        let expected = PixelPlace {
            step: [2.0, 3.0],
            start: [100.0, 950.0],
        };
        let of = |scale: &[f64], ties: &[f64], matrix: &[f64], world| {
            PixelPlace::of(scale, ties, matrix, world).unwrap()
        };
        let one = [5.0, 4.0, 0.0, 110.0, 938.0, 0.0];
        assert_eq!(of(&[2.0, 3.0, 0.0], &one, &[], None), expected);
        let matrix = [2.0, 0.0, 0.0, 100.0, 0.0, -3.0, 0.0, 950.0];
        assert_eq!(of(&[], &[], &matrix, None), expected);
        let ties: Vec<f64> = [(0.0, 0.0), (10.0, 0.0), (10.0, 20.0), (0.0, 20.0)]
            .iter()
            .flat_map(|(i, j)| [*i, *j, 0.0, 100.0 + 2.0 * i, 950.0 - 3.0 * j, 0.0])
            .collect();
        assert_eq!(of(&[], &ties, &[], None), expected);
        assert_eq!(
            of(&[], &[], &[], Some("2\n0\n0\n-3\n101\n948.5\n")),
            expected
        );
        // Rows from the south.
        let south = [2.0, 0.0, 0.0, 100.0, 0.0, 3.0, 0.0, 890.0];
        assert_eq!(of(&[], &[], &south, None).step, [2.0, -3.0]);
    }

    #[test]
    fn what_is_turned_or_nowhere_is_refused() {
        let mut ties: Vec<f64> = [(0.0, 0.0), (10.0, 0.0), (10.0, 20.0)]
            .iter()
            .flat_map(|(i, j)| [*i, *j, 0.0, 100.0 + 2.0 * i, 950.0 - 3.0 * j, 0.0])
            .collect();
        ties[10] += 1.0;
        let turned = PixelPlace::of(&[], &ties, &[], None);
        assert!(matches!(turned, Err(GeoTiffError::Turned)));
        let none = PixelPlace::of(&[], &[], &[], None);
        assert!(matches!(none, Err(GeoTiffError::NoPlace)));
        for world in ["", "1 2 3", "a b c d e f", "1 0.5 0 -1 0 0"] {
            let found = PixelPlace::of(&[], &[], &[], Some(world));
            assert!(matches!(found, Err(GeoTiffError::World)), "{world}");
        }
    }
}
