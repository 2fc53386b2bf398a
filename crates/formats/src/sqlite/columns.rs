//! The columns of a table, from the text that made it.

use std::borrow::Cow;
use std::str::CharIndices;

/// A stored column.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Column {
    pub(super) name: String,
    /// True for the key that is the number of the row.
    pub(super) is_row_number: bool,
}

/// What a definition starts with that is none of a column.
const RULES: [&str; 5] = ["CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN"];

/// A word, a quoted name, or a sign.
#[derive(Debug, Clone, PartialEq)]
enum Word<'t> {
    Bare(&'t str),
    Quoted(Cow<'t, str>),
    Sign(char),
}

impl Word<'_> {
    fn is(&self, keyword: &str) -> bool {
        matches!(self, Word::Bare(word) if word.eq_ignore_ascii_case(keyword))
    }

    fn name(&self) -> Option<&str> {
        match self {
            Word::Bare(name) => Some(name),
            Word::Quoted(name) => Some(name),
            Word::Sign(_) => None,
        }
    }
}

/// The stored columns of a table, in their order; and whether its rows have numbers.
pub(super) fn of(made: &str) -> (Vec<Column>, bool) {
    let words = words(made);
    let mut definitions: Vec<Vec<&Word<'_>>> = Vec::new();
    let mut depth = 0_usize;
    let mut after = 0;
    for (index, word) in words.iter().enumerate() {
        match word {
            Word::Sign('(') => depth += 1,
            Word::Sign(')') => depth = depth.saturating_sub(1),
            _ => {}
        }
        match (word, depth, definitions.last_mut()) {
            (Word::Sign('('), 1, None) => definitions.push(Vec::new()),
            (Word::Sign(','), 1, Some(_)) => definitions.push(Vec::new()),
            (Word::Sign(')'), 0, Some(_)) => {
                after = index;
                break;
            }
            (word, 1.., Some(definition)) => definition.push(word),
            _ => {}
        }
    }
    let is_rule = |definition: &[&Word<'_>]| {
        let first = definition.first();
        first.is_some_and(|word| RULES.iter().any(|rule| word.is(rule)))
    };
    let (rules, own): (Vec<_>, Vec<_>) = definitions.iter().partition(|words| is_rule(words));
    let key = rules.iter().find_map(|rule| key(rule));
    let columns = own.into_iter().filter_map(|words| column(words, key));
    let has_row_numbers = !words[after..].iter().any(|word| word.is("WITHOUT"));
    (columns.collect(), has_row_numbers)
}

/// The column of a key that is stated after the columns.
fn key<'w>(rule: &'w [&'w Word<'w>]) -> Option<&'w str> {
    let at = rule.iter().position(|word| word.is("PRIMARY"))?;
    match rule.get(at + 2..)? {
        [Word::Sign('('), name, Word::Sign(')'), ..] => name.name(),
        _ => None,
    }
}

/// A column of a definition; none where its values are worked out and not stored.
fn column(words: &[&Word<'_>], key: Option<&str>) -> Option<Column> {
    let name = words.first()?.name()?.to_owned();
    let has = |keyword| words.iter().any(|word| word.is(keyword));
    if has("AS") && !has("STORED") {
        return None;
    }
    // Only a key of exactly this type is the number of the row.
    let is_integer = words.get(1).is_some_and(|word| word.is("INTEGER"));
    let is_key = has("PRIMARY") || key.is_some_and(|key| key.eq_ignore_ascii_case(&name));
    Some(Column {
        name,
        is_row_number: is_integer && is_key,
    })
}

/// The words of a text, without remarks.
fn words(text: &str) -> Vec<Word<'_>> {
    let mut found = Vec::new();
    let mut rest = text;
    while let Some(next) = rest.chars().next() {
        let after = &rest[next.len_utf8()..];
        rest = match next {
            _ if rest.starts_with("--") => rest.split_once('\n').map_or("", |(_, after)| after),
            _ if rest.starts_with("/*") => rest.split_once("*/").map_or("", |(_, after)| after),
            '"' | '`' | '\'' | '[' => {
                let close = if next == '[' { ']' } else { next };
                let (name, after) = quoted(after, close);
                found.push(Word::Quoted(name));
                after
            }
            _ if next.is_alphanumeric() || next == '_' => {
                let end = rest.find(|c: char| !(c.is_alphanumeric() || c == '_' || c == '$'));
                let (word, after) = rest.split_at(end.unwrap_or(rest.len()));
                found.push(Word::Bare(word));
                after
            }
            _ => {
                if !next.is_whitespace() {
                    found.push(Word::Sign(next));
                }
                after
            }
        };
    }
    found
}

/// A name up to its closing sign, which is written twice within it; and what follows.
fn quoted(text: &str, close: char) -> (Cow<'_, str>, &str) {
    let mut signs: CharIndices<'_> = text.char_indices();
    let mut is_doubled = false;
    while let Some((at, sign)) = signs.next() {
        if sign != close {
            continue;
        }
        if close != ']' && text[at + 1..].starts_with(close) {
            is_doubled = true;
            signs.next();
            continue;
        }
        let name = match is_doubled {
            true => text[..at]
                .replace(&format!("{close}{close}"), &close.to_string())
                .into(),
            false => text[..at].into(),
        };
        return (name, &text[at + 1..]);
    }
    (text.into(), "")
}

#[cfg(test)]
mod tests {
    use super::*;

    fn names(made: &str) -> Vec<String> {
        let (columns, _) = of(made);
        let shown = columns
            .into_iter()
            .map(|column| match column.is_row_number {
                true => format!("{} = row", column.name),
                false => column.name,
            });
        shown.collect()
    }

    #[test]
    fn columns_are_named_as_the_text_that_made_them_says() {
        for (made, expected) in [
            (
                "CREATE TABLE a (fid INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, geom POLYGON, n TEXT(20))",
                &["fid = row", "geom", "n"][..],
            ),
            (
                "CREATE TABLE \"a b\" ( \"o\"\"k\" MEDIUMINT, [x y] REAL DEFAULT (1, 2), `z` DOUBLE, 'w' TEXT)",
                &["o\"k", "x y", "z", "w"],
            ),
            (
                "CREATE TABLE a(id INTEGER, -- the key, of\n b TEXT /* , c */, PRIMARY KEY (ID), CHECK (b IN (',', ')')))",
                &["id = row", "b"],
            ),
            (
                "CREATE TABLE a(id INT PRIMARY KEY, v REAL GENERATED ALWAYS AS (id*2) VIRTUAL, s REAL AS (id*3) STORED, Größe REAL)",
                &["id", "s", "Größe"],
            ),
            (
                "CREATE TABLE a(x, y, CONSTRAINT k UNIQUE(x, y))",
                &["x", "y"],
            ),
            ("CREATE TABLE", &[]),
            ("CREATE TABLE a(\"", &[""]),
        ] {
            assert_eq!(names(made), expected, "{made}");
        }
    }

    #[test]
    fn tables_in_the_order_of_their_key_are_noticed() {
        assert!(of("CREATE TABLE a(b TEXT DEFAULT 'WITHOUT', c)").1);
        assert!(!of("CREATE TABLE a(b TEXT PRIMARY KEY) WITHOUT ROWID").1);
    }
}
