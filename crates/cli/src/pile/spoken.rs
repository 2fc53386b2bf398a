//! Piles as they are read on a terminal, or aloud.

use std::fmt::Write as _;

use anstyle::Style;
use dapedon_job::{ByBase, Pile, Piles, spread};
use dapedon_report::number::{grouped, written};
use dapedon_report::words;
use rust_decimal::Decimal;

use crate::table::{table, worded};

/// Decimals of heights.
const HEIGHT: usize = 2;

pub(super) fn spoken(piles: &Piles, compare: bool) -> String {
    let told = Told { piles };
    let bold = Style::new().bold();
    let mut text = String::new();
    let mut say = |line: std::fmt::Arguments<'_>| {
        // Writing to a string does not fail.
        let _ = text.write_fmt(line);
        text.push('\n');
    };
    let side = &piles.surface;
    let head = if piles.pit { "Pits " } else { "Piles" };
    say(format_args!(
        "{bold}{head}{bold:#}  {}: {}",
        side.source, side.kind
    ));
    for note in &side.notes {
        say(format_args!("       {note}"));
    }
    for step in side.recipe.iter().flat_map(|recipe| recipe.all_steps()) {
        say(format_args!("       {}", step.words()));
    }
    for words in words::sought(piles) {
        say(format_args!("       {words}"));
    }
    say(format_args!("\n{}", told.measured()));
    let total = piles.total.as_ref();
    let (bases, held) = match (total, piles.zones.first()) {
        (Some(total), _) => (&total.bases[..], total.held),
        (None, Some(one)) => (&one.bases[..], one.held),
        (None, None) => (&[][..], 0.0),
    };
    match spread(bases, held) {
        Some(_) if compare => {
            say(format_args!(
                "\n{bold}What each base makes of it, {}{bold:#}",
                told.volume()
            ));
            say(format_args!("{}", told.compared()));
        }
        Some(([least, most], share)) => say(format_args!(
            "\nNobody surveyed the base: depending on the choice {} {} to {} {}, {} % apart (--compare-bases).",
            if piles.zones.len() > 1 {
                "they hold"
            } else {
                "it holds"
            },
            told.figure(least),
            told.figure(most),
            told.volume(),
            grouped(100.0 * share, 1, " ")
        )),
        None => {}
    }
    if piles.zones.iter().any(|pile| pile.material.is_some()) {
        say(format_args!("\n{bold}Material{bold:#}"));
        say(format_args!("{}", told.materials()));
    }
    if let Some(previous) = &piles.previous {
        say(format_args!("\n{bold}Since {}{bold:#}", previous.source));
        say(format_args!("{}", told.changes()));
    }
    for warning in &piles.warnings {
        say(format_args!("{bold}warning:{bold:#} {warning}"));
    }
    text
}

struct Told<'t> {
    piles: &'t Piles,
}

impl Told<'_> {
    fn volume(&self) -> &'static str {
        self.piles.units.volume.symbol()
    }

    fn figure(&self, value: f64) -> String {
        grouped(value, self.piles.units.decimals, " ")
    }

    /// The total of several piles under a heading.
    fn all<const N: usize>(
        &self,
        cells: impl FnOnce(&dapedon_job::PilesTotal) -> [String; N],
    ) -> Option<[String; N]> {
        self.piles.total.as_ref().map(cells)
    }

    fn measured(&self) -> String {
        let piles = self.piles;
        let (length, area) = (piles.units.length.symbol(), piles.units.area.symbol());
        let (greatest, top) = match piles.pit {
            true => ("deepest", "bottom"),
            false => ("highest", "top"),
        };
        let height = |value: f64| grouped(value, HEIGHT, " ");
        let share = |share: f64| format!("{} %", grouped(100.0 * share, 1, " "));
        let heading = [
            piles.noun().into(),
            format!("plan area, {area}"),
            format!("{}, {length}", piles.edge()),
            format!("slopes, {area}"),
            format!("volume, {}", self.volume()),
            "share".into(),
            format!("{}, {}", piles.beyond_words(), self.volume()),
            format!("{greatest}, {length}"),
            format!("mean, {length}"),
            format!("{top}, {length}"),
        ];
        let row = |pile: &Pile| {
            [
                pile.measured.zone.clone(),
                self.figure(pile.plan_area),
                self.figure(pile.toe),
                self.figure(pile.sloping_area),
                self.figure(pile.held),
                share(pile.share),
                self.figure(pile.beyond),
                height(pile.greatest),
                height(pile.mean),
                height(pile.top),
            ]
        };
        let total = self.all(|total| {
            let none = String::new;
            [
                "total".into(),
                self.figure(total.plan_area),
                none(),
                self.figure(total.sloping_area),
                self.figure(total.held),
                share(if total.held > 0.0 { 1.0 } else { 0.0 }),
                self.figure(total.beyond),
                none(),
                none(),
                none(),
            ]
        });
        table(heading, piles.zones.iter().map(row).collect(), total)
    }

    /// All bases side by side, and how far they lie apart.
    fn compared(&self) -> String {
        let piles = self.piles;
        let names = piles.bases();
        let mut heading = vec![piles.noun().to_owned()];
        heading.extend(names.iter().map(|name| (*name).to_owned()));
        heading.extend(["apart".into(), "of volume".into()]);
        let row = |name: &str, bases: &[ByBase], held: f64| {
            let mut cells = vec![name.to_owned()];
            cells.extend(names.iter().map(|name| {
                let own = bases.iter().find(|base| base.base == *name);
                own.map_or(String::new(), |base| self.figure(base.held))
            }));
            cells.extend(match spread(bases, held) {
                Some(([least, most], share)) => [
                    self.figure(most - least),
                    format!("{} %", grouped(100.0 * share, 1, " ")),
                ],
                None => Default::default(),
            });
            cells
        };
        let rows = piles.zones.iter();
        let rows = rows.map(|pile| row(&pile.measured.zone, &pile.bases, pile.held));
        let total = piles.total.as_ref();
        table(
            heading,
            rows.collect(),
            total.map(|total| row("total", &total.bases, total.held)),
        )
    }

    fn materials(&self) -> String {
        let piles = self.piles;
        let lines = || piles.zones.iter().filter_map(|pile| pile.material.as_ref());
        let hauled = lines().any(|line| line.loads.is_some());
        let mut heading = vec![
            piles.noun().to_owned(),
            "material".into(),
            "state".into(),
            format!("volume, {}", self.volume()),
            format!("mass, {}", piles.mass_unit),
        ];
        heading.extend(hauled.then(|| "loads".to_owned()));
        let mass = |mass: Option<Decimal>| mass.map_or(String::new(), |mass| written(mass, " "));
        let row = |pile: &Pile| {
            let line = pile.material.as_ref();
            let loads = line.and_then(|line| line.loads.as_ref());
            let loads = loads.map_or(String::new(), |loads| written(loads.count, " "));
            let mut cells = vec![
                pile.measured.zone.clone(),
                line.map_or(String::new(), |line| line.material.clone()),
                line.map_or(String::new(), |line| line.state.to_string()),
                line.map_or(self.figure(pile.held), |line| written(line.measured, " ")),
                mass(pile.mass),
            ];
            cells.extend(hauled.then_some(loads));
            cells
        };
        let total = piles.total.as_ref().map(|total| {
            let mut cells = vec!["total".to_owned(), String::new(), String::new()];
            cells.extend([self.figure(total.held), mass(total.mass)]);
            cells.extend(hauled.then(String::new));
            cells
        });
        worded(3, heading, piles.zones.iter().map(row).collect(), total)
    }

    /// What was added and taken away.
    fn changes(&self) -> String {
        let piles = self.piles;
        let heading = [
            piles.noun().into(),
            format!("added, {}", self.volume()),
            format!("taken away, {}", self.volume()),
            "in all".into(),
        ];
        let cells = |name: &str, change: &dapedon_job::Volume| {
            let net = self.figure(change.net.abs());
            [
                name.into(),
                self.figure(change.fill),
                self.figure(change.cut),
                match change.net {
                    net_volume if net_volume > 0.0 => format!("{net} more"),
                    net_volume if net_volume < 0.0 => format!("{net} less"),
                    _ => "the same".into(),
                },
            ]
        };
        let rows = piles.zones.iter().filter_map(|pile| {
            let change = pile.change.as_ref()?;
            Some(cells(&pile.measured.zone, change))
        });
        let total = piles.total.as_ref();
        let total = total.and_then(|total| total.change.as_ref());
        table(
            heading,
            rows.collect(),
            total.map(|change| cells("total", change)),
        )
    }
}
