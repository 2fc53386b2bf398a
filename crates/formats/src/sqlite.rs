//! Tables of an SQLite database, read from its pages.
//!
//! Only what a container of map features needs: the rows of ordinary tables, in the order they are stored. Nothing is written,
//! no index is followed, and what another program has not yet moved into the file is not seen. Pages are read one by one, each
//! once, so that a file whose pages point at each other comes to an end.

mod columns;
mod pages;
mod record;

use std::io::{Read, Seek, SeekFrom};

use columns::Column;
use pages::Pages;
pub(crate) use record::Value;
use record::values;

/// What such a file starts with.
const MARK: &[u8] = b"SQLite format 3\0";
/// Bytes of the header.
const HEADER: usize = 100;
/// The page on which the tables are listed.
const SCHEMA: u32 = 1;

/// Why a database could not be read.
#[derive(Debug, thiserror::Error)]
pub enum SqliteError {
    /// The file does not start like a database.
    #[error("the file does not start like an SQLite database")]
    NotSqlite,
    /// The header is not valid.
    #[error("the header is not valid: {0}")]
    Header(&'static str),
    /// The file ends before a page.
    #[error("the file is incomplete: it ends before page {0}")]
    CutOff(u32),
    /// A page is not valid.
    #[error("page {page} is not valid: {why}")]
    Page {
        /// The page, from one.
        page: u32,
        /// Why.
        why: &'static str,
    },
    /// There is no such table.
    #[error("there is no table \"{0}\"")]
    NoTable(String),
    /// A table is stored in the order of its key.
    #[error("the table \"{0}\" is stored without row numbers, which is not supported")]
    WithoutRowNumbers(String),
    /// The file cannot be read.
    #[error("{0}")]
    Io(#[from] std::io::Error),
}

/// How text is stored.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Letters {
    Utf8,
    Utf16Le,
    Utf16Be,
}

/// A table: where its rows are, and what they hold.
#[derive(Debug)]
struct Table {
    name: String,
    root: u32,
    columns: Vec<Column>,
    has_row_numbers: bool,
}

/// An open database.
#[derive(Debug)]
pub(crate) struct Database<R> {
    pages: Pages<R>,
    letters: Letters,
    tables: Vec<Table>,
}

/// True when the first bytes are those of a database.
pub(crate) fn is_sqlite(head: &[u8]) -> bool {
    head.starts_with(MARK)
}

impl<R: Read + Seek> Database<R> {
    /// Reads the header and the list of tables.
    ///
    /// # Errors
    ///
    /// When it is no database, or cut off.
    pub(crate) fn open(mut input: R) -> Result<Self, SqliteError> {
        let length = input.seek(SeekFrom::End(0))?;
        input.rewind()?;
        let mut head = [0; HEADER];
        if length < HEADER as u64 {
            let mut front = Vec::new();
            input.read_to_end(&mut front)?;
            return Err(match is_sqlite(&front) {
                true => SqliteError::CutOff(SCHEMA),
                false => SqliteError::NotSqlite,
            });
        }
        input.read_exact(&mut head)?;
        if !is_sqlite(&head) {
            return Err(SqliteError::NotSqlite);
        }
        let size = match u16::from_be_bytes([head[16], head[17]]) {
            1 => 1 << 16,
            size if size >= 512 && size.is_power_of_two() => usize::from(size),
            _ => return Err(SqliteError::Header("the size of its pages")),
        };
        let letters = match head[59] {
            0 | 1 => Letters::Utf8,
            2 => Letters::Utf16Le,
            3 => Letters::Utf16Be,
            _ => return Err(SqliteError::Header("the encoding of its text")),
        };
        let usable = size - usize::from(head[20]);
        if usable < 480 {
            return Err(SqliteError::Header("the size of its pages"));
        }
        let mut database = Database {
            pages: Pages::new(input, length, size, usable),
            letters,
            tables: Vec::new(),
        };
        database.list_tables()?;
        Ok(database)
    }

    fn list_tables(&mut self) -> Result<(), SqliteError> {
        let letters = self.letters;
        let mut tables = Vec::new();
        self.pages.rows(SCHEMA, |_, payload| {
            let row = values(payload, letters);
            let text = |at: usize| row.get(at).and_then(Value::text);
            let root = match row.get(3) {
                Some(Value::Integer(root)) => u32::try_from(*root).ok(),
                _ => None,
            };
            if let (Some("table"), Some(name), Some(root), Some(made)) =
                (text(0), text(1), root, text(4))
            {
                let (columns, has_row_numbers) = columns::of(made);
                tables.push(Table {
                    name: name.into(),
                    root,
                    columns,
                    has_row_numbers,
                });
            }
            Ok(())
        })?;
        self.tables = tables;
        Ok(())
    }

    /// The names of its tables.
    pub(crate) fn tables(&self) -> impl Iterator<Item = &str> {
        self.tables.iter().map(|table| table.name.as_str())
    }

    /// True where there is a table of this name, whatever its case.
    pub(crate) fn has(&self, table: &str) -> bool {
        (self.tables.iter()).any(|known| known.name.eq_ignore_ascii_case(table))
    }

    /// Hands over the rows of a table as names of columns and values, in the order they are stored.
    ///
    /// # Errors
    ///
    /// When there is no such table, or a page of it is not valid.
    pub(crate) fn rows(
        &mut self,
        table: &str,
        mut take: impl FnMut(Row<'_>),
    ) -> Result<(), SqliteError> {
        let known = (self.tables.iter()).find(|known| known.name.eq_ignore_ascii_case(table));
        let known = known.ok_or_else(|| SqliteError::NoTable(table.into()))?;
        if !known.has_row_numbers {
            return Err(SqliteError::WithoutRowNumbers(known.name.clone()));
        }
        let letters = self.letters;
        self.pages.rows(known.root, |number, payload| {
            take(Row {
                number,
                columns: &known.columns,
                values: values(payload, letters),
            });
            Ok(())
        })
    }
}

/// A row of a table.
pub(crate) struct Row<'t> {
    number: i64,
    columns: &'t [Column],
    values: Vec<Value>,
}

impl Row<'_> {
    /// The names of the columns with their values, in the table's order. A row that is older than a column ends before it. The key
    /// that is the number of the row is stored as nothing, and handed over as that number.
    pub(crate) fn fields(&self) -> impl Iterator<Item = (&str, Field<'_>)> {
        let stored = self.columns.iter().zip(&self.values);
        stored.map(|(column, value)| {
            let field = match (column.is_row_number, value) {
                (true, Value::Null) => Field::Number(self.number),
                (_, value) => Field::Value(value),
            };
            (column.name.as_str(), field)
        })
    }

    /// The value of a column, whatever the case of its name.
    pub(crate) fn value(&self, column: &str) -> Option<&Value> {
        let at = (self.columns.iter()).position(|own| own.name.eq_ignore_ascii_case(column))?;
        self.values.get(at)
    }

    /// The text of a column.
    pub(crate) fn text(&self, column: &str) -> Option<&str> {
        self.value(column)?.text()
    }

    /// The integer of a column, which may be the number of the row.
    pub(crate) fn integer(&self, column: &str) -> Option<i64> {
        let mut fields = self.fields();
        let (_, field) = fields.find(|(own, _)| own.eq_ignore_ascii_case(column))?;
        match field {
            Field::Number(number) | Field::Value(&Value::Integer(number)) => Some(number),
            Field::Value(_) => None,
        }
    }
}

/// What stands in a column of a row.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Field<'r> {
    /// The number of the row, which is its key.
    Number(i64),
    /// A stored value.
    Value(&'r Value),
}
