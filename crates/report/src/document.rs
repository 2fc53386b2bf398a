//! The report of a measurement: a model, and the page made of it.

use dapedon_core::OverlayError;
use dapedon_job::{LayerQuantity, Measurement, Scene, Side};
use minijinja::Environment;
use minijinja::syntax::SyntaxConfig;
use minijinja::value::Serde;
use serde::Serialize;

use crate::map::map;
use crate::number::grouped;

/// Why a report could not be made.
#[derive(Debug, thiserror::Error)]
pub enum ReportError {
    /// No surface to draw.
    #[error("there is no surface to draw")]
    NothingToDraw,
    /// The surfaces could not be overlaid.
    #[error(transparent)]
    Overlay(#[from] OverlayError),
    /// The picture could not be packed.
    #[error("the picture could not be packed: {0}")]
    Picture(#[from] png::EncodingError),
    /// The page could not be laid out.
    #[error("the page could not be laid out: {0:#}")]
    Page(#[from] minijinja::Error),
}

/// A report.
#[derive(Debug, Clone, Serialize)]
pub struct Document {
    /// What stands at its head.
    pub title: String,
    /// The program that made it.
    pub program: String,
    /// What was measured.
    pub measurement: Measurement,
    /// The layers that the sides lie below.
    pub build_ups: Vec<Layered>,
    /// Symbols of the units, as they stand in headings.
    pub symbols: Symbols,
    /// The map, as SVG.
    pub map: String,
}

/// The layers that a side lies below.
#[derive(Debug, Clone, Serialize)]
pub struct Layered {
    /// The side, as it was named.
    pub source: String,
    /// From the top down, zone by zone.
    pub layers: Vec<LayerQuantity>,
}

/// Symbols of units.
#[derive(Debug, Clone, Serialize)]
pub struct Symbols {
    /// Of lengths.
    pub length: &'static str,
    /// Of areas.
    pub area: &'static str,
    /// Of volumes.
    pub volume: &'static str,
    /// The length unit in full.
    pub length_name: &'static str,
    /// Decimals of areas and volumes.
    pub decimals: usize,
    /// Of costs.
    pub currency: String,
}

fn layered(side: &Side) -> Option<Layered> {
    let layers = side.recipe.as_ref()?.layers();
    (!layers.is_empty()).then(|| Layered {
        source: side.source.clone(),
        layers: layers.into_iter().cloned().collect(),
    })
}

impl Document {
    /// The report of a measurement.
    ///
    /// # Errors
    ///
    /// When its map cannot be drawn.
    pub fn new(
        title: String,
        measurement: Measurement,
        scene: &Scene,
    ) -> Result<Self, ReportError> {
        Ok(Document {
            title,
            program: concat!("Dapedon ", env!("CARGO_PKG_VERSION")).into(),
            map: map(&measurement, scene)?,
            build_ups: [&measurement.reference, &measurement.surveyed]
                .into_iter()
                .filter_map(layered)
                .collect(),
            symbols: Symbols {
                length: scene.unit.symbol(),
                area: scene.area_unit.symbol(),
                volume: scene.volume_unit.symbol(),
                length_name: scene.unit.name(),
                decimals: scene.decimals,
                currency: scene.currency.clone().unwrap_or_default(),
            },
            measurement,
        })
    }

    /// The report as one page of HTML that needs nothing else.
    ///
    /// # Errors
    ///
    /// When the page cannot be laid out.
    pub fn html(&self) -> Result<String, ReportError> {
        let mut environment = Environment::new();
        let mut syntax = SyntaxConfig::builder();
        environment.set_syntax(syntax.trim_blocks(true).lstrip_blocks(true).build()?);
        environment.add_filter("figure", |value: f64, decimals: usize| {
            grouped(value, decimals, "\u{202f}")
        });
        environment.add_filter("net_in_words", |net: f64| match net {
            net if net > 0.0 => "shortfall: more fill than cut",
            net if net < 0.0 => "surplus: more cut than fill",
            _ => "balanced",
        });
        environment.add_filter("power", |value: f64| match value {
            0.0 => "none".to_owned(),
            _ => format!("{value:.1e}"),
        });
        environment.add_template("report.html", include_str!("report.html"))?;
        let page = environment.get_template("report.html")?;
        Ok(page.render(Serde(self))?)
    }
}
