#![no_main]

use dapedon_formats::{CodeUses, geojson};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(features) = geojson::read(bytes) {
        let _ = features.zones(None, None);
        let _ = features.surface(&CodeUses::default(), None);
    }
});
