//! How the difference of two surfaces is spread over some ground: its mean, how far it strays from that, and whether it leans.

mod moments;
mod shares;

use crate::overlay::volume::{Extreme, Tolerance, volumes_with};
use crate::overlay::{Overlay, OverlayError};
use crate::plan::{Extent, Place};
use crate::surface::Surface;
use crate::zones::{WithinZone, Zone};
use moments::{MomentFold, Moments};
use shares::values_at_shares;

/// The share of values within one standard deviation of the mean, where they are normally distributed.
const WITHIN_ONE: f64 = 0.682_689_492_137_085_9;

/// How a difference is spread over the ground of a zone. Every piece of ground counts by its plan area.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spread {
    /// The ground that both surfaces cover.
    pub area: f64,
    /// The mean of surveyed height less reference height.
    pub mean: f64,
    /// The standard deviation from the mean.
    pub deviation: f64,
    /// The difference that half of the ground lies below.
    pub median: f64,
    /// Half of the range that holds the middle 68.27 % of the ground: the standard deviation of what is normally distributed, whatever
    /// a few places do.
    pub robust: f64,
    /// The least.
    pub min: Extreme,
    /// The greatest.
    pub max: Extreme,
    /// The plane that lies closest to the difference; none where the ground is a mere line.
    pub plane: Option<FittedPlane>,
}

/// The plane through a difference with the least squares of what it leaves, each piece of ground counted by its area.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FittedPlane {
    /// The centroid of the ground, in local coordinates, where the plane is as high as the mean.
    pub middle: Place,
    /// Its rise per unit to the east and to the north.
    pub rise: [f64; 2],
    /// Its own standard deviation from the mean: how much it adds by leaning.
    pub lean: f64,
    /// What the difference deviates from it.
    pub deviation: f64,
}

/// How the difference is spread over each zone of an overlay, or over all of it; none where nothing is compared.
///
/// # Errors
///
/// When it is stopped by who watches.
///
/// ```
/// use dapedon_core::overlay::Overlay;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::spread;
/// use dapedon_core::surface::{Level, Surface, Tin, Vertex};
/// use dapedon_core::units::LengthUnit;
/// // Ten by ten, rising by 20 mm a metre to the east.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, 0.0), (10.0, 0.0, 0.2), (10.0, 10.0, 0.2), (0.0, 10.0, 0.0)];
/// let corners = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let leaning = Surface::Tin(Tin::from_facets(frame, corners, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let level = Surface::Level(Level::new(frame, 0.0));
/// let found = spread(&Overlay::new(&level, &leaning, None).unwrap()).unwrap()[0].unwrap();
/// assert!((found.mean - 0.1).abs() < 1e-12 && (found.median - 0.1).abs() < 1e-8);
/// assert!((found.plane.unwrap().rise[0] - 0.02).abs() < 1e-12);
/// ```
pub fn spread(overlay: &Overlay<'_>) -> Result<Vec<Option<Spread>>, OverlayError> {
    spreads(overlay, Grouping::Apart)
}

/// The same over all zones of an overlay together, which must not overlap
/// ([`without_overlaps`](crate::zones::without_overlaps)).
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn spread_together(overlay: &Overlay<'_>) -> Result<Option<Spread>, OverlayError> {
    let found = spreads(overlay, Grouping::Together)?;
    Ok(found.into_iter().next().flatten())
}

/// How zones count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Grouping {
    /// Each for itself.
    Apart,
    /// As one.
    Together,
}

impl Grouping {
    fn count(self, overlay: &Overlay<'_>) -> usize {
        match self {
            Grouping::Apart => overlay.zone_count(),
            Grouping::Together => 1,
        }
    }

    /// Where what lies in some zones counts.
    fn of(self, zones: &[u32]) -> &[u32] {
        match self {
            Grouping::Apart => zones,
            Grouping::Together => &[0],
        }
    }
}

fn spreads(overlay: &Overlay<'_>, grouping: Grouping) -> Result<Vec<Option<Spread>>, OverlayError> {
    let fold = MomentFold {
        zones: grouping.count(overlay),
        grouping,
    };
    let (volumes, moments) = volumes_with(overlay, Tolerance::ZERO, fold)?;
    let apart: Vec<Option<[Extreme; 2]>> = volumes
        .iter()
        .map(|zone| zone.difference.map(|own| [own.min, own.max]))
        .collect();
    let extremes = match grouping {
        Grouping::Apart => apart,
        Grouping::Together => vec![apart.into_iter().flatten().reduce(farther)],
    };
    let ends = extremes
        .iter()
        .map(|ends| ends.map_or([0.0; 2], |ends| ends.map(|end| end.difference)));
    let ends: Vec<[f64; 2]> = ends.collect();
    let half = WITHIN_ONE / 2.0;
    let shares = [0.5 - half, 0.5, 0.5 + half];
    let middle = values_at_shares(overlay, grouping, &ends, shares)?;
    let all = extremes.iter().zip(&moments).zip(middle);
    let found = all.map(|((extremes, moments), [low, median, high])| {
        let [min, max] = (*extremes)?;
        Some(Spread {
            area: moments.area(),
            mean: moments.mean(),
            deviation: moments.deviation(),
            median,
            robust: (high - low) / 2.0,
            min,
            max,
            plane: plane(moments),
        })
    });
    Ok(found.collect())
}

/// The least and the greatest of two pairs of both.
fn farther(one: [Extreme; 2], other: [Extreme; 2]) -> [Extreme; 2] {
    let ([min, max], [least, greatest]) = (one, other);
    [
        if least.difference < min.difference {
            least
        } else {
            min
        },
        if greatest.difference > max.difference {
            greatest
        } else {
            max
        },
    ]
}

/// How many points of a surface lie in any of some zones, or on an edge of one.
pub fn points_within(surface: &Surface, zones: &[Zone]) -> usize {
    if zones.is_empty() {
        return 0;
    }
    let precision = surface.frame().precision();
    let zones = zones.iter().map(|zone| WithinZone::of(zone, precision));
    let zones: Vec<WithinZone<'_>> = zones.collect();
    let holds = |place: Place| {
        let own = Extent::of([place]);
        let near = |zone: &&WithinZone<'_>| zone.zone().extent().holds(&own);
        zones.iter().filter(near).any(|zone| zone.holds(place))
    };
    match surface {
        Surface::Tin(tin) => {
            let places = tin.vertices().iter().map(|vertex| vertex.place());
            places.filter(|&place| holds(place)).count()
        }
        Surface::Grid(grid) => {
            let around = zones.iter().map(|zone| zone.zone().extent());
            let around = around.fold(Extent::EMPTY, |all, zone| all.union(&zone));
            let [columns, rows] = grid.cells_in(&around);
            let wide = grid.size()[0];
            let nodes = (rows.start..=rows.end).flat_map(|row| {
                (columns.start..=columns.end).map(move |column| row * wide + column)
            });
            let known = |node: &usize| grid.heights().get(*node).is_some_and(|own| own.is_finite());
            nodes
                .filter(known)
                .filter(|&node| holds(grid.vertex(node).place()))
                .count()
        }
        Surface::Level(_) => 0,
    }
}

/// Ground whose width is less than this share of its length is a line, on which a plane may lean either way.
const A_LINE: f64 = 1e-4;

/// The plane through a difference: normal equations about the centroid, so that the mean and the rise do not touch each other.
fn plane(moments: &Moments) -> Option<FittedPlane> {
    let [ee, en, nn] = moments.of_places();
    let [de, dn] = moments.of_difference_and_place();
    let (half, root) = ((ee + nn) / 2.0, libm::hypot((ee - nn) / 2.0, en));
    if half - root <= A_LINE * A_LINE * (half + root) {
        return None;
    }
    let determinant = ee * nn - en * en;
    let rise = [
        (nn * de - en * dn) / determinant,
        (ee * dn - en * de) / determinant,
    ];
    let explained = (rise[0] * de + rise[1] * dn).max(0.0);
    let all = moments.deviation();
    Some(FittedPlane {
        middle: moments.middle(),
        rise,
        lean: explained.sqrt(),
        deviation: (all * all - explained).max(0.0).sqrt(),
    })
}

#[cfg(test)]
mod tests;
