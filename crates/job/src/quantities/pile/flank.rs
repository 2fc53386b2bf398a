//! Whether an outline runs over a pile instead of around it.

use dapedon_core::plan::Place;
use dapedon_core::quantities::Base;
use dapedon_core::surface::{HeightAt, Plane, Surface, heights_at};
use dapedon_core::zones::Zone;

use super::outlined::Outlined;
use crate::finding::{Code, Finding};

/// Places along an outline that are looked at.
const PLACES: usize = 240;
/// How far outside, as a share of the length of the outline.
const OUTSIDE: f64 = 0.02;
/// A flank falls by more than this, rise over run, beside what the ground falls that the toe lies on.
const STEEP: f64 = 0.33;
/// The share of the outline on a flank that is said.
const SAID: f64 = 0.08;

/// Where the ground outside of an outline falls on as a pile does, or rises as a pit does: what lies there is not measured.
pub(crate) fn on_flank(surface: &Surface, outlined: &Outlined, pit: bool) -> Option<Finding> {
    let zone = &outlined.zone;
    let plane = outlined.toe().ok()?.base(Base::Plane).ok()?;
    let [a, b, c] = plane.facets().first().map(|_| plane.corners(0))?;
    let plane = Plane::through(a, b, c);
    let places = around(zone);
    let at: Vec<Place> = places.iter().flatten().copied().collect();
    let heights = heights_at(surface, &at);
    let height = |found: &HeightAt| match *found {
        HeightAt::One { height, .. } => Some(height),
        HeightAt::None | HeightAt::Several { .. } => None,
    };
    let sign = if pit { -1.0 } else { 1.0 };
    let mut on = 0;
    let mut known = 0;
    let mut first = None;
    let apart = OUTSIDE * zone.perimeter();
    for (places, found) in places.iter().zip(heights.as_chunks::<2>().0) {
        let [Some(toe), Some(near)] = found.each_ref().map(height) else {
            continue;
        };
        known += 1;
        let ground = plane.at(places[0]) - plane.at(places[1]);
        if sign * (toe - near - ground) > STEEP * apart {
            on += 1;
            first = first.or(Some(places[0]));
        }
    }
    let share = f64::from(on) / f64::from(known.max(1));
    let at = surface.frame().to_grid(first.filter(|_| share > SAID)?);
    let (what, where_to) = match pit {
        true => ("rises", "rim"),
        false => ("falls", "toe"),
    };
    let words = format!(
        "along {:.0} % of the outline the ground outside {what} as steeply as a flank: it runs inside the {where_to} there, first near east {:.1}, north {:.1}",
        100.0 * share,
        at.east,
        at.north
    );
    let remedy = "draw it along the foot, or find it with no --zone and --outlines";
    Some(
        Finding::new(Code::OutlineOnFlank, words)
            .remedy(remedy)
            .at(zone.name()),
    )
}

/// Places along the outer rings of an outline, each with one outside of it.
fn around(zone: &Zone) -> Vec<[Place; 2]> {
    let length = zone.perimeter();
    let (step, apart) = (length / PLACES as f64, OUTSIDE * length);
    let mut found = Vec::new();
    for ring in zone.rings() {
        let next = ring.iter().cycle().skip(1);
        let area: f64 = (ring.iter().zip(next.clone()))
            .map(|(a, b)| a.east * b.north - b.east * a.north)
            .sum();
        // Within a hole there is no pile.
        if area <= 0.0 {
            continue;
        }
        let mut left = step / 2.0;
        for (from, to) in ring.iter().zip(next) {
            let (east, north) = (to.east - from.east, to.north - from.north);
            let side = libm::hypot(east, north);
            if side == 0.0 {
                continue;
            }
            while left < side && found.len() < 2 * PLACES {
                let share = left / side;
                // Outside is to the right of a ring that turns left.
                let out = |times: f64| {
                    Place::new(
                        from.east + share * east + times * apart * north / side,
                        from.north + share * north - times * apart * east / side,
                    )
                };
                found.push([0.0, 1.0].map(out));
                left += step;
            }
            left -= side;
        }
    }
    found
}
