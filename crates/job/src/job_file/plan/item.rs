//! Materials, vehicles and items once every name in them is known.

use dapedon_contract::{Counted, Expected, Material, Packed, Price, State};
use dapedon_core::quantities::Tolerance;
use dapedon_core::units::{AreaUnit, VolumeUnit};
use rust_decimal::Decimal;

use crate::error::Spot;
use crate::input::{BaseSource, Source};

/// A material of the job.
#[derive(Debug, Clone)]
pub(crate) struct MaterialPlan {
    pub(crate) material: Material,
    pub(crate) vehicle: Option<String>,
    pub(crate) import: Option<Price>,
    pub(crate) export: Option<Price>,
    pub(crate) packed: Vec<Packed>,
}

/// A line of the bill.
#[derive(Debug, Clone)]
pub(crate) struct ItemPlan {
    pub(crate) code: String,
    pub(crate) section: String,
    pub(crate) description: String,
    pub(crate) unit: String,
    pub(crate) pays: Pays,
    pub(crate) what: What,
    pub(crate) stuff: Option<Stuff>,
    pub(crate) expected: Expected,
    pub(crate) rate: Option<Decimal>,
    /// Decimals of what is measured.
    pub(crate) decimals: u32,
    pub(crate) spot: Spot,
}

/// What an item digs or places.
#[derive(Debug, Clone)]
pub(crate) struct Stuff {
    pub(crate) material: String,
    pub(crate) measured: State,
    pub(crate) pay: State,
    pub(crate) vehicle: Option<String>,
    pub(crate) moves: Moves,
}

/// What an item means for the material on site.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Moves {
    Dug,
    Placed,
    Nothing,
}

/// What an item is paid by.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Pays {
    Volume(VolumeUnit),
    Area(AreaUnit),
    Mass,
    Loads,
    /// What its material is counted in.
    Packed(Packed),
    /// What its layer is counted in.
    Counted(Counted),
    /// What was typed in.
    Typed,
}

/// What is measured.
#[derive(Debug, Clone)]
pub(crate) enum What {
    /// A figure between two surfaces.
    Between {
        counts: Counts,
        sides: [Source; 2],
        tolerance: Tolerance,
        ground: Ground,
    },
    /// What a basin holds: between a surface and a level.
    Capacity { sides: [Source; 2], ground: Ground },
    /// The area of a surface along its slope.
    Sloping { surface: Source, ground: Ground },
    /// What lies above a base, outline by outline.
    Pile {
        surface: Source,
        ground: Ground,
        base: BaseSource,
    },
    /// A layer of a build-up that the surface lies below.
    Layer {
        surface: Source,
        build_up: Option<String>,
        layer: String,
        zones: Vec<String>,
    },
    /// A quantity that is not measured.
    Typed { quantity: Decimal, because: String },
}

/// Which figure counts between two surfaces.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Counts {
    Cut,
    Fill,
    Net,
    Area,
    CutArea,
    FillArea,
}

/// Where an item counts: everywhere where neither is named.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub(crate) struct Ground {
    pub(crate) zones: Vec<String>,
    pub(crate) plots: Vec<String>,
}

impl Ground {
    /// True where nothing limits it.
    pub(crate) fn is_everywhere(&self) -> bool {
        self.zones.is_empty() && self.plots.is_empty()
    }

    /// All names in it.
    pub(crate) fn names(&self) -> impl Iterator<Item = &String> {
        self.zones.iter().chain(&self.plots)
    }
}

impl What {
    /// The surfaces it needs.
    pub(crate) fn sources(&self) -> &[Source] {
        match self {
            What::Between { sides, .. } | What::Capacity { sides, .. } => sides,
            What::Sloping { surface, .. }
            | What::Pile { surface, .. }
            | What::Layer { surface, .. } => std::slice::from_ref(surface),
            What::Typed { .. } => &[],
        }
    }

    /// Where it counts, where that is a matter of zones.
    pub(crate) fn ground(&self) -> Option<&Ground> {
        match self {
            What::Between { ground, .. }
            | What::Capacity { ground, .. }
            | What::Sloping { ground, .. }
            | What::Pile { ground, .. } => Some(ground),
            What::Layer { .. } | What::Typed { .. } => None,
        }
    }

    /// The zones and plots it names.
    pub(crate) fn zone_names(&self) -> impl Iterator<Item = &String> {
        let layer = match self {
            What::Layer { zones, .. } => zones.as_slice(),
            _ => &[],
        };
        (self.ground().into_iter().flat_map(Ground::names)).chain(layer)
    }

    /// What counts, in words.
    pub(crate) fn words(&self) -> String {
        let word = match self {
            What::Between { counts, .. } => match counts {
                Counts::Cut => "cut",
                Counts::Fill => "fill",
                Counts::Net => "net, fill less cut",
                Counts::Area => "plan area compared",
                Counts::CutArea => "plan area of cut",
                Counts::FillArea => "plan area of fill",
            },
            What::Capacity { .. } => "capacity",
            What::Sloping { .. } => "area along the slope",
            What::Pile { base, .. } => return format!("pile above {}", base.words(false)),
            What::Layer { layer, .. } => return format!("layer \"{layer}\""),
            What::Typed { .. } => "typed in",
        };
        word.into()
    }
}
