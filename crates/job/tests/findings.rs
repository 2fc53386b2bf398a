//! The page of findings lists the codes that there are.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;

use dapedon_job::{FindingCode, Severity};

#[test]
fn the_page_lists_all_codes() {
    const PAGE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/findings.md");
    const MARK: &str = "| --- | --- | --- |\n";
    let page = fs::read_to_string(PAGE).unwrap();
    let (head, rows) = page.split_once(MARK).unwrap();
    let row = |code: &FindingCode| {
        let severity = match code.severity() {
            Severity::Warning => "warning",
            Severity::Failed => "failed",
        };
        format!("| `{code}` | {severity} | {} |\n", code.meaning())
    };
    let expected: String = FindingCode::ALL.iter().map(row).collect();
    if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
        fs::write(PAGE, format!("{head}{MARK}{expected}")).unwrap();
        return;
    }
    assert!(
        rows == expected,
        "write it anew with DAPEDON_WRITE_DOCS=1 cargo test -p dapedon-job"
    );
}
