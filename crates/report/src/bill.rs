//! The page of a bill: its lines, how each comes about, and where it lies.

use std::collections::BTreeMap;

use dapedon_job::{Bill, Sheet};
use serde::Serialize;

use crate::document::Symbols;
use crate::map::map;
use crate::page;
use crate::{ReportError, words};

/// A bill as a document.
#[derive(Debug, Clone, Serialize)]
pub struct BillDocument {
    /// What stands at its head.
    pub title: String,
    /// The program that made it.
    pub program: String,
    /// What was measured.
    pub bill: Bill,
    /// Symbols of the units, as they stand in headings.
    pub symbols: Symbols,
    /// The symbol of the volumes that factors are to one of.
    pub factor_volume: String,
    /// How many items there are.
    pub count: usize,
    /// How many of them are not as expected.
    pub off: usize,
    /// There is something to be known of an item before it is trusted.
    pub cautions: bool,
    /// What is measured for each item, by its code.
    pub measures: BTreeMap<String, String>,
    /// How each quantity comes about, by the codes of the items.
    pub hows: BTreeMap<String, Vec<String>>,
    /// What becomes of each material.
    pub moves: BTreeMap<String, Vec<String>>,
    /// The maps.
    pub maps: Vec<BillMap>,
}

/// Where some items lie.
#[derive(Debug, Clone, Serialize)]
pub struct BillMap {
    /// Their codes.
    pub codes: Vec<String>,
    /// From this surface.
    pub reference: String,
    /// To this one.
    pub surveyed: String,
    /// The map, as SVG.
    pub svg: String,
}

impl BillDocument {
    /// The document of a bill, with a map for each sheet.
    ///
    /// # Errors
    ///
    /// When a map cannot be drawn.
    pub fn new(title: String, bill: &Bill, sheets: &[Sheet]) -> Result<Self, ReportError> {
        let maps = sheets.iter().map(|sheet| {
            Ok(BillMap {
                codes: sheet.codes.clone(),
                reference: sheet.reference.clone(),
                surveyed: sheet.surveyed.clone(),
                svg: map(&sheet.rows, sheet.tolerance, &sheet.scene)?,
            })
        });
        let told = bill.units;
        let words = words::Told::of(bill, "\u{202f}");
        let items = || bill.items();
        let hows = items().map(|item| (item.code.clone(), words::how(item, &words)));
        let length = told.length.symbol();
        let measures = items().map(|item| (item.code.clone(), words::measured(item, length)));
        let moves = bill.moved.iter();
        let moves = moves.map(|moved| (moved.material.clone(), words::moved(moved, &words)));
        Ok(BillDocument {
            title,
            program: concat!("Dapedon ", env!("CARGO_PKG_VERSION")).into(),
            symbols: Symbols::new(
                told.length,
                told.area,
                told.volume,
                told.decimals,
                &bill.currency,
            ),
            factor_volume: bill.factor_volume_unit.symbol().into(),
            count: items().count(),
            off: items().filter(|item| !item.findings.is_empty()).count(),
            cautions: items().any(|item| !item.warnings.is_empty()),
            measures: measures.collect(),
            hows: hows.collect(),
            moves: moves.collect(),
            maps: maps.collect::<Result<_, ReportError>>()?,
            bill: bill.clone(),
        })
    }

    /// The document as one page of HTML that needs nothing else.
    ///
    /// # Errors
    ///
    /// When the page cannot be laid out.
    pub fn html(&self) -> Result<String, ReportError> {
        Ok(page::rendered("bill.html", self)?)
    }
}
