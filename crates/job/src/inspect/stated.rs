//! Volumes that a file states between its surfaces, next to what is measured.

use dapedon_core::quantities::{Tolerance, volume};
use dapedon_core::surface::Surface;
use dapedon_core::units::{LengthUnit, VolumeUnit};
use dapedon_formats::landxml::StatedVolume;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::pair::{facets, moved};
use crate::finding::{Code, Finding};
use crate::schema::Word;

/// Stated and measured volumes may differ by this share, as methods round.
const SHARE: f64 = 1e-3;
/// So many are measured, each by an overlay of its own.
const MEASURED: usize = 50;
/// And by this much, in units of volume.
const LEAST: f64 = 0.1;

/// A volume that a file states between two of its surfaces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StatedVolumeFound {
    /// The reference surface.
    pub reference: String,
    /// The surface compared with it.
    pub surveyed: String,
    /// The unit of the volumes.
    pub unit: Word,
    /// The cut that the file states.
    pub stated_cut: Option<f64>,
    /// The fill that the file states.
    pub stated_fill: Option<f64>,
    /// The measured cut, where the file has both surfaces; of the first fifty.
    pub measured_cut: Option<f64>,
    /// The measured fill, likewise.
    pub measured_fill: Option<f64>,
}

/// What a file states, measured between its own surfaces.
pub(super) fn stated(
    volumes: &[StatedVolume],
    surfaces: &[(String, &Surface)],
    unit: LengthUnit,
    warnings: &mut Vec<Finding>,
) -> Vec<StatedVolumeFound> {
    let mut found = Vec::new();
    for (number, stated) in volumes.iter().enumerate() {
        let in_unit = stated.unit.unwrap_or(match unit {
            LengthUnit::Metre => VolumeUnit::CubicMetre,
            LengthUnit::Foot(foot) => VolumeUnit::CubicFoot(foot),
        });
        let by_name = |wanted: &str| {
            let mut named = surfaces.iter().filter(|(name, _)| name == wanted);
            named.next().map(|(_, surface)| *surface)
        };
        let measured = by_name(&stated.reference)
            .filter(|_| number < MEASURED)
            .zip(by_name(&stated.surveyed))
            .and_then(|(reference, surveyed)| measured(reference, surveyed, unit))
            .map(|volumes| volumes.map(|own| in_unit.from_cubic(own, unit)));
        let one = StatedVolumeFound {
            reference: stated.reference.clone(),
            surveyed: stated.surveyed.clone(),
            unit: in_unit.code().into(),
            stated_cut: stated.cut,
            stated_fill: stated.fill,
            measured_cut: measured.map(|[cut, _]| cut),
            measured_fill: measured.map(|[_, fill]| fill),
        };
        warnings.extend(one.differs());
        found.push(one);
    }
    found
}

/// Cut and fill between two surfaces, in cubes of a length unit.
fn measured(reference: &Surface, surveyed: &Surface, unit: LengthUnit) -> Option<[f64; 2]> {
    let (reference, surveyed) = (facets(reference)?, facets(surveyed)?);
    let frame = reference.frame();
    let surveyed = Surface::Tin(moved(&surveyed, frame, unit)?);
    let reference = Surface::Tin(reference.into_owned());
    let all = volume(&reference, &surveyed, None, Tolerance::ZERO).ok()?;
    let volume = all.first()?.volume;
    Some([volume.cut, volume.fill])
}

impl StatedVolumeFound {
    /// A finding where what is stated is not what is measured.
    fn differs(&self) -> Option<Finding> {
        let pairs = [
            ("cut", self.stated_cut, self.measured_cut),
            ("fill", self.stated_fill, self.measured_fill),
        ];
        let apart = |stated: f64, own: f64| (stated - own).abs() > LEAST.max(SHARE * own.abs());
        let apart = pairs.into_iter().filter_map(|(what, stated, own)| {
            let (stated, own) = (stated?, own?);
            apart(stated, own).then(|| format!("{what} {stated:.1} stated, {own:.1} measured"))
        });
        let apart: Vec<String> = apart.collect();
        (!apart.is_empty()).then(|| {
            let place = format!("{} to {}", self.reference, self.surveyed);
            Finding::new(Code::StatedVolume, apart.join("; ")).at(place)
        })
    }
}
