//! `sections`: cross-sections along a line, and the volumes between them.

use std::path::PathBuf;

use dapedon_job::{
    Context, HaulRules, Job, SectionGround, SectionRules, Sections, SectionsRequest, sections,
};
use dapedon_report::{
    MapCut, MapWords, Shown, TitleBlock, describe, difference_map, section_sheets,
};

use crate::args::{MapArgs, SectionsArgs};
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::sheets::{SheetFiles, on_page};
use crate::telling::telling;

pub(crate) fn run(args: &SectionsArgs) -> Result<(), CommandError> {
    let two = [&args.reference, &args.surveyed].into_iter();
    let file = args.line.path();
    let sheets = SheetFiles::of(&args.sheets)?;
    let outputs = args
        .csv
        .iter()
        .chain(&args.reports)
        .chain(&args.sheets.sheets)
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
    let whole = typed.outputs.iter().filter(|path| sheets.is_whole(path));
    let mut written: Vec<PathBuf> = whole.cloned().collect();
    if !args.sheets.sheets.is_empty() || !args.reports.is_empty() {
        let options = args.sheets.options(title(&found));
        let drawn = section_sheets(&found, &ground, &options)?;
        written.extend(sheets.stage(&mut files, &drawn)?);
        if !args.reports.is_empty() {
            pictures = on_page(&drawn);
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
    files.stage_reports(&args.reports, &report, &args.title)?;
    print_result(files, args.json, &found, &report, &written)
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
        layers: args.layers,
        corners: args.corners,
        accuracies: args.accuracy.both(),
    })
}
