//! Outputs touch nothing else: no input, no device, no other output; all of a run or none.

use std::fs;
use std::path::Path;

use dapedon_core::units::LengthUnit;
use dapedon_formats::RawZone;
use dapedon_formats::las::{self, Shot};
use dapedon_formats::shapefile;

use crate::site::Site;

/// A site whose inputs are of every kind: files, those beside them, those in a folder, those that only a job names.
fn site() -> Site {
    let site = Site::new();
    let ring = [(2.0, 2.0), (12.0, 2.0), (12.0, 8.0), (2.0, 8.0), (2.0, 2.0)];
    let ring = ring.map(|(e, n)| dapedon_core::plan::Place::new(500_000.0 + e, 6_000_000.0 + n));
    let zone = RawZone {
        name: "yard".into(),
        parts: vec![vec![ring.to_vec()]],
        ..RawZone::default()
    };
    let written = shapefile::write(&[zone], "name", &["yard"], LengthUnit::Metre, None).unwrap();
    for (name, bytes) in [
        ("limits.shp", written.shp),
        ("limits.shx", written.shx),
        ("limits.dbf", written.dbf),
        ("limits.prj", written.prj),
        ("limits.cpg", written.cpg),
    ] {
        fs::write(site.path().join(name), bytes).unwrap();
    }
    fs::create_dir(site.path().join("flight")).unwrap();
    let shots = (0..200).map(|index| Shot {
        east: 500_000.5 + f64::from(index % 20),
        north: 6_000_000.5 + f64::from(index / 20),
        height: 11.0 + 0.01 * f64::from(index % 20),
        class: 2,
        number: 1,
        returns: 1,
        withheld: false,
    });
    let shots: Vec<Shot> = shots.collect();
    for (name, part) in [
        ("flight/a.las", &shots[..100]),
        ("flight/b.las", &shots[100..]),
    ] {
        let mut bytes = Vec::new();
        las::write(&mut bytes, false, LengthUnit::Metre, None, part).unwrap();
        fs::write(site.path().join(name), bytes).unwrap();
    }
    site.write("levels.csv", "level,area\n8,60\n10,60\n");
    site.write(
        "dapedon.toml",
        "[job]\nname = \"made up\"\nunit = \"m\"\n[surface.before]\nfile = \"ground.xml\"\n\
         [surface.after]\nfile = \"survey.csv\"\noutline = \"zone.geojson\"\n\
         [surface.flown]\nfile = \"flight\"\n[zone.limits]\nfile = \"limits.shp\"\n\
         [zone.water]\nsurface = \"after\"\nabove = 11\n\
         [[item]]\ncode = \"1\"\ndescription = \"d\"\nunit = \"m3\"\nmeasure = \"fill\"\nreference = \"before\"\nsurveyed = \"after\"\nzones = \"limits\"\n",
    );
    site
}

fn contents(folder: &Path) -> Vec<(String, Vec<u8>)> {
    let mut all = Vec::new();
    for entry in fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        match path.is_dir() {
            true => all.extend(contents(&path)),
            false => all.push((path.display().to_string(), fs::read(&path).unwrap())),
        }
    }
    all.sort();
    all
}

/// Every output of every command, sent over every input: of the command itself, beside one, in a folder of one, or
/// named by the job alone.
#[test]
fn no_output_goes_over_an_input() {
    let site = site();
    let commands = [
        (
            "volume ground.xml survey.csv --unit m --zone limits.shp",
            &["--map", "--report"][..],
        ),
        ("volume ground.xml flight --zone limits.shp", &["--map"]),
        ("volume before after --zone limits", &["--map", "--report"]),
        ("volume before flown --zone water", &["--report"]),
        (
            "pile survey.csv --unit m --zone limits.shp --base ground.xml",
            &["--csv", "--map", "--report"],
        ),
        ("pile after --zone limits", &["--csv"]),
        ("measure", &["--csv", "--report"]),
        (
            "surface survey.csv --unit m --outline zone.geojson",
            &["--map"],
        ),
        ("surface after", &["--map"]),
        (
            "balance ground.xml survey.csv --unit m --zone limits.shp",
            &["--curve"],
        ),
        (
            "conformity before after --above 0.1 --zone limits",
            &["--csv", "--map", "--report", "--out"],
        ),
        (
            "plan after --accuracy gnss --spacing 5 --zone limits",
            &["--csv"],
        ),
        ("capacity after --zone limits", &["--csv", "--curve"]),
        ("capacity --areas levels.csv --unit m", &["--csv"]),
        ("inspect limits.shp", &["--map"]),
        ("inspect flight", &["--map"]),
    ];
    let inputs = [
        "ground.xml",
        "survey.csv",
        "zone.geojson",
        "limits.shp",
        "limits.dbf",
        "limits.prj",
        "limits.cpg",
        "flight/a.las",
        "flight/b.las",
        "dapedon.toml",
        "levels.csv",
    ];
    let before = contents(site.path());
    let mut refused = 0;
    for (command, outputs) in commands {
        for output in outputs {
            for input in inputs {
                // What the command reads is known by what it says of files it did read.
                let (code, _, error) = site.run(&format!("{command} {output} {input}"));
                if code == 2 && error.contains("is an input") {
                    refused += 1;
                } else {
                    // Not read by this command: then it may be written. It is put back for the next one.
                    assert!(
                        !command.contains(input),
                        "{command} {output} {input}: {error}"
                    );
                    let old = before
                        .iter()
                        .find(|(path, _)| path.ends_with(input))
                        .unwrap();
                    fs::write(&old.0, &old.1).unwrap();
                }
                assert_eq!(contents(site.path()), before, "{command} {output} {input}");
            }
        }
    }
    // All of the job's files for each of its commands, and those beside a shapefile: far more than the typed ones.
    assert!(refused > 120, "{refused}");
}

#[test]
fn files_beside_and_within_inputs_are_inputs() {
    let site = site();
    let before = contents(site.path());
    for line in [
        "volume ground.xml survey.csv --unit m --zone limits.shp --map limits.dbf",
        "volume ground.xml survey.csv --unit m --zone limits.shp --report ./limits.prj",
        "volume ground.xml flight --map flight/b.las",
        "volume before after --zone limits --map limits.cpg",
        "volume before after --zone limits --map flight/a.las",
        "pile survey.csv --unit m --zone zone.geojson --base ground.xml --outlines limits.shp --csv zone.geojson",
        "surface after --out survey.csv",
        "measure --csv limits.dbf",
        "inspect limits.shp --map limits.dbf",
    ] {
        let error = site.refuse(line);
        assert!(error.contains("is an input"), "{line}: {error}");
        assert_eq!(contents(site.path()), before, "{line}");
    }
}

#[cfg(unix)]
mod unix {
    use super::*;
    use std::os::unix::fs::{FileTypeExt, MetadataExt, PermissionsExt, symlink};
    use std::process::{Command, Stdio};

    const LINE: &str = "volume ground.xml survey.csv --unit m";

    #[test]
    fn one_file_under_two_names_is_one_output() {
        let site = Site::new();
        site.write("a.svg", "old");
        fs::hard_link(site.path().join("a.svg"), site.path().join("hard.svg")).unwrap();
        symlink("a.svg", site.path().join("soft.svg")).unwrap();
        symlink("new.svg", site.path().join("dangling.svg")).unwrap();
        fs::create_dir(site.path().join("sub")).unwrap();
        for (one, other) in [
            ("a.svg", "./a.svg"),
            ("a.svg", "sub/../a.svg"),
            ("a.svg", "hard.svg"),
            ("soft.svg", "a.svg"),
            ("new.svg", "./new.svg"),
            ("dangling.svg", "new.svg"),
        ] {
            let error = site.refuse(&format!("{LINE} --map {one} --report {other}"));
            assert!(
                error.contains("two outputs have the same file"),
                "{one} {other}: {error}"
            );
        }
        // An input under another name is one too.
        symlink("survey.csv", site.path().join("link.svg")).unwrap();
        fs::hard_link(site.path().join("ground.xml"), site.path().join("twin.svg")).unwrap();
        for name in ["link.svg", "twin.svg"] {
            let error = site.refuse(&format!("{LINE} --map {name}"));
            assert!(error.contains("is an input"), "{error}");
        }
    }

    #[test]
    fn links_are_followed_and_modes_kept() {
        let site = Site::new();
        site.write("real.svg", "old");
        let real = site.path().join("real.svg");
        fs::set_permissions(&real, fs::Permissions::from_mode(0o640)).unwrap();
        symlink("real.svg", site.path().join("link.svg")).unwrap();
        symlink("later.svg", site.path().join("dangling.svg")).unwrap();
        site.succeed(&format!("{LINE} --map link.svg"));
        assert!(
            fs::symlink_metadata(site.path().join("link.svg"))
                .unwrap()
                .is_symlink()
        );
        assert!(site.read("real.svg").starts_with("<svg"));
        assert_eq!(fs::metadata(&real).unwrap().mode() & 0o777, 0o640);
        site.succeed(&format!("{LINE} --map dangling.svg"));
        assert!(site.read("later.svg").starts_with("<svg"));
    }

    #[test]
    fn devices_and_pipes_are_written_into() {
        let site = Site::new();
        site.succeed(&format!("{LINE} --map /dev/null --report /dev/null"));
        assert!(
            fs::metadata("/dev/null")
                .unwrap()
                .file_type()
                .is_char_device()
        );
        let pipe = site.path().join("pipe");
        assert!(
            Command::new("mkfifo")
                .arg(&pipe)
                .status()
                .unwrap()
                .success()
        );
        let reader = Command::new("cat")
            .arg(&pipe)
            .stdout(Stdio::piped())
            .spawn()
            .unwrap();
        site.succeed(&format!("{LINE} --map pipe"));
        let text = reader.wait_with_output().unwrap().stdout;
        assert!(text.starts_with(b"<svg"));
        assert!(fs::metadata(&pipe).unwrap().file_type().is_fifo());
        let out = site.succeed(&format!("{LINE} --json --map /dev/stdout"));
        assert!(out.starts_with("<svg") && out.trim_end().ends_with('}'));
    }

    /// A run whose output cannot be printed, or of which a later file cannot be written, leaves the old files.
    #[test]
    fn what_fails_late_leaves_the_old_files() {
        let site = Site::new();
        site.write("old.svg", "old");
        let run = |line: &str, out: Stdio| {
            let words: Vec<&str> = line.split(' ').collect();
            let mut command = Command::new(assert_cmd::cargo::cargo_bin!("dapedon"));
            let output = command
                .current_dir(site.path())
                .args(words)
                .stdout(out)
                .output()
                .unwrap();
            (
                output.status.code().unwrap(),
                String::from_utf8(output.stderr).unwrap(),
            )
        };
        let full = || {
            Stdio::from(
                fs::OpenOptions::new()
                    .write(true)
                    .open("/dev/full")
                    .unwrap(),
            )
        };
        let files = site.files();
        for line in [
            format!("{LINE} --map old.svg --report new.html"),
            format!("{LINE} --json --map new.svg --report old.svg"),
            "pile survey.csv --unit m --zone zone.geojson --base ground.xml --csv old.svg --outlines new.shp".into(),
        ] {
            let (code, error) = run(&line, full());
            assert_eq!(code, 2, "{error}");
            assert!(error.contains("the results cannot be printed"), "{error}");
            assert_eq!((site.read("old.svg").as_str(), site.files()), ("old", files.clone()), "{line}");
        }
        let (code, error) = run(
            &format!("{LINE} --map old.svg --report /dev/full"),
            Stdio::piped(),
        );
        assert_eq!(code, 2, "{error}");
        assert_eq!(
            (site.read("old.svg").as_str(), site.files()),
            ("old", files)
        );
    }

    #[test]
    fn what_a_killed_run_left_is_cleared_by_the_next() {
        let site = Site::new();
        let name = |index: u32| format!(".dapedon-left{index}");
        let old = std::time::SystemTime::now() - std::time::Duration::from_secs(60);
        for index in 0..3 {
            site.write(&name(index), "half");
            let file = fs::File::options()
                .write(true)
                .open(site.path().join(name(index)))
                .unwrap();
            file.set_modified(old).unwrap();
        }
        // One is of a run that is still at it, one so young that it may be.
        let held = fs::File::open(site.path().join(name(1))).unwrap();
        held.lock().unwrap();
        site.write(&name(3), "half");
        let young = fs::File::options()
            .write(true)
            .open(site.path().join(name(3)))
            .unwrap();
        young
            .set_modified(old + std::time::Duration::from_secs(3600))
            .unwrap();
        site.succeed(&format!("{LINE} --map map.svg"));
        let left: Vec<String> = site
            .files()
            .into_iter()
            .filter(|file| file.starts_with(".dapedon"))
            .collect();
        assert_eq!(left, [name(1), name(3)]);
    }

    /// Two runs that write the same two files: whichever comes last, the map is the one in the report.
    #[test]
    fn runs_at_once_do_not_mix_their_files() {
        let site = Site::new();
        site.zone(
            "other.geojson",
            &[("elsewhere", &[(1, 1), (5, 1), (5, 5), (1, 5), (1, 1)])],
        );
        for _ in 0..12 {
            let spawn = |zone: &str| {
                let line = format!("{LINE} --zone {zone} --map m.svg --report r.html");
                let words: Vec<&str> = line.split(' ').collect();
                let mut command = Command::new(assert_cmd::cargo::cargo_bin!("dapedon"));
                command
                    .current_dir(site.path())
                    .args(words)
                    .stdout(Stdio::null())
                    .spawn()
                    .unwrap()
            };
            let runs = ["zone.geojson", "other.geojson", "zone.geojson"].map(spawn);
            for mut run in runs {
                assert!(run.wait().unwrap().success());
            }
            let (map, report) = (site.read("m.svg"), site.read("r.html"));
            assert!(
                report.contains(map.trim()),
                "the map of one run beside the report of another"
            );
        }
        let left = site
            .files()
            .into_iter()
            .filter(|file| file.starts_with(".dapedon"));
        assert_eq!(left.count(), 0);
    }
}

#[test]
fn the_sample_job_goes_over_nothing_of_another_one() {
    let site = site();
    let before = contents(site.path());
    let error = site.refuse("demo .");
    assert!(error.contains("files of another job"), "{error}");
    // A survey of that name is enough, without a job file.
    fs::remove_file(site.path().join("dapedon.toml")).unwrap();
    let error = site.refuse("demo .");
    assert!(error.contains("ground.xml"), "{error}");
    let after = contents(site.path());
    assert_eq!(after.len() + 1, before.len());
}
