//! Stations: distances along a line at round chainages, and where its elements meet.

use super::Alignment;
use crate::plan::RELATIVE;

/// A line has more stations than are wanted.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[error("an interval of {interval} over {length:.1} makes {count:.0} stations")]
pub struct TooManyStations {
    /// The interval.
    pub interval: f64,
    /// The length of the line.
    pub length: f64,
    /// About how many stations it makes.
    pub count: f64,
}

impl Alignment {
    /// The distances of all stations: where the chainage is a multiple of `interval`, at both ends, and where elements meet, as
    /// long as they bend there or change their curvature; rising, each once, no more than `most`.
    ///
    /// # Errors
    ///
    /// When there would be more.
    ///
    /// ```
    /// use dapedon_core::alignment::{Alignment, Chainage, Element};
    /// use dapedon_core::plan::Place;
    /// let straight = Element::straight(Place::new(0.0, 0.0), Place::new(0.0, 50.0));
    /// let line = Alignment::new("north", vec![straight], Chainage::from(105.0), None);
    /// assert_eq!(line.stations(20.0, 100).unwrap(), [0.0, 15.0, 35.0, 50.0]);
    /// ```
    pub fn stations(&self, interval: f64, most: usize) -> Result<Vec<f64>, TooManyStations> {
        let length = self.length();
        let count = length / interval + self.distances.len() as f64;
        if count.is_nan() || count > most as f64 {
            return Err(TooManyStations {
                interval,
                length,
                count,
            });
        }
        let mut stations = self.distances.clone();
        let jumps = self.chainage.equations().iter();
        let starts = std::iter::once((0.0, self.chainage.start()))
            .chain(jumps.map(|jump| (jump.distance, jump.ahead)));
        let starts: Vec<(f64, f64)> = starts.collect();
        for (index, &(from, named)) in starts.iter().enumerate() {
            let to = starts
                .get(index + 1)
                .map_or(length, |next| next.0.min(length));
            let (first, last) = (named / interval, (named + to - from) / interval);
            let multiples = first.ceil() as i64..=last.floor() as i64;
            let distance = |multiple: i64| from + (multiple as f64 * interval - named);
            stations.extend(
                multiples
                    .map(distance)
                    .filter(|at| (0.0..=length).contains(at)),
            );
        }
        stations.sort_by(f64::total_cmp);
        // A round chainage a hair from the end of an element is that end.
        let same = RELATIVE * length.max(interval);
        stations.dedup_by(|next, kept| *next - *kept <= same);
        Ok(stations)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::alignment::{Chainage, Element, Equation};
    use crate::plan::Place;

    fn line(chainage: Chainage) -> Alignment {
        let at = |east: f64| Place::new(east, 0.0);
        let elements = vec![
            Element::straight(at(0.0), at(33.0)),
            Element::straight(at(33.0), at(100.0)),
        ];
        Alignment::new("line", elements, chainage, None)
    }

    #[test]
    fn stations_are_round_chainages_and_joints() {
        let found = line(Chainage::from(0.0)).stations(25.0, 100).unwrap();
        assert_eq!(found, [0.0, 25.0, 33.0, 50.0, 75.0, 100.0]);
        // Counting jumps from 140 to 200 at 40: from there on round chainages fall elsewhere.
        let jump = Equation {
            distance: 40.0,
            back: 140.0,
            ahead: 205.0,
        };
        let found = line(Chainage::new(100.0, vec![jump]))
            .stations(25.0, 100)
            .unwrap();
        assert_eq!(found, [0.0, 25.0, 33.0, 60.0, 85.0, 100.0]);
    }

    #[test]
    fn too_many_are_refused() {
        let refused = line(Chainage::from(0.0)).stations(0.001, 1000).unwrap_err();
        assert!(refused.count > 100_000.0);
        assert!(line(Chainage::from(0.0)).stations(f64::NAN, 1000).is_err());
    }
}
