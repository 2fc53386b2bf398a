//! Sheets of cross-sections and of the long-section, drawn to scale.

mod axes;
mod cross;
mod frame;
mod ground_drawing;
mod haul;
mod long;
mod paper_drawing;

use dapedon_core::alignment::Alignment;
use dapedon_core::quantities::SectionLine;
use dapedon_core::units::LengthUnit;
use dapedon_job::{GroundProfile, LineHaul, ProfileGround, SectionGround, Sections, SurfaceFacts};

use crate::ReportError;
use crate::map::{Paper, TitleBlock, TooLarge};
use cross::Cross;
use frame::{Entry, room};
use long::Long;
use paper_drawing::Ink;

pub use ground_drawing::sheets_as_drawing;
pub use paper_drawing::PaperSheet;

/// From block to block on a sheet, in millimetres.
const GAP: [f64; 2] = [7.0, 6.0];
/// How often heights are exaggerated in a long-section, where nothing is said.
const LONG: f64 = 10.0;

/// How sheets are drawn.
#[derive(Debug, Clone, PartialEq)]
pub struct SheetOptions {
    /// The paper; its scale is that of offsets.
    pub paper: Paper,
    /// How often heights are exaggerated; without, once in cross-sections and ten times in the long-section.
    pub exaggeration: Option<f64>,
    /// What the sheets say of themselves.
    pub title: TitleBlock,
}

/// Sheets, and the scale of what stands on the first of them, 1 to this.
#[derive(Debug, Clone, PartialEq)]
pub struct SectionSheets {
    /// One after the other.
    pub sheets: Vec<PaperSheet>,
    /// The scale along sections.
    pub scale: u32,
    /// The surfaces that are drawn.
    pub surfaces: Vec<String>,
    /// What they show, in words.
    pub name: String,
    /// The day of the survey, where it is known.
    pub date: Option<String>,
    /// The unit of the ground.
    pub unit: LengthUnit,
}

/// All sheets: cross-sections in the order of the line, the long-section, and the mass-haul diagram where the haul was asked for.
///
/// # Errors
///
/// When a section is wider than the paper at the scale that was asked for.
pub fn section_sheets(
    found: &Sections,
    ground: &SectionGround,
    options: &SheetOptions,
) -> Result<SectionSheets, ReportError> {
    let two = [&found.reference, &found.surveyed].into_iter();
    let sheets = Sheets {
        names: two
            .chain(&found.others)
            .map(|side| side.source.clone())
            .chain(
                found
                    .layers
                    .iter()
                    .map(|own| format!("under {}", own.layer)),
            )
            .collect(),
        line: Some(&found.line.line),
        options,
        unit: found.units.length,
    };
    let (mut all, scale) = sheets.crosses(found, ground)?;
    let long = LongGround {
        line: &ground.line,
        along: &ground.along,
        between: ground.between,
    };
    let (longs, _) = sheets.longs(&long);
    all.extend(longs);
    all.extend(found.mass_haul.as_ref().map(|haul| sheets.haul(haul)));
    let name = format!("sections along {}", found.line.line);
    Ok(sheets.framed(all, scale, name, Some(&found.surveyed)))
}

/// The sheets of a profile: as many as it needs at the scale.
///
/// # Errors
///
/// None yet: a profile that is too long for a sheet goes on on the next one.
pub fn profile_sheets(
    found: &GroundProfile,
    ground: &ProfileGround,
    options: &SheetOptions,
) -> Result<SectionSheets, ReportError> {
    let surfaces = found.surfaces.iter();
    let sheets = Sheets {
        names: surfaces.map(|side| side.source.clone()).collect(),
        line: found.line.as_ref().map(|line| line.line.as_str()),
        options,
        unit: found.units.length,
    };
    let (all, scale) = sheets.longs(&LongGround {
        line: &ground.line,
        along: &ground.lines,
        between: ground.between,
    });
    let name = match sheets.line {
        Some(line) => format!("profile along {line}"),
        None => "profile".into(),
    };
    Ok(sheets.framed(all, scale, name, found.surfaces.last()))
}

/// What all sheets are drawn from.
struct Sheets<'s> {
    /// The surfaces.
    names: Vec<String>,
    /// The line, where there is one.
    line: Option<&'s str>,
    options: &'s SheetOptions,
    unit: LengthUnit,
}

/// What is drawn along a line.
struct LongGround<'g> {
    line: &'g Alignment,
    along: &'g [SectionLine],
    between: [f64; 2],
}

/// A sheet, its scale in words, and what its colours stand for.
struct Drawn {
    sheet: PaperSheet,
    scale: String,
    legend: Vec<Entry>,
}

impl Sheets<'_> {
    /// The sheets in their frames, numbered.
    fn framed(
        self,
        all: Vec<Drawn>,
        scale: u32,
        name: String,
        survey: Option<&SurfaceFacts>,
    ) -> SectionSheets {
        let of = all.len();
        let done = all.into_iter().enumerate().map(|(number, own)| {
            let mut sheet = own.sheet;
            let number = [number + 1, of];
            let title = &self.options.title;
            frame::draw(&mut sheet, title, &own.scale, number, &own.legend);
            sheet
        });
        SectionSheets {
            sheets: done.collect(),
            scale,
            surfaces: self.names,
            unit: self.unit,
            name,
            date: survey.and_then(|side| side.survey_date.clone()),
        }
    }

    fn legend(&self) -> Vec<Entry> {
        let surfaces = self.names.iter().cloned().enumerate();
        let mut entries: Vec<Entry> = surfaces
            .map(|(number, words)| Entry {
                ink: Ink::Surface(number),
                words,
            })
            .collect();
        let entry = |ink: Ink, words: &str| Entry {
            ink,
            words: words.into(),
        };
        entries.extend(self.line.map(|line| entry(Ink::Line, line)));
        if self.names.len() > 1 {
            entries.extend([entry(Ink::Cut, "cut"), entry(Ink::Fill, "fill")]);
        }
        entries
    }

    /// Millimetres for a unit at a scale.
    fn per_unit(&self, scale: u32) -> f64 {
        1000.0 * self.unit.convert(1.0, LengthUnit::Metre) / f64::from(scale)
    }

    fn words(&self, scale: u32, exaggeration: f64) -> String {
        let own = match self.unit {
            LengthUnit::Foot(_) if scale.is_multiple_of(12) => {
                format!("1:{scale} (1 in to {} ft)", scale / 12)
            }
            _ => format!("1:{scale}"),
        };
        match exaggeration {
            1.0 => own,
            times => format!("{own}, heights {times} times exaggerated"),
        }
    }

    fn crosses(
        &self,
        found: &Sections,
        ground: &SectionGround,
    ) -> Result<(Vec<Drawn>, u32), ReportError> {
        let (paper, title) = (&self.options.paper, &self.options.title);
        let size = paper.millimetres();
        let [left, top, right, bottom] = room(size, title);
        let reach = ground.reach;
        let wide = reach[1] - reach[0];
        let around = 18.0;
        // As large as two of them stand side by side, unless a scale is asked for.
        let side_by_side = (right - left - GAP[0]) / 2.0 - around;
        let scale = match paper.scale {
            None => paper.round_scale(wide / side_by_side, self.unit),
            Some(asked) => {
                let fits = paper.round_scale(wide / (right - left - around), self.unit);
                let alone = wide * self.per_unit(asked) <= right - left - around + 1e-9;
                alone.then_some(asked).ok_or(TooLarge { asked, fits })?
            }
        };
        let exaggeration = self.options.exaggeration.unwrap_or(1.0);
        let along = self.per_unit(scale);
        let cross = |index: usize| -> Option<Cross<'_>> {
            Some(Cross {
                section: found.sections.get(index)?,
                lines: ground.sections.get(index)?,
                names: &self.names,
                reach,
                unit: self.unit,
                scale: [along, along * exaggeration],
                highest: bottom - top - 18.0,
            })
        };
        let mut sheets: Vec<PaperSheet> = Vec::new();
        let heading = format!("Cross-sections along {}", found.line.line);
        let (mut x, mut y) = (left, top);
        for cross in (0..found.sections.len()).filter_map(cross) {
            let [width, height] = cross.size();
            if sheets.is_empty() || (y + height > bottom && y > top) {
                y = top;
                x += width + GAP[0];
                if sheets.is_empty() || x + width > right + 1e-6 {
                    x = left;
                    sheets.push(PaperSheet::new(heading.clone(), size));
                }
            }
            if let Some(sheet) = sheets.last_mut() {
                cross.draw(sheet, [x, y]);
            }
            y += height + GAP[1];
        }
        let words = self.words(scale, exaggeration);
        let sheets = sheets.into_iter().map(|sheet| Drawn {
            sheet,
            scale: words.clone(),
            legend: self.legend(),
        });
        Ok((sheets.collect(), scale))
    }

    /// The long-section, over as many sheets as it needs at the scale.
    fn longs(&self, ground: &LongGround<'_>) -> (Vec<Drawn>, u32) {
        let (paper, title) = (&self.options.paper, &self.options.title);
        let size = paper.millimetres();
        let room = room(size, title);
        let wide = room[2] - room[0] - long::LEFT - 4.0;
        let [from, to] = ground.between;
        let length = to - from;
        let scale = match paper.scale {
            // As the cross-sections are, if that is asked for; or all of it on one sheet.
            Some(asked) => asked,
            None => paper.round_scale(length / wide, self.unit),
        };
        let along = self.per_unit(scale);
        let count = (length * along / wide - 1e-9).ceil().clamp(1.0, 1000.0);
        let whole = self.long(ground, [from, to], [along, along]);
        let exaggeration = self.options.exaggeration.unwrap_or_else(|| {
            // As often as fits, ten times at most.
            let [low, high] = whole.heights().unwrap_or([0.0, 1.0]);
            let fits =
                whole.plot_height(room[3] - room[1]) / (1.4 * (high - low).max(1e-6) * along);
            let steps = [LONG, 5.0, 4.0, 3.0, 2.0];
            steps
                .into_iter()
                .find(|times| *times <= fits)
                .unwrap_or(1.0)
        });
        let each = wide / along;
        let sheets = (0..count as u32)
            .map(|number| {
                let start = from + f64::from(number) * each;
                let long = self.long(
                    ground,
                    [start, (start + each).min(to)],
                    [along, along * exaggeration],
                );
                let heading = match self.line {
                    Some(line) => format!("Long-section along {line}"),
                    None => "Profile".into(),
                };
                let mut sheet = PaperSheet::new(heading, size);
                long.title(&mut sheet, [room[0], room[1]]);
                long.draw(&mut sheet, room);
                Drawn {
                    sheet,
                    scale: self.words(scale, exaggeration),
                    legend: self.legend(),
                }
            })
            .collect();
        (sheets, scale)
    }

    /// The mass-haul diagram.
    fn haul(&self, haul: &LineHaul) -> Drawn {
        let size = self.options.paper.millimetres();
        let heading = format!("Mass haul along {}", self.line.unwrap_or_default());
        let mut sheet = PaperSheet::new(heading, size);
        let room = room(size, &self.options.title);
        haul::draw(&mut sheet, haul, self.unit, room);
        let entry = |ink: Ink, words: &str| Entry {
            ink,
            words: words.into(),
        };
        Drawn {
            sheet,
            scale: "none: a diagram".into(),
            legend: vec![
                entry(Ink::Surface(1), "running sum of cut less fill"),
                entry(Ink::Fill, "carried ahead"),
                entry(Ink::Cut, "carried back"),
            ],
        }
    }

    fn long<'g>(&self, ground: &LongGround<'g>, between: [f64; 2], scale: [f64; 2]) -> Long<'g> {
        Long {
            is_line: self.line.is_some(),
            line: ground.line,
            lines: ground.along,
            between,
            unit: self.unit,
            scale,
        }
    }
}
