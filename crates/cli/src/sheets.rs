//! Sheets to files: pictures one by one, numbered, and drawings that hold them all.

use std::path::{Path, PathBuf};

use dapedon_formats::Format;
use dapedon_report::{PaperSheet, Picture, SectionSheets, png, sheets_as_drawing};

use crate::args::SheetArgs;
use crate::drawing::DrawingFile;
use crate::error::CommandError;
use crate::output::Outputs;

/// Where sheets go to.
pub(crate) struct SheetFiles<'a> {
    args: &'a SheetArgs,
    drawings: Vec<DrawingFile>,
}

impl<'a> SheetFiles<'a> {
    /// The files that are asked for: pictures by their ending, all others drawings.
    pub(crate) fn of(args: &'a SheetArgs) -> Result<Self, CommandError> {
        let drawings = args.sheets.iter().filter(|path| !is_picture(path));
        let drawings: Vec<PathBuf> = drawings.cloned().collect();
        let other = drawings
            .iter()
            .find(|path| Format::by_ending(path) != Some(Format::Dxf));
        match other {
            Some(path) => Err(CommandError::NoSheetWriter { path: path.clone() }),
            None => Ok(SheetFiles {
                args,
                drawings: DrawingFile::all(&drawings)?,
            }),
        }
    }

    /// True for a file that is written under the name that was given: of several sheets each picture is a file of its own.
    pub(crate) fn is_whole(&self, path: &PathBuf) -> bool {
        !self.args.sheets.contains(path) || !is_picture(path)
    }

    /// Writes all sheets beside their places, and hands back the names of the pictures.
    pub(crate) fn stage(
        &self,
        files: &mut Outputs,
        drawn: &SectionSheets,
    ) -> Result<Vec<PathBuf>, CommandError> {
        for file in &self.drawings {
            file.stage(files, &sheets_as_drawing(drawn))?;
        }
        let mut written = Vec::new();
        for path in self.args.sheets.iter().filter(|path| is_picture(path)) {
            written.extend(pictures(files, path, drawn, self.args.dpi)?);
        }
        Ok(written)
    }
}

/// The sheets as pictures of a page.
pub(crate) fn on_page(drawn: &SectionSheets) -> Vec<Picture> {
    let picture = |sheet: &PaperSheet| Picture {
        caption: String::new(),
        svg: sheet.svg(),
    };
    drawn.sheets.iter().map(picture).collect()
}

/// True for a file of one sheet: pixels or SVG.
fn is_picture(path: &Path) -> bool {
    let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
    ending.is_some_and(|ending| ending == "svg" || ending == "png")
}

/// Writes each sheet beside its place; several are numbered. Hands back their names.
fn pictures(
    files: &mut Outputs,
    path: &Path,
    drawn: &SectionSheets,
    dots: f64,
) -> Result<Vec<PathBuf>, CommandError> {
    let mut written = Vec::new();
    let several = drawn.sheets.len() > 1;
    let wide = drawn.sheets.len().to_string().len();
    for (number, sheet) in drawn.sheets.iter().enumerate() {
        let own = match several {
            true => numbered(path, number + 1, wide),
            false => path.to_owned(),
        };
        let svg = sheet.svg();
        match own
            .extension()
            .is_some_and(|ending| ending.eq_ignore_ascii_case("png"))
        {
            true => files.stage(&own, &png(&svg, dots)?)?,
            false => files.stage(&own, svg.as_bytes())?,
        }
        written.push(own);
    }
    Ok(written)
}

/// The name of one sheet of several: with its number before the ending.
fn numbered(path: &Path, number: usize, wide: usize) -> PathBuf {
    let mut name = path.file_stem().unwrap_or_default().to_owned();
    name.push(format!("-{number:0wide$}"));
    if let Some(ending) = path.extension() {
        name.push(".");
        name.push(ending);
    }
    path.with_file_name(name)
}
