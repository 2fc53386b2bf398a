//! What is measured: a fold over the overlay for each quantity, and what is found from outlines and levels.

pub(crate) mod balance;
pub(crate) mod bands;
pub(crate) mod base;
pub(crate) mod bending;
pub(crate) mod between_points;
pub(crate) mod capacity;
#[cfg(test)]
pub(crate) mod chance;
pub(crate) mod conformity;
pub(crate) mod contour_labels;
pub(crate) mod contours;
pub(crate) mod crossfall;
pub(crate) mod depths;
pub(crate) mod difference_map;
pub(crate) mod end_areas;
pub(crate) mod grid_trend;
pub(crate) mod ground_area;
pub(crate) mod haul_plan;
pub(crate) mod level_area;
pub(crate) mod long_section;
pub(crate) mod mass_haul;
pub(crate) mod middles;
pub(crate) mod overlaps;
pub(crate) mod parallel_sections;
pub(crate) mod payable;
pub(crate) mod plan_shift;
pub(crate) mod planned_survey;
pub(crate) mod raster;
pub(crate) mod sampled;
pub(crate) mod section;
pub(crate) mod section_patches;
pub(crate) mod spots;
pub(crate) mod spread;
pub(crate) mod standing;
pub(crate) mod steady_ground;
pub(crate) mod uncertainty;
pub(crate) mod water;

pub use crate::overlay::coverage::{Coverage, Overlap, coverage, shared_area};
pub use crate::overlay::volume::{
    Areas, Differences, Extreme, Tolerance, Volumes, ZoneVolume, volume, volumes,
};
pub use balance::{Balance, Search, Shifted, at_rest, balance, balance_by};
pub use bands::{Band, BandEdges, BandEdgesError, bands};
pub use base::{Base, BaseError, Toe, weighed_above_base};
pub use bending::{Bending, bending};
pub use between_points::{BetweenPoints, between_points, between_points_by};
pub use capacity::{
    Basin, Between, Pool, PoolError, Spill, TypedAreas, TypedAreasError, average_end_area, conic,
};
pub use conformity::{
    BeyondLimit, Conformity, HeightLimits, PatchBeyond, PlaceUncertainty, SlopeAt, SlopeBeyond,
    SlopeConformity, SlopeLimits, conformity, patches_beyond, slope_conformity,
};
pub use contour_labels::ContourLabel;
pub use contours::{Contour, contours, crossings};
pub use crossfall::Crossfall;
pub use depths::{DeeperThan, depths};
pub use difference_map::{
    DifferenceMap, Pixel, difference_map, difference_map_with_bands, pixels_in_room,
};
pub use end_areas::{EndAreaRule, StretchAreas};
pub use grid_trend::{GridEstimate, GridLevel, GridRange, GridTrend, grid_trend};
pub use ground_area::{GroundArea, ground_areas};
pub use haul_plan::{Flow, HaulEnd, HaulPlan, HaulPlanError, haul_plan};
pub use level_area::{SideOfLevel, level_area};
pub use long_section::{LeavesSurface, laid_on, long_section};
pub use mass_haul::{Haul, HaulLoop, HaulStretch, MassHaul, mass_haul};
pub use middles::{Bodies, Body, bodies, bodies_over};
pub use overlaps::each_overlap;
pub use parallel_sections::{ParallelSections, parallel_sections};
pub use payable::{Payable, PayablePart, ToLimit, payable, payable_uncertainty};
pub use plan_shift::{PlanShift, plan_shift};
pub use planned_survey::{PlannedSurvey, planned_survey};
pub use sampled::{Sampled, sampled};
pub use section::{Cut, SectionArea, SectionAreas, SectionLine, SectionPart, cut_through};
pub use section_patches::SectionPatch;
pub use spots::{SpotGrid, TooManySpots};
pub use spread::{FittedPlane, Spread, points_within, spread, spread_together};
pub use standing::{FoundPile, PileRules, standing};
pub use steady_ground::{SteadyGround, steady_ground};
pub use uncertainty::{
    Accuracy, BandUncertainty, BothSides, CountedCut, GainByChance, PointWeights, UncertaintyParts,
    VolumeUncertainty, WeighedVolumes, band_uncertainty, section_uncertainty, slice_uncertainty,
    weighed_volumes,
};
pub use water::WaterAtLevel;
