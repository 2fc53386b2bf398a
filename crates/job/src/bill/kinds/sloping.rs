//! Items that count the area of a surface along its slope.

use dapedon_contract::ContractError;
use dapedon_core::quantities::ground_areas;
use dapedon_core::zones::Zone;

use super::ItemMeasurement;
use crate::bill::grounds::{GroundParts, ItemGround};
use crate::bill::inputs::BillInputs;
use crate::bill::model::ItemRow;
use crate::bill::passes::around;
use crate::bill::rows::{RowUnits, Rows, beyond, parted, written};
use crate::error::JobError;
use crate::job_file::{self, ItemPlan, MeasuredZones};
use crate::surfaces::SurfaceError;

/// The area of a surface along its slope, on some ground.
pub(crate) struct Sloped {
    surface: usize,
    ground: MeasuredZones,
    laid: ItemGround,
    /// Region by region, in squares of the unit.
    sloping: Vec<f64>,
}

/// Which of them.
struct Sloping(usize);

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    plan: &job_file::Sloping,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let job_file::Sloping { surface, ground } = plan;
    let surface = desk.number(surface)?;
    let same = |known: &Sloped| known.surface == surface && known.ground == *ground;
    if let Some(known) = desk.sloped.iter().position(same) {
        return Ok(Box::new(Sloping(known)));
    }
    let making = &desk.site.making;
    let zones_of = |name: &str| making.zones_of(name);
    let around = around(&[desk.surface(surface)]);
    let parted = GroundParts::of(std::iter::once(ground), making.frame, around, zones_of)?;
    let parted = parted.ok_or(SurfaceError::NoGround)?;
    let laid = parted.lay(ground)?;
    let found = ground_areas(desk.surface(surface), &parted.regions())?;
    let sloping = found.iter().map(|area| area.sloping).collect();
    desk.sloped.push(Sloped {
        surface,
        ground: ground.clone(),
        laid,
        sloping,
    });
    Ok(Box::new(Sloping(desk.sloped.len() - 1)))
}

impl ItemMeasurement for Sloping {
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let Sloped { laid, sloping, .. } = &desk.sloped[self.0];
        let (area_unit, unit) = (units.told.area, units.told.length);
        let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
            let square = own.iter().map(|&region| sloping[region]).sum::<f64>();
            let figure = units.area(item).from_square(square, unit) * times as f64;
            Ok(ItemRow {
                zone: name.into(),
                unrounded: figure,
                rounded: written(item, figure)?,
                plan_area: zone.map(|zone| units.told.area_of(zone.area())),
                perimeter: zone.map(|zone| units.told.length_of(zone.perimeter())),
                measured: None,
                to_limit: None,
            })
        };
        let mut found = parted(laid, item, units, row)?;
        found.notes.extend(beyond(laid, area_unit, unit));
        Ok(found)
    }
}
