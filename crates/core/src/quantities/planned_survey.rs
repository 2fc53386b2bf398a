//! How uncertain a volume would be by a survey that is still to be made: with points on a grid over ground whose shape is known.

use crate::overlay::volume::{Tolerance, volumes};
use crate::overlay::{Overlay, OverlayError};
use crate::plan::{Extent, Place};
use crate::quantities::spread::points_within;
use crate::quantities::uncertainty::{Accuracy, UncertaintyParts, weighed_volumes};
use crate::surface::{Grid, HeightAt, Level, Surface, heights_at};
use crate::zones::Zones;

/// A survey of points on a grid is tried in so many places: where it begins is chance.
const SHIFTS: usize = 8;
/// Nodes of a grid at most.
const MOST: f64 = 1_000_000.0;

/// How uncertain the volume between some ground and what lies under it would be.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PlannedSurvey {
    /// From point to point.
    pub spacing: f64,
    /// Points within the zones.
    pub points: usize,
    /// What the accuracy of the points makes.
    pub parts: UncertaintyParts,
    /// What the spacing leaves out of the shape of the ground: the root of the mean square, by where the grid begins.
    pub between_points: f64,
}

impl PlannedSurvey {
    /// All of it together.
    pub fn standard(&self) -> f64 {
        libm::hypot(self.parts.standard(), self.between_points)
    }
}

/// How uncertain the volume above or below some ground would be, over zones together, that is surveyed on a grid of some spacing with some accuracy. None
/// where the grid is too fine or too coarse for the zones.
///
/// The heights of the ground at the nodes of the grid make a survey, whose difference from the ground is what the spacing leaves out: it is measured, for eight
/// places of the grid. Where the grid reaches beyond the ground, what is found on the rest stands for all.
///
/// # Errors
///
/// When the zones do not lie on the ground.
///
/// ```
/// use dapedon_core::plan::{Frame, Place};
/// use dapedon_core::quantities::{Accuracy, planned_survey};
/// use dapedon_core::surface::{Grid, Surface};
/// use dapedon_core::units::LengthUnit;
/// use dapedon_core::zones::{Zone, Zones};
/// // Level ground of 40 by 40 m: its shape is known with any spacing, and errors of 10 mm of a point leave 1600 m² × 10 mm / √n.
/// let frame = Frame::new(LengthUnit::Metre, [0.0, 0.0]);
/// let ground = Grid::new(frame, frame.to_local(-20.0, -20.0), [1.0, 1.0], [81, 81], vec![5.0; 81 * 81]).unwrap();
/// let ring = [(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0), (0.0, 0.0)].map(|(e, n)| Place::new(e, n));
/// let zones = Zones::new(frame, vec![Zone::new("field", frame, vec![vec![ring.to_vec()]]).unwrap()]);
/// let rover = Accuracy { height: 0.01, ..Accuracy::EXACT };
/// let found = planned_survey(&Surface::Grid(ground), &zones, 4.0, &rover).unwrap().unwrap();
/// assert!(found.between_points < 1e-9);
/// let expected = 1600.0 * 0.01 / 100f64.sqrt();
/// assert!((found.standard() - expected).abs() < 0.1 * expected);
/// ```
pub fn planned_survey(
    ground: &Surface,
    zones: &Zones,
    spacing: f64,
    accuracy: &Accuracy,
) -> Result<Option<PlannedSurvey>, OverlayError> {
    let extent = zones.extent();
    let nodes = (extent.width() / spacing + 3.0) * (extent.height() / spacing + 3.0);
    if !(spacing > 0.0 && nodes <= MOST) {
        return Ok(None);
    }
    let whole: f64 = zones.zones().iter().map(|zone| zone.area()).sum();
    let mut squares = 0.0;
    let mut first = None;
    for shift in 0..SHIFTS {
        let Some(survey) = on_a_grid(ground, &extent, spacing, shift) else {
            return Ok(None);
        };
        let overlay = match Overlay::new(ground, &survey, Some(zones)) {
            Err(OverlayError::Apart) => return Ok(None),
            laid => laid?,
        };
        let found = volumes(&overlay, &[Tolerance::ZERO])?;
        let all = || found.iter().flatten();
        let compared: f64 = all().map(|zone| zone.area.compared).sum();
        if compared <= 0.0 {
            return Ok(None);
        }
        let net: f64 = all().map(|zone| zone.volume.net).sum();
        let error = net * whole / compared;
        squares += error * error;
        if shift == 0 {
            let parts = parts(&survey, zones, accuracy)?;
            let larger = |part: f64| part * whole / compared;
            first = Some(PlannedSurvey {
                spacing,
                points: points_within(&survey, zones.zones()),
                parts: UncertaintyParts {
                    height: larger(parts.height),
                    plan: larger(parts.plan),
                    common_height: larger(parts.common_height),
                    common_plan: larger(parts.common_plan),
                    on_slopes: larger(parts.on_slopes),
                },
                between_points: 0.0,
            });
        }
    }
    Ok(first.map(|found| PlannedSurvey {
        between_points: (squares / SHIFTS as f64).sqrt(),
        ..found
    }))
}

/// What the accuracy of the points of a survey makes of the volume under it.
fn parts(
    survey: &Surface,
    zones: &Zones,
    accuracy: &Accuracy,
) -> Result<UncertaintyParts, OverlayError> {
    // All of it counts: where two surfaces are alike nothing does.
    let below = Surface::Level(Level::new(survey.frame(), survey.heights().0 - 1.0));
    let overlay = Overlay::new(&below, survey, Some(zones))?;
    let weighed = weighed_volumes(
        &overlay,
        Tolerance::ZERO,
        [&below, survey],
        [Accuracy::EXACT, *accuracy],
    )?;
    let all: Vec<usize> = (0..weighed.zones.len()).collect();
    let found = weighed.uncertainty(&all);
    Ok(found.net.surveyed)
}

/// The ground as a survey on a grid would have it, around an extent; none where that makes no surface.
fn on_a_grid(ground: &Surface, around: &Extent, spacing: f64, shift: usize) -> Option<Surface> {
    // Even and without a pattern (M. Roberts' R2 sequence).
    let part = |factor: f64| (0.5 + shift as f64 * factor).fract() - 1.0;
    let corner = Place::new(
        around.min.east + spacing * part(0.754_877_666_246_69),
        around.min.north + spacing * part(0.569_840_290_998_05),
    );
    let count = |length: f64| (length / spacing).ceil() as usize + 2;
    let (columns, rows) = (count(around.width()), count(around.height()));
    let places = (0..rows * columns).map(|node| {
        let (column, row) = ((node % columns) as f64, (node / columns) as f64);
        Place::new(corner.east + column * spacing, corner.north + row * spacing)
    });
    let places: Vec<Place> = places.collect();
    let height = |found: &HeightAt| match *found {
        HeightAt::One { height, .. } => height,
        // A pole stands above a step, or below it.
        HeightAt::Several { high, .. } => high,
        HeightAt::None => f64::NAN,
    };
    let heights = heights_at(ground, &places).iter().map(height).collect();
    let frame = ground.frame();
    let corner = frame.to_grid(corner);
    let grid = Grid::new(frame, corner, [spacing; 2], [columns, rows], heights);
    grid.ok().map(Surface::Grid)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Frame;
    use crate::units::LengthUnit;
    use crate::zones::Zone;

    const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

    fn frame() -> Frame {
        Frame::new(LengthUnit::Metre, ORIGIN)
    }

    /// Ground of 100 by 100 m, known every half a metre.
    fn ground(height: impl Fn(f64, f64) -> f64) -> Surface {
        let heights = (0..201 * 201).map(|node| {
            let (column, row) = (node % 201, node / 201);
            height(0.5 * f64::from(column), 0.5 * f64::from(row))
        });
        let corner = Place::new(ORIGIN[0], ORIGIN[1]);
        let heights = heights.collect();
        Surface::Grid(Grid::new(frame(), corner, [0.5; 2], [201, 201], heights).unwrap())
    }

    fn square(from: f64, to: f64) -> Zones {
        let corners = [(from, from), (to, from), (to, to), (from, to), (from, from)];
        let ring = corners.map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n));
        let zone = Zone::new("square", frame(), vec![vec![ring.to_vec()]]).unwrap();
        Zones::new(frame(), vec![zone])
    }

    fn planned(ground: &Surface, spacing: f64, accuracy: &Accuracy) -> PlannedSurvey {
        let zones = square(20.0, 80.0);
        planned_survey(ground, &zones, spacing, accuracy)
            .unwrap()
            .unwrap()
    }

    const ROVER: Accuracy = Accuracy {
        height: 0.02,
        plan: 0.015,
        common_height: 0.01,
        common_plan: 0.01,
        correlation: 0.0,
    };

    #[test]
    fn a_plane_has_closed_forms() {
        // Rising by 0.3 to the east over 3600 m².
        let slope = ground(|e, _| 0.3 * e);
        let found = planned(&slope, 5.0, &ROVER);
        assert!(found.between_points < 1e-6);
        assert!((found.parts.common_height - 36.0).abs() < 1e-6);
        assert!((found.parts.common_plan - 0.3 * 36.0).abs() < 1e-6);
        // As many points as squares, each of which counts with its own, those at the edge with less.
        let single = 3600.0 * 0.02 / 144f64.sqrt();
        assert!(
            (found.parts.height - single).abs() < 0.1 * single,
            "{found:?}"
        );
        assert!((found.parts.plan / found.parts.height - 0.3 * 0.015 / 0.02).abs() < 1e-6);
        assert!((120..=169).contains(&found.points), "{}", found.points);
    }

    #[test]
    fn what_a_dome_loses_falls_with_the_square_of_the_spacing() {
        // Flat cells of s cut a(x² + y²) by a s²/6 in each direction on average over two triangles: a s²/3 together.
        let curve = 0.002;
        let dome = ground(|e, n| -curve * ((e - 50.0).powi(2) + (n - 50.0).powi(2)));
        for spacing in [4.0, 8.0] {
            let found = planned(&dome, spacing, &Accuracy::EXACT).between_points;
            let expected = 3600.0 * curve * spacing * spacing / 3.0;
            assert!(
                (found - expected).abs() < 0.05 * expected,
                "{found} {expected}"
            );
        }
    }

    #[test]
    fn it_is_what_surveys_are_off_by() {
        // Surveys of rolling ground that begin anywhere: about 95 of 100 are within two standard uncertainties.
        let rolling = ground(|e, n| libm::sin(e / 6.0) * libm::cos(n / 8.0) + 0.02 * e);
        let zones = square(20.0, 80.0);
        let stated = planned(&rolling, 9.0, &Accuracy::EXACT).between_points;
        let mut within = 0;
        for shift in 20..80 {
            let survey = on_a_grid(&rolling, &zones.extent(), 9.0, shift).unwrap();
            let overlay = Overlay::new(&rolling, &survey, Some(&zones)).unwrap();
            let found = volumes(&overlay, &[Tolerance::ZERO]).unwrap();
            within += usize::from(found[0][0].volume.net.abs() <= 2.0 * stated);
        }
        assert!(within >= 54, "{within} of 60");
    }

    #[test]
    fn what_makes_no_survey_is_none() {
        let flat = ground(|_, _| 1.0);
        let found = |zones: &Zones, spacing: f64| planned_survey(&flat, zones, spacing, &ROVER);
        assert_eq!(found(&square(20.0, 80.0), 1e-4), Ok(None));
        assert_eq!(found(&square(20.0, 80.0), 0.0), Ok(None));
        assert_eq!(found(&square(220.0, 280.0), 5.0), Ok(None));
        // Beyond the ground what is found on the rest stands for all.
        let half = found(&square(60.0, 140.0), 5.0).unwrap().unwrap();
        assert!((half.parts.common_height - 64.0).abs() < 1e-6, "{half:?}");
    }
}
