//! The built program, driven as a person drives it: files in a folder, a command line, what comes
//! back.

mod bad_input;
mod demo;
mod site;
mod volume;
