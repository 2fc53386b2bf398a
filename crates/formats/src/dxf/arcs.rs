//! Arcs broken into chords.

use std::cell::Cell;
use std::f64::consts::TAU;

use dapedon_core::surface::Vertex;

/// The farthest that a chord lies from its arc, in drawing units.
pub const CHORD: f64 = 0.001;

/// Chords that all arcs of a drawing may have: those of ten thousand circles of ten metres are a tenth of them.
pub(super) const MOST: usize = 1 << 22;

/// The chords that are left for the arcs of a drawing.
pub(super) struct Chords(Cell<usize>);

impl Default for Chords {
    fn default() -> Self {
        Chords(Cell::new(MOST))
    }
}

impl Chords {
    /// Takes so many of them, where there are as many.
    pub(super) fn take(&self, count: f64) -> Option<u32> {
        let left = self.0.get();
        let count = (count <= left as f64).then_some(count as u32)?;
        self.0.set(left - count as usize);
        Some(count)
    }
}

/// The places along an arc about `centre`, both ends included; `sweep` is positive to the left. None where it has more
/// chords than are left.
pub(super) fn arc(
    chords: &Chords,
    centre: Vertex,
    radius: f64,
    start: f64,
    sweep: f64,
) -> Option<Vec<Vertex>> {
    let steps = chords.take(steps(radius, sweep))?;
    let places = (0..=steps)
        .map(|i| {
            let (sin, cos) = libm::sincos(start + sweep * f64::from(i) / f64::from(steps));
            Vertex::new(
                centre.east + radius * cos,
                centre.north + radius * sin,
                centre.height,
            )
        })
        .collect();
    Some(places)
}

/// Adds the places between two corners of a polyline, and the second of them. The bulge is the
/// tangent of a quarter of the angle the arc between them turns, positive to the left.
pub(super) fn bulge(
    chords: &Chords,
    line: &mut Vec<Vertex>,
    from: Vertex,
    to: Vertex,
    bulge: f64,
) -> Option<()> {
    let (east, north) = (to.east - from.east, to.north - from.north);
    let chord = libm::hypot(east, north);
    let sweep = 4.0 * libm::atan(bulge);
    if bulge != 0.0 && chord > 0.0 {
        let radius = chord * (1.0 + bulge * bulge) / (4.0 * bulge.abs());
        // From the middle of the chord to the left, by what the arc's height leaves of the radius.
        let aside = (1.0 - bulge * bulge) / (4.0 * bulge);
        let centre = Vertex::new(
            (from.east + to.east) / 2.0 - aside * north,
            (from.north + to.north) / 2.0 + aside * east,
            from.height,
        );
        let start = libm::atan2(from.north - centre.north, from.east - centre.east);
        let along = arc(chords, centre, radius, start, sweep)?;
        let rise = (to.height - from.height) / (along.len() - 1) as f64;
        let inner = along.iter().enumerate().skip(1).take(along.len() - 2);
        line.extend(inner.map(|(i, v)| Vertex {
            height: from.height + rise * i as f64,
            ..*v
        }));
    }
    line.push(to);
    Some(())
}

/// How many chords keep within [`CHORD`] of an arc.
pub(super) fn steps(radius: f64, sweep: f64) -> f64 {
    let widest = if radius > CHORD {
        2.0 * libm::acos(1.0 - CHORD / radius)
    } else {
        TAU / 6.0
    };
    (sweep.abs() / widest.min(TAU / 6.0)).ceil().max(1.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_bulge_of_one_is_half_a_circle() {
        let (from, to) = (Vertex::new(0.0, 0.0, 1.0), Vertex::new(20.0, 0.0, 3.0));
        let mut line = vec![from];
        bulge(&Chords::default(), &mut line, from, to, 1.0).unwrap();
        assert_eq!(*line.last().unwrap(), to);
        for v in &line {
            assert!(((v.east - 10.0).hypot(v.north) - 10.0).abs() < 1e-12);
            // It turns left, so from west to east it passes south of the chord.
            assert!(v.north <= 1e-12);
        }
        let middle = line[line.len() / 2];
        assert!((middle.height - 2.0).abs() < 0.05);
        // Between two corners the arc rises over the chord by no more than is allowed.
        for pair in line.windows(2) {
            let (e, n) = (
                (pair[0].east + pair[1].east) / 2.0,
                (pair[0].north + pair[1].north) / 2.0,
            );
            let rise = 10.0 - (e - 10.0).hypot(n);
            assert!((0.0..=CHORD * 1.000_001).contains(&rise));
        }
    }

    #[test]
    fn a_slight_bulge_to_the_right_passes_left_of_the_chord() {
        let (from, to) = (Vertex::new(0.0, 0.0, 0.0), Vertex::new(0.0, 8.0, 0.0));
        let mut line = vec![from];
        bulge(&Chords::default(), &mut line, from, to, -0.25).unwrap();
        let farthest = line.iter().map(|v| -v.east).fold(0.0, f64::max);
        // The arc's height is the bulge times half the chord.
        assert!((farthest - 1.0).abs() < CHORD);
    }
}
