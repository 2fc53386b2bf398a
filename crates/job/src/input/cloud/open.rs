//! An opened file of a cloud, of any format that holds one.

use std::io::BufReader;
use std::path::Path;

use dapedon_formats::Format;
use dapedon_formats::delimited;
use dapedon_formats::e57::ScannedCloud;
use dapedon_formats::las::{Cloud, CloudFacts, Shot};
use dapedon_formats::ply::PlyCloud;

use crate::error::JobError;
use crate::input::InputError;
use crate::input::file::{Input, Watched};
use crate::input::reading::Reading;

/// Points of a text that are handed on together.
const BATCH: usize = 1 << 15;

/// An opened file of a cloud.
pub(super) enum OpenCloud {
    Las(Box<Cloud<BufReader<Watched>>>),
    Scanned(Box<ScannedCloud<BufReader<Watched>>>),
    Ply(Box<PlyCloud<BufReader<Watched>>>),
    /// Text, which says nothing of itself.
    Text(Box<(BufReader<Watched>, delimited::Options, CloudFacts)>),
}

impl OpenCloud {
    pub(super) fn of(input: &mut Input, path: &Path, reading: &Reading) -> Result<Self, JobError> {
        let format = input.format;
        let file = BufReader::with_capacity(1 << 20, input.rewound()?);
        Ok(match format {
            Format::E57 => {
                let cloud = ScannedCloud::open(file);
                let cloud = cloud.map_err(|error| InputError::unreadable(path, error))?;
                OpenCloud::Scanned(Box::new(cloud))
            }
            Format::PlyCloud => {
                let cloud = PlyCloud::open(file);
                let cloud = cloud.map_err(|error| InputError::unreadable(path, error))?;
                OpenCloud::Ply(Box::new(cloud))
            }
            Format::Delimited => OpenCloud::Text(Box::new((file, reading.delimited(), of_text()))),
            _ => {
                let cloud = Cloud::open(file);
                let cloud = cloud.map_err(|error| InputError::unreadable(path, error))?;
                OpenCloud::Las(Box::new(cloud))
            }
        })
    }

    /// What it says of itself.
    pub(super) fn about(&self) -> &CloudFacts {
        match self {
            OpenCloud::Las(cloud) => cloud.about(),
            OpenCloud::Scanned(cloud) => cloud.about(),
            OpenCloud::Ply(cloud) => cloud.about(),
            OpenCloud::Text(text) => &text.2,
        }
    }

    /// Hands over all points, batch by batch; what was understood on the way.
    pub(super) fn each(
        self,
        path: &Path,
        mut take: impl FnMut(&[Shot]) + Send,
    ) -> Result<Vec<String>, JobError> {
        match self {
            OpenCloud::Las(cloud) => {
                let read = cloud.each(take);
                read.map_err(|error| InputError::unreadable(path, error))?;
            }
            OpenCloud::Scanned(cloud) => {
                let read = cloud.each(take);
                read.map_err(|error| InputError::unreadable(path, error))?;
            }
            OpenCloud::Ply(cloud) => {
                let read = cloud.each(take);
                read.map_err(|error| InputError::unreadable(path, error))?;
            }
            OpenCloud::Text(text) => {
                let (file, options, _) = *text;
                let mut batch = Vec::with_capacity(BATCH);
                let read = delimited::each(file, &options, |point| {
                    let at = point.at;
                    batch.push(Shot::bare(Some([at.east, at.north, at.height])));
                    if batch.len() == BATCH {
                        take(&batch);
                        batch.clear();
                    }
                });
                let read = read.map_err(|error| InputError::unreadable(path, error))?;
                take(&batch);
                let mut notes = vec![format!("columns: {}", read.reading)];
                notes.extend(read.decimal_comma.then(|| "decimal commas".into()));
                return Ok(notes);
            }
        }
        Ok(Vec::new())
    }
}

/// What is known of a cloud in text before it is read.
fn of_text() -> CloudFacts {
    CloudFacts {
        version: "text".into(),
        bounds: [f64::NAN; 4],
        ..CloudFacts::default()
    }
}
