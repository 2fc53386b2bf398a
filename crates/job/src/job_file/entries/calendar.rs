//! Work days, as serde reads them.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{DateEntry, Name};

/// Work days of the job, for rates and forecasts of progress [default: Monday to Friday].
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct CalendarEntry {
    /// Days of the week that are worked, as in ["Mon", "Tue"] [default: Monday to Friday].
    #[schemars(with = "Option<Vec<String>>")]
    pub(crate) work_days: Option<Vec<Name>>,
    /// Days that are not worked: a day, or the first and last of several, as in "2031-08-04 to 2031-08-15".
    #[serde(default)]
    #[schemars(with = "Vec<DateEntry>")]
    pub(crate) days_off: Vec<Spanned<DateEntry>>,
    /// Days that are worked besides, as single Saturdays.
    #[serde(default)]
    #[schemars(with = "Vec<DateEntry>")]
    pub(crate) days_worked: Vec<Spanned<DateEntry>>,
}
