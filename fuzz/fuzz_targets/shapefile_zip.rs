#![no_main]

use std::io::Cursor;

use dapedon_formats::CodeUses;
use dapedon_formats::shapefile;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(features) = shapefile::ZippedShapefiles::open(Cursor::new(bytes)).and_then(|mut zipped| zipped.features(0)) {
        let _ = features.zones(None, None);
        let _ = features.surface(&CodeUses::default(), None);
    }
});
