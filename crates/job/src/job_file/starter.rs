//! A first job file, commented, that already runs.

/// The text of a first job file: with the files that are named, each a surface of its own, or with a made-up
/// ground where none are.
pub fn starter(files: &[(String, String)]) -> String {
    let mut text = String::from(HEAD);
    if files.is_empty() {
        text.push_str(LEVEL);
    }
    for (name, file) in files {
        text.push_str(&format!(
            "[surface.{}]\nfile = {}\n\n",
            key(name),
            quoted(file)
        ));
    }
    let ground = files.first().map_or("ground", |(name, _)| name.as_str());
    text.push_str(
        &match files.is_empty() {
            true => STEPS.to_owned(),
            false => commented(STEPS),
        }
        .replace("\"ground\"", &quoted(ground)),
    );
    text
}

/// A TOML key, bare where it may be.
fn key(name: &str) -> String {
    let plain = |c: char| c.is_ascii_alphanumeric() || c == '-' || c == '_';
    match !name.is_empty() && name.chars().all(plain) {
        true => name.into(),
        false => quoted(name),
    }
}

/// A TOML text.
fn quoted(text: &str) -> String {
    toml::Value::String(text.into()).to_string()
}

fn commented(text: &str) -> String {
    let line = |line: &str| match line.is_empty() || line.starts_with('#') {
        true => format!("{line}\n"),
        false => format!("# {line}\n"),
    };
    text.lines().map(line).collect()
}

const HEAD: &str = "\
# A job file. Its names can be used for surfaces and zones on the command line:
#
#     dapedon surface formation
#     dapedon volume ground formation --zone yard
#     dapedon measure
#
# Paths are relative to this file. `dapedon schema job-file` prints its schema, for editors.

[job]
name = \"New job\"
# contract = \"\"
# parties = { client = \"\", contractor = \"\" }
unit = \"m\" # length unit of this file, and of files without one: m, ft or us-ft
# coordinates = \"EPSG:0000\"
# height-system = \"EPSG:0000\"
# currency = \"EUR\"
# volume-unit = \"m3\" # for densities, vehicles, prices and counts
# mass-unit = \"t\"

[report]
# area-unit = \"m2\"
# volume-unit = \"m3\"
decimals = 1

# A surface starts from a file, a level or another surface. Steps are done in order.

";

const LEVEL: &str = "\
[surface.ground]
level = 100.0 # or a file: file = \"ground.xml\"

";

const STEPS: &str = "\
[surface.finished]
start = \"ground\"
steps = [
  { keep = \"inside\", zones = \"yard\" },
  { raise = 1.2 },
]

[surface.formation]
start = \"finished\"
steps = [
  { build-up = \"pavement\" },
]

# A zone comes from a file, as in file = \"limits.geojson#yard\", or from its corners.

[zone.yard]
corners = [[0, 0], [60, 0], [60, 40], [0, 40]]

# Layers are listed from the top down. Each can be counted in further units.

[build-up.pavement]
zones = \"yard\"
layers = [
  { name = \"surfacing\", thickness = 0.12 },
  { name = \"base\", thickness = \"250 mm\", counted = [{ in = \"tonnes\", per-volume = 2.1 }] },
]

# Swell: loose volume per bank volume. Shrink: compacted volume per bank volume, or the loss.

[material.subsoil]
swell = \"25%\"
shrink = \"10%\"
# density = { bank = 1.8 }

# The bill. Each item has a quantity, its surfaces and zones, and the state in which it is paid.

[[item]]
code = \"1.1\"
section = \"1  Earthworks\"
description = \"Raise the yard to the formation\"
unit = \"m3\"
measure = \"fill\"
reference = \"ground\"
surveyed = \"formation\"
zones = \"yard\"
material = \"subsoil\"
# contract = 2000
# within = \"5%\"
# rate = 5.20 # in the job's currency
";
