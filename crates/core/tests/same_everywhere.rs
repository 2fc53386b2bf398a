//! Figures are the same on any machine: functions that each platform works out for itself are not used, but those of a
//! library that is part of the program.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::Path;

/// What the standard library leaves to the platform.
const LEFT_TO_THE_PLATFORM: [&str; 20] = [
    "hypot", "atan2", "sin_cos", "sin", "cos", "tan", "asin", "acos", "atan", "sinh", "cosh",
    "tanh", "exp", "exp2", "ln", "log", "log2", "log10", "powf", "cbrt",
];

/// Whether a function is called on a value, or named as one of those of a number.
fn calls(code: &str, name: &str) -> bool {
    code.contains(&format!(".{name}("))
        || ["f64::", "f32::"].iter().any(|of| {
            let named = format!("{of}{name}");
            let mut after = code
                .match_indices(&named)
                .map(|(at, _)| &code[at + named.len()..]);
            after.any(|rest| !rest.starts_with(|next: char| next.is_alphanumeric() || next == '_'))
        })
}

#[test]
fn calls_are_found_both_ways() {
    assert!(calls("let a = b.atan();", "atan") && calls("b.map(f64::atan)", "atan"));
    assert!(!calls("libm::atan(b)", "atan") && !calls("b.map(f64::atan2)", "atan"));
}

#[test]
fn no_figure_is_left_to_the_platform() {
    let crates = Path::new(env!("CARGO_MANIFEST_DIR")).parent().unwrap();
    let (mut files, mut found) = (0, Vec::new());
    let mut folders: Vec<_> = fs::read_dir(crates)
        .unwrap()
        .map(|entry| entry.unwrap().path().join("src"))
        .collect();
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                folders.push(path);
            } else if path.extension().is_some_and(|ending| ending == "rs")
                && !path.ends_with("tests.rs")
            {
                let text = fs::read_to_string(&path).unwrap();
                // Tests may ask the platform: they compare.
                let code = text.split("#[cfg(test)]").next().unwrap_or_default();
                let code = code
                    .lines()
                    .filter(|line| !line.trim_start().starts_with("//"));
                let code: String = code.collect();
                files += 1;
                let used = LEFT_TO_THE_PLATFORM
                    .iter()
                    .filter(|name| calls(&code, name));
                found.extend(used.map(|name| format!("{}: {name}", path.display())));
            }
        }
    }
    assert!(files > 200, "{files}");
    assert!(found.is_empty(), "use libm: {found:#?}");
}
