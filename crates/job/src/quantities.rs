//! What is measured: one file for each quantity, and what they share.

mod balance;
pub(crate) mod bands;
pub(crate) mod between_points;
mod build;
mod capacity;
pub(crate) mod conformity;
mod contours;
mod convert;
mod depths;
mod line_facts;
mod measurement;
pub(crate) mod opinions;
pub(crate) mod pile;
mod profile;
pub(crate) mod sanity;
mod scene;
mod sections;
mod spots;
mod survey_plan;
pub(crate) mod uncertainty;
pub(crate) mod uncertainty_notes;
pub(crate) mod untouched;
mod volume;
mod zone_haul;

pub use balance::{
    BalanceError, BalanceRequest, Balanced, LineShift, ShiftedHeight, TriedShift, balance,
};
pub use bands::{BandFigures, BandSide, Bands, ZoneBands};
pub use build::{BuildError, Built, BuiltGround, Mesh, build, cells, mesh};
pub use capacity::{
    AreasRequest, AreasSource, Capacity, CapacityAnswer, CapacityError, CapacityRequest, LevelRow,
    SpillPoint, capacity, capacity_of_areas,
};
pub use conformity::{
    BeyondSide, Conformity, ConformityLimits, ConformityRequest, ConformityVerdict, CrossfallAt,
    CrossfallsWithin, DifferenceUncertainty, HeightsWithin, Judgement, PatchBeyond, PatchesBeyond,
    PointBeyond, PointsBeyond, SideOfLine, SlopesWithin, ZoneConformity, conformity,
};
pub use contours::{
    ContourLevel, ContourLevels, Contours, ContoursError, ContoursRequest, FoundContours, contours,
};
pub use convert::{ConvertError, ConvertedLine, Converting, Rate, Way};
pub use depths::{DepthSlice, DepthsError, ZoneDepths};
pub use line_facts::LineFacts;
pub(crate) use measurement::volume_of_report;
pub use measurement::{
    Areas, Closure, Difference, Extreme, Measurement, Volumes, WithoutBuildUp, ZoneMeasurement,
};
pub use opinions::{
    Explanation, GridSize, Opinion, OpinionError, OpinionFigure, OpinionMethod, OpinionRules,
    OpinionVerdict, SecondOpinions, StatedError, StatedFigures,
};
pub(crate) use pile::apart;
pub use pile::{
    Outlines, Pile, PileError, PileMaterials, PileRequest, PileSearch, Piles, PilesTotal,
    SearchRules, ToeHeights, VolumeByBase, pile, spread,
};
pub use profile::{
    GroundProfile, ProfileAlong, ProfileAreas, ProfileError, ProfileGround, ProfilePlace,
    ProfileReach, ProfileRequest, profile,
};
pub use scene::{Drawn, Scene};
pub(crate) use scene::{folds, not_compared};
pub use sections::{
    EnoughInterval, ExactVolumes, HaulDirection, HaulOrdinate, HaulPlace, HaulRules, LineHaul,
    LoopOfHaul, Section, SectionCorners, SectionGround, SectionLayer, SectionShares,
    SectionVolumes, Sections, SectionsError, SectionsRequest, SidedAreas, Stretch,
    UncertaintyBySections, sections,
};
pub(crate) use sections::{cuts_along, measured_sections};
pub use spots::{
    MapGround, Spot, SpotHeight, SpotPlaces, SpotState, SpotSummary, Spots, SpotsError,
    SpotsRequest, spots,
};
pub use survey_plan::{
    PlannedSpacing, SurveyPlan, SurveyPlanError, SurveyPlanRequest, survey_plan,
};
pub use uncertainty::{
    BetterSurvey, GainByChance, Uncertainty, UncertaintyOf, UncertaintyParts, ZoneUncertainty,
};
pub use untouched::{
    ExpectedDifference, ProposedUntouched, Tilt, Untouched, UntouchedError, UntouchedVerdict,
    UntouchedZone, WithoutShift,
};
pub use volume::{Request, measure};
pub use zone_haul::{
    HaulRow, HaulSite, HaulSum, HaulZone, ZoneEnd, ZoneHaul, ZoneHaulError, ZoneHaulGround,
    ZoneHaulRequest, zone_haul,
};
