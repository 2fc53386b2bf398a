//! Second opinions: the same volumes found in other ways, and figures that somebody else states.

mod explained;
mod model;
mod others;
mod stated;

use dapedon_core::overlay::Overlay;
use dapedon_core::plan::{Place, round_up};
use dapedon_core::quantities::{
    GridTrend, Tolerance, Volumes as CoreVolumes, ZoneVolume, grid_trend, parallel_sections,
    volumes,
};
use dapedon_core::surface::Surface;
use dapedon_core::zones::Zones;

use crate::error::JobError;
use crate::figure::Volume;
use crate::surfaces::not_laid;
use crate::units::ReportUnits;
use explained::{MeasuredAreas, explained};
pub use model::{
    Explanation, GridSize, Opinion, OpinionFigure, OpinionMethod, OpinionVerdict, SecondOpinions,
};
pub(crate) use others::others;
pub use stated::{OpinionError, StatedError, StatedFigures};

/// Which second opinions are asked for.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct OpinionRules {
    /// The finest cell of the grids, in the unit measured in; without, one that suits the area.
    pub cell: Option<f64>,
    /// Figures that somebody else states.
    pub stated: Vec<StatedFigures>,
    /// The share that a stated figure may differ by; other ways may by that share of the greater of cut and fill. Beyond it a check has failed.
    pub limit: Option<f64>,
}

/// What is measured, to be measured otherwise.
pub(crate) struct Measured<'m> {
    pub(crate) surfaces: [&'m Surface; 2],
    /// Zones that do not overlap.
    pub(crate) zones: Option<&'m Zones>,
    pub(crate) tolerance: Tolerance,
    /// Their names, and the breaklines of each whose triangles somebody chose among points: those may as well be others.
    pub(crate) names: [&'m str; 2],
    pub(crate) breaklines: [Option<&'m [Vec<Place>]>; 2],
    /// The standard uncertainties of cut, fill and net, where they are known.
    pub(crate) standard: Option<[Volume; 3]>,
    /// Other figures that somebody may have found, each with what it is.
    pub(crate) others: Vec<(String, CoreVolumes)>,
    pub(crate) units: &'m ReportUnits,
}

/// Samples along the side of a square as large as the ground, at most.
const SAMPLES: f64 = 400.0;
/// Samples at most, where the cell is given: each takes some dozen bytes.
const MOST_SAMPLES: f64 = 2e7;
/// How often a cell that suits the area is doubled.
const WIDER: usize = 40;
/// Parallel sections.
const SECTIONS: usize = 256;

/// Measures otherwise, and compares.
pub(crate) fn second_opinions(
    own: &Measured<'_>,
    rules: &OpinionRules,
) -> Result<SecondOpinions, JobError> {
    let units = own.units;
    let [from, to] = own.surfaces;
    let laid = Overlay::new(from, to, own.zones);
    let overlay = laid.map_err(|error| not_laid(error, from, to, own.zones))?;
    let found = volumes(&overlay, &[own.tolerance])?;
    let exact = sum(found.iter().flatten().map(|zone| zone.volume));
    let area = |of: fn(&ZoneVolume) -> f64| found.iter().flatten().map(of).sum::<f64>();
    let areas = MeasuredAreas {
        compared: area(|zone| zone.area.compared),
        cut: area(|zone| zone.area.cut),
        fill: area(|zone| zone.area.fill),
    };
    let comparing = Comparing {
        own: each(&exact),
        standard: own
            .standard
            .map(|all| all.map(|figure| units.cubes_of(figure.value))),
        limit: rules.limit,
        units,
    };
    let mut opinions = Vec::new();
    let trend = trend(&overlay, rules.cell, areas.compared, own.tolerance)?;
    if let Some(trend) = &trend {
        let figures = [trend.cut, trend.fill, trend.net];
        let figures = figures.map(|own| (own.value, own.standard));
        opinions.push(comparing.method(OpinionMethod::Grid, None, figures));
    }
    // Sections know of no tolerance.
    let sections = match own.tolerance == Tolerance::ZERO {
        true => parallel_sections(from, to, own.zones, SECTIONS),
        false => None,
    };
    if let Some(found) = &sections {
        let values = each(&found.volumes);
        let figures = [0, 1, 2].map(|figure| (values[figure], found.standard[figure]));
        opinions.push(comparing.method(OpinionMethod::Sections, None, figures));
    }
    for side in 0..2 {
        let Some(breaklines) = own.breaklines[side] else {
            continue;
        };
        let surface = own.surfaces[side];
        // A grid of more cells than triangles can be numbered stays as it is.
        let turned = surface.with_other_diagonals(breaklines).ok().flatten();
        let without = match surface {
            Surface::Tin(tin) if !breaklines.is_empty() => tin.without_breaklines(),
            _ => None,
        };
        let otherwise = [
            (DIAGONALS, turned),
            (NO_BREAKLINES, without.map(Surface::Tin)),
        ];
        for (methods, made) in otherwise {
            let Some(made) = made else { continue };
            let mut surfaces = own.surfaces;
            surfaces[side] = &made;
            let overlay = Overlay::new(surfaces[0], surfaces[1], own.zones)?;
            let found = volumes(&overlay, &[own.tolerance])?;
            let found = sum(found.iter().flatten().map(|zone| zone.volume));
            let name = own.names[side].to_owned();
            let figures = each(&found).map(Some);
            opinions.push(comparing.other(methods[side], Some(name), figures));
        }
    }
    for stated in &rules.stated {
        let figures = stated.figures(units);
        let mut opinion = comparing.other(OpinionMethod::Stated, stated.by.clone(), figures);
        let found = (&exact, &areas);
        opinion.explanations = explained(own, found, trend.as_ref(), stated, &opinion);
        opinions.push(opinion);
    }
    let told = |all: &CoreVolumes| each(all).map(|value| units.volume_of(value));
    let [cut, fill, net] = told(&exact);
    Ok(SecondOpinions {
        limit: rules.limit,
        cut,
        fill,
        net,
        grid: trend
            .as_ref()
            .map_or(Vec::new(), |trend| sizes(trend, units)),
        section_spacing: sections.map(|found| units.length_of(found.spacing)),
        opinions,
    })
}

/// Other triangles between the same points, of the reference and of the surveyed surface.
const DIAGONALS: [OpinionMethod; 2] = [
    OpinionMethod::OtherDiagonalsOfReference,
    OpinionMethod::OtherDiagonalsOfSurveyed,
];
const NO_BREAKLINES: [OpinionMethod; 2] = [
    OpinionMethod::NoBreaklinesOfReference,
    OpinionMethod::NoBreaklinesOfSurveyed,
];

/// Grids whose finest cell is given, or else suits the area.
fn trend(
    overlay: &Overlay<'_>,
    cell: Option<f64>,
    area: f64,
    tolerance: Tolerance,
) -> Result<Option<GridTrend>, JobError> {
    if let Some(cell) = cell {
        let samples = area / (cell * cell);
        let too_fine = || JobError::from(OpinionError::TooFine { cell, samples });
        if samples > MOST_SAMPLES {
            return Err(too_fine());
        }
        return grid_trend(overlay, cell, tolerance)?
            .map_or_else(|| Err(too_fine()), |own| Ok(Some(own)));
    }
    if area <= 0.0 {
        return Ok(None);
    }
    let mut cell = round_up(area.sqrt() / SAMPLES);
    // Where small zones lie far apart, the cells between them are more than can be numbered.
    for _ in 0..WIDER {
        if let Some(found) = grid_trend(overlay, cell, tolerance)? {
            return Ok(Some(found));
        }
        cell *= 2.0;
    }
    Ok(None)
}

/// Cut, fill and net.
fn each(all: &CoreVolumes) -> [f64; 3] {
    [all.cut, all.fill, all.net]
}

pub(crate) fn sum(all: impl Iterator<Item = CoreVolumes>) -> CoreVolumes {
    all.fold(CoreVolumes::default(), |sum, own| CoreVolumes {
        cut: sum.cut + own.cut,
        fill: sum.fill + own.fill,
        net: sum.net + own.net,
        unchanged: sum.unchanged + own.unchanged,
    })
}

/// The results of grids by their cells, the coarsest first.
fn sizes(trend: &GridTrend, units: &ReportUnits) -> Vec<GridSize> {
    let sizes = trend.levels.iter().map(|level| {
        let range = |own: dapedon_core::quantities::GridRange| {
            [own.least, own.greatest].map(|value| units.volume_of(value))
        };
        GridSize {
            cell: units.length_of(level.cell),
            cut: range(level.cut),
            fill: range(level.fill),
            net: range(level.net),
        }
    });
    sizes.collect()
}

/// What other figures are compared with.
struct Comparing<'c> {
    own: [f64; 3],
    standard: Option<[f64; 3]>,
    limit: Option<f64>,
    units: &'c ReportUnits,
}

impl Comparing<'_> {
    /// What another method finds between the same surfaces, with its own standard uncertainty: it may differ by that.
    fn method(
        &self,
        method: OpinionMethod,
        by: Option<String>,
        figures: [(f64, f64); 3],
    ) -> Opinion {
        let figures = figures.map(|(value, standard)| Some((value, Some(standard))));
        self.opinion(method, by, figures)
    }

    /// A figure that is not found between the same surfaces: it may differ by the uncertainty of what was measured, where that is known.
    fn other(
        &self,
        method: OpinionMethod,
        by: Option<String>,
        figures: [Option<f64>; 3],
    ) -> Opinion {
        let mut all = figures.map(|value| value.map(|value| (value, None)));
        if let Some(standard) = self.standard.filter(|_| !method.is_for_comparison()) {
            for (figure, standard) in all.iter_mut().zip(standard) {
                *figure = figure.map(|(value, _)| (value, Some(standard)));
            }
        }
        self.opinion(method, by, all)
    }

    fn opinion(
        &self,
        method: OpinionMethod,
        by: Option<String>,
        figures: [Option<(f64, Option<f64>)>; 3],
    ) -> Opinion {
        let told = |value: f64| self.units.volume_of(value);
        // Of a fill that is next to nothing beside the cut no share says anything of how well it was found.
        let most = self.own[0].max(self.own[1]);
        let mut compared = figures.iter().zip(self.own).map(|(figure, own)| {
            let (value, standard) = (*figure)?;
            let whole = match method {
                OpinionMethod::Stated => own.abs(),
                _ => most,
            };
            Some(OpinionFigure::of(
                method,
                [told(value), told(own)],
                standard.map(told),
                self.limit.map(|limit| told(limit * whole)),
            ))
        });
        let mut next = || compared.next().flatten();
        Opinion {
            method,
            by,
            cut: next(),
            fill: next(),
            net: next(),
            explanations: Vec::new(),
        }
    }
}
