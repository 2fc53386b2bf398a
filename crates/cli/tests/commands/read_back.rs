//! What `--json` prints can be read back as what it was, to the last bit of every figure.

use std::fmt::Debug;

use dapedon_job::{
    Audit, Balanced, Bill, Built, Capacity, Claim, ClaimComparison, ClaimList, Conformity,
    Contours, GroundProfile, Inspected, Measurement, Packed, Piles, Progress, Sections, Spots,
    SurveyPlan, ZoneHaul,
};
use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::site::Site;

/// Reads a printed result back, and writes it again: the same bytes.
fn read_back<R: Serialize + DeserializeOwned + Debug>(site: &Site, line: &str) {
    let command = match line.split(' ').next().unwrap() {
        "claim" if line.starts_with("claim list") => "claim-list",
        "claim" if line.starts_with("claim compare") => "claim-compare",
        "claim" if line.starts_with("claim pack") => "claim-pack",
        command => command,
    };
    let schema = site.json(&format!("schema {command}"));
    let (code, printed, said) = site.run(&format!("{line} --json"));
    assert!(code < 2, "{line}: {said}");
    let result: R =
        serde_json::from_str(&printed).unwrap_or_else(|error| panic!("{line}: {error}"));
    let again = serde_json::to_string_pretty(&result).unwrap();
    assert!(again == printed.trim_end(), "{line}");
    let printed_value = serde_json::from_str(&printed).unwrap();
    let schema = jsonschema::validator_for(&schema).unwrap();
    let errors: Vec<String> = schema
        .iter_errors(&printed_value)
        .map(|error| format!("{}: {error}", error.instance_path()))
        .collect();
    assert!(errors.is_empty(), "{line}: {errors:?}");
    let other = printed.replacen("\"schema\": 1", "\"schema\": 99", 1);
    let refused = serde_json::from_str::<R>(&other).unwrap_err();
    assert!(
        refused.to_string().contains("version 99"),
        "{line}: {refused}"
    );
}

#[test]
fn results_are_read_back_as_they_were() {
    let site = Site::new();
    site.succeed("demo reach");
    // Words are separated by spaces here: a name without any.
    let text = site.read("reach/dapedon.toml");
    site.write(
        "reach/dapedon.toml",
        &text.replace("haul road formation", "formation"),
    );
    let road = "[412336,5861016],[412326,5861088],[412304,5861108],[412128,5861106]";
    site.write(
        "reach/road.geojson",
        &format!(r#"{{"type":"LineString","coordinates":[{road}]}}"#),
    );
    let job = "--job reach/dapedon.toml";
    read_back::<Inspected>(
        &site,
        "inspect reach/ground.xml reach/survey-march.csv reach/zones.geojson reach/finished-bank.dxf reach/piles.shp",
    );
    read_back::<Inspected>(&site, "inspect reach/authority-ground.tif reach/yard.laz");
    read_back::<Built>(&site, &format!("surface formation {job}"));
    read_back::<Measurement>(
        &site,
        &format!(
            "volume ground march --zone reach/zones.geojson --material clay --by-depth 0.5 {job}"
        ),
    );
    read_back::<Measurement>(&site, &format!("volume ground formation {job}"));
    read_back::<Measurement>(
        &site,
        &format!("volume ground march --zone reach/zones.geojson --bands monthly {job}"),
    );
    // With places outside the survey and on a step.
    read_back::<Spots>(
        &site,
        &format!("spots ground march formation --grid 40 --zone reach/zones.geojson {job}"),
    );
    read_back::<Spots>(
        &site,
        &format!("spots ground formation --line reach/road.geojson --every 40 {job}"),
    );
    read_back::<Sections>(
        &site,
        &format!(
            "sections ground march --with formation --line reach/bank-line.xml --every 40 --width 12 --corners --rule prismoidal --mass-haul --free-haul 30 {job}"
        ),
    );
    read_back::<GroundProfile>(
        &site,
        &format!(
            "profile ground march formation --through 412010,5861050 --through 412390,5861120 --corners {job}"
        ),
    );
    read_back::<GroundProfile>(
        &site,
        &format!("profile ground --line reach/bank-line.xml --from 0+150 {job}"),
    );
    read_back::<ZoneHaul>(
        &site,
        &format!(
            "haul ground march --zone reach/zones.geojson --haul-rate 0.9 --borrow name=hill,east=412300,north=5861000,most=500,cost=2 {job}"
        ),
    );
    read_back::<Contours>(&site, &format!("contours march --interval 0.5 {job}"));
    read_back::<Contours>(
        &site,
        &format!("contours march --from ground --levels 0,9 {job}"),
    );
    read_back::<Progress>(&site, &format!("progress {job}"));
    read_back::<Claim>(&site, &format!("claim show 2 {job}"));
    read_back::<ClaimComparison>(&site, &format!("claim compare 1 3 {job}"));
    read_back::<ClaimList>(&site, &format!("claim list {job}"));
    read_back::<Audit>(&site, "audit reach");
    read_back::<Packed>(&site, &format!("claim pack 2 --to packed {job}"));
    read_back::<Balanced>(
        &site,
        &format!("balance ground compound --platform compound --swell 25% --shrink 10% {job}"),
    );
    read_back::<Piles>(
        &site,
        &format!(
            "pile yard --zone reach/piles.shp --material-attribute material --previous ground {job}"
        ),
    );
    read_back::<Piles>(&site, &format!("pile yard {job}"));
    read_back::<Capacity>(
        &site,
        &format!("capacity march --pool 412230,5861060 --step 0.25 --volume 5000 --level 24 {job}"),
    );
    read_back::<Capacity>(&site, "capacity --areas 20=0,20.5=310,21=820 --unit m");
    read_back::<Conformity>(
        &site,
        &format!(
            "conformity formation reach/road-formation.csv --unit m --surveyed-accuracy height=0.004 --above 0.02 --below 0.03 --steepest 1:1 {job}"
        ),
    );
    read_back::<SurveyPlan>(
        &site,
        &format!("plan march --zone reach/zones.geojson --accuracy gnss --wanted 150 {job}"),
    );
    read_back::<Bill>(&site, &format!("measure {job}"));
}
