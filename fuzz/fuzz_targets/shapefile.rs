#![no_main]

use dapedon_formats::CodeUses;
use dapedon_formats::shapefile::{self, CompanionFiles};
use libfuzzer_sys::fuzz_target;

// The first two bytes say how many of the others are shapes; the rest is their table.
fuzz_target!(|bytes: &[u8]| {
    let Some((length, rest)) = bytes.split_first_chunk::<2>() else {
        return;
    };
    let length = usize::from(u16::from_le_bytes(*length)).min(rest.len());
    let (shapes, table) = rest.split_at(length);
    let beside = CompanionFiles {
        table: Some(table),
        ..CompanionFiles::default()
    };
    if let Ok(features) = shapefile::read(shapes, beside) {
        let _ = features.zones(None, None);
        let _ = features.surface(&CodeUses::default(), None);
    }
});
