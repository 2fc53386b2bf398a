//! Items that count piles, each above its own base.

use std::sync::Arc;

use dapedon_contract::ContractError;
use dapedon_core::surface::{Surface, Tin, Vertex};
use dapedon_core::zones::Zone;

use super::ItemMeasurement;
use crate::bill::inputs::BillInputs;
use crate::bill::model::ItemRow;
use crate::bill::rows::{RowUnits, Rows, written};
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::finding::Finding;
use crate::input::BaseSource;
use crate::job_file::{self, ItemPlan, MeasuredZones};
use crate::quantities::between_points::{no_uncertainty, not_known};
use crate::quantities::pile::between_points::LeftOut;
use crate::quantities::pile::flank::on_flank;
use crate::quantities::pile::outlined::Outlined;
use crate::quantities::pile::uncertain::above_base;
use crate::quantities::uncertainty::{UncertaintyOf, ZoneUncertainty};
use crate::quantities::{Scene, ZoneMeasurement, apart};
use crate::surfaces::SurfaceError;
use crate::watch::Activity;
use crate::zones::told_apart;

/// Piles on a surface, above bases of one kind.
pub(crate) struct PilesAbove {
    pub(crate) surface: usize,
    ground: MeasuredZones,
    pub(crate) base: BaseSource,
    /// Whether what the spacing of points leaves out was asked for, and why it is not known.
    between_points: bool,
    not_between: Option<Finding>,
    pub(crate) piles: Vec<Pile>,
}

/// A pile: its outline, what was measured, and its base below it.
pub(crate) struct Pile {
    pub(crate) zone: Zone,
    pub(crate) measured: ZoneMeasurement,
    pub(crate) base: Arc<Surface>,
    /// How uncertain what lies above the base is, where that is known.
    uncertainty: Option<UncertaintyOf>,
    /// Where its outline runs over its flank.
    on_flank: Option<Finding>,
}

/// Which of them.
struct Piles(usize);

pub(super) fn ask(
    desk: &mut BillInputs<'_>,
    plan: &job_file::Pile,
) -> Result<Box<dyn ItemMeasurement>, JobError> {
    let job_file::Pile {
        surface,
        ground,
        base,
        between_points,
        ..
    } = plan;
    let surface = desk.number(surface)?;
    let same = |known: &PilesAbove| {
        known.surface == surface
            && known.ground == *ground
            && known.base == *base
            && known.between_points == *between_points
    };
    if let Some(known) = desk.piled.iter().position(same) {
        return Ok(Box::new(Piles(known)));
    }
    let mut known = Vec::new();
    for name in &ground.zones {
        known.extend(desk.site.making.zones_of(name)?);
    }
    let names: Vec<(String, String)> = (known.iter())
        .map(|known| (known.zone.name().to_owned(), known.of.clone()))
        .collect();
    let zones = known.into_iter().zip(told_apart(&names));
    let zones: Vec<Zone> = zones.map(|(known, name)| known.zone.named(name)).collect();
    apart(&zones, desk.site.making.frame.precision())?;
    let piles = zones
        .into_iter()
        .map(|zone| pile(desk, surface, zone, base));
    let mut piles = piles.collect::<Result<Vec<Pile>, JobError>>()?;
    let mut not_between = None;
    if *between_points {
        not_between = add_between_points(desk, surface, &mut piles, base)?;
    }
    desk.piled.push(PilesAbove {
        surface,
        ground: ground.clone(),
        base: base.clone(),
        between_points: *between_points,
        not_between,
        piles,
    });
    Ok(Box::new(Piles(desk.piled.len() - 1)))
}

/// Adds what the spacing of points leaves out to the uncertainty of piles, or says why that is not known.
fn add_between_points(
    desk: &BillInputs<'_>,
    surface: usize,
    piles: &mut [Pile],
    base: &BaseSource,
) -> Result<Option<Finding>, JobError> {
    let made = &desk.made[surface].1;
    let zones: Vec<Zone> = piles.iter().map(|pile| pile.zone.clone()).collect();
    let step = desk.watch.next(Activity::LeavingOutPoints)?;
    let found = step.unless_stopped(LeftOut::of(made, &zones, &[(base.clone(), None)]))?;
    let Some(found) = found else {
        return Ok(Some(match made.side.accuracy {
            Some(_) => not_known(&made.side),
            None => no_uncertainty(),
        }));
    };
    for (number, pile) in piles.iter_mut().enumerate() {
        if let Some(own) = &mut pile.uncertainty {
            found.add_to(own, [number, 0], false, &desk.site.making.units);
        }
    }
    Ok(None)
}

fn pile(
    desk: &BillInputs<'_>,
    surface: usize,
    zone: Zone,
    base: &BaseSource,
) -> Result<Pile, JobError> {
    let made = &desk.made[surface].1;
    let surface = desk.surface(surface);
    let outlined = Outlined::of(surface, zone);
    let found = above_base(&outlined, made, base, None)?;
    let uncertainty = found.map(|found| ZoneUncertainty::of(&found, &desk.site.making.units).fill);
    let on_flank = on_flank(surface, &outlined, false);
    let base = outlined.base(base, || outlined.near.clone())?;
    let scene = Scene::of(&desk.site.making, [&base, surface], None);
    Ok(Pile {
        measured: outlined.from(&base, &scene)?,
        zone: outlined.zone,
        base,
        uncertainty,
        on_flank,
    })
}

impl PilesAbove {
    /// The bases of all of them as one surface.
    ///
    /// # Errors
    ///
    /// When they make no surface.
    pub(crate) fn bases(&self) -> Result<Surface, JobError> {
        let mut vertices = Vec::new();
        let mut all = Vec::new();
        let mut frame = None;
        for pile in &self.piles {
            let Surface::Tin(tin) = &*pile.base else {
                continue;
            };
            let first = vertices.len() as u32;
            let own = *frame.get_or_insert(tin.frame());
            vertices.extend(tin.vertices().iter().map(|vertex| {
                let at = own.to_grid(vertex.place());
                Vertex::new(at.east, at.north, vertex.height)
            }));
            let facets = tin.facets().iter();
            all.extend(facets.map(|facet| facet.map(|corner| first + corner)));
        }
        let frame = frame.ok_or(SurfaceError::NoGround)?;
        let made = Tin::from_facets(frame, vertices, all);
        made.map(Surface::Tin)
            .map_err(|_| SurfaceError::ManyFacets.into())
    }
}

impl ItemMeasurement for Piles {
    fn rows(
        &self,
        desk: &BillInputs<'_>,
        item: &ItemPlan,
        units: &RowUnits,
    ) -> Result<Rows, ContractError> {
        let piles = &desk.piled[self.0].piles;
        let row = |Pile { zone, measured, .. }: &Pile| {
            let figure = units.counted_volume(item, measured.volume.fill);
            Ok(ItemRow {
                zone: zone.name().into(),
                unrounded: figure,
                rounded: written(item, figure)?,
                plan_area: Some(units.told.area_of(zone.area())),
                perimeter: Some(units.told.length_of(zone.perimeter())),
                measured: Some(measured.clone()),
                to_limit: None,
            })
        };
        let all = piles.iter().map(|pile| &pile.measured);
        let below: f64 = all.clone().map(|pile| pile.volume.cut.value).sum();
        Ok(Rows {
            rows: piles
                .iter()
                .map(row)
                .collect::<Result<_, ContractError>>()?,
            total: (piles.len() > 1).then(|| ZoneMeasurement::sum("total", all, &units.told)),
            warnings: piles
                .iter()
                .filter_map(|pile| pile.on_flank.clone())
                .chain(desk.piled[self.0].not_between.clone())
                .collect(),
            notes: vec![format!(
                "not included, below the base: {} {}",
                figure_in_words(below),
                units.told.volume.symbol()
            )],
            ..Rows::default()
        })
    }

    fn uncertainty(&self, desk: &BillInputs<'_>) -> Option<UncertaintyOf> {
        let piles = desk.piled[self.0].piles.iter();
        let all: Option<Vec<&UncertaintyOf>> =
            piles.map(|pile| pile.uncertainty.as_ref()).collect();
        UncertaintyOf::together(all?.into_iter())
    }

    fn piles(&self) -> Option<usize> {
        Some(self.0)
    }
}
