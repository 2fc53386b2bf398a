#![no_main]

use dapedon_formats::landxml;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(plan) = landxml::plan(bytes) {
        for line in &plan.alignments {
            let _ = (line.gaps(1e-3), line.at(line.length() / 2.0));
            if let Some(profile) = line.profile() {
                let _ = profile.height(line.length() / 2.0);
            }
        }
    }
});
