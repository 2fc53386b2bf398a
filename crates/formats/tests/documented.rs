//! The page on formats says what the table of formats says.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use dapedon_formats::Format;

#[test]
fn the_page_on_formats_is_the_table() {
    let mut table = String::from("| format | endings | read | written | skipped | follows |\n");
    table.push_str("| --- | --- | --- | --- | --- | --- |\n");
    for format in Format::ALL {
        let endings = format.endings().iter().map(|ending| format!(".{ending}"));
        let written = [format.writes(), format.draws()].into_iter();
        let written: Vec<&str> = written.filter(|words| !words.is_empty()).collect();
        let written = match written.is_empty() {
            true => "no".to_owned(),
            false => written.join("; "),
        };
        let cells = [
            format.name(),
            &endings.collect::<Vec<_>>().join(" "),
            format.reads(),
            &written,
            format.leaves_out(),
            format.specification(),
        ];
        table.push_str(&format!("| {} |\n", cells.join(" | ")));
    }
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/formats.md");
    let page = std::fs::read_to_string(path).unwrap();
    if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
        let start = page.find("| format |").unwrap();
        let end = start + page[start..].find("\n\n").unwrap() + 1;
        std::fs::write(path, format!("{}{table}{}", &page[..start], &page[end..])).unwrap();
        return;
    }
    assert!(
        page.contains(&table),
        "write it anew with DAPEDON_WRITE_DOCS=1 cargo test -p dapedon-formats"
    );
}
