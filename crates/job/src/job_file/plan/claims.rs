//! Payment claims once every name in them is known.

use dapedon_contract::ClaimTerms;
use jiff::civil::Date;
use rust_decimal::Decimal;

use crate::error::JobFileLine;

/// A reason, and the document that it is recorded in.
#[derive(Debug, Clone)]
pub(crate) struct ReasonPlan {
    pub(crate) reason: String,
    pub(crate) document: Option<String>,
}

/// The terms of payment, and where records lie.
#[derive(Debug, Clone)]
pub(crate) struct TermsPlan {
    pub(crate) terms: ClaimTerms,
    /// The folder of the records, from that of the job file.
    pub(crate) records: String,
}

/// A payment claim.
#[derive(Debug, Clone)]
pub(crate) struct ClaimPlan {
    pub(crate) number: u32,
    pub(crate) date: Date,
    pub(crate) period: [Date; 2],
    pub(crate) lines: Vec<ClaimLinePlan>,
    pub(crate) extras: Vec<ClaimExtraPlan>,
    pub(crate) corrections: Vec<CorrectionPlan>,
    pub(crate) price_adjustment: Option<(Decimal, ReasonPlan)>,
    pub(crate) release: Option<(Decimal, ReasonPlan)>,
    pub(crate) advance: Option<(Decimal, ReasonPlan)>,
    pub(crate) recovery: Option<(Decimal, ReasonPlan)>,
    pub(crate) spot: JobFileLine,
}

/// What is claimed of an item.
#[derive(Debug, Clone)]
pub(crate) struct ClaimLinePlan {
    pub(crate) item: String,
    pub(crate) counted: CountedPlan,
    pub(crate) why: Option<ReasonPlan>,
    pub(crate) on_site: bool,
    pub(crate) spot: JobFileLine,
}

/// Where the quantity of a line comes from.
#[derive(Debug, Clone)]
pub(crate) enum CountedPlan {
    /// It is measured, to another survey than the item's where one is named, and so much of it is claimed.
    Measured {
        surveyed: Option<String>,
        share: Option<Decimal>,
    },
    /// It was typed in.
    Typed(Decimal),
}

/// Work outside the bill.
#[derive(Debug, Clone)]
pub(crate) struct ClaimExtraPlan {
    pub(crate) code: String,
    pub(crate) description: String,
    pub(crate) unit: String,
    pub(crate) quantity: Decimal,
    pub(crate) rate: Decimal,
    pub(crate) why: ReasonPlan,
    pub(crate) spot: JobFileLine,
}

/// An earlier quantity, measured anew.
#[derive(Debug, Clone)]
pub(crate) struct CorrectionPlan {
    pub(crate) claim: u32,
    pub(crate) item: String,
    pub(crate) counted: CountedPlan,
    pub(crate) why: ReasonPlan,
    pub(crate) spot: JobFileLine,
}

/// What was certified of a claim.
#[derive(Debug, Clone)]
pub(crate) struct CertificatePlan {
    pub(crate) claim: u32,
    pub(crate) by: String,
    pub(crate) date: Date,
    pub(crate) document: Option<String>,
    pub(crate) lines: Vec<CertifiedLinePlan>,
    pub(crate) spot: JobFileLine,
}

/// A line as it was certified.
#[derive(Debug, Clone)]
pub(crate) struct CertifiedLinePlan {
    pub(crate) item: String,
    pub(crate) quantity: Decimal,
    pub(crate) reason: String,
    pub(crate) spot: JobFileLine,
}
