//! How maps are drawn.

use std::path::PathBuf;

use clap::{Parser, ValueEnum};
use dapedon_job::LineSource;
use dapedon_report::{Paper, PaperSize};

use super::paths;

/// How a map is drawn.
#[derive(Debug, Parser)]
#[command(next_help_heading = "Map")]
pub(crate) struct MapArgs {
    /// Draw a map: .svg or .png
    #[arg(long, value_name = "FILE", value_parser = paths::map())]
    pub(crate) map: Option<PathBuf>,
    /// Paper for a map at a true scale
    #[arg(
        long,
        hide_short_help = true,
        value_enum,
        ignore_case = true,
        requires = "map"
    )]
    pub(crate) paper: Option<PaperName>,
    /// Use the paper upright, higher than wide
    #[arg(long, hide_short_help = true, requires = "paper")]
    pub(crate) upright: bool,
    /// Scale on paper, as in 500 or 1:500 [default: the largest round one that fits]
    #[arg(long, hide_short_help = true, value_name = "SCALE", value_parser = scale, requires = "paper")]
    pub(crate) scale: Option<u32>,
    /// Dots per inch of the picture on paper, and of a PNG [default: 200; 96 for a screen]
    #[arg(long, hide_short_help = true, value_name = "DOTS", value_parser = dots, requires = "map")]
    pub(crate) dpi: Option<f64>,
    /// Draw over the map: contours, contours=0.5, spots=20, triangles, points, breaklines, line=NAME, continuous
    ///
    /// Contours, triangles and breaklines are those of the surveyed surface, spots are values on a grid of that spacing. Continuous colours take
    /// the place of bands. May be given more than once.
    #[arg(long, hide_short_help = true, value_name = "WHAT", value_parser = shown, requires = "map")]
    pub(crate) show: Vec<ShownOnMap>,
}

/// Sheets of paper.
#[derive(Debug, Clone, Copy, ValueEnum)]
pub(crate) enum PaperName {
    /// 210 by 297 mm
    A4,
    /// 297 by 420 mm
    A3,
    /// 594 by 841 mm
    A1,
    /// 8.5 by 11 inches
    Letter,
    /// 11 by 17 inches
    Tabloid,
}

/// What is drawn over a map.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum ShownOnMap {
    Contours(Option<f64>),
    Spots(f64),
    Triangles,
    Points,
    Breaklines,
    Line(LineSource),
    Continuous,
}

impl PaperName {
    pub(crate) fn size(self) -> PaperSize {
        match self {
            PaperName::A4 => PaperSize::A4,
            PaperName::A3 => PaperSize::A3,
            PaperName::A1 => PaperSize::A1,
            PaperName::Letter => PaperSize::Letter,
            PaperName::Tabloid => PaperSize::Tabloid,
        }
    }
}

impl MapArgs {
    /// A map for a screen, with nothing over it.
    pub(crate) fn screen(map: Option<PathBuf>) -> Self {
        MapArgs {
            map,
            paper: None,
            upright: false,
            scale: None,
            dpi: None,
            show: Vec::new(),
        }
    }

    /// The paper that is asked for.
    pub(crate) fn paper(&self) -> Option<Paper> {
        self.paper.map(|paper| Paper {
            size: paper.size(),
            upright: self.upright,
            scale: self.scale,
        })
    }

    /// The lines that are drawn over it.
    pub(crate) fn lines(&self) -> impl Iterator<Item = &LineSource> {
        self.show.iter().filter_map(|shown| match shown {
            ShownOnMap::Line(line) => Some(line),
            _ => None,
        })
    }
}

fn shown(text: &str) -> Result<ShownOnMap, String> {
    let (word, value) = match text.split_once('=') {
        Some((word, value)) => (word, Some(value)),
        None => (text, None),
    };
    let length = |value: &str| {
        super::length(value).map_err(|_| format!("expected a length above zero after {word}="))
    };
    match (word, value) {
        ("contours", None) => Ok(ShownOnMap::Contours(None)),
        ("contours", Some(interval)) => {
            length(interval).map(|interval| ShownOnMap::Contours(Some(interval)))
        }
        ("spots", Some(spacing)) => length(spacing).map(ShownOnMap::Spots),
        ("spots", None) => Err("give the spacing of the spots, as in spots=20".into()),
        ("triangles", None) => Ok(ShownOnMap::Triangles),
        ("points", None) => Ok(ShownOnMap::Points),
        ("breaklines", None) => Ok(ShownOnMap::Breaklines),
        ("continuous", None) => Ok(ShownOnMap::Continuous),
        ("line", Some(name)) if !name.is_empty() => match name.parse() {
            Ok(line) => Ok(ShownOnMap::Line(line)),
            Err(never) => match never {},
        },
        _ => Err(
            "expected contours, contours=0.5, spots=20, triangles, points, breaklines, line=NAME or continuous"
                .into(),
        ),
    }
}

pub(super) fn scale(text: &str) -> Result<u32, String> {
    let number = text.strip_prefix("1:").unwrap_or(text);
    let scale = number.trim().parse().ok().filter(|&scale: &u32| scale > 0);
    scale.ok_or_else(|| "expected a scale, as in 500 or 1:500".into())
}

pub(super) fn dots(text: &str) -> Result<f64, String> {
    let dots = text
        .parse()
        .ok()
        .filter(|dots: &f64| (10.0..=1200.0).contains(dots));
    dots.ok_or_else(|| "expected 10 to 1200 dots per inch".into())
}
