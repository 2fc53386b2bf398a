//! The ground of each facet that counts in a volume, gathered in one walk over the overlay.

use crate::overlay::{Fold, Piece};
use crate::plan::clip::{Polygon, Values};
use crate::plan::{Place, Precision, cross};
use crate::surface::Plane;

/// What ground counts as.
pub(super) const CUT: u32 = 0;
pub(super) const FILL: u32 = 1;

/// The ground of a facet that counts in a zone as cut or as fill.
#[derive(Debug, Clone, Copy)]
pub(super) struct Entry {
    pub(super) facet: u32,
    /// The zone, and whether it is fill.
    zone_and_kind: u32,
    pub(super) moments: Moments,
}

impl Entry {
    /// Of the only zone.
    pub(super) fn new(facet: u32, kind: u32, moments: Moments) -> Self {
        Entry {
            facet,
            zone_and_kind: kind,
            moments,
        }
    }

    fn zone(&self) -> usize {
        (self.zone_and_kind >> 1) as usize
    }

    pub(super) fn kind(&self) -> usize {
        (self.zone_and_kind & 1) as usize
    }
}

/// Gathers, facet by facet, the ground that counts as cut and as fill.
pub(super) struct WeightFold {
    tolerance: f64,
    /// Differences up to this are none.
    still: f64,
}

/// Facets of a block that are told apart without a search.
const KNOWN: usize = 1 << 12;
/// Zones of one facet are so far from each other there.
const APART: usize = 998;

/// What one side has gathered: of a facet in a zone now and then more than one entry.
#[derive(Default)]
pub(super) struct Gathered {
    entries: Vec<Entry>,
    /// What came after it, in order; not copied together, of which there is much.
    more: Vec<Vec<Entry>>,
    /// Where the last entry of a facet is, by the lower digits of its number.
    last: Vec<u32>,
}

impl Gathered {
    #[inline]
    pub(super) fn add(&mut self, facet: u32, zone_and_kind: u32, moments: Moments) {
        if self.last.is_empty() {
            self.last = vec![u32::MAX; KNOWN];
        }
        // Cut and fill of a facet stand apart, and so do its zones.
        let apart = (zone_and_kind >> 1) as usize * APART + (zone_and_kind & 1) as usize;
        let slot = (facet as usize * 2 + apart) % KNOWN;
        let Some(last) = self.last.get_mut(slot) else {
            return;
        };
        match self.entries.get_mut(*last as usize) {
            Some(entry) if entry.facet == facet && entry.zone_and_kind == zone_and_kind => {
                entry.moments.add(moments);
            }
            _ => {
                *last = self.entries.len() as u32;
                self.entries.push(Entry {
                    facet,
                    zone_and_kind,
                    moments,
                });
            }
        }
    }
}

/// The area of some ground, and its moments in east and in north: with them any function that is linear on it is
/// integrated. A line that counts has them too.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Moments([f64; 3]);

impl Moments {
    /// The area.
    pub(super) fn area(&self) -> f64 {
        self.0[0]
    }

    /// Of a weight at a place.
    pub(super) fn at(weight: f64, place: Place) -> Self {
        Moments([weight, weight * place.east, weight * place.north])
    }

    #[inline]
    pub(super) fn of(polygon: &Polygon) -> Self {
        let [first, rest @ ..] = polygon.corners() else {
            return Moments::default();
        };
        let (mut twice, mut east, mut north) = (0.0, 0.0, 0.0);
        for pair in rest.windows(2) {
            let &[a, b] = pair else { continue };
            let own = cross(*first, a, b);
            twice += own;
            east += own * ((a.east - first.east) + (b.east - first.east));
            north += own * ((a.north - first.north) + (b.north - first.north));
        }
        let area = twice / 2.0;
        Moments([
            area,
            area * first.east + east / 6.0,
            area * first.north + north / 6.0,
        ])
    }

    fn less(mut self, other: Moments) -> Self {
        for (own, less) in self.0.iter_mut().zip(other.0) {
            *own -= less;
        }
        self
    }

    pub(super) fn times(self, factor: f64) -> Self {
        Moments(self.0.map(|own| own * factor))
    }

    #[inline]
    pub(super) fn add(&mut self, other: Moments) {
        for (sum, more) in self.0.iter_mut().zip(other.0) {
            *sum += more;
        }
    }

    /// The integral of what is one at each corner of a facet in turn, and nothing at its others.
    #[inline]
    pub(super) fn at_corners(&self, [a, b, c]: [Place; 3]) -> [f64; 3] {
        let Moments([area, east, north]) = *self;
        // The cross product of an edge with the way from its start to a place, integrated over all places.
        let beside = |from: Place, to: Place| {
            (to.east - from.east) * (north - area * from.north)
                - (to.north - from.north) * (east - area * from.east)
        };
        let whole = cross(a, b, c).recip();
        let [first, second] = [beside(b, c) * whole, beside(c, a) * whole];
        [first, second, area - first - second]
    }
}

impl WeightFold {
    pub(super) fn new(tolerance: f64, precision: Precision) -> Self {
        WeightFold {
            tolerance,
            still: precision.length().max(tolerance),
        }
    }

    /// What counts of a piece on which the difference passes the tolerance: as cut, and as fill.
    #[cold]
    fn parted(
        &self,
        outline: &Polygon,
        values: &Values,
        [least, greatest]: [f64; 2],
        planes: [Plane; 2],
    ) -> [Moments; 2] {
        let above = |values: &Values, greatest: f64| {
            if greatest <= self.still {
                return Moments::default();
            }
            let mut moments = Moments::of(&outline.part_above(values, self.tolerance));
            if self.tolerance > 0.0 {
                self.edge(outline, values, planes, &mut moments);
            }
            moments
        };
        let fill = above(values, greatest);
        let cut = match self.tolerance {
            // What does not rise falls.
            0.0 => Moments::of(outline).less(fill),
            _ => above(&values.map(|value| -value), -least),
        };
        [cut, fill]
    }

    /// Where the ground rises past the tolerance more of it counts, at once with the whole tolerance: along that line a rise of the ground adds the
    /// tolerance for each unit of its length over the slope of the difference.
    fn edge(&self, outline: &Polygon, values: &Values, planes: [Plane; 2], into: &mut Moments) {
        let corners = outline.corners();
        let mut ends: [Option<Place>; 2] = [None, None];
        for (index, &corner) in corners.iter().enumerate() {
            let before = if index == 0 {
                corners.len() - 1
            } else {
                index - 1
            };
            let (Some(&previous), Some(&from), Some(&to)) =
                (corners.get(before), values.get(before), values.get(index))
            else {
                continue;
            };
            let (from, to) = (from - self.tolerance, to - self.tolerance);
            if (from < 0.0) == (to < 0.0) {
                continue;
            }
            let share = from / (from - to);
            let at = Place::new(
                previous.east + share * (corner.east - previous.east),
                previous.north + share * (corner.north - previous.north),
            );
            let free = ends.iter_mut().find(|end| end.is_none());
            if let Some(free) = free {
                *free = Some(at);
            }
        }
        if let [Some(a), Some(b)] = ends {
            let [[e, n], [f, m]] = planes.map(|plane| [plane.slope_east, plane.slope_north]);
            let slope = libm::hypot(e - f, n - m);
            let length = libm::hypot(b.east - a.east, b.north - a.north);
            let middle = Place::new((a.east + b.east) / 2.0, (a.north + b.north) / 2.0);
            into.add(Moments::at(self.tolerance * length / slope, middle));
        }
    }
}

impl Fold for WeightFold {
    type Part = [Gathered; 2];

    fn part(&self) -> Self::Part {
        Self::Part::default()
    }

    #[inline(always)]
    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        let outline = piece.outline;
        let difference = |p: Place| piece.surveyed.at(p) - piece.reference.at(p);
        let (values, least, greatest) = outline.values(difference);
        let mut add = |kind: u32, moments: Moments| {
            for (gathered, facet) in part.iter_mut().zip(piece.facets) {
                for &zone in piece.zones {
                    gathered.add(facet, zone << 1 | kind, moments);
                }
            }
        };
        // As volumes are measured.
        if least >= self.tolerance && greatest > self.still {
            add(FILL, Moments::of(outline));
        } else if greatest <= -self.tolerance && least < -self.still {
            add(CUT, Moments::of(outline));
        } else if least < -self.still || greatest > self.still {
            let planes = [piece.reference, piece.surveyed];
            let [cut, fill] = self.parted(outline, &values, [least, greatest], planes);
            add(CUT, cut);
            add(FILL, fill);
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        WeightFold::joined(part, next);
    }
}

impl WeightFold {
    /// Puts what was gathered later behind what was gathered before it.
    pub(super) fn joined(part: &mut [Gathered; 2], next: [Gathered; 2]) {
        for (own, next) in part.iter_mut().zip(next) {
            own.more.push(next.entries);
            own.more.extend(next.more);
        }
    }

    /// What was gathered by both sides, for so many zones.
    pub(super) fn entries(gathered: [Gathered; 2], zones: usize) -> [Entries; 2] {
        gathered.map(|side| {
            let all = std::iter::once(side.entries).chain(side.more);
            if zones == 1 {
                return Entries::OfOneZone(all.collect());
            }
            let mut entries: Vec<Entry> = all.flatten().collect();
            entries.sort_by_key(Entry::zone);
            Entries::ByZone(entries)
        })
    }
}

/// What counts of the facets of one side.
#[derive(Debug, Clone)]
pub(super) enum Entries {
    /// Zone after zone.
    ByZone(Vec<Entry>),
    /// All of one zone, in the pieces in which they were gathered.
    OfOneZone(Vec<Vec<Entry>>),
}

impl Entries {
    /// What counts in some zones.
    pub(super) fn of<'e>(&'e self, zones: &[usize]) -> Vec<&'e [Entry]> {
        match self {
            Entries::OfOneZone(all) if zones.contains(&0) => {
                all.iter().map(Vec::as_slice).collect()
            }
            Entries::OfOneZone(_) => Vec::new(),
            Entries::ByZone(all) => {
                let of = |zone: &usize| {
                    let from = all.partition_point(|entry| entry.zone() < *zone);
                    let to = all.partition_point(|entry| entry.zone() <= *zone);
                    all.get(from..to).unwrap_or_default()
                };
                zones.iter().map(of).collect()
            }
        }
    }
}
