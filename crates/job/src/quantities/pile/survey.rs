//! What all piles are measured with: the surface, the bases, the survey before.

use std::sync::Arc;

use dapedon_core::surface::Surface;
use dapedon_core::units::LengthUnit;

use super::between_points::LeftOut;
use super::materials::PileUnits;
use super::outlined::Outlined;
use super::uncertain::above_base;
use super::{Pile, PileRequest, ToeHeights, VolumeByBase};
use crate::context::Context;
use crate::digits::figure_in_words;
use crate::error::JobError;
use crate::figure::Volume;
use crate::finding::{Code, Finding};
use crate::input::BaseSource;
use crate::quantities::measurement::{Volumes, ZoneMeasurement};
use crate::quantities::scene::Scene;
use crate::quantities::uncertainty::{UncertaintyOf, ZoneUncertainty};
use crate::surfaces::NoOverlapError;
use crate::surfaces::{MadeSurface, Making};

/// What all piles are measured with.
pub(super) struct PileSurvey<'y, 'j> {
    pub(super) context: &'y Context<'j>,
    pub(super) request: &'y PileRequest,
    pub(super) making: &'y Making<'j>,
    /// The surface they are part of.
    pub(super) surface: &'y MadeSurface,
    pub(super) scene: Scene,
    /// The length unit of the survey.
    pub(super) survey: LengthUnit,
    pub(super) bases: Vec<(BaseSource, Option<MadeSurface>)>,
    pub(super) previous: Option<&'y MadeSurface>,
    /// What the spacing of points leaves out, where that is asked for and known.
    pub(super) left_out: Option<LeftOut>,
}

impl PileSurvey<'_, '_> {
    /// A pile, and what it stands on.
    pub(super) fn pile(
        &self,
        number: usize,
        outlined: &Outlined,
        said: &[(String, String)],
    ) -> Result<(Pile, Arc<Surface>), JobError> {
        let (zone, units) = (&outlined.zone, self.making.units);
        let area = |value: f64| units.area_of(value);
        let ground = outlined.ground()?;
        let base = self.base(outlined, 0)?;
        let measured = outlined.from(&base, &self.scene)?;
        let [mut held, beyond] = self.held(&measured);
        let uncertainty = self.uncertainty(number, outlined, 0)?;
        held.uncertainty = uncertainty.map(|own| own.standard.value);
        let heights = ground.heights();
        let difference = measured.difference;
        let (greatest, greatest_at, top) = match self.request.pit {
            true => (
                difference.map(|d| -d.min.value),
                difference.map(|d| d.min_at),
                heights.0,
            ),
            false => (
                difference.map(|d| d.max.value),
                difference.map(|d| d.max_at),
                heights.1,
            ),
        };
        let by_base = self.by_base(number, outlined, [held, beyond])?;
        let change = self.change(outlined)?;
        let materials = &self.request.materials;
        let by = materials.of(zone.name(), said, self.context.job)?;
        let told = PileUnits {
            survey: self.survey,
            volume: units.volume,
            decimals: units.decimals as u32,
        };
        let converted =
            by.map(|by| materials.converted(zone.name(), self.request.pit, held.value, &by, &told));
        let (material, mass) = converted.transpose()?.unzip();
        let plan_area = area(zone.area());
        // A unit of height over the area of its outline.
        let slab = units.volume_of(zone.area());
        let length = |value: f64| units.length_of(value);
        let pile = Pile {
            plan_area,
            toe_length: length(zone.perimeter()),
            sloping_area: area(ground.true_area()),
            pile_volume: held,
            volume_below_base: beyond,
            uncertainty,
            max_height: length(greatest.unwrap_or_default().max(0.0)),
            max_height_at: greatest_at,
            mean_height: length(held.value / slab.value),
            highest_level: length(top),
            toe_heights: outlined.toe().ok().map(|toe| ToeHeights {
                lowest: length(toe.lowest()),
                mean: length(toe.mean()),
                highest: length(toe.highest()),
            }),
            share: 0.0,
            material,
            mass: mass.flatten(),
            volume_by_base: by_base,
            not_surveyed_before: change.as_ref().map(|change| match change.closure.pieces {
                0 => plan_area,
                _ => change.area.surveyed_only,
            }),
            change: change
                .filter(|change| change.closure.pieces > 0)
                .map(|change| change.volume),
            measured,
        };
        Ok((pile, base))
    }

    /// What lies between the survey before and this one.
    fn change(&self, outlined: &Outlined) -> Result<Option<ZoneMeasurement>, JobError> {
        let Some(previous) = self.previous else {
            return Ok(None);
        };
        let before = Arc::new(previous.surface.near(&outlined.zone.extent()));
        match outlined.from(&before, &self.scene) {
            Ok(change) => Ok(Some(change)),
            // A pile may stand where nobody surveyed before.
            Err(error) if error.kind::<NoOverlapError>().is_some() => {
                let none = ZoneMeasurement::sum(outlined.zone.name(), [], &self.making.units);
                Ok(Some(none))
            }
            Err(error) => Err(error),
        }
    }

    fn base(&self, outlined: &Outlined, index: usize) -> Result<Arc<Surface>, JobError> {
        let (base, made) = &self.bases[index];
        let own = || match made {
            Some(made) => made.surface.clone(),
            None => outlined.near.clone(),
        };
        Ok(outlined.base(base, own)?)
    }

    /// How uncertain what it holds is, by one of the bases.
    fn uncertainty(
        &self,
        number: usize,
        outlined: &Outlined,
        index: usize,
    ) -> Result<Option<UncertaintyOf>, JobError> {
        let (base, made) = &self.bases[index];
        let found = above_base(outlined, self.surface, base, made.as_ref())?;
        let told = found.map(|found| ZoneUncertainty::of(&found, &self.making.units));
        Ok(told.map(|own| {
            let mut own = match self.request.pit {
                true => own.cut,
                false => own.fill,
            };
            if let Some(left_out) = &self.left_out {
                let at = [number, index];
                left_out.add_to(&mut own, at, self.request.pit, &self.making.units);
            }
            own
        }))
    }

    /// What counts, and what lies on the other side of the base.
    fn held(&self, measured: &ZoneMeasurement) -> [Volume; 2] {
        let Volumes { cut, fill, .. } = measured.volume;
        match self.request.pit {
            true => [cut, fill],
            false => [fill, cut],
        }
    }

    /// The same by all bases. Where the survey does not reach all along the outline, those that it needs are left
    /// out, unless they were asked for.
    fn by_base(
        &self,
        number: usize,
        outlined: &Outlined,
        first: [Volume; 2],
    ) -> Result<Vec<VolumeByBase>, JobError> {
        let mut found = Vec::new();
        for (index, (base, _)) in self.bases.iter().enumerate() {
            let [held, beyond] = match index {
                0 => first,
                _ if base.of_toe().is_some()
                    && !self.request.compare
                    && outlined.toe().is_err() =>
                {
                    continue;
                }
                _ => {
                    let below = self.base(outlined, index)?;
                    let [mut held, beyond] = self.held(&outlined.from(&below, &self.scene)?);
                    let own = self.uncertainty(number, outlined, index)?;
                    held.uncertainty = own.map(|own| own.standard.value);
                    [held, beyond]
                }
            };
            found.push(VolumeByBase {
                base: base.to_string(),
                pile_volume: held,
                volume_below_base: beyond,
            });
        }
        Ok(found)
    }

    /// What must be known before its figures are trusted.
    pub(super) fn warnings(&self, pile: &Pile) -> Vec<Finding> {
        let ZoneMeasurement { area, zone, .. } = &pile.measured;
        let symbol = self.making.units.area.symbol();
        let neither = area.neither.map_or(0.0, |area| area.value);
        let missing = [
            (area.reference_only.value + neither, "the surface"),
            (area.surveyed_only.value + neither, "the base"),
        ];
        let missing = missing.into_iter().filter(|(area, _)| *area > 0.0);
        let before = pile.not_surveyed_before.map(|area| area.value).filter(|area| *area > 0.0).map(|area| {
            let words = format!("the earlier survey does not cover {} {symbol} of the outline: the change there is not known", figure_in_words(area));
            Finding::new(Code::NotSurveyedBefore, words).at(zone)
        });
        let words = missing.map(|(area, of)| {
            let words = format!(
                "{} {symbol} of the outline are outside {of} and not measured",
                figure_in_words(area)
            );
            Finding::new(Code::BeyondSurface, words).at(zone)
        });
        words.chain(before).collect()
    }
}
