//! A surface made from points and lines.

use std::collections::HashSet;
use std::path::Path;
use std::sync::Arc;

use dapedon_core::plan::{Frame, Place};
use dapedon_core::points::{
    Dropped, FlatTriangles, LineKind, Outlier, PickUp, Triangulated, far_off, odd_points, patches,
    triangulate,
};
use dapedon_core::surface::{Surface, Tin, Vertex};

use super::SurfaceNotes;
use crate::digits::{count_in_words, figure_in_words};
use crate::error::JobError;
use crate::finding::{Code, Finding};
use crate::input::InputError;
use crate::input::{Reading, drop_points, loaded, looks_like_degrees};
use crate::surfaces::GroundError;
use crate::surfaces::made::{MadeSurface, OutlierFound};

pub(super) fn from_points(
    pick_up: PickUp,
    path: &Path,
    frame: Frame,
    reading: &Reading,
    said: &mut SurfaceNotes,
) -> Result<MadeSurface, JobError> {
    let SurfaceNotes { notes, warnings } = said;
    let fault = |error| {
        JobError::from(GroundError::Points {
            path: path.into(),
            error,
        })
    };
    if looks_like_degrees(&loaded::extent(&pick_up.points), pick_up.points.len()) {
        return Err(InputError::Degrees { path: path.into() }.into());
    }
    let mut pick_up = pick_up;
    without_far(&mut pick_up, path, reading, notes, warnings);
    let mut made = triangulate(frame, &pick_up, &reading.rules).map_err(fault)?;
    let odd = odd_points(&made.tin);
    let found: Vec<OutlierFound> = odd.iter().map(|odd| odd_found(&made.tin, odd)).collect();
    if !odd.is_empty() && reading.drop_outliers {
        let key = |place: Place| [place.east.to_bits(), place.north.to_bits()];
        let places: HashSet<[u64; 2]> = (odd.iter())
            .map(|odd| key(made.tin.vertices()[odd.vertex as usize].place()))
            .collect();
        let is_odd = |v: &Vertex| places.contains(&key(frame.to_local(v.east, v.north)));
        drop_points(&mut pick_up, |v| !is_odd(v));
        notes.push(format!("outliers removed: {}", odd.len()));
        made = triangulate(frame, &pick_up, &reading.rules).map_err(fault)?;
    } else if let Some(first) = found.first() {
        let (count, other) = match found.len() {
            1 => ("1 point stands".to_owned(), String::new()),
            n => (format!("{n} points stand"), ", the farthest".to_owned()),
        };
        warnings.push(
            Finding::new(
                Code::Outliers,
                format!(
                    "{count} out from all neighbours{other} by {:+.2}, at east {:.2}, north {:.2}",
                    first.height_difference, first.east, first.north
                ),
            )
            .at(path.display())
            .remedy("remove outliers with --drop-outliers"),
        );
    }
    let patches = patches(&made.tin);
    if let Some(edge) = patches.parting_edge() {
        warnings.push(Finding::new(Code::Patches, format!(
            "the points are in {} separate areas, {:.1} apart, and {} triangles with {:.0} {} bridge the gaps",
            patches.patches.len(),
            patches.gap.unwrap_or_default(),
            patches.bridges,
            patches.bridged,
            dapedon_core::units::AreaUnit::usual(frame.unit()).symbol()
        )).at(path.display()).remedy(format!("separate them with --max-edge {edge}")));
    }
    say(&made, &pick_up, reading, notes, warnings, path);
    let breaklines = (pick_up.lines.iter()).filter(|line| line.kind == LineKind::Breakline);
    let place = |&point: &u32| {
        let point = pick_up.points.get(point as usize)?;
        Some(frame.to_local(point.east, point.north))
    };
    let breaklines = breaklines.map(|line| line.points.iter().filter_map(place).collect());
    Ok(MadeSurface {
        handed_over: false,
        breaklines: Arc::new(breaklines.collect()),
        patches: Some(Arc::new(patches)),
        odd: found,
        ..MadeSurface::of(Surface::Tin(made.tin))
    })
}

/// Reports points that lie far from all others, or drops them.
fn without_far(
    pick_up: &mut PickUp,
    path: &Path,
    reading: &Reading,
    notes: &mut Vec<String>,
    warnings: &mut Vec<Finding>,
) {
    let places: Vec<(Place, u64)> = pick_up.points.iter().map(|v| (v.place(), 1)).collect();
    let far = far_off(&places, 0.0);
    let Some(&first) = far.first() else { return };
    let (count, first) = (far.len(), pick_up.points[first]);
    let points = if count == 1 { "point" } else { "points" };
    if reading.drop_outliers {
        let far: HashSet<[u64; 2]> = far
            .iter()
            .map(|&index| {
                [
                    places[index].0.east.to_bits(),
                    places[index].0.north.to_bits(),
                ]
            })
            .collect();
        drop_points(pick_up, |v| {
            !far.contains(&[v.east.to_bits(), v.north.to_bits()])
        });
        notes.push(format!("{count} {points} far from all others removed"));
        return;
    }
    let words = format!(
        "{count} {points} far from all others, first at east {:.2}, north {:.2}, height {:.2}",
        first.east, first.north, first.height
    );
    let found = Finding::new(Code::FarPoints, words).at(path.display());
    warnings.push(found.remedy("remove them with --drop-outliers"));
}

/// Says what was done to points and lines on the way.
fn say(
    made: &Triangulated,
    pick_up: &PickUp,
    reading: &Reading,
    notes: &mut Vec<String>,
    warnings: &mut Vec<Finding>,
    path: &Path,
) {
    let frame = made.tin.frame();
    let symbol = dapedon_core::units::AreaUnit::usual(frame.unit()).symbol();
    if made.merged > 0 {
        notes.push(format!("{} repeated points merged", made.merged));
    }
    if made.settled > 0 {
        notes.push(format!(
            "{} positions with several heights: the {} is used",
            made.settled,
            rule_name(reading.rules.duplicates)
        ));
    }
    let kinds = [
        (LineKind::Breakline, "breakline"),
        (LineKind::Edge, "outer edge"),
        (LineKind::Hole, "hole"),
        (LineKind::Island, "island"),
    ];
    let mut counted = Vec::new();
    for (kind, word) in kinds {
        match pick_up
            .lines
            .iter()
            .filter(|line| line.kind == kind)
            .count()
        {
            0 => {}
            1 => counted.push(format!("1 {word}")),
            many => counted.push(format!("{many} {word}s")),
        }
    }
    let with = match counted.as_slice() {
        [] => String::new(),
        counted => format!(" with {}", counted.join(", ")),
    };
    let bounded = pick_up.lines.iter().any(|line| line.kind == LineKind::Edge);
    let out_to = match bounded {
        true => "the outer edge",
        false => "the convex hull of the points",
    };
    notes.push(format!("triangulated (Delaunay){with} out to {out_to}"));
    if made.outside.facets > 0 {
        notes.push(format!(
            "{} triangles outside the boundary removed, {} {symbol}",
            count_in_words(made.outside.facets),
            figure_in_words(made.outside.area)
        ));
    }
    if let Some(edge) = reading.rules.max_edge {
        notes.push(format!(
            "{} triangles with an edge over {edge} {} removed, {} {symbol}",
            count_in_words(made.long.facets),
            frame.unit().symbol(),
            figure_in_words(made.long.area)
        ));
    }
    match flat(made, pick_up, reading.rules.flat) {
        Some(Ok(note)) => notes.push(note),
        Some(Err(found)) => warnings.push(found.at(path.display())),
        None => {}
    }
    let same = frame.precision().worked_out();
    let differ = |c: &&dapedon_core::points::Crossing| (c.heights[0] - c.heights[1]).abs() > same;
    let apart: Vec<_> = made.crossings.iter().filter(differ).collect();
    if !made.crossings.is_empty() {
        notes.push(format!(
            "lines cross between their points and are joined, places: {}",
            made.crossings.len()
        ));
    }
    let spread = |c: &dapedon_core::points::Crossing| (c.heights[0] - c.heights[1]).abs();
    let widest = apart.iter().max_by(|a, b| spread(a).total_cmp(&spread(b)));
    if let Some(widest) = widest {
        warnings.push(Finding::new(Code::LinesCross, format!(
            "lines cross at {} places with different heights, at most {:.3} and {:.3} at east {:.2}, north {:.2}; the mean is used, or the end point of the line that ends there",
            apart.len(),
            widest.heights[0],
            widest.heights[1],
            widest.at.east,
            widest.at.north
        )).at(path.display()));
    }
}

/// What became of flat triangles: a note, or a finding. Between lines that are no contours they are as they should be.
fn flat(
    made: &Triangulated,
    pick_up: &PickUp,
    rule: FlatTriangles,
) -> Option<Result<String, Finding>> {
    let symbol = dapedon_core::units::AreaUnit::usual(made.tin.frame().unit()).symbol();
    let in_words = |flat: Dropped, what: &str| {
        let triangles = if flat.facets == 1 {
            "triangle"
        } else {
            "triangles"
        };
        let (count, area) = (count_in_words(flat.facets), figure_in_words(flat.area));
        format!("{count} flat {triangles} {what}, {area} {symbol}")
    };
    let found = in_words(made.flat, "between points of one contour");
    match rule {
        _ if made.flat.facets == 0 => None,
        FlatTriangles::Keep => pick_up.is_contoured().then(|| {
            let words = format!("{found}: valleys, ridges and summits are cut off");
            Err(Finding::new(Code::FlatTriangles, words).remedy(
                "put points along them with --flat-triangles relax, or remove the triangles with --flat-triangles drop",
            ))
        }),
        FlatTriangles::Drop => Some(Ok(format!("{found}: removed"))),
        FlatTriangles::Relax => {
            let left = match made.still_flat.facets {
                0 => String::new(),
                _ => format!("; {}", in_words(made.still_flat, "left")),
            };
            let points = count_in_words(made.relaxing_points);
            Some(Ok(format!("{found}: relaxed with {points} points between them{left}")))
        }
    }
}

fn rule_name(rule: dapedon_core::points::Duplicates) -> &'static str {
    use dapedon_core::points::Duplicates as S;
    match rule {
        S::Refuse => "only one",
        S::First => "first",
        S::Last => "last",
        S::Lowest => "lowest",
        S::Highest => "highest",
        S::Mean => "mean",
    }
}

fn odd_found(tin: &Tin, odd: &Outlier) -> OutlierFound {
    let v = tin.vertices()[odd.vertex as usize];
    let grid = tin.frame().to_grid(v.place());
    OutlierFound {
        east: grid.east,
        north: grid.north,
        height: v.height,
        height_difference: odd.amount,
    }
}
