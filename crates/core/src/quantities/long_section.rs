//! Long-sections: a surface cut upright along a line.

use crate::alignment::Alignment;
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
