#![no_main]

use dapedon_formats::{CodeUses, landxml};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let mut take = CodeUses::default();
    let _ = take.add("a=breakline,b=skip");
    let _ = landxml::read(bytes, None, &take);
    let _ = landxml::each(bytes, &take, |_, _| true, |_| {});
});
