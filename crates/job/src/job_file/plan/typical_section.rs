//! Typical sections, and the step that carries one along a line.

use dapedon_core::alignment::NamedChainage;
use dapedon_core::derived::{Ends, SideSlope};

/// A typical section along a line.
#[derive(Debug, Clone)]
pub(crate) struct SweptPlan {
    /// The name of the section.
    pub(crate) name: String,
    pub(crate) section: TypicalSectionPlan,
    pub(crate) line: String,
    pub(crate) between: [Option<NamedChainage>; 2],
    pub(crate) until: Option<String>,
    pub(crate) ends: Ends,
    pub(crate) chord: f64,
    /// The surface that its line is laid on.
    pub(crate) laid_on: Option<String>,
}

/// A typical section, in the job's unit.
#[derive(Debug, Clone)]
pub(crate) struct TypicalSectionPlan {
    pub(crate) left: Vec<BreakPlan>,
    pub(crate) right: Vec<BreakPlan>,
    pub(crate) cut: SideSlope,
    pub(crate) fill: SideSlope,
}

/// A break of a typical section.
#[derive(Debug, Clone)]
pub(crate) struct BreakPlan {
    /// From the line, or else from the break before it.
    pub(crate) is_offset: bool,
    pub(crate) across: ByChainage,
    pub(crate) height: BreakHeightPlan,
}

/// How high a break is.
#[derive(Debug, Clone)]
pub(crate) enum BreakHeightPlan {
    AboveLine(ByChainage),
    Drop(ByChainage),
    Fall(ByChainage),
}

/// A figure, or several by chainage.
#[derive(Debug, Clone)]
pub(crate) enum ByChainage {
    Fixed(f64),
    Table(Vec<(NamedChainage, f64)>),
}
