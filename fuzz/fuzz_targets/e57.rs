#![no_main]

use std::io::Cursor;

use dapedon_formats::e57::ScannedCloud;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(cloud) = ScannedCloud::open(Cursor::new(bytes)) {
        let mut points = 0;
        let _ = cloud.each(|batch| points += batch.len());
    }
});
