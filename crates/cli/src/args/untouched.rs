//! Ground that nobody touched between two surveys, from the command line.

use std::path::PathBuf;

use clap::Parser;
use dapedon_job::ZoneSource;

use super::paths;

#[derive(Debug, Parser)]
#[command(next_help_heading = "Untouched ground")]
pub(crate) struct UntouchedArgs {
    /// Zone that nobody touched between the two surveys; may be given more than once
    ///
    /// Both surveys should agree there. The mean difference, its spread and a tilt are compared with the stated accuracy, and the volumes
    /// are shown as they would be without them. The measurement itself is not changed.
    #[arg(long, value_name = "ZONE", value_parser = paths::zone())]
    pub(crate) untouched: Vec<ZoneSource>,
    /// Look for ground that may be untouched, and write its outline to a GeoJSON file or shapefile
    #[arg(long, value_name = "FILE")]
    pub(crate) propose_untouched: Option<PathBuf>,
}
