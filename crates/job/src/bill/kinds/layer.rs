//! Items that count a layer of a build-up.

use std::collections::HashSet;

use dapedon_contract::{ContractError, CountedBy};

use super::ItemMeasurement;
use crate::bill::BillError;
use crate::bill::inputs::BillInputs;
use crate::bill::model::ItemRow;
use crate::bill::rows::{RowUnits, Rows, written};
use crate::error::JobError;
use crate::input::ZoneSource;
use crate::job_file::{self, ItemPlan, PaidUnit};
use crate::surfaces::LayerQuantity;
use crate::zones::{ZoneOrigin, told_apart};

struct Layer(Vec<LayerQuantity>);

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    plan: &job_file::LayerItem,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let job_file::LayerItem {
        surface,
        build_up,
        layer,
        zones,
    } = plan;
    let number = desk.number(surface)?;
    let layers = layers(desk, number, build_up.as_deref(), layer, zones)?;
    Ok(Box::new(Layer(layers)))
}

impl ItemMeasurement for Layer {
    fn rows(
        &self,
        _: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let by_area = match &item.pays {
            PaidUnit::Area(_) => true,
            PaidUnit::Counted(counted) => matches!(counted.by, CountedBy::Covers(_)),
            _ => false,
        };
        let row = |layer: &LayerQuantity| {
            let figure = match by_area {
                true => units.counted_area(item, layer.area),
                false => units.counted_volume(item, layer.volume),
            };
            Ok(ItemRow {
                zone: layer.zone.clone(),
                unrounded: figure,
                rounded: written(item, figure)?,
                plan_area: Some(layer.area),
                perimeter: None,
                measured: None,
                to_limit: None,
            })
        };
        Ok(Rows {
            rows: self
                .0
                .iter()
                .map(row)
                .collect::<Result<_, ContractError>>()?,
            ..Rows::default()
        })
    }

    fn layers(&self) -> &[LayerQuantity] {
        &self.0
    }
}

/// A layer that a surface lies below, zone by zone.
fn layers(
    desk: &BillInputs<'_>,
    number: usize,
    build_up: Option<&str>,
    layer: &str,
    zones: &[String],
) -> Result<Vec<LayerQuantity>, BillError> {
    let recipe = desk.made[number].1.side.recipe.as_ref();
    let origins = origins(desk, zones);
    let wanted = |own: &&LayerQuantity| {
        own.layer == layer
            && build_up.is_none_or(|build_up| build_up == own.build_up)
            && (zones.is_empty() || origins.contains(&own.origin))
    };
    let layers = recipe.map_or(Vec::new(), |recipe| recipe.layers());
    let mut layers: Vec<LayerQuantity> = layers.into_iter().filter(wanted).cloned().collect();
    let names: Vec<(String, String)> = (layers.iter())
        .map(|layer| (layer.zone.clone(), layer.build_up.clone()))
        .collect();
    for (layer, name) in layers.iter_mut().zip(told_apart(&names)) {
        layer.zone = name;
    }
    match layers.is_empty() {
        true => Err(BillError::NoSuchLayer {
            layer: layer.into(),
        }),
        false => Ok(layers),
    }
}

/// Where the zones come from that some names of the job stand for.
fn origins(desk: &BillInputs<'_>, names: &[String]) -> HashSet<ZoneOrigin> {
    let zones = &desk.site.making.stock.zones;
    let found = names.iter().filter_map(|name| {
        let read = zones.get(&ZoneSource::Named(name.clone()))?;
        Some(read.known(name).map(|(_, origin)| origin))
    });
    found.flatten().collect()
}
