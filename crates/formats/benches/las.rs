//! Times a packed cloud read and thinned to a grid against the `las` crate only unpacking it, as ratios
//! within one run, and weighs the memory. Makes its own file.
//!
//! `cargo bench -p dapedon-formats --bench las [-- POINTS]`; see `docs/performance.md`.

use std::fs::File;
use std::io::BufReader;
use std::path::Path;
use std::time::Instant;

use dapedon_core::points::{Keep, Thinner};
use dapedon_formats::las::Cloud;
use las::point::Format;
use las::{Builder, Color, Point, PointDataBuilder, Reader, Transform, Vector, Writer};
use peak_alloc::PeakAlloc;

#[global_allocator]
static MEMORY: PeakAlloc = PeakAlloc;

const RUNS: usize = 3;

fn main() {
    let points = std::env::args().filter_map(|arg| arg.parse().ok()).next();
    let points: u64 = points.unwrap_or(50_000_000);
    for (format, name) in [
        (7, "LAS 1.4, format 7 (colours)"),
        (3, "LAS 1.2, format 3 (colours)"),
    ] {
        let folder = tempfile::tempdir().unwrap_or_else(|error| panic!("{error}"));
        let path = folder.path().join("flight.laz");
        make(&path, points, format);
        let bytes = std::fs::metadata(&path).map_or(0, |about| about.len());
        println!("{name}: {points} points, {} MB packed", bytes / 1_000_000);
        compare(&path);
    }
}

fn compare(path: &Path) {
    let keeps = [Keep::Lowest, Keep::Mean, Keep::Median, Keep::Highest];
    let mut only = Vec::new();
    let mut ours = vec![Vec::new(); keeps.len()];
    let mut peak = vec![0; keeps.len()];
    let timed = |work: &dyn Fn()| {
        let start = Instant::now();
        work();
        start.elapsed().as_secs_f64()
    };
    for _ in 0..RUNS {
        only.push(timed(&|| unpack_only(path)));
        for (index, &keep) in keeps.iter().enumerate() {
            MEMORY.reset_peak_usage();
            ours[index].push(timed(&|| thin(path, keep)));
            peak[index] = MEMORY.peak_usage() / 1_000_000;
        }
    }
    let only = median(only);
    println!("  only unpacked by the crate, on all cores  {only:.2} s");
    for ((keep, seconds), peak) in keeps.iter().zip(ours).zip(peak) {
        let seconds = median(seconds);
        println!(
            "  thinned, {:<8}  {seconds:.2} s  {:.2} times that, {peak} MB at most",
            format!("{keep:?}").to_lowercase(),
            seconds / only
        );
    }
}

fn open(path: &Path) -> BufReader<File> {
    let file = File::open(path).unwrap_or_else(|error| panic!("{error}"));
    BufReader::with_capacity(1 << 20, file)
}

fn unpack_only(path: &Path) {
    let mut reader = Reader::new(open(path)).unwrap_or_else(|error| panic!("{error}"));
    let mut batch = PointDataBuilder::new().for_header(reader.header()).build();
    while reader
        .fill_points(1_000_000, &mut batch)
        .unwrap_or_else(|error| panic!("{error}"))
        > 0
    {}
}

fn thin(path: &Path, keep: Keep) {
    let mut thinner = Thinner::new(0.5, keep);
    let cloud = Cloud::open(open(path)).unwrap_or_else(|error| panic!("{error}"));
    let read = cloud.each(|batch| {
        for shot in batch {
            thinner.add(shot.east, shot.north, shot.height);
        }
    });
    read.unwrap_or_else(|error| panic!("{error}"));
    let cells = thinner
        .cells(u64::MAX)
        .unwrap_or_else(|error| panic!("{error}"));
    assert!(cells.heights.iter().any(|height| height.is_finite()));
}

fn median(mut seconds: Vec<f64>) -> f64 {
    seconds.sort_by(f64::total_cmp);
    seconds[seconds.len() / 2]
}

/// A flight over a square with fifty points to the square metre, strip by strip.
fn make(path: &Path, points: u64, format: u8) {
    let mut format = Format::new(format).unwrap_or_else(|error| panic!("{error}"));
    format.is_compressed = true;
    let mut builder = Builder::from((1, if format.is_extended { 4 } else { 2 }));
    builder.point_format = format;
    let axis = |offset: f64| Transform {
        scale: 0.001,
        offset,
    };
    builder.transforms = Vector {
        x: axis(500_000.0),
        y: axis(6_000_000.0),
        z: axis(0.0),
    };
    let header = builder
        .into_header()
        .unwrap_or_else(|error| panic!("{error}"));
    let mut writer = Writer::from_path(path, header).unwrap_or_else(|error| panic!("{error}"));
    let side = (points as f64 / 50.0).sqrt();
    let across = (side * 50f64.sqrt()) as u64;
    let mut state = 7u64;
    let mut noise = || {
        state ^= state << 13;
        state ^= state >> 7;
        state ^= state << 17;
        (state >> 11) as f64 / (1u64 << 53) as f64
    };
    for index in 0..points {
        let x = ((index % across) as f64 + noise()) / 50f64.sqrt();
        let y = ((index / across) as f64 + noise()) / 50f64.sqrt();
        let height = 40.0 + 3.0 * (x / 60.0).sin() + 2.0 * (y / 45.0).cos() + 0.03 * noise();
        let grey = (20_000.0 + 9000.0 * noise()) as u16;
        let point = Point {
            x: 500_000.0 + x,
            y: 6_000_000.0 + y,
            z: height,
            intensity: grey,
            return_number: 1,
            number_of_returns: 1,
            gps_time: Some(index as f64 * 1e-5),
            color: Some(Color::new(grey, grey, grey / 2)),
            ..Point::default()
        };
        writer
            .write_point(point)
            .unwrap_or_else(|error| panic!("{error}"));
    }
    writer.close().unwrap_or_else(|error| panic!("{error}"));
}
