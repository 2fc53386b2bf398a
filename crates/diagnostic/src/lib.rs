//! # dapedon-diagnostic
//!
//! One way to say what is wrong: see [`Diagnostic`].

use std::error::Error;

/// An error that says what to do about it.
pub trait Diagnostic: Error + Send + Sync + 'static {
    /// A code that does not change, whatever the words: what it is of, and what is wrong, as in `dxf/cut-off`.
    fn code(&self) -> String;

    /// The place: a file, a line, an entity.
    fn place(&self) -> Option<String> {
        None
    }

    /// What to do about it.
    fn remedy(&self) -> String;

    /// What else helps.
    fn notes(&self) -> Vec<String> {
        Vec::new()
    }
}

/// Makes an error a [`Diagnostic`] by its own `remedy`, and by its own `at` where it says places. Its code is the word for
/// what it is of, and the name of its variant.
#[macro_export]
macro_rules! diagnostic {
    ($error:ty, $of:literal) => {
        $crate::diagnostic!($error, $of, |_| None);
    };
    ($error:ty, $of:literal, at) => {
        $crate::diagnostic!($error, $of, |error: &$error| error
            .at()
            .map(|at| at.to_string()));
    };
    ($error:ty, $of:literal, $place:expr) => {
        impl $crate::Diagnostic for $error {
            fn code(&self) -> String {
                let kind: &'static str = self.into();
                format!("{}/{kind}", $of)
            }

            fn place(&self) -> Option<String> {
                let place: fn(&$error) -> Option<String> = $place;
                place(self)
            }

            fn remedy(&self) -> String {
                <$error>::remedy(self).into()
            }
        }
    };
}

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
