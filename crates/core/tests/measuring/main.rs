//! Measuring between surfaces: known volumes, and what must hold for unknown ones.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

mod balance;
mod bands;
mod base;
mod closed_forms;
mod combined;
mod contours;
mod depths;
mod facet_index;
mod flat_triangles;
mod grids;
mod haul_plan;
mod invariants;
mod regrade;
mod run_out;
mod shapes;
mod spots;
mod standing;
mod swept;
mod triangulating;
mod zonewise;
