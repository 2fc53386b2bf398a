//! Dapedon's command line: thin, from arguments to measured figures and back to people.

mod args;
mod audit;
mod balance;
mod capacity;
mod claim;
mod conformity;
mod contours;
mod demo;
mod drawing;
mod error;
mod haul;
mod help;
mod init;
mod inspect;
mod interrupt;
mod map;
mod measure;
mod names;
mod outlines;
mod output;
mod pile;
mod plan;
mod profile;
mod progress;
mod readings;
mod safe;
mod schema;
mod sections;
mod sheets;
mod spots;
mod surface;
mod telling;
mod volume;

use std::process::ExitCode;

use clap::FromArgMatches;

use args::{Args, Command};
use error::CommandError;

fn main() -> ExitCode {
    interrupt::watch();
    let typed = help::command().get_matches();
    let args = Args::from_arg_matches(&typed).unwrap_or_else(|error| error.exit());
    match run(args.command) {
        Ok(Outcome::Done) => ExitCode::SUCCESS,
        Ok(Outcome::Finding) => ExitCode::from(1),
        Err(fault) if fault.is_closed_pipe() => ExitCode::SUCCESS,
        Err(fault) => {
            fault.print();
            ExitCode::from(2)
        }
    }
}

/// How a command went that gave its result.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Outcome {
    /// As it should.
    Done,
    /// With something that was asked for.
    Finding,
}

fn run(command: Command) -> Result<Outcome, CommandError> {
    match command {
        Command::Audit(args) => return audit::run(&args),
        Command::Balance(args) => return balance::run(&args),
        Command::Capacity(args) => return capacity::run(&args),
        Command::Claim(args) => claim::run(&args.what)?,
        Command::Conformity(args) => return conformity::run(&args),
        Command::Contours(args) => contours::run(&args)?,
        Command::Demo(args) => demo::run(&args)?,
        Command::Haul(args) => haul::run(&args)?,
        Command::Help(args) => help::run(args.topic.as_deref())?,
        Command::Init(args) => init::run(&args)?,
        Command::Inspect(args) => inspect::run(&args)?,
        Command::Measure(args) => return measure::run(&args),
        Command::Plan(args) => return plan::run(&args),
        Command::Profile(args) => profile::run(&args)?,
        Command::Progress(args) => progress::run(&args)?,
        Command::Sections(args) => sections::run(&args)?,
        Command::Schema(args) => schema::run(&args)?,
        Command::Spots(args) => spots::run(&args)?,
        Command::Pile(args) => pile::run(&args)?,
        Command::Surface(args) => surface::run(&args)?,
        Command::Volume(args) => return volume::run(&args),
    }
    Ok(Outcome::Done)
}
