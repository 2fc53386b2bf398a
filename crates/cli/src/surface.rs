//! `surface`: build a surface, say what was done, and write it in another format.

use std::io::{self, Seek, Write};
use std::path::Path;

use anstyle::Style;
use dapedon_core::{AreaUnit, LengthUnit, Surface, Tin};
use dapedon_formats::{Format, RawGrid, asc, delimited, dxf, geotiff, landxml};
use dapedon_job::{Built, Source, build, cells, grid_vertices};
use dapedon_report::ground_map;
use dapedon_report::number::grouped;

use crate::args::SurfaceArgs;
use crate::fault::Fault;
use crate::inspect::marks;
use crate::output::Outputs;

pub(crate) fn run(args: &SurfaceArgs) -> Result<(), Fault> {
    let outputs: Vec<&Path> = args
        .outs
        .iter()
        .chain(&args.map)
        .map(|path| path.as_path())
        .collect();
    let input = match &args.surface {
        Source::File { path, .. } => Some(path.as_path()),
        Source::Level(_) => None,
    };
    let inputs: Vec<&Path> = input
        .into_iter()
        .chain(args.reading.outline.as_deref())
        .collect();
    let formats = (args.outs.iter().map(|path| writer(path))).collect::<Result<Vec<_>, _>>()?;
    if let (Some(path), None) = (
        args.outs.iter().zip(&formats).find(|(_, f)| f.has_cells()),
        args.cell,
    ) {
        return Err(Fault::NoCell {
            path: path.0.clone(),
        });
    }
    Outputs::check(&outputs, &inputs)?;

    let unit = args.length_unit.map(Into::into);
    let (built, tin) = build(&args.surface, &args.reading.reading()?, unit)?;
    let unit = tin.frame().unit();
    let grid = match args.cell {
        Some(cell) if formats.iter().any(|format| format.has_cells()) => Some(cells(&tin, cell)?),
        _ => None,
    };
    let mut staged = Outputs::default();
    for (path, format) in args.outs.iter().zip(formats) {
        staged.stage_with(path, |out| {
            write(out, args, &built, &tin, grid.as_ref(), format)
        })?;
    }
    if let Some(path) = &args.map {
        let marks = marks(&built.odd_points, tin.frame());
        let surface = Surface::Tin(tin);
        staged.stage(
            path,
            ground_map(std::slice::from_ref(&surface), &marks)?.as_bytes(),
        )?;
    }
    staged.commit()?;

    let mut out = anstream::stdout().lock();
    if args.json {
        writeln!(out, "{}", serde_json::to_string_pretty(&built)?)?;
        return Ok(());
    }
    print(&mut out, &built, unit)?;
    for path in outputs {
        writeln!(out, "Written: {}", path.display())?;
    }
    Ok(())
}

/// The format that a file is written in.
fn writer(path: &Path) -> Result<Format, Fault> {
    let format = Format::by_ending(path).filter(|format| format.writes_surfaces());
    format.ok_or_else(|| Fault::NoWriter { path: path.into() })
}

fn write(
    out: &mut (impl Write + Seek),
    args: &SurfaceArgs,
    built: &Built,
    tin: &Tin,
    grid: Option<&RawGrid>,
    format: Format,
) -> io::Result<()> {
    let own = match &args.surface {
        Source::File {
            name: Some(name), ..
        } => Some(name.clone()),
        Source::File { path, name: None } => path
            .file_stem()
            .map(|stem| stem.to_string_lossy().into_owned()),
        Source::Level(_) => None,
    };
    let name = args
        .name
        .clone()
        .or(own)
        .unwrap_or_else(|| "surface".into());
    let unit = tin.frame().unit();
    let decimals = usize::from(args.decimals);
    match format {
        Format::LandXml => {
            let head = landxml::Head {
                name: &name,
                unit,
                crs: built.crs.as_deref(),
                date: built.file.modified.as_deref().unwrap_or("1970-01-01"),
            };
            landxml::write(out, &head, &grid_vertices(tin), tin.facets(), decimals)
        }
        Format::Dxf => {
            let vertices = grid_vertices(tin);
            dxf::write(out, &name, unit, &vertices, tin.facets(), decimals)
        }
        Format::Delimited => {
            let points = grid_vertices(tin).into_iter().map(|v| (v, ""));
            delimited::write(out, points, decimals)
        }
        Format::Asc | Format::GeoTiff => {
            let grid = grid.ok_or_else(|| io::Error::other("there are no cells"))?;
            match format {
                Format::Asc => asc::write(out, grid, decimals),
                _ => {
                    geotiff::write(out, grid, unit, built.crs.as_deref()).map_err(io::Error::other)
                }
            }
        }
        Format::GeoJson => Err(io::Error::other("surfaces are not written in it")),
    }
}

fn print(out: &mut impl Write, built: &Built, unit: LengthUnit) -> io::Result<()> {
    let bold = Style::new().bold();
    let count = |n: usize| grouped(n as f64, 0, " ");
    let (area, length) = (AreaUnit::usual(unit).symbol(), unit.symbol());
    writeln!(out, "{bold}{}{bold:#}  {}", built.source, built.file.format)?;
    writeln!(
        out,
        "  surface  {} facets between {} points",
        count(built.facets),
        count(built.vertices)
    )?;
    writeln!(
        out,
        "  area     {} {area} in plan, {} {area} along the ground",
        grouped(built.area, 1, " "),
        grouped(built.true_area, 1, " ")
    )?;
    crate::inspect::extent(out, built.min, built.max)?;
    writeln!(
        out,
        "  heights  {:.3} to {:.3} {length}",
        built.heights[0], built.heights[1]
    )?;
    for note in &built.notes {
        writeln!(out, "  - {note}")?;
    }
    for warning in &built.warnings {
        writeln!(out, "{bold}warning:{bold:#} {warning}")?;
    }
    Ok(())
}
