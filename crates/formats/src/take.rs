//! What the codes of points and the layers of drawings are taken as.

use std::fmt;

use dapedon_core::points::LineKind;

/// What a code or layer is taken as.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Taken {
    /// Points, and nothing between them.
    Points,
    /// Lines between their points.
    Line(LineKind),
    /// Facets.
    Facets,
    /// Nothing: left out.
    Nothing,
}

/// What codes of points and layers of drawings are taken as, by their names.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Take {
    names: Vec<(String, Taken)>,
}

/// Why words do not say what is taken as what.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum TakeError {
    /// There is no equals sign.
    #[error("\"{0}\" does not say what it is taken as; expected as in CREST=breakline")]
    NoKind(String),
    /// A word that is no kind.
    #[error(
        "\"{found}\" is nothing to take \"{name}\" as; the kinds are {}",
        Taken::words()
    )]
    UnknownKind {
        /// The code or layer.
        name: String,
        /// The word.
        found: String,
    },
    /// One name, two kinds.
    #[error("\"{0}\" is taken twice")]
    Twice(String),
}

impl TakeError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        match self {
            TakeError::NoKind(_) | TakeError::UnknownKind { .. } => {
                "say it as in --codes CREST=breakline,LIMIT=edge"
            }
            TakeError::Twice(_) => "name it once",
        }
    }
}

dapedon_diagnostic::diagnostic!(TakeError, "take");

impl Taken {
    const ALL: [Taken; 7] = [
        Taken::Points,
        Taken::Line(LineKind::Breakline),
        Taken::Line(LineKind::Edge),
        Taken::Line(LineKind::Hole),
        Taken::Line(LineKind::Island),
        Taken::Facets,
        Taken::Nothing,
    ];

    const fn word(self) -> &'static str {
        match self {
            Taken::Points => "points",
            Taken::Line(LineKind::Breakline) => "breakline",
            Taken::Line(LineKind::Edge) => "edge",
            Taken::Line(LineKind::Hole) => "hole",
            Taken::Line(LineKind::Island) => "island",
            Taken::Facets => "facets",
            Taken::Nothing => "nothing",
        }
    }

    /// Every kind, parted by commas.
    pub fn words() -> String {
        Taken::ALL.map(Taken::word).join(", ")
    }
}

impl fmt::Display for Taken {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

impl Take {
    /// Adds what more words say, as in `CREST,TOE=breakline,LIMIT=edge`.
    ///
    /// # Errors
    ///
    /// When they do not say it, or a name is there already.
    pub fn add(&mut self, words: &str) -> Result<(), TakeError> {
        let mut waiting = Vec::new();
        for word in words.split(',') {
            let Some((name, kind)) = word.rsplit_once('=') else {
                waiting.push(word.trim());
                continue;
            };
            let (name, kind) = (name.trim(), kind.trim());
            let taken = Taken::ALL
                .into_iter()
                .find(|taken| taken.word() == kind.to_lowercase());
            let taken = taken.ok_or_else(|| TakeError::UnknownKind {
                name: name.into(),
                found: kind.into(),
            })?;
            for name in waiting.drain(..).chain([name]) {
                if self.of(name).is_some() {
                    return Err(TakeError::Twice(name.into()));
                }
                self.names.push((name.into(), taken));
            }
        }
        match waiting.first() {
            Some(name) => Err(TakeError::NoKind((*name).into())),
            None => Ok(()),
        }
    }

    /// True when nothing is said.
    pub fn is_empty(&self) -> bool {
        self.names.is_empty()
    }

    /// What a name is taken as, whatever its case; `None` when nothing is said of it.
    pub fn of(&self, name: &str) -> Option<Taken> {
        let named = (self.names.iter()).find(|(known, _)| known.eq_ignore_ascii_case(name));
        named.map(|&(_, taken)| taken)
    }

    /// What a point's code is taken as: a number after it tells strings of one code apart.
    ///
    /// ```
    /// use dapedon_core::points::LineKind;
    /// use dapedon_formats::{Take, Taken};
    /// let mut take = Take::default();
    /// take.add("crest=breakline").unwrap();
    /// assert_eq!(take.of_code("CREST2"), Some(Taken::Line(LineKind::Breakline)));
    /// assert_eq!(take.of_code("crestline"), None);
    /// ```
    pub fn of_code(&self, code: &str) -> Option<Taken> {
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
        let mut take = Take::default();
        take.add("toe,crest = breakline, Site limit=EDGE").unwrap();
        assert_eq!(take.of("SITE LIMIT"), Some(Taken::Line(LineKind::Edge)));
        assert_eq!(
            take.of_code("Crest 12"),
            Some(Taken::Line(LineKind::Breakline))
        );
        assert_eq!(take.of("crest1"), None);
        assert_eq!(take.of("Toe"), Some(Taken::Line(LineKind::Breakline)));
        assert_eq!(take.unknown(["crest7", "toe"].into_iter()), ["Site limit"]);
        assert!(take.names_any(["toe"].into_iter()) && !take.names_any(["tree"].into_iter()));
    }

    #[test]
    fn words_that_do_not_say_it_are_refused() {
        let refused = |words: &str| Take::default().add(words).unwrap_err().to_string();
        assert!(refused("crest").contains("CREST=breakline"));
        assert!(refused("crest=brakeline").contains("points, breakline, edge"));
        assert_eq!(refused("a=edge,A=hole"), "\"A\" is taken twice");
    }
}
