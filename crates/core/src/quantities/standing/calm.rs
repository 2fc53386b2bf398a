//! Heights that scatter, calmed so far that ground and what stands on it can be distinguished.

use super::toe::smoothed;
use crate::surface::neighbours::Neighbours;
use crate::surface::{Tin, Vertex};

/// Scatter up to this share of the spacing of points is none to speak of, and what is left when it was calmed.
const CALM: f64 = 0.05;

/// What the mean over a point and its neighbours, about six of them, leaves of the scatter, again and again: about this
/// share, over the root of how often.
const LEFT: f64 = 0.43;

/// A median deviation times this is the standard deviation of a normal distribution.
const DEVIATION: f64 = 1.4826;

/// The surface with its heights calmed; none where they scatter little.
pub(super) fn calmed(tin: &Tin, near: &Neighbours, spacing: f64) -> Option<Tin> {
    let mut heights: Vec<f64> = tin.vertices().iter().map(|vertex| vertex.height).collect();
    let scatter = scatter(near, &heights);
    if scatter <= CALM * spacing {
        return None;
    }
    let times = (LEFT * scatter / (CALM * spacing))
        .powi(2)
        .ceil()
        .clamp(1.0, 64.0);
    for _ in 0..times as u32 {
        heights = smoothed(near, &heights);
    }
    let vertices = tin.vertices().iter().zip(heights);
    let vertices = vertices.map(|(vertex, height)| Vertex { height, ..*vertex });
    Tin::of_local(tin.frame(), vertices.collect(), tin.facets().to_vec()).ok()
}

/// How much heights scatter about the mean of their neighbours, as a standard deviation of a single one.
fn scatter(near: &Neighbours, heights: &[f64]) -> f64 {
    let mut apart: Vec<f64> = Vec::with_capacity(heights.len());
    for (vertex, height) in (0u32..).zip(heights) {
        let about = near.of_vertex(vertex);
        if about.is_empty() {
            continue;
        }
        let count = about.len() as f64;
        let mean = about
            .iter()
            .map(|&next| heights[next as usize])
            .sum::<f64>()
            / count;
        // The mean scatters too.
        apart.push((height - mean).abs() / (1.0 + 1.0 / count).sqrt());
    }
    if apart.is_empty() {
        return 0.0;
    }
    let middle = apart.len() / 2;
    DEVIATION * *apart.select_nth_unstable_by(middle, f64::total_cmp).1
}
