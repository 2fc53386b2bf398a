//! Rows of two numbers, as a table of levels and areas.

use std::io::BufRead;

use super::DelimitedError;
use super::number::Numbers;
use super::rows::{Row, Rows};
use crate::Position;

/// Two numbers, and the line they stand in.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pair {
    /// The line.
    pub line: u64,
    /// The numbers, in the order of the columns.
    pub numbers: [f64; 2],
}

/// Reads rows of two numbers each, below a header or without one.
///
/// # Errors
///
/// When a row has other than two numbers, or there is none.
pub fn read_pairs(input: impl BufRead) -> Result<Vec<Pair>, DelimitedError> {
    let mut rows = Rows::open(input)?;
    let (mut row, mut pairs, mut first) = (Row::default(), Vec::new(), true);
    while let Some(line) = rows.next(&mut row)? {
        let numbers = Numbers::of(row.iter());
        let found: Vec<Option<f64>> = row.iter().map(|field| numbers.parse(field)).collect();
        let header = first && found.iter().all(Option::is_none);
        first = false;
        match found[..] {
            [Some(one), Some(other)] => pairs.push(Pair {
                line,
                numbers: [one, other],
            }),
            _ if header => {}
            _ => {
                let fields = row.iter().map(String::from_utf8_lossy);
                return Err(DelimitedError::NotAPair {
                    at: Position { line, column: 1 },
                    found: fields.collect::<Vec<_>>().join(" | "),
                });
            }
        }
    }
    match pairs.is_empty() {
        true => Err(DelimitedError::NoPair),
        false => Ok(pairs),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn numbers(text: &str) -> Vec<[f64; 2]> {
        let pairs = read_pairs(text.as_bytes()).unwrap();
        pairs.into_iter().map(|pair| pair.numbers).collect()
    }

    #[test]
    fn rows_of_two_numbers_are_read() {
        let expected = [[20.0, 0.0], [20.5, 310.25]];
        assert_eq!(numbers("level,area\n20,0\n\n20.5,310.25\n"), expected);
        assert_eq!(
            numbers("20 0\n20.5\t310.25\n".replace('\t', " ").as_str()),
            expected
        );
        assert_eq!(numbers("Pegel;Flaeche\n20;0\n20,5;310,25\n"), expected);
        let pairs = read_pairs("# a remark\nlevel,area\n1,2\n".as_bytes()).unwrap();
        assert_eq!(pairs[0].line, 3);
    }

    #[test]
    fn other_rows_are_refused_with_their_line() {
        let error = |text: &str| read_pairs(text.as_bytes()).unwrap_err();
        for (text, line) in [
            ("1,2\n3\n", 2),
            ("1,2\n3,high\n", 2),
            ("1,2,3\n", 1),
            ("level,area\nlevel,area\n", 2),
        ] {
            assert_eq!(error(text).at().unwrap().line, line, "{text}");
        }
        assert!(matches!(error("level,area\n"), DelimitedError::NoPair));
        assert!(matches!(error("1,nan\n"), DelimitedError::NotAPair { .. }));
    }
}
