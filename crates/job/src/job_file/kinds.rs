//! The kinds of items: a file for each, with what may be given of it, and what it needs.

mod between;
mod by_sections;
mod capacity;
mod layer;
mod opinions;
mod pile;
mod sloping;
mod to_limit;
mod typed;

use std::fmt::Debug;

use dapedon_contract::State;
use dapedon_core::quantities::Tolerance;
use rust_decimal::Decimal;

use super::JobFileError;
use super::check::Checked;
use super::entries::MeasureEntry;
use super::{MaterialUse, MeasuredZones};
use crate::input::Source;

pub(crate) use between::{Between, Counts};
pub(crate) use by_sections::BySections;
pub(crate) use capacity::Capacity;
pub(crate) use layer::Layer;
pub(crate) use opinions::ItemOpinions;
pub(crate) use pile::Pile;
pub(crate) use sloping::Sloping;
pub(crate) use to_limit::ToLimit;
pub(crate) use typed::Typed;

/// What is measured.
#[derive(Debug, Clone)]
pub(crate) enum ItemKind {
    Between(Between),
    BySections(BySections),
    Capacity(Capacity),
    Sloping(Sloping),
    ToLimit(ToLimit),
    Pile(Pile),
    Layer(Layer),
    Typed(Typed),
}

impl ItemKind {
    /// What it has in common with the others.
    pub(crate) fn kind(&self) -> &dyn Kind {
        match self {
            ItemKind::Between(kind) => kind,
            ItemKind::BySections(kind) => kind,
            ItemKind::Capacity(kind) => kind,
            ItemKind::Sloping(kind) => kind,
            ItemKind::ToLimit(kind) => kind,
            ItemKind::Pile(kind) => kind,
            ItemKind::Layer(kind) => kind,
            ItemKind::Typed(kind) => kind,
        }
    }

    /// The same measured to another surface of the job; none where it is not measured to a survey. What others state of it
    /// is of its own survey, and left out.
    pub(crate) fn measured_to(&self, surface: &str) -> Option<Self> {
        let to = Source::Named(surface.into());
        let mut same = self.clone();
        match &mut same {
            ItemKind::Between(Between {
                sides, opinions, ..
            }) => {
                sides[1] = to;
                without_stated(opinions);
            }
            ItemKind::BySections(BySections { sides, .. })
            | ItemKind::ToLimit(ToLimit { sides, .. }) => sides[1] = to,
            ItemKind::Pile(Pile {
                surface, opinions, ..
            }) => {
                *surface = to;
                without_stated(opinions);
            }
            ItemKind::Capacity(kind) => kind.measure_to(to),
            ItemKind::Sloping(Sloping { surface, .. }) => *surface = to,
            ItemKind::Layer(_) | ItemKind::Typed(_) => return None,
        }
        Some(same)
    }

    /// The same without second opinions.
    pub(crate) fn without_opinions(mut self) -> Self {
        if let ItemKind::Between(Between { opinions, .. }) | ItemKind::Pile(Pile { opinions, .. }) =
            &mut self
        {
            *opinions = None;
        }
        self
    }

    /// The same figure between two other surfaces; none where it is not measured between two.
    pub(crate) fn measured_between(&self, reference: &Source, surveyed: &Source) -> Option<Self> {
        let sides = [reference.clone(), surveyed.clone()];
        match self {
            ItemKind::Between(own) => Some(ItemKind::Between(Between {
                sides,
                between_points: false,
                opinions: None,
                figure_only: true,
                ..own.clone()
            })),
            ItemKind::ToLimit(own) => Some(ItemKind::ToLimit(ToLimit {
                sides,
                figure_only: true,
                ..own.clone()
            })),
            _ => None,
        }
    }

    /// The same figure between two surfaces without a limit; none where it is not measured between two.
    pub(crate) fn without_limit(&self, reference: &Source, surveyed: &Source) -> Option<Self> {
        let ItemKind::ToLimit(own) = self else {
            return self.measured_between(reference, surveyed);
        };
        Some(ItemKind::Between(Between {
            counts: own.counts,
            sides: [reference.clone(), surveyed.clone()],
            tolerance: Tolerance::ZERO,
            ground: own.ground.clone(),
            bands: None,
            between_points: false,
            opinions: None,
            figure_only: true,
        }))
    }

    /// Volumes between two surfaces against a third, on the same ground; none where it is not measured between two.
    pub(crate) fn against(
        &self,
        counts: Counts,
        sides: [&Source; 2],
        limit: &Source,
    ) -> Option<Self> {
        let (ItemKind::Between(Between { ground, .. }) | ItemKind::ToLimit(ToLimit { ground, .. })) =
            self
        else {
            return None;
        };
        Some(ItemKind::ToLimit(ToLimit {
            counts,
            sides: sides.map(Clone::clone),
            limit: limit.clone(),
            tolerance: Tolerance::ZERO,
            pays_tolerance: false,
            ground: ground.clone(),
            figure_only: true,
        }))
    }

    /// The zones and plots it names.
    pub(crate) fn zone_names(&self) -> impl Iterator<Item = &String> {
        let ground = self
            .kind()
            .ground()
            .into_iter()
            .flat_map(MeasuredZones::names);
        let limits = self.kind().limits();
        ground.chain(self.kind().layer_zones()).chain(limits)
    }
}

/// Second opinions without what others state.
fn without_stated(opinions: &mut Option<ItemOpinions>) {
    if let Some(opinions) = opinions {
        opinions.stated.clear();
    }
}

/// What all kinds of items have in common.
pub(crate) trait Kind: Debug {
    /// What counts, in words.
    fn words(&self) -> String;

    /// The surfaces it needs: the one it is measured from, if there is one, and the one it is measured to.
    fn surfaces(&self) -> &[Source] {
        &[]
    }

    /// The surface that work is paid up to, where there is one.
    fn paid_up_to(&self) -> Option<&Source> {
        None
    }

    /// Where it counts, where that is a matter of zones.
    fn ground(&self) -> Option<&MeasuredZones> {
        None
    }

    /// The zones that limit it as a whole.
    fn limits(&self) -> &[String] {
        &[]
    }

    /// The zones whose layers count.
    fn layer_zones(&self) -> &[String] {
        &[]
    }

    /// What it is reported in; of something that is made of a material, or not.
    fn told_in(&self, material: bool) -> AllowedUnits;

    /// What its material is taken to be, where it may have one.
    fn material(&self) -> MaterialDefaults;

    /// Height differences up to this size count as unchanged.
    fn tolerance(&self) -> f64 {
        0.0
    }

    /// The second opinions that it asks for, and of which figure.
    fn opinions(&self) -> Option<(&ItemOpinions, Counts)> {
        None
    }

    /// A quantity that is not measured, and why.
    fn typed(&self) -> Option<(Decimal, &str)> {
        None
    }
}

/// What a kind of item is reported in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum AllowedUnits {
    /// Volumes, and what follows from them.
    Volume,
    /// Areas.
    Area,
    /// Either, and what a layer is counted in.
    Layer,
    /// Any unit.
    Anything,
}

/// What the material of an item is taken to be.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum MaterialDefaults {
    /// In this state, and moved so, by default.
    Usual(State, MaterialUse),
    /// Its state must be given, for a reason.
    Said(&'static str),
    /// It has none.
    None,
}

/// What may be given where something counts.
pub(super) struct KindKeys {
    /// What counts, in an error.
    pub(super) word: &'static str,
    /// The keys that mean something.
    pub(super) keys: &'static [&'static str],
    /// Makes a plan of them.
    pub(super) check: fn(&Checked<'_>) -> Result<ItemKind, JobFileError>,
}

/// What may be given where something counts.
pub(super) fn said(counts: MeasureEntry) -> KindKeys {
    use MeasureEntry as C;
    match counts {
        C::Cut => between::said("cut"),
        C::Fill => between::said("fill"),
        C::Net => between::said("net"),
        C::Area => between::said("area"),
        C::CutArea => between::said("cut-area"),
        C::FillArea => between::said("fill-area"),
        C::SlopingArea => sloping::SAID,
        C::Layer => layer::SAID,
        C::Pile => pile::SAID,
        C::Capacity => capacity::SAID,
        C::Typed => typed::SAID,
    }
}
