//! Progress against boxes of ground: whatever was dug, filled and dug again, both ways agree.

#![allow(
    clippy::unwrap_used,
    reason = "a test that cannot go on should say where"
)]

use std::fmt::Write as _;
use std::path::Path;

use dapedon_job::{Context, Job, PeriodRow, Progress, progress};
use proptest::prelude::*;

/// Two zones of 10 by 10 side by side, at levels that change from survey to survey, above and below the ground at 10.
fn followed(measure: &str, surveys: &[[f64; 2]], unit: &str) -> Progress {
    let mut text = format!(
        r#"
[job]
name = "Yard"
unit = "{unit}"
[report]
decimals = 3
[zone.west]
corners = [[0, 0], [10, 0], [10, 10], [0, 10]]
[zone.east]
corners = [[10, 0], [20, 0], [20, 10], [10, 10]]
[zone.site]
corners = [[0, 0], [20, 0], [20, 10], [0, 10]]
[surface.ground]
level = 10
steps = [{{ keep = "inside", zones = "site" }}]
[[item]]
code = "1"
description = "Dig"
unit = "m3"
measure = "{measure}"
reference = "ground"
surveys = [{}]
zones = ["west", "east"]
"#,
        (0..surveys.len())
            .map(|number| format!("\"s{number}\","))
            .collect::<String>()
    );
    for (number, [west, east]) in surveys.iter().enumerate() {
        let month = number + 1;
        write!(
            text,
            "[surface.s{number}]\nstart = \"ground\"\ndate = 2031-{month:02}-28\nsteps = [{{ level = {west}, zones = \"west\" }}, {{ level = {east}, zones = \"east\" }}]\n"
        )
        .unwrap();
    }
    let job = Job::of_text(Path::new("dapedon.toml"), &text).unwrap();
    progress(&Context::of(&job), &[]).unwrap().0
}

/// A row by hand, from the levels before and after: dug, placed, filled again, dug again, cut and fill to date.
fn by_hand(before: f64, after: f64) -> [f64; 6] {
    let up = |height: f64| 100.0 * height.max(0.0);
    [
        up(before - after),
        up(after - before),
        up(after.min(10.0) - before),
        up(before - after.max(10.0)),
        up(10.0 - after),
        up(after - 10.0),
    ]
}

fn found(row: &PeriodRow) -> [f64; 6] {
    [
        row.dug,
        row.placed,
        row.filled_again,
        row.dug_again,
        row.cut_to_date,
        row.fill_to_date,
    ]
    .map(|volume| volume.value)
}

/// 100 m² times heights that are told to some 1e-7: 1e-5 m³.
const NEAR: f64 = 1e-5;

proptest! {
    #![proptest_config(ProptestConfig::with_cases(16))]

    #[test]
    fn every_row_is_as_by_hand(surveys in prop::collection::vec(prop::array::uniform2(7.0..13.0f64), 2..5)) {
        let all = followed("cut", &surveys, "m");
        let item = &all.items[0];
        prop_assert_eq!(item.surveys.len(), surveys.len());
        for (number, survey) in item.surveys.iter().enumerate() {
            for (zone, row) in survey.zones.iter().enumerate() {
                let before = number.checked_sub(1).map_or(10.0, |before| surveys[before][zone]);
                let expected = by_hand(before, surveys[number][zone]);
                for (found, expected) in found(row).into_iter().zip(expected) {
                    prop_assert!((found - expected).abs() < NEAR, "{:?} {:?}", row, expected);
                }
                prop_assert!(row.unexplained.value.abs() < NEAR);
            }
            let rows = || survey.zones.iter();
            let undone: f64 = rows().map(|row| row.filled_again.value + row.dug_again.value).sum();
            if let Some(between) = survey.between_surveys {
                let apart = dapedon_contract::binary(between) - dapedon_contract::binary(survey.period);
                // Of rows that are rounded to thousandths, three for each zone.
                prop_assert!((apart - undone).abs() < 0.0035, "{apart} {undone}");
            }
        }
        prop_assert!(item.warnings.iter().all(|own| own.code.code() != "periods-differ"));
    }

    /// Turned upside down, what was dug was placed; and the order of the surveys in time is that of the undone work.
    #[test]
    fn upside_down_cut_is_fill(surveys in prop::collection::vec(prop::array::uniform2(7.0..13.0f64), 2..4)) {
        let turned: Vec<[f64; 2]> = surveys.iter().map(|levels| levels.map(|level| 20.0 - level)).collect();
        let (one, other) = (followed("cut", &surveys, "m"), followed("fill", &turned, "m"));
        for (a, b) in one.items[0].surveys.iter().zip(&other.items[0].surveys) {
            prop_assert_eq!((a.to_date, a.period, a.between_surveys), (b.to_date, b.period, b.between_surveys));
            for (a, b) in a.zones.iter().zip(&b.zones) {
                let (a, [dug, placed, filled, again, cut, fill]) = (found(a), found(b));
                for (a, b) in a.into_iter().zip([placed, dug, again, filled, fill, cut]) {
                    prop_assert!((a - b).abs() < NEAR);
                }
            }
        }
    }
}

/// In feet, quantities in cubic metres are those of the same job in metres, as the foot is 0.3048 m.
#[test]
fn a_job_in_feet_has_the_same_boxes() {
    let surveys = [[9.0, 10.0], [9.5, 8.0], [11.0, 8.0]];
    let [metres, feet] = ["m", "ft"].map(|unit| followed("cut", &surveys, unit));
    let cubic = 0.3048f64.powi(3);
    for (m, f) in metres.items[0].surveys.iter().zip(&feet.items[0].surveys) {
        let [m, f] = [m.to_date, f.to_date].map(dapedon_contract::binary);
        assert!((m * cubic - f).abs() < 0.0011, "{m} {f}");
    }
}
