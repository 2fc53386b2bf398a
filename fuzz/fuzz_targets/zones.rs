#![no_main]

use dapedon_core::plan::{Extent, Frame, Place};
use dapedon_core::units::{LengthUnit};
use dapedon_core::quantities::each_overlap;
use dapedon_core::zones::{Zone, Zones, regions};
use libfuzzer_sys::fuzz_target;

// Rings of any corners, on a small lattice so that they touch, cross and repeat, or anywhere at all: the answer is a zone
// or an error; regions never hold more ground than the zones, nor less than the largest of them.
fuzz_target!(|bytes: &[u8]| {
    let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    let mut zones = Vec::new();
    for zone in bytes.split(|&byte| byte == 255).take(6) {
        let wild = zone.first() == Some(&254);
        let parts: Vec<Vec<Vec<Place>>> = (zone.split(|&byte| byte == 253))
            .map(|part| part.split(|&byte| byte == 252).map(|ring| corners(ring, wild)).collect())
            .collect();
        if let Ok(made) = Zone::new("z", frame, parts) {
            assert!(made.area() > 0.0 && made.area().is_finite());
            zones.push(made);
        }
    }
    let largest = zones.iter().map(Zone::area).fold(0.0, f64::max);
    let sum: f64 = zones.iter().map(Zone::area).sum();
    each_overlap(&zones, frame.precision(), |_| true, |[one, other], area| {
        assert!(area <= zones[one].area().min(zones[other].area()) * (1.0 + 1e-6) + 1e-6);
        true
    });
    let all = Zones::new(frame, zones);
    let ground: f64 = regions(&all, None).iter().map(|region| region.ground.area()).sum();
    let near = 1e-6 * sum.max(1.0);
    assert!(ground <= sum + near && ground >= largest - near, "{ground} {largest} {sum}");
    let _ = regions(&all, Some(Extent::of([Place::new(-1e3, -1e3), Place::new(1e3, 1e3)])));
});

fn corners(ring: &[u8], wild: bool) -> Vec<Place> {
    let mut corners: Vec<Place> = match wild {
        false => ring.chunks_exact(2).map(|at| Place::new(f64::from(at[0] % 16), f64::from(at[1] % 16))).collect(),
        true => ring
            .chunks_exact(16)
            .map(|at| {
                let number = |bytes: &[u8]| f64::from_le_bytes(bytes.try_into().unwrap());
                Place::new(number(&at[..8]), number(&at[8..]))
            })
            .collect(),
    };
    corners.extend(corners.first().copied());
    corners
}
