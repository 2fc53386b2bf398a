//! The rows of an item, from what was found for it.

use dapedon_contract::{ContractError, CountedBy, Rounding, measured_figure};

use dapedon_core::units::{AreaUnit, VolumeUnit};
use dapedon_core::zones::Zone;
use rust_decimal::Decimal;

use super::grounds::Laid;
use super::model::ItemRow;
use crate::finding::{Code, Finding};
use crate::job_file::{Counts, ItemPlan, Pays};
use crate::quantities::ZoneMeasurement;
use crate::surfaces::LayerQuantity;
use crate::units::{ReportUnits, figure_in_words};

/// What was found for an item.
pub(crate) enum Found<'f> {
    /// Between two surfaces, region by region.
    Overlaid {
        counts: Counts,
        /// Where the water of a basin would have run over its edge.
        over: Option<&'f Finding>,
        laid: &'f Laid,
        regions: &'f [ZoneMeasurement],
    },
    /// Areas along the slope, region by region, in squares of the unit.
    Sloping { laid: &'f Laid, sloping: &'f [f64] },
    /// Piles above their bases.
    Piles {
        piles: Vec<(&'f Zone, &'f ZoneMeasurement)>,
    },
    /// Layers, zone by zone.
    Layers { layers: &'f [LayerQuantity] },
    /// Nothing: it is typed in.
    Typed,
}

/// Rows, and what is to be said of them.
#[derive(Default)]
pub(crate) struct Rows {
    pub(crate) rows: Vec<ItemRow>,
    pub(crate) shared: Vec<ItemRow>,
    pub(crate) in_no_plot: Option<ItemRow>,
    /// All rows, where there are several.
    pub(crate) total: Option<ZoneMeasurement>,
    pub(crate) notes: Vec<String>,
    pub(crate) warnings: Vec<Finding>,
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
            Pays::Volume(own) => *own,
            _ => self.factors,
        }
    }

    /// The unit that areas of an item are counted in.
    fn area(&self, item: &ItemPlan) -> AreaUnit {
        match &item.pays {
            Pays::Area(own) => *own,
            _ => AreaUnit::usual(self.told.length),
        }
    }

    /// A volume of an item, from the unit it was measured in.
    fn counted_volume(&self, item: &ItemPlan, volume: f64) -> f64 {
        self.told.volume.convert(volume, self.volume(item))
    }

    /// An area of an item, from the unit it was measured in.
    fn counted_area(&self, item: &ItemPlan, area: f64) -> f64 {
        self.told.area.convert(area, self.area(item))
    }
}

/// The rows of an item.
pub(crate) fn rows(
    item: &ItemPlan,
    found: Found<'_>,
    units: &RowUnits,
) -> Result<Rows, ContractError> {
    let ReportUnits {
        length: unit,
        area: area_unit,
        volume: volume_unit,
        ..
    } = units.told;
    match found {
        Found::Overlaid {
            counts,
            over,
            laid,
            regions,
        } => {
            let figure = |z: &ZoneMeasurement| {
                let area = |area: f64| units.counted_area(item, area);
                let volume = |volume: f64| units.counted_volume(item, volume);
                match counts {
                    Counts::Cut => volume(z.volume.cut),
                    Counts::Fill | Counts::Capacity => volume(z.volume.fill),
                    Counts::Net => volume(z.volume.net),
                    Counts::Area => area(z.area.compared),
                    Counts::CutArea => area(z.area.cut),
                    Counts::FillArea => area(z.area.fill),
                }
            };
            let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
                let mut measured =
                    ZoneMeasurement::sum(name, own.iter().map(|&region| &regions[region]));
                if laid.drawn.is_none() {
                    // Ground around both surfaces is no part of anything.
                    measured.area.neither = None;
                }
                let figure = figure(&measured) * times as f64;
                Ok(ItemRow {
                    zone: name.into(),
                    figure,
                    written: written(item, figure)?,
                    plan_area: zone.map(|zone| area_unit.from_square(zone.area(), unit)),
                    perimeter: zone.map(Zone::perimeter),
                    measured: Some(measured),
                })
            };
            let mut found = parted(laid, row)?;
            let own = laid.counted.iter().map(|&region| &regions[region]);
            found.total = (found.rows.len() > 1).then(|| ZoneMeasurement::sum("total", own));
            found.warnings.extend(alone(laid, regions, area_unit));
            found.notes.extend(beyond(laid, area_unit, unit));
            found.findings.extend(over.cloned());
            Ok(found)
        }
        Found::Sloping { laid, sloping } => {
            let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
                let square = own.iter().map(|&region| sloping[region]).sum::<f64>();
                let figure = units.area(item).from_square(square, unit) * times as f64;
                Ok(ItemRow {
                    zone: name.into(),
                    figure,
                    written: written(item, figure)?,
                    plan_area: zone.map(|zone| area_unit.from_square(zone.area(), unit)),
                    perimeter: zone.map(Zone::perimeter),
                    measured: None,
                })
            };
            let mut found = parted(laid, row)?;
            found.notes.extend(beyond(laid, area_unit, unit));
            Ok(found)
        }
        Found::Piles { piles } => {
            let row = |(zone, measured): &(&Zone, &ZoneMeasurement)| {
                let figure = units.counted_volume(item, measured.volume.fill);
                Ok(ItemRow {
                    zone: zone.name().into(),
                    figure,
                    written: written(item, figure)?,
                    plan_area: Some(area_unit.from_square(zone.area(), unit)),
                    perimeter: Some(zone.perimeter()),
                    measured: Some((*measured).clone()),
                })
            };
            let all = piles.iter().map(|(_, measured)| *measured);
            let below: f64 = all.clone().map(|pile| pile.volume.cut).sum();
            Ok(Rows {
                rows: piles.iter().map(row).collect::<Result<_, _>>()?,
                total: (piles.len() > 1).then(|| ZoneMeasurement::sum("total", all)),
                notes: vec![format!(
                    "below the base, as cut: {below:.1} {}, not in it",
                    volume_unit.symbol()
                )],
                ..Rows::default()
            })
        }
        Found::Layers { layers } => {
            let row = |layer: &LayerQuantity| {
                let figure = match &item.pays {
                    Pays::Area(_) => units.counted_area(item, layer.area),
                    Pays::Counted(counted) if matches!(counted.by, CountedBy::Covers(_)) => {
                        units.counted_area(item, layer.area)
                    }
                    _ => units.counted_volume(item, layer.volume),
                };
                Ok(ItemRow {
                    zone: layer.zone.clone(),
                    figure,
                    written: written(item, figure)?,
                    plan_area: Some(layer.area),
                    perimeter: None,
                    measured: None,
                })
            };
            Ok(Rows {
                rows: layers.iter().map(row).collect::<Result<_, _>>()?,
                ..Rows::default()
            })
        }
        Found::Typed => Ok(Rows::default()),
    }
}

/// A figure as it is written.
fn written(item: &ItemPlan, figure: f64) -> Result<Decimal, ContractError> {
    let exact = measured_figure(figure).ok_or(ContractError::Beyond { figure })?;
    Ok(Rounding(Some(item.decimals)).of(exact))
}

/// Rows of ground that is parted; each is made of its regions, counting so many times.
fn parted(
    laid: &Laid,
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
        (!laid.in_no_plot.is_empty()).then(|| row("in no plot", &laid.in_no_plot, None, 1));
    let in_no_plot = in_no_plot.transpose()?;
    Ok(Rows {
        rows: rows.collect::<Result<_, _>>()?,
        shared: shared.collect::<Result<_, _>>()?,
        in_no_plot: in_no_plot.filter(|row| match &row.measured {
            Some(measured) => measured.area.compared > 1e-6,
            None => row.figure > 1e-6,
        }),
        ..Rows::default()
    })
}

/// Ground of an item that only one of the surfaces covers, or neither.
fn alone(laid: &Laid, regions: &[ZoneMeasurement], area_unit: AreaUnit) -> Vec<Finding> {
    let own: Vec<&ZoneMeasurement> = (laid.counted.iter())
        .map(|&region| &regions[region])
        .collect();
    let sum = |of: fn(&ZoneMeasurement) -> f64| own.iter().map(|region| of(region)).sum::<f64>();
    let neither = match &laid.drawn {
        Some(_) => sum(|z| z.area.neither.unwrap_or_default()),
        None => 0.0,
    };
    let found = [
        (sum(|z| z.area.reference_only), "only the reference"),
        (sum(|z| z.area.surveyed_only), "only the surveyed surface"),
        (neither, "neither surface"),
    ];
    let found = found
        .into_iter()
        .filter(|(area, _)| *area > 1e-6 && area.is_finite());
    let mut said: Vec<Finding> = found
        .map(|(area, what)| {
            let area = figure_in_words(area);
            let words = format!(
                "{area} {} covered by {what}, not compared",
                area_unit.symbol()
            );
            Finding::new(Code::NotCompared, words)
        })
        .collect();
    // Over all of it: of a region that is only rounding the pieces never add up.
    let closure = ZoneMeasurement::sum("all", own).closure;
    if closure.relative > 1e-9 {
        let (area, domain, symbol) = (closure.area, closure.domain, area_unit.symbol());
        let words =
            format!("the pieces add up to {area} {symbol}, their domain is {domain} {symbol}");
        said.push(Finding::new(Code::Closure, words));
    }
    said
}

fn beyond(
    laid: &Laid,
    area_unit: AreaUnit,
    unit: dapedon_core::units::LengthUnit,
) -> Option<String> {
    let area = area_unit.from_square(laid.beyond, unit);
    (laid.beyond > 1e-6).then(|| {
        let area = figure_in_words(area);
        let symbol = area_unit.symbol();
        format!("{area} {symbol} of its plots lie outside its zones, not counted")
    })
}
