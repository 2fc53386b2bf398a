//! What went wrong, as one diagnostic: what was found, where, and what to do.

use std::io;
use std::path::PathBuf;

use anstyle::{AnsiColor, Style};
use dapedon_diagnostic::Diagnostic;
use dapedon_formats::{CodeUsesError, Format, visible, visible_lines};
use dapedon_job::JobError;
use dapedon_report::ReportError;

/// Why a command gave no result.
#[derive(Debug, thiserror::Error, strum::IntoStaticStr)]
#[strum(serialize_all = "kebab-case")]
pub(crate) enum CommandError {
    /// Nothing could be measured.
    #[error("{0}")]
    Job(#[from] JobError),
    /// A picture or report cannot be made.
    #[error("{0}")]
    Report(#[from] ReportError),
    /// The value of `--codes` cannot be understood.
    #[error("{0}")]
    CodeUses(#[from] CodeUsesError),
    /// The file ending is not a format for surfaces.
    #[error("the file ending is not a format for surfaces")]
    NoWriter { path: PathBuf },
    /// The file ending is not a format for outlines.
    #[error("the file ending is not a format for outlines")]
    NoOutlineWriter { path: PathBuf },
    /// The file ending is not a format for points and lines.
    #[error("the file ending is not a format for points and lines")]
    NoDrawingWriter { path: PathBuf },
    /// The file ending is not a format for sheets.
    #[error("the file ending is not a format for sheets")]
    NoSheetWriter { path: PathBuf },
    /// A picture of several files is asked for.
    #[error("--map draws one file, and {files} are given")]
    SeveralPictures { files: usize },
    /// There is no help on this topic.
    #[error("no help on \"{topic}\"")]
    NoHelp { topic: String },
    /// An output cannot be written.
    #[error("the file cannot be written: {source}")]
    Write { path: PathBuf, source: io::Error },
    /// An output would overwrite an input.
    #[error("this file is an input and would be overwritten")]
    OverInput { path: PathBuf },
    /// An output would overwrite an issued record.
    #[error("this file is the record of an issued claim, and is never written over")]
    OverRecord { path: PathBuf },
    /// The job file exists already.
    #[error("the job file exists already")]
    JobExists { path: PathBuf },
    /// A name of a job is used, and no job file is given.
    #[error("\"{name}\" is a name of a job, and no job file is given")]
    NoJob { name: String },
    /// The folder has no job file.
    #[error("this folder has no job file, and bill items are in a job file")]
    NoJobHere,
    /// The folder holds a job other than the sample.
    #[error("the folder has files of another job that the sample would overwrite")]
    NotTheSample { path: PathBuf },
    /// The file does not exist.
    #[error("the file does not exist")]
    NoFile { path: PathBuf },
    /// Two outputs have the same file.
    #[error("two outputs have the same file")]
    OutputTwice { path: PathBuf },
    /// The results cannot be printed.
    #[error("the results cannot be printed: {0}")]
    Print(#[from] io::Error),
    /// The results cannot be written as JSON.
    #[error("the results cannot be written as JSON: {0}")]
    Json(#[from] serde_json::Error),
}

impl Diagnostic for CommandError {
    fn code(&self) -> String {
        match self {
            CommandError::Job(error) => error.code(),
            CommandError::CodeUses(error) => error.code(),
            fault => {
                let kind: &'static str = fault.into();
                format!("command/{kind}")
            }
        }
    }

    fn place(&self) -> Option<String> {
        match self {
            CommandError::Job(error) => error.place(),
            CommandError::Write { path, .. }
            | CommandError::OverInput { path }
            | CommandError::OverRecord { path }
            | CommandError::OutputTwice { path }
            | CommandError::JobExists { path }
            | CommandError::NotTheSample { path }
            | CommandError::NoFile { path }
            | CommandError::NoOutlineWriter { path }
            | CommandError::NoDrawingWriter { path }
            | CommandError::NoSheetWriter { path }
            | CommandError::NoWriter { path } => Some(path.display().to_string()),
            CommandError::CodeUses(_)
            | CommandError::NoJob { .. }
            | CommandError::NoJobHere
            | CommandError::SeveralPictures { .. }
            | CommandError::NoHelp { .. }
            | CommandError::Report(_)
            | CommandError::Print(_)
            | CommandError::Json(_) => None,
        }
    }

    fn remedy(&self) -> String {
        match self {
            CommandError::Job(error) => error.remedy(),
            CommandError::CodeUses(error) => Diagnostic::remedy(error),
            CommandError::NoWriter { .. } => {
                let written = Format::ALL
                    .into_iter()
                    .filter(|format| format.writes_surfaces());
                let endings =
                    written.map(|format| format!(".{} ({})", format.endings()[0], format.name()));
                format!("use the ending {}", endings.collect::<Vec<_>>().join(", "))
            }
            CommandError::NoOutlineWriter { .. } => "use the ending .geojson or .shp".into(),
            CommandError::NoDrawingWriter { .. } => {
                "use the ending .dxf, .geojson, .shp or .xml".into()
            }
            CommandError::NoSheetWriter { .. } => "use the ending .svg, .png or .dxf".into(),
            CommandError::NoJobHere => {
                "give it with --job, or write a first one with dapedon init".into()
            }
            CommandError::NoJob { .. } => "add --job FILE, or give the figures themselves".into(),
            CommandError::JobExists { .. } => {
                "give another file with --job: job files are never overwritten".into()
            }
            CommandError::NotTheSample { .. } => {
                "use another folder, as in dapedon demo tern-reach".into()
            }
            CommandError::NoFile { .. } => "check the name".into(),
            CommandError::NoHelp { .. } => "use a command, or terms".into(),
            CommandError::SeveralPictures { .. } => "use --map with one file".into(),
            CommandError::Report(ReportError::TooLarge(error)) => {
                format!("use --scale {}, larger paper, or no --scale", error.fits)
            }
            CommandError::Report(ReportError::Measured(error)) => error.remedy(),
            CommandError::Report(ReportError::Drawing(_)) => "use a smaller --dpi".into(),
            CommandError::Report(ReportError::TooManyRows { .. }) => {
                "write the tables with --csv, or measure less at once".into()
            }
            CommandError::Report(ReportError::NothingToDraw) => {
                "check the file with dapedon inspect".into()
            }
            CommandError::Write { .. } => {
                "check that the folder exists and that you may write to it".into()
            }
            CommandError::OverInput { .. }
            | CommandError::OverRecord { .. }
            | CommandError::OutputTwice { .. } => "use another file".into(),
            CommandError::Report(_) | CommandError::Json(_) => "please report this as a bug".into(),
            CommandError::Print(_) => "check the output".into(),
        }
    }

    fn notes(&self) -> Vec<String> {
        match self {
            CommandError::Job(error) => error.notes(),
            _ => Vec::new(),
        }
    }
}

impl CommandError {
    /// True when the reader of our output went away, which is nobody's fault.
    pub(crate) fn is_closed_pipe(&self) -> bool {
        matches!(self, CommandError::Print(error) if error.kind() == io::ErrorKind::BrokenPipe)
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
