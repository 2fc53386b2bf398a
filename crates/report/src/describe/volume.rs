//! A measurement between two surfaces.

use dapedon_job::{
    Areas, DepthSlice, Measurement, Volume, Volumes, WithoutBuildUp, ZoneDepths, ZoneMeasurement,
};

use super::bands::bands;
use super::layers::layers;
use super::opinions::opinions;
use super::steps::{ItemSteps, converted};
use super::uncertainty::{expanded, plus_minus, uncertainty};
use super::untouched::untouched;
use super::{cells, closure_cells, closure_columns, closure_words, unit_words};
use crate::number::grouped;
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, Kind, Picture, Report, Row, RowKind, ShownOn,
    Table,
};

/// What was measured between two surfaces, with pictures of it.
pub fn volume(measurement: &Measurement, pictures: Vec<Picture>) -> Report {
    let m = measurement;
    let mut report = Report {
        lead: vec![lead(m)],
        job: m.job.clone(),
        headlines: headlines(m),
        inputs: [("Reference", &m.reference), ("Surveyed", &m.surveyed)]
            .map(|(role, side)| Input::side(role, side))
            .into_iter()
            .chain(Input::zones(&m.zone_files))
            .chain(Input::lines(&m.line_files))
            .collect(),
        findings: m.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Map", pictures);
    report.add(Block::Table(zones(m)));
    if covered(m) {
        let where_to = match m.zone_files.is_empty() && m.zones.len() == 1 {
            true => "Both surfaces cover the same ground.",
            false => "Both surfaces cover all zones.",
        };
        report.add(Block::Paragraph(where_to.into()));
    }
    uncertainty(m, &mut report);
    if let Some(found) = &m.second_opinions {
        report.heading("Second opinions");
        opinions(found, &m.units, None, ShownOn::Both, &mut report);
    }
    untouched(m, &mut report);
    if let Some(found) = &m.bands {
        report
            .blocks
            .extend(bands(found, &m.units, None, ShownOn::Both));
    }
    by_depth(m, &mut report);
    if let Some(without) = &m.without_build_up {
        below(m, without, &mut report);
    }
    conversions(m, &mut report);
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    method(m, &mut report);
    report.add_on(ShownOn::Terminal, Block::Inputs);
    report
}

fn lead(m: &Measurement) -> String {
    let zones = match (m.zone_files.is_empty(), m.zones.len()) {
        (true, _) => String::new(),
        (false, 1) => ", 1 zone".into(),
        (false, count) => format!(", {count} zones"),
    };
    format!(
        "Earthwork volume from {} (reference) to {} (surveyed){zones}.",
        m.reference.source, m.surveyed.source
    )
}

/// All zones, or the only one.
fn whole(m: &Measurement) -> Option<&ZoneMeasurement> {
    m.total.as_ref().or(m.zones.first())
}

fn headlines(m: &Measurement) -> Vec<Headline> {
    let Some(whole) = whole(m) else {
        return Vec::new();
    };
    let Volumes { cut, fill, net, .. } = whole.volume;
    let means = whole.net_in_words();
    [
        ("Cut", cut, ""),
        ("Fill", fill, ""),
        ("Net, fill less cut", net, means),
    ]
    .map(|(label, figure, words)| Headline {
        label: label.into(),
        figure: told_volume(m, figure.value),
        words: match plus_minus(m, figure) {
            Some(sure) if words.is_empty() => sure,
            Some(sure) => format!("{sure}, {words}"),
            None => words.into(),
        },
    })
    .to_vec()
}

/// A volume with its unit.
fn told_volume(m: &Measurement, figure: f64) -> String {
    let figure = grouped(figure, m.units.decimals);
    format!("{figure} {}", m.units.volume.symbol())
}

/// True where no ground is missing from a surface: columns that tell of it would hold nothing but zeros.
fn covered(m: &Measurement) -> bool {
    let area = |zone: &ZoneMeasurement| {
        let Areas {
            reference_only,
            surveyed_only,
            neither,
            ..
        } = zone.area;
        [Some(reference_only), Some(surveyed_only), neither]
    };
    m.zones
        .iter()
        .flat_map(area)
        .flatten()
        .all(|area| area.value == 0.0)
}

/// All figures of each zone.
fn zones(m: &Measurement) -> Table {
    let units = m.units;
    let volume = Kind::Volume(units.volume, units.decimals);
    let area = Kind::Area(units.area, units.decimals);
    let height = Kind::Length(Some(units.length), 3);
    // Without zones there is no ground that both could be missing from.
    let neither = m.zones.iter().any(|zone| zone.area.neither.is_some());
    let mut areas = vec![
        Column::new("compared area", area.clone()).head("compared"),
        Column::new("cut area", area.clone()).head("cut"),
        Column::new("fill area", area.clone()).head("fill"),
        Column::new("unchanged area", area.clone()).head("unchanged"),
    ];
    let alone = if covered(m) {
        ShownOn::Sheet
    } else {
        ShownOn::Both
    };
    for name in ["reference only", "surveyed only"] {
        areas.push(Column::new(name, area.clone()).head(name).on(alone));
    }
    areas.extend(neither.then(|| {
        Column::new("neither", area.clone())
            .head("neither")
            .on(alone)
    }));
    let groups = vec![
        Group::new(
            format!("Volume, {}", units.volume.name()),
            vec![
                Column::new("cut volume", volume.clone()).head("cut"),
                Column::new("fill volume", volume.clone()).head("fill"),
                Column::new("net volume", volume.clone()).head("net"),
                Column::text("in words"),
                Column::new("unchanged volume", volume)
                    .head("unchanged")
                    .on(ShownOn::Page),
            ],
        ),
        Group::new(format!("Plan area, {}", units.area.name()), areas),
        Group {
            note: "surveyed less reference, negative is cut".into(),
            ..Group::new(
                format!("Difference, {}", units.length.symbol()),
                vec![
                    Column::new("lowest difference", height.clone()).head("lowest"),
                    Column::new("lowest at", Kind::Place).head("at east / north"),
                    Column::new("highest difference", height.clone()).head("highest"),
                    Column::new("highest at", Kind::Place).head("at east / north"),
                    Column::new("mean difference", height).head("mean"),
                ],
            )
        },
        Group {
            on: ShownOn::Page,
            ..Group::new("Closure", closure_columns(&Kind::Area(units.area, 4)))
        },
    ];
    let row = |kind: RowKind, z: &ZoneMeasurement| {
        let (volume, area) = (z.volume, z.area);
        let mut cells = cells![
            &z.zone,
            volume.cut,
            volume.fill,
            volume.net,
            z.net_in_words(),
            volume.unchanged,
            area.compared,
            area.cut,
            area.fill,
            area.unchanged,
            area.reference_only,
            area.surveyed_only,
        ];
        cells.extend(neither.then(|| Cell::from(area.neither)));
        cells.extend(match z.difference {
            None => cells!["none", "", "none", "", ""],
            Some(d) => {
                let place = |at: dapedon_job::Extreme| Cell::Place([at.east, at.north]);
                vec![
                    d.min.into(),
                    place(d.min_at),
                    d.max.into(),
                    place(d.max_at),
                    d.mean.into(),
                ]
            }
        });
        cells.extend(closure_cells(&z.closure));
        Row::new(kind, cells)
    };
    let rows = m.zones.iter().map(|zone| row(RowKind::Plain, zone));
    let total = m.total.iter().map(|total| row(RowKind::Total, total));
    Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups,
        rows: rows.chain(total).collect(),
    }
}

/// Cut and fill depth by depth.
fn by_depth(m: &Measurement, report: &mut Report) {
    let lifts = |zone: &ZoneDepths| [("cut", zone.cut.clone()), ("fill", zone.fill.clone())];
    let mut all = m.by_depth.iter().flat_map(|z| z.cut.iter().chain(&z.fill));
    if m.by_depth.is_empty() {
        return;
    }
    // Where there are levels, depths would only be reported from another end.
    let leveled = all.any(|lift| lift.levels.is_some());
    report.heading("Depth slices");
    let words = match leveled {
        true => {
            "Volume between two levels, and its running total, in the order of digging or filling. The area is that of the ground within the slice."
        }
        false => {
            "Volume between two depths, and its running total: below the reference in cut, above it in fill. The area is that of the ground deeper than the top of the slice."
        }
    };
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    let (units, what) = (m.units, if leveled { "level" } else { "depth" });
    let height = Kind::Length(Some(units.length), 2);
    let volume = Kind::Volume(units.volume, units.decimals);
    let sure = all.clone().any(|slice| slice.volume.uncertainty.is_some());
    let factor = (m.uncertainty.as_ref().filter(|_| sure)).map(|own| own.coverage_factor);
    let mut columns = vec![
        Column::new(format!("to {what}"), height.clone()),
        Column::new("area", Kind::Area(units.area, units.decimals)),
        Column::new("volume", volume.clone()),
    ];
    if factor.is_some() {
        columns.push(Column::new("uncertainty of the volume", volume.clone()).head("±"));
    }
    columns.push(Column::new("running volume", volume).head("running"));
    let row = |lift: &DepthSlice| {
        let [from, to] = lift.levels.unwrap_or([lift.from, lift.to]);
        let mut cells = cells![from, to, lift.area, lift.volume];
        cells.extend(factor.map(|_| expanded(lift.volume, factor)));
        cells.push(lift.running_total.into());
        Row::new(RowKind::Plain, cells)
    };
    let mut rows = Vec::new();
    for zone in &m.by_depth {
        for (way, lifts) in lifts(zone) {
            if !lifts.is_empty() {
                rows.push(Row::section(format!("{}, {way}", zone.zone)));
                rows.extend(lifts.iter().map(row));
            }
        }
    }
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::new(format!("from {what}"), height)],
        groups: vec![Group::new("", columns)],
        rows,
    }));
}

/// The build-ups that a side lies below, and what is measured without them.
fn below(m: &Measurement, without: &WithoutBuildUp, report: &mut Report) {
    for side in [&m.reference, &m.surveyed] {
        let found = side.recipe.as_ref().map_or(Vec::new(), |r| r.layers());
        if !found.is_empty() {
            report.heading(format!("Build-up above \"{}\"", side.source));
            let of = Some(("surface", side.source.clone()));
            report.add(Block::Table(layers(of, &found, &m.units, &m.currency)));
        }
    }
    let volume = Kind::Volume(m.units.volume, m.units.decimals);
    let title = format!("Without the build-up, {}", m.units.volume.name());
    let columns = [
        ("cut without the build-up", "cut"),
        ("fill without the build-up", "fill"),
        ("net without the build-up", "net"),
        ("net with the build-up", "net with it"),
        ("difference of net", "difference"),
    ];
    let columns = columns.map(|(name, head)| Column::new(name, volume.clone()).head(head));
    let row = |kind: RowKind, name: &str, bare: &Volumes, net: Volume, difference: Volume| {
        let cells = cells![name, bare.cut, bare.fill, bare.net, net, difference];
        Row::new(kind, cells)
    };
    let zones = m.zones.iter().zip(&without.zones);
    let rows = zones.map(|(with, bare)| {
        let net = with.volume.net;
        let difference = net.with(net.value - bare.net.value);
        row(RowKind::Plain, &with.zone, bare, net, difference)
    });
    let total = m.total.iter().map(|total| {
        let (net, difference) = (total.volume.net, without.net_difference);
        row(RowKind::Total, "total", &without.total, net, difference)
    });
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("zone")],
        groups: vec![Group::new(title, columns.to_vec())],
        rows: rows.chain(total).collect(),
    }));
    let layers = without.layers.value.abs();
    let apart = (without.net_difference.value.abs() - layers).abs();
    let share = match apart <= 1e-6 * layers.max(1.0) {
        true => "all of it within the measured area".to_owned(),
        false => format!(
            "{} of that within the measured area",
            told_volume(m, without.net_difference.value.abs())
        ),
    };
    let layers = told_volume(m, layers);
    let words = format!("The layers add up to {layers}, {share}. This is the difference.");
    report.add(Block::Paragraph(words));
}

/// What cut and fill become.
fn conversions(m: &Measurement, report: &mut Report) {
    if m.converted.is_empty() {
        return;
    }
    report.heading("Converted");
    let words = "Each line is computed from the one before, rounded as shown.";
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    let told = ItemSteps {
        volume: m.units.volume.symbol(),
        currency: m.currency.as_deref().unwrap_or_default(),
    };
    for line in &m.converted {
        report.add(Block::Lines(converted(line, &told)));
    }
}

fn method(m: &Measurement, report: &mut Report) {
    let length = m.units.length;
    report.add_on(ShownOn::Page, Block::heading("Method"));
    let words = format!(
        "The triangles of both surfaces are intersected. Each piece is split where the difference changes sign, and its volume is integrated, without sampling. {} Each figure is rounded separately, so sums may differ in the last digit.",
        unit_words(length)
    );
    report.add_on(ShownOn::Page, Block::Paragraph(words));
    let pieces = m.zones.iter().map(|zone| zone.closure.pieces).sum();
    let worst = m.zones.iter().map(|zone| zone.closure.relative);
    let worst = worst.fold(0.0, f64::max);
    let words = closure_words(pieces, worst, "");
    report.add_on(ShownOn::Terminal, Block::Paragraph(words));
    let unchanged: f64 = m.zones.iter().map(|zone| zone.volume.unchanged.value).sum();
    match m.tolerance.value {
        tolerance if tolerance > 0.0 => report.add(Block::Paragraph(format!(
            "Unchanged: differences within ±{tolerance} {}. Their {} are in none of the volumes above.",
            length.symbol(),
            told_volume(m, unchanged)
        ))),
        _ => report.add_on(
            ShownOn::Page,
            Block::Paragraph("No tolerance: every difference is cut or fill.".into()),
        ),
    }
}
