//! From files to figures: totals, units, and what is given on the way.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fs;
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};

use dapedon_core::units::{Foot, LengthUnit};
use dapedon_job::{
    Activity, Context, FindingCode, Measurement, NoOverlapError, Reading, Request,
    RequestedAreaUnit, RequestedVolumeUnit, StoppedError, Watch, ZoneSource, inspect, measure,
};
use tempfile::TempDir;

struct Folder(TempDir);

impl Folder {
    fn new() -> Self {
        Folder(TempDir::new().unwrap())
    }

    fn write(&self, name: &str, text: &str) -> PathBuf {
        let path = self.0.path().join(name);
        fs::write(&path, text).unwrap();
        path
    }

    /// A level sheet of 30 by 10 at a height, as points.
    fn sheet(&self, name: &str, height: f64) -> PathBuf {
        let corners = [(0, 0), (30, 0), (30, 10), (0, 10)];
        let rows = corners.map(|(e, n)| format!("{},{},{height}\n", 4000 + e, 7000 + n));
        self.write(
            name,
            &format!("# made up\neast,north,height\n{}", rows.concat()),
        )
    }

    /// Zones ten wide, side by side, of the given lengths.
    fn zones(&self, lengths: &[(&str, u32)]) -> ZoneSource {
        let mut west = 4000;
        let features = lengths.iter().map(|(name, length)| {
            let east = west + length;
            let ring = format!("[[{west},7000],[{east},7000],[{east},7010],[{west},7010],[{west},7000]]");
            west = east;
            format!(r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"Polygon","coordinates":[{ring}]}}}}"#)
        });
        let features = features.collect::<Vec<_>>().join(",");
        let path = self.write(
            "zones.geojson",
            &format!(r#"{{"type":"FeatureCollection","features":[{features}]}}"#),
        );
        ZoneSource::File { path, name: None }
    }
}

fn request(reference: &Path, surveyed: &Path) -> Request {
    let source = |path: &Path| path.display().to_string().parse().unwrap();
    Request::between(source(reference), source(surveyed))
}

/// Files that say no unit are in metres.
fn in_metres() -> Context<'static> {
    Context {
        reading: Reading {
            unit: Some(LengthUnit::Metre),
            ..Reading::default()
        },
        ..Context::default()
    }
}

fn figures(request: &Request) -> Measurement {
    measure(&in_metres(), request).unwrap().0
}

#[track_caller]
fn near(found: f64, expected: f64) {
    assert!(
        (found - expected).abs() <= 1e-9 * expected.abs().max(1.0),
        "{found} is not {expected}"
    );
}

#[test]
fn the_total_is_the_sum_and_the_mean_is_weighted() {
    let folder = Folder::new();
    let low = folder.sheet("low.csv", 5.0);
    // A wedge: 0 at the west, 3 at the east.
    let wedge = folder.write(
        "wedge.csv",
        "east,north,height\n4000,7000,5\n4030,7000,8\n4030,7010,8\n4000,7010,5\n",
    );
    let mut request = request(&low, &wedge);
    request.zones = vec![folder.zones(&[("a", 10), ("b", 20)])];
    let measured = figures(&request);
    let total = measured.total.unwrap();
    near(measured.zones[0].volume.fill.value, 10.0 * 10.0 * 0.5);
    near(measured.zones[1].volume.fill.value, 20.0 * 10.0 * 2.0);
    near(total.volume.fill.value, 450.0);
    near(total.area.compared.value, 300.0);
    let difference = total.difference.unwrap();
    near(difference.mean.value, 1.5);
    near(difference.max.value, 3.0);
    near(difference.max_at.east, 4030.0);
    near(difference.min.value, 0.0);
    assert_eq!(total.net_in_words(), "more fill than cut");
    assert!(measured.warnings.is_empty(), "{:?}", measured.warnings);
    let path = request.zones[0].path().unwrap().into();
    request.zones[0] = ZoneSource::File {
        path,
        name: Some("b".into()),
    };
    assert!(figures(&request).total.is_none());
}

#[test]
fn the_reference_sets_the_unit_unless_one_is_asked_for() {
    let folder = Folder::new();
    let (low, high) = (folder.sheet("low.csv", 5.0), folder.sheet("high.csv", 7.0));
    let request = request(&low, &high);
    near(figures(&request).zones[0].volume.fill.value, 600.0);
    let mut context = in_metres();
    context.reading.unit = Some(LengthUnit::Foot(Foot::UsSurvey));
    let feet = measure(&context, &request).unwrap().0;
    assert_eq!(
        (feet.units.length.code(), &*feet.units.volume.code()),
        ("us-ft", "us-yd3")
    );
    near(feet.zones[0].volume.fill.value, 600.0 / 27.0);
    context.units.length = Some(LengthUnit::Metre);
    context.units.area = Some(RequestedAreaUnit::Hectare);
    context.units.volume = Some(RequestedVolumeUnit::CubicFoot);
    let metres = measure(&context, &request).unwrap().0;
    assert_eq!(
        (
            metres.units.length.code(),
            &*metres.units.area.code(),
            &*metres.units.volume.code()
        ),
        ("m", "ha", "ft3")
    );
    let foot: f64 = 1200.0 / 3937.0;
    near(
        metres.zones[0].area.compared.value,
        300.0 * foot.powi(2) / 10_000.0,
    );
    near(
        metres.zones[0].volume.fill.value,
        600.0 * (foot / 0.3048).powi(3),
    );
    assert!(
        metres
            .surveyed
            .notes
            .contains(&"converted from US survey foot to metre".to_owned())
    );
}

#[test]
fn what_was_done_on_the_way_is_said() {
    let folder = Folder::new();
    let low = folder.sheet("low.csv", 5.0);
    let rows = "4000,7000,6\n4030,7000,6\n4030,7010,6\n4030,7010,6\n4000,7010,6\n";
    let high = folder.write("high.csv", &format!("east,north,height\n{rows}"));
    let measured = figures(&request(&low, &high));
    let notes = |notes: &[String], part: &str| notes.iter().any(|note| note.contains(part));
    assert!(notes(&measured.reference.notes, "1 comment lines skipped"));
    assert!(notes(&measured.surveyed.notes, "1 repeated points merged"));
    assert!(notes(
        &measured.surveyed.notes,
        "no unit in the file, metre"
    ));
    assert_eq!(measured.surveyed.points, Some(5));
    let file = measured.surveyed.file.unwrap();
    assert_eq!(file.sha256, dapedon_job::digest(&fs::read(&high).unwrap()));
}

#[test]
fn inspecting_says_what_measuring_would_find() {
    let folder = Folder::new();
    let look = |path: &Path| inspect(&Context::default(), path).unwrap().0;
    let points = look(&folder.sheet("low.csv", 5.0));
    let found = &points.surfaces[0];
    let corners = (
        found.min.map(|south_west| south_west.east),
        found.max.map(|north_east| north_east.north),
    );
    assert_eq!((found.points, found.heights), (4, Some([5.0, 5.0])));
    assert_eq!(corners, (Some(4000.0), Some(7010.0)));
    assert!(
        points
            .warnings
            .iter()
            .any(|warning| warning.code == FindingCode::NoUnit)
    );

    let zones = look(folder.zones(&[("a", 10), ("b", 20)]).path().unwrap());
    let areas: Vec<_> = (zones.zones.iter())
        .map(|zone| (zone.name.as_str(), zone.area))
        .collect();
    assert_eq!(areas, [("a", 100.0), ("b", 200.0)]);

    let xml = r#"<LandXML><Units><Imperial linearUnit="foot"/></Units><Surfaces>
        <Surface name="one"><Definition><Pnts><P id="1">0 0 1</P><P id="2">0 6 1</P><P id="3">4 0 9</P></Pnts>
        <Faces><F>1 2 3</F><F>1 3 2</F><F>1 1 2</F></Faces></Definition></Surface>
        <Surface name="two"><SourceData/></Surface></Surfaces></LandXML>"#;
    let surfaces = look(&folder.write("two.xml", xml));
    let found = &surfaces.surfaces;
    assert_eq!(
        (
            surfaces.unit,
            found.len(),
            found[0].triangles,
            found[0].area
        ),
        (Some("ft".into()), 2, 2, 12.0)
    );
    let warnings = surfaces.warnings.iter().map(ToString::to_string);
    let said: Vec<String> = warnings.chain(found[0].notes.clone()).collect();
    let said = said.join("; ");
    for part in [
        "triangles without plan area skipped: 1",
        "clockwise triangles reversed: 1",
        "overlaps itself on 12.000 ft²",
        "surface \"two\": the file has no points",
    ] {
        assert!(said.contains(part), "{part} is not in {said}");
    }
}

#[test]
fn every_error_has_a_place_or_needs_none_and_a_remedy() {
    let folder = Folder::new();
    let low = folder.sheet("low.csv", 5.0);
    let far = folder.write("far.csv", "east,north,height\n0,0,1\n9,0,1\n0,9,1\n");
    let apart = measure(&in_metres(), &request(&low, &far)).unwrap_err();
    assert!(matches!(
        apart.kind(),
        Some(NoOverlapError::Surfaces { hint: None, .. })
    ));
    assert_eq!(
        (apart.place(), apart.remedy().as_str()),
        (None, "check that both are in the same coordinate system")
    );
    let unknown = measure(&Context::default(), &request(&low, &far)).unwrap_err();
    assert_eq!(unknown.place(), Some(low.display().to_string()));
    let missing = measure(
        &in_metres(),
        &request(&low, Path::new("/nowhere/at/all.csv")),
    )
    .unwrap_err();
    assert_eq!(
        missing.to_string(),
        "the file cannot be read: no such file or directory"
    );
}

/// Progress is reported, each file once, in the order it is done.
#[test]
fn what_is_done_is_told() {
    let folder = Folder::new();
    let (low, high) = (folder.sheet("low.csv", 5.0), folder.sheet("high.csv", 7.0));
    let zones = folder.zones(&[("a", 10)]);
    let told = Arc::new(Mutex::new(Vec::new()));
    let tell = {
        let told = told.clone();
        move |doing: &Activity, share: f64| {
            let words = match doing {
                Activity::Reading(source) => format!("reading {source}"),
                Activity::ReadingZones(zones) => format!("reading {zones}"),
                Activity::Making(source) => format!("making {source}"),
                Activity::Measuring { number, of, .. } => format!("measuring {number} of {of}"),
                other => format!("{other:?}"),
            };
            told.lock().unwrap().push((words, share));
        }
    };
    let context = Context {
        watch: Watch::telling(tell),
        ..in_metres()
    };
    let zone = zones.path().unwrap().display().to_string();
    let request = Request {
        zones: vec![zones],
        ..request(&low, &high)
    };
    measure(&context, &request).unwrap();
    let [low, high] = [low, high].map(|path| path.display().to_string());
    let expected = [
        format!("reading {low}"),
        format!("reading {high}"),
        format!("reading {zone}"),
        format!("making {low}"),
        format!("making {high}"),
        "measuring 1 of 1".to_owned(),
    ];
    let told = told.lock().unwrap();
    let begun = told.iter().filter(|(_, share)| *share == 0.0);
    let mut begun: Vec<&String> = begun.map(|(words, _)| words).collect();
    begun.dedup();
    assert_eq!(begun, expected.iter().collect::<Vec<_>>());
    // A file is reported of until all its bytes are read.
    for name in &expected[..3] {
        let shares = told.iter().filter(|(words, _)| words == name);
        let shares: Vec<f64> = shares.map(|(_, share)| *share).collect();
        assert!(
            shares.is_sorted() && shares.last() == Some(&1.0),
            "{name}: {shares:?}"
        );
    }
}

/// Work that is stopped gives no figure; on threads of one's own the figures are the same.
#[test]
fn work_can_be_stopped_and_given_threads() {
    let folder = Folder::new();
    let (low, high) = (folder.sheet("low.csv", 5.0), folder.sheet("high.csv", 7.0));
    let request = request(&low, &high);
    // While a file is read, when a surface is made, and within an overlay.
    let stages: [fn(&Activity) -> bool; 3] = [
        |doing| matches!(doing, Activity::Reading(_)),
        |doing| matches!(doing, Activity::Making(_)),
        |doing| matches!(doing, Activity::Measuring { .. }),
    ];
    for stops_at in stages {
        let stop = Arc::new(AtomicBool::new(false));
        let tell = {
            let stop = stop.clone();
            move |doing: &Activity, _: f64| {
                stop.fetch_or(stops_at(doing), Ordering::Relaxed);
            }
        };
        let context = Context {
            watch: Watch::telling(tell).stopped_by(stop),
            ..in_metres()
        };
        let stopped = measure(&context, &request).unwrap_err();
        assert!(stopped.kind::<StoppedError>().is_some(), "{stopped}");
    }
    let threads = rayon::ThreadPoolBuilder::new();
    let threads = threads.num_threads(2).build().unwrap();
    let context = Context {
        threads: Some(&threads),
        ..in_metres()
    };
    let own = measure(&context, &request).unwrap().0;
    assert_eq!(own, measure(&in_metres(), &request).unwrap().0);
}
