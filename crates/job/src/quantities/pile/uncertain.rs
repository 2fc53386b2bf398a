//! How uncertain what piles hold is: the survey counts above the base, and where it makes the base.

use dapedon_core::overlay::Overlay;
use dapedon_core::quantities::{
    BothSides, Tolerance, UncertaintyParts, VolumeUncertainty, weighed_above_base, weighed_volumes,
};
use dapedon_core::zones::Zones;

use super::PileError;
use super::outlined::Outlined;
use crate::error::JobError;
use crate::input::BaseSource;
use crate::quantities::uncertainty::Sureness;
use crate::surfaces::{MadeSurface, not_laid};

/// How uncertain what lies between a base and the surface is; none where it is not known how accurate they are.
pub(crate) fn above_base(
    outlined: &Outlined,
    surface: &MadeSurface,
    base: &BaseSource,
    made: Option<&MadeSurface>,
) -> Result<Option<VolumeUncertainty>, JobError> {
    let zones = Zones::new(outlined.near.frame(), vec![outlined.zone.clone()]);
    match (base.of_toe(), made) {
        (Some(base), _) => {
            let Some(accuracy) = surface.side.accuracy.as_ref().map(|own| own.numbers()) else {
                return Ok(None);
            };
            let found = weighed_above_base(&outlined.near, outlined.toe()?, base, &zones);
            let (_, [cut, fill]) = found.map_err(|error| PileError::Base {
                name: outlined.zone.name().into(),
                error,
            })?;
            let mut net = fill.clone();
            net.add(&cut, -1.0);
            // The base follows from the same survey.
            let [cut, fill, net] = [cut, fill, net].map(|weights| BothSides {
                reference: UncertaintyParts::default(),
                surveyed: weights.parts(&outlined.near, &accuracy),
            });
            Ok(Some(VolumeUncertainty {
                cut,
                fill,
                net,
                ..VolumeUncertainty::default()
            }))
        }
        (None, Some(made)) => {
            let Some(sure) = Sureness::of([made, surface]) else {
                return Ok(None);
            };
            let below = made.surface.near(&outlined.zone.extent());
            let laid = Overlay::new(&below, &outlined.near, Some(&zones));
            let overlay =
                laid.map_err(|error| not_laid(error, &below, &outlined.near, Some(&zones)))?;
            let found = weighed_volumes(
                &overlay,
                Tolerance::ZERO,
                [&below, &outlined.near],
                sure.accuracies,
            )?;
            Ok(Some(found.uncertainty(&[0])))
        }
        (None, None) => Ok(None),
    }
}
