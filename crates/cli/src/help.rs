//! Help: what each command is for, examples that run on the sample job, exit codes, and the terms.

mod terms;

use clap::{Command, CommandFactory};

use crate::args::Args;
use crate::error::CommandError;
use crate::output::Outputs;
use terms::TERMS;

/// What the help of a command says beside its options.
struct Page {
    command: &'static str,
    /// The group it is listed in.
    group: &'static str,
    /// What it is for.
    what_for: &'static str,
    /// Two lines that run in the folder of the sample job.
    examples: [&'static str; 2],
    /// When it ends with exit code 1.
    finding: &'static str,
}

const START: &str = "Start a job";
const CHECK: &str = "Check and prepare";
const MEASURE: &str = "Measure";
const BILL: &str = "Bill a job";
const MORE: &str = "More";

/// In the order of the work.
const PAGES: [Page; 20] = [
    Page {
        command: "demo",
        group: START,
        what_for: "Writes a made-up flood bank job into a folder and runs every command on it. A quick way to see what \
            Dapedon does, and files to try commands on.",
        examples: ["dapedon demo", "dapedon demo try-out"],
        finding: "",
    },
    Page {
        command: "init",
        group: START,
        what_for: "Writes a job file with a surface for each file named, and comments on what else can be added. A job \
            file names surfaces, zones, materials and bill items once, for all commands.",
        examples: [
            "dapedon init --job new.toml ground.xml survey-march.csv",
            "dapedon init --job empty.toml",
        ],
        finding: "",
    },
    Page {
        command: "inspect",
        group: CHECK,
        what_for: "Shows what files hold: units, coordinate systems, surfaces, zones, layers and columns, and what is \
            wrong or doubtful. With two files of one surface each, it shows whether they can be compared.",
        examples: [
            "dapedon inspect ground.xml zones.geojson",
            "dapedon inspect survey-march.csv --unit m --map survey.svg",
        ],
        finding: "",
    },
    Page {
        command: "surface",
        group: CHECK,
        what_for: "Makes a surface from a file, or from a recipe in the job file, shows how it was made, and writes it \
            to other formats.",
        examples: [
            "dapedon surface march --out march.xml",
            "dapedon surface yard --out yard.tif --cell 0.5",
        ],
        finding: "",
    },
    Page {
        command: "volume",
        group: MEASURE,
        what_for: "Measures cut, fill and net between two surfaces, zone by zone, with areas and height differences. \
            Computed from the triangles of both surfaces, without sampling.",
        examples: [
            "dapedon volume ground march --zone \"flood bank\" --map march.svg",
            "dapedon volume march level=24 --by-depth 0.5 --csv slices.csv",
        ],
        finding: "",
    },
    Page {
        command: "conformity",
        group: MEASURE,
        what_for: "Checks whether a built surface lies within tolerances of its design, clear below it, or within slopes: \
            shares of the area, the worst places, volumes beyond, and single points. What the measurement is uncertain by is \
            taken into account.",
        examples: [
            "dapedon conformity \"haul road formation\" \"road as built\" --zone \"finished stretch\" --above 0.02 --below 0.03",
            "dapedon conformity \"finished bank\" march --zone \"flood bank\" --steepest 1:2 --share 95%",
        ],
        finding: "the surface does not conform, or is not shown to.",
    },
    Page {
        command: "spots",
        group: MEASURE,
        what_for: "Lists the heights of two or more surfaces and their differences at places: on a grid, at the points of \
            a file, or along a line with chainage and offset. Writes them to drawings and maps.",
        examples: [
            "dapedon spots ground march --grid 20 --zone \"flood bank\"",
            "dapedon spots ground march --line \"haul road\" --every 20 --offsets -4,0,4 --out road.dxf",
        ],
        finding: "",
    },
    Page {
        command: "profile",
        group: MEASURE,
        what_for: "Cuts one or more surfaces upright along a line, or straight from place to place: a table of heights and \
            differences, and a drawing to scale.",
        examples: [
            "dapedon profile ground march --through 412040,5861040 --through 412260,5861120",
            "dapedon profile ground \"haul road\" --line \"haul road\" --from 0+050 --sheets road.svg",
        ],
        finding: "",
    },
    Page {
        command: "sections",
        group: MEASURE,
        what_for: "Cuts two surfaces square to a line, and computes cut and fill from the areas of the sections. Beside \
            it stands the volume between the surfaces over the same strip, with the difference and where it comes from.",
        examples: [
            "dapedon sections ground march --line \"haul road\" --every 20 --width 15",
            "dapedon sections ground march --line \"haul road\" --at 0+060,0+100 --width 12 --with \"haul road\" --corners --json",
        ],
        finding: "",
    },
    Page {
        command: "contours",
        group: MEASURE,
        what_for: "Draws the contours of a surface, or of the difference between two, exactly on their triangles.",
        examples: [
            "dapedon contours march --interval 0.5 --out contours.dxf",
            "dapedon contours march --from ground --levels 0 --out no-change.geojson",
        ],
        finding: "",
    },
    Page {
        command: "pile",
        group: MEASURE,
        what_for: "Measures stockpiles and pits, each against its own base. Finds the piles where no outlines are \
            given. With a material it gives mass and volumes in other states.",
        examples: [
            "dapedon pile yard",
            "dapedon pile yard --zone \"gravel pile\" --base toe --base mean --compare-bases",
        ],
        finding: "",
    },
    Page {
        command: "capacity",
        group: MEASURE,
        what_for: "Lists area and volume of a basin level by level up to where it spills, and finds the level of a \
            volume or the volume at a level.",
        examples: [
            "dapedon capacity lagoon --zone \"lagoon water\" --step 0.25",
            "dapedon capacity --areas 20=0,20.5=310,21=820 --unit m --level 20.8",
        ],
        finding: "a level or volume asked for lies above the spill level.",
    },
    Page {
        command: "balance",
        group: MEASURE,
        what_for: "Finds by how much to raise or lower a design so that its cut makes its fill, with swell and shrink.",
        examples: [
            "dapedon balance ground compound --swell 25% --shrink 10%",
            "dapedon balance ground compound --platform compound --shrink 10% --max-leftover 10",
        ],
        finding: "cut and fill do not balance in the range.",
    },
    Page {
        command: "haul",
        group: MEASURE,
        what_for: "Plans which cut goes to which fill between zones, so that volume times distance is least; or cost, with \
            borrow pits and tips. A table, and a map with arrows as wide as what is carried.",
        examples: [
            "dapedon haul ground march --zone zones.geojson --shrink 10%",
            "dapedon haul ground march --zone zones.geojson --tip name=yard,east=412020,north=5861030",
        ],
        finding: "",
    },
    Page {
        command: "plan",
        group: MEASURE,
        what_for: "Finds how dense a survey must be, so that the volume of a zone is as certain as is wanted: by the accuracy \
            of points and the shape of the ground, from a design or an earlier survey.",
        examples: [
            "dapedon plan march --zone \"borrow pit\" --accuracy gnss --wanted 300",
            "dapedon plan march --zone \"topsoil bund\" --accuracy drone-photo --spacing 1,2,5",
        ],
        finding: "no spacing is enough.",
    },
    Page {
        command: "measure",
        group: BILL,
        what_for: "Measures all items of the job's bill in one pass, with conversions, rates and totals.",
        examples: [
            "dapedon measure --report bill.html --csv bill.csv",
            "dapedon measure 1.1 --explain",
        ],
        finding: "an item is outside the limits that the job sets for it.",
    },
    Page {
        command: "progress",
        group: BILL,
        what_for: "Follows items through their surveys: to date, in each period measured two ways, the share of the design, \
            what is left, the pace per work day and when it is done. By zone, with what was dug and filled again.",
        examples: [
            "dapedon progress",
            "dapedon progress 6.6 --report progress.html",
        ],
        finding: "",
    },
    Page {
        command: "claim",
        group: BILL,
        what_for: "Draws up payment claims from surveys: quantities to date, before and in this period, with retention, \
            advances, corrections and tax. An issued claim is a record that does not change; later claims count from it.",
        examples: ["dapedon claim show 2", "dapedon claim list"],
        finding: "",
    },
    Page {
        command: "audit",
        group: BILL,
        what_for: "Rebuilds every issued claim from its inputs, and says which file changed, which figure moved and by how \
            much, and where the chain of records is broken. It needs the folder of the job and nothing else.",
        examples: ["dapedon audit", "dapedon audit --report audit.html"],
        finding: "a claim is not as it was issued.",
    },
    Page {
        command: "schema",
        group: MORE,
        what_for: "Prints the JSON Schema of job files, for editors, or of the result that a command prints with --json.",
        examples: ["dapedon schema job-file", "dapedon schema volume"],
        finding: "",
    },
];

/// The command line with all its help.
pub(crate) fn command() -> Command {
    let mut command = Args::command();
    let list = listed(&command);
    for page in &PAGES {
        command = command.mut_subcommand(page.command, |own| {
            let surfaces = own.get_after_help().map(ToString::to_string);
            let surfaces = surfaces.map_or(String::new(), |text| format!("{text}\n\n"));
            let about = own.get_about().map(ToString::to_string).unwrap_or_default();
            own.long_about(format!("{about}\n\n{}", page.what_for))
                .after_help(format!("{surfaces}{}", page.after()))
        });
    }
    command.help_template(format!(
        "{{about-with-newline}}\n{{usage-heading}} {{usage}}\n\n{list}\nOptions:\n{{options}}\n\n\
         dapedon help COMMAND shows the options, examples and exit codes of a command.\n\
         dapedon help terms explains the words, with units and signs."
    ))
}

impl Page {
    /// Examples and exit codes.
    fn after(&self) -> String {
        let [first, second] = self.examples;
        let mut text = format!(
            "Examples, in the folder that dapedon demo writes:\n  {first}\n  {second}\n\nExit codes:\n  0  done\n"
        );
        if !self.finding.is_empty() {
            text += &format!("  1  {}\n", self.finding);
        }
        text + "  2  wrong usage, or input that cannot be used; nothing is written"
    }
}

/// The commands, group by group.
fn listed(command: &Command) -> String {
    let mut text = String::new();
    let mut group = "";
    for page in &PAGES {
        if page.group != group {
            group = page.group;
            let gap = if text.is_empty() { "" } else { "\n" };
            text += &format!("{gap}{group}:\n");
        }
        let own = command.find_subcommand(page.command);
        let about = own.and_then(Command::get_about).map(ToString::to_string);
        text += &format!("  {:<10} {}\n", page.command, about.unwrap_or_default());
    }
    text + &format!("  {:<10} Show help on a command, or on terms\n", "help")
}

/// `help`: of a command, of the terms, or of all commands.
pub(crate) fn run(topic: Option<&str>) -> Result<(), CommandError> {
    let mut all = command();
    let text = match topic {
        None => all.render_help().to_string(),
        Some("terms") => terms(),
        Some(name) => match all.find_subcommand_mut(name) {
            Some(own) => {
                let full = format!("dapedon {name}");
                own.clone().bin_name(full).render_long_help().to_string()
            }
            None => return Err(CommandError::NoHelp { topic: name.into() }),
        },
    };
    Outputs::default().finish(|out| write!(out, "{text}"))
}

fn terms() -> String {
    let wide = TERMS.iter().map(|(word, _)| word.len()).max().unwrap_or(0);
    let lines = TERMS.map(|(word, means)| format!("{word:<wide$}  {means}\n"));
    format!("Terms, with units and signs\n\n{}", lines.concat())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Help texts: each option has one, of 25 words at most in its first line, from a capital on.
    #[test]
    fn every_option_has_a_short_description() {
        let mut wrong = Vec::new();
        let all = command();
        let below = |own: &Command| own.get_subcommands().cloned().collect::<Vec<_>>();
        let nested = all.get_subcommands().flat_map(below);
        for own in all.get_subcommands().cloned().chain(nested) {
            let name = own.get_name();
            for arg in own.get_arguments() {
                let id = arg.get_id();
                let help = arg.get_help().map(ToString::to_string).unwrap_or_default();
                let words = help.split_whitespace().count();
                let capital = help.starts_with(|first: char| first.is_uppercase());
                if !(1..=25).contains(&words) || !capital {
                    wrong.push(format!("{name} {id}: {help}"));
                }
            }
            assert!(own.get_about().is_some(), "{name}");
        }
        assert!(wrong.is_empty(), "{wrong:#?}");
    }

    #[test]
    fn every_command_has_a_page() {
        let command = command();
        let own = command.get_subcommands().map(Command::get_name);
        let own: Vec<&str> = own.filter(|name| *name != "help").collect();
        assert_eq!(own.len(), PAGES.len());
        for page in &PAGES {
            assert!(own.contains(&page.command), "{}", page.command);
        }
    }

    /// The page on terms is made from the list.
    #[test]
    fn the_page_on_terms_is_the_list() {
        let rows = TERMS.map(|(word, means)| format!("| {word} | {means} |\n"));
        let page = format!(
            "# Terms\n\nThe words of help, reports and results, with their units and signs. `dapedon help terms` prints \
             them.\n\n| Term | Meaning |\n|---|---|\n{}",
            rows.concat()
        );
        let path = concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/terms.md");
        if std::env::var_os("DAPEDON_WRITE_DOCS").is_some() {
            std::fs::write(path, &page).unwrap();
        }
        assert_eq!(std::fs::read_to_string(path).unwrap(), page);
    }
}
