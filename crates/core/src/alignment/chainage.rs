//! What distances along a line are called.

/// Names for distances: a start, and equations where counting jumps.
#[derive(Debug, Clone, PartialEq)]
pub struct Chainage {
    start: f64,
    equations: Vec<Equation>,
}

/// A place where counting jumps: what was `back` is `ahead` from there on.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Equation {
    /// The distance from the line's start.
    pub distance: f64,
    /// The chainage that counting has come to.
    pub back: f64,
    /// The chainage it goes on with.
    pub ahead: f64,
}

impl From<f64> for Chainage {
    fn from(start: f64) -> Self {
        Chainage {
            start,
            equations: Vec::new(),
        }
    }
}

impl Chainage {
    /// Counting from `start`, with jumps.
    pub fn new(start: f64, mut equations: Vec<Equation>) -> Self {
        equations.sort_by(|a, b| a.distance.total_cmp(&b.distance));
        Chainage { start, equations }
    }

    /// The chainage of the line's start.
    pub fn start(&self) -> f64 {
        self.start
    }

    /// The jumps, in order.
    pub fn equations(&self) -> &[Equation] {
        &self.equations
    }

    /// What a distance is called; at a jump, what it is called ahead.
    ///
    /// ```
    /// use dapedon_core::alignment::{Chainage, Equation};
    /// let jump = Equation { distance: 200.0, back: 1200.0, ahead: 1500.0 };
    /// let chainage = Chainage::new(1000.0, vec![jump]);
    /// assert_eq!([chainage.of(150.0), chainage.of(200.0), chainage.of(250.0)], [1150.0, 1500.0, 1550.0]);
    /// ```
    pub fn of(&self, distance: f64) -> f64 {
        let passed = self.equations.iter().rev().find(|e| e.distance <= distance);
        match passed {
            Some(equation) => equation.ahead + (distance - equation.distance),
            None => self.start + distance,
        }
    }

    /// The distances that a chainage names on a line of some length: none where a jump leaves it out,
    /// several where a jump counts it again.
    pub fn distances(&self, chainage: f64, length: f64) -> Vec<f64> {
        let starts = std::iter::once((0.0, self.start))
            .chain(self.equations.iter().map(|e| (e.distance, e.ahead)));
        let ends = self.equations.iter().map(|e| e.distance).chain([length]);
        let last = self.equations.len();
        let runs = starts.zip(ends).enumerate();
        let found = runs.filter_map(|(index, ((from, named), to))| {
            let distance = from + (chainage - named);
            let within = from <= distance && (distance < to || (index == last && distance <= to));
            within.then_some(distance)
        });
        found.collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn jumps_leave_out_and_count_again() {
        let ahead = Equation {
            distance: 100.0,
            back: 100.0,
            ahead: 150.0,
        };
        let again = Equation {
            distance: 200.0,
            back: 250.0,
            ahead: 240.0,
        };
        let chainage = Chainage::new(0.0, vec![again, ahead]);
        assert_eq!(chainage.distances(120.0, 300.0), []);
        assert_eq!(chainage.distances(245.0, 300.0), [195.0, 205.0]);
        assert_eq!(chainage.distances(340.0, 300.0), [300.0]);
        for distance in [0.0, 99.0, 100.0, 150.0, 199.0, 250.0] {
            let found = chainage.distances(chainage.of(distance), 300.0);
            assert!(found.contains(&distance), "{distance}");
        }
    }
}
