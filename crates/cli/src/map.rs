//! Maps: what is asked for, and the files they are written to.

use std::path::Path;
use std::sync::Arc;

use dapedon_core::alignment::Alignment;
use dapedon_core::plan::Place;
use dapedon_job::{Finding, FindingCode, Job, JobFacts, Pictures, SurfaceFacts};
use dapedon_report::{
    LeftOut, MapOptions, RESOLUTION, SCREEN, Shown, TitleBlock, png, without_letter,
};

use crate::args::{MapArgs, ShownOnMap};
use crate::error::CommandError;
use crate::output::Outputs;

/// The files of lines that are drawn on it.
pub(crate) fn line_files(args: &MapArgs) -> Vec<&Path> {
    let paths = args.lines().filter_map(|line| line.path());
    paths.filter(|path| path.exists()).collect()
}

/// True where a line is named that only a job has.
pub(crate) fn names_a_line(args: &MapArgs) -> bool {
    let mut paths = args.lines().filter_map(|line| line.path());
    paths.any(|path| !path.exists())
}

/// What is known of a map before it is measured: the paper and the resolution.
pub(crate) fn sheet(args: &MapArgs) -> MapOptions {
    MapOptions {
        paper: args.paper(),
        resolution: args.dpi,
        is_picture: args.map.as_deref().is_some_and(is_picture),
        ..MapOptions::default()
    }
}

/// What a map needs of what is measured.
pub(crate) fn pictures(args: &MapArgs, job: Option<&Job>) -> Result<Pictures, CommandError> {
    let lines = args.lines().map(|line| match job {
        Some(job) => job.line(line),
        None => Ok(line.clone()),
    });
    Ok(Pictures {
        room: sheet(args).room(),
        lines: lines.collect::<Result<_, _>>()?,
    })
}

/// The whole of it, with what is drawn over the colours: the lines that were read for it, and breaklines.
pub(crate) fn options(
    args: &MapArgs,
    lines: &[Alignment],
    breaklines: &Arc<Vec<Vec<Place>>>,
    title: TitleBlock,
) -> MapOptions {
    let shown = args.show.iter().filter_map(|shown| match shown {
        ShownOnMap::Contours(interval) => Some(Shown::Contours(*interval)),
        ShownOnMap::Spots(spacing) => Some(Shown::Spots(*spacing)),
        ShownOnMap::Triangles => Some(Shown::Triangles),
        ShownOnMap::Points => Some(Shown::Points),
        ShownOnMap::Breaklines => Some(Shown::Breaklines(breaklines.clone())),
        ShownOnMap::Continuous => Some(Shown::Continuous),
        ShownOnMap::Line(_) => None,
    });
    let lines = lines.iter().map(|line| Shown::Line(Box::new(line.clone())));
    MapOptions {
        shown: shown.chain(lines).collect(),
        title: Some(title),
        ..sheet(args)
    }
}

/// The same map on a page of a report, which has no paper of its own.
pub(crate) fn on_a_page(options: MapOptions) -> MapOptions {
    MapOptions {
        paper: None,
        is_picture: false,
        ..options
    }
}

/// True for a file that holds pixels.
fn is_picture(path: &Path) -> bool {
    let ending = path.extension();
    ending.is_some_and(|ending| ending.eq_ignore_ascii_case("png"))
}

/// Writes a map beside its place: as it is, or as a picture of pixels; and says what the picture cannot show.
pub(crate) fn stage(
    files: &mut Outputs,
    args: &MapArgs,
    path: &Path,
    svg: &str,
) -> Result<Option<Finding>, CommandError> {
    if !is_picture(path) {
        files.stage(path, svg.as_bytes())?;
        return Ok(None);
    }
    let usual = if args.paper.is_some() {
        RESOLUTION
    } else {
        SCREEN
    };
    let bytes = png(svg, args.dpi.unwrap_or(usual))?;
    files.stage(path, &bytes)?;
    let lacking = without_letter(svg);
    Ok((lacking > 0).then(|| {
        let words = format!("{lacking} letters are in no font of the picture, and are boxes there");
        Finding::of(
            FindingCode::NotOnMap,
            words,
            "use the ending .svg: a browser has fonts for them",
        )
    }))
}

/// What a map could not show.
pub(crate) fn findings(left_out: LeftOut) -> Vec<Finding> {
    let mut found = Vec::new();
    if left_out.labels > 0 {
        let words = match left_out.labels {
            1 => "1 label has no room on the map".to_owned(),
            many => format!("{many} labels have no room on the map"),
        };
        found.push(Finding::of(
            FindingCode::NotOnMap,
            words,
            "use a larger spacing, or larger paper",
        ));
    }
    if left_out.details {
        let words = "the triangles are too many for the map, and are not drawn";
        found.push(Finding::of(
            FindingCode::NotOnMap,
            words,
            "draw a part of the surface",
        ));
    }
    if left_out.breaklines {
        let words = "the surface has no breaklines to be drawn";
        found.push(Finding::of(
            FindingCode::NotOnMap,
            words,
            "draw a surface that is made from points and lines, without steps of a job",
        ));
    }
    found
}

/// A title block with the job and the surfaces of a map.
pub(crate) fn title(
    heading: String,
    job: Option<&JobFacts>,
    sides: &[(&str, &SurfaceFacts)],
) -> TitleBlock {
    let mut title = TitleBlock {
        heading,
        lines: Vec::new(),
    };
    if let Some(job) = job {
        title.line("Job", job.name.clone());
        title.line("Contract", job.contract.clone().unwrap_or_default());
    }
    for (label, side) in sides {
        let file = side.file.as_ref().map(|file| file.path.clone());
        let date = side.survey_date.as_ref();
        let mut words = side.source.clone();
        if let Some(file) = file.filter(|file| *file != side.source) {
            words += &format!(", {file}");
        }
        if let Some(date) = date {
            words += &format!(", {date}");
        }
        title.line(label, words);
    }
    title
}
