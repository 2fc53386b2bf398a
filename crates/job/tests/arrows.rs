//! The modules of the crate take from each other one way only, and name each other, not the root.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::Path;

/// From the bottom up, as `docs/architecture.md` lists them.
const ROOMS: [&str; 23] = [
    "error",
    "schema",
    "finding",
    "figure",
    "digits",
    "units",
    "watch",
    "accuracy",
    "band_rules",
    "input",
    "section_rules",
    "conformity_rules",
    "calendar",
    "job_file",
    "context",
    "zones",
    "surfaces",
    "site",
    "quantities",
    "inspect",
    "bill",
    "progress",
    "claims",
];

fn sources(folder: &Path, found: &mut Vec<(String, String)>) {
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() {
            sources(&path, found);
        } else if path.extension().is_some_and(|ending| ending == "rs") {
            let text = fs::read_to_string(&path).unwrap();
            found.push((path.display().to_string(), text));
        }
    }
}

/// The modules that a text names, as in `use crate::input::Source`.
fn named(text: &str) -> impl Iterator<Item = &str> {
    text.split("crate::").skip(1).map(|rest| {
        let end = rest.find(|c: char| c != '_' && !c.is_ascii_lowercase());
        &rest[..end.unwrap_or(rest.len())]
    })
}

#[test]
fn rooms_take_from_those_below_them() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let mut files = Vec::new();
    sources(&root, &mut files);
    assert!(files.len() > 80);
    let rank = |room: &str| ROOMS.iter().position(|known| *known == room);
    let mut wrong = Vec::new();
    for (path, text) in &files {
        let within = path.strip_prefix(&*root.display().to_string()).unwrap();
        let own = within
            .trim_start_matches(['/', '\\'])
            .split(['/', '\\', '.'])
            .next();
        let own = own.unwrap();
        if own == "lib" {
            continue;
        }
        let own_rank = rank(own).unwrap_or_else(|| panic!("{own} is not listed"));
        for room in named(text) {
            if rank(room).is_none_or(|other| other > own_rank) {
                wrong.push(format!("{path} takes from {room:?}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn the_page_lists_the_same_rooms() {
    let page = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/architecture.md");
    let page = fs::read_to_string(page).unwrap();
    let (_, rooms) = page.split_once("## Modules of the job").unwrap();
    let listed: Vec<&str> = (rooms.lines())
        .filter_map(|line| line.strip_prefix("| `")?.split('`').next())
        .take(ROOMS.len())
        .collect();
    assert_eq!(listed, ROOMS);
}
