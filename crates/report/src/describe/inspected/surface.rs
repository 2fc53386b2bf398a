//! A surface of a file, or what can be made one.

use dapedon_core::units::LengthUnit;
use dapedon_job::{CellsFound, SurfaceFound};

use super::{Fact, LISTED, area, count, extent, fact, range};

pub(super) fn facts(surface: &SurfaceFound, unit: Option<LengthUnit>) -> Vec<Fact> {
    let name = match surface.name.as_str() {
        "" => "surface".to_owned(),
        name => format!("surface \"{name}\""),
    };
    let mut facts = vec![(name, String::new()), fact("holds", holds(surface))];
    if let (Some(min), Some(max)) = (surface.min, surface.max) {
        facts.extend(extent(min, max));
    }
    if surface.points > 0 {
        let heights = surface.heights.map(|heights| range(heights, 3));
        facts.push(fact("heights", heights.as_deref().unwrap_or("none")));
    }
    if surface.triangles > 0 {
        facts.push(fact(
            "area",
            format!("{} in plan", area(surface.area, unit)),
        ));
    }
    if let Some(cells) = &surface.cells {
        facts.extend(cells_of(cells, unit));
    }
    if let (Some(spacing), Some(longest)) = (surface.spacing, surface.longest_edge) {
        let long = match surface.long_triangles {
            0 => String::new(),
            n => format!(
                ", {} triangles with an edge over ten times the median",
                count(n)
            ),
        };
        let words = format!("median {spacing:.2}, longest {longest:.2}{long}");
        facts.push(fact("edges", words));
    }
    facts.extend(patches(surface));
    facts.extend(odd_points(surface));
    facts
}

fn holds(surface: &SurfaceFound) -> String {
    let what = match &*surface.made_from {
        "grid" => "cells",
        _ => "points",
    };
    let mut parts = vec![format!("{} {what}", count(surface.points))];
    if surface.breaklines > 0 {
        parts.push(format!("{} breaklines", count(surface.breaklines)));
    }
    if surface.outlines > 0 {
        parts.push(format!("{} outlines", count(surface.outlines)));
    }
    parts.push(match (surface.triangles, &*surface.made_from) {
        (0, _) => "no triangles".to_owned(),
        (n, "facets" | "grid") => format!("{} triangles", count(n)),
        (n, _) => format!("{} triangles when triangulated", count(n)),
    });
    parts.join(", ")
}

fn cells_of(cells: &CellsFound, unit: Option<LengthUnit>) -> Vec<Fact> {
    let symbol = unit.map_or("", LengthUnit::symbol);
    let [east, north] = cells.cell_size;
    let side = match east == north {
        true => format!("{east} {symbol} square"),
        false => format!("{east} by {north} {symbol}"),
    };
    let words = format!(
        "{} by {}, each {side}, {:.1} % without a height",
        count(cells.size[0]),
        count(cells.size[1]),
        100.0 * cells.share_without_height
    );
    let mut facts = vec![fact("cells", words)];
    facts.extend(cells.empty.first().map(|first| {
        let whole: f64 = cells.empty.iter().map(|empty| empty.area).sum();
        let whole = area(whole, unit);
        let words = match cells.empty.len() {
            1 => format!("1 area within its outline, {whole}"),
            n => format!(
                "{} areas within its outline, {whole}, the largest {}",
                count(n),
                area(first.area, unit)
            ),
        };
        let (east, north) = (first.east, first.north);
        fact(
            "empty",
            format!("{words} about east {east:.1}, north {north:.1}"),
        )
    }));
    facts
}

/// The patches that points fall into, where they do.
fn patches(surface: &SurfaceFound) -> Option<Fact> {
    let sizes = surface.separate_areas.iter().take(LISTED).map(|patch| {
        let middle = |a: f64, b: f64| (a + b) / 2.0;
        let east = middle(patch.min.east, patch.max.east);
        let north = middle(patch.min.north, patch.max.north);
        let points = count(patch.points);
        format!("{points} points about {east:.0} / {north:.0}")
    });
    let sizes: Vec<String> = sizes.collect();
    let words = format!("{}: {}", surface.separate_areas.len(), sizes.join("; "));
    (surface.separate_areas.len() > 1).then(|| fact("patches", words))
}

fn odd_points(surface: &SurfaceFound) -> Vec<Fact> {
    let first = surface.outliers.iter().take(LISTED).map(|odd| {
        let words = format!(
            "east {:.3}, north {:.3}: height {:.3}, {:+.3} from its neighbours",
            odd.east, odd.north, odd.height, odd.height_difference
        );
        fact("odd", words)
    });
    let more = surface.outliers.len().saturating_sub(LISTED);
    let more = (more > 0).then(|| {
        let words = format!("and {} more points; --json lists them all", count(more));
        fact("odd", words)
    });
    first.chain(more).collect()
}
