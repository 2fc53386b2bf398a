//! Volumes from the areas of sections.

use super::section::SectionArea;

/// How a volume is computed from the areas of sections.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum EndAreaRule {
    /// The mean of both end areas, times the distance between them.
    Average,
    /// The end areas and four times the middle one, a sixth of it times the distance: the prismoidal formula.
    Prismoidal,
}

/// The areas at the ends of a stretch of a line, and in its middle where that was cut.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct StretchAreas {
    /// The length of the stretch.
    pub length: f64,
    /// How far the line turns over it, as [`turned`](crate::alignment::Alignment::turned) tells; zero where curves are
    /// not corrected for.
    pub turned: f64,
    /// The area at its start.
    pub start: SectionArea,
    /// The area in its middle.
    pub middle: Option<SectionArea>,
    /// The area at its end.
    pub end: SectionArea,
}

impl StretchAreas {
    /// The volume: by the prismoidal formula where there is a middle area, by average end area otherwise.
    ///
    /// On a curve the area's middle is carried over a longer or shorter way than the line: by the theorem of Pappus and
    /// Guldin the first moment about the line, times the angle that the line turns by, is added.
    ///
    /// ```
    /// use dapedon_core::quantities::{SectionArea, StretchAreas};
    /// let area = |area: f64| SectionArea { area, moment: 0.0 };
    /// // A wedge of 10 that rises from nothing to 6.
    /// let wedge = StretchAreas { length: 10.0, turned: 0.0, start: area(0.0), middle: None, end: area(6.0) };
    /// assert_eq!(wedge.volume(), 30.0);
    /// let cut = StretchAreas { middle: Some(area(3.0)), ..wedge };
    /// assert_eq!(cut.volume(), 30.0);
    /// ```
    pub fn volume(&self) -> f64 {
        let swept = |area: SectionArea| self.length * area.area + self.turned * area.moment;
        let volume = match self.middle {
            Some(middle) => (swept(self.start) + 4.0 * swept(middle) + swept(self.end)) / 6.0,
            None => (swept(self.start) + swept(self.end)) / 2.0,
        };
        // What a section holds beyond the middle of a tight curve counts against it, at most to nothing.
        volume.max(0.0)
    }
}
