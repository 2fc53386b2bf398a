//! The page on formats says what the table of formats says.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use dapedon_formats::Format;

#[test]
fn the_page_on_formats_is_the_table() {
    let mut table = String::from("| format | endings | read | written | left out | follows |\n");
    table.push_str("| --- | --- | --- | --- | --- | --- |\n");
    for format in Format::ALL {
        let endings = format.endings().iter().map(|ending| format!(".{ending}"));
        let written = match format.writes() {
            "" => "no",
            written => written,
        };
        let cells = [
            format.name(),
            &endings.collect::<Vec<_>>().join(" "),
            format.reads(),
            written,
            format.leaves_out(),
            format.specification(),
        ];
        table.push_str(&format!("| {} |\n", cells.join(" | ")));
    }
    let page = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/formats.md");
    let page = std::fs::read_to_string(page).unwrap();
    assert!(
        page.contains(&table),
        "docs/formats.md should hold this table:\n{table}"
    );
}
