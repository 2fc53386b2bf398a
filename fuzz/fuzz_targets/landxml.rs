#![no_main]

use dapedon_formats::{Take, landxml};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let mut take = Take::default();
    let _ = take.add("a=breakline,b=nothing");
    let _ = landxml::read(bytes, None, &take);
    let _ = landxml::each(bytes, &take, |_, _| true, |_| {});
});
