#![no_main]

use std::io::Cursor;

use dapedon_formats::CodeUses;
use dapedon_formats::geopackage::GeoPackage;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(mut package) = GeoPackage::open(Cursor::new(bytes)) {
        for layer in 0..package.layers().len() {
            if let Ok(features) = package.features(layer) {
                let _ = features.zones(None, None);
                let _ = features.surface(&CodeUses::default(), None);
            }
        }
    }
});
