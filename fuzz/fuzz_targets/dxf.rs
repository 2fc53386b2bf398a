#![no_main]

use dapedon_formats::{CodeUses, dxf};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(drawing) = dxf::read(bytes) {
        let _ = dxf::zones(&drawing, None);
        let _ = dxf::surfaces(drawing, &CodeUses::default());
    }
});
