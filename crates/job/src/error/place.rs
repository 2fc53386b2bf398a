//! Where it went wrong.

use dapedon_formats::Position;

use super::JobError;
use crate::bill::BillError;
use crate::quantities::CapacityError;

impl JobError {
    /// The file, and the place in it where that is known.
    pub fn place(&self) -> Option<String> {
        use JobError as E;
        let (path, at) = match self {
            E::JobFile(error) => return Some(error.spot.to_string()),
            E::InJob { spot, error } => {
                return Some(match error.place() {
                    Some(place) => format!("{place}, asked for in {spot}"),
                    None => spot.to_string(),
                });
            }
            E::Dxf { path, error } => {
                let path = path.display();
                return Some(match error.at() {
                    Some(at) => format!("{path}, {at}"),
                    None => path.to_string(),
                });
            }
            E::Delimited { path, error } => (path, error.at()),
            E::Asc { path, error } => (path, error.at()),
            E::LandXml { path, at, .. } => (path, *at),
            E::GeoJson { path, error } => (path, error.at()),
            E::Obj { path, error } => (path, error.at()),
            E::Bill(BillError::NoItems { path }) => (path, None),
            E::Read { path, .. }
            | E::Folder { path }
            | E::Changed { path }
            | E::Empty { path }
            | E::UnknownFormat { path }
            | E::WrongKind { path, .. }
            | E::Facets { path, .. }
            | E::Grid { path, .. }
            | E::Thinned { path, .. }
            | E::GeoTiff { path, .. }
            | E::Las { path, .. }
            | E::Shapefile { path, .. }
            | E::Features { path, .. }
            | E::ZonesCrsDiffer { path, .. }
            | E::NoSuchClass { path, .. }
            | E::TooManyPoints { path }
            | E::ManyCells { path, .. }
            | E::Points { path, .. }
            | E::Zone { path, .. }
            | E::NoSuchZone { path, .. }
            | E::Degrees { path }
            | E::NothingWithin { path, .. }
            | E::NotOneLine { path, .. }
            | E::NoUnit { path } => (path, None),
            E::Capacity(CapacityError::Areas {
                path: Some(path),
                line,
                ..
            }) => {
                let at = line.map(|line| Position { line, column: 1 });
                (path, at)
            }
            E::Bill(_)
            | E::Contract(_)
            | E::Convert(_)
            | E::Unknown { .. }
            | E::Capacity(_)
            | E::Pool(_)
            | E::NothingAtLevel { .. }
            | E::ThinLifts { .. }
            | E::ManyLifts { .. }
            | E::Pile(_)
            | E::TwoMeanings { .. }
            | E::NoSuchMember { .. }
            | E::JobZone { .. }
            | E::BuildUpsOverlap { .. }
            | E::ZoneBeyond { .. }
            | E::NothingLeft
            | E::Endless
            | E::SeveralZones { .. }
            | E::NoPlatform { .. }
            | E::LineWithoutHeights
            | E::RunOut(_)
            | E::Crest(_)
            | E::ZoneTwice { .. }
            | E::NoSuchName { .. }
            | E::CloudsDiffer { .. }
            | E::CrsDiffer { .. }
            | E::HeightSystemsDiffer { .. }
            | E::LevelsWithoutUnit
            | E::Apart { .. }
            | E::ZonesApart { .. }
            | E::NothingInZones { .. }
            | E::Unbounded
            | E::NoEnd
            | E::ManyFacets
            | E::NotRead
            | E::NoJob
            | E::TooManyCells { .. }
            | E::NoCell
            | E::Overlay(_) => return None,
        };
        Some(match at {
            Some(at) => format!("{}, {at}", path.display()),
            None => path.display().to_string(),
        })
    }
}
