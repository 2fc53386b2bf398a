//! Output files: all of them and what is printed, or none.

mod beside;
mod swap;
mod target;

use std::io::{self, BufWriter, IsTerminal, Write};
use std::path::{Path, PathBuf};

use dapedon_job::{FilesRead, is_record};
use dapedon_report::{Report, csv, page, terminal, workbook};
use tempfile::NamedTempFile;

use crate::error::CommandError;
use crate::interrupt;
use crate::safe::{Safe, shown_json};
use swap::Swap;
use target::Target;

/// Files to be written together: each beside its place first, then all of them put into it at once.
#[derive(Default)]
pub(crate) struct Outputs {
    staged: Vec<Staged>,
    /// What is read, which outputs are kept off.
    read: FilesRead,
}

/// A file that is written and not in its place yet.
struct Staged {
    file: NamedTempFile,
    target: Target,
    /// As it was named.
    named: PathBuf,
}

impl Outputs {
    /// None yet, to be kept off what is read.
    pub(crate) fn off(read: &FilesRead) -> Self {
        Outputs {
            staged: Vec::new(),
            read: read.clone(),
        }
    }

    /// Finds out, before any work is done, whether files could be written at `paths`, and that none of them is one of
    /// `inputs`, or lies beside one of which it is a part, or is another output under another name.
    pub(crate) fn check(paths: &[&Path], inputs: &[&Path]) -> Result<(), CommandError> {
        let mut targets: Vec<Target> = Vec::new();
        let read = target::with_parts(inputs);
        for &path in paths {
            let fault = |source| CommandError::Write {
                path: path.into(),
                source,
            };
            let target = Target::of(path).map_err(fault)?;
            if is_record(path) {
                return Err(CommandError::OverRecord { path: path.into() });
            }
            if read.iter().any(|input| target.is_file(input)) {
                return Err(CommandError::OverInput { path: path.into() });
            }
            if targets.iter().any(|other| target.is_same(other)) {
                return Err(CommandError::OutputTwice { path: path.into() });
            }
            target.try_out().map_err(fault)?;
            targets.push(target);
        }
        Ok(())
    }

    /// Writes `bytes` beside `path`.
    pub(crate) fn stage(&mut self, path: &Path, bytes: &[u8]) -> Result<(), CommandError> {
        self.stage_with(path, |out| out.write_all(bytes))
    }

    /// Has something written beside `path`.
    pub(crate) fn stage_with(
        &mut self,
        path: &Path,
        write: impl FnOnce(&mut BufWriter<&mut NamedTempFile>) -> io::Result<()>,
    ) -> Result<(), CommandError> {
        let fault = |source| CommandError::Write {
            path: path.into(),
            source,
        };
        let target = Target::of(path).map_err(fault)?;
        if is_record(path) {
            return Err(CommandError::OverRecord { path: path.into() });
        }
        // All reading is done by now: what was really read, whoever named it.
        if self.read.all().iter().any(|input| target.is_file(input)) {
            return Err(CommandError::OverInput { path: path.into() });
        }
        if self
            .staged
            .iter()
            .any(|other| target.is_same(&other.target))
        {
            return Err(CommandError::OutputTwice { path: path.into() });
        }
        let staged = || {
            let mut file = target.beside()?;
            interrupt::remember(file.path());
            let mut out = BufWriter::with_capacity(1 << 16, &mut file);
            write(&mut out)?;
            out.flush()?;
            drop(out);
            file.as_file().sync_all()?;
            Ok(file)
        };
        let file = staged().map_err(fault)?;
        self.staged.push(Staged {
            file,
            target,
            named: path.into(),
        });
        Ok(())
    }

    /// Writes the tables of a report beside `path`, if there is one, for a spreadsheet.
    pub(crate) fn stage_csv(
        &mut self,
        path: Option<&PathBuf>,
        report: &Report,
    ) -> Result<(), CommandError> {
        let Some(path) = path else { return Ok(()) };
        let text = csv(report).map_err(|source| CommandError::Write {
            path: path.clone(),
            source,
        })?;
        self.stage(path, &text)
    }

    /// Writes a report beside each of some paths, under a title: as a workbook where the name ends so, and else as a page.
    pub(crate) fn stage_reports(
        &mut self,
        paths: &[PathBuf],
        report: &Report,
        title: &str,
    ) -> Result<(), CommandError> {
        for path in paths {
            let is_workbook = path
                .extension()
                .is_some_and(|ending| ending.eq_ignore_ascii_case("xlsx"));
            match is_workbook {
                true => self.stage(path, &workbook(report, title)?)?,
                false => self.stage(path, page(report, title)?.as_bytes())?,
            }
        }
        Ok(())
    }

    /// Puts all staged files in their places, prints, and puts the old files back where one of these fails. A reader of
    /// the output that went away takes nothing with it.
    pub(crate) fn finish(
        self,
        print: impl FnOnce(&mut dyn Write) -> io::Result<()>,
    ) -> Result<(), CommandError> {
        let swapped = interrupt::finish(|| Swap::all(self.staged))?;
        let mut out = Safe(anstream::stdout().lock());
        let printed = print(&mut out).and_then(|()| out.flush());
        match printed {
            Err(error) if error.kind() != io::ErrorKind::BrokenPipe => {
                swapped.undo();
                Err(CommandError::Print(error))
            }
            printed => {
                swapped.keep();
                printed.map_err(CommandError::Print)
            }
        }
    }
}

/// Prints a result as JSON, or its report as it is read on a terminal with the files that were written.
pub(crate) fn print_result<R: serde::Serialize>(
    outputs: Outputs,
    json: bool,
    result: &R,
    report: &Report,
    written: &[PathBuf],
) -> Result<(), CommandError> {
    if json {
        let json = shown_json(serde_json::to_string_pretty(result)?);
        return outputs.finish(|out| writeln!(out, "{json}"));
    }
    let width = terminal_size::terminal_size().map(|(width, _)| usize::from(width.0));
    let width = width.filter(|_| io::stdout().is_terminal());
    outputs.finish(|out| {
        write!(out, "{}", terminal(report, width))?;
        for path in written {
            writeln!(out, "Written: {}", path.display())?;
        }
        Ok(())
    })?;
    // Figures as people read them are no numbers to a spreadsheet: a person is told where to get those.
    let is_csv = |path: &PathBuf| path.extension().is_some_and(|ending| ending == "csv");
    if width.is_some() && io::stderr().is_terminal() && !written.iter().any(is_csv) {
        let faint = anstyle::Style::new().dimmed();
        anstream::eprintln!("{faint}Plain numbers for a spreadsheet: --csv FILE.csv{faint:#}");
    }
    Ok(())
}
