//! What a basin holds, from areas that somebody else measured at some levels.

use super::{average_end_area, conic};

/// TypedAreas at some levels, from the lowest up, none smaller than the one below it.
#[derive(Debug, Clone, PartialEq)]
pub struct TypedAreas {
    pairs: Vec<[f64; 2]>,
}

/// How the volume between two levels follows from their areas.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Between {
    /// By average end areas: the area grows evenly between the levels.
    AverageEndArea,
    /// As the frustum of a cone: the root of the area grows evenly.
    Conic,
}

/// Why areas make no basin. Pairs count from one, in the order they are given in.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum TypedAreasError {
    /// There are too few of them.
    #[error("only {count} level: a volume needs at least two levels")]
    TooFew {
        /// How many there are.
        count: usize,
    },
    /// A number is none.
    #[error("pair {pair}: level {level}, area {area} are not possible for a basin")]
    NoArea {
        /// Which pair.
        pair: usize,
        /// Its level.
        level: f64,
        /// Its area.
        area: f64,
    },
    /// A level neither rises nor falls as the others do.
    #[error("pair {pair}: level {level} after level {before} is out of order")]
    OutOfOrder {
        /// Which pair.
        pair: usize,
        /// Its level.
        level: f64,
        /// The one before it.
        before: f64,
    },
    /// An area is smaller than the one below it.
    #[error(
        "pair {pair}: the area decreases upward, from {below} at level {lower} to {area} at level {level}"
    )]
    Shrinks {
        /// Which pair.
        pair: usize,
        /// The level below.
        lower: f64,
        /// The area there.
        below: f64,
        /// The level.
        level: f64,
        /// The area there.
        area: f64,
    },
}

impl TypedAreas {
    /// Levels with their areas, all rising or all falling.
    ///
    /// # Errors
    ///
    /// When they are fewer than two, out of order, not numbers, or shrink upward: what is open at its top does not.
    ///
    /// ```
    /// use dapedon_core::quantities::{TypedAreas, Between};
    /// // A pyramid upside down.
    /// let basin = TypedAreas::new(&[[0.0, 0.0], [1.0, 1.0], [3.0, 9.0]]).unwrap();
    /// assert_eq!(basin.volume_at(3.0, Between::Conic), Some(1.0 / 3.0 + 26.0 / 3.0));
    /// assert_eq!(basin.volume_at(3.0, Between::AverageEndArea), Some(0.5 + 10.0));
    /// assert_eq!(basin.area_at(2.0, Between::Conic), Some(4.0));
    /// ```
    pub fn new(pairs: &[[f64; 2]]) -> Result<Self, TypedAreasError> {
        if pairs.len() < 2 {
            return Err(TypedAreasError::TooFew { count: pairs.len() });
        }
        for (index, &[level, area]) in pairs.iter().enumerate() {
            if !(level.is_finite() && area.is_finite() && area >= 0.0) {
                let pair = index + 1;
                return Err(TypedAreasError::NoArea { pair, level, area });
            }
        }
        let falls = pairs[1][0] < pairs[0][0];
        for (index, two) in pairs.windows(2).enumerate() {
            let [[before, was], [level, area]] = [two[0], two[1]];
            let pair = index + 2;
            if level == before || (level < before) != falls {
                return Err(TypedAreasError::OutOfOrder {
                    pair,
                    level,
                    before,
                });
            }
            let [[lower, below], [level, area]] = match falls {
                true => [[level, area], [before, was]],
                false => [[before, was], [level, area]],
            };
            if area < below {
                return Err(TypedAreasError::Shrinks {
                    pair,
                    lower,
                    below,
                    level,
                    area,
                });
            }
        }
        let mut pairs = pairs.to_vec();
        if falls {
            pairs.reverse();
        }
        Ok(TypedAreas { pairs })
    }

    /// The levels with their areas, from the lowest up.
    pub fn pairs(&self) -> &[[f64; 2]] {
        &self.pairs
    }

    /// The area at a level; none beyond those that are known.
    pub fn area_at(&self, level: f64, between: Between) -> Option<f64> {
        let two = self.pairs.windows(2);
        let mut two = two.filter(|two| two[0][0] <= level && level <= two[1][0]);
        two.next().map(|two| between.area(two[0], two[1], level))
    }

    /// The volume from the lowest level up to another; none beyond those that are known.
    pub fn volume_at(&self, level: f64, between: Between) -> Option<f64> {
        let mut volume = 0.0;
        let lowest = self.pairs[0][0];
        if level < lowest {
            return None;
        }
        for two in self.pairs.windows(2) {
            let [lower, upper] = [two[0], two[1]];
            if level <= upper[0] {
                let area = between.area(lower, upper, level);
                return Some(volume + between.volume([lower[1], area], level - lower[0]));
            }
            volume += between.volume([lower[1], upper[1]], upper[0] - lower[0]);
        }
        None
    }

    /// The level that holds a volume; none where that is more than is held at the highest one.
    ///
    /// The volume grows with the level, so that its place is found by halving.
    pub fn level_of(&self, volume: f64, between: Between) -> Option<f64> {
        let mut low = self.pairs[0][0];
        let mut high = self.pairs[self.pairs.len() - 1][0];
        let held = |level: f64| self.volume_at(level, between).unwrap_or_default();
        if held(high) < volume {
            return None;
        }
        // As many times as a double has digits.
        for _ in 0..64 {
            let middle = (low + high) / 2.0;
            match held(middle) < volume {
                true => low = middle,
                false => high = middle,
            }
        }
        Some(high)
    }
}

impl Between {
    /// The volume between two areas, a step apart.
    pub fn volume(self, areas: [f64; 2], step: f64) -> f64 {
        match self {
            Between::AverageEndArea => average_end_area(areas, step),
            Between::Conic => conic(areas, step),
        }
    }

    fn area(self, [lower, below]: [f64; 2], [upper, above]: [f64; 2], level: f64) -> f64 {
        let share = (level - lower) / (upper - lower);
        match self {
            Between::AverageEndArea => below + share * (above - below),
            Between::Conic => (below.sqrt() + share * (above.sqrt() - below.sqrt())).powi(2),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The frustum of a pyramid, 2 by 2 at level 10 and 8 by 8 at level 13, whose section at 10 + h is (2 + 2 h)².
    #[test]
    fn a_frustum_from_its_ends() {
        let basin = TypedAreas::new(&[[13.0, 64.0], [10.0, 4.0]]).unwrap();
        assert_eq!(basin.pairs()[0], [10.0, 4.0]);
        for h in [0.0, 0.5, 1.0, 2.25, 3.0f64] {
            let side = 2.0 + 2.0 * h;
            let volume = (side.powi(3) - 8.0) / 6.0;
            let found = basin.volume_at(10.0 + h, Between::Conic).unwrap();
            assert!((found - volume).abs() < 1e-12, "{found} {volume}");
            let level = basin.level_of(volume, Between::Conic).unwrap();
            assert!((level - 10.0 - h).abs() < 1e-9);
            // TypedAreas that grow evenly: 4 + 20 h, and their integral.
            let found = basin.volume_at(10.0 + h, Between::AverageEndArea).unwrap();
            assert!((found - 4.0 * h - 10.0 * h * h).abs() < 1e-12);
        }
        assert!(basin.volume_at(9.9, Between::Conic).is_none());
        assert!(basin.volume_at(13.1, Between::Conic).is_none());
        assert!(basin.level_of(85.0, Between::Conic).is_none());
    }

    #[test]
    fn what_is_no_basin_is_refused() {
        let error = |pairs: &[[f64; 2]]| TypedAreas::new(pairs).unwrap_err().to_string();
        assert!(error(&[[1.0, 5.0]]).contains("at least two levels"));
        let nan = error(&[[1.0, 5.0], [2.0, f64::NAN]]);
        assert!(nan.starts_with("pair 2"), "{nan}");
        let order = error(&[[1.0, 5.0], [2.0, 6.0], [1.5, 7.0]]);
        assert!(
            order.starts_with("pair 3: level 1.5 after level 2 is out of order"),
            "{order}"
        );
        assert!(error(&[[1.0, 5.0], [1.0, 6.0]]).contains("pair 2"));
        let shrinks = "pair 2: the area decreases upward, from 5 at level 1 to 4 at level 2";
        assert_eq!(error(&[[1.0, 5.0], [2.0, 4.0]]), shrinks);
        // The same the other way round.
        assert_eq!(error(&[[2.0, 4.0], [1.0, 5.0]]), shrinks);
    }
}
