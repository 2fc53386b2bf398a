//! From entities to what is drawn on each layer: blocks inserted, symbols told from ground.

use std::collections::HashMap;
use std::io::BufRead;

use dapedon_core::surface::Vertex;
use dapedon_core::units::{Foot, LengthUnit};

use super::entity::{self, Entity, ReadEntity};
use super::fields::Fields;
use super::numbers::WrittenNumber;
use super::pairs::Pairs;
use super::place::Placing;
use super::shape::Shape;
use super::{Drawing, DrawingPosition, DxfError, Layer};

/// Entities that inserted blocks may come to.
const MOST: usize = 5_000_000;
/// How deep blocks may be inserted in blocks.
const DEPTH: usize = 16;

struct Block {
    base: [f64; 3],
    entities: Vec<Entity>,
    /// Whether it is flat, once that was asked.
    flat: Option<bool>,
}

/// What an entity is put for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum As {
    Drawn,
    /// Part of a symbol, whose point is put already.
    Symbol,
}

/// Reads a drawing. Parts of a metre or foot are converted.
///
/// # Errors
///
/// When it is no DXF, is cut off, or says of itself what is not so.
pub fn read(input: impl BufRead) -> Result<Drawing, DxfError> {
    read_scaled(input, true)
}

/// Reads a drawing whose own unit is known to be wrong: no coordinate is converted.
///
/// # Errors
///
/// As for [`read`].
pub fn read_as_drawn(input: impl BufRead) -> Result<Drawing, DxfError> {
    read_scaled(input, false)
}

fn read_scaled(input: impl BufRead, converts: bool) -> Result<Drawing, DxfError> {
    let mut pairs = Pairs::open(input)?;
    let mut reader = Reader {
        drawing: Drawing {
            binary: pairs.is_binary(),
            ..Drawing::default()
        },
        blocks: HashMap::new(),
        corners: HashMap::new(),
        fields: Fields::default(),
        made: 0,
        scale: 1.0,
        converts,
    };
    let mut any = false;
    loop {
        pairs.next()?;
        if pairs.is(0, "EOF") {
            break;
        }
        if !pairs.is(0, "SECTION") {
            continue;
        }
        pairs.next()?;
        if pairs.is(2, "HEADER") {
            reader.header(&mut pairs)?;
        } else if pairs.is(2, "BLOCKS") {
            reader.blocks(&mut pairs)?;
        } else if pairs.is(2, "ENTITIES") {
            any = true;
            reader.entities(&mut pairs)?;
        }
    }
    if any {
        Ok(reader.drawing)
    } else {
        Err(DxfError::NoEntities)
    }
}

struct Reader {
    drawing: Drawing,
    blocks: HashMap<Vec<u8>, Block>,
    /// The corners of facets known so far, for each layer.
    corners: HashMap<String, HashMap<[u64; 3], u32>>,
    fields: Fields,
    made: usize,
    /// What one unit of the drawing is in the tool's.
    scale: f64,
    /// False where the drawing's own unit is not believed.
    converts: bool,
}

impl Reader {
    fn header<R: BufRead>(&mut self, pairs: &mut Pairs<R>) -> Result<(), DxfError> {
        let mut wanted = false;
        loop {
            pairs.next()?;
            match pairs.code {
                0 if pairs.is(0, "ENDSEC") => return Ok(()),
                9 => wanted = pairs.is(9, "$INSUNITS"),
                70 if wanted => {
                    // Numbers as the format lists them; parts of a metre or foot are converted.
                    let metre = Some(LengthUnit::Metre);
                    let foot = |foot| Some(LengthUnit::Foot(foot));
                    let (unit, scale, name) = match pairs.number("$INSUNITS")? as i64 {
                        1 => (foot(Foot::International), 1.0 / 12.0, Some("inches")),
                        2 => (foot(Foot::International), 1.0, None),
                        4 => (metre, 0.001, Some("millimetres")),
                        5 => (metre, 0.01, Some("centimetres")),
                        6 => (metre, 1.0, None),
                        7 => (metre, 1000.0, Some("kilometres")),
                        14 => (metre, 0.1, Some("decimetres")),
                        21 => (foot(Foot::UsSurvey), 1.0, None),
                        0 => (None, 1.0, None),
                        _ => (None, 1.0, Some("not usable for ground")),
                    };
                    (self.drawing.unit, self.drawing.stated_unit) = (unit, name);
                    if self.converts {
                        self.scale = scale;
                    }
                }
                _ => {}
            }
        }
    }

    fn blocks<R: BufRead>(&mut self, pairs: &mut Pairs<R>) -> Result<(), DxfError> {
        loop {
            pairs.next()?;
            if pairs.is(0, "ENDSEC") {
                return Ok(());
            }
            if !pairs.is(0, "BLOCK") {
                continue;
            }
            let (mut name, mut base) = (Vec::new(), [0.0; 3]);
            loop {
                pairs.next()?;
                match pairs.code {
                    0 => break pairs.put_back(),
                    2 => name = pairs.text().trim_ascii().to_ascii_uppercase(),
                    code @ (10 | 20 | 30) => {
                        base[(code / 10 - 1) as usize] = pairs.number("BLOCK")?;
                    }
                    _ => {}
                }
            }
            let mut entities = Vec::new();
            loop {
                match entity::next(pairs, &mut self.fields)? {
                    ReadEntity::Entity(entity) => entities.push(entity),
                    ReadEntity::LeftOut(kind, at) => {
                        self.leave_out(format!("{kind} in a block"), at);
                    }
                    ReadEntity::End => break,
                }
            }
            let flat = None;
            let block = Block {
                base,
                entities,
                flat,
            };
            self.blocks.insert(name, block);
        }
    }

    fn entities<R: BufRead>(&mut self, pairs: &mut Pairs<R>) -> Result<(), DxfError> {
        loop {
            match entity::next(pairs, &mut self.fields)? {
                ReadEntity::Entity(entity) => {
                    let spot = entity.at;
                    self.count(&entity.layer, entity.kind);
                    if !self.put(&entity, Placing::SAME, None, 0, As::Drawn) {
                        return Err(DxfError::TooMany {
                            at: spot,
                            most: MOST,
                        });
                    }
                }
                ReadEntity::LeftOut(kind, at) => self.leave_out(kind, at),
                ReadEntity::End => return Ok(()),
            }
        }
    }

    fn leave_out(&mut self, kind: String, at: DrawingPosition) {
        self.drawing.left_out.entry(kind).or_insert((0, at)).0 += 1;
    }

    fn count(&mut self, layer: &str, kind: &'static str) {
        *self.layer(layer).kinds.entry(kind).or_insert(0) += 1;
    }

    fn layer(&mut self, name: &str) -> &mut Layer {
        self.drawing.layers.entry(name.into()).or_default()
    }

    /// Puts an entity on its layer; what a block draws on layer 0 goes on the layer it is inserted
    /// on. False when blocks come to too much.
    fn put(
        &mut self,
        entity: &Entity,
        placing: Placing,
        on: Option<&str>,
        depth: usize,
        put_as: As,
    ) -> bool {
        // A drawing may hold any number of entities; only blocks multiply them.
        self.made += usize::from(depth > 0);
        if self.made > MOST || depth > DEPTH {
            return false;
        }
        let layer = match on {
            Some(on) if entity.layer == "0" => on,
            _ => &entity.layer,
        };
        let scale = self.scale;
        let place_by = |placing: Placing, v: Vertex| {
            let v = placing.place(v);
            match scale {
                1.0 => v,
                _ => Vertex::new(v.east * scale, v.north * scale, v.height * scale),
            }
        };
        let place = |v: Vertex| place_by(placing, v);
        match &entity.shape {
            Shape::Point(_) if put_as == As::Symbol => {}
            Shape::Point(at) => {
                let at = place(*at);
                self.layer(layer).points.push(at);
            }
            Shape::Line(line) => {
                let line = line.placed(place);
                let layer = self.layer(layer);
                match put_as {
                    As::Drawn => layer.lines.push(line),
                    As::Symbol => layer.symbol_lines.push(line),
                }
            }
            Shape::Mesh { vertices, facets } => {
                let vertices: Vec<Vertex> = vertices.iter().map(|&v| place(v)).collect();
                self.mesh(layer, &vertices, facets);
            }
            Shape::Filled(facets) => {
                let facets = facets.iter().map(|facet| facet.map(place));
                self.layer(layer).filled.extend(facets);
            }
            Shape::Text { .. } if put_as == As::Symbol => {}
            Shape::Text { at, reach, value } => {
                let tip = place(Vertex::new(at.east + reach, at.north, at.height));
                let at = place(*at);
                // Letters grow with what they stand in.
                let reach = libm::hypot(tip.east - at.east, tip.north - at.north);
                let value = *value;
                if let Some(value) = value {
                    self.layer(layer)
                        .numbers
                        .push(WrittenNumber { at, value, reach });
                }
            }
            Shape::Insert {
                block,
                placing: insertion,
                columns,
                rows,
                height,
            } => {
                if let Some(value) = *height {
                    let [east, north, own] = insertion.to;
                    let at = place(insertion.plane.place(Vertex::new(east, north, own)));
                    self.layer(layer).numbers.push(WrittenNumber {
                        at,
                        value,
                        reach: 0.0,
                    });
                }
                let is_flat = self.is_flat(block, 0);
                // Taken out while its entities are put, so that a block in itself is not found.
                let Some(block_held) = self.blocks.remove(block) else {
                    self.leave_out("INSERT of a missing block".into(), entity.at);
                    return true;
                };
                let mut fits = true;
                'all: for row in 0..*rows {
                    for column in 0..*columns {
                        // Copies count too: a block may be empty.
                        self.made += 1;
                        fits = self.made <= MOST;
                        if !fits {
                            break 'all;
                        }
                        let inner = placing.after(&insertion.placing(block_held.base, column, row));
                        let [east, north, height] = block_held.base;
                        let at = place_by(inner, Vertex::new(east, north, height));
                        // A flat drawing at a height of its own is a symbol there: its circles and crosses are no ground.
                        let is_symbol = put_as == As::Drawn && is_flat && at.height != 0.0;
                        if is_flat && at.height == 0.0 && put_as == As::Drawn {
                            self.layer(layer).flat_symbols.push(at);
                        }
                        if is_symbol {
                            self.drawing.symbols += 1;
                            self.layer(layer).points.push(at);
                        }
                        let inner_as = if is_symbol { As::Symbol } else { put_as };
                        for entity in &block_held.entities {
                            fits = self.put(entity, inner, Some(layer), depth + 1, inner_as);
                            if !fits {
                                break 'all;
                            }
                        }
                    }
                }
                self.blocks.insert(block.clone(), block_held);
                return fits;
            }
        }
        true
    }

    /// True when all that a block draws lies at the height of its base, and none of it is a mesh. Found out once for each.
    fn is_flat(&mut self, name: &[u8], depth: usize) -> bool {
        let Some(block) = self.blocks.get_mut(name) else {
            return true;
        };
        if let Some(known) = block.flat {
            return known;
        }
        // A block in itself, or one too deep, is not flat.
        block.flat = Some(false);
        let base = block.base[2];
        let inner: Vec<(Vec<u8>, f64)> = (block.entities.iter())
            .filter_map(|entity| match &entity.shape {
                Shape::Insert { block, placing, .. } => Some((block.clone(), placing.to[2])),
                _ => None,
            })
            .collect();
        let own = block.entities.iter().all(|entity| match &entity.shape {
            Shape::Point(at) => at.height == base,
            Shape::Line(line) => line.places.iter().all(|v| v.height == base),
            Shape::Mesh { .. } => false,
            // Neither is ground.
            Shape::Filled(_) | Shape::Text { .. } => true,
            Shape::Insert { .. } => true,
        });
        let is_flat = own
            && depth < DEPTH
            && (inner.iter())
                .all(|(name, height)| *height == base && self.is_flat(name, depth + 1));
        if let Some(block) = self.blocks.get_mut(name) {
            block.flat = Some(is_flat);
        }
        is_flat
    }

    fn mesh(&mut self, layer: &str, vertices: &[Vertex], facets: &[[u32; 3]]) {
        let known = self.corners.entry(layer.into()).or_default();
        let layer = self.drawing.layers.entry(layer.into()).or_default();
        let numbers: Vec<u32> = (vertices.iter())
            .map(|v| {
                // Adding zero makes minus zero zero.
                let key = [v.east, v.north, v.height].map(|number| (number + 0.0).to_bits());
                *known.entry(key).or_insert_with(|| {
                    layer.vertices.push(*v);
                    layer.vertices.len() as u32 - 1
                })
            })
            .collect();
        (layer.facets).extend(
            facets
                .iter()
                .map(|facet| facet.map(|v| numbers[v as usize])),
        );
    }
}
