//! What can be drawn, as far as it is ground.

use dapedon_core::surface::Vertex;

use super::DrawnLine;
use super::place::Placing;

/// What an entity is.
#[derive(Debug, Clone)]
pub(super) enum Shape {
    Point(Vertex),
    Line(DrawnLine),
    Mesh {
        vertices: Vec<Vertex>,
        facets: Vec<[u32; 3]>,
    },
    /// A filled area, as triangles.
    Filled(Vec<[Vertex; 3]>),
    /// A text, with the number that it consists of, if it does.
    Text {
        at: Vertex,
        reach: f64,
        value: Option<f64>,
    },
    Insert {
        block: Vec<u8>,
        placing: Box<Insertion>,
        columns: u32,
        rows: u32,
        /// The height among its attributes.
        height: Option<f64>,
    },
}

/// How a block is inserted: once its base is known, a placing.
#[derive(Debug, Clone, Copy)]
pub(super) struct Insertion {
    pub(super) scale: [f64; 3],
    pub(super) degrees: f64,
    pub(super) to: [f64; 3],
    pub(super) step: [f64; 2],
    pub(super) plane: Placing,
}

impl Insertion {
    /// The placing of the block whose base is `base`, in one of the columns and rows.
    pub(super) fn placing(&self, base: [f64; 3], column: u32, row: u32) -> Placing {
        let aside = [
            f64::from(column) * self.step[0],
            f64::from(row) * self.step[1],
            0.0,
        ];
        let turn = Placing::inserted([0.0; 3], [1.0; 3], self.degrees, self.to);
        let at = turn.place(Vertex::new(aside[0], aside[1], 0.0));
        let to = [at.east, at.north, self.to[2]];
        self.plane
            .after(&Placing::inserted(base, self.scale, self.degrees, to))
    }
}
