//! Payment claims: drawn up from surveys, issued as records that do not change, shown, compared,
//! packed and audited.

mod audit;
mod compare;
mod differences;
mod draw_up;
mod error;
mod files;
mod folder;
mod issue;
mod lines;
mod list;
mod model;
mod pack;
mod paths;
mod rebuild;
mod record;

pub use audit::{Audit, AuditRequest, AuditedClaim, AuditedFile, PrintedDigest, Verdict, audit};
pub use compare::{ClaimComparison, ComparedClaim, ComparedLine, compare_claims};
pub use differences::MovedFigure;
pub use draw_up::{DrawnClaim, draw_up};
pub use error::{ClaimError, RecordError};
pub use files::FileState;
pub use issue::{IssuedClaim, issue};
pub use list::{ClaimList, ListedClaim, list_claims, show_claim};
pub use model::{
    Claim, ClaimAmount, ClaimCertificate, ClaimCorrection, ClaimLine, ClaimPeriod, ClaimStatus,
    PriceAdjustment, QuantityFrom, RecordOf,
};
pub use pack::{PackRequest, Packed, PackedFile, pack};
pub use rebuild::{ClaimMaps, maps_of_claim};
pub use record::{RECORD_VERSION, is_record};
