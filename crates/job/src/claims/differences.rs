//! Which figures of a claim came out otherwise when it was rebuilt.

use std::collections::BTreeSet;

use dapedon_contract::binary;
use rust_decimal::Decimal;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;

/// A figure that came out otherwise.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[non_exhaustive]
pub struct MovedFigure {
    /// What it is, as a path in the claim, with the codes of lines and items.
    pub figure: String,
    /// As it is recorded; none where the record has none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub recorded: Option<String>,
    /// As it came out; none where it did not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rebuilt: Option<String>,
    /// By how much it moved, where both are numbers.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moved: Option<f64>,
}

/// Two measured figures are the same where they agree to this share: nine digits, more than any that is shown.
const SAME: f64 = 1e-9;

/// All figures that differ, those of the claim first. Between versions of the program only what both know is compared.
pub(super) fn of(recorded: &Value, rebuilt: &Value, same_version: bool) -> Vec<MovedFigure> {
    let mut found = Vec::new();
    walk("", recorded, rebuilt, same_version, &mut found);
    // Lines and sums are what is paid; what was measured explains them.
    found.sort_by_key(|own: &MovedFigure| own.figure.starts_with("measured"));
    found
}

fn walk(at: &str, a: &Value, b: &Value, same_version: bool, found: &mut Vec<MovedFigure>) {
    let below = |key: &str| match at {
        "" => key.to_owned(),
        at => format!("{at}, {}", key.replace('_', " ")),
    };
    match (a, b) {
        (Value::Object(own), Value::Object(other)) => {
            let keys: BTreeSet<&String> = own.keys().chain(other.keys()).collect();
            // Of a file its bytes are compared, and told by themselves.
            let of_files = |key: &&String| matches!(key.as_str(), "sha256" | "bytes");
            for key in keys.into_iter().filter(|key| !of_files(key)) {
                match (own.get(key), other.get(key)) {
                    (Some(a), Some(b)) => walk(&below(key), a, b, same_version, found),
                    (a, b) if same_version => found.push(moved(&below(key), a, b)),
                    _ => {}
                }
            }
        }
        (Value::Array(own), Value::Array(other)) => {
            for at in 0..own.len().max(other.len()) {
                let (a, b) = (own.get(at), other.get(at));
                let name = a
                    .or(b)
                    .and_then(name)
                    .unwrap_or_else(|| at.saturating_add(1).to_string());
                match (a, b) {
                    (Some(a), Some(b)) => walk(&below(&name), a, b, same_version, found),
                    (a, b) => found.push(moved(&below(&name), a, b)),
                }
            }
        }
        (Value::Number(own), Value::Number(other)) if near(own.as_f64(), other.as_f64()) => {}
        (a, b) if a == b => {}
        (a, b) => found.push(moved(at, Some(a), Some(b))),
    }
}

fn near(a: Option<f64>, b: Option<f64>) -> bool {
    let both = a.zip(b);
    both.is_some_and(|(a, b)| (a - b).abs() <= SAME * a.abs().max(b.abs()))
}

/// What an entry of a list is called.
fn name(of: &Value) -> Option<String> {
    let keys = ["code", "zone", "source", "section", "item"];
    let own = keys.iter().find_map(|key| of.get(key)?.as_str())?;
    (!own.is_empty()).then(|| own.to_owned())
}

fn moved(figure: &str, recorded: Option<&Value>, rebuilt: Option<&Value>) -> MovedFigure {
    let number = |value: Option<&Value>| match value? {
        Value::Number(number) => number.as_f64(),
        Value::String(text) => text.parse::<Decimal>().ok().map(binary),
        _ => None,
    };
    let words = |value: Option<&Value>| {
        value.map(|value| match value {
            Value::String(text) => text.clone(),
            other => other.to_string(),
        })
    };
    let both = number(rebuilt).zip(number(recorded));
    MovedFigure {
        figure: figure.into(),
        recorded: words(recorded),
        rebuilt: words(rebuilt),
        moved: both.map(|(rebuilt, recorded)| rebuilt - recorded),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn figures_that_differ_are_named() {
        let recorded = json!({ "lines": [{ "code": "2.1", "worth": { "quantity": "12.5", "unit": "m3" } }], "measured": { "net": 4.0 }, "old": 1 });
        let mut rebuilt = recorded.clone();
        assert_eq!(of(&recorded, &rebuilt, true), []);
        let file = |bytes: u32| json!({ "file": { "path": "a.csv", "bytes": bytes, "sha256": bytes.to_string() } });
        assert_eq!(of(&file(4), &file(5), true), []);
        rebuilt["lines"][0]["worth"]["quantity"] = json!("12.2");
        rebuilt["measured"]["net"] = json!(4.000_000_001);
        rebuilt["old"].take();
        let found = of(&recorded, &rebuilt, true);
        let names: Vec<&str> = found.iter().map(|own| own.figure.as_str()).collect();
        assert_eq!(names, ["lines, 2.1, worth, quantity", "old"]);
        assert!((found[0].moved.unwrap() + 0.3).abs() < 1e-12);
        // A later version that knows more, or less, is no difference; what both know is.
        let later = json!({ "lines": [{ "code": "2.1", "worth": { "quantity": "12.5", "unit": "t" } }], "new": 1 });
        let found = of(&recorded, &later, false);
        assert_eq!(found.len(), 1, "{found:?}");
        assert_eq!(found[0].figure, "lines, 2.1, worth, unit");
    }
}
