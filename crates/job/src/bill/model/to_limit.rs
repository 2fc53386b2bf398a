//! Work of an item to its limit.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::figure::{Area, Length, Volume};
use crate::job_file::ItemKind;
use crate::quantities::Extreme;
use crate::units::ReportUnits;

/// A limit that work is paid up to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LimitFacts {
    /// The surface.
    pub surface: String,
    /// What is allowed beyond it.
    pub tolerance: Length,
    /// Whether work within the tolerance is paid.
    pub pays_tolerance: bool,
}

impl LimitFacts {
    pub(crate) fn of(what: &ItemKind, units: &ReportUnits) -> Option<Self> {
        let ItemKind::ToLimit(plan) = what else {
            return None;
        };
        Some(LimitFacts {
            surface: plan.limit.to_string(),
            tolerance: units.length_of(plan.tolerance.value()),
            pays_tolerance: plan.pays_tolerance,
        })
    }
}

/// Work to a limit, on the ground that reference, surveyed surface and limit cover.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ToLimit {
    /// Below the reference, down to the limit.
    pub cut: WorkToLimit,
    /// Above the reference, up to the limit.
    pub fill: WorkToLimit,
}

/// Work to a limit in one direction. Within and both parts beyond add up to what was done; within and left to what was to be done.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WorkToLimit {
    /// Done up to the limit.
    pub within: Volume,
    /// Done beyond the limit, within the tolerance.
    pub in_tolerance: Volume,
    /// Done beyond the limit and the tolerance.
    pub beyond: Volume,
    /// The area over which anything was done beyond the limit.
    pub beyond_area: Area,
    /// Left to do, up to the limit.
    pub left: Volume,
    /// Where most was done beyond the limit; none where nothing was.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub farthest: Option<FarthestBeyond>,
}

/// The place that lies farthest beyond a limit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FarthestBeyond {
    /// By how much it lies beyond.
    pub by: Length,
    /// Where it is.
    pub at: Extreme,
}
