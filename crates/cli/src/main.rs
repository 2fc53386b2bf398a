//! Dapedon's command line: thin, from arguments to measured figures and back to people.

mod args;
mod demo;
mod fault;
mod init;
mod inspect;
mod interrupt;
mod names;
mod output;
mod recipe;
mod surface;
mod table;
mod volume;

use std::process::ExitCode;

use clap::Parser;

use args::{Args, Command};
use fault::Fault;

fn main() -> ExitCode {
    interrupt::watch();
    match run(Args::parse().command) {
        Ok(()) => ExitCode::SUCCESS,
        Err(fault) if fault.is_closed_pipe() => ExitCode::SUCCESS,
        Err(fault) => {
            fault.print();
            ExitCode::from(2)
        }
    }
}

fn run(command: Command) -> Result<(), Fault> {
    match command {
        Command::Demo(args) => demo::run(&args),
        Command::Init(args) => init::run(&args),
        Command::Inspect(args) => inspect::run(&args),
        Command::Surface(args) => surface::run(&args),
        Command::Volume(args) => volume::run(&args),
    }
}
