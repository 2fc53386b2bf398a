//! Mass haul: what is cut along a line carried to where it is filled.

use crate::plan::Sum;

/// What is cut and filled over a stretch of a line, both in the state in which they are balanced.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HaulStretch {
    /// From which distance along the line to which.
    pub between: [f64; 2],
    /// What the cut makes.
    pub cut: f64,
    /// What the fill needs.
    pub fill: f64,
}

/// Earth that is carried along the line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Haul {
    /// The distances that it is taken from.
    pub from: [f64; 2],
    /// The distances that it is taken to.
    pub to: [f64; 2],
    /// How much.
    pub volume: f64,
    /// Volume times distance.
    pub moment: f64,
    /// The part of that which lies beyond the free-haul distance.
    pub beyond: f64,
}

/// A loop of the diagram: all that is carried one way between two places where nothing crosses the line.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HaulLoop {
    /// From which distance to which.
    pub between: [f64; 2],
    /// True where earth is carried ahead, along the line; false where it is carried back.
    pub is_ahead: bool,
    /// How much is carried.
    pub volume: f64,
    /// Volume times distance.
    pub moment: f64,
    /// The part of that which lies beyond the free-haul distance.
    pub beyond: f64,
}

/// The mass-haul diagram of a line, and the haul that it means.
#[derive(Debug, Clone, PartialEq)]
pub struct MassHaul {
    /// The running sum of cut less fill: distances and sums; a corner twice where earth enters or leaves the line.
    pub ordinates: Vec<[f64; 2]>,
    /// Where nothing is carried across: the diagram passes its line of balance.
    pub balance_points: Vec<f64>,
    /// The loops between them.
    pub loops: Vec<HaulLoop>,
    /// Each haul, stretch by stretch.
    pub hauls: Vec<Haul>,
    /// What is cut and filled in the same stretch, and is carried nowhere.
    pub in_place: f64,
    /// What is left over in all; a shortfall where negative.
    pub surplus: f64,
    /// Where that leaves or enters the line.
    pub access: f64,
}

/// What passes a place per unit of distance, over a stretch: positive where earth is taken up.
#[derive(Debug, Clone, Copy)]
struct Flow {
    between: [f64; 2],
    amount: f64,
}

/// The haul along a line of stretches that follow each other: what is left of cut is carried to the nearest fill, so that volume times
/// distance is least. A surplus leaves, and a shortfall enters, at `access`; without one, where the haul is least.
///
/// The area between the diagram and its line of balance is the haul, and no other way of carrying earth makes less of it: what crosses
/// a place of the line is just what is left over before it.
///
/// ```
/// use dapedon_core::quantities::{HaulStretch, mass_haul};
/// let stretch = |between, cut, fill| HaulStretch { between, cut, fill };
/// // A cut of 100 over the first 10 m, a fill of as much over the last 10 of 30.
/// let line = [stretch([0.0, 10.0], 100.0, 0.0), stretch([10.0, 20.0], 0.0, 0.0), stretch([20.0, 30.0], 0.0, 100.0)];
/// let found = mass_haul(&line, 5.0, None).unwrap();
/// let whole = found.loops[0];
/// assert_eq!((whole.volume, whole.moment, whole.is_ahead), (100.0, 2000.0, true));
/// assert_eq!(whole.beyond, 1500.0);
/// ```
pub fn mass_haul(
    stretches: &[HaulStretch],
    free_haul: f64,
    access: Option<f64>,
) -> Option<MassHaul> {
    let (first, last) = (stretches.first()?, stretches.last()?);
    let filled = without_gaps(stretches);
    let stretches = &*filled;
    let mut surplus = Sum::default();
    for stretch in stretches {
        surplus += stretch.cut - stretch.fill;
    }
    let surplus = surplus.value();
    let all: f64 = stretches.iter().map(|own| own.cut + own.fill).sum();
    let least = 1e-12 * all;
    let ends = [first.between[0], last.between[1]];
    let access = match access {
        Some(access) => access.clamp(ends[0], ends[1]),
        None => best_access(stretches, surplus),
    };
    let flows = flows(stretches, surplus, access);
    let mut ordinates = vec![[ends[0], 0.0]];
    let mut running = Sum::default();
    for flow in &flows {
        running += flow.amount;
        ordinates.push([flow.between[1], running.value()]);
    }
    let hauls = carried(&flows, free_haul, least);
    let loops = loops(&ordinates, &hauls, least);
    let mut balance_points: Vec<f64> = loops.iter().flat_map(|own| own.between).collect();
    balance_points.dedup();
    Some(MassHaul {
        in_place: stretches.iter().map(|own| own.cut.min(own.fill)).sum(),
        ordinates,
        balance_points,
        loops,
        hauls,
        surplus,
        access,
    })
}

/// The same stretches, with empty ones where two do not meet.
fn without_gaps(stretches: &[HaulStretch]) -> Vec<HaulStretch> {
    let mut filled: Vec<HaulStretch> = Vec::new();
    for stretch in stretches {
        let reached = filled
            .last()
            .map_or(stretch.between[0], |last| last.between[1]);
        if stretch.between[0] > reached {
            filled.push(HaulStretch {
                between: [reached, stretch.between[0]],
                cut: 0.0,
                fill: 0.0,
            });
        }
        filled.push(*stretch);
    }
    filled
}

/// What is left over stretch by stretch, and at the access what makes it even.
fn flows(stretches: &[HaulStretch], surplus: f64, access: f64) -> Vec<Flow> {
    let mut flows = Vec::new();
    let out = Flow {
        between: [access; 2],
        amount: -surplus,
    };
    let mut is_open = true;
    for stretch in stretches {
        let [from, to] = stretch.between;
        let amount = stretch.cut - stretch.fill;
        if is_open && access < to {
            is_open = false;
            // Within a stretch it is parted there.
            let share = ((access - from) / (to - from)).clamp(0.0, 1.0);
            flows.push(Flow {
                between: [from, access.max(from)],
                amount: amount * share,
            });
            flows.push(out);
            flows.push(Flow {
                between: [access.max(from), to],
                amount: amount * (1.0 - share),
            });
        } else {
            flows.push(Flow {
                between: [from, to],
                amount,
            });
        }
    }
    if is_open {
        flows.push(out);
    }
    flows
}

/// The place where a surplus leaves, or a shortfall enters, with the least haul: one of the ends of stretches.
fn best_access(stretches: &[HaulStretch], surplus: f64) -> f64 {
    let ends = stretches.iter().flat_map(|stretch| stretch.between);
    // Up to the access the running sum counts, and behind it less the surplus: the haul of both, for all places in one pass.
    let mut before = vec![0.0];
    let mut after = vec![0.0];
    let mut running = 0.0;
    for stretch in stretches {
        let [from, to] = stretch.between;
        let next = running + stretch.cut - stretch.fill;
        let area = |a: f64, b: f64| {
            let width = to - from;
            match a * b < 0.0 {
                true => width * (a * a + b * b) / (2.0 * (a - b).abs()),
                false => width * (a + b).abs() / 2.0,
            }
        };
        before.push(before[before.len() - 1] + area(running, next));
        after.push(after[after.len() - 1] + area(running - surplus, next - surplus));
        running = next;
    }
    let whole = after[after.len() - 1];
    let haul = |index: usize| before[index] + whole - after[index];
    let mut places: Vec<f64> = ends.collect();
    places.dedup();
    let mut best = 0;
    for index in 1..before.len() {
        if haul(index) < haul(best) * (1.0 - 1e-12) {
            best = index;
        }
    }
    places.get(best).copied().unwrap_or_default()
}

/// Earth taken up or wanted, and not carried yet.
#[derive(Debug, Clone, Copy)]
struct Open {
    between: [f64; 2],
    amount: f64,
}

impl Open {
    /// Takes an amount off its end: what lies nearest.
    fn take(&mut self, amount: f64) -> [f64; 2] {
        let [from, to] = self.between;
        let at = to - (to - from) * (amount / self.amount).min(1.0);
        self.amount -= amount;
        self.between[1] = at;
        [at, to]
    }
}

/// Carries earth from where it is left over to where it is wanted, the last to the first: no two ways cross.
fn carried(flows: &[Flow], free_haul: f64, least: f64) -> Vec<Haul> {
    let mut hauls = Vec::new();
    // What is open is all of one kind: cut that is carried ahead, or fill that waits for what comes back.
    let mut open: Vec<Open> = Vec::new();
    let mut is_cut = true;
    for flow in flows {
        let mut left = Flow {
            amount: flow.amount.abs(),
            ..*flow
        };
        let cut = flow.amount > 0.0;
        while left.amount > least {
            let Some(last) = open.last_mut().filter(|_| is_cut != cut) else {
                is_cut = cut;
                open.push(Open {
                    between: left.between,
                    amount: left.amount,
                });
                break;
            };
            let amount = last.amount.min(left.amount);
            let own = last.take(amount);
            // From the front of this stretch: the nearest first.
            let [from, to] = left.between;
            let at = from + (to - from) * (amount / left.amount).min(1.0);
            let here = [from, at];
            left.between[0] = at;
            left.amount -= amount;
            if last.amount <= least {
                open.pop();
            }
            hauls.push(haul(own, here, amount, free_haul, is_cut));
        }
    }
    hauls
}

/// Earth between two stretches, of which one is before the other: the nearer ends of both belong together.
fn haul(before: [f64; 2], behind: [f64; 2], volume: f64, free_haul: f64, is_ahead: bool) -> Haul {
    // The distance grows evenly from that between the nearer ends to that between the farther ones.
    let near = behind[0] - before[1];
    let far = behind[1] - before[0];
    let beyond = match (near - free_haul, far - free_haul) {
        (near, far) if near >= 0.0 => (near + far) / 2.0,
        (_, far) if far <= 0.0 => 0.0,
        (near, far) => far * (far / (far - near)) / 2.0,
    };
    let (from, to) = if is_ahead {
        (before, behind)
    } else {
        (behind, before)
    };
    Haul {
        from,
        to,
        volume,
        moment: volume * (near + far) / 2.0,
        beyond: volume * beyond,
    }
}

/// The loops of the diagram, with the hauls that each holds.
fn loops(ordinates: &[[f64; 2]], hauls: &[Haul], least: f64) -> Vec<HaulLoop> {
    let mut loops: Vec<HaulLoop> = Vec::new();
    let mut open: Option<(f64, bool)> = None;
    for pair in ordinates.windows(2) {
        let [[from, a], [to, b]] = [pair[0], pair[1]];
        let (a, b) = (flat(a, least), flat(b, least));
        let crossing = match a * b < 0.0 {
            true => from + (to - from) * (a / (a - b)),
            false => from,
        };
        if open.is_none() && a == 0.0 && b != 0.0 {
            open = Some((from, b > 0.0));
        }
        let closes = match open {
            Some(_) if a * b < 0.0 => Some(crossing),
            Some(_) if b == 0.0 => Some(to),
            _ => None,
        };
        if let (Some((start, is_ahead)), Some(end)) = (open, closes) {
            loops.push(HaulLoop {
                between: [start, end],
                is_ahead,
                volume: 0.0,
                moment: 0.0,
                beyond: 0.0,
            });
            open = (b != 0.0).then_some((end, b > 0.0));
        }
    }
    for haul in hauls {
        let middle = |[from, to]: [f64; 2]| (from + to) / 2.0;
        let at = (middle(haul.from) + middle(haul.to)) / 2.0;
        let index = loops.partition_point(|own| own.between[1] < at);
        if let Some(own) = loops.get_mut(index) {
            own.volume += haul.volume;
            own.moment += haul.moment;
            own.beyond += haul.beyond;
        }
    }
    loops
}

fn flat(value: f64, least: f64) -> f64 {
    if value.abs() <= least { 0.0 } else { value }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn line(amounts: &[(f64, f64)]) -> Vec<HaulStretch> {
        let stretches = amounts
            .iter()
            .enumerate()
            .map(|(index, &(cut, fill))| HaulStretch {
                between: [10.0 * index as f64, 10.0 * (index + 1) as f64],
                cut,
                fill,
            });
        stretches.collect()
    }

    /// The area between the diagram and its line of balance.
    fn area(ordinates: &[[f64; 2]]) -> f64 {
        let pairs = ordinates.windows(2);
        pairs
            .map(|pair| {
                let [[from, a], [to, b]] = [pair[0], pair[1]];
                match a * b < 0.0 {
                    true => (to - from) * (a * a + b * b) / (2.0 * (a - b).abs()),
                    false => (to - from) * (a + b).abs() / 2.0,
                }
            })
            .sum()
    }

    #[test]
    fn a_loop_ahead_and_a_loop_back() {
        // 60 ahead over 10 m and half of both stretches; then fill before cut, 40 back.
        let found = mass_haul(
            &line(&[(60.0, 0.0), (0.0, 60.0), (5.0, 45.0), (40.0, 0.0)]),
            12.0,
            None,
        )
        .unwrap();
        assert_eq!(
            (found.surplus, found.in_place, found.loops.len()),
            (0.0, 5.0, 2)
        );
        let [ahead, back] = [found.loops[0], found.loops[1]];
        assert_eq!(
            (ahead.between, ahead.is_ahead, ahead.volume),
            ([0.0, 20.0], true, 60.0)
        );
        assert_eq!(
            (back.between, back.is_ahead, back.volume),
            ([20.0, 40.0], false, 40.0)
        );
        assert!((ahead.moment - 600.0).abs() < 1e-9 && (back.moment - 400.0).abs() < 1e-9);
        // Distances grow evenly from 0 to 20: beyond 12 lie 8² / 2 of 20² / 2.
        assert!((ahead.beyond - 600.0 * 64.0 / 400.0).abs() < 1e-9);
        assert_eq!(found.balance_points, [0.0, 20.0, 40.0]);
    }

    #[test]
    fn a_surplus_leaves_where_it_is_asked_to_or_with_the_least_haul() {
        let amounts = line(&[(100.0, 0.0), (0.0, 0.0), (0.0, 40.0)]);
        let at_end = mass_haul(&amounts, 0.0, Some(30.0)).unwrap();
        // 40 carried to the fill, 60 to the end.
        let sum = |found: &MassHaul| found.hauls.iter().map(|haul| haul.moment).sum::<f64>();
        assert!((sum(&at_end) - area(&at_end.ordinates)).abs() < 1e-9);
        let best = mass_haul(&amounts, 0.0, None).unwrap();
        assert_eq!((best.surplus, best.access), (60.0, 0.0));
        assert!(sum(&best) < sum(&at_end));
        let short = mass_haul(&line(&[(0.0, 50.0), (20.0, 0.0)]), 0.0, None).unwrap();
        assert_eq!((short.surplus, short.access), (-30.0, 0.0));
        assert_eq!(mass_haul(&[], 0.0, None), None);
    }

    /// The least haul between point masses by trying every way to pair them, unit by unit.
    fn brute_force(cuts: &[f64], fills: &[f64]) -> f64 {
        fn rest(cuts: &[f64], fills: &mut Vec<f64>) -> f64 {
            let Some((first, others)) = cuts.split_first() else {
                return 0.0;
            };
            let mut least = f64::INFINITY;
            for index in 0..fills.len() {
                let own = fills.remove(index);
                least = least.min((first - own).abs() + rest(others, fills));
                fills.insert(index, own);
            }
            least
        }
        rest(cuts, &mut fills.to_vec())
    }

    proptest! {
        /// The haul is the area of the diagram, and what is carried is what is left over.
        #[test]
        fn the_haul_is_the_area_of_the_diagram(amounts in prop::collection::vec((0.0..50.0f64, 0.0..50.0f64), 1..30), free in 0.0..60.0f64, share in prop::option::of(0.0..1.0f64)) {
            let stretches = line(&amounts);
            let access = share.map(|share| share * 10.0 * amounts.len() as f64);
            let found = mass_haul(&stretches, free, access).unwrap();
            let total: f64 = amounts.iter().map(|(cut, fill)| cut + fill).sum();
            let moment: f64 = found.hauls.iter().map(|haul| haul.moment).sum();
            let tolerance = 1e-9 * total * 10.0 * amounts.len() as f64;
            prop_assert!((moment - area(&found.ordinates)).abs() < tolerance, "{moment} {}", area(&found.ordinates));
            let taken: f64 = found.hauls.iter().map(|haul| haul.volume).sum();
            let left: f64 = amounts.iter().map(|(cut, fill)| (cut - fill).max(0.0)).sum();
            prop_assert!((taken - left - (-found.surplus).max(0.0)).abs() < 1e-9 * total);
            let by_loops: f64 = found.loops.iter().map(|own| own.moment).sum();
            prop_assert!((by_loops - moment).abs() < tolerance);
            // Beyond no distance is all, and beyond a long one nothing.
            let beyond = |free: f64| mass_haul(&stretches, free, access).unwrap().hauls.iter().map(|haul| haul.beyond).sum::<f64>();
            prop_assert!((beyond(0.0) - moment).abs() < tolerance && beyond(1e4) == 0.0);
            prop_assert!(beyond(free) <= moment + tolerance);
            // Driven the other way it is the same.
            let length = 10.0 * amounts.len() as f64;
            let back: Vec<HaulStretch> = stretches.iter().rev().map(|own| HaulStretch { between: [length - own.between[1], length - own.between[0]], ..*own }).collect();
            let back = mass_haul(&back, free, access.map(|access| length - access)).unwrap();
            let other: f64 = back.hauls.iter().map(|haul| haul.moment).sum();
            prop_assert!((other - moment).abs() < tolerance);
        }

        /// Second method: of loads at places the least over all ways to pair them.
        #[test]
        fn no_other_way_carries_less(places in prop::collection::vec((0u32..40, 0u32..40), 1..6)) {
            // Loads of one at the middles of stretches so short that they are places.
            let mut loads = vec![0.0f64; 40];
            for (cut, fill) in &places {
                loads[*cut as usize] += 1.0;
                loads[*fill as usize] -= 1.0;
            }
            let stretches: Vec<HaulStretch> = loads.iter().enumerate().map(|(index, load)| HaulStretch {
                between: [index as f64, index as f64 + 1e-9],
                cut: load.max(0.0),
                fill: (-load).max(0.0),
            }).collect();
            let found = mass_haul(&stretches, 0.0, None).unwrap();
            let moment: f64 = found.hauls.iter().map(|haul| haul.moment).sum();
            let of = |sign: f64| -> Vec<f64> {
                loads.iter().enumerate().flat_map(|(index, load)| std::iter::repeat_n(index as f64, (load * sign).max(0.0) as usize)).collect()
            };
            prop_assert!((moment - brute_force(&of(1.0), &of(-1.0))).abs() < 1e-6);
        }
    }
}
