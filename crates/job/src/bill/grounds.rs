//! Where items count: the plan divided by all zones they name into regions that do not overlap, and the regions that
//! each item's rows are made of.

use std::collections::{BTreeMap, HashMap, HashSet};
use std::ops::Range;

use dapedon_core::plan::{Extent, Frame};
use dapedon_core::zones::{Region, Zone, Zones, regions};

use crate::error::JobError;
use crate::job_file::MeasuredZones;
use crate::site::SiteError;
use crate::zones::{KnownZone, ZoneOrigin, told_apart, twice};

/// The plan divided by the zones of some grounds.
pub(crate) struct GroundParts {
    zones: Zones,
    /// Where each of them comes from, and what it is of.
    origins: Vec<(ZoneOrigin, String)>,
    /// Which zones each name of the job stands for.
    names: Vec<(String, Range<usize>)>,
    regions: Vec<Region>,
}

/// The ground of an item.
pub(crate) struct ItemGround {
    /// The rows, each the sum of some regions.
    pub(crate) rows: Vec<LaidRow>,
    /// Ground in several rows: their names, its regions, and how often too often it counts. Ground in the same rows is
    /// one, however other items part it.
    pub(crate) shared: Vec<(String, Vec<usize>, usize)>,
    /// All regions that count.
    pub(crate) counted: Vec<usize>,
    /// Regions in no plot, which do not count.
    pub(crate) in_no_plot: Vec<usize>,
    /// The area of plots outside all zones.
    pub(crate) beyond: f64,
    /// Areas no larger are what rounding leaves between outlines that nearly meet.
    pub(crate) negligible: f64,
    /// The zones and plots as they are named, those of the rows first and in their order; none where it is everywhere.
    pub(crate) drawn: Option<Zones>,
}

/// A row of an item.
pub(crate) struct LaidRow {
    pub(crate) name: String,
    /// Its own zone, where it is not everywhere.
    pub(crate) zone: Option<Zone>,
    pub(crate) regions: Vec<usize>,
}

impl GroundParts {
    /// Parts the plan by the zones of some grounds. `around` holds all that is measured, where that has an end: ground
    /// in no zone is a region too, where one of the grounds asks for it. None where no ground names a zone.
    pub(crate) fn of<'g>(
        grounds: impl Iterator<Item = &'g MeasuredZones> + Clone,
        frame: Frame,
        around: Option<Extent>,
        zones_of: impl Fn(&str) -> Result<Vec<KnownZone>, JobError>,
    ) -> Result<Option<Self>, JobError> {
        let (mut zones, mut origins) = (Vec::new(), Vec::new());
        let mut names = Vec::<(String, Range<usize>)>::new();
        for name in grounds.clone().flat_map(MeasuredZones::names) {
            if names.iter().all(|(known, _)| known != name) {
                let first = zones.len();
                for known in zones_of(name)? {
                    zones.push(known.zone);
                    origins.push((known.origin, known.of));
                }
                names.push((name.clone(), first..zones.len()));
            }
        }
        if zones.is_empty() {
            return Ok(None);
        }
        let mut outside = grounds.map(|ground| ground.zones.is_empty());
        let around = around.filter(|_| outside.any(|outside| outside));
        let zones = Zones::new(frame, zones);
        Ok(Some(GroundParts {
            regions: regions(&zones, around),
            zones,
            origins,
            names,
        }))
    }

    /// The regions, to be measured each for itself.
    pub(crate) fn regions(&self) -> Zones {
        let grounds = self.regions.iter().map(|region| region.ground.clone());
        Zones::new(self.zones.frame(), grounds.collect())
    }

    /// The zones that some names stand for, as they are numbered here.
    fn numbers(&self, names: &[String]) -> Vec<u32> {
        // In the order the ground names them, whatever other items name before.
        let known = |name: &String| self.names.iter().find(|(known, _)| known == name);
        names
            .iter()
            .filter_map(known)
            .flat_map(|(_, zones)| zones.clone())
            .map(|zone| zone as u32)
            .collect()
    }

    /// What some zones are called, each by another name.
    fn names(&self, numbers: &[u32]) -> Vec<String> {
        let named = numbers.iter().map(|&number| {
            let of = &self.origins[number as usize].1;
            (self.zone(number).name().to_owned(), of.clone())
        });
        told_apart(&named.collect::<Vec<_>>())
    }

    fn zone(&self, number: u32) -> &Zone {
        &self.zones.zones()[number as usize]
    }

    /// The rows of a ground, and what of it does not count.
    pub(crate) fn lay(&self, ground: &MeasuredZones) -> Result<ItemGround, JobError> {
        if ground.is_everywhere() {
            return Ok(ItemGround::everywhere(self.regions.len()));
        }
        let (limits, plots) = (self.numbers(&ground.zones), self.numbers(&ground.plots));
        for named in [&limits, &plots] {
            let origins = named.iter().map(|&number| &self.origins[number as usize].0);
            if let Some(index) = twice(origins) {
                let name = self.zone(named[index]).name().into();
                return Err(SiteError::ZoneTwice { name }.into());
            }
        }
        let rows = if plots.is_empty() { &limits } else { &plots };
        let row = |(&number, name): (&u32, String)| LaidRow {
            zone: Some(self.zone(number).clone().named(name.clone())),
            name,
            regions: Vec::new(),
        };
        let limit_of_plots = if plots.is_empty() { &plots } else { &limits };
        let drawn: Vec<u32> = rows.iter().chain(limit_of_plots).copied().collect();
        let drawn = drawn.iter().zip(self.names(&drawn));
        let drawn = drawn.map(|(&number, name)| self.zone(number).clone().named(name));
        let drawn = drawn.collect();
        let mut laid = ItemGround {
            rows: rows.iter().zip(self.names(rows)).map(row).collect(),
            shared: Vec::new(),
            counted: Vec::new(),
            in_no_plot: Vec::new(),
            beyond: 0.0,
            negligible: (self.zones.frame().precision()).area(&self.zones.extent()),
            drawn: Some(Zones::new(self.zones.frame(), drawn)),
        };
        let limited: HashSet<u32> = limits.iter().copied().collect();
        let row_of: HashMap<u32, usize> = rows.iter().copied().zip(0..).collect();
        let mut shared: BTreeMap<Vec<usize>, (Vec<usize>, f64)> = BTreeMap::new();
        for (index, region) in self.regions.iter().enumerate() {
            let within =
                limits.is_empty() || region.zones.iter().any(|zone| limited.contains(zone));
            let own = region.zones.iter().filter_map(|zone| row_of.get(zone));
            let mut own: Vec<usize> = own.copied().collect();
            own.sort_unstable();
            match (within, own.as_slice()) {
                (true, []) => laid.in_no_plot.push(index),
                (true, own) => {
                    laid.counted.push(index);
                    own.iter()
                        .for_each(|&row| laid.rows[row].regions.push(index));
                    if own.len() > 1 {
                        let (regions, area) = shared.entry(own.to_vec()).or_default();
                        regions.push(index);
                        *area += region.ground.area();
                    }
                }
                (false, []) => {}
                (false, _) => laid.beyond += region.ground.area(),
            }
        }
        for (own, (regions, area)) in shared {
            if area > laid.negligible {
                let names = own.iter().map(|&row| laid.rows[row].name.as_str());
                let names = names.collect::<Vec<_>>().join(" and ");
                laid.shared.push((names, regions, own.len() - 1));
            }
        }
        Ok(laid)
    }
}

impl ItemGround {
    /// The ground that counts, of all regions.
    pub(crate) fn counted_of(&self, regions: &Zones) -> Zones {
        let own = self.counted.iter();
        let own = own.filter_map(|&region| regions.zones().get(region));
        Zones::new(regions.frame(), own.cloned().collect())
    }

    /// All of so many regions.
    pub(crate) fn everywhere(regions: usize) -> Self {
        let all: Vec<usize> = (0..regions).collect();
        ItemGround {
            rows: vec![LaidRow {
                name: "all".into(),
                zone: None,
                regions: all.clone(),
            }],
            shared: Vec::new(),
            counted: all,
            in_no_plot: Vec::new(),
            beyond: 0.0,
            negligible: 0.0,
            drawn: None,
        }
    }
}
