//! What to do about what went wrong.

use dapedon_core::{CrestError, LengthUnit, RunOutError, TinError, TriangulateError, ZoneError};

use super::JobError;

impl JobError {
    /// What to do about it.
    pub fn remedy(&self) -> String {
        use JobError as E;
        match self {
            E::JobFile(error) => error.remedy.clone(),
            E::InJob { error, .. } => error.remedy(),
            E::TwoMeanings { name, .. } => {
                format!("say ./{name} for the file, or give one of them another name")
            }
            E::NoSuchMember { near: Some(near), .. } => format!("say \"{near}\", or name a file"),
            E::NoSuchMember { job: None, .. } => {
                "see that the name is right; names of a job need its file, --job FILE".into()
            }
            E::NoSuchMember { known, kind, .. } if known.is_empty() => {
                format!("name a file: the job has no {kind} at all")
            }
            E::NoSuchMember { known, .. } => {
                let known: Vec<String> = known.iter().map(|name| format!("\"{name}\"")).collect();
                format!("say one of {}, or name a file", known.join(", "))
            }
            E::JobZone { .. } => "mend the outline".into(),
            E::BuildUpsOverlap { .. } => {
                "let the zones end at each other, or say overlap = \"first\" for the one named first to hold"
                    .into()
            }
            E::ZoneBeyond { .. } => {
                "see that both are in the survey's coordinate system and unit, and the zone is the right one"
                    .into()
            }
            E::NothingLeft => "see what the step keeps, and where".into(),
            E::Endless => {
                "limit it first, as in { keep = \"inside\", zones = \"...\" }".into()
            }
            E::SeveralZones { .. } => "name one of them, as in file = \"...#name\"".into(),
            E::NoPlatform { .. } => {
                "name a surface of the job that has one, and the platform by its outline".into()
            }
            E::Bill(error) => error.remedy().into(),
            E::Contract(error) => error.remedy().into(),
            E::Convert(error) => error.remedy(),
            E::Unknown {
                near: Some(near), ..
            } => format!("say {near}"),
            E::Unknown { known, .. } if known.is_empty() => "add it to the job file".into(),
            E::Unknown { known, .. } => format!("say one of {}", known.join(", ")),
            E::Capacity(error) => error.remedy(),
            E::Pool(error) => error.remedy(),
            E::NothingAtLevel { .. } => "name a level between its lowest and highest place".into(),
            E::ThinLifts { .. } => "say thicker ones, or a smaller --tolerance".into(),
            E::ManyLifts { .. } => "say thicker ones".into(),
            E::Pile(error) => error.remedy(),
            E::LineWithoutHeights => {
                "say them with the line, as in heights = [[0, 24.5], [100, 25]] by distance".into()
            }
            E::NotOneLine { .. } => {
                "name one of them after the #: an alignment, a layer with one line, a feature".into()
            }
            E::RunOut(error) => match error {
                RunOutError::NeverMeets { .. } => {
                    "use steeper slopes, or ground that reaches further".into()
                }
                RunOutError::BeyondGround { .. } => {
                    "let the outline end within the ground, or name ground that reaches further".into()
                }
                RunOutError::TooFine { .. } => "say a longer chord, or steeper slopes".into(),
                RunOutError::NeverEnds { .. } => {
                    "see that the heights are in the units of the ground, or make the slope steeper".into()
                }
                RunOutError::NoSlope => "say n of 1 in n, as 2".into(),
                RunOutError::Overlay(_) => "please report this: it should not happen".into(),
            },
            E::Crest(CrestError::NotLevelWithItself { .. }) => {
                "let it end at the height it starts at".into()
            }
            E::Crest(_) => "ease the bend, or make the top narrower".into(),
            E::Read { .. } => "see that the name is right and the file may be read".into(),
            E::Folder { .. } => "name a file in it; only of clouds all in a folder are taken".into(),
            E::Empty { .. } => "ask for the file again: it holds nothing".into(),
            E::UnknownFormat { .. } => {
                let endings = |f: dapedon_formats::Format| {
                    format!("{} (.{})", f.name(), f.endings().join(", ."))
                };
                let all: Vec<String> = dapedon_formats::Format::ALL
                    .into_iter()
                    .map(endings)
                    .collect();
                format!("hand over one of {}", all.join("; "))
            }
            E::WrongKind { wanted, .. } => format!("name a file of {wanted}"),
            E::Delimited { error, .. } => error.remedy(),
            E::LandXml { error, .. } => error.remedy().into(),
            E::Dxf { error, .. } => error.remedy().into(),
            E::Asc { error, .. } => error.remedy().into(),
            E::GeoTiff { error, .. } => error.remedy().into(),
            E::Obj { error, .. } => error.remedy().into(),
            E::Shapefile { error, .. } => error.remedy().into(),
            E::Features { error, .. } => error.remedy().into(),
            E::ZonesCrsDiffer { .. } => {
                "have the zones converted; or, where both are the same grid under two names, say \
                 --any-crs".into()
            }
            E::Las { error, .. } => error.remedy().into(),
            E::CloudsDiffer { .. } => "have them exported alike, or measure them one by one".into(),
            E::NoSuchClass { .. } => "name others with --class, or say --class all".into(),
            E::TooManyPoints { .. } => "have it thinned: say --thin and a length".into(),
            E::ManyCells { .. } => {
                "have the points far away taken out, ask for larger cells with --thin, or for more with --memory".into()
            }
            E::Thinned { .. } => {
                "ask for other cells with --thin, or for one point a cell with --triangulate".into()
            }
            E::Grid { .. } => "have the grid exported again".into(),
            E::TooManyCells { .. } => {
                "ask for larger cells, or for more with --memory; stray points far away go with --max-edge".into()
            }
            E::NoCell => "say it, as in --cell 0.5".into(),
            E::NoSuchName { .. } => "name one of them in --take, or leave it away".into(),
            E::Degrees { .. } => {
                "have it projected to the survey's grid: volumes need lengths, and degrees are none".into()
            }
            E::NothingWithin { .. } => {
                "see that the outlines are in the survey's coordinate system".into()
            }
            E::CrsDiffer { .. } => {
                "have one of them converted; or, where both are the same grid under two names, \
                 say --any-crs".into()
            }
            E::HeightSystemsDiffer { .. } => {
                "have the heights of one of them converted; or, where both are the same under two names, say --any-crs"
                    .into()
            }
            E::GeoJson { error, .. } => error.remedy().into(),
            E::Facets {
                error: TinError::TooMany { .. },
                ..
            } => "thin the surface, or measure the site in parts".into(),
            E::Facets { .. } => "have the surface exported again".into(),
            E::Points { error, .. } => match error {
                TriangulateError::TwoHeights { .. } => {
                    "take the wrong point out (points count in the order of their rows), or say which \
                     height holds with --same-place"
                        .into()
                }
                TriangulateError::InOneLine { .. } => {
                    "see that the columns are what they are named, or survey points beside the line"
                        .into()
                }
                TriangulateError::NothingLeft { .. } => {
                    "see that the outlines are the right ones, or allow longer edges".into()
                }
                TriangulateError::TooMany { .. } => {
                    "thin the points, or measure the site in parts".into()
                }
                TriangulateError::TooFew { .. } | TriangulateError::OutOfRange { .. } => {
                    "see that the file is whole".into()
                }
            },
            E::Zone { error, .. } => match error {
                ZoneError::Open { .. } => {
                    "close the outline: its last corner must be its first".into()
                }
                ZoneError::Crosses { .. } => "mend the outline at that place".into(),
                _ => "mend the outline".into(),
            },
            E::NoSuchZone { .. } => "name one of them after the #".into(),
            E::Changed { .. } => "wait until nobody writes to it, and run it again".into(),
            E::ZoneTwice { .. } => "name each zone once".into(),
            E::NoUnit { .. } | E::LevelsWithoutUnit => {
                let codes =
                    LengthUnit::ALL.map(|unit| format!("--unit {} ({})", unit.code(), unit.name()));
                format!("say it: {}", codes.join(", "))
            }
            E::Apart { hint, .. } => {
                let hint = hint.map_or("", |hint| hint);
                format!("see that both are in one coordinate system{hint}")
            }
            E::ZonesApart { .. } => {
                "see that the zones are in the survey's coordinate system".into()
            }
            E::NothingInZones { .. } => {
                "see what inspect says of areas without heights, or move the zones".into()
            }
            E::Unbounded => "limit them with --zone".into(),
            E::NoEnd => "name a file, or a surface of the job that is no level".into(),
            E::ManyFacets => "write it as a grid, or keep it within a zone first".into(),
            E::NoJob => "write a job file: dapedon init writes a first one".into(),
            E::NotRead => "please report this: it should not happen".into(),
            E::Overlay(_) => "please report this: it should not happen".into(),
        }
    }
}
