//! Why there are no sections.

use crate::error::job_error;
use crate::input::Memory;

/// Why there are no sections.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
#[non_exhaustive]
pub enum SectionsError {
    /// An interval makes too many sections.
    #[error("an interval of {interval} makes {count:.0} sections; at most 20000 are cut")]
    ManySections {
        /// The interval.
        interval: f64,
        /// How many sections it makes.
        count: f64,
        /// An interval that would do.
        enough: f64,
    },
    /// Nothing says how wide sections are.
    #[error("nothing says how far the sections reach")]
    NoWidth,
    /// The lines of all sections are too many for the memory.
    #[error("the surfaces in {sections} sections do not fit into {memory}")]
    TooLarge {
        /// How many sections there are.
        sections: usize,
        /// The memory that there is.
        memory: Memory,
    },
    /// Sections are wider than any site.
    #[error("sections {width} wide are wider than any site; at most {most} are cut")]
    TooWide {
        /// Their width.
        width: f64,
        /// The most.
        most: f64,
    },
    /// There are no layers to cut.
    #[error("neither surface goes below a build-up: there are no layers to cut")]
    NoLayers,
    /// No section has both surfaces.
    #[error("no section has both surfaces: they are not together anywhere across the line")]
    NoSection,
}

impl SectionsError {
    fn remedy(&self) -> String {
        match self {
            SectionsError::ManySections { enough, .. } => {
                format!("use an interval of {enough} or more")
            }
            SectionsError::TooLarge { .. } => {
                "use a larger interval or smaller widths, or more memory with --memory".into()
            }
            SectionsError::TooWide { .. } => "use a smaller width, in the unit of the survey".into(),
            SectionsError::NoWidth => {
                "give --width, or --left and --right, or --zone to cut out to its edge".into()
            }
            SectionsError::NoLayers => {
                "measure a surface of the job that has a build-up step, or leave out --layers".into()
            }
            SectionsError::NoSection => {
                "check the line and the surfaces with dapedon inspect: their extents must overlap, in one unit and system".into()
            }
        }
    }
}

dapedon_diagnostic::diagnostic!(SectionsError, "sections");
job_error!(SectionsError);
