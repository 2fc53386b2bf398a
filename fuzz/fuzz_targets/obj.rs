#![no_main]

use dapedon_formats::obj;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let _ = obj::read(bytes);
});
