//! Times a bill of 40 items over 6 surfaces of 200 000 facets against its distinct overlays, and one item more.
//!
//! `cargo bench -p dapedon-job --bench bill`; see `docs/performance.md`.

use std::fmt::Write as _;
use std::fs::{self, File};
use std::io::BufWriter;
use std::path::Path;
use std::sync::{Arc, OnceLock};
use std::time::Instant;

use dapedon_core::plan::Frame;
use dapedon_core::points::{PickUp, Rules, triangulate};
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::landxml;
use dapedon_job::{Activity, Context, Job, Watch, bill};

const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];
const SURFACES: usize = 6;
const ITEMS: usize = 40;
const RUNS: usize = 5;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let folder = tempfile::tempdir()?;
    for surface in 0..SURFACES {
        write(folder.path(), surface)?;
    }
    let job = |name: &str, items: &str| -> Result<Job, Box<dyn std::error::Error>> {
        let path = folder.path().join(name);
        fs::write(&path, format!("{}{items}", head()))?;
        Ok(Job::read(&path)?)
    };
    let counts = ["cut", "fill", "net", "area"];
    let zones = [
        "",
        "zones = \"a\"\n",
        "zones = [\"b\", \"c\"]\n",
        "plots = [\"a\", \"b\"]\n",
    ];
    let mut many = String::new();
    for index in 0..ITEMS {
        let (pair, count) = (index % (SURFACES - 1), counts[index % 4]);
        many += &item(index, pair, count, zones[index / 5 % 4]);
    }
    let plain: String = (0..SURFACES - 1)
        .map(|pair| item(pair, pair, "net", ""))
        .collect();
    let zoned: String = (0..SURFACES - 1)
        .map(|pair| item(pair, pair, "net", zones[3]))
        .collect();
    let more = format!("{many}{}", item(ITEMS, 0, "fill", zones[1]));
    let jobs = [
        ("each overlay once, everywhere", job("plain.toml", &plain)?),
        ("each overlay once, by plots", job("zoned.toml", &zoned)?),
        ("40 items", job("many.toml", &many)?),
        ("41 items", job("more.toml", &more)?),
    ];
    // Runs alternate, so that a slow spell of the machine meets all of them.
    let mut times = vec![Vec::new(); jobs.len()];
    for _ in 0..RUNS {
        for ((_, job), times) in jobs.iter().zip(&mut times) {
            times.push(timed(job)?);
        }
    }
    let medians: Vec<[f64; 2]> = times.iter_mut().map(|times| median(times)).collect();
    let [all, measuring] = medians[0];
    for ((name, _), [own, laid]) in jobs.iter().zip(&medians) {
        println!(
            "{name:<30} {own:.3} s, {:.2} of the first; measuring alone {laid:.3} s, {:.2}",
            own / all,
            laid / measuring
        );
    }
    Ok(())
}

/// Seconds for all of it, and from the first overlay on.
fn timed(job: &Job) -> Result<[f64; 2], Box<dyn std::error::Error>> {
    let (start, first) = (Instant::now(), Arc::new(OnceLock::new()));
    let tell = {
        let first = first.clone();
        move |doing: &Activity, _: f64| {
            if matches!(doing, Activity::Measuring { number: 1, .. }) {
                first.get_or_init(Instant::now);
            }
        }
    };
    let context = Context {
        watch: Watch::telling(tell),
        ..Context::of(job)
    };
    let (found, _) = bill(&context, &[])?;
    assert_eq!(found.overlays.len(), SURFACES - 1);
    let all = start.elapsed().as_secs_f64();
    let laid = first
        .get()
        .map_or(0.0, |first: &Instant| first.elapsed().as_secs_f64());
    Ok([all, laid])
}

fn median(times: &mut [[f64; 2]]) -> [f64; 2] {
    [0, 1].map(|part| {
        times.sort_by(|a, b| a[part].total_cmp(&b[part]));
        times[times.len() / 2][part]
    })
}

fn item(index: usize, pair: usize, counts: &str, zones: &str) -> String {
    let unit = if counts == "area" { "m2" } else { "m3" };
    format!(
        "[[item]]\ncode = \"{index}\"\ndescription = \"made up\"\nunit = \"{unit}\"\nmeasure = \"{counts}\"\n\
         reference = \"s{pair}\"\nsurveyed = \"s{}\"\n{zones}\n",
        pair + 1
    )
}

fn head() -> String {
    let mut text = String::from("[job]\nname = \"made up\"\nunit = \"m\"\n");
    for surface in 0..SURFACES {
        // Writing to a string does not fail.
        let _ = writeln!(text, "[surface.s{surface}]\nfile = \"s{surface}.xml\"");
    }
    for (name, east) in [("a", 100.0), ("b", 400.0), ("c", 650.0)] {
        let corner = |e: f64, n: f64| format!("[{}, {}]", ORIGIN[0] + e, ORIGIN[1] + n);
        let corners = [
            corner(east, 100.0),
            corner(east + 220.0, 140.0),
            corner(east + 200.0, 800.0),
            corner(east + 20.0, 760.0),
        ];
        let _ = writeln!(text, "[zone.{name}]\ncorners = [{}]", corners.join(", "));
    }
    text
}

/// Scattered points over a square of 1000, joined, as LandXML.
fn write(folder: &Path, surface: usize) -> Result<(), Box<dyn std::error::Error>> {
    let start = 200_003 * surface;
    let height = |e: f64, n: f64| {
        let turn = surface as f64;
        20.0 + (e / 80.0 + turn).sin() + (n / 95.0 - turn).cos() + 0.01 * e
    };
    let corners = [(0.0, 0.0), (1000.0, 0.0), (1000.0, 1000.0), (0.0, 1000.0)];
    let scattered = (start..start + 100_000).map(|i| {
        let at = |factor: f64| (i as f64 * factor).fract() * 1000.0;
        (at(0.754_877_666_246_69), at(0.569_840_290_998_05))
    });
    let vertex = |(e, n): (f64, f64)| Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, height(e, n));
    let points: Vec<Vertex> = corners.into_iter().chain(scattered).map(vertex).collect();
    let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    let tin = triangulate(frame, &PickUp::from(points), &Rules::default())?.tin;
    let file = File::create(folder.join(format!("s{surface}.xml")))?;
    let head = landxml::Head {
        name: "made up",
        unit: LengthUnit::Metre,
        crs: None,
        height_system: None,
        date: "2031-01-02",
    };
    landxml::write(BufWriter::new(file), &head, tin.vertices(), tin.facets(), 4)?;
    Ok(())
}
