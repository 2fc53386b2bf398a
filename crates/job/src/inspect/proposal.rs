//! How a file was read, as a reading to be kept under a name.

use dapedon_core::points::FlatTriangles;
use toml::{Table, Value};

use crate::input::Reading;

/// The name that stands in a proposal until a better one does.
const NAME: &str = "name of their origin";

/// The keys that say again how a file was read, ready for a job file; nothing where there is no more to say than a unit.
pub(super) fn proposal(reading: &Reading, columns: Option<&[String]>) -> Option<String> {
    let mut keys = Table::new();
    let mut say = |key: &str, value: Option<Value>| {
        if let Some(value) = value {
            keys.insert(key.into(), value);
        }
    };
    let is = |said: bool| said.then_some(Value::Boolean(true));
    // A header says it itself.
    let columns = columns.filter(|_| reading.columns.is_some());
    say("columns", columns.map(|columns| columns.join(",").into()));
    say(
        "codes",
        (!reading.take.is_empty()).then(|| reading.take.to_string().into()),
    );
    say("nodata", reading.nodata.map(Value::Float));
    say("max-edge", reading.rules.max_edge.map(Value::Float));
    let flat = match reading.rules.flat {
        FlatTriangles::Keep => None,
        FlatTriangles::Drop => Some("drop"),
        FlatTriangles::Relax => Some("relax"),
    };
    say("flat-triangles", flat.map(Value::from));
    say("drop-outliers", is(reading.drop_outliers));
    say(
        "name-attribute",
        reading.name_attribute.clone().map(Value::String),
    );
    say("height-by", reading.height_by.clone().map(Value::String));
    say("override-unit", is(reading.override_unit));
    if keys.is_empty() {
        return None;
    }
    if let Some(unit) = reading.unit {
        keys.insert("unit".into(), unit.code().into());
    }
    Some(format!(
        "[reading.\"{NAME}\"]\n{}",
        keys.to_string().trim_end()
    ))
}
