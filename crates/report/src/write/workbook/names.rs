//! Names of sheets: no two alike, none that a spreadsheet refuses.

use std::collections::{HashMap, HashSet};

/// The longest name of a sheet.
const LONGEST: usize = 31;

/// The names that are taken, and how many begin alike.
#[derive(Default)]
pub(super) struct SheetNames {
    taken: HashSet<String>,
    alike: HashMap<String, u64>,
}

impl SheetNames {
    /// A name for a sheet, near to some words.
    pub(super) fn free(&mut self, words: &str) -> String {
        let plain: String = words
            .chars()
            .map(|letter| match letter {
                '[' | ']' | ':' | '*' | '?' | '/' | '\\' | '\'' => ' ',
                letter if letter.is_control() => ' ',
                letter => letter,
            })
            .collect();
        let mut parts = plain.split_whitespace();
        let first = parts.next().unwrap_or("Sheet").to_owned();
        let plain = parts.fold(first, |all, part| format!("{all} {part}"));
        // Those that begin alike are numbered on: names are not tried from the first.
        let plain = cut(&plain, LONGEST);
        let mut number = self.alike.get(&plain.to_lowercase()).copied().unwrap_or(0);
        loop {
            number = number.saturating_add(1);
            let ending = match number {
                1 => String::new(),
                number => format!(" {number}"),
            };
            let name = format!(
                "{}{ending}",
                cut(&plain, LONGEST.saturating_sub(ending.len()))
            );
            let key = name.to_lowercase();
            // A name that programs keep for themselves.
            if key != "history" && self.taken.insert(key) {
                self.alike.insert(plain.to_lowercase(), number);
                return name;
            }
        }
    }
}

/// The first letters of a text, as long as a spreadsheet counts them.
fn cut(text: &str, most: usize) -> String {
    let mut long = 0usize;
    let letters = text.chars().take_while(|letter| {
        long = long.saturating_add(letter.len_utf16());
        long <= most
    });
    letters.collect::<String>().trim_end().to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_free_and_short() {
        let mut names = SheetNames::default();
        assert_eq!(names.free("2.1  Dig: \"west\" / [a]"), "2.1 Dig \"west\" a");
        let long = "How each quantity of the bill is computed";
        assert_eq!(names.free(long), "How each quantity of the bill i");
        assert_eq!(names.free(long), "How each quantity of the bill 2");
        assert_eq!(names.free("HISTORY"), "HISTORY 2");
        assert_eq!(names.free("'*'"), "Sheet");
        assert_eq!(names.free("sheet"), "sheet 2");
        assert!(names.free(&"😀".repeat(40)).encode_utf16().count() <= LONGEST);
    }
}
