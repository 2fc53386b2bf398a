//! Text in cells of comma-separated text: read as text, whatever it begins with.

/// A text as it may stand in a cell: one that a spreadsheet would take for a formula has an apostrophe before it, as people
/// type to say that it is none. Figures are no text and stand as they are.
///
/// What a program would run begins with an equals sign, a plus, a minus, an at sign, a tab or a return; before it there
/// may be spaces.
pub(crate) fn cell(text: &str) -> String {
    let formula =
        text.trim_start().starts_with(['=', '+', '-', '@']) || text.starts_with(['\t', '\r']);
    match formula && text.parse::<f64>().is_err() {
        true => format!("'{text}"),
        false => text.into(),
    }
}

#[cfg(test)]
mod tests {
    use super::cell;

    #[test]
    fn formulas_are_text() {
        for text in [
            "=1+1",
            "+A1",
            "-cmd|x",
            "@SUM(A1)",
            "\t=1",
            " =HYPERLINK(0)",
            "=",
            "\r=1",
        ] {
            assert_eq!(cell(text), format!("'{text}"));
        }
        for text in ["pile", "", "2.1", "-2.5", "+3", "a=b", "1e3"] {
            assert_eq!(cell(text), text);
        }
    }
}
