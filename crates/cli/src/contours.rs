//! `contours`: lines of one height on a surface, or of one difference between two.

use dapedon_core::plan::{Extent, Place};
use dapedon_core::surface::Vertex;
use dapedon_formats::RawZone;
use dapedon_formats::drawing::{Drawing, Feature, Field, Layer, Shape, Value};
use dapedon_job::{
    Context, ContourLevels, Contours, ContoursRequest, FoundContours, Job, MapGround,
    RequestedUnits, contours,
};
use dapedon_report::{
    MapContours, MapWords, Shown, TitleBlock, describe, difference_map, ground_map,
};

use crate::args::ContoursArgs;
use crate::drawing::DrawingFile;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::outlines::OutlineFiles;
use crate::output::{Outputs, print_result};
use crate::telling::telling;

/// The layers of a drawing, with colours as drawings number them.
const LAYERS: [(&str, u8); 2] = [("CONTOUR", 36), ("CONTOUR_INDEX", 34)];
/// Labels are this share of the longer side of the drawing high.
const LABEL: f64 = 0.006;
/// From label to label, in label heights.
const SPACING: f64 = 40.0;
/// A figure is so wide, in label heights.
const FIGURE: f64 = 0.7;

pub(crate) fn run(args: &ContoursArgs) -> Result<(), CommandError> {
    let drawings = DrawingFile::all(&args.outs)?;
    let outlines = args.outlines.as_deref().map(OutlineFiles::of).transpose()?;
    let outputs = drawings.iter().flat_map(DrawingFile::paths);
    let outputs = outputs.chain(outlines.iter().flat_map(OutlineFiles::paths));
    let typed = Names {
        sources: args.from.iter().chain([&args.surface]).collect(),
        outputs: outputs
            .chain(args.csv.clone())
            .chain(args.map.map.clone())
            .collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;
    let context = Context {
        pictures: (args.map.map.as_ref())
            .map(|_| map::pictures(&args.map, job.as_ref()))
            .transpose()?,
        units: RequestedUnits {
            length: args.length_unit,
            ..RequestedUnits::default()
        },
        ..names::context_of(job.as_ref(), &args.reading)?
    };
    let request = request(args, job.as_ref())?;
    let read = context.reading.files.clone();
    let made = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        contours(&context, &request)
    });
    let (mut told, found) = made?;
    let mut staged = Outputs::off(&read);
    if !drawings.is_empty() {
        let drawing = drawing(args, &told, &found);
        for file in &drawings {
            file.stage(&mut staged, &drawing)?;
        }
    }
    if let Some(outlines) = &outlines {
        let zones = closed(&told, &found);
        let nothing = vec![""; zones.len()];
        outlines.stage(&mut staged, &zones, &nothing, told.units.length)?;
    }
    if let Some(path) = &args.map.map {
        let scene = &found.map.scene;
        let (lines, breaklines) = (&scene.lines, &scene.breaklines);
        let mut options = map::options(&args.map, lines, breaklines, title(&told));
        options
            .shown
            .push(Shown::Lines(Box::new(drawn(&told, &found))));
        let (svg, left_out) = match told.from {
            Some(_) => {
                let MapGround { rows, scene } = &found.map;
                difference_map(rows, 0.0, scene, MapWords::VOLUME, &options)?
            }
            None => ground_map(std::slice::from_ref(&*found.surface), &[], &options)?,
        };
        let boxes = map::stage(&mut staged, &args.map, path, &svg)?;
        let left_out = map::findings(left_out).into_iter();
        told.warnings.extend(left_out.chain(boxes));
    }
    let report = describe::contours(&told, Vec::new());
    staged.stage_csv(args.csv.as_ref(), &report)?;
    print_result(staged, args.json, &told, &report, &typed.outputs)
}

fn request(args: &ContoursArgs, job: Option<&Job>) -> Result<ContoursRequest, CommandError> {
    let from = args.from.as_ref();
    Ok(ContoursRequest {
        surface: names::surface(job, &args.surface)?,
        from: from.map(|from| names::surface(job, from)).transpose()?,
        levels: match (&args.levels, args.interval) {
            (Some(levels), _) => ContourLevels::At(levels.0.clone()),
            (None, Some(interval)) => ContourLevels::Interval(interval),
            (None, None) => ContourLevels::Proposed,
        },
        index_interval: args.index_interval,
        min_length: args.min_length,
    })
}

/// All lines, for a map.
fn drawn(told: &Contours, found: &FoundContours) -> MapContours {
    let lines = found.lines.iter();
    MapContours {
        decimals: decimals(told),
        lines: lines
            .map(|(number, line)| (told.levels[*number].is_index, line.clone()))
            .collect(),
    }
}

/// What a map says of itself.
fn title(told: &Contours) -> TitleBlock {
    let surface = ("Surface", &told.surface);
    let (heading, sides) = match &told.from {
        Some(from) => (
            format!(
                "Contours of the difference from {} to {}",
                from.source, told.surface.source
            ),
            vec![("From", from), ("To", surface.1)],
        ),
        None => (
            format!("Contours of {}", told.surface.source),
            vec![surface],
        ),
    };
    let mut title = map::title(heading, told.job.as_ref(), &sides);
    let symbol = told.units.length.symbol();
    if let Some(interval) = told.interval {
        title.line("Interval", format!("{} {symbol}", interval.value));
    }
    title.line("Unit", told.units.length.name());
    title
}

/// All lines on two layers, those of index contours with labels that are read uphill.
fn drawing(args: &ContoursArgs, told: &Contours, found: &FoundContours) -> Drawing {
    let corners = found.lines.iter().flat_map(|(_, line)| line.corners.iter());
    let extent = Extent::of(corners.copied());
    let height = args
        .label_height
        .unwrap_or(LABEL * extent.width().max(extent.height()));
    let height = if height.is_finite() && height > 0.0 {
        height
    } else {
        1.0
    };
    let spacing = args.label_spacing.unwrap_or(SPACING * height);
    // A difference is no height; such lines lie at their value all the same, as a surface of differences does.
    let at = |place: Place, level: f64| Vertex::new(place.east, place.north, level);
    let mut features = Vec::new();
    for (number, line) in &found.lines {
        let level = &told.levels[*number];
        let label = label(level.level.value, told);
        let layer = usize::from(level.is_index);
        features.push(Feature {
            layer,
            name: label.clone(),
            label: String::new(),
            shape: Shape::Line(
                line.corners
                    .iter()
                    .map(|&corner| at(corner, line.level))
                    .collect(),
            ),
            values: vec![
                Value::Number(line.level),
                Value::Text(if level.is_index { "index" } else { "plain" }.into()),
            ],
        });
        if level.is_index || told.index_interval.is_none() {
            let width = FIGURE * height * (label.chars().count() + 1) as f64;
            features.extend(line.labels(width, spacing).into_iter().map(|own| Feature {
                layer,
                name: label.clone(),
                label: label.clone(),
                shape: Shape::Words(at(own.at, line.level), own.turned),
                values: Vec::new(),
            }));
        }
    }
    let field = |name: &str, short: &str, is_text: bool| Field {
        name: name.into(),
        short: short.into(),
        is_text,
    };
    let name = match &told.from {
        Some(from) => format!("{} to {}", from.source, told.surface.source),
        None => told.surface.source.clone(),
    };
    Drawing {
        name,
        unit: told.units.length,
        crs: told.crs.clone(),
        height_system: told.height_system.clone(),
        date: told.surface.survey_date.clone(),
        decimals: usize::from(args.decimals),
        words: height,
        layers: LAYERS
            .map(|(name, colour)| Layer {
                name: name.into(),
                colour,
            })
            .to_vec(),
        fields: vec![field("level", "LEVEL", false), field("kind", "KIND", true)],
        features,
    }
}

/// As many decimals as the levels need.
fn decimals(told: &Contours) -> usize {
    let needed = |value: f64| {
        let fits = |decimals: &usize| {
            let shown = value * 10f64.powi(i32::try_from(*decimals).unwrap_or(0));
            (shown - shown.round()).abs() < 1e-6 * shown.abs().max(1.0)
        };
        (0..6).find(fits).unwrap_or(6)
    };
    match told.interval {
        Some(interval) => needed(interval.value),
        None => told
            .levels
            .iter()
            .map(|level| needed(level.level.value))
            .max()
            .unwrap_or(0),
    }
}

/// A level as a label has it.
fn label(level: f64, told: &Contours) -> String {
    format!("{level:.*}", decimals(told))
}

/// Closed contours as zones, each under its level and a number.
fn closed(told: &Contours, found: &FoundContours) -> Vec<RawZone> {
    let lines = found
        .lines
        .iter()
        .filter(|(_, line)| line.is_closed && line.corners.len() > 3);
    let mut numbers = vec![0usize; told.levels.len()];
    lines
        .map(|(number, line)| {
            numbers[*number] += 1;
            let level = label(line.level, told);
            RawZone {
                name: match numbers[*number] {
                    1 => level.clone(),
                    number => format!("{level} ({number})"),
                },
                parts: vec![vec![line.corners.clone()]],
                attributes: vec![("level".into(), level)],
                ..RawZone::default()
            }
        })
        .collect()
}
