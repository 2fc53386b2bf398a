//! Typical sections carried along lines, against prisms, Pappus and a second way.

use std::f64::consts::{FRAC_PI_2, PI};

use crate::shapes::{frame, integral, measure, near, solid};
use dapedon_core::alignment::{
    Alignment, ByDistance, Chainage, Curve, Element, Profile, Turn, VerticalPoint,
};
use dapedon_core::derived::{
    Across, Bench, BreakHeight, Choice, Ends, RunOut, SectionBreak, SideSlope, Slopes, SweptError,
    Top, TypicalSection, combined, run_out,
};
use dapedon_core::plan::Place;
use dapedon_core::surface::{Level, Surface, Vertex};
use proptest::prelude::*;

fn fixed(value: f64) -> ByDistance {
    ByDistance::constant(value)
}

/// A break so far from the one before it, and so far below it for a unit of width.
fn falling(width: f64, fall: f64) -> SectionBreak {
    SectionBreak {
        across: Across::Width(fixed(width)),
        height: BreakHeight::Fall(fixed(fall)),
    }
}

fn both(breaks: Vec<SectionBreak>) -> TypicalSection {
    TypicalSection {
        left: breaks.clone(),
        right: breaks,
    }
}

fn heights(points: &[(f64, f64)]) -> Profile {
    let point = |&(distance, height): &(f64, f64)| VerticalPoint {
        distance,
        height,
        curve: Curve::None,
    };
    Profile::new(points.iter().map(point).collect()).unwrap()
}

fn straight(length: f64, from: f64, to: f64) -> Alignment {
    let start = crate::shapes::ORIGIN;
    let [a, b] = [0.0, length].map(|north| Place::new(start[0], start[1] + north));
    let profile = heights(&[(0.0, from), (length, to)]);
    Alignment::new(
        "straight",
        vec![Element::straight(a, b)],
        Chainage::from(0.0),
        Some(profile),
    )
}

/// A quarter turn to the left about the origin of the frame, from its south to its east.
fn quarter(radius: f64, height: f64) -> Alignment {
    let [east, north] = crate::shapes::ORIGIN;
    let arc = Element::arc(
        Place::new(east, north - radius),
        Place::new(east + radius, north),
        Place::new(east, north),
        Turn::Left,
    );
    let profile = heights(&[(0.0, height), (radius * FRAC_PI_2 + 1.0, height)]);
    Alignment::new("arc", vec![arc], Chainage::from(0.0), Some(profile))
}

fn swept(line: &Alignment, section: &TypicalSection, chord: f64) -> Result<Top, SweptError> {
    Top::swept(
        frame(),
        line,
        section,
        [0.0, line.length()],
        Ends::Upright,
        chord,
    )
}

fn ground(height: f64) -> Surface {
    Surface::Level(Level::new(frame(), height))
}

fn plain(run: f64, chord: f64) -> Slopes {
    Slopes {
        cut: SideSlope::plain(run),
        fill: SideSlope::plain(run),
        chord,
    }
}

fn volume(ground: &Surface, made: RunOut) -> f64 {
    measure(ground, &Surface::Tin(made.surface)).volume.net
}

/// A crowned road with ditches on level ground: the area of the section times the length.
#[test]
fn a_straight_road_is_a_prism() {
    let road = both(vec![
        falling(3.5, 0.025),
        falling(1.5, 0.04),
        falling(0.9, 2.0 / 3.0),
        falling(0.5, 0.0),
        falling(0.9, -2.0 / 3.0),
    ]);
    let top = swept(&straight(60.0, 4.0, 4.0), &road, 0.01).unwrap();
    let made = run_out(&top, &ground(0.0), plain(2.0, 0.01)).unwrap();
    // Heights over the ground at the breaks, and the trapezoids between them.
    let (a, b) = (4.0 - 0.0875, 4.0 - 0.1475);
    let c = b - 0.6;
    let half = (4.0 + a) / 2.0 * 3.5
        + (a + b) / 2.0 * 1.5
        + (b + c) / 2.0 * 0.9 * 2.0
        + c * 0.5
        + b * b * 2.0 / 2.0;
    near(volume(&ground(0.0), made), 2.0 * half * 60.0, 1e-12);
}

/// A road that climbs over ground that climbs as it does: each section is the same.
#[test]
fn a_climbing_road_over_climbing_ground_is_a_prism() {
    let climbing = |half: f64| {
        let corners = [(-half, -half), (half, -half), (half, half), (-half, half)];
        let corners: Vec<_> = corners.iter().map(|&(e, n)| (e, n, 0.05 * n)).collect();
        solid(&corners, &[[0, 1, 2], [0, 2, 3]])
    };
    let ground = climbing(200.0);
    let top = swept(
        &straight(60.0, 3.0, 6.0),
        &both(vec![falling(4.0, 0.0)]),
        0.01,
    )
    .unwrap();
    let made = run_out(&top, &ground, plain(1.5, 0.01)).unwrap();
    near(volume(&ground, made), (8.0 * 3.0 + 1.5 * 9.0) * 60.0, 1e-9);
}

/// A road that climbs over level ground: the section grows with the square of its height.
#[test]
fn a_climbing_road_over_level_ground_is_integrated() {
    let top = swept(
        &straight(60.0, 1.0, 4.0),
        &both(vec![falling(4.0, 0.0)]),
        0.01,
    )
    .unwrap();
    let made = run_out(&top, &ground(0.0), plain(1.5, 0.01)).unwrap();
    // The integral of 8 h + 1.5 h² over the length, h from 1 to 4.
    let whole = 20.0 * (8.0 * (16.0 - 1.0) / 2.0 + 1.5 * (64.0 - 1.0) / 3.0);
    near(volume(&ground(0.0), made), whole, 1e-9);
}

/// Widths and falls that change along the line: linear between where they are given.
#[test]
fn a_widening_road_is_integrated() {
    let widening = ByDistance::new(vec![[10.0, 3.0], [40.0, 6.0]]).unwrap();
    let section = TypicalSection {
        left: vec![falling(2.0, 0.0)],
        right: vec![SectionBreak {
            across: Across::Offset(widening),
            height: BreakHeight::AboveLine(fixed(0.0)),
        }],
    };
    let top = swept(&straight(60.0, 2.0, 2.0), &section, 0.01).unwrap();
    let area = 2.0 * 60.0 + 3.0 * 10.0 + 4.5 * 30.0 + 6.0 * 20.0;
    near(
        integral(&Surface::Tin(top.surface().clone())),
        2.0 * area,
        1e-12,
    );
}

/// A ditch that begins along the line, a kerb that stands upright, and a break that is none.
#[test]
fn breaks_may_stand_upright_or_vanish() {
    let deeper = ByDistance::new(vec![[20.0, 0.0], [50.0, 1.0]]).unwrap();
    let section = TypicalSection {
        left: vec![
            falling(2.0, 0.0),
            falling(0.0, 0.5),
            SectionBreak {
                across: Across::Width(fixed(0.0)),
                height: BreakHeight::Drop(fixed(-0.15)),
            },
            falling(1.0, 0.0),
        ],
        right: vec![
            falling(2.0, 0.0),
            SectionBreak {
                across: Across::Width(deeper),
                height: BreakHeight::Fall(fixed(1.0)),
            },
        ],
    };
    let top = swept(&straight(60.0, 2.0, 2.0), &section, 0.01).unwrap();
    let body = Surface::Tin(top.surface().clone());
    // The ditch: w wide and w deep at its edge, so 2 w - w²/2 over the ground; w grows from 0 to 1 over 30, and is 1 over 10.
    let ditch = 30.0 * (2.0 / 2.0 - 1.0 / 6.0) + 10.0 * 1.5;
    near(integral(&body), 60.0 * (8.0 + 2.15) + ditch, 1e-12);
    // Slopes start from the footway's edge and the ditch's, not from the kerb.
    let made = run_out(&top, &ground(0.0), plain(1.0, 0.01)).unwrap();
    let slope = 60.0 * 2.15 * 2.15 / 2.0 + 20.0 * 2.0 + 30.0 * (8.0 - 1.0) / 3.0 / 2.0 + 10.0 / 2.0;
    let found = volume(&ground(0.0), made);
    // Where the ditch begins its edge turns by two degrees: a cone of less than that stands in for a wedge.
    near(found, 60.0 * (8.0 + 2.15) + ditch + slope, 2e-3);
}

/// On an arc the volume is that of Pappus, but for what chords cut off, which goes with their tolerance.
#[test]
fn an_arc_is_swept_as_pappus_has_it() {
    let (radius, height): (f64, f64) = (40.0, 3.0);
    let section = TypicalSection {
        left: vec![falling(3.0, 0.0)],
        right: vec![falling(4.0, 0.1)],
    };
    let off = |chord: f64| {
        let top = swept(&quarter(radius, height), &section, chord).unwrap();
        let found = integral(&Surface::Tin(top.surface().clone()));
        // A left turn: offsets to the right are farther from the centre.
        let area = 7.0 * height - 0.1 * 8.0;
        let moment = height * (16.0 - 9.0) / 2.0 - 0.1 * 64.0 / 3.0;
        let whole = FRAC_PI_2 * (radius * area + moment);
        (found - whole) / whole
    };
    let (coarse, fine) = (off(1e-3), off(1e-5));
    // A chord that stands c off at the edge covers 4/3 c/r too little of its sector.
    assert!(
        coarse < 0.0 && -coarse < 4.0 / 3.0 * 1e-3 / radius,
        "{coarse}"
    );
    assert!(fine < 0.0 && -fine < 4.0 / 3.0 * 1e-5 / radius, "{fine}");
    near(coarse / fine, 100.0, 0.05);
}

/// With slopes on an arc: the cone's part too, within what chords allow.
#[test]
fn slopes_follow_an_arc() {
    let (radius, height, run): (f64, f64, f64) = (40.0, 3.0, 2.0);
    let top = swept(
        &quarter(radius, height),
        &both(vec![falling(3.0, 0.0)]),
        1e-3,
    )
    .unwrap();
    let made = run_out(&top, &ground(0.0), plain(run, 1e-3)).unwrap();
    // The trapezoid is the same on both sides: its middle goes along the line.
    let whole = FRAC_PI_2 * radius * (6.0 * height + run * height * height);
    let found = volume(&ground(0.0), made);
    assert!(
        (found / whole - 1.0).abs() < 2.0 * 1e-3 / (radius - 9.0),
        "{found} {whole}"
    );
}

/// A ring road of a platform's shape: closed, no ends, Pappus with the whole turn.
#[test]
fn a_closed_line_has_no_ends() {
    let [east, north] = crate::shapes::ORIGIN;
    let corner = |e: f64, n: f64| Place::new(east + e, north + n);
    let corners = [
        corner(0.0, 0.0),
        corner(60.0, 0.0),
        corner(60.0, 40.0),
        corner(0.0, 40.0),
        corner(0.0, 0.0),
    ];
    let sides = corners
        .windows(2)
        .map(|pair| Element::straight(pair[0], pair[1]));
    let line = |last: f64| {
        let profile = heights(&[(0.0, 2.0), (150.0, 2.0), (200.0, last)]);
        Alignment::new(
            "ring",
            sides.clone().collect(),
            Chainage::from(0.0),
            Some(profile),
        )
    };
    let section = both(vec![falling(2.0, 0.0)]);
    let top = Top::swept(
        frame(),
        &line(2.0),
        &section,
        [0.0, 200.0],
        Ends::Sloping,
        0.01,
    )
    .unwrap();
    near(
        integral(&Surface::Tin(top.surface().clone())),
        2.0 * (64.0 * 44.0 - 56.0 * 36.0),
        1e-12,
    );
    let open = Top::swept(
        frame(),
        &line(3.0),
        &section,
        [0.0, 200.0],
        Ends::Sloping,
        0.01,
    );
    assert!(
        matches!(open, Err(SweptError::NotItselfAgain { apart }) if (apart - 1.0).abs() < 1e-9)
    );
}

/// Vertical curves are followed within the chord tolerance.
#[test]
fn heights_follow_vertical_curves() {
    let point = |distance, height, curve| VerticalPoint {
        distance,
        height,
        curve,
    };
    let round = Curve::Parabola([20.0, 20.0]);
    let profile = vec![
        point(0.0, 2.0, Curve::None),
        point(30.0, 5.0, round),
        point(60.0, 2.0, Curve::None),
    ];
    let flat = straight(60.0, 0.0, 0.0);
    let line = Alignment::new(
        "crest",
        flat.elements().to_vec(),
        Chainage::from(0.0),
        Profile::new(profile).ok(),
    );
    let off = |chord: f64| {
        let top = swept(&line, &both(vec![falling(1.0, 0.0)]), chord).unwrap();
        // The parabola takes (g2 - g1) L²/24 from the area under the tangents.
        let under = 60.0 * 2.0 + 30.0 * 3.0 - 0.2 * 40.0 * 40.0 / 24.0;
        2.0 * under - integral(&Surface::Tin(top.surface().clone()))
    };
    let (coarse, fine) = (off(1e-3), off(1e-5));
    // Under a parabola a chord leaves out two thirds of its distance, over the 40 of the curve and 2 of width.
    assert!(
        coarse > 0.0 && coarse <= 2.0 / 3.0 * 1e-3 * 80.0,
        "{coarse}"
    );
    assert!(fine > 0.0 && fine <= 2.0 / 3.0 * 1e-5 * 80.0, "{fine}");
}

/// Benches every 2 of height, 1.5 wide, falling towards the slope: trapezoids.
#[test]
fn a_high_bank_has_benches() {
    let bench = Bench {
        every: 2.0,
        width: 1.5,
        fall: 0.1,
    };
    let slopes = Slopes {
        cut: SideSlope {
            run: 1.0,
            bench: Some(bench),
        },
        fill: SideSlope {
            run: 1.0,
            bench: Some(bench),
        },
        chord: 0.01,
    };
    for sign in [1.0, -1.0] {
        let line = straight(50.0, sign * 5.0, sign * 5.0);
        let top = swept(&line, &both(vec![falling(3.0, 0.0)]), 0.01).unwrap();
        let made = run_out(&top, &ground(0.0), slopes).unwrap();
        // From 5: down 2 over 2, 0.15 over 1.5, down 2 over 2, 0.15 over 1.5, and the last 0.7 over 0.7.
        let side = 2.0 * 4.0
            + 1.5 * (3.0 + 2.85) / 2.0
            + 2.0 * 1.85
            + 1.5 * (0.85 + 0.7) / 2.0
            + 0.7 * 0.35;
        near(
            sign * volume(&ground(0.0), made.clone()),
            50.0 * (6.0 * 5.0 + 2.0 * side),
            1e-12,
        );
        near(
            made.reach[usize::from(sign > 0.0)],
            2.0 + 1.5 + 2.0 + 1.5 + 0.7,
            1e-9,
        );
    }
}

/// A square platform with a bench all round: at corners slope and bench are turned about them.
#[test]
fn benches_go_round_corners() {
    let zones = crate::shapes::zones(vec![vec![crate::shapes::ring(&[
        (-10.0, -10.0),
        (10.0, -10.0),
        (10.0, 10.0),
        (-10.0, 10.0),
    ])]]);
    let top = Top::platform(frame(), &zones.zones()[0], |_| 3.0).unwrap();
    let bench = Bench {
        every: 2.0,
        width: 1.0,
        fall: 0.0,
    };
    let slopes = Slopes {
        cut: SideSlope::plain(1.0),
        fill: SideSlope {
            run: 2.0,
            bench: Some(bench),
        },
        chord: 1e-4,
    };
    let made = run_out(&top, &ground(0.0), slopes).unwrap();
    // The ground within d of the square is 400 + 80 d + π d²; d is 2 z in the upper 2, and 5 + 2 z in the lower 1.
    let within = |low: f64, high: f64| {
        // Over a height of (high - low) / 2, d from low to high.
        let whole = |d: f64| (400.0 * d + 40.0 * d * d + PI * d * d * d / 3.0) / 2.0;
        whole(high) - whole(low)
    };
    let whole = within(0.0, 4.0) + within(5.0, 7.0);
    let found = volume(&ground(0.0), made);
    assert!(
        found < whole && found > whole * (1.0 - 1e-4),
        "{found} {whole}"
    );
}

#[test]
fn what_cannot_be_swept_is_said() {
    let line = straight(60.0, 2.0, 2.0);
    let inwards = both(vec![
        falling(2.0, 0.0),
        SectionBreak {
            across: Across::Offset(fixed(1.0)),
            height: BreakHeight::Drop(fixed(0.0)),
        },
    ]);
    assert!(matches!(
        swept(&line, &inwards, 0.01),
        Err(SweptError::Inwards { number: 2, .. })
    ));
    let wall = both(vec![
        falling(2.0, 0.0),
        SectionBreak {
            across: Across::Width(fixed(0.0)),
            height: BreakHeight::Drop(fixed(1.0)),
        },
    ]);
    assert!(matches!(
        swept(&line, &wall, 0.01),
        Err(SweptError::UprightEdge { .. })
    ));
    let wide = both(vec![falling(50.0, 0.0)]);
    assert!(matches!(
        swept(&quarter(40.0, 2.0), &wide, 0.01),
        Err(SweptError::Sharp { .. })
    ));
    let short = Alignment::new(
        "short",
        line.elements().to_vec(),
        Chainage::from(0.0),
        Some(heights(&[(0.0, 1.0), (50.0, 1.0)])),
    );
    assert!(
        matches!(swept(&short, &both(vec![falling(2.0, 0.0)]), 0.01), Err(SweptError::NoHeight { distance }) if distance == 60.0)
    );
    let nothing = TypicalSection {
        left: Vec::new(),
        right: Vec::new(),
    };
    assert!(matches!(
        swept(&line, &nothing, 0.01),
        Err(SweptError::NoWidth)
    ));
}

proptest! {
    /// The simplest section is the crest of an embankment, bends and grades as they come.
    #[test]
    fn the_simplest_section_is_a_crest(corners in prop::collection::vec((20.0..40.0f64, -12.0..12.0f64, -2.0..2.0f64), 2..6), width in 1.0..6.0f64) {
        let mut at = (0.0, 0.0);
        let (mut places, mut profile, mut along) = (Vec::new(), Vec::new(), 0.0);
        for (index, &(step, aside, height)) in corners.iter().enumerate() {
            if index > 0 {
                at = (at.0 + step, at.1 + aside);
                along += f64::hypot(step, aside);
            }
            places.push(Vertex::new(at.0, at.1, 10.0 + height));
            profile.push((along, 10.0 + height));
        }
        let frame = frame();
        let grid = |v: &Vertex| { frame.to_grid(v.place()) };
        let elements = places.windows(2).map(|pair| Element::straight(grid(&pair[0]), grid(&pair[1]))).collect();
        let line = Alignment::new("line", elements, Chainage::from(0.0), Some(heights(&profile)));
        let crest = Top::crest(frame, &places, width, Ends::Upright).unwrap();
        let own = Top::swept(frame, &line, &both(vec![falling(width / 2.0, 0.0)]), [0.0, line.length()], Ends::Upright, 0.01).unwrap();
        let ground = ground(5.0);
        let [one, other] = [crest, own].map(|top| {
            let made = run_out(&top, &ground, plain(1.5, 0.01)).unwrap();
            let body = Surface::Tin(made.surface);
            let whole = combined(&ground_of(100.0 + along, 5.0), &body, Choice::Other).unwrap();
            (measure(&ground, &body).volume.net, integral(&whole))
        });
        near(one.0, other.0, 1e-9);
        near(one.1, other.1, 1e-9);
    }
}

fn ground_of(half: f64, height: f64) -> Surface {
    let corners = [(-half, -half), (half, -half), (half, half), (-half, half)];
    let corners: Vec<_> = corners.iter().map(|&(e, n)| (e, n, height)).collect();
    solid(&corners, &[[0, 1, 2], [0, 2, 3]])
}
