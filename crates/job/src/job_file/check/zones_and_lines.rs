//! Zones and lines: one way to draw each, with figures that can be meant.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;

use dapedon_core::quantities::SideOfLevel;
use dapedon_core::surface::FARTHEST;
use toml::Spanned;

use super::super::entries::{LineEntry, Name, Numbers, ZoneEntry};
use super::super::{
    JobFileError, LevelPlan, LinePlan, LineShape, Shape, StripPlan, ZonePlan, ZoneShape,
};
use super::JobFileText;

pub(super) fn zone(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &ZoneEntry,
    surfaces: &BTreeSet<&str>,
    lines: &BTreeSet<&str>,
) -> Result<ZonePlan, JobFileError> {
    let spot = sheet.spot(name.span());
    if let Some(level) = at_level(sheet, name, entry, surfaces)? {
        let shape = ZoneShape::Level(level);
        return Ok(ZonePlan { shape, spot });
    }
    if let Some(strip) = strip(sheet, name, entry, lines)? {
        let shape = ZoneShape::Strip(strip);
        return Ok(ZonePlan { shape, spot });
    }
    let corners = entry.corners.as_ref();
    if let Some(corners) = corners {
        let numbers = corners.get_ref().iter().flat_map(|corner| &corner.0);
        in_range(sheet, corners.span(), numbers)?;
    }
    let shape = shape(
        sheet,
        name,
        "zone",
        &entry.file,
        &entry.name_attribute,
        corners,
    )?;
    let shape = ZoneShape::Drawn(shape);
    Ok(ZonePlan { shape, spot })
}

/// The strip along a line, where that is what a zone is.
fn strip(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &ZoneEntry,
    lines: &BTreeSet<&str>,
) -> Result<Option<StripPlan>, JobFileError> {
    let spans = [
        entry.left.as_ref().map(Spanned::span),
        entry.right.as_ref().map(Spanned::span),
        entry.every.as_ref().map(Spanned::span),
        entry.from.as_ref().map(Spanned::span),
        entry.to.as_ref().map(Spanned::span),
    ];
    let (line, left, right) = match (&entry.line, &entry.left, &entry.right) {
        (Some(line), Some(left), Some(right)) => (line, left, right),
        (None, ..) => {
            return match spans.into_iter().flatten().next() {
                None => Ok(None),
                Some(span) => {
                    let what = "the zone has a key of a strip, and no line";
                    Err(sheet.fault(span, what, "add line = \"...\", left and right"))
                }
            };
        }
        (Some(line), ..) => {
            let what = "the strip along the line has no width";
            let remedy = "add left and right: offsets, to the right of the line where positive";
            return Err(sheet.fault(line.span(), what, remedy));
        }
    };
    if entry.file.is_some() || entry.corners.is_some() {
        let what = "the zone has both an outline and a line";
        return Err(sheet.fault(name.span(), what, "keep one of them"));
    }
    let numbers = [left, right].into_iter().chain(&entry.every);
    for number in numbers {
        in_range(sheet, number.span(), [number.get_ref()].into_iter())?;
    }
    let offsets = [*left.get_ref(), *right.get_ref()];
    if offsets[0] >= offsets[1] {
        let what = format!(
            "left = {} is not to the left of right = {}",
            offsets[0], offsets[1]
        );
        let remedy =
            "offsets are positive to the right of the line, as in left = -3.5, right = 3.5";
        return Err(sheet.fault(left.span(), what, remedy));
    }
    if let Some(every) = entry.every.as_ref().filter(|every| *every.get_ref() <= 0.0) {
        let what = "the interval of the strip is not above zero";
        return Err(sheet.fault(every.span(), what, "write it as in every = 20"));
    }
    Ok(Some(StripPlan {
        line: sheet.known(line, "line", lines)?,
        offsets,
        between: [sheet.chainage(&entry.from)?, sheet.chainage(&entry.to)?],
        every: entry.every.as_ref().map(|every| *every.get_ref()),
    }))
}

/// The outline of a surface at a level, where that is what a zone is.
fn at_level(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &ZoneEntry,
    surfaces: &BTreeSet<&str>,
) -> Result<Option<LevelPlan>, JobFileError> {
    let levels = (entry.below.as_ref(), entry.above.as_ref());
    let (level, side) = match (&entry.surface, levels, &entry.pool) {
        (None, (None, None), None) => return Ok(None),
        (Some(_), (Some(level), None), _) => (level, SideOfLevel::Below),
        (Some(_), (None, Some(level)), None) => (level, SideOfLevel::Above),
        _ => {
            let what =
                "the zone is incomplete: it is where a surface is below a level, or above one";
            let remedy = "add surface = \"...\" with one of below = ... and above = ...; use pool only with below";
            return Err(sheet.fault(name.span(), what, remedy));
        }
    };
    if entry.file.is_some() || entry.corners.is_some() {
        let what = "the zone has both an outline and a level";
        return Err(sheet.fault(name.span(), what, "keep one of them"));
    }
    in_range(sheet, level.span(), [level.get_ref()].into_iter())?;
    if let Some(pool) = &entry.pool {
        in_range(sheet, pool.span(), pool.get_ref().0.iter())?;
    }
    let Some(surface) = &entry.surface else {
        return Ok(None);
    };
    Ok(Some(LevelPlan {
        surface: sheet.known(surface, "surface", surfaces)?,
        level: *level.get_ref(),
        side,
        pool: entry.pool.as_ref().map(|pool| pool.get_ref().0),
    }))
}

pub(super) fn line(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &LineEntry,
    surfaces: &BTreeSet<&str>,
    lines: &BTreeSet<&str>,
) -> Result<LinePlan, JobFileError> {
    let corners = entry.corners.as_ref();
    if let Some(corners) = corners {
        let numbers = corners.get_ref().iter().flat_map(|corner| &corner.0);
        in_range(sheet, corners.span(), numbers)?;
    }
    if let Some(heights) = &entry.heights {
        let numbers = heights.get_ref().iter().flat_map(|pair| &pair.0);
        in_range(sheet, heights.span(), numbers)?;
        let rising = heights
            .get_ref()
            .windows(2)
            .all(|pair| pair[0].0[0] < pair[1].0[0]);
        if heights.get_ref().is_empty() || !rising {
            let what = "the distances of heights must ascend along the line";
            return Err(sheet.fault(
                heights.span(),
                what,
                "sort them, and give each distance once",
            ));
        }
    }
    let laid_on = match (&entry.heights_from, &entry.heights) {
        (Some(_), Some(heights)) => {
            let what = "the line has heights, and is laid on a surface";
            return Err(sheet.fault(heights.span(), what, "keep one of them"));
        }
        (Some(surface), None) => Some(sheet.known(surface, "surface", surfaces)?),
        (None, _) => None,
    };
    Ok(LinePlan {
        laid_on,
        shape: match parallel(sheet, name, entry, lines)? {
            Some(parallel) => parallel,
            None => LineShape::Drawn(shape(
                sheet,
                name,
                "line",
                &entry.file,
                &entry.name_attribute,
                corners,
            )?),
        },
        heights: entry
            .heights
            .as_ref()
            .map(|heights| heights.get_ref().iter().map(|pair| pair.0).collect()),
        spot: sheet.spot(name.span()),
    })
}

/// The line beside another, where that is what a line is.
fn parallel(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &LineEntry,
    lines: &BTreeSet<&str>,
) -> Result<Option<LineShape>, JobFileError> {
    let (to, offset) = match (&entry.parallel_to, &entry.offset) {
        (None, None) => return Ok(None),
        (Some(to), Some(offset)) => (to, offset),
        (Some(to), None) => {
            let what = "the parallel line has no offset";
            let remedy =
                "add offset: to the right of that line where positive, as in offset = -3.5";
            return Err(sheet.fault(to.span(), what, remedy));
        }
        (None, Some(offset)) => {
            let what = "the line has an offset, and is parallel to no line";
            return Err(sheet.fault(offset.span(), what, "add parallel-to = \"...\""));
        }
    };
    if entry.file.is_some() || entry.corners.is_some() {
        let what = "the line is parallel to another, and has a file or corners";
        return Err(sheet.fault(name.span(), what, "keep one of them"));
    }
    in_range(sheet, offset.span(), [offset.get_ref()].into_iter())?;
    Ok(Some(LineShape::Parallel {
        to: sheet.known(to, "line", lines)?,
        offset: *offset.get_ref(),
    }))
}

/// Refuses lines that are parallel to each other in a circle.
pub(super) fn in_no_circle(
    sheet: &JobFileText<'_>,
    entries: &BTreeMap<Name, LineEntry>,
    lines: &BTreeMap<String, LinePlan>,
) -> Result<(), JobFileError> {
    for (name, plan) in lines {
        let (mut by_way_of, mut plan) = (vec![name], plan);
        while let LineShape::Parallel { to, .. } = &plan.shape {
            let spanned = entries.keys().find(|entry| entry.get_ref() == name);
            if let (true, Some(spanned)) = (to == name, spanned) {
                let way = match by_way_of.last().filter(|last| **last != name) {
                    Some(last) => format!(", by way of \"{last}\""),
                    None => String::new(),
                };
                let what = format!("the line \"{name}\" is parallel to itself{way}");
                let remedy = "give one of these lines a file or corners";
                return Err(sheet.fault(spanned.span(), what, remedy));
            }
            // One that only leads into a circle is none: those in it are refused.
            let Some(next) = lines.get(to).filter(|_| !by_way_of.contains(&to)) else {
                break;
            };
            by_way_of.push(to);
            plan = next;
        }
    }
    Ok(())
}

fn shape<const N: usize>(
    sheet: &JobFileText<'_>,
    name: &Name,
    kind: &str,
    file: &Option<Name>,
    name_attribute: &Option<String>,
    corners: Option<&Spanned<Vec<Numbers<N>>>>,
) -> Result<Shape<[f64; N]>, JobFileError> {
    match (file, corners) {
        (Some(file), None) => {
            let (path, name) = sheet.file_and_name(file.get_ref());
            Ok(Shape::File {
                path,
                name,
                name_attribute: name_attribute.clone(),
            })
        }
        (None, Some(corners)) => {
            let corners = corners.get_ref().iter().map(|corner| corner.0);
            Ok(Shape::Corners(corners.collect()))
        }
        (file, _) => {
            let what = match file {
                Some(_) => format!("the {kind} has both a file and corners"),
                None => format!("the {kind} has neither a file nor corners"),
            };
            Err(sheet.fault(
                name.span(),
                what,
                "add one of file = \"...\" and corners = [...]",
            ))
        }
    }
}

fn in_range<'v>(
    sheet: &JobFileText<'_>,
    span: Range<usize>,
    mut values: impl Iterator<Item = &'v f64>,
) -> Result<(), JobFileError> {
    match values.find(|value| value.is_nan() || value.abs() > FARTHEST) {
        None => Ok(()),
        Some(value) => {
            let what = format!("{value} is not a coordinate or height");
            Err(sheet.fault(span, what, "correct it"))
        }
    }
}
