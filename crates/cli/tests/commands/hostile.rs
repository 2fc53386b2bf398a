//! Inputs that ask for more than there is: each ends soon and small, with a result or with one error that says what would
//! do. The tests' program is some times slower than the one that is used, so that they are given longer than its 5 s.

use std::fmt::Write as _;
use std::fs;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use dapedon_core::units::LengthUnit;
use dapedon_formats::las::{self, Shot};

use crate::site::Site;

/// As long as the slowest of them may take here, and as much memory as any may take.
const LONGEST: Duration = Duration::from_secs(25);
const MOST: u64 = 1_000_000_000;

/// Runs a command: its exit code, what it said, and the most memory it held where the system tells that.
fn run(site: &Site, line: &str) -> (i32, String) {
    let words: Vec<&str> = line.split(' ').collect();
    let mut command = Command::new(assert_cmd::cargo::cargo_bin!("dapedon"));
    command
        .current_dir(site.path())
        .args(words)
        .env("RAYON_NUM_THREADS", "2");
    let error = fs::File::create(site.path().join("stderr.txt")).unwrap();
    let mut run = command.stdout(Stdio::null()).stderr(error).spawn().unwrap();
    let (start, mut most) = (Instant::now(), 0u64);
    loop {
        if let Ok(status) = fs::read_to_string(format!("/proc/{}/status", run.id())) {
            let peak = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
            let kilobytes =
                peak.and_then(|peak| peak.trim().strip_suffix(" kB")?.trim().parse::<u64>().ok());
            most = most.max(1000 * kilobytes.unwrap_or(0));
        }
        if let Some(status) = run.try_wait().unwrap() {
            assert!(most < MOST, "{line}: {most} bytes");
            return (status.code().unwrap_or(-1), site.read("stderr.txt"));
        }
        if start.elapsed() > LONGEST {
            run.kill().unwrap();
            panic!("{line} did not end");
        }
        std::thread::sleep(Duration::from_millis(5));
    }
}

fn points(of: impl Iterator<Item = (f64, f64, f64)>) -> String {
    let mut text = "east,north,height\n".to_owned();
    for (e, n, h) in of {
        let _ = writeln!(text, "{},{},{h}", 500_000.0 + e, 6_000_000.0 + n);
    }
    text
}

fn site() -> Site {
    let site = Site::new();
    let square = |half: f64, h: f64| {
        [
            (0.0, 0.0, h),
            (half, 0.0, h),
            (half, half, h),
            (0.0, half, h),
        ]
    };
    site.write("flat.csv", &points(square(1000.0, 10.0).into_iter()));
    site.write("above.csv", &points(square(1000.0, 11.0).into_iter()));
    let line = |off: bool| {
        let along = (0..30_000).map(|i| (0.1 * f64::from(i), 0.0, 10.0));
        points(along.chain(off.then_some((100.0, 100.0, 10.0))))
    };
    site.write("line.csv", &line(false));
    site.write("almost.csv", &line(true));
    let hill = (0..10_000).map(|i| {
        let (e, n) = (f64::from(i % 100), f64::from(i / 100));
        (e, n, (5.0 - 0.4 * (e - 50.0).hypot(n - 50.0)).max(0.0))
    });
    site.write("outlier.csv", &points(hill.chain([(4e5, 9e5, 10.0)])));
    let mut cloud: Vec<Shot> = (0..1000)
        .map(|i| Shot {
            east: 500_000.0 + f64::from(i % 40),
            north: 6_000_000.0 + f64::from(i / 40),
            height: 10.0,
            class: 2,
            number: 1,
            returns: 1,
            withheld: false,
        })
        .collect();
    let far: Vec<Shot> = (cloud.iter())
        .map(|shot| Shot {
            east: shot.east + 400_000.0,
            north: shot.north - 1_000_000.0,
            ..*shot
        })
        .collect();
    cloud.extend(far);
    let mut bytes = Vec::new();
    las::write(&mut bytes, false, LengthUnit::Metre, None, &cloud).unwrap();
    fs::write(site.path().join("far.las"), bytes).unwrap();
    let mut circles = "0\nSECTION\n2\nENTITIES\n".to_owned();
    for index in 0..6 {
        let _ = write!(
            circles,
            "0\nCIRCLE\n8\nC\n10\n{}\n20\n6000000\n30\n10\n40\n9e8\n",
            500_000 + index
        );
    }
    site.write("circles.dxf", &(circles + "0\nENDSEC\n0\nEOF\n"));
    site.write("areas.csv", "level,area\n1,1e308\n2,1e308\n3,1e308\n");
    // A hundred by a hundred zones over two facets.
    let rings: Vec<Vec<(i32, i32)>> = (0..10_000)
        .map(|i| {
            let (e, n) = (3 * (i % 100), 3 * (i / 100));
            vec![(e, n), (e + 2, n), (e + 2, n + 2), (e, n + 2), (e, n)]
        })
        .collect();
    let names: Vec<String> = (0..rings.len()).map(|i| format!("z{i}")).collect();
    let zones: Vec<(&str, &[(i32, i32)])> = names
        .iter()
        .zip(&rings)
        .map(|(n, r)| (n.as_str(), r.as_slice()))
        .collect();
    site.zone("many.geojson", &zones);
    let over: Vec<(&str, &[(i32, i32)])> = zones[..1500]
        .iter()
        .map(|(name, _)| (*name, rings[0].as_slice()))
        .collect();
    site.zone("over.geojson", &over);
    site
}

#[test]
fn hostile_inputs_end_soon_and_small() {
    let site = site();
    let job = |step: &str| {
        format!(
            "[job]\nname = \"n\"\nunit = \"m\"\n[surface.ground]\nfile = \"flat.csv\"\n[surface.made]\nstart = \"ground\"\nsteps = [{{ {step} }}]\n\
             [zone.z]\ncorners = [[500400, 6000400], [500500, 6000400], [500500, 6000500], [500400, 6000500]]\n\
             [line.l]\ncorners = [[500400, 6000400, 15], [500600, 6000500, 15]]\n"
        )
    };
    for (index, step) in [
        "platform = { outline = \"z\", level = 20, cut-slope = 1e9, fill-slope = 1e9 }",
        "platform = { outline = \"z\", level = 1e6, cut-slope = 2, fill-slope = 2 }",
        "platform = { outline = \"z\", level = 20, cut-slope = 2, fill-slope = 2, chord-tolerance = 1e-5 }",
        "embankment = { line = \"l\", width = 1e6, cut-slope = 2, fill-slope = 2 }",
        "embankment = { line = \"l\", width = 5, cut-slope = 1e8, fill-slope = 1e8 }",
        "platform = { outline = \"z\", level = 20, cut-slope = 2, fill-slope = 2, chord-tolerance = 1e-9 }",
    ]
    .iter()
    .enumerate()
    {
        site.write(&format!("step{index}.toml"), &job(step));
    }
    for (line, code, says) in [
        (
            "surface line.csv --unit m",
            2,
            "points are on one straight line",
        ),
        ("inspect line.csv --unit m", 0, ""),
        ("surface almost.csv --unit m", 0, ""),
        ("inspect almost.csv --unit m", 0, ""),
        ("pile outlier.csv --unit m", 2, "--max-edge"),
        (
            "surface flat.csv --unit m --out flat.tif --cell 0.001",
            2,
            "does not fit into 2GB",
        ),
        (
            "surface flat.csv --unit m --out flat.asc --cell 1e-300",
            2,
            "does not fit into 2GB",
        ),
        (
            "surface flat.csv --unit m --out flat.asc --cell 1 --memory 10MB",
            2,
            "does not fit into 10MB",
        ),
        ("surface far.las --thin 1", 2, "thinning needs"),
        ("inspect far.las --thin 0.01", 2, "thinning needs"),
        ("volume far.las level=10 --thin 0.5", 2, "thinning needs"),
        ("inspect circles.dxf", 2, "chords"),
        ("surface circles.dxf --unit m", 2, "chords"),
        (
            "volume flat.csv above.csv --unit m --zone circles.dxf",
            2,
            "chords",
        ),
        ("capacity --areas areas.csv --unit m", 0, ""),
        ("capacity --areas areas.csv --unit m --volume 1e300", 0, ""),
        (
            "volume flat.csv above.csv --unit m --by-depth 1e-12",
            2,
            "are more than 10 000",
        ),
        (
            "volume flat.csv above.csv --unit m --zone many.geojson",
            0,
            "",
        ),
        (
            "volume flat.csv above.csv --unit m --zone over.geojson",
            0,
            "",
        ),
        (
            "pile above.csv --unit m --zone over.geojson --base flat.csv",
            2,
            "overlap",
        ),
        (
            "surface made --job step0.toml",
            2,
            "does not meet the ground",
        ),
        (
            "surface made --job step1.toml",
            2,
            "does not meet the ground",
        ),
        ("surface made --job step2.toml", 0, ""),
        (
            "surface made --job step3.toml",
            2,
            "partly outside the ground",
        ),
        (
            "surface made --job step4.toml",
            2,
            "does not meet the ground",
        ),
        (
            "surface made --job step5.toml",
            2,
            "finer than coordinates are written",
        ),
    ] {
        let (found, error) = run(&site, line);
        assert_eq!(found, code, "{line}: {error}");
        assert!(error.contains(says), "{line}: {error}");
    }
}
