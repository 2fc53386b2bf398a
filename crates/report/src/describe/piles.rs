//! Piles and pits, each against its own base.

use dapedon_job::{Pile, Piles, PilesTotal, VolumeByBase, Volumes, spread};

use super::steps::{ItemSteps, converted};
use super::uncertainty::{expanded, expanded_of, stated_of};
use super::{cells, closure_cells, closure_columns, unit_words};
use crate::number::{GAP, grouped};
use crate::report::{
    Block, Cell, Column, Group, Headline, Input, Kind, Picture, Report, Row, RowKind, ShownOn,
    Table,
};

/// Piles, with pictures of them; the bases side by side on a terminal where they are compared.
pub fn piles(piles: &Piles, compare: bool, pictures: Vec<Picture>) -> Report {
    let mut report = Report {
        lead: vec![lead(piles)],
        job: piles.job.clone(),
        headlines: headlines(piles),
        inputs: inputs(piles),
        findings: piles.warnings.clone(),
        ..Report::default()
    };
    report.pictures("Map", pictures);
    report.add(Block::Lines(sought(piles)));
    report.add(Block::Table(Described { piles, compare }.table()));
    let (bases, held) = bases(piles);
    if let (Some(([least, most], share)), false) = (spread(bases, held), compare) {
        let figure = |value: f64| grouped(value, piles.units.decimals);
        let hold = if piles.zones.len() > 1 {
            "they hold"
        } else {
            "it holds"
        };
        let words = format!(
            "The base was not surveyed. Depending on the base, {hold} {} to {} {}, a range of {}{GAP}% (--compare-bases).",
            figure(least),
            figure(most),
            piles.units.volume.symbol(),
            grouped(100.0 * share, 1)
        );
        report.add_on(ShownOn::Terminal, Block::Paragraph(words));
    }
    if let Some(factor) = piles.coverage_factor {
        let words = format!(
            "± is the uncertainty at 95 % (k = {factor}). It follows from the stated accuracy of the survey, which makes the heights along the outline, and with them the base. Which base is right is no part of it."
        );
        report.add(Block::Paragraph(words));
    }
    let told = ItemSteps {
        volume: piles.units.volume.symbol(),
        currency: "",
    };
    if piles.zones.iter().any(|pile| pile.material.is_some()) {
        report.add_on(ShownOn::Page, Block::heading("Converted"));
    }
    for line in piles.zones.iter().filter_map(|pile| pile.material.as_ref()) {
        report.add_on(ShownOn::Page, Block::Lines(converted(line, &told)));
    }
    if piles.coverage_factor.is_some() {
        let all = std::iter::once(&piles.surface).chain(&piles.base_surfaces);
        for block in stated_of(&all.collect::<Vec<_>>(), piles.units.length) {
            report.add_on(ShownOn::Page, block);
        }
    }
    report.add_on(ShownOn::Page, Block::heading("Measured from"));
    report.add_on(ShownOn::Page, Block::Inputs);
    report.add_on(ShownOn::Page, Block::heading("Method"));
    let words = format!(
        "The triangles of the surface and of each base are intersected, split where they cross, and integrated, without sampling. {} Each figure is rounded separately, so sums may differ in the last digit.",
        unit_words(piles.units.length)
    );
    report.add_on(ShownOn::Page, Block::Paragraph(words));
    report.add_on(ShownOn::Terminal, Block::Inputs);
    report
}

/// By each base, and by the one that counts: of all of them, or of the only one.
fn bases(piles: &Piles) -> (&[VolumeByBase], f64) {
    match (&piles.total, piles.zones.first()) {
        (Some(total), _) => (&total.volume_by_base, total.pile_volume.value),
        (None, Some(one)) => (&one.volume_by_base, one.pile_volume.value),
        (None, None) => (&[], 0.0),
    }
}

fn lead(piles: &Piles) -> String {
    let what = if piles.pit { "Pits" } else { "Piles" };
    let each = if piles.zones.len() > 1 { "each " } else { "" };
    let side = if piles.pit { "below" } else { "above" };
    format!(
        "{what} on {}, {each}{side} {}.",
        piles.surface.source, piles.base_description
    )
}

fn headlines(piles: &Piles) -> Vec<Headline> {
    let units = piles.units;
    let (_, held) = bases(piles);
    let mass = match &piles.total {
        Some(total) => total.mass,
        None => piles.zones.first().and_then(|pile| pile.mass),
    };
    let headline = |label: &str, figure: String| Headline {
        label: label.into(),
        figure,
        words: String::new(),
    };
    let whole = match (&piles.total, piles.zones.first()) {
        (Some(total), _) => Some(total.pile_volume),
        (None, one) => one.map(|pile| pile.pile_volume),
    };
    let sure = whole.and_then(|own| {
        let expanded = expanded_of(own.value, own.uncertainty, piles.coverage_factor)?;
        let expanded = crate::number::written(expanded);
        Some(format!("±{expanded} {} at 95 %", units.volume.symbol()))
    });
    let mut headlines = vec![
        headline(
            if piles.pit { "Pits" } else { "Piles" },
            piles.zones.len().to_string(),
        ),
        Headline {
            words: sure.unwrap_or_default(),
            ..headline(
                "Volume",
                format!(
                    "{} {}",
                    grouped(held, units.decimals),
                    units.volume.symbol()
                ),
            )
        },
    ];
    headlines.extend(mass.map(|mass| {
        let mass = crate::number::written(mass);
        headline("Mass", format!("{mass} {}", piles.mass_unit))
    }));
    headlines
}

fn inputs(piles: &Piles) -> Vec<Input> {
    let role = if piles.pit { "Pits" } else { "Piles" };
    let mut inputs = vec![Input::side(role, &piles.surface)];
    inputs.extend(
        piles
            .base_surfaces
            .iter()
            .map(|side| Input::side("Base", side)),
    );
    let previous = piles.previous.iter();
    inputs.extend(previous.map(|side| Input::side("Earlier survey", side)));
    inputs.extend(Input::zones(&piles.zone_files));
    inputs.extend(Input::lines(&piles.line_files));
    inputs
}

/// What piles are measured within, and against what, line by line.
fn sought(piles: &Piles) -> Vec<String> {
    let (length, area) = (piles.units.length.symbol(), piles.units.area.symbol());
    let count = piles.zones.len();
    let noun = format!("{}{}", piles.noun(), if count == 1 { "" } else { "s" });
    let mut lines = Vec::new();
    match &piles.search {
        Some(sought) => {
            let stands = match piles.pit {
                true => "is below its surroundings",
                false => "is above its surroundings",
            };
            lines.push(format!(
                "{count} {noun} found: ground that {stands} by {} {length} or more, on {} {area} or more",
                plain(sought.min_height.value),
                plain(sought.min_area.value)
            ));
            let slope = plain(sought.ground_slope);
            let read = sought.cell.map_or(String::new(), |cell| {
                format!(", searched in cells of {} {length}", plain(cell.value))
            });
            lines.push(format!("ground around no steeper than 1:{slope}{read}"));
        }
        None => lines.push(format!("{count} {noun} within outlines")),
    }
    let side = if piles.pit { "below" } else { "above" };
    let each = if count == 1 { "" } else { "each " };
    lines.push(format!("{each}{side} {}", piles.base_description));
    lines
}

/// A figure that somebody said, with the digits that it has.
fn plain(value: f64) -> String {
    let rounded = (value * 1e6).round() / 1e6;
    rounded.to_string()
}

/// All figures of each.
struct Described<'p> {
    piles: &'p Piles,
    compare: bool,
}

impl Described<'_> {
    fn volume(&self) -> Kind {
        let units = self.piles.units;
        Kind::Volume(units.volume, units.decimals)
    }

    /// Where uncertainties stand: on sheets alone, where none is known.
    fn sure(&self) -> ShownOn {
        match self.piles.coverage_factor {
            Some(_) => ShownOn::Both,
            None => ShownOn::Sheet,
        }
    }

    fn table(&self) -> Table {
        let piles = self.piles;
        let mut groups = vec![self.held()];
        groups.extend([
            self.by_base(),
            self.material(),
            self.change(),
            self.toe(),
            Group {
                on: ShownOn::Page,
                ..Group::new("Closure", closure_columns(&Kind::Area(piles.units.area, 4)))
            },
        ]);
        let row = |pile: &Pile| {
            let mut cells = cells![&pile.measured.zone];
            cells.extend(self.held_cells(pile));
            cells.extend(self.base_cells(&pile.volume_by_base, pile.pile_volume.value));
            cells.extend(self.material_cells(pile));
            cells.extend(change_cells(pile.change.as_ref(), piles.units.decimals));
            cells.extend(match &pile.toe_heights {
                Some(toe) => cells![toe.lowest, toe.mean, toe.highest],
                None => cells!["not surveyed all along it", "", ""],
            });
            cells.extend(closure_cells(&pile.measured.closure));
            Row::new(RowKind::Plain, cells)
        };
        let mut rows: Vec<Row> = piles.zones.iter().map(row).collect();
        rows.extend(piles.total.as_ref().map(|total| self.total(total)));
        Table {
            of: None,
            keys: vec![Column::text(piles.noun())],
            groups: groups.into_iter().collect(),
            rows,
        }
    }

    fn total(&self, total: &PilesTotal) -> Row {
        let decimals = self.piles.units.decimals;
        let share = if total.pile_volume.value > 0.0 {
            1.0
        } else {
            0.0
        };
        let mut cells = cells![
            "total",
            total.plan_area,
            "",
            total.sloping_area,
            total.pile_volume,
            expanded(total.pile_volume, self.piles.coverage_factor),
            share,
            total.volume_below_base,
            "",
            "",
            "",
        ];
        cells.extend(self.base_cells(&total.volume_by_base, total.pile_volume.value));
        cells.extend(cells!["", "", total.pile_volume, total.mass, ""]);
        cells.extend(change_cells(total.change.as_ref(), decimals));
        Row::new(RowKind::Total, cells)
    }

    fn held(&self) -> Group {
        let piles = self.piles;
        let length = |decimals: usize| Kind::Length(Some(piles.units.length), decimals);
        let area = Kind::Area(piles.units.area, piles.units.decimals);
        let (greatest, top) = match piles.pit {
            true => ("max depth", "bottom level"),
            false => ("max height", "top level"),
        };
        Group::new(
            "",
            vec![
                Column::new("plan area", area.clone()),
                Column::new(piles.edge(), length(piles.units.decimals)),
                // With ± a terminal has no room for it.
                Column::new("sloping area", area).on(match self.sure() {
                    ShownOn::Both => ShownOn::Page,
                    _ => ShownOn::Both,
                }),
                Column::new("volume", self.volume()),
                Column::new("uncertainty of the volume", self.volume())
                    .head("±")
                    .on(self.sure()),
                Column::new("share", Kind::Share),
                Column::new(piles.beyond_words(), self.volume()),
                Column::new(greatest, length(2)),
                Column::new("mean height", length(2)),
                Column::new(top, length(2)),
            ],
        )
    }

    fn held_cells(&self, pile: &Pile) -> Vec<Cell> {
        cells![
            pile.plan_area,
            pile.toe_length,
            pile.sloping_area,
            pile.pile_volume,
            expanded(pile.pile_volume, self.piles.coverage_factor),
            pile.share,
            pile.volume_below_base,
            pile.max_height,
            pile.mean_height,
            pile.highest_level,
        ]
    }

    /// All bases side by side, and how far they differ.
    fn by_base(&self) -> Group {
        let names = self.piles.bases();
        let column =
            |name: &&str| Column::new(format!("volume by {name}"), self.volume()).head(*name);
        let mut columns: Vec<Column> = names.iter().map(column).collect();
        columns.push(Column::new("range of bases", self.volume()).head("range"));
        columns.push(Column::new("relative range of bases", Kind::Share).head("relative"));
        let title = format!("Volume by base, {}", self.piles.units.volume.symbol());
        Group {
            on: match (names.len(), self.compare) {
                (0 | 1, _) => ShownOn::Sheet,
                (_, true) => ShownOn::Both,
                (_, false) => ShownOn::Page,
            },
            ..Group::new(title, columns)
        }
    }

    fn base_cells(&self, bases: &[VolumeByBase], held: f64) -> Vec<Cell> {
        let own = |name: &&str| bases.iter().find(|base| base.base == **name);
        let names = self.piles.bases();
        let held_by = names
            .iter()
            .map(|name| own(name).map(|base| base.pile_volume).into());
        let mut cells: Vec<Cell> = held_by.collect();
        cells.extend(match spread(bases, held) {
            Some(([least, most], share)) => cells![most - least, share],
            None => cells!["", ""],
        });
        cells
    }

    fn material(&self) -> Group {
        let piles = self.piles;
        let lines = || piles.zones.iter().filter_map(|pile| pile.material.as_ref());
        let hauled = lines().any(|line| line.loads.is_some());
        let columns = vec![
            Column::text("material"),
            Column::text("state"),
            Column::new("volume of the material", self.volume())
                .head(format!("volume, {}", piles.units.volume.symbol())),
            Column::new("mass", Kind::Count).head(format!("mass, {}", piles.mass_unit)),
            Column::new("loads", Kind::Count).on(if hauled {
                ShownOn::Both
            } else {
                ShownOn::Sheet
            }),
        ];
        Group {
            on: if lines().next().is_some() {
                ShownOn::Both
            } else {
                ShownOn::Sheet
            },
            ..Group::new("Material", columns)
        }
    }

    fn material_cells(&self, pile: &Pile) -> Vec<Cell> {
        let line = pile.material.as_ref();
        let loads = line.and_then(|line| line.loads.as_ref());
        cells![
            line.map(|line| &line.material),
            line.map(|line| &*line.state),
            line.map_or(Cell::from(pile.pile_volume), |line| line.measured.into()),
            pile.mass,
            loads.map(|loads| loads.count),
        ]
    }

    /// What was added and taken away.
    fn change(&self) -> Group {
        let columns = vec![
            Column::new("added", self.volume()),
            Column::new("removed", self.volume()),
            Column::text("net change"),
            Column::new("net change", self.volume()).on(ShownOn::Sheet),
        ];
        let previous = self.piles.previous.as_ref();
        let title = previous.map_or(String::new(), |side| {
            format!("Change since {}", side.source)
        });
        Group {
            on: if previous.is_some() {
                ShownOn::Both
            } else {
                ShownOn::Sheet
            },
            ..Group::new(title, columns)
        }
    }

    fn toe(&self) -> Group {
        let length = Kind::Length(Some(self.piles.units.length), 3);
        let edge = self.piles.edge();
        let heights = ["lowest", "mean", "highest"];
        let columns = heights.map(|which| {
            Column::new(format!("{which} along the {edge}"), length.clone()).head(which)
        });
        let title = format!(
            "Heights along the {edge}, {}",
            self.piles.units.length.symbol()
        );
        Group {
            on: ShownOn::Page,
            ..Group::new(title, columns.to_vec())
        }
    }
}

fn change_cells(change: Option<&Volumes>, decimals: usize) -> Vec<Cell> {
    let Some(change) = change else {
        return cells!["", "", "", ""];
    };
    let net = grouped(change.net.value.abs(), decimals);
    let words = match change.net {
        net_volume if net_volume.value > 0.0 => format!("{net} more"),
        net_volume if net_volume.value < 0.0 => format!("{net} less"),
        _ => "the same".into(),
    };
    cells![change.fill, change.cut, words, change.net]
}
