//! The page of errors is made from the code: each error that says what to do, by its code.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

const CRATES: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/..");

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

/// As `CutOff` is written in a code: `cut-off`.
fn kebab(name: &str) -> String {
    let mut text = String::new();
    for letter in name.chars() {
        if letter.is_uppercase() && !text.is_empty() {
            text.push('-');
        }
        text.extend(letter.to_lowercase());
    }
    text
}

/// The variants of an enum, each with the first line of the notes on it.
fn variants(text: &str, name: &str) -> Vec<(String, String)> {
    let body = text.split(&format!("enum {name} {{\n")).nth(1).unwrap();
    let body = body.split("\n}\n").next().unwrap();
    let (mut found, mut said) = (Vec::new(), String::new());
    for line in body.lines().filter_map(|line| line.strip_prefix("    ")) {
        if let Some(words) = line.strip_prefix("/// ") {
            if said.is_empty() {
                said = words.into();
            }
        } else if line.starts_with(char::is_uppercase) {
            let end = line.find(|c: char| !c.is_alphanumeric());
            let variant = &line[..end.unwrap_or(line.len())];
            found.push((kebab(variant), std::mem::take(&mut said)));
        }
    }
    found
}

#[test]
fn the_page_lists_all_errors() {
    let mut files = Vec::new();
    sources(Path::new(CRATES), &mut files);
    let mut codes: BTreeMap<String, String> = BTreeMap::new();
    codes.insert(
        "job-file/mistake".into(),
        "Something is wrong in a job file: the line is shown.".into(),
    );
    for path in files.iter().filter(|path| !path.ends_with(file!())) {
        let text = fs::read_to_string(path).unwrap();
        let own = text.split("\ndapedon_diagnostic::diagnostic!(").skip(1);
        let mut enums: Vec<(String, String)> = own
            .map(|call| {
                let name = call.split(',').next().unwrap();
                (name.to_owned(), call.split('"').nth(1).unwrap().to_owned())
            })
            .collect();
        for (name, of) in [("CommandError", "command"), ("InputError", "input")] {
            if text.contains(&format!("impl Diagnostic for {name} ")) {
                enums.push((name.into(), of.into()));
            }
        }
        for (name, of) in enums {
            for (variant, said) in variants(&text, &name) {
                codes.insert(format!("{of}/{variant}"), said);
            }
        }
    }
    // These are known by the code of what is in them.
    for passed_on in ["command/job", "command/code-uses", "input/unreadable"] {
        assert!(codes.remove(passed_on).is_some(), "{passed_on}");
    }
    assert!(codes.len() > 150, "{}", codes.len());
    let page = format!("{CRATES}/../docs/errors.md");
    let text = fs::read_to_string(&page).unwrap();
    let (head, rows) = text.split_once("| --- | --- |\n").unwrap();
    let expected: String = (codes.iter())
        .map(|(code, said)| format!("| `{code}` | {said} |\n"))
        .collect();
    if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
        fs::write(&page, format!("{head}| --- | --- |\n{expected}")).unwrap();
        return;
    }
    assert!(
        rows == expected,
        "write it anew with DAPEDON_WRITE_DOCS=1 cargo test -p dapedon"
    );
    let silent: Vec<&String> = codes
        .iter()
        .filter(|(_, said)| said.is_empty())
        .map(|(code, _)| code)
        .collect();
    assert!(silent.is_empty(), "nothing is said of {silent:?}");
}
