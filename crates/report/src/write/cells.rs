//! Cells as they are read.

use dapedon_core::alignment::chainage_words;

use crate::number::{GAP, grouped, money, written};
use crate::report::{Cell, Column, Kind};

/// A cell of a column as it is read by people.
pub(super) fn read(cell: &Cell, column: &Column) -> String {
    match (cell, &column.kind) {
        (Cell::Empty, _) => String::new(),
        (Cell::Text(words), _) => words.clone(),
        (Cell::Number(figure), Kind::Share) => format!("{}{GAP}%", grouped(100.0 * figure, 1)),
        (Cell::Number(figure), Kind::Power) if *figure == 0.0 => "none".into(),
        (Cell::Number(figure), Kind::Power) => format!("{figure:.1e}"),
        (Cell::Number(figure), Kind::Chainage(unit, decimals)) => {
            chainage_words(*figure, *unit, *decimals)
        }
        (Cell::Number(figure), kind) => grouped(*figure, kind.decimals()),
        (Cell::Written(figure), Kind::Money(_)) => money(*figure),
        (Cell::Written(figure), _) => written(*figure),
        (Cell::Place([east, north]), _) => {
            format!("{} / {}", grouped(*east, 1), grouped(*north, 1))
        }
    }
}

impl Kind {
    /// With how many decimals its figures are read.
    fn decimals(&self) -> usize {
        match self {
            Kind::Length(_, decimals)
            | Kind::Chainage(_, decimals)
            | Kind::Figure(decimals)
            | Kind::Area(_, decimals)
            | Kind::Volume(_, decimals) => *decimals,
            Kind::Money(_) | Kind::Degrees => 2,
            Kind::Text | Kind::Place | Kind::Share | Kind::Count | Kind::Power => 0,
        }
    }

    /// True for words, which stand at the left of their column.
    pub(super) fn is_words(&self) -> bool {
        *self == Kind::Text
    }
}
