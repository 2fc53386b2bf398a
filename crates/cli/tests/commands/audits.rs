//! Audits: what changed is named, whoever is given the folder.

use std::fs;
use std::path::Path;

use serde_json::Value;

use crate::claims::{issued, level};
use crate::site::Site;

const RECORDS: [&str; 3] = [
    "claims/claim-001.json",
    "claims/claim-002.json",
    "claims/claim-003.json",
];

fn write(site: &Site, name: &str, bytes: &[u8]) {
    let path = site.path().join(name);
    // Records are written to be read only.
    fs::remove_file(&path).ok();
    fs::write(path, bytes).unwrap();
}

fn audited(site: &Site) -> (i32, Value) {
    let (code, out, err) = site.run("audit --json");
    assert!(code < 2, "{err}");
    (code, serde_json::from_str(&out).unwrap())
}

/// A record whose contents were changed, with its digest made to fit.
fn mended(text: &str, from: &str, to: &str) -> String {
    assert!(text.contains(from), "{from}");
    let mut file: Value = serde_json::from_str(&text.replacen(from, to, 1)).unwrap();
    let canonical = serde_json_canonicalizer::to_vec(&file["record"]).unwrap();
    file["digest"] = dapedon_job::digest(&canonical).into();
    format!("{}\n", serde_json::to_string_pretty(&file).unwrap())
}

#[test]
fn an_untouched_folder_passes_anywhere() {
    let site = issued();
    let (code, found) = audited(&site);
    assert_eq!(
        (code, &found["passed"]),
        (0, &Value::Bool(true)),
        "{found:#}"
    );
    // Handed over, without anything that was not read.
    let other = Site::new();
    for name in ["dapedon.toml", "ground.csv", "may.csv", "june.csv"] {
        fs::create_dir_all(other.path().join("given")).unwrap();
        fs::copy(
            site.path().join(name),
            other.path().join("given").join(name),
        )
        .unwrap();
    }
    fs::create_dir_all(other.path().join("given/claims")).unwrap();
    for name in RECORDS {
        fs::copy(
            site.path().join(name),
            other.path().join("given").join(name),
        )
        .unwrap();
    }
    let (code, out, err) = other.run("audit given");
    assert_eq!(code, 0, "{out}{err}");
    // The job file of today does not matter: each record has that of its day.
    other.write(
        "given/dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"m\"\n",
    );
    assert_eq!(other.run("audit given").0, 0);
    fs::remove_file(other.path().join("given/dapedon.toml")).unwrap();
    assert_eq!(other.run("audit given").0, 0);
}

/// One byte of any input or record: the audit names the file.
#[test]
fn one_byte_is_found() {
    let site = issued();
    for name in ["ground.csv", "may.csv", "june.csv"]
        .into_iter()
        .chain(RECORDS)
    {
        let bytes = fs::read(site.path().join(name)).unwrap();
        let places = [
            0,
            bytes.len() / 3,
            bytes.len() / 2,
            bytes.len() - 2,
            bytes.len() - 1,
        ];
        for at in places {
            let mut other = bytes.clone();
            // The lowest bit: a digit becomes another one, a letter its neighbour.
            other[at] ^= 1;
            write(&site, name, &other);
            let (code, out, err) = site.run("audit");
            assert_eq!(code, 1, "{name} {at}: {out}{err}");
            assert!(out.contains(&format!("{name}: ")), "{name} {at}: {out}");
        }
        // White space too, and a byte less.
        let mut longer = bytes.clone();
        longer.insert(bytes.len() / 2, b' ');
        for other in [longer.as_slice(), &bytes[..bytes.len() - 1]] {
            write(&site, name, other);
            let (code, out, _) = site.run("audit");
            assert_eq!(code, 1, "{name}: {out}");
            assert!(out.contains(&format!("{name}: ")), "{name}: {out}");
        }
        write(&site, name, &bytes);
    }
    assert_eq!(site.run("audit").0, 0);
}

#[test]
fn a_changed_survey_moves_figures_that_are_named() {
    let site = issued();
    site.write("may.csv", &level(9.4));
    let (code, found) = audited(&site);
    assert_eq!(code, 1);
    let first = &found["claims"][0];
    assert_eq!(first["verdict"], "input_changed");
    let moved = first["moved"].as_array().unwrap();
    let quantity = moved
        .iter()
        .find(|own| own["figure"] == "lines, 1, worth, to date, quantity");
    // 200 m2 by 0.1 m.
    let quantity = quantity.unwrap_or_else(|| panic!("{first:#}"));
    assert!((quantity["moved"].as_f64().unwrap() - 20.0).abs() < 1e-9);
    assert_eq!(
        (&quantity["recorded"], &quantity["rebuilt"]),
        (&"100.0".into(), &"120.0".into())
    );
    // The second and the third claim were not measured from it.
    for at in [1, 2] {
        assert_eq!(found["claims"][at]["verdict"], "same", "{found:#}");
    }
    fs::remove_file(site.path().join("june.csv")).unwrap();
    fs::create_dir(site.path().join("june.csv")).unwrap();
    let (_, found) = audited(&site);
    assert_eq!(found["claims"][1]["verdict"], "input_missing");
    let text = site.run("audit").1;
    assert!(text.contains("june.csv: missing"), "{text}");
}

#[test]
fn records_that_are_swapped_dropped_or_mended_are_named() {
    let site = issued();
    let texts = RECORDS.map(|name| site.read(name));
    let verdicts = |found: &Value| {
        let claims = found["claims"].as_array().unwrap().iter();
        claims
            .map(|own| own["verdict"].as_str().unwrap().to_owned())
            .collect::<Vec<_>>()
    };
    let faults = |found: &Value, at: usize| found["claims"][at]["faults"].to_string();
    let put = |all: [&str; 3]| {
        for (name, text) in RECORDS.iter().zip(all) {
            write(&site, name, text.as_bytes());
        }
    };
    // Swapped.
    put([&texts[1], &texts[0], &texts[2]]);
    let (code, found) = audited(&site);
    assert_eq!(code, 1);
    assert!(
        faults(&found, 0).contains("the record is that of claim 2"),
        "{found:#}"
    );
    assert!(
        faults(&found, 1).contains("the record is that of claim 1"),
        "{found:#}"
    );
    // Dropped from the middle.
    put([&texts[0], &texts[1], &texts[2]]);
    fs::remove_file(site.path().join(RECORDS[1])).unwrap();
    let (code, found) = audited(&site);
    assert_eq!(code, 1);
    assert!(
        faults(&found, 1).contains("the record of claim 2 is missing"),
        "{found:#}"
    );
    // Edited, and its digest mended: the next one was issued after another record.
    let edited = mended(&texts[0], "mobilisation", "extra mobilisation");
    put([&edited, &texts[1], &texts[2]]);
    let (code, found) = audited(&site);
    assert_eq!(code, 1);
    assert!(
        faults(&found, 1).contains("claim 2 was issued after a record of claim 1 with the digest"),
        "{found:#}"
    );
    // The last one has none after it: rebuilt from its own job file, it says otherwise; and its printed digest is another.
    let edited = mended(&texts[2], "corner not surveyed", "corner not seen");
    put([&texts[0], &texts[1], &edited]);
    let (code, found) = audited(&site);
    assert_eq!(code, 1, "{found:#}");
    assert_eq!(verdicts(&found), ["same", "same", "differs"]);
    let digest = serde_json::from_str::<Value>(&texts[2]).unwrap()["digest"]
        .as_str()
        .unwrap()
        .to_owned();
    let (code, out, _) = site.run(&format!("audit --digest {}", &digest[..16]));
    assert_eq!(code, 1);
    assert!(
        out.contains("it was changed, or later records are gone"),
        "{out}"
    );
    // The last one gone: the chain cannot show it, the digest that was printed can.
    put([&texts[0], &texts[1], &texts[2]]);
    assert_eq!(site.run(&format!("audit --digest {digest}")).0, 0);
    fs::remove_file(site.path().join(RECORDS[2])).unwrap();
    assert_eq!(site.run("audit").0, 0);
    for line in [
        format!("audit --digest {digest}"),
        format!("audit --digest 3={digest}"),
    ] {
        assert_eq!(site.run(&line).0, 1, "{line}");
    }
}

#[test]
fn other_versions_are_told_apart() {
    let site = issued();
    fs::remove_file(site.path().join(RECORDS[2])).unwrap();
    let text = site.read(RECORDS[1]);
    let version = env!("CARGO_PKG_VERSION");
    let older = mended(
        &text,
        &format!("\"version\": \"{version}\""),
        "\"version\": \"0.0.9\"",
    );
    write(&site, RECORDS[1], older.as_bytes());
    assert_eq!(
        site.run("audit").0,
        0,
        "an older version with the same figures is no finding"
    );
    let older = mended(&older, "\"180.0\"", "\"179.9\"");
    write(&site, RECORDS[1], older.as_bytes());
    let (code, found) = audited(&site);
    assert_eq!(code, 1);
    assert_eq!(
        found["claims"][1]["verdict"], "computed_otherwise",
        "{found:#}"
    );
    let later = mended(&text, "\"version\": 1", "\"version\": 2");
    write(&site, RECORDS[1], later.as_bytes());
    let (_, found) = audited(&site);
    assert!(
        found["claims"][1]["faults"]
            .to_string()
            .contains("this program reads versions up to 1")
    );
}

#[test]
fn what_cannot_be_audited_is_said() {
    let site = Site::new();
    assert!(
        site.refuse("audit")
            .contains("no record of a claim is found here")
    );
    assert!(
        site.refuse("audit --digest 12")
            .contains("expected 12 to 64 digits")
    );
    let site = issued();
    write(&site, "claims/claim-003.json.sig", b"signed");
    write(&site, "claims/notes.txt", b"kept");
    let (code, found) = audited(&site);
    assert_eq!(code, 0);
    assert_eq!(found["claims"][2]["signature"], "claims/claim-003.json.sig");
}

/// Records of every version that was ever written are read, and say what they said.
#[test]
fn old_records_stay_readable() {
    let kept = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/records");
    let mut count = 0;
    for version in fs::read_dir(kept).unwrap() {
        let from = version.unwrap().path();
        let site = Site::new();
        fs::create_dir(site.path().join("claims")).unwrap();
        for entry in fs::read_dir(&from).unwrap() {
            let file = entry.unwrap();
            let name = file.file_name().into_string().unwrap();
            let place = if name.starts_with("claim-") {
                format!("claims/{name}")
            } else {
                name
            };
            fs::copy(file.path(), site.path().join(place)).unwrap();
        }
        let payable = [1, 2, 3].map(|number| {
            let claim = site.json(&format!("claim show {number} --json"));
            claim["valuation"]["payable"].as_str().unwrap().to_owned()
        });
        assert_eq!(payable, ["660.00", "230.40", "84.00"], "{from:?}");
        let (code, out, err) = site.run("audit");
        assert_eq!(code, 0, "{from:?} {out}{err}");
        count += 1;
    }
    assert!(count > 0);
}

/// What is packed is enough: as a folder and as an archive, with inputs beside the folder of the job too.
#[test]
fn a_pack_is_checked_alone() {
    let site = issued();
    let packed = site.json("claim pack 3 --to given --json");
    assert_eq!(packed["claim"], 3);
    site.succeed("claim pack 3 --to given.zip");
    site.succeed("claim pack 3 --to again.zip");
    let bytes = |name: &str| fs::read(site.path().join(name)).unwrap();
    assert_eq!(
        bytes("given.zip"),
        bytes("again.zip"),
        "the same files make the same archive"
    );
    let other = Site::new();
    fs::rename(site.path().join("given"), other.path().join("given")).unwrap();
    fs::rename(
        site.path().join("given.zip"),
        other.path().join("given.zip"),
    )
    .unwrap();
    let digest = packed["digest"].as_str().unwrap();
    for name in ["given", "given.zip"] {
        let (code, out, err) = other.run(&format!("audit {name} --digest 3={digest}"));
        assert_eq!(code, 0, "{out}{err}");
    }
    let note = other.read("given/CHECK.txt");
    assert!(
        note.contains(&format!("dapedon audit --digest 3={digest}")),
        "{note}"
    );
    // Every file of it: one byte, and its absence.
    let files = packed["files"].as_array().unwrap().iter();
    for name in files.map(|own| own["path"].as_str().unwrap()) {
        let path = other.path().join("given").join(name);
        let whole = fs::read(&path).unwrap();
        let mut changed = whole.clone();
        let middle = changed.len() / 2;
        changed[middle] ^= 1;
        fs::remove_file(&path).unwrap();
        fs::write(&path, &changed).unwrap();
        let (code, out, _) = other.run("audit given");
        assert_eq!(code, 1, "{name}");
        assert!(
            out.contains(&format!("{name}: not the file that was packed")),
            "{out}"
        );
        fs::remove_file(&path).unwrap();
        let (code, out, _) = other.run("audit given");
        assert!(
            code > 0 && (out.contains(&format!("{name}: missing from the pack"))),
            "{out}"
        );
        fs::write(&path, &whole).unwrap();
    }
    assert_eq!(other.run("audit given").0, 0);
    // Never over what is there, and only what is as it was.
    assert!(
        site.refuse("claim pack 3 --to again.zip")
            .contains("this exists already")
    );
    assert!(
        site.refuse("claim pack 4 --to four.zip")
            .contains("no claim 4")
    );
    site.write("june.csv", &level(9.2));
    assert!(
        site.refuse("claim pack 3 --to other.zip")
            .contains("an input of claim 2 changed")
    );
    // What is no archive, or one that leads elsewhere.
    assert!(
        site.refuse("audit june.csv")
            .contains("the archive cannot be read")
    );
}

#[test]
fn inputs_beside_the_folder_of_the_job_are_packed_too() {
    let site = crate::claims::site(&[crate::claims::FIRST]);
    for folder in ["site", "surveys"] {
        fs::create_dir(site.path().join(folder)).unwrap();
    }
    for name in ["ground.csv", "may.csv", "june.csv"] {
        fs::rename(
            site.path().join(name),
            site.path().join("surveys").join(name),
        )
        .unwrap();
    }
    let text = site
        .read("dapedon.toml")
        .replace("file = \"", "file = \"../surveys/");
    site.write("site/dapedon.toml", &text);
    fs::remove_file(site.path().join("dapedon.toml")).unwrap();
    site.succeed("claim issue 1 --job site/dapedon.toml");
    site.succeed("audit site");
    site.succeed("claim pack 1 --job site/dapedon.toml --to given.zip");
    fs::remove_dir_all(site.path().join("surveys")).unwrap();
    site.succeed("audit given.zip");
    // A path that no other machine has is refused before anything is frozen.
    let site = crate::claims::site(&[crate::claims::FIRST]);
    let whole = format!("file = \"{}/", site.path().display());
    let elsewhere = Site::new();
    elsewhere.write(
        "dapedon.toml",
        &site.read("dapedon.toml").replace("file = \"", &whole),
    );
    let refused = elsewhere.refuse("claim issue 1");
    assert!(
        refused.contains("named by its whole path, which no other machine has"),
        "{refused}"
    );
}
