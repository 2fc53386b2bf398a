//! What the items of a bill measure, ready to be drawn.

use dapedon_core::zones::Zones;

use super::Sheet;
use super::desk::Desk;
use super::kinds::Asked;
use super::passes::Ticket;
use crate::job_file::ItemPlan;
use crate::quantities::Scene;

/// What is drawn on a sheet.
enum Of {
    /// What lies between two surfaces on some ground.
    Ground(Ticket),
    /// One of the piles on a surface.
    Pile(usize, usize),
}

impl Of {
    /// True for what looks the same.
    fn is(&self, other: &Of) -> bool {
        match (self, other) {
            (Of::Ground(own), Of::Ground(other)) => own.place() == other.place(),
            (Of::Pile(surface, pile), Of::Pile(other, another)) => {
                (surface, pile) == (other, another)
            }
            _ => false,
        }
    }
}

impl Desk<'_> {
    /// A sheet for each overlay and ground, and for each pile.
    pub(crate) fn sheets(&self, items: &[&ItemPlan], asked: &[Box<dyn Asked>]) -> Vec<Sheet> {
        // In the order of the items that ask first: those of an overlay by its ground, those of piles by the pile.
        let mut sheets: Vec<(Of, Sheet)> = Vec::new();
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
        sheets.into_iter().map(|(_, sheet)| sheet).collect()
    }

    fn sheets_of(&self, asked: &dyn Asked) -> Vec<Of> {
        let piles = asked.piles().into_iter().flat_map(|index| {
            let piles = 0..self.piled[index].piles.len();
            piles.map(move |pile| Of::Pile(index, pile))
        });
        let ground = asked.overlay().map(Of::Ground);
        ground.into_iter().chain(piles).collect()
    }

    fn sheet(&self, of: &Of, item: &ItemPlan) -> Sheet {
        let name = |number: usize| self.made[number].0.to_string();
        let codes = vec![item.code.clone()];
        match of {
            Of::Ground(ticket) => {
                let (laid, regions) = self.passes.found(*ticket);
                let sides = self.passes.0[ticket.pass].sides;
                let surfaces = sides.map(|side| self.surface(side));
                Sheet {
                    codes,
                    reference: name(sides[0]),
                    surveyed: name(sides[1]),
                    tolerance: self.passes.tolerance(*ticket).value(),
                    rows: laid
                        .counted
                        .iter()
                        .map(|&region| regions[region].clone())
                        .collect(),
                    scene: Scene::of(&self.site.making, surfaces, laid.drawn.clone()),
                }
            }
            Of::Pile(index, pile) => {
                let known = &self.piled[*index];
                let pile = &known.piles[*pile];
                let zones = Zones::new(self.site.making.frame, vec![pile.zone.clone()]);
                let surfaces = [&pile.base, self.surface(known.surface)];
                Sheet {
                    codes,
                    reference: known.base.words(false),
                    surveyed: name(known.surface),
                    tolerance: 0.0,
                    rows: vec![pile.measured.clone()],
                    scene: Scene::of(&self.site.making, surfaces, Some(zones)),
                }
            }
        }
    }
}
