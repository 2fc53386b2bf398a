//! What the layers of build-ups come to, zone by zone.

use std::collections::BTreeMap;

use dapedon_core::{
    AreaUnit, GroundArea, LengthUnit, Surface, VolumeUnit, Zones, ground_areas, regions,
};

use crate::JobError;
use crate::job_file::Layer;
use crate::recipe::{Count, LayerQuantity};

/// A build-up over its zones.
pub(crate) struct Covering<'b> {
    pub(crate) name: &'b str,
    pub(crate) layers: &'b [Layer],
}

/// The units that quantities are told in; thicknesses are in `from`.
pub(crate) struct ToldIn {
    pub(crate) from: LengthUnit,
    pub(crate) length: LengthUnit,
    pub(crate) area: AreaUnit,
    pub(crate) volume: VolumeUnit,
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

/// The layers of a build-up over a zone.
pub(crate) fn quantities(
    covering: &Covering<'_>,
    zone: &str,
    area: GroundArea,
    told_in: &ToldIn,
) -> Vec<LayerQuantity> {
    let ToldIn {
        from,
        length,
        area: square,
        volume: cube,
    } = *told_in;
    let layers = covering.layers.iter().map(|layer| {
        let thickness = from.convert(layer.thickness, length);
        let volume = area.plan * thickness;
        // Rates are to the job's own unit.
        let own = |of: f64, dimension: i32| of * length.convert(1.0, from).powi(dimension);
        let counted = layer.counted.iter().map(|counted| {
            let [per_cube, per_square] = counted.rate;
            let count = own(volume, 3) * per_cube + own(area.plan, 2) * per_square;
            // What rounding adds to a whole number does not ask for one more.
            let count = if counted.whole {
                (count - 1e-9).ceil().max(0.0)
            } else {
                count
            };
            Count {
                unit: counted.unit.clone(),
                count,
                whole: counted.whole,
                cost: counted.cost.map(|cost| cost * count),
            }
        });
        LayerQuantity {
            build_up: covering.name.into(),
            zone: zone.into(),
            layer: layer.name.clone(),
            thickness,
            area: square.from_square(area.plan, length),
            sloping_area: square.from_square(area.sloping, length),
            volume: cube.from_cubic(volume, length),
            counted: counted.collect(),
        }
    });
    layers.collect()
}
