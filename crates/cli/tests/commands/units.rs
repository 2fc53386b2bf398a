//! Factors hold in the job's units: whatever a report is in, what is weighed, hauled, counted and paid is the same.

use serde_json::Value;

use crate::site::Site;

const JOB: &str = r#"
[job]
name = "Yard"
unit = "m"
currency = "EUR"
JOB_UNITS

[report]
REPORT

[surface.ground]
file = "ground.xml"

[surface.survey]
file = "survey.csv"

[surface.formation]
start = "ground"
steps = [{ build-up = "pavement" }]

[zone.yard]
file = "zone.geojson"

[build-up.pavement]
zones = "yard"
layers = [
  { name = "stone", thickness = 0.35, counted = [
    { in = "t", per-volume = 2.13, cost = 11.37 },
    { in = "loads", holds = 9.5, whole = true, cost = 88 },
    { in = "rolls", covers = 7, whole = true, cost = 61.9 },
  ] },
]

[material.soil]
swell = "25%"
density = { bank = 1.9 }
vehicle = "tipper"
counted = [{ in = "bags", holds = 0.9, state = "loose", whole = true, cost = 3.1 }]

[vehicle.tipper]
holds = 11
carries = 17.5

[[item]]
code = "1"
description = "Soil"
unit = "t"
measure = "fill"
reference = "ground"
surveyed = "survey"
material = "soil"
measured-state = "bank"
rate = 7.77

[[item]]
code = "2"
description = "Soil by the load"
unit = "loads"
measure = "fill"
reference = "ground"
surveyed = "survey"
material = "soil"
measured-state = "bank"
rate = 91

[[item]]
code = "3"
description = "Soil in bags"
unit = "bags"
measure = "fill"
reference = "ground"
surveyed = "survey"
zones = "yard"
material = "soil"
measured-state = "bank"
rate = 4

[[item]]
code = "4"
description = "Soil by volume"
unit = "m3"
measure = "fill"
reference = "ground"
surveyed = "survey"
material = "soil"
measured-state = "bank"
rate = 4

[[item]]
code = "5"
description = "Stone"
unit = "t"
measure = "layer"
surveyed = "formation"
layer = "stone"
zones = "yard"
rate = 11.37
"#;

/// What is weighed, counted and paid in a result: every mass, load, count, cost and amount, in the order it stands.
fn factored(value: &Value, path: &str, found: &mut Vec<(String, String)>) {
    match value {
        Value::Object(fields) => {
            let is_mass = fields.get("unit").is_some_and(|unit| unit == "t");
            for (key, inner) in fields {
                let path = format!("{path}.{key}");
                let counts = ["count", "cost", "mass", "takes", "quantity"].contains(&key.as_str());
                let amount = key == "amount" && (is_mass || !fields.contains_key("by"));
                if (counts || amount) && !inner.is_object() {
                    found.push((path, inner.to_string()));
                } else {
                    factored(inner, &path, found);
                }
            }
        }
        Value::Array(items) => {
            // Volumes come as one step more where they are reported in another unit.
            let steps = path.ends_with(".conversion");
            for (index, inner) in items.iter().enumerate() {
                let path = if steps {
                    path.into()
                } else {
                    format!("{path}[{index}]")
                };
                factored(inner, &path, found);
            }
        }
        _ => {}
    }
}

fn result(site: &Site, job: &str, report: &str, line: &str) -> Vec<(String, String)> {
    let text = JOB.replace("JOB_UNITS", job).replace("REPORT", report);
    site.write("dapedon.toml", &text);
    let mut found = Vec::new();
    factored(&site.json(line), "", &mut found);
    assert!(!found.is_empty(), "{line}");
    found
}

/// Every command with a mass, in every unit it can be reported in. Where all figures of a command are of the job, the
/// units are those of the job's report; where they can be asked for, both.
#[test]
fn what_is_weighed_and_paid_does_not_depend_on_the_units_of_a_report() {
    let site = Site::new();
    let commands = [
        ("measure --json", false),
        (
            "volume survey ground --material soil --rate cut=3.85 --json",
            true,
        ),
        (
            "volume survey ground --zone yard --material soil --rate cut=3.85/t --json",
            true,
        ),
        (
            "volume survey ground --material soil --rate cut=3.85/load --json",
            true,
        ),
        ("volume ground formation --material soil --json", true),
        (
            "pile survey --zone yard --base ground --material soil --state bank --json",
            true,
        ),
        ("surface formation --json", false),
    ];
    for (command, asks) in commands {
        let metric = result(&site, "", "", command);
        for volume in ["m3", "ft3", "yd3"] {
            for area in ["m2", "ha", "acre"] {
                let report = format!("volume-unit = \"{volume}\"\narea-unit = \"{area}\"");
                assert_eq!(
                    metric,
                    result(&site, "", &report, command),
                    "{command} with {report}"
                );
            }
            for length in ["m", "ft", "us-ft"].iter().filter(|_| asks) {
                let line = format!("{command} --volume-unit {volume} --length-unit {length}");
                assert_eq!(metric, result(&site, "", "", &line), "{line}");
            }
        }
    }
}

/// By hand: 16 by 10 by 1.5 are 240 m³, of 1.9 t each 456.0 t; 25 % more loose are 300.0 m³, over 11 27.3 loads, by
/// mass 456 over 17.5 are 26.1.
#[test]
fn masses_are_those_of_the_jobs_own_unit() {
    let site = Site::new();
    for unit in ["m3", "ft3", "yd3"] {
        let line = format!(
            "volume survey ground --material soil --rate cut=3.85/t --volume-unit {unit} --json"
        );
        let found = result(&site, "", "", &line);
        let value = |end: &str| {
            let found = found.iter().find(|(path, _)| path.ends_with(end));
            found.unwrap_or_else(|| panic!("{end}")).1.clone()
        };
        assert_eq!(value(".loads.count"), "\"28\"");
        assert_eq!(value(".paid.quantity"), "\"456.0\"");
        assert_eq!(value(".paid.amount"), "\"1755.60\"");
    }
}

/// A density to a cubic yard, in a metric job: 240 m³ are 313.908 yd³, of 1.9 t each 596.4 t.
#[test]
fn a_job_says_what_its_factors_are_to_one_of() {
    let site = Site::new();
    let line = "volume survey ground --material soil --rate cut=1/t --json";
    let found = result(&site, "volume-unit = \"yd3\"", "", line);
    let paid = found
        .iter()
        .find(|(path, _)| path.ends_with(".paid.quantity"));
    // 313.9 yd³ as it is written.
    assert_eq!(paid.unwrap().1, "\"596.4\"");
    let out = site.succeed("volume survey ground --material soil");
    assert!(
        out.contains("bank 313.9 yd³ × 1.9 t/yd³ bank = mass 596.4 t"),
        "{out}"
    );
    let out = site.succeed("measure 1 --explain");
    assert!(out.contains("× 1.9 t/yd³ bank"), "{out}");
}

/// One arithmetic, whoever asks: 60 m² by 0.35 are 21.0 m³, times 2.13 are 44.73 t, 44.7 as it is written, times 11.37
/// are 508.24.
#[test]
fn a_layer_costs_the_same_in_every_command() {
    let site = Site::new();
    let surface = result(&site, "", "", "surface formation --json");
    let volume = result(&site, "", "", "volume ground formation --json");
    let costs = |found: &[(String, String)]| {
        let costs = found
            .iter()
            .filter(|(path, _)| path.contains(".counted[0]"));
        costs.map(|(_, value)| value.clone()).collect::<Vec<_>>()
    };
    assert_eq!(costs(&surface)[..2], ["\"508.24\"", "\"44.7\""]);
    assert_eq!(costs(&surface)[..2], costs(&volume)[..2]);
    let bill = site.json("measure 5 --json");
    let item = &bill["sections"][0]["items"][0];
    assert_eq!(
        (&item["quantity"], &item["amount"]),
        (&"44.7".into(), &"508.24".into())
    );
    let out = site.succeed("surface formation");
    assert!(out.contains("508.24"), "{out}");
}

/// A contract quantity near nothing, against a quantity as large as a bill holds.
#[test]
fn a_share_of_next_to_nothing_is_told_in_words() {
    let site = Site::new();
    let item = r#"
[[item]]
code = "9"
description = "Typed"
unit = "t"
measure = "typed"
quantity = 9.9e9
material = "soil"
measured-state = "bank"
reason = "for this test"
contract = 1e-17
within = "900%"
"#;
    site.write(
        "dapedon.toml",
        &format!(
            "{}{item}",
            JOB.replace("JOB_UNITS", "").replace("REPORT", "")
        ),
    );
    let (code, out, err) = site.run("measure 9");
    assert_eq!((code, err.as_str()), (1, ""), "{out}");
    assert!(
        out.contains("above the contract quantity, many times over"),
        "{out}"
    );
}
