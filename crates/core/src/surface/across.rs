//! Which facet is across each edge of a facet.

use crate::surface::Tin;

/// No facet: the surface ends there, or several meet.
const NONE: u32 = u32::MAX;

/// The facets across the edges of each facet: from its first corner to its second, and so on.
#[derive(Debug)]
pub(crate) struct Across(Vec<[u32; 3]>);

impl Across {
    pub(crate) fn of(tin: &Tin) -> Self {
        let facets = tin.facets();
        // Edges by their lower corner, each with its other corner and where it stands.
        let edges = || {
            (0u32..).zip(facets).flat_map(|(facet, &[a, b, c])| {
                [(a, b, 0), (b, c, 1), (c, a, 2)].map(|(from, to, side)| {
                    let low = from.min(to);
                    (low, from.max(to), from == low, 4 * u64::from(facet) + side)
                })
            })
        };
        let mut starts = vec![0u32; tin.vertices().len() + 1];
        for (low, ..) in edges() {
            starts[low as usize + 1] += 1;
        }
        for vertex in 1..starts.len() {
            starts[vertex] += starts[vertex - 1];
        }
        let mut next = starts.clone();
        let mut sorted = vec![(0u32, false, 0u64); 3 * facets.len()];
        for (low, high, upwards, at) in edges() {
            sorted[next[low as usize] as usize] = (high, upwards, at);
            next[low as usize] += 1;
        }
        let mut across = vec![[NONE; 3]; facets.len()];
        for pair in starts.windows(2) {
            let around = &mut sorted[pair[0] as usize..pair[1] as usize];
            around.sort_unstable();
            for run in around.chunk_by(|a, b| a.0 == b.0) {
                // Two facets turn the same way where they pass their edge in opposite directions.
                if let &[(_, false, one), (_, true, other)] = run {
                    for (own, beyond) in [(one, other), (other, one)] {
                        across[(own / 4) as usize][(own % 4) as usize] = (beyond / 4) as u32;
                    }
                }
            }
        }
        Across(across)
    }

    /// The facet across one of the three edges of a facet.
    pub(crate) fn edge(&self, facet: u32, side: usize) -> Option<u32> {
        let beyond = self.0[facet as usize][side];
        (beyond != NONE).then_some(beyond)
    }
}
