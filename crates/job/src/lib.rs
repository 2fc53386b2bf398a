//! # dapedon-job
//!
//! From files and their names to measured figures: a [`Source`] says where a surface comes from,
//! [`measure`] loads both sides and the zones, brings them to one unit and frame, measures, and
//! states what it did on the way. [`build`] makes one surface to be passed on, and [`inspect()`] says
//! what is in a file before it is trusted.

#![cfg_attr(not(test), warn(clippy::arithmetic_side_effects))]

mod accuracy;
mod band_rules;
mod bill;
mod calendar;
mod claims;
mod conformity_rules;
mod context;
mod digits;
mod error;
mod figure;
mod finding;
mod input;
mod inspect;
mod job_file;
mod progress;
mod quantities;
mod schema;
mod section_rules;
mod site;
mod surfaces;
mod units;
mod watch;
mod zones;

pub use accuracy::{
    AccuracyError, AccuracyInFile, COVERAGE_FACTOR, StatedAccuracy, StatedByPoint, SurfaceAccuracy,
    SurveyKind,
};
pub use band_rules::{BandRules, BandSteps, BandsError, BandsSource, Colour};
pub use bill::{
    AmountUncertainty, Bill, BillConformity, BillError, BillItem, BillSection, BillUntouched,
    FactorName, FactorOfItem, FarthestBeyond, FurtherCount, Hauled, ItemChange, ItemMap, ItemRow,
    ItemSections, ItemUncertainty, LimitFacts, MapSpot, MaterialBalance, MaterialFacts,
    MaterialOfItem, SurfacePair, ToLimit, VehicleFacts, WorkToLimit, bill,
};
pub use calendar::WorkDays;
pub use claims::{
    Audit, AuditRequest, AuditedClaim, AuditedFile, Claim, ClaimAmount, ClaimCertificate,
    ClaimComparison, ClaimCorrection, ClaimError, ClaimLine, ClaimList, ClaimMaps, ClaimPeriod,
    ClaimStatus, ComparedClaim, ComparedLine, DrawnClaim, FileState, IssuedClaim, ListedClaim,
    MovedFigure, PackRequest, Packed, PackedFile, PriceAdjustment, PrintedDigest, QuantityFrom,
    RECORD_VERSION, RecordError, RecordOf, Verdict, audit, compare_claims, draw_up, is_record,
    issue, list_claims, maps_of_claim, pack, show_claim,
};
pub use conformity_rules::{Acceptance, ConformityError, CrossfallRules, LimitRules, Share, Slope};
pub use context::{Context, Pictures};
pub use digits::in_threes;
pub use error::{JobError, JobFileLine, PlaceInPlan};
pub use figure::{Area, Figure, Length, Unit, Volume};
pub use finding::{Code as FindingCode, Finding, Severity};
pub use input::{
    BaseSource, ClassFound, Classes, ClassesError, CloudFound, CloudRules, FilesRead, InputError,
    InputFile, LineSource, Memory, MemoryError, Reading, Source, SourceError, Thin, ZoneSource,
    digest,
};
pub use inspect::{
    AttributeFound, CellsFound, ColumnsFound, EmptyFound, FeaturesFound, Inspected, Inspection,
    LayerFound, LineFound, PairFound, SeparateArea, StatedVolumeFound, SurfaceFound, ZoneFound,
    inspect, names_are_found, pair,
};
pub use job_file::{
    JOB_FILE, Job, JobFacts, JobFileError, Layer, NameError, job_schema, named_bands,
    named_reading, readings_of, starter,
};
pub use progress::{
    DesignQuantity, Forecast, ItemProgress, PaceForecast, PeriodRow, Progress, ProgressError,
    SurveyProgress, progress,
};
pub use quantities::{
    Areas, AreasRequest, AreasSource, BalanceError, BalanceRequest, Balanced, BandFigures,
    BandSide, Bands, BetterSurvey, BeyondSide, BuildError, Built, BuiltGround, Capacity,
    CapacityAnswer, CapacityError, CapacityRequest, Closure, Conformity, ConformityLimits,
    ConformityRequest, ConformityVerdict, ContourLevel, ContourLevels, Contours, ContoursError,
    ContoursRequest, ConvertError, ConvertedLine, Converting, CrossfallAt, CrossfallsWithin,
    DepthSlice, DepthsError, Difference, DifferenceUncertainty, Drawn, EnoughInterval,
    ExactVolumes, ExpectedDifference, Explanation, Extreme, FoundContours, GainByChance, GridSize,
    GroundProfile, HaulDirection, HaulOrdinate, HaulPlace, HaulRow, HaulRules, HaulSite, HaulSum,
    HaulZone, HeightsWithin, Judgement, LevelRow, LineFacts, LineHaul, LineShift, LoopOfHaul,
    MapGround, Measurement, Mesh, Opinion, OpinionError, OpinionFigure, OpinionMethod,
    OpinionRules, OpinionVerdict, Outlines, PatchBeyond, PatchesBeyond, Pile, PileError,
    PileMaterials, PileRequest, PileSearch, Piles, PilesTotal, PlannedSpacing, PointBeyond,
    PointsBeyond, ProfileAlong, ProfileAreas, ProfileError, ProfileGround, ProfilePlace,
    ProfileReach, ProfileRequest, ProposedUntouched, Rate, Request, Scene, SearchRules,
    SecondOpinions, Section, SectionCorners, SectionGround, SectionLayer, SectionShares,
    SectionVolumes, Sections, SectionsError, SectionsRequest, ShiftedHeight, SideOfLine,
    SidedAreas, SlopesWithin, SpillPoint, Spot, SpotHeight, SpotPlaces, SpotState, SpotSummary,
    Spots, SpotsError, SpotsRequest, StatedError, StatedFigures, Stretch, SurveyPlan,
    SurveyPlanError, SurveyPlanRequest, Tilt, ToeHeights, TriedShift, Uncertainty,
    UncertaintyBySections, UncertaintyOf, UncertaintyParts, Untouched, UntouchedError,
    UntouchedVerdict, UntouchedZone, VolumeByBase, Volumes, Way, WithoutBuildUp, WithoutShift,
    ZoneBands, ZoneConformity, ZoneDepths, ZoneEnd, ZoneHaul, ZoneHaulError, ZoneHaulGround,
    ZoneHaulRequest, ZoneMeasurement, ZoneUncertainty, balance, build, capacity, capacity_of_areas,
    cells, conformity, contours, measure, mesh, pile, profile, sections, spots, spread,
    survey_plan, zone_haul,
};
pub use schema::{Schema, Word, result_schema};
pub use section_rules::{SectionRule, SectionRules};
pub use site::SiteError;
pub use surfaces::{
    Change, Count, DrawnLines, GroundError, LayerQuantity, LineError, NoOverlapError, Origin,
    OutlierFound, PoolError, Recipe, Step, SurfaceError, SurfaceFacts,
};
pub use units::{
    ReportUnits, RequestedAreaUnit, RequestedUnit, RequestedUnits, RequestedVolumeUnit,
};
pub use watch::{Activity, StoppedError, Watch};
pub use zones::ZoneOrigin;

/// The examples of the page that introduces the crate.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;
