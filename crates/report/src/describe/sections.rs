//! Cross-sections along a line, and the volumes between them.

mod layers;

use dapedon_core::units::AreaUnit;
use dapedon_job::{ExactVolumes, SectionShares, SectionVolumes, Sections, Stretch};

use super::uncertainty::{greatest, stated};
use super::{cells, count};
use crate::number::{GAP, grouped, rounded_with, written};
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, InputOf, Kind, Picture, Report, Row, RowKind,
    ShownOn, Table,
};

/// Decimals of lengths, of areas in sections and of heights.
const LENGTHS: usize = 2;
const AREAS: usize = 2;
const HEIGHTS: usize = 3;

/// Sections along a line, with pictures of them.
pub fn sections(found: &Sections, pictures: Vec<Picture>) -> Report {
    let mut report = Report {
        lead: vec![lead(found)],
        job: found.job.clone(),
        headlines: headlines(found),
        inputs: inputs(found),
        findings: found.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Sections", pictures);
    report.add_on(ShownOn::Terminal, Block::Paragraph(report.lead.join(" ")));
    report.add(Block::Table(table(found)));
    uncertain(found, &mut report);
    match &found.exact {
        Some(exact) => against(found, exact, &mut report),
        None => report.add(Block::Paragraph(
            "Sections cross each other, so that their strip is not one piece of ground: there is no volume between the surfaces to compare with."
                .into(),
        )),
    }
    if !found.layers.is_empty() {
        layers::layers(found, &mut report);
    }
    if let Some(carried) = &found.mass_haul {
        super::haul::haul(carried, found, &mut report);
    }
    if found
        .sections
        .iter()
        .any(|section| !section.surfaces.is_empty())
    {
        report.add_on(ShownOn::Page, Block::heading("Corners"));
        report.add_on(ShownOn::Page, Block::Table(corners(found)));
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add(Block::Inputs);
    report
}

fn lead(found: &Sections) -> String {
    let symbol = found.units.length.symbol();
    let every = found.interval.map_or(String::new(), |interval| {
        format!(" every {} {symbol}", interval.value)
    });
    let wide = match found.widths {
        Some([left, right]) if left == right => format!(", {} {symbol} to each side", left.value),
        Some([left, right]) => format!(
            ", {} {symbol} to the left and {} {symbol} to the right",
            left.value, right.value
        ),
        None => ", out to the edge of the zones".into(),
    };
    let correction = match found.curve_correction {
        true => ", corrected for curves",
        false => "",
    };
    format!(
        "{} sections along {}{every}{wide}, from {} (reference) to {} (surveyed). Volumes by {}{correction}.",
        count(found.sections.len()),
        found.line.line,
        found.reference.source,
        found.surveyed.source,
        found.rule.words()
    )
}

fn headlines(found: &Sections) -> Vec<Headline> {
    let symbol = found.units.volume.symbol();
    let headline = |label: &str, value: f64, words: &str| Headline {
        label: label.into(),
        figure: format!("{} {symbol}", grouped(value, found.units.decimals)),
        words: words.into(),
    };
    let SectionVolumes { cut, fill, net } = found.total;
    vec![
        headline("Cut", cut.value, "by sections"),
        headline("Fill", fill.value, "by sections"),
        headline("Net", net.value, "fill less cut"),
    ]
}

fn inputs(found: &Sections) -> Vec<Input> {
    let sides = [
        ("Reference", &found.reference),
        ("Surveyed", &found.surveyed),
    ];
    let others = found.others.iter().map(|side| ("Also cut", side));
    let sides = sides.into_iter().chain(others);
    let mut inputs: Vec<Input> = sides.map(|(role, side)| Input::side(role, side)).collect();
    inputs.extend(found.line.file.as_ref().map(|file| Input {
        role: "Line".into(),
        of: InputOf::File(file.clone()),
    }));
    inputs.extend(Input::zones(&found.zone_files));
    inputs
}

/// A row for each section, with what lies between it and the one before.
fn table(found: &Sections) -> Table {
    let unit = found.units.length;
    let area = Kind::Area(AreaUnit::usual(unit), AREAS);
    let length = Kind::Length(Some(unit), LENGTHS);
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let head = |words: &str, kind: &Kind| format!("{words}, {}", kind.symbol());
    let column = |name: &str, words: &str, kind: &Kind| {
        Column::new(name, kind.clone()).head(head(words, kind))
    };
    let is_short = |section: &dapedon_job::Section| section.not_compared > 0.0;
    let mut own = vec![
        column("cut area", "cut area", &area),
        column("fill area", "fill area", &area),
    ];
    let short = found.sections.iter().any(is_short);
    own.extend(short.then(|| column("width not compared", "not compared", &length).marked()));
    own.extend([
        column("length", "length", &length),
        column("cut", "cut", &volume),
        column("fill", "fill", &volume),
    ]);
    let running = vec![
        column("running cut", "cut", &volume),
        column("running fill", "fill", &volume),
        column("running net", "net", &volume),
    ];
    let mut places = vec![
        Column::new("east", Kind::Length(Some(unit), HEIGHTS)),
        Column::new("north", Kind::Length(Some(unit), HEIGHTS)),
        Column::new("bearing", Kind::Degrees),
    ];
    let height = Kind::Length(Some(unit), HEIGHTS);
    let names = names(found);
    let heights = names.iter().map(|name| {
        let words = name.clone();
        Column::new(format!("height of {name}"), height.clone()).head(head(&words, &height))
    });
    places.extend(heights);
    let has_heights = found
        .sections
        .iter()
        .any(|section| section.line_height.is_some());
    places
        .extend(has_heights.then(|| {
            Column::new("height of the line", height.clone()).head(head("line", &height))
        }));
    let row = |(number, section): (usize, &dapedon_job::Section)| {
        let stretch = number
            .checked_sub(1)
            .and_then(|before| found.stretches.get(before));
        let missing = match section.cut {
            Some(_) => Cell::Empty,
            None => Cell::from("no ground"),
        };
        let areas = [section.cut, section.fill].map(|area| match area {
            Some(area) => Cell::Number(area.value),
            None => missing.clone(),
        });
        let mut cells = cells![section.chainage];
        cells.extend(areas);
        cells.extend(short.then(|| match is_short(section) {
            true => Cell::Number(section.not_compared),
            false => Cell::Empty,
        }));
        let stretch_cells = |of: &Stretch| {
            let SectionVolumes { cut, fill, .. } = of.volume;
            let running = of.running;
            cells![of.length, cut, fill, running.cut, running.fill, running.net]
        };
        cells.extend(stretch.map_or(vec![Cell::Empty; 6], stretch_cells));
        cells.extend(cells![section.east, section.north, section.bearing]);
        cells.extend(section.heights.iter().map(|height| match height {
            Some(height) => Cell::Number(*height),
            None => Cell::from("none"),
        }));
        cells.extend(has_heights.then(|| Cell::from(section.line_height)));
        let kind = if is_short(section) {
            RowKind::Off
        } else {
            RowKind::Plain
        };
        Row::new(kind, cells)
    };
    // Behind an upright face the areas are others: a row of their own.
    let ahead = |section: &dapedon_job::Section| {
        let areas = section.ahead?;
        let cells = cells![section.chainage, areas.cut, areas.fill];
        Some(Row::new(RowKind::Plain, cells))
    };
    let rows = found.sections.iter().enumerate();
    let mut rows: Vec<Row> = rows
        .flat_map(|(number, section)| [Some(row((number, section))), ahead(section)])
        .flatten()
        .collect();
    let is_upright = found.sections.iter().any(|section| section.ahead.is_some());
    let note = match is_upright {
        true => {
            "length and volumes are from the section before; at an upright face areas just before and just behind it"
        }
        false => "length and volumes are from the section before",
    };
    if let (Some(first), Some(last)) = (found.sections.first(), found.sections.last()) {
        let SectionVolumes { cut, fill, .. } = found.total;
        let mut cells = cells!["total", "", ""];
        cells.extend(short.then_some(Cell::Empty));
        cells.extend(cells![last.distance - first.distance, cut, fill]);
        rows.push(Row::new(RowKind::Total, cells));
    }
    Table {
        of: None,
        keys: vec![Column::new("chainage", Kind::Chainage(unit, LENGTHS))],
        groups: vec![
            Group {
                note: note.into(),
                ..Group::new("Sections", own)
            },
            Group {
                note: "net is fill less cut".into(),
                ..Group::new("Running", running)
            },
            Group {
                on: ShownOn::Page,
                ..Group::new("On the line", places)
            },
        ],
        rows,
    }
}

/// The names of all surfaces.
fn names(found: &Sections) -> Vec<String> {
    let two = [&found.reference, &found.surveyed].into_iter();
    two.chain(&found.others)
        .map(|side| side.source.clone())
        .collect()
}

/// How uncertain the volumes are, and how accurate both surfaces.
fn uncertain(found: &Sections, report: &mut Report) {
    let Some(own) = &found.uncertainty else {
        return;
    };
    let SectionVolumes { cut, fill, net } = found.total;
    let symbol = found.units.volume.symbol();
    let each = [("cut", cut), ("fill", fill), ("net", net)].map(|(name, figure)| {
        let both = (figure.uncertainty)
            .and_then(|standard| rounded_with(figure.value, own.coverage_factor * standard));
        both.map(|[figure, expanded]| {
            format!(
                "{name} {} ± {} {symbol}",
                written(figure),
                written(expanded)
            )
        })
    });
    let each: Vec<String> = each.into_iter().flatten().collect();
    let sides = [&found.reference, &found.surveyed];
    let [reference, surveyed] = sides.map(|side| side.source.as_str());
    let net = &own.volumes.net;
    let most = match greatest(net, [reference, surveyed]) {
        Some((side, words, _)) => {
            format!(" Most of that of the net comes from {words} in \"{side}\".")
        }
        None => String::new(),
    };
    report.heading("Uncertainty");
    report.add(Block::Paragraph(format!(
        "{} (in 95 of 100 cases, coverage factor k = {}). It follows from the stated accuracy of both surfaces along the sections; what lies between the sections is not in it, and is seen below.{most}",
        each.join(", "),
        own.coverage_factor
    )));
    stated(sides, found.units.length, report);
}

/// The volumes by sections against those between the surfaces, where the difference comes from, and which interval would do.
fn against(found: &Sections, exact: &ExactVolumes, report: &mut Report) {
    report.add(Block::heading("Against the volume between the surfaces"));
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let columns = ["cut", "fill", "net"].map(|name| Column::new(name, volume.clone()));
    let row = |words: &str, of: &SectionVolumes| {
        Row::new(RowKind::Plain, cells![words, of.cut, of.fill, of.net])
    };
    let shares = [exact.share.cut, exact.share.fill]
        .map(|share| share.map_or(Cell::Empty, |share| Cell::from(percent(share))));
    let [cut, fill] = shares;
    report.add(Block::Table(Table {
        of: None,
        keys: vec![Column::text("over the same strip")],
        groups: vec![Group::new("", columns.to_vec())],
        rows: vec![
            row("by sections", &found.total),
            row("between the surfaces", &exact.volume),
            row("difference", &exact.difference),
            Row::new(RowKind::Plain, vec![Cell::from("in percent"), cut, fill]),
        ],
    }));
    if !exact.worst.is_empty() {
        report.add(Block::Table(worst(found, exact)));
    }
    let symbol = found.units.length.symbol();
    if let Some(enough) = &found.enough {
        let interval = enough.interval.value;
        let off = off(&enough.share);
        let words = match enough.within_one_percent {
            true => format!(
                "At an interval of {interval} {symbol} the difference is within one percent ({off}): measured, not estimated."
            ),
            false => format!(
                "Even at an interval of {interval} {symbol}, the shortest that was tried, the difference is {off}."
            ),
        };
        report.add(Block::Paragraph(words));
    }
}

/// The stretches with the largest difference.
fn worst(found: &Sections, exact: &ExactVolumes) -> Table {
    let volume = Kind::Volume(found.units.volume, found.units.decimals);
    let chainage = Kind::Chainage(found.units.length, LENGTHS);
    let mut columns = vec![Column::new("to", chainage.clone())];
    let symbol = volume.symbol();
    for what in ["cut", "fill"] {
        let heads = [
            ("by sections", format!("{what} by sections, {symbol}")),
            ("between the surfaces", format!("surfaces, {symbol}")),
            ("difference", format!("difference, {symbol}")),
        ];
        columns.extend(
            heads.into_iter().map(|(name, head)| {
                Column::new(format!("{what} {name}"), volume.clone()).head(head)
            }),
        );
    }
    let row = |&stretch: &usize| {
        let (from, to) = (
            found.sections.get(stretch)?,
            found.sections.get(stretch + 1)?,
        );
        let own = found.stretches.get(stretch)?;
        let between = own.exact.as_ref()?;
        let mut cells = cells![from.chainage, to.chainage];
        for (sections, exact) in [
            (own.volume.cut, between.cut),
            (own.volume.fill, between.fill),
        ] {
            cells.extend(cells![sections, exact, sections.value - exact.value]);
        }
        Some(Row::new(RowKind::Plain, cells))
    };
    Table {
        of: None,
        keys: vec![Column::new("from", chainage)],
        groups: vec![Group::new("Largest differences", columns)],
        rows: exact.worst.iter().filter_map(row).collect(),
    }
}

/// A share in percent, with its sign.
fn percent(share: f64) -> String {
    let words = format!("{:.2}", 100.0 * share.abs());
    let sign = match words.as_str() {
        "0.00" => "",
        _ if share < 0.0 => "−",
        _ => "+",
    };
    format!("{sign}{words}{GAP}%")
}

fn off(share: &SectionShares) -> String {
    let told = [("cut", share.cut), ("fill", share.fill)];
    let told = told
        .iter()
        .filter_map(|(what, share)| Some(format!("{what} {}", percent((*share)?))));
    told.collect::<Vec<_>>().join(", ")
}

/// Offsets and heights of all surfaces in all sections.
fn corners(found: &Sections) -> Table {
    let length = Kind::Length(Some(found.units.length), HEIGHTS);
    let mut rows = Vec::new();
    for section in &found.sections {
        for surface in &section.surfaces {
            for (run, corners) in surface.runs.iter().enumerate() {
                rows.extend(corners.iter().map(|[offset, height]| {
                    let cells = cells![
                        section.chainage,
                        &surface.surface,
                        run + 1,
                        *offset,
                        *height
                    ];
                    Row::new(RowKind::Plain, cells)
                }));
            }
        }
    }
    Table {
        of: None,
        keys: vec![
            Column::new("chainage", Kind::Chainage(found.units.length, LENGTHS)),
            Column::text("surface"),
        ],
        groups: vec![Group::new(
            "",
            vec![
                Column::new("run", Kind::Count),
                Column::new("offset", length.clone()),
                Column::new("height", length),
            ],
        )],
        rows,
    }
}
