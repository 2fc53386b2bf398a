//! Where an item counts: its zones and plots parted into regions that do not overlap.

use dapedon_core::{Extent, Frame, Place, Zone, Zones, regions};

use crate::JobError;
use crate::job_file::Ground;

/// Regions no larger are what rounding leaves between outlines that nearly meet.
const NEGLIGIBLE: f64 = 1e-6;

/// The ground of an item, parted.
pub(crate) struct Laid {
    /// What is measured, each for itself.
    pub(crate) regions: Vec<Zone>,
    /// The rows, each the sum of some regions.
    pub(crate) rows: Vec<LaidRow>,
    /// Regions in several rows: their names, and how often too often each counts.
    pub(crate) shared: Vec<(String, usize, usize)>,
    /// Regions in no plot.
    pub(crate) in_no_plot: Vec<usize>,
    /// The area of plots outside all zones.
    pub(crate) beyond: f64,
    /// The zones and plots as they are named, where there are any.
    pub(crate) drawn: Option<Zones>,
}

/// A row of an item.
pub(crate) struct LaidRow {
    pub(crate) name: String,
    /// Its own zone, where it is not everywhere.
    pub(crate) zone: Option<usize>,
    pub(crate) regions: Vec<usize>,
}

impl Laid {
    /// Everywhere within an extent that holds both surfaces.
    pub(crate) fn everywhere(frame: Frame, around: Extent) -> Result<Self, JobError> {
        let (min, max) = (frame.to_grid(around.min), frame.to_grid(around.max));
        let corners = [
            (min.east, min.north),
            (max.east, min.north),
            (max.east, max.north),
            (min.east, max.north),
            (min.east, min.north),
        ];
        let ring = corners
            .map(|(east, north)| Place::new(east, north))
            .to_vec();
        let zone = Zone::new("all", frame, vec![vec![ring]]);
        let zone = zone.map_err(|_| JobError::Unbounded)?;
        Ok(Laid {
            regions: vec![zone],
            rows: vec![LaidRow {
                name: "all".into(),
                zone: None,
                regions: vec![0],
            }],
            shared: Vec::new(),
            in_no_plot: Vec::new(),
            beyond: 0.0,
            drawn: None,
        })
    }

    /// Within zones and by plots; `around` holds both surfaces, where they have an end.
    pub(crate) fn of(
        ground: &Ground,
        frame: Frame,
        around: Option<Extent>,
        zones_of: impl Fn(&str) -> Result<Vec<Zone>, JobError>,
    ) -> Result<Self, JobError> {
        let read = |names: &[String]| -> Result<Vec<Zone>, JobError> {
            let zones = names.iter().map(|name| zones_of(name));
            Ok(zones
                .collect::<Result<Vec<_>, _>>()?
                .into_iter()
                .flatten()
                .collect())
        };
        let (limits, plots) = (read(&ground.zones)?, read(&ground.plots)?);
        for named in [&limits, &plots] {
            for (index, zone) in named.iter().enumerate() {
                if named[..index]
                    .iter()
                    .any(|other| other.name() == zone.name())
                {
                    let name = zone.name().into();
                    return Err(JobError::ZoneTwice { name });
                }
            }
        }
        let (by_plots, first_plot) = (!plots.is_empty(), limits.len() as u32);
        let all = Zones::new(frame, limits.into_iter().chain(plots).collect());
        let in_rows = |zone: u32| (zone >= first_plot) == by_plots;
        let mut laid = Laid {
            regions: Vec::new(),
            rows: (0u32..)
                .zip(all.zones())
                .filter(|(index, _)| in_rows(*index))
                .map(|(index, zone)| LaidRow {
                    name: zone.name().into(),
                    zone: Some(index as usize),
                    regions: Vec::new(),
                })
                .collect(),
            shared: Vec::new(),
            in_no_plot: Vec::new(),
            beyond: 0.0,
            drawn: None,
        };
        let around = around.filter(|_| by_plots && first_plot == 0);
        for region in regions(&all, around) {
            let within = first_plot == 0 || region.zones.iter().any(|&zone| zone < first_plot);
            let rows: Vec<u32> = region
                .zones
                .iter()
                .copied()
                .filter(|&zone| in_rows(zone))
                .collect();
            if !within {
                laid.beyond += region.ground.area();
                continue;
            }
            let index = laid.regions.len();
            let area = region.ground.area();
            laid.regions.push(region.ground);
            for row in laid.rows.iter_mut() {
                if row.zone.is_some_and(|zone| rows.contains(&(zone as u32))) {
                    row.regions.push(index);
                }
            }
            match rows.as_slice() {
                [] => laid.in_no_plot.push(index),
                [_] => {}
                several if area > NEGLIGIBLE => {
                    let names = several
                        .iter()
                        .map(|&zone| all.zones()[zone as usize].name());
                    let names = names.collect::<Vec<_>>().join(" and ");
                    laid.shared.push((names, index, several.len() - 1));
                }
                _ => {}
            }
        }
        laid.drawn = Some(all);
        Ok(laid)
    }

    /// The own zone of a row.
    pub(crate) fn zone(&self, row: &LaidRow) -> Option<&Zone> {
        self.drawn.as_ref()?.zones().get(row.zone?)
    }
}
