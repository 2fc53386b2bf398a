//! The built program, driven as a person drives it: files in a folder, a command line, what comes
//! back.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

mod accuracy;
mod along;
mod audits;
mod bad_input;
mod bands;
mod bill;
mod capacity;
mod claims;
mod clouds;
mod conformity;
mod contours;
mod demo;
mod documented;
mod drawings;
mod grids;
mod haul;
mod heights;
mod help;
mod hostile;
mod inspect;
mod jobs;
mod limits;
mod maps;
mod opinions;
mod outputs;
mod pile;
mod plan;
mod profile;
mod progress;
mod provenance;
mod read_back;
mod readings;
mod same_ground;
mod sanity;
mod sections;
mod sheets;
mod site;
mod spots;
mod sure_bodies;
mod sure_parts;
mod surface;
mod text;
mod units;
mod untouched;
mod volume;
mod workbooks;
