//! What must be known before the figures of sections are trusted.

use dapedon_core::alignment::{Alignment, chainage_words};
use dapedon_core::units::LengthUnit;

use super::cutting::{CutSection, Cutter};
use crate::finding::{Code, Finding};

/// Bends that are told, in radians: what a file rounds is less.
const BEND: f64 = 0.02;

/// All that must be known of some sections.
pub(super) fn warnings(
    cutter: &Cutter<'_>,
    sections: &[CutSection],
    names: &[String; 2],
    unit: LengthUnit,
) -> Vec<Finding> {
    let line = cutter.line;
    let at = |distance: f64| chainage_words(line.chainage().of(distance), unit, 2);
    let mut said = Vec::new();
    for (number, name) in names.iter().enumerate() {
        said.extend(short(sections, number, name, unit, &at));
    }
    said.extend(crossing(sections, unit, &at));
    said.extend(of_line(line, cutter, unit, &at));
    said
}

/// Sections within whose width a surface ends.
fn short(
    sections: &[CutSection],
    number: usize,
    name: &str,
    unit: LengthUnit,
    at: &dyn Fn(f64) -> String,
) -> Option<Finding> {
    let mut short = Vec::new();
    for section in sections {
        let Some(line) = section.lines.get(number) else {
            continue;
        };
        let [left, right] = line.missing(&section.cut);
        let least = 1e-6 * section.cut.width();
        if left > least || right > least {
            short.push((section.distance, left, right));
        }
    }
    let worst = short.iter().copied().reduce(|worst, next| {
        let wide = |(_, left, right): (f64, f64, f64)| left + right;
        if wide(next) > wide(worst) {
            next
        } else {
            worst
        }
    });
    let (distance, left, right) = worst?;
    let side = |width: f64, side: &str| {
        (width > 0.0).then(|| format!("{width:.2} {} on the {side}", unit.symbol()))
    };
    let sides: Vec<String> = [side(left, "left"), side(right, "right")]
        .into_iter()
        .flatten()
        .collect();
    let words = format!(
        "{name} does not reach over the width of {} of {} sections: most at {}, where {} are without it and not in the areas",
        short.len(),
        sections.len(),
        at(distance),
        sides.join(" and ")
    );
    Some(
        Finding::new(Code::EndsWithinWidth, words)
            .remedy("use smaller widths, or limit the sections with --zone"),
    )
}

/// Sections that cross each other.
fn crossing(
    sections: &[CutSection],
    unit: LengthUnit,
    at: &dyn Fn(f64) -> String,
) -> Option<Finding> {
    let mut crossed = Vec::new();
    for pair in sections.windows(2) {
        if let Some(beyond) = cross(&pair[0], &pair[1]) {
            crossed.push((pair[0].distance, pair[1].distance, beyond));
        }
    }
    let &(one, other, beyond) = crossed
        .iter()
        .max_by(|a, b| a.2.abs().total_cmp(&b.2.abs()))?;
    let side = if beyond > 0.0 { "right" } else { "left" };
    let (count, sections) = match crossed.len() {
        1 => (String::new(), "cross"),
        count => (format!("{count} pairs of sections cross; "), "cross most"),
    };
    let words = format!(
        "{count}sections {} and {} {sections}, {:.2} {} before their end on the {side}: the ground beyond counts twice in the areas",
        at(one),
        at(other),
        beyond.abs(),
        unit.symbol()
    );
    Some(
        Finding::new(Code::SectionsCross, words)
            .remedy("use a smaller width on the inner side of the curve"),
    )
}

/// How far two sections go on behind the place where they cross: to the right where positive.
fn cross(one: &CutSection, other: &CutSection) -> Option<f64> {
    let ends = |section: &CutSection| {
        let (first, last) = (section.cut.spans.first()?, section.cut.spans.last()?);
        Some([first[0], last[1]])
    };
    let ([left, right], [other_left, other_right]) = (ends(one)?, ends(other)?);
    let (a, b) = (one.cut.course, other.cut.course);
    // Both run to the right of the line.
    let (own, towards) = (one.cut.place(1.0), other.cut.place(1.0));
    let u = [own.east - a.place.east, own.north - a.place.north];
    let v = [towards.east - b.place.east, towards.north - b.place.north];
    let w = [b.place.east - a.place.east, b.place.north - a.place.north];
    let turn = u[0] * v[1] - u[1] * v[0];
    if turn == 0.0 {
        return None;
    }
    let offset = (w[0] * v[1] - w[1] * v[0]) / turn;
    let other_offset = (w[0] * u[1] - w[1] * u[0]) / turn;
    let within =
        left < offset && offset < right && other_left < other_offset && other_offset < other_right;
    within.then_some(if offset > 0.0 {
        right - offset
    } else {
        left - offset
    })
}

/// What is odd about the line itself.
fn of_line(
    line: &Alignment,
    cutter: &Cutter<'_>,
    unit: LengthUnit,
    at: &dyn Fn(f64) -> String,
) -> Vec<Finding> {
    let mut said = Vec::new();
    let chord = LengthUnit::Metre.convert(0.01, unit);
    if let Some(place) = line.crosses_itself(chord) {
        said.push(Finding::new(
            Code::LineCrossesItself,
            format!(
                "the line crosses itself at east {:.2}, north {:.2}: a place there has two chainages",
                place.east, place.north
            ),
        ));
    }
    let bends = line.bends();
    let sharp = bends.iter().filter(|bend| bend.angle.abs() > BEND);
    let sharpest = sharp
        .clone()
        .max_by(|a, b| a.angle.abs().total_cmp(&b.angle.abs()));
    if let Some(bend) = sharpest.filter(|_| cutter.reach[1] > cutter.reach[0]) {
        said.push(Finding::new(
            Code::LineBends,
            format!(
                "the line bends at {} places without a curve, by up to {:.1}° at {}: sections there are square to the line ahead",
                sharp.count(),
                bend.angle.abs().to_degrees(),
                at(bend.distance)
            ),
        ));
    }
    if let Some(profile) = line.profile() {
        let ends = [profile.summits().first(), profile.summits().last()];
        if let [Some(first), Some(last)] = ends
            && (first.distance > chord || last.distance < line.length() - chord)
        {
            said.push(Finding::new(
                Code::ProfileShort,
                format!(
                    "the heights of the line reach from {} to {} only; the line runs from {} to {}",
                    at(first.distance.max(0.0)),
                    at(last.distance.min(line.length())),
                    at(0.0),
                    at(line.length())
                ),
            ));
        }
    }
    said
}
