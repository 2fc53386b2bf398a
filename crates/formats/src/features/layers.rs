//! One layer of a map file that has several.

use super::FeatureError;

/// The sign between a layer and the name of a feature in it.
const WITHIN: char = '/';

/// Which of some layers is meant, and which of its features: what stands after # is a layer, a layer and a name with a stroke between
/// them, or, where the file has one layer only, the name of a feature.
///
/// ```
/// use dapedon_formats::features::layer;
/// let layers = ["plots".to_owned(), "fences".to_owned()];
/// assert_eq!(layer(&layers, Some("fences")).unwrap(), (1, None));
/// assert_eq!(layer(&layers, Some("plots/north")).unwrap(), (0, Some("north")));
/// assert_eq!(layer(&layers[..1], Some("north")).unwrap(), (0, Some("north")));
/// ```
///
/// # Errors
///
/// When there are several and none is named, or none has that name.
pub fn layer<'n>(
    layers: &[String],
    named: Option<&'n str>,
) -> Result<(usize, Option<&'n str>), FeatureError> {
    let found = || layers.to_vec();
    let Some(named) = named else {
        return match layers.len() {
            1 => Ok((0, None)),
            _ => Err(FeatureError::SeveralLayers { found: found() }),
        };
    };
    if let Some(at) = layers.iter().position(|layer| layer == named) {
        return Ok((at, None));
    }
    // Layers may have strokes in their names: the longest that fits is meant.
    let within = (0..layers.len()).filter_map(|at| {
        let name = named
            .strip_prefix(layers[at].as_str())?
            .strip_prefix(WITHIN)?;
        Some((at, name))
    });
    if let Some((at, name)) = within.max_by_key(|(at, _)| layers[*at].len()) {
        return Ok((at, Some(name)));
    }
    match layers.len() {
        1 => Ok((0, Some(named))),
        _ => Err(FeatureError::NoSuchLayer {
            name: named.into(),
            found: found(),
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_layer_is_told_from_a_name() {
        let layers = ["a", "a/b", "c"].map(String::from);
        let of = |named| layer(&layers, Some(named));
        assert_eq!(of("a/b").unwrap(), (1, None));
        assert_eq!(of("a/b/x").unwrap(), (1, Some("x")));
        assert_eq!(of("a/x/y").unwrap(), (0, Some("x/y")));
        let fault = of("d/x").unwrap_err();
        assert_eq!(
            fault.to_string(),
            "no layer is called \"d/x\"; the layers are a, a/b, c"
        );
        let fault = layer(&layers, None).unwrap_err();
        assert_eq!(fault.to_string(), "the file has 3 layers: a, a/b, c");
        assert_eq!(layer(&layers[2..], Some("c/x")).unwrap(), (0, Some("x")));
        assert_eq!(layer(&layers[2..], None).unwrap(), (0, None));
    }
}
