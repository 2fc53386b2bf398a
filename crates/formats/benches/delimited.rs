//! Times reading a million rows of points, on one core.
//!
//! `cargo bench -p dapedon-formats --bench delimited [-- POINTS]`; see `docs/performance.md`.

use std::io::Write;
use std::time::Instant;

use dapedon_formats::delimited;

const RUNS: usize = 7;

fn main() {
    let points = std::env::args()
        .filter_map(|arg| arg.parse().ok())
        .next()
        .unwrap_or(1_000_000usize);
    let mut bytes = b"point,east,north,height,code\n".to_vec();
    for i in 0..points {
        let (e, n) = (i as f64 * 0.754_877_666, i as f64 * 0.569_840_290);
        let (e, n) = (
            500_000.0 + 2000.0 * e.fract(),
            6_000_000.0 + 1500.0 * n.fract(),
        );
        let code = ["ground", "crest1", "toe1", "track"][i % 4];
        let height = 20.0 + (e / 40.0).sin();
        let row = writeln!(bytes, "{},{e:.3},{n:.3},{height:.3},{code}", i + 1);
        row.expect("writing to memory does not fail");
    }
    let megabytes = bytes.len() as f64 / 1e6;

    let (mut lines, mut ours) = (Vec::new(), Vec::new());
    for _ in 0..RUNS {
        let start = Instant::now();
        let found = bytes
            .split(|&b| b == b'\n')
            .filter(|line| !line.is_empty())
            .count();
        assert_eq!(found, points + 1);
        lines.push(start.elapsed().as_secs_f64());
        let start = Instant::now();
        match delimited::read(bytes.as_slice(), &delimited::Options::default()) {
            Ok(read) => assert_eq!(read.surface.vertices.len(), points),
            Err(error) => panic!("{error}"),
        }
        ours.push(start.elapsed().as_secs_f64());
    }
    let (lines, ours) = (median(lines), median(ours));
    println!("{points} points, {megabytes:.0} MB");
    println!("parting lines    {lines:.3} s");
    println!(
        "reading points   {ours:.3} s, {:.0} MB/s, {:.1} times that",
        megabytes / ours,
        ours / lines
    );
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values[values.len() / 2]
}
