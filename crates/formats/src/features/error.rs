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
    /// The coordinates are latitude and longitude in degrees.
    #[error("the coordinates are latitude and longitude in degrees (.prj)")]
    Degrees,
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
    /// The file has several layers.
    #[error("the file has {} layers: {}", .found.len(), spelled(.found))]
    SeveralLayers {
        /// Their names.
        found: Vec<String>,
    },
    /// No layer has this name.
    #[error("no layer is called \"{name}\"; the layers are {}", spelled(.found))]
    NoSuchLayer {
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
        /// Attributes that may hold their heights.
        numeric: Vec<String>,
    },
    /// No feature has the attribute for the heights.
    #[error("no feature has the attribute \"{wanted}\"; the attributes with numbers are {}", spelled(.found))]
    NoHeightAttribute {
        /// The attribute.
        wanted: String,
        /// The attributes there are with numbers.
        found: Vec<String>,
    },
    /// An attribute has values that are not heights.
    #[error("the attribute {attribute} has values that are not heights; feature and value: {}", .rows.join(", "))]
    NotHeights {
        /// The attribute.
        attribute: String,
        /// The first of the features, with their values.
        rows: Vec<String>,
    },
    /// The file has triangles as well as points or lines.
    #[error("the file has {facets} triangles as well as points or lines")]
    Mixed {
        /// Facets.
        facets: usize,
    },
}

/// Names that are listed in a message.
const NAMED: usize = 20;

fn spelled(names: &[String]) -> String {
    match names {
        [] => "none".into(),
        names if names.len() > NAMED => {
            let more = names.len() - NAMED;
            format!("{}, and {more} more", names[..NAMED].join(", "))
        }
        names => names.join(", "),
    }
}

impl FeatureError {
    /// What to do about it.
    pub fn remedy(&self) -> String {
        use FeatureError as E;
        let words = match self {
            E::NoHeights { numeric, .. } if !numeric.is_empty() => {
                return format!(
                    "give the attribute with their heights, as in --height-by {}",
                    numeric.join(" or --height-by ")
                );
            }
            E::NoHeightAttribute { .. } => "choose one of them with --height-by",
            E::NotHeights { .. } => {
                "correct these values, leave them empty, or choose another attribute with --height-by"
            }
            E::NoZone { .. } => "use a file with closed outlines as polygons",
            E::Degrees => "convert it to the survey's grid: volumes need lengths, not degrees",
            E::NameTwice { .. } => {
                "give each zone its own name, or choose another attribute with --name-attribute"
            }
            E::NoAttribute { .. } => "choose one of them with --name-attribute",
            E::NoSuchName { .. } => {
                "give one of them after #, or choose another attribute with --name-attribute"
            }
            E::SeveralLayers { found } => {
                let first = found.first().map_or("NAME", String::as_str);
                return format!("give one of them after the file, as in FILE#{first}");
            }
            E::NoSuchLayer { .. } => "give one of them after #",
            E::NoHeights { .. } => "use a file of points or lines with heights",
            E::Mixed { .. } => "keep only the triangles, or only the points and lines",
        };
        words.into()
    }
}

dapedon_diagnostic::diagnostic!(FeatureError, "feature");
