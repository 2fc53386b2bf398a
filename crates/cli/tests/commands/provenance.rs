//! Every file that was read is in the record of inputs, and compared with the others; nothing else decides the bytes.

use std::fs;

use crate::site::{GROUND, Site};

/// All paths in a result, wherever they stand.
fn paths(value: &serde_json::Value, found: &mut Vec<String>) {
    match value {
        serde_json::Value::Object(fields) => {
            if let (Some(path), true) = (fields.get("path"), fields.contains_key("sha256")) {
                found.push(path.as_str().unwrap().into());
            }
            fields.values().for_each(|value| paths(value, found));
        }
        serde_json::Value::Array(items) => items.iter().for_each(|value| paths(value, found)),
        _ => {}
    }
}

const JOB: &str = "[job]\nname = \"n\"\nunit = \"m\"\nHEAD
[surface.before]\nfile = \"ground.xml\"
[surface.after]\nfile = \"survey.csv\"\noutline = \"outline.geojson\"
[surface.made]\nstart = \"after\"\nsteps = [{ raise = 1, zones = \"yard\" }, { embankment = { line = \"axis\", width = 1, cut-slope = 1, fill-slope = 1 } }]
[zone.yard]\nfile = \"zone.geojson\"
[line.axis]\nfile = \"axis.geojson\"
[[item]]\ncode = \"1\"\ndescription = \"d\"\nunit = \"m3\"\nmeasure = \"fill\"\nreference = \"before\"\nsurveyed = \"made\"\nzones = \"yard\"
";

fn site(crs: [&str; 2]) -> Site {
    let site = Site::new();
    let system = |crs: &str| match crs {
        "" => String::new(),
        crs => format!(r#""crs":{{"type":"name","properties":{{"name":"{crs}"}}}},"#),
    };
    let [outline, axis] = crs.map(system);
    site.write("outline.geojson", &format!(
        r#"{{"type":"FeatureCollection",{outline}"features":[{{"type":"Feature","properties":{{}},"geometry":{{"type":"Polygon","coordinates":[[[500000,6000000],[500015,6000000],[500015,6000010],[500000,6000010],[500000,6000000]]]}}}}]}}"#
    ));
    site.write("axis.geojson", &format!(
        r#"{{"type":"FeatureCollection",{axis}"features":[{{"type":"Feature","properties":{{}},"geometry":{{"type":"LineString","coordinates":[[500003,6000005,13],[500009,6000005,13]]}}}}]}}"#
    ));
    site.write("dapedon.toml", &JOB.replace("HEAD", ""));
    site
}

#[test]
fn all_files_that_were_read_are_in_the_record() {
    let site = site(["", ""]);
    let all = [
        "axis.geojson",
        "dapedon.toml",
        "outline.geojson",
        "survey.csv",
        "zone.geojson",
    ];
    for line in [
        "volume before made --zone yard --json",
        "measure --json",
        "pile made --zone yard --base before --job dapedon.toml --json",
        "conformity before made --zone yard --above 0.1 --job dapedon.toml --json",
        "capacity made --zone yard --to 12.9 --job dapedon.toml --json",
    ] {
        let (_, out, error) = site.run(line);
        let mut found = Vec::new();
        paths(
            &serde_json::from_str(&out).unwrap_or_else(|_| panic!("{line} {error}")),
            &mut found,
        );
        for file in all {
            assert!(
                found.iter().any(|path| path.ends_with(file)),
                "{line}: no {file} in {found:?}"
            );
        }
    }
    let mut found = Vec::new();
    paths(
        &site.json("volume ground.xml survey.csv --unit m --outline outline.geojson --json"),
        &mut found,
    );
    assert!(
        found.iter().any(|path| path == "outline.geojson"),
        "{found:?}"
    );
}

/// A copy of the same files, with other times, in another folder: the same bytes.
#[test]
fn times_of_files_are_in_no_output() {
    let line = "volume ground.xml survey.csv --unit m --zone zone.geojson --map m.svg --report r.html --json";
    let outputs = |hours: u64| {
        let site = site(["", ""]);
        for name in site.files() {
            let file = fs::File::options()
                .write(true)
                .open(site.path().join(name))
                .unwrap();
            let time =
                std::time::SystemTime::UNIX_EPOCH + std::time::Duration::from_secs(3600 * hours);
            file.set_modified(time).unwrap();
        }
        let out = site.succeed(line);
        site.succeed("surface survey.csv --unit m --out made.xml --out made.dxf --map made.svg");
        let files =
            ["m.svg", "r.html", "made.xml", "made.dxf", "made.svg"].map(|name| site.read(name));
        (out, files)
    };
    assert!(outputs(10) == outputs(300_000));
}

/// Systems of outlines and lines are compared like those of surfaces and zones.
#[test]
fn systems_of_outlines_and_lines_are_compared() {
    let other = "EPSG:25833";
    for crs in [[other, ""], ["", other]] {
        let site = site(crs);
        site.write(
            "dapedon.toml",
            &JOB.replace("HEAD", "coordinates = \"EPSG:25832\""),
        );
        // The outline of a file that says no system is in that of the job.
        let refused = site.run("volume before made --zone yard");
        assert!(
            refused.0 == 2 && refused.2.contains("EPSG:25833"),
            "{crs:?} {}",
            refused.2
        );
        site.succeed("volume before made --zone yard --ignore-crs");
    }
}

/// Heights in one system are not compared with heights in another, whatever says which: two files, a file and the job,
/// the line of an embankment.
#[test]
fn systems_of_heights_are_compared() {
    let site = site(["", ""]);
    let with = |name: &str, attribute: &str| {
        let system = format!("<CoordinateSystem name=\"Reach grid\" {attribute}/><Surfaces>");
        site.write(name, &GROUND.replace("<Surfaces>", &system));
    };
    with("sea.xml", "verticalDatum=\"Mean sea\"");
    with("lock.xml", "verticalCoordinateSystemName=\"Lock sill\"");
    let line = "<Alignments><Alignment name=\"axis\" length=\"6\" staStart=\"0\"><CoordGeom><Line><Start>6000005 500003</Start>\
                <End>6000005 500009</End></Line></CoordGeom><Profile><ProfAlign name=\"p\"><PVI>0 13</PVI><PVI>6 13</PVI>\
                </ProfAlign></Profile></Alignment></Alignments><Surfaces>";
    let lock = site.read("lock.xml").replace("<Surfaces>", line);
    site.write("axis.xml", &lock);
    let job = JOB
        .replace("ground.xml", "sea.xml")
        .replace("axis.geojson", "axis.xml");
    site.write("dapedon.toml", &job.replace("HEAD", ""));
    let of_job = JOB.replace("ground.xml", "sea.xml");
    let of_job = of_job.replace("HEAD", "height-system = \"Lock sill\"");
    site.write("lock.toml", &of_job);

    for line in [
        "volume sea.xml lock.xml",
        "volume before made --zone yard",
        "measure",
        "surface before --job lock.toml",
        "measure --job lock.toml",
    ] {
        let refused = site.refuse(line);
        for said in ["heights", "Mean sea", "Lock sill", "--ignore-crs"] {
            assert!(refused.contains(said), "{line}: {refused}");
        }
        let taken = site.run(&format!("{line} --ignore-crs"));
        assert_eq!(taken.0, 0, "{line}: {}", taken.2);
        assert!(
            taken.1.contains("height systems") && taken.1.contains("treated as the same"),
            "{line}: {}",
            taken.1
        );
    }
    // It is reported with the result.
    assert!(
        site.succeed("inspect sea.xml")
            .contains("heights  in Mean sea")
    );
    assert!(
        site.succeed("inspect sea.xml lock.xml")
            .contains("volume refuses that")
    );
    site.succeed("surface sea.xml --out made.xml");
    assert!(
        site.read("made.xml")
            .contains("verticalCoordinateSystemName=\"Mean sea\"")
    );
    site.succeed("volume sea.xml ground.xml");
}

/// The unit that was given is for files without one: another one in a file is a warning where a file without one is there,
/// and an error in the job file, where the unit is that of one file.
#[test]
fn a_unit_that_contradicts_a_file_is_told() {
    let site = site(["", ""]);
    // The same heights in feet, as a pick-up that says no unit.
    site.write("feet.csv", "east,north,height\n1640419.948,19685039.37,40\n1640472.441,19685039.37,40\n1640472.441,19685072.178,40\n");
    let out = site.succeed("volume ground.xml feet.csv --unit ft");
    assert!(
        out.contains("warning: ground.xml: unit of the file: metre. The international foot of the command line was not used: it is for files without a unit"),
        "{out}"
    );
    let out = site.succeed("volume ground.xml survey.csv --unit m");
    assert!(!out.contains("was not used"), "{out}");
    site.write(
        "dapedon.toml",
        &JOB.replace("HEAD", "").replace(
            "file = \"ground.xml\"",
            "file = \"ground.xml\"\nunit = \"ft\"",
        ),
    );
    let refused = site.refuse("volume before after");
    assert!(
        refused.contains("code: input/unit-contradicted"),
        "{refused}"
    );
}
