//! Names of a job on the command line: recipes, build-ups, balance, and what a first job file does.

use crate::site::Site;
use crate::site::number;

/// The ground of the site, finished 0.5 higher in the yard, with two layers over half of it.
const JOB: &str = "[job]
name = \"made up\"
unit = \"m\"
currency = \"EUR\"

[report]
decimals = 1

[surface.ground]
file = \"ground.xml\"

[surface.finished]
start = \"ground\"
steps = [
  { raise = 0.5, zones = \"yard\" },
]

[surface.formation]
start = \"finished\"
steps = [
  { build-up = \"pavement\" },
]

[surface.pad]
start = \"ground\"
steps = [
  { platform = { outline = \"pad\", level = 10.5, cut-slope = 1, fill-slope = 1.5 } },
]

[zone.yard]
file = \"zone.geojson#yard\"

[zone.pad]
corners = [[500006, 6000003], [500014, 6000003], [500014, 6000007], [500006, 6000007]]

[build-up.pavement]
zones = \"yard\"
layers = [
  { name = \"slabs\", thickness = \"80 mm\", counted = [{ in = \"pallets\", covers = 9, whole = true, cost = 140 }] },
  { name = \"stone\", thickness = 0.3, counted = [{ in = \"t\", per-volume = 2.1 }] },
]
";

fn site() -> Site {
    let site = Site::new();
    site.write("dapedon.toml", JOB);
    site
}

#[test]
fn a_recipe_is_told_as_a_tree() {
    let site = site();
    insta::assert_snapshot!(
        site.succeed("surface formation --out formation.xml --map formation.svg")
    );
    // What was written is what was made: measured again it is the same, step and all.
    let json = site.json("volume formation formation.xml --json");
    let row = &json["zones"][0];
    for way in ["cut", "fill"] {
        assert!(number(&row["volume"][way]) < 1e-9, "{row}");
    }
    assert_eq!(number(&row["area"]["compared"]), 200.0);
}

#[test]
fn the_same_with_and_without_its_build_up() {
    let site = site();
    insta::assert_snapshot!(site.succeed("volume ground formation --zone yard --report page.html"));
    let json = site.json("volume ground formation --zone yard --json");
    let close = |value: &serde_json::Value, expected: f64| {
        assert!(
            (number(value) - expected).abs() < 1e-9,
            "{value} {expected}"
        );
    };
    // The yard is 10 by 6.
    close(&json["zones"][0]["volume"]["net"], 60.0 * (0.5 - 0.38));
    close(&json["without_build_up"]["total"]["net"], 30.0);
    close(&json["without_build_up"]["layers"], 22.8);
    let layer = &json["surveyed"]["recipe"]["steps"][0]["layers"][0];
    assert_eq!(
        (&layer["layer"], &layer["zone"]),
        (&"slabs".into(), &"yard".into())
    );
    // 60 over 9 are 6.67: seven whole ones.
    assert_eq!(layer["counted"][0]["count"], "7");
    assert_eq!(layer["counted"][0]["cost"], "980.00");
    let page = site.read("page.html");
    for words in ["slabs", "980.00", "Without the build-up", "zone.geojson"] {
        assert!(page.contains(words), "no \"{words}\" in the report");
    }
    let warned = site.succeed("volume ground finished");
    assert!(
        warned.contains("\"finished\" is a finished level: its build-up is not deducted"),
        "{warned}"
    );
}

#[test]
fn a_balance_is_told_and_drawn() {
    let site = site();
    let line = "balance ground pad --platform pad --shrink 10% --swell 1.25 --range -1,0.5";
    // Level ground: the best is to leave it, with nothing to dig and nothing to fill.
    let json = site.json(&format!("{line} --json"));
    assert_eq!(json["balanced"], true);
    assert!(
        (number(&json["best"]["shift"]) + 0.5).abs() < 1e-3,
        "{json}"
    );

    // A slope from 9 to 11 along 20, and a level at 10: half of it cut.
    site.write("slope.csv", "east,north,height\n500000,6000000,9\n500020,6000000,11\n500020,6000010,11\n500000,6000010,9\n");
    let line = "balance slope.csv level=10 --unit m --shrink 0.81 --swell 25% --job dapedon.toml";
    insta::assert_snapshot!(site.succeed(&format!("{line} --curve curve.svg")));
    assert!(site.read("curve.svg").contains("balanced at"));
    let json = site.json(&format!("{line} --max-leftover 9 --json"));
    assert_eq!(number(&json["best"]["shift"]), -0.1);
    // No balance in the range is a finding, with the best of it.
    let (code, out, err) = site.run(&format!("{line} --range 0.5,0.8"));
    assert_eq!((code, err.as_str()), (1, ""));
    assert!(
        out.contains(
            "No balance between 0.500 and 0.800 m. Closest with the whole design raised by 0.500 m"
        ),
        "{out}"
    );
    for (wrong, says) in [
        ("--range 2,1", "the first height must be below"),
        ("--swell 0.5", "is not a swell"),
        ("--shrink 100%", "is not a shrink"),
        (
            "--platform pad --job dapedon.toml",
            "the design has no platform",
        ),
    ] {
        let error = site.refuse(&format!("balance slope.csv level=10 --unit m {wrong}"));
        assert!(error.contains(says), "{error}");
    }
}

#[test]
fn what_a_job_is_made_of_is_not_written_over() {
    let site = site();
    for line in [
        "surface formation --out ground.xml",
        "surface formation --map dapedon.toml",
        "volume ground formation --map zone.geojson",
        "balance ground pad --curve zone.geojson",
    ] {
        let error = site.refuse(line);
        assert!(error.contains("would be overwritten"), "{line}\n{error}");
    }
    assert_eq!(site.read("dapedon.toml"), JOB);
}

#[test]
fn a_first_job_file_runs() {
    let site = Site::new();
    let said = site.succeed("init");
    assert!(
        said.contains("Try it: dapedon volume finished formation"),
        "{said}"
    );
    let measured = site.succeed("volume finished formation");
    assert!(measured.contains("888.0"), "{measured}");
    let again = site.refuse("init");
    assert!(
        again.contains("the job file exists already") && again.contains("--job"),
        "{again}"
    );
    site.succeed("init ground.xml survey.csv --job other.toml");
    let built = site.succeed("surface survey --job other.toml");
    assert!(built.contains("2 triangles"), "{built}");
    let schema: serde_json::Value = serde_json::from_str(&site.succeed("schema job-file")).unwrap();
    assert_eq!(schema["title"], "Dapedon job file");
    let missing = site.refuse("init gone.csv --job third.toml");
    assert!(missing.contains("the file does not exist"), "{missing}");
}

#[test]
fn mistakes_show_the_line() {
    let site = site();
    site.write(
        "dapedon.toml",
        &JOB.replace("{ raise = 0.5,", "{ rise = 0.5,"),
    );
    insta::assert_snapshot!(site.refuse("surface formation"));
    site.write(
        "dapedon.toml",
        &JOB.replace(
            "level = 10.5, cut-slope = 1,",
            "level = 30.5, cut-slope = 1,",
        ),
    );
    insta::assert_snapshot!(site.refuse("surface pad"));
    site.write("dapedon.toml", JOB);
    let unknown = site.refuse("volume ground formatoin");
    assert!(unknown.contains("do: use \"formation\""), "{unknown}");
    // Files are measured without a look at the job, whatever is wrong with it.
    site.write("dapedon.toml", "[job");
    site.succeed("volume ground.xml survey.csv --unit m");
}

/// A step that brings another surface puts it where its zones are, beyond the own surface too; one that changes heights
/// needs a surface there; zones off both are refused.
#[test]
fn steps_in_zones_reach_as_far_as_the_other_surface() {
    let site = Site::new();
    // The survey ends at 16; from there on the ground alone lies, to 20.
    site.zone(
        "partly.geojson",
        &[("z", &[(10, 0), (20, 0), (20, 10), (10, 10), (10, 0)])],
    );
    site.zone(
        "beyond.geojson",
        &[("z", &[(17, 0), (20, 0), (20, 10), (17, 10), (17, 0)])],
    );
    site.zone(
        "off.geojson",
        &[("z", &[(50, 0), (60, 0), (60, 10), (50, 10), (50, 0)])],
    );
    let job = |step: &str, zone: &str| {
        site.write("dapedon.toml", &format!(
            "[job]\nname = \"n\"\nunit = \"m\"\n[surface.ground]\nfile = \"ground.xml\"\n[surface.survey]\nfile = \"survey.csv\"\n\
             [zone.z]\nfile = \"{zone}.geojson\"\n[surface.made]\nstart = \"survey\"\nsteps = [{{ {step}, zones = \"z\" }}]\n"
        ));
    };
    for step in ["replace", "lowest", "highest"] {
        for (zone, area) in [("partly", 200.0), ("beyond", 190.0)] {
            job(&format!("{step} = \"ground\""), zone);
            let found = number(&site.json("surface made --json")["area"]);
            assert!((found - area).abs() < 1e-6, "{step} {zone}: {found}");
        }
        job(&format!("{step} = \"ground\""), "off");
        let refused = site.refuse("surface made");
        assert!(refused.contains("outside the surface"), "{refused}");
    }
    for (step, zone) in [
        ("raise = 1", "beyond"),
        ("level = 12", "beyond"),
        ("raise = 1", "off"),
    ] {
        job(step, zone);
        let refused = site.refuse("surface made");
        assert!(refused.contains("outside the surface"), "{refused}");
    }
    job("raise = 1", "partly");
    site.succeed("surface made");
}

/// Each of twenty surfaces is made of the one before, twice: two to the twentieth if all were reported wherever they are
/// needed. Each is reported once, and the output is as long as the job is.
#[test]
fn surfaces_that_are_needed_twice_are_told_once() {
    let site = Site::new();
    let mut text =
        "[job]\nname = \"n\"\nunit = \"m\"\n[surface.s0]\nfile = \"ground.xml\"\n".to_owned();
    for index in 1..=20 {
        let before = index - 1;
        text += &format!(
            "[surface.s{index}]\nstart = \"s{before}\"\nsteps = [{{ highest = \"s{before}\" }}, {{ lowest = \"s{before}\" }}]\n"
        );
    }
    site.write("dapedon.toml", &text);
    for line in [
        "surface s20",
        "volume s0 s20",
        "volume s0 s20 --json",
        "surface s20 --json",
    ] {
        let out = site.succeed(line);
        assert!(out.len() < 90_000, "{line}: {} bytes", out.len());
    }
    let tree = site.succeed("surface s2");
    assert!(tree.contains("as above"), "{tree}");
    site.succeed("volume s0 s20 --report r.html");
    assert!(site.read("r.html").contains("as above"));
    let refused = site.refuse("balance s0 s20 --platform none");
    assert!(refused.contains("none"), "{refused}");
}

/// A chain that is deeper than any job is refused with its line, whichever of its ends is read first.
#[test]
fn a_chain_of_surfaces_ends_somewhere() {
    let site = Site::new();
    for (count, down) in [(90, true), (90, false), (3000, true), (3000, false)] {
        let name = |index: usize| format!("s{:05}", if down { 9000 - index } else { index });
        let mut text = format!(
            "[job]\nname = \"n\"\nunit = \"m\"\n[surface.{}]\nfile = \"ground.xml\"\n",
            name(0)
        );
        for index in 1..=count {
            text += &format!(
                "[surface.{}]\nstart = \"{}\"\nsteps = [{{ raise = 0.01 }}]\n",
                name(index),
                name(index - 1)
            );
        }
        site.write("dapedon.toml", &text);
        let line = format!("surface {}", name(count));
        if count == 90 {
            site.succeed(&line);
        } else {
            let refused = site.refuse(&line);
            assert!(
                refused.contains("a chain of more than 100 surfaces"),
                "{refused}"
            );
        }
    }
}

/// Numbers that are too many, words that are none, and keys with nothing to act on are reported with their line.
#[test]
fn what_means_nothing_in_a_job_is_refused() {
    let site = Site::new();
    for (zone, step, told) in [
        (
            "[[500002, 6000002, 1, 2], [500012, 6000002], [500012, 6000008]]",
            "raise = 1",
            "4 numbers found, 2 expected",
        ),
        (
            "[[500002, 6000002], [500012], [500012, 6000008]]",
            "raise = 1",
            "1 numbers found, 2 expected",
        ),
        (
            "[[500002, 6000002], [500012, 6000002], [500012, 6000008]]",
            "move = [1, 2, 3]",
            "3 numbers found, 2 expected",
        ),
        (
            "[[500002, 6000002], [500012, 6000002], [500012, 6000008]]",
            "raise = 1, overlap = \"first\"",
            "overlap needs a build-up",
        ),
        (
            "[[500002, 6000002], [500012, 6000002], [500012, 6000008]]",
            "raise = 1, overlap = \"last\"",
            "use one of first",
        ),
    ] {
        site.write("dapedon.toml", &format!(
            "[job]\nname = \"n\"\nunit = \"m\"\n[surface.ground]\nfile = \"ground.xml\"\n[surface.made]\nstart = \"ground\"\nsteps = [{{ {step} }}]\n[zone.z]\ncorners = {zone}\n"
        ));
        let refused = site.refuse("surface made");
        assert!(
            refused.contains(told) && refused.contains("dapedon.toml, line"),
            "{step} {zone}: {refused}"
        );
    }
}

#[test]
fn a_surface_against_itself_is_remarked_on() {
    let site = Site::new();
    let out = site.succeed("volume ground.xml ground.xml");
    assert!(
        out.contains("warning: the reference and the surveyed surface are the same"),
        "{out}"
    );
    assert!(
        !site
            .succeed("volume ground.xml survey.csv --unit m")
            .contains("are the same: there is no difference")
    );
}
