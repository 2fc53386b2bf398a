//! A layer of a build-up that a surface lies below.

use std::collections::BTreeSet;

use dapedon_contract::State;

use super::{AllowedUnits, ItemKind, Kind, KindKeys, MaterialDefaults};
use crate::input::Source;
use crate::job_file::check::Checked;
use crate::job_file::{JobFileError, MaterialUse, Start, StepAction};

/// A layer of a build-up that a surface lies below.
#[derive(Debug, Clone)]
pub(crate) struct Layer {
    pub(crate) surface: Source,
    pub(crate) build_up: Option<String>,
    pub(crate) layer: String,
    pub(crate) zones: Vec<String>,
}

pub(super) const SAID: KindKeys = KindKeys {
    word: "a layer",
    keys: &["surveyed", "zones", "build-up", "layer"],
    check,
};

fn check(item: &Checked<'_>) -> Result<ItemKind, JobFileError> {
    let entry = item.entry;
    let surface = item.surface(&entry.surveyed, "surveyed")?;
    let Some(layer) = &entry.layer else {
        return Err(item.fault("the item has no layer", "add layer = \"...\""));
    };
    let mut below = Vec::new();
    if let Source::Named(name) = &surface {
        build_ups_below(item, name, &mut below);
    }
    let names: BTreeSet<&str> = below.iter().copied().collect();
    let build_up = match &entry.build_up {
        None => None,
        Some(name) => Some(item.sheet.known(name, "build-up", &names)?),
    };
    let own = |name: &&&str| build_up.as_deref().is_none_or(|own| own == **name);
    let layers: BTreeSet<&str> = (names.iter().filter(own))
        .filter_map(|name| item.known.build_ups.get(*name))
        .flat_map(|plan| plan.layers.iter().map(|layer| layer.name.as_str()))
        .collect();
    if layers.is_empty() {
        let what = format!("\"{surface}\" is not made with a build-up");
        let remedy = "use a surface that has a build-up step";
        return Err(item.fault(what, remedy));
    }
    Ok(ItemKind::Layer(Layer {
        layer: item.sheet.known(layer, "layer", &layers)?,
        surface,
        build_up,
        zones: item.named(&entry.zones)?,
    }))
}

/// The build-ups that a surface lies below, however far round.
fn build_ups_below<'k>(item: &'k Checked<'_>, surface: &str, found: &mut Vec<&'k str>) {
    let Some(plan) = item.known.surfaces.get(surface) else {
        return;
    };
    if let Start::Surface(start) = &plan.start {
        build_ups_below(item, start, found);
    }
    for step in &plan.steps {
        if let StepAction::BuildUp { names, .. } = &step.act {
            found.extend(names.iter().map(String::as_str));
        }
    }
}

impl Kind for Layer {
    fn words(&self) -> String {
        format!("layer \"{}\"", self.layer)
    }

    fn surfaces(&self) -> &[Source] {
        std::slice::from_ref(&self.surface)
    }

    fn layer_zones(&self) -> &[String] {
        &self.zones
    }

    fn told_in(&self, _: bool) -> AllowedUnits {
        AllowedUnits::Layer
    }

    fn material(&self) -> MaterialDefaults {
        MaterialDefaults::Usual(State::Compacted, MaterialUse::Placed)
    }
}
