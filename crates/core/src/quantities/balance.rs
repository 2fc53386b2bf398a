//! The shift of a design at which cut and fill meet.

mod curve;
mod near;
mod tries;

use crate::derived::zonewise::around;
use crate::overlay::{Overlay, OverlayError, Watch};
use crate::surface::Surface;
use crate::zones::regions::regions;
use crate::zones::{Zone, Zones};
use curve::Curve;
use near::Near;
pub use tries::balance_by;

/// Shifts that are tried over the whole range at first.
const TRIED: usize = 65;

/// Cut and fill from the ground to a design that is shifted.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Shifted {
    /// By how much it is raised.
    pub shift: f64,
    /// The cut.
    pub cut: f64,
    /// The fill.
    pub fill: f64,
}

impl Shifted {
    /// What is left of the cut, of which each unit makes `yielded` of fill, once all is filled; negative where
    /// that is not enough.
    pub fn surplus(&self, yielded: f64) -> f64 {
        self.cut * yielded - self.fill
    }
}

/// What is sought.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Search {
    /// How much fill a unit of cut makes.
    pub yielded: f64,
    /// The lowest and the highest shift.
    pub range: [f64; 2],
    /// A surplus or shortfall up to this is a balance: the roundest shift within it is taken.
    pub amount: f64,
}

impl Search {
    /// Shifts spread evenly over the range, its ends to the bit.
    fn spread(&self, count: usize) -> Vec<f64> {
        let [low, high] = self.range;
        let share = |index: usize| index as f64 / (count - 1) as f64;
        let shifts = (0..count).map(|index| low * (1.0 - share(index)) + high * share(index));
        shifts.collect()
    }

    /// The roundest shift whose surplus is within the amount, where one is asked for.
    fn rounded<E>(
        &self,
        exact: Shifted,
        at: impl Fn(&[f64]) -> Result<Vec<Shifted>, E>,
    ) -> Result<Shifted, E> {
        if self.amount == 0.0 {
            return Ok(exact);
        }
        let decimals = |shift: f64| {
            (0..7).find(|&decimals| {
                let ten = 10f64.powi(decimals);
                (shift * ten).round() / ten == shift
            })
        };
        let rounded = (0..6).map(|decimals| {
            let ten = 10f64.powi(decimals);
            (exact.shift * ten).round() / ten
        });
        let [low, high] = self.range;
        let mut shifts: Vec<f64> = rounded
            .filter(|shift| (low..=high).contains(shift))
            .collect();
        shifts.sort_by(f64::total_cmp);
        shifts.dedup();
        let close = at(&shifts)?
            .into_iter()
            .filter(|s| s.surplus(self.yielded).abs() <= self.amount);
        let roundest = close.min_by_key(|shifted| decimals(shifted.shift));
        Ok(roundest.unwrap_or(exact))
    }

    /// The same, and no shift at all where that is in the range.
    fn with_rest(&self, count: usize) -> Vec<f64> {
        let mut shifts = self.spread(count);
        let at = shifts.partition_point(|shift| *shift < 0.0);
        if at > 0 && shifts.get(at).is_some_and(|next| *next > 0.0) {
            shifts.insert(at, 0.0);
        }
        shifts
    }
}

/// What was found in a range of shifts.
#[derive(Debug, Clone, PartialEq)]
pub struct Balance {
    /// Shifts over the whole range, ascending, none at all among them where that is in it.
    pub tried: Vec<Shifted>,
    /// The shift at which cut and fill meet, or else the one that comes closest.
    pub best: Shifted,
    /// True where they meet.
    pub meets: bool,
}

/// Finds by how much a design is to be raised, within a range, so that its cut makes just its fill.
///
/// The design is raised within `moving`, or as a whole; cut and
/// fill count within `limits`, or everywhere. The surplus falls as the design rises, so that there is one such
/// shift at most, or a stretch of them.
///
/// The two are overlaid once for the whole range and once more near the shift that is sought, whatever the
/// number of shifts that are tried, and a third time where a round shift is asked for; every figure is exact. Progress is
/// reported for each of these overlays from its start.
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
///
/// ```
/// use dapedon_core::derived::*;
/// use dapedon_core::plan::*;
/// use dapedon_core::quantities::*;
/// use dapedon_core::surface::*;
/// use dapedon_core::units::*;
/// use dapedon_core::zones::*;
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let corners = [(0.0, 0.0, 0.0), (10.0, 0.0, 1.0), (10.0, 4.0, 1.0), (0.0, 4.0, 0.0)];
/// let hillside = corners.map(|(e, n, h)| Vertex::new(e, n, h)).to_vec();
/// let hillside = Surface::Tin(Tin::from_facets(frame, hillside, vec![[0, 1, 2], [0, 2, 3]]).unwrap());
/// let yard = Surface::Level(Level::new(frame, 0.0));
/// let search = Search { yielded: 1.0, range: [0.0, 1.0], amount: 0.0 };
/// let found = balance(&hillside, &yard, None, None, &search, None).unwrap();
/// assert!(found.meets && (found.best.shift - 0.5).abs() < 1e-9);
/// ```
pub fn balance(
    ground: &Surface,
    design: &Surface,
    limits: Option<&Zones>,
    moving: Option<&Zones>,
    search: &Search,
    watch: Option<Watch<'_>>,
) -> Result<Balance, OverlayError> {
    let parts = parted(ground, design, limits, moving);
    let mut overlay = Overlay::new(ground, design, parts.as_ref().map(|(zones, _)| zones))?;
    if let Some(watch) = watch {
        overlay = overlay.watched(watch);
    }
    let moves = parts
        .as_ref()
        .map_or(vec![true], |(_, moves)| moves.clone());
    let shifts = search.with_rest(TRIED);
    let tried = overlay
        .fold(&Curve {
            shifts: &shifts,
            moves: &moves,
        })?
        .at(&shifts);

    let surplus = |tried: &Shifted| tried.surplus(search.yielded);
    let after = tried.partition_point(|tried| surplus(tried) > 0.0);
    let (best, meets) = match after {
        0 => (tried[0], surplus(&tried[0]).abs() <= search.amount),
        all if all == tried.len() => {
            let last = tried[all - 1];
            (last, surplus(&last).abs() <= search.amount)
        }
        _ => {
            let between = [tried[after - 1].shift, tried[after].shift];
            let near = overlay.fold(&Near {
                between,
                moves: &moves,
            })?;
            let exact = near.passes_zero(between, search.yielded);
            let at = |shifts: &[f64]| {
                let curve = Curve {
                    shifts,
                    moves: &moves,
                };
                Ok::<_, OverlayError>(overlay.fold(&curve)?.at(shifts))
            };
            (search.rounded(exact, at)?, true)
        }
    };
    Ok(Balance { tried, best, meets })
}

/// Cut and fill from the ground to a design as it is; ground within several limits counts once.
///
/// # Errors
///
/// When the surfaces cannot be overlaid.
pub fn at_rest(
    ground: &Surface,
    design: &Surface,
    limits: Option<&Zones>,
) -> Result<Shifted, OverlayError> {
    let parts = parted(ground, design, limits, None);
    let (zones, moves) = parts.unzip();
    let moves = moves.unwrap_or_else(|| vec![true]);
    let curve = Curve {
        shifts: &[0.0],
        moves: &moves,
    };
    let summed = Overlay::new(ground, design, zones.as_ref())?.fold(&curve)?;
    Ok(summed.at(curve.shifts)[0])
}

/// The plan divided by both kinds of zones, and which parts move; none where all of it counts and moves.
fn parted(
    ground: &Surface,
    design: &Surface,
    limits: Option<&Zones>,
    moving: Option<&Zones>,
) -> Option<(Zones, Vec<bool>)> {
    let frame = ground.frame();
    let list = |zones: Option<&Zones>| zones.map_or(Vec::new(), |zones| zones.zones().to_vec());
    let (limit_list, moving_list) = (list(limits), list(moving));
    if limits.is_none() && moving.is_none() {
        return None;
    }
    let first = limit_list.len() as u32;
    let all = Zones::new(frame, limit_list.into_iter().chain(moving_list).collect());
    let extents = [ground, design].map(Surface::extent);
    let bounded = extents.iter().filter(|extent| extent.width().is_finite());
    let extent = bounded.fold(all.extent(), |all, extent| all.union(extent));
    let outside = limits.is_none().then(|| around(extent));
    let mut moves = Vec::new();
    let mut grounds: Vec<Zone> = Vec::new();
    for region in regions(&all, outside) {
        let counts = limits.is_none() || region.zones.iter().any(|&zone| zone < first);
        if counts {
            moves.push(moving.is_none() || region.zones.iter().any(|&zone| zone >= first));
            grounds.push(region.ground);
        }
    }
    Some((Zones::new(frame, grounds), moves))
}
