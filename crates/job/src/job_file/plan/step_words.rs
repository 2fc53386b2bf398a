//! What a step does, in words.

use dapedon_core::alignment::{NamedChainage, chainage_words};
use dapedon_core::derived::{Choice, SideSlope};
use dapedon_core::units::LengthUnit;

use super::{DownTo, StepAction};

impl StepAction {
    /// What it does, in words; lengths are in a unit.
    pub(crate) fn words(&self, unit: LengthUnit) -> String {
        let symbol = unit.symbol();
        let side = |side: &SideSlope| {
            let bench = side.bench.map_or(String::new(), |bench| {
                format!(
                    " with {} {symbol} benches every {} {symbol} of height",
                    bench.width, bench.every
                )
            });
            format!("1:{}{bench}", side.run)
        };
        let slopes = |cut: &SideSlope, fill: &SideSlope, until: &Option<String>| {
            let until = until
                .as_ref()
                .map_or(String::new(), |name| format!(", down to \"{name}\""));
            match cut == fill {
                true => format!("slopes {}{until}", side(cut)),
                false => format!("slopes {} in cut, {} in fill{until}", side(cut), side(fill)),
            }
        };
        match self {
            StepAction::Raise(by) if *by < 0.0 => format!("lowered by {} {symbol}", -by),
            StepAction::Raise(by) => format!("raised by {by} {symbol}"),
            StepAction::Level(height) => format!("set to level {height} {symbol}"),
            StepAction::Move([east, north]) => {
                format!("moved {east} {symbol} east, {north} {symbol} north")
            }
            StepAction::Combine(Choice::Highest, name) => {
                format!("the higher of this and \"{name}\"")
            }
            StepAction::Combine(Choice::Lowest, name) => {
                format!("the lower of this and \"{name}\"")
            }
            StepAction::Combine(Choice::Other, name) => {
                format!("replaced by \"{name}\" where it covers")
            }
            StepAction::Keep(true) => "kept inside".into(),
            StepAction::Keep(false) => "kept outside".into(),
            StepAction::Platform(plan) => {
                let fall = match plan.rise {
                    [0.0, 0.0] => String::new(),
                    [east, north] => format!(", falling {:.4} in 1", libm::hypot(east, north)),
                };
                let slopes = slopes(&plan.slopes.cut, &plan.slopes.fill, &plan.until);
                format!(
                    "platform \"{}\" at {} {symbol}{fall}, {slopes}",
                    plan.outline, plan.level
                )
            }
            StepAction::Embankment(plan) => {
                let slopes = slopes(&plan.slopes.cut, &plan.slopes.fill, &plan.until);
                format!(
                    "embankment along \"{}\", {} {symbol} wide, {slopes}",
                    plan.line, plan.width
                )
            }
            StepAction::Swept(plan) => {
                let slopes = slopes(&plan.section.cut, &plan.section.fill, &plan.until);
                let [from, to] = &plan.between;
                let stop = |word: &str, stop: &Option<NamedChainage>| {
                    stop.map_or(String::new(), |at| {
                        format!(" {word} {}", chainage_words(at.value, unit, 2))
                    })
                };
                format!(
                    "typical section \"{}\" along \"{}\"{}{}, {slopes}",
                    plan.name,
                    plan.line,
                    stop("from", from),
                    stop("to", to)
                )
            }
            StepAction::Regrade(plan) => {
                let mut of = Vec::new();
                match plan.points.len() {
                    0 => {}
                    1 => of.push("1 point".to_owned()),
                    count => of.push(format!("{count} points")),
                }
                let lines = plan.lines.iter();
                of.extend(lines.map(|line| format!("the line \"{line}\"")));
                let surface = plan.surface.iter();
                of.extend(surface.map(|name| format!("the points of \"{name}\"")));
                format!("ground made anew from {}", of.join(" and "))
            }
            StepAction::BuildUp { names, down_to, .. } => {
                let names: Vec<String> = names.iter().map(|name| format!("\"{name}\"")).collect();
                let stop = match down_to {
                    DownTo::All => String::new(),
                    DownTo::TopOf(layer) => format!(", down to the top of \"{layer}\""),
                    DownTo::BottomOf(layer) => format!(", down to the bottom of \"{layer}\""),
                };
                format!(
                    "lowered by the build-up{} {}{stop}",
                    if names.len() > 1 { "s" } else { "" },
                    names.join(" and ")
                )
            }
            StepAction::Fit { to, tilt: false } => {
                format!("shifted in height to agree with \"{to}\" on untouched ground")
            }
            StepAction::Fit { to, tilt: true } => {
                format!("shifted in height and tilted to agree with \"{to}\" on untouched ground")
            }
            StepAction::Difference(name) => format!("difference: heights less those of \"{name}\""),
        }
    }
}
