//! The file in which a person keeps readings for all jobs.

use std::env;
use std::path::PathBuf;

/// Names the file, where it is not in its usual place.
const VARIABLE: &str = "DAPEDON_READINGS";

/// The file, if there is one: the one that the environment names, or `dapedon/readings.toml` in the folder of settings.
pub(crate) fn file() -> Option<PathBuf> {
    if let Some(path) = env::var_os(VARIABLE) {
        return Some(path.into());
    }
    let path = settings()?.join("dapedon").join("readings.toml");
    path.is_file().then_some(path)
}

/// The folder in which programs keep a person's settings.
fn settings() -> Option<PathBuf> {
    let folder = |name: &str| {
        env::var_os(name)
            .filter(|value| !value.is_empty())
            .map(PathBuf::from)
    };
    match cfg!(windows) {
        true => folder("APPDATA"),
        false => folder("XDG_CONFIG_HOME").or_else(|| Some(folder("HOME")?.join(".config"))),
    }
}
