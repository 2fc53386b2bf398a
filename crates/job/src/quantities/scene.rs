//! What was measured, ready to be put into rows, warned about and drawn.

use std::borrow::Cow;
use std::sync::Arc;

use dapedon_core::alignment::Alignment;
use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Extent, Frame, Place};
use dapedon_core::quantities::{
    BandEdges, Coverage, DifferenceMap, Tolerance, ZoneVolume, coverage, difference_map_with_bands,
    each_overlap, pixels_in_room, volumes,
};
use dapedon_core::surface::{Outline, Surface};
use dapedon_core::zones::{Zone, Zones};

use crate::band_rules::{BandRules, BandSteps};
use crate::digits::{count_in_words, figure_in_words};
use crate::error::JobError;
use crate::figure::Area;
use crate::finding::{Code, Finding};
use crate::quantities::bands::{self, Bands};
use crate::quantities::measurement::{
    Areas, Closure, Difference, Extreme, Volumes, ZoneMeasurement,
};
use crate::quantities::uncertainty::Sureness;
use crate::surfaces::{Making, not_laid};
use crate::units::ReportUnits;

/// What was measured, ready to be drawn.
#[derive(Debug)]
pub struct Scene {
    /// From this surface.
    pub reference: Arc<Surface>,
    /// To this one.
    pub surveyed: Arc<Surface>,
    /// Within these zones, as they are drawn: first those that there are figures of, in their order.
    pub zones: Option<Zones>,
    /// The ground that counts, in parts that do not overlap, where that is not all of the zones or they overlap.
    pub(crate) counted: Option<Zones>,
    /// The units that figures are reported in.
    pub units: ReportUnits,
    /// Currency of rates and costs.
    pub currency: Option<String>,
    /// Lines that are drawn over it, in grid coordinates.
    pub lines: Vec<Alignment>,
    /// The lines that no triangle of the surveyed surface crosses, where it was made from points.
    pub breaklines: Arc<Vec<Vec<Place>>>,
    /// The bands it is drawn in; the usual ones, where none are asked for.
    pub(crate) rules: Option<BandRules>,
    /// The ground that a map shows, where that is only a part.
    pub(crate) focus: Option<Extent>,
    /// Where both sides end, where that was found when they were measured.
    pub(crate) ends: Option<[Outline; 2]>,
    /// What is drawn of it, where that was taken when it was measured.
    drawn: Option<Drawn>,
    /// The ground that nobody touched, to be drawn by itself, and what was measured on it.
    pub untouched: Option<Box<(Scene, Vec<ZoneMeasurement>)>>,
}

/// What is drawn of a measurement: the picture of the difference, and its bands.
#[derive(Debug, Clone)]
pub struct Drawn {
    /// The picture.
    pub raster: DifferenceMap,
    /// The edges of the bands.
    pub edges: BandEdges,
    /// Their amounts.
    pub bands: Bands,
}

/// Ground that a map shows around what was measured, as a share of its longer side.
const MARGIN: f64 = 0.04;

impl Scene {
    /// Two surfaces, and zones, as they were made.
    pub(crate) fn of(
        making: &Making<'_>,
        [reference, surveyed]: [&Arc<Surface>; 2],
        zones: Option<Zones>,
    ) -> Self {
        let job = making.stock.job;
        Scene {
            reference: reference.clone(),
            surveyed: surveyed.clone(),
            zones,
            counted: None,
            units: making.units,
            currency: job.and_then(|job| job.currency.clone()),
            lines: making.drawn.lines.clone(),
            breaklines: Arc::default(),
            rules: None,
            focus: None,
            ends: None,
            drawn: None,
            untouched: None,
        }
    }

    /// The same, drawn in bands.
    pub(crate) fn in_bands(self, rules: Option<BandRules>) -> Self {
        Scene { rules, ..self }
    }

    /// The same, of which only some ground counts.
    pub(crate) fn counting(self, counted: Option<Zones>) -> Self {
        Scene { counted, ..self }
    }

    /// The ground that a map shows: the zones, or what both sides share, and a margin.
    pub fn shown(&self) -> Extent {
        let extent = match (&self.focus, &self.zones) {
            (Some(focus), _) => *focus,
            (None, Some(zones)) => zones.extent(),
            (None, None) => self.both(),
        };
        let margin = MARGIN * extent.width().max(extent.height());
        Extent {
            min: Place::new(extent.min.east - margin, extent.min.north - margin),
            max: Place::new(extent.max.east + margin, extent.max.north + margin),
        }
    }

    /// Measures what a map shows of two surfaces whose volumes were not asked for, and takes the picture of it.
    pub(crate) fn measured_for_map(
        &mut self,
        tolerance: Tolerance,
        room: [f64; 2],
    ) -> Result<Vec<ZoneMeasurement>, JobError> {
        let (reference, surveyed) = (self.reference.clone(), self.surveyed.clone());
        let zones = self.zones.clone();
        let laid = Overlay::new(&reference, &surveyed, zones.as_ref());
        let overlay =
            laid.map_err(|error| not_laid(error, &reference, &surveyed, zones.as_ref()))?;
        let measured = volumes(&overlay, &[tolerance])?;
        let outlines = [Outline::of(&reference), Outline::of(&surveyed)];
        let areas = coverage(&outlines[0], &outlines[1], zones.as_ref());
        let measured: Vec<ZoneVolume> = measured.into_iter().flatten().collect();
        let rows = self.rows(&measured, &areas);
        self.keep_drawn(&overlay, &rows, tolerance.value(), room)?;
        self.ends = Some(outlines);
        Ok(rows)
    }

    /// Takes the picture and the bands from the overlay that was measured, for a map in some room of pixels.
    pub(crate) fn keep_drawn(
        &mut self,
        overlay: &Overlay<'_>,
        rows: &[ZoneMeasurement],
        tolerance: f64,
        room: [f64; 2],
    ) -> Result<(), JobError> {
        self.drawn = Some(self.draw(overlay, rows, tolerance, room)?);
        Ok(())
    }

    /// The bands that are asked for; those that were taken with the picture, if it was.
    pub(crate) fn bands(
        &self,
        overlay: &Overlay<'_>,
        rows: &[ZoneMeasurement],
        tolerance: f64,
    ) -> Result<Option<Bands>, JobError> {
        let Some(rules) = &self.rules else {
            return Ok(None);
        };
        if let Some(drawn) = &self.drawn {
            return Ok(Some(drawn.bands.clone()));
        }
        let edges = self.edges(rules, rows, tolerance)?;
        bands::measured(rules, &edges, overlay, &self.units, rows).map(Some)
    }

    /// Adds how uncertain bands are, that were asked for with the same rows.
    pub(crate) fn add_uncertainty_of_bands(
        &self,
        bands: &mut Bands,
        overlay: &Overlay<'_>,
        rows: &[ZoneMeasurement],
        tolerance: f64,
        sure: &Sureness,
    ) -> Result<(), JobError> {
        let Some(rules) = &self.rules else {
            return Ok(());
        };
        let edges = self.edges(rules, rows, tolerance)?;
        let all: Vec<usize> = (0..rows.len()).collect();
        let mut groups: Vec<Vec<usize>> = all.iter().map(|&zone| vec![zone]).collect();
        if rows.len() > 1 {
            groups.push(all);
        }
        let surfaces = [&*self.reference, &*self.surveyed];
        bands.add_uncertainty(&edges, overlay, surfaces, sure, &self.units, &groups)
    }

    /// The edges of bands that suit what was measured.
    fn edges(
        &self,
        rules: &BandRules,
        rows: &[ZoneMeasurement],
        tolerance: f64,
    ) -> Result<BandEdges, JobError> {
        Ok(bands::edges(rules, tolerance, &self.units, rows)?)
    }

    fn draw(
        &self,
        overlay: &Overlay<'_>,
        rows: &[ZoneMeasurement],
        tolerance: f64,
        room: [f64; 2],
    ) -> Result<Drawn, JobError> {
        let usual = BandRules::of(BandSteps::Proposed);
        let rules = self.rules.as_ref().unwrap_or(&usual);
        let edges = self.edges(rules, rows, tolerance)?;
        let pixels = pixels_in_room(&self.shown(), room);
        let found = difference_map_with_bands(overlay, self.shown(), pixels, &edges)?;
        let (raster, found) = found;
        let bands = match &self.counted {
            None => bands::of_rows(rules, &edges, &self.units, rows, &found),
            Some(_) => {
                // Parts of ground are no rows: only all of it has bands.
                let all = bands::summed(found.iter());
                let all = (!all.is_empty()).then_some(("all", &all));
                Bands::of(rules, &edges, &self.units, all.into_iter())
            }
        };
        Ok(Drawn {
            raster,
            bands,
            edges,
        })
    }

    /// The picture of the difference and its bands: what was taken when it was measured, or else from the same surfaces and zones.
    ///
    /// # Errors
    ///
    /// When they cannot be laid over each other, or the bands are too many.
    pub fn drawn(
        &self,
        rows: &[ZoneMeasurement],
        tolerance: f64,
        room: [f64; 2],
    ) -> Result<Cow<'_, Drawn>, JobError> {
        if let Some(drawn) = &self.drawn {
            return Ok(Cow::Borrowed(drawn));
        }
        let ground = self.counted.as_ref().or(self.zones.as_ref());
        let overlay = Overlay::new(&self.reference, &self.surveyed, ground)?;
        self.draw(&overlay, rows, tolerance, room).map(Cow::Owned)
    }

    /// Where both sides end: the reference and the surveyed surface.
    pub fn outlines(&self) -> Cow<'_, [Outline; 2]> {
        match &self.ends {
            Some(ends) => Cow::Borrowed(ends),
            None => Cow::Owned([Outline::of(&self.reference), Outline::of(&self.surveyed)]),
        }
    }

    /// The frame of both sides.
    pub fn frame(&self) -> Frame {
        self.reference.frame()
    }

    /// Areas no larger are the rounding of edges that nearly meet.
    fn negligible(&self) -> f64 {
        self.frame().precision().area(&self.both())
    }

    /// Where both sides reach.
    fn both(&self) -> Extent {
        let surveyed = self.surveyed.extent();
        self.reference.extent().intersection(&surveyed)
    }

    pub(crate) fn rows(&self, measured: &[ZoneVolume], areas: &[Coverage]) -> Vec<ZoneMeasurement> {
        let name = |index: usize| match &self.zones {
            Some(zones) => zones.zones()[index].name().to_owned(),
            None => "all".into(),
        };
        let rows = measured.iter().zip(areas).enumerate();
        rows.map(|(index, (measured, covered))| self.row(name(index), measured, covered))
            .collect()
    }

    pub(crate) fn row(
        &self,
        zone: String,
        measured: &ZoneVolume,
        covered: &Coverage,
    ) -> ZoneMeasurement {
        let area = |value: f64| self.units.area_of(value);
        let alone = |value: f64| {
            area(if value > self.negligible() {
                value
            } else {
                0.0
            })
        };
        let volume = |value: f64| self.units.volume_of(value);
        let place = |at: Place| {
            let at = self.frame().to_grid(at);
            Extreme {
                east: at.east,
                north: at.north,
            }
        };
        ZoneMeasurement {
            zone,
            area: Areas {
                compared: area(measured.area.compared),
                cut: area(measured.area.cut),
                fill: area(measured.area.fill),
                unchanged: area(measured.area.unchanged),
                reference_only: alone(covered.reference_only),
                surveyed_only: alone(covered.surveyed_only),
                neither: (self.zones.as_ref()).map(|_| alone(covered.neither)),
            },
            volume: Volumes {
                cut: volume(measured.volume.cut),
                fill: volume(measured.volume.fill),
                net: volume(measured.volume.net),
                unchanged: volume(measured.volume.unchanged),
            },
            difference: measured.difference.map(|d| Difference {
                min: self.units.length_of(d.min.difference),
                max: self.units.length_of(d.max.difference),
                mean: self.units.length_of(d.mean),
                min_at: place(d.min.at),
                max_at: place(d.max.at),
            }),
            closure: Closure::of(
                measured.pieces,
                area(measured.area.compared),
                area(covered.pieces),
            ),
        }
    }

    pub(crate) fn warnings(
        &self,
        rows: &[ZoneMeasurement],
        outlines: &[Outline; 2],
    ) -> Vec<Finding> {
        let mut warnings = Vec::new();
        for row in rows {
            let place = self
                .zones
                .as_ref()
                .map(|_| format!("zone \"{}\"", row.zone));
            if row.closure.pieces == 0 {
                warnings.push(
                    Finding::new(
                        Code::NothingCompared,
                        "nothing was compared: the two surfaces do not overlap here",
                    )
                    .within(&place),
                );
            }
            for (area, who) in row.not_compared() {
                warnings.push(not_compared(area, who).within(&place));
            }
            warnings.extend(row.closure.finding().map(|finding| finding.within(&place)));
        }
        for (outline, side) in outlines
            .iter()
            .zip(["the reference surface", "the surveyed surface"])
        {
            warnings.extend(folds(outline, side, self.frame(), &self.units));
        }
        let zones = self.zones.as_ref().map_or(&[][..], Zones::zones);
        warnings.extend(self.overlaps(zones));
        warnings
    }

    /// Zones that share ground: the first pairs by their names, the others by how many they are.
    fn overlaps(&self, zones: &[Zone]) -> Vec<Finding> {
        let mut pairs: Vec<([usize; 2], f64)> = Vec::new();
        each_overlap(
            zones,
            self.frame().precision(),
            |_| true,
            |pair, area| {
                pairs.push((pair, area));
                pairs.len() < MOST_PAIRS
            },
        );
        pairs.sort_by_key(|(pair, _)| *pair);
        let mut said: Vec<Finding> = (pairs.iter().take(PAIRS_TOLD))
            .map(|&([one, other], area)| {
                let words = format!(
                    "zones \"{}\" and \"{}\" overlap on {}: the total counts it twice",
                    zones[one].name(),
                    zones[other].name(),
                    self.units.area_in_words(area)
                );
                Finding::new(Code::ZonesOverlap, words)
            })
            .collect();
        let rest = pairs.get(PAIRS_TOLD..).unwrap_or_default();
        if !rest.is_empty() {
            let area: f64 = rest.iter().map(|(_, area)| area).sum();
            let least = if pairs.len() < MOST_PAIRS {
                ""
            } else {
                "at least "
            };
            let words = format!(
                "{least}{} more pairs of zones overlap, on {} together: the total counts it twice",
                count_in_words(rest.len()),
                self.units.area_in_words(area)
            );
            said.push(Finding::new(Code::ZonesOverlap, words));
        }
        said
    }
}

/// Pairs of zones that share ground, by their names; and at most.
const PAIRS_TOLD: usize = 5;
const MOST_PAIRS: usize = 20_000;

/// Ground that was not compared.
pub(crate) fn not_compared(area: Area, who: &str) -> Finding {
    let words = format!(
        "{} {} covered by {who}, not compared",
        figure_in_words(area.value),
        area.unit.symbol()
    );
    Finding::new(Code::NotCompared, words)
}

/// What must be known of a surface that folds over itself.
pub(crate) fn folds(
    outline: &Outline,
    name: &str,
    frame: Frame,
    units: &ReportUnits,
) -> Option<Finding> {
    let overlap = outline.overlap(frame.precision())?;
    let area = units.area_of(overlap.area).value;
    let at = frame.to_grid(overlap.at);
    let words = format!(
        "{name} overlaps itself on {area:.3} {}, near east {:.1}, north {:.1}: that ground is counted once for each overlap",
        units.area.symbol(),
        at.east,
        at.north
    );
    Some(Finding::new(Code::Fold, words))
}
