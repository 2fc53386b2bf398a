//! How sheets are drawn.

use std::path::PathBuf;

use clap::Args;
use dapedon_report::{Paper, SheetOptions, TitleBlock};

use super::PaperName;

/// How sheets are drawn.
#[derive(Debug, Args)]
pub(crate) struct SheetArgs {
    /// Draw to scale on sheets: .svg, .png or .dxf; may be given more than once
    ///
    /// Several sheets are several files, numbered; a drawing holds them all.
    #[arg(long, value_name = "FILE", help_heading = "Sheets")]
    pub(crate) sheets: Vec<PathBuf>,
    /// Paper of the sheets
    #[arg(
        long,
        hide_short_help = true,
        value_enum,
        ignore_case = true,
        default_value = "a3",
        help_heading = "Sheets"
    )]
    pub(crate) paper: PaperName,
    /// Use the paper upright, higher than wide
    #[arg(
        long,
        hide_short_help = true,
        requires = "drawn",
        help_heading = "Sheets"
    )]
    pub(crate) upright: bool,
    /// Scale of the sheets, as in 200 or 1:200 [default: a round one that fits]
    #[arg(long, hide_short_help = true, value_name = "SCALE", value_parser = super::map::scale, requires = "drawn", help_heading = "Sheets")]
    pub(crate) scale: Option<u32>,
    /// How often heights are exaggerated [default: once in cross-sections; up to ten times along a line]
    #[arg(long, hide_short_help = true, value_name = "TIMES", value_parser = times, requires = "drawn", help_heading = "Sheets")]
    pub(crate) exaggeration: Option<f64>,
    /// Dots per inch of a PNG
    #[arg(long, hide_short_help = true, value_name = "DOTS", value_parser = super::map::dots, default_value = "200", help_heading = "Sheets")]
    pub(crate) dpi: f64,
}

impl SheetArgs {
    /// The same, with what the sheets say of themselves.
    pub(crate) fn options(&self, title: TitleBlock) -> SheetOptions {
        SheetOptions {
            paper: Paper {
                size: self.paper.size(),
                upright: self.upright,
                scale: self.scale,
            },
            exaggeration: self.exaggeration,
            title,
        }
    }
}

fn times(text: &str) -> Result<f64, String> {
    let times = text
        .parse()
        .ok()
        .filter(|times: &f64| (0.1..=100.0).contains(times));
    times.ok_or_else(|| "expected 0.1 to 100 times".to_owned())
}
