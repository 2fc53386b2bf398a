//! The points of a surface as a pick-up that ends where the surface does.

use rustc_hash::FxHashMap;

use super::{Line, LineKind, PickUp};
use crate::plan::Place;
use crate::surface::neighbours::bits;
use crate::surface::{Outline, Tin, Vertex};
use crate::zones::rings::parts;
use crate::zones::twice_area;

/// The points of a surface with the numbers that they have in it, and its outline as lines.
#[derive(Debug)]
pub(crate) struct Outlined {
    pub(crate) pick_up: PickUp,
    numbers: FxHashMap<[u64; 2], u32>,
}

impl Outlined {
    /// None where it lies in several parts.
    pub(crate) fn of(tin: &Tin) -> Option<Self> {
        let frame = tin.frame();
        let vertices = tin.vertices();
        let points = vertices.iter().map(|vertex| {
            let at = frame.to_grid(vertex.place());
            Vertex::new(at.east, at.north, vertex.height)
        });
        let numbers = (0u32..).zip(vertices);
        let mut outlined = Outlined {
            pick_up: PickUp {
                points: points.collect(),
                lines: Vec::new(),
            },
            numbers: numbers
                .map(|(number, vertex)| (bits(vertex.place()), number))
                .collect(),
        };
        let outline = Outline::of_tin(tin);
        let parts = parts(outline.edges().unwrap_or_default());
        let [part] = &parts[..] else {
            return None;
        };
        for ring in part {
            let kind = match twice_area(ring) < 0.0 {
                true => LineKind::Hole,
                false => LineKind::Edge,
            };
            let points = ring.iter().map(|&at| outlined.number(at));
            let points = points.collect::<Option<_>>()?;
            outlined.pick_up.lines.push(Line { kind, points });
        }
        Some(outlined)
    }

    /// The number of a point by its place, in local coordinates; of several at one place one of them.
    pub(crate) fn number(&self, at: Place) -> Option<u32> {
        self.numbers.get(&bits(at)).copied()
    }
}
