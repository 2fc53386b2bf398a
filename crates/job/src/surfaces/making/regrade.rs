//! Ground made anew within zones.

use std::sync::Arc;

use dapedon_core::derived::{Choice, NewGround, combined, regraded};
use dapedon_core::plan::Place;
use dapedon_core::surface::{FacetIndex, HeightAt, Surface, Vertex};
use dapedon_core::zones::Zones;

use super::Making;
use crate::error::JobError;
use crate::job_file::RegradePlan;
use crate::surfaces::recipe::Step;
use crate::surfaces::{MadeSurface, SurfaceError};

impl Making<'_> {
    /// The surface with the ground within some zones made anew; `other` is the surface whose points are used.
    pub(super) fn regrade(
        &self,
        plan: &RegradePlan,
        surface: &Surface,
        other: Option<&MadeSurface>,
        zones: &Zones,
        done: &mut Step,
    ) -> Result<Surface, JobError> {
        let new = self.new_ground(plan, other)?;
        let mut made: Option<Surface> = None;
        for zone in zones.zones() {
            let ground = made.as_ref().unwrap_or(surface);
            let found = regraded(ground, zone, &new).map_err(SurfaceError::Regrade)?;
            let outside = match found.outside {
                0 => String::new(),
                count => format!("; {count} outside it or on its edge not used"),
            };
            done.notes.push(format!(
                "zone \"{}\": {} points within, {} along its edge{outside}",
                zone.name(),
                found.points,
                found.edge_points
            ));
            if found.crossings > 0 {
                done.notes.push(format!(
                    "breaklines cross at {} places; the mean of both heights is used there",
                    found.crossings
                ));
            }
            let within = Surface::Tin(found.surface);
            made = Some(combined(ground, &within, Choice::Other)?);
        }
        made.ok_or(SurfaceError::NothingLeft.into())
    }

    /// Points and lines of a plan, in the frame at hand.
    fn new_ground(
        &self,
        plan: &RegradePlan,
        other: Option<&MadeSurface>,
    ) -> Result<NewGround, JobError> {
        let local = |v: Vertex| {
            let at = self.frame.to_local(v.east, v.north);
            Vertex::new(at.east, at.north, v.height)
        };
        let points = plan.points.iter().map(|&point| {
            let [east, north, height] = point.map(|value| self.convert(value));
            local(Vertex::new(east, north, height))
        });
        let mut new = NewGround {
            points: points.collect(),
            lines: Vec::new(),
        };
        for name in &plan.lines {
            let line = self.stock.lines.get(name);
            let corners = line.and_then(|line| line.corners.clone());
            let corners = corners.ok_or(SurfaceError::LineWithoutHeights)?;
            new.lines.push(corners.into_iter().map(local).collect());
        }
        if let Some(other) = other {
            new.points.extend(points_of(&other.surface)?);
            let index = FacetIndex::of(&other.surface);
            let vertex = |place: &Place| match index.at(*place) {
                HeightAt::One { height, .. } => Some(Vertex::new(place.east, place.north, height)),
                HeightAt::None | HeightAt::Several { .. } => None,
            };
            let lines = other.breaklines.iter();
            new.lines
                .extend(lines.map(|line| line.iter().filter_map(vertex).collect::<Vec<_>>()));
        }
        Ok(new)
    }
}

/// The points of a surface.
fn points_of(surface: &Arc<Surface>) -> Result<Vec<Vertex>, JobError> {
    match &**surface {
        Surface::Tin(tin) => Ok(tin.vertices().to_vec()),
        Surface::Level(_) | Surface::Grid(_) => Err(SurfaceError::NoPoints.into()),
    }
}
