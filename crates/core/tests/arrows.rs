//! The modules take from each other one way only.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::{Path, PathBuf};

/// From the bottom up, as the front page of the crate lists them.
const MODULES: [&str; 9] = [
    "units",
    "plan",
    "surface",
    "zones",
    "alignment",
    "overlay",
    "points",
    "derived",
    "quantities",
];

fn sources(folder: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            sources(&path, found);
        } else if path.extension().is_some_and(|ending| ending == "rs") {
            found.push(path);
        }
    }
}

#[test]
fn modules_take_from_those_below_them() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut files = Vec::new();
    sources(&root, &mut files);
    assert!(files.len() > 70);
    let rank = |module: &str| MODULES.iter().position(|known| *known == module);
    let mut wrong = Vec::new();
    for path in &files {
        let within = path.strip_prefix(&root).unwrap().with_extension("");
        let own = within.iter().next().unwrap().to_str().unwrap();
        if own == "lib" {
            continue;
        }
        let own_rank = rank(own).unwrap_or_else(|| panic!("{own} is not listed"));
        let text = fs::read_to_string(path).unwrap();
        let code = text.split("#[cfg(test)]").next().unwrap();
        for rest in code.split("crate::").skip(1) {
            let end = rest.find(|c: char| c != '_' && !c.is_ascii_lowercase());
            let module = &rest[..end.unwrap_or(rest.len())];
            if rank(module).is_none_or(|other| other > own_rank) {
                wrong.push(format!("{} takes from {module:?}", path.display()));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_front_page_lists_the_same_modules() {
    let page = concat!(env!("CARGO_MANIFEST_DIR"), "/src/lib.rs");
    let page = fs::read_to_string(page).unwrap();
    let listed: Vec<&str> = (page.lines())
        .filter_map(|line| line.strip_prefix("//! | [`")?.split('`').next())
        .collect();
    assert_eq!(listed, MODULES);
}
