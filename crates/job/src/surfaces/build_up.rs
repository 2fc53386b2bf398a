//! What the layers of build-ups come to, zone by zone.

use std::collections::BTreeMap;

use dapedon_contract::{CountedBy, FactorUnits, amount};
use dapedon_core::quantities::{GroundArea, ground_areas};
use dapedon_core::surface::Surface;
use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};
use dapedon_core::zones::{Zones, regions};

use crate::error::JobError;
use crate::job_file::Layer;
use crate::surfaces::recipe::{Count, LayerQuantity};
use crate::units::ReportUnits;
use crate::zones::ZoneOrigin;

/// A build-up over its zones.
pub(crate) struct Covering<'b> {
    pub(crate) name: &'b str,
    pub(crate) layers: &'b [Layer],
}

/// The units of layers: thicknesses are in `from`, what layers are counted by is to squares of that and to one of
/// `factors`, and quantities are reported in `told`.
pub(crate) struct LayerUnits {
    pub(crate) from: LengthUnit,
    pub(crate) factors: VolumeUnit,
    pub(crate) told: ReportUnits,
}

/// The area in which each zone counts: with its index, in plan and along the ground. Where `zones` overlap the
/// first one holds; ground outside of `limit`, a zone from there on, does not count where it is given.
pub(crate) fn areas(
    surface: &Surface,
    zones: &Zones,
    limit: Option<usize>,
) -> Result<BTreeMap<usize, GroundArea>, JobError> {
    let mut owners = Vec::new();
    let mut grounds = Vec::new();
    for region in regions(zones, None) {
        let first = region.zones.first().map(|&zone| zone as usize);
        let own = first.filter(|&zone| limit.is_none_or(|limit| zone < limit));
        let within =
            limit.is_none_or(|limit| region.zones.iter().any(|&zone| zone as usize >= limit));
        if let Some(owner) = own.filter(|_| within) {
            owners.push(owner);
            grounds.push(region.ground);
        }
    }
    let found = ground_areas(surface, &Zones::new(zones.frame(), grounds));
    let found = found.map_err(JobError::from)?;
    let mut areas: BTreeMap<usize, GroundArea> = BTreeMap::new();
    for (owner, area) in owners.into_iter().zip(found) {
        let sum = areas.entry(owner).or_default();
        sum.plan += area.plan;
        sum.sloping += area.sloping;
    }
    Ok(areas)
}

/// The layers of a build-up over a zone, counted by the same decimal arithmetic as the items of a bill.
pub(crate) fn quantities(
    covering: &Covering<'_>,
    (zone, origin): (&str, &ZoneOrigin),
    area: GroundArea,
    units: &LayerUnits,
) -> Result<Vec<LayerQuantity>, JobError> {
    let LayerUnits {
        from,
        factors,
        told,
    } = *units;
    let length = told.length;
    let own_area = AreaUnit::usual(from);
    let symbols = FactorUnits {
        volume: factors.symbol(),
        area: own_area.symbol(),
        mass: "",
        decimals: told.decimals as u32,
    };
    let layers = covering.layers.iter().map(|layer| {
        let thickness = from.convert(layer.thickness, length);
        let volume = area.plan * thickness;
        let counted = layer.counted.iter().map(|counted| {
            let had = match counted.by {
                CountedBy::Covers(_) => own_area.from_square(area.plan, length),
                CountedBy::PerVolume(_) | CountedBy::Holds(_) => factors.from_cubic(volume, length),
            };
            let count = symbols
                .layer_count(symbols.written(had)?, zone, counted)?
                .amount;
            let cost = counted.cost.map(|cost| amount(count, cost)).transpose()?;
            Ok(Count {
                unit: counted.unit.clone(),
                count,
                whole: counted.whole,
                cost,
            })
        });
        Ok(LayerQuantity {
            build_up: covering.name.into(),
            zone: zone.into(),
            origin: origin.clone(),
            layer: layer.name.clone(),
            thickness: told.length_of(thickness),
            area: told.area_of(area.plan),
            sloping_area: told.area_of(area.sloping),
            volume: told.volume_of(volume),
            counted: counted.collect::<Result<_, JobError>>()?,
        })
    });
    layers.collect()
}
