//! Readings kept under a name: in the job file, in a person's own file, and as `inspect` proposes them.

use crate::site::{Site, number};

/// A pick-up without a header, north first, in feet, with a code that is a line.
const ROVER: &str =
    "1;0;0;10;crest\n2;0;30;10;crest\n3;30;30;10;spot\n4;30;0;10;skipped\n5;30;0;10;spot\n";
const READING: &str = "[reading.rover-export]\ncolumns = \"point,north,east,height,code\"\nunit = \"ft\"\ncodes = \"crest=breakline,skipped=skip\"\n";

/// What lies above level 9, in cubic feet.
fn fill(site: &Site, line: &str) -> f64 {
    number(&site.json(&format!("volume level=9 {line} --json"))["zones"][0]["volume"]["fill"])
}

#[test]
fn a_reading_is_said_once_and_used_by_its_name() {
    let site = Site::new();
    site.write("rover.csv", ROVER);
    site.write("job.toml", &format!("[job]\nname = \"made up\"\nunit = \"m\"\n{READING}[surface.picked]\nfile = \"rover.csv\"\nas = \"rover-export\"\n"));
    site.write("own.toml", READING);
    assert!(
        (fill(
            &site,
            "rover.csv --as rover-export --job job.toml --volume-unit ft3"
        ) - 900.0)
            .abs()
            < 1e-9
    );
    let json = site.json("surface picked --job job.toml --json");
    let notes = json["notes"].to_string();
    assert!(
        notes.contains("rover-export") && notes.contains("breakline"),
        "{notes}"
    );
    // A person's own file holds readings for all jobs; what is typed beside the name goes before it.
    let refused = site.refuse("surface rover.csv --as rover-export");
    assert!(refused.contains("no reading"), "{refused}");
    site.set("DAPEDON_READINGS", "own.toml");
    let json = site.json("surface rover.csv --as rover-export --json");
    assert_eq!(json["units"]["length"], "ft");
    let json = site.json("surface rover.csv --as rover-export --unit m --json");
    assert_eq!(json["units"]["length"], "m");
    let refused = site.refuse("surface rover.csv --as rover");
    assert!(
        refused.contains("no reading \"rover\"") && refused.contains("rover-export"),
        "{refused}"
    );
    // It is read: no result goes over it.
    let refused = site.refuse("surface rover.csv --as rover-export --csv own.toml");
    assert!(refused.contains("own.toml"), "{refused}");
    assert_eq!(site.read("own.toml"), READING);
    site.write("wrong.toml", "[reading.a]\nfile = \"x\"\n");
    site.set("DAPEDON_READINGS", "wrong.toml");
    let refused = site.refuse("surface rover.csv --as a");
    assert!(refused.contains("wrong.toml, line 2"), "{refused}");
}

#[test]
fn a_proposal_is_ready_to_be_pasted() {
    let site = Site::new();
    site.write("rover.csv", ROVER);
    let line = "inspect rover.csv --columns point,north,east,height,code --unit ft --codes crest=breakline,skipped=skip";
    let proposed = site.json(&format!("{line} --json"))["files"][0]["reading"]
        .as_str()
        .unwrap()
        .to_owned();
    assert!(
        site.succeed(line)
            .contains("columns = \"point,north,east,height,code\"")
    );
    let pasted = proposed.replace("name of their origin", "rover-export");
    site.write("own.toml", &pasted);
    site.set("DAPEDON_READINGS", "own.toml");
    let json = site.json("surface rover.csv --as rover-export --json");
    assert_eq!(json["units"]["length"], "ft");
    // Where nothing has to be said, nothing is proposed.
    assert!(
        site.json("inspect ground.xml --json")["files"][0]
            .get("reading")
            .is_none()
    );
}

/// Keys of a surface go before those of its reading, which must be there.
#[test]
fn keys_of_a_surface_go_first() {
    let site = Site::new();
    site.write("rover.csv", ROVER);
    let job = |keys: &str| {
        format!("[job]\nname = \"made up\"\nunit = \"m\"\n{READING}[surface.picked]\n{keys}\n")
    };
    site.write(
        "dapedon.toml",
        &job("file = \"rover.csv\"\nas = \"rover-export\"\nunit = \"m\""),
    );
    assert_eq!(site.json("surface picked --json")["units"]["length"], "m");
    site.write("dapedon.toml", &job("file = \"rover.csv\"\nas = \"rover\""));
    let refused = site.refuse("surface picked");
    assert!(refused.contains("no reading \"rover\""), "{refused}");
    site.write("dapedon.toml", &job("level = 3\nas = \"rover-export\""));
    assert!(
        site.refuse("surface picked")
            .contains("as is for reading a file")
    );
}
