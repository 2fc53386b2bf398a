//! From what was measured to what is told: figures in the units of the report.

use dapedon_core::alignment::{Alignment, chainage_words};
use dapedon_core::plan::Frame;
use dapedon_core::units::AreaUnit;

use super::cutting::CutSection;
use super::stretches::CutAndFill;
use super::{
    EnoughInterval, ExactVolumes, Section, SectionCorners, SectionShares, SectionVolumes,
    SectionsRequest, SidedAreas, Stretch,
};
use crate::figure::Area;
use crate::units::ReportUnits;

/// Decimals of chainages in words.
const DECIMALS: usize = 2;
/// Heights of a line may end so far from its end, in its unit, as files round.
const ROUNDED: f64 = 0.01;
/// Stretches that are told as those with the largest difference.
const WORST: usize = 5;

/// How figures are told.
pub(super) struct Told<'t> {
    pub(super) request: &'t SectionsRequest,
    pub(super) line: &'t Alignment,
    pub(super) units: ReportUnits,
    pub(super) frame: Frame,
    /// The names of all surfaces.
    pub(super) names: Vec<String>,
}

/// An interval that was tried.
pub(super) struct Enough {
    pub(super) interval: f64,
    pub(super) total: CutAndFill,
    pub(super) exact: CutAndFill,
    pub(super) is_close: bool,
}

impl Told<'_> {
    pub(super) fn sections(&self, cut: &[CutSection]) -> Vec<Section> {
        cut.iter().map(|section| self.section(section)).collect()
    }

    fn section(&self, section: &CutSection) -> Section {
        let unit = self.units.length;
        let chainage = self.line.chainage().of(section.distance);
        let course = section.cut.course;
        let at = self.frame.to_grid(course.place);
        let same = self.frame.precision().worked_out();
        let areas = &section.areas;
        // A cross-section is measured in squares of the length unit, whatever plan areas are told in.
        let area = |square: f64| Area::new(square, AreaUnit::usual(unit));
        let has_both = areas.compared > 0.0;
        let corners = self
            .names
            .iter()
            .zip(&section.lines)
            .map(|(name, line)| SectionCorners {
                surface: name.clone(),
                runs: line.joined(same).runs(same),
            });
        Section {
            chainage,
            station: chainage_words(chainage, unit, DECIMALS),
            distance: section.distance,
            east: at.east,
            north: at.north,
            bearing: (90.0 - course.direction.to_degrees()).rem_euclid(360.0),
            cut: has_both.then(|| area(areas.cut.area)),
            fill: has_both.then(|| area(areas.fill.area)),
            ahead: section.ahead.map(|ahead| SidedAreas {
                cut: area(ahead.cut.area),
                fill: area(ahead.fill.area),
            }),
            heights: section.lines.iter().map(|line| line.height(0.0)).collect(),
            line_height: self.line.height(section.distance, ROUNDED),
            compared: areas.compared,
            not_compared: areas.reference_only + areas.surveyed_only + areas.neither,
            surfaces: match self.request.corners {
                true => corners.collect(),
                false => Vec::new(),
            },
        }
    }

    pub(super) fn volumes(&self, of: CutAndFill) -> SectionVolumes {
        volumes(&self.units, of)
    }

    pub(super) fn stretches(
        &self,
        distances: &[f64],
        volumes: &[CutAndFill],
        exact: &[Option<CutAndFill>],
    ) -> Vec<Stretch> {
        let mut running = CutAndFill::default();
        let pairs = distances.windows(2).zip(volumes).zip(exact);
        pairs
            .map(|((pair, volume), exact)| {
                running.cut += volume.cut;
                running.fill += volume.fill;
                Stretch {
                    length: pair[1] - pair[0],
                    volume: self.volumes(*volume),
                    running: self.volumes(running),
                    exact: exact.map(|exact| self.volumes(exact)),
                }
            })
            .collect()
    }

    /// The volumes between the surfaces, and where those by sections differ from them.
    pub(super) fn exact(
        &self,
        total: &CutAndFill,
        whole: &CutAndFill,
        volumes: &[CutAndFill],
        exact: &[Option<CutAndFill>],
    ) -> ExactVolumes {
        let off = |(own, exact): (&CutAndFill, &Option<CutAndFill>)| {
            let exact = exact.as_ref()?;
            Some((own.cut - exact.cut).abs() + (own.fill - exact.fill).abs())
        };
        let off = volumes.iter().zip(exact).map(off).enumerate();
        // A difference that is no more than the chords of the strips is none.
        let least = 1e-6 * (whole.cut + whole.fill);
        let mut worst: Vec<(usize, f64)> = off
            .filter_map(|(stretch, off)| Some((stretch, off.filter(|off| *off > least)?)))
            .collect();
        worst.sort_by(|a, b| b.1.total_cmp(&a.1).then(a.0.cmp(&b.0)));
        worst.truncate(WORST);
        let difference = CutAndFill {
            cut: total.cut - whole.cut,
            fill: total.fill - whole.fill,
        };
        ExactVolumes {
            volume: self.volumes(*whole),
            difference: self.volumes(difference),
            share: shares(total, whole),
            worst: worst.into_iter().map(|(stretch, _)| stretch).collect(),
        }
    }

    pub(super) fn enough(&self, found: Enough) -> EnoughInterval {
        EnoughInterval {
            interval: self.units.length_of(found.interval),
            share: shares(&found.total, &found.exact),
            within_one_percent: found.is_close,
        }
    }
}

/// Volumes in the unit of the report.
pub(super) fn volumes(units: &ReportUnits, of: CutAndFill) -> SectionVolumes {
    let told = |cubic: f64| units.volume_of(cubic);
    SectionVolumes {
        cut: told(of.cut),
        fill: told(of.fill),
        net: told(of.fill - of.cut),
    }
}

/// How far volumes are off, as shares of what they should be.
fn shares(own: &CutAndFill, exact: &CutAndFill) -> SectionShares {
    // What rounding leaves of nothing has no share.
    let least = 1e-9 * (exact.cut + exact.fill);
    let share = |own: f64, exact: f64| (exact > least).then(|| (own - exact) / exact);
    SectionShares {
        cut: share(own.cut, exact.cut),
        fill: share(own.fill, exact.fill),
    }
}
