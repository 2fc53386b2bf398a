//! A folder with a small job: a rectangle of 20 by 10 at 10.0, and one of 16 by 10 at 11.5 above it.

use std::cell::RefCell;
use std::fs;
use std::path::Path;

use assert_cmd::Command;
use tempfile::TempDir;

/// Level ground of 20 by 10, its south-west corner at 500 000 / 6 000 000, in metres.
pub(crate) const GROUND: &str = r#"<?xml version="1.0"?>
<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2" date="2031-01-02">
<Units><Metric linearUnit="meter"/></Units>
<Surfaces><Surface name="ground"><Definition surfType="TIN"><Pnts>
<P id="1">6000000 500000 10</P><P id="2">6000000 500020 10</P>
<P id="3">6000010 500020 10</P><P id="4">6000010 500000 10</P>
</Pnts><Faces><F>1 2 3</F><F>1 3 4</F></Faces></Definition></Surface></Surfaces></LandXML>
"#;

/// The western 16 of it, 1.5 higher.
pub(crate) const SURVEY: &str = "point,east,north,height,code
1,500000,6000000,11.5,a
2,500016,6000000,11.5,a
3,500016,6000010,11.5,a
4,500000,6000010,11.5,a
";

pub(crate) struct Site {
    folder: TempDir,
    /// A variable of the environment, for all further runs.
    variable: RefCell<Option<[String; 2]>>,
}

impl Site {
    pub(crate) fn new() -> Self {
        let site = Site {
            folder: TempDir::new().unwrap(),
            variable: RefCell::default(),
        };
        site.write("ground.xml", GROUND);
        site.write("survey.csv", SURVEY);
        site.zone(
            "zone.geojson",
            &[("yard", &[(2, 2), (12, 2), (12, 8), (2, 8), (2, 2)])],
        );
        site
    }

    pub(crate) fn path(&self) -> &Path {
        self.folder.path()
    }

    pub(crate) fn write(&self, name: &str, text: &str) {
        fs::write(self.path().join(name), text).unwrap();
    }

    pub(crate) fn read(&self, name: &str) -> String {
        fs::read_to_string(self.path().join(name)).unwrap()
    }

    /// Writes zones whose corners are given from the site's corner.
    pub(crate) fn zone(&self, name: &str, zones: &[(&str, &[(i32, i32)])]) {
        let features: Vec<String> = (zones.iter())
            .map(|(name, ring)| {
                let corners = ring.iter().map(|(e, n)| format!("[{},{}]", 500_000 + e, 6_000_000 + n));
                let corners = corners.collect::<Vec<_>>().join(",");
                format!(r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"Polygon","coordinates":[[{corners}]]}}}}"#)
            })
            .collect();
        self.write(
            name,
            &format!(
                r#"{{"type":"FeatureCollection","features":[{}]}}"#,
                features.join(",")
            ),
        );
    }

    /// The names of all files, sorted.
    pub(crate) fn files(&self) -> Vec<String> {
        let entries = fs::read_dir(self.path()).unwrap();
        let mut names: Vec<_> = entries
            .map(|e| e.unwrap().file_name().into_string().unwrap())
            .collect();
        names.sort();
        names
    }

    /// Sets a variable of the environment for all further runs.
    pub(crate) fn set(&self, name: &str, value: &str) {
        *self.variable.borrow_mut() = Some([name.into(), value.into()]);
    }

    /// Runs the program in the folder: exit code, standard output, standard error.
    pub(crate) fn run(&self, line: &str) -> (i32, String, String) {
        let words: Vec<&str> = line.split(' ').filter(|word| !word.is_empty()).collect();
        let output = Command::cargo_bin("dapedon")
            .unwrap()
            .current_dir(self.path())
            .envs(
                self.variable
                    .borrow()
                    .iter()
                    .map(|[name, value]| (name, value)),
            )
            .args(words)
            .output()
            .unwrap();
        let text = |bytes: Vec<u8>| String::from_utf8(bytes).unwrap();
        (
            output.status.code().unwrap(),
            text(output.stdout),
            text(output.stderr),
        )
    }

    /// Runs a command that must succeed, and hands back what it printed.
    #[track_caller]
    pub(crate) fn succeed(&self, line: &str) -> String {
        let (code, out, err) = self.run(line);
        assert_eq!((code, err.as_str()), (0, ""), "{line}");
        out
    }

    /// Runs a command that must be refused, and hands back why.
    #[track_caller]
    pub(crate) fn refuse(&self, line: &str) -> String {
        let before = self.files();
        let (code, out, err) = self.run(line);
        assert_eq!((code, out.as_str()), (2, ""), "{line}\n{err}");
        assert_eq!(self.files(), before, "{line} left files behind");
        assert!(!err.contains("panicked"), "{err}");
        err
    }

    #[track_caller]
    /// What is to be known of a result, in the words that a person reads.
    pub(crate) fn warnings(result: &serde_json::Value) -> Vec<String> {
        let findings: Vec<dapedon_job::Finding> =
            serde_json::from_value(result["warnings"].clone()).unwrap();
        findings.iter().map(ToString::to_string).collect()
    }

    pub(crate) fn json(&self, line: &str) -> serde_json::Value {
        serde_json::from_str(&self.succeed(line)).unwrap()
    }
}

/// A number of a result: bare, or a figure with its unit.
#[track_caller]
pub(crate) fn number(found: &serde_json::Value) -> f64 {
    let bare = found.as_f64();
    bare.or(found["value"].as_f64())
        .unwrap_or_else(|| panic!("no number: {found}"))
}
