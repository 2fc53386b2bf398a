//! Packages that give up on broken bits by a panic, held to an answer.

use std::any::Any;
use std::cell::Cell;
use std::panic::{self, AssertUnwindSafe};
use std::sync::Once;

thread_local! {
    static HELD: Cell<bool> = const { Cell::new(false) };
}

/// Runs what may panic on bytes that make no sense; `None` where it did.
///
/// What it was working on must not be used any further then. Nothing is printed of it; a panic anywhere
/// else is reported as ever.
pub(crate) fn held<R>(work: impl FnOnce() -> R) -> Option<R> {
    static QUIET: Once = Once::new();
    QUIET.call_once(|| {
        let before = panic::take_hook();
        panic::set_hook(Box::new(move |info| {
            if !HELD.get() {
                before(info);
            }
        }));
    });
    let outer = HELD.replace(true);
    let result = panic::catch_unwind(AssertUnwindSafe(work));
    HELD.set(outer);
    result.map_err(|_: Box<dyn Any + Send>| ()).ok()
}

#[cfg(test)]
mod tests {
    use super::held;

    #[test]
    fn a_panic_is_an_answer() {
        let values = [1, 2, 3];
        assert_eq!(held(|| values[std::hint::black_box(1)]), Some(2));
        assert_eq!(held(|| values[std::hint::black_box(7)]), None);
        // One within another leaves the outer one held.
        let both = held(|| (held(|| values[std::hint::black_box(9)]), 5));
        assert_eq!(both, Some((None, 5)));
    }
}
