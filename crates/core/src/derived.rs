//! Surfaces derived from others: combined, kept within zones, raised, with platforms and embankments.

pub(crate) mod assembly;
pub(crate) mod combined;
pub(crate) mod difference;
pub(crate) mod mask;
mod other_diagonals;
pub(crate) mod regrade;
pub(crate) mod run_out;
pub(crate) mod shifted;
pub(crate) mod stitch;
pub(crate) mod swept;
pub(crate) mod top;
mod without_breaklines;
pub(crate) mod zonewise;

pub use combined::{Choice, combined, within};
pub use difference::difference;
pub use mask::mask;
pub use regrade::{NewGround, RegradeError, Regraded, regraded};
pub use run_out::{Bench, RunOut, RunOutError, SideSlope, Slopes, run_out};
pub use swept::{Across, BreakHeight, SectionBreak, SweptError, TypicalSection};
pub use top::{CrestError, Ends, Top};
pub use zonewise::{Treatment, zonewise};
