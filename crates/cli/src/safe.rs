//! What goes out to a terminal: nothing that came in acts on it.

use std::borrow::Cow;
use std::io::{self, Write};

use dapedon_formats::{acts, visible_lines};

/// The styles that are our own, as they are written.
const STYLES: [&str; 5] = [
    "\u{1b}[0m",
    "\u{1b}[1m",
    "\u{1b}[2m",
    "\u{1b}[31m",
    "\u{1b}[33m",
];

/// Text as it may go to a terminal: our own styles, and what is seen.
pub(crate) fn shown(text: &str) -> Cow<'_, str> {
    if !text.contains('\u{1b}') {
        return visible_lines(text);
    }
    let mut safe = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find('\u{1b}') {
        safe += &visible_lines(&rest[..at]);
        rest = &rest[at..];
        let own = STYLES.iter().find(|style| rest.starts_with(**style));
        let length = match own {
            Some(style) => {
                safe += style;
                style.len()
            }
            None => {
                safe += &visible_lines("\u{1b}");
                1
            }
        };
        rest = &rest[length..];
    }
    safe += &visible_lines(rest);
    Cow::Owned(safe)
}

/// JSON as it may go to a terminal: what would act there stands in strings alone, and is escaped.
pub(crate) fn shown_json(json: String) -> String {
    let hides = |c: char| acts(c) && c != '\n';
    if !json.chars().any(hides) {
        return json;
    }
    let mut safe = String::with_capacity(json.len());
    for c in json.chars() {
        match hides(c) {
            // All of them are below the second plane.
            true => safe += &format!("\\u{:04x}", u32::from(c)),
            false => safe.push(c),
        }
    }
    safe
}

/// Writes text as it may go to a terminal. Pieces are whole characters, as formatting writes them.
pub(crate) struct Safe<W>(pub(crate) W);

impl<W: Write> Write for Safe<W> {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        let text = String::from_utf8_lossy(bytes);
        self.0.write_all(shown(&text).as_bytes())?;
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        self.0.flush()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn our_styles_pass_and_nothing_else_acts() {
        let text = "\u{1b}[1mzone\u{1b}[0m a\u{1b}]0;title\u{7}\u{1b}[2J\u{9b}31m\n\tb\u{202e}c";
        let safe = shown(text);
        assert_eq!(
            safe,
            "\u{1b}[1mzone\u{1b}[0m a␛]0;title␇␛[2J\u{fffd}31m\n\tb\u{fffd}c"
        );
        assert_eq!(shown("plain ± m³"), "plain ± m³");
    }

    #[test]
    fn json_reads_back_as_it_was() {
        let name = "a\u{9b}b\u{202e}c\n";
        let json = serde_json::to_string(name).unwrap();
        let safe = shown_json(json);
        assert!(!safe.chars().any(acts));
        assert_eq!(serde_json::from_str::<String>(&safe).unwrap(), name);
    }
}
