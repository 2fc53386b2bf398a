//! The places that are asked for.

use dapedon_core::alignment::Beside;
use dapedon_core::plan::{Extent, Place};
use dapedon_core::quantities::{SpotGrid, TooManySpots};
use dapedon_core::surface::Surface;
use dapedon_core::zones::{WithinZone, Zones};

use super::{MOST, SpotPlaces, SpotsError, SpotsRequest};
use crate::context::Context;
use crate::error::JobError;
use crate::input::{InputFile, places};
use crate::site::{Site, SiteLine};
use crate::surfaces::same_crs;

/// Places, in local coordinates.
pub(super) struct Asked {
    pub(super) spots: Vec<AskedSpot>,
    /// What they are, in words.
    pub(super) words: String,
    pub(super) line: Option<SiteLine>,
    pub(super) points_file: Option<InputFile>,
    /// Only places that are on the surfaces count: those of a grid over all ground.
    pub(super) only_reached: bool,
}

/// A place.
pub(super) struct AskedSpot {
    pub(super) name: Option<String>,
    pub(super) at: Place,
    /// The number of the zone it is in.
    pub(super) zone: Option<usize>,
    /// Where it is beside the line.
    pub(super) beside: Option<Beside>,
}

/// Finds all places that are asked for.
pub(super) fn asked(
    context: &Context<'_>,
    request: &SpotsRequest,
    site: &mut Site<'_>,
    zones: Option<&Zones>,
    surfaces: &[&Surface],
) -> Result<Asked, JobError> {
    let frame = site.making.frame;
    let unit = frame.unit();
    let line = request.line.as_ref();
    let line = line.map(|source| site.line(source)).transpose()?;
    let zones = zones.map_or(&[][..], Zones::zones);
    let within: Vec<WithinZone<'_>> = (zones.iter())
        .map(|zone| WithinZone::of(zone, frame.precision()))
        .collect();
    let zone = |at: Place| within.iter().position(|within| within.holds(at));
    let to_grid = |at: Place| frame.to_grid(at);
    let beside = |at: Place| line.as_ref().and_then(|line| line.line.beside(to_grid(at)));
    let symbol = unit.symbol();
    let mut points_file = None;
    let mut only_reached = false;
    let (words, spots): (String, Vec<AskedSpot>) = match &request.places {
        SpotPlaces::Grid {
            spacing,
            origin: [east, north],
            rotation,
        } => {
            let grid = SpotGrid {
                spacing: *spacing,
                origin: Place::new(*east, *north),
                turned: rotation.to_radians(),
            };
            let many = |error: TooManySpots| SpotsError::ManyPlaces {
                count: error.count,
                spacing: error.spacing,
            };
            let found = match within.is_empty() {
                true => {
                    only_reached = true;
                    let extents = surfaces.iter().map(|surface| surface.extent());
                    let all = extents.fold(Extent::EVERYWHERE, |all, own| all.intersection(&own));
                    let places = grid.over(frame, &all, MOST).map_err(many)?;
                    places.into_iter().map(|at| (at, None)).collect::<Vec<_>>()
                }
                false => {
                    let places = grid.within(frame, &within, MOST).map_err(many)?;
                    places
                        .into_iter()
                        .map(|(at, zone)| (at, Some(zone)))
                        .collect()
                }
            };
            let [along, across] = spacing;
            let turned = match rotation {
                0.0 => String::new(),
                _ => format!(", rows {rotation}° from east towards north"),
            };
            let words = format!(
                "grid of {along} by {across} {symbol} through east {east}, north {north}{turned}"
            );
            let spots = found.into_iter().map(|(at, zone)| AskedSpot {
                name: None,
                at,
                zone,
                beside: beside(at),
            });
            (words, spots.collect())
        }
        SpotPlaces::Points { path, name } => {
            let read = places::read(path, name.as_deref(), &context.reading)?;
            let told = path.display().to_string();
            let systems = &site.systems.plan;
            let note = same_crs(
                "points",
                &told,
                &read.crs,
                systems,
                context.reading.ignore_crs,
            )?;
            site.making.warnings.extend(note);
            let own = read
                .unit
                .or(context.reading.unit_of_files())
                .unwrap_or(site.survey);
            let convert = |value: f64| own.convert(value, unit);
            let spots = read.places.into_iter().map(|(name, place)| {
                let at = frame.to_local(convert(place.east), convert(place.north));
                AskedSpot {
                    name,
                    at,
                    zone: zone(at),
                    beside: beside(at),
                }
            });
            let spots: Vec<AskedSpot> = match within.is_empty() {
                true => spots.collect(),
                false => spots.filter(|spot| spot.zone.is_some()).collect(),
            };
            points_file = Some(read.file);
            (format!("points of {told}"), spots)
        }
        SpotPlaces::Line { interval, offsets } => {
            let Some(found) = &line else {
                return Err(SpotsError::NoPlaces.into());
            };
            let most = MOST / offsets.len().max(1);
            let stations =
                found
                    .line
                    .stations(*interval, most)
                    .map_err(|error| SpotsError::ManyStations {
                        interval: *interval,
                        length: error.length,
                        offsets: offsets.len(),
                        count: error.count * offsets.len() as f64,
                    })?;
            let mut spots = Vec::new();
            for distance in stations {
                for &offset in offsets {
                    let course = found.line.at(distance);
                    let Some(place) = course.map(|course| course.offset(offset)) else {
                        continue;
                    };
                    let at = frame.to_local(place.east, place.north);
                    spots.push(AskedSpot {
                        name: None,
                        at,
                        zone: zone(at),
                        beside: Some(Beside { distance, offset }),
                    });
                }
            }
            if !within.is_empty() {
                spots.retain(|spot| spot.zone.is_some());
            }
            (
                format!(
                    "every {interval} {symbol} along {}, at its ends and where it bends",
                    found.source
                ),
                spots,
            )
        }
    };
    match spots.is_empty() {
        true => Err(SpotsError::NoPlaces.into()),
        false => Ok(Asked {
            spots,
            words,
            line,
            points_file,
            only_reached,
        }),
    }
}
