//! More sections where areas change abruptly.

use dapedon_core::quantities::SectionAreas;

use super::MOST;
use super::cutting::Cutter;

/// Stations with more of them where areas change abruptly: where the area in the middle of two is far from their mean.
pub(super) fn refined(cutter: &Cutter<'_>, mut distances: Vec<f64>) -> Vec<f64> {
    /// Far from the mean, as a share of the greatest of the three areas, and of all.
    const FAR: [f64; 2] = [0.1, 0.02];
    /// Stretches are halved at most so often.
    const HALVINGS: usize = 5;
    let areas = cutter.areas_at(&distances);
    let most = |areas: &SectionAreas| areas.cut.area.max(areas.fill.area);
    let greatest = areas.iter().map(most).fold(0.0, f64::max);
    let mut open: Vec<([f64; 2], [SectionAreas; 2])> = (distances.windows(2))
        .zip(areas.windows(2))
        .map(|(at, areas)| ([at[0], at[1]], [areas[0], areas[1]]))
        .collect();
    for _ in 0..HALVINGS {
        let middles: Vec<f64> = open.iter().map(|(at, _)| (at[0] + at[1]) / 2.0).collect();
        let found = cutter.areas_at(&middles);
        let mut next = Vec::new();
        for ((([from, to], [start, end]), middle), areas) in
            open.into_iter().zip(middles).zip(found)
        {
            let is_far = |of: fn(&SectionAreas) -> f64| {
                let three = [of(&start), of(&areas), of(&end)];
                let off = (three[1] - (three[0] + three[2]) / 2.0).abs();
                let own = three.into_iter().fold(0.0, f64::max);
                off > FAR[0] * own && off > FAR[1] * greatest
            };
            if distances.len() < MOST && (is_far(|a| a.cut.area) || is_far(|a| a.fill.area)) {
                distances.push(middle);
                next.push(([from, middle], [start, areas]));
                next.push(([middle, to], [areas, end]));
            }
        }
        open = next;
    }
    distances.sort_by(f64::total_cmp);
    distances
}
