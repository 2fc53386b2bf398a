//! The classes of a cloud: which are taken, and what it holds of each.

use std::collections::BTreeMap;

use dapedon_formats::las::Shot;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::schema::Word;

pub(super) const GROUND: u8 = 2;
/// Points that are too low or too high to be anything.
const NOISE: [u8; 2] = [7, 18];

/// The classes that are taken of a cloud.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum Classes {
    /// Ground where there is any, or else all but noise.
    #[default]
    Usual,
    /// All, noise too.
    All,
    /// These.
    These(Vec<u8>),
}

/// Words for a list of classes that are none.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("\"{0}\" is not a class; use ground, all, or numbers from 0 to 255 as in 2,8")]
pub struct ClassesError(String);

impl std::str::FromStr for Classes {
    type Err = ClassesError;

    fn from_str(text: &str) -> Result<Self, ClassesError> {
        match text {
            "all" => return Ok(Classes::All),
            "ground" => return Ok(Classes::These(vec![GROUND])),
            _ => {}
        }
        let class = |word: &str| word.trim().parse().map_err(|_| ClassesError(word.into()));
        let mut these: Vec<u8> = text.split(',').map(class).collect::<Result<_, _>>()?;
        these.sort_unstable();
        these.dedup();
        Ok(Classes::These(these))
    }
}

/// A class of a cloud.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ClassFound {
    /// Its number.
    pub class: u8,
    /// What the standard means by it.
    pub name: Word,
    /// Its points.
    pub points: u64,
    /// Lowest and highest height.
    pub heights: [f64; 2],
}

/// Counts of what a cloud holds.
pub(super) struct Census {
    classes: [u64; 256],
    heights: [[f64; 2]; 256],
    returns: [u64; 16],
    pub(super) withheld: u64,
}

impl Classes {
    /// True for a class that is taken; `by_ground` where there is ground.
    pub(super) fn take(&self, class: u8, by_ground: bool) -> bool {
        match self {
            Classes::All => true,
            Classes::These(these) => these.contains(&class),
            Classes::Usual if by_ground => class == GROUND,
            Classes::Usual => !NOISE.contains(&class),
        }
    }
}

impl Census {
    pub(super) const EMPTY: Census = Census {
        classes: [0; 256],
        heights: [[f64::INFINITY, f64::NEG_INFINITY]; 256],
        returns: [0; 16],
        withheld: 0,
    };

    pub(super) fn count(&mut self, shot: &Shot) {
        let class = usize::from(shot.class);
        self.classes[class] += 1;
        let [low, high] = &mut self.heights[class];
        (*low, *high) = (low.min(shot.height), high.max(shot.height));
        self.returns[usize::from(shot.number & 15)] += 1;
    }

    /// All points.
    pub(super) fn all(&self) -> u64 {
        self.classes.iter().sum::<u64>() + self.withheld
    }

    pub(super) fn found(&self) -> Vec<ClassFound> {
        let counted = (0..=255u8).filter(|&class| self.classes[usize::from(class)] > 0);
        let found = counted.map(|class| ClassFound {
            class,
            name: name(class).into(),
            points: self.classes[usize::from(class)],
            heights: self.heights[usize::from(class)],
        });
        found.collect()
    }

    pub(super) fn spelled(&self) -> Vec<String> {
        let each = |found: &ClassFound| format!("{} ({})", found.class, found.name);
        self.found().iter().map(each).collect()
    }

    /// Points by return, without trailing nothing; a return of zero is counted as the first.
    pub(super) fn returns(&self) -> Vec<u64> {
        let mut returns = self.returns[1..].to_vec();
        returns[0] += self.returns[0];
        while returns.len() > 1 && returns.last() == Some(&0) {
            returns.pop();
        }
        returns
    }

    pub(super) fn left_out(&self, classes: &Classes, by_ground: bool) -> BTreeMap<String, usize> {
        let mut left: BTreeMap<String, usize> = (self.found().into_iter())
            .filter(|found| !classes.take(found.class, by_ground))
            .map(|found| {
                let kind = format!("points of class {}, {}", found.class, found.name);
                (kind, found.points as usize)
            })
            .collect();
        if self.withheld > 0 {
            left.insert("points marked as deleted".into(), self.withheld as usize);
        }
        left
    }
}

pub(super) fn listed(classes: &[u8]) -> String {
    let each = classes
        .iter()
        .map(|&class| format!("{class}, {}", name(class)));
    let word = if classes.len() == 1 {
        "class"
    } else {
        "classes"
    };
    format!("{word} {}", each.collect::<Vec<_>>().join("; "))
}

/// What the standard means by a class.
fn name(class: u8) -> &'static str {
    match class {
        0 => "never classified",
        1 => "unclassified",
        2 => "ground",
        3 => "low vegetation",
        4 => "medium vegetation",
        5 => "high vegetation",
        6 => "building",
        7 => "low noise",
        8 => "model key point",
        9 => "water",
        10 => "rail",
        11 => "road surface",
        12 => "overlap",
        13 => "wire guard",
        14 => "wire conductor",
        15 => "transmission tower",
        16 => "wire connector",
        17 => "bridge deck",
        18 => "high noise",
        19..=63 => "reserved",
        64.. => "user defined",
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn classes_are_read_as_typed() {
        assert_eq!("all".parse(), Ok(Classes::All));
        assert_eq!("ground".parse(), Ok(Classes::These(vec![2])));
        assert_eq!("8, 2,8".parse(), Ok(Classes::These(vec![2, 8])));
        for text in ["", "2,", "256", "-1", "grounds"] {
            let parsed: Result<Classes, _> = text.parse();
            assert!(parsed.is_err(), "{text}");
        }
    }
}
