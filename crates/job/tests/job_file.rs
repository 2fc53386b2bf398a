//! Job files: recipes against closed forms, and what mistakes in them get.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::PathBuf;

use dapedon_contract::binary;
use dapedon_contract::{Shrink, Swell};
use dapedon_core::units::LengthUnit;
use dapedon_job::{
    BalanceRequest, Built, Context, Job, JobError, Measurement, Request, RequestedUnits, Source,
    ZoneSource, balance, build, job_schema, measure, starter,
};
use rust_decimal::dec;
use tempfile::TempDir;

/// Ground of 40 by 20 at 10.0, and a slope over the same place that rises from 8 in the west to 12 in the east.
const SURFACES: &str = "
[surface.ground]
file = \"ground.csv\"

[surface.slope]
file = \"slope.csv\"
";

const ZONES: &str = "
[zone.west]
corners = [[4000, 7000], [4010, 7000], [4010, 7020], [4000, 7020]]

[zone.east]
corners = [[4010, 7000], [4040, 7000], [4040, 7020], [4010, 7020]]
";

struct Folder(TempDir);

impl Folder {
    fn new() -> Self {
        let folder = Folder(TempDir::new().unwrap());
        let sheet = |west: f64, east: f64| {
            format!(
                "east,north,height\n4000,7000,{west}\n4040,7000,{east}\n4040,7020,{east}\n4000,7020,{west}\n"
            )
        };
        folder.write("ground.csv", &sheet(10.0, 10.0));
        folder.write("slope.csv", &sheet(8.0, 12.0));
        folder
    }

    fn write(&self, name: &str, text: &str) -> PathBuf {
        let path = self.0.path().join(name);
        fs::write(&path, text).unwrap();
        path
    }

    fn job(&self, text: &str) -> Result<Job, JobError> {
        let text = format!("[job]\nname = \"made up\"\nunit = \"m\"\n{SURFACES}{ZONES}{text}");
        Job::read(&self.write("dapedon.toml", &text))
    }

    fn volume(
        &self,
        job: &Job,
        reference: &str,
        surveyed: &str,
        zones: &[&str],
    ) -> Result<Measurement, JobError> {
        let source = |text: &str| job.surface(&text.parse().unwrap());
        let zone = |text: &&str| job.zone(&text.parse::<ZoneSource>().unwrap());
        let request = Request {
            zones: zones.iter().map(zone).collect::<Result<_, _>>()?,
            ..Request::between(source(reference)?, source(surveyed)?)
        };
        measure(&Context::of(job), &request).map(|(measurement, _)| measurement)
    }

    fn build(&self, job: &Job, name: &str) -> Result<Built, JobError> {
        let source = Source::Named(name.into());
        build(&Context::of(job), &source).map(|(built, _)| built)
    }

    /// Cut and fill from the ground to a surface made of some steps.
    #[track_caller]
    fn made(&self, start: &str, steps: &str) -> (f64, f64) {
        let job = self
            .job(&format!(
                "[surface.made]\nstart = \"{start}\"\nsteps = [{steps}]\n"
            ))
            .unwrap();
        let measured = self.volume(&job, "ground", "made", &[]).unwrap();
        (
            measured.zones[0].volume.cut.value,
            measured.zones[0].volume.fill.value,
        )
    }
}

#[track_caller]
fn near(found: (f64, f64), expected: (f64, f64)) {
    let close = |a: f64, b: f64| (a - b).abs() < 1e-7;
    assert!(
        close(found.0, expected.0) && close(found.1, expected.1),
        "{found:?} {expected:?}"
    );
}

#[test]
fn each_step_does_what_it_says() {
    let folder = Folder::new();
    let made = |start: &str, steps: &str| folder.made(start, steps);
    near(made("ground", "{ raise = 0.5 }"), (0.0, 400.0));
    near(
        made("ground", "{ lower = 0.25, zones = \"west\" }"),
        (50.0, 0.0),
    );
    near(
        made("ground", "{ level = 9.5, zones = [\"west\", \"east\"] }"),
        (400.0, 0.0),
    );
    near(made("slope", "{ level = 12 }"), (0.0, 1600.0));
    // A wedge of 2 by 20 by 20 on either side of where slope and ground meet.
    near(made("slope", "{ raise = 0 }"), (400.0, 400.0));
    near(made("ground", "{ highest = \"slope\" }"), (0.0, 400.0));
    near(made("ground", "{ lowest = \"slope\" }"), (400.0, 0.0));
    near(
        made("ground", "{ replace = \"slope\", zones = \"west\" }"),
        (300.0, 0.0),
    );
    near(
        made("slope", "{ keep = \"outside\", zones = \"west\" }"),
        (100.0, 400.0),
    );
    // Ten further east, of what is left 30 long the last third is as high as the eastern end was.
    near(made("slope", "{ move = [10, 0] }"), (400.0, 100.0));
    // Heights of 2 in the west to -2 in the east, over ground at 10.
    near(
        made("ground", "{ difference = \"slope\" }, { raise = 10 }"),
        (400.0, 400.0),
    );
    near(
        made("ground", "{ raise = 1 }, { lower = 1 }, { raise = 0.125 }"),
        (0.0, 100.0),
    );
}

#[test]
fn platforms_and_embankments_stand_on_their_ground() {
    let folder = Folder::new();
    let tail = "cut-slope = 1, fill-slope = 1.5, chord-tolerance = 0.0001";
    let job = |step: &str| {
        let text = format!(
            "[surface.made]\nstart = \"ground\"\nsteps = [{step}]\n\
             [zone.pad]\ncorners = [[4015, 7005], [4025, 7005], [4025, 7015], [4015, 7015]]\n\
             [line.bund]\ncorners = [[4010, 7010, 0], [4030, 7010, 0]]\nheights = [[0, 11], [20, 12]]\n"
        );
        folder.job(&text).unwrap()
    };
    let platform = job(&format!(
        "{{ platform = {{ outline = \"pad\", level = 12, {tail} }} }}"
    ));
    let measured = folder.volume(&platform, "ground", "made", &[]).unwrap();
    // 10 by 10 by 2, slopes of 1.5 by 2 by 2 over two along 40, a cone of radius 3.
    let fill = 200.0 + 40.0 * 3.0 + std::f64::consts::PI * 9.0 * 2.0 / 3.0;
    assert!(
        (measured.zones[0].volume.fill.value - fill).abs() < 0.01,
        "{:?}",
        measured.zones[0].volume.fill
    );
    // Falling 1 in 10 to the east about its middle: half of it is lower by what the other is higher.
    let falling = job(&format!(
        "{{ platform = {{ outline = \"pad\", level = 10, fall = 0.1, towards = 90, {tail} }} }}"
    ));
    let measured = folder.volume(&falling, "ground", "made", &["pad"]).unwrap();
    near(
        (
            measured.zones[0].volume.cut.value,
            measured.zones[0].volume.fill.value,
        ),
        (12.5, 12.5),
    );
    // w h + n h², with h from 1 to 2 along 20.
    let bund = job(&format!(
        "{{ embankment = {{ line = \"bund\", width = 2, ends = \"upright\", {tail} }} }}"
    ));
    let measured = folder.volume(&bund, "ground", "made", &[]).unwrap();
    near(
        (
            measured.zones[0].volume.cut.value,
            measured.zones[0].volume.fill.value,
        ),
        (0.0, 20.0 * (3.0 + 1.5 * 7.0 / 3.0)),
    );
    let built = folder.build(&bund, "made").unwrap();
    let step = &built.side.recipe.as_ref().unwrap().steps[0];
    assert_eq!(
        step.notes,
        [
            "the line is 20.00 m long",
            "slopes in fill run out to 3.00 m"
        ]
    );
}

/// Two pavements side by side: formation is finished less area times thickness; layers, counts and costs.
#[test]
fn build_ups_are_counted_layer_by_layer() {
    let folder = Folder::new();
    let text = "
[surface.formation]
start = \"slope\"
steps = [{ build-up = [\"road\", \"path\"] }]

[surface.base]
start = \"slope\"
steps = [{ build-up = \"road\", stop-at = \"stone\" }]

[build-up.road]
zones = \"west\"
layers = [
  { name = \"asphalt\", thickness = \"150 mm\", counted = [{ in = \"t\", per-volume = 2.4, cost = 90 }] },
  { name = \"stone\", thickness = 0.35, counted = [{ in = \"loads\", holds = 8, whole = true }] },
]

[build-up.path]
zones = \"east\"
layers = [{ name = \"gravel\", thickness = 0.1, counted = [{ in = \"rolls\", covers = 55 }] }]
";
    let job = folder.job(text).unwrap();
    let measured = folder
        .volume(&job, "ground", "formation", &["west", "east"])
        .unwrap();
    let without = measured.without_build_up.as_ref().unwrap();
    assert!((without.net_difference.value + 200.0 * 0.5 + 600.0 * 0.1).abs() < 1e-9);
    assert!((without.layers.value - 160.0).abs() < 1e-9);
    near(
        (without.zones[0].cut.value, without.zones[1].fill.value),
        (300.0, 400.0),
    );
    let layers = measured.surveyed.recipe.as_ref().unwrap().layers();
    let row = |index: usize| {
        let layer = layers[index];
        let count = &layer.counted[0];
        (
            layer.layer.as_str(),
            layer.volume,
            binary(count.count),
            count.cost,
        )
    };
    let (name, volume, count, cost) = row(0);
    assert_eq!(name, "asphalt");
    near((volume.value, count), (30.0, 72.0));
    assert_eq!(cost, Some(dec!(6480.00)));
    assert_eq!((row(1).0, row(1).2), ("stone", 9.0));
    // 600 over 55 are 10.909, as it is written 10.9.
    near((row(2).1.value, row(2).2), (60.0, 10.9));
    // The slope rises 1 in 10.
    assert!((layers[0].sloping_area.value - 200.0 * 1.01f64.sqrt()).abs() < 1e-9);
    assert!(measured.warnings.is_empty(), "{:?}", measured.warnings);
    // Only down to the top of the stone.
    let measured = folder.volume(&job, "slope", "base", &[]).unwrap();
    near((measured.zones[0].volume.cut.value, 0.0), (30.0, 0.0));
    // Measured as it is, a finished level is warned of.
    let measured = folder.volume(&job, "ground", "slope", &[]).unwrap();
    assert!(
        measured
            .warnings
            .iter()
            .any(|w| w.message.contains("\"slope\" is a finished level")),
        "{:?}",
        measured.warnings
    );
}

#[test]
fn overlapping_build_ups_need_an_order() {
    let folder = Folder::new();
    let text = |more: &str| {
        format!(
            "[surface.formation]\nstart = \"ground\"\nsteps = [{{ build-up = [\"road\", \"path\"]{more} }}]\n\
             [zone.middle]\ncorners = [[4005, 7000], [4015, 7000], [4015, 7020], [4005, 7020]]\n\
             [build-up.road]\nzones = \"west\"\nlayers = [{{ name = \"stone\", thickness = 0.5 }}]\n\
             [build-up.path]\nzones = \"middle\"\nlayers = [{{ name = \"gravel\", thickness = 0.1 }}]\n"
        )
    };
    let job = folder.job(&text("")).unwrap();
    let refused = folder.volume(&job, "ground", "formation", &[]).unwrap_err();
    assert!(
        refused
            .to_string()
            .starts_with("the build-ups \"road\" and \"path\" overlap on 100.0 m²"),
        "{refused}"
    );
    assert!(
        refused.place().unwrap().contains("line 18"),
        "{:?}",
        refused.place()
    );
    let job = folder.job(&text(", overlap = \"first\"")).unwrap();
    let measured = folder.volume(&job, "ground", "formation", &[]).unwrap();
    near(
        (measured.zones[0].volume.cut.value, 0.0),
        (200.0 * 0.5 + 100.0 * 0.1, 0.0),
    );
    assert!((measured.without_build_up.unwrap().layers.value - 110.0).abs() < 1e-9);
}

#[test]
fn a_job_in_feet_and_a_file_in_metres() {
    let folder = Folder::new();
    let text = "[job]\nname = \"a\"\nunit = \"ft\"\n[surface.ground]\nfile = \"ground.csv\"\nunit = \"m\"\n\
                [surface.made]\nstart = \"ground\"\nsteps = [{ raise = 10 }]\n";
    let job = Job::read(&folder.write("feet.toml", text)).unwrap();
    let measured = folder.volume(&job, "ground", "made", &[]).unwrap();
    // The file is in metres, and that is what is measured in.
    assert_eq!(measured.units.length, LengthUnit::Metre);
    assert!((measured.zones[0].volume.fill.value - 800.0 * 3.048).abs() < 1e-6);
    let request = |unit| {
        let context = Context {
            units: RequestedUnits {
                length: unit,
                ..RequestedUnits::default()
            },
            ..Context::of(&job)
        };
        let source = Source::Named("made".into());
        build(&context, &source).unwrap().0
    };
    let feet = request(Some(LengthUnit::ALL[1]));
    assert!(
        (feet.heights[0].value - (10.0 / 0.3048 + 10.0)).abs() < 1e-6,
        "{:?}",
        feet.heights
    );
}

#[test]
fn steps_are_told_with_what_they_changed() {
    let folder = Folder::new();
    let steps =
        "{ lower = 0.5, zones = \"west\" }, { keep = \"inside\", zones = \"west\" }, { raise = 0 }";
    let job = folder
        .job(&format!(
            "[surface.made]\nstart = \"ground\"\nsteps = [{steps}]\n"
        ))
        .unwrap();
    let built = folder.build(&job, "made").unwrap();
    let recipe = built.side.recipe.unwrap();
    let changes: Vec<_> = recipe
        .steps
        .iter()
        .map(|step| step.change.unwrap())
        .collect();
    near(
        (
            changes[0].area_changed.value,
            changes[0].volume_removed.value,
        ),
        (200.0, 100.0),
    );
    near(
        (changes[1].area_removed.value, changes[1].area_changed.value),
        (600.0, 0.0),
    );
    near(
        (changes[2].area_removed.value, changes[2].area_added.value),
        (0.0, 0.0),
    );
    assert_eq!(recipe.files().len(), 1);
    assert_eq!(recipe.steps[0].words(), "lowered by 0.5 m, zone west");
}

#[test]
fn a_design_is_balanced() {
    let folder = Folder::new();
    let text = "[surface.pad]\nstart = \"slope\"\nsteps = [{ platform = { outline = \"square\", level = 9, cut-slope = 1, \
                fill-slope = 1 } }]\n[zone.square]\ncorners = [[4015, 7005], [4025, 7005], [4025, 7015], [4015, 7015]]\n";
    let job = folder.job(text).unwrap();
    let request = |design: &str, platform: Option<&str>, shrink: &str| BalanceRequest {
        ground: Source::Named("slope".into()),
        design: Source::Named(design.into()),
        zones: Vec::new(),
        moving: Vec::new(),
        platform: platform.map(Into::into),
        line: None,
        swell: "25%".parse::<Swell>().unwrap(),
        shrink: shrink.parse::<Shrink>().unwrap(),
        range: None,
        max_leftover: 0.0,
    };
    let found = balance(&Context::of(&job), &request("ground", None, "0%")).unwrap();
    assert!(found.balanced && found.best.shift.value.abs() < 1e-9);
    near(
        (found.best.cut.value, found.best.fill.value),
        (400.0, 400.0),
    );
    // As designed, 0.81 of 400 falls short of 400 by 76; that is 76 / 0.81 in the bank.
    let found = balance(&Context::of(&job), &request("ground", None, "0.81")).unwrap();
    let rest = found.as_designed;
    near(
        (rest.surplus.value, rest.surplus_bank.value),
        (-76.0, -76.0 / 0.81),
    );
    near((rest.surplus_loose.value, 0.0), (-76.0 / 0.81 * 1.25, 0.0));
    // With the level at h: cut 100 (2 + u)², fill 100 (2 - u)², u = 10 - h: 0.9 (2 + u) = 2 - u.
    assert!(
        (found.best.shift.value + 0.2 / 1.9).abs() < 1e-9,
        "{:?}",
        found.best.shift
    );
    // A platform in the middle of the slope balances where it is level with it, whatever its slopes.
    let found = balance(&Context::of(&job), &request("pad", Some("square"), "0%")).unwrap();
    assert!(
        found.balanced && (found.best.shift.value - 1.0).abs() < 1e-3,
        "{:?}",
        found.best.shift
    );
    // The platform is one of the job, but no step of that design.
    let other = balance(&Context::of(&job), &request("ground", Some("square"), "0%")).unwrap_err();
    assert_eq!(other.to_string(), "the design has no platform \"square\"");
    let none = balance(&Context::of(&job), &request("pad", Some("yard"), "0%")).unwrap_err();
    assert_eq!(none.to_string(), "the design has no platform \"yard\"");
}

/// Every mistake is one diagnostic with its line, and what to do.
#[test]
fn mistakes_point_at_their_line() {
    let folder = Folder::new();
    let wrong = |text: &str, what: &str, line: usize, remedy: &str| {
        let error = folder
            .job(text)
            .map(|job| folder.build(&job, "made"))
            .and_then(|built| built);
        let error = error.expect_err(text);
        let place = error.place().unwrap();
        assert!(error.to_string().contains(what), "{text}\n{error}");
        assert!(
            place.contains(&format!("line {line},")),
            "{text}\n{error}\n{place}"
        );
        assert!(
            error.remedy().contains(remedy),
            "{text}\n{}",
            error.remedy()
        );
    };
    let made = |steps: &str| format!("[surface.made]\nstart = \"ground\"\nsteps = [\n{steps}\n]\n");
    // The text that tests write begins at line 16.
    wrong(
        &made("{ lowr = 0.3 }"),
        "\"lowr\" is not a key here",
        19,
        "use lower",
    );
    wrong(
        &made("{ }"),
        "the step does nothing",
        19,
        "use one of raise",
    );
    wrong(
        &made("{ raise = 1, level = 2 }"),
        "does more than one thing",
        19,
        "separate steps",
    );
    wrong(&made("{ raise = -1 }"), "is negative", 19, "use lower = 1");
    wrong(
        &made("{ raise = \"much\" }"),
        "found the text \"much\", expected a number",
        19,
        "write a number",
    );
    wrong(
        &made("{ raise = nan }"),
        "is not a height or length",
        19,
        "correct it",
    );
    wrong(
        &made("{ highest = \"slpoe\" }"),
        "there is no surface \"slpoe\"",
        19,
        "use \"slope\"",
    );
    wrong(
        &made("{ raise = 1, zones = \"yard\" }"),
        "there is no zone \"yard\"",
        19,
        "\"east\", \"west\"",
    );
    wrong(
        &made("{ keep = \"inside\" }"),
        "keep needs zones",
        19,
        "add zones",
    );
    wrong(
        &made("{ keep = \"within\", zones = \"west\" }"),
        "\"within\" is not a value for this key",
        19,
        "inside, outside",
    );
    wrong(
        &made("{ build-up = \"road\" }"),
        "there is no build-up \"road\"",
        19,
        "add a [build-up.\"road\"]",
    );
    wrong(
        &format!(
            "{}[zone.far]\ncorners = [[0, 0], [9, 0], [9, 9]]\n",
            made("{ raise = 1 }, { keep = \"inside\", zones = \"far\" }")
        ),
        "is outside the surface",
        19,
        "coordinate system",
    );
    wrong(
        &made("{ difference = \"made\" }"),
        "is made from itself: made, made from made",
        16,
        "from a file",
    );
    wrong(
        "[surface.made]\n",
        "has no file, level or start",
        16,
        "add one of file",
    );
    wrong(
        "[surface.made]\nstart = \"ground\"\nlevel = 4\n",
        "has more than one of file, level and start",
        16,
        "keep one",
    );
    wrong(
        "[surface.made]\nstart = \"ground\"\nthin = 0.5\n",
        "thin is for reading a file",
        16,
        "remove thin",
    );
    wrong(
        "[surface.made]\nfile = \"gone.csv\"\n",
        "cannot be read",
        16,
        "check the name",
    );
    wrong(
        "[surface.made]\nfile = \"ground.csv\"\n[surface.made]\nlevel = 1\n",
        "used twice",
        18,
        "another name",
    );
    wrong(
        "[surface.made]\nstart = \"other\"\n[surface.other]\nstart = \"made\"\n",
        "\"made\" is made from itself: made, made from other, made from made",
        16,
        "from a file",
    );
    let layers = |layers: &str| {
        format!(
            "[surface.made]\nstart = \"ground\"\nsteps = [{{ build-up = \"road\" }}]\n[build-up.road]\nzones = \"west\"\nlayers = [\n{layers}\n]\n"
        )
    };
    wrong(
        &layers("{ name = \"a\", thickness = -0.1 }"),
        "is -0.1 m thick",
        22,
        "above zero",
    );
    wrong(
        &layers("{ name = \"a\", thickness = 150 }"),
        "is 150 m thick",
        22,
        "150 mm",
    );
    wrong(
        &layers("{ name = \"a\", thickness = \"thick\" }"),
        "is not a thickness",
        22,
        "150 mm",
    );
    wrong(
        &layers("{ name = \"a\", thickness = 0.1 }, { name = \"a\", thickness = 0.1 }"),
        "layer \"a\" twice",
        22,
        "give them different names",
    );
    wrong(&layers(""), "has no layers", 19, "from the top down");
    wrong(
        &layers("{ name = \"a\", thickness = 0.1, counted = [{ in = \"t\" }] }"),
        "need one way to be counted",
        22,
        "per-volume",
    );
    let body = |entry: &str| {
        format!(
            "{}[zone.pad]\ncorners = [[4001, 7001], [4039, 7001], [4039, 7019]]\n",
            made(entry)
        )
    };
    wrong(
        &body("{ platform = { outline = \"pad\", level = 20, cut-slope = 2, fill-slope = 2 } }"),
        "the ground surface ends",
        19,
        "steeper slopes",
    );
    wrong(
        &body("{ platform = { outline = \"pad\", level = 20, cut-slope = 0, fill-slope = 2 } }"),
        "cut-slope = 0 is not above zero",
        19,
        "slope 1:n",
    );
    wrong(
        "[zone.open]\n",
        "neither a file nor corners",
        16,
        "add one of file",
    );
    wrong(
        "[line.bent]\ncorners = [[1, 2, 3]]\nheights = [[5, 1], [5, 2]]\n",
        "the distances of heights must ascend along the line",
        18,
        "sort them",
    );
    // What is no TOML at all, and what lacks its head.
    let bare = Job::read(&folder.write("bare.toml", "[job\n")).unwrap_err();
    assert!(
        bare.place().unwrap().contains("line 1"),
        "{:?}",
        bare.place()
    );
    let headless = Job::read(&folder.write("bare.toml", "[surface.a]\nlevel = 1\n")).unwrap_err();
    assert!(
        headless.to_string().starts_with("the key job is missing"),
        "{headless}"
    );
}

#[test]
fn names_and_files_are_told_apart() {
    let folder = Folder::new();
    let job = folder.job("").unwrap();
    let surface = |text: &str| job.surface(&text.parse().unwrap());
    assert_eq!(surface("ground").unwrap(), Source::Named("ground".into()));
    assert_eq!(
        surface("ground.csv").unwrap(),
        "ground.csv".parse().unwrap()
    );
    let unknown = surface("grund").unwrap_err();
    assert!(
        unknown
            .to_string()
            .contains("is not a file, and not a surface of"),
        "{unknown}"
    );
    assert!(
        unknown.remedy().starts_with("use \"ground\""),
        "{}",
        unknown.remedy()
    );
    let zone = job.zone(&"wets".parse().unwrap()).unwrap_err();
    assert!(
        zone.remedy().starts_with("use \"west\""),
        "{}",
        zone.remedy()
    );
    // This test runs in the crate's folder, in which there is a folder of that name.
    let both = folder
        .job("[surface.src]\nlevel = 1\n")
        .unwrap()
        .surface(&"src".parse().unwrap());
    assert!(both.unwrap_err().remedy().starts_with("use ./src"));
}

#[test]
fn the_first_job_file_runs_and_keeps_to_its_schema() {
    let folder = Folder::new();
    let job = Job::read(&folder.write("first.toml", &starter(&[]))).unwrap();
    let measured = folder.volume(&job, "finished", "formation", &[]).unwrap();
    near(
        (measured.zones[0].volume.cut.value, 0.0),
        (2400.0 * 0.37, 0.0),
    );
    let files = [
        ("ground".to_owned(), "ground.csv".to_owned()),
        ("odd \"name\"".into(), "slope.csv".into()),
    ];
    let job = Job::read(&folder.write("first.toml", &starter(&files))).unwrap();
    let built = folder.build(&job, "odd \"name\"").unwrap();
    assert_eq!(built.area.value, 800.0);

    let schema = job_schema();
    let steps = &schema["$defs"]["StepEntry"]["properties"];
    for key in [
        "raise", "lower", "move", "platform", "build-up", "stop-at", "zones",
    ] {
        assert!(steps[key].is_object(), "{key}: {schema:#}");
    }
    assert_eq!(schema["required"], serde_json::json!(["job"]));
    assert_eq!(schema["additionalProperties"], false);
}

/// The same line from a map, an alignment with its profile, and a drawing: the same embankment.
#[test]
fn lines_come_from_files() {
    let folder = Folder::new();
    folder.write(
        "line.geojson",
        r#"{"type":"FeatureCollection","features":[
        {"type":"Feature","properties":{"name":"bund"},"geometry":{"type":"LineString","coordinates":[[4010,7010,11],[4030,7010,12]]}},
        {"type":"Feature","properties":{"name":"other"},"geometry":{"type":"LineString","coordinates":[[4010,7010],[4030,7010]]}}]}"#,
    );
    folder.write(
        "line.xml",
        r#"<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">
        <Units><Metric linearUnit="meter"/></Units><Alignments><Alignment name="bund" length="20" staStart="0">
        <CoordGeom><Line><Start>7010 4010</Start><End>7010 4030</End></Line></CoordGeom>
        <Profile><ProfAlign name="top"><PVI>0 11</PVI><PVI>20 12</PVI></ProfAlign></Profile></Alignment></Alignments></LandXML>"#,
    );
    let polyline = "0\nSECTION\n2\nENTITIES\n0\nPOLYLINE\n8\nbund\n66\n1\n70\n8\n10\n0\n20\n0\n30\n0\n\
                    0\nVERTEX\n8\nbund\n10\n4010\n20\n7010\n30\n11\n0\nVERTEX\n8\nbund\n10\n4030\n20\n7010\n30\n12\n\
                    0\nSEQEND\n0\nENDSEC\n0\nEOF\n";
    folder.write("line.dxf", polyline);
    let made = |line: &str| {
        let text = format!(
            "[surface.made]\nstart = \"ground\"\nsteps = [{{ embankment = {{ line = \"bund\", width = 2, \
             cut-slope = 1, fill-slope = 1.5, ends = \"upright\" }} }}]\n[line.bund]\n{line}\n"
        );
        let job = folder.job(&text).unwrap();
        folder
            .volume(&job, "ground", "made", &[])
            .map(|measured| measured.zones[0].volume.fill)
    };
    for file in ["line.geojson#bund", "line.xml#bund", "line.dxf#bund"] {
        let fill = made(&format!("file = \"{file}\"")).unwrap();
        near((fill.value, 0.0), (20.0 * (3.0 + 1.5 * 7.0 / 3.0), 0.0));
    }
    let with_heights =
        made("file = \"line.geojson#other\"\nheights = [[0, 11], [20, 12]]").unwrap();
    near(
        (with_heights.value, 0.0),
        (20.0 * (3.0 + 1.5 * 7.0 / 3.0), 0.0),
    );
    folder.write(
        "ground.asc",
        "ncols 2\nnrows 2\nxllcorner 0\nyllcorner 0\ncellsize 10\n1 1\n1 1\n",
    );
    // The points of a delimited text, in their order.
    folder.write(
        "line.csv",
        "east,north,height\n4010,7010,11\n4030,7010,12\n",
    );
    let from_text = made("file = \"line.csv\"");
    assert!(from_text.is_ok(), "{from_text:?}");
    for (line, what) in [
        ("file = \"line.geojson#other\"", "corners without heights"),
        (
            "file = \"line.geojson\"",
            "the file does not have exactly one line",
        ),
        (
            "file = \"line.dxf#crest\"",
            "the file does not have exactly one line named \"crest\"",
        ),
        (
            "file = \"ground.asc\"",
            "the file holds surfaces, and lines are needed here",
        ),
    ] {
        let error = made(line).unwrap_err();
        assert!(error.to_string().contains(what), "{line}\n{error}");
        assert!(
            error.place().unwrap().contains("dapedon.toml, line 19"),
            "{:?}",
            error.place()
        );
    }
}

proptest::proptest! {
    #![proptest_config(proptest::prelude::ProptestConfig::with_cases(400))]

    /// Whatever becomes of its bytes, a job file is read or refused.
    #[test]
    fn broken_job_files_never_panic(changes in proptest::collection::vec((0usize..2500, proptest::num::u8::ANY), 1..9)) {
        let folder = TempDir::new().unwrap();
        let path = folder.path().join("job.toml");
        let mut bytes = starter(&[]).into_bytes();
        for (at, byte) in changes {
            let at = at % bytes.len();
            bytes[at] = byte;
        }
        fs::write(&path, bytes).unwrap();
        if let Err(error) = Job::read(&path) {
            proptest::prop_assert!(!error.to_string().is_empty() && !error.remedy().is_empty());
        }
    }
}

/// What may stand in a job file, from its schema.
fn reference() -> String {
    let schema = job_schema();
    let parts = [
        ("`[job]`", "FactsEntry"),
        ("`[report]`", "ReportEntry"),
        ("`[surface.NAME]`", "SurfaceEntry"),
        ("`accuracy = { ... }` of a surface", "AccuracyNumbersEntry"),
        ("`[reading.NAME]`", "ReadingEntry"),
        ("a step of a surface", "StepEntry"),
        ("`platform = { ... }`", "PlatformEntry"),
        ("`embankment = { ... }`", "EmbankmentEntry"),
        ("`swept = { ... }`", "SweptEntry"),
        (
            "`cut-bench = { ... }` and `fill-bench = { ... }`",
            "BenchEntry",
        ),
        ("`regrade = { ... }`", "RegradeEntry"),
        ("`[typical-section.NAME]`", "TypicalSectionEntry"),
        ("a break of a typical section", "SectionBreakEntry"),
        ("`[zone.NAME]`", "ZoneEntry"),
        ("`[line.NAME]`", "LineEntry"),
        ("`[bands.NAME]`", "BandsEntry"),
        ("`[build-up.NAME]`", "BuildUpEntry"),
        ("a layer of a build-up", "LayerEntry"),
        ("`counted = [{ ... }]` of a layer", "CountedEntry"),
        ("`[material.NAME]`", "MaterialEntry"),
        (
            "`uncertainty = { ... }` of a material",
            "FactorUncertaintyEntry",
        ),
        ("`density = { ... }`", "StatedDensity"),
        ("`import = { ... }` and `export = { ... }`", "PriceEntry"),
        ("`counted = [{ ... }]` of a material", "PackedEntry"),
        ("`[vehicle.NAME]`", "VehicleEntry"),
        ("`[[item]]`", "ItemEntry"),
        ("`sections = { ... }` of an item", "SectionsEntry"),
        ("`stated = [{ ... }]` of an item", "StatedEntry"),
        ("`[calendar]`", "CalendarEntry"),
        ("`[terms]`", "TermsEntry"),
        ("`[[claim]]`", "ClaimEntry"),
        ("`line = [{ ... }]` of a claim", "ClaimLineEntry"),
        ("`extra = [{ ... }]` of a claim", "ClaimExtraEntry"),
        ("`correction = [{ ... }]` of a claim", "CorrectionEntry"),
        (
            "`price-adjustment = { ... }` of a claim",
            "PriceAdjustmentEntry",
        ),
        (
            "`release`, `advance` and `recovery = { ... }` of a claim",
            "ClaimAmountEntry",
        ),
        ("`[[certificate]]`", "CertificateEntry"),
        ("`line = [{ ... }]` of a certificate", "CertifiedLineEntry"),
        ("`[[untouched]]`", "UntouchedEntry"),
        ("`[[conformity]]`", "ConformityEntry"),
        ("`[[acknowledged]]`", "AcknowledgedEntry"),
    ];
    let defined = schema["$defs"].as_object().unwrap().iter();
    for (name, entry) in defined.filter(|(_, entry)| entry["properties"].is_object()) {
        assert!(
            parts.iter().any(|(_, listed)| listed == name),
            "{name} is not listed: {entry}"
        );
    }
    let mut text = String::new();
    for (title, name) in parts {
        let entry = &schema["$defs"][name];
        let about = entry["description"].as_str().unwrap();
        text.push_str(&format!(
            "\n### {title}\n\n{}\n\n| key | meaning |\n| --- | --- |\n",
            on_one_line(about)
        ));
        let required = entry["required"].as_array().cloned().unwrap_or_default();
        for (key, value) in entry["properties"].as_object().unwrap() {
            let meaning = on_one_line(value["description"].as_str().unwrap());
            let needed = if required.contains(&key.as_str().into()) {
                " Needed."
            } else {
                ""
            };
            text.push_str(&format!("| `{key}` | {meaning}{needed} |\n"));
        }
    }
    text
}

fn on_one_line(text: &str) -> String {
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

#[test]
fn the_reference_is_that_of_the_schema() {
    const PAGE: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/job-file.md");
    const MARK: &str = "## All keys\n";
    let page = fs::read_to_string(PAGE).unwrap();
    let (head, keys) = page.split_once(MARK).unwrap();
    let expected = reference();
    if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
        fs::write(PAGE, format!("{head}{MARK}{expected}")).unwrap();
        return;
    }
    assert!(
        keys == expected,
        "write it anew with DAPEDON_WRITE_DOCS=1 cargo test -p dapedon-job"
    );
}
