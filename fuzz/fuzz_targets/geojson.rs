#![no_main]

use dapedon_formats::geojson;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let _ = geojson::read(bytes);
});
