//! The layers of a surface's build-ups, as surfaces of their own.

use std::collections::BTreeSet;
use std::sync::Arc;

use dapedon_core::surface::Surface;

use super::Making;
use crate::error::JobError;
use crate::job_file::{DownTo, StepAction, SurfacePlan};

/// A layer: what lies between the surface dug down to its top, and to its bottom.
pub(crate) struct LayerBetween {
    pub(crate) layer: String,
    pub(crate) top: Arc<Surface>,
    pub(crate) bottom: Arc<Surface>,
}

impl Making<'_> {
    /// The layers that the last build-up step of a surface goes below, from the top down; none of a surface without one.
    pub(crate) fn layers_of(&mut self, name: &str) -> Result<Vec<LayerBetween>, JobError> {
        let job = self.stock.job;
        let Some((job, plan)) = job.and_then(|job| Some((job, job.surfaces.get(name)?))) else {
            return Ok(Vec::new());
        };
        let is_build_up = |act: &StepAction| matches!(act, StepAction::BuildUp { .. });
        let step = plan.steps.iter().rposition(|step| is_build_up(&step.act));
        let Some((number, StepAction::BuildUp { names, .. })) =
            step.and_then(|number| Some((number, &plan.steps.get(number)?.act)))
        else {
            return Ok(Vec::new());
        };
        let build_ups = names.iter().filter_map(|name| job.build_ups.get(name));
        let layers = build_ups.flat_map(|build_up| &build_up.layers);
        let mut seen = BTreeSet::new();
        let layers: Vec<String> = layers
            .filter(|layer| seen.insert(layer.name.as_str()))
            .map(|layer| layer.name.clone())
            .collect();
        let mut made: Vec<LayerBetween> = Vec::with_capacity(layers.len());
        for layer in layers {
            // Of one build-up each layer begins where the one above it ends.
            let top = match made.last() {
                Some(above) if names.len() == 1 => above.bottom.clone(),
                _ => self.dug(name, plan, number, DownTo::TopOf(layer.clone()))?,
            };
            let bottom = self.dug(name, plan, number, DownTo::BottomOf(layer.clone()))?;
            made.push(LayerBetween { layer, top, bottom });
        }
        Ok(made)
    }

    /// The surface, where one of its steps goes down to another layer.
    fn dug(
        &mut self,
        name: &str,
        plan: &SurfacePlan,
        number: usize,
        to: DownTo,
    ) -> Result<Arc<Surface>, JobError> {
        let mut plan = plan.clone();
        if let Some(step) = plan.steps.get_mut(number)
            && let StepAction::BuildUp { down_to, .. } = &mut step.act
        {
            *down_to = to;
        }
        Ok(self.planned(name, &plan, false)?.surface)
    }
}
