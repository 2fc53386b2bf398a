//! From layers to what a surface is made of, and to zones.

use std::collections::{BTreeMap, HashMap};

use dapedon_core::plan::Place;
use dapedon_core::points::{Line, LineKind};
use dapedon_core::surface::Vertex;

use super::numbers;
use super::{Drawing, DxfError, Layer};
use crate::{CodeUse, CodeUses, FlatOutline, RawSurface, RawZone, RawZones};

/// What a drawing holds of a surface.
///
/// A layer that is `wanted` is taken whole; where `take` names a layer, those that it names are taken as
/// it says, and nothing else. Without either it is the facets, when they are on one layer, or else all points and, as breaklines,
/// all lines; lines at height 0 are then skipped where the rest of the drawing lies elsewhere.
///
/// # Errors
///
/// When there is nothing to take, or facets lie on several layers.
pub fn surface(
    drawing: Drawing,
    wanted: Option<&str>,
    take: &CodeUses,
) -> Result<RawSurface, DxfError> {
    let names: Vec<String> = drawing.layers.keys().cloned().collect();
    let mut made = RawSurface {
        name: wanted.unwrap_or_default().into(),
        unit: drawing.unit,
        stated_unit: drawing.stated_unit.map(Into::into),
        ..RawSurface::default()
    };
    made.notes.extend(notes(&drawing));
    let numbers: Vec<String> = (drawing.layers.iter())
        .filter(|(_, layer)| !layer.numbers.is_empty())
        .map(|(name, _)| name.clone())
        .collect();
    let contents = contents(&drawing);
    for (kind, (count, at)) in drawing.left_out {
        made.left_out
            .insert(format!("{kind} (first at {at})"), count);
    }
    let mut layers: Vec<(String, Layer)> = drawing.layers.into_iter().collect();
    if let Some(wanted) = wanted {
        layers.retain(|(name, _)| name.eq_ignore_ascii_case(wanted));
        if layers.is_empty() {
            return Err(DxfError::NoSuchLayer {
                wanted: wanted.into(),
                layers: names,
            });
        }
    }
    let concerned = take.names_any(names.iter().map(String::as_str));
    made.names = names;
    made.written_heights = numbers;
    if concerned {
        let is_written = |(name, _): &(String, Layer)| take.of(name) == Some(CodeUse::Heights);
        let places: Vec<Vertex> = match layers.iter().any(is_written) {
            true => layers
                .iter()
                .flat_map(|(_, layer)| layer.places())
                .collect(),
            false => Vec::new(),
        };
        for (name, mut layer) in layers {
            match take.of(&name) {
                Some(CodeUse::Heights) => made.add_written(&name, &layer, &places),
                Some(taken) => {
                    // Who names a layer as lines means what its symbols draw.
                    if matches!(taken, CodeUse::Line(_)) {
                        layer.lines.append(&mut layer.symbol_lines);
                    }
                    if taken == CodeUse::Triangles {
                        layer.fill();
                    }
                    made.add(&name, layer, taken);
                }
                None => {
                    // Points give written heights their places.
                    let used = if places.is_empty() {
                        0
                    } else {
                        layer.points.len()
                    };
                    let count = layer.kinds.values().sum::<usize>().saturating_sub(used);
                    if count > 0 {
                        let kind = format!("shapes on layer {name} that are not for ground");
                        made.left_out.insert(kind, count);
                    }
                }
            }
        }
        return made.checked(contents);
    }

    let with_facets: Vec<String> = (layers.iter())
        .filter(|(_, layer)| !layer.facets.is_empty())
        .map(|(name, _)| name.clone())
        .collect();
    match with_facets.as_slice() {
        [] => {}
        [_] => {
            for (name, layer) in layers {
                if layer.facets.is_empty() {
                    let count = layer.kinds.values().sum();
                    made.left_out.insert(
                        format!("shapes on layer {name} that are not for ground"),
                        count,
                    );
                } else {
                    made.add(&name, layer, CodeUse::Triangles);
                }
            }
            return made.checked(contents);
        }
        _ => {
            return Err(DxfError::Several {
                layers: with_facets,
            });
        }
    }
    let elsewhere = wanted.is_none() && layers.iter().any(|(_, layer)| has_heights(layer));
    for (name, mut layer) in layers {
        if elsewhere {
            let before = layer.lines.len();
            layer.lines.retain(|line| !is_at_zero(&line.places));
            let flat = before - layer.lines.len();
            if flat > 0 {
                made.left_out
                    .insert(format!("lines at height 0 on layer {name}"), flat);
            }
        }
        let breakline = CodeUse::Line(LineKind::Breakline);
        match layer.lines.is_empty() && layer.points.is_empty() {
            true => made.not_taken(&layer, breakline),
            false => made.add(&name, layer, breakline),
        }
    }
    made.checked(contents)
}

/// What is said of a drawing as a whole.
fn notes(drawing: &Drawing) -> impl Iterator<Item = String> + use<> {
    let count = drawing.symbols;
    let symbols =
        (count > 0).then(|| format!("inserted symbols at a height, one point each: {count}"));
    unit_note(drawing).into_iter().chain(symbols)
}

/// The unit of the drawing, where it is another one than that of its coordinates as read.
fn unit_note(drawing: &Drawing) -> Option<String> {
    let stated = drawing.stated_unit?;
    Some(match drawing.unit {
        Some(unit) => format!(
            "unit of the drawing: {stated}, converted to {}",
            unit.name()
        ),
        None => format!("unit of the drawing: {stated}"),
    })
}

/// Every surface that a drawing holds: one for each layer with facets where there are several of
/// those and `take` says nothing.
///
/// # Errors
///
/// When there is nothing to take.
pub fn surfaces(mut drawing: Drawing, take: &CodeUses) -> Result<Vec<RawSurface>, DxfError> {
    let several: Vec<String> = (drawing.layers.iter())
        .filter(|(_, layer)| !layer.facets.is_empty())
        .map(|(name, _)| name.clone())
        .collect();
    let names: Vec<String> = drawing.layers.keys().cloned().collect();
    if several.len() < 2 || take.names_any(names.iter().map(String::as_str)) {
        return Ok(vec![surface(drawing, None, take)?]);
    }
    let notes = notes(&drawing);
    let mut all = Vec::new();
    for name in several {
        let Some(layer) = drawing.layers.remove(&name) else {
            continue;
        };
        let mut made = RawSurface {
            unit: drawing.unit,
            name: name.clone(),
            names: names.clone(),
            ..RawSurface::default()
        };
        made.add(&name, layer, CodeUse::Triangles);
        all.push(made);
    }
    if let Some(first) = all.first_mut() {
        first.notes.extend(notes);
        for (kind, (count, at)) in drawing.left_out {
            (first.left_out).insert(format!("{kind} (first at {at})"), count);
        }
    }
    Ok(all)
}

fn is_at_zero(line: &[Vertex]) -> bool {
    line.iter().all(|v| v.height == 0.0)
}

fn has_heights(layer: &Layer) -> bool {
    layer.points.iter().any(|v| v.height != 0.0)
        || layer.lines.iter().any(|line| !is_at_zero(&line.places))
}

impl RawSurface {
    fn add(&mut self, name: &str, layer: Layer, taken: CodeUse) {
        let count = |count: usize, one: &str, more: &str| match count {
            1 => format!("1 {one}"),
            _ => format!("{count} {more}"),
        };
        if taken != CodeUse::Skip {
            self.not_taken(&layer, taken);
        }
        match taken {
            CodeUse::Skip | CodeUse::Heights => {
                let count = layer.kinds.values().sum();
                self.left_out.insert(
                    format!("shapes on layer {name} that are not for ground"),
                    count,
                );
            }
            CodeUse::Triangles => {
                let facets = count(layer.facets.len(), "facet", "facets");
                self.notes
                    .push(format!("layer {name}: {facets}, kept as drawn"));
                let first = self.vertices.len() as u32;
                self.vertices.extend(layer.vertices);
                (self.facets.get_or_insert_default())
                    .extend(layer.facets.iter().map(|facet| facet.map(|v| v + first)));
            }
            CodeUse::Points => {
                let before = self.vertices.len();
                self.vertices.extend(layer.points);
                let lines = layer.lines.into_iter();
                (self.vertices).extend(lines.flat_map(|line| line.places));
                self.vertices.extend(layer.vertices);
                let points = count(self.vertices.len() - before, "point", "points");
                self.notes.push(format!("layer {name}: {points}"));
            }
            CodeUse::Line(kind) => {
                let points = layer.points.len();
                self.vertices.extend(layer.points);
                let (mut lines, mut open) = (0, 0);
                for line in layer.lines {
                    lines += 1;
                    let ends = [line.places.first(), line.places.last()];
                    open += usize::from(ends[0] != ends[1]);
                    self.add_line(line.places, kind);
                }
                let word = match kind {
                    LineKind::Breakline => "breakline",
                    LineKind::Edge => "outline",
                    LineKind::Hole => "outline of a hole",
                    LineKind::Island => "outline of an island",
                };
                let many = word.replacen("line", "lines", 1);
                let mut parts = Vec::new();
                if points > 0 {
                    parts.push(count(points, "point", "points"));
                }
                if lines > 0 || points == 0 {
                    parts.push(count(lines, word, &many));
                }
                if kind.is_outline() && open > 0 {
                    parts.push(format!("{open} of them open, closed by a straight line"));
                }
                self.notes
                    .push(format!("layer {name}: {}", parts.join(", ")));
            }
        }
    }

    /// An outline at height 0 is drawn without heights.
    fn add_line(&mut self, line: Vec<Vertex>, kind: LineKind) {
        if kind.is_outline() && is_at_zero(&line) {
            let mut ring: Vec<Place> = line.iter().map(|v| v.place()).collect();
            if ring.first() != ring.last() {
                ring.extend(ring.first().copied());
            }
            return self.outlines.push(FlatOutline { kind, ring });
        }
        let first = self.vertices.len() as u32;
        let count = line.len() as u32;
        self.vertices.extend(line);
        self.lines.push(Line {
            kind,
            points: (first..first + count).collect(),
        });
    }

    /// Counts what is drawn on a layer and only taken when it is named for it.
    fn not_taken(&mut self, layer: &Layer, taken: CodeUse) {
        for (kind, used_as) in [
            ("text", CodeUse::Heights),
            ("filled area", CodeUse::Triangles),
        ] {
            let count = layer.kinds.get(kind).copied().unwrap_or(0);
            if count > 0 && taken != used_as {
                *self.left_out.entry(format!("{kind}s")).or_insert(0) += count;
            }
        }
    }

    /// Points from heights that are written on a layer.
    fn add_written(&mut self, name: &str, layer: &Layer, places: &[Vertex]) {
        self.not_taken(layer, CodeUse::Heights);
        let found = numbers::matched(&layer.numbers, places);
        let mut words = match found.points.len() {
            1 => format!("layer {name}: 1 point from a written height"),
            count => format!("layer {name}: {count} points from written heights"),
        };
        if found.alone > 0 {
            let alone = found.alone;
            words.push_str(&format!(
                ", {alone} of them without a point near: placed at the text"
            ));
        }
        self.notes.push(words);
        if found.known > 0 {
            let kind = format!("written heights on layer {name} whose point has a height");
            self.left_out.insert(kind, found.known);
        }
        self.vertices.extend(found.points);
    }

    fn checked(self, contents: String) -> Result<RawSurface, DxfError> {
        if self.vertices.is_empty() {
            return Err(DxfError::Nothing { contents });
        }
        Ok(self)
    }
}

impl Layer {
    /// Places that a height may be written for.
    fn places(&self) -> impl Iterator<Item = Vertex> {
        self.points.iter().chain(&self.flat_symbols).copied()
    }

    /// Adds its filled areas to its facets.
    fn fill(&mut self) {
        let key = |v: Vertex| [v.east, v.north, v.height].map(|number| (number + 0.0).to_bits());
        let mut known: HashMap<[u64; 3], u32> = (0..)
            .zip(&self.vertices)
            .map(|(index, &v)| (key(v), index))
            .collect();
        for facet in std::mem::take(&mut self.filled) {
            let facet = facet.map(|v| {
                *known.entry(key(v)).or_insert_with(|| {
                    self.vertices.push(v);
                    self.vertices.len() as u32 - 1
                })
            });
            self.facets.push(facet);
        }
    }
}

/// What is drawn, and in which unit, in words: for a drawing with nothing to use.
fn contents(drawing: &Drawing) -> String {
    let mut counts: BTreeMap<&str, usize> = BTreeMap::new();
    for (&kind, &count) in drawing.layers.values().flat_map(|layer| &layer.kinds) {
        *counts.entry(kind).or_insert(0) += count;
    }
    for (kind, (count, _)) in &drawing.left_out {
        *counts.entry(kind).or_insert(0) += count;
    }
    let unit = drawing
        .stated_unit
        .or(drawing.unit.map(|unit| unit.name()))
        .unwrap_or("not stated");
    let counts: Vec<String> = counts
        .iter()
        .map(|(kind, count)| format!("{kind} {count}"))
        .collect();
    match counts.is_empty() {
        true => format!("nothing is drawn; unit: {unit}"),
        false => format!("it has {}; unit: {unit}", counts.join(", ")),
    }
}

/// The closed lines of a drawing, or of one of its layers, as zones named by their layers.
///
/// # Errors
///
/// When there are none.
pub fn zones(drawing: &Drawing, wanted: Option<&str>) -> Result<RawZones, DxfError> {
    let is_wanted = |name: &str| wanted.is_none_or(|wanted| name.eq_ignore_ascii_case(wanted));
    if !drawing.layers.keys().any(|name| is_wanted(name)) {
        return Err(DxfError::NoSuchLayer {
            wanted: wanted.unwrap_or_default().into(),
            layers: drawing.layers.keys().cloned().collect(),
        });
    }
    let mut found = RawZones::default();
    let mut open = 0;
    for (name, layer) in drawing.layers.iter().filter(|(name, _)| is_wanted(name)) {
        let ends_meet = |line: &&[Vertex]| {
            let place = |v: Option<&Vertex>| v.map(|v| v.place());
            line.len() > 3 && place(line.first()) == place(line.last())
        };
        // An outline needs no heights: one that a symbol draws counts as well.
        let lines = || layer.lines.iter().chain(&layer.symbol_lines);
        let places = || lines().map(|line| line.places.as_slice());
        let closed: Vec<&[Vertex]> = places().filter(ends_meet).collect();
        open += lines().count() - closed.len();
        for (index, line) in closed.iter().enumerate() {
            let ring = line.iter().map(|v| v.place()).collect();
            let feature = format!("{name} {index}");
            let name = match closed.len() {
                1 => name.clone(),
                _ => format!("{name} {}", index + 1),
            };
            found.zones.push(RawZone {
                name,
                feature,
                parts: vec![vec![ring]],
                ..RawZone::default()
            });
        }
    }
    if found.zones.is_empty() {
        return Err(DxfError::NoZone { open });
    }
    found.left_out = open;
    found.unit = drawing.unit;
    Ok(found)
}
