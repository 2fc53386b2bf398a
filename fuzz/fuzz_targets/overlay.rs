#![no_main]

use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{Rules, triangulate};
use dapedon_core::quantities::{Tolerance, coverage, volume};
use dapedon_core::surface::{Outline, Surface, Tin, Vertex};
use dapedon_core::units::{LengthUnit};
use dapedon_core::zones::{Zone, Zones};
use libfuzzer_sys::fuzz_target;

// Two small surfaces of any facets, or triangulated from any points, and perhaps a zone: measured either way round the
// volumes are the same with their signs turned, and the pieces fill what the outlines say.
fuzz_target!(|bytes: &[u8]| {
    let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    let mut parts = bytes.split(|&byte| byte == 255);
    let mut surface = || surface(frame, parts.next().unwrap_or_default());
    let (Some(one), Some(other)) = (surface(), surface()) else { return };
    let ring: Vec<Place> = parts.next().unwrap_or_default().chunks_exact(2).map(|at| place(at)).collect();
    let ring: Vec<Place> = ring.iter().chain(ring.first()).copied().collect();
    let zone = Zone::new("z", frame, vec![vec![ring]]).ok();
    let zones = zone.map(|zone| Zones::new(frame, vec![zone]));
    let zones = zones.as_ref();
    let there = volume(&one, &other, zones, Tolerance::ZERO);
    let back = volume(&other, &one, zones, Tolerance::ZERO);
    let (Ok(there), Ok(back)) = (there, back) else { return };
    let covered = coverage(&Outline::of(&one), &Outline::of(&other), zones)[0];
    let (there, back) = (there[0], back[0]);
    let near = |a: f64, b: f64| (a - b).abs() <= 1e-6 * a.abs().max(b.abs()).max(1.0);
    assert!(near(there.volume.cut, back.volume.fill) && near(there.volume.fill, back.volume.cut));
    assert!(near(there.volume.net, -back.volume.net));
    assert!(near(there.area.compared, covered.pieces), "{} {}", there.area.compared, covered.pieces);
});

fn place(at: &[u8]) -> Place {
    Place::new(f64::from(at[0] % 32), f64::from(at[1] % 32))
}

fn surface(frame: Frame, bytes: &[u8]) -> Option<Surface> {
    let (first, rest) = bytes.split_first()?;
    let count = usize::from(*first % 24);
    let vertex = |at: &[u8]| Vertex::new(place(at).east, place(at).north, f64::from(at[2] % 64) / 4.0);
    let vertices: Vec<Vertex> = rest.chunks_exact(3).take(count).map(vertex).collect();
    let rest = rest.get(3 * count..).unwrap_or_default();
    if first % 2 == 0 {
        return Some(Surface::Tin(triangulate(frame, &vertices.into(), &Rules::default()).ok()?.tin));
    }
    let facets = rest.chunks_exact(3).take(40).map(|facet| [0, 1, 2].map(|corner| u32::from(facet[corner] % 24)));
    Tin::from_facets(frame, vertices, facets.collect()).ok().map(Surface::Tin)
}
