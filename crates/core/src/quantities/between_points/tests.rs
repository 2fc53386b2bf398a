//! What is left out between points, against ground whose whole shape is known.

use super::*;
use crate::plan::Frame;
use crate::points::{Line, LineKind, PickUp, Rules, triangulate};
use crate::surface::{Level, Vertex};
use crate::units::LengthUnit;

const ORIGIN: [f64; 2] = [500_000.0, 6_000_000.0];

fn frame() -> Frame {
    Frame::new(LengthUnit::Metre, ORIGIN)
}

fn level(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

/// Points so far apart over 60 by 60 m, off their grid by up to a third of that.
fn survey(spacing: f64, seed: f64, height: impl Fn(f64, f64) -> f64) -> Surface {
    let count = (60.0 / spacing).round() as i32;
    let mut points = Vec::new();
    for row in 0..=count {
        for column in 0..=count {
            let inner = |at: i32| f64::from(i32::from(at > 0 && at < count));
            let (c, r) = (f64::from(column), f64::from(row));
            let off = |a: f64, b: f64| spacing / 3.0 * libm::sin(seed + a * c + b * r);
            let e = c * spacing + inner(column) * off(12.9, 78.2);
            let n = r * spacing + inner(row) * off(39.4, 11.1);
            points.push(Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, height(e, n)));
        }
    }
    let made = triangulate(frame(), &PickUp::from(points), &Rules::default());
    Surface::Tin(made.unwrap().tin)
}

fn measured(from: &Surface, to: &Surface) -> Vec<ZoneVolume> {
    volume(from, to, None, Tolerance::ZERO).unwrap()
}

/// Of fill above a level: what was found with a survey, and the uncertainty that follows.
fn found(spacing: f64, seed: f64, height: &impl Fn(f64, f64) -> f64) -> (f64, f64) {
    let (from, to) = (level(0.0), survey(spacing, seed, height));
    let full = measured(&from, &to);
    let own = between_points([&from, &to], 1, &[], None, Tolerance::ZERO, &full);
    (full[0].volume.fill, own.unwrap().unwrap()[0][1])
}

#[test]
fn ground_that_is_a_plane_leaves_nothing_out() {
    let (_, own) = found(5.0, 0.3, &|e, n| 10.0 + 0.1 * e - 0.05 * n);
    assert!(own < 1e-6, "{own}");
}

#[test]
fn the_true_volume_is_within_what_is_stated_in_nearly_all_surveys() {
    // Smooth hills; a dome, which a survey cuts the top off of; and ground with a kink.
    let hills = |e: f64, n: f64| 10.0 + 1.5 * libm::sin(e / 7.0) * libm::cos(n / 9.0);
    let dome = |e: f64, n: f64| 14.0 - 0.004 * ((e - 30.0).powi(2) + (n - 30.0).powi(2));
    let kinked = |e: f64, n: f64| 10.0 + (0.4 * (e + 0.37 * n - 41.0)).max(0.0);
    let grounds: [&dyn Fn(f64, f64) -> f64; 3] = [&hills, &dome, &kinked];
    let (mut within, mut all) = (0, 0);
    for ground in grounds {
        // Fine enough that nothing is left out of it.
        let truth = measured(&level(0.0), &survey(0.25, 0.0, ground))[0]
            .volume
            .fill;
        for seed in 0..12 {
            let (own, standard) = found(6.0, 0.7 + 1.3 * f64::from(seed), &ground);
            within += usize::from((own - truth).abs() <= 2.0 * standard);
            all += 1;
            // And it is no more than the error is: less than four times on the whole.
            assert!(2.0 * standard < 0.02 * truth, "{standard} of {truth}");
        }
    }
    assert!(10 * within >= 9 * all, "{within} of {all}");
}

#[test]
fn it_halves_with_the_square_of_the_spacing_on_smooth_ground() {
    let dome = |e: f64, n: f64| 14.0 - 0.004 * ((e - 30.0).powi(2) + (n - 30.0).powi(2));
    let [coarse, fine] = [6.0, 3.0].map(|spacing| {
        let all = (0..6).map(|seed| found(spacing, 0.7 + f64::from(seed), &dome).1);
        all.sum::<f64>() / 6.0
    });
    let ratio = coarse / fine;
    assert!((3.0..5.5).contains(&ratio), "{ratio}");
}

#[test]
fn lines_stay_lines_and_edges_stay_where_they_are() {
    // A ditch along a line whose points lie on a straight: with half of them it is the same ditch.
    let mut points = Vec::new();
    let mut line = Vec::new();
    for row in 0..=12 {
        let n = 5.0 * f64::from(row);
        for (index, e) in [0.0, 13.0, 29.5, 30.0, 30.5, 47.0, 60.0]
            .into_iter()
            .enumerate()
        {
            if index == 3 {
                line.push(points.len() as u32);
            }
            let height = if index == 3 { 9.0 } else { 10.0 };
            points.push(Vertex::new(ORIGIN[0] + e, ORIGIN[1] + n, height));
        }
    }
    let kind = LineKind::Breakline;
    let lines = vec![Line {
        kind,
        points: line.clone(),
    }];
    let pick_up = PickUp { points, lines };
    let made = triangulate(frame(), &pick_up, &Rules::default()).unwrap();
    let at = |&number: &u32| {
        let point = pick_up.points[number as usize];
        frame().to_local(point.east, point.north)
    };
    let breaklines = vec![line.iter().map(at).collect::<Vec<Place>>()];
    let halves = HalfOfPoints::of(&made.tin, &breaklines).unwrap();
    let half = halves.surface(3, false).unwrap();
    assert!(half.vertices().len() < made.tin.vertices().len() - 20);
    let (from, whole, half) = (
        level(0.0),
        Surface::Tin(made.tin.clone()),
        Surface::Tin(half),
    );
    let [whole, half] = [&whole, &half].map(|to| measured(&from, to)[0]);
    assert!((whole.area.compared - half.area.compared).abs() < 1e-6);
    // Its sides may be drawn to other points of the level ground: the ditch itself keeps its depth from end to end.
    assert_eq!(half.difference.unwrap().min.difference, 9.0);
}

#[test]
fn either_side_and_zones_are_counted() {
    use crate::zones::Zone;
    let hills = |e: f64, n: f64| 10.0 + 1.5 * libm::sin(e / 7.0) * libm::cos(n / 9.0);
    let (one, other) = (level(9.0), survey(5.0, 0.4, hills));
    let strip = |from: f64, to: f64| {
        let corners = [
            (from, 2.0),
            (to, 2.0),
            (to, 58.0),
            (from, 58.0),
            (from, 2.0),
        ];
        let ring = corners.map(|(e, n)| Place::new(ORIGIN[0] + e, ORIGIN[1] + n));
        Zone::new(format!("{from}"), frame(), vec![vec![ring.to_vec()]]).unwrap()
    };
    let zones = Zones::new(frame(), vec![strip(2.0, 30.0), strip(30.0, 58.0)]);
    let full = volume(&one, &other, Some(&zones), Tolerance::ZERO).unwrap();
    let forth = between_points([&one, &other], 1, &[], Some(&zones), Tolerance::ZERO, &full);
    let forth = forth.unwrap().unwrap();
    assert_eq!(forth.len(), 3);
    let full = volume(&other, &one, Some(&zones), Tolerance::ZERO).unwrap();
    let back = between_points([&other, &one], 0, &[], Some(&zones), Tolerance::ZERO, &full);
    for (forth, back) in forth.iter().zip(back.unwrap().unwrap()) {
        // What is fill one way is cut the other.
        let swapped = [back[1], back[0], back[2]];
        for (forth, back) in forth.iter().zip(swapped) {
            assert!(
                (forth - back).abs() < 1e-6 * forth.max(1.0),
                "{forth} {back}"
            );
        }
    }
    // A level has no points.
    let none = between_points([&one, &other], 0, &[], Some(&zones), Tolerance::ZERO, &full);
    assert!(none.unwrap().is_none());
}
