//! The layers of build-ups in sections.

use dapedon_core::overlay::Watch;
use dapedon_core::quantities::{SectionLine, long_section};
use dapedon_core::surface::{FacetIndex, Surface};
use dapedon_core::units::{AreaUnit, LengthUnit};

use super::cutting::Cutter;
use super::stretches::{CutAndFill, Rules, Strips};
use super::{CHORD, SectionLayer};
use crate::error::JobError;
use crate::figure::Area;
use crate::site::{Site, SiteLine};
use crate::surfaces::LayerBetween;

/// What all layers are cut along.
pub(super) struct LayerCuts<'c> {
    pub(super) site: &'c Site<'c>,
    pub(super) found: &'c SiteLine,
    pub(super) rules: Rules,
    pub(super) distances: &'c [f64],
    pub(super) reach: [f64; 2],
    pub(super) zones: Option<&'c dapedon_core::zones::Zones>,
}

/// A layer as it was cut: its figures, and its bottom in all sections and along the line.
pub(super) struct CutLayer {
    pub(super) told: SectionLayer,
    pub(super) sections: Vec<SectionLine>,
    pub(super) along: SectionLine,
}

impl LayerCuts<'_> {
    /// A layer of a surface.
    pub(super) fn cut(
        &self,
        surface: &str,
        layer: &LayerBetween,
        watch: Watch<'_>,
    ) -> Result<CutLayer, JobError> {
        let making = &self.site.making;
        let (frame, units, line) = (making.frame, making.units, &self.found.line);
        let both: [&Surface; 2] = [&layer.top, &layer.bottom];
        let indexes = both.map(FacetIndex::of).into_iter().collect();
        let cutter = Cutter::new(line, frame, indexes, self.reach, self.zones);
        let cut = cutter.at(self.distances, self.site.memory())?;
        let volume = self.rules.total_at(&cutter, self.distances);
        let strips = Strips::of(line, frame, self.distances, self.reach, self.zones);
        let exact = strips.volumes(both[0], both[1], watch)?;
        let exact: Option<Vec<CutAndFill>> = exact.into_iter().collect();
        let unit = AreaUnit::usual(frame.unit());
        let area = |section: &super::cutting::CutSection| {
            (section.areas.compared > 0.0).then(|| Area::new(section.areas.cut.area, unit))
        };
        let told = SectionLayer {
            surface: surface.into(),
            layer: layer.layer.clone(),
            areas: cut.iter().map(area).collect(),
            volume: units.volume_of(volume.cut),
            exact: exact.map(|parts| units.volume_of(CutAndFill::sum(parts.into_iter()).cut)),
        };
        let between = [
            self.distances.first().copied().unwrap_or_default(),
            self.distances.last().copied().unwrap_or_default(),
        ];
        let chord = LengthUnit::Metre.convert(CHORD, frame.unit());
        let along = long_section(&FacetIndex::of(both[1]), line, frame, between, chord);
        let bottom = |section: super::cutting::CutSection| {
            section.lines.into_iter().nth(1).unwrap_or_default()
        };
        Ok(CutLayer {
            told,
            sections: cut.into_iter().map(bottom).collect(),
            along,
        })
    }
}
