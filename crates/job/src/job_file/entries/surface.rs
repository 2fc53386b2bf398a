//! Entries of surfaces and their steps.

use schemars::JsonSchema;
use serde::Deserialize;
use toml::Spanned;

use super::{
    AccuracyEntry, BenchEntry, DateEntry, Name, Numbers, OneOrMany, RegradeEntry, SweptEntry,
};
use crate::units::UnitCode;
use dapedon_core::units::LengthUnit;

/// Adds the keys that say how a file is read to those of a struct, so that a surface and a reading kept under a name have the
/// same ones.
macro_rules! with_reading_keys {
    ($(#[$about:meta])* struct $name:ident { $($own:tt)* }) => {
        $(#[$about])*
        #[derive(Debug, Deserialize, JsonSchema)]
        #[serde(deny_unknown_fields, rename_all = "kebab-case")]
        pub(crate) struct $name {
            $($own)*
            /// Length unit of a file without one, if it differs from the job's.
            pub(crate) unit: Option<UnitCode<LengthUnit>>,
            /// The file states a wrong unit: use the key unit instead.
            #[serde(default)]
            pub(crate) override_unit: bool,
            /// Columns of delimited text, in order, as in "point,east,north,height,code".
            #[schemars(with = "Option<String>")]
            pub(crate) columns: Option<Name>,
            /// Use of point codes or drawing layers, as in "CREST,TOE=breakline".
            #[schemars(with = "Option<OneOrMany>")]
            pub(crate) codes: Option<Spanned<OneOrMany>>,
            /// Height that marks a missing measurement.
            pub(crate) nodata: Option<f64>,
            /// Height to use where several points have one position: first, last, lowest, highest or mean.
            pub(crate) duplicates: Option<DuplicatesEntry>,
            /// Remove triangles with a longer edge, except along breaklines.
            #[schemars(with = "Option<f64>")]
            pub(crate) max_edge: Option<Spanned<f64>>,
            /// Flat triangles between points of one contour: keep, drop, or relax with points along valleys and ridges.
            pub(crate) flat_triangles: Option<FlatTrianglesEntry>,
            /// Remove outliers: points far above or below all their neighbours.
            #[serde(default)]
            pub(crate) drop_outliers: bool,
            /// File of outlines that limit the triangulation of points.
            #[schemars(with = "Option<String>")]
            pub(crate) outline: Option<Name>,
            /// Attribute that names the features of GeoJSON files and shapefiles.
            pub(crate) name_attribute: Option<String>,
            /// Attribute that holds the heights of features of GeoJSON files and shapefiles, such as contours.
            pub(crate) height_by: Option<String>,
            /// Classes of a point cloud to use: ground, all, or numbers as in "2,8".
            #[schemars(with = "Option<String>")]
            pub(crate) classes: Option<Name>,
            /// Cell size for thinning a point cloud.
            #[schemars(with = "Option<f64>")]
            pub(crate) thin: Option<Spanned<f64>>,
            /// Height kept in each cell of a thinned cloud: lowest, mean, median or highest.
            pub(crate) keep: Option<KeepEntry>,
            /// Triangulate the thinned cloud, one point per cell, instead of a grid.
            #[serde(default)]
            pub(crate) triangulate: bool,
        }
    };
}

with_reading_keys! {
    /// A surface: from a file, a level or another surface, with steps that change it.
    struct SurfaceEntry {
        /// File of the surface; `file#name` for one of several; `a.laz+b.laz` or a folder for a point
        /// cloud.
        #[schemars(with = "Option<String>")]
        pub(crate) file: Option<Name>,
        /// Height of a level surface.
        #[schemars(with = "Option<f64>")]
        pub(crate) level: Option<Spanned<f64>>,
        /// Another surface of the job to start from.
        #[schemars(with = "Option<String>")]
        pub(crate) start: Option<Name>,
        /// Steps that change the surface, in order.
        #[serde(default)]
        #[schemars(with = "Vec<StepEntry>")]
        pub(crate) steps: Vec<Spanned<StepEntry>>,
        /// Finished level, above a build-up. A warning is given when it is measured without its
        /// build-up.
        #[serde(default)]
        pub(crate) finished: bool,
        /// How accurate its points are: a kind of survey, numbers, or both, as in "gnss" or "gnss,height=0.03".
        #[schemars(with = "Option<AccuracyEntry>")]
        pub(crate) accuracy: Option<Spanned<AccuracyEntry>>,
        /// Day of the survey, as in 2031-03-31 [default: that of the surface it starts from].
        #[schemars(with = "Option<DateEntry>")]
        pub(crate) date: Option<Spanned<DateEntry>>,
        /// Reading kept under a name that says how the file is read; keys here go before its own.
        #[serde(rename = "as")]
        #[schemars(rename = "as", with = "Option<String>")]
        pub(crate) read_as: Option<Name>,
    }
}

with_reading_keys! {
    /// How files of one origin are read, kept under a name for `as` and `--as`.
    struct ReadingEntry {}
}

impl SurfaceEntry {
    /// The keys that say how its file is read.
    pub(crate) fn reading(&self) -> ReadingEntry {
        ReadingEntry {
            unit: self.unit,
            override_unit: self.override_unit,
            columns: self.columns.clone(),
            codes: self.codes.clone(),
            nodata: self.nodata,
            duplicates: self.duplicates,
            max_edge: self.max_edge.clone(),
            flat_triangles: self.flat_triangles,
            drop_outliers: self.drop_outliers,
            outline: self.outline.clone(),
            name_attribute: self.name_attribute.clone(),
            height_by: self.height_by.clone(),
            classes: self.classes.clone(),
            thin: self.thin.clone(),
            keep: self.keep,
            triangulate: self.triangulate,
        }
    }
}

/// What becomes of flat triangles between points of one contour.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum FlatTrianglesEntry {
    Keep,
    Drop,
    Relax,
}

/// Which height holds where one place is given with several.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum DuplicatesEntry {
    First,
    Last,
    Lowest,
    Highest,
    Mean,
}

/// The height that a cell of a cloud keeps.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum KeepEntry {
    Lowest,
    Mean,
    Median,
    Highest,
}

/// A step makes one change, within its zones if it has any.
#[derive(Debug, Default, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case", default)]
#[schemars(extend("minProperties" = 1))]
pub(crate) struct StepEntry {
    /// Zones that limit the step.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) zones: Option<Spanned<OneOrMany>>,
    /// Raise by a height.
    pub(crate) raise: Option<f64>,
    /// Lower by a height.
    pub(crate) lower: Option<f64>,
    /// Set to a level.
    pub(crate) level: Option<f64>,
    /// Move in plan, by east and north.
    #[serde(rename = "move")]
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) shift: Option<Numbers<2>>,
    /// Use the higher of this surface and another.
    #[schemars(with = "Option<String>")]
    pub(crate) highest: Option<Name>,
    /// Use the lower of this surface and another.
    #[schemars(with = "Option<String>")]
    pub(crate) lowest: Option<Name>,
    /// Replace by another surface where that one covers.
    #[schemars(with = "Option<String>")]
    pub(crate) replace: Option<Name>,
    /// Keep only the part inside or outside the zones.
    pub(crate) keep: Option<SideEntry>,
    /// Add a platform with side slopes.
    pub(crate) platform: Option<PlatformEntry>,
    /// Add an embankment along a line, with side slopes.
    pub(crate) embankment: Option<EmbankmentEntry>,
    /// Add a typical section along a line, with side slopes.
    pub(crate) swept: Option<SweptEntry>,
    /// Make the ground within the zones anew from points and lines.
    pub(crate) regrade: Option<RegradeEntry>,
    /// Lower by the layers of build-ups, each within its own zones.
    #[schemars(with = "Option<OneOrMany>")]
    pub(crate) build_up: Option<Spanned<OneOrMany>>,
    /// Lower only down to the top of this layer.
    #[schemars(with = "Option<String>")]
    pub(crate) stop_at: Option<Name>,
    /// Build-up to use where zones overlap. Without it, overlaps are refused.
    pub(crate) overlap: Option<OverlapEntry>,
    /// Difference of heights: this surface less another.
    #[schemars(with = "Option<String>")]
    pub(crate) difference: Option<Name>,
    /// Raise or lower the whole surface so that within the zones, which nobody touched, it agrees with another.
    #[schemars(with = "Option<String>")]
    pub(crate) fit_to: Option<Name>,
    /// Take off a tilt too, with fit-to.
    #[serde(default)]
    pub(crate) tilt: bool,
}

/// Which build-up holds where zones overlap.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum OverlapEntry {
    /// The one that is named first.
    First,
}

/// Which side of zones is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum SideEntry {
    Inside,
    Outside,
}

/// A platform: a zone at a level, or with a fall, and side slopes to the ground.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct PlatformEntry {
    /// Zone of the platform.
    #[schemars(with = "String")]
    pub(crate) outline: Name,
    /// Height of the platform. With a fall: at the position `at`, or at the centre of the outline's
    /// extent.
    pub(crate) level: f64,
    /// Fall per unit of length, as in 0.02 for 2 %.
    #[serde(default)]
    pub(crate) fall: f64,
    /// Direction of the fall, in degrees clockwise from north.
    pub(crate) towards: Option<f64>,
    /// Position of `level` on a platform with a fall, as east and north.
    #[schemars(with = "Option<[f64; 2]>")]
    pub(crate) at: Option<Numbers<2>>,
    /// Slope in cut, n of 1:n.
    pub(crate) cut_slope: f64,
    /// Slope in fill, n of 1:n.
    pub(crate) fill_slope: f64,
    /// Benches in cut.
    pub(crate) cut_bench: Option<BenchEntry>,
    /// Benches in fill.
    pub(crate) fill_bench: Option<BenchEntry>,
    /// Surface that the slopes meet [default: the surface before this step].
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// Chord tolerance: largest distance between the rounded slope at a corner and its straight
    /// pieces [default: 0.01 m].
    pub(crate) chord_tolerance: Option<f64>,
}

/// An embankment: a top along a line with heights, and side slopes to the ground.
#[derive(Debug, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields, rename_all = "kebab-case")]
pub(crate) struct EmbankmentEntry {
    /// Line along the middle of the top.
    #[schemars(with = "String")]
    pub(crate) line: Name,
    /// Width of the top.
    pub(crate) width: f64,
    /// Slope in cut, n of 1:n.
    pub(crate) cut_slope: f64,
    /// Slope in fill, n of 1:n.
    pub(crate) fill_slope: f64,
    /// Benches in cut.
    pub(crate) cut_bench: Option<BenchEntry>,
    /// Benches in fill.
    pub(crate) fill_bench: Option<BenchEntry>,
    /// Surface that the slopes meet [default: the surface before this step].
    #[schemars(with = "Option<String>")]
    pub(crate) until: Option<Name>,
    /// Shape of both ends: sloping like the sides, or upright [default: sloping].
    pub(crate) ends: Option<EndsEntry>,
    /// Chord tolerance: largest distance between the rounded slope at a corner and its straight
    /// pieces [default: 0.01 m].
    pub(crate) chord_tolerance: Option<f64>,
}

/// How an embankment ends.
#[derive(Debug, Clone, Copy, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub(crate) enum EndsEntry {
    Sloping,
    Upright,
}
