//! The codes of points, and the lines they join.

use std::collections::{BTreeMap, HashMap};

use dapedon_core::points::Line;

use crate::{CodeUse, CodeUses};

/// Codes that are distinguished; beyond that the column holds something else.
const MANY: usize = 1000;

/// Codes as they come by, row by row.
pub(crate) struct Codes<'t> {
    take: &'t CodeUses,
    known: HashMap<Vec<u8>, usize>,
    /// Each code, how many points have it, what it is taken as, and the line it is on.
    codes: Vec<(String, usize, Option<CodeUse>, Option<usize>)>,
    lines: Vec<Line>,
    /// Codes that came by lately, by their shape.
    recent: [usize; 16],
}

impl<'t> Codes<'t> {
    pub(crate) fn new(take: &'t CodeUses) -> Self {
        Codes {
            take,
            known: HashMap::new(),
            codes: Vec::new(),
            lines: Vec::new(),
            recent: [usize::MAX; 16],
        }
    }

    /// Takes the code of a point in; says what it is taken as.
    pub(crate) fn point(&mut self, code: &[u8], point: u32) -> Option<CodeUse> {
        let code = code.trim_ascii();
        if code.is_empty() {
            return None;
        }
        let shape = code.len() + usize::from(code[0]) + 3 * usize::from(code[code.len() - 1]);
        let shape = shape % self.recent.len();
        let lately = self.recent[shape];
        let same = |(known, ..): &(String, usize, _, _)| known.as_bytes() == code;
        let index = match self.codes.get(lately).filter(|lately| same(lately)) {
            Some(_) => lately,
            None => match self.known.get(code) {
                Some(&known) => known,
                None if self.codes.len() >= MANY && self.take.is_empty() => return None,
                None => self.learn(code),
            },
        };
        self.recent[shape] = index;
        let (_, count, taken, line) = &mut self.codes[index];
        *count += 1;
        if let (Some(CodeUse::Line(kind)), None) = (*taken, *line) {
            *line = Some(self.lines.len());
            self.lines.push(Line {
                kind,
                points: Vec::new(),
            });
        }
        if let Some(line) = *line {
            self.lines[line].points.push(point);
        }
        *taken
    }

    /// A code not seen before, or one in other letters, large or small.
    fn learn(&mut self, code: &[u8]) -> usize {
        let name = plain(code);
        let taken = self.take.of_code(&name);
        let next = self.codes.len();
        let index = *(self.known.entry(name.to_lowercase().into_bytes())).or_insert(next);
        self.known.insert(code.to_vec(), index);
        if index == next {
            self.codes.push((name, 0, taken, None));
        }
        index
    }

    /// The lines in the order of their first points, and the codes with their counts by name.
    pub(crate) fn finish(self) -> (Vec<Line>, Vec<(String, usize)>) {
        let mut counts = BTreeMap::new();
        for (code, count, ..) in self.codes {
            *counts.entry(code).or_insert(0) += count;
        }
        (self.lines, counts.into_iter().collect())
    }
}

/// Bytes as text: UTF-8, or else Latin-1, in which each byte is the character of its number.
pub(crate) fn plain(bytes: &[u8]) -> String {
    let bytes = bytes.trim_ascii();
    match std::str::from_utf8(bytes) {
        Ok(text) => text.to_owned(),
        Err(_) => bytes.iter().map(|&byte| char::from(byte)).collect(),
    }
}
