//! Long-sections: a surface cut upright along a line.

use crate::alignment::{Alignment, Profile};
use crate::plan::Frame;
use crate::quantities::section::{SectionLine, SectionPart};
use crate::surface::FacetIndex;

/// The heights of a surface along a line, from one distance to another: chords of its curves lie no farther than `chord` off. Offsets
/// are distances along the line.
///
/// ```
/// use dapedon_core::alignment::{Alignment, Chainage, Element};
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::quantities::long_section;
/// use dapedon_core::surface::{FacetIndex, Surface, Tin, Vertex};
/// use dapedon_core::units::LengthUnit;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, -9.0, 1.0), (20.0, -9.0, 3.0), (0.0, 9.0, 1.0)].map(|(e, n, h)| Vertex::new(e, n, h));
/// let slope = Surface::Tin(Tin::from_facets(frame, corners.to_vec(), vec![[0, 1, 2]]).unwrap());
/// let straight = Element::straight(Place::new(0.0, 0.0), Place::new(30.0, 0.0));
/// let line = Alignment::new("east", vec![straight], Chainage::from(0.0), None);
/// let found = long_section(&FacetIndex::of(&slope), &line, frame, [0.0, 30.0], 0.001);
/// assert!((found.height(5.0).unwrap() - 1.5).abs() < 1e-12);
/// assert_eq!(found.height(15.0), None);
/// ```
pub fn long_section(
    surface: &FacetIndex<'_>,
    line: &Alignment,
    frame: Frame,
    [from, to]: [f64; 2],
    chord: f64,
) -> SectionLine {
    let mut parts = Vec::new();
    for pair in line.stops([from, to], 0.0, chord).windows(2) {
        let places = [pair[0], pair[1]].map(|distance| line.at(distance));
        let [Some(start), Some(end)] = places else {
            continue;
        };
        let [start, end] =
            [start, end].map(|course| frame.to_local(course.place.east, course.place.north));
        let length = libm::hypot(end.east - start.east, end.north - start.north);
        // A chord is a little shorter than its curve.
        let stretched = (pair[1] - pair[0]) / length;
        if !stretched.is_finite() {
            continue;
        }
        let found = surface.along(start, end);
        parts.extend(found.into_iter().map(|found| SectionPart {
            offsets: found.between.map(|along| pair[0] + along * stretched),
            heights: found.heights,
        }));
    }
    SectionLine { parts }
}

/// Where a line leaves a surface that it is laid on, as a distance from its start.
#[derive(Debug, Clone, Copy, PartialEq, thiserror::Error)]
#[error("the line leaves the surface at {distance:.3} from its start")]
pub struct LeavesSurface {
    /// The distance.
    pub distance: f64,
}

/// The heights of a line that is laid on a surface, wherever the surface bends under it.
///
/// # Errors
///
/// When the line leaves the surface.
pub fn laid_on(
    surface: &FacetIndex<'_>,
    line: &Alignment,
    frame: Frame,
    chord: f64,
) -> Result<Profile, LeavesSurface> {
    let whole = [0.0, line.length()];
    let found = long_section(surface, line, frame, whole, chord);
    let near = frame.precision().written();
    let mut reached = 0.0;
    let mut heights: Vec<[f64; 2]> = Vec::new();
    for part in &found.parts {
        let [from, to] = part.offsets;
        if from > reached + near {
            break;
        }
        for (distance, height) in part.offsets.into_iter().zip(part.heights) {
            match heights.last_mut() {
                // A hair apart they are one; where the surface is upright the line is on what follows.
                Some(last) if distance - last[0] <= near => last[1] = height,
                _ => heights.push([distance, height]),
            }
        }
        reached = f64::max(reached, to.max(from));
    }
    if reached < whole[1] - near {
        return Err(LeavesSurface { distance: reached });
    }
    Profile::through(heights).map_err(|_| LeavesSurface { distance: reached })
}
