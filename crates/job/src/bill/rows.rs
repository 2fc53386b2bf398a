//! The rows of an item, from what was found for it.

use dapedon_core::{AreaUnit, LengthUnit, Rounding, VolumeUnit, Zone, measured_figure};

use super::grounds::Laid;
use super::model::ItemRow;
use super::paid::float;
use crate::LayerQuantity;
use crate::job_file::{CountedBy, Counts, ItemPlan, Pays};
use crate::measurement::ZoneMeasurement;

/// What was found for an item.
pub(crate) enum Found<'f> {
    /// Between two surfaces, region by region.
    Overlaid {
        counts: Counts,
        laid: &'f Laid,
        regions: &'f [ZoneMeasurement],
        unit: LengthUnit,
        area_unit: AreaUnit,
    },
    /// Areas along the slope, region by region, in squares of the unit.
    Sloping {
        laid: &'f Laid,
        sloping: &'f [f64],
        unit: LengthUnit,
        area_unit: AreaUnit,
    },
    /// Piles above their bases.
    Piles {
        piles: Vec<(&'f Zone, &'f ZoneMeasurement)>,
        volume_unit: VolumeUnit,
        unit: LengthUnit,
        area_unit: AreaUnit,
    },
    /// Layers, zone by zone.
    Layers {
        layers: &'f [LayerQuantity],
        unit: LengthUnit,
        area_unit: AreaUnit,
    },
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
    pub(crate) warnings: Vec<String>,
}

/// The rows of an item.
pub(crate) fn rows(item: &ItemPlan, found: Found<'_>) -> Rows {
    match found {
        Found::Overlaid {
            counts,
            laid,
            regions,
            unit,
            area_unit,
        } => {
            let figure = |z: &ZoneMeasurement| {
                let area = |area: f64| {
                    in_area(
                        item,
                        area / area_unit.from_square(1.0, unit),
                        unit,
                        area_unit,
                    )
                };
                match counts {
                    Counts::Cut => z.volume.cut,
                    Counts::Fill | Counts::Capacity => z.volume.fill,
                    Counts::Net => z.volume.net,
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
                    measured.area.neither = 0.0;
                }
                let figure = figure(&measured) * times as f64;
                ItemRow {
                    zone: name.into(),
                    figure,
                    written: written(item, figure),
                    plan_area: zone.map(|zone| area_unit.from_square(zone.area(), unit)),
                    perimeter: zone.map(Zone::perimeter),
                    measured: Some(measured),
                }
            };
            let mut found = parted(laid, row);
            let own = laid.counted.iter().map(|&region| &regions[region]);
            found.total = (found.rows.len() > 1).then(|| ZoneMeasurement::sum("total", own));
            found.warnings.extend(alone(laid, regions, area_unit));
            found.notes.extend(beyond(laid, area_unit, unit));
            found
        }
        Found::Sloping {
            laid,
            sloping,
            unit,
            area_unit,
        } => {
            let row = |name: &str, own: &[usize], zone: Option<&Zone>, times: usize| {
                let square = own.iter().map(|&region| sloping[region]).sum::<f64>();
                let figure = in_area(item, square, unit, area_unit) * times as f64;
                ItemRow {
                    zone: name.into(),
                    figure,
                    written: written(item, figure),
                    plan_area: zone.map(|zone| area_unit.from_square(zone.area(), unit)),
                    perimeter: zone.map(Zone::perimeter),
                    measured: None,
                }
            };
            let mut found = parted(laid, row);
            found.notes.extend(beyond(laid, area_unit, unit));
            found
        }
        Found::Piles {
            piles,
            volume_unit,
            unit,
            area_unit,
        } => {
            let row = |(zone, measured): &(&Zone, &ZoneMeasurement)| ItemRow {
                zone: zone.name().into(),
                figure: measured.volume.fill,
                written: written(item, measured.volume.fill),
                plan_area: Some(area_unit.from_square(zone.area(), unit)),
                perimeter: Some(zone.perimeter()),
                measured: Some((*measured).clone()),
            };
            let all = piles.iter().map(|(_, measured)| *measured);
            let below: f64 = all.clone().map(|pile| pile.volume.cut).sum();
            Rows {
                rows: piles.iter().map(row).collect(),
                total: (piles.len() > 1).then(|| ZoneMeasurement::sum("total", all)),
                notes: vec![format!(
                    "below the base, as cut: {below:.1} {}, not in it",
                    volume_unit.symbol()
                )],
                ..Rows::default()
            }
        }
        Found::Layers {
            layers,
            unit,
            area_unit,
        } => {
            let square = area_unit.from_square(1.0, unit);
            let row = |layer: &LayerQuantity| {
                let figure = match &item.pays {
                    Pays::Area(_) => in_area(item, layer.area / square, unit, area_unit),
                    Pays::Counted(counted) if matches!(counted.by, CountedBy::Covers(_)) => {
                        layer.area
                    }
                    _ => layer.volume,
                };
                ItemRow {
                    zone: layer.zone.clone(),
                    figure,
                    written: written(item, figure),
                    plan_area: Some(layer.area),
                    perimeter: None,
                    measured: None,
                }
            };
            Rows {
                rows: layers.iter().map(row).collect(),
                ..Rows::default()
            }
        }
        Found::Typed => Rows::default(),
    }
}

/// A figure as it is written; one that none of a bill is told where it is summed.
fn written(item: &ItemPlan, figure: f64) -> f64 {
    let round = Rounding(Some(item.decimals[0]));
    measured_figure(figure).map_or(figure, |figure| float(round.of(figure)))
}

/// Rows of ground that is parted; each is made of its regions, counting so many times.
fn parted(laid: &Laid, row: impl Fn(&str, &[usize], Option<&Zone>, usize) -> ItemRow) -> Rows {
    let rows = laid
        .rows
        .iter()
        .map(|own| row(&own.name, &own.regions, own.zone.as_ref(), 1));
    let shared = laid
        .shared
        .iter()
        .map(|(names, region, times)| row(names, &[*region], None, *times));
    let in_no_plot =
        (!laid.in_no_plot.is_empty()).then(|| row("in no plot", &laid.in_no_plot, None, 1));
    Rows {
        rows: rows.collect(),
        shared: shared.collect(),
        in_no_plot: in_no_plot.filter(|row| match &row.measured {
            Some(measured) => measured.area.compared > 1e-6,
            None => row.figure > 1e-6,
        }),
        ..Rows::default()
    }
}

/// An area in squares of the length unit, in the unit that the item is paid in.
fn in_area(item: &ItemPlan, square: f64, unit: LengthUnit, area_unit: AreaUnit) -> f64 {
    let paid = match &item.pays {
        Pays::Area(area) => *area,
        _ => area_unit,
    };
    paid.from_square(square, unit)
}

/// Ground of an item that only one of the surfaces covers, or neither.
fn alone(laid: &Laid, regions: &[ZoneMeasurement], area_unit: AreaUnit) -> Vec<String> {
    let own: Vec<&ZoneMeasurement> = (laid.counted.iter())
        .map(|&region| &regions[region])
        .collect();
    let sum = |of: fn(&ZoneMeasurement) -> f64| own.iter().map(|region| of(region)).sum::<f64>();
    let neither = match &laid.drawn {
        Some(_) => sum(|z| z.area.neither),
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
    let mut said: Vec<String> = found
        .map(|(area, what)| {
            format!(
                "{area:.1} {} covered by {what}, not compared",
                area_unit.symbol()
            )
        })
        .collect();
    // Over all of it: of a region that is only rounding the pieces never add up.
    let closure = ZoneMeasurement::sum("all", own).closure;
    if closure.relative > 1e-9 {
        let (area, domain, symbol) = (closure.area, closure.domain, area_unit.symbol());
        said.push(format!(
            "the pieces add up to {area} {symbol}, their domain is {domain} {symbol}"
        ));
    }
    said
}

fn beyond(laid: &Laid, area_unit: AreaUnit, unit: LengthUnit) -> Option<String> {
    let area = area_unit.from_square(laid.beyond, unit);
    (laid.beyond > 1e-6).then(|| {
        format!(
            "{area:.1} {} of its plots lie outside its zones, not counted",
            area_unit.symbol()
        )
    })
}
