//! `schema`: the JSON Schema of job files and of results.

use dapedon_job::{
    Audit, Balanced, Bill, Built, Capacity, Claim, ClaimComparison, ClaimList, Conformity,
    Contours, GroundProfile, Inspected, Measurement, Packed, Piles, Progress, Sections, Spots,
    SurveyPlan, ZoneHaul, job_schema, result_schema,
};

use crate::args::{SchemaArgs, SchemaOf};
use crate::error::CommandError;
use crate::output::Outputs;

pub(crate) fn run(args: &SchemaArgs) -> Result<(), CommandError> {
    let schema = match args.what {
        SchemaOf::JobFile => job_schema(),
        SchemaOf::Audit => result_schema::<Audit>(),
        SchemaOf::Claim => result_schema::<Claim>(),
        SchemaOf::ClaimCompare => result_schema::<ClaimComparison>(),
        SchemaOf::ClaimList => result_schema::<ClaimList>(),
        SchemaOf::ClaimPack => result_schema::<Packed>(),
        SchemaOf::Inspect => result_schema::<Inspected>(),
        SchemaOf::Surface => result_schema::<Built>(),
        SchemaOf::Volume => result_schema::<Measurement>(),
        SchemaOf::Conformity => result_schema::<Conformity>(),
        SchemaOf::Plan => result_schema::<SurveyPlan>(),
        SchemaOf::Spots => result_schema::<Spots>(),
        SchemaOf::Haul => result_schema::<ZoneHaul>(),
        SchemaOf::Profile => result_schema::<GroundProfile>(),
        SchemaOf::Sections => result_schema::<Sections>(),
        SchemaOf::Contours => result_schema::<Contours>(),
        SchemaOf::Pile => result_schema::<Piles>(),
        SchemaOf::Capacity => result_schema::<Capacity>(),
        SchemaOf::Measure => result_schema::<Bill>(),
        SchemaOf::Progress => result_schema::<Progress>(),
        SchemaOf::Balance => result_schema::<Balanced>(),
    };
    let schema = serde_json::to_string_pretty(&schema)?;
    Outputs::default().finish(|out| writeln!(out, "{schema}"))
}
