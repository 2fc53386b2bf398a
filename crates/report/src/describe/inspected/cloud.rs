//! A cloud of points.

use dapedon_core::units::{AreaUnit, LengthUnit};
use dapedon_job::CloudFound;

use super::{Fact, area, cells, count, fact, range, table};
use crate::report::{Block, Column, Kind};

pub(super) fn facts(cloud: &CloudFound, unit: Option<LengthUnit>) -> Vec<Fact> {
    let packed = if cloud.packed { ", packed" } else { "" };
    let made = match cloud.written_by.as_str() {
        "" => String::new(),
        program => format!(", written by {program}"),
    };
    let deleted = match cloud.points_deleted {
        0 => String::new(),
        n => format!(", {} of them deleted", count(n)),
    };
    let returns = cloud.returns.iter().enumerate();
    let returns: Vec<String> = returns
        .map(|(index, points)| match index {
            0 => format!("{} first", count(*points)),
            1 => format!("{} second", count(*points)),
            2 => format!("{} third", count(*points)),
            n => format!("{} {}th", count(*points), n + 1),
        })
        .collect();
    let of = match unit {
        Some(unit) => AreaUnit::usual(unit).symbol().to_owned(),
        None => "square unit".into(),
    };
    vec![
        fact("cloud", format!("version {}{packed}{made}", cloud.version)),
        fact("points", format!("{}{deleted}", count(cloud.points))),
        fact("returns", returns.join(", ")),
        fact(
            "density",
            format!(
                "{:.1} points used per {of}, over the {} with points",
                cloud.density,
                area(cloud.area_with_points, unit)
            ),
        ),
    ]
}

pub(super) fn classes(cloud: &CloudFound, path: &str) -> Option<Block> {
    let all: u64 = cloud.classes.iter().map(|class| class.points).sum();
    let rows = cloud.classes.iter().map(|class| {
        cells![
            format!("{} {}", class.class, class.name),
            class.points,
            class.points as f64 / all as f64,
            range(class.heights, 2),
        ]
    });
    let columns = vec![
        Column::new("points", Kind::Count),
        Column::new("share", Kind::Share),
        Column::text("heights"),
    ];
    table(path, vec![Column::text("class")], columns, rows.collect())
}
