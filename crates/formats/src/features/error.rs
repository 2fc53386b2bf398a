//! Why features are not what is asked for.

/// Why features are not what is asked for.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum FeatureError {
    /// No feature is an area.
    #[error("there is no polygon in it ({left_out} other features)")]
    NoZone {
        /// Features that are not areas.
        left_out: usize,
    },
    /// Two zones have one name.
    #[error("two zones are named \"{name}\"")]
    NameTwice {
        /// The name.
        name: String,
    },
    /// No feature has the attribute that should name it.
    #[error("no feature has the attribute \"{wanted}\"; there are {}", spelled(.found))]
    NoAttribute {
        /// The attribute.
        wanted: String,
        /// The attributes there are.
        found: Vec<String>,
    },
    /// No feature has the name asked for.
    #[error("no feature is named \"{name}\"; the names are {}", spelled(.found))]
    NoSuchName {
        /// The name.
        name: String,
        /// The names there are.
        found: Vec<String>,
    },
    /// Nothing has heights.
    #[error("nothing in it has heights to make a surface of ({features} features)")]
    NoHeights {
        /// All features.
        features: usize,
    },
    /// Facets, and points or lines too: one of the two is meant.
    #[error("it holds {facets} facets, and points or lines besides")]
    Mixed {
        /// Facets.
        facets: usize,
    },
}

fn spelled(names: &[String]) -> String {
    match names {
        [] => "none".into(),
        names => names.join(", "),
    }
}

impl FeatureError {
    /// What to do about it.
    pub fn remedy(&self) -> &'static str {
        use FeatureError as E;
        match self {
            E::NoZone { .. } => "hand over closed outlines, as polygons",
            E::NameTwice { .. } => {
                "give each zone a name of its own, or name zones by another attribute with --name-attribute"
            }
            E::NoAttribute { .. } => "name one of them with --name-attribute",
            E::NoSuchName { .. } => {
                "name one of them after the #, or name features by another attribute with --name-attribute"
            }
            E::NoHeights { .. } => "hand over points or lines with heights",
            E::Mixed { .. } => "hand over the one or the other",
        }
    }
}

dapedon_diagnostic::diagnostic!(FeatureError, "feature");
