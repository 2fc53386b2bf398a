//! Outlines as files, to be corrected and used as zones.

use std::path::{Path, PathBuf};

use dapedon_core::units::LengthUnit;
use dapedon_formats::shapefile::ShapefileBytes;
use dapedon_formats::{Format, RawZone, geojson, shapefile};

use crate::error::CommandError;
use crate::output::Outputs;

/// Where outlines are written to, and how.
pub(crate) struct OutlineFiles {
    path: PathBuf,
    format: Format,
}

/// The files of a shapefile.
pub(crate) const SHAPEFILE_PARTS: [&str; 5] = ["shp", "shx", "dbf", "prj", "cpg"];

impl OutlineFiles {
    /// The format follows from the ending of the name.
    pub(crate) fn of(path: &Path) -> Result<Self, CommandError> {
        let ending = path
            .extension()
            .map(|ending| ending.to_string_lossy().to_lowercase());
        let writes = |format: &Format| {
            let known = format.endings().iter();
            // What is packed is read, and not written.
            let mut written = known.copied().filter(|known| *known != "zip");
            written.any(|known| ending.as_deref() == Some(known))
        };
        let format = [Format::GeoJson, Format::Shapefile]
            .into_iter()
            .find(writes);
        match format {
            Some(format) => Ok(OutlineFiles {
                path: path.into(),
                format,
            }),
            None => Err(CommandError::NoOutlineWriter { path: path.into() }),
        }
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

    /// Writes outlines, and the material of each where that is known.
    pub(crate) fn stage(
        &self,
        files: &mut Outputs,
        outlines: &[RawZone],
        materials: &[&str],
        unit: LengthUnit,
    ) -> Result<(), CommandError> {
        let fault = |source| CommandError::Write {
            path: self.path.clone(),
            source,
        };
        if self.format != Format::Shapefile {
            let made_of = outlines.iter().zip(materials).map(|(outline, material)| {
                let named = ("material".to_owned(), (*material).to_owned());
                let attributes = Some(named).filter(|(_, material)| !material.is_empty());
                RawZone {
                    attributes: attributes.into_iter().collect(),
                    ..outline.clone()
                }
            });
            let made_of: Vec<RawZone> = made_of.collect();
            return files.stage_with(&self.path, |out| geojson::write(out, &made_of));
        }
        let written =
            shapefile::write(outlines, "material", materials, unit, None).map_err(fault)?;
        stage_shapefile(files, &self.path, written)
    }
}

/// Writes the files of a shapefile beside their places.
pub(crate) fn stage_shapefile(
    files: &mut Outputs,
    path: &Path,
    written: ShapefileBytes,
) -> Result<(), CommandError> {
    let parts = [
        written.shp,
        written.shx,
        written.dbf,
        written.prj,
        written.cpg,
    ];
    for (ending, bytes) in SHAPEFILE_PARTS.iter().zip(parts) {
        files.stage(&path.with_extension(ending), &bytes)?;
    }
    Ok(())
}
