//! `surface`: build a surface, say what was done, and write it in another format.

use std::io::{self, Seek, Write};
use std::path::Path;

use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::{Format, RawGrid, asc, delimited, dxf, geojson, geotiff, landxml, obj};
use dapedon_job::{BuiltGround, Context, RequestedUnits, Source, build, cells, mesh};
use dapedon_report::{describe, ground_map};

use crate::args::SurfaceArgs;
use crate::error::CommandError;
use crate::inspect::marks;
use crate::map;
use crate::names::{self, Names};
use crate::output::{Outputs, print_result};
use crate::telling::telling;

pub(crate) fn run(args: &SurfaceArgs) -> Result<(), CommandError> {
    let formats = (args.outs.iter().map(|path| writer(path))).collect::<Result<Vec<_>, _>>()?;
    let outputs = args.outs.iter().chain(&args.map.map).chain(&args.csv);
    let typed = Names {
        sources: vec![&args.surface],
        outputs: outputs.cloned().collect(),
        files: map::line_files(&args.map),
        named: map::names_a_line(&args.map),
        ..Names::default()
    };
    let job = typed.job(&args.job, &args.reading)?;
    let source = names::surface(job.as_ref(), &args.surface)?;
    let context = Context {
        units: RequestedUnits {
            length: args.length_unit,
            ..RequestedUnits::default()
        },
        pictures: (args.map.map.as_ref())
            .map(|_| map::pictures(&args.map, job.as_ref()))
            .transpose()?,
        ..names::context_of(job.as_ref(), &args.reading)?
    };
    let read = context.reading.files.clone();
    let made = telling(|watch| {
        let context = Context {
            watch,
            ..context.clone()
        };
        build(&context, &source)
    });
    let (mut built, ground) = made?;
    let BuiltGround {
        surface,
        lines,
        breaklines,
    } = ground;
    let frame = surface.frame();
    let grid = match formats.iter().any(|format| format.has_cells()) {
        true => Some(cells(&surface, args.cell, args.reading.memory)?),
        false => None,
    };
    let facets = match formats.iter().any(|format| !format.has_cells()) {
        true => Some(mesh(&surface)?),
        false => None,
    };
    if let Some(mesh) = facets
        .as_ref()
        .filter(|_| formats.contains(&Format::Delimited))
    {
        built.written_as_points(&mesh.vertices);
    }
    let mut staged = Outputs::off(&read);
    for (path, format) in args.outs.iter().zip(formats) {
        let written = FileFacts {
            name: name(args),
            unit: frame.unit(),
            crs: built.crs.as_deref(),
            height_system: built.height_system.as_deref(),
            date: built.side.survey_date.as_deref(),
            decimals: usize::from(args.decimals),
        };
        staged.stage_with(path, |out| match (&grid, &facets) {
            (Some(grid), _) if format.has_cells() => written.cells(out, grid, format),
            (_, Some(mesh)) => written.facets(out, &mesh.vertices, &mesh.triangles, format),
            _ => Err(io::Error::other("there is nothing to write")),
        })?;
    }
    if let Some(path) = &args.map.map {
        let marks = marks(&built.outliers, frame);
        let heading = format!("Heights of {}", built.side.source);
        let mut title = map::title(heading, None, &[("Surface", &built.side)]);
        title.line("Unit", built.units.length.name());
        let options = map::options(&args.map, &lines, &breaklines, title);
        let (svg, left_out) = ground_map(std::slice::from_ref(&surface), &marks, &options)?;
        let boxes = map::stage(&mut staged, &args.map, path, &svg)?;
        let left_out = map::findings(left_out).into_iter();
        built.warnings.extend(left_out.chain(boxes));
    }
    let report = describe::surface(&built);
    staged.stage_csv(args.csv.as_ref(), &report)?;
    print_result(staged, args.json, &built, &report, &typed.outputs)
}

/// The format that a file is written in.
fn writer(path: &Path) -> Result<Format, CommandError> {
    let format = Format::by_ending(path).filter(|format| format.writes_surfaces());
    format.ok_or_else(|| CommandError::NoWriter { path: path.into() })
}

/// The name of the written surface: the given one, its own, or that of its file.
fn name(args: &SurfaceArgs) -> String {
    let own = match &args.surface {
        Source::File {
            name: Some(name), ..
        } => Some(name.clone()),
        other => {
            let stem = other.paths().first().and_then(|path| path.file_stem());
            stem.map(|stem| stem.to_string_lossy().into_owned())
        }
    };
    args.name
        .clone()
        .or(own)
        .unwrap_or_else(|| "surface".into())
}

/// Notes on a surface in the files it is written to.
struct FileFacts<'w> {
    name: String,
    unit: LengthUnit,
    crs: Option<&'w str>,
    height_system: Option<&'w str>,
    date: Option<&'w str>,
    decimals: usize,
}

impl FileFacts<'_> {
    fn cells(
        &self,
        out: &mut (impl Write + Seek),
        grid: &RawGrid,
        format: Format,
    ) -> io::Result<()> {
        match format {
            Format::Asc => asc::write(out, grid, self.decimals),
            _ => {
                let systems = [self.crs, self.height_system];
                geotiff::write(out, grid, self.unit, systems).map_err(io::Error::other)
            }
        }
    }

    fn facets(
        &self,
        out: &mut impl Write,
        vertices: &[Vertex],
        facets: &[[u32; 3]],
        format: Format,
    ) -> io::Result<()> {
        let FileFacts {
            name,
            unit,
            crs,
            decimals,
            ..
        } = self;
        match format {
            Format::LandXml => {
                let head = landxml::Head {
                    name,
                    unit: *unit,
                    crs: *crs,
                    height_system: self.height_system,
                    date: self.date.unwrap_or("1970-01-01"),
                };
                landxml::write(out, &head, vertices, facets, *decimals)
            }
            Format::Dxf => dxf::write(out, name, *unit, vertices, facets, *decimals),
            Format::Delimited => {
                delimited::write(out, vertices.iter().map(|&v| (v, "")), *decimals)
            }
            Format::Obj => obj::write(out, name, vertices, facets, *decimals),
            Format::GeoJson => geojson::write_facets(out, *crs, vertices, facets, *decimals),
            _ => Err(io::Error::other("this format has no triangles")),
        }
    }
}
