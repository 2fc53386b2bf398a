//! Tables: columns that say what they hold, in groups, and rows of typed cells.

use dapedon_core::units::{AreaUnit, LengthUnit, VolumeUnit};
use dapedon_job::Figure;
use rust_decimal::Decimal;

use crate::report::{Formula, ShownOn};

/// A table. Its columns come in groups that are each laid out on their own, with the key columns before them; a
/// spreadsheet gets them side by side.
#[derive(Debug, Clone, Default)]
pub struct Table {
    /// What tells this table from others with the same columns: what it is of, and its name.
    pub of: Option<(&'static str, String)>,
    /// The columns that say what a row is.
    pub keys: Vec<Column>,
    /// The others.
    pub groups: Vec<Group>,
    /// The rows; cells are those of the keys and then of all groups.
    pub rows: Vec<Row>,
}

/// Columns that belong together.
#[derive(Debug, Clone, Default)]
pub struct Group {
    /// Words above them, if there are any.
    pub title: String,
    /// What must be known to read them.
    pub note: String,
    /// The columns.
    pub columns: Vec<Column>,
    /// Who is shown them.
    pub on: ShownOn,
}

/// A column.
#[derive(Debug, Clone)]
pub struct Column {
    /// What it holds, in full: no other column of the table is called so.
    pub name: String,
    /// What stands above it, where the title of its group says the rest.
    pub head: String,
    /// What its cells are.
    pub kind: Kind,
    /// Rows that are not as they should be are marked here.
    pub marked: bool,
    /// Words are broken at this many characters on a terminal.
    pub wrap: Option<usize>,
    /// Who is shown it.
    pub on: ShownOn,
}

/// What the cells of a column are; figures with so many decimals.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Kind {
    /// Words.
    Text,
    /// Lengths and heights, in a unit if it is known.
    Length(Option<LengthUnit>, usize),
    /// Distances along a line, as the trade writes them for the unit.
    Chainage(LengthUnit, usize),
    /// Angles in degrees.
    Degrees,
    /// Other figures, with so many decimals.
    Figure(usize),
    /// Areas.
    Area(AreaUnit, usize),
    /// Volumes.
    Volume(VolumeUnit, usize),
    /// Sums of money, in a currency if it is given.
    Money(Option<String>),
    /// Places: east and north.
    Place,
    /// Shares of a whole.
    Share,
    /// Whole numbers, and figures that carry their decimals.
    Count,
    /// A figure near nothing, of which only the power of ten tells.
    Power,
}

/// A row.
#[derive(Debug, Clone, Default)]
pub struct Row {
    /// What kind of row it is.
    pub kind: RowKind,
    /// Its cells; of a section only its words.
    pub cells: Vec<Cell>,
    /// How some of them follow from others, by their number.
    pub formulas: Vec<(usize, Formula)>,
}

/// What kind of row it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum RowKind {
    /// One of many.
    #[default]
    Plain,
    /// One that is not as it should be.
    Off,
    /// Words over all columns, above the rows they stand for.
    Section,
    /// The sum of a section.
    Sum,
    /// The sum of all.
    Total,
}

/// A cell.
#[derive(Debug, Clone, PartialEq, Default)]
pub enum Cell {
    /// Nothing.
    #[default]
    Empty,
    /// Words.
    Text(String),
    /// A figure, unrounded.
    Number(f64),
    /// A figure as it is written.
    Written(Decimal),
    /// East and north.
    Place([f64; 2]),
}

impl Column {
    /// A column of some kind, with its unit in its head.
    pub fn new(name: impl Into<String>, kind: Kind) -> Self {
        let name = name.into();
        let head = match kind.symbol() {
            "" => name.clone(),
            symbol => format!("{name}, {symbol}"),
        };
        Column {
            name,
            head,
            kind,
            marked: false,
            wrap: None,
            on: ShownOn::Both,
        }
    }

    /// A column of words.
    pub fn text(name: impl Into<String>) -> Self {
        Column::new(name, Kind::Text)
    }

    /// The same under other words.
    pub fn head(mut self, head: impl Into<String>) -> Self {
        self.head = head.into();
        self
    }

    /// The same, where rows are marked.
    pub fn marked(mut self) -> Self {
        self.marked = true;
        self
    }

    /// The same for some.
    pub fn on(mut self, on: ShownOn) -> Self {
        self.on = on;
        self
    }
}

impl Kind {
    /// The symbol of its unit.
    pub fn symbol(&self) -> &str {
        match self {
            Kind::Length(Some(unit), _) => unit.symbol(),
            Kind::Area(unit, _) => unit.symbol(),
            Kind::Volume(unit, _) => unit.symbol(),
            Kind::Money(Some(currency)) => currency,
            Kind::Degrees => "°",
            _ => "",
        }
    }

    /// The code of its unit, as it is typed.
    pub fn code(&self) -> String {
        match self {
            Kind::Length(Some(unit), _) | Kind::Chainage(unit, _) => unit.code().into(),
            Kind::Area(unit, _) => unit.code(),
            Kind::Volume(unit, _) => unit.code(),
            Kind::Money(Some(currency)) => currency.clone(),
            _ => String::new(),
        }
    }
}

impl Table {
    /// The rows of some columns; a sum is skipped where it has nothing in them but its name.
    pub(crate) fn rows_of(&self, columns: &[(usize, &Column)]) -> Vec<&Row> {
        let own = columns.iter().map(|(index, _)| *index);
        let own: Vec<usize> = own.filter(|index| *index >= self.keys.len()).collect();
        let told = |row: &&Row| match row.kind {
            RowKind::Sum | RowKind::Total => own
                .iter()
                .any(|&index| !matches!(row.cells.get(index), None | Some(Cell::Empty))),
            RowKind::Plain | RowKind::Off | RowKind::Section => true,
        };
        self.rows.iter().filter(told).collect()
    }

    /// True where a cell follows from others.
    pub(crate) fn has_formulas(&self) -> bool {
        self.rows.iter().any(|row| !row.formulas.is_empty())
    }

    /// True for a table without rows.
    pub fn is_empty(&self) -> bool {
        self.rows.is_empty()
    }
}

impl Group {
    /// Columns under a title.
    pub fn new(title: impl Into<String>, columns: Vec<Column>) -> Self {
        Group {
            title: title.into(),
            columns,
            ..Group::default()
        }
    }
}

impl Row {
    /// A row of some kind.
    pub fn new(kind: RowKind, cells: Vec<Cell>) -> Self {
        let formulas = Vec::new();
        Row {
            kind,
            cells,
            formulas,
        }
    }

    /// The same, with how a cell follows from others.
    #[must_use]
    pub fn by(mut self, cell: usize, formula: Formula) -> Self {
        self.formulas.push((cell, formula));
        self
    }

    /// Words over all columns.
    pub fn section(words: impl Into<String>) -> Self {
        Row {
            kind: RowKind::Section,
            cells: vec![Cell::Text(words.into())],
            formulas: Vec::new(),
        }
    }
}

impl From<&str> for Cell {
    fn from(words: &str) -> Self {
        match words {
            "" => Cell::Empty,
            words => Cell::Text(words.into()),
        }
    }
}

impl From<String> for Cell {
    fn from(words: String) -> Self {
        Cell::from(words.as_str())
    }
}

impl From<&String> for Cell {
    fn from(words: &String) -> Self {
        Cell::from(words.as_str())
    }
}

impl From<f64> for Cell {
    fn from(figure: f64) -> Self {
        Cell::Number(figure)
    }
}

impl<U> From<Figure<U>> for Cell {
    fn from(figure: Figure<U>) -> Self {
        Cell::Number(figure.value)
    }
}

impl From<usize> for Cell {
    fn from(count: usize) -> Self {
        Cell::Written(count.into())
    }
}

impl From<u64> for Cell {
    fn from(count: u64) -> Self {
        Cell::Written(count.into())
    }
}

impl From<Decimal> for Cell {
    fn from(figure: Decimal) -> Self {
        Cell::Written(figure)
    }
}

impl<T: Into<Cell>> From<Option<T>> for Cell {
    fn from(cell: Option<T>) -> Self {
        cell.map_or(Cell::Empty, Into::into)
    }
}
