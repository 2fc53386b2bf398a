//! Cross-sections along a line: areas, and the volumes between them, beside those between the surfaces themselves.

mod cutting;
mod error;
mod haul;
mod layers;
mod model;
mod reach;
mod refined;
mod stations;
mod stretches;
mod told;
mod warnings;

use dapedon_core::overlay::Watch;
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::{
    EndAreaRule, SectionAreas, SectionLine, Tolerance, VolumeUncertainty, long_section,
    section_uncertainty,
};
use dapedon_core::surface::{FacetIndex, Surface};
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones};

use crate::accuracy::{COVERAGE_FACTOR, StatedAccuracy};
use crate::context::Context;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::line_facts::LineFacts;
use crate::quantities::scene::Scene;
use crate::quantities::spots::MapGround;
use crate::quantities::uncertainty::{Sureness, ZoneUncertainty};
use crate::quantities::uncertainty_notes::accuracy_notes;
use crate::schema::Schema;
use crate::section_rules::{SectionRule, SectionRules};
use crate::site::{Site, SiteLine};
use crate::surfaces::{LayerBetween, MadeSurface};
use crate::watch::Activity;

use cutting::Cutter;
pub use error::SectionsError;
pub use haul::{HaulDirection, HaulOrdinate, HaulPlace, HaulRules, LineHaul, LoopOfHaul};
pub use model::{
    EnoughInterval, ExactVolumes, Section, SectionCorners, SectionGround, SectionLayer,
    SectionShares, SectionVolumes, Sections, SidedAreas, Stretch, UncertaintyBySections,
};
pub(crate) use reach::cuts_along;
use reach::reach_of_zones;
use refined::refined;
use stretches::{CutAndFill, Rules, Strips};

/// Chords of the long-section stand no farther than this from the line, in metres.
const CHORD: f64 = 0.005;
/// How wide sections may be, in any unit.
const WIDEST: f64 = 200_000.0;
/// Sections at most.
const MOST: usize = 20_000;
/// Times that an interval is halved, or doubled, in search of one that is enough.
const TRIES: u32 = 6;
/// Volumes by sections are close enough within this share.
const ENOUGH: f64 = 0.01;

/// Which sections to cut, and how volumes follow from them.
#[derive(Debug, Clone)]
pub struct SectionsRequest {
    /// From this surface.
    pub reference: Source,
    /// To this one.
    pub surveyed: Source,
    /// Other surfaces that are cut too.
    pub others: Vec<Source>,
    /// Which sections, and how volumes follow from them.
    pub rules: SectionRules,
    /// Within these zones.
    pub zones: Vec<ZoneSource>,
    /// Compute the haul along the line.
    pub haul: Option<HaulRules>,
    /// Cut the layers of build-ups too.
    pub layers: bool,
    /// Hand over the corners of all surfaces.
    pub corners: bool,
    /// How accurate the reference and the surveyed surface are, in place of what the job says.
    pub accuracies: [Option<StatedAccuracy>; 2],
}

/// Cuts sections along a line and computes the volumes between them, and hands back what they are drawn from.
///
/// # Errors
///
/// When a file cannot be used, a chainage is not on the line, or no section has both surfaces.
pub fn sections(
    context: &Context<'_>,
    request: &SectionsRequest,
) -> Result<(Sections, SectionGround), JobError> {
    context.run(|| {
        let two = [&request.reference, &request.surveyed];
        let sources: Vec<&Source> = two.into_iter().chain(&request.others).collect();
        let mut site = Site::open(context, &sources, &request.zones)?;
        let zones = site.zones(&request.zones)?;
        let made = sources.iter().map(|source| site.surface(source));
        let mut made = made.collect::<Result<Vec<MadeSurface>, JobError>>()?;
        for (made, stated) in made.iter_mut().zip(&request.accuracies) {
            if let Some(stated) = stated {
                made.state_accuracy(stated, site.making.units.length)?;
            }
        }
        let sure = Sureness::of([&made[0], &made[1]]);
        site.making.warn(&[&made[0], &made[1]]);
        let found = site.line(&request.rules.line)?;
        let unit = site.making.frame.unit();
        let asked = stations::stations(&request.rules, &found.line, unit)?;
        let layers = layers_of(&mut site, request)?;
        let step = context.watch.next(Activity::Cutting)?;
        let watch = |share| step.at(share);
        let surfaces: Vec<&Surface> = made.iter().map(|made| &*made.surface).collect();
        let measuring = Measuring {
            rules: &request.rules,
            site: &site,
            surfaces: &surfaces,
            names: [&request.reference, &request.surveyed].map(ToString::to_string),
            found: &found,
            zones: zones.as_ref(),
            sure: sure.as_ref(),
        };
        let (figures, distances) = step.unless_stopped(measuring.figures(asked, &watch))?;
        let cuts = layers::LayerCuts {
            site: &site,
            found: &found,
            rules: measuring.volumes_by(),
            distances: &distances,
            reach: figures.reach,
            zones: zones.as_ref(),
        };
        let cut = (layers.iter()).map(|(surface, layer)| cuts.cut(surface, layer, &watch));
        let cut_layers = step.unless_stopped(cut.collect::<Result<Vec<_>, JobError>>())?;
        let told = told::Told {
            request,
            line: &found.line,
            units: site.making.units,
            frame: site.making.frame,
            names: sources.iter().map(ToString::to_string).collect(),
        };
        let mut warnings = std::mem::take(&mut site.making.warnings);
        let sides = [&made[0].side, &made[1].side];
        warnings.extend(accuracy_notes(
            sides,
            sure.as_ref(),
            0.0,
            &site.making.units,
        ));
        warnings.extend(site.zone_notes(&request.zones));
        if request.reference == request.surveyed {
            warnings.push(Finding::new(
                Code::SameSurface,
                "the reference and the surveyed surface are the same: there is no difference",
            ));
        }
        warnings.extend(figures.warnings);
        let (listed, stretches) = (
            told.sections(&figures.cut),
            told.stretches(&distances, &figures.volumes, &figures.exact),
        );
        let total = CutAndFill::sum(figures.volumes.iter().copied());
        let uncertainty = figures.uncertainty.map(|found| UncertaintyBySections {
            coverage_factor: COVERAGE_FACTOR,
            volumes: ZoneUncertainty::of(&found, &told.units),
        });
        let mut volumes = told.volumes(total);
        if let Some(own) = &uncertainty {
            volumes.are_uncertain_by(&own.volumes);
        }
        let exact = figures
            .whole
            .map(|whole| told.exact(&total, &whole, &figures.volumes, &figures.exact));
        let mass_haul = request.haul.as_ref().map(|rules| {
            haul::haul(
                rules,
                &found.line,
                &distances,
                &figures.volumes,
                &site.making.units,
            )
        });
        let mass_haul = mass_haul.transpose()?.flatten();
        let units = site.making.units;
        let same = site.making.frame.precision().worked_out();
        let joined = |lines: Vec<SectionLine>| -> Vec<SectionLine> {
            lines.iter().map(|line| line.joined(same)).collect()
        };
        let frame = site.making.frame;
        let ends = figures
            .cut
            .iter()
            .map(|section| section.ends(figures.reach));
        let ends: Vec<[Place; 2]> = ends.collect();
        let map = match &context.pictures {
            Some(map) => {
                let sides = [&made[0].surface, &made[1].surface];
                // The amounts of its legend are those of the strip.
                let strip = || {
                    let between = [distances[0], distances[distances.len() - 1]];
                    let chord = LengthUnit::Metre.convert(CHORD, frame.unit());
                    let ring = found.line.strip(between, figures.reach, chord);
                    let zone = Zone::new(found.source.clone(), frame, vec![vec![ring]]);
                    Some(Zones::new(frame, vec![zone.ok()?]))
                };
                let within = zones.clone().or_else(strip);
                let mut scene = Scene::of(&site.making, sides, within);
                scene.breaklines = made[1].breaklines.clone();
                scene.lines.push(found.line.clone());
                scene.focus = Some(Extent::of(ends.iter().flatten().copied()));
                let rows = scene.measured_for_map(Tolerance::ZERO, map.room)?;
                Some(MapGround { rows, scene })
            }
            None => None,
        };
        let ground = SectionGround {
            ends: (ends.iter())
                .map(|ends| ends.map(|end| frame.to_grid(end)))
                .collect(),
            map,
            sections: (figures.cut.into_iter().enumerate())
                .map(|(number, section)| {
                    let layers = cut_layers.iter();
                    let layers = layers.filter_map(|layer| layer.sections.get(number).cloned());
                    joined(section.lines.into_iter().chain(layers).collect())
                })
                .collect(),
            reach: figures.reach,
            along: {
                let layers = cut_layers.iter().map(|layer| layer.along.clone());
                joined(figures.along.into_iter().chain(layers).collect())
            },
            between: [distances[0], distances[distances.len() - 1]],
            line: found.line.clone(),
        };
        let mut sides = made.into_iter().map(|made| made.side);
        let (Some(reference), Some(surveyed)) = (sides.next(), sides.next()) else {
            return Err(SectionsError::NoSection.into());
        };
        let sections = Sections {
            command: "sections".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            crs: site.systems.plan.clone(),
            height_system: site.systems.heights.clone(),
            reference,
            surveyed,
            others: sides.collect(),
            zone_files: site.zone_files(&request.zones),
            rule: request.rules.rule,
            curve_correction: request.rules.curve_correction,
            interval: request.rules.every.map(|every| units.length_of(every)),
            widths: request
                .rules
                .widths
                .map(|widths| widths.map(|width| units.length_of(width))),
            sections: listed,
            stretches,
            total: volumes,
            uncertainty,
            exact,
            enough: figures.enough.map(|found| told.enough(found)),
            layers: cut_layers.into_iter().map(|layer| layer.told).collect(),
            line: LineFacts::of(found, &units),
            mass_haul,
            warnings: context.acknowledged("", warnings),
        };
        Ok((sections, ground))
    })
}

/// The layers of both measured surfaces, each with the name of its surface.
fn layers_of(
    site: &mut Site<'_>,
    request: &SectionsRequest,
) -> Result<Vec<(String, LayerBetween)>, JobError> {
    let mut found = Vec::new();
    if !request.layers {
        return Ok(found);
    }
    for source in [&request.reference, &request.surveyed] {
        if let Source::Named(name) = source {
            let layers = site.making.layers_of(name)?.into_iter();
            found.extend(layers.map(|layer| (name.clone(), layer)));
        }
    }
    match found.is_empty() {
        true => Err(SectionsError::NoLayers.into()),
        false => Ok(found),
    }
}

/// What sections along a line come to, for an item of a bill.
pub(crate) struct MeasuredSections {
    /// How many they are.
    pub(crate) sections: usize,
    pub(crate) volume: SectionVolumes,
    /// How uncertain it is, where it is known how accurate both surfaces are.
    pub(crate) uncertainty: Option<ZoneUncertainty>,
    /// Between the surfaces over the same strip, where it is one piece of ground.
    pub(crate) exact: Option<SectionVolumes>,
    pub(crate) warnings: Vec<Finding>,
}

/// Measures between two surfaces, the reference first, each under its name, by sections along a line.
pub(crate) fn measured_sections(
    rules: &SectionRules,
    site: &Site<'_>,
    found: &SiteLine,
    (surfaces, names): (&[&Surface; 2], &[String; 2]),
    (zones, sure): (Option<&Zones>, Option<&Sureness>),
    watch: Watch<'_>,
) -> Result<MeasuredSections, JobError> {
    let asked = stations::stations(rules, &found.line, site.making.frame.unit())?;
    let measuring = Measuring {
        rules,
        site,
        surfaces,
        names: names.clone(),
        found,
        zones,
        sure,
    };
    let (figures, distances) = measuring.figures(asked, watch)?;
    let units = site.making.units;
    let total = CutAndFill::sum(figures.volumes.iter().copied());
    let uncertainty = (figures.uncertainty).map(|own| ZoneUncertainty::of(&own, &units));
    let mut volume = told::volumes(&units, total);
    if let Some(own) = &uncertainty {
        volume.are_uncertain_by(own);
    }
    Ok(MeasuredSections {
        sections: distances.len(),
        volume,
        uncertainty,
        exact: figures.whole.map(|whole| told::volumes(&units, whole)),
        warnings: figures.warnings,
    })
}

/// What sections are cut from.
struct Measuring<'m> {
    rules: &'m SectionRules,
    site: &'m Site<'m>,
    surfaces: &'m [&'m Surface],
    /// The names of the first two of them.
    names: [String; 2],
    found: &'m SiteLine,
    zones: Option<&'m Zones>,
    /// How accurate the first two surfaces are, where that is known.
    sure: Option<&'m Sureness>,
}

/// What was measured, before it is told.
struct Figures {
    cut: Vec<cutting::CutSection>,
    volumes: Vec<CutAndFill>,
    exact: Vec<Option<CutAndFill>>,
    /// How uncertain the sum of the volumes is, where it is known how accurate both surfaces are.
    uncertainty: Option<VolumeUncertainty>,
    /// Over the whole strip.
    whole: Option<CutAndFill>,
    enough: Option<told::Enough>,
    reach: [f64; 2],
    /// All surfaces along the line itself.
    along: Vec<SectionLine>,
    warnings: Vec<Finding>,
}

impl Measuring<'_> {
    /// How volumes follow from areas.
    fn volumes_by(&self) -> Rules {
        Rules {
            rule: match self.rules.rule {
                SectionRule::AverageEndArea => EndAreaRule::Average,
                SectionRule::Prismoidal => EndAreaRule::Prismoidal,
            },
            curve_correction: self.rules.curve_correction,
        }
    }

    fn figures(
        &self,
        asked: stations::Stations,
        watch: Watch<'_>,
    ) -> Result<(Figures, Vec<f64>), JobError> {
        let (frame, line) = (self.site.making.frame, &self.found.line);
        let indexes = self
            .surfaces
            .iter()
            .map(|surface| FacetIndex::of(surface))
            .collect();
        let reach = self.reach(asked.between)?;
        let cutter = Cutter::new(line, frame, indexes, reach, self.zones);
        let mut distances = asked.distances;
        if self.rules.refine {
            distances = refined(&cutter, distances);
        }
        let cut = cutter.at(&distances, self.site.memory())?;
        if cut.iter().all(|section| section.areas.compared <= 0.0) {
            return Err(SectionsError::NoSection.into());
        }
        let sides =
            |section: &cutting::CutSection| [section.areas, section.ahead.unwrap_or(section.areas)];
        let areas: Vec<[SectionAreas; 2]> = cut.iter().map(sides).collect();
        let rules = self.volumes_by();
        let volumes = rules.volumes(&cutter, &distances, &areas);
        let uncertainty = match (self.sure, cutter.surfaces.as_slice()) {
            (Some(sure), [from, to, ..]) => {
                let counted = rules.counts(&cutter, &distances);
                Some(section_uncertainty([from, to], &counted, sure.accuracies))
            }
            _ => None,
        };
        let strip = |distances: &[f64]| {
            let strips = Strips::of(line, frame, distances, reach, self.zones);
            strips.volumes(self.surfaces[0], self.surfaces[1], watch)
        };
        let exact = strip(&distances)?;
        let parts: Option<Vec<CutAndFill>> = exact.iter().copied().collect();
        let whole = match (parts, distances.as_slice()) {
            (Some(parts), _) => Some(CutAndFill::sum(parts.into_iter())),
            // At a bend two sections may cross, and the strip is one piece of ground all the same.
            (None, [first, .., last]) => strip(&[*first, *last])?.into_iter().next().flatten(),
            (None, _) => None,
        };
        let has_any = |whole: &CutAndFill| whole.cut + whole.fill > 0.0;
        let enough = whole.filter(has_any);
        let enough = enough.and_then(|whole| self.enough(&cutter, &rules, asked.between, whole));
        let chord = LengthUnit::Metre.convert(CHORD, frame.unit());
        let along = cutter.surfaces.iter();
        let along = along.map(|surface| long_section(surface, line, frame, asked.between, chord));
        let along = along.collect();
        let warnings = warnings::warnings(&cutter, &cut, &self.names, frame.unit());
        let figures = Figures {
            cut,
            volumes,
            exact,
            uncertainty,
            whole,
            enough,
            reach,
            along,
            warnings,
        };
        Ok((figures, distances))
    }

    /// How far sections reach to both sides: as is asked for, or to the farthest corner of a zone.
    fn reach(&self, between: [f64; 2]) -> Result<[f64; 2], JobError> {
        if let Some([left, right]) = self.rules.widths {
            let width = left + right;
            let most = WIDEST;
            return match width <= most {
                true => Ok([-left, right]),
                false => Err(SectionsError::TooWide { width, most }.into()),
            };
        }
        let frame = self.site.making.frame;
        Ok(reach_of_zones(
            &self.found.line,
            frame,
            self.zones,
            between,
        )?)
    }

    /// The longest interval, of those tried, whose volumes are within one percent of those between the surfaces.
    fn enough(
        &self,
        cutter: &Cutter<'_>,
        rules: &Rules,
        between: [f64; 2],
        exact: CutAndFill,
    ) -> Option<told::Enough> {
        let every = self.rules.every?;
        let at = |interval: f64| {
            let distances = stations::at_interval(self.rules, cutter.line, between, interval)?;
            let total = rules.total_at(cutter, &distances);
            Some(told::Enough {
                interval,
                total,
                exact,
                is_close: total.is_close_to(&exact, ENOUGH),
            })
        };
        let mut best = at(every)?;
        let is_longer = best.is_close;
        for _ in 0..TRIES {
            let next = if is_longer { 2.0 } else { 0.5 } * best.interval;
            if next > between[1] - between[0] {
                break;
            }
            let Some(tried) = at(next) else { break };
            if is_longer && !tried.is_close {
                break;
            }
            best = tried;
            if !is_longer && best.is_close {
                break;
            }
        }
        Some(best)
    }
}
