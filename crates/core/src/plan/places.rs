//! Places that are numbered: those that coordinates do not tell apart are one.

use rustc_hash::FxHashMap;

use crate::plan::Place;

/// Numbered places: those distinguished by less than a resolution are one.
pub(crate) struct Places {
    resolution: f64,
    cells: FxHashMap<[i64; 2], Vec<u32>>,
    places: Vec<Place>,
}

impl Places {
    /// None yet.
    pub(crate) fn within(resolution: f64) -> Self {
        Places {
            resolution,
            cells: FxHashMap::default(),
            places: Vec::new(),
        }
    }

    /// The number of a place.
    pub(crate) fn number(&mut self, place: Place) -> u32 {
        // The side of the cells that places are looked up in: few stand so near to a border of theirs that the next
        // cell must be asked.
        let (near, side) = (self.resolution, 1024.0 * self.resolution);
        let cell = |shift: f64| {
            [place.east, place.north].map(|value| ((value + shift) / side).floor() as i64)
        };
        let (low, high, own) = (cell(-near), cell(near), cell(0.0));
        for east in low[0]..=high[0] {
            for north in low[1]..=high[1] {
                let near = self.cells.get(&[east, north]).into_iter().flatten();
                let same = |&&number: &&u32| {
                    let other = self.places[number as usize];
                    (other.east - place.east).abs() <= self.resolution
                        && (other.north - place.north).abs() <= self.resolution
                };
                if let Some(&number) = near.clone().find(same) {
                    return number;
                }
            }
        }
        let number = self.places.len() as u32;
        self.places.push(place);
        self.cells.entry(own).or_default().push(number);
        number
    }

    /// What they are distinguished by.
    pub(crate) fn resolution(&self) -> f64 {
        self.resolution
    }

    /// Where a numbered place is.
    pub(crate) fn at(&self, number: u32) -> Place {
        self.places[number as usize]
    }
}
