//! What is read: where it comes from, how files are read, and what they hold.

mod base_source;
pub(crate) mod clean;
pub(crate) mod cloud;
mod error;
pub(crate) mod file;
mod heights;
pub(crate) mod lines;
pub(crate) mod load;
pub(crate) mod loaded;
pub(crate) mod maps;
mod memory;
pub(crate) mod places;
mod reading;
mod source;

pub use base_source::BaseSource;
pub(crate) use clean::{drop_points, is_steep_as_degrees, looks_like_degrees};
pub use cloud::{ClassFound, Classes, ClassesError, CloudFound, CloudRules, Thin};
pub use error::InputError;
pub(crate) use file::Input;
pub use file::{FilesRead, InputFile, digest};
pub(crate) use load::{dxf_fault, landxml_fault};
pub(crate) use loaded::LoadedSurface;
pub use memory::{Memory, MemoryError};
pub use reading::Reading;
pub use source::{LineSource, Source, SourceError, ZoneSource};
