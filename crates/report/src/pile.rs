//! The page of piles: what they hold, by which base, and where they lie.

use dapedon_job::{ByBase, Piles, spread};
use serde::Serialize;

use crate::document::Symbols;
use crate::words::{self, Told};
use crate::{ReportError, page};

/// Piles as a document.
#[derive(Debug, Clone, Serialize)]
pub struct PileDocument {
    /// What stands at its head.
    pub title: String,
    /// The program that made it.
    pub program: String,
    /// What was measured.
    pub piles: Piles,
    /// What one is called.
    pub noun: &'static str,
    /// What its outline is called.
    pub edge: &'static str,
    /// What lies on the other side of the base, in words.
    pub beyond: &'static str,
    /// Within what they are measured, and against what.
    pub within: Vec<String>,
    /// Symbols of the units, as they stand in headings.
    pub symbols: Symbols,
    /// The bases that are compared.
    pub bases: Vec<String>,
    /// What each pile holds by each of them, and then all piles.
    pub compared: Vec<Compared>,
    /// What each volume becomes, line by line.
    pub converted: Vec<Vec<String>>,
    /// The map, as SVG.
    pub map: String,
}

/// What a pile holds by the bases.
#[derive(Debug, Clone, Serialize)]
pub struct Compared {
    /// Its name.
    pub name: String,
    /// By each base; none where it has no such base.
    pub held: Vec<Option<f64>>,
    /// How far they lie apart.
    pub apart: Option<f64>,
    /// The same, of what it holds by the base that counts.
    pub share: Option<f64>,
}

impl PileDocument {
    /// The document of piles, with a map that is drawn already.
    pub fn new(title: String, piles: &Piles, map: String) -> Self {
        let told = piles.units;
        let bases: Vec<String> = piles.bases().into_iter().map(Into::into).collect();
        let compared = |name: &str, own: &[ByBase], held: f64| {
            let by = |name: &String| {
                let base = own.iter().find(|base| base.base == *name);
                base.map(|base| base.held)
            };
            let spread = spread(own, held);
            Compared {
                name: name.into(),
                held: bases.iter().map(by).collect(),
                apart: spread.map(|([least, most], _)| most - least),
                share: spread.map(|(_, share)| share),
            }
        };
        let rows = piles.zones.iter();
        let rows = rows.map(|pile| compared(&pile.measured.zone, &pile.bases, pile.held));
        let total = piles.total.as_ref();
        let total = total.map(|total| compared("Total", &total.bases, total.held));
        let compared: Vec<Compared> = rows.chain(total).collect();
        let words = Told {
            volume: told.volume.symbol(),
            currency: "",
            separator: "\u{202f}",
        };
        let converted = piles.zones.iter().filter_map(|pile| pile.material.as_ref());
        PileDocument {
            title,
            program: concat!("Dapedon ", env!("CARGO_PKG_VERSION")).into(),
            noun: piles.noun(),
            edge: piles.edge(),
            beyond: piles.beyond_words(),
            within: words::sought(piles),
            symbols: Symbols::new(told.length, told.area, told.volume, told.decimals, &None),
            converted: converted
                .map(|line| words::converted(line, &words))
                .collect(),
            bases,
            compared,
            piles: piles.clone(),
            map,
        }
    }

    /// The document as one page of HTML that needs nothing else.
    ///
    /// # Errors
    ///
    /// When the page cannot be laid out.
    pub fn html(&self) -> Result<String, ReportError> {
        Ok(page::rendered("pile.html", self)?)
    }
}
