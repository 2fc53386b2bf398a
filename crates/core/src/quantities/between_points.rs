//! What the spacing of points leaves out of a volume: measured, by leaving points out in turn.

mod halves;

use crate::overlay::OverlayError;
use crate::overlay::volume::{Tolerance, ZoneVolume, volume};
use crate::plan::Place;
use crate::surface::{Surface, Tin};
use crate::zones::Zones;
use halves::HalfOfPoints;

/// So often points are left out: each time one half of them, and then the other.
const SPLITS: u32 = 8;
/// So few values scatter more than their own spread says: Student's factor at 95 % for as many splits, over that of the normal distribution.
const FEW: f64 = 2.306 / 1.96;

/// How uncertain volumes are because nobody knows the ground between points: standard uncertainties of cut, fill and net.
pub type BetweenPoints = [f64; 3];

/// What the spacing of the points of one surface leaves out of the volumes between two: for each zone, or for all ground where there are none, and last for
/// their sum. None where the surface has few points, lies in several parts, or is no triangulation.
///
/// The volumes are measured again with half of the points, and with the other half, for eight splits of pairs of neighbours. Where the shape of the ground
/// is smooth, its error halves with twice the points: then the change to half the points is the error itself. Where it is by chance, from point to
/// point, its square does: then the change is as large as the error on average. So the root of the mean square of the changes says as much in both cases (balanced
/// half-samples: P. J. McCarthy, *Pseudo-replication: half samples*, Review of the ISI 37, 1969). Errors of the heights of single points are in it too.
///
/// `side` is 0 for the reference and 1 for the surveyed surface; `breaklines` are those of its triangulation, in local coordinates; `full` is what was measured.
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
pub fn between_points(
    surfaces: [&Surface; 2],
    side: usize,
    breaklines: &[Vec<Place>],
    zones: Option<&Zones>,
    tolerance: Tolerance,
    full: &[ZoneVolume],
) -> Result<Option<Vec<BetweenPoints>>, OverlayError> {
    let Some(Surface::Tin(tin)) = surfaces.get(side).copied() else {
        return Ok(None);
    };
    let figures = |all: &[ZoneVolume]| -> Vec<[f64; 3]> {
        let of = |zone: &ZoneVolume| [zone.volume.cut, zone.volume.fill, zone.volume.net];
        all.iter().map(of).collect()
    };
    between_points_by(tin, breaklines, &figures(full), |half| {
        let (from, to) = match side {
            0 => (half, surfaces[1]),
            _ => (surfaces[0], half),
        };
        Ok(figures(&volume(from, to, zones, tolerance)?))
    })
}

/// What the spacing of points leaves out of figures that follow from one surface in any way: of each figure of `full`, and last of their sum, as
/// [`between_points`] finds it. `measure` measures all of them again on the surface between half of the points.
///
/// # Errors
///
/// What `measure` says.
pub fn between_points_by<E: Send>(
    tin: &Tin,
    breaklines: &[Vec<Place>],
    full: &[[f64; 3]],
    measure: impl Fn(&Surface) -> Result<Vec<[f64; 3]>, E> + Sync,
) -> Result<Option<Vec<BetweenPoints>>, E> {
    let Some(halves) = HalfOfPoints::of(tin, breaklines) else {
        return Ok(None);
    };
    let measured = |half: Option<Tin>| -> Result<Option<Vec<[f64; 3]>>, E> {
        half.map(|half| measure(&Surface::Tin(half))).transpose()
    };
    let mut squares = vec![[0.0; 3]; full.len() + 1];
    let mut count = 0.0;
    for split in 0..SPLITS {
        let both = rayon::join(
            || measured(halves.surface(split, false)),
            || measured(halves.surface(split, true)),
        );
        for found in [both.0?, both.1?].into_iter().flatten() {
            count += 1.0;
            let mut sum = [0.0; 3];
            for ((own, full), squares) in found.iter().zip(full).zip(&mut squares) {
                for axis in 0..3 {
                    let change = own[axis] - full[axis];
                    sum[axis] += change;
                    squares[axis] += change * change;
                }
            }
            if let Some(all) = squares.last_mut() {
                all.iter_mut()
                    .zip(sum)
                    .for_each(|(square, sum)| *square += sum * sum);
            }
        }
    }
    if count == 0.0 {
        return Ok(None);
    }
    let standard = |square: f64| FEW * (square / count).sqrt();
    Ok(Some(
        squares.into_iter().map(|all| all.map(standard)).collect(),
    ))
}

#[cfg(test)]
mod tests;
