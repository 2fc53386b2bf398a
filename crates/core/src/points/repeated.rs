//! Points given more than once.

use rayon::prelude::*;

use crate::plan::Extent;
use crate::plan::curve;
use crate::points::{Duplicates, TriangulateError};
use crate::surface::Vertex;

/// Points put in an order that keeps neighbours close, each place once.
pub(crate) struct Ordered {
    pub(crate) points: Vec<Vertex>,
    /// Where each point as given has gone.
    pub(crate) moved: Vec<u32>,
    /// Points at a place and height given before.
    pub(crate) merged: usize,
    /// Places given with several heights, settled by the rule.
    pub(crate) settled: usize,
}

pub(crate) fn ordered(points: &[Vertex], rule: Duplicates) -> Result<Ordered, TriangulateError> {
    let extent = Extent::of(points.iter().map(|v| v.place()));
    let mut order: Vec<(u64, u32)> = (points.par_iter().enumerate())
        .map(|(index, v)| (curve::position(v.place(), &extent), index as u32))
        .collect();
    let at = |index: u32| &points[index as usize];
    order.par_sort_unstable_by(|&(key, i), &(other, j)| {
        let places = || {
            let (p, q) = (at(i), at(j));
            p.east
                .total_cmp(&q.east)
                .then(p.north.total_cmp(&q.north))
                .then(i.cmp(&j))
        };
        key.cmp(&other).then_with(places)
    });

    let mut found = Ordered {
        points: Vec::with_capacity(points.len()),
        moved: vec![0; points.len()],
        merged: 0,
        settled: 0,
    };
    let mut conflict: Option<(u32, u32)> = None;
    for run in order.chunk_by(|&(_, i), &(_, j)| at(i).place() == at(j).place()) {
        let first = run[0].1;
        for &(_, index) in run {
            found.moved[index as usize] = found.points.len() as u32;
        }
        let mut kept = *at(first);
        let other = (run.iter()).find(|&&(_, index)| at(index).height != kept.height);
        match other {
            None => found.merged += run.len() - 1,
            Some(&(_, other)) if rule == Duplicates::Refuse => {
                conflict = conflict
                    .filter(|&(_, second)| second < other)
                    .or(Some((first, other)));
            }
            Some(_) => {
                found.settled += 1;
                let heights = run.iter().map(|&(_, index)| at(index).height);
                kept.height = settled(heights, rule);
            }
        }
        found.points.push(kept);
    }
    match conflict {
        Some((first, second)) => Err(TriangulateError::TwoHeights {
            first: first as usize,
            second: second as usize,
            heights: [at(first).height, at(second).height],
        }),
        None => Ok(found),
    }
}

/// The height that holds among several, given in the order of the file.
fn settled(mut heights: impl ExactSizeIterator<Item = f64>, rule: Duplicates) -> f64 {
    let count = heights.len() as f64;
    let held = match rule {
        Duplicates::Refuse | Duplicates::First => heights.next(),
        Duplicates::Last => heights.last(),
        Duplicates::Lowest => heights.reduce(f64::min),
        Duplicates::Highest => heights.reduce(f64::max),
        Duplicates::Mean => Some(heights.sum::<f64>() / count),
    };
    held.unwrap_or(f64::NAN)
}
