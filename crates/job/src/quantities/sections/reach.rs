//! How far sections reach to both sides of their line, and where they stand out to the edge of some zones.

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::{Extent, Frame};
use dapedon_core::quantities::Cut;
use dapedon_core::zones::Zones;

use super::cutting::Cutter;
use super::{SectionsError, stations};
use crate::error::JobError;
use crate::input::LineSource;
use crate::section_rules::{SectionRule, SectionRules};
use crate::site::SiteLine;

/// Where sections stand along a line at round chainages of an interval, out to the edge of some zones, each with its distance along the line.
pub(crate) fn cuts_along(
    found: &SiteLine,
    frame: Frame,
    zones: &Zones,
    every: f64,
) -> Result<Vec<(f64, Cut)>, JobError> {
    let rules = SectionRules {
        line: LineSource::Named(found.source.clone()),
        every: Some(every),
        geometry_points: false,
        at: Vec::new(),
        refine: false,
        between: [None; 2],
        widths: None,
        rule: SectionRule::AverageEndArea,
        curve_correction: false,
    };
    let asked = stations::stations(&rules, &found.line, frame.unit())?;
    let reach = reach_of_zones(&found.line, frame, Some(zones), asked.between)?;
    let cutter = Cutter::new(&found.line, frame, Vec::new(), reach, Some(zones));
    let cut = |distance: f64| Some((distance, cutter.cut(distance)?));
    Ok(asked.distances.into_iter().filter_map(cut).collect())
}

/// How far the zones reach to both sides of a line, as offsets.
pub(super) fn reach_of_zones(
    line: &Alignment,
    frame: Frame,
    zones: Option<&Zones>,
    between: [f64; 2],
) -> Result<[f64; 2], SectionsError> {
    let zones = zones.map_or(&[][..], Zones::zones);
    let corners = zones.iter().flat_map(|zone| zone.rings()).flatten();
    let beside = corners.filter_map(|&corner| line.beside(frame.to_grid(corner)));
    let within = |at: f64| between[0] <= at && at <= between[1];
    let offsets = beside
        .filter(|beside| within(beside.distance))
        .map(|beside| beside.offset);
    let reach = offsets.fold([0.0f64; 2], |[left, right], offset| {
        [left.min(offset), right.max(offset)]
    });
    if reach[1] - reach[0] > 0.0 {
        return Ok(reach);
    }
    // No corner beside the line: as far as the zones are wide.
    let extent = zones
        .iter()
        .fold(Extent::EMPTY, |all, zone| all.union(&zone.extent()));
    let wide = extent.width().max(extent.height());
    match wide.is_finite() && wide > 0.0 {
        true => Ok([-wide, wide]),
        false => Err(SectionsError::NoWidth),
    }
}
