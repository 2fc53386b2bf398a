#![no_main]

use dapedon_formats::delimited::{Options, parse_roles, read};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let mut options = Options::default();
    let _ = options.take.add("a,b=breakline,c=skip");
    let _ = read(bytes, &options);
    options.roles = parse_roles("east,north,height,code").ok();
    let _ = read(bytes, &options);
});
