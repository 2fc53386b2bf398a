//! How two surveys compare on ground that nobody touched.

use dapedon_job::{
    Bill, Length, Measurement, ReportUnits, Untouched, UntouchedVerdict, UntouchedZone, Volumes,
    WithoutShift, ZoneMeasurement,
};

use super::cells;
use crate::number::grouped;
use crate::report::{Block, Cell, Column, Group, Kind, Report, Row, RowKind, ShownOn, Table};

/// Two surveys by their names, and the units they are reported in.
struct Surveys<'r> {
    reference: &'r str,
    surveyed: &'r str,
    units: &'r ReportUnits,
}

/// Adds it to the report of a measurement.
pub(super) fn untouched(m: &Measurement, report: &mut Report) {
    let surveys = Surveys {
        reference: &m.reference.source,
        surveyed: &m.surveyed.source,
        units: &m.units,
    };
    if let Some(found) = &m.untouched {
        report.heading("Untouched ground");
        compared(&surveys, found, report);
        if let Some(without) = &found.without {
            report.add(Block::Table(effect(m, without)));
        }
    }
    if let Some(proposed) = &m.proposed_untouched {
        report.heading("Ground that may be untouched");
        let ground = &proposed.ground;
        let words = format!(
            "The largest connected ground, outside of what is measured, on which the difference is the same everywhere: {} {}, where \"{}\" is {} than \"{}\" on average. Ground that was stripped or filled evenly looks the same, so it is only proposed. If nobody touched it, give it as --untouched.",
            grouped(ground.area.value, m.units.decimals),
            ground.area.unit.symbol(),
            surveys.surveyed,
            higher(ground.mean),
            surveys.reference
        );
        report.add(Block::Paragraph(words));
        report.add(Block::Table(zones(&surveys, &[ground])));
    }
}

/// Adds it to the report of a bill.
pub(super) fn untouched_of_bill(bill: &Bill, report: &mut Report) {
    if bill.untouched.is_empty() {
        return;
    }
    report.heading("Untouched ground");
    for own in &bill.untouched {
        let surveys = Surveys {
            reference: &own.reference,
            surveyed: &own.surveyed,
            units: &bill.units,
        };
        compared(&surveys, &own.compared, report);
        if own.items.is_empty() {
            continue;
        }
        let volume = Kind::Volume(bill.units.volume, bill.units.decimals);
        let rows = own
            .items
            .iter()
            .map(|item| Row::new(RowKind::Plain, cells![&item.code, item.change]));
        let title = format!(
            "Without the shift of \"{}\", what items measure would grow by, {}",
            own.surveyed,
            bill.units.volume.symbol()
        );
        let table = Table {
            of: Some(("survey", own.surveyed.clone())),
            keys: vec![Column::text("item")],
            groups: vec![Group::new(
                title,
                vec![Column::new("change without the shift", volume).head("change")],
            )],
            rows: rows.collect(),
        };
        report.add(Block::Table(table));
        let words = "To first order: the area that counts, times the shift. The bill itself is not changed.";
        report.add(Block::Paragraph(words.into()));
    }
}

/// What it says of two surveys, and the figures.
fn compared(surveys: &Surveys<'_>, found: &Untouched, report: &mut Report) {
    if let Some(whole) = found.whole() {
        report.add(Block::Paragraph(verdict(surveys, found, whole)));
    }
    let rows: Vec<&UntouchedZone> = found.zones.iter().chain(&found.together).collect();
    report.add(Block::Table(zones(surveys, &rows)));
    report.add_on(ShownOn::Page, Block::Paragraph(EXPLAINED.into()));
}

const EXPLAINED: &str = "All ground counts by its plan area. The spread is the standard deviation from the mean; the robust spread is half of the range that the middle 68 % of the ground lie in, which a few odd places do not change. Expected is what follows from the stated accuracy of both surveys. The tilt is the plane that is closest to the differences.";

/// A difference of heights, with its way in words.
fn higher(figure: Length) -> String {
    let way = if figure.value < 0.0 {
        "lower"
    } else {
        "higher"
    };
    format!("{} {way}", told(figure))
}

fn told(figure: Length) -> String {
    format!(
        "{} {}",
        grouped(figure.value.abs(), 3),
        figure.unit.symbol()
    )
}

/// What it says of the surveys.
fn verdict(surveys: &Surveys<'_>, found: &Untouched, whole: &UntouchedZone) -> String {
    let shift = format!(
        "On {} {} that nobody touched \"{}\" is {} than \"{}\" on average.",
        grouped(whole.area.value, surveys.units.decimals),
        whole.area.unit.symbol(),
        surveys.surveyed,
        higher(whole.mean),
        surveys.reference
    );
    let Some(expected) = &whole.expected else {
        return format!(
            "{shift} The accuracy of both surveys is not stated, so this is not judged: state it with --reference-accuracy and --surveyed-accuracy, or the key accuracy."
        );
    };
    let explained = format!(
        "Their stated accuracy explains ±{} at 95 %",
        told(expected.mean * expected.coverage_factor)
    );
    let rest = match found.verdict {
        UntouchedVerdict::Shift => {
            format!(
                "{explained}, so one of them is shifted. The shift is in every volume between them."
            )
        }
        UntouchedVerdict::Tilt => {
            let lean = whole.tilt.map(|tilt| told(tilt.deviation));
            format!(
                "It also leans: the tilt alone makes differences spread by {}, more than the errors of points explain. The tilt is in every volume between them.",
                lean.unwrap_or_default()
            )
        }
        UntouchedVerdict::Noise => format!(
            "{explained}. But single places spread by {}, where {} is expected: the points are less accurate than stated, or the ground is rougher than they show.",
            told(whole.robust_deviation),
            told(expected.deviation)
        ),
        _ => format!("{explained}: the surveys agree."),
    };
    format!("{shift} {rest}")
}

/// The figures of each zone.
fn zones(surveys: &Surveys<'_>, zones: &[&UntouchedZone]) -> Table {
    let units = surveys.units;
    let height = Kind::Length(Some(units.length), 3);
    let judged = zones.iter().any(|zone| zone.expected.is_some());
    let expected = if judged {
        ShownOn::Both
    } else {
        ShownOn::Sheet
    };
    let groups = vec![
        Group {
            on: ShownOn::Page,
            ..Group::new(
                "Ground",
                vec![
                    Column::new("area", Kind::Area(units.area, units.decimals)),
                    Column::new("points of the reference", Kind::Count).head("reference points"),
                    Column::new("points of the surveyed surface", Kind::Count)
                        .head("surveyed points"),
                ],
            )
        },
        Group {
            note: "surveyed less reference".into(),
            ..Group::new(
                format!("Difference, {}", units.length.symbol()),
                vec![
                    Column::new("mean difference", height.clone()).head("mean"),
                    Column::new("expected of the mean", height.clone())
                        .head("expected ±")
                        .on(expected),
                    Column::new("spread", height.clone()).head("spread"),
                    Column::new("robust spread", height.clone()).head("robust"),
                    Column::new("expected spread", height.clone())
                        .head("expected spread")
                        .on(expected),
                    Column::new("lowest difference", height.clone()).head("lowest"),
                    Column::new("lowest at", Kind::Place)
                        .head("at east / north")
                        .on(ShownOn::Page),
                    Column::new("highest difference", height.clone()).head("highest"),
                    Column::new("highest at", Kind::Place)
                        .head("at east / north")
                        .on(ShownOn::Page),
                    Column::new("median difference", height.clone())
                        .head("median")
                        .on(ShownOn::Page),
                ],
            )
        },
        Group::new(
            "Tilt, in 1000",
            vec![
                Column::new("rise to the east in 1000", Kind::Length(None, 2)).head("east"),
                Column::new("rise to the north in 1000", Kind::Length(None, 2)).head("north"),
                Column::new("spread from the tilt", height).head("spread"),
            ],
        ),
    ];
    let row = |(index, zone): (usize, &&UntouchedZone)| {
        let mut cells = cells![
            &zone.zone,
            zone.area,
            zone.reference_points as u64,
            zone.surveyed_points as u64,
            zone.mean,
        ];
        let place = |at: dapedon_job::Extreme| Cell::Place([at.east, at.north]);
        cells.push(Cell::from(
            zone.expected.map(|own| own.mean * own.coverage_factor),
        ));
        cells.extend(cells![zone.deviation, zone.robust_deviation]);
        cells.push(Cell::from(zone.expected.map(|own| own.deviation)));
        cells.extend([
            zone.lowest.into(),
            place(zone.lowest_at),
            zone.highest.into(),
            place(zone.highest_at),
            zone.median.into(),
        ]);
        cells.extend(match zone.tilt {
            Some(tilt) => [
                Cell::Number(1000.0 * tilt.rise_east),
                Cell::Number(1000.0 * tilt.rise_north),
                tilt.deviation_without.into(),
            ],
            None => ["", "", ""].map(Cell::from),
        });
        let total = index > 0 && index + 1 == zones.len();
        let kind = if total {
            RowKind::Total
        } else {
            RowKind::Plain
        };
        Row::new(kind, cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups,
        rows: zones.iter().enumerate().map(row).collect(),
    }
}

/// What the measurement is without the shift, and how it changes.
fn effect(m: &Measurement, without: &WithoutShift) -> Table {
    let volume = Kind::Volume(m.units.volume, m.units.decimals);
    let columns = ["cut", "fill", "net"].into_iter().flat_map(|name| {
        [
            Column::new(format!("{name} without it"), volume.clone()).head(name),
            Column::new(format!("change of {name}"), volume.clone()).head("change"),
        ]
    });
    let row = |kind: RowKind, zone: &ZoneMeasurement, own: &Volumes| {
        let mut cells = cells![&zone.zone];
        let pairs = [
            (own.cut, zone.volume.cut),
            (own.fill, zone.volume.fill),
            (own.net, zone.volume.net),
        ];
        for (without, with) in pairs {
            cells.push(without.into());
            cells.push(without.with(without.value - with.value).into());
        }
        Row::new(kind, cells)
    };
    let zones = m.zones.iter().zip(&without.zones);
    let rows = zones.map(|(zone, own)| row(RowKind::Plain, zone, own));
    let total = (m.total.iter()).map(|total| row(RowKind::Total, total, &without.total));
    let by = without.raised_by;
    let moved = match by.value < 0.0 {
        true => format!("lowered by {}", told(by)),
        false => format!("raised by {}", told(by)),
    };
    let tilt = if without.tilt_removed {
        " in the middle of that ground and its tilt taken off"
    } else {
        ""
    };
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups: vec![Group::new(
            format!(
                "With \"{}\" {moved}{tilt}, {}",
                m.surveyed.source,
                m.units.volume.symbol()
            ),
            columns.collect(),
        )],
        rows: rows.chain(total).collect(),
    }
}
