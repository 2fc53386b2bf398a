//! Text of others made safe to be read: what acts on a terminal or breaks a line is seen instead.

use std::borrow::Cow;

/// The text with every character that would act instead of being seen replaced by one that is: control characters by
/// their pictures, breaks of lines and marks that turn the direction of text by the sign for what cannot be shown.
///
/// ```
/// use dapedon_formats::visible;
/// assert_eq!(visible("west\u{1b}[2J bank"), "west␛[2J bank");
/// assert_eq!(visible("yard\nwarning: none"), "yard␊warning: none");
/// assert_eq!(visible("Größe × 2"), "Größe × 2");
/// ```
pub fn visible(text: &str) -> Cow<'_, str> {
    pictured(text, acts)
}

/// The same of text in lines, whose breaks and tabs are our own.
pub fn visible_lines(text: &str) -> Cow<'_, str> {
    pictured(text, |c| acts(c) && !matches!(c, '\n' | '\t'))
}

fn pictured(text: &str, hides: impl Fn(char) -> bool) -> Cow<'_, str> {
    match text.chars().any(&hides) {
        false => Cow::Borrowed(text),
        true => Cow::Owned(
            text.chars()
                .map(|c| if hides(c) { picture(c) } else { c })
                .collect(),
        ),
    }
}

/// True for what acts on whoever shows it.
pub fn acts(c: char) -> bool {
    c.is_control()
        || matches!(c, '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{2028}'..='\u{202e}' | '\u{2066}'..='\u{2069}' | '\u{feff}' | '\u{fffe}' | '\u{ffff}')
}

fn picture(c: char) -> char {
    let picture = match u32::from(c) {
        code @ 0..0x20 => char::from_u32(0x2400 + code),
        0x7f => Some('\u{2421}'),
        _ => None,
    };
    picture.unwrap_or(char::REPLACEMENT_CHARACTER)
}

/// Makes a text safe where it stands.
pub(crate) fn replace(text: &mut String) {
    if let Cow::Owned(safe) = visible(text) {
        *text = safe;
    }
}
