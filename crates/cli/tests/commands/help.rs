//! Help: its examples run, and what it names is there.

use std::collections::BTreeSet;
use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use assert_cmd::prelude::*;

use crate::site::Site;

/// The words of a line, those in quotes as one.
fn words(line: &str) -> Vec<String> {
    let parts = line.split('"').enumerate();
    let words = parts.flat_map(|(index, part)| match index % 2 {
        0 => part.split_whitespace().map(str::to_owned).collect(),
        _ => vec![part.to_owned()],
    });
    words.collect()
}

/// Runs a line as it is typed in a folder.
fn ran(folder: &Path, line: &str) -> Output {
    let run = Command::cargo_bin("dapedon")
        .unwrap()
        .current_dir(folder)
        .args(words(line))
        .output();
    run.unwrap()
}

const COMMANDS: [&str; 19] = [
    "progress",
    "claim",
    "audit",
    "spots",
    "profile",
    "sections",
    "contours",
    "init",
    "inspect",
    "surface",
    "volume",
    "pile",
    "capacity",
    "conformity",
    "balance",
    "haul",
    "plan",
    "measure",
    "schema",
];

#[test]
fn every_example_runs_on_the_sample_job() {
    let site = Site::new();
    site.succeed("demo");
    let folder = site.path().join("tern-reach");
    for command in COMMANDS {
        let help = site.succeed(&format!("help {command}"));
        let examples = help
            .lines()
            .filter_map(|line| line.strip_prefix("  dapedon "));
        let examples: Vec<&str> = examples.collect();
        assert_eq!(examples.len(), 2, "{help}");
        for line in examples {
            let done = ran(&folder, line);
            let said = String::from_utf8_lossy(&done.stderr);
            // What is found in the sample job is in the list of exit codes.
            match done.status.code() {
                Some(0) => {}
                Some(1) => assert!(help.contains("\n  1  "), "{line}: {said}"),
                _ => panic!("{line}: {said}"),
            }
        }
    }
}

#[test]
fn help_is_the_same_however_it_is_asked_for() {
    let site = Site::new();
    assert_eq!(site.succeed("help"), site.succeed("--help"));
    assert_eq!(site.succeed("help volume"), site.succeed("volume --help"));
    assert!(
        site.succeed("help terms")
            .contains("Surveyed height less reference height")
    );
    let refused = site.refuse("help volumes");
    assert!(refused.contains("no help on \"volumes\""), "{refused}");
}

/// The options that a text names.
fn options(text: &str) -> BTreeSet<String> {
    let named = text.split("--").skip(1).map(|rest| {
        let end = rest.find(|c: char| !c.is_ascii_lowercase() && c != '-');
        rest[..end.unwrap_or(rest.len())]
            .trim_end_matches('-')
            .to_owned()
    });
    named.filter(|option| option.len() > 1).collect()
}

/// Every command line of the README runs in the folder of the sample job, in their order.
#[test]
fn every_command_of_the_readme_runs() {
    let site = Site::new();
    site.succeed("demo");
    let folder = site.path().join("tern-reach");
    let readme = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../README.md");
    let readme = fs::read_to_string(readme).unwrap();
    let lines = readme
        .lines()
        .filter_map(|line| line.strip_prefix("dapedon "));
    let mut count = 0;
    for line in lines {
        count += 1;
        let done = ran(&folder, line);
        // The bill holds an item over its contract quantity, and the road has spots out of tolerance.
        let has_findings = ["measure", "conformity"].iter();
        let expected = match { has_findings }.any(|command| line.starts_with(command)) {
            true => Some(1),
            false => Some(0),
        };
        let error = String::from_utf8_lossy(&done.stderr);
        assert_eq!(done.status.code(), expected, "{line}: {error}");
    }
    assert!(count > 15, "{count}");
}

/// Every key of a JSON Schema has a description that starts with a capital and has at most 25 words.
fn check_keys(name: &str, schema: &serde_json::Value, wrong: &mut Vec<String>) {
    match schema {
        serde_json::Value::Object(object) => {
            let keys = object.get("properties").and_then(|keys| keys.as_object());
            // A variant of an enum with one key is described as a whole.
            let whole =
                (object.get("description")).filter(|_| keys.is_some_and(|keys| keys.len() == 1));
            for (key, value) in keys.into_iter().flatten() {
                let own = value.get("description").or(whole);
                let text = own.and_then(|text| text.as_str()).unwrap_or_default();
                let starts = |c: char| c.is_uppercase() || c == '`';
                if !text.starts_with(starts) || text.split_whitespace().count() > 25 {
                    wrong.push(format!("{name} {key}: {text:?}"));
                }
            }
            for value in object.values() {
                check_keys(name, value, wrong);
            }
        }
        serde_json::Value::Array(values) => {
            for value in values {
                check_keys(name, value, wrong);
            }
        }
        _ => {}
    }
}

#[test]
fn every_key_has_a_short_description() {
    let site = Site::new();
    let mut wrong = Vec::new();
    for name in [
        "job-file",
        "inspect",
        "surface",
        "volume",
        "spots",
        "profile",
        "sections",
        "contours",
        "conformity",
        "pile",
        "capacity",
        "balance",
        "haul",
        "plan",
        "measure",
    ] {
        let schema = site.succeed(&format!("schema {name}"));
        check_keys(name, &serde_json::from_str(&schema).unwrap(), &mut wrong);
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// README and docs name no option that no command has.
#[test]
fn documented_options_exist() {
    let site = Site::new();
    let mut known = options(&site.succeed("help"));
    for command in COMMANDS {
        known.extend(options(&site.succeed(&format!("help {command}"))));
    }
    assert!(known.contains("zone") && !known.contains("zon"));
    // Of cargo, in the pages on building and measuring.
    known.extend(["release", "workspace", "bench"].map(str::to_owned));
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut pages = vec![root.join("README.md"), root.join("CHANGELOG.md")];
    let docs = fs::read_dir(root.join("docs")).unwrap();
    pages.extend(docs.map(|entry| entry.unwrap().path()));
    for page in pages.iter().filter(|page| page.extension().is_some()) {
        let text = fs::read_to_string(page).unwrap();
        let unknown: Vec<String> = options(&text).difference(&known).cloned().collect();
        assert!(unknown.is_empty(), "{}: {unknown:?}", page.display());
    }
}
