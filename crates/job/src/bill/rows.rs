//! What the rows of all kinds of items have in common.

use dapedon_contract::{ContractError, Rounding, measured_figure};
use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};
use dapedon_core::zones::Zone;
use rust_decimal::Decimal;

use super::grounds::ItemGround;
use super::model::{ItemRow, ItemSections, ToLimit};
use crate::digits::figure_in_words;
use crate::figure::{Area, Volume};
use crate::finding::Finding;
use crate::job_file::{ItemPlan, PaidUnit};
use crate::quantities::ZoneMeasurement;
use crate::units::ReportUnits;

/// Rows, and what is to be given of them.
#[derive(Default)]
pub(crate) struct Rows {
    pub(crate) rows: Vec<ItemRow>,
    pub(crate) shared: Vec<ItemRow>,
    pub(crate) in_no_plot: Option<ItemRow>,
    /// All rows, where there are several.
    pub(crate) total: Option<ZoneMeasurement>,
    pub(crate) notes: Vec<String>,
    pub(crate) warnings: Vec<Finding>,
    /// Where it is computed from sections: what they come to.
    pub(crate) by_sections: Option<ItemSections>,
    /// Where work is counted up to a limit: all of it.
    pub(crate) to_limit: Option<ToLimit>,
    /// In what it is not what it is taken for.
    pub(crate) findings: Vec<Finding>,
}

/// The units that the rows of an item pass through.
#[derive(Clone, Copy)]
pub(crate) struct RowUnits {
    /// What was measured is in these.
    pub(crate) told: ReportUnits,
    /// What factors hold in.
    pub(crate) factors: VolumeUnit,
}

impl RowUnits {
    /// The unit that volumes of an item are counted in: its own, or that of the factors it is converted by.
    pub(crate) fn volume(&self, item: &ItemPlan) -> VolumeUnit {
        match &item.pays {
            PaidUnit::Volume(own) => *own,
            _ => self.factors,
        }
    }

    /// The unit that areas of an item are counted in.
    pub(super) fn area(&self, item: &ItemPlan) -> AreaUnit {
        match &item.pays {
            PaidUnit::Area(own) => *own,
            _ => AreaUnit::usual(self.told.length),
        }
    }

    /// A volume of an item, from the unit it was measured in.
    pub(super) fn counted_volume(&self, item: &ItemPlan, volume: Volume) -> f64 {
        volume.unit.convert(volume.value, self.volume(item))
    }

    /// An area of an item, from the unit it was measured in.
    pub(super) fn counted_area(&self, item: &ItemPlan, area: Area) -> f64 {
        area.unit.convert(area.value, self.area(item))
    }
}

/// A figure as it is written.
pub(super) fn written(item: &ItemPlan, figure: f64) -> Result<Decimal, ContractError> {
    let exact = measured_figure(figure).ok_or(ContractError::Beyond { figure })?;
    Ok(Rounding(Some(item.decimals)).of(exact))
}

/// Rows of ground that is split; each is made of its regions, counting so many times.
pub(super) fn parted(
    laid: &ItemGround,
    item: &ItemPlan,
    units: &RowUnits,
    row: impl Fn(&str, &[usize], Option<&Zone>, usize) -> Result<ItemRow, ContractError>,
) -> Result<Rows, ContractError> {
    let rows = laid
        .rows
        .iter()
        .map(|own| row(&own.name, &own.regions, own.zone.as_ref(), 1));
    let shared = laid
        .shared
        .iter()
        .map(|(names, regions, times)| row(names, regions, None, *times));
    let in_no_plot =
        (!laid.in_no_plot.is_empty()).then(|| row("outside all plots", &laid.in_no_plot, None, 1));
    let in_no_plot = in_no_plot.transpose()?;
    let negligible = |unit: AreaUnit| unit.from_square(laid.negligible, units.told.length);
    Ok(Rows {
        rows: rows.collect::<Result<_, _>>()?,
        shared: shared.collect::<Result<_, _>>()?,
        in_no_plot: in_no_plot.filter(|row| match &row.measured {
            Some(measured) => measured.area.compared.value > negligible(units.told.area),
            None => row.unrounded > negligible(units.area(item)),
        }),
        ..Rows::default()
    })
}

/// What of its plots lies outside the zones of an item.
pub(super) fn beyond(laid: &ItemGround, area_unit: AreaUnit, unit: LengthUnit) -> Option<String> {
    let area = area_unit.from_square(laid.beyond, unit);
    (laid.beyond > laid.negligible).then(|| {
        let area = figure_in_words(area);
        let symbol = area_unit.symbol();
        format!("{area} {symbol} of its plots are outside its zones and not counted")
    })
}
