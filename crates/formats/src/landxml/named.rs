//! Survey points by their names, for points of surfaces that refer to them.

use std::collections::HashMap;

use dapedon_core::surface::Vertex;

/// A point of a surface that is a survey point.
#[derive(Debug)]
pub(super) struct Reference {
    /// The index of the point in its surface.
    pub(super) vertex: usize,
    /// The name of the survey point.
    pub(super) point: String,
    /// Where it is named.
    pub(super) offset: u64,
}

/// Survey points with heights. Few files refer to them: they are kept as they come, and sorted only when asked for.
#[derive(Debug, Default)]
pub(super) struct NamedPoints {
    names: String,
    ends: Vec<usize>,
    places: Vec<Vertex>,
}

impl NamedPoints {
    pub(super) fn add(&mut self, name: &str, place: Vertex) {
        if !name.is_empty() {
            self.names.push_str(name);
            self.ends.push(self.names.len());
            self.places.push(place);
        }
    }

    /// The first of each name.
    pub(super) fn by_name(&self) -> HashMap<&str, Vertex> {
        let mut found = HashMap::with_capacity(self.places.len());
        let mut start = 0;
        for (&end, &place) in self.ends.iter().zip(&self.places) {
            found.entry(&self.names[start..end]).or_insert(place);
            start = end;
        }
        found
    }
}
