//! `sections`: cross-sections along a line, and the volumes between them.

use std::path::{Path, PathBuf};

use dapedon_formats::Format;
use dapedon_job::{
    Context, HaulRules, Job, SectionGround, SectionRules, Sections, SectionsRequest, sections,
};
use dapedon_report::{
    MapCut, MapWords, Paper, PaperSheet, Picture, SectionSheets, SheetOptions, Shown, TitleBlock,
    describe, difference_map, png, section_sheets, sheets_as_drawing,
};

use crate::args::{MapArgs, SectionsArgs};
use crate::drawing::DrawingFile;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::progress::telling;

pub(crate) fn run(args: &SectionsArgs) -> Result<(), CommandError> {
    let two = [&args.reference, &args.surveyed].into_iter();
    let file = args.line.path();
    let drawings: Vec<PathBuf> = args
        .sheets
        .iter()
        .filter(|path| !is_picture(path))
        .cloned()
        .collect();
    if let Some(path) = drawings
        .iter()
        .find(|path| Format::by_ending(path) != Some(Format::Dxf))
    {
        return Err(CommandError::NoSheetWriter { path: path.clone() });
    }
    let drawings = DrawingFile::all(&drawings)?;
    let outputs = args
        .csv
        .iter()
        .chain(&args.report)
        .chain(&args.sheets)
        .chain(&args.map);
    let typed = Names {
        sources: two.chain(&args.others).collect(),
        zones: args.zones.iter().collect(),
        // A line may be one of the job.
        named: file.is_some_and(|path| !path.exists()),
        files: file.into_iter().filter(|path| path.exists()).collect(),
        outputs: outputs.cloned().collect(),
    };
    let job = typed.job(&args.job, &args.reading)?;
    let on_map = MapArgs::screen(args.map.clone());
    let context = Context {
        pictures: (args.map.as_ref())
            .map(|_| map::pictures(&on_map, job.as_ref()))
            .transpose()?,
        ..names::context(job.as_ref(), &args.reading, &args.units)?
    };
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let measured = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        sections(&context, &request)
    });
    let (mut found, ground) = measured?;
    let mut files = Outputs::off(&read);
    let mut pictures = Vec::new();
    // Of several sheets each is a file of its own.
    let is_whole = |path: &&PathBuf| !args.sheets.contains(path) || !is_picture(path);
    let mut written: Vec<PathBuf> = typed.outputs.iter().filter(is_whole).cloned().collect();
    if !args.sheets.is_empty() || args.report.is_some() {
        let options = options(args, &found);
        let drawn = section_sheets(&found, &ground, &options)?;
        for file in &drawings {
            file.stage(&mut files, &sheets_as_drawing(&found, &drawn))?;
        }
        for path in args.sheets.iter().filter(|path| is_picture(path)) {
            written.extend(stage(&mut files, path, &drawn, args.dpi)?);
        }
        if args.report.is_some() {
            let picture = |sheet: &PaperSheet| Picture {
                caption: String::new(),
                svg: sheet.svg(),
            };
            pictures.extend(drawn.sheets.iter().map(picture));
        }
    }
    if let (Some(path), Some(drawn)) = (&args.map, &ground.map) {
        let (lines, breaklines) = (&drawn.scene.lines, &drawn.scene.breaklines);
        let mut options = map::options(&on_map, lines, breaklines, title(&found));
        options.shown.push(Shown::Cuts(cuts(&found, &ground)));
        let words = MapWords::VOLUME;
        let (svg, left_out) = difference_map(&drawn.rows, 0.0, &drawn.scene, words, &options)?;
        let boxes = map::stage(&mut files, &on_map, path, &svg)?;
        let left_out = map::findings(left_out).into_iter();
        found.warnings.extend(left_out.chain(boxes));
    }
    let report = describe::sections(&found, pictures);
    files.stage_csv(args.csv.as_ref(), &report)?;
    files.stage_page(args.report.as_ref(), &report, &args.title)?;
    print_result(files, args.json, &found, &report, &written)
}

/// True for a file of one sheet: pixels or SVG.
fn is_picture(path: &Path) -> bool {
    let ending = path.extension().map(|ending| ending.to_ascii_lowercase());
    ending.is_some_and(|ending| ending == "svg" || ending == "png")
}

/// Writes each sheet beside its place; several are numbered. Hands back their names.
fn stage(
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

/// Where all sections are cut, with their chainages.
fn cuts(found: &Sections, ground: &SectionGround) -> Vec<MapCut> {
    let cuts = found.sections.iter().zip(&ground.ends);
    cuts.map(|(section, ends)| MapCut {
        ends: *ends,
        label: section.station.clone(),
    })
    .collect()
}

/// What sheets and the map say of themselves.
fn title(found: &Sections) -> TitleBlock {
    let sides = [
        ("Reference", &found.reference),
        ("Surveyed", &found.surveyed),
    ];
    let heading = format!(
        "Sections along {}, from {} to {}",
        found.line.line, found.reference.source, found.surveyed.source
    );
    let mut title = map::title(heading, found.job.as_ref(), &sides);
    if let Some(file) = &found.line.file {
        title.line("Line", file.path.clone());
    }
    title.line("Unit", found.units.length.name());
    title
}

/// How the sheets are drawn.
fn options(args: &SectionsArgs, found: &Sections) -> SheetOptions {
    SheetOptions {
        paper: Paper {
            size: args.paper.size(),
            upright: args.upright,
            scale: args.scale,
        },
        exaggeration: args.exaggeration,
        title: title(found),
    }
}

fn request(args: &SectionsArgs, job: Option<&Job>) -> Result<SectionsRequest, CommandError> {
    let others = args.others.iter().map(|typed| names::surface(job, typed));
    Ok(SectionsRequest {
        reference: names::surface(job, &args.reference)?,
        surveyed: names::surface(job, &args.surveyed)?,
        others: others.collect::<Result<_, _>>()?,
        rules: SectionRules {
            line: match job {
                Some(job) => job.line(&args.line)?,
                None => args.line.clone(),
            },
            every: args.every,
            geometry_points: !args.round_only,
            at: args.at.clone(),
            refine: args.refine,
            between: [args.from, args.to],
            widths: match (args.width, args.left, args.right) {
                (Some(width), _, _) => Some([width; 2]),
                (None, Some(left), Some(right)) => Some([left, right]),
                _ => None,
            },
            rule: args.rule.rule(),
            curve_correction: args.curve_correction,
        },
        zones: names::zones(job, &args.zones)?,
        haul: args.mass_haul.then(|| HaulRules {
            shrink: args.shrink.compacted(),
            free_haul: args.free_haul,
            access: args.access,
        }),
        corners: args.corners,
    })
}
