//! The files of the sample job.

use std::io::{self, Cursor};

use dapedon_core::plan::Place;
use dapedon_core::surface::Vertex;
use dapedon_core::units::LengthUnit;
use dapedon_formats::RawZone;
use dapedon_formats::{delimited, dxf, geojson, geotiff, landxml, las, shapefile};

use super::{april, may, road, terrain, yard};

/// A made-up grid: the south-west corner of the site.
const CORNER: [f64; 2] = [412_000.0, 5_861_000.0];

/// The job file of the sample job says so.
pub(super) const OURS: &str = "# Tern Reach flood bank: a made-up job.";

/// A sample file.
pub(super) struct SampleFile {
    pub(super) name: &'static str,
    pub(super) what: &'static str,
    pub(super) bytes: Vec<u8>,
}

/// All of them, the same each time.
pub(super) fn all() -> io::Result<Vec<SampleFile>> {
    let grid = |e: f64, n: f64, h: f64| Vertex::new(CORNER[0] + e, CORNER[1] + n, h);

    let (vertices, facets) = terrain::ground_facets();
    let vertices: Vec<Vertex> = (vertices.iter())
        .map(|v| grid(v.east, v.north, v.height))
        .collect();
    let mut ground = Vec::new();
    landxml::write(
        &mut ground,
        &landxml::Head {
            name: "existing ground",
            unit: LengthUnit::Metre,
            crs: None,
            height_system: None,
            date: "2031-01-15",
        },
        &vertices,
        &facets,
        3,
    )?;

    let (vertices, facets) = terrain::finished_facets();
    let vertices: Vec<Vertex> = (vertices.iter())
        .map(|v| grid(v.east, v.north, v.height))
        .collect();
    let mut finished = Vec::new();
    let unit = LengthUnit::Metre;
    dxf::write(&mut finished, "finished-bank", unit, &vertices, &facets, 3)?;

    let pick_up = |points: Vec<terrain::Point>| {
        let points = points
            .iter()
            .map(|p| (grid(p.east, p.north, p.height), p.code));
        let mut survey = Vec::new();
        delimited::write(&mut survey, points, 3).map(|()| survey)
    };
    let survey = pick_up(terrain::pick_up())?;
    let april = pick_up(april::pick_up())?;
    let may = pick_up(may::pick_up())?;
    let road = pick_up(road::pick_up())?;

    let zones: Vec<RawZone> = (terrain::zones().into_iter())
        .map(|terrain::Limit { name, rings }| {
            let ring = |ring: Vec<(f64, f64)>| -> Vec<Place> {
                let closed = ring.iter().chain(ring.first());
                closed
                    .map(|&(e, n)| Place::new(round(CORNER[0] + e), round(CORNER[1] + n)))
                    .collect()
            };
            RawZone {
                name: name.into(),
                parts: vec![rings.into_iter().map(ring).collect()],
                ..RawZone::default()
            }
        })
        .collect();
    let mut limits = Vec::new();
    geojson::write(&mut limits, &zones)?;

    let mut flight = Vec::new();
    las::write(&mut flight, true, unit, None, &yard::flight(CORNER))?;
    let mut authority = Cursor::new(Vec::new());
    geotiff::write(&mut authority, &yard::authority(CORNER), unit, [None, None])
        .map_err(io::Error::other)?;
    let (piles, materials) = yard::outlines(CORNER);
    let piles = shapefile::write(&piles, "material", &materials, unit, None)?;
    let file =
        |name: &'static str, what: &'static str, bytes: Vec<u8>| SampleFile { name, what, bytes };

    Ok(vec![
        file(
            "dapedon.toml",
            "the job file",
            include_bytes!("dapedon.toml").to_vec(),
        ),
        file(
            "ground.xml",
            "the designer's ground before the works (LandXML)",
            ground,
        ),
        file(
            "finished-bank.dxf",
            "the designer's finished bank (faces of a drawing)",
            finished,
        ),
        file(
            "survey-march.csv",
            "the surveyor's pick-up at the end of March (points)",
            survey,
        ),
        file(
            "survey-april.csv",
            "the pit and its surroundings at the end of April (points; a wrong benchmark)",
            april,
        ),
        file(
            "survey-may.csv",
            "the floor of the pit at the end of May (points)",
            may,
        ),
        file(
            "road-formation.csv",
            "a stretch of the haul road's formation as built (points)",
            road,
        ),
        file("zones.geojson", "the limits of work", limits),
        file(
            "bank-line.xml",
            "the line of the bank, with spirals and heights (LandXML)",
            include_bytes!("bank-line.xml").to_vec(),
        ),
        file(
            "channel.toml",
            "the job file of a second, small job in US survey feet",
            include_bytes!("channel.toml").to_vec(),
        ),
        file(
            "channel-ground.csv",
            "its ground (points in US survey feet)",
            include_bytes!("channel-ground.csv").to_vec(),
        ),
        file(
            "channel-line.xml",
            "its line, with stations and heights (LandXML)",
            include_bytes!("channel-line.xml").to_vec(),
        ),
        file(
            "authority-ground.tif",
            "the authority's terrain grid (GeoTIFF)",
            authority.into_inner(),
        ),
        file(
            "yard.laz",
            "the stockpile yard as flown at the end of April (LAZ)",
            flight,
        ),
        file(
            "piles.shp",
            "the outlines of the piles (shapefile, with the next four)",
            piles.shp,
        ),
        file("piles.shx", "the index of the outlines", piles.shx),
        file("piles.dbf", "their names and materials", piles.dbf),
        file("piles.prj", "their unit", piles.prj),
        file("piles.cpg", "the encoding of the names", piles.cpg),
    ])
}

/// To the millimetre, as limits are set out.
fn round(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
