//! The use of point codes and drawing layers.

use std::fmt;

use dapedon_core::points::LineKind;

/// The use of a code or layer.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum CodeUse {
    /// Single points.
    Points,
    /// Lines between their points.
    Line(LineKind),
    /// Triangles as drawn.
    Triangles,
    /// Heights that are written in a drawing, as text or as attributes of blocks; elsewhere points.
    Heights,
    /// Not used, but counted.
    Skip,
}

/// The uses of point codes and drawing layers, by name.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct CodeUses {
    names: Vec<(String, CodeUse)>,
}

/// Why the uses of codes cannot be understood.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum CodeUsesError {
    /// A code or layer has no use after it.
    #[error("\"{0}\" has no use after it; expected as in CREST=breakline")]
    NoKind(String),
    /// The use of a code or layer is not known.
    #[error(
        "\"{found}\" is not a use for \"{name}\"; the uses are {}",
        CodeUse::words()
    )]
    UnknownKind {
        /// The code or layer.
        name: String,
        /// The word.
        found: String,
    },
    /// A code or layer is given twice.
    #[error("\"{0}\" is given twice")]
    Twice(String),
}

impl CodeUsesError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            CodeUsesError::NoKind(_) | CodeUsesError::UnknownKind { .. } => {
                "write it as in --codes CREST=breakline,LIMIT=edge"
            }
            CodeUsesError::Twice(_) => "give it once",
        }
    }
}

dapedon_diagnostic::diagnostic!(CodeUsesError, "code-use");

impl CodeUse {
    const ALL: [CodeUse; 8] = [
        CodeUse::Points,
        CodeUse::Line(LineKind::Breakline),
        CodeUse::Line(LineKind::Edge),
        CodeUse::Line(LineKind::Hole),
        CodeUse::Line(LineKind::Island),
        CodeUse::Triangles,
        CodeUse::Heights,
        CodeUse::Skip,
    ];

    const fn word(self) -> &'static str {
        match self {
            CodeUse::Points => "points",
            CodeUse::Line(LineKind::Breakline) => "breakline",
            CodeUse::Line(LineKind::Edge) => "edge",
            CodeUse::Line(LineKind::Hole) => "hole",
            CodeUse::Line(LineKind::Island) => "island",
            CodeUse::Triangles => "triangles",
            CodeUse::Heights => "heights",
            CodeUse::Skip => "skip",
        }
    }

    /// All uses, separated by commas.
    pub fn words() -> String {
        CodeUse::ALL.map(CodeUse::word).join(", ")
    }
}

impl fmt::Display for CodeUse {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

/// As they are typed.
impl fmt::Display for CodeUses {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let uses: Vec<String> = self
            .names
            .iter()
            .map(|(name, taken)| format!("{name}={taken}"))
            .collect();
        f.write_str(&uses.join(","))
    }
}

impl CodeUses {
    /// Adds uses, as in `CREST,TOE=breakline,LIMIT=edge`.
    ///
    /// # Errors
    ///
    /// When a use is missing or unknown, or a name is given twice.
    pub fn add(&mut self, words: &str) -> Result<(), CodeUsesError> {
        let mut waiting = Vec::new();
        for word in words.split(',') {
            let Some((name, kind)) = word.rsplit_once('=') else {
                waiting.push(word.trim());
                continue;
            };
            let (name, kind) = (name.trim(), kind.trim());
            let taken = CodeUse::ALL
                .into_iter()
                .find(|taken| taken.word() == kind.to_lowercase());
            let taken = taken.ok_or_else(|| CodeUsesError::UnknownKind {
                name: name.into(),
                found: kind.into(),
            })?;
            for name in waiting.drain(..).chain([name]) {
                if self.of(name).is_some() {
                    return Err(CodeUsesError::Twice(name.into()));
                }
                self.names.push((name.into(), taken));
            }
        }
        match waiting.first() {
            Some(name) => Err(CodeUsesError::NoKind((*name).into())),
            None => Ok(()),
        }
    }

    /// True when no use is given.
    pub fn is_empty(&self) -> bool {
        self.names.is_empty()
    }

    /// The use of a name, whatever its case; `None` when none is given.
    pub fn of(&self, name: &str) -> Option<CodeUse> {
        let named = (self.names.iter()).find(|(known, _)| known.eq_ignore_ascii_case(name));
        named.map(|&(_, taken)| taken)
    }

    /// What a point's code is taken as: a number after it tells lines of one code apart.
    ///
    /// ```
    /// use dapedon_core::points::LineKind;
    /// use dapedon_formats::{CodeUse, CodeUses};
    /// let mut uses = CodeUses::default();
    /// uses.add("crest=breakline").unwrap();
    /// assert_eq!(uses.of_code("CREST2"), Some(CodeUse::Line(LineKind::Breakline)));
    /// assert_eq!(uses.of_code("crestline"), None);
    /// ```
    pub fn of_code(&self, code: &str) -> Option<CodeUse> {
        let base = code.trim_end_matches(|c: char| c.is_ascii_digit());
        self.of(code).or_else(|| self.of(base.trim_end()))
    }

    /// True when one of the names is among `found`.
    pub fn names_any<'f>(&self, found: impl Iterator<Item = &'f str> + Clone) -> bool {
        self.unknown(found).len() < self.names.len()
    }

    /// The names that are nowhere among `found`.
    pub fn unknown<'t, 'f>(&'t self, found: impl Iterator<Item = &'f str> + Clone) -> Vec<&'t str> {
        let is_known = |name: &str| {
            found.clone().any(|code| {
                let base = code.trim_end_matches(|c: char| c.is_ascii_digit());
                code.eq_ignore_ascii_case(name) || base.trim_end().eq_ignore_ascii_case(name)
            })
        };
        let names = self.names.iter().map(|(name, _)| name.as_str());
        names.filter(|name| !is_known(name)).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_say_what_is_taken() {
        let mut take = CodeUses::default();
        take.add("toe,crest = breakline, Site limit=EDGE").unwrap();
        assert_eq!(take.of("SITE LIMIT"), Some(CodeUse::Line(LineKind::Edge)));
        assert_eq!(
            take.of_code("Crest 12"),
            Some(CodeUse::Line(LineKind::Breakline))
        );
        assert_eq!(take.of("crest1"), None);
        assert_eq!(take.of("Toe"), Some(CodeUse::Line(LineKind::Breakline)));
        assert_eq!(take.unknown(["crest7", "toe"].into_iter()), ["Site limit"]);
        assert!(take.names_any(["toe"].into_iter()) && !take.names_any(["tree"].into_iter()));
    }

    #[test]
    fn words_that_do_not_say_it_are_refused() {
        let refused = |words: &str| CodeUses::default().add(words).unwrap_err().to_string();
        assert!(refused("crest").contains("CREST=breakline"));
        assert!(refused("crest=brakeline").contains("points, breakline, edge"));
        assert_eq!(refused("a=edge,A=hole"), "\"A\" is given twice");
    }
}
