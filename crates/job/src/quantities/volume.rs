//! Measuring between two sources.

use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::quantities::{Tolerance, ZoneVolume, coverage, volumes};
use dapedon_core::surface::Outline;
use dapedon_core::zones::without_overlaps;

use crate::accuracy::StatedAccuracy;
use crate::band_rules::BandRules;
use crate::context::Context;
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::{Source, ZoneSource};
use crate::job_file::Job;
use crate::quantities::between_points;
use crate::quantities::convert::{Converting, converted};
use crate::quantities::depths::by_depth;
use crate::quantities::measurement::{Measurement, Volumes, WithoutBuildUp, ZoneMeasurement};
use crate::quantities::opinions::{self, OpinionRules, SecondOpinions};
use crate::quantities::sanity;
use crate::quantities::scene::Scene;
use crate::quantities::uncertainty::{self, Sureness, Uncertainty};
use crate::quantities::uncertainty_notes::{
    accuracy_notes, gained_by_chance, left_out, net_uncertain,
};
use crate::quantities::untouched::{self, Surveys};
use crate::schema::Schema;
use crate::site::Site;
use crate::surfaces::{MadeSurface, SurfaceFacts, apart, not_laid};
use crate::watch::Activity;

/// What to measure.
#[derive(Debug, Clone)]
pub struct Request {
    /// From this surface.
    pub reference: Source,
    /// To this one.
    pub surveyed: Source,
    /// Within these zones.
    pub zones: Vec<ZoneSource>,
    /// Differences up to this size, in the unit measured in, count as unchanged.
    pub tolerance: Tolerance,
    /// The height of the depth slices that cut and fill are reported in.
    pub by_depth: Option<f64>,
    /// The bands that ground is reported in by its difference.
    pub bands: Option<BandRules>,
    /// How far their middle band reaches on both sides of zero, in place of what they say themselves.
    pub middle_band: Option<Tolerance>,
    /// How accurate the reference and the surveyed surface are, in the unit measured in, in place of what the job says.
    pub accuracies: [Option<StatedAccuracy>; 2],
    /// By what cut and fill are converted.
    pub converting: Option<Converting>,
    /// Ground that nobody touched between the two surveys: none of what is measured.
    pub untouched: Vec<ZoneSource>,
    /// Ground that may be untouched is looked for.
    pub propose_untouched: bool,
    /// The second opinions that are asked for.
    pub opinions: Option<OpinionRules>,
    /// What the spacing of points leaves out is measured, and part of the uncertainty.
    pub between_points: bool,
}

impl Request {
    /// All that lies between two surfaces.
    pub fn between(reference: Source, surveyed: Source) -> Self {
        Request {
            reference,
            surveyed,
            zones: Vec::new(),
            tolerance: Tolerance::ZERO,
            by_depth: None,
            bands: None,
            middle_band: None,
            accuracies: [None, None],
            converting: None,
            untouched: Vec::new(),
            propose_untouched: false,
            opinions: None,
            between_points: false,
        }
    }
}

/// Measures, and hands back the surfaces for drawing.
///
/// # Errors
///
/// When a file cannot be used or the two sides cannot be compared; nothing is measured then.
pub fn measure(context: &Context<'_>, request: &Request) -> Result<(Measurement, Scene), JobError> {
    context.run(|| {
        let sources = [&request.reference, &request.surveyed];
        let all: Vec<ZoneSource> =
            (request.zones.iter().chain(&request.untouched).cloned()).collect();
        let mut site = Site::open(context, &sources, &all)?;
        let zones = site.zones(&request.zones)?;
        let untouched = site.zones(&request.untouched)?;
        let mut made = [site.surface(sources[0])?, site.surface(sources[1])?];
        let unit = site.making.units.length;
        for (made, stated) in made.iter_mut().zip(&request.accuracies) {
            if let Some(stated) = stated {
                made.state_accuracy(stated, unit)?;
            }
        }
        site.making.warn(&[&made[0], &made[1]]);
        let odd = sanity::of_sides([&made[0], &made[1]]);
        let (zones, tolerance) = (zones.as_ref(), request.tolerance);
        let without = match made.iter().any(|made| made.side.is_below_layers()) {
            true => Some([site.bare(sources[0])?, site.bare(sources[1])?]),
            false => None,
        };
        let sure = Sureness::of([&made[0], &made[1]]);
        let [reference, surveyed] = made;
        let (from, to) = (&*reference.surface, &*surveyed.surface);
        let step = context.watch.next(Activity::Measuring {
            reference: sources[0].to_string(),
            surveyed: sources[1].to_string(),
            number: 1,
            of: 1,
        })?;
        let watch = |share| step.at(share);
        let laid = Overlay::new(from, to, zones);
        let overlay = laid.map_err(|error| not_laid(error, from, to, zones))?;
        let overlay = overlay.watched(&watch);
        let sides = [&reference.side, &surveyed.side];
        let units = site.making.units;
        let found = uncertainty::measured(
            &overlay,
            tolerance,
            [from, to],
            sides,
            sure.as_ref(),
            &units,
        );
        let (measured, mut uncertainty) = step.unless_stopped(found)?;
        if measured.iter().all(|zone| zone.pieces == 0) {
            return Err(apart(from, to, zones));
        }
        let chosen = [&reference, &surveyed].map(MadeSurface::chosen_triangles);
        let chosen_lines = chosen
            .each_ref()
            .map(|own| own.as_deref().map(Vec::as_slice));
        let unknown = request.between_points.then(|| {
            let own = between_points::Measured {
                surfaces: [from, to],
                sides,
                breaklines: chosen_lines,
                zones,
                tolerance,
                full: &measured,
            };
            between_points::added(&own, sure.as_ref(), uncertainty.as_mut(), &units)
        });
        let unknown = step
            .unless_stopped(unknown.transpose())?
            .unwrap_or_default();
        let outlines = [Outline::of(from), Outline::of(to)];
        let areas = coverage(&outlines[0], &outlines[1], zones);
        let surveys = Surveys {
            surfaces: [from, to],
            sure: sure.as_ref(),
            units: &units,
        };
        let found = untouched.as_ref().map(|own| {
            let (mut found, spread) = untouched::compared(&surveys, own, zones)?;
            let again = (&found, &spread);
            found.without = untouched::without_shift(&surveys, again, zones, tolerance)?;
            Ok::<_, JobError>(found)
        });
        let found = step.unless_stopped(found.transpose())?;
        let proposed = request
            .propose_untouched
            .then(|| untouched::proposed(&surveys, zones));
        let proposed = step.unless_stopped(proposed.transpose())?.flatten();
        let without = without.map(|[reference, surveyed]| {
            let bare = Overlay::new(&reference.surface, &surveyed.surface, zones)?;
            self::measured(&bare.watched(&watch), tolerance)
        });
        let without = step.unless_stopped(without.transpose())?;
        let mut warnings = std::mem::take(&mut site.making.warnings);
        warnings.extend(odd);
        warnings.extend(unknown);
        warnings.extend(accuracy_notes(
            sides,
            sure.as_ref(),
            tolerance.value(),
            &units,
        ));
        let names = sides.map(|side| side.source.as_str());
        warnings.extend(
            found
                .iter()
                .flat_map(|found| untouched::findings(found, names)),
        );
        if request.propose_untouched && proposed.is_none() {
            let words = "no ground is found on which both surfaces differ by the same everywhere";
            warnings.push(Finding::new(Code::UntouchedNotFound, words));
        }
        if request.reference == request.surveyed {
            warnings.push(Finding::new(
                Code::SameSurface,
                "the reference and the surveyed surface are the same: there is no difference",
            ));
        }
        let surfaces = [&reference.surface, &surveyed.surface];
        let mut scene = Scene::of(&site.making, surfaces, zones.cloned());
        scene.breaklines = surveyed.breaklines.clone();
        if let (Some(own), Some(map)) = (untouched, &context.pictures) {
            let mut ground = Scene::of(&site.making, surfaces, Some(own));
            let rows = step.unless_stopped(ground.measured_for_map(Tolerance::ZERO, map.room))?;
            scene.untouched = Some(Box::new((ground, rows)));
        }
        if let Some(by) = &request.converting {
            scene.currency = by.currency.clone().or(scene.currency);
        }

        let mut rows = scene.rows(&measured, &areas);
        scene.rules = request.bands.as_ref().map(|rules| {
            let rules = rules.within(scene.units.length);
            BandRules {
                middle: request.middle_band.or(rules.middle),
                ..rules
            }
        });
        if let Some(map) = &context.pictures {
            let kept = scene.keep_drawn(&overlay, &rows, tolerance.value(), map.room);
            step.unless_stopped(kept)?;
        }
        let mut bands = step.unless_stopped(scene.bands(&overlay, &rows, tolerance.value()))?;
        if let (Some(bands), Some(sure)) = (&mut bands, &sure) {
            let own = tolerance.value();
            let added = scene.add_uncertainty_of_bands(bands, &overlay, &rows, own, sure);
            step.unless_stopped(added)?;
        }
        let by_depth = match request.by_depth {
            Some(high) => {
                let ground = (&overlay, sure.as_ref());
                let found = by_depth(high, tolerance.value(), &scene, ground, &measured, &rows);
                step.unless_stopped(found)?
            }
            None => Vec::new(),
        };
        if sure.is_some() {
            let slices = by_depth
                .iter()
                .flat_map(|zone| zone.cut.iter().chain(&zone.fill));
            let without = slices.filter(|slice| slice.volume.uncertainty.is_none());
            let bands = bands.iter().filter(|bands| bands.coverage_factor.is_none());
            warnings.extend(left_out("bands", bands.count()));
            warnings.extend(left_out("depth slices", without.count()));
        }
        let mut total = ZoneMeasurement::total(&rows, &units);
        let whole = total.as_ref().or(rows.first());
        warnings.extend(sanity::same_everywhere([&reference, &surveyed], whole));
        let sides = [(&reference, to), (&surveyed, from)];
        for (made, other) in sides.into_iter().filter(|_| !request.between_points) {
            let found = whole.and_then(|whole| {
                sanity::points_far_apart(made, other, zones, &whole.volume, &units)
            });
            warnings.extend(found);
        }
        let odd = sanity::shifted_in_plan(&overlay, whole, names, units.length);
        warnings.extend(step.unless_stopped(odd.map_err(JobError::from))?);
        let sides = [reference.side, surveyed.side];
        let without_build_up = without.map(|bare| without_build_up(&scene, &rows, &bare, &sides));
        warnings.extend(site.zone_notes(&all));
        warnings.extend(scene.warnings(&rows, &outlines));
        scene.ends = Some(outlines);
        let [reference, surveyed] = sides;
        if let Some(own) = &uncertainty {
            for (row, own) in rows.iter_mut().zip(&own.zones) {
                row.is_uncertain_by(own);
            }
            if let (Some(total), Some(own)) = (&mut total, &own.total) {
                total.is_uncertain_by(own);
            }
            let whole = total.as_ref().or(rows.first());
            warnings.extend(net_uncertain(whole));
            let gained = whole.zip(own.total.as_ref().or(own.zones.first()));
            warnings.extend(
                gained.and_then(|(whole, own)| gained_by_chance(&whole.volume, own, [true; 2])),
            );
        }
        let opinions = request.opinions.as_ref().map(|rules| {
            let apart = zones.map(without_overlaps);
            let own = opinions::Measured {
                surfaces: [&scene.reference, &scene.surveyed],
                zones: apart.as_ref(),
                tolerance,
                names: [&reference.source, &surveyed.source],
                breaklines: chosen_lines,
                standard: uncertainty.as_ref().and_then(Uncertainty::standard),
                others: match rules.stated.is_empty() {
                    true => Vec::new(),
                    false => opinions::others(
                        [&scene.reference, &scene.surveyed],
                        apart.as_ref(),
                        tolerance,
                        rows.iter(),
                        without_build_up.as_ref().map(|without| &without.total),
                        &units,
                    )?,
                },
                units: &units,
            };
            opinions::second_opinions(&own, rules)
        });
        let opinions = step.unless_stopped(opinions.transpose())?;
        warnings.extend(opinions.iter().flat_map(SecondOpinions::findings));
        let mut measurement = Measurement {
            command: "volume".into(),
            schema: Schema,
            job: context.job.map(Job::facts),
            units,
            currency: scene.currency.clone(),
            reference,
            surveyed,
            tolerance: units.length_of(request.tolerance.value()),
            zone_files: site.zone_files(&all),
            line_files: std::mem::take(&mut site.making.drawn.files),
            total,
            zones: rows,
            uncertainty,
            untouched: found,
            proposed_untouched: proposed,
            second_opinions: opinions,
            by_depth,
            bands,
            without_build_up,
            converted: Vec::new(),
            warnings: context.acknowledged("", warnings),
        };
        if let Some(by) = &request.converting {
            measurement.converted =
                converted(&measurement, by, units.volume, site.survey, units.decimals)?;
        }
        Ok((measurement, scene))
    })
}

fn measured(overlay: &Overlay<'_>, tolerance: Tolerance) -> Result<Vec<ZoneVolume>, OverlayError> {
    let found = volumes(overlay, &[tolerance])?;
    Ok(found.into_iter().flatten().collect())
}

/// The volumes to the finished level, against those that were measured below it.
fn without_build_up(
    scene: &Scene,
    rows: &[ZoneMeasurement],
    bare: &[ZoneVolume],
    sides: &[SurfaceFacts; 2],
) -> WithoutBuildUp {
    let told = |value: f64| scene.units.volume_of(value);
    let zones: Vec<Volumes> = (bare.iter())
        .map(|zone| Volumes {
            cut: told(zone.volume.cut),
            fill: told(zone.volume.fill),
            net: told(zone.volume.net),
            unchanged: told(zone.volume.unchanged),
        })
        .collect();
    let total = Volumes::sum(zones.iter(), &scene.units);
    let net: f64 = rows.iter().map(|row| row.volume.net.value).sum();
    let layers = |side: &SurfaceFacts| -> f64 {
        let layers = side
            .recipe
            .as_ref()
            .map_or(Vec::new(), |recipe| recipe.layers());
        layers.iter().map(|layer| layer.volume.value).sum()
    };
    WithoutBuildUp {
        net_difference: total.net.with(net - total.net.value),
        layers: total.net.with(layers(&sides[1]) - layers(&sides[0])),
        zones,
        total,
    }
}
