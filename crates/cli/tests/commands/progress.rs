//! Items followed in time: every figure from boxes of ground and a calendar, by hand; and what is refused.

use serde_json::Value;

use crate::site::{GROUND, Site, number};

/// Two zones of 10 by 10, dug, filled again, placed and dug again, all with upright sides.
///
/// | survey | west | east | cut to date | fill to date |
/// | --- | --- | --- | --- | --- |
/// | april | 9.0 | 10.0 | 100 | 0 |
/// | may | 9.4 | 8.0 | 60 + 200 | 0 |
/// | june | 10.3 | 7.5 | 250 | 30 |
/// | july | 9.8 | 7.5 | 20 + 250 | 0 |
///
/// The design is at 9.0 and 7.5: 100 + 250.
pub(crate) const JOB: &str = r#"[job]
name = "Yard"
unit = "m"
[calendar]
days-off = ["2031-04-11", "2031-04-14 to 2031-04-14", 2031-05-01]
days-worked = [2031-05-24]
[zone.west]
corners = [[500000, 6000000], [500010, 6000000], [500010, 6000010], [500000, 6000010]]
[zone.east]
corners = [[500010, 6000000], [500020, 6000000], [500020, 6000010], [500010, 6000010]]
[zone.site]
corners = [[500000, 6000000], [500020, 6000000], [500020, 6000010], [500000, 6000010]]
[surface.ground]
level = 10
steps = [{ keep = "inside", zones = "site" }]
[surface.april]
start = "ground"
date = 2031-04-30
steps = [{ level = 9.0, zones = "west" }]
[surface.may]
start = "april"
date = 2031-05-31
steps = [{ level = 9.4, zones = "west" }, { level = 8.0, zones = "east" }]
[surface.june]
start = "may"
date = 2031-06-30
steps = [{ level = 10.3, zones = "west" }, { level = 7.5, zones = "east" }]
[surface.july]
start = "june"
date = 2031-07-31
steps = [{ level = 9.8, zones = "west" }]
[surface.final]
start = "ground"
steps = [{ level = 9.0, zones = "west" }, { level = 7.5, zones = "east" }]
[[item]]
code = "1"
description = "Dig to the design"
unit = "m3"
measure = "cut"
reference = "ground"
surveys = ["april", "may", "june", "july"]
started = 2031-04-01
design = "final"
zones = ["west", "east"]
"#;

fn site(job: &str) -> Site {
    let site = Site::new();
    site.write("dapedon.toml", job);
    site
}

/// The texts or figures of a key, survey by survey.
fn each(item: &Value, key: &str) -> Vec<String> {
    let surveys = item["surveys"].as_array().unwrap().iter();
    let words = |value: &Value| match value {
        Value::Null => "-".into(),
        Value::String(text) => text.clone(),
        other => other.to_string(),
    };
    surveys.map(|survey| words(&survey[key])).collect()
}

/// The volumes of a key in a zone, survey by survey.
fn volumes(item: &Value, zone: usize, key: &str) -> Vec<f64> {
    let surveys = item["surveys"].as_array().unwrap().iter();
    surveys
        .map(|survey| number(&survey["zones"][zone][key]["value"]))
        .collect()
}

/// Sums of some ten products of lengths and heights of tens: rounding is far below this.
fn near(found: &[f64], expected: &[f64]) {
    let apart = found
        .iter()
        .zip(expected)
        .any(|(a, b)| (a - b).abs() > 1e-6);
    assert!(
        !apart && found.len() == expected.len(),
        "{found:?} {expected:?}"
    );
}

#[test]
fn every_period_follows_from_boxes_of_ground() {
    let found = site(JOB).json("progress --json");
    let item = &found["items"][0];
    assert_eq!(each(item, "to_date"), ["100.0", "260.0", "250.0", "270.0"]);
    assert_eq!(each(item, "period"), ["100.0", "160.0", "-10.0", "20.0"]);
    // In May 40 m³ are filled again, in June 60, and in July 30 of 50 are dug out of what was placed.
    assert_eq!(
        each(item, "between_surveys"),
        ["-", "200.0", "50.0", "50.0"]
    );
    assert_eq!(each(item, "done"), ["100.0", "260.0", "250.0", "270.0"]);
    // Of 350.
    assert_eq!(item["design"]["quantity"], "350.0");
    assert_eq!(
        each(item, "share_of_design"),
        ["0.2857", "0.7429", "0.7143", "0.7714"]
    );
    assert_eq!(each(item, "left"), ["250.0", "90.0", "100.0", "80.0"]);
    near(&volumes(item, 0, "dug"), &[100.0, 0.0, 0.0, 50.0]);
    near(&volumes(item, 0, "placed"), &[0.0, 40.0, 90.0, 0.0]);
    near(&volumes(item, 0, "filled_again"), &[0.0, 40.0, 60.0, 0.0]);
    near(&volumes(item, 0, "dug_again"), &[0.0, 0.0, 0.0, 30.0]);
    near(&volumes(item, 0, "cut_to_date"), &[100.0, 60.0, 0.0, 20.0]);
    near(&volumes(item, 0, "fill_to_date"), &[0.0, 0.0, 30.0, 0.0]);
    near(&volumes(item, 1, "dug"), &[0.0, 200.0, 50.0, 0.0]);
    near(&volumes(item, 1, "filled_again"), &[0.0; 4]);
    for zone in 0..2 {
        near(&volumes(item, zone, "unexplained"), &[0.0; 4]);
    }
    let most = &item["surveys"][2]["zones"][0]["most_again"];
    near(&[number(&most["by"]["value"])], &[0.6]);
    assert_eq!(Site::warnings(&found), Vec::<String>::new());
}

/// April without its two days off has 20 work days, May without one and with a Saturday 22, June 21 and July 23.
#[test]
fn the_forecast_goes_straight_on_by_the_calendar() {
    let found = site(JOB).json("progress --json");
    let item = &found["items"][0];
    assert_eq!(
        each(item, "from"),
        ["2031-04-01", "2031-05-01", "2031-06-01", "2031-07-01"]
    );
    assert_eq!(each(item, "work_days"), ["20", "22", "21", "23"]);
    assert_eq!(each(item, "in_a_work_day"), ["5.0", "7.3", "-0.5", "0.9"]);
    let forecast = &item["forecast"];
    // 270 in 86 work days: 80 take 25.5, from Friday the 1st of August on.
    assert_eq!(forecast["average"]["work_days"], 26);
    assert_eq!(forecast["average"]["date"], "2031-09-05");
    // 160 in 22: exactly 11.
    assert_eq!(forecast["fastest"]["surveyed"], "may");
    assert_eq!(forecast["fastest"]["date"], "2031-08-15");
    // In June the work went back.
    assert_eq!(forecast["slowest"]["surveyed"], "june");
    assert_eq!(forecast["slowest"]["date"], Value::Null);
    let usual = JOB.replace("[calendar]\ndays-off = [\"2031-04-11\", \"2031-04-14 to 2031-04-14\", 2031-05-01]\ndays-worked = [2031-05-24]\n", "");
    let found = site(&usual).json("progress --json");
    assert_eq!(
        each(&found["items"][0], "work_days"),
        ["22", "22", "21", "23"]
    );
    assert_eq!(found["work_days"]["stated"], false);
}

/// What is reported of a survey does not depend on how many follow, or on other items.
#[test]
fn a_period_is_the_same_whatever_else_is_followed() {
    let whole = site(JOB).json("progress --json");
    let fewer = JOB.replace(r#"["april", "may", "june", "july"]"#, r#"["april", "may"]"#);
    let other = format!(
        "{fewer}{}",
        JOB.split_once("[[item]]")
            .map_or(String::new(), |(_, item)| {
                format!(
                    "[[item]]{}",
                    item.replace("\"1\"", "\"2\"")
                        .replace("\"cut\"", "\"fill\"")
                        .replace("design = \"final\"\n", "")
                )
            })
    );
    let both = site(&other).json("progress --json");
    assert_eq!(both["items"].as_array().unwrap().len(), 2);
    for number in 0..2 {
        assert_eq!(
            whole["items"][0]["surveys"][number],
            both["items"][0]["surveys"][number]
        );
    }
    let one = site(&other).json("progress 2 --json");
    assert_eq!(one["items"][0], both["items"][1]);
    assert_eq!(
        each(&one["items"][0], "to_date"),
        ["0.0", "0.0", "30.0", "0.0"]
    );
    // Without a design there is nothing to be left.
    assert_eq!(each(&one["items"][0], "left"), ["-"; 4]);
}

/// To a limit: what is beyond is in the quantity as far as the tolerance is paid, and never in what is done of the design.
#[test]
fn work_beyond_the_design_brings_it_no_nearer() {
    let job = JOB
        .replace(
            "design = \"final\"",
            "limit = \"final\"\nlimit-tolerance = 0.2\npay-tolerance = true",
        )
        .replace(
            "level = 7.5, zones = \"east\" }]\n[surface.july]",
            "level = 7.0, zones = \"east\" }]\n[surface.july]",
        );
    let found = site(&job).json("progress --json");
    let item = &found["items"][0];
    // From June on the east is half a metre deeper than the design: 20 m³ of that are paid.
    assert_eq!(each(item, "to_date"), ["100.0", "260.0", "270.0", "290.0"]);
    assert_eq!(each(item, "done"), ["100.0", "260.0", "250.0", "270.0"]);
    assert_eq!(each(item, "left"), ["250.0", "90.0", "100.0", "80.0"]);
    near(&volumes(item, 1, "dug"), &[0.0, 200.0, 100.0, 0.0]);
}

/// The contract quantity stands in for a design, and more than it leaves nothing.
#[test]
fn a_contract_quantity_can_be_reached() {
    let job = JOB.replace("design = \"final\"", "contract = 255");
    let found = site(&job).json("progress --json");
    let item = &found["items"][0];
    assert_eq!(each(item, "left"), ["155.0", "0.0", "5.0", "0.0"]);
    assert_eq!(item["forecast"], Value::Null);
    assert_eq!(item["done_by"], "may");
    assert!(site(&job).succeed("progress").contains("Nothing is left"));
    // An area counts once, however often it is worked over.
    let areas = JOB
        .replace("\"m3\"", "\"m2\"")
        .replace("\"cut\"", "\"cut-area\"");
    let found = site(&areas).json("progress --json");
    let item = &found["items"][0];
    assert_eq!(each(item, "to_date"), ["100.0", "200.0", "100.0", "200.0"]);
    assert_eq!(each(item, "between_surveys"), ["-"; 4]);
    assert_eq!(each(item, "left"), ["100.0", "0.0", "100.0", "0.0"]);
    near(&volumes(item, 0, "filled_again"), &[0.0, 40.0, 60.0, 0.0]);
}

/// A survey that covers less ground: the two ways differ by what it leaves out, and it is said in which zone.
#[test]
fn ground_that_a_survey_leaves_out_is_said() {
    let job = JOB.replace(
        "steps = [{ level = 9.4, zones = \"west\" }, { level = 8.0, zones = \"east\" }]",
        "steps = [{ level = 9.4, zones = \"west\" }, { keep = \"inside\", zones = \"west\" }]",
    );
    let site = site(&job.replace("surveys = [\"april\", \"may\", \"june\", \"july\"]", "surveys = [\"april\", \"may\", \"whole\"]").replace(
        "[[item]]",
        "[surface.whole]\nstart = \"april\"\ndate = 2031-06-30\nsteps = [{ level = 8.0, zones = \"east\" }]\n[[item]]",
    ));
    let found = site.json("progress --json");
    let said = found["items"][0]["warnings"].as_array().unwrap();
    let differ: Vec<&Value> = said
        .iter()
        .filter(|own| own["code"] == "periods-differ")
        .collect();
    assert_eq!(differ.len(), 1, "{said:?}");
    let words = differ[0]["message"].as_str().unwrap();
    // From May, which ends at the west, to June: 200 m³ are new to date, and not between the surveys.
    assert!(
        words.contains("in \"east\"")
            && words.contains("200")
            && words.contains("from \"may\" to \"whole\""),
        "{words}"
    );
    let shown = site.succeed("progress");
    assert!(shown.contains("unexplained"), "{shown}");
}

/// Ground within the tolerance is in neither figure to date: what that makes between both ways is told apart, and is no warning.
#[test]
fn what_the_tolerance_leaves_out_is_told_apart() {
    let site = site(&JOB.replace("design = \"final\"", "design = \"final\"\ntolerance = 0.35"));
    let found = site.json("progress --json");
    let item = &found["items"][0];
    // In June 0.3 m stand above the ground in the west, in July it lies 0.2 m below: both count as unchanged.
    assert_eq!(each(item, "to_date"), ["100.0", "260.0", "250.0", "250.0"]);
    near(&volumes(item, 0, "fill_to_date"), &[0.0, 0.0, 0.0, 0.0]);
    // 30 were placed in June and do not count; in July they are dug again, and so do not count less.
    near(&volumes(item, 0, "by_tolerance"), &[0.0, 0.0, 30.0, -30.0]);
    near(&volumes(item, 0, "unexplained"), &[0.0; 4]);
    assert_eq!(each(item, "done"), ["100.0", "260.0", "250.0", "250.0"]);
    assert_eq!(item["warnings"], serde_json::json!([]));
    assert!(site.succeed("progress").contains("by tolerance"));
}

#[test]
fn what_cannot_be_followed_is_refused_with_a_remedy() {
    let refused = |from: &str, to: &str| {
        assert!(JOB.contains(from), "{from}");
        site(&JOB.replacen(from, to, 1)).refuse("progress")
    };
    let surveys = "[\"april\", \"may\", \"june\", \"july\"]";
    for (from, to, said) in [
        (
            "surveys = [\"april\", \"may\", \"june\", \"july\"]\nstarted = 2031-04-01\ndesign = \"final\"",
            "surveyed = \"may\"",
            "no item of the job lists surveys",
        ),
        (surveys, "[]", "no survey is listed"),
        (
            surveys,
            "[\"may\", \"april\"]",
            "\"april\" is of 2031-04-30, and stands after \"may\" of 2031-05-31",
        ),
        (surveys, "[\"april\", \"april\"]", "listed twice"),
        (
            surveys,
            "[\"ground\", \"april\"]",
            "\"ground\" is the reference",
        ),
        (
            surveys,
            "[\"april\", \"mai\"]",
            "there is no surface \"mai\"",
        ),
        (
            surveys,
            "[\"april\", \"final\"]",
            "the design is one of the surfaces",
        ),
        (
            "date = 2031-05-31\n",
            "",
            "\"may\" and \"april\" are both of 2031-04-30",
        ),
        (
            "start = \"ground\"\ndate = 2031-04-30",
            "start = \"ground\"",
            "the survey \"april\" has no date",
        ),
        (
            "date = 2031-05-31",
            "date = \"05/06/2031\"",
            "can be read as 2031-06-05 and as 2031-05-06",
        ),
        (
            "started = 2031-04-01",
            "started = 2031-05-01",
            "the work started on 2031-05-01, after the survey \"april\"",
        ),
        (
            "measure = \"cut\"",
            "measure = \"net\"",
            "a design is of cut or of fill",
        ),
        (
            "measure = \"cut\"",
            "measure = \"pile\"",
            "has no effect where a pile is counted",
        ),
        (
            " = [\"april\", \"may\", \"june\", \"july\"]\n",
            " = [\"april\"]\nlimit = \"final\"\n",
            "the limit of the item is its design",
        ),
        (
            "surveys = [\"april\", \"may\", \"june\", \"july\"]",
            "surveyed = \"april\"",
            "has no effect without surveys",
        ),
        (
            "days-worked",
            "work-days = [\"Mon\", \"monday\"]\ndays-worked",
            "Monday is listed twice",
        ),
        (
            "days-worked",
            "work-days = [\"Moon\"]\ndays-worked",
            "\"Moon\" is not a day of the week",
        ),
        (
            "[2031-05-24]",
            "[2031-05-23]",
            "2031-05-23 is a work day anyway",
        ),
        (
            "2031-04-14 to 2031-04-14",
            "2031-04-14 to 2031-04-01",
            "before they begin",
        ),
        ("[2031-05-24]", "[2031-05-24, 2031-05-24]", "listed twice"),
        (
            "2031-04-14 to 2031-04-14",
            "14.04.2031 to 2031-04-14",
            "write 2031-04-14",
        ),
    ] {
        let words = refused(from, to);
        assert!(words.contains(said), "{to}: {words}");
    }
    let site = site(JOB);
    assert!(site.refuse("progress 7").contains("no item \"7\""));
    site.write("dapedon.toml", &JOB.replace("started", "[x]\nstarted"));
    assert!(site.refuse("progress").contains("dapedon.toml"));
}

/// Without a first day, the first period has no pace, and the forecast is of the others; with one survey there is no forecast at all.
#[test]
fn without_a_first_day_the_pace_is_that_of_later_periods() {
    let job = JOB.replace("started = 2031-04-01\n", "");
    let found = site(&job).json("progress --json");
    let item = &found["items"][0];
    assert_eq!(each(item, "work_days"), ["-", "22", "21", "23"]);
    // 170 in 66 work days: 80 take 31.1.
    assert_eq!(item["forecast"]["since"], "2031-05-01");
    assert_eq!(item["forecast"]["average"]["work_days"], 32);
    let one = job.replace(r#"["april", "may", "june", "july"]"#, r#"["april"]"#);
    let words = site(&one).succeed("progress");
    assert!(
        words.contains("No forecast") && words.contains("250.0 m³ left"),
        "{words}"
    );
    // The reference has a day: the work began on the next.
    let dated = job.replace(
        "[surface.ground]\n",
        "[surface.ground]\ndate = 2031-03-31\n",
    );
    let found = site(&dated).json("progress --json");
    assert_eq!(found["items"][0]["started"], "2031-04-01");
}

/// Days that files state count where the job states none; one that the job states holds.
#[test]
fn surveys_are_dated_by_their_files() {
    let site = Site::new();
    let survey = |height: &str, date: &str| {
        let lower = GROUND.replace("0 10<", &format!("0 {height}<"));
        lower.replace("2031-01-02", date)
    };
    site.write("ground.xml", GROUND);
    site.write("first.xml", &survey("9", "2031-01-31"));
    site.write("second.xml", &survey("8.5", "2031-02-28"));
    let job = "[job]\nname = \"Yard\"\nunit = \"m\"\n[surface]\nground.file = \"ground.xml\"\nfirst.file = \"first.xml\"\nsecond = { file = \"second.xml\" }\n[[item]]\ncode = \"1\"\ndescription = \"Dig\"\nunit = \"m3\"\nmeasure = \"cut\"\nreference = \"ground\"\nsurveys = [\"first\", \"second\"]\ncontract = 600\n";
    site.write("dapedon.toml", job);
    let found = site.json("progress --json");
    let item = &found["items"][0];
    assert_eq!(each(item, "to_date"), ["200.0", "300.0"]);
    // The ground is of Thursday, the 2nd of January: 21 work days to the end of the month, and 20 in February.
    assert_eq!(each(item, "from"), ["2031-01-03", "2031-02-01"]);
    assert_eq!(each(item, "work_days"), ["21", "20"]);
    let said = job.replace(
        "{ file = \"second.xml\" }",
        "{ file = \"second.xml\", date = 2031-01-30 }",
    );
    site.write("dapedon.toml", &said);
    let words = site.refuse("progress");
    assert!(
        words.contains("\"second\" is of 2031-01-30, and stands after \"first\" of 2031-01-31"),
        "{words}"
    );
}

#[test]
fn the_page_and_the_table_hold_all_of_it() {
    let site = site(JOB);
    let shown = site.succeed("progress --report progress.html --csv progress.csv");
    insta::assert_snapshot!("progress", shown);
    let page = site.read("progress.html");
    for words in [
        "progress over time",
        "Map of each period",
        "from june to july",
        "at that of the slowest",
    ] {
        assert!(page.contains(words), "{words}");
    }
    let csv = site.read("progress.csv");
    assert!(
        csv.contains("between the surveys") && csv.contains("dug again"),
        "{csv}"
    );
}

/// The words of a map, in their order.
fn map_words(page: &str) -> Vec<String> {
    let texts = page.split("<text ").skip(1);
    let words = texts.filter_map(|text| Some(text.split_once('>')?.1.split_once("</text>")?.0));
    words.map(|words| words.replace('\u{202f}', " ")).collect()
}

/// The figures that stand below a name on a map.
#[track_caller]
fn below(words: &[String], name: &str) -> String {
    let at = words.iter().position(|own| own == name).unwrap();
    words[at + 1].clone()
}

/// Plots stand within a zone, and another item parts the ground elsewise: a map has each plot's own figures, and in its legend the ground of the
/// item, once.
#[test]
fn a_map_has_the_figures_of_its_plots() {
    let site = site(&format!(
        "{}[zone.strip]\ncorners = [[500005, 6000000], [500015, 6000000], [500015, 6000010], [500005, 6000010]]\n",
        JOB.replace(
            "zones = [\"west\", \"east\"]",
            "zones = \"inner\"\nplots = [\"west\", \"east\"]\n[[item]]\ncode = \"2\"\ndescription = \"A strip\"\nunit = \"m3\"\nmeasure = \"cut\"\nreference = \"ground\"\nsurveyed = \"may\"\nzones = \"strip\"\n[zone.inner]\ncorners = [[500000, 6000000], [500020, 6000000], [500020, 6000005], [500000, 6000005]]",
        )
        .replace("surveys = ", "surveyed = \"may\"\nsurveys = ")
    ));
    site.succeed("measure --report bill.html");
    let page = site.read("bill.html");
    let maps: Vec<&str> = page.split("<svg ").skip(1).collect();
    let [first, second] = [maps[0], maps[1]].map(map_words);
    // Half of 100 m² at 0.6 m, and at 2 m; of the strip 50 m² each.
    assert_eq!(below(&first, "west"), "cut 30.0 m³");
    assert_eq!(below(&first, "east"), "cut 100.0 m³");
    assert!(!first.contains(&"inner".to_owned()), "{first:?}");
    assert_eq!(below(&second, "strip"), "cut 130.0 m³");
    let amounts = |words: &[String]| -> f64 {
        let own = words.iter().filter_map(|own| own.split_once(" m², "));
        let own = own.filter_map(|(_, volume)| volume.strip_suffix(" m³"));
        own.map(|volume| volume.parse::<f64>().unwrap()).sum()
    };
    assert!((amounts(&first) - 130.0).abs() < 0.3, "{first:?}");
    assert!((amounts(&second) - 130.0).abs() < 0.3, "{second:?}");
    site.succeed("progress --report progress.html");
    let page = site.read("progress.html");
    let map = page
        .split("<svg ")
        .skip(1)
        .find(|map| map.contains("cut 100.0"))
        .unwrap();
    assert_eq!(below(&map_words(map), "east"), "cut 100.0 m³");
}
