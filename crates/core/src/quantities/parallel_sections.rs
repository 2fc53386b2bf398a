//! Volumes from parallel sections, equally far apart, across the longer side of what is measured: a way to the volume that does without the overlay.

use crate::alignment::Course;
use crate::plan::{Extent, Place};
use crate::quantities::Volumes;
use crate::quantities::grid_trend::deviation_of_the_finest;
use crate::quantities::section::{Cut, cut_through};
use crate::surface::{FacetIndex, Surface};
use crate::zones::Zones;

/// Volumes from the areas of parallel sections, each of which counts as far as halfway to the next.
#[derive(Debug, Clone, PartialEq)]
pub struct ParallelSections {
    /// How far they are apart.
    pub spacing: f64,
    /// How many they are.
    pub sections: usize,
    /// True where they stand one behind the other from west to east.
    pub along_east: bool,
    /// The volumes.
    pub volumes: Volumes,
    /// Their standard uncertainties from where the first section happens to stand: of cut, fill and net.
    pub standard: [f64; 3],
}

/// Cuts both surfaces at `count` sections, within zones if there are any, and adds up their areas. None where nothing has an end. What several zones share counts once.
///
/// The uncertainty is found as for grids: with sections left to chance where they start the volume is their mean; every second, fourth and eighth section shows how
/// far fewer of them stray.
///
/// ```
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::parallel_sections;
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // A wedge, 40 m long and 20 m wide, that rises to 4 m: 1600 m³.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let heights = vec![0.0, 4.0, 0.0, 4.0];
/// let wedge = Grid::new(frame, frame.to_local(0.0, 0.0), [40.0, 20.0], [2, 2], heights).unwrap();
/// let [level, wedge] = [Surface::Level(Level::new(frame, 0.0)), Surface::Grid(wedge)];
/// let found = parallel_sections(&level, &wedge, None, 16).unwrap();
/// assert!((found.volumes.fill - 1600.0).abs() < 1e-9 && found.along_east);
/// ```
pub fn parallel_sections(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    count: usize,
) -> Option<ParallelSections> {
    let shared = reference.extent().intersection(&surveyed.extent());
    let extent = zones.map_or(shared, |zones| shared.intersection(&zones.extent()));
    if extent.is_empty() || !extent.width().is_finite() || !extent.height().is_finite() {
        return None;
    }
    let along_east = extent.width() >= extent.height();
    let length = if along_east {
        extent.width()
    } else {
        extent.height()
    };
    let spacing = length / count as f64;
    let cuts =
        (0..count).map(|index| cut(&extent, along_east, (index as f64 + 0.5) * spacing, zones));
    let cuts: Vec<Cut> = cuts.collect();
    let surfaces = [FacetIndex::of(reference), FacetIndex::of(surveyed)];
    let lines = cut_through(&surfaces, &cuts);
    let areas = lines.iter().zip(&cuts).map(|(lines, cut)| {
        let areas = lines[0].areas(&lines[1], cut);
        [
            areas.cut.area,
            areas.fill.area,
            areas.fill.area - areas.cut.area,
        ]
    });
    let areas: Vec<[f64; 3]> = areas.collect();
    let [cut, fill, net] = [0, 1, 2].map(|figure| {
        let sum: f64 = areas.iter().map(|areas| areas[figure]).sum();
        sum * spacing
    });
    let standard = [0, 1, 2].map(|figure| {
        let areas: Vec<f64> = areas.iter().map(|areas| areas[figure]).collect();
        standard(&areas) * spacing
    });
    Some(ParallelSections {
        spacing,
        sections: count,
        along_east,
        volumes: Volumes {
            cut,
            fill,
            net,
            unchanged: 0.0,
        },
        standard,
    })
}

/// A section across an extent, so far from its western or southern end, over what lies in zones.
fn cut(extent: &Extent, along_east: bool, at: f64, zones: Option<&Zones>) -> Cut {
    let Extent { min, max } = *extent;
    let (course, width) = match along_east {
        // To the right of a line that runs east lies south.
        true => (
            Course {
                place: Place::new(min.east + at, max.north),
                direction: 0.0,
            },
            extent.height(),
        ),
        // To the right of a line that runs north lies east.
        false => (
            Course {
                place: Place::new(min.east, min.north + at),
                direction: std::f64::consts::FRAC_PI_2,
            },
            extent.width(),
        ),
    };
    let spans = match zones {
        None => vec![[0.0, width]],
        Some(zones) => within(zones, |place| match along_east {
            true => [place.east - course.place.east, max.north - place.north],
            false => [place.north - course.place.north, place.east - min.east],
        }),
    };
    let inside = spans.into_iter().filter_map(|[from, to]| {
        let span = [from.max(0.0), to.min(width)];
        (span[0] < span[1]).then_some(span)
    });
    Cut {
        course,
        spans: inside.collect(),
    }
}

/// From where to where a section lies in zones. `of` gives the place ahead of the section, and the offset along it.
fn within(zones: &Zones, of: impl Fn(Place) -> [f64; 2]) -> Vec<[f64; 2]> {
    let mut spans: Vec<[f64; 2]> = Vec::new();
    for zone in zones.zones() {
        let mut crossings: Vec<f64> = Vec::new();
        for edge in zone.edges() {
            let ([from, start], [to, end]) = (of(edge.from), of(edge.to));
            // Half open, so that a corner on the section counts once.
            if (from <= 0.0) != (to <= 0.0) {
                crossings.push(start + (end - start) * (from / (from - to)));
            }
        }
        crossings.sort_by(f64::total_cmp);
        spans.extend(crossings.chunks_exact(2).map(|ends| [ends[0], ends[1]]));
    }
    spans.sort_by(|a, b| a[0].total_cmp(&b[0]));
    let mut joined: Vec<[f64; 2]> = Vec::new();
    for span in spans {
        match joined.last_mut() {
            Some(last) if span[0] <= last[1] => last[1] = last[1].max(span[1]),
            _ => joined.push(span),
        }
    }
    joined
}

/// The squared error grows by a factor between these when sections are twice as far apart: by 4 where areas change abruptly; where they are smooth by more.
const GROWTH: [f64; 2] = [2.0, 4.0];

/// The standard deviation of the sum of areas, by where the first one happens to stand.
fn standard(areas: &[f64]) -> f64 {
    let whole: f64 = areas.iter().sum();
    let about = |step: usize| {
        let starts = (0..step).map(|start| {
            let own: f64 = areas.iter().skip(start).step_by(step).sum();
            let off = step as f64 * own - whole;
            off * off
        });
        (starts.sum::<f64>() / step as f64).sqrt()
    };
    deviation_of_the_finest(&[2, 4, 8].map(about), GROWTH)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::quantities::{Tolerance, volume};
    use crate::surface::{Grid, Level};
    use crate::units::LengthUnit;
    use crate::zones::Zone;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
    }

    fn ground(size: [usize; 2], height: impl Fn(f64, f64) -> f64) -> Surface {
        let nodes = (0..size[0] * size[1])
            .map(|node| height((node % size[0]) as f64 * 2.0, (node / size[0]) as f64 * 2.0));
        let corner = Place::new(500_000.0, 6_000_000.0);
        Surface::Grid(Grid::new(frame(), corner, [2.0; 2], size, nodes.collect()).unwrap())
    }

    fn ring(corners: &[(f64, f64)]) -> Vec<Place> {
        let closed = corners.iter().chain(corners.first());
        closed
            .map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n))
            .collect()
    }

    #[test]
    fn within_zones_with_holes_the_volume_is_that_of_the_overlay() {
        let rough = |e: f64, n: f64| (e / 5.0).sin() + (n / 4.0).cos() + 0.02 * e;
        for size in [[41, 21], [21, 41]] {
            let (from, to) = (ground(size, |_, _| 0.3), ground(size, rough));
            let outer = ring(&[(3.0, 4.0), (35.0, 2.0), (38.0, 33.0), (6.0, 37.0)]);
            let hole = ring(&[(10.0, 10.0), (10.0, 17.0), (19.0, 15.0)]);
            let one = Zone::new("one", frame(), vec![vec![outer, hole]]).unwrap();
            let two = Zone::new(
                "two",
                frame(),
                vec![vec![ring(&[(60.0, 3.0), (75.0, 9.0), (64.0, 30.0)])]],
            )
            .unwrap();
            let zones = Zones::new(frame(), vec![one, two]);
            let exact = volume(&from, &to, Some(&zones), Tolerance::ZERO).unwrap();
            let exact = [0, 1, 2].map(|figure| {
                exact
                    .iter()
                    .map(|zone| [zone.volume.cut, zone.volume.fill, zone.volume.net][figure])
                    .sum::<f64>()
            });
            let found = parallel_sections(&from, &to, Some(&zones), 256).unwrap();
            let own = [found.volumes.cut, found.volumes.fill, found.volumes.net];
            for figure in 0..3 {
                let off = (own[figure] - exact[figure]).abs();
                // Its own statement, at 95 in 100, and what 256 sections leave of a volume of some hundreds.
                assert!(
                    off <= 2.0 * found.standard[figure] + 1e-3 * exact[1],
                    "{figure} {off} {found:?}"
                );
                assert!(found.standard[figure] < 0.01 * exact[1], "{found:?}");
            }
        }
    }

    #[test]
    fn without_an_end_there_are_none() {
        let level = |height: f64| Surface::Level(Level::new(frame(), height));
        assert!(parallel_sections(&level(1.0), &level(2.0), None, 8).is_none());
    }
}
