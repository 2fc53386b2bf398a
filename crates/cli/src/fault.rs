//! What went wrong, as one diagnostic: what was found, where, and what to do.

use std::io;
use std::path::PathBuf;

use anstyle::{AnsiColor, Style};
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::{Format, TakeError, visible, visible_lines};
use dapedon_job::JobError;
use dapedon_report::ReportError;

/// Why a command gave no result.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub(crate) enum Fault {
    /// Nothing could be measured.
    #[error("{0}")]
    Job(#[from] JobError),
    /// A picture or page could not be made.
    #[error("{0}")]
    Report(#[from] ReportError),
    /// Words of `--codes` say nothing.
    #[error("{0}")]
    Take(#[from] TakeError),
    /// No format of surfaces has that ending.
    #[error("the ending of its name tells no format that surfaces are written in")]
    NoWriter { path: PathBuf },
    /// No format of outlines has that ending.
    #[error("the ending of its name tells no format that outlines are written in")]
    NoOutlineWriter { path: PathBuf },
    /// One picture was asked for, of several files.
    #[error("a picture is drawn of one file, and {files} are named")]
    SeveralPictures { files: usize },
    /// There is no help on that.
    #[error("there is no help on \"{topic}\"")]
    NoHelp { topic: String },
    /// An output cannot be written.
    #[error("it cannot be written: {source}")]
    Write { path: PathBuf, source: io::Error },
    /// An output would be written over an input.
    #[error("it is an input of this measurement and would be overwritten")]
    OverInput { path: PathBuf },
    /// There is a job file already.
    #[error("there is a job file already")]
    JobExists { path: PathBuf },
    /// A name of a job is used, and no job is at hand.
    #[error("\"{name}\" is a name of a job, and no job is at hand")]
    NoJob { name: String },
    /// There is no job file in the folder.
    #[error("there is no job file in this folder, and the items of a bill stand in one")]
    NoJobHere,
    /// The folder holds another job than the sample.
    #[error("the folder holds files of another job, which the sample job would write over")]
    NotTheSample { path: PathBuf },
    /// There is no such file.
    #[error("there is no such file")]
    NoFile { path: PathBuf },
    /// Two outputs go to one file.
    #[error("two outputs go to one file")]
    OutputTwice { path: PathBuf },
    /// The results cannot be printed.
    #[error("the results cannot be printed: {0}")]
    Print(#[from] io::Error),
    /// The results cannot be put as JSON.
    #[error("the figures cannot be put as JSON: {0}")]
    Json(#[from] serde_json::Error),
}

impl Diagnostic for Fault {
    fn code(&self) -> String {
        match self {
            Fault::Job(error) => error.code(),
            Fault::Take(error) => error.code(),
            fault => {
                let kind: &'static str = fault.into();
                format!("command/{kind}")
            }
        }
    }

    fn place(&self) -> Option<String> {
        match self {
            Fault::Job(error) => error.place(),
            Fault::Write { path, .. }
            | Fault::OverInput { path }
            | Fault::OutputTwice { path }
            | Fault::JobExists { path }
            | Fault::NotTheSample { path }
            | Fault::NoFile { path }
            | Fault::NoOutlineWriter { path }
            | Fault::NoWriter { path } => Some(path.display().to_string()),
            Fault::Take(_)
            | Fault::NoJob { .. }
            | Fault::NoJobHere
            | Fault::SeveralPictures { .. }
            | Fault::NoHelp { .. }
            | Fault::Report(_)
            | Fault::Print(_)
            | Fault::Json(_) => None,
        }
    }

    fn remedy(&self) -> String {
        match self {
            Fault::Job(error) => error.remedy(),
            Fault::Take(error) => Diagnostic::remedy(error),
            Fault::NoWriter { .. } => {
                let written = Format::ALL
                    .into_iter()
                    .filter(|format| format.writes_surfaces());
                let endings =
                    written.map(|format| format!(".{} ({})", format.endings()[0], format.name()));
                format!("end it in {}", endings.collect::<Vec<_>>().join(", "))
            }
            Fault::NoOutlineWriter { .. } => "end it in .geojson or .shp".into(),
            Fault::NoJobHere => "name it with --job, or write a first one with dapedon init".into(),
            Fault::NoJob { .. } => "name its file with --job, or say the figures themselves".into(),
            Fault::JobExists { .. } => {
                "name another one with --job: job files are never overwritten".into()
            }
            Fault::NotTheSample { .. } => {
                "name another folder, as in dapedon demo tern-reach".into()
            }
            Fault::NoFile { .. } => "see that the name is right".into(),
            Fault::NoHelp { .. } => "name a command, or terms".into(),
            Fault::SeveralPictures { .. } => "name one file with --map".into(),
            Fault::Report(ReportError::NothingToDraw) => "see what inspect says of the file".into(),
            Fault::Write { .. } => "see that the folder is there and may be written to".into(),
            Fault::OverInput { .. } | Fault::OutputTwice { .. } => "name another file".into(),
            Fault::Report(_) | Fault::Json(_) => "please report this: it should not happen".into(),
            Fault::Print(_) => "see where the output goes".into(),
        }
    }

    fn notes(&self) -> Vec<String> {
        match self {
            Fault::Job(error) => error.notes(),
            _ => Vec::new(),
        }
    }
}

impl Fault {
    /// True when the reader of our output went away, which is nobody's fault.
    pub(crate) fn is_closed_pipe(&self) -> bool {
        matches!(self, Fault::Print(error) if error.kind() == io::ErrorKind::BrokenPipe)
    }

    /// Prints it to standard error, coloured on a terminal only.
    pub(crate) fn print(&self) {
        let red = Style::new().bold().fg_color(Some(AnsiColor::Red.into()));
        let bold = Style::new().bold();
        let text = visible_lines(&self.to_string()).into_owned();
        let mut lines = text.lines();
        let first = lines.next().unwrap_or_default();
        anstream::eprintln!("{red}error:{red:#} {bold}{first}{bold:#}");
        let notes = self.notes().join("\n");
        for line in lines.chain(visible_lines(&notes).lines()) {
            anstream::eprintln!("     {line}");
        }
        if let Some(place) = self.place() {
            anstream::eprintln!("   in: {}", visible(&place));
        }
        anstream::eprintln!("   do: {}", visible(&self.remedy()));
        anstream::eprintln!(" code: {}", self.code());
    }
}
