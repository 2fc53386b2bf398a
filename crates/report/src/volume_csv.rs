//! A measurement as comma-separated text, for a spreadsheet.

use std::io;

use dapedon_job::{Measurement, ZoneMeasurement};

use crate::csv_text::cell;

/// A measurement: a line for each zone, and one for all where there are several; figures unrounded, in the units that
/// stand in the heading. What is negative in `net` and the differences is cut.
///
/// # Errors
///
/// When it cannot be written.
pub fn volume_csv(measurement: &Measurement) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let units = &measurement.units;
    let (length, area, volume) = (units.length.code(), units.area.code(), units.volume.code());
    let neither = measurement
        .zones
        .iter()
        .any(|zone| zone.area.neither.is_some());
    let mut heading = vec!["zone".to_owned()];
    heading.extend(["cut", "fill", "net", "unchanged"].map(|of| format!("{of} {volume}")));
    let areas = [
        "compared",
        "cut area",
        "fill area",
        "unchanged area",
        "reference only",
        "surveyed only",
    ];
    heading.extend(areas.map(|of| format!("{of} {area}")));
    heading.extend(neither.then(|| format!("neither {area}")));
    let differences = ["lowest difference", "highest difference", "mean difference"];
    heading.extend(differences.map(|of| format!("{of} {length}")));
    out.write_record(&heading)?;
    for zone in measurement.zones.iter().chain(&measurement.total) {
        out.write_record(row(zone))?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}

fn row(zone: &ZoneMeasurement) -> Vec<String> {
    let (volume, area) = (&zone.volume, &zone.area);
    let figures = [
        volume.cut,
        volume.fill,
        volume.net,
        volume.unchanged,
        area.compared,
        area.cut,
        area.fill,
        area.unchanged,
        area.reference_only,
        area.surveyed_only,
    ];
    let difference = zone
        .difference
        .map(|found| [found.min, found.max, found.mean]);
    let differences = difference.map_or(Default::default(), |found| {
        found.map(|figure| figure.to_string())
    });
    let figures = figures
        .into_iter()
        .chain(area.neither)
        .map(|figure| figure.to_string());
    [cell(&zone.zone)]
        .into_iter()
        .chain(figures)
        .chain(differences)
        .collect()
}
