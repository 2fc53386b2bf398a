//! The bill on the command line: lines, how they are computed, and what is passed on.

use crate::site::Site;

/// The ground of 20 by 10, lowered by 1 in a pit of 4 by 5 and raised by 0.5 in the yard of 10 by 6.
const JOB: &str = "[job]
name = \"made up\"
contract = \"no. 7\"
unit = \"m\"
currency = \"EUR\"

[surface.ground]
file = \"ground.xml\"

[surface.works]
start = \"ground\"
steps = [
  { raise = 0.5, zones = \"yard\" },
  { lower = 1, zones = \"pit\" },
]

[zone.yard]
file = \"zone.geojson#yard\"

[zone.pit]
corners = [[500014, 6000002], [500018, 6000002], [500018, 6000007], [500014, 6000007]]

[zone.\"yard, west\"]
corners = [[500000, 6000002], [500008, 6000002], [500008, 6000008], [500000, 6000008]]

[zone.\"yard, east\"]
corners = [[500007, 6000002], [500011, 6000002], [500011, 6000008], [500007, 6000008]]

[material.soil]
swell = \"25%\"
shrink = \"10%\"
density = { bank = 1.9 }
vehicle = \"truck\"
import = { cost = 14, per = \"t\" }

[vehicle.truck]
holds = 10
carries = 16

[[item]]
code = \"1.1\"
section = \"1  Digging\"
description = \"Dig the pit to its floor and load what is dug on trucks\"
unit = \"m3\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"works\"
zones = \"pit\"
material = \"soil\"
contract = 18
within = \"10%\"
rate = 4.125

[[item]]
code = \"2.1\"
section = \"2  Filling\"
description = \"Raise the yard\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"works\"
zones = \"yard\"
plots = [\"yard, west\", \"yard, east\"]
material = \"soil\"
contract = 28
rate = 6

[[item]]
code = \"2.2\"
section = \"2  Filling\"
description = \"Daywork\"
unit = \"h\"
measure = \"typed\"
quantity = 3
reason = \"sheet 1\"
at-least = 4
";

fn site() -> Site {
    let site = Site::new();
    site.write("dapedon.toml", JOB);
    site
}

#[test]
fn the_bill_is_told_line_by_line_and_what_is_off_is_marked() {
    let site = site();
    let (code, out, _) = site.run("measure --explain --csv bill.csv --report bill.html");
    assert_eq!(code, 1);
    insta::assert_snapshot!(out);
    let rows = site.read("bill.csv");
    let field = |field: &str| match field.parse::<f64>() {
        Ok(figure) if figure.fract() != 0.0 => without_noise(figure).to_string(),
        _ => field.to_string(),
    };
    let row = |row: &str| row.split(',').map(field).collect::<Vec<_>>().join(",");
    let rows: Vec<String> = rows.lines().map(row).collect();
    insta::assert_snapshot!("bill_csv", rows.join("\n"));
    let page = site.read("bill.html");
    for words in [
        "made up, contract no. 7",
        "<title>Measured bill</title>",
        "11.1 % above the contract quantity, more than 10 %",
        "compacted 27.0 m³ ÷ shrink 0.9 = bank 30.0 m³",
        "yard, west and yard, east: taken off",
        "outside all plots",
        "sum of 1  Digging",
    ] {
        assert!(page.contains(words), "{words}");
    }
    // Each map cuts itself, not to the size of another one.
    let cuts = |what: &str| page.matches(what).count();
    assert_eq!(cuts("<clipPath id=\"map-"), 2);
    assert_eq!(cuts("url(#map-"), 4);
}

#[test]
fn the_bill_as_json() {
    let site = site();
    let (code, out, _) = site.run("measure 1.1 2.1 --json");
    assert_eq!(code, 1);
    let mut json: serde_json::Value = serde_json::from_str(&out).unwrap();
    // What other commands print the same way is left away.
    for key in ["surfaces", "zone_files", "job"] {
        assert!(json.as_object_mut().unwrap().remove(key).is_some(), "{key}");
    }
    leave_out_measurements(&mut json);
    insta::assert_json_snapshot!(json);
}

/// A figure of a few metres to a nanometre: what is beyond hangs on how ground was split into facets.
fn without_noise(figure: f64) -> f64 {
    (figure * 1e9).round() / 1e9
}

fn leave_out_measurements(value: &mut serde_json::Value) {
    match value {
        serde_json::Value::Object(entries) => {
            entries.retain(|key, value| {
                !(value.is_object() && ["measured", "total"].contains(&key.as_str()))
            });
            entries.values_mut().for_each(leave_out_measurements);
        }
        serde_json::Value::Array(values) => values.iter_mut().for_each(leave_out_measurements),
        serde_json::Value::Number(figure) => {
            if let Some(figure) = figure.as_f64().filter(|figure| figure.fract() != 0.0) {
                *value = without_noise(figure).into();
            }
        }
        _ => {}
    }
}

#[test]
fn nothing_off_is_nothing_found() {
    let site = site();
    let calm = JOB
        .replace("within = \"10%\"\n", "")
        .replace("at-least = 4\n", "");
    site.write("dapedon.toml", &calm);
    let out = site.succeed("measure");
    assert!(out.contains("rate, EUR  amount, EUR"), "{out}");
    let bare: String = calm
        .lines()
        .filter(|line| {
            !["currency", "rate", "import"]
                .iter()
                .any(|key| line.starts_with(key))
        })
        .map(|line| format!("{line}\n"))
        .collect();
    site.write("dapedon.toml", &bare);
    assert!(site.succeed("measure").contains("  rate  amount\n"));
    assert!(!out.contains('▲') && out.contains("total"), "{out}");
}

#[test]
fn an_item_or_job_that_is_not_there() {
    let site = site();
    let told = site.refuse("measure 1.2");
    assert!(
        told.contains("the job has no item \"1.2\"") && told.contains("do: use 1.1"),
        "{told}"
    );
    let told = Site::new().refuse("measure");
    assert!(
        told.contains("this folder has no job file") && told.contains("dapedon init"),
        "{told}"
    );
    let told = site.refuse("measure --job other.toml");
    assert!(told.contains("other.toml"), "{told}");
    let told = site.refuse("measure --csv zone.geojson");
    assert!(told.contains("is an input"), "{told}");
    assert_eq!(
        site.files(),
        ["dapedon.toml", "ground.xml", "survey.csv", "zone.geojson"]
    );
}

/// The survey is 1.5 above the ground on 16 by 10: 240 compacted, / 0.9 = 266.7 in the bank, x 1.2 = 320.0 loose,
/// x 1.5 = 480.0 t; 32 loads by volume, and 480 / 14 = 34.3, rounded up 35 by mass, x 20 = 700.
#[test]
fn volumes_are_converted_without_a_job() {
    let site = Site::new();
    let options = "--swell 20% --shrink 10% --density loose=1.5 --vehicle holds=10,carries=14 --rate fill=20/load \
                   --currency EUR";
    let command = format!("volume ground.xml survey.csv --unit m {options}");
    let out = site.succeed(&format!("{command} --report page.html"));
    let at = out.find("Converted").unwrap();
    insta::assert_snapshot!(&out[at..out.find("Computed from").unwrap()]);
    assert!(site.read("page.html").contains("<h2>Converted</h2>"));
    let json = site.json(&format!("{command} --json"));
    let line = &json["converted"][0];
    assert_eq!(line["state"], "compacted");
    assert_eq!(
        (&line["loads"]["count"], &line["loads"]["limited_by"]),
        (&"35".into(), &"mass".into())
    );
    assert_eq!(line["paid"]["amount"], "700.00");
}

#[test]
fn materials_and_vehicles_of_the_job_are_named() {
    let site = site();
    let out = site.succeed("volume ground works --material soil --rate cut=2");
    // 20 in the bank x 2.
    assert!(
        out.contains("bank 20.0 m³ of soil") && out.contains("20.0 m³ bank × 2.00 EUR = 40.00 EUR"),
        "{out}"
    );
    assert!(out.contains("loads of truck"), "{out}");
    for (options, told) in [
        ("--material sand", "the job has no material \"sand\""),
        (
            "--material soil --vehicle van",
            "the job has no vehicle \"van\"",
        ),
        (
            "--rate fill=3/loose",
            "the shrink of \"material\" is needed",
        ),
        (
            "--swell 25% --rate cut=3/load",
            "no vehicle is given for the loads",
        ),
        (
            "--density bank=2 --rate cut=3/ton",
            "another unit of mass than t",
        ),
        (
            "--swell 25% --vehicle carries=9",
            "the density of \"material\" is needed",
        ),
    ] {
        let found = site.refuse(&format!("volume ground works {options}"));
        assert!(found.contains(told), "{options}\n{found}");
    }
    let empty = Site::new();
    let found = empty.refuse("volume ground.xml survey.csv --unit m --material soil");
    assert!(found.contains("no job file is given"), "{found}");
}

#[test]
fn figures_that_are_none_are_refused() {
    let site = Site::new();
    for options in [
        "--density 1.9",
        "--density wet=1.9",
        "--density bank=-1",
        "--density bank=1900",
        "--vehicle holds=0.000000000000000000001",
        "--rate cut",
        "--rate cut=0",
        "--rate cut=3/heap",
        "--rate digging=3",
        "--vehicle holds=0",
        "--vehicle lifts=3",
        "--swell 0.9",
        "--shrink 100%",
    ] {
        let found = site.refuse(&format!("volume ground.xml survey.csv --unit m {options}"));
        assert!(found.contains("invalid value"), "{options}\n{found}");
    }
}

/// What people write into a job file stands on the page as they wrote it, and is no markup there.
#[test]
fn words_of_the_job_are_no_markup() {
    let site = site();
    let odd = JOB.replace("Raise the yard", "Raise <b>the</b> yard & \\\"more\\\"");
    site.write("dapedon.toml", &odd);
    site.run("measure --report bill.html --csv bill.csv");
    let page = site.read("bill.html");
    assert!(page.contains("Raise &lt;b&gt;the&lt;") && !page.contains("<b>the</b>"));
    let text = site.read("bill.csv");
    assert!(
        text.contains("\"Raise <b>the</b> yard & \"\"more\"\"\""),
        "{text}"
    );
}

/// Every figure on the page follows from others on it: amounts are quantity times rate, sums are sums.
#[test]
fn the_page_adds_up() {
    let site = site();
    site.run("measure --report bill.html");
    let page = site.read("bill.html");
    let rows: Vec<Vec<String>> = page
        .split("<tr")
        .filter(|row| row.contains("</td>"))
        .map(|row| {
            let cells = row.split("<td").skip(1);
            let words = cells.map(|cell| {
                let inner = cell
                    .split_once('>')
                    .unwrap()
                    .1
                    .split("</td>")
                    .next()
                    .unwrap();
                inner.replace('\u{202f}', "").replace("▲ ", "")
            });
            words.collect()
        })
        .collect();
    let number = |cell: &str| cell.parse::<f64>().ok();
    let (mut sum, mut lines) = (0.0, 0);
    for row in rows.iter().filter(|row| row.len() == 8) {
        if let [quantity, _, rate, amount] = &row[4..]
            && let (Some(quantity), Some(rate), Some(amount)) =
                (number(quantity), number(rate), number(amount))
        {
            assert_eq!((quantity * rate * 100.0).round(), amount * 100.0, "{row:?}");
            sum += amount;
            lines += 1;
        }
    }
    assert_eq!(lines, 2);
    let is_sum = |row: &&Vec<String>| row.len() == 8 && row[1].starts_with("sum of ");
    let is_total = |row: &&Vec<String>| row.len() == 8 && row[1] == "total";
    let sums: Vec<f64> = (rows.iter())
        .filter(|row| is_sum(row) || is_total(row))
        .filter_map(|row| number(&row[7]))
        .collect();
    assert_eq!(sums, [82.5, 162.0, 244.5]);
    assert_eq!(sum, 244.5);
}

#[test]
fn a_rerun_gives_the_same_bytes() {
    let site = site();
    let all = "measure --explain --report bill.html --csv bill.csv";
    let first = site.run(all);
    let files = [site.read("bill.html"), site.read("bill.csv")];
    assert_eq!(site.run(all), first);
    assert_eq!([site.read("bill.html"), site.read("bill.csv")], files);
}
