//! Cut, fill and net between two surfaces.

mod tally;

use crate::overlay::{Both, Each, Strip};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::Place;
use crate::plan::clip::{Integral, Polygon, Values};
use crate::plan::sum::total;
use crate::surface::Surface;
use crate::zones::Zones;
use tally::{Ground, Tally};

/// How far the surveyed surface may be from the reference and still count as unchanged.
///
/// Whatever the tolerance, a piece that nowhere differs by more than the resolution of coordinates,
/// a hundredth of a micrometre, is unchanged: that is the rounding of a number, not a movement of
/// the ground.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct Tolerance(f64);

impl Tolerance {
    /// Only what does not differ is unchanged.
    pub const ZERO: Tolerance = Tolerance(0.0);

    /// A tolerance of `difference` in survey units; `None` when it is negative or not finite.
    pub fn new(difference: f64) -> Option<Self> {
        (difference >= 0.0 && difference.is_finite()).then_some(Tolerance(difference))
    }

    /// The difference it allows.
    pub fn value(self) -> f64 {
        self.0
    }
}

/// Volumes in cubes of the survey's unit. All but `net` are never negative.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Volumes {
    /// Below the reference and above the surveyed surface.
    pub cut: f64,
    /// Above the reference and below the surveyed surface.
    pub fill: f64,
    /// Fill less cut.
    pub net: f64,
    /// Between the surfaces where they are unchanged, whichever is on top; in none of the others.
    pub unchanged: f64,
}

/// Plan areas in squares of the survey's unit.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Areas {
    /// Where both sides lie: the sum of the next three.
    pub compared: f64,
    /// Where the surveyed surface is lower.
    pub cut: f64,
    /// Where it is higher.
    pub fill: f64,
    /// Where it is neither, within the tolerance.
    pub unchanged: f64,
}

/// A difference, and where it is found (in local coordinates).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Extreme {
    /// Surveyed height less reference height.
    pub difference: f64,
    /// Where.
    pub at: Place,
}

/// Differences over the compared area: surveyed height less reference height.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Differences {
    /// The least: where negative, the greatest cut.
    pub min: Extreme,
    /// The greatest: where positive, the greatest fill.
    pub max: Extreme,
    /// The mean over the compared area, unchanged ground included.
    pub mean: f64,
}

/// What was measured in one zone.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ZoneVolume {
    /// The volumes.
    pub volume: Volumes,
    /// The areas.
    pub area: Areas,
    /// The differences; `None` where nothing was compared.
    pub difference: Option<Differences>,
    /// How many pieces the figures are summed over.
    pub pieces: u64,
}

/// Measures from `reference` to `surveyed`, zone by zone, or everywhere where there are none.
///
/// Each piece of the overlay is split where the difference passes the tolerance, and each part
/// integrated exactly: the integral of a linear function over a triangle is its area times the mean
/// of the values at its corners. See `docs/methods.md`, "Volume between two surfaces".
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
pub fn volume(
    reference: &Surface,
    surveyed: &Surface,
    zones: Option<&Zones>,
    tolerance: Tolerance,
) -> Result<Vec<ZoneVolume>, OverlayError> {
    let measured = volumes(&Overlay::new(reference, surveyed, zones)?, &[tolerance])?;
    Ok(measured.into_iter().flatten().collect())
}

/// The same of an overlay with several tolerances, in one walk: for each of them, zone by zone.
///
/// # Errors
///
/// When it is stopped by who watches.
pub fn volumes(
    overlay: &Overlay<'_>,
    tolerances: &[Tolerance],
) -> Result<Vec<Vec<ZoneVolume>>, OverlayError> {
    let fold = |tolerance: &Tolerance| VolumeFold::of(overlay, tolerance);
    let tallies = match tolerances {
        [tolerance] => vec![overlay.fold(&fold(tolerance))?],
        _ => overlay.fold(&Each(tolerances.iter().map(fold).collect()))?,
    };
    let measured = |tallies: &Vec<Tally>| tallies.iter().map(Tally::measured).collect();
    Ok(tallies.iter().map(measured).collect())
}

/// The volumes of an overlay, and what another fold gathers in the same walk.
pub(crate) fn volumes_with<F: Fold>(
    overlay: &Overlay<'_>,
    tolerance: Tolerance,
    fold: F,
) -> Result<(Vec<ZoneVolume>, F::Part), OverlayError> {
    let (tallies, part) = overlay.fold(&Both(VolumeFold::of(overlay, &tolerance), fold))?;
    Ok((tallies.iter().map(Tally::measured).collect(), part))
}

struct VolumeFold {
    zones: usize,
    tolerance: f64,
    /// Differences up to this are none: the tolerance, or what heights are distinguished by.
    still: f64,
    /// Pieces no larger are what rounding leaves along an edge, a vertical step most of all: they are summed, but
    /// their corners are no place for an extreme.
    sliver: f64,
}

/// The difference over the parts of one piece; the integral over cut ground is negative.
#[derive(Default)]
struct Measured {
    cut: Integral,
    fill: Integral,
    unchanged: Integral,
    within: f64,
}

impl VolumeFold {
    fn of(overlay: &Overlay<'_>, tolerance: &Tolerance) -> Self {
        let precision = overlay.frame().precision();
        VolumeFold {
            zones: overlay.zone_count(),
            tolerance: tolerance.0,
            still: precision.length().max(tolerance.0),
            sliver: precision.area(&overlay.extent()),
        }
    }

    /// Parts a piece where its difference passes the tolerance.
    #[inline(always)]
    fn measure(
        &self,
        outline: &Polygon,
        values: &Values,
        whole: Integral,
        [least, greatest]: [f64; 2],
    ) -> Measured {
        let tolerance = self.tolerance;
        let mut measured = Measured::default();
        let still = self.still;
        if least >= tolerance && greatest > still {
            measured.fill = whole;
        } else if greatest <= -tolerance && least < -still {
            measured.cut = whole;
        } else if least >= -still && greatest <= still {
            let rises = outline.integrate_above(values, 0.0).integral;
            measured.unchanged = whole;
            measured.within = rises + (rises - whole.integral);
        } else if tolerance == 0.0 {
            measured.fill = outline.integrate_above(values, 0.0);
            measured.cut = whole - measured.fill;
        } else {
            self.part(outline, values, whole, &mut measured);
        }
        measured
    }

    /// Parts a piece at both ends of a tolerance that is not zero.
    fn part(&self, outline: &Polygon, values: &Values, whole: Integral, measured: &mut Measured) {
        let rises = outline.integrate_above(values, 0.0);
        measured.fill = outline.integrate_above(values, self.tolerance);
        let lowered = outline.integrate_above(&values.map(|v| -v), self.tolerance);
        measured.cut = Integral {
            area: lowered.area,
            integral: -lowered.integral,
        };
        measured.unchanged = whole - measured.fill - measured.cut;
        // What rises less what falls, each without the part beyond the tolerance.
        let rise = rises - measured.fill;
        let fall = whole - rises - measured.cut;
        measured.within = rise.integral.max(0.0) - fall.integral.min(0.0);
    }
}

/// Six times the mean difference over the cells between two rows of nodes, summed over the cells: each is
/// two triangles, which share the nodes south-west and north-east.
#[inline(always)]
fn weighed(south: &[f64], north: &[f64]) -> f64 {
    let ends = |row: &[f64]| [row[0], row[row.len() - 1]];
    let ([sw, se], [nw, ne]) = (ends(south), ends(north));
    // Along a row each inner node counts twice from the one cell and once from the other.
    let thrice = 3.0 * (total(south) + total(north));
    thrice - (sw + 2.0 * se) - (2.0 * nw + ne)
}

impl VolumeFold {
    #[inline(always)]
    fn take(&self, part: &mut [Tally], piece: &Piece<'_>) {
        let outline = &piece.outline;
        let difference = |p: Place| piece.surveyed.at(p) - piece.reference.at(p);
        let (values, least, greatest) = outline.values(difference);
        let whole = outline.integrate(&values);
        if whole.area <= 0.0 {
            return;
        }
        let measured = self.measure(outline, &values, whole, [least, greatest]);
        let at = |value: f64| {
            let corner = values.iter().position(|&v| v == value);
            corner.map_or(outline.corners()[0], |corner| outline.corners()[corner])
        };
        for &zone in piece.zones {
            let tally = &mut part[zone as usize];
            tally.add(&measured);
            if whole.area > self.sliver {
                tally.reach(least, greatest, at);
            }
        }
    }

    /// One cell of a strip, given the differences at its nodes.
    #[inline]
    fn cell(&self, part: &mut [Tally], strip: &Strip<'_>, cell: usize, rows: [&[f64]; 2]) {
        let [south, north] = rows.map(|row| &row[..2]);
        let (low, high) = (
            south[0].min(south[1]).min(north[0].min(north[1])),
            south[0].max(south[1]).max(north[0].max(north[1])),
        );
        let still = self.still;
        let tally = &mut part[0];
        let parts = match (low > still, high < -still) {
            (true, _) => &mut tally.fill,
            (_, true) => &mut tally.cut,
            _ => {
                for triangle in strip.triangles(cell) {
                    triangle.as_piece(|piece| self.take(part, piece));
                }
                return;
            }
        };
        let area = strip.step[0] * strip.step[1];
        parts.area += area;
        parts.integral += area / 6.0 * weighed(south, north);
        tally.pieces += 2;
        tally.reach_node(strip, cell, [south, north], [low, high]);
    }
}

impl Fold for VolumeFold {
    type Part = Vec<Tally>;

    fn part(&self) -> Self::Part {
        vec![Tally::EMPTY; self.zones]
    }

    #[inline(always)]
    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.take(part, piece);
    }

    /// What lies wholly on one side is an area and a mean; only what does not is made a piece.
    #[inline]
    fn strip(&self, part: &mut Self::Part, strip: &Strip<'_>) {
        // The difference at the nodes of the south and the north side, as many as a strip may have.
        let mut differences = [[0.0; 32]; 2];
        let nodes = strip.cells() + 1;
        if nodes > differences[0].len() {
            return (0..strip.cells())
                .flat_map(|cell| strip.triangles(cell))
                .for_each(|triangle| triangle.as_piece(|piece| self.piece(part, piece)));
        }
        for (row, side) in differences.iter_mut().zip(0..2) {
            let heights = strip.surveyed[side].iter().zip(strip.reference[side]);
            for (difference, (surveyed, reference)) in row.iter_mut().zip(heights) {
                *difference = surveyed - reference;
            }
        }
        let [south, north] = differences.each_ref().map(|row| &row[..nodes]);
        let reach = |row: &[f64]| {
            row.iter()
                .fold([f64::INFINITY, f64::NEG_INFINITY], |[low, high], &d| {
                    [
                        if d < low { d } else { low },
                        if d > high { d } else { high },
                    ]
                })
        };
        let [[low, high], [other_low, other_high]] = [reach(south), reach(north)];
        let (low, high) = (low.min(other_low), high.max(other_high));
        let still = self.still;
        let (cell, tally) = (strip.step[0] * strip.step[1], &mut part[0]);
        let parts: &mut Ground = match (low > still, high < -still) {
            (true, _) => &mut tally.fill,
            (_, true) => &mut tally.cut,
            _ => {
                for cell in 0..strip.cells() {
                    self.cell(part, strip, cell, [&south[cell..], &north[cell..]]);
                }
                return;
            }
        };
        parts.area += cell * strip.cells() as f64;
        parts.integral += cell / 6.0 * weighed(south, north);
        tally.pieces += 2 * strip.cells() as u64;
        tally.reach_node(strip, 0, [south, north], [low, high]);
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for (tally, next) in part.iter_mut().zip(next) {
            for (ground, next) in [
                (&mut tally.cut, next.cut),
                (&mut tally.fill, next.fill),
                (&mut tally.unchanged, next.unchanged),
            ] {
                ground.area += next.area;
                ground.integral += next.integral;
            }
            tally.within += next.within;
            tally.reach(next.min.difference, next.max.difference, |value| {
                if value == next.min.difference {
                    next.min.at
                } else {
                    next.max.at
                }
            });
            tally.pieces += next.pieces;
        }
    }
}
