//! Points and lines as files of drawings and maps.

use std::io;
use std::path::{Path, PathBuf};

use dapedon_formats::drawing::Drawing;
use dapedon_formats::{Format, dxf, geojson, landxml, shapefile};

use crate::error::CommandError;
use crate::outlines::{SHAPEFILE_PARTS, stage_shapefile};
use crate::output::Outputs;

/// A file that points and lines are written to.
pub(crate) struct DrawingFile {
    path: PathBuf,
    format: Format,
}

impl DrawingFile {
    /// The format follows from the ending of the name.
    pub(crate) fn of(path: &Path) -> Result<Self, CommandError> {
        let is_packed = path
            .extension()
            .is_some_and(|ending| ending.eq_ignore_ascii_case("zip"));
        let format = Format::by_ending(path);
        let format = format.filter(|format| format.writes_drawings() && !is_packed);
        match format {
            Some(format) => Ok(DrawingFile {
                path: path.into(),
                format,
            }),
            None => Err(CommandError::NoDrawingWriter { path: path.into() }),
        }
    }

    /// The files of all paths.
    pub(crate) fn all(paths: &[PathBuf]) -> Result<Vec<Self>, CommandError> {
        paths.iter().map(|path| DrawingFile::of(path)).collect()
    }

    /// All files that are written.
    pub(crate) fn paths(&self) -> Vec<PathBuf> {
        match self.format {
            Format::Shapefile => SHAPEFILE_PARTS
                .map(|ending| self.path.with_extension(ending))
                .to_vec(),
            _ => vec![self.path.clone()],
        }
    }

    /// Writes a drawing beside its place.
    pub(crate) fn stage(&self, files: &mut Outputs, drawing: &Drawing) -> Result<(), CommandError> {
        match self.format {
            Format::Shapefile => {
                let written = shapefile::write_drawing(drawing);
                let written = written.map_err(|source| CommandError::Write {
                    path: self.path.clone(),
                    source,
                })?;
                stage_shapefile(files, &self.path, written)
            }
            format => files.stage_with(&self.path, |out| match format {
                Format::Dxf => dxf::write_drawing(out, drawing),
                Format::GeoJson => geojson::write_drawing(out, drawing),
                Format::LandXml => landxml::write_drawing(out, drawing),
                _ => Err(io::Error::other("this format has no points and lines")),
            }),
        }
    }
}
