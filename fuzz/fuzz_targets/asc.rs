#![no_main]

use dapedon_formats::asc;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let _ = asc::read(bytes);
});
