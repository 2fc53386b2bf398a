//! The bill: a small one worked by hand, plots against the whole, and what mistakes in it get.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::PathBuf;
use std::sync::{Arc, Mutex};

use dapedon_contract::binary;
use dapedon_job::{
    Activity, Bill, BillItem, Context, Finding, Job, JobError, Reading, Request, Severity, Source,
    Watch, ZoneSource, bill, measure, starter,
};
use proptest::prelude::*;
use rust_decimal::dec;
use tempfile::TempDir;

/// Ground of 40 by 20 at 10; of it a pit of 10 by 8 dug 1.5 deep, and a yard of 20 by 16 raised by 0.25, which is
/// finished: below it lie slabs and stone.
const SITE: &str = "
[surface.ground]
file = \"ground.csv\"

[surface.heap]
file = \"heap.csv\"

[surface.works]
start = \"ground\"
steps = [
  { lower = 1.5, zones = \"pit\" },
  { raise = 0.25, zones = \"yard\" },
]

[surface.formation]
start = \"works\"
steps = [{ build-up = \"pavement\" }]

[zone.pit]
corners = [[4002, 7002], [4012, 7002], [4012, 7010], [4002, 7010]]

[zone.yard]
corners = [[4014, 7002], [4034, 7002], [4034, 7018], [4014, 7018]]

[zone.heap]
corners = [[4009, 7004], [4021, 7004], [4021, 7016], [4009, 7016]]

[build-up.pavement]
zones = \"yard\"
layers = [
  { name = \"slabs\", thickness = \"80 mm\", counted = [{ in = \"pallets\", covers = 9, whole = true, cost = 140 }] },
  { name = \"stone\", thickness = 0.3, counted = [{ in = \"t\", per-volume = 2.1 }] },
]

[material.soil]
swell = \"25%\"
shrink = \"10%\"
density = { bank = 1.8 }
vehicle = \"tipper\"
export = { cost = 2.5, per = \"loose\" }

[vehicle.tipper]
holds = 12
carries = 16
";

struct Folder(TempDir);

impl Folder {
    fn new() -> Self {
        let folder = Folder(TempDir::new().unwrap());
        let corners = "4000,7000,10\n4040,7000,10\n4040,7020,10\n4000,7020,10\n";
        folder.write("ground.csv", &format!("east,north,height\n{corners}"));
        // A pyramid of 8 by 8 and 3 high.
        let pyramid = "4011,7006,10\n4019,7006,10\n4019,7014,10\n4011,7014,10\n4015,7010,13\n";
        folder.write(
            "heap.csv",
            &format!("east,north,height\n{corners}{pyramid}"),
        );
        folder
    }

    fn write(&self, name: &str, text: &str) -> PathBuf {
        let path = self.0.path().join(name);
        fs::write(&path, text).unwrap();
        path
    }

    fn job(&self, items: &str) -> Result<Job, JobError> {
        let head = "[job]\nname = \"made up\"\nunit = \"m\"\ncurrency = \"EUR\"\n";
        Job::read(&self.write("dapedon.toml", &format!("{head}{SITE}{items}")))
    }

    fn bill(&self, items: &str) -> Result<Bill, JobError> {
        measured(&self.job(items)?, &[])
    }

    /// The only item of a bill.
    fn item(&self, item: &str) -> BillItem {
        let item = format!("[[item]]\ncode = \"1\"\ndescription = \"made up\"\n{item}\n");
        let bill = self.bill(&item).unwrap();
        bill.items().next().unwrap().clone()
    }
}

fn measured(job: &Job, codes: &[&str]) -> Result<Bill, JobError> {
    let codes: Vec<String> = codes.iter().map(|code| (*code).into()).collect();
    bill(&Context::of(job), &codes).map(|(bill, _)| bill)
}

const BILL: &str = "
[[item]]
code = \"A1\"
section = \"A\"
description = \"dig the pit\"
unit = \"m3\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"works\"
zones = \"pit\"
material = \"soil\"
paid-state = \"loose\"
contract = 160
within = \"5%\"
rate = 4.10

[[item]]
code = \"A2\"
section = \"A\"
description = \"haul it\"
unit = \"loads\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"works\"
zones = \"pit\"
material = \"soil\"
moves = \"nothing\"
at-most = 14
rate = 30

[[item]]
code = \"B1\"
section = \"B\"
description = \"raise the yard\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"works\"
zones = \"yard\"
material = \"soil\"
paid-state = \"bank\"
at-least = 89
rate = 5.55

[[item]]
code = \"B2\"
section = \"B\"
description = \"stone\"
unit = \"t\"
measure = \"layer\"
surveyed = \"formation\"
layer = \"stone\"
rate = 20

[[item]]
code = \"B3\"
section = \"B\"
description = \"slabs\"
unit = \"pallets\"
measure = \"layer\"
surveyed = \"formation\"
layer = \"slabs\"
contract = 36
within = \"0%\"
rate = 140

[[item]]
code = \"B4\"
section = \"B\"
description = \"trim the yard\"
unit = \"ha\"
measure = \"fill-area\"
reference = \"ground\"
surveyed = \"works\"
decimals = 4
rate = 1000

[[item]]
code = \"A3\"
section = \"A\"
description = \"pump\"
unit = \"h\"
measure = \"typed\"
quantity = 7.5
reason = \"sheet 4\"
rate = 40

[[item]]
code = \"C1\"
description = \"net\"
unit = \"m3\"
measure = \"net\"
reference = \"ground\"
surveyed = \"works\"

[[item]]
code = \"C2\"
description = \"water\"
unit = \"m3\"
measure = \"capacity\"
surveyed = \"works\"
level = 9.5
zones = \"pit\"

[[item]]
code = \"C3\"
description = \"heap\"
unit = \"m3\"
measure = \"pile\"
surveyed = \"heap\"
zones = \"heap\"
material = \"soil\"
";

/// By hand, from the definitions:
///
/// * A1: 10 x 8 x 1.5 = 120 in the bank, x 1.25 = 150.0 loose, x 4.10 = 615.00. Against 160: 6.25 % below, more
///   than 5.
/// * A2: 150.0 loose / 12 = 12.5 loads by volume; 120 x 1.8 = 216 t / 16 = 13.5 by mass, which binds: 14, x 30 =
///   420.00; 14 at most is kept.
/// * A3: 7.5 x 40 = 300.00. Section A: 615 + 420 + 300 = 1335.00.
/// * B1: 20 x 16 x 0.25 = 80 compacted, / 0.9 = 88.9 in the bank, x 5.55 = 493.395, halves away from zero: 493.40.
///   Below 89.
/// * B2: 320 x 0.3 = 96 m3, x 2.1 = 201.6 t, x 20 = 4032.00.
/// * B3: 320 / 9 = 35.6, rounded up 36, x 140 = 5040.00; just the contract's.
/// * B4: 320 m2 = 0.0320 ha, x 1000 = 32.00. Section B: 493.40 + 4032 + 5040 + 32 = 9597.40.
/// * C1: 80 - 120 = -40. C2: floor at 8.5, up to 9.5: 80 x 1 = 80. C3: 8 x 8 x 3 / 3 = 64 loose.
/// * Total: 1335.00 + 9597.40 = 10 932.40.
/// * Soil: dug 120.0, needed 88.9; 31.1 left over, x 1.25 = 38.875, written 38.9 loose, x 2.5 = 97.25. Loads: 38.9 /
///   12 = 3.24 by volume; 31.1 x 1.8 = 55.98, written 56.0 t, / 16 = 3.5 by mass: 4.
#[test]
fn a_bill_worked_by_hand() {
    let bill = Folder::new().bill(BILL).unwrap();
    let lines = bill.items().map(|item| {
        (
            item.code.as_str(),
            item.quantity,
            item.unit.as_str(),
            item.amount,
        )
    });
    let lines: Vec<_> = lines.collect();
    assert_eq!(
        lines,
        [
            ("A1", dec!(150.0), "m³ loose", Some(dec!(615.0))),
            ("A2", dec!(14.0), "loads", Some(dec!(420.0))),
            ("A3", dec!(7.5), "h", Some(dec!(300.0))),
            ("B1", dec!(88.9), "m³ bank", Some(dec!(493.4))),
            ("B2", dec!(201.6), "t", Some(dec!(4032.0))),
            ("B3", dec!(36.0), "pallets", Some(dec!(5040.0))),
            ("B4", dec!(0.032), "ha", Some(dec!(32.0))),
            ("C1", dec!(-40.0), "m³", None),
            ("C2", dec!(80.0), "m³", None),
            ("C3", dec!(64.0), "m³ loose", None),
        ]
    );
    let sums = bill
        .sections
        .iter()
        .map(|section| (section.section.as_str(), section.amount));
    let sums: Vec<_> = sums.collect();
    assert_eq!(
        sums,
        [
            ("A", Some(dec!(1335.0))),
            ("B", Some(dec!(9597.4))),
            ("", None)
        ]
    );
    assert_eq!(bill.amount, Some(dec!(10_932.4)));
    let findings = bill.items().flat_map(|item| &item.findings);
    let findings: Vec<_> = findings
        .map(|found| (found.code.code(), found.severity, found.message.as_str()))
        .collect();
    let off = "6.2 % below the contract quantity, more than 5 %";
    let less = "below the lowest expected, 89 m³";
    assert_eq!(
        findings,
        [
            ("off-contract", Severity::Failed, off),
            ("below-least", Severity::Failed, less),
        ]
    );
    let loads = bill.items().find_map(|item| item.loads.as_ref()).unwrap();
    assert_eq!((&*loads.limited_by, loads.count), ("mass", dec!(14.0)));
    let limits: Vec<_> = loads
        .limits
        .iter()
        .map(|limit| (&*limit.by, limit.amount, limit.capacity))
        .collect();
    assert_eq!(
        limits,
        [
            ("volume", dec!(150.0), dec!(12.0)),
            ("mass", dec!(216.0), dec!(16.0))
        ]
    );

    let [soil] = bill.material_balance.as_slice() else {
        panic!("{:?}", bill.material_balance)
    };
    assert_eq!(
        (soil.dug, soil.needed_for_fill, soil.used_on_site),
        (dec!(120.0), dec!(88.9), dec!(88.9))
    );
    assert!(soil.import.is_none());
    let export = soil.export.as_ref().unwrap();
    assert_eq!(
        (export.bank, export.loads.as_ref().unwrap().count),
        (dec!(31.1), dec!(4.0))
    );
    assert_eq!(export.cost.as_ref().unwrap().amount, dec!(97.25));
    assert_eq!(bill.overlays.len(), 2, "{:?}", bill.overlays);
}

/// Items that are named are those of the whole bill, and nothing is shown of materials that others move.
#[test]
fn some_items_are_those_of_the_whole() {
    let folder = Folder::new();
    let job = folder.job(BILL).unwrap();
    let whole = measured(&job, &[]).unwrap();
    let some = measured(&job, &["B1", "A1"]).unwrap();
    let of = |bill: &Bill, code: &str| bill.items().find(|item| item.code == code).unwrap().clone();
    for code in ["A1", "B1"] {
        assert_eq!(of(&some, code), of(&whole, code));
    }
    assert_eq!(some.items().count(), 2);
    assert!(some.material_balance.is_empty());
    let error = measured(&job, &["B11"]).unwrap_err();
    assert_eq!(error.to_string(), "the job has no item \"B11\"");
    assert!(error.remedy().starts_with("use B1"), "{}", error.remedy());
    let error = folder.bill("").unwrap_err();
    assert!(error.place().unwrap().ends_with("dapedon.toml"));
}

#[test]
fn files_are_read_and_surfaces_overlaid_once() {
    let folders = [Folder::new(), Folder::new()];
    let twice = format!("{BILL}{}", BILL.replace("code = \"", "code = \"X"));
    let jobs = [folders[0].job(BILL), folders[1].job(&twice)];
    for job in jobs.map(Result::unwrap) {
        let told = Arc::new(Mutex::new(Vec::new()));
        let tell = {
            let told = told.clone();
            move |doing: &Activity, _: f64| told.lock().unwrap().push(doing.clone())
        };
        let context = Context {
            watch: Watch::telling(tell),
            ..Context::of(&job)
        };
        bill(&context, &[]).unwrap();
        let mut told = told.lock().unwrap().clone();
        told.dedup();
        let read = told
            .iter()
            .filter(|doing| matches!(doing, Activity::Reading(_)));
        assert_eq!(read.count(), 2, "{told:?}");
        let laid = told.iter().filter_map(|doing| match doing {
            Activity::Measuring { number, of, .. } => Some([*number, *of]),
            _ => None,
        });
        assert_eq!(laid.collect::<Vec<_>>(), [[1, 2], [2, 2]]);
    }
}

/// To the rounding of areas at these coordinates.
#[track_caller]
fn near(found: f64, expected: f64) {
    assert!((found - expected).abs() < 1e-9, "{found} {expected}");
}

/// Plots of 12 by 10 that overlap on 2 by 10, in a limit of 30 by 10 on ground raised by 0.5: each 60 m3, 10 of it
/// in both, and 8 by 10 of the limit in none. One of them reaches 2 by 10 beyond the limit.
#[test]
fn overlaps_and_gaps_of_plots_are_told() {
    let plots = "
[surface.raised]
start = \"ground\"
steps = [{ raise = 0.5 }]
[zone.limit]
corners = [[4002, 7005], [4032, 7005], [4032, 7015], [4002, 7015]]
[zone.first]
corners = [[4000, 7005], [4014, 7005], [4014, 7015], [4000, 7015]]
[zone.second]
corners = [[4012, 7005], [4024, 7005], [4024, 7015], [4012, 7015]]
[[item]]
code = \"1\"
description = \"by plots\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"raised\"
";
    let folder = Folder::new();
    let with = |places: &str| {
        let bill = folder.bill(&format!("{plots}{places}\n")).unwrap();
        bill.items().next().unwrap().clone()
    };
    let item = with("zones = \"limit\"\nplots = [\"first\", \"second\"]");
    assert_eq!(item.rows.len(), 2);
    item.rows.iter().for_each(|row| near(row.unrounded, 60.0));
    assert_eq!(item.rows[0].plan_area.unwrap().value, 140.0);
    assert_eq!(item.rows[1].perimeter.unwrap().value, 44.0);
    assert_eq!(item.counted_twice.len(), 1);
    near(item.counted_twice[0].unrounded, 10.0);
    assert_eq!(item.counted_twice[0].zone, "first and second");
    let gap = item.outside_plots.as_ref().unwrap();
    near(gap.unrounded, 40.0);
    near(gap.measured.as_ref().unwrap().area.compared.value, 80.0);
    near(item.unrounded, 110.0);
    assert_eq!(item.measured, dec!(110.0));
    assert_eq!(
        item.notes,
        ["20.0 m² of its plots are outside its zones and not counted"]
    );
    let total = item.total.as_ref().unwrap();
    near(total.area.compared.value, 220.0);
    near(total.volume.fill.value, 110.0);

    // Without a limit all the rest of the ground, 40 by 20 less 240, is in no plot.
    let item = with("plots = [\"first\", \"second\"]");
    let gap = item.outside_plots.as_ref().unwrap();
    let area = gap.measured.as_ref().unwrap().area.compared;
    assert!((area.value - 560.0).abs() < 1e-7, "{area:?}");
    assert_eq!(item.measured, dec!(120.0));

    // Zones that overlap count once, too.
    let item = with("zones = [\"first\", \"second\"]");
    assert_eq!((item.counted_twice.len(), item.measured), (1, dec!(120.0)));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// Plots that cover a zone add up to it, wherever their borders run: to 1e-9 of what is moved.
    #[test]
    fn plots_add_up_to_the_whole(heights in prop::collection::vec(-64i32..64, 40), across in prop::collection::vec(1i32..63, 3)) {
        let folder = Folder::new();
        let rows = heights.iter().enumerate().map(|(index, height)| {
            let (east, north) = (4000 + 5 * (index % 8) as i32, 7000 + 5 * (index / 8) as i32);
            format!("{east},{north},{}\n", 10.0 + f64::from(*height) / 32.0)
        });
        folder.write("survey.csv", &format!("east,north,height\n{}", rows.collect::<String>()));
        // Two bent borders from south to north part a zone of 30 by 16 in three.
        let bend = |share: i32, from: f64| from + f64::from(share) / 8.0;
        let (west, east) = ([bend(across[0], 4003.0), bend(across[1], 4003.0)], bend(across[2], 4013.0));
        let text = format!("
[surface.survey]
file = \"survey.csv\"
[zone.whole]
corners = [[4002, 7001], [4032, 7001], [4032, 7017], [4002, 7017]]
[zone.west]
corners = [[4002, 7001], [{a}, 7001], [{b}, 7017], [4002, 7017]]
[zone.middle]
corners = [[{a}, 7001], [{c}, 7001], [{c}, 7017], [{b}, 7017]]
[zone.east]
corners = [[{c}, 7001], [4032, 7001], [4032, 7017], [{c}, 7017]]
[[item]]
code = \"1\"
description = \"by plots\"
unit = \"m3\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"survey\"
zones = \"whole\"
plots = [\"west\", \"middle\", \"east\"]
", a = west[0].min(east - 0.25), b = west[1].min(east - 0.25), c = east);
        let job = folder.job(&text).unwrap();
        let item = measured(&job, &[]).unwrap().items().next().unwrap().clone();
        let [ground, survey] = ["ground", "survey"].map(|name| Source::Named(name.into()));
        let request = Request {
            zones: vec![ZoneSource::Named("whole".into())],
            ..Request::between(ground, survey)
        };
        let whole = measure(&Context::of(&job), &request).unwrap().0;
        let volume = whole.zones[0].volume;
        let moved = volume.cut.value + volume.fill.value;
        prop_assert!((item.unrounded - volume.cut.value).abs() <= 1e-9 * moved, "{} {}", item.unrounded, volume.cut.value);
        let sum: f64 = item.rows.iter().map(|row| row.measured.as_ref().unwrap().volume.fill.value).sum();
        prop_assert!((sum - volume.fill.value).abs() <= 1e-9 * moved);
        prop_assert!(item.counted_twice.is_empty() && item.outside_plots.is_none());
        // What is written adds up as it is written.
        let written: f64 = item.rows.iter().map(|row| (row.unrounded * 10.0).round()).sum();
        prop_assert!((binary(item.measured) * 10.0 - written).abs() < 1e-6);
    }

    /// A tolerance of its own for each item, over one overlay: as if each was measured alone.
    #[test]
    fn tolerances_do_not_mix(tolerances in prop::collection::vec(0u32..8, 2..5)) {
        let folder = Folder::new();
        let item = |index: usize, tolerance: u32| format!("
[[item]]
code = \"{index}\"
description = \"raised\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"works\"
tolerance = {}
", f64::from(tolerance) / 16.0);
        let text: String = tolerances.iter().enumerate().map(|(index, t)| item(index, *t)).collect();
        let bill = folder.bill(&text).unwrap();
        prop_assert_eq!(bill.overlays.len(), 1);
        for (item, tolerance) in bill.items().zip(&tolerances) {
            // Raised by 0.25 on 320: counts where the tolerance is less than that.
            let expected = if *tolerance < 4 { 80.0 } else { 0.0 };
            prop_assert!((item.unrounded - expected).abs() < 1e-9, "{} {}", item.unrounded, tolerance);
        }
    }
}

#[test]
fn a_material_is_counted_in_what_holds_it() {
    let folder = Folder::new();
    let bags =
        "counted = [{ in = \"bags\", holds = 0.8, state = \"loose\", whole = true, cost = 3.5 }]\n";
    let job = folder.job(BILL).unwrap();
    let text = fs::read_to_string(&job.path).unwrap();
    let at = text.find("[vehicle.tipper]").unwrap();
    fs::write(&job.path, format!("{}{bags}{}", &text[..at], &text[at..])).unwrap();
    let bill = measured(&Job::read(&job.path).unwrap(), &["C3"]).unwrap();
    let heap = bill.items().next().unwrap();
    // 64 loose / 0.8 = 80 bags x 3.50 = 280.00
    let bags = &heap.further_counts[0];
    assert_eq!(
        (bags.step.amount, bags.cost),
        (dec!(80.0), Some(dec!(280.0)))
    );
    let text = fs::read_to_string(&job.path).unwrap();
    let paid = text.replace(
        "code = \"C3\"\ndescription = \"heap\"\nunit = \"m3\"",
        "code = \"C3\"\ndescription = \"heap\"\nunit = \"bags\"",
    );
    fs::write(&job.path, paid).unwrap();
    let bill = measured(&Job::read(&job.path).unwrap(), &["C3"]).unwrap();
    let heap = bill.items().next().unwrap();
    assert_eq!(
        (heap.quantity, heap.unit.as_str(), heap.further_counts.len()),
        (dec!(80.0), "bags", 0)
    );
}

/// The yard of 60 by 40 is raised by 1.2 less the 0.37 of its layers.
#[test]
fn the_first_job_file_has_a_bill() {
    let folder = Folder::new();
    let path = folder.write("first.toml", &starter(&[]));
    let bill = measured(&Job::read(&path).unwrap(), &[]).unwrap();
    let item = bill.items().next().unwrap();
    assert_eq!(
        (item.measured, item.unit.as_str()),
        (dec!(1992.0), "m³ compacted")
    );
}

/// A surface that rises 3 in 4 towards east is 5 along itself for 4 in plan; plots part it as they part the plan.
#[test]
fn slopes_are_longer_than_their_plan() {
    let folder = Folder::new();
    folder.write(
        "slope.csv",
        "east,north,height\n4000,7000,0\n4040,7000,30\n4040,7020,30\n4000,7020,0\n",
    );
    let text = "
[surface.slope]
file = \"slope.csv\"
[zone.half]
corners = [[4014, 7002], [4022, 7002], [4022, 7018], [4014, 7018]]
[[item]]
code = \"1\"
description = \"seed\"
unit = \"m2\"
measure = \"sloping-area\"
surveyed = \"slope\"
zones = \"yard\"
";
    let all = folder.bill(text).unwrap();
    near(all.items().next().unwrap().unrounded, 320.0 * 1.25);
    let part = folder.bill(&format!("{text}plots = \"half\"\n")).unwrap();
    let part = part.items().next().unwrap();
    near(part.unrounded, 8.0 * 16.0 * 1.25);
    near(
        part.outside_plots.as_ref().unwrap().unrounded,
        12.0 * 16.0 * 1.25,
    );
}

/// Slabs lie in two build-ups, of 320 and 80 in plan; a zone picks one, and so does the build-up's name.
#[test]
fn layers_are_picked_by_zone_and_build_up() {
    let text = "
[surface.deep]
start = \"works\"
steps = [{ build-up = [\"pavement\", \"path\"] }]
[build-up.path]
zones = \"pit\"
layers = [{ name = \"slabs\", thickness = 0.05 }]
[[item]]
code = \"1\"
description = \"slabs\"
unit = \"m3\"
measure = \"layer\"
surveyed = \"deep\"
layer = \"slabs\"
";
    let folder = Folder::new();
    let exact = |more: &str| {
        let bill = folder.bill(&format!("{text}{more}")).unwrap();
        bill.items().next().unwrap().unrounded
    };
    near(exact(""), 320.0 * 0.08 + 80.0 * 0.05);
    near(exact("zones = \"pit\""), 80.0 * 0.05);
    near(exact("build-up = \"pavement\""), 320.0 * 0.08);
    let none = folder.bill(&format!("{text}zones = \"heap\"")).unwrap_err();
    assert!(
        none.to_string().contains("is in none of the zones"),
        "{none}"
    );
}

/// The pyramid on ground that rises 1 in 16: its outline is 12 wide, so that a level at its lowest place adds half of
/// 12 x 12 by 0.75, and one at the mean takes the pile as it is but for what lies below it.
#[test]
fn a_pile_is_measured_above_the_base_that_is_said() {
    let folder = Folder::new();
    let sloped =
        |e: f64, n: f64, rise: f64| format!("{e},{n},{}\n", 10.0 + (e - 4000.0) / 16.0 + rise);
    let corners = [
        (4000.0, 7000.0),
        (4040.0, 7000.0),
        (4040.0, 7020.0),
        (4000.0, 7020.0),
    ];
    let foot = [
        (4011.0, 7006.0),
        (4019.0, 7006.0),
        (4019.0, 7014.0),
        (4011.0, 7014.0),
    ];
    let points = corners.iter().chain(&foot).map(|&(e, n)| sloped(e, n, 0.0));
    let text: String = points.chain([sloped(4015.0, 7010.0, 3.0)]).collect();
    folder.write("heap.csv", &format!("east,north,height\n{text}"));
    let item = |code: &str, base: &str| {
        format!(
            "[[item]]\ncode = \"{code}\"\ndescription = \"heap\"\nunit = \"m3\"\nmeasure = \"pile\"\n\
             surveyed = \"heap\"\nzones = \"heap\"\n{base}\n"
        )
    };
    let items = [
        item("1", ""),
        item("2", "base = \"plane\""),
        item("3", "base = \"lowest\""),
        item("4", "base = \"mean\""),
    ];
    let bill = folder.bill(&items.concat()).unwrap();
    let items: Vec<&BillItem> = bill.items().collect();
    let measured: Vec<f64> = items.iter().map(|item| binary(item.measured)).collect();
    assert_eq!(measured[..3], [64.0, 64.0, 64.0 + 54.0]);
    // The wedges below it take no more than half of half the outline by half of 0.75 off, and nothing of the pile.
    assert!(
        measured[3] > 64.0 && measured[3] < 64.0 + 13.5,
        "{measured:?}"
    );
    assert_eq!(items[0].measure, "pile above a surface through the toe");
    assert_eq!(
        items[2].measure,
        "pile above a level at the lowest height of the toe"
    );
}

/// Each pair of surfaces and ground is drawn once, whoever asks, and each pile by itself.
#[test]
fn there_is_a_sheet_for_each_ground_and_pile() {
    let folder = Folder::new();
    let job = folder.job(BILL).unwrap();
    let (_, sheets) = bill(&Context::of(&job), &[]).unwrap();
    let of: Vec<_> = sheets
        .iter()
        .map(|sheet| (sheet.codes.join(","), sheet.surveyed.as_str()))
        .collect();
    let of: Vec<(&str, &str)> = of
        .iter()
        .map(|(codes, surveyed)| (codes.as_str(), *surveyed))
        .collect();
    // In the order of the items: the typed one, layers and areas along the slope have none.
    assert_eq!(
        of,
        [
            ("A1,A2", "works"),
            ("B1", "works"),
            ("B4,C1", "works"),
            ("C2", "level=9.5"),
            ("C3", "heap"),
        ]
    );
}

/// A zone that says another coordinate system than the job is refused, by its name.
#[test]
fn zones_in_another_system_are_refused() {
    let folder = Folder::new();
    let lot = r#"{"type":"FeatureCollection","crs":{"type":"name","properties":{"name":"urn:ogc:def:crs:EPSG::32632"}},
        "features":[{"type":"Feature","properties":{"name":"lot"},"geometry":{"type":"Polygon",
        "coordinates":[[[4002,7002],[4006,7002],[4006,7006],[4002,7002]]]}}]}"#;
    folder.write("lot.geojson", lot);
    let text = "
[zone.lot]
file = \"lot.geojson\"
[[item]]
code = \"1\"
description = \"dig\"
unit = \"m3\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"works\"
zones = \"lot\"
";
    let path = folder.job(text).unwrap().path;
    assert!(folder.bill(text).is_ok());
    let other = fs::read_to_string(&path).unwrap();
    fs::write(
        &path,
        other.replace(
            "unit = \"m\"\n",
            "unit = \"m\"\ncoordinates = \"EPSG:25832\"\n",
        ),
    )
    .unwrap();
    let job = Job::read(&path).unwrap();
    let error = measured(&job, &[]).unwrap_err();
    assert!(error.to_string().contains("EPSG:32632"), "{error}");
    assert!(error.to_string().contains("EPSG:25832"), "{error}");
    let context = Context {
        reading: Reading {
            ignore_crs: true,
            ..Reading::default()
        },
        ..Context::of(&job)
    };
    let (bill, _) = bill(&context, &[]).unwrap();
    assert!(
        bill.warnings
            .iter()
            .any(|warning| warning.message.contains("treated as EPSG:25832")),
        "{:?}",
        bill.warnings
    );
}

/// Plots whose common border is a nanometre apart leave slivers, which are not listed.
#[test]
fn slivers_between_plots_are_no_matter() {
    let text = "
[surface.raised]
start = \"ground\"
steps = [{ raise = 0.5 }]
[zone.first]
corners = [[4002, 7005], [4014.123456789, 7005], [4014.987654321, 7015], [4002, 7015]]
[zone.second]
corners = [[4014.123456790, 7005], [4024, 7005], [4024, 7015], [4014.987654320, 7015]]
[[item]]
code = \"1\"
description = \"by plots\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"raised\"
zones = [\"first\", \"second\"]
";
    let bill = Folder::new().bill(text).unwrap();
    let item = bill.items().next().unwrap();
    assert!(
        item.warnings.is_empty() && item.counted_twice.is_empty(),
        "{:?}",
        item.warnings
    );
    assert!(bill.overlays[0].closure < 1e-12, "{:?}", bill.overlays);
    assert!((item.unrounded - 110.0).abs() < 1e-6);
}

/// A finished level that an item measures to is warned of, once.
#[test]
fn finished_levels_are_warned_of() {
    let bill = Folder::new().bill(BILL).unwrap();
    let about = |warning: &&Finding| warning.message.contains("\"works\" is a finished level");
    assert_eq!(
        bill.warnings.iter().filter(about).count(),
        1,
        "{:?}",
        bill.warnings
    );
}

/// 7 by 7 raised by 0.25 is 12.25, written 12.3 however it is summed: alone, by plots, and beside other items.
#[test]
fn a_half_is_a_half() {
    let text = "
[surface.raised]
start = \"ground\"
steps = [{ raise = 0.25 }]
[zone.lot]
corners = [[4003, 7003], [4010, 7003], [4010, 7010], [4003, 7010]]
[zone.third]
corners = [[4003, 7003], [4005.3333333333, 7003], [4005.3333333333, 7010], [4003, 7010]]
[zone.others]
corners = [[4005.3333333333, 7003], [4010, 7003], [4010, 7010], [4005.3333333333, 7010]]
";
    let item = |code: &str, more: &str| {
        format!(
            "[[item]]\ncode = \"{code}\"\ndescription = \"raise\"\nunit = \"m3\"\nmeasure = \"fill\"\nreference = \
             \"ground\"\nsurveyed = \"raised\"\nzones = \"lot\"\n{more}"
        )
    };
    let folder = Folder::new();
    let items = [
        item("1", ""),
        item("2", "plots = [\"third\", \"others\"]\n"),
    ];
    for bill in [&items[..1], &items[..]] {
        let bill = folder.bill(&format!("{text}{}", bill.concat())).unwrap();
        assert_eq!(bill.items().next().unwrap().measured, dec!(12.3));
    }
}

#[test]
fn net_counts_in_the_state_that_is_said() {
    let net = "unit = \"m3\"\nmeasure = \"net\"\nreference = \"works\"\nsurveyed = \"ground\"\nmaterial = \"soil\"\n\
               measured-state = \"bank\"\nmoves = \"dug\"\npaid-state = \"loose\"";
    // 120 - 80 = 40, x 1.25 = 50.
    let item = Folder::new().item(net);
    assert_eq!((item.measured, item.quantity), (dec!(40.0), dec!(50.0)));
}

/// What was found, and the line it stands in.
fn told(error: &JobError) -> String {
    format!("{error}\n{}", error.notes().join("\n"))
}

/// What each mistake is reported, and the line it stands in, counted from that of the item.
#[test]
fn mistakes_in_a_bill_point_at_their_line() {
    let between =
        "unit = \"m3\"\nmeasure = \"cut\"\nreference = \"ground\"\nsurveyed = \"works\"\n";
    let item = |more: &str| format!("[[item]]\ncode = \"1\"\ndescription = \"made up\"\n{more}\n");
    let plain = item(between);
    let cases = [
        (
            format!("{plain}{plain}"),
            "two items have the code \"1\"",
            "code = \"1\"",
        ),
        (
            item(&between.replace("works", "work")),
            "there is no surface \"work\"",
            "\"work\"",
        ),
        (
            item(&format!("{between}zones = \"pitt\"")),
            "there is no zone \"pitt\"",
            "\"pitt\"",
        ),
        (
            item(&format!("{between}material = \"sand\"")),
            "there is no material \"sand\"",
            "\"sand\"",
        ),
        (
            item(&between.replace("m3", "t")),
            "a mass needs one",
            "code = \"1\"",
        ),
        (
            item(&between.replace("m3", "m2")),
            "\"m2\" is not a unit for cut",
            "\"m2\"",
        ),
        (
            item(&between.replace("cut", "area")),
            "\"m3\" is not a unit for area",
            "\"m3\"",
        ),
        (
            item(&between.replace("\"m3\"", "\"pallets\"")),
            "is not a unit",
            "\"pallets\"",
        ),
        (
            item(&format!("{between}level = 9")),
            "level has no effect where cut is counted",
            "9",
        ),
        (
            item(&format!("{between}paid-state = \"loose\"")),
            "the item has no material, and paid-state needs one",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}within = \"5%\"")),
            "within is a share of the contract quantity, and the item has none",
            "\"5%\"",
        ),
        (
            item(&format!("{between}contract = 5\nwithin = \"5\"")),
            "\"5\" is not a percentage",
            "\"5\"",
        ),
        (
            item(&format!("{between}at-least = 5\nat-most = 4")),
            "at-least 5 is above at-most 4",
            "4",
        ),
        (
            item(&format!("{between}tolerance = -0.1")),
            "-0.1 is not a tolerance",
            "-0.1",
        ),
        (
            item(&format!("{between}rate = -2")),
            "-2 is not an amount of money",
            "-2",
        ),
        (
            item(&format!("{between}decimals = 9")),
            "9 decimals are too many",
            "9",
        ),
        (
            item(&between.replace("surveyed = \"works\"", "surveyed = \"ground\"")),
            "the item compares a surface with itself",
            "code = \"1\"",
        ),
        (
            item("unit = \"m3\"\nmeasure = \"cut\"\nsurveyed = \"works\""),
            "the item has no reference surface",
            "code = \"1\"",
        ),
        (
            item("unit = \"m3\"\nmeasure = \"capacity\"\nsurveyed = \"works\"\nzones = \"pit\""),
            "the item has no level",
            "code = \"1\"",
        ),
        (
            item("unit = \"m3\"\nmeasure = \"pile\"\nsurveyed = \"heap\""),
            "a pile needs zones to limit it",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}base = \"toe\"")),
            "base has no effect where cut is counted",
            "\"toe\"",
        ),
        (
            item("unit = \"h\"\nmeasure = \"typed\"\nquantity = 5"),
            "no reason for its typed-in quantity",
            "code = \"1\"",
        ),
        (
            item("unit = \"h\"\nmeasure = \"typed\"\nreason = \"so\""),
            "the item has no quantity",
            "code = \"1\"",
        ),
        (
            item("unit = \"m3\"\nmeasure = \"layer\"\nsurveyed = \"formation\"\nlayer = \"sand\""),
            "there is no layer \"sand\"",
            "\"sand\"",
        ),
        (
            item("unit = \"m3\"\nmeasure = \"layer\"\nsurveyed = \"works\"\nlayer = \"stone\""),
            "is not made with a build-up",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}material = \"soil\"").replace("cut", "net")),
            "net mixes compacted fill with bank cut, and has no single state",
            "code = \"1\"",
        ),
        (
            item(&format!(
                "{between}material = \"dust\"\npaid-state = \"loose\"\n[material.dust]"
            )),
            "the swell of \"dust\" is needed and not given",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}material = \"dust\"\n[material.dust]").replace("cut", "fill")),
            "the shrink of \"dust\" is needed and not given",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}material = \"dust\"\n[material.dust]").replace("m3", "t")),
            "the density of \"dust\" is needed and not given",
            "code = \"1\"",
        ),
        (
            item(&format!("{between}material = \"dust\"\n[material.dust]").replace("m3", "loads")),
            "no vehicle is given for the loads",
            "code = \"1\"",
        ),
        (
            "[material.dust]\nswell = 0.8".into(),
            "\"0.8\" is not a swell",
            "0.8",
        ),
        (
            "[material.dust]\nshrink = \"100%\"".into(),
            "\"100%\" is not a shrink",
            "\"100%\"",
        ),
        (
            "[material.dust]\ndensity = 1.9".into(),
            "the density 1.9 has no state",
            "1.9",
        ),
        (
            "[material.dust]\ndensity = { bank = 1.9, loose = 1.5 }".into(),
            "the density has more than one state",
            "{ bank = 1.9, loose = 1.5 }",
        ),
        (
            "[material.dust]\ndensity = { bank = 1900 }".into(),
            "1900 is not a density of soil or rock",
            "{ bank = 1900 }",
        ),
        (
            "[material.dust]\nvehicle = \"tiper\"".into(),
            "there is no vehicle \"tiper\"",
            "\"tiper\"",
        ),
        (
            "[material.dust]\nexport = { cost = 2, per = \"load\" }".into(),
            "the material \"dust\" has no vehicle",
            "{ cost = 2, per = \"load\" }",
        ),
        (
            "[material.dust]\nexport = { cost = 2, per = \"loose\" }".into(),
            "the swell of \"dust\"",
            "{ cost = 2, per = \"loose\" }",
        ),
        (
            "[material.dust]\nexport = { cost = 2, per = \"heap\" }".into(),
            "\"heap\" is not a unit for a cost",
            "{ cost = 2, per = \"heap\" }",
        ),
        (
            "[vehicle.cart]".into(),
            "the capacity of \"cart\" is missing",
            "[vehicle.cart]",
        ),
        (
            "[vehicle.cart]\nholds = 0".into(),
            "0 is not above zero",
            "0",
        ),
    ];
    let folder = Folder::new();
    for (text, what, meant) in cases {
        let error = folder.job(&text).unwrap_err();
        let words = told(&error);
        assert!(words.contains(what), "{text}\n{words}");
        let marked = words.lines().nth(2).unwrap();
        let width = marked.chars().filter(|&c| c == '^').count();
        let line = words.lines().nth(1).unwrap();
        let expected = if meant.starts_with('[') {
            "cart".len()
        } else if meant.starts_with("code") {
            3
        } else {
            meant.len()
        };
        assert!(
            line.contains(meant) && width == expected,
            "{meant}\n{words}"
        );
        assert!(!error.remedy().is_empty() && error.place().unwrap().contains("line "));
    }
}

#[test]
fn what_cannot_be_measured_points_at_its_item() {
    let folder = Folder::new();
    let twice = r#"{"type":"FeatureCollection","features":[
        {"type":"Feature","properties":{"name":"lot"},"geometry":{"type":"Polygon","coordinates":[[[4002,7002],[4006,7002],[4006,7006],[4002,7002]]]}},
        {"type":"Feature","properties":{"name":"lot"},"geometry":{"type":"Polygon","coordinates":[[[4012,7002],[4016,7002],[4016,7006],[4012,7002]]]}}]}"#;
    folder.write("lots.geojson", twice);
    let zones = "
[zone.lots]
file = \"lots.geojson\"
[zone.far]
corners = [[5000, 7000], [5010, 7000], [5010, 7010]]
[zone.rim]
corners = [[4030, 7010], [4044, 7010], [4044, 7016], [4030, 7016]]
[zone.other]
corners = [[4008, 7008], [4018, 7008], [4018, 7012]]
";
    let between =
        "unit = \"m3\"\nmeasure = \"cut\"\nreference = \"ground\"\nsurveyed = \"works\"\n";
    let pile = "unit = \"m3\"\nmeasure = \"pile\"\nsurveyed = \"heap\"\n";
    let lots = format!(
        "{zones}[[item]]\ncode = \"7\"\ndescription = \"made up\"\n{between}plots = \"lots\"\n"
    );
    let error = told(&folder.bill(&lots).unwrap_err());
    assert!(
        error.contains("two zones have the name \"lot\"") && error.contains("[zone.lots]"),
        "{error}"
    );
    for (item, what) in [
        (
            format!("{between}zones = \"far\""),
            "the zones are outside the ground",
        ),
        (
            format!("{pile}zones = \"rim\""),
            "14.000 of the outline's 40.000 are outside the surface and have no heights",
        ),
        (format!("{pile}zones = [\"heap\", \"other\"]"), "overlap"),
    ] {
        let text = format!("{zones}[[item]]\ncode = \"7\"\ndescription = \"made up\"\n{item}\n");
        let error = folder.bill(&text).unwrap_err();
        assert!(error.to_string().contains(what), "{error}");
        assert!(told(&error).contains("code = \"7\""), "{error}");
        assert!(!error.remedy().is_empty());
    }
}

/// Without a currency there is no money.
#[test]
fn costs_need_a_currency() {
    let folder = Folder::new();
    let path = folder.job(BILL).unwrap().path;
    let text = fs::read_to_string(&path).unwrap();
    fs::write(&path, text.replace("currency = \"EUR\"\n", "")).unwrap();
    let error = Job::read(&path).unwrap_err();
    assert!(
        error.to_string().contains("the job has no currency"),
        "{error}"
    );
}

#[test]
fn a_bill_in_feet_is_told_in_yards_and_tons() {
    let folder = Folder::new();
    let text = "
[[item]]
code = \"1\"
description = \"dig\"
unit = \"ton\"
measure = \"cut\"
reference = \"ground\"
surveyed = \"works\"
material = \"soil\"
";
    let head = "[job]\nname = \"made up\"\nunit = \"ft\"\ncurrency = \"USD\"\n";
    let path = folder.write("dapedon.toml", &format!("{head}{SITE}{text}"));
    let bill = measured(&Job::read(&path).unwrap(), &[]).unwrap();
    let item = bill.items().next().unwrap();
    // 120 ft3 / 27 = 4.444, written 4.4 yd3; x 1.8 tons to the yard = 7.92, written 7.9.
    assert_eq!(
        (item.measured, item.measured_unit.as_str()),
        (dec!(4.4), "yd³")
    );
    assert_eq!((item.quantity, item.unit.as_str()), (dec!(7.9), "ton"));
}
