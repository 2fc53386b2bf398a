//! Text of drawings: escapes and formatting removed.

use crate::codes::plain;

/// Text with its escapes read: `\U+00E9` is the character of that number, `%%d` the sign of degrees.
pub(super) fn unescaped(bytes: &[u8]) -> String {
    let text = plain(bytes);
    if !text.contains("\\U+") && !text.contains("%%") {
        return text;
    }
    let mut made = String::with_capacity(text.len());
    let mut rest = text.as_str();
    while let Some(next) = rest.chars().next() {
        let escape = (rest.strip_prefix("\\U+"))
            .and_then(|after| Some((after.get(..4)?, &after[4..])))
            .and_then(|(digits, after)| {
                Some((
                    char::from_u32(u32::from_str_radix(digits, 16).ok()?)?,
                    after,
                ))
            });
        let sign = || {
            let after = rest.strip_prefix("%%")?;
            let letter = after.chars().next()?;
            let sign = match letter.to_ascii_lowercase() {
                'd' => '°',
                'p' => '±',
                'c' => '⌀',
                '%' => '%',
                _ => return None,
            };
            Some((sign, &after[letter.len_utf8()..]))
        };
        let (found, after) = escape
            .or_else(sign)
            .unwrap_or((next, &rest[next.len_utf8()..]));
        made.push(found);
        rest = after;
    }
    made
}

/// Text of several lines without what says how it looks: fonts, heights, colours, braces.
pub(super) fn unformatted(bytes: &[u8]) -> String {
    let text = unescaped(bytes);
    let mut made = String::with_capacity(text.len());
    let mut chars = text.chars();
    while let Some(c) = chars.next() {
        match c {
            '{' | '}' => {}
            '\\' => match chars.next() {
                Some('P' | 'X' | 'N') => made.push('\n'),
                Some('~') => made.push(' '),
                Some(c @ ('\\' | '{' | '}')) => made.push(c),
                // A code with values, up to a semicolon.
                Some('A' | 'C' | 'c' | 'F' | 'f' | 'H' | 'Q' | 'T' | 'W' | 'p') => {
                    chars.by_ref().find(|&c| c == ';');
                }
                _ => {}
            },
            _ => made.push(c),
        }
    }
    made.trim().to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn escapes_and_formatting_are_removed() {
        assert_eq!(unescaped(b"B\\U+00F6schung 12%%d"), "Böschung 12°");
        assert_eq!(unescaped(b"\\U+00G1 %%x 50%"), "\\U+00G1 %%x 50%");
        assert_eq!(unescaped("\\U+00é".as_bytes()), "\\U+00é");
        assert_eq!(unformatted(b"{\\fArial|b0|i0;\\H2.5;12.34}"), "12.34");
        assert_eq!(unformatted(b"\\A1;12.50\\Pkerb"), "12.50\nkerb");
        assert_eq!(unformatted(b"a\\"), "a");
    }
}
