//! What the files do not say themselves.

use std::path::PathBuf;

use dapedon_core::points::Rules;
use dapedon_core::units::LengthUnit;
use dapedon_formats::CodeUses;
use dapedon_formats::delimited::{self, Role};

use crate::finding::{Code, Finding};
use crate::input::cloud::{self, CloudRules};
use crate::input::file::FilesRead;
use crate::input::memory::Memory;

/// How files are read, and surfaces made of what they hold.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Reading {
    /// The name that it is kept under, if it is.
    pub named: Option<String>,
    /// What the columns of delimited text hold.
    pub columns: Option<Vec<Role>>,
    /// What codes of points and layers of drawings are taken as.
    pub take: CodeUses,
    /// The unit of files that say none; one that a file itself contradicts is reported.
    pub unit: Option<LengthUnit>,
    /// That unit holds for files with another one as well.
    pub override_unit: bool,
    /// The unit of files that say none by default: that of the job.
    pub usual_unit: Option<LengthUnit>,
    /// The height that means that none was measured.
    pub nodata: Option<f64>,
    /// How points and lines are made a surface.
    pub rules: Rules,
    /// Points whose height is odd are dropped.
    pub drop_outliers: bool,
    /// A file of outlines that a surface made from points ends at.
    pub outline: Option<PathBuf>,
    /// The attribute that names features of maps; without, `name`.
    pub name_attribute: Option<String>,
    /// The attribute that holds the heights of features of maps.
    pub height_by: Option<String>,
    /// How clouds are taken.
    pub cloud: CloudRules,
    /// The memory that what is made of them may take.
    pub memory: Memory,
    /// Files in different coordinate systems are measured against each other all the same.
    pub ignore_crs: bool,
    /// What is read.
    pub files: FilesRead,
}

impl Reading {
    /// This one, with what it does not say from one that is kept under a name.
    #[must_use]
    pub fn over(self, kept: &Reading) -> Reading {
        fn or<T: PartialEq + Default + Clone>(own: T, kept: &T) -> T {
            if own == T::default() {
                kept.clone()
            } else {
                own
            }
        }
        Reading {
            named: self.named.or_else(|| kept.named.clone()),
            columns: or(self.columns, &kept.columns),
            take: or(self.take, &kept.take),
            unit: or(self.unit, &kept.unit),
            override_unit: self.override_unit || kept.override_unit,
            usual_unit: or(self.usual_unit, &kept.usual_unit),
            nodata: or(self.nodata, &kept.nodata),
            rules: Rules {
                max_edge: or(self.rules.max_edge, &kept.rules.max_edge),
                duplicates: or(self.rules.duplicates, &kept.rules.duplicates),
                flat: or(self.rules.flat, &kept.rules.flat),
            },
            drop_outliers: self.drop_outliers || kept.drop_outliers,
            outline: or(self.outline, &kept.outline),
            name_attribute: or(self.name_attribute, &kept.name_attribute),
            height_by: or(self.height_by, &kept.height_by),
            cloud: CloudRules {
                classes: or(self.cloud.classes, &kept.cloud.classes),
                thin: or(self.cloud.thin, &kept.cloud.thin),
                keep: or(self.cloud.keep, &kept.cloud.keep),
                triangulate: self.cloud.triangulate || kept.cloud.triangulate,
            },
            memory: self.memory,
            ignore_crs: self.ignore_crs,
            files: self.files,
        }
    }

    /// True when it says how points are made a surface.
    pub(crate) fn shapes_points(&self) -> bool {
        self.drop_outliers || self.outline.is_some() || self.rules != Rules::default()
    }

    /// What to say where clouds see how to be taken, and there is none.
    pub(crate) fn clouds_unused(&self, formats: &[&str]) -> Option<Finding> {
        let said = self.cloud != CloudRules::default();
        let is_used = formats.iter().any(|format| cloud::is_called_one(format));
        (said && !is_used).then(|| {
            let words =
                "no input is a cloud: --classes, --thin, --keep and --triangulate have no effect";
            Finding::new(Code::NoEffect, words)
        })
    }

    /// The unit of files that say none.
    pub(crate) fn unit_of_files(&self) -> Option<LengthUnit> {
        self.unit.or(self.usual_unit)
    }

    /// The unit that lengths are in whatever the files say.
    pub(crate) fn forced_unit(&self) -> Option<LengthUnit> {
        self.unit.filter(|_| self.override_unit)
    }

    /// What to say of a file whose own unit is not the one that was given, where other files needed that.
    pub(crate) fn unit_unused(&self, own: Option<LengthUnit>) -> Option<Finding> {
        let (own, said) = own.zip(self.unit).filter(|(own, said)| own != said)?;
        let words = format!(
            "unit of the file: {}. The {} of the command line was not used: it is for files without a unit",
            own.name(),
            said.name()
        );
        Some(Finding::new(Code::UnitNotUsed, words))
    }

    pub(crate) fn delimited(&self) -> delimited::Options {
        delimited::Options {
            roles: self.columns.clone(),
            take: self.take.clone(),
            places_only: false,
        }
    }
}
