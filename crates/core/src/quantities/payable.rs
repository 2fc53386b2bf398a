//! Work to a limit: what was done within it, beyond it, and what is left to do.

use std::borrow::Cow;

use crate::derived::{Choice, combined};
use crate::overlay::{Overlay, OverlayError, Watch};
use crate::plan::Place;
use crate::quantities::{
    Accuracy, BothSides, DeeperThan, Tolerance, ZoneVolume, depths, volumes, weighed_volumes,
};
use crate::surface::{Level, Outline, Surface};
use crate::zones::{Zone, Zones, regions};

/// Work in one direction, cut or fill, against its limit. Volumes and areas are not below zero.
///
/// What was done within the limit, and what was done beyond it, add up to what was done; what was done within it, and what is left, to what
/// was to be done.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct ToLimit {
    /// Done, up to the limit.
    pub within: PayablePart,
    /// Done beyond the limit, as far as a tolerance reaches.
    pub in_tolerance: f64,
    /// Done beyond the limit in all, with what is within the tolerance.
    pub beyond: PayablePart,
    /// To be done up to the limit.
    pub left: PayablePart,
    /// Where most was done beyond the limit, and how much; none where nothing was.
    pub farthest: Option<(Place, f64)>,
}

/// A volume, and its plan area.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct PayablePart {
    /// The volume.
    pub volume: f64,
    /// The area over which it lies.
    pub area: f64,
}

/// Cut and fill of a zone against a limit surface.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Payable {
    /// Of cut: below the reference, down to the limit.
    pub cut: ToLimit,
    /// Of fill: above the reference, up to the limit.
    pub fill: ToLimit,
    /// The area over which all three surfaces are compared.
    pub compared: f64,
}

/// Cut and fill against a limit, zone by zone, or over everything, on the ground that all three surfaces cover: the reference, the surveyed one,
/// and the limit.
///
/// At each place, with heights `r`, `s` and `l`: cut within the limit is from `r` to the higher of `s` and `l`; beyond it from the lower of `r` and `l` to `s`; left
/// is from the lower of `r` and `s` to `l`, each as far as it is downwards. Fill is the same upside down. So ground that was placed where digging was asked for is beyond the limit of the fill,
/// and leaves the digging still to do.
///
/// # Errors
///
/// When the surfaces cannot be overlaid, or it is stopped by who watches.
///
/// ```
/// use std::ops::ControlFlow;
/// use dapedon_core::plan::Frame;
/// use dapedon_core::quantities::{Tolerance, payable};
/// use dapedon_core::surface::{Grid, Level, Surface};
/// use dapedon_core::units::LengthUnit;
/// // A dig to 8 from ground at 10 over 10 by 10: in one half it went to 9, in the other to 7.5.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let level = |height: f64| Surface::Level(Level::new(frame, height));
/// let dug = |east: f64, height: f64| Grid::new(frame, frame.to_local(east, 0.0), [5.0, 10.0], [2, 2], vec![height; 4]).unwrap();
/// let found = payable([&level(10.0), &Surface::Grid(dug(0.0, 9.0)), &level(8.0)], None, Tolerance::ZERO, &|_| ControlFlow::Continue(())).unwrap();
/// assert!((found[0].cut.within.volume - 50.0).abs() < 1e-9 && (found[0].cut.left.volume - 50.0).abs() < 1e-9);
/// let found = payable([&level(10.0), &Surface::Grid(dug(5.0, 7.5)), &level(8.0)], None, Tolerance::ZERO, &|_| ControlFlow::Continue(())).unwrap();
/// assert!((found[0].cut.within.volume - 100.0).abs() < 1e-9 && (found[0].cut.beyond.volume - 25.0).abs() < 1e-9);
/// ```
pub fn payable(
    [reference, surveyed, limit]: [&Surface; 3],
    zones: Option<&Zones>,
    tolerance: Tolerance,
    watch: Watch<'_>,
) -> Result<Vec<Payable>, OverlayError> {
    let count = zones.map_or(1, |zones| zones.zones().len());
    let mut found = vec![Payable::default(); count];
    let Common { ground, of } = Common::of([reference, surveyed, limit], zones);
    if of.is_empty() {
        return Ok(found);
    }
    let within = Some(&ground);
    let ways = [
        (Way::Cut, Choice::Highest, Choice::Lowest),
        (Way::Fill, Choice::Lowest, Choice::Highest),
    ];
    for (way, nearer, farther) in ways {
        let done = chosen(surveyed, limit, nearer)?;
        let to_limit = chosen(reference, limit, farther)?;
        let still = chosen(reference, surveyed, farther)?;
        let [done, left] = [(reference, &*done), (&*still, limit)]
            .map(|(from, to)| between(from, to, within, watch));
        let (done, left) = (done?, left?);
        let overlay = Overlay::new(&to_limit, surveyed, within)?.watched(watch);
        let beyond = all(volumes(&overlay, &[Tolerance::ZERO])?);
        let deeper = depths(&overlay, &[tolerance.value()])?;
        for (piece, &zone) in of.iter().enumerate() {
            let Some(own) = found.get_mut(zone) else {
                continue;
            };
            let part = |all: &[ZoneVolume]| {
                all.get(piece)
                    .map(|zone| way.part(zone))
                    .unwrap_or_default()
            };
            let past = deeper.get(piece).and_then(|depths| depths.first());
            let past = past.map_or(0.0, |own| way.past(own));
            let differences = beyond.get(piece).and_then(|zone| zone.difference);
            let farthest = differences.map(|all| match way {
                Way::Cut => (all.min.at, -all.min.difference),
                Way::Fill => (all.max.at, all.max.difference),
            });
            let beyond = part(&beyond);
            let sums = match way {
                Way::Cut => &mut own.cut,
                Way::Fill => &mut own.fill,
            };
            sums.within.add(part(&done));
            sums.beyond.add(beyond);
            sums.left.add(part(&left));
            sums.in_tolerance += (beyond.volume - past).max(0.0);
            let farther = farthest.filter(|(_, off)| {
                beyond.volume > 0.0 && sums.farthest.is_none_or(|(_, most)| *off > most)
            });
            sums.farthest = farther.or(sums.farthest);
            if let Way::Cut = way {
                own.compared += done.get(piece).map_or(0.0, |zone| zone.area.compared);
            }
        }
    }
    Ok(found)
}

/// How uncertain what is within the limit is, for the sum of each of some groups of zones: of cut, and of fill. `accuracies` are those of the
/// reference and of the surveyed surface; the limit counts as exact, but for points that stand where the surveyed surface passes it.
///
/// # Errors
///
/// As for [`payable`].
pub fn payable_uncertainty(
    [reference, surveyed, limit]: [&Surface; 3],
    zones: Option<&Zones>,
    accuracies: [Accuracy; 2],
    groups: &[Vec<usize>],
) -> Result<Vec<[BothSides; 2]>, OverlayError> {
    let mut found = vec![[BothSides::default(); 2]; groups.len()];
    let Common { ground, of } = Common::of([reference, surveyed, limit], zones);
    if of.is_empty() {
        return Ok(found);
    }
    for (kind, choice) in [Choice::Highest, Choice::Lowest].into_iter().enumerate() {
        let done = chosen(surveyed, limit, choice)?;
        let overlay = Overlay::new(reference, &done, Some(&ground))?;
        let weighed = weighed_volumes(&overlay, Tolerance::ZERO, [reference, &done], accuracies)?;
        for (found, group) in found.iter_mut().zip(groups) {
            let pieces = of
                .iter()
                .enumerate()
                .filter(|(_, zone)| group.contains(zone));
            let pieces: Vec<usize> = pieces.map(|(piece, _)| piece).collect();
            let own = weighed.uncertainty(&pieces);
            found[kind] = if kind == 0 { own.cut } else { own.fill };
        }
    }
    Ok(found)
}

/// The ground that all of some surfaces cover, piece by piece, and the zone that each piece belongs to.
struct Common {
    ground: Zones,
    of: Vec<usize>,
}

impl Common {
    fn of(surfaces: [&Surface; 3], zones: Option<&Zones>) -> Self {
        let frame = surfaces[0].frame();
        let outlines = surfaces
            .map(Outline::of)
            .into_iter()
            .filter_map(|outline| match outline {
                Outline::Edges(edges) => Some(Zone::of_parts(edges, Vec::new())),
                Outline::Endless => None,
            });
        let mut all: Vec<Zone> = outlines.collect();
        let covers = all.len();
        all.extend(zones.map_or(&[][..], Zones::zones).iter().cloned());
        let (mut ground, mut of) = (Vec::new(), Vec::new());
        for region in regions(&Zones::new(frame, all), None) {
            let held: Vec<usize> = region.zones.iter().map(|&zone| zone as usize).collect();
            if held.iter().filter(|&&zone| zone < covers).count() < covers {
                continue;
            }
            let named = held
                .iter()
                .filter(|&&zone| zone >= covers)
                .map(|zone| zone - covers);
            let named: Vec<usize> = match zones {
                Some(_) => named.collect(),
                None => vec![0],
            };
            for zone in named {
                ground.push(region.ground.clone());
                of.push(zone);
            }
        }
        Common {
            ground: Zones::new(frame, ground),
            of,
        }
    }
}

/// One surface of two; of two levels a level.
fn chosen<'s>(
    one: &'s Surface,
    other: &'s Surface,
    choice: Choice,
) -> Result<Cow<'s, Surface>, OverlayError> {
    let (Surface::Level(a), Surface::Level(b)) = (one, other) else {
        return combined(one, other, choice).map(Cow::Owned);
    };
    let height = match choice {
        Choice::Highest => a.height().max(b.height()),
        Choice::Lowest | Choice::Other => a.height().min(b.height()),
    };
    Ok(Cow::Owned(Surface::Level(Level::new(one.frame(), height))))
}

fn between(
    from: &Surface,
    to: &Surface,
    zones: Option<&Zones>,
    watch: Watch<'_>,
) -> Result<Vec<ZoneVolume>, OverlayError> {
    let overlay = Overlay::new(from, to, zones)?.watched(watch);
    Ok(all(volumes(&overlay, &[Tolerance::ZERO])?))
}

/// What was measured with one tolerance.
fn all(found: Vec<Vec<ZoneVolume>>) -> Vec<ZoneVolume> {
    found.into_iter().next().unwrap_or_default()
}

#[derive(Clone, Copy)]
enum Way {
    Cut,
    Fill,
}

impl PayablePart {
    fn add(&mut self, other: PayablePart) {
        self.volume += other.volume;
        self.area += other.area;
    }
}

impl Way {
    /// What is deeper, or higher.
    fn past(self, own: &DeeperThan) -> f64 {
        match self {
            Way::Cut => own.cut,
            Way::Fill => own.fill,
        }
    }

    fn part(self, zone: &ZoneVolume) -> PayablePart {
        match self {
            Way::Cut => PayablePart {
                volume: zone.volume.cut,
                area: zone.area.cut,
            },
            Way::Fill => PayablePart {
                volume: zone.volume.fill,
                area: zone.area.fill,
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::points::{PickUp, Rules, triangulate};
    use crate::quantities::chance::Chance;
    use crate::quantities::volume;
    use crate::surface::{HeightAt, Vertex};
    use crate::units::LengthUnit;
    use proptest::prelude::*;
    use std::ops::ControlFlow;

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, [500_000.0, 6_000_000.0])
    }

    /// Random points over a square, triangulated.
    fn surface(seed: u64, [west, east]: [f64; 2], height: impl Fn(f64, f64) -> f64) -> Surface {
        let mut chance = Chance(seed);
        let corners = [(west, 0.0), (east, 0.0), (east, 20.0), (west, 20.0)];
        let inner = (0..60).map(|_| (west + (east - west) * chance.even(), 20.0 * chance.even()));
        let places: Vec<(f64, f64)> = corners.into_iter().chain(inner).collect();
        let points = places
            .into_iter()
            .map(|(e, n)| Vertex::new(500_000.0 + e, 6_000_000.0 + n, height(e, n)));
        let pick_up = PickUp::from(points.collect::<Vec<_>>());
        Surface::Tin(
            triangulate(frame(), &pick_up, &Rules::default())
                .unwrap()
                .tin,
        )
    }

    fn sides(seed: u64) -> [Surface; 3] {
        [
            surface(seed, [0.0, 20.0], |e, n| 10.0 + 0.05 * e - 0.03 * n),
            surface(seed + 1, [0.0, 20.0], |e, n| {
                9.6 + (e / 4.0).sin() + 0.4 * (n / 3.0).cos()
            }),
            surface(seed + 2, [0.0, 20.0], |e, n| {
                9.5 + 0.8 * (e / 5.0).cos() + 0.02 * n
            }),
        ]
    }

    fn found(sides: [&Surface; 3], zones: Option<&Zones>, tolerance: f64) -> Vec<Payable> {
        let tolerance = Tolerance::new(tolerance).unwrap();
        payable(sides, zones, tolerance, &|_| ControlFlow::Continue(())).unwrap()
    }

    fn zones(rings: &[[f64; 2]]) -> Zones {
        let zone = |&[west, east]: &[f64; 2]| {
            let ring = [
                (west, 2.0),
                (east, 2.0),
                (east, 17.0),
                (west, 17.0),
                (west, 2.0),
            ];
            let ring = ring
                .map(|(e, n)| Place::new(500_000.0 + e, 6_000_000.0 + n))
                .to_vec();
            Zone::new("z", frame(), vec![vec![ring]]).unwrap()
        };
        Zones::new(frame(), rings.iter().map(zone).collect())
    }

    /// What is done and what is asked for, by the volumes between two surfaces alone.
    fn cut_and_fill(from: &Surface, to: &Surface, zones: Option<&Zones>) -> [f64; 2] {
        let all = volume(from, to, zones, Tolerance::ZERO).unwrap();
        let sum = |of: fn(&ZoneVolume) -> f64| all.iter().map(of).sum::<f64>();
        [sum(|zone| zone.volume.cut), sum(|zone| zone.volume.fill)]
    }

    /// Products of lengths of tens, split at crossings that are told to a tenth of a micrometre: over 400 m² some 1e-5 m³.
    const NEAR: f64 = 2e-5;

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// What is within the limit and what is beyond add up to what was done, and with what is left to what was asked for, each found without
        /// the third surface. Upside down cut is fill. In zones it adds up.
        #[test]
        fn the_parts_add_up_to_what_was_done_and_what_was_asked_for(seed in 0u64..10_000, split in 3.0..17.0f64) {
            let sides = sides(seed);
            let [reference, surveyed, limit] = &sides;
            let whole = found([reference, surveyed, limit], None, 0.0)[0];
            let done = cut_and_fill(reference, surveyed, None);
            let asked = cut_and_fill(reference, limit, None);
            for (own, (done, asked)) in [whole.cut, whole.fill].iter().zip(done.into_iter().zip(asked)) {
                prop_assert!((own.within.volume + own.beyond.volume - done).abs() < NEAR, "{own:?} {done}");
                prop_assert!((own.within.volume + own.left.volume - asked).abs() < NEAR, "{own:?} {asked}");
                prop_assert!(own.in_tolerance == 0.0 || own.in_tolerance < NEAR);
            }
            prop_assert!((whole.compared - 400.0).abs() < 1e-6);
            let turned = sides.each_ref().map(|side| {
                let Surface::Tin(tin) = side else { unreachable!() };
                let vertices = tin.vertices().iter().map(|v| {
                    let at = frame().to_grid(v.place());
                    Vertex::new(at.east, at.north, -v.height)
                });
                Surface::Tin(crate::surface::Tin::from_facets(frame(), vertices.collect(), tin.facets().to_vec()).unwrap())
            });
            let turned = found(turned.each_ref(), None, 0.0)[0];
            for (one, other) in [(turned.cut, whole.fill), (turned.fill, whole.cut)] {
                prop_assert!((one.within.volume - other.within.volume).abs() < NEAR);
                prop_assert!((one.beyond.volume - other.beyond.volume).abs() < NEAR);
                prop_assert!((one.left.volume - other.left.volume).abs() < NEAR);
            }
            let parted = zones(&[[1.0, split], [split, 19.0]]);
            let parted = found([reference, surveyed, limit], Some(&parted), 0.05);
            let together = found([reference, surveyed, limit], Some(&zones(&[[1.0, 19.0]])), 0.05)[0];
            for of in [|own: &Payable| own.cut, |own: &Payable| own.fill] {
                let sum = |part: fn(&ToLimit) -> f64| part(&of(&parted[0])) + part(&of(&parted[1]));
                prop_assert!((sum(|own| own.within.volume) - of(&together).within.volume).abs() < NEAR);
                prop_assert!((sum(|own| own.beyond.volume) - of(&together).beyond.volume).abs() < NEAR);
                prop_assert!((sum(|own| own.left.volume) - of(&together).left.volume).abs() < NEAR);
                prop_assert!((sum(|own| own.in_tolerance) - of(&together).in_tolerance).abs() < NEAR);
            }
        }

        /// Place by place, on a fine grid, as anyone would by hand.
        #[test]
        fn single_places_add_up_to_it(seed in 0u64..10_000) {
            let sides = sides(seed);
            let own = found(sides.each_ref(), None, 0.1)[0];
            let indexes = sides.each_ref().map(crate::surface::FacetIndex::of);
            let steps = 160;
            let (mut within, mut beyond, mut left, mut close) = (0.0, 0.0, 0.0, 0.0);
            let each = (20.0 / f64::from(steps)).powi(2);
            for row in 0..steps {
                for column in 0..steps {
                    let at = |step: i32| (f64::from(step) + 0.5) * 20.0 / f64::from(steps);
                    let place = frame().to_local(500_000.0 + at(column), 6_000_000.0 + at(row));
                    let [r, s, l] = indexes.each_ref().map(|index| match index.at(place) {
                        HeightAt::One { height, .. } => height,
                        other => panic!("{other:?}"),
                    });
                    within += (r - s.max(l)).max(0.0) * each;
                    let past = (r.min(l) - s).max(0.0);
                    beyond += past * each;
                    close += past.min(0.1) * each;
                    left += (r.min(s) - l).max(0.0) * each;
                }
            }
            // A grid of 12 cm on ground that bends at its triangles: within a few thousandths of some hundred m³.
            for (found, expected) in [(own.cut.within.volume, within), (own.cut.beyond.volume, beyond), (own.cut.left.volume, left), (own.cut.in_tolerance, close)] {
                prop_assert!((found - expected).abs() < 0.6, "{found} {expected}");
            }
        }
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(24))]

        /// With a later survey as the limit of an earlier one: what lies beyond was done and undone again, and by it cut and fill between the surveys
        /// exceed what both grow by to date.
        #[test]
        fn a_later_survey_as_the_limit_finds_what_was_undone(seed in 0u64..10_000, split in 3.0..17.0f64) {
            let [reference, earlier, later] = sides(seed);
            let parted = zones(&[[1.0, split], [split, 19.0]]);
            let all = found([&reference, &earlier, &later], Some(&parted), 0.0);
            let between = |from: &Surface, to: &Surface| volume(from, to, Some(&parted), Tolerance::ZERO).unwrap();
            let (before, after, period) = (between(&reference, &earlier), between(&reference, &later), between(&earlier, &later));
            for (zone, own) in all.iter().enumerate() {
                let undone = own.cut.beyond.volume + own.fill.beyond.volume;
                let of = |all: &[ZoneVolume]| all[zone].volume;
                let [was, is, between] = [of(&before), of(&after), of(&period)];
                prop_assert!((between.cut - (is.cut - was.cut) - undone).abs() < NEAR, "{own:?}");
                prop_assert!((between.fill - (is.fill - was.fill) - undone).abs() < NEAR, "{own:?}");
                // What is new is what is left from the earlier survey to the later.
                prop_assert!((own.cut.left.volume + own.fill.beyond.volume - between.cut).abs() < NEAR);
            }
        }
    }

    #[test]
    fn ground_that_is_placed_where_digging_was_asked_for_is_beyond_and_leaves_the_digging() {
        let flat = |height: f64| surface(5, [0.0, 20.0], move |_, _| height);
        let own = found([&flat(10.0), &flat(10.5), &flat(9.0)], None, 0.2)[0];
        assert!((own.fill.beyond.volume - 200.0).abs() < NEAR);
        assert!((own.fill.in_tolerance - 80.0).abs() < NEAR);
        assert!((own.cut.left.volume - 400.0).abs() < NEAR);
        assert_eq!(
            (
                own.cut.within.volume,
                own.cut.beyond.volume,
                own.fill.within.volume
            ),
            (0.0, 0.0, 0.0)
        );
        assert!((own.fill.farthest.unwrap().1 - 0.5).abs() < 1e-9);
        assert_eq!(own.cut.farthest, None);
    }

    /// A common error of the survey counts over the ground where it is within the limit, and nowhere else.
    #[test]
    fn only_what_is_within_the_limit_is_uncertain() {
        let ground = surface(1, [0.0, 20.0], |_, _| 10.0);
        // Dug to 9 in the west, and to 8 in the east, where the limit is 8.5.
        let dug = surface(2, [0.0, 20.0], |e, _| if e < 10.0 { 9.0 } else { 8.0 });
        let limit = Surface::Level(Level::new(frame(), 8.5));
        let survey = Accuracy {
            common_height: 0.01,
            ..Accuracy::EXACT
        };
        let own = payable_uncertainty(
            [&ground, &dug, &limit],
            None,
            [Accuracy::EXACT, survey],
            &[vec![0]],
        )
        .unwrap();
        let [cut, fill] = own[0].map(|own| own.standard());
        // The limit's own ground counts as the survey's where it is higher: on the careful side, all of it.
        assert!((cut - 4.0).abs() < 1e-6 && fill == 0.0, "{cut} {fill}");
    }

    /// Only ground that all three cover counts: no limit, no payment.
    #[test]
    fn where_there_is_no_limit_nothing_counts() {
        let ground = surface(1, [0.0, 20.0], |_, _| 10.0);
        let dug = surface(2, [0.0, 14.0], |_, _| 8.5);
        let limit = surface(3, [5.0, 20.0], |_, _| 9.0);
        let own = found([&ground, &dug, &limit], None, 0.0)[0];
        assert!((own.compared - 9.0 * 20.0).abs() < 1e-6, "{own:?}");
        assert!(
            (own.cut.within.volume - 180.0).abs() < NEAR
                && (own.cut.beyond.volume - 90.0).abs() < NEAR
        );
        let level = Surface::Level(Level::new(frame(), 9.0));
        let own = found([&ground, &dug, &level], None, 0.0)[0];
        assert!((own.cut.within.volume - 280.0).abs() < NEAR);
        let above = Surface::Level(Level::new(frame(), 10.0));
        let own = found(
            [&above, &dug, &level],
            Some(&zones(&[[1.0, 30.0], [15.0, 19.0]])),
            0.0,
        );
        assert!((own[0].cut.within.volume - 13.0 * 15.0).abs() < NEAR);
        assert_eq!(own[1], Payable::default());
    }
}
