//! Arrows on a map, as wide as what is carried, and places with their names.

use dapedon_core::plan::{Frame, Place};

use super::{SMALL, small};
use crate::drawing::{Svg, View, words_width};
use crate::map::labels::{LabelBox, Labels};
use crate::map::{MapArrow, MapPlace};

/// How wide the widest arrow is, and the narrowest at least.
const WIDEST: f64 = 12.0;
const NARROWEST: f64 = 1.2;
const INK: &str = "#4b3a8c";

/// Arrows from place to place, bent a little to their left, so that there and back are two; with their volumes where there is room. Hands
/// back how many have none.
pub(super) fn arrows(
    svg: &mut Svg,
    view: &View,
    frame: Frame,
    carried: &[MapArrow],
    labels: &mut Labels,
) -> usize {
    let mut without_room = 0;
    let most = carried
        .iter()
        .fold(0.0, |most: f64, own| most.max(own.volume));
    let on_sheet = |place: Place| view.place(frame.to_local(place.east, place.north));
    for own in carried {
        let [(a, b), (c, d)] = own.ends.map(on_sheet);
        let (along, down) = (c - a, d - b);
        let length = libm::hypot(along, down);
        let width = (WIDEST * own.volume / most).max(NARROWEST);
        let head = (width * 2.2).max(7.0);
        let (at, off) = match length > head {
            true => bent(svg, [a, b], [c, d], width, head, labels),
            // Cut and fill of one place: a ring.
            false => {
                let radius = 9.0 + width / 2.0;
                svg.line(format_args!(
                    r##"<circle cx="{a:.1}" cy="{b:.1}" r="{radius:.1}" stroke="{INK}" stroke-width="{width:.1}" stroke-opacity="0.75"/>"##
                ));
                ([a, b], [0.0, -radius - width / 2.0 - SMALL])
            }
        };
        let size = [words_width(&own.label) * SMALL / 14.0 + 4.0, SMALL + 2.0];
        // On either side of the arrow; words are wider than high.
        let aside = if off[0].abs() > off[1].abs() {
            size[0] / 2.0
        } else {
            0.0
        };
        let mut tries = [1.0, -1.0].into_iter().flat_map(|side: f64| {
            let right = at[0] + side * (off[0] + aside * off[0].signum());
            let down = at[1] + side * off[1];
            [0.0, -14.0, 14.0].map(|further| [right, down + further])
        });
        if let Some([x, y]) = tries.find(|at| labels.take(LabelBox::about(*at, size))) {
            small(svg, x, y, INK, &own.label);
        } else {
            without_room += 1;
        }
    }
    without_room
}

/// A bent arrow; hands back its middle, and how far beside it words stand clear.
fn bent(
    svg: &mut Svg,
    from: [f64; 2],
    to: [f64; 2],
    width: f64,
    head: f64,
    labels: &mut Labels,
) -> ([f64; 2], [f64; 2]) {
    let (along, down) = (to[0] - from[0], to[1] - from[1]);
    let length = libm::hypot(along, down);
    let aside = [down / length, -along / length];
    let bow = 0.14 * length;
    let control = [
        (from[0] + to[0]) / 2.0 + aside[0] * bow,
        (from[1] + to[1]) / 2.0 + aside[1] * bow,
    ];
    // The head lies in the direction in which the curve ends.
    let (e, n) = (to[0] - control[0], to[1] - control[1]);
    let last = libm::hypot(e, n);
    let (e, n) = (e / last, n / last);
    let neck = [to[0] - e * head, to[1] - n * head];
    svg.line(format_args!(
        r##"<path d="M{:.1} {:.1}Q{:.1} {:.1} {:.1} {:.1}" stroke="{INK}" stroke-width="{width:.1}" stroke-opacity="0.75"/>"##,
        from[0], from[1], control[0], control[1], neck[0], neck[1]
    ));
    let half = head * 0.55;
    svg.line(format_args!(
        r##"<path d="M{:.1} {:.1}L{:.1} {:.1}L{:.1} {:.1}Z" fill="{INK}" fill-opacity="0.85"/>"##,
        to[0],
        to[1],
        neck[0] - n * half,
        neck[1] + e * half,
        neck[0] + n * half,
        neck[1] - e * half
    ));
    let on = |share: f64| {
        let rest = 1.0 - share;
        [0, 1].map(|axis| {
            rest * rest * from[axis] + 2.0 * rest * share * control[axis] + share * share * to[axis]
        })
    };
    for part in 0..8 {
        labels.avoid([part, part + 1].map(|part| on(f64::from(part) / 8.0)));
    }
    let middle = on(0.5);
    let off = width / 2.0 + SMALL;
    (middle, aside.map(|along| along * off))
}

/// Places with their names.
pub(super) fn places(
    svg: &mut Svg,
    view: &View,
    frame: Frame,
    named: &[MapPlace],
    labels: &mut Labels,
) {
    for own in named {
        let (x, y) = view.place(frame.to_local(own.at.east, own.at.north));
        svg.line(format_args!(
            r##"<rect x="{:.1}" y="{:.1}" width="8" height="8" fill="#ffffff" stroke="{INK}" stroke-width="1.6"/>"##,
            x - 4.0,
            y - 4.0
        ));
        let size = [words_width(&own.name) * SMALL / 14.0 + 6.0, SMALL + 3.0];
        let beside = [
            [x, y - 14.0],
            [x, y + 14.0],
            [x + size[0] / 2.0 + 8.0, y],
            [x - size[0] / 2.0 - 8.0, y],
        ];
        if let Some([x, y]) = beside
            .into_iter()
            .find(|at| labels.take(LabelBox::about(*at, size)))
        {
            small(svg, x, y, INK, &own.name);
        }
    }
}
