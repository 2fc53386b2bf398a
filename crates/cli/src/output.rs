//! Output files: all of them, or none.

use std::fs;
use std::io::{self, BufWriter, Write};
use std::path::{Path, PathBuf};

use tempfile::NamedTempFile;

use crate::fault::Fault;
use crate::interrupt;

/// Files to be written together, each beside its place first and then renamed into it.
#[derive(Default)]
pub(crate) struct Outputs {
    staged: Vec<(NamedTempFile, PathBuf)>,
}

impl Outputs {
    /// Finds out, before any work is done, whether a file could be written at `path`.
    pub(crate) fn check(paths: &[&Path], inputs: &[&Path]) -> Result<(), Fault> {
        for (index, &path) in paths.iter().enumerate() {
            let same = |other: &Path| match (path.canonicalize(), other.canonicalize()) {
                (Ok(path), Ok(other)) => path == other,
                _ => path == other,
            };
            if inputs.iter().any(|input| same(input)) {
                return Err(Fault::OverInput { path: path.into() });
            }
            if paths[..index].iter().any(|other| same(other)) {
                return Err(Fault::OutputTwice { path: path.into() });
            }
            if path.is_dir() {
                let source = std::io::Error::other("it is a folder");
                return Err(Fault::Write {
                    path: path.into(),
                    source,
                });
            }
            beside(path).map_err(|source| Fault::Write {
                path: path.into(),
                source,
            })?;
        }
        Ok(())
    }

    /// Writes `bytes` beside `path`.
    pub(crate) fn stage(&mut self, path: &Path, bytes: &[u8]) -> Result<(), Fault> {
        self.stage_with(path, |out| out.write_all(bytes))
    }

    /// Has something written beside `path`.
    pub(crate) fn stage_with(
        &mut self,
        path: &Path,
        write: impl FnOnce(&mut BufWriter<&mut NamedTempFile>) -> io::Result<()>,
    ) -> Result<(), Fault> {
        let staged = || {
            let mut file = beside(path)?;
            interrupt::remember(file.path());
            let mut out = BufWriter::with_capacity(1 << 16, &mut file);
            write(&mut out)?;
            out.flush()?;
            drop(out);
            file.as_file().sync_all()?;
            Ok(file)
        };
        let file = staged().map_err(|source| Fault::Write {
            path: path.into(),
            source,
        })?;
        self.staged.push((file, path.into()));
        Ok(())
    }

    /// Puts all staged files in their places.
    pub(crate) fn commit(self) -> Result<(), Fault> {
        interrupt::finish(|| {
            for (file, path) in self.staged {
                file.persist(&path).map_err(|fault| Fault::Write {
                    path,
                    source: fault.error,
                })?;
            }
            Ok(())
        })
    }
}

fn beside(path: &Path) -> std::io::Result<NamedTempFile> {
    let folder = match path.parent() {
        Some(folder) if !folder.as_os_str().is_empty() => folder,
        _ => Path::new("."),
    };
    let mut builder = tempfile::Builder::new();
    builder.prefix(".dapedon-");
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        builder.permissions(fs::Permissions::from_mode(0o666));
    }
    builder.tempfile_in(folder)
}
