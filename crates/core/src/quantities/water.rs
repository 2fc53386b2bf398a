//! Water that rises over ground: what it covers and holds at each of many levels.

use crate::plan::Sum;

const THIRD: f64 = 1.0 / 3.0;

/// A facet as water meets it: its heights from the lowest up, its plan area, and the level from which water reaches it
/// at all.
#[derive(Debug, Clone, Copy)]
pub(crate) struct BasinFacet {
    pub(crate) heights: [f64; 3],
    pub(crate) area: f64,
    pub(crate) from: f64,
}

/// The water at a level.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct WaterAtLevel {
    /// The level.
    pub level: f64,
    /// The plan area of the water.
    pub area: f64,
    /// The plan area of level ground that lies just at this level: wet as soon as the water rises.
    pub level_ground: f64,
    /// The volume of the water.
    pub volume: f64,
}

/// Area and volume of the water at ascending levels, as facets are taken one after the other.
///
/// A facet wholly below a level adds its area, and its area times the depth of its middle; that is linear in the level,
/// and so it is added once for all levels above it. Only the levels between its lowest and highest corner are met one
/// by one. See `docs/methods.md`, "What a basin holds".
pub(crate) struct Rising<'l> {
    levels: &'l [f64],
    /// From each level on: the area that is wholly below, and its integral of height.
    below: Vec<[Sum; 2]>,
    /// At each level: what facets that it crosses add, as area and volume. Plain sums, as they are most of the work: of
    /// one run, and all of one sign, they lose nothing that counts.
    across: Vec<[f64; 2]>,
    /// The same of runs that were joined.
    joined: Vec<[Sum; 2]>,
    ground: Vec<Sum>,
}

impl<'l> Rising<'l> {
    pub(crate) fn over(levels: &'l [f64]) -> Self {
        Rising {
            levels,
            below: vec![[Sum::ZERO; 2]; levels.len() + 1],
            across: vec![[0.0; 2]; levels.len()],
            joined: vec![[Sum::ZERO; 2]; levels.len()],
            ground: vec![Sum::ZERO; levels.len()],
        }
    }

    pub(crate) fn add(&mut self, bed: &BasinFacet) {
        let levels = self.levels;
        let [low, middle, high] = bed.heights;
        // At the very level of a sill two pools only touch.
        let dry_to = low.max(bed.from);
        let first = levels.partition_point(|&level| level <= dry_to);
        if low == high && bed.from <= low {
            let at = levels[..first].partition_point(|&level| level < low);
            for ground in &mut self.ground[at..first] {
                *ground += bed.area;
            }
        }
        let drowned = first + levels[first..].partition_point(|&level| level < high);
        let grows = |rise: f64| bed.area / (rise * (high - low));
        let (grown, left) = (grows(middle - low), grows(high - middle));
        let mean = (low + middle + high) / 3.0;
        let crossed = levels[first..drowned].iter();
        for (&level, sums) in crossed.zip(&mut self.across[first..drowned]) {
            if level <= middle {
                // The water is a triangle like the facet's own, cut at two edges.
                let deep = level - low;
                let area = grown * deep * deep;
                sums[0] += area;
                sums[1] += area * deep * THIRD;
            } else {
                // The facet less such a triangle at the top: all of it below the level, were it so deep, plus what
                // rises out of it.
                let dry = high - level;
                let top = left * dry * dry;
                sums[0] += bed.area - top;
                sums[1] += bed.area * (level - mean) + top * dry * THIRD;
            }
        }
        self.below[drowned][0] += bed.area;
        self.below[drowned][1] += bed.area * mean;
    }

    /// Takes in what was summed elsewhere over the same levels.
    pub(crate) fn join(&mut self, next: Rising<'_>) {
        for (sum, next) in self
            .below
            .iter_mut()
            .flatten()
            .zip(next.below.into_iter().flatten())
        {
            *sum += next;
        }
        let across = next.across.iter().zip(&next.joined);
        for (sums, (across, joined)) in self.joined.iter_mut().zip(across) {
            for way in 0..2 {
                sums[way] += across[way];
                sums[way] += joined[way];
            }
        }
        for (sum, next) in self.ground.iter_mut().zip(next.ground) {
            *sum += next;
        }
    }

    pub(crate) fn storages(&self) -> Vec<WaterAtLevel> {
        let mut drowned = [Sum::ZERO; 2];
        let storages = self.levels.iter().enumerate().map(|(index, &level)| {
            drowned[0] += self.below[index][0];
            drowned[1] += self.below[index][1];
            let (mut area, mut volume) = (drowned[0], self.joined[index][1]);
            volume += self.across[index][1];
            volume += level * drowned[0].value();
            volume += -drowned[1].value();
            area += self.joined[index][0];
            area += self.across[index][0];
            WaterAtLevel {
                level,
                area: area.value(),
                level_ground: self.ground[index].value(),
                // Rounding may leave a little less than nothing.
                volume: volume.value().max(0.0),
            }
        });
        storages.collect()
    }
}
