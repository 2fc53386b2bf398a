//! The differences that given shares of the ground lie below.

use super::Grouping;
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Sum;

/// Parts that each range is divided into by one walk, and how many walks: a value is found to a ten-millionth of the range of differences.
const PARTS: usize = 64;
const WALKS: usize = 4;

/// For each zone the differences that some rising shares of its ground lie below, between the least and the greatest difference in it.
pub(super) fn values_at_shares<const N: usize>(
    overlay: &Overlay<'_>,
    grouping: Grouping,
    ends: &[[f64; 2]],
    shares: [f64; N],
) -> Result<Vec<[f64; N]>, OverlayError> {
    let mut ranges: Vec<[Range; N]> = ends.iter().map(|&ends| [Range { ends }; N]).collect();
    for _ in 0..WALKS {
        let levels = |ranges: &[Range; N]| {
            let mut levels: Vec<f64> = ranges.iter().flat_map(Range::levels).collect();
            levels.sort_by(f64::total_cmp);
            levels.dedup();
            levels
        };
        let levels: Vec<Vec<f64>> = ranges.iter().map(levels).collect();
        let found = overlay.fold(&BelowFold {
            levels: &levels,
            grouping,
        })?;
        for ((ranges, levels), below) in ranges.iter_mut().zip(&levels).zip(&found) {
            let below = below.running();
            for (range, share) in ranges.iter_mut().zip(shares) {
                range.narrow(levels, &below, share);
            }
        }
    }
    let values = ranges.iter().map(|ranges| ranges.map(Range::middle));
    Ok(values.collect())
}

/// Where a value lies.
#[derive(Debug, Clone, Copy)]
struct Range {
    ends: [f64; 2],
}

impl Range {
    fn levels(&self) -> impl Iterator<Item = f64> + use<> {
        let [low, high] = self.ends;
        let count = if low < high { PARTS } else { 0 };
        (0..=count).map(move |part| match part == PARTS {
            true => high,
            false => low + (high - low) * (part as f64 / PARTS as f64),
        })
    }

    /// Narrows it to between the last level with less than the share below it, and the next. Areas below the levels, and the whole area,
    /// are given.
    fn narrow(&mut self, levels: &[f64], (below, whole): &(Vec<f64>, f64), share: f64) {
        let first = below.partition_point(|area| *area < share * whole);
        let within = |level: f64| level.clamp(self.ends[0], self.ends[1]);
        let high = levels
            .get(first)
            .map_or(self.ends[1], |&level| within(level));
        let low = (first.checked_sub(1)).map_or(self.ends[0], |before| within(levels[before]));
        self.ends = [low, high];
    }

    fn middle(self) -> f64 {
        (self.ends[0] + self.ends[1]) / 2.0
    }
}

/// Ground by the levels that it lies below.
#[derive(Debug, Clone)]
struct Below {
    /// What lies wholly below a level and not below the one before it; at the end what lies below none.
    wholly: Vec<Sum>,
    /// What of ground that reaches through a level lies below it.
    partly: Vec<Sum>,
}

impl Below {
    /// The area below each level, and all of it.
    fn running(&self) -> (Vec<f64>, f64) {
        let mut running = Sum::ZERO;
        let mut below = Vec::with_capacity(self.partly.len());
        for (wholly, partly) in self.wholly.iter().zip(&self.partly) {
            running += *wholly;
            below.push(running.value() + partly.value());
        }
        if let Some(rest) = self.wholly.last() {
            running += *rest;
        }
        (below, running.value())
    }
}

struct BelowFold<'l> {
    /// Rising levels of each zone.
    levels: &'l [Vec<f64>],
    grouping: Grouping,
}

impl Fold for BelowFold<'_> {
    type Part = Vec<Below>;

    fn part(&self) -> Self::Part {
        let empty = |levels: &Vec<f64>| Below {
            wholly: vec![Sum::ZERO; levels.len() + 1],
            partly: vec![Sum::ZERO; levels.len()],
        };
        self.levels.iter().map(empty).collect()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let outline = &piece.outline;
        let difference = |place| piece.surveyed.at(place) - piece.reference.at(place);
        let (values, least, greatest) = outline.values(difference);
        let whole = outline.integrate(&values).area;
        for &zone in self.grouping.of(piece.zones) {
            let (levels, below) = (&self.levels[zone as usize], &mut part[zone as usize]);
            let first = levels.partition_point(|level| *level <= least);
            let end = levels.partition_point(|level| *level <= greatest);
            below.wholly[end] += whole;
            let through = levels[first..end].iter().zip(&mut below.partly[first..end]);
            for (&level, partly) in through {
                let above = outline.integrate_above(&values, level).area;
                *partly += (whole - above).max(0.0);
            }
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (own, next) in part.iter_mut().zip(&next) {
            let sums = own.wholly.iter_mut().chain(&mut own.partly);
            let others = next.wholly.iter().chain(&next.partly);
            sums.zip(others).for_each(|(own, next)| *own += *next);
        }
    }
}
