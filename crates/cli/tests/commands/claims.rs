//! Payment claims: every figure followed by hand, from the item's definition to what is to be paid; and what is refused.

use std::fs;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use assert_cmd::cargo::CommandCargoExt;
use serde_json::Value;

use crate::site::Site;

/// Level ground of 20 by 10 at a height.
pub(crate) fn level(height: f64) -> String {
    let corners = [(0, 0), (20, 0), (20, 10), (0, 10)];
    let rows = corners.map(|(e, n)| format!("{},{},{height}\n", 500_000 + e, 6_000_000 + n));
    format!("east,north,height\n{}", rows.concat())
}

pub(crate) const HEAD: &str = r#"[job]
name = "Yard"
contract = "Y-1"
unit = "m"
currency = "EUR"
[surface.ground]
file = "ground.csv"
accuracy = "design"
[surface.may]
file = "may.csv"
date = 2031-05-31
accuracy = "common-height=0.01"
[surface.june]
file = "june.csv"
date = "2031-06-30"
accuracy = "common-height=0.01"
[surface.floor]
level = 9.1
[terms]
retention = "10%"
retention-limit = 70
tax = "20%"
tax-name = "VAT"
[[item]]
code = "1"
section = "A  Dig"
description = "Dig to the floor"
unit = "m3"
measure = "cut"
reference = "ground"
surveyed = "may"
limit = "floor"
contract = 400
rate = 3.00
[[item]]
code = "2"
section = "B  Water"
description = "Keep the dig dry"
unit = "h"
measure = "typed"
quantity = 10
reason = "pump sheets"
rate = 20
"#;

/// 20 by 10 by 0.5 are 100 m3, and ten hours.
pub(crate) const FIRST: &str = r#"
[[claim]]
number = 1
date = 2031-06-02
from = 2031-05-01
to = 2031-05-31
line = [{ item = "1" }, { item = "2" }]
advance = { amount = 100, reason = "mobilisation", document = "agreement 2" }
"#;

/// Dug a metre deep, of which 0.9 m are paid.
pub(crate) const SECOND: &str = r#"
[[claim]]
number = 2
date = 2031-07-01
from = 2031-06-01
to = 2031-06-30
line = [{ item = "1", surveyed = "june" }]
price-adjustment = { factor = 1.05, reason = "index of June" }
recovery = { amount = 40, reason = "two fifths" }
"#;

/// What the engineer did not accept is claimed again; two hours were missed in the first claim.
pub(crate) const THIRD: &str = r#"
[[certificate]]
claim = 2
by = "the engineer"
date = 2031-07-10
document = "certificate 2"
line = [{ item = "1", quantity = 170, reason = "corner not surveyed" }]
[[claim]]
number = 3
date = 2031-08-01
from = 2031-07-01
to = 2031-07-31
correction = [{ claim = 1, item = "2", quantity = 12, reason = "sheet 4 was left out", document = "pump sheet 4" }]
"#;

pub(crate) fn site(claims: &[&str]) -> Site {
    let site = Site::new();
    site.write("ground.csv", &level(10.0));
    site.write("may.csv", &level(9.5));
    site.write("june.csv", &level(9.0));
    site.write("dapedon.toml", &format!("{HEAD}{}", claims.concat()));
    site
}

/// The same with all three claims issued.
pub(crate) fn issued() -> Site {
    let site = site(&[FIRST, SECOND, THIRD]);
    for number in 1..=3 {
        let (code, out, err) = site.run(&format!("claim issue {number}"));
        assert_eq!(code, 0, "{out}{err}");
    }
    site
}

#[track_caller]
fn money(of: &Value, key: &str, expected: &str) {
    let [found, expected] = [of[key].as_str().unwrap(), expected]
        .map(|text| text.parse::<rust_decimal::Decimal>().unwrap());
    assert_eq!(found, expected, "{key} of {of}");
}

fn shown(site: &Site, number: u32) -> Value {
    site.json(&format!("claim show {number} --json"))
}

#[test]
fn three_claims_are_followed_by_hand() {
    let site = issued();
    let first = shown(&site, 1);
    let line = &first["lines"][0]["worth"];
    money(&line["to_date"], "quantity", "100");
    money(&line["due"], "amount", "300");
    assert_eq!(first["lines"][0]["share_of_contract"], "0.25");
    assert_eq!(first["lines"][0]["survey_date"], "2031-05-31");
    // A common height of 10 mm over 200 m2.
    let uncertainty = first["lines"][0]["uncertainty"].as_f64().unwrap();
    assert!((uncertainty - 2.0).abs() < 1e-9, "{uncertainty}");
    let sums = &first["valuation"];
    // 300 + 200; a tenth is held; 100 are advanced.
    for (key, amount) in [
        ("gross", "500"),
        ("retention_held", "50"),
        ("net", "550"),
        ("due", "550"),
        ("tax", "110"),
        ("payable", "660"),
    ] {
        money(sums, key, amount);
    }

    let second = shown(&site, 2);
    let line = &second["lines"][0]["worth"];
    // 200 m2 by 0.9 m to the floor, and 20 m3 beyond it.
    money(&line["to_date"], "quantity", "180");
    money(&line["due"], "amount", "240");
    let measured = &second["measured"]["sections"][0]["items"][0]["to_limit"]["cut"];
    let beyond = measured["beyond"]["value"].as_f64().unwrap();
    assert!((beyond - 20.0).abs() < 1e-9, "{measured}");
    assert_eq!(second["lines"][1]["quantity_from"], "carried_forward");
    money(&second["lines"][1]["worth"]["due"], "amount", "0");
    // 240 of this period by 0.05 are 12; a tenth of 752 is 75.20, and no more than 70 are held; 60 of the advance are left.
    for (key, amount) in [
        ("work", "740"),
        ("price_adjustment", "12"),
        ("gross", "752"),
        ("retention_held", "70"),
        ("net", "742"),
        ("due", "192"),
        ("tax", "38.40"),
        ("payable", "230.40"),
    ] {
        money(&second["valuation"], key, amount);
    }

    let third = shown(&site, 3);
    // As certified: 170 by 3 and 200 are 710; 210 by 0.05 are 10.50; 720.50 - 70 + 60.
    money(&third["before"], "net", "710.50");
    let line = &third["lines"][0]["worth"];
    money(&line["certified"], "quantity", "170");
    money(&line["parts"]["not_certified"], "amount", "30");
    money(&line["parts"]["period"], "amount", "0");
    let correction = &third["corrections"][0];
    for (key, quantity) in [("was", "10"), ("is", "12")] {
        money(correction, key, quantity);
    }
    money(&correction["change"], "amount", "40");
    money(&third["lines"][1]["worth"]["to_date"], "quantity", "12");
    for (key, amount) in [
        ("work", "780"),
        ("net", "780.50"),
        ("due", "70"),
        ("tax", "14"),
        ("payable", "84"),
    ] {
        money(&third["valuation"], key, amount);
    }
    // What was paid in all is what is due to date.
    let due = |claim: &Value| {
        claim["valuation"]["due"]
            .as_str()
            .unwrap()
            .parse::<rust_decimal::Decimal>()
            .unwrap()
    };
    // The 31.50 that were not certified of the second claim were not paid.
    let paid = due(&first) + due(&second) + due(&third) - rust_decimal::dec!(31.50);
    assert_eq!(paid, rust_decimal::dec!(780.50));
}

#[test]
fn a_claim_is_read_as_it_stands() {
    let site = issued();
    for number in 1..=3 {
        let text = site.succeed(&format!("claim show {number}"));
        insta::with_settings!({filters => vec![(r"[0-9a-f]{64}", "[digest]")]}, {
            insta::assert_snapshot!(format!("claim_{number}"), text);
        });
    }
    let list = site.succeed("claim list");
    insta::with_settings!({filters => vec![(r"[0-9a-f]{64}", "[digest]")]}, {
        insta::assert_snapshot!("claim_list", list);
    });
    insta::with_settings!({filters => vec![(r"[0-9a-f]{64}", "[digest]")]}, {
        insta::assert_snapshot!("audit", site.succeed("audit"));
    });
}

/// A record holds no surfaces: the maps of a claim are drawn again from its inputs, and where these are not what they were, that is said.
#[test]
fn the_page_of_an_issued_claim_has_the_maps_of_that_day() {
    let site = issued();
    site.succeed("claim show 1 --report claim.html");
    let page = site.read("claim.html");
    assert!(page.contains("Item 1: from limit") && page.contains("<svg"));
    assert!(!page.contains("No map is drawn"));
    site.succeed("claim pack 2 --to packed");
    assert!(site.read("packed/documents/claim-2.html").contains("<svg"));
    // The figures are those of the record all the same.
    let may = site.read("may.csv");
    site.write("may.csv", &level(9.0));
    site.succeed("claim show 1 --report other.html");
    let other = site.read("other.html");
    assert!(other.contains("No map is drawn: may.csv changed since the claim was issued."));
    assert!(!other.contains("Item 1: from limit"));
    site.write("may.csv", &may);
    site.succeed("claim show 1 --report again.html");
    assert_eq!(site.read("again.html"), page);
}

#[test]
fn a_draft_is_marked_as_one_wherever_it_goes() {
    let site = site(&[FIRST]);
    let (code, out, _) = site.run("claim draw-up 1 --report draft.html --csv draft.csv");
    assert_eq!(code, 0);
    for text in [out, site.read("draft.html"), site.read("draft.csv")] {
        assert!(text.contains("DRAFT, not issued"), "{text}");
    }
    assert!(!site.path().join("claims").exists());
    site.succeed("claim issue 1 --report issued.html --csv issued.csv");
    let digest = shown(&site, 1)["record"]["digest"]
        .as_str()
        .unwrap()
        .to_owned();
    assert!(site.read("issued.html").contains(&digest));
    for text in [site.read("issued.html"), site.read("issued.csv")] {
        assert!(!text.contains("DRAFT"), "{text}");
    }
}

/// An output with the ending of a record does not go over one, with a job or without.
#[test]
fn a_record_is_no_place_for_an_output() {
    let site = site(&[FIRST]);
    site.succeed("claim issue 1");
    let record = site.read("claims/claim-001.json");
    for line in [
        "contours ground.xml --levels 10 --out claims/claim-001.json",
        "contours ground --levels 10 --job dapedon.toml --out claims/../claims/claim-001.json",
    ] {
        let refused = site.refuse(line);
        assert!(
            refused.contains("the record of an issued claim"),
            "{refused}"
        );
    }
    assert_eq!(site.read("claims/claim-001.json"), record);
}

/// What is found of a claim can be acknowledged; the bill does not ask for it.
#[test]
fn findings_of_claims_are_acknowledged() {
    let second = SECOND.replace(
        "{ item = \"1\", surveyed = \"june\" }",
        "{ item = \"2\", quantity = 8, reason = \"r\" }",
    );
    let site = site(&[
        FIRST,
        &second,
        "[[acknowledged]]\nfinding = \"below-paid\"\nreason = \"agreed\"\n",
    ]);
    site.succeed("claim issue 1");
    let claim = site.json("claim draw-up 2 --json");
    assert_eq!(claim["warnings"][0]["acknowledged"], "agreed");
    let bill = site.json("measure --json");
    assert!(
        !bill["warnings"]
            .to_string()
            .contains("acknowledged-nothing"),
        "{bill}"
    );
}

/// Two claims beside each other: issued ones, or the next as a draft.
#[test]
fn claims_are_compared() {
    let site = site(&[FIRST, SECOND, THIRD]);
    site.succeed("claim issue 1");
    let (code, out, _) = site.run("claim compare 1 2 --json");
    assert_eq!(code, 0);
    let found: Value = serde_json::from_str(&out).unwrap();
    assert_eq!(found["claims"][1]["status"], "draft");
    money(&found["lines"][0]["change"], "quantity", "80");
    money(&found["lines"][0]["change"], "amount", "240");
    money(&found["lines"][1]["change"], "amount", "0");
    let back = site.json("claim compare 2 1 --json");
    money(&back["lines"][0]["change"], "amount", "-240");
    assert!(
        site.refuse("claim compare 1 3")
            .contains("claim 3 counts from claim 2")
    );
    insta::assert_snapshot!("claim_compare", site.succeed("claim compare 1 2"));
}

/// A record does not say where it was issued, by which path the job file was named, or when.
#[test]
fn records_are_the_same_wherever_they_are_issued() {
    let (one, other) = (site(&[FIRST]), site(&[FIRST]));
    fs::create_dir(other.path().join("elsewhere")).unwrap();
    one.succeed("claim issue 1");
    let whole = other.path().join("elsewhere/../dapedon.toml");
    other.succeed(&format!("claim issue 1 --job {}", whole.display()));
    assert_eq!(
        one.read("claims/claim-001.json"),
        other.read("claims/claim-001.json")
    );
    let folder = one.path().display().to_string();
    assert!(!one.read("claims/claim-001.json").contains(&folder));
}

#[test]
fn claims_are_issued_once_and_in_order() {
    let site = site(&[FIRST, SECOND]);
    let early = site.refuse("claim issue 2");
    assert!(
        early.contains("claim 2 counts from claim 1, and that is not issued"),
        "{early}"
    );
    let early = site.refuse("claim draw-up 2");
    assert!(early.contains("dapedon claim issue 1"), "{early}");
    assert!(
        site.refuse("claim show 1")
            .contains("claim 1 is not issued")
    );
    site.succeed("claim issue 1");
    let record = site.read("claims/claim-001.json");
    for again in ["claim issue 1", "claim draw-up 1"] {
        let again = site.refuse(again);
        assert!(
            again.contains("issued already, and a record is never written over"),
            "{again}"
        );
    }
    assert!(
        site.refuse("claim issue 7")
            .contains("no claim 7: its last is 2")
    );
    // An input of the first claim changed: the second is not issued on it.
    site.write("may.csv", &level(9.4));
    let changed = site.refuse("claim issue 2");
    assert!(
        changed.contains("an input of claim 1 changed since that was issued"),
        "{changed}"
    );
    assert!(changed.contains("may.csv"), "{changed}");
    fs::remove_file(site.path().join("may.csv")).unwrap();
    let gone = site.refuse("claim issue 2");
    assert!(gone.contains("an input of claim 1 is missing"), "{gone}");
    site.write("may.csv", &level(9.5));
    // A record edited by hand stops everything.
    let record_path = site.path().join("claims/claim-001.json");
    fs::remove_file(&record_path).unwrap();
    site.write(
        "claims/claim-001.json",
        &record.replace("mobilisation", "mobilization"),
    );
    let edited = site.refuse("claim issue 2");
    assert!(edited.contains("the record was changed"), "{edited}");
    site.write("claims/claim-001.json", &record);
    site.succeed("claim issue 2");
}

/// Mistakes in the job file, and the words that come back.
#[test]
fn bad_claims_get_clear_words() {
    let claim = |text: &str| FIRST.replace("line = [{ item = \"1\" }, { item = \"2\" }]", text);
    let cases = [
        (
            HEAD.replace("rate = 3.00\n", "") + FIRST,
            "item 1 has no rate, and a claim needs one",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("to = 2031-05-31", "to = 2031-04-30"),
            "the period ends on 2031-04-30, before it begins on 2031-05-01",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("date = 2031-06-02", "date = \"02/06/2031\""),
            "\"02/06/2031\" can be read as 2031-06-02 and as 2031-02-06",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("date = 2031-06-02", "date = 2031-06-02T10:00:00"),
            "is not a day",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("number = 1", "number = 2"),
            "claim 2 stands where claim 1 is expected",
        ),
        (
            HEAD.to_owned() + FIRST + &SECOND.replace("2031-06-01", "2031-05-31"),
            "the period begins on 2031-05-31, and that of claim 1 ends on 2031-05-31",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"3\" }]"),
            "the bill has no item \"3\"",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\" }, { item = \"1\" }]"),
            "item 1 is claimed twice in claim 1",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\", share = \"140%\", reason = \"r\" }]"),
            "is not a percentage of up to 100",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\", share = \"40%\" }]"),
            "a share of the measured quantity has no reason",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\", quantity = 4 }]"),
            "a typed-in quantity has no reason",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\", surveyed = \"ground\" }]"),
            "\"ground\" is the reference of item 1",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"2\", surveyed = \"june\" }]"),
            "item 2 is not measured to a survey",
        ),
        (
            HEAD.to_owned() + &claim("line = [{ item = \"1\", quantity = nan, reason = \"r\" }]"),
            "is out of range for a bill",
        ),
        (
            HEAD.to_owned()
                + &claim(
                    "extra = [{ code = \"1\", description = \"d\", unit = \"h\", quantity = 1, rate = 1, reason = \"r\", document = \"s\" }]",
                ),
            "\"1\" is an item of the bill",
        ),
        (
            HEAD.to_owned()
                + &claim(
                    "correction = [{ claim = 1, item = \"1\", quantity = 1, reason = \"r\" }]",
                ),
            "claim 1 is not before claim 1",
        ),
        (
            HEAD.replace("retention = \"10%\"\n", "") + FIRST,
            "retention-limit has no effect without a retention",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("advance = { amount = 100", "release = { amount = 51"),
            "51 of the retention are released by now, and only 50 were kept back",
        ),
        (
            HEAD.to_owned() + &FIRST.replace("advance = { amount = 100", "recovery = { amount = 1"),
            "1 of advances are recovered by now, and only 0 were paid",
        ),
        (
            HEAD.to_owned() + FIRST + "[[certificate]]\nclaim = 3\nby = \"e\"\ndate = 2031-07-01\n",
            "there is no claim 3",
        ),
        (
            HEAD.to_owned() + FIRST + "[[certificate]]\nclaim = 1\nby = \"e\"\ndate = 2031-05-01\n",
            "dated 2031-05-01, before its claim of 2031-06-02",
        ),
    ];
    for (text, words) in cases {
        let site = site(&[]);
        site.write("dapedon.toml", &text);
        let refused = site.refuse("claim draw-up 1");
        assert!(refused.contains(words), "{words}\n{refused}");
        assert!(refused.contains("dapedon.toml, line"), "{refused}");
    }
    assert!(
        site(&[])
            .refuse("claim draw-up 1")
            .contains("the job has no claims")
    );
}

#[test]
fn surveys_and_quantities_that_go_back() {
    // Older than the survey of the claim before: refused.
    let back = SECOND.replace("\"june\"", "\"may\"");
    let first = FIRST.replace("{ item = \"1\" }", "{ item = \"1\", surveyed = \"june\" }");
    let job = format!("{HEAD}{first}{back}");
    let site = site(&[]);
    site.write(
        "dapedon.toml",
        &job.replace("to = 2031-05-31", "to = 2031-05-30"),
    );
    let (code, out, _) = site.run("claim issue 1 --json");
    assert_eq!(code, 0);
    let warnings = Site::warnings(&serde_json::from_str(&out).unwrap());
    assert!(
        warnings
            .iter()
            .any(|own| own
                .contains("\"june\" of 2031-06-30, after the period that ends on 2031-05-30")),
        "{warnings:?}"
    );
    let older = site.refuse("claim draw-up 2");
    assert!(older.contains("item 1 is measured to \"may\" of 2031-05-31, and claim 1 was measured to \"june\" of 2031-06-30"), "{older}");
    // Less than was paid: allowed, and said with the amount.
    let less = "[[claim]]\nnumber = 2\ndate = 2031-07-01\nfrom = 2031-06-01\nto = 2031-06-30\nline = [{ item = \"2\", quantity = 8, reason = \"two hours twice\" }]\n";
    site.write(
        "dapedon.toml",
        &format!("{HEAD}{first}{less}").replace("to = 2031-05-31", "to = 2031-05-30"),
    );
    let (code, out, _) = site.run("claim draw-up 2 --json");
    assert_eq!(code, 0);
    let claim: Value = serde_json::from_str(&out).unwrap();
    let warnings = Site::warnings(&claim);
    assert!(
        warnings.iter().any(|own| own
            .contains("line 2 is 8 h to date, below the 10 h that were paid: 40.00 EUR go back")),
        "{warnings:?}"
    );
    money(&claim["lines"][1]["worth"]["due"], "amount", "-40");
}

/// Killed at any moment of issuing, there is no record, or a whole one; and then a first one can be issued, or not.
#[test]
fn killed_while_it_is_issued_a_claim_has_no_record_or_a_whole_one() {
    let site = site(&[FIRST]);
    let start = || {
        let mut command = Command::cargo_bin("dapedon").unwrap();
        command
            .args(["claim", "issue", "1"])
            .current_dir(site.path());
        command.stdout(Stdio::null()).stderr(Stdio::null());
        command.spawn().unwrap()
    };
    let record = site.path().join("claims/claim-001.json");
    let began = Instant::now();
    assert!(start().wait().unwrap().success());
    let whole = began.elapsed();
    let text = fs::read_to_string(&record).unwrap();
    for turn in 0..100u32 {
        fs::remove_file(&record).ok();
        let mut child = start();
        // From its beginning to after its end, most of them near that, where the record is written.
        let share = 0.4 + 1.1 * f64::from(turn) / 100.0;
        std::thread::sleep(Duration::from_secs_f64(whole.as_secs_f64() * share));
        child.kill().ok();
        child.wait().unwrap();
        match fs::read_to_string(&record) {
            Ok(found) => {
                assert_eq!(found, text, "{turn}");
                let again = site.run("claim issue 1");
                assert_eq!(again.0, 2, "{again:?}");
            }
            Err(_) => assert!(!record.exists()),
        }
    }
    site.run("claim issue 1");
    assert_eq!(fs::read_to_string(&record).unwrap(), text);
}

#[test]
fn two_people_who_issue_at_once_do_not_both_succeed() {
    let site = site(&[FIRST]);
    for _ in 0..10 {
        fs::remove_dir_all(site.path().join("claims")).ok();
        let start = || {
            let mut command = Command::cargo_bin("dapedon").unwrap();
            command
                .args(["claim", "issue", "1"])
                .current_dir(site.path());
            command.stdout(Stdio::null()).stderr(Stdio::null());
            command.spawn().unwrap()
        };
        let mut both = [start(), start(), start()];
        let won = both
            .iter_mut()
            .filter_map(|own| own.wait().unwrap().success().then_some(()));
        assert_eq!(won.count(), 1);
        assert_eq!(fs::read_dir(site.path().join("claims")).unwrap().count(), 1);
    }
}

/// A disk that is full before the record is whole: no record, and nothing else.
#[cfg(unix)]
#[test]
fn a_full_disk_leaves_no_record() {
    let site = site(&[FIRST]);
    for blocks in 0..8 {
        let program = assert_cmd::cargo::cargo_bin("dapedon");
        let line = format!(
            "trap '' XFSZ; ulimit -f {blocks}; exec '{}' claim issue 1",
            program.display()
        );
        let run = Command::new("sh")
            .args(["-c", &line])
            .current_dir(site.path())
            .output()
            .unwrap();
        let said = String::from_utf8_lossy(&run.stderr);
        assert_eq!(run.status.code(), Some(2), "{said}");
        assert!(said.contains("cannot be written"), "{said}");
        assert_eq!(fs::read_dir(site.path().join("claims")).unwrap().count(), 0);
    }
    site.succeed("claim issue 1");
}
