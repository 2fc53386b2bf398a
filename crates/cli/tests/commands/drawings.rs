//! Drawings and other files that state less than they should, or something wrong.

use crate::site::{Site, number};

/// A drawing of some entities, with the number of its unit.
fn drawing(entities: &str, unit: i32) -> String {
    let all = format!(
        "0 SECTION 2 HEADER 9 $INSUNITS 70 {unit} 0 ENDSEC 0 SECTION 2 ENTITIES {entities} 0 ENDSEC 0 EOF"
    );
    all.split_whitespace()
        .map(|word| format!("{word}\n"))
        .collect()
}

/// Sixteen points in plan over 30 by 30, each with its height written beside it: 100 + east / 10.
fn spots() -> String {
    let at = |i: i32| (500_000 + i % 4 * 10, 6_000_000 + i / 4 * 10);
    let spot = |i: i32| {
        let (east, north) = at(i);
        let height = 100.0 + f64::from(i % 4);
        format!(
            "0 POINT 8 POINTS 10 {east} 20 {north} 30 0 0 TEXT 8 LEVELS 10 {east}.4 20 {north}.4 30 0 40 0.5 1 {height:.2} "
        )
    };
    (0..16).map(spot).collect()
}

#[test]
fn a_flat_drawing_is_reported_and_its_written_heights_are_offered() {
    let site = Site::new();
    site.write("spots.dxf", &drawing(&spots(), 6));
    let flat = site.json("volume level=0 spots.dxf --json");
    let found = &flat["warnings"][0];
    assert_eq!(found["code"], "no-heights", "{flat}");
    let remedy = found["remedy"].as_str().unwrap();
    assert!(remedy.contains("--codes \"LEVELS=heights\""), "{remedy}");
    let json = site.json("volume level=100 spots.dxf --codes LEVELS=heights --json");
    // 30 by 30 under a plane that rises from 0 to 3.
    let fill = number(&json["zones"][0]["volume"]["fill"]);
    assert!((fill - 1350.0).abs() < 1e-9, "{fill}");
}

#[test]
fn a_wrong_unit_of_a_file_is_an_error_until_it_is_overridden() {
    let site = Site::new();
    let face = "0 3DFACE 8 A 10 0 20 0 30 2 11 30 21 0 31 2 12 30 22 10 32 2 13 0 23 10 33 2";
    site.write("stamped.dxf", &drawing(face, 1));
    let refused = site.refuse("volume level=0 stamped.dxf --unit m");
    assert!(refused.contains("the unit of the file is"), "{refused}");
    assert!(refused.contains("--override-unit"), "{refused}");
    let json = site.json("volume level=0 stamped.dxf --unit m --override-unit --json");
    let fill = number(&json["zones"][0]["volume"]["fill"]);
    assert!((fill - 600.0).abs() < 1e-9, "{fill}");
    let found = &json["warnings"][0];
    assert_eq!(found["code"], "unit-overridden");
    assert!(
        found["message"].as_str().unwrap().contains("inches"),
        "{found}"
    );
    // In every format, heights too; a second file that has no unit needs the one that is given.
    site.write(
        "feet.xml",
        &site.read("ground.xml").replace(
            "<Metric linearUnit=\"meter\"/>",
            "<Imperial linearUnit=\"foot\"/>",
        ),
    );
    assert!(
        site.refuse("volume level=9 feet.xml --unit m")
            .contains("--override-unit")
    );
    let json = site.json("volume level=9 feet.xml --unit m --override-unit --json");
    assert!((number(&json["zones"][0]["volume"]["fill"]) - 200.0).abs() < 1e-9);
    let feet = |value: f64| value / 0.3048;
    let row = |(e, n): (f64, f64)| {
        format!(
            "{},{},{}\n",
            feet(500_000.0 + e),
            feet(6_000_000.0 + n),
            feet(11.0)
        )
    };
    let rows: String = [(0.0, 0.0), (20.0, 0.0), (20.0, 10.0), (0.0, 10.0)]
        .map(row)
        .concat();
    site.write("feet.csv", &format!("east,north,height\n{rows}"));
    let both = site.json("volume ground.xml feet.csv --unit ft --json");
    let codes: Vec<_> = both["warnings"]
        .as_array()
        .unwrap()
        .iter()
        .map(|found| found["code"].clone())
        .collect();
    assert!(codes.contains(&"unit-not-used".into()), "{codes:?}");
    site.write(
        "dapedon.toml",
        "[job]\nname = \"flats\"\nunit = \"m\"\n[surface.a]\nfile = \"feet.xml\"\nunit = \"m\"\n[surface.b]\nfile = \"feet.xml\"\nunit = \"m\"\noverride-unit = true\n",
    );
    assert!(site.refuse("volume level=9 a").contains("dapedon.toml"));
    let json = site.json("volume level=9 b --json");
    assert!((number(&json["zones"][0]["volume"]["fill"]) - 200.0).abs() < 1e-9);
}

#[test]
fn degrees_are_noticed_however_far_they_reach() {
    let site = Site::new();
    // A plane that rises by 1 in 200 to the east, over two degrees; and a small site grid that lies within the same numbers.
    let rows = |step: f64, rise: f64| -> String {
        let row = |i: i32| {
            let (e, n) = (f64::from(i % 5), f64::from(i / 5));
            format!(
                "{},{},{}\n",
                7.0 + e * step,
                51.0 + n * step,
                300.0 + e * rise
            )
        };
        (0..25).map(row).collect()
    };
    site.write(
        "degrees.csv",
        &format!("east,north,height\n{}", rows(0.5, 175.0)),
    );
    let refused = site.refuse("surface degrees.csv --unit m");
    assert!(refused.contains("code: input/degrees"), "{refused}");
    let looked = site.json("inspect degrees.csv --unit m --json");
    assert_eq!(
        looked["files"][0]["warnings"][0]["code"], "degrees",
        "{looked}"
    );
    site.write(
        "small.csv",
        &format!("east,north,height\n{}", rows(0.5, 4.0)),
    );
    site.succeed("surface small.csv --unit m");
}

#[test]
fn systems_are_compared_by_what_they_are() {
    let site = Site::new();
    let prj = |meridian: &str| {
        format!(
            "PROJCS[\"WGS_1984_UTM_Zone_33N\",GEOGCS[\"GCS_WGS_1984\",DATUM[\"D_WGS_1984\",SPHEROID[\"WGS_1984\",6378137.0,298.257223563]],\
             PRIMEM[\"Greenwich\",0.0],UNIT[\"Degree\",0.0174532925199433]],PROJECTION[\"Transverse_Mercator\"],\
             PARAMETER[\"False_Easting\",500000.0],PARAMETER[\"False_Northing\",0.0],PARAMETER[\"Central_Meridian\",{meridian}],\
             PARAMETER[\"Scale_Factor\",0.9996],PARAMETER[\"Latitude_Of_Origin\",0.0],UNIT[\"Meter\",1.0]]"
        )
    };
    let asc = "ncols 3\nnrows 3\nxllcorner 500000\nyllcorner 6000000\ncellsize 4\n12 12 12\n12 12 12\n12 12 12\n";
    for (name, meridian) in [("same", "15.0"), ("other", "14.0")] {
        site.write(&format!("{name}.asc"), asc);
        site.write(&format!("{name}.prj"), &prj(meridian));
    }
    let coded = site.read("ground.xml").replace(
        "<Surfaces>",
        "<CoordinateSystem epsgCode=\"32633\"/><Surfaces>",
    );
    site.write("coded.xml", &coded);
    let said = site.succeed("volume coded.xml same.asc");
    assert!(
        said.contains("recognised as EPSG:32633 by its parameters"),
        "{said}"
    );
    let refused = site.refuse("volume coded.xml other.asc");
    assert!(refused.contains("code: surface/crs-differ"), "{refused}");
    let named = site.read("ground.xml").replace(
        "<Surfaces>",
        "<CoordinateSystem name=\"WGS 84 / UTM zone 33N\"/><Surfaces>",
    );
    site.write("named.xml", &named);
    site.succeed("volume named.xml same.asc");
}
