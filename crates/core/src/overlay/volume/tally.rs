//! What is summed over the pieces of a zone.

use super::{Areas, Differences, Extreme, Measured, Volumes, ZoneVolume};
use crate::overlay::Strip;
use crate::plan::{Place, Sum};

/// Area and integral of the difference over one kind of ground.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Ground {
    pub(super) area: Sum,
    pub(super) integral: Sum,
}

#[derive(Debug, Clone, Copy)]
pub(super) struct Tally {
    pub(super) cut: Ground,
    pub(super) fill: Ground,
    pub(super) unchanged: Ground,
    /// The integral of the difference's size where it is unchanged.
    pub(super) within: Sum,
    pub(super) min: Extreme,
    pub(super) max: Extreme,
    pub(super) pieces: u64,
}

impl Tally {
    pub(super) const EMPTY: Tally = {
        let ground = Ground {
            area: Sum::ZERO,
            integral: Sum::ZERO,
        };
        let at = Place::new(0.0, 0.0);
        Tally {
            cut: ground,
            fill: ground,
            unchanged: ground,
            within: Sum::ZERO,
            min: Extreme {
                difference: f64::INFINITY,
                at,
            },
            max: Extreme {
                difference: f64::NEG_INFINITY,
                at,
            },
            pieces: 0,
        }
    };

    pub(super) fn measured(&self) -> ZoneVolume {
        let area = Areas {
            cut: self.cut.area.value(),
            fill: self.fill.area.value(),
            unchanged: self.unchanged.area.value(),
            compared: [self.cut, self.fill, self.unchanged]
                .into_iter()
                .fold(Sum::ZERO, |mut sum, g| {
                    sum += g.area;
                    sum
                })
                .value(),
        };
        let (cut, fill) = (-self.cut.integral.value(), self.fill.integral.value());
        let mut whole = self.fill.integral;
        whole += self.cut.integral;
        let net = whole.value();
        whole += self.unchanged.integral;
        ZoneVolume {
            volume: Volumes {
                // What rounding leaves of nothing is zero, neither minus zero nor less.
                cut: cut.max(0.0) + 0.0,
                fill: fill.max(0.0) + 0.0,
                net,
                unchanged: self.within.value(),
            },
            area,
            difference: (self.min.difference <= self.max.difference).then(|| Differences {
                min: self.min,
                max: self.max,
                mean: whole.value() / area.compared,
            }),
            pieces: self.pieces,
        }
    }

    #[inline(always)]
    pub(super) fn add(&mut self, measured: &Measured) {
        let kinds = [
            (&mut self.fill, measured.fill),
            (&mut self.cut, measured.cut),
            (&mut self.unchanged, measured.unchanged),
        ];
        for (ground, part) in kinds {
            if part.area > 0.0 {
                ground.area += part.area;
                ground.integral += part.integral;
            }
        }
        if measured.unchanged.area > 0.0 {
            self.within += measured.within;
        }
        self.pieces += 1;
    }

    /// The least and greatest difference among the nodes of a strip's cells, the first of which is reported.
    #[inline(always)]
    pub(super) fn reach_node(
        &mut self,
        strip: &Strip<'_>,
        first: usize,
        rows: [&[f64]; 2],
        [low, high]: [f64; 2],
    ) {
        if low >= self.min.difference && high <= self.max.difference {
            return;
        }
        self.reach(low, high, |value| {
            let find = |row: &[f64]| row.iter().position(|&v| v == value);
            match find(rows[0]) {
                Some(node) => strip.place(first + node, false),
                None => strip.place(first + find(rows[1]).unwrap_or(0), true),
            }
        });
    }

    #[inline(always)]
    pub(super) fn reach(&mut self, least: f64, greatest: f64, at: impl Fn(f64) -> Place) {
        if least < self.min.difference {
            self.min = Extreme {
                difference: least,
                at: at(least),
            };
        }
        if greatest > self.max.difference {
            self.max = Extreme {
                difference: greatest,
                at: at(greatest),
            };
        }
    }
}
