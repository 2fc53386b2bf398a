//! The report of a measurement: a model, and the page made of it.

use dapedon_core::{AreaUnit, LengthUnit, OverlayError, VolumeUnit};
use dapedon_job::{LayerQuantity, Measurement, Scene, Side};
use serde::Serialize;

use crate::map::map;
use crate::page;
use crate::words::{self, Told};

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
    /// What cut and fill become, line by line.
    pub converted: Vec<Vec<String>>,
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

impl Symbols {
    pub(crate) fn new(
        length: LengthUnit,
        area: AreaUnit,
        volume: VolumeUnit,
        decimals: usize,
        currency: &Option<String>,
    ) -> Self {
        Symbols {
            length: length.symbol(),
            area: area.symbol(),
            volume: volume.symbol(),
            length_name: length.name(),
            decimals,
            currency: currency.clone().unwrap_or_default(),
        }
    }
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
        let told = Told {
            volume: scene.units.volume.symbol(),
            currency: scene.currency.as_deref().unwrap_or_default(),
            separator: "\u{202f}",
        };
        let converted = measurement.converted.iter();
        Ok(Document {
            title,
            converted: converted
                .map(|line| words::converted(line, &told))
                .collect(),
            program: concat!("Dapedon ", env!("CARGO_PKG_VERSION")).into(),
            map: map(&measurement.zones, measurement.tolerance, scene)?,
            build_ups: [&measurement.reference, &measurement.surveyed]
                .into_iter()
                .filter_map(layered)
                .collect(),
            symbols: Symbols::new(
                scene.units.length,
                scene.units.area,
                scene.units.volume,
                scene.units.decimals,
                &scene.currency,
            ),
            measurement,
        })
    }

    /// The report as one page of HTML that needs nothing else.
    ///
    /// # Errors
    ///
    /// When the page cannot be laid out.
    pub fn html(&self) -> Result<String, ReportError> {
        Ok(page::rendered("report.html", self)?)
    }
}
