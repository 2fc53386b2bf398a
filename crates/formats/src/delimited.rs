//! Delimited text: points as instruments and spreadsheets write them.
//!
//! Fields divided by comma, semicolon, tab or blanks; quotes as in RFC 4180; UTF-8, UTF-16 or Latin-1;
//! decimal point or comma; a first line that counts the points. What each column holds is given by the header or by the caller, never
//! guessed: a file that can be read two ways is refused with both readings.

mod columns;
mod error;
mod number;
mod pairs;
mod rows;
mod write;

use std::io::BufRead;

use dapedon_core::surface::Vertex;

use crate::codes::{Codes, plain as text};
use crate::{CodeUse, CodeUses, PointAccuracies, Position, RawSurface};
pub use columns::{Reading, Role, parse_roles};
pub use error::DelimitedError;
use number::Numbers;
pub use pairs::{Pair, read_pairs};
use rows::{Row, Rows};
pub use write::write;

/// How many rows are kept to be shown.
const SHOWN: usize = 3;

/// How to read what the file does not say itself.
#[derive(Debug, Clone, Default)]
pub struct Options {
    /// What the columns hold; without it the header says.
    pub roles: Option<Vec<Role>>,
    /// What the codes of points are taken as.
    pub take: CodeUses,
    /// Only places are wanted: heights may be missing, and are not a number then.
    pub places_only: bool,
}

/// A point as its row holds it.
#[derive(Debug, Clone, Copy)]
pub struct RowPoint<'r> {
    /// Where it is, and its height.
    pub at: Vertex,
    name: Option<&'r [u8]>,
}

impl RowPoint<'_> {
    /// Its number or name, where a column holds those.
    pub fn name(&self) -> Option<String> {
        self.name.map(text).filter(|name| !name.is_empty())
    }
}

/// What was understood of a file's columns, and its points.
#[derive(Debug)]
pub struct Delimited {
    /// The points, without facets, and the lines that their codes join.
    pub surface: RawSurface,
    /// The columns as they were read, with the first row of points.
    pub reading: Reading,
    /// The first rows of points.
    pub rows: Vec<Vec<String>>,
    /// The header, if there is one.
    pub header: Option<Vec<String>>,
    /// What parts the fields, in words.
    pub delimiter: &'static str,
    /// True where numbers have a decimal comma.
    pub decimal_comma: bool,
    /// The encoding, in words.
    pub encoding: &'static str,
    /// Lines skipped as comments.
    pub comments: u64,
    /// The codes with how many points have each, as long as there are not very many.
    pub codes: Vec<(String, usize)>,
}

/// Reads points.
///
/// # Errors
///
/// When it is not clear what a column holds, or a field is not what it should be.
///
/// ```
/// use dapedon_formats::delimited::{Options, read};
/// let text = "point,east,north,height\n7,500010.5,6000020.25,31.4\n";
/// let read = read(text.as_bytes(), &Options::default()).unwrap();
/// assert_eq!(read.surface.vertices[0].north, 6_000_020.25);
/// ```
pub fn read(input: impl BufRead, options: &Options) -> Result<Delimited, DelimitedError> {
    let mut vertices = Vec::new();
    let mut read = each(input, options, |point| vertices.push(point.at))?;
    read.surface.vertices = vertices;
    Ok(read)
}

/// Hands over the points one by one, and holds none. The lines that codes join are by the numbers of the points handed over.
///
/// # Errors
///
/// As for [`read`].
pub fn each(
    input: impl BufRead,
    options: &Options,
    mut take: impl FnMut(RowPoint<'_>),
) -> Result<Delimited, DelimitedError> {
    let needed: &[Role] = match options.places_only {
        true => &columns::PLACE,
        false => &columns::POINT,
    };
    if let Some(roles) = &options.roles {
        columns::check(roles, needed)?;
    }
    let mut rows = Rows::open(input)?;
    let mut record = Row::default();
    let mut line = rows.next(&mut record)?.ok_or(DelimitedError::Empty)?;

    // The first line may count the points.
    let mut declared = count_alone(&record);
    if declared.is_some() {
        line = rows.next(&mut record)?.ok_or(DelimitedError::Empty)?;
    }
    // A row without a single number is a header.
    let is_header = !record.iter().any(number::is_any);
    let header = is_header.then(|| record.iter().map(text).collect::<Vec<_>>());
    if is_header {
        line = rows.next(&mut record)?.ok_or(DelimitedError::Empty)?;
    }
    let first: Vec<String> = record.iter().map(text).collect();
    let roles = match (&options.roles, &header) {
        (Some(roles), _) => roles.clone(),
        (None, Some(header)) => columns::from_header(header, &first, needed)?,
        (None, None) => return Err(columns::without_header(first)),
    };
    let place = |role| roles.iter().position(|&r| r == role);
    let mut fields = [(Role::East, None); 3];
    for (field, role) in fields
        .iter_mut()
        .zip([Role::East, Role::North, Role::Height])
    {
        let missing = || DelimitedError::NoColumn {
            role,
            header: roles.iter().map(Role::to_string).collect(),
        };
        *field = (role, place(role));
        if field.1.is_none() && needed.contains(&role) {
            return Err(missing());
        }
    }
    let numbers = Numbers::of(fields.iter().filter_map(|&(_, index)| record.get(index?)));
    // More fields than names: perhaps a comma that was meant as a decimal one.
    let most = header.as_ref().map_or(usize::MAX, Vec::len);

    let mut codes = Codes::new(&options.take);
    let (code, named) = (place(Role::Code), place(Role::Point));
    let accuracies = [place(Role::HeightAccuracy), place(Role::PlanAccuracy)];
    let mut stated = PointAccuracies::default();
    let (mut taken, mut shown, mut dropped) = (0, Vec::new(), 0);
    loop {
        // Where it does, each scan of several has its own count.
        if let (Some(all), Some(more)) = (&mut declared, count_alone(&record)) {
            *all = all.saturating_add(more);
            match rows.next(&mut record)? {
                Some(next) => line = next,
                None => break,
            }
            continue;
        }
        if shown.len() < SHOWN {
            shown.push(record.iter().map(text).collect());
        }
        if record.len() > most && record.iter().skip(most).any(|field| !field.is_empty()) {
            return Err(DelimitedError::LongRow {
                at: Position {
                    line,
                    column: most as u64 + 1,
                },
                found: record.len(),
                header: most,
            });
        }
        let mut values = [0.0; 3];
        for (value, &(role, index)) in values.iter_mut().zip(&fields) {
            let number = index.and_then(|index| numbers.parse(record.get(index)?));
            *value = match (number, index) {
                (Some(number), _) => number,
                (None, _) if !needed.contains(&role) => f64::NAN,
                (None, index) => {
                    return Err(not_read(&record, index.unwrap_or_default(), role, line));
                }
            };
        }
        let [east, north, height] = values;
        let at = Vertex::new(east, north, height);
        // As many points as a surface may have are numbered; a cloud has more, and no lines.
        let number = u32::try_from(taken).unwrap_or(u32::MAX);
        match code.and_then(|index| codes.point(record.get(index)?, number)) {
            Some(CodeUse::Skip) => dropped += 1,
            _ => {
                taken += 1;
                let number = |index: Option<usize>| numbers.parse(record.get(index?)?);
                let [height, plan] = accuracies.map(number);
                height.into_iter().for_each(|own| stated.height.take(own));
                plan.into_iter().for_each(|own| stated.plan.take(own));
                let name = named.and_then(|index| record.get(index));
                take(RowPoint { at, name });
            }
        }
        match rows.next(&mut record)? {
            Some(next) => line = next,
            None => break,
        }
    }
    let points = taken + dropped;
    if let Some(declared) = declared.filter(|&count| count != points) {
        return Err(DelimitedError::Count { declared, points });
    }
    let (lines, codes) = codes.finish();
    let mut surface = RawSurface {
        lines,
        names: codes.iter().map(|(code, _)| code.clone()).collect(),
        accuracies: stated,
        ..RawSurface::default()
    };
    if dropped > 0 {
        (surface.left_out).insert("points with a code to skip".into(), dropped);
    }
    Ok(Delimited {
        surface,
        reading: Reading { roles, first },
        rows: shown,
        header,
        delimiter: rows.delimiter(),
        decimal_comma: numbers == Numbers::Comma,
        encoding: rows.encoding(),
        comments: rows.comments(),
        codes,
    })
}

/// The number of points in a row that has nothing else.
fn count_alone(record: &Row) -> Option<usize> {
    let field = record.get(0).filter(|_| record.len() == 1)?;
    field
        .iter()
        .all(u8::is_ascii_digit)
        .then(|| text(field).parse().ok())?
}

/// Why a field holds no number: it is missing, or something else stands there.
fn not_read(record: &Row, index: usize, role: Role, line: u64) -> DelimitedError {
    let at = Position {
        line,
        column: index as u64 + 1,
    };
    match record.get(index) {
        None => DelimitedError::ShortRow {
            at,
            found: record.len(),
            role,
            expected: index + 1,
        },
        Some(field) => DelimitedError::NotANumber {
            at,
            found: text(field),
            role,
        },
    }
}

#[cfg(test)]
mod tests;
