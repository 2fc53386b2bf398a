#![no_main]

use std::io::Cursor;

use dapedon_formats::geotiff;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let _ = geotiff::read(Cursor::new(bytes), None);
});
