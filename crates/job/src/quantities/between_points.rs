//! What the spacing of points leaves out of volumes, as part of their uncertainty.

use dapedon_core::plan::Place;
use dapedon_core::quantities::{Tolerance, ZoneVolume, between_points};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;

use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::quantities::uncertainty::{Sureness, Uncertainty};
use crate::surfaces::SurfaceFacts;
use crate::units::ReportUnits;

/// Two surfaces between which volumes were measured.
pub(crate) struct Measured<'m> {
    pub(crate) surfaces: [&'m Surface; 2],
    pub(crate) sides: [&'m SurfaceFacts; 2],
    /// The breaklines of each, where its triangles were chosen among its points.
    pub(crate) breaklines: [Option<&'m [Vec<Place>]>; 2],
    pub(crate) zones: Option<&'m Zones>,
    pub(crate) tolerance: Tolerance,
    /// What was measured, zone by zone.
    pub(crate) full: &'m [ZoneVolume],
}

/// Adds to an uncertainty what is left out between the points of each side that errs; and says where that is not known.
pub(crate) fn added(
    of: &Measured<'_>,
    sure: Option<&Sureness>,
    uncertainty: Option<&mut Uncertainty>,
    units: &ReportUnits,
) -> Result<Vec<Finding>, JobError> {
    let (Some(sure), Some(uncertainty)) = (sure, uncertainty) else {
        return Ok(vec![no_uncertainty()]);
    };
    let mut findings = Vec::new();
    for side in (0..2).filter(|&side| sure.errs(side)) {
        let found = match of.breaklines[side] {
            Some(lines) => {
                between_points(of.surfaces, side, lines, of.zones, of.tolerance, of.full)?
            }
            None => None,
        };
        match found {
            Some(found) => {
                // Where errors of heights go together, halves of the points share them.
                let independent = sure.accuracies[side].correlation == 0.0;
                uncertainty.add_between_points(side, independent, &found, units);
            }
            None => {
                findings.push(not_known(of.sides[side]));
            }
        }
    }
    uncertainty.find_better_surveys(of.sides);
    Ok(findings)
}

/// Of a surface whose points cannot be left out in turn.
pub(crate) fn not_known(side: &SurfaceFacts) -> Finding {
    let words = format!(
        "what the spacing of the points of \"{}\" leaves out is not in the uncertainty: its triangles are not chosen among points of a file, or it has few points or several parts",
        side.source
    );
    Finding::new(Code::BetweenPointsUnknown, words)
}

/// Where no uncertainty is given that it could be a part of.
pub(crate) fn no_uncertainty() -> Finding {
    let words = "what lies between points is part of an uncertainty, and none is given: it is not known how accurate both surfaces are";
    let remedy = "state it with the key accuracy, --reference-accuracy or --surveyed-accuracy";
    Finding::new(Code::BetweenPointsUnknown, words).remedy(remedy)
}
