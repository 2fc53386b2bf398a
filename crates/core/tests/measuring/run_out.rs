//! Platforms and embankments with slopes that run out, against closed forms.

use std::f64::consts::PI;

use crate::shapes::{ORIGIN, frame, integral, measure, near, ring, sheet, solid, zones};
use dapedon_core::derived::{
    Choice, CrestError, Ends, RunOut, RunOutError, SideSlope, Slopes, Top, combined, run_out,
};
use dapedon_core::surface::{Level, Outline, Surface, Tin, Vertex};

fn slopes(cut: f64, fill: f64) -> Slopes {
    Slopes {
        cut: SideSlope::plain(cut),
        fill: SideSlope::plain(fill),
        chord: 0.001,
    }
}

/// A rectangle of two facets about the origin, its heights from a plane.
fn ground(half: f64, height: impl Fn(f64, f64) -> f64) -> Surface {
    let corners = [(-half, -half), (half, -half), (half, half), (-half, half)];
    let corners: Vec<_> = corners.iter().map(|&(e, n)| (e, n, height(e, n))).collect();
    solid(&corners, &[[0, 1, 2], [0, 2, 3]])
}

fn platform(corners: &[(f64, f64)], height: f64) -> Top {
    let zones = zones(vec![vec![ring(corners)]]);
    Top::platform(frame(), &zones.zones()[0], |_| height).unwrap()
}

fn square(half: f64, height: f64) -> Top {
    platform(
        &[(-half, -half), (half, -half), (half, half), (-half, half)],
        height,
    )
}

fn crest(line: &[(f64, f64, f64)], width: f64, ends: Ends) -> Result<Top, CrestError> {
    let line: Vec<_> = line.iter().map(|&(e, n, h)| Vertex::new(e, n, h)).collect();
    Top::crest(frame(), &line, width, ends)
}

/// Cut and fill from the ground to the ground with the body in it.
fn volumes(ground: &Surface, made: RunOut) -> (f64, f64) {
    let body = Surface::Tin(made.surface);
    let whole = combined(ground, &body, Choice::Other).unwrap();
    let (own, all) = (measure(ground, &body), measure(ground, &whole));
    near(own.volume.cut, all.volume.cut, 1e-9);
    near(own.volume.fill, all.volume.fill, 1e-9);
    // Where slopes meet the ground there is no step: heights go on from the one to the other.
    near(integral(&whole), integral(ground) + all.volume.net, 1e-9);
    (all.volume.cut, all.volume.fill)
}

/// The volume under a broken cone is less than under the round one, by no more than the chord allows: the
/// broken one holds the circle that is a chord smaller.
fn between(found: f64, straight: f64, round: f64, radius: f64, chord: f64) {
    let least = straight + round * (1.0 - chord / radius).powi(2);
    assert!(
        found <= straight + round + 1e-9,
        "{found} > {}",
        straight + round
    );
    assert!(found >= least - 1e-9, "{found} < {least}");
}

/// A square on level ground, 3 high, at 1 in 2: slabs under the slopes and a cone at the corners.
#[test]
fn a_platform_in_fill_and_in_cut() {
    let level = ground(60.0, |_, _| 0.0);
    let (a, h, n): (f64, f64, f64) = (20.0, 3.0, 2.0);
    let straight = a * a * h + 4.0 * a * n * h * h / 2.0;
    let round = PI * (n * h).powi(2) * h / 3.0;
    let made = run_out(&square(a / 2.0, h), &level, slopes(1.0, n)).unwrap();
    near(made.reach[1], n * h, 1e-9);
    assert_eq!(made.reach[0], 0.0);
    let (cut, fill) = volumes(&level, made);
    near(cut, 0.0, 1e-9);
    between(fill, straight, round, n * h, 0.001);
    let made = run_out(&square(a / 2.0, -h), &level, slopes(n, 1.0)).unwrap();
    let (dug, filled) = volumes(&level, made);
    near(dug, fill, 1e-9);
    near(filled, 0.0, 1e-9);
}

/// Ground may be a level, and need not be one: the same body stands on a plane that falls to one side.
#[test]
fn a_platform_on_endless_ground() {
    let level = Surface::Level(Level::new(frame(), 0.0));
    let made = run_out(&square(10.0, 3.0), &level, slopes(1.0, 2.0)).unwrap();
    let fill = measure(&level, &Surface::Tin(made.surface)).volume.fill;
    between(fill, 400.0 * 3.0 + 80.0 * 9.0, PI * 36.0, 6.0, 0.001);
}

/// An L: five outer corners with cones, one inner corner where two slopes cover the same ground once.
#[test]
fn slopes_meet_at_inner_corners() {
    let level = ground(60.0, |_, _| 0.0);
    let corners = [
        (0.0, 0.0),
        (30.0, 0.0),
        (30.0, 10.0),
        (12.0, 10.0),
        (12.0, 25.0),
        (0.0, 25.0),
    ];
    let (area, around, h, n): (f64, f64, f64, f64) = (300.0 + 12.0 * 15.0, 110.0, 2.5, 1.5);
    // The ground within d of the outline: P d + 5 quarters of a circle - d², summed over the height.
    let straight = area * h + around * n * h * h / 2.0 - (n * h).powi(2) * h / 3.0;
    let round = 1.25 * PI * (n * h).powi(2) * h / 3.0;
    let made = run_out(&platform(&corners, h), &level, slopes(1.0, n)).unwrap();
    let (_, fill) = volumes(&level, made);
    between(fill, straight, round, n * h, 0.001);
}

/// A notch so narrow that the slopes on both sides meet before they reach the ground.
#[test]
fn slopes_meet_across_a_notch() {
    let level = ground(80.0, |_, _| 0.0);
    let corners = [
        (0.0, 0.0),
        (30.0, 0.0),
        (30.0, 40.0),
        (17.0, 40.0),
        (17.0, 10.0),
        (13.0, 10.0),
        (13.0, 40.0),
        (0.0, 40.0),
    ];
    let (h, n): (f64, f64) = (4.0, 1.5);
    let made = run_out(&platform(&corners, h), &level, slopes(1.0, n)).unwrap();
    let body = Surface::Tin(made.surface);
    // Within the notch, 4 wide, away from its ends: two slopes that meet 2/n below the top.
    let site = zones(vec![vec![ring(&[
        (13.0, 15.0),
        (17.0, 15.0),
        (17.0, 30.0),
        (13.0, 30.0),
    ])]]);
    let found = dapedon_core::quantities::volume(
        &level,
        &body,
        Some(&site),
        dapedon_core::quantities::Tolerance::ZERO,
    );
    near(
        found.unwrap()[0].volume.fill,
        15.0 * (4.0 * h - 2.0 * 2.0 / n),
        1e-9,
    );
    // Nothing of the slopes lies on the top, nor twice anywhere.
    let outline = dapedon_core::surface::Outline::of(&body);
    let once = dapedon_core::quantities::coverage(&outline, &outline, None)[0];
    near(once.pieces, once.both, 1e-9);
}

/// A bank cut off at its ends is a prism: level, along a grade, and across a slope.
#[test]
fn an_embankment_is_its_section_times_its_length() {
    let (l, w, n): (f64, f64, f64) = (40.0, 4.0, 1.75);
    let line = |h0: f64, h1: f64| [(-20.0, 0.0, h0), (20.0, 0.0, h1)];
    let level = ground(60.0, |_, _| 0.0);
    let made = run_out(
        &crest(&line(3.0, 3.0), w, Ends::Upright).unwrap(),
        &level,
        slopes(1.0, n),
    );
    near(
        volumes(&level, made.unwrap()).1,
        l * (w * 3.0 + n * 9.0),
        1e-9,
    );

    // Ground that falls along the line: w h + n h² summed from h = 2 to 6.
    let falling = ground(60.0, |e, _| -0.1 * e);
    let made = run_out(
        &crest(&line(4.0, 4.0), w, Ends::Upright).unwrap(),
        &falling,
        slopes(1.0, n),
    );
    let sum = |h: f64| w * h * h / 2.0 + n * h.powi(3) / 3.0;
    near(
        volumes(&falling, made.unwrap()).1,
        (sum(6.0) - sum(2.0)) / 0.1,
        1e-9,
    );

    // The same heights from a crest that rises over level ground: slopes fall square to the edges.
    let made = run_out(
        &crest(&line(2.0, 6.0), w, Ends::Upright).unwrap(),
        &level,
        slopes(1.0, n),
    );
    near(
        volumes(&level, made.unwrap()).1,
        (sum(6.0) - sum(2.0)) / 0.1,
        1e-9,
    );

    // Half cut into a hillside, half built out of it.
    let (k, m) = (0.2, 1.0);
    let hillside = ground(60.0, |_, n| k * n);
    let made = run_out(
        &crest(&line(0.0, 0.0), w, Ends::Upright).unwrap(),
        &hillside,
        slopes(m, n),
    )
    .unwrap();
    let b = w / 2.0;
    let side = |run: f64| l * k * b * (b / (1.0 - k * run)) / 2.0;
    near(made.reach[1], b / (1.0 - k * n) - b, 1e-9);
    let (cut, fill) = volumes(&hillside, made);
    near(cut, side(m), 1e-9);
    near(fill, side(n), 1e-9);
}

/// At a bend the sides meet on the line that halves the angle: both arms lose and gain the same there.
#[test]
fn an_embankment_bends_and_ends_in_cones() {
    let level = ground(90.0, |_, _| 0.0);
    let (w, h, n): (f64, f64, f64) = (6.0, 3.0, 2.0);
    let line = [(-30.0, 0.0, h), (0.0, 0.0, h), (0.0, 40.0, h)];
    let made = run_out(
        &crest(&line, w, Ends::Sloping).unwrap(),
        &level,
        slopes(1.0, n),
    )
    .unwrap();
    let (_, fill) = volumes(&level, made);
    // An L again: area w (30 + 40), around 2 (30 + 40) + 2 w, five outer corners and an inner one.
    let straight = 70.0 * w * h + (140.0 + 2.0 * w) * n * h * h / 2.0 - (n * h).powi(2) * h / 3.0;
    between(
        fill,
        straight,
        1.25 * PI * (n * h).powi(2) * h / 3.0,
        n * h,
        0.001,
    );
    let sharp = crest(
        &[(0.0, 0.0, h), (30.0, 0.0, h), (0.0, 1.0, h)],
        w,
        Ends::Sloping,
    );
    assert!(matches!(sharp, Err(CrestError::Sharp { .. })));
    let short = crest(
        &[(0.0, 0.0, h), (30.0, 0.0, h), (30.0, 2.0, h), (0.0, 2.0, h)],
        w,
        Ends::Sloping,
    );
    assert!(matches!(short, Err(CrestError::Sharp { .. })));
    assert_eq!(
        crest(&[(0.0, 0.0, h)], w, Ends::Sloping).unwrap_err(),
        CrestError::NoLength
    );
    assert_eq!(
        crest(&line, f64::NAN, Ends::Sloping).unwrap_err(),
        CrestError::NoWidth
    );
}

/// A ditch beyond the toe is left open; one that the slope runs into is filled to where it meets its bottom.
#[test]
fn only_the_first_meeting_counts() {
    let ditch = |from: f64| {
        let profile = [-60.0, from, from + 0.01, from + 3.0, from + 3.01, 60.0];
        let heights = [0.0, 0.0, -5.0, -5.0, 0.0, 0.0];
        let vertices: Vec<_> = (profile.iter().zip(heights))
            .flat_map(|(&e, h)| [(e, -60.0, h), (e, 60.0, h)])
            .collect();
        let facets: Vec<_> = (0..5u32)
            .flat_map(|i| [[2 * i, 2 * i + 2, 2 * i + 3], [2 * i, 2 * i + 3, 2 * i + 1]])
            .collect();
        solid(&vertices, &facets)
    };
    let line = [(0.0, -20.0, 3.0), (0.0, 20.0, 3.0)];
    let top = crest(&line, 4.0, Ends::Upright).unwrap();
    let plain = 40.0 * (4.0 * 3.0 + 1.0 * 9.0);
    let beyond = ditch(6.0);
    let made = run_out(&top, &beyond, slopes(1.0, 1.0)).unwrap();
    near(volumes(&beyond, made).1, plain, 1e-9);
    let within = ditch(4.0);
    let made = run_out(&top, &within, slopes(1.0, 1.0)).unwrap();
    assert!(volumes(&within, made).1 > plain + 40.0 * 3.0);
}

#[test]
fn what_does_not_run_out_says_why() {
    let level = ground(20.0, |_, _| 0.0);
    let never = run_out(&square(10.0, 8.0), &level, slopes(1.0, 2.0)).unwrap_err();
    let RunOutError::NeverMeets {
        fill: true, tried, ..
    } = never
    else {
        panic!("{never}")
    };
    near(tried, 10.0, 1e-6);
    let beyond = run_out(&square(22.0, 1.0), &level, slopes(1.0, 2.0)).unwrap_err();
    assert_eq!(
        beyond,
        RunOutError::BeyondGround {
            area: 44.0 * 44.0 - 1600.0
        }
    );
    // Ground steeper than the slope is never met, as far as it goes.
    let steep = ground(50.0, |e, _| -0.8 * e);
    let never = run_out(&square(2.0, 3.0), &steep, slopes(1.0, 2.0)).unwrap_err();
    assert!(
        matches!(never, RunOutError::NeverMeets { fill: true, .. }),
        "{never}"
    );
    let flat = run_out(&square(2.0, 3.0), &steep, slopes(1.0, 0.0)).unwrap_err();
    assert_eq!(flat, RunOutError::NoSlope);
}

/// On rolling ground: the body stands on its ground, is nowhere steeper than asked, and is cut free of what
/// its facets are.
#[test]
fn rolling_ground_in_cut_and_fill() {
    let rolling = sheet(120.0, 120.0, 3000, 2, |e, n| {
        2.0 * (e / 17.0).sin() + 1.5 * (n / 13.0).cos()
    });
    let corners = [
        (40.0, 40.0),
        (80.0, 40.0),
        (80.0, 80.0),
        (60.0, 65.0),
        (40.0, 80.0),
    ];
    let made = run_out(&platform(&corners, 0.3), &rolling, slopes(1.5, 2.0)).unwrap();
    assert!(made.reach[0] > 1.0 && made.reach[1] > 1.0);
    let steepest = (0..made.surface.facets().len()).map(|facet| {
        let [a, b, c] = made.surface.corners(facet);
        let plane = dapedon_core::surface::Plane::through(a, b, c);
        plane.slope_east.hypot(plane.slope_north)
    });
    // A broken cone is steeper in the middle of a facet, by the share of the chord in the length tried.
    assert!(steepest.fold(0.0, f64::max) <= (1.0 / 1.5) * 1.001);
    let finer = run_out(
        &platform(&corners, 0.3),
        &rolling,
        Slopes {
            chord: 0.00001,
            ..slopes(1.5, 2.0)
        },
    );
    let ((cut, fill), (finer_cut, finer_fill)) =
        (volumes(&rolling, made), volumes(&rolling, finer.unwrap()));
    assert!((cut - finer_cut).abs() < 0.1 && (fill - finer_fill).abs() < 0.1);
}

/// A line that is closed has no ends: however it is started it makes the same ring. Closed form of one around a rectangle
/// of a by b: the top, both sides, four quarter cones outside and four corners inside where slopes meet.
#[test]
fn a_closed_embankment_is_a_ring() {
    let level = ground(60.0, |_, _| 0.0);
    let (a, b, w, h, n): (f64, f64, f64, f64, f64) = (60.0, 40.0, 4.0, 3.0, 2.0);
    let corners = [(-30.0, -20.0), (30.0, -20.0), (30.0, 20.0), (-30.0, 20.0)];
    let top = (a + w) * (b + w) - (a - w) * (b - w);
    let sides = (2.0 * (a + b + 2.0 * w) + 2.0 * (a + b - 2.0 * w)) * n * h * h / 2.0;
    let straight = top * h + sides - 4.0 * (n * h).powi(2) * h / 3.0;
    let round = PI * (n * h).powi(2) * h / 3.0;
    let mut found = Vec::new();
    for start in 0..4 {
        let mut line: Vec<_> = (0..4)
            .map(|i| corners[(start + i) % 4])
            .map(|(e, n)| (e, n, h))
            .collect();
        line.push(line[0]);
        for ends in [Ends::Sloping, Ends::Upright] {
            let made = run_out(&crest(&line, w, ends).unwrap(), &level, slopes(1.0, n)).unwrap();
            assert!(
                Outline::of_tin(&made.surface)
                    .overlap(made.surface.frame().precision())
                    .is_none()
            );
            let (_, fill) = volumes(&level, made);
            between(fill, straight, round, n * h, 0.001);
            found.push(fill);
        }
        // From the middle of a side, with an end that rounding has moved by a tenth of a millimetre.
        let (p, q) = (line[0], line[1]);
        let middle = ((p.0 + q.0) / 2.0, (p.1 + q.1) / 2.0, h);
        let mut opened = vec![middle];
        opened.extend(&line[1..]);
        opened.push((middle.0 + 1e-4, middle.1, h));
        let made = run_out(
            &crest(&opened, w, Ends::Sloping).unwrap(),
            &level,
            slopes(1.0, n),
        )
        .unwrap();
        found.push(volumes(&level, made).1);
    }
    for fill in &found {
        near(*fill, found[0], 0.05);
    }
    let steps = [
        (0.0, 0.0, 1.0),
        (30.0, 0.0, 2.0),
        (30.0, 30.0, 2.0),
        (0.0, 0.0, 3.0),
    ];
    let error = crest(&steps, w, Ends::Sloping).unwrap_err();
    assert_eq!(error, CrestError::NotLevelWithItself { apart: 2.0 });
}

/// The slopes of a top by their definition, read at a place: beside each edge of the rim the plane that falls by 1 in *run*
/// square to it, and as if a cone as steep as that plane stood at each of its places; of all these the highest.
fn slope_at(rim: &[[(f64, f64, f64); 2]], run: f64, sign: f64, e: f64, n: f64) -> f64 {
    let mut highest = f64::NEG_INFINITY;
    for [from, to] in rim {
        let length = (to.0 - from.0).hypot(to.1 - from.1);
        let steepest = (1.0 / run).hypot((to.2 - from.2) / length);
        for step in 0..=200 {
            let share = f64::from(step) / 200.0;
            let at = |a: f64, b: f64| a + share * (b - a);
            let far = (e - at(from.0, to.0)).hypot(n - at(from.1, to.1));
            highest = highest.max(sign * at(from.2, to.2) - far * steepest);
        }
    }
    sign * highest
}

/// The height of a surface at a place; none where it is not, or at a step.
fn height_at(surface: &Tin, e: f64, n: f64) -> Option<f64> {
    let frame = surface.frame();
    let at = frame.to_local(ORIGIN[0] + e, ORIGIN[1] + n);
    let mut found: Option<f64> = None;
    for facet in 0..surface.facets().len() {
        let [a, b, c] = surface.corners(facet);
        let side = |p: Vertex, q: Vertex| {
            (q.east - p.east) * (at.north - p.north) - (q.north - p.north) * (at.east - p.east)
        };
        if [side(a, b), side(b, c), side(c, a)]
            .into_iter()
            .all(|side| side >= 0.0)
        {
            let plane = dapedon_core::surface::Plane::through(a, b, c);
            let height = plane.at(at);
            match found {
                Some(other) if (height - other).abs() > 1e-6 => return None,
                _ => found = Some(height),
            }
        }
    }
    found
}

/// A line that falls round a bend, to either side: the made surface is the definition, read place by place, and its
/// slopes go over into each other without a step, inside the bend and outside.
#[test]
fn slopes_of_a_falling_top_are_continuous_at_bends() {
    let level = ground(80.0, |_, _| 0.0);
    let run = 2.0;
    for (turn, heights) in [
        (40.0, [9.0, 6.0, 4.0]),
        (-40.0, [9.0, 6.0, 4.0]),
        (40.0, [4.0, 8.0, 5.0]),
    ] {
        let line = [
            (-30.0, 0.0, heights[0]),
            (0.0, 0.0, heights[1]),
            (15.0, turn, heights[2]),
        ];
        let top = crest(&line, 5.0, Ends::Sloping).unwrap();
        let made = run_out(
            &top,
            &level,
            Slopes {
                chord: 1e-4,
                ..slopes(1.0, run)
            },
        )
        .unwrap();
        assert!(
            Outline::of_tin(&made.surface)
                .overlap(made.surface.frame().precision())
                .is_none()
        );
        let rim = rim_of(&top);
        let (mut compared, mut worst) = (0, 0.0f64);
        for index in (0..4000).step_by(3) {
            let (e, n) = (
                -55.0 + 1.37 * f64::from(index % 67),
                -60.0 + 2.03 * f64::from(index / 67),
            );
            let expected = slope_at(&rim, run, 1.0, e, n);
            let (Some(found), None) = (
                height_at(&made.surface, e, n),
                height_at(top.surface(), e, n),
            ) else {
                continue;
            };
            compared += 1;
            worst = worst.max((found - expected).abs());
        }
        // Places of an edge are tried every tenth of a metre: two square over eight times the distance, at most.
        assert!(compared > 100 && worst < 0.05, "{compared} {worst}");
        // No vertical step outside the top: no two corners at one place with other heights, but those of the top.
        let mut at: std::collections::HashMap<[u64; 2], f64> = std::collections::HashMap::new();
        for vertex in made.surface.vertices() {
            let key = [vertex.east.to_bits(), vertex.north.to_bits()];
            let first = *at.entry(key).or_insert(vertex.height);
            assert!(
                (first - vertex.height).abs() < 1e-6,
                "{turn}: a step of {}",
                first - vertex.height
            );
        }
    }
}

/// The edges of a top where it ends, from the site's corner.
fn rim_of(top: &Top) -> Vec<[(f64, f64, f64); 2]> {
    let tin = top.surface();
    let frame = tin.frame();
    let corner = |v: Vertex| {
        let at = frame.to_grid(v.place());
        (at.east - ORIGIN[0], at.north - ORIGIN[1], v.height)
    };
    let mut edges = std::collections::HashMap::new();
    for facet in tin.facets() {
        for (from, to) in [
            (facet[0], facet[1]),
            (facet[1], facet[2]),
            (facet[2], facet[0]),
        ] {
            if edges.remove(&(to, from)).is_none() {
                edges.insert((from, to), ());
            }
        }
    }
    let vertex = |index: u32| corner(tin.vertices()[index as usize]);
    edges
        .into_keys()
        .map(|(from, to)| [vertex(from), vertex(to)])
        .collect()
}

/// A road that climbs round a hairpin: below it lies in cut, above in fill, and the legs stand closer than the slopes are
/// long. What is filled lies on what was cut; nothing lies twice, and each place is as the definition says.
#[test]
fn a_leg_in_cut_beside_a_leg_in_fill() {
    let flat = ground(60.0, |_, _| 3.0);
    let line = [
        (-25.0, 0.0, 0.0),
        (20.0, 0.0, 1.5),
        (20.0, 12.0, 4.5),
        (-25.0, 12.0, 6.5),
    ];
    let (cut, fill) = (1.5, 2.0);
    let top = crest(&line, 4.0, Ends::Sloping).unwrap();
    let made = run_out(
        &top,
        &flat,
        Slopes {
            chord: 1e-4,
            ..slopes(cut, fill)
        },
    )
    .unwrap();
    assert!(made.crossing > 10.0, "{}", made.crossing);
    assert!(
        Outline::of_tin(&made.surface)
            .overlap(made.surface.frame().precision())
            .is_none()
    );
    let rim = rim_of(&top);
    let (mut compared, mut both) = (0, 0);
    for index in (0..3000).step_by(7) {
        let (e, n) = (
            -45.0 + 1.31 * f64::from(index % 60),
            -18.0 + 0.93 * f64::from(index / 60),
        );
        if height_at(top.surface(), e, n).is_some() {
            continue;
        }
        let dug = slope_at(&rim, cut, -1.0, e, n).min(3.0);
        let expected = slope_at(&rim, fill, 1.0, e, n).max(dug);
        let found = height_at(&made.surface, e, n);
        // Ground that both leave alone is no part of the body.
        let found = found.unwrap_or(3.0);
        compared += 1;
        both += usize::from(dug < 2.99 && expected > dug + 0.01);
        assert!(
            (found - expected).abs() < 0.03,
            "{found} {expected} at {e} {n}"
        );
    }
    assert!(compared > 300 && both > 3, "{compared} {both}");
}

/// Slopes, chords and tops that no site has end at the end of the ground, or are refused, at once.
#[test]
fn run_outs_are_bounded() {
    let flat = ground(500.0, |_, _| 0.0);
    let level = Surface::Level(Level::new(frame(), 0.0));
    let top = square(20.0, 10.0);
    for run in [1e4, 1e300] {
        let never = run_out(
            &top,
            &flat,
            Slopes {
                chord: 0.01,
                ..slopes(1.0, run)
            },
        )
        .unwrap_err();
        assert!(
            matches!(never, RunOutError::NeverMeets { fill: true, .. }),
            "{never}"
        );
        let never = run_out(
            &top,
            &level,
            Slopes {
                chord: 0.01,
                ..slopes(1.0, run)
            },
        );
        let endless = matches!(
            never,
            Err(RunOutError::TooFine { .. } | RunOutError::NeverEnds { .. })
        );
        assert!(endless || run < 1e9);
    }
    let high = run_out(
        &square(20.0, 1e8),
        &flat,
        Slopes {
            chord: 0.01,
            ..slopes(1.0, 2.0)
        },
    )
    .unwrap_err();
    assert!(matches!(high, RunOutError::NeverMeets { .. }), "{high}");
    let fine = run_out(
        &top,
        &flat,
        Slopes {
            chord: 1e-12,
            ..slopes(1.0, 2.0)
        },
    )
    .unwrap_err();
    assert!(matches!(fine, RunOutError::TooFine { .. }), "{fine}");
}
