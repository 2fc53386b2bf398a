//! The bill of a job: its lines, how each is computed, and what becomes of the materials.

use dapedon_job::{
    Bill, BillConformity, BillItem, COVERAGE_FACTOR, ConformityVerdict, ItemRow, MaterialBalance,
    MaterialFacts, ZoneMeasurement,
};

use super::bands::bands;
use super::conformity::conformity_of_bill;
use super::opinions::{counted, opinions, opinions_of_items};
use super::steps::{ItemSteps, how, measured, moved};
use super::to_limit::work_to_limit;
use super::uncertain_items::uncertain_items;
use super::untouched::untouched_of_bill;
use super::{cells, closure_words, unit_words};
use crate::number::rounded_with;
use crate::report::{
    Block, Cell, Column, Formula, Group, Headline, Input, Kind, Picture, Report, Row, RowKind,
    ShownOn, Table,
};

/// Descriptions are broken at this many characters on a terminal.
pub(super) const DESCRIPTION: usize = 44;

/// A bill, with pictures of where its items lie; how each quantity is computed on a terminal where that is wanted.
pub fn bill(bill: &Bill, with_how: bool, pictures: Vec<Picture>) -> Report {
    let surfaces = bill
        .surfaces
        .iter()
        .map(|side| Input::side("Surface", side));
    let mut report = Report {
        lead: vec!["Measured bill of the job.".into()],
        job: Some(bill.job.clone()),
        headlines: headlines(bill),
        inputs: surfaces
            .chain(Input::zones(&bill.zone_files))
            .chain(Input::files("Line", &bill.line_files))
            .collect(),
        ..Report::default()
    };
    for item in bill.items() {
        let own = item.findings.iter().chain(&item.warnings);
        report
            .findings
            .extend(own.map(|finding| finding.clone().at(format!("item {}", item.code))));
    }
    report.findings.extend(bill.warnings.iter().cloned());
    report
        .findings
        .sort_by_key(|finding| std::cmp::Reverse(finding.severity));

    let contract =
        (bill.job.contract.as_ref()).map_or(String::new(), |name| format!(", contract {name}"));
    let name = format!("{}{contract}", bill.job.name);
    report.add_on(ShownOn::Terminal, Block::heading(name));
    report.add_on(ShownOn::Page, Block::heading("The bill"));
    report.add(Block::Table(lines(bill)));
    let words = "Quantities are rounded to the decimals shown, amounts to two decimals, halves away from zero. Sums are sums of the rounded figures.";
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    uncertain_items(bill, &mut report);
    // Where the computation is shown, it has them item by item.
    let summed = if with_how {
        ShownOn::Page
    } else {
        ShownOn::Both
    };
    work_to_limit(bill, &mut report);
    opinions_of_items(bill, summed, &mut report);
    conformity_of_bill(bill, &mut report);
    untouched_of_bill(bill, &mut report);
    materials(bill, &mut report);
    let on = if with_how {
        ShownOn::Both
    } else {
        ShownOn::Page
    };
    report.add_on(
        ShownOn::Page,
        Block::heading("How each quantity is computed"),
    );
    computed(bill, on, &mut report);
    if !bill.material_balance.is_empty() {
        report.heading("Materials dug, placed, brought in and taken away");
        report.add_on(ShownOn::Page, Block::Table(movements(bill)));
    }
    let told = ItemSteps::of(bill);
    for own in &bill.material_balance {
        report.add(Block::Heading {
            words: own.material.clone(),
            small: true,
        });
        report.add(Block::Lines(moved(own, &told)));
    }
    report.pictures("Map", pictures);
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    method(bill, &mut report);
    report
}

/// How the quantity of each item is computed.
pub(super) fn computed(bill: &Bill, on: ShownOn, report: &mut Report) {
    let told = ItemSteps::of(bill);
    for item in bill.items() {
        report.add_on(
            on,
            Block::Heading {
                words: format!("{}  {}", item.code, item.description),
                small: true,
            },
        );
        let words = measured(item, bill.units.length.symbol());
        let line = format!(" (line {} of the job file)", item.job_file_line);
        report.add_on(on, Block::Lines(vec![words + &line]));
        if !item.rows.is_empty() {
            report.add_on(on, Block::Table(rows(item, bill)));
        }
        report.add_on(on, Block::Lines(how(item, &told)));
        if let Some(found) = &item.bands {
            let of = Some(("item", item.code.clone()));
            report.blocks.extend(bands(found, &bill.units, of, on));
        }
        if let Some(found) = &item.second_opinions {
            let counts = Some((item.code.as_str(), counted(item)));
            opinions(found, &bill.units, counts, on, report);
        }
    }
}

fn headlines(bill: &Bill) -> Vec<Headline> {
    let headline = |label: &str, figure: String| Headline {
        label: label.into(),
        figure,
        words: String::new(),
    };
    let currency = bill.currency.as_deref().unwrap_or_default();
    let amount = bill.amount.map(|amount| {
        let amount = crate::number::money(amount);
        headline(
            "Amount of all items with a rate",
            format!("{amount} {currency}").trim_end().into(),
        )
    });
    let items = bill.items().filter(|item| !item.findings.is_empty());
    let conforms = |own: &&BillConformity| own.judged.verdict == ConformityVerdict::Conforms;
    let built = bill.conformity.iter().filter(|own| !conforms(own));
    let off = items.count() + built.count();
    (amount.into_iter())
        .chain([
            headline("Items", bill.items().count().to_string()),
            headline("Failed checks", off.to_string()),
        ])
        .collect()
}

/// The bill, line by line.
fn lines(bill: &Bill) -> Table {
    let money = Kind::Money(bill.currency.clone());
    let description = Column {
        wrap: Some(DESCRIPTION),
        ..Column::text("description")
    };
    let sheet = |column: Column| column.on(ShownOn::Sheet);
    let columns = vec![
        Column::text("unit"),
        Column::new("contract", Kind::Count),
        Column::new("quantity", Kind::Count)
            .head("measured")
            .marked(),
        Column::new("of contract", Kind::Share),
        Column::new("rate", money.clone()),
        Column::new("amount", money),
        sheet(Column::text("kind of quantity")),
        sheet(Column::text("reference")),
        sheet(Column::text("surveyed")),
        sheet(Column::new("measured", Kind::Count)),
        sheet(Column::text("measured in")),
        sheet(Column::text("state")),
        sheet(Column::text("material")),
        sheet(Column::new("loads", Kind::Count)),
        sheet(Column::text("findings")),
        sheet(Column::new("line of the job file", Kind::Count)),
    ];
    let sum = |kind: RowKind, words: &str, amount: Cell| {
        Row::new(
            kind,
            vec![
                "".into(),
                words.into(),
                "".into(),
                "".into(),
                "".into(),
                "".into(),
                "".into(),
                amount,
            ],
        )
    };
    let mut rows = Vec::new();
    for section in &bill.sections {
        let named = !section.section.is_empty();
        rows.extend(named.then(|| Row::section(&section.section)));
        let first = rows.len();
        rows.extend(section.items.iter().map(line));
        if let (Some(amount), true) = (section.amount, named) {
            let words = format!("sum of {}", section.section);
            let own = Formula::SumOf((first..rows.len()).collect());
            rows.push(sum(RowKind::Sum, &words, amount.into()).by(AMOUNT, own));
        }
    }
    rows.extend(
        bill.amount
            .map(|amount| sum(RowKind::Total, "total", amount.into()))
            .map(|row| row.by(AMOUNT, Formula::SumOfAll)),
    );
    Table {
        of: None,
        keys: vec![Column::text("item"), description],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

// The numbers of the cells of a line that follow from each other.
const CONTRACT: usize = 3;
const QUANTITY: usize = 4;
const SHARE: usize = 5;
const RATE: usize = 6;
const AMOUNT: usize = 7;

fn line(item: &BillItem) -> Row {
    let findings: Vec<String> = item.findings.iter().map(ToString::to_string).collect();
    let kind = match findings.is_empty() {
        true => RowKind::Plain,
        false => RowKind::Off,
    };
    let cells = cells![
        &item.code,
        &item.description,
        &item.unit,
        item.contract,
        item.quantity,
        item.share_of_contract,
        item.rate,
        item.amount,
        &item.measure,
        item.reference.as_ref(),
        item.surveyed.as_ref(),
        item.measured,
        &item.measured_unit,
        item.state.as_deref(),
        item.material.as_ref(),
        item.loads.as_ref().map(|loads| loads.count),
        findings.join("; "),
        item.job_file_line,
    ];
    let share = Formula::Share {
        of: QUANTITY,
        whole: CONTRACT,
    };
    let amount = Formula::Amount {
        quantity: QUANTITY,
        rate: RATE,
    };
    Row::new(kind, cells).by(SHARE, share).by(AMOUNT, amount)
}

/// What was measured of an item: its rows, what is taken off, and what does not count.
fn rows(item: &BillItem, bill: &Bill) -> Table {
    let units = bill.units;
    let length = |decimals: usize| Kind::Length(Some(units.length), decimals);
    let area = Kind::Area(units.area, units.decimals);
    let volume = Kind::Volume(units.volume, units.decimals);
    // Of some only one figure is known.
    let on = match item.rows.iter().any(|row| row.measured.is_some()) {
        true => ShownOn::Both,
        false => ShownOn::Sheet,
    };
    let columns = vec![
        Column::new("plan area", area.clone()),
        Column::new("perimeter", length(units.decimals)).on(on),
        Column::new("compared area", area).head("compared").on(on),
        Column::new("cut volume", volume.clone())
            .head(format!("cut, {}", units.volume.symbol()))
            .on(on),
        Column::new("fill volume", volume.clone())
            .head("fill")
            .on(on),
        Column::new("net volume", volume).head("net").on(on),
        Column::new("deepest cut", length(3)).on(on),
        Column::new("highest fill", length(3))
            .head("highest fill")
            .on(on),
        Column::new("unrounded", Kind::Count).head(format!("measured, {}", item.measured_unit)),
        Column::text("unit measured").on(ShownOn::Sheet),
    ];
    let figures = |measured: Option<&ZoneMeasurement>| {
        let volume = measured.map(|measured| measured.volume);
        let difference = measured.and_then(|measured| measured.difference);
        cells![
            measured.map(|measured| measured.area.compared),
            volume.map(|volume| volume.cut),
            volume.map(|volume| volume.fill),
            volume.map(|volume| volume.net),
            difference.map(|difference| (-difference.min.value).max(0.0)),
            difference.map(|difference| difference.max.value.max(0.0)),
        ]
    };
    let row = |name: String, row: &ItemRow, counts: Cell| {
        let mut cells = cells![name, row.plan_area, row.perimeter];
        cells.extend(figures(row.measured.as_ref()));
        cells.extend([counts, Cell::from(&item.measured_unit)]);
        Row::new(RowKind::Plain, cells)
    };
    let mut rows: Vec<Row> = (item.rows.iter())
        .map(|own| row(own.zone.clone(), own, own.rounded.into()))
        .collect();
    rows.extend(item.counted_twice.iter().map(|own| {
        let name = format!("{}: taken off", own.zone);
        row(name, own, (-own.rounded).into())
    }));
    let outside = item.outside_plots.iter();
    rows.extend(outside.map(|own| row(own.zone.clone(), own, "not counted".into())));
    if item.rows.len() > 1 {
        let mut cells = cells!["total", "", ""];
        cells.extend(figures(item.total.as_ref()));
        cells.extend(cells![item.measured, &item.measured_unit]);
        rows.push(Row::new(RowKind::Total, cells));
    }
    Table {
        of: Some(("item", item.code.clone())),
        keys: vec![Column::text("zone")],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

/// The factors that materials are converted by, and what vehicles take.
fn materials(bill: &Bill, report: &mut Report) {
    if bill.materials.is_empty() {
        return;
    }
    let volume = bill.factor_volume_unit.symbol();
    report.add_on(ShownOn::Page, Block::heading("Materials and vehicles"));
    let words = "Swell is loose volume per bank volume; shrink is compacted volume per bank volume. Dug volumes are multiplied by them, placed volumes are divided by them.";
    report.add_on(ShownOn::Page, Block::Paragraph(words.into()));
    let or_not = |factor: Option<rust_decimal::Decimal>| {
        factor.map_or(Cell::from("not stated"), Cell::Written)
    };
    let standard = |m: &MaterialFacts| {
        [
            m.swell_uncertainty,
            m.shrink_uncertainty,
            m.density_uncertainty,
        ]
    };
    // Of each factor, where that of any material is uncertain.
    let sure = [0, 1, 2].map(|factor| {
        let mut all = bill.materials.iter();
        all.any(|m| standard(m)[factor].is_some())
    });
    let rows = bill.materials.iter().map(|m| {
        let mut cells = cells![&m.material];
        let factors = [m.swell, m.shrink, m.density];
        for ((factor, standard), sure) in factors.into_iter().zip(standard(m)).zip(sure) {
            cells.push(or_not(factor));
            cells.extend(sure.then(|| {
                let rounded = standard.and_then(|u| rounded_with(u, COVERAGE_FACTOR * u));
                rounded.map_or(Cell::Empty, |[_, expanded]| Cell::Written(expanded))
            }));
        }
        cells.extend(cells![m.density_state.as_deref(), m.vehicle.as_ref()]);
        Row::new(RowKind::Plain, cells)
    });
    let density = format!("density, {}/{volume}", bill.mass_unit);
    let mut columns = Vec::new();
    let heads = [
        ("swell", "swell"),
        ("shrink", "shrink"),
        ("density", &density),
    ];
    for ((name, head), sure) in heads.into_iter().zip(sure) {
        columns.push(Column::new(name, Kind::Count).head(head));
        columns.extend(
            sure.then(|| Column::new(format!("uncertainty of the {name}"), Kind::Count).head("±")),
        );
    }
    columns.extend([
        Column::text("density state").head("in the state"),
        Column::text("hauled by"),
    ]);
    report.add_on(
        ShownOn::Page,
        Block::Table(plain("material", columns, rows.collect())),
    );
    let rows = bill.vehicles.iter().map(|v| {
        let cells = cells![&v.vehicle, or_not(v.holds), or_not(v.carries)];
        Row::new(RowKind::Plain, cells)
    });
    let columns = vec![
        Column::new("holds", Kind::Count).head(format!("holds, {volume} loose")),
        Column::new("carries", Kind::Count).head(format!("carries, {}", bill.mass_unit)),
    ];
    let table = plain("vehicle", columns, rows.collect());
    if !table.is_empty() {
        report.add_on(ShownOn::Page, Block::Table(table));
    }
}

/// What is dug and placed of each material, in a row.
fn movements(bill: &Bill) -> Table {
    let volume = bill.factor_volume_unit.symbol();
    let columns = [
        "dug",
        "needed for the fill",
        "used on site",
        "surplus",
        "shortfall",
    ];
    let columns = columns.map(|name| Column::new(name, Kind::Count));
    let row = |m: &MaterialBalance| {
        let bank = |hauled: &Option<dapedon_job::Hauled>| {
            hauled
                .as_ref()
                .map_or(Cell::from("none"), |hauled| hauled.bank.into())
        };
        let cells = cells![
            &m.material,
            m.dug,
            m.needed_for_fill,
            m.used_on_site,
            bank(&m.export),
            bank(&m.import)
        ];
        Row::new(RowKind::Plain, cells)
    };
    let mut table = plain(
        "material",
        columns.to_vec(),
        bill.material_balance.iter().map(row).collect(),
    );
    table.keys[0].head = format!("material, {volume} bank volume");
    table
}

/// A table under no title.
fn plain(key: &str, columns: Vec<Column>, rows: Vec<Row>) -> Table {
    Table {
        of: None,
        keys: vec![Column::text(key)],
        groups: vec![Group::new("", columns)],
        rows,
    }
}

fn method(bill: &Bill, report: &mut Report) {
    report.add_on(ShownOn::Page, Block::heading("Method and closure"));
    let words = format!(
        "The triangles of both surfaces are intersected and integrated, without sampling, once for all items of a pair. Ground within several zones of one item is counted once. {}",
        unit_words(bill.units.length)
    );
    report.add_on(ShownOn::Page, Block::Paragraph(words));
    let overlays = bill.overlays.len();
    if overlays == 0 {
        return;
    }
    let rows = bill.overlays.iter().map(|o| {
        let cells = cells![
            &o.reference,
            &o.surveyed,
            o.items.join(", "),
            o.pieces,
            o.closure
        ];
        Row::new(RowKind::Plain, cells)
    });
    let columns = vec![
        Column::text("to"),
        Column::text("for items"),
        Column::new("pieces", Kind::Count),
        Column::new("relative closure", Kind::Power),
    ];
    report.add_on(
        ShownOn::Page,
        Block::Table(plain("from", columns, rows.collect())),
    );
    let pieces = bill.overlays.iter().map(|overlay| overlay.pieces).sum();
    let closures = bill.overlays.iter().map(|overlay| overlay.closure);
    let of = match overlays {
        1 => " of 1 pair of surfaces".to_owned(),
        count => format!(" of {count} pairs of surfaces"),
    };
    let words = closure_words(pieces, closures.fold(0.0, f64::max), &of);
    report.add_on(ShownOn::Terminal, Block::Paragraph(words));
}
