//! The kernel: the exact overlay of two surfaces.
//!
//! Every quantity is a fold over the convex pieces in which a facet of the one surface meets a facet
//! of the other, so exactness, zones, parallelism and determinism are solved here, once.
//!
//! The plan is split into blocks of a few dozen facets. A pair of facets is met in the one block
//! that holds the south-west corner of what their extents share, so no pair is met twice and
//! nothing has to be remembered. Blocks go to threads in fixed runs along a space-filling curve, and
//! what the runs yield is joined in their order: the figures do not depend on who computed them.

mod aligned;
mod blocks;
mod both;
pub(crate) mod coverage;
mod each;
mod limits;
mod lookup;
mod pairs;
mod side;
mod strip;
pub(crate) mod volume;

use std::fmt;
use std::ops::ControlFlow;
use std::sync::OnceLock;

use rayon::prelude::*;

use crate::plan::clip::Polygon;
use crate::plan::{Extent, Frame};
use crate::surface::Plane;
use crate::surface::Surface;
use crate::zones::Zones;
use aligned::Aligned;
use blocks::{Blocks, Index};
pub(crate) use both::Both;
pub(crate) use each::Each;
use limits::Limits;
use pairs::{Pairs, Scratch};
use side::Side;
pub use strip::{Strip, Triangle};

/// Blocks that one task walks before its part is joined to the others.
const RUN: usize = 32;
/// Tasks whose parts are held at a time; bounds memory, does not touch the figures.
const WAVE: usize = 512;

/// A convex piece of the plan in which one facet of each surface meets, within one or more zones.
#[derive(Debug, Clone, Copy)]
pub struct Piece<'p> {
    /// The zones it lies in, as indices; `[0]` when there are none.
    pub zones: &'p [u32],
    /// Its outline, counter-clockwise, in local coordinates.
    pub outline: &'p Polygon,
    /// The plane of the reference surface over it.
    pub reference: Plane,
    /// The plane of the surveyed surface over it.
    pub surveyed: Plane,
    /// The facets of the reference and the surveyed surface, counted from zero: of a grid two for each
    /// cell, row by row from the south-west, whether they are there or not.
    pub facets: [u32; 2],
}

/// What to do with the pieces of an overlay.
pub trait Fold: Sync {
    /// What is gathered.
    type Part: Send;

    /// An empty part.
    fn part(&self) -> Self::Part;

    /// Takes one piece into a part.
    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>);

    /// Takes a strip of cells of two aligned grids into a part: as the pieces they are, where there is no
    /// quicker way.
    fn strip(&self, part: &mut Self::Part, strip: &Strip<'_>) {
        for triangle in (0..strip.cells()).flat_map(|cell| strip.triangles(cell)) {
            triangle.as_piece(|piece| self.piece(part, piece));
        }
    }

    /// Joins the part that comes next in order.
    fn join(&self, part: &mut Self::Part, next: Self::Part);
}

/// Why two surfaces cannot be overlaid.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum OverlayError {
    /// Coordinates held in different frames cannot be compared.
    #[error("the two surfaces have different local origins")]
    FramesDiffer,
    /// Two levels meet everywhere.
    #[error("two levels have no edge: a zone must limit them")]
    Unbounded,
    /// No place lies in both, or none of it in a zone.
    #[error("the two surfaces do not overlap")]
    Apart,
    /// Who watches said so; see [`Overlay::watched`].
    #[error("the run was stopped")]
    Stopped,
}

/// Told the share of the work that is done, and says whether it goes on.
pub type Watch<'w> = &'w (dyn Fn(f64) -> ControlFlow<()> + Sync);

/// Two surfaces laid over each other, within zones if there are any.
pub struct Overlay<'a> {
    reference: Side<'a>,
    surveyed: Side<'a>,
    frame: Frame,
    zones: Option<&'a Zones>,
    extent: Extent,
    /// Made by the first fold, for all of them.
    indexed: OnceLock<Indexed<'a>>,
    watch: Option<Watch<'a>>,
}

impl fmt::Debug for Overlay<'_> {
    fn fmt(&self, formatter: &mut fmt::Formatter<'_>) -> fmt::Result {
        (formatter.debug_struct("Overlay"))
            .field("frame", &self.frame)
            .field("extent", &self.extent)
            .finish_non_exhaustive()
    }
}

/// Which facets of both sides reach where, and the zones.
#[derive(Debug)]
struct Indexed<'a> {
    blocks: Blocks,
    lead: Index<'a>,
    partner: Index<'a>,
    limits: Option<Limits<'a>>,
}

impl<'a> Overlay<'a> {
    /// Lays `surveyed` over `reference`, within `zones`.
    ///
    /// # Errors
    ///
    /// When their frames differ, they do not overlap, or nothing bounds them.
    pub fn new(
        reference: &'a Surface,
        surveyed: &'a Surface,
        zones: Option<&'a Zones>,
    ) -> Result<Self, OverlayError> {
        let frame = reference.frame();
        if surveyed.frame() != frame || zones.is_some_and(|z| z.frame() != frame) {
            return Err(OverlayError::FramesDiffer);
        }
        let within = zones.map_or(Extent::EVERYWHERE, Zones::extent);
        let extent = (reference.extent())
            .intersection(&surveyed.extent())
            .intersection(&within);
        if extent == Extent::EVERYWHERE {
            return Err(OverlayError::Unbounded);
        }
        if extent.is_empty() {
            return Err(OverlayError::Apart);
        }
        Ok(Overlay {
            reference: Side::of(reference),
            surveyed: Side::of(surveyed),
            frame,
            zones,
            extent,
            indexed: OnceLock::new(),
            watch: None,
        })
    }

    /// The same, watched by a caller who is shown the share of each fold from time to time, and may stop it.
    ///
    /// ```
    /// use std::ops::ControlFlow;
    /// use dapedon_core::overlay::{Overlay, OverlayError};
    /// use dapedon_core::plan::Frame;
    /// use dapedon_core::quantities::{Tolerance, volumes};
    /// use dapedon_core::surface::{Grid, Level, Surface};
    /// use dapedon_core::units::LengthUnit;
    /// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
    /// let flat = Grid::new(frame, frame.to_local(0.0, 0.0), [1.0, 1.0], [3, 3], vec![1.0; 9]).unwrap();
    /// let [flat, level] = [Surface::Grid(flat), Surface::Level(Level::new(frame, 0.0))];
    /// let overlay = Overlay::new(&level, &flat, None).unwrap();
    /// let watched = overlay.watched(&|_share| ControlFlow::Break(()));
    /// assert_eq!(volumes(&watched, &[Tolerance::ZERO]), Err(OverlayError::Stopped));
    /// ```
    #[must_use]
    pub fn watched(self, watch: Watch<'a>) -> Self {
        Overlay {
            watch: Some(watch),
            ..self
        }
    }

    /// How many zones pieces are distinguished by; one when there are none.
    pub fn zone_count(&self) -> usize {
        self.zones.map_or(1, |zones| zones.zones().len())
    }

    /// Where both sides and the zones reach.
    pub fn extent(&self) -> Extent {
        self.extent
    }

    /// The frame of both sides.
    pub fn frame(&self) -> Frame {
        self.frame
    }

    /// Takes every piece through `fold`, in parallel.
    ///
    /// The result is the same to the bit for any number of threads.
    ///
    /// # Errors
    ///
    /// When who watches stops it, and only then.
    pub fn fold<F: Fold>(&self, fold: &F) -> Result<F::Part, OverlayError> {
        if let (Side::Grid(reference), Side::Grid(surveyed), None) =
            (self.reference, self.surveyed, self.zones)
            && let Some(aligned) = Aligned::of(reference, surveyed)
        {
            return self.walk(
                fold,
                aligned.bands(),
                || (),
                |(), band, part| {
                    aligned.band(fold, band, part);
                },
            );
        }
        // The leading side is cut to the zones and then met with the other; it must be bounded.
        let reference_leads = self.reference.is_bounded() || !self.surveyed.is_bounded();
        let (lead, partner) = if reference_leads {
            (&self.reference, &self.surveyed)
        } else {
            (&self.surveyed, &self.reference)
        };
        let Indexed {
            blocks,
            lead,
            partner,
            limits,
        } = self.indexed.get_or_init(|| {
            let (blocks, lead, partner) = index(self.extent, lead, partner);
            Indexed {
                blocks,
                lead,
                partner,
                limits: self.zones.map(Limits::new),
            }
        });
        let pairs = Pairs {
            fold,
            blocks,
            lead,
            partner,
            reference_leads,
            limits: limits.as_ref(),
        };
        let order = blocks.curve();
        let runs: Vec<&[u32]> = order.chunks(RUN).collect();
        self.walk(fold, runs, Scratch::default, |scratch, run, part| {
            for &block in run {
                pairs.block(block, scratch, part);
            }
        })
    }

    /// Takes tasks through a fold in parallel and joins their parts in order.
    fn walk<F: Fold, T: Copy + Sync, S>(
        &self,
        fold: &F,
        tasks: Vec<T>,
        scratch: impl Fn() -> S + Sync + Send,
        task: impl Fn(&mut S, T, &mut F::Part) + Sync + Send,
    ) -> Result<F::Part, OverlayError> {
        let mut whole = fold.part();
        for (wave, done) in tasks.chunks(WAVE).zip(0..) {
            if let Some(watch) = self.watch
                && watch((done * WAVE) as f64 / tasks.len() as f64).is_break()
            {
                return Err(OverlayError::Stopped);
            }
            let parts: Vec<F::Part> = wave
                .par_iter()
                .map_init(&scratch, |scratch, &one| {
                    let mut part = fold.part();
                    task(scratch, one, &mut part);
                    part
                })
                .collect();
            for part in parts {
                fold.join(&mut whole, part);
            }
        }
        Ok(whole)
    }
}

/// Parts `extent` into blocks and knows the facets of both sides that reach into each.
fn index<'s>(
    extent: Extent,
    lead: &Side<'s>,
    partner: &Side<'s>,
) -> (Blocks, Index<'s>, Index<'s>) {
    let facets = rayon::join(|| lead.count_in(&extent), || partner.count_in(&extent));
    let mut blocks = Blocks::new(extent, facets.0.max(facets.1));
    let mut spans = rayon::join(|| blocks.spans(lead), || blocks.spans(partner));
    // Facets far longer than a block would be listed in very many: coarser blocks keep the lists
    // in proportion, and crowded blocks are quartered again on the way.
    while blocks.are_crowded([&spans.0, &spans.1]) {
        blocks.halve();
        rayon::join(|| spans.0.halve(), || spans.1.halve());
    }
    let (lead, partner) = rayon::join(|| blocks.index(&spans.0), || blocks.index(&spans.1));
    (blocks, lead, partner)
}
