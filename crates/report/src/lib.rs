//! # dapedon-report
//!
//! What was measured, told. Each result says of itself once what it is, in the blocks of a [`Report`]
//! (`describe`); a [`terminal`], a [`page`] and a table of comma-separated text ([`csv()`]) are ways of writing
//! them. A [map](difference_map) is drawn once, as SVG, and stays small however many facets there are: a raster below, lines and
//! words above. No figure is worked out here.

mod balance_curve;
mod capacity_curve;
mod colours;
pub mod describe;
mod drawing;
mod map;
pub mod number;
mod progress_curve;
mod raster;
mod report;
mod section_sheets;
mod ticks;
mod write;

use dapedon_core::overlay::OverlayError;
use dapedon_job::JobError;

pub use balance_curve::balance_curve;
pub use capacity_curve::capacity_curve;
pub use map::{
    LeftOut, MapArrow, MapContours, MapCut, MapOptions, MapPlace, MapValue, MapWords, Mark, Paper,
    PaperSize, RESOLUTION, SCREEN, Shown, TitleBlock, TooLarge, difference_map, ground_map, png,
    without_letter,
};
pub use report::{
    Block, Cell, Column, Formula, Group, Headline, Input, InputOf, Kind, Picture, Report, Row,
    RowKind, ShownOn, Table,
};
pub use section_sheets::{
    PaperSheet, SectionSheets, SheetOptions, profile_sheets, section_sheets, sheets_as_drawing,
};
pub use write::{csv, page, terminal, workbook};

/// Why a report could not be made.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum ReportError {
    /// No surface to draw.
    #[error("there is no surface to draw")]
    NothingToDraw,
    /// The surfaces could not be overlaid.
    #[error(transparent)]
    Overlay(#[from] OverlayError),
    /// The map does not fit its paper.
    #[error(transparent)]
    TooLarge(#[from] TooLarge),
    /// What is drawn could not be measured.
    #[error(transparent)]
    Measured(#[from] JobError),
    /// The drawing could not be made a picture.
    #[error("the drawing could not be made a picture: {0}")]
    Drawing(String),
    /// The picture could not be packed.
    #[error("the picture could not be compressed: {0}")]
    Picture(#[from] png::EncodingError),
    /// A table has more rows than a sheet of a workbook.
    #[error("a table has {rows} rows, more than a sheet of a workbook has")]
    TooManyRows {
        /// Its rows.
        rows: usize,
    },
    /// The workbook could not be written.
    #[error("the workbook cannot be written: {0}")]
    Workbook(#[from] rust_xlsxwriter::XlsxError),
    /// The page could not be laid out.
    #[error("the page could not be laid out: {0:#}")]
    Page(#[from] minijinja::Error),
}
