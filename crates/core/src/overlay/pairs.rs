//! Facets that meet, block by block.

use rayon::prelude::*;

use super::blocks::{Blocks, Index};
use super::limits::{Limits, Parts};
use super::side::Facet;
use super::{Fold, Piece};
use crate::plan::clip::{Polygon, Room, beyond};
use crate::plan::{Extent, Place};

/// Pairs that are tried one by one; more than that and the block is quartered.
const FEW: usize = 8192;
/// Pairs that are worth the work of several threads.
const MANY: usize = 1 << 24;
/// How often a block is quartered at most.
const DEPTH: u32 = 24;

/// What pairs are met for.
pub(super) struct Pairs<'p, F> {
    pub(super) fold: &'p F,
    pub(super) blocks: &'p Blocks,
    pub(super) lead: &'p Index<'p>,
    pub(super) partner: &'p Index<'p>,
    pub(super) reference_leads: bool,
    pub(super) limits: Option<&'p Limits<'p>>,
}

/// Room to work in, kept from block to block.
#[derive(Default)]
pub(super) struct Scratch {
    leads: Vec<Facet>,
    partners: Vec<Facet>,
    reach: Vec<[f64; 4]>,
    hits: Vec<u32>,
    parts: Parts,
    room: Room,
}

impl<F: Fold> Pairs<'_, F> {
    /// Meets the pairs of one block.
    pub(super) fn block(&self, block: u32, scratch: &mut Scratch, part: &mut F::Part) {
        let mut leads = std::mem::take(&mut scratch.leads);
        let mut partners = std::mem::take(&mut scratch.partners);
        let within = self.blocks.within(block);
        self.lead.load(block, &within, &mut leads);
        if !leads.is_empty() {
            self.partner.load(block, &within, &mut partners);
            if !partners.is_empty() {
                let bounds = self.blocks.bounds(block);
                self.quarter(bounds, &leads, &partners, DEPTH, scratch, part);
            }
        }
        scratch.leads = leads;
        scratch.partners = partners;
    }

    /// Meets the pairs at once where they are few, or else in the four quarters of their plan.
    fn quarter(
        &self,
        bounds: Extent,
        leads: &[Facet],
        partners: &[Facet],
        depth: u32,
        scratch: &mut Scratch,
        part: &mut F::Part,
    ) {
        let pairs = leads.len() * partners.len();
        if pairs <= FEW || depth == 0 {
            return self.meet(bounds, leads, partners, scratch, part);
        }
        let quarters = quarters(bounds, leads, partners).map(|bounds| {
            let within = |facets: &[Facet]| -> Vec<Facet> {
                let reaches = |facet: &&Facet| reaches(&bounds, &facet.extent);
                facets.iter().filter(reaches).copied().collect()
            };
            (bounds, within(leads), within(partners))
        });
        let after: usize = quarters.iter().map(|(_, l, p)| l.len() * p.len()).sum();
        if after > pairs / 4 * 3 {
            return self.meet(bounds, leads, partners, scratch, part);
        }
        if pairs < MANY {
            for (bounds, leads, partners) in quarters {
                self.quarter(bounds, &leads, &partners, depth - 1, scratch, part);
            }
            return;
        }
        let parts: Vec<F::Part> = (quarters.into_par_iter())
            .map(|(bounds, leads, partners)| {
                let (mut scratch, mut part) = (Scratch::default(), self.fold.part());
                self.quarter(
                    bounds,
                    &leads,
                    &partners,
                    depth - 1,
                    &mut scratch,
                    &mut part,
                );
                part
            })
            .collect();
        for next in parts {
            self.fold.join(part, next);
        }
    }

    /// Meets every pair whose shared extent has its south-west corner within `bounds`.
    fn meet(
        &self,
        bounds: Extent,
        leads: &[Facet],
        partners: &[Facet],
        scratch: &mut Scratch,
        part: &mut F::Part,
    ) {
        let Scratch {
            reach,
            hits,
            parts,
            room,
            ..
        } = scratch;
        // West, south, and east, north with their signs turned: all four must not exceed the lead's
        // counterparts for the extents to meet.
        reach.clear();
        reach.extend(partners.iter().map(|partner| {
            let Extent { min, max } = partner.extent;
            [min.east, min.north, -max.east, -max.north]
        }));
        hits.resize(partners.len(), 0);
        for lead in leads {
            let Extent { min, max } = lead.extent;
            let limit = [max.east, max.north, -min.east, -min.north];
            let mut found = 0;
            for (index, reach) in reach.iter().enumerate() {
                let meets = (reach[0] <= limit[0])
                    & (reach[1] <= limit[1])
                    & (reach[2] <= limit[2])
                    & (reach[3] <= limit[3]);
                hits[found] = index as u32;
                found += usize::from(meets);
            }
            let hits = (hits[..found].iter().map(|&hit| &partners[hit as usize]))
                .filter(|partner| owns(&bounds, &lead.extent, &partner.extent));
            let apart = |partner: &Facet| match (&lead.corners, &partner.corners) {
                (Some(corners), Some(other)) => beyond(corners, other),
                _ => false,
            };
            let hits = hits.filter(|partner| !apart(partner));
            match (self.limits, lead.corners) {
                (Some(limits), corners) => {
                    let mut hits = hits.peekable();
                    if hits.peek().is_some() {
                        limits.cut(corners, &lead.extent, parts);
                    }
                    for partner in hits {
                        for (polygon, zones) in parts.iter() {
                            self.piece(lead, partner, polygon, zones, room, part);
                        }
                    }
                }
                (None, Some(corners)) => {
                    let polygon = Polygon::triangle(corners);
                    for partner in hits {
                        self.piece(lead, partner, &polygon, &[0], room, part);
                    }
                }
                (None, None) => {}
            }
        }
    }

    #[inline(always)]
    fn piece(
        &self,
        lead: &Facet,
        partner: &Facet,
        polygon: &Polygon,
        zones: &[u32],
        room: &mut Room,
        part: &mut F::Part,
    ) {
        let outline = match &partner.corners {
            Some(corners) => polygon.within(corners, room),
            None => Some(polygon),
        };
        let Some(outline) = outline else { return };
        let (reference, surveyed) = match self.reference_leads {
            true => (lead, partner),
            false => (partner, lead),
        };
        let piece = Piece {
            zones,
            outline,
            reference: reference.plane,
            surveyed: surveyed.plane,
            facets: [reference.index, surveyed.index],
        };
        self.fold.piece(part, &piece);
    }
}

/// True when the south-west corner of what two extents share lies within `bounds`.
#[inline(always)]
fn owns(bounds: &Extent, a: &Extent, b: &Extent) -> bool {
    let within =
        |low: f64, high: f64, a: f64, b: f64| ((a >= low) | (b >= low)) & (a < high) & (b < high);
    within(bounds.min.east, bounds.max.east, a.min.east, b.min.east)
        & within(bounds.min.north, bounds.max.north, a.min.north, b.min.north)
}

fn reaches(bounds: &Extent, extent: &Extent) -> bool {
    extent.max.east >= bounds.min.east
        && extent.min.east < bounds.max.east
        && extent.max.north >= bounds.min.north
        && extent.min.north < bounds.max.north
}

/// The quarters of `bounds`, split where the facets lie: outer bounds may be endless.
fn quarters(bounds: Extent, leads: &[Facet], partners: &[Facet]) -> [Extent; 4] {
    let all = |facets: &[Facet]| {
        facets
            .iter()
            .fold(Extent::EMPTY, |whole, facet| whole.union(&facet.extent))
    };
    let middle = bounds
        .intersection(&all(leads).intersection(&all(partners)))
        .middle();
    let Extent { min, max } = bounds;
    [
        Extent { min, max: middle },
        Extent {
            min: Place::new(middle.east, min.north),
            max: Place::new(max.east, middle.north),
        },
        Extent {
            min: Place::new(min.east, middle.north),
            max: Place::new(middle.east, max.north),
        },
        Extent { min: middle, max },
    ]
}
