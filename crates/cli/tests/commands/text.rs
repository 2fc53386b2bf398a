//! Text that came in is safe by whichever way it goes out: terminal, JSON, SVG, HTML, LandXML, CSV.

use crate::site::Site;

/// A name that would clear a screen, set its title, break a line and a page, turn text round, and be a formula.
const HOSTILE: &str =
    "=1+1\\u001b[2J\\u001b]0;x\\u0007\\n\\u0085\\u009bwarning: none\\u202e</text><script>&\\u0000";

fn site() -> Site {
    let site = Site::new();
    let ring =
        "[500002,6000002],[500012,6000002],[500012,6000008],[500002,6000008],[500002,6000002]";
    site.write("hostile.geojson", &format!(
        r#"{{"type":"FeatureCollection","features":[{{"type":"Feature","properties":{{"name":"{HOSTILE}","material":"@{HOSTILE}"}},"geometry":{{"type":"Polygon","coordinates":[[{ring}]]}}}}]}}"#
    ));
    let ground = site
        .read("ground.xml")
        .replace("name=\"ground\"", "name=\"gr&#27;[31mound&#x9b;\"");
    site.write("ground.xml", &ground.replace("&#27;", "&#x9c;"));
    site.write("codes.csv", "east,north,height,code\n500000,6000000,11,\u{1b}[2J=a\n500016,6000000,11,b\u{202e}\n500016,6000010,11,c\n500000,6000010,11,d\u{7}\n");
    site
}

/// Nothing but breaks of lines, tabs and our own styles.
#[track_caller]
fn harmless(text: &str) {
    let acts = |c: &char| {
        c.is_control() && !matches!(c, '\n' | '\t') || ('\u{202a}'..='\u{202e}').contains(c)
    };
    let found = text.chars().find(acts);
    assert!(found.is_none(), "{found:?} in {text:?}");
}

const LINES: [&str; 6] = [
    "volume ground.xml survey.csv --unit m --zone hostile.geojson --map m.svg --report r.html --csv t.csv",
    "pile survey.csv --unit m --zone hostile.geojson --base ground.xml --map m.svg --report r.html --csv t.csv --outlines o.geojson",
    "inspect hostile.geojson",
    "inspect codes.csv --unit m",
    "surface codes.csv --unit m --out s.xml --out s.dxf --map m.svg",
    "surface ground.xml --out s.xml --map m.svg",
];

#[test]
fn nothing_that_came_in_acts_on_the_way_out() {
    let site = site();
    for line in LINES {
        let out = site.succeed(line);
        harmless(&out);
        // The name is one line of the table, whatever breaks stand in it.
        assert!(
            !out.lines().any(|line| line.starts_with("warning: none")),
            "{out}"
        );
        for name in ["m.svg", "r.html", "s.xml", "s.dxf", "t.csv", "o.geojson"] {
            if site.files().contains(&name.to_owned()) {
                let text = site.read(name).replace('\r', "");
                harmless(&text);
                let marked =
                    name.ends_with("svg") || name.ends_with("html") || name.ends_with("xml");
                assert!(!marked || !text.contains("<script>"), "{line} {name}");
                std::fs::remove_file(site.path().join(name)).unwrap();
            }
        }
        let (_, json, _) = site.run(&format!("{line} --json"));
        harmless(&json);
        let _: serde_json::Value = serde_json::from_str(&json).unwrap();
    }
}

#[test]
fn errors_say_what_came_in_without_doing_it() {
    let site = site();
    for line in [
        "volume ground.xml survey.csv --unit m --zone hostile.geojson#\u{1b}[2Jnone",
        "volume ground.xml \u{1b}[2J\u{7}.csv --unit m",
        "volume ground.xml survey.csv --unit m --zone hostile.geojson --zone hostile.geojson",
        "surface codes.csv --unit m --codes \u{1b}[2Jx=breakline",
        "pile survey.csv --unit m --zone hostile.geojson --base ground.xml --material-attribute \u{9b}none",
    ] {
        harmless(&site.refuse(line));
    }
}

#[test]
fn text_in_a_table_is_no_formula() {
    let site = site();
    site.succeed(LINES[0]);
    let table = site.read("t.csv");
    assert!(table.contains("'=1+1"), "{table}");
    assert!(
        !table.contains("\n=") && !table.contains(",=") && !table.contains("\"="),
        "{table}"
    );
    let heading = table.lines().next().unwrap();
    assert!(
        heading.starts_with("zone,cut volume m3,fill volume m3,net volume m3,in words,unchanged volume m3,compared area m2"),
        "{heading}"
    );
    // A negative figure is a figure.
    site.succeed("volume survey.csv level=10 --unit m --csv t.csv");
    let row = site.read("t.csv").lines().nth(1).unwrap().to_owned();
    assert!(
        row.starts_with("all,240,0,-240,more cut than fill,0,160,160,0,0,0,0,-1.5,"),
        "{row}"
    );
}

#[test]
fn outputs_end_as_what_they_hold() {
    let site = site();
    let line = "volume ground.xml survey.csv --unit m";
    for (output, word) in [
        ("--map m.jpg", "use the ending .svg or .png"),
        ("--map m.pdf", "use the ending .svg"),
        ("--report r.pdf", "use the ending .html"),
        ("--csv t.xlsx", "use the ending .csv"),
    ] {
        let refused = site.refuse(&format!("{line} {output}"));
        assert!(refused.contains(word), "{refused}");
    }
    site.succeed(&format!("{line} --map m.SVG --report r.htm --csv t.txt"));
    site.succeed(&format!("{line} --map plain"));
}

#[test]
fn balances_are_tables_too() {
    let site = site();
    site.succeed("balance ground.xml survey.csv --unit m --csv t.csv");
    let table = site.read("t.csv");
    assert!(
        table.starts_with(
            "shift m,cut in the bank m3,makes compacted m3,fill compacted m3,surplus compacted m3"
        ),
        "{table}"
    );
    assert!(table.lines().count() > 3);
}

/// A name that is no UTF-8 is a name like any other, in every command that reads a file.
#[cfg(unix)]
#[test]
fn names_that_are_no_text_are_files() {
    use std::os::unix::ffi::OsStrExt;
    let site = site();
    let name = std::ffi::OsStr::from_bytes(b"sur\xffvey.csv");
    std::fs::copy(site.path().join("survey.csv"), site.path().join(name)).unwrap();
    let zones = std::ffi::OsStr::from_bytes(b"zo\xfene.geojson");
    std::fs::copy(site.path().join("zone.geojson"), site.path().join(zones)).unwrap();
    let run = |words: &[&std::ffi::OsStr]| {
        let mut command = assert_cmd::Command::cargo_bin("dapedon").unwrap();
        let output = command
            .current_dir(site.path())
            .args(words)
            .args(["--unit", "m"])
            .output()
            .unwrap();
        assert!(
            output.status.success(),
            "{}",
            String::from_utf8_lossy(&output.stderr)
        );
    };
    let word = |text: &'static str| std::ffi::OsStr::new(text);
    run(&[word("inspect"), name]);
    run(&[word("surface"), name]);
    run(&[
        word("volume"),
        word("ground.xml"),
        name,
        word("--zone"),
        zones,
    ]);
    run(&[word("volume"), name, word("ground.xml")]);
    run(&[word("balance"), word("ground.xml"), name]);
    run(&[
        word("pile"),
        name,
        word("--zone"),
        zones,
        word("--base"),
        word("ground.xml"),
    ]);
}
