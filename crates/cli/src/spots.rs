//! `spots`: differences at places.

use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;
use dapedon_formats::drawing::{Drawing, Feature, Field, Layer, Shape, Value};
use dapedon_job::{
    Context, Job, LineSource, RequestedUnits, Spot, SpotPlaces, SpotState, Spots, SpotsRequest,
    spots,
};
use dapedon_report::{MapValue, MapWords, Shown, TitleBlock, describe, difference_map};

use crate::args::SpotsArgs;
use crate::drawing::DrawingFile;
use crate::error::CommandError;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

/// The layers of a drawing, with colours as drawings number them: brown for cut, blue for fill, grey for neither.
const LAYERS: [(SpotState, &str, u8); 3] = [
    (SpotState::Cut, "CUT", 32),
    (SpotState::Fill, "FILL", 142),
    (SpotState::Unchanged, "UNCHANGED", 8),
];
/// Words of a drawing are this share of the usual distance between places high.
const WORDS: f64 = 0.12;

pub(crate) fn run(args: &SpotsArgs) -> Result<(), CommandError> {
    let drawings = DrawingFile::all(&args.outs)?;
    let outputs = drawings.iter().flat_map(DrawingFile::paths);
    let files = [&args.points, &args.line].into_iter().flatten();
    let files = files.chain(args.map.lines());
    let files: Vec<_> = files.filter_map(|source| source.path()).collect();
    let typed = Names {
        sources: std::iter::once(&args.reference)
            .chain(&args.surveyed)
            .collect(),
        zones: args.zones.iter().collect(),
        // A line may be one of the job.
        named: files.iter().any(|path| !path.exists()),
        files: files.into_iter().filter(|path| path.exists()).collect(),
        outputs: outputs
            .chain(args.csv.clone())
            .chain(args.map.map.clone())
            .collect(),
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
    let measured = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        spots(&context, &request)
    });
    let (mut found, ground) = measured?;
    let mut staged = Outputs::off(&read);
    if !drawings.is_empty() {
        let drawing = drawing(&found, usize::from(args.decimals));
        for file in &drawings {
            file.stage(&mut staged, &drawing)?;
        }
    }
    if let Some(path) = &args.map.map {
        let (lines, breaklines) = (&ground.scene.lines, &ground.scene.breaklines);
        let mut options = map::options(&args.map, lines, breaklines, title(&found));
        options.shown.push(Shown::Values(values(&found)));
        let (tolerance, words) = (found.tolerance.value, MapWords::VOLUME);
        let drawn = difference_map(&ground.rows, tolerance, &ground.scene, words, &options)?;
        let boxes = map::stage(&mut staged, &args.map, path, &drawn.0)?;
        let left_out = map::findings(drawn.1).into_iter();
        found.warnings.extend(left_out.chain(boxes));
    }
    let report = describe::spots(&found, Vec::new());
    staged.stage_csv(args.csv.as_ref(), &report)?;
    print_result(staged, args.json, &found, &report, &typed.outputs)
}

fn request(args: &SpotsArgs, job: Option<&Job>) -> Result<SpotsRequest, CommandError> {
    let line = |typed: &LineSource| match job {
        Some(job) => job.line(typed),
        None => Ok(typed.clone()),
    };
    let places = match (&args.grid, &args.points, args.every) {
        (Some(spacing), _, _) => SpotPlaces::Grid {
            spacing: spacing.0,
            origin: args.origin.map_or([0.0, 0.0], |origin| origin.0),
            rotation: args.rotation,
        },
        (None, Some(LineSource::File { path, name }), _) => SpotPlaces::Points {
            path: path.clone(),
            name: name.clone(),
        },
        (None, _, every) => SpotPlaces::Line {
            interval: every.unwrap_or(f64::INFINITY),
            offsets: args
                .offsets
                .as_ref()
                .map_or(vec![0.0], |offsets| offsets.0.clone()),
        },
    };
    let surveyed = args.surveyed.iter().map(|typed| names::surface(job, typed));
    Ok(SpotsRequest {
        reference: names::surface(job, &args.reference)?,
        surveyed: surveyed.collect::<Result<_, _>>()?,
        places,
        line: args.line.as_ref().map(line).transpose()?,
        zones: names::zones(job, &args.zones)?,
        tolerance: args.tolerance,
    })
}

/// The differences to the last surveyed surface, for a map.
fn values(found: &Spots) -> Vec<MapValue> {
    let value = |spot: &Spot| {
        Some(MapValue {
            at: Place::new(spot.east, spot.north),
            value: (*spot.difference.last()?)?,
        })
    };
    found.spots.iter().filter_map(value).collect()
}

/// What a map says of itself.
fn title(found: &Spots) -> TitleBlock {
    let heading = format!(
        "Difference from {} to {}",
        found.reference.source,
        last(found)
    );
    let surveyed = found.surveyed.last();
    let sides = std::iter::once(("Reference", &found.reference));
    let sides: Vec<_> = sides
        .chain(surveyed.map(|side| ("Surveyed", side)))
        .collect();
    let mut title = map::title(heading, found.job.as_ref(), &sides);
    title.line("Values", found.places.clone());
    let symbol = found.units.length.symbol();
    title.line("Tolerance", format!("±{} {symbol}", found.tolerance.value));
    title.line("Unit", found.units.length.name());
    title
}

/// The places that have a difference, on a layer each for cut, fill and neither: at the surveyed height, with the difference beside
/// it. Of several surveyed surfaces the last one tells the layer and the height.
fn drawing(found: &Spots, decimals: usize) -> Drawing {
    let fields = |name: &str, short: &str, is_text: bool| Field {
        name: name.into(),
        short: short.into(),
        is_text,
    };
    let mut all = vec![
        fields("zone", "ZONE", true),
        fields("chainage", "CHAINAGE", false),
        fields("offset", "OFFSET", false),
        fields("reference", "REFERENCE", false),
    ];
    for (number, side) in found.surveyed.iter().enumerate() {
        let (name, short) = match found.surveyed.len() {
            1 => (String::new(), String::new()),
            _ => (format!(" of {}", side.source), format!("_{}", number + 1)),
        };
        all.push(fields(
            &format!("surveyed{name}"),
            &format!("SURVEY{short}"),
            false,
        ));
        all.push(fields(
            &format!("difference{name}"),
            &format!("DIFF{short}"),
            false,
        ));
        all.push(fields(
            &format!("state{name}"),
            &format!("STATE{short}"),
            true,
        ));
    }
    Drawing {
        name: format!("{} to {}", found.reference.source, last(found)),
        unit: found.units.length,
        crs: found.crs.clone(),
        height_system: found.height_system.clone(),
        date: found
            .surveyed
            .last()
            .and_then(|side| side.survey_date.clone()),
        decimals,
        words: WORDS * spread(&found.spots),
        layers: LAYERS
            .map(|(_, name, colour)| Layer {
                name: name.into(),
                colour,
            })
            .to_vec(),
        fields: all,
        features: found.spots.iter().filter_map(feature).collect(),
    }
}

fn last(found: &Spots) -> &str {
    found.surveyed.last().map_or("", |side| &side.source)
}

fn feature(spot: &Spot) -> Option<Feature> {
    let (height, difference) = (spot.surveyed.last()?.height()?, (*spot.difference.last()?)?);
    let state = spot.state.last()?;
    let layer = LAYERS.iter().position(|(own, ..)| own == state)?;
    let number = |value: Option<f64>| value.map_or(Value::Nothing, Value::Number);
    let zone = spot.zone.clone().map_or(Value::Nothing, Value::Text);
    let mut values = vec![
        zone,
        number(spot.chainage),
        number(spot.offset),
        number(spot.reference.height()),
    ];
    let surveyed = spot.surveyed.iter().zip(&spot.difference).zip(&spot.state);
    for ((height, difference), state) in surveyed {
        values.extend([
            number(height.height()),
            number(*difference),
            Value::Text(state.words().into()),
        ]);
    }
    Some(Feature {
        layer,
        name: spot.number.clone(),
        label: signed(difference),
        shape: Shape::Point(Vertex::new(spot.east, spot.north, height)),
        values,
    })
}

/// A difference with its sign, unless it is none as it is written.
fn signed(difference: f64) -> String {
    let words = format!("{difference:+.2}");
    match words.as_str() {
        "-0.00" | "+0.00" => "0.00".into(),
        _ => words,
    }
}

/// About how far places are from each other: as if they stood evenly over their extent.
fn spread(spots: &[Spot]) -> f64 {
    let reach = |of: fn(&Spot) -> f64| {
        let values = spots.iter().map(of);
        let (low, high) = values.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| {
            (low.min(value), high.max(value))
        });
        (high - low).max(0.0)
    };
    let (width, height) = (reach(|spot| spot.east), reach(|spot| spot.north));
    let count = spots.len().max(1) as f64;
    let area = (width * height / count).sqrt();
    let along = width.max(height) / count;
    match area.max(along) {
        spread if spread > 0.0 => spread,
        _ => 1.0,
    }
}
