//! What the items of a bill measure, ready to be drawn.

use dapedon_core::zones::Zones;

use super::ItemMap;
use super::inputs::BillInputs;
use super::kinds::ItemMeasurement;
use super::passes::PassIndex;
use crate::job_file::ItemPlan;
use crate::quantities::{Scene, ZoneMeasurement};

/// What is drawn on a sheet.
enum MapSubject {
    /// What lies between two surfaces on some ground.
    Ground(PassIndex),
    /// One of the piles on a surface.
    Pile(usize, usize),
}

impl MapSubject {
    /// True for what looks the same.
    fn is(&self, other: &MapSubject) -> bool {
        match (self, other) {
            (MapSubject::Ground(own), MapSubject::Ground(other)) => own.place() == other.place(),
            (MapSubject::Pile(surface, pile), MapSubject::Pile(other, another)) => {
                (surface, pile) == (other, another)
            }
            _ => false,
        }
    }
}

impl BillInputs<'_> {
    /// A sheet for each overlay and ground, and for each pile.
    pub(crate) fn sheets(
        &self,
        items: &[&ItemPlan],
        asked: &[Box<dyn ItemMeasurement>],
    ) -> Vec<ItemMap> {
        // In the order of the items that ask first: those of an overlay by its ground, those of piles by the pile.
        let mut sheets: Vec<(MapSubject, ItemMap)> = Vec::new();
        for (item, asked) in items.iter().zip(asked) {
            for of in self.sheets_of(&**asked) {
                match sheets.iter_mut().find(|(known, _)| known.is(&of)) {
                    Some((_, sheet)) => sheet.codes.push(item.code.clone()),
                    None => {
                        let sheet = self.sheet(&of, item);
                        sheets.push((of, sheet));
                    }
                }
            }
        }
        let own = items
            .iter()
            .zip(asked)
            .filter_map(|(item, asked)| asked.sheet(self, item));
        sheets
            .into_iter()
            .map(|(_, sheet)| sheet)
            .chain(own)
            .collect()
    }

    fn sheets_of(&self, asked: &dyn ItemMeasurement) -> Vec<MapSubject> {
        let piles = asked.piles().into_iter().flat_map(|index| {
            let piles = 0..self.piled[index].piles.len();
            piles.map(move |pile| MapSubject::Pile(index, pile))
        });
        let ground = asked.overlay().map(MapSubject::Ground);
        ground.into_iter().chain(piles).collect()
    }

    fn sheet(&self, of: &MapSubject, item: &ItemPlan) -> ItemMap {
        let name = |number: usize| self.made[number].0.to_string();
        let codes = vec![item.code.clone()];
        match of {
            MapSubject::Ground(ticket) => {
                let (laid, regions) = self.passes.found(*ticket);
                let sides = self.passes.0[ticket.pass].sides;
                let surfaces = sides.map(|side| self.surface(side));
                ItemMap {
                    codes,
                    reference: name(sides[0]),
                    surveyed: name(sides[1]),
                    tolerance: self.passes.tolerance(*ticket).value(),
                    rows: laid
                        .rows
                        .iter()
                        .map(|row| {
                            let own = row.regions.iter().filter_map(|&region| regions.get(region));
                            ZoneMeasurement::sum(&row.name, own, &self.site.making.units)
                        })
                        .collect(),
                    scene: Scene::of(&self.site.making, surfaces, laid.drawn.clone())
                        .counting(
                            laid.drawn
                                .as_ref()
                                .and_then(|_| self.passes.counted(*ticket)),
                        )
                        .in_bands(self.passes.rules(*ticket).cloned()),
                    to_limit: false,
                    spots: Vec::new(),
                }
            }
            MapSubject::Pile(index, pile) => {
                let known = &self.piled[*index];
                let pile = &known.piles[*pile];
                let zones = Zones::new(self.site.making.frame, vec![pile.zone.clone()]);
                let surfaces = [&pile.base, self.surface(known.surface)];
                ItemMap {
                    codes,
                    reference: known.base.words(false),
                    surveyed: name(known.surface),
                    tolerance: 0.0,
                    rows: vec![pile.measured.clone()],
                    scene: Scene::of(&self.site.making, surfaces, Some(zones)),
                    to_limit: false,
                    spots: Vec::new(),
                }
            }
        }
    }
}
