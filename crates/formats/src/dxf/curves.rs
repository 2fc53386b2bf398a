//! Splines and ellipses broken into chords.

use std::f64::consts::TAU;

use dapedon_core::surface::Vertex;

use super::arcs::{self, CHORD};
use super::fields::Fields;
use super::{DrawingPosition, DxfError};

/// How often a piece of a spline is halved.
const HALVINGS: u32 = 16;
/// The highest degree of a spline that is read.
const DEGREE: usize = 11;

/// The places along an ellipse or an arc of one: its centre, the end of its major axis from there, the ratio of the axes,
/// and the parameters of its ends.
pub(super) fn ellipse(fields: &Fields, at: DrawingPosition) -> Result<Vec<Vertex>, DxfError> {
    let (centre, major) = (fields.vertex(10), fields.vertex(11));
    let ratio = fields.or(40, 1.0);
    let minor = fields.plane().across(major);
    let (start, end) = (fields.or(41, 0.0), fields.or(42, TAU));
    let turn = (end - start).rem_euclid(TAU);
    let is_whole = !(1e-9..=TAU - 1e-9).contains(&turn);
    let sweep = if is_whole { TAU } else { turn };
    let radius = libm::hypot(libm::hypot(major.east, major.north), major.height);
    // Nowhere does an ellipse bend away from a chord more than the circle of its major axis does.
    let steps = (fields.chords)
        .take(arcs::steps(radius, sweep))
        .ok_or(DxfError::ManyChords { at })?;
    let mut line: Vec<Vertex> = (0..=steps)
        .map(|i| {
            let (sin, cos) = libm::sincos(start + sweep * f64::from(i) / f64::from(steps));
            let on = |c: f64, a: f64, b: f64| c + a * cos + b * ratio * sin;
            Vertex::new(
                on(centre.east, major.east, minor.east),
                on(centre.north, major.north, minor.north),
                on(centre.height, major.height, minor.height),
            )
        })
        .collect();
    if is_whole {
        line.pop();
        line.extend(line.first().copied());
    }
    Ok(line)
}

/// A rational B-spline: a degree, knots, and control points with weights.
struct Spline {
    degree: usize,
    knots: Vec<f64>,
    controls: Vec<[f64; 4]>,
}

/// The places along a spline. None where it has no control points, or knots that do not fit them: then it is not drawn by
/// its formula.
pub(super) fn spline(
    fields: &Fields,
    at: DrawingPosition,
) -> Result<Option<Vec<Vertex>>, DxfError> {
    let Some(spline) = Spline::of(fields) else {
        return Ok(None);
    };
    let [low, high] = spline.range();
    let mut line = vec![spline.place(low)];
    let mut ends: Vec<f64> = (spline.knots.iter().copied())
        .filter(|&knot| knot > low && knot < high)
        .collect();
    ends.push(high);
    ends.dedup();
    let mut from = (low, line[0]);
    for end in ends {
        let to = (end, spline.place(end));
        let fits = spline.chords(fields, from, to, 0, &mut line);
        fits.ok_or(DxfError::ManyChords { at })?;
        from = to;
    }
    Ok(Some(line))
}

impl Spline {
    /// A helix carries the numbers of its spline first, and then its own: counts say where the spline's end.
    fn of(fields: &Fields) -> Option<Self> {
        let count = |code| fields.or(code, 0.0).max(0.0) as usize;
        let all = |code: i32, most: usize| -> Vec<f64> {
            let found = fields.numbers.iter().filter(|&&(found, _)| found == code);
            found.take(most).map(|&(_, number)| number).collect()
        };
        let (degree, knots, controls) = (count(71), all(40, count(72)), count(73));
        let axes = [10, 20, 30].map(|code| all(code, controls));
        let mut weights = all(41, controls);
        if weights.len() != controls {
            weights = vec![1.0; controls];
        }
        let is_sound = (1..=DEGREE).contains(&degree)
            && controls > degree
            && knots.len() == controls + degree + 1
            && axes.iter().all(|axis| axis.len() == controls)
            && knots.windows(2).all(|pair| pair[0] <= pair[1])
            && knots[degree] < knots[controls]
            && weights.iter().all(|&weight| weight > 0.0);
        is_sound.then(|| Spline {
            degree,
            controls: (0..controls)
                .map(|i| [axes[0][i], axes[1][i], axes[2][i], weights[i]])
                .collect(),
            knots,
        })
    }

    fn range(&self) -> [f64; 2] {
        [self.knots[self.degree], self.knots[self.controls.len()]]
    }

    /// The place at a parameter, by the algorithm of de Boor on weighted control points.
    fn place(&self, at: f64) -> Vertex {
        let (degree, knots) = (self.degree, &self.knots);
        let last = self.controls.len() - 1;
        let span = knots
            .partition_point(|&knot| knot <= at)
            .saturating_sub(1)
            .clamp(degree, last);
        let mut points: Vec<[f64; 4]> = (self.controls[span - degree..=span].iter())
            .map(|&[x, y, z, w]| [x * w, y * w, z * w, w])
            .collect();
        for level in 1..=degree {
            for i in (level..=degree).rev() {
                let (low, high) = (knots[span - degree + i], knots[span + 1 + i - level]);
                let share = if high > low {
                    (at - low) / (high - low)
                } else {
                    0.0
                };
                let before = points[i - 1];
                for (value, before) in points[i].iter_mut().zip(before) {
                    *value = before * (1.0 - share) + *value * share;
                }
            }
        }
        let [x, y, z, w] = points[degree];
        Vertex::new(x / w, y / w, z / w)
    }

    /// Adds the places after `from` up to `to`, so close that no chord is farther than [`CHORD`] from the curve at its
    /// quarters.
    fn chords(
        &self,
        fields: &Fields,
        from: (f64, Vertex),
        to: (f64, Vertex),
        depth: u32,
        line: &mut Vec<Vertex>,
    ) -> Option<()> {
        let at = |share: f64| self.place(from.0 + (to.0 - from.0) * share);
        let is_near = |share: f64| {
            let (on, a, b) = (at(share), from.1, to.1);
            from_line(on, a, b) <= CHORD
        };
        if depth >= HALVINGS || (depth > 0 && [0.25, 0.5, 0.75].into_iter().all(is_near)) {
            fields.chords.take(1.0)?;
            line.push(to.1);
            return Some(());
        }
        let middle = (from.0 + (to.0 - from.0) / 2.0, at(0.5));
        self.chords(fields, from, middle, depth + 1, line)?;
        self.chords(fields, middle, to, depth + 1, line)
    }
}

/// How far a place is from the straight line between two others, in space.
fn from_line(at: Vertex, a: Vertex, b: Vertex) -> f64 {
    let minus = |p: Vertex, q: Vertex| [p.east - q.east, p.north - q.north, p.height - q.height];
    let dot = |p: [f64; 3], q: [f64; 3]| p[0] * q[0] + p[1] * q[1] + p[2] * q[2];
    let (along, to) = (minus(b, a), minus(at, a));
    let length = dot(along, along);
    let share = if length > 0.0 {
        (dot(to, along) / length).clamp(0.0, 1.0)
    } else {
        0.0
    };
    let aside = [0, 1, 2].map(|i| to[i] - share * along[i]);
    dot(aside, aside).sqrt()
}
