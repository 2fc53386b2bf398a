#![no_main]

use std::io::Cursor;

use dapedon_formats::ply::{self, PlyCloud};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let _ = ply::read(bytes);
    if let Ok(cloud) = PlyCloud::open(Cursor::new(bytes)) {
        let mut points = 0;
        let _ = cloud.each(|batch| points += batch.len());
    }
});
