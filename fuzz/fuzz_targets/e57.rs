#![no_main]

use std::io::Cursor;

use dapedon_formats::e57::ScannedCloud;
use libfuzzer_sys::fuzz_target;

/// Bytes of a page, the last four of which are a checksum of the others.
const PAGE: usize = 1024;

/// CRC-32C, bit by bit, from its highest.
fn checksum(bytes: &[u8]) -> u32 {
    let step = |sum: u32, byte: &u8| {
        (0..8).fold(sum ^ u32::from(*byte), |sum, _| {
            (sum >> 1) ^ (0x82f6_3b78 * (sum & 1))
        })
    };
    !bytes.iter().fold(!0, step)
}

// Checksums are made right: otherwise hardly a change would come past them.
fuzz_target!(|bytes: &[u8]| {
    let mut bytes = bytes.to_vec();
    for page in bytes.chunks_exact_mut(PAGE) {
        let (held, sum) = page.split_at_mut(PAGE - 4);
        sum.copy_from_slice(&checksum(held).to_be_bytes());
    }
    if let Ok(cloud) = ScannedCloud::open(Cursor::new(bytes)) {
        let mut points = 0;
        let _ = cloud.each(|batch| points += batch.len());
    }
});
