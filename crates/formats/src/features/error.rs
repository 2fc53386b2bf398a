//! Why features are not what is asked for.

/// Why features are not what is asked for.
#[derive(Debug, Clone, PartialEq, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum FeatureError {
    /// The file has no polygon.
    #[error("the file has no polygon ({left_out} other features)")]
    NoZone {
        /// Features that are not areas.
        left_out: usize,
    },
    /// Two zones have the same name.
    #[error("two zones have the name \"{name}\"")]
    NameTwice {
        /// The name.
        name: String,
    },
    /// No feature has the attribute for the names.
    #[error("no feature has the attribute \"{wanted}\"; the attributes are {}", spelled(.found))]
    NoAttribute {
        /// The attribute.
        wanted: String,
        /// The attributes there are.
        found: Vec<String>,
    },
    /// No feature has this name.
    #[error("no feature has the name \"{name}\"; the names are {}", spelled(.found))]
    NoSuchName {
        /// The name.
        name: String,
        /// The names there are.
        found: Vec<String>,
    },
    /// No feature has heights.
    #[error("none of the {features} features has heights to make a surface from")]
    NoHeights {
        /// All features.
        features: usize,
    },
    /// The file has triangles as well as points or lines.
    #[error("the file has {facets} triangles as well as points or lines")]
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
            E::NoZone { .. } => "use a file with closed outlines as polygons",
            E::NameTwice { .. } => {
                "give each zone its own name, or choose another attribute with --name-attribute"
            }
            E::NoAttribute { .. } => "choose one of them with --name-attribute",
            E::NoSuchName { .. } => {
                "give one of them after #, or choose another attribute with --name-attribute"
            }
            E::NoHeights { .. } => "use a file of points or lines with heights",
            E::Mixed { .. } => "keep only the triangles, or only the points and lines",
        }
    }
}

dapedon_diagnostic::diagnostic!(FeatureError, "feature");
