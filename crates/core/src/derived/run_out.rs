//! Side slopes that run out from an outline until they meet the ground.

mod envelope;
mod patches;
mod slopes;

use rustc_hash::{FxHashMap, FxHashSet};

use crate::derived::assembly::collect;
use crate::derived::stitch::{Corner, sides, stitch};
use crate::derived::zonewise::around;
use crate::derived::{Choice, Top, combined};
use crate::overlay::coverage::coverage;
use crate::overlay::volume::{Tolerance, volume};
use crate::overlay::{Fold, Overlay, OverlayError, Piece};
use crate::plan::membership::EdgeRows;
use crate::plan::places::Places;
use crate::plan::{Extent, Place};
use crate::surface::{FARTHEST, Outline, Surface, Tin, Vertex};
use crate::zones::regions::regions;
use crate::zones::{Zone, Zones};
use envelope::envelope;
use patches::{Rim, patches};

pub use slopes::{Bench, SideSlope, Slopes};

/// A top with its side slopes.
#[derive(Debug, Clone)]
pub struct RunOut {
    /// Both, as one surface.
    pub surface: Tin,
    /// How far the slopes run out, in plan, in cut and in fill.
    pub reach: [f64; 2],
    /// The plan area on which slopes in cut and in fill would overlap.
    pub crossing: f64,
}

/// Why slopes do not run out. Places are in grid coordinates.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum RunOutError {
    /// The top reaches beyond the ground.
    #[error("the outline is partly outside the ground surface: {area:.1} of its area")]
    BeyondGround {
        /// The plan area beyond.
        area: f64,
    },
    /// The ground ends before a slope has met it.
    #[error(
        "the slope in {} does not meet the ground: the ground surface ends at east {:.1}, north {:.1}, after {tried:.1}",
        if *.fill { "fill" } else { "cut" }, .at.east, .at.north
    )]
    NeverMeets {
        /// In fill, or else in cut.
        fill: bool,
        /// A place where the ground ends.
        at: Place,
        /// How far from the outline that is.
        tried: f64,
    },
    /// So many planes that nobody could tell them from a cone.
    #[error(
        "with a chord tolerance of {chord}, slopes {length:.0} long need more than {} planes",
        patches::MOST
    )]
    TooFine {
        /// How close chords are to be.
        chord: f64,
        /// How far the slopes run out.
        length: f64,
    },
    /// The slope has not met the ground, which has no end, as far as anything is.
    #[error("the slope in {} does not meet the ground within {tried:.0}", if *.fill { "fill" } else { "cut" })]
    NeverEnds {
        /// In fill, or else in cut.
        fill: bool,
        /// How far it was followed.
        tried: f64,
    },
    /// A slope, bench or chord that is no length above zero.
    #[error("a slope 1:n needs an n above zero, and a bench a height and a width")]
    NoSlope,
    /// The surfaces cannot be overlaid.
    #[error(transparent)]
    Overlay(#[from] OverlayError),
}

/// Runs slopes out from a top until they meet the ground: down where the ground is lower, up where it is
/// higher.
///
/// Beside an edge the slope is a plane through it that falls by 1 in *n* square to it, as a cross-section shows it; at an
/// outer corner it is a cone, broken into planes; where slopes meet each other, the one closer to the ground is hidden,
/// and the whole is continuous. Where slopes in cut and in fill overlap, what is filled lies on what was cut. A slope
/// ends where it first meets the ground, going outwards over ground that hangs together: what is outside is
/// left alone, though it may be lower again. See `docs/methods.md`, "Side slopes".
///
/// # Errors
///
/// When the top or a slope leaves the ground.
pub fn run_out(top: &Top, ground: &Surface, slopes: Slopes) -> Result<RunOut, RunOutError> {
    let is_chord = slopes.chord > 0.0 && slopes.chord.is_finite();
    if !(is_chord && slopes.cut.is_usable() && slopes.fill.is_usable()) {
        return Err(RunOutError::NoSlope);
    }
    let precision = top.surface().frame().precision();
    let tin = Surface::Tin(top.surface().clone());
    let outline = Outline::of(&tin);
    let beyond = coverage(&outline, &Outline::of(ground), None)[0].reference_only;
    if beyond > precision.area(&top.surface().extent()) {
        return Err(RunOutError::BeyondGround { area: beyond });
    }
    let over = volume(ground, &tin, None, Tolerance::ZERO)?[0].difference;
    let (low, high) = over.map_or((0.0, 0.0), |d| (d.min.difference, d.max.difference));

    let slope = |sign: f64, side: SideSlope| Slope {
        top,
        ground,
        sign,
        side,
        chord: slopes.chord,
    };
    let found = |slope: Slope<'_>, most: f64| match most > 0.0 {
        true => slope.run_out(most),
        false => Ok(SlopeResult::default()),
    };
    let cut = found(slope(-1.0, slopes.cut), -low)?;
    let fill = found(slope(1.0, slopes.fill), high)?;
    let reach = [cut.reach, fill.reach];
    let with_top = |pieces: &mut dyn Iterator<Item = Vec<Vertex>>| {
        let tops =
            (0..top.surface().facets().len()).map(|facet| top.surface().corners(facet).to_vec());
        collect(tin.frame(), tops.chain(pieces)).map_err(|_| OverlayError::Apart)
    };
    let both = cut.pieces.iter().chain(&fill.pieces).cloned();
    let surface = with_top(&mut both.into_iter())?;
    let crossing = Outline::of_tin(&surface).overlap(precision);
    let Some(crossing) = crossing.filter(|_| !cut.pieces.is_empty() && !fill.pieces.is_empty())
    else {
        return Ok(RunOut {
            surface,
            reach,
            crossing: 0.0,
        });
    };
    // They overlap: what is filled lies on what was cut before.
    let dug = Surface::Tin(with_top(&mut cut.pieces.into_iter())?);
    let ground = combined(ground, &dug, Choice::Other)?;
    let fill = Slope {
        ground: &ground,
        ..slope(1.0, slopes.fill)
    };
    let fill = fill.run_out(high)?;
    let filled = collect(tin.frame(), fill.pieces).map(Surface::Tin);
    let made = match filled {
        Ok(filled) => combined(&dug, &filled, Choice::Other)?,
        Err(_) => dug,
    };
    let Surface::Tin(surface) = made else {
        return Err(OverlayError::Apart.into());
    };
    Ok(RunOut {
        surface,
        reach: [reach[0], fill.reach],
        crossing: crossing.area,
    })
}

/// The slopes in fill; in cut they are the same turned upside down.
struct Slope<'s> {
    top: &'s Top,
    ground: &'s Surface,
    /// 1 in fill, -1 in cut.
    sign: f64,
    side: SideSlope,
    chord: f64,
}

/// What a slope comes to.
#[derive(Default)]
struct SlopeResult {
    pieces: Vec<Vec<Vertex>>,
    reach: f64,
}

/// A part of the slope that stands over the ground.
struct Over {
    corners: Vec<Vertex>,
    /// By how much, at each corner.
    gaps: Vec<f64>,
}

/// How a try ended.
enum Tried {
    Found(SlopeResult),
    TooShort,
}

impl Slope<'_> {
    /// Tries ever longer slopes: at first twice as long as the greatest height needs on level ground, at last
    /// so long that they end below the lowest ground.
    /// No slope is followed beyond the end of the ground: from one corner of both to the other there is no farther place.
    fn run_out(&self, most: f64) -> Result<SlopeResult, RunOutError> {
        let extent = self.ground.extent();
        let extent = match extent.width().is_finite() {
            true => extent.union(&self.top.surface().extent()),
            false => self.top.surface().extent(),
        };
        let end = match self.ground.extent().width().is_finite() {
            true => 1.1 * libm::hypot(extent.width(), extent.height()) + self.chord,
            false => FARTHEST,
        };
        let mut length = (2.0 * self.side.mean_run() * most + self.chord).min(end);
        loop {
            match self.attempt(length, length >= end)? {
                Tried::Found(found) => return Ok(found),
                Tried::TooShort if length >= end => {
                    return Err(RunOutError::NeverEnds {
                        fill: self.sign > 0.0,
                        tried: length,
                    });
                }
                Tried::TooShort => length = (2.0 * length).min(end),
            }
        }
    }

    fn attempt(&self, length: f64, last: bool) -> Result<Tried, RunOutError> {
        let frame = self.top.surface().frame();
        let precision = frame.precision();
        let rim = Rim::of(self.top, self.sign);
        let planes = patches(&rim, &self.side, length, self.chord);
        let planes = planes.ok_or(RunOutError::TooFine {
            chord: self.chord,
            length,
        })?;
        let slope = envelope(&planes, precision);
        let Ok(slope) = collect(frame, slope) else {
            return Ok(Tried::Found(SlopeResult {
                pieces: Vec::new(),
                reach: 0.0,
            }));
        };
        let slope = Surface::Tin(slope);
        let outline = Outline::of_tin(self.top.surface());
        let top = Zone::of_parts(outline.edges().unwrap_or_default().to_vec(), Vec::new());
        let extent = slope.extent().union(&top.extent());
        let parted = regions(&Zones::new(frame, vec![top]), Some(around(extent)));
        let beside = parted.into_iter().filter(|region| region.zones.is_empty());
        let beside = Zones::new(frame, beside.map(|region| region.ground).collect());
        let over = Overlay::new(&slope, self.ground, Some(&beside))?.fold(&Above {
            sign: self.sign,
            met: precision.worked_out(),
        })?;
        self.joined(over, &rim, length, last)
    }

    /// The parts that hang together with the top, and whether they have met the ground all round.
    fn joined(
        &self,
        over: Vec<Over>,
        rim: &Rim,
        length: f64,
        last: bool,
    ) -> Result<Tried, RunOutError> {
        let tin = self.top.surface();
        let tops = (0..tin.facets().len()).map(|facet| {
            tin.corners(facet)
                .map(|v| Vertex { height: 0.0, ..v })
                .to_vec()
        });
        let first = tin.facets().len();
        let gaps = over.iter().map(|part| {
            let corners = part.corners.iter().zip(&part.gaps);
            corners
                .map(|(&corner, &height)| Vertex { height, ..corner })
                .collect()
        });
        let precision = self.top.surface().frame().precision();
        let mut places = Places::within(precision.length());
        let stitched = stitch(tops.chain(gaps), &mut places);
        let joined = reached(&stitched, first);

        let domain = match Outline::of(self.ground) {
            Outline::Edges(edges) => Some(edges),
            Outline::Endless => None,
        };
        let domain = domain.as_deref().map(|edges| {
            (
                Extent::of(edges.iter().map(|e| e.from)),
                EdgeRows::of(edges),
            )
        });
        let frame = tin.frame();
        let mut reach: f64 = 0.0;
        for &(from, to) in &joined.ends {
            let [a, b] = [from, to].map(|corner| places.at(corner.place));
            reach = reach.max(rim.distance(a));
            if from.height.max(to.height) <= precision.worked_out() {
                continue;
            }
            let middle = Place::new((a.east + b.east) / 2.0, (a.north + b.north) / 2.0);
            let far = rim.distance(middle);
            if far > 0.98 * length && !last {
                return Ok(Tried::TooShort);
            }
            let across = libm::hypot(b.east - a.east, b.north - a.north);
            let step = precision.written() / across;
            let past = Place::new(
                middle.east + (b.north - a.north) * step,
                middle.north - (b.east - a.east) * step,
            );
            if let Some((extent, rows)) = &domain
                && !(extent.holds(&Extent::of([past])) && rows.hold(past))
            {
                return Err(RunOutError::NeverMeets {
                    fill: self.sign > 0.0,
                    at: frame.to_grid(middle),
                    tried: far,
                });
            }
        }
        let upright = |v: Vertex| Vertex {
            height: self.sign * v.height,
            ..v
        };
        let kept = over
            .into_iter()
            .enumerate()
            .filter(|(part, _)| joined.polygons.contains(&(part + first)));
        let pieces = kept.map(|(_, part)| part.corners.into_iter().map(upright).collect());
        Ok(Tried::Found(SlopeResult {
            pieces: pieces.collect(),
            reach,
        }))
    }
}

/// What hangs together.
struct Joined {
    polygons: FxHashSet<usize>,
    /// The sides beyond which there is nothing.
    ends: Vec<(Corner, Corner)>,
}

/// The polygons that hang together by their sides with one of the first ones, those not included.
fn reached(polygons: &[Vec<Corner>], first: usize) -> Joined {
    let mut owners: FxHashMap<(u32, u32), Vec<usize>> = FxHashMap::default();
    for (index, polygon) in polygons.iter().enumerate() {
        for (from, to) in sides(polygon) {
            owners
                .entry((from.place, to.place))
                .or_default()
                .push(index);
        }
    }
    let mut found = Joined {
        polygons: FxHashSet::default(),
        ends: Vec::new(),
    };
    let mut open: Vec<usize> = (0..first).collect();
    while let Some(index) = open.pop() {
        for (from, to) in sides(&polygons[index]) {
            let beyond = owners.get(&(to.place, from.place));
            if beyond.is_none() && index >= first {
                found.ends.push((from, to));
            }
            for &next in beyond.into_iter().flatten() {
                if next >= first && found.polygons.insert(next) {
                    open.push(next);
                }
            }
        }
    }
    found
}

/// The parts of the slope above the ground, in cut all of it turned upside down.
struct Above {
    /// 1 in cut, -1 in fill, where the ground and the slope are turned upside down.
    sign: f64,
    /// No higher over the ground the slope meets it.
    met: f64,
}

impl Fold for Above {
    type Part = Vec<Over>;

    fn part(&self) -> Self::Part {
        Vec::new()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let gap = |at: Place| piece.reference.at(at) - self.sign * piece.surveyed.at(at);
        let (values, _, greatest) = piece.outline.values(gap);
        if greatest <= self.met {
            return;
        }
        let above = piece.outline.part_above(&values, 0.0);
        let corners = above.corners();
        part.push(Over {
            gaps: corners.iter().map(|&at| gap(at)).collect(),
            corners: (corners.iter())
                .map(|&at| Vertex::new(at.east, at.north, piece.reference.at(at)))
                .collect(),
        });
    }

    fn join(&self, part: &mut Self::Part, mut next: Self::Part) {
        part.append(&mut next);
    }
}
