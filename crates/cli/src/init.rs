//! `init`: a first job file, commented, that already runs.

use std::path::Path;

use dapedon_job::starter;

use crate::args::InitArgs;
use crate::error::CommandError;
use crate::output::Outputs;

pub(crate) fn run(args: &InitArgs) -> Result<(), CommandError> {
    if args.job.exists() {
        return Err(CommandError::JobExists {
            path: args.job.clone(),
        });
    }
    Outputs::check(&[&args.job], &[])?;
    let folder = args.job.parent().unwrap_or(Path::new(""));
    let mut files: Vec<(String, String)> = Vec::new();
    for path in &args.files {
        if !path.exists() {
            return Err(CommandError::NoFile { path: path.clone() });
        }
        let stem = path
            .file_stem()
            .unwrap_or_default()
            .to_string_lossy()
            .into_owned();
        let same = files
            .iter()
            .filter(|(name, _)| *name == stem || name.starts_with(&format!("{stem} ")))
            .count();
        let name = if same == 0 {
            stem
        } else {
            format!("{stem} {}", same + 1)
        };
        let relative = path.strip_prefix(folder).unwrap_or(path);
        files.push((name, relative.display().to_string()));
    }
    let mut outputs = Outputs::default();
    outputs.stage(&args.job, starter(&files).as_bytes())?;
    let typed = match args.job.as_os_str() == dapedon_job::JOB_FILE {
        true => String::new(),
        false => format!(" --job {}", args.job.display()),
    };
    outputs.finish(|out| {
        writeln!(out, "Written: {}", args.job.display())?;
        match files.first() {
            None => writeln!(out, "Try it: dapedon volume finished formation{typed}"),
            Some((name, _)) => writeln!(out, "Try it: dapedon surface \"{name}\"{typed}"),
        }
    })
}
