//! Where files lie in a pack: as they lie around the job file, below one folder.

use std::path::{Component, Path, PathBuf};

/// Where files lie in a pack.
pub(super) struct Places {
    /// The folder of the job, from that of the pack.
    job: PathBuf,
}

impl Places {
    /// For files that are named from the folder of the job: that lies as deep as some of them are above it.
    pub(super) fn of<'p>(named: impl Iterator<Item = &'p Path>) -> Self {
        let above = |path: &Path| {
            let (mut depth, mut highest) = (0i64, 0i64);
            for part in path.components() {
                match part {
                    Component::ParentDir => depth = depth.saturating_sub(1),
                    Component::Normal(_) => depth = depth.saturating_add(1),
                    _ => {}
                }
                highest = highest.min(depth);
            }
            usize::try_from(highest.saturating_neg()).unwrap_or(0)
        };
        let most = named.map(above).max().unwrap_or(0);
        let mut job = PathBuf::new();
        for level in 0..most {
            let is_last = level.saturating_add(1) == most;
            job.push(if is_last { "job" } else { "above" });
        }
        Places { job }
    }

    /// The folder of the job, from that of the pack.
    pub(super) fn job_folder(&self) -> String {
        match self.job.as_os_str().is_empty() {
            true => ".".into(),
            false => written(&self.job),
        }
    }

    /// The path in the pack of a file that is named from the folder of the job.
    pub(super) fn of_file(&self, named: &Path) -> String {
        let mut path = self.job.clone();
        for part in named.components() {
            match part {
                Component::ParentDir => {
                    path.pop();
                }
                Component::Normal(part) => path.push(part),
                _ => {}
            }
        }
        written(&path)
    }
}

/// A path as all systems write it.
fn written(path: &Path) -> String {
    let parts = path
        .components()
        .map(|part| part.as_os_str().to_string_lossy());
    parts.collect::<Vec<_>>().join("/")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn files_lie_as_they_lie_around_the_job() {
        let named = ["a.csv", "in/b.csv", "../c.csv", "in/../../../d.csv"].map(Path::new);
        let places = Places::of(named.into_iter());
        assert_eq!(places.job_folder(), "above/job");
        let found = named.map(|path| places.of_file(path));
        assert_eq!(
            found,
            [
                "above/job/a.csv",
                "above/job/in/b.csv",
                "above/c.csv",
                "d.csv"
            ]
        );
        let places = Places::of(named[..2].iter().copied());
        assert_eq!(places.job_folder(), ".");
        assert_eq!(places.of_file(Path::new("./in/b.csv")), "in/b.csv");
    }
}
