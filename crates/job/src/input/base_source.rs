//! What a pile is taken to stand on, as a person says it.

use std::fmt;
use std::str::FromStr;

use dapedon_core::quantities::Base;

use crate::input::source::{Source, SourceError};

/// What piles are taken to stand on.
#[derive(Debug, Clone, PartialEq)]
pub enum BaseSource {
    /// A surface through the toe.
    Toe,
    /// The plane that fits the toe.
    Plane,
    /// A level at the lowest height of the toe.
    Lowest,
    /// A level at its mean height.
    Mean,
    /// A surface: an earlier one, or a level.
    Surface(Source),
}

impl BaseSource {
    /// Those that are found from the toe.
    pub(crate) const OF_TOE: [BaseSource; 4] = [
        BaseSource::Toe,
        BaseSource::Plane,
        BaseSource::Lowest,
        BaseSource::Mean,
    ];

    /// How it is found from the toe, where it is.
    pub(crate) fn of_toe(&self) -> Option<Base> {
        match self {
            BaseSource::Toe => Some(Base::Toe),
            BaseSource::Plane => Some(Base::Plane),
            BaseSource::Lowest => Some(Base::Lowest),
            BaseSource::Mean => Some(Base::Mean),
            BaseSource::Surface(_) => None,
        }
    }

    /// What it is, in words; of pits the outline is a rim.
    pub fn words(&self, pit: bool) -> String {
        let edge = if pit { "rim" } else { "toe" };
        match self {
            BaseSource::Toe => format!("a surface through the {edge}"),
            BaseSource::Plane => format!("the plane that fits the {edge}"),
            BaseSource::Lowest => format!("a level at the lowest height of the {edge}"),
            BaseSource::Mean => format!("a level at the mean height of the {edge}"),
            BaseSource::Surface(Source::Level(height)) => format!("the level {height}"),
            BaseSource::Surface(source) => format!("the surface {source}"),
        }
    }
}

impl FromStr for BaseSource {
    type Err = SourceError;

    fn from_str(text: &str) -> Result<Self, SourceError> {
        let mut known = BaseSource::OF_TOE.into_iter();
        match known.find(|base| base.to_string() == text) {
            Some(base) => Ok(base),
            None => text.parse().map(BaseSource::Surface),
        }
    }
}

impl fmt::Display for BaseSource {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            BaseSource::Toe => f.write_str("toe"),
            BaseSource::Plane => f.write_str("plane"),
            BaseSource::Lowest => f.write_str("lowest"),
            BaseSource::Mean => f.write_str("mean"),
            BaseSource::Surface(source) => write!(f, "{source}"),
        }
    }
}
