//! What all results have in common: the version of their schema, and words.

use std::borrow::Cow;

use schemars::{JsonSchema, SchemaGenerator, generate::SchemaSettings, json_schema};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de::Error};

/// A word of a result: our own when it is made, any when it is read back.
pub type Word = Cow<'static, str>;

/// The version of the schema that results are written in. Results of another version are not read.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Schema;

impl Schema {
    /// Counted from one; higher whenever a result that was written before could not be read any more.
    pub const VERSION: u32 = 1;
}

impl Serialize for Schema {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        Schema::VERSION.serialize(to)
    }
}

impl<'de> Deserialize<'de> for Schema {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        match u32::deserialize(from)? {
            Schema::VERSION => Ok(Schema),
            other => Err(D::Error::custom(format!(
                "the result has schema version {other}, and this program reads version {}",
                Schema::VERSION
            ))),
        }
    }
}

impl JsonSchema for Schema {
    fn schema_name() -> Cow<'static, str> {
        "Schema".into()
    }

    fn inline_schema() -> bool {
        true
    }

    fn json_schema(_: &mut SchemaGenerator) -> schemars::Schema {
        json_schema!({ "const": Schema::VERSION })
    }
}

/// The JSON Schema of a result, as it is written.
pub fn result_schema<R: JsonSchema>() -> serde_json::Value {
    let settings = SchemaSettings::draft2020_12().for_serialize();
    let schema = settings.into_generator().into_root_schema_for::<R>();
    schema.to_value()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn other_versions_are_not_read() {
        assert_eq!(serde_json::to_string(&Schema).unwrap(), "1");
        assert_eq!(serde_json::from_str::<Schema>("1").unwrap(), Schema);
        let other = serde_json::from_str::<Schema>("2").unwrap_err();
        assert!(other.to_string().contains("version 2"), "{other}");
    }
}
