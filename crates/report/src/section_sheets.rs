//! Sheets of cross-sections and of the long-section, drawn to scale.

mod axes;
mod cross;
mod frame;
mod ground_drawing;
mod haul;
mod long;
mod paper_drawing;

use dapedon_core::units::LengthUnit;
use dapedon_job::{SectionGround, Sections};

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

/// Sheets, and the scale of cross-sections, 1 to this.
#[derive(Debug, Clone, PartialEq)]
pub struct SectionSheets {
    /// One after the other.
    pub sheets: Vec<PaperSheet>,
    /// The scale of the cross-sections.
    pub scale: u32,
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
    let sheets = Sheets {
        found,
        ground,
        options,
        unit: found.units.length,
    };
    let (mut all, scale) = sheets.crosses()?;
    all.extend(sheets.longs());
    all.extend(sheets.haul());
    let of = all.len();
    let done = all.into_iter().enumerate().map(|(number, own)| {
        let mut sheet = own.sheet;
        frame::draw(
            &mut sheet,
            &options.title,
            &own.scale,
            [number + 1, of],
            &own.legend,
        );
        sheet
    });
    Ok(SectionSheets {
        sheets: done.collect(),
        scale,
    })
}

/// What all sheets are drawn from.
struct Sheets<'s> {
    found: &'s Sections,
    ground: &'s SectionGround,
    options: &'s SheetOptions,
    unit: LengthUnit,
}

/// A sheet, its scale in words, and what its colours stand for.
struct Drawn {
    sheet: PaperSheet,
    scale: String,
    legend: Vec<Entry>,
}

impl Sheets<'_> {
    fn names(&self) -> Vec<String> {
        let two = [&self.found.reference, &self.found.surveyed].into_iter();
        two.chain(&self.found.others)
            .map(|side| side.source.clone())
            .collect()
    }

    fn legend(&self) -> Vec<Entry> {
        let surfaces = self.names().into_iter().enumerate();
        let mut entries: Vec<Entry> = surfaces
            .map(|(number, words)| Entry {
                ink: Ink::Surface(number),
                words,
            })
            .collect();
        entries.push(Entry {
            ink: Ink::Line,
            words: self.found.line.line.clone(),
        });
        for (ink, words) in [(Ink::Cut, "cut"), (Ink::Fill, "fill")] {
            entries.push(Entry {
                ink,
                words: words.into(),
            });
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

    fn crosses(&self) -> Result<(Vec<Drawn>, u32), ReportError> {
        let (paper, title) = (&self.options.paper, &self.options.title);
        let size = paper.millimetres();
        let [left, top, right, bottom] = room(size, title);
        let reach = self.ground.reach;
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
        let names = self.names();
        let cross = |index: usize| -> Option<Cross<'_>> {
            Some(Cross {
                section: self.found.sections.get(index)?,
                lines: self.ground.sections.get(index)?,
                names: &names,
                reach,
                unit: self.unit,
                scale: [along, along * exaggeration],
                highest: bottom - top - 18.0,
            })
        };
        let mut sheets: Vec<PaperSheet> = Vec::new();
        let heading = format!("Cross-sections along {}", self.found.line.line);
        let (mut x, mut y) = (left, top);
        for cross in (0..self.found.sections.len()).filter_map(cross) {
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
    fn longs(&self) -> Vec<Drawn> {
        let (paper, title) = (&self.options.paper, &self.options.title);
        let size = paper.millimetres();
        let room = room(size, title);
        let wide = room[2] - room[0] - long::LEFT - 4.0;
        let [from, to] = self.ground.between;
        let length = to - from;
        let scale = match paper.scale {
            // As the cross-sections are, if that is asked for; or all of it on one sheet.
            Some(asked) => asked,
            None => paper.round_scale(length / wide, self.unit),
        };
        let along = self.per_unit(scale);
        let count = (length * along / wide - 1e-9).ceil().clamp(1.0, 1000.0);
        let whole = self.long([from, to], [along, along]);
        let exaggeration = self.options.exaggeration.unwrap_or_else(|| {
            // As often as fits, ten times at most.
            let [low, high] = whole.heights().unwrap_or([0.0, 1.0]);
            let fits =
                long::plot_height(room[3] - room[1]) / (1.4 * (high - low).max(1e-6) * along);
            let steps = [LONG, 5.0, 4.0, 3.0, 2.0];
            steps
                .into_iter()
                .find(|times| *times <= fits)
                .unwrap_or(1.0)
        });
        let each = wide / along;
        (0..count as u32)
            .map(|number| {
                let start = from + f64::from(number) * each;
                let long = self.long(
                    [start, (start + each).min(to)],
                    [along, along * exaggeration],
                );
                let heading = format!("Long-section along {}", self.found.line.line);
                let mut sheet = PaperSheet::new(heading, size);
                long.title(&mut sheet, [room[0], room[1]]);
                long.draw(&mut sheet, room);
                Drawn {
                    sheet,
                    scale: self.words(scale, exaggeration),
                    legend: self.legend(),
                }
            })
            .collect()
    }

    /// The mass-haul diagram, where the haul was asked for.
    fn haul(&self) -> Option<Drawn> {
        let haul = self.found.mass_haul.as_ref()?;
        let size = self.options.paper.millimetres();
        let heading = format!("Mass haul along {}", self.found.line.line);
        let mut sheet = PaperSheet::new(heading, size);
        let room = room(size, &self.options.title);
        haul::draw(&mut sheet, haul, self.unit, room);
        let entry = |ink: Ink, words: &str| Entry {
            ink,
            words: words.into(),
        };
        Some(Drawn {
            sheet,
            scale: "none: a diagram".into(),
            legend: vec![
                entry(Ink::Surface(1), "running sum of cut less fill"),
                entry(Ink::Fill, "carried ahead"),
                entry(Ink::Cut, "carried back"),
            ],
        })
    }

    fn long(&self, between: [f64; 2], scale: [f64; 2]) -> Long<'_> {
        Long {
            line: &self.ground.line,
            lines: &self.ground.along,
            between,
            unit: self.unit,
            scale,
        }
    }
}
