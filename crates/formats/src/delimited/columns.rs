//! What each column holds.

use std::fmt;

use super::{DelimitedError, number::is_any};

/// What a column holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Role {
    /// The point's number or name.
    Point,
    /// Easting.
    East,
    /// Northing.
    North,
    /// Height.
    Height,
    /// Standard uncertainty of the height.
    HeightAccuracy,
    /// Standard uncertainty of the place, in east and in north.
    PlanAccuracy,
    /// The feature code.
    Code,
    /// A remark.
    Note,
    /// Nothing that is used here.
    Skip,
}

/// What a place needs; a point has a height besides.
pub(super) const PLACE: [Role; 2] = [Role::East, Role::North];
pub(super) const POINT: [Role; 3] = [Role::East, Role::North, Role::Height];

/// Columns under their roles, with a row to show for it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Reading {
    /// The roles, from left to right.
    pub roles: Vec<Role>,
    /// The first row of points.
    pub first: Vec<String>,
}

impl fmt::Display for Reading {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let roles: Vec<String> = self.roles.iter().map(Role::to_string).collect();
        f.write_str(&roles.join(","))
    }
}

impl fmt::Display for Role {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

impl Reading {
    /// Each role with what the first row holds under it.
    pub fn spelled(&self) -> String {
        let pairs = self.roles.iter().zip(&self.first);
        pairs
            .map(|(role, value)| format!("{role} = {value}"))
            .collect::<Vec<_>>()
            .join(", ")
    }
}

impl Role {
    const ALL: [Role; 9] = [
        Role::Point,
        Role::East,
        Role::North,
        Role::Height,
        Role::HeightAccuracy,
        Role::PlanAccuracy,
        Role::Code,
        Role::Note,
        Role::Skip,
    ];

    const fn word(self) -> &'static str {
        match self {
            Role::Point => "point",
            Role::East => "east",
            Role::North => "north",
            Role::Height => "height",
            Role::HeightAccuracy => "height-accuracy",
            Role::PlanAccuracy => "plan-accuracy",
            Role::Code => "code",
            Role::Note => "note",
            Role::Skip => "skip",
        }
    }

    pub(super) fn words() -> String {
        Role::ALL.map(Role::word).join(", ")
    }

    /// The roles a header word can stand for; two of them where the trade uses it both ways.
    fn of_header(word: &str) -> &'static [Role] {
        let word = word
            .split(['(', '['])
            .next()
            .unwrap_or(word)
            .trim()
            .to_lowercase();
        match word.as_str() {
            "e" | "east" | "easting" | "eastings" => &[Role::East],
            "n" | "north" | "northing" | "northings" => &[Role::North],
            // East in a drawing, north in the geodesist's right-handed system, and the reverse.
            "x" => &[Role::East, Role::North],
            "y" => &[Role::North, Role::East],
            "h" | "z" | "height" | "elev" | "elevation" | "level" | "rl" => &[Role::Height],
            "p" | "pt" | "point" | "no" | "nr" | "id" | "name" | "number" => &[Role::Point],
            "height-accuracy" | "height accuracy" | "height_accuracy" | "vertical accuracy"
            | "vertical_accuracy" | "vrms" | "sd_h" | "sd_z" | "sigma_h" | "sigma_z" | "std_z" => {
                &[Role::HeightAccuracy]
            }
            "plan-accuracy"
            | "plan accuracy"
            | "plan_accuracy"
            | "horizontal accuracy"
            | "horizontal_accuracy"
            | "hrms" => &[Role::PlanAccuracy],
            "code" | "description" | "desc" | "feature" => &[Role::Code],
            "note" | "remark" | "remarks" | "comment" => &[Role::Note],
            _ => &[Role::Skip],
        }
    }

    /// Only these may be there just once.
    const fn is_measured(self) -> bool {
        matches!(self, Role::East | Role::North | Role::Height)
    }
}

/// Roles as typed, separated by commas, or in one word of their initials: P point, E east, N north, Z or H height, D or C code.
///
/// # Errors
///
/// When a word is no role, or a role is there twice.
pub fn parse_roles(words: &str) -> Result<Vec<Role>, DelimitedError> {
    let role = |word: &str| {
        let found = Role::ALL
            .into_iter()
            .find(|role| role.word() == word.trim().to_lowercase());
        found.ok_or_else(|| DelimitedError::UnknownRole {
            word: word.trim().into(),
        })
    };
    let roles = match initials(words.trim()) {
        Some(roles) => roles,
        None => words.split(',').map(role).collect::<Result<Vec<_>, _>>()?,
    };
    // Whether heights are needed is known where the file is read.
    check(&roles, &PLACE)?;
    Ok(roles)
}

/// The roles of a word of initials, as in PENZD.
fn initials(word: &str) -> Option<Vec<Role>> {
    let role = |letter: char| match letter.to_ascii_uppercase() {
        'P' => Some(Role::Point),
        'E' => Some(Role::East),
        'N' => Some(Role::North),
        'Z' | 'H' => Some(Role::Height),
        'D' | 'C' => Some(Role::Code),
        _ => None,
    };
    let roles: Vec<Role> = word.chars().map(role).collect::<Option<_>>()?;
    (roles.len() >= 3).then_some(roles)
}

pub(super) fn check(roles: &[Role], needed: &[Role]) -> Result<(), DelimitedError> {
    let mut seen = Vec::new();
    for &role in roles.iter().filter(|&&role| role != Role::Skip) {
        if seen.contains(&role) {
            return Err(DelimitedError::RoleTwice { role });
        }
        seen.push(role);
    }
    match needed.iter().copied().find(|role| !seen.contains(role)) {
        Some(role) => Err(DelimitedError::NoColumn {
            role,
            header: roles.iter().map(Role::to_string).collect(),
        }),
        None => Ok(()),
    }
}

/// The roles a header gives, if it can be read in one way only.
pub(super) fn from_header(
    header: &[String],
    first: &[String],
    needed: &[Role],
) -> Result<Vec<Role>, DelimitedError> {
    let choices: Vec<&[Role]> = header.iter().map(|word| Role::of_header(word)).collect();
    let reading = |roles: Vec<Role>| Reading {
        roles,
        first: first.to_vec(),
    };
    let pick = |way: usize| -> Vec<Role> {
        choices
            .iter()
            .map(|choice| choice[way.min(choice.len() - 1)])
            .collect()
    };
    let roles = pick(0);
    // One role in two columns: each of them could be the one.
    for role in [Role::East, Role::North, Role::Height] {
        let columns: Vec<usize> = (0..roles.len()).filter(|&i| roles[i] == role).collect();
        if let [one, other, ..] = columns[..] {
            let without = |column: usize| {
                let mut roles = roles.clone();
                roles[column] = Role::Skip;
                reading(roles)
            };
            return Err(DelimitedError::TwoReadings {
                readings: [without(other), without(one)],
            });
        }
        if columns.is_empty() && needed.contains(&role) {
            return Err(DelimitedError::NoColumn {
                role,
                header: header.to_vec(),
            });
        }
    }
    if choices.iter().any(|choice| choice.len() > 1) {
        return Err(DelimitedError::TwoReadings {
            readings: [reading(roles), reading(pick(1))],
        });
    }
    // Further columns of one kind are of no use, but do no harm.
    let mut seen = Vec::new();
    let once = |role: Role| {
        if !role.is_measured() && seen.contains(&role) {
            return Role::Skip;
        }
        seen.push(role);
        role
    };
    Ok(roles.into_iter().map(once).collect())
}

/// Without a header the order of east and north is anyone's guess, and this tool does not guess.
pub(super) fn without_header(first: Vec<String>) -> DelimitedError {
    let numeric = |index: usize| first.get(index).is_some_and(|f| is_any(f.as_bytes()));
    // Three numbers in a row. A number before three others is that of the point, unless it has decimals as they have: then
    // what follows the heights is something else, such as an intensity and colours.
    let has_decimals = |index: usize| first.get(index).is_some_and(|f| f.contains(['.', ',']));
    let starts = numeric(0) && numeric(1) && numeric(2) && (!numeric(3) || has_decimals(0));
    let start = usize::from(!starts);
    let reading = |order: [Role; 3]| {
        let mut roles = if start == 1 {
            vec![Role::Point]
        } else {
            Vec::new()
        };
        roles.extend(order);
        let next = roles.len();
        if first.len() > next && (start == 1 || !numeric(next)) {
            roles.push(Role::Code);
        }
        while roles.len() < first.len() {
            roles.push(Role::Skip);
        }
        Reading {
            roles,
            first: first.clone(),
        }
    };
    DelimitedError::TwoReadings {
        readings: [
            reading([Role::East, Role::North, Role::Height]),
            reading([Role::North, Role::East, Role::Height]),
        ],
    }
}
