//! What all results have in common: the version of their schema, and words.

use std::borrow::Cow;

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
                "the result is written in version {other} of the schema, and this reads version {}",
                Schema::VERSION
            ))),
        }
    }
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
