#![no_main]

use std::path::Path;

use libfuzzer_sys::fuzz_target;

// Whatever stands in a job file, the answer is a job or one diagnostic within the text.
fuzz_target!(|text: &str| {
    if let Err(error) = dapedon_job::Job::of_text(Path::new("fuzz/dapedon.toml"), text) {
        assert!(error.spot.line <= text.lines().count().max(1) + 1);
        let _ = error.to_string();
    }
});
