//! How sure piles and basins are: what a wrong benchmark does, and what single points do, by each base and at each level.

use crate::site::{Site, number};

/// A survey of points a metre apart over 40 by 20 m, at the site's corner.
fn survey(height: impl Fn(f64, f64) -> f64) -> String {
    let mut text = String::from("east,north,height\n");
    for row in 0..=20 {
        for column in 0..=40 {
            let (e, n) = (f64::from(column), f64::from(row));
            let (east, north, h) = (500_000.0 + e, 6_000_000.0 + n, height(e, n));
            text += &format!("{east},{north},{h:.4}\n");
        }
    }
    text
}

fn rough(e: f64, n: f64) -> f64 {
    20.0 + 0.01 * n + 0.02 * libm::sin(1.3 * e + 2.1 * n)
}

/// Two piles, and a pit in two parts that are joined high up.
fn site() -> Site {
    let site = Site::new();
    let pile = |e: f64, n: f64, at: f64| (3.0 - 0.7 * libm::hypot(e - at, n - 10.0)).max(0.0);
    let yard = |e: f64, n: f64| rough(e, n) + pile(e, n, 10.0) + pile(e, n, 28.0);
    site.write("yard.csv", &survey(yard));
    let bowl = |e: f64, n: f64, at: f64| (3.0 - 0.45 * libm::hypot(e - at, n - 10.0)).max(0.0);
    let pond = |e: f64, n: f64| rough(e, n) - bowl(e, n, 10.0) - bowl(e, n, 28.0);
    site.write("pond.csv", &survey(pond));
    let outlines: [(&str, &[(i32, i32)]); 2] = [
        ("west", &[(4, 4), (16, 4), (16, 16), (4, 16), (4, 4)]),
        ("east", &[(22, 4), (34, 4), (34, 16), (22, 16), (22, 4)]),
    ];
    site.zone("piles.geojson", &outlines);
    site
}

fn sure(figure: &serde_json::Value) -> f64 {
    number(&figure["uncertainty"])
}

#[test]
fn a_wrong_benchmark_does_not_change_a_pile_above_its_own_toe() {
    let site = site();
    let line = "pile yard.csv --unit m --zone piles.geojson --json --base toe --base level=19.5";
    let found = site.json(&format!("{line} --accuracy common-height=0.05"));
    for pile in found["zones"].as_array().unwrap() {
        assert!(sure(&pile["pile_volume"]) < 1e-6);
        for base in pile["volume_by_base"].as_array().unwrap() {
            // Above a level that is what it is, the volume is wrong by the area times that.
            let expected = match base["base"].as_str().unwrap() {
                "level=19.5" => 0.05 * number(&pile["plan_area"]["value"]),
                _ => 0.0,
            };
            let own = sure(&base["pile_volume"]);
            assert!((own - expected).abs() < 1e-6, "{base}: {own}");
        }
    }
    assert!(sure(&found["total"]["pile_volume"]) < 1e-6);
    let from = &found["zones"][0]["uncertainty"]["surveyed"]["common_height"];
    assert!(number(&from["value"]) < 1e-6);
}

#[test]
fn single_points_count_through_the_base_too() {
    let site = site();
    let line = "pile yard.csv --unit m --zone piles.geojson --json --compare-bases";
    let found = site.json(&format!("{line} --accuracy height=0.02"));
    let piles = found["zones"].as_array().unwrap();
    let by = |pile: &serde_json::Value, base: &str| {
        let bases = pile["volume_by_base"].as_array().unwrap().iter();
        let own = bases.clone().find(|own| own["base"] == base).unwrap();
        sure(&own["pile_volume"])
    };
    for pile in piles {
        // A lowest level rests on one point, times the area: more than what many points make. The others share it over the toe.
        let lowest = by(pile, "lowest");
        assert!((lowest - 0.02 * number(&pile["plan_area"]["value"])).abs() < 0.2 * lowest);
        assert!(by(pile, "toe") < 0.5 * lowest && by(pile, "mean") < 0.5 * lowest);
        assert_eq!(by(pile, "toe"), sure(&pile["pile_volume"]));
    }
    // Piles that share no points: together by the squares.
    let both = piles
        .iter()
        .map(|pile| sure(&pile["pile_volume"]).powi(2))
        .sum::<f64>();
    assert!((sure(&found["total"]["pile_volume"]) - both.sqrt()).abs() < 1e-9);
    assert_eq!(found["coverage_factor"], 2.0);
    // Twice the error, twice the uncertainty; without any, none is told.
    let twice = site.json(&format!("{line} --accuracy height=0.04"));
    let ratio = sure(&twice["zones"][0]["pile_volume"]) / sure(&piles[0]["pile_volume"]);
    assert!((ratio - 2.0).abs() < 1e-9);
    let none = site.json(line);
    assert!(none["zones"][0]["pile_volume"].get("uncertainty").is_none());
    assert!(none["zones"][0].get("uncertainty").is_none());
    let told = site.succeed("pile yard.csv --unit m --zone piles.geojson --accuracy gnss");
    assert!(
        told.contains('±') && told.contains("Which base is right is no part of it"),
        "{told}"
    );
}

#[test]
fn a_basin_is_as_uncertain_as_its_water_is_wide() {
    let site = site();
    let line =
        "capacity pond.csv --unit m --from 18 --to 19.5 --step 0.5 --level 19 --volume 20 --json";
    for pool in ["", "--pool 500010,6000010"] {
        let found = site.json(&format!("{line} {pool} --accuracy common-height=0.01"));
        for row in found["levels"].as_array().unwrap() {
            let expected = 0.01 * number(&row["water_area"]["value"]);
            assert!((sure(&row["volume"]) - expected).abs() < 1e-6, "{row}");
        }
        let answers = found["answers"].as_array().unwrap();
        let of = |asked: &str| answers.iter().find(|own| own["asked"] == asked).unwrap();
        let expected = 0.01 * number(&of("level")["water_area"]["value"]);
        assert!((sure(&of("level")["volume"]) - expected).abs() < 1e-6);
        // All heights too high by ten millimetres: the level for a volume is too.
        assert!((sure(&of("volume")["level"]) - 0.01).abs() < 1e-6);
    }
    let told =
        site.succeed("capacity pond.csv --unit m --to 19.5 --level 19 --accuracy total-station");
    assert!(
        told.contains("At level 19.000 m: ") && told.contains(" ±"),
        "{told}"
    );
    assert!(told.contains("The level counts as exact"), "{told}");
    // Levels and areas that are typed in have no points.
    site.refuse("capacity --areas 20=0,21=300 --unit m --accuracy gnss");
}

#[test]
fn items_of_piles_and_basins_have_their_uncertainty() {
    let site = site();
    site.write(
        "dapedon.toml",
        r#"
[job]
name = "yard"
unit = "m"
currency = "EUR"
[surface.yard]
file = "yard.csv"
accuracy = { height = 0.02, common-height = 0.01 }
[surface.pond]
file = "pond.csv"
accuracy = { common-height = 0.01 }
[zone.west]
file = "piles.geojson#west"
[zone.east]
file = "piles.geojson#east"
[[item]]
code = "1"
description = "Stock"
unit = "m3"
measure = "pile"
surveyed = "yard"
zones = ["west", "east"]
rate = 4
[[item]]
code = "2"
description = "Water"
unit = "m3"
measure = "capacity"
surveyed = "pond"
level = 19
zones = "west"
rate = 2
"#,
    );
    let bill = site.json("measure --json");
    let items: Vec<&serde_json::Value> = bill["sections"]
        .as_array()
        .unwrap()
        .iter()
        .flat_map(|section| section["items"].as_array().unwrap())
        .collect();
    let [stock, water] = items[..] else {
        panic!("{bill}")
    };
    let piles = site.json("pile yard --zone west --zone east --json");
    let own = number(&stock["uncertainty"]["measured"]);
    assert!((own - sure(&piles["total"]["pile_volume"])).abs() < 1e-9);
    let basin = site.json("capacity pond --zone west --level 19 --json");
    let held = sure(&basin["answers"][0]["volume"]);
    assert!((number(&water["uncertainty"]["measured"]) - held).abs() < 1e-9);
    // Two surveys by themselves: the amounts add up by their squares.
    let all = &bill["amount_uncertainty"];
    let expected = libm::hypot(4.0 * own, 2.0 * held);
    assert!(
        (number(&all["standard"]) - expected).abs() < 1e-4 * expected,
        "{all} {expected}"
    );
}

/// Second opinions of piles and basins of a bill: a grid and sections find what was measured, and figures of others are held against it.
#[test]
fn piles_and_basins_have_second_opinions() {
    let site = site();
    let job = |more: &str| {
        site.write(
            "dapedon.toml",
            &format!(
                "[job]\nname = \"Yard\"\nunit = \"m\"\n\
                 [surface.yard]\nfile = \"yard.csv\"\naccuracy = \"height=0.02\"\n\
                 [surface.pond]\nfile = \"pond.csv\"\naccuracy = \"height=0.02\"\n\
                 [zone.piles]\nfile = \"piles.geojson\"\n[zone.west]\nfile = \"piles.geojson#west\"\n{more}"
            ),
        );
    };
    let pile = |keys: &str| {
        format!(
            "[[item]]\ncode = \"1\"\ndescription = \"Stock\"\nmeasure = \"pile\"\nsurveyed = \"yard\"\nzones = \"piles\"\nunit = \"m3\"\n{keys}\n"
        )
    };
    let pond = |keys: &str| {
        format!(
            "[[item]]\ncode = \"2\"\ndescription = \"Water\"\nmeasure = \"capacity\"\nsurveyed = \"pond\"\nzones = \"west\"\nlevel = 19.5\nunit = \"m3\"\n{keys}\n"
        )
    };
    for base in ["toe", "plane", "lowest", "mean"] {
        job(&(pile(&format!("second-opinion = true\nbase = \"{base}\""))
            + &pond("second-opinion = true")));
        let found = site.json("measure --json");
        for item in found["sections"][0]["items"].as_array().unwrap() {
            let measured = number(&item["unrounded"]);
            let own = &item["second_opinions"];
            let fill = number(&own["fill"]["value"]);
            assert!(
                (fill - measured).abs() < 1e-6 * measured,
                "{base}: {fill} {measured}"
            );
            let opinions = own["opinions"].as_array().unwrap();
            let of = |method: &str| {
                let found = opinions.iter().find(|opinion| opinion["method"] == method);
                found.unwrap_or_else(|| panic!("{method}: {own}"))
            };
            for method in ["grid", "sections"] {
                let opinion = &of(method)["fill"];
                let off = number(&opinion["value"]["value"]) - measured;
                assert!(
                    off.abs() < 0.02 * measured,
                    "{base}, {method}: {off} of {measured}"
                );
            }
        }
    }
    // What another party states is held against it, and the exit code says so.
    job(&pile(
        "stated = [{ by = \"the tenant\", quantity = 30 }]\nagree-within = \"5%\"",
    ));
    let (code, out, _) = site.run("measure");
    assert_eq!(code, 1);
    assert!(out.contains("the tenant"), "{out}");
    // No other kind of item has any.
    job(
        "[[item]]\ncode = \"1\"\ndescription = \"Hours\"\nmeasure = \"typed\"\nquantity = 3\nreason = \"sheet 1\"\nunit = \"h\"\nsecond-opinion = true\n",
    );
    assert!(
        site.refuse("measure")
            .contains("second-opinion has no effect")
    );
}

/// What lies between points is part of the uncertainty of piles and basins where it is asked for: of commands and of items the same, and less with more points.
#[test]
fn what_lies_between_points_is_found_for_piles_and_basins() {
    let site = site();
    let sparse = |name: &str| {
        // Every other row and column.
        let text = site.read(name);
        let rows = text.lines().enumerate().filter(|(index, _)| {
            let point = index.wrapping_sub(1);
            *index == 0 || (point / 41 % 2 == 0 && point % 41 % 2 == 0)
        });
        let rows: Vec<&str> = rows.map(|(_, row)| row).collect();
        site.write(&format!("sparse-{name}"), &(rows.join("\n") + "\n"));
    };
    sparse("yard.csv");
    sparse("pond.csv");
    let pile = |name: &str, more: &str| {
        let line = format!(
            "pile {name} --unit m --zone piles.geojson --accuracy height=0.002 --json {more}"
        );
        let found = site.json(&line);
        found["zones"]
            .as_array()
            .unwrap()
            .iter()
            .map(|pile| sure(&pile["pile_volume"]))
            .collect::<Vec<f64>>()
    };
    let pond = |name: &str, more: &str| {
        let line = format!(
            "capacity {name} --unit m --zone piles.geojson#west --accuracy height=0.002 --level 19 --json {more}"
        );
        sure(&site.json(&line)["answers"][0]["volume"])
    };
    for base in ["toe", "lowest"] {
        let ask = format!("--base {base} --between-points");
        let (fine, coarse) = (pile("yard.csv", &ask), pile("sparse-yard.csv", &ask));
        for ((fine, coarse), plain) in fine
            .iter()
            .zip(&coarse)
            .zip(pile("yard.csv", &format!("--base {base}")))
        {
            assert!(
                *fine > 1.2 * plain && *coarse > 1.5 * fine,
                "{base}: {plain} {fine} {coarse}"
            );
        }
    }
    let (plain, fine, coarse) = (
        pond("pond.csv", ""),
        pond("pond.csv", "--between-points"),
        pond("sparse-pond.csv", "--between-points"),
    );
    assert!(
        fine > 1.2 * plain && coarse > 1.5 * fine,
        "{plain} {fine} {coarse}"
    );
    site.write(
        "dapedon.toml",
        "[job]\nname = \"Yard\"\nunit = \"m\"\n\
         [surface.yard]\nfile = \"yard.csv\"\naccuracy = \"height=0.002\"\n\
         [surface.pond]\nfile = \"pond.csv\"\naccuracy = \"height=0.002\"\n\
         [zone.west]\nfile = \"piles.geojson#west\"\n\
         [[item]]\ncode = \"1\"\ndescription = \"Stock\"\nmeasure = \"pile\"\nsurveyed = \"yard\"\nzones = \"west\"\nunit = \"m3\"\nbetween-points = true\n\
         [[item]]\ncode = \"2\"\ndescription = \"Water\"\nmeasure = \"capacity\"\nsurveyed = \"pond\"\nzones = \"west\"\nlevel = 19\nunit = \"m3\"\nbetween-points = true\n",
    );
    let bill = site.json("measure --json");
    let own = |item: usize| number(&bill["sections"][0]["items"][item]["uncertainty"]["quantity"]);
    let near = |found: f64, expected: f64| {
        assert!((found / expected - 1.0).abs() < 0.05, "{found} {expected}");
    };
    // Chance is drawn by the order of points along a curve, which rounding may change a little.
    near(own(0), pile("yard.csv", "--between-points")[0]);
    near(own(1), fine);
    // Where it cannot be known it is said: of a surface that is handed over, and without accuracies.
    let said = |line: &str| {
        let found = site.json(line);
        Site::warnings(&found)
            .iter()
            .any(|word| word.contains("between points") || word.contains("spacing of the points"))
    };
    assert!(said(
        "pile yard.csv --unit m --zone piles.geojson --between-points --json"
    ));
    assert!(said(
        "capacity pond.csv --unit m --zone piles.geojson#west --between-points --level 19 --json"
    ));
    assert!(!said(
        "capacity pond.csv --unit m --zone piles.geojson#west --between-points --level 19 --accuracy gnss --json"
    ));
}
