//! Which cut goes to which fill, with borrow pits and tips.

use crate::site::{Site, number};

/// Level ground at 10, and on it boxes that are cut and filled: pits of 10 by 10 by `depth` at these places, heaps where it is negative.
fn site(boxes: &[(i32, i32, f64)]) -> Site {
    let site = Site::new();
    site.write(
        "ground.csv",
        "east,north,height\n0,0,10\n1000,0,10\n1000,200,10\n0,200,10\n",
    );
    let (mut job, mut steps) = (String::new(), Vec::new());
    let mut zones = String::new();
    for (index, (east, north, depth)) in boxes.iter().enumerate() {
        let (e, n) = (east + 10, north + 10);
        zones += &format!(
            "[zone.z{index}]\ncorners = [[{east}, {north}], [{e}, {north}], [{e}, {n}], [{east}, {n}]]\n"
        );
        let way = if *depth < 0.0 { "raise" } else { "lower" };
        steps.push(format!(
            "{{ {way} = {}, zones = \"z{index}\" }}",
            depth.abs()
        ));
    }
    job += "[job]\nname = \"Haul\"\nunit = \"m\"\ncurrency = \"EUR\"\n[surface.ground]\nfile = \"ground.csv\"\n";
    job += &zones;
    job += &format!(
        "[surface.made]\nstart = \"ground\"\nsteps = [{}]\n",
        steps.join(", ")
    );
    site.write("dapedon.toml", &job);
    site
}

#[track_caller]
fn near(found: f64, expected: f64) {
    assert!(
        (found - expected).abs() <= 1e-7 * expected.abs().max(1.0),
        "{found} {expected}"
    );
}

/// Two pits and two heaps along a road: the nearer pairs would leave the others far apart.
#[test]
fn the_least_haul_is_found() {
    let site = site(&[(0, 0, 1.0), (100, 0, 1.0), (90, 0, -1.0), (400, 0, -1.0)]);
    let run = |rest: &str| {
        site.json(&format!(
            "haul ground made --zone z0 --zone z1 --zone z2 --zone z3 --json {rest}"
        ))
    };
    let found = run("");
    // Whichever way, along one road: 0 to 90 and 100 to 400, or 0 to 400 and 100 to 90, which is farther.
    near(number(&found["total"]["haul"]), 100.0 * (90.0 + 300.0));
    near(number(&found["total"]["volume"]), 200.0);
    near(number(&found["total"]["mean_distance"]), 195.0);
    near(number(&found["zones"][1]["cut"]), 100.0);
    assert_eq!(
        found["zones"][2]["fill_middle"].as_array().unwrap().len(),
        2
    );
    near(number(&found["zones"][2]["fill_middle"][0]), 95.0);
    assert!(Site::warnings(&found).is_empty());
    let rows = found["rows"].as_array().unwrap();
    assert_eq!(
        (rows.len(), &rows[0]["from"], &rows[0]["to"]),
        (2, &"z0".into(), &"z2".into())
    );
    // The order of zones, the unit and a detour: the same plan.
    let turned = site.json("haul ground made --zone z3 --zone z2 --zone z1 --zone z0 --json");
    near(number(&turned["total"]["haul"]), 39_000.0);
    near(number(&run("--detour 1.5")["total"]["haul"]), 58_500.0);
    let feet = run("--length-unit ft --volume-unit ft3");
    near(number(&feet["total"]["haul"]), 39_000.0 / 0.3048f64.powi(4));
    // Swapped sides: heaps are cut, and carried back.
    let back = site.json("haul made ground --zone z0 --zone z1 --zone z2 --zone z3 --json");
    near(number(&back["total"]["haul"]), 39_000.0);
    assert_eq!(back["rows"][0]["from"], "z2");
}

/// Too little fill: what is farthest is left over, and a tip takes it.
#[test]
fn what_is_left_over_is_said() {
    let site = site(&[(0, 0, 2.0), (100, 0, -1.0)]);
    let left = site.json("haul ground made --zone z0 --zone z1 --json --shrink 0.8");
    // 200 in the bank make 160, and 100 are filled.
    near(number(&left["zones"][0]["makes"]), 160.0);
    near(number(&left["zones"][0]["left_over"]), 60.0);
    near(number(&left["total"]["left_over"]), 60.0);
    let warnings = Site::warnings(&left);
    assert!(
        warnings
            .iter()
            .any(|w| w.contains("60.0 m³ of cut have no place to go to")),
        "{warnings:?}"
    );
    let told = site.succeed(
        "haul ground made --zone z0 --zone z1 --shrink 0.8 --tip name=quarry,east=5,north=105,cost=3 --haul-rate 2 --map haul.svg --csv haul.csv --report haul.html",
    );
    // 100 over 100 at 2 for a kilometre, and 60 over 100 and 3 each.
    assert!(
        told.contains("cost, EUR") && told.contains("212.00"),
        "{told}"
    );
    let map = site.read("haul.svg");
    assert!(
        map.contains("quarry") && map.contains("60.0 m³") && map.contains("100.0 m³"),
        "{map}"
    );
    assert!(site.read("haul.csv").contains("quarry,tip"));
    assert!(site.read("haul.html").contains("volume times distance"));
    let missing = site.json("haul made ground --zone z0 --zone z1 --json");
    near(number(&missing["total"]["missing"]), 100.0);
    let borrowed = site.json(
        "haul made ground --zone z0 --zone z1 --json --borrow name=hill,east=5,north=55,most=30",
    );
    near(number(&borrowed["total"]["missing"]), 70.0);
    near(
        number(&borrowed["total"]["haul"]),
        100.0 * 100.0 + 30.0 * 50.0,
    );
}

#[test]
fn bad_hauls_are_refused() {
    let site = site(&[(0, 0, 2.0), (100, 0, -1.0)]);
    for (rest, expected) in [
        ("", "--zone"),
        (
            "--zone z0 --tip name=a,east=1",
            "name, east and north are needed",
        ),
        (
            "--zone z0 --tip name=a,east=1,north=2,depth=3",
            "\"depth\" is none of name, east, north, most and cost",
        ),
        (
            "--zone z0 --tip name=a,east=1,north=x",
            "\"x\" is not a figure",
        ),
        (
            "--zone z0 --tip name=a,east=1,north=2,most=-5",
            "most is below zero",
        ),
        (
            "--zone z0 --tip name=a,name=b,east=1,north=2",
            "name is given twice",
        ),
        (
            "--zone z0 --tip name=a,east=1,north=2,cost=4",
            "\"a\" has a cost, and the haul has no rate to weigh it against",
        ),
        (
            "--zone z0 --tip name=a,east=1e12,north=2",
            "1000000000000 is not a coordinate",
        ),
        ("--zone z0 --detour 0.5", "expected a factor of 1 or more"),
        ("--zone z0 --haul-rate 0", "expected a cost above zero"),
        ("--zone nowhere", "nowhere"),
    ] {
        let told = site.refuse(&format!("haul ground made {rest}"));
        assert!(told.contains(expected), "{rest}: {expected}\n{told}");
    }
    let square = |name: &str, from: i32, to: i32| {
        format!(
            r#"{{"type":"Feature","properties":{{"name":"{name}"}},"geometry":{{"type":"Polygon","coordinates":[[[{from},0],[{to},0],[{to},10],[{from},10],[{from},0]]]}}}}"#
        )
    };
    site.write(
        "both.geojson",
        &format!(
            r#"{{"type":"FeatureCollection","features":[{},{}]}}"#,
            square("one", 0, 60),
            square("two", 50, 110)
        ),
    );
    let told = site.refuse("haul ground made --zone both.geojson");
    assert!(
        told.contains(
            "the zones \"one\" and \"two\" overlap on 100.0 m²: it would be carried twice"
        ),
        "{told}"
    );
    // A zone that reaches beyond the ground.
    site.write("beyond.geojson", &square("beyond", -20, 60));
    let beyond = site.json("haul ground made --zone beyond.geojson --json");
    let expected = "200.0 m² of 800.0 m² are not covered by both surfaces, and not in the plan";
    let warnings = Site::warnings(&beyond);
    assert!(
        warnings.iter().any(|w| w.contains(expected)),
        "{warnings:?}"
    );
    // Nothing to carry is no mistake.
    let nothing = site.json("haul ground ground --zone z0 --zone z1 --json");
    assert_eq!(nothing["rows"].as_array().unwrap().len(), 0);
}
