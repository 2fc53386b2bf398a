//! Differences at places.

use dapedon_core::alignment::chainage_words;
use dapedon_job::{Spot, SpotHeight, SpotSummary, Spots};

use super::{cells, count};
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, InputOf, Kind, Picture, Report, Row, RowKind,
    ShownOn, Table,
};

/// Places that are listed on a terminal or a page; a spreadsheet gets all of them.
const LISTED: usize = 60;
/// Decimals of coordinates, heights and differences.
const DECIMALS: usize = 3;

/// The differences between surfaces at places, with pictures of them.
pub fn spots(spots: &Spots, pictures: Vec<Picture>) -> Report {
    let named = spots.surveyed.iter().map(|side| side.source.as_str());
    let named: Vec<&str> = named.collect();
    let mut report = Report {
        lead: vec![format!(
            "Differences from {} (reference) to {} (surveyed) at {} places: {}.",
            spots.reference.source,
            named.join(", "),
            count(spots.spots.len()),
            spots.places
        )],
        job: spots.job.clone(),
        headlines: headlines(spots),
        inputs: inputs(spots),
        findings: spots.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Map", pictures);
    report.add(Block::Table(summary(spots)));
    if spots.outside > 0 {
        let words = format!(
            "{} more places of the grid are not on both surfaces.",
            count(spots.outside)
        );
        report.add(Block::Paragraph(words));
    }
    report.heading("Places");
    let where_to = format!("{}.", capital(&spots.places));
    report.add_on(ShownOn::Terminal, Block::Paragraph(where_to));
    match spots.spots.len() {
        few if few <= LISTED => report.add(Block::Table(table(spots, few))),
        many => {
            let words = format!(
                "The first {LISTED} of {} places; --csv and --out write all.",
                count(many)
            );
            report.add_on(ShownOn::Terminal, Block::Paragraph(words));
            report.add_on(ShownOn::Terminal, Block::Table(table(spots, LISTED)));
            report.add_on(ShownOn::Sheet, Block::Table(table(spots, many)));
        }
    }
    if let Some(line) = &spots.line {
        let [from, to] = line
            .chainage
            .map(|chainage| chainage_words(chainage.value, spots.units.length, DECIMALS));
        let symbol = line.length.unit.symbol();
        report.add(Block::Paragraph(format!(
            "Along {}, chainage {from} to {to}, {:.DECIMALS$} {symbol} long. Offsets to the right of it are positive.",
            line.line, line.length.value
        )));
    }
    if !spots.zone_files.is_empty() {
        report.add(Block::Paragraph(
            "Places on the edge of a zone are in it.".into(),
        ));
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add(Block::Inputs);
    report
}

/// Words with a capital at their start.
fn capital(words: &str) -> String {
    let mut letters = words.chars();
    let first = letters.next().map(|first| first.to_uppercase().to_string());
    first.unwrap_or_default() + letters.as_str()
}

fn headlines(spots: &Spots) -> Vec<Headline> {
    let mut headlines = vec![Headline {
        label: "Places".into(),
        figure: count(spots.spots.len()),
        words: String::new(),
    }];
    if let [only] = &spots.summary[..]
        && let Some(mean) = only.mean
    {
        headlines.push(Headline {
            label: "Mean difference".into(),
            figure: format!("{:.DECIMALS$} {}", mean.value, mean.unit.symbol()),
            words: String::new(),
        });
    }
    headlines
}

fn inputs(spots: &Spots) -> Vec<Input> {
    let mut inputs = vec![Input::side("Reference", &spots.reference)];
    inputs.extend(
        spots
            .surveyed
            .iter()
            .map(|side| Input::side("Surveyed", side)),
    );
    inputs.extend(Input::zones(&spots.zone_files));
    inputs.extend(Input::lines(&spots.line_files));
    let files = [
        ("Points", spots.points_file.as_ref()),
        (
            "Line",
            spots.line.as_ref().and_then(|line| line.file.as_ref()),
        ),
    ];
    inputs.extend(files.into_iter().filter_map(|(role, file)| {
        Some(Input {
            role: role.into(),
            of: InputOf::File(file?.clone()),
        })
    }));
    inputs
}

fn summary(spots: &Spots) -> Table {
    let height = Kind::Length(Some(spots.units.length), DECIMALS);
    let head = |what: &str| format!("{what}, {}", spots.units.length.symbol());
    let columns = vec![
        Column::new("places", Kind::Count),
        Column::new("lowest difference", height.clone()).head(head("lowest")),
        Column::new("highest difference", height.clone()).head(head("highest")),
        Column::new("mean difference", height).head(head("mean")),
        Column::new("within tolerance", Kind::Share),
        Column::new("not compared", Kind::Count),
    ];
    let row = |summary: &SpotSummary| {
        let cells = cells![
            &summary.surveyed,
            summary.compared,
            summary.lowest,
            summary.highest,
            summary.mean,
            summary.within_tolerance,
            summary.not_compared,
        ];
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys: vec![Column::text("surveyed")],
        groups: vec![Group {
            note: format!(
                "surveyed less reference, negative is cut; tolerance ±{} {}",
                spots.tolerance.value,
                spots.units.length.symbol()
            ),
            ..Group::new("Summary", columns)
        }],
        rows: spots.summary.iter().map(row).collect(),
    }
}

/// The first of the places, one by one.
fn table(spots: &Spots, many: usize) -> Table {
    let length = Kind::Length(Some(spots.units.length), DECIMALS);
    let any = |has: fn(&Spot) -> bool| spots.spots.iter().any(has);
    let (in_zones, on_line) = (
        any(|spot| spot.zone.is_some()),
        any(|spot| spot.chainage.is_some()),
    );
    let mut keys = vec![Column::text("number")];
    if on_line {
        let chainage = Kind::Chainage(spots.units.length, DECIMALS);
        keys.push(Column::new("chainage", chainage));
        keys.push(Column::new("offset", length.clone()));
    }
    let mut places = vec![
        Column::new("east", length.clone()),
        Column::new("north", length.clone()),
    ];
    places.extend(in_zones.then(|| Column::text("zone")));
    places.push(Column::new("reference", length.clone()));
    let several = spots.surveyed.len() > 1;
    let of = |number: usize, what: &str| match several {
        true => format!("{what} of {}", spots.surveyed[number].source),
        false => what.to_owned(),
    };
    let measured = |number: usize| {
        let column = |what: &str, kind: Kind| {
            let symbol = kind.symbol().to_owned();
            let head = if symbol.is_empty() {
                what.to_owned()
            } else {
                format!("{what}, {symbol}")
            };
            Column::new(of(number, what), kind).head(head)
        };
        vec![
            column("surveyed", length.clone()),
            column("difference", length.clone()),
            column("in words", Kind::Text),
        ]
    };
    let mut groups = vec![Group::new("", places)];
    for (number, side) in spots.surveyed.iter().enumerate() {
        match several {
            true => groups.push(Group::new(side.source.clone(), measured(number))),
            false => groups[0].columns.extend(measured(number)),
        }
    }
    let height = |height: &SpotHeight| match height {
        SpotHeight::Height(height) => Cell::Number(*height),
        SpotHeight::Step { low, high } => {
            Cell::Text(format!("{low:.DECIMALS$} to {high:.DECIMALS$}"))
        }
        SpotHeight::Outside => Cell::from("none"),
    };
    let row = |spot: &Spot| {
        let mut cells = cells![&spot.number];
        if on_line {
            cells.extend(cells![spot.chainage, spot.offset]);
        }
        cells.extend(cells![spot.east, spot.north]);
        cells.extend(in_zones.then(|| Cell::from(spot.zone.clone())));
        cells.push(height(&spot.reference));
        let surveyed = spot.surveyed.iter().zip(&spot.difference).zip(&spot.state);
        for ((surveyed, difference), state) in surveyed {
            cells.extend([
                height(surveyed),
                Cell::from(*difference),
                Cell::from(state.words()),
            ]);
        }
        Row::new(RowKind::Plain, cells)
    };
    Table {
        of: None,
        keys,
        groups,
        rows: spots.spots.iter().take(many).map(row).collect(),
    }
}
