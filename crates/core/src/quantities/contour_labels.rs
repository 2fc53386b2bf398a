//! Where the labels of a contour stand.

use crate::plan::Place;
use crate::quantities::Contour;

/// Where a label is tried: from the middle of its stretch of line to its ends, as shares of the room there.
const TRIES: [f64; 9] = [0.0, 0.25, -0.25, 0.5, -0.5, 0.75, -0.75, 1.0, -1.0];

/// A place of a label: the stretch of line under it, its ends, and how far they are apart.
type Try = ([f64; 2], [Place; 2], f64);

/// A label on a contour, with the stretch of the line that it takes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ContourLabel {
    /// The middle of the label.
    pub at: Place,
    /// Its direction, as an angle from east towards north: higher ground lies above it, so that it is read uphill.
    pub turned: f64,
    /// The stretch of the line under it, as distances along it.
    pub between: [f64; 2],
}

impl Contour {
    /// The length of the line, in plan.
    pub fn length(&self) -> f64 {
        self.distances().last().copied().unwrap_or_default()
    }

    /// The distance of each corner along the line.
    fn distances(&self) -> Vec<f64> {
        let mut along = 0.0;
        let steps = self.corners.windows(2).map(|pair| {
            along += libm::hypot(pair[1].east - pair[0].east, pair[1].north - pair[0].north);
            along
        });
        let steps: Vec<f64> = steps.collect();
        std::iter::once(0.0).chain(steps).collect()
    }

    /// Labels of a width along the line, about every `spacing`, evenly spread; none where it is too short for one.
    pub fn labels(&self, width: f64, spacing: f64) -> Vec<ContourLabel> {
        let distances = self.distances();
        let length = distances.last().copied().unwrap_or_default();
        // A label and as much of the line beside it.
        if !(width > 0.0 && spacing > 0.0 && length >= 2.0 * width) {
            return Vec::new();
        }
        let count = (length / spacing.max(2.0 * width)).floor().clamp(1.0, 1e6);
        let step = length / count;
        let label = |number: u32| {
            let middle = (f64::from(number) + 0.5) * step;
            let room = ((step - width) / 2.0).clamp(0.0, step / 3.0);
            // Where the line is straightest under it, the nearest such place to the middle of the stretch.
            let places = TRIES.map(|share| {
                let middle = middle + share * room;
                let between = [middle - width / 2.0, middle + width / 2.0];
                let ends = between.map(|distance| self.at(distance, &distances));
                let chord = libm::hypot(ends[1].east - ends[0].east, ends[1].north - ends[0].north);
                (between, ends, chord)
            });
            let straighter = |best: Try, next: Try| {
                if next.2 > best.2 * (1.0 + 1e-9) {
                    next
                } else {
                    best
                }
            };
            let (between, [from, to], _) = places.into_iter().skip(1).fold(places[0], straighter);
            ContourLabel {
                at: Place::new((from.east + to.east) / 2.0, (from.north + to.north) / 2.0),
                turned: libm::atan2(to.north - from.north, to.east - from.east),
                between,
            }
        };
        (0..count as u32).map(label).collect()
    }

    /// The line without some stretches of it, in order along it, as its remaining parts.
    pub fn without(&self, gaps: &[[f64; 2]]) -> Vec<Vec<Place>> {
        let distances = self.distances();
        let length = distances.last().copied().unwrap_or_default();
        let mut parts = Vec::new();
        let mut from = 0.0;
        let ends = gaps.iter().copied().chain([[length, length]]);
        for [start, end] in ends {
            if start > from {
                let within = self.corners.iter().zip(&distances);
                let within = within.filter(|(_, at)| from < **at && **at < start);
                let mut part = vec![self.at(from, &distances)];
                part.extend(within.map(|(corner, _)| *corner));
                part.push(self.at(start, &distances));
                parts.push(part);
            }
            from = end;
        }
        parts
    }

    /// The place at a distance along the line.
    fn at(&self, distance: f64, distances: &[f64]) -> Place {
        let after = distances.partition_point(|&at| at <= distance);
        let last = self.corners.len() - 1;
        let before = after.saturating_sub(1).min(last);
        let (from, next) = (self.corners[before], self.corners[(before + 1).min(last)]);
        let step = distances[(before + 1).min(last)] - distances[before];
        let share = if step > 0.0 {
            (distance - distances[before]) / step
        } else {
            0.0
        };
        Place::new(
            from.east + share * (next.east - from.east),
            from.north + share * (next.north - from.north),
        )
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(corners: &[(f64, f64)]) -> Contour {
        Contour {
            level: 5.0,
            corners: corners.iter().map(|&(e, n)| Place::new(e, n)).collect(),
            is_closed: false,
        }
    }

    #[test]
    fn labels_stand_along_the_line_with_gaps_under_them() {
        let east = line(&[(0.0, 0.0), (50.0, 0.0), (100.0, 0.0)]);
        let labels = east.labels(4.0, 40.0);
        assert_eq!(labels.len(), 2);
        assert_eq!(
            (labels[0].at, labels[0].turned),
            (Place::new(25.0, 0.0), 0.0)
        );
        assert_eq!(labels[1].between, [73.0, 77.0]);
        let gaps: Vec<[f64; 2]> = labels.iter().map(|label| label.between).collect();
        let parts = east.without(&gaps);
        let ends: Vec<[f64; 2]> = parts
            .iter()
            .map(|part| [part[0].east, part[part.len() - 1].east])
            .collect();
        assert_eq!(ends, [[0.0, 23.0], [27.0, 73.0], [77.0, 100.0]]);
        assert_eq!(parts[1].len(), 3);
        // The other way round the label is turned over, since higher ground is on the other side.
        let west = line(&[(100.0, 0.0), (0.0, 0.0)]);
        assert!((west.labels(4.0, 200.0)[0].turned - std::f64::consts::PI).abs() < 1e-15);
        assert!(line(&[(0.0, 0.0), (7.0, 0.0)]).labels(4.0, 40.0).is_empty());
        assert_eq!(east.without(&[]), std::slice::from_ref(&east.corners));
    }
}
