//! Where what stands on the ground begins.

use super::length;
use crate::surface::Plane;
use crate::surface::neighbours::Neighbours;
use crate::surface::{Tin, Vertex};

/// How far outside the toe an outline is drawn, in spacings of the points: facets at the toe rise from the last point on
/// the ground, and that far out most of them are passed.
const OUTSIDE: f64 = 1.5;

/// How often distances are smoothed over neighbours, so that the scatter of heights does not show in the outline.
const SMOOTHED: usize = 2;

/// At each vertex about how far it stands outside the outline that is sought; below zero within it.
///
/// Of each of the outermost vertices that rise above the ground it is known how far on its height falls to the ground,
/// at the rate at which it falls there, but no farther than the next vertex that does not rise. Discs of these radii
/// cover the foot of the pile; the outline is drawn a little outside of them, as `OUTSIDE` says.
pub(super) fn outside(
    tin: &Tin,
    near: &Neighbours,
    over: &[f64],
    noise: f64,
    spacing: f64,
) -> Vec<f64> {
    let rises = |vertex: u32| over[vertex as usize] > noise;
    let slopes = slopes(tin, over, rises);
    // Where points stand closer than elsewhere, as along a toe that was surveyed, what they tell is finer.
    let own = |vertex: u32| {
        let edges = near.of_vertex(vertex).iter();
        let edges = edges.map(|&next| length(tin, vertex, next));
        let (sum, count) = edges.fold((0.0, 0.0), |(sum, count), edge| (sum + edge, count + 1.0));
        (sum / count).min(spacing)
    };
    let falls_off = |vertex: u32| over[vertex as usize] / slopes[vertex as usize];
    let mut outside: Vec<f64> = (0..over.len() as u32)
        .map(|vertex| match rises(vertex) {
            // Where it does not fall there is no telling.
            true => -falls_off(vertex).min(2.0 * own(vertex)),
            false => f64::INFINITY,
        })
        .collect();
    // The vertex about which each one was looked at last.
    let mut seen = vec![u32::MAX; over.len()];
    let mut ahead = Vec::new();
    for vertex in (0..over.len() as u32).filter(|&vertex| rises(vertex)) {
        let flat = near
            .of_vertex(vertex)
            .iter()
            .copied()
            .filter(|&next| !rises(next));
        let next = flat.map(|next| length(tin, vertex, next)).reduce(f64::min);
        let Some(next) = next else { continue };
        let own = own(vertex);
        let radius = falls_off(vertex).min(next) + OUTSIDE * own;
        outside[vertex as usize] = -radius;
        let reach = radius + 2.0 * own;
        ahead.push(vertex);
        seen[vertex as usize] = vertex;
        while let Some(here) = ahead.pop() {
            for &there in near.of_vertex(here) {
                let away = length(tin, vertex, there);
                if seen[there as usize] == vertex || away > reach {
                    continue;
                }
                seen[there as usize] = vertex;
                if !rises(there) {
                    let own = &mut outside[there as usize];
                    *own = own.min(away - radius);
                }
                ahead.push(there);
            }
        }
    }
    (0..SMOOTHED).fold(outside, |outside, _| smoothed(near, &outside))
}

/// Each value by the mean of itself and its neighbours, where all of them are known.
pub(super) fn smoothed(near: &Neighbours, values: &[f64]) -> Vec<f64> {
    let smooth = |(vertex, &own): (u32, &f64)| {
        let about = near.of_vertex(vertex);
        let sum: f64 = about.iter().map(|&next| values[next as usize]).sum();
        match (own + sum).is_finite() {
            true => (own + sum) / (about.len() + 1) as f64,
            false => own,
        }
    };
    (0u32..).zip(values).map(smooth).collect()
}

/// The share of an edge from a vertex within to one outside at which the outline crosses it.
pub(super) fn share(tin: &Tin, outside: &[f64], from: u32, to: u32) -> f64 {
    let [within, beyond] = [from, to].map(|vertex| outside[vertex as usize]);
    match beyond.is_finite() {
        true => within / (within - beyond),
        // Nothing was found so far out: as far as the distance goes.
        false => (-within / length(tin, from, to)).min(1.0),
    }
}

/// How steeply values fall at each vertex: on the steepest of the facets about it of which all corners count, as others
/// may span the toe; nothing where there are none.
fn slopes(tin: &Tin, values: &[f64], counts: impl Fn(u32) -> bool) -> Vec<f64> {
    let mut slopes = vec![0.0f64; values.len()];
    for (index, facet) in tin.facets().iter().enumerate() {
        if !facet.iter().all(|&vertex| counts(vertex)) {
            continue;
        }
        let corners = tin.corners(index);
        let [a, b, c] = [0, 1, 2].map(|corner: usize| {
            let Vertex { east, north, .. } = corners[corner];
            Vertex::new(east, north, values[facet[corner] as usize])
        });
        let plane = Plane::through(a, b, c);
        let slope = libm::hypot(plane.slope_east, plane.slope_north);
        for &vertex in facet {
            let own = &mut slopes[vertex as usize];
            *own = own.max(slope);
        }
    }
    slopes
}
