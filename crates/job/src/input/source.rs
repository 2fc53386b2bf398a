//! Where a surface or a zone comes from, as a person types it.

use std::fmt;
use std::path::{Path, PathBuf};

/// A surface: `file`, `file#name` where a file holds several, or `level=101.5`.
#[derive(Debug, Clone, PartialEq)]
pub enum Source {
    /// A file, and the surface of that name in it.
    File {
        /// The file.
        path: PathBuf,
        /// The name, if one was given.
        name: Option<String>,
    },
    /// Several files that are one cloud: `east.laz+west.laz`.
    Files(Vec<PathBuf>),
    /// A horizontal plane.
    Level(f64),
    /// A surface of the job.
    Named(String),
}

/// Zones: all of a file, `file#name`, or a name of the job.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub enum ZoneSource {
    /// A file.
    File {
        /// The file.
        path: PathBuf,
        /// The name, if one was given.
        name: Option<String>,
    },
    /// Zones of the job.
    Named(String),
}

/// A line: the only one of a file, `file#name`, or a name of the job.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum LineSource {
    /// A file.
    File {
        /// The file.
        path: PathBuf,
        /// The name, if one was given.
        name: Option<String>,
    },
    /// A line of the job.
    Named(String),
}

impl LineSource {
    /// The file it names.
    pub fn path(&self) -> Option<&Path> {
        match self {
            LineSource::File { path, .. } => Some(path),
            LineSource::Named(_) => None,
        }
    }
}

impl std::str::FromStr for LineSource {
    type Err = std::convert::Infallible;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        let (path, name) = split(text);
        Ok(LineSource::File { path, name })
    }
}

impl fmt::Display for LineSource {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            LineSource::File { path, name: None } => write!(f, "{}", path.display()),
            LineSource::File {
                path,
                name: Some(name),
            } => write!(f, "{}#{name}", path.display()),
            LineSource::Named(name) => write!(f, "{name}"),
        }
    }
}

impl ZoneSource {
    /// The file it names.
    pub fn path(&self) -> Option<&Path> {
        match self {
            ZoneSource::File { path, .. } => Some(path),
            ZoneSource::Named(_) => None,
        }
    }
}

impl Source {
    /// The files it names.
    pub fn paths(&self) -> &[PathBuf] {
        match self {
            Source::File { path, .. } => std::slice::from_ref(path),
            Source::Files(paths) => paths,
            Source::Level(_) | Source::Named(_) => &[],
        }
    }
}

/// A level that is no height.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("\"{0}\" is not a height; write a level as in level=101.5")]
pub struct SourceError(String);

impl std::str::FromStr for Source {
    type Err = SourceError;

    fn from_str(text: &str) -> Result<Self, SourceError> {
        if let Some(height) = text.strip_prefix("level=") {
            let parsed = height
                .trim()
                .parse()
                .ok()
                .filter(|h: &f64| h.abs() <= dapedon_core::surface::FARTHEST);
            return parsed
                .map(Source::Level)
                .ok_or_else(|| SourceError(height.into()));
        }
        if let Some(paths) = joined(text) {
            return Ok(Source::Files(paths));
        }
        let (path, name) = split(text);
        Ok(Source::File { path, name })
    }
}

impl std::str::FromStr for ZoneSource {
    type Err = std::convert::Infallible;

    fn from_str(text: &str) -> Result<Self, Self::Err> {
        let (path, name) = split(text);
        Ok(ZoneSource::File { path, name })
    }
}

/// The files of `east.laz+west.laz`, unless the whole is a file.
pub(crate) fn joined(text: &str) -> Option<Vec<PathBuf>> {
    let paths: Vec<PathBuf> = text.split('+').map(PathBuf::from).collect();
    let several = paths.len() > 1 && !paths.iter().any(|path| path.as_os_str().is_empty());
    (several && !Path::new(text).exists()).then_some(paths)
}

/// The file and the name after the last `#`, unless the whole is a file.
fn split(text: &str) -> (PathBuf, Option<String>) {
    match text.rsplit_once('#') {
        Some((path, name)) if !path.is_empty() && !Path::new(text).exists() => {
            (path.into(), Some(name.into()))
        }
        _ => (text.into(), None),
    }
}

impl fmt::Display for ZoneSource {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            ZoneSource::File { path, name: None } => write!(f, "{}", path.display()),
            ZoneSource::File {
                path,
                name: Some(name),
            } => write!(f, "{}#{name}", path.display()),
            ZoneSource::Named(name) => write!(f, "{name}"),
        }
    }
}

impl fmt::Display for Source {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Source::File { path, name: None } => write!(f, "{}", path.display()),
            Source::File {
                path,
                name: Some(name),
            } => write!(f, "{}#{name}", path.display()),
            Source::Files(paths) => {
                let names: Vec<String> = paths.iter().map(|p| p.display().to_string()).collect();
                write!(f, "{}", names.join("+"))
            }
            Source::Level(height) => write!(f, "level={height}"),
            Source::Named(name) => write!(f, "{name}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sources_are_read_as_typed() {
        let source = |text: &str| text.parse::<Source>();
        let file = |path: &str, name: Option<&str>| Source::File {
            path: path.into(),
            name: name.map(Into::into),
        };
        assert_eq!(source("level=-1.5").unwrap(), Source::Level(-1.5));
        assert_eq!(source("a/b.xml").unwrap(), file("a/b.xml", None));
        let cloud = Source::Files(vec!["a.laz".into(), "b/c.las".into()]);
        assert_eq!(source("a.laz+b/c.las").unwrap(), cloud);
        assert_eq!(source("a.laz+").unwrap(), file("a.laz+", None));
        assert_eq!(
            source("a.xml#top soil").unwrap(),
            file("a.xml", Some("top soil"))
        );
        assert!(
            source("level=high").is_err()
                && source("level=NaN").is_err()
                && source("level=").is_err()
        );
        for text in ["level=-1.5", "a.xml#top soil", "a.xml", "a.laz+b.las"] {
            assert_eq!(source(text).unwrap().to_string(), text);
        }
    }
}
