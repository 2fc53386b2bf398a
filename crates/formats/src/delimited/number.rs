//! Numbers, with a decimal point or a decimal comma.

/// How numbers are written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Numbers {
    Point,
    Comma,
}

impl Numbers {
    /// How the numbers of a row are written: with commas where one has a comma and none a point.
    pub(super) fn of<'f>(fields: impl Iterator<Item = &'f [u8]> + Clone) -> Self {
        let any = |byte: u8| fields.clone().any(|field| field.contains(&byte));
        if any(b',') && !any(b'.') {
            Numbers::Comma
        } else {
            Numbers::Point
        }
    }

    /// The number a field holds, if it is one and finite; there are no blanks around it.
    #[inline]
    pub(super) fn parse(self, field: &[u8]) -> Option<f64> {
        let value: f64 = match self {
            Numbers::Point => fast_float2::parse(field).ok()?,
            Numbers::Comma => {
                // A point would part thousands: what it means is not guessed.
                if field.contains(&b'.') {
                    return None;
                }
                let point: Vec<u8> = (field.iter())
                    .map(|&byte| if byte == b',' { b'.' } else { byte })
                    .collect();
                fast_float2::parse(point).ok()?
            }
        };
        value.is_finite().then_some(value)
    }
}

/// True when a field is a number, however it is written.
pub(super) fn is_any(field: &[u8]) -> bool {
    Numbers::Point.parse(field).is_some() || Numbers::Comma.parse(field).is_some()
}
