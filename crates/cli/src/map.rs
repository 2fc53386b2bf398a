//! Maps: what is asked for, and the files they are written to.

use std::path::Path;

use dapedon_core::units::LengthUnit;
use dapedon_job::{Context, Finding, FindingCode, JobFacts, SurfaceFacts, alignment};
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
        ..MapOptions::default()
    }
}

/// The whole of it, with what is drawn over the colours; lines are read in the unit that was measured in.
pub(crate) fn options(
    args: &MapArgs,
    context: &Context<'_>,
    unit: LengthUnit,
    title: TitleBlock,
) -> Result<MapOptions, CommandError> {
    let shown = args.show.iter().map(|shown| {
        Ok(match shown {
            ShownOnMap::Contours(interval) => Shown::Contours(*interval),
            ShownOnMap::Spots(spacing) => Shown::Spots(*spacing),
            ShownOnMap::Triangles => Shown::Triangles,
            ShownOnMap::Points => Shown::Points,
            ShownOnMap::Continuous => Shown::Continuous,
            ShownOnMap::Line(line) => {
                let line = match context.job {
                    Some(job) => job.line(line)?,
                    None => line.clone(),
                };
                Shown::Line(Box::new(alignment(context, &line, unit)?))
            }
        })
    });
    Ok(MapOptions {
        shown: shown.collect::<Result<_, CommandError>>()?,
        title: Some(title),
        ..sheet(args)
    })
}

/// The same map on a page of a report, which has no paper of its own.
pub(crate) fn on_a_page(options: MapOptions) -> MapOptions {
    MapOptions {
        paper: None,
        ..options
    }
}

/// Writes a map beside its place: as it is, or as a picture of pixels; and says what the picture cannot show.
pub(crate) fn stage(
    files: &mut Outputs,
    args: &MapArgs,
    path: &Path,
    svg: &str,
) -> Result<Option<Finding>, CommandError> {
    let is_picture = path
        .extension()
        .is_some_and(|ending| ending.eq_ignore_ascii_case("png"));
    if !is_picture {
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
