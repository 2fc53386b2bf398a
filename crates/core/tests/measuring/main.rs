//! Measuring between surfaces: known volumes, and what must hold for unknown ones.

mod closed_forms;
mod invariants;
mod shapes;
