//! Volumes between sections: by their areas, and between the surfaces themselves.

use dapedon_core::alignment::Alignment;
use dapedon_core::overlay::{Overlay, OverlayError};
use dapedon_core::plan::{Frame, Sum};
use dapedon_core::quantities::{
    CountedCut, EndAreaRule, SectionArea, SectionAreas, StretchAreas, Tolerance, volumes,
};
use dapedon_core::surface::Surface;
use dapedon_core::units::LengthUnit;
use dapedon_core::zones::{Zone, Zones, regions};

use super::cutting::Cutter;

/// Chords of strips stand no farther than this from their curves, in metres.
const CHORD: f64 = 0.0002;

/// Cut and fill, in cubes of the length unit.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct CutAndFill {
    pub(super) cut: f64,
    pub(super) fill: f64,
}

impl CutAndFill {
    pub(super) fn sum(parts: impl Iterator<Item = CutAndFill>) -> Self {
        let (mut cut, mut fill) = (Sum::default(), Sum::default());
        for part in parts {
            cut += part.cut;
            fill += part.fill;
        }
        CutAndFill {
            cut: cut.value(),
            fill: fill.value(),
        }
    }

    /// True where it is no farther off than a share of what it should be, in cut and in fill; next to nothing beside the other
    /// is not asked.
    pub(super) fn is_close_to(&self, exact: &CutAndFill, share: f64) -> bool {
        let most = exact.cut.max(exact.fill);
        let close = |own: f64, exact: f64| {
            (own - exact).abs() <= share * exact || own.max(exact) <= 1e-3 * most
        };
        close(self.cut, exact.cut) && close(self.fill, exact.fill)
    }
}

/// How volumes follow from areas.
pub(super) struct Rules {
    pub(super) rule: EndAreaRule,
    pub(super) curve_correction: bool,
}

impl Rules {
    /// The volumes between sections at some distances, whose areas just before and just behind are known.
    pub(super) fn volumes(
        &self,
        cutter: &Cutter<'_>,
        distances: &[f64],
        areas: &[[SectionAreas; 2]],
    ) -> Vec<CutAndFill> {
        let middles = match self.rule {
            EndAreaRule::Average => Vec::new(),
            EndAreaRule::Prismoidal => {
                let middles = distances.windows(2).map(|pair| (pair[0] + pair[1]) / 2.0);
                cutter.areas_at(&middles.collect::<Vec<_>>())
            }
        };
        let pairs = distances.windows(2).zip(areas.windows(2)).enumerate();
        pairs
            .map(|(number, (between, ends))| {
                let turned = match self.curve_correction {
                    true => cutter.line.turned(between[0], between[1]),
                    false => 0.0,
                };
                let volume = |of: fn(&SectionAreas) -> SectionArea| {
                    StretchAreas {
                        length: between[1] - between[0],
                        turned,
                        start: of(&ends[0][1]),
                        middle: middles.get(number).map(of),
                        end: of(&ends[1][0]),
                    }
                    .volume()
                };
                CutAndFill {
                    cut: volume(|areas| areas.cut),
                    fill: volume(|areas| areas.fill),
                }
            })
            .collect()
    }

    /// How much the sum of the volumes grows with the areas of its sections; on an upright face as it does on either side of it.
    pub(super) fn counts(&self, cutter: &Cutter<'_>, distances: &[f64]) -> Vec<CountedCut> {
        // One stretch ends where the next one begins.
        let mut counted: Vec<(f64, CountedCut)> = Vec::new();
        let mut add = |distance: f64, length: f64, turned: f64| match counted.last_mut() {
            Some((last, own)) if *last == distance => {
                own.length += length;
                own.turned += turned;
            }
            _ => counted.extend(cutter.cut(distance).map(|cut| {
                let own = CountedCut {
                    cut,
                    length,
                    turned,
                };
                (distance, own)
            })),
        };
        for pair in distances.windows(2) {
            let (from, to) = (pair[0], pair[1]);
            let length = to - from;
            let turned = match self.curve_correction {
                true => cutter.line.turned(from, to),
                false => 0.0,
            };
            let shares: &[(f64, f64)] = match self.rule {
                EndAreaRule::Average => &[(0.0, 0.5), (1.0, 0.5)],
                EndAreaRule::Prismoidal => &[(0.0, 1.0 / 6.0), (0.5, 4.0 / 6.0), (1.0, 1.0 / 6.0)],
            };
            for &(along, share) in shares {
                let at = if along == 1.0 {
                    to
                } else {
                    from + along * length
                };
                add(at, share * length, share * turned);
            }
        }
        counted.into_iter().map(|(_, counted)| counted).collect()
    }

    /// The same from the start, where nothing is known yet.
    pub(super) fn total_at(&self, cutter: &Cutter<'_>, distances: &[f64]) -> CutAndFill {
        let areas = cutter.ends_at(distances);
        CutAndFill::sum(self.volumes(cutter, distances, &areas).into_iter())
    }
}

/// The strips of ground between sections, as far as limits reach; none where a strip crosses itself.
pub(super) struct Strips {
    /// The ground, and the stretch that each part of it belongs to.
    zones: Zones,
    of: Vec<usize>,
    /// Whether there is a strip for a stretch.
    pub(super) has: Vec<bool>,
}

impl Strips {
    pub(super) fn of(
        line: &Alignment,
        frame: Frame,
        distances: &[f64],
        reach: [f64; 2],
        limits: Option<&Zones>,
    ) -> Self {
        let chord = LengthUnit::Metre.convert(CHORD, frame.unit());
        let strip = |pair: &[f64]| {
            let ring = line.strip([pair[0], pair[1]], reach, chord);
            Zone::new("", frame, vec![vec![ring]]).ok()
        };
        let strips: Vec<Option<Zone>> = distances.windows(2).map(strip).collect();
        let has: Vec<bool> = strips.iter().map(Option::is_some).collect();
        let (of, mut ground): (Vec<usize>, Vec<Zone>) = (strips.into_iter().enumerate())
            .filter_map(|(stretch, zone)| Some((stretch, zone?)))
            .unzip();
        let Some(limits) = limits else {
            return Strips {
                zones: Zones::new(frame, ground),
                of,
                has,
            };
        };
        let strips = ground.len();
        ground.extend(limits.zones().iter().cloned());
        let (mut within, mut own) = (Vec::new(), Vec::new());
        for region in regions(&Zones::new(frame, ground), None) {
            let is_limited = region.zones.iter().any(|&zone| zone as usize >= strips);
            for stretch in region
                .zones
                .iter()
                .filter_map(|&zone| of.get(zone as usize))
            {
                if is_limited {
                    own.push(*stretch);
                    within.push(region.ground.clone());
                }
            }
        }
        Strips {
            zones: Zones::new(frame, within),
            of: own,
            has,
        }
    }

    /// The volumes between two surfaces, stretch by stretch.
    pub(super) fn volumes(
        &self,
        reference: &Surface,
        surveyed: &Surface,
        watch: dapedon_core::overlay::Watch<'_>,
    ) -> Result<Vec<Option<CutAndFill>>, OverlayError> {
        let mut found: Vec<Option<CutAndFill>> = (self.has.iter())
            .map(|has| has.then(CutAndFill::default))
            .collect();
        if self.of.is_empty() {
            return Ok(found);
        }
        let overlay = match Overlay::new(reference, surveyed, Some(&self.zones)) {
            Ok(overlay) => overlay,
            // Nothing lies on these strips.
            Err(OverlayError::Apart) => return Ok(found),
            Err(error) => return Err(error),
        };
        let measured = volumes(&overlay.watched(watch), &[Tolerance::ZERO])?;
        for (zone, &stretch) in measured.iter().flatten().zip(&self.of) {
            if let Some(Some(own)) = found.get_mut(stretch) {
                own.cut += zone.volume.cut;
                own.fill += zone.volume.fill;
            }
        }
        Ok(found)
    }
}
