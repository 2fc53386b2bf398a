//! The model of a report: what a result says of itself, in blocks, whoever writes them.

mod formula;
mod table;

use dapedon_job::{Finding, InputFile, JobFacts, SurfaceFacts};

pub use formula::Formula;
pub use table::{Cell, Column, Group, Kind, Row, RowKind, Table};

/// A result, described.
#[derive(Debug, Clone, Default)]
pub struct Report {
    /// What stands across it, as that it is a draft.
    pub mark: Option<String>,
    /// What it is, in a sentence or two.
    pub lead: Vec<String>,
    /// The job whose names were used.
    pub job: Option<JobFacts>,
    /// The figures that are looked for first.
    pub headlines: Vec<Headline>,
    /// What was measured from.
    pub inputs: Vec<Input>,
    /// All of it, in order.
    pub blocks: Vec<(ShownOn, Block)>,
    /// What must be known of it, or is not as it should be.
    pub findings: Vec<Finding>,
}

/// Who is shown a block, a column or an input.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum ShownOn {
    /// Everybody.
    #[default]
    Both,
    /// Whoever reads a terminal.
    Terminal,
    /// Whoever reads a page or a spreadsheet.
    Page,
    /// Whoever reads a spreadsheet.
    Sheet,
}

/// A part of a report.
#[derive(Debug, Clone)]
pub enum Block {
    /// A heading; of a smaller part where `small` is set.
    Heading {
        /// The words.
        words: String,
        /// It is part of what stands under the heading before.
        small: bool,
    },
    /// A sentence or more.
    Paragraph(String),
    /// Lines, as they are; spaces at their beginning say what is below what.
    Lines(Vec<String>),
    /// Short labels, each with the notes on it.
    Facts(Vec<(String, String)>),
    /// What was done on the way.
    Notes(Vec<String>),
    /// A table.
    Table(Table),
    /// A picture.
    Picture(Picture),
    /// What was measured from: the inputs of the report.
    Inputs,
}

/// A figure that is looked for first.
#[derive(Debug, Clone)]
pub struct Headline {
    /// What it is.
    pub label: String,
    /// The figure with its unit.
    pub figure: String,
    /// What it means.
    pub words: String,
}

/// Something that was measured from.
#[derive(Debug, Clone)]
pub struct Input {
    /// What it was to the measurement.
    pub role: String,
    /// What it is.
    pub of: InputOf,
}

/// What an input is.
#[derive(Debug, Clone)]
pub enum InputOf {
    /// A surface.
    Side(Box<SurfaceFacts>),
    /// Another file, as of zones.
    File(InputFile),
}

/// A picture.
#[derive(Debug, Clone)]
pub struct Picture {
    /// What it shows.
    pub caption: String,
    /// The picture, as SVG.
    pub svg: String,
}

impl Report {
    /// Adds a block for everybody.
    pub fn add(&mut self, block: Block) {
        self.blocks.push((ShownOn::Both, block));
    }

    /// Adds a block for some.
    pub fn add_on(&mut self, on: ShownOn, block: Block) {
        self.blocks.push((on, block));
    }

    /// Adds a heading for everybody.
    pub fn heading(&mut self, words: impl Into<String>) {
        self.add(Block::heading(words));
    }

    /// Adds pictures for a page, under one heading.
    pub fn pictures(&mut self, heading: &str, pictures: Vec<Picture>) {
        if !pictures.is_empty() {
            self.add_on(ShownOn::Page, Block::heading(heading));
        }
        for picture in pictures {
            self.add_on(ShownOn::Page, Block::Picture(picture));
        }
    }

    /// The tables that a spreadsheet gets, in order.
    pub(crate) fn sheets(&self) -> impl Iterator<Item = &Table> {
        self.blocks.iter().filter_map(|(on, block)| match block {
            Block::Table(table) if on.sheet() => Some(table),
            _ => None,
        })
    }
}

impl Block {
    /// A heading.
    pub fn heading(words: impl Into<String>) -> Self {
        let words = words.into();
        Block::Heading {
            words,
            small: false,
        }
    }
}

impl ShownOn {
    /// True for what is shown on a terminal.
    pub fn terminal(self) -> bool {
        matches!(self, ShownOn::Both | ShownOn::Terminal)
    }

    /// True for what is shown on a page.
    pub fn page(self) -> bool {
        matches!(self, ShownOn::Both | ShownOn::Page)
    }

    /// True for what a spreadsheet gets.
    pub fn sheet(self) -> bool {
        self != ShownOn::Terminal
    }
}

impl Input {
    /// A surface that was measured from.
    pub fn side(role: &str, side: &SurfaceFacts) -> Self {
        Input {
            role: role.into(),
            of: InputOf::Side(Box::new(side.clone())),
        }
    }

    /// The files of zones.
    pub fn zones(files: &[InputFile]) -> impl Iterator<Item = Self> {
        Input::files("Zones", files)
    }

    /// The files of lines that are drawn over a map.
    pub fn lines(files: &[InputFile]) -> impl Iterator<Item = Self> {
        Input::files("Line on the map", files)
    }

    /// Other files, in some role.
    pub fn files(role: &str, files: &[InputFile]) -> impl Iterator<Item = Self> {
        files.iter().map(move |file| Input {
            role: role.into(),
            of: InputOf::File(file.clone()),
        })
    }
}
