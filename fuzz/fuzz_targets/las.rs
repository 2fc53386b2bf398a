#![no_main]

use std::io::Cursor;

use dapedon_formats::las::Cloud;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(cloud) = Cloud::open(Cursor::new(bytes.to_vec())) {
        let _ = cloud.each(|_| {});
    }
});
