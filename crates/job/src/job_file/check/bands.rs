//! Bands of difference whose edges can be meant.

use dapedon_core::quantities::{BandEdges, Tolerance};
use toml::Spanned;

use super::super::JobFileError;
use super::super::entries::{BandsEntry, Name};
use super::JobFileText;
use crate::band_rules::{BandRules, BandSteps, Colour};

/// Checks bands.
pub(super) fn bands(
    sheet: &JobFileText<'_>,
    name: &Name,
    entry: &BandsEntry,
) -> Result<BandRules, JobFileError> {
    let middle = match &entry.middle {
        None => None,
        Some(middle) => Some(Tolerance::new(*middle.get_ref()).ok_or_else(|| {
            let what = format!("{} is not the height of a middle band", middle.get_ref());
            sheet.fault(middle.span(), what, "use a height of zero or more")
        })?),
    };
    let steps = match (&entry.edges, &entry.step) {
        (Some(edges), None) => {
            let made = BandEdges::new(edges.get_ref(), middle.unwrap_or(Tolerance::ZERO));
            let made = made.map_err(|error| {
                let remedy = "list the edges in rising order, outside the middle band, as in [-1.0, -0.5, 0.5, 1.0]";
                sheet.fault(edges.span(), error.to_string(), remedy)
            })?;
            return Ok(BandRules {
                colours: colours(sheet, entry, made.count())?,
                ..rules(sheet, name, BandSteps::At(edges.get_ref().clone()), middle)
            });
        }
        (None, Some(step)) if *step.get_ref() > 0.0 && step.get_ref().is_finite() => {
            BandSteps::Equal(*step.get_ref())
        }
        (None, Some(step)) => {
            let what = format!("{} is not the height of a band", step.get_ref());
            return Err(sheet.fault(step.span(), what, "use a height above zero"));
        }
        (edges, _) => {
            let what = match edges {
                Some(_) => "the bands have both edges and a step",
                None => "the bands have neither edges nor a step",
            };
            let remedy = "give one of edges = [...] and step = ...";
            return Err(sheet.fault(name.span(), what, remedy));
        }
    };
    if let Some(colours) = &entry.colours {
        let what = "colours belong to edges, and these bands have a step";
        return Err(sheet.fault(colours.span(), what, "give edges = [...] in place of step"));
    }
    Ok(rules(sheet, name, steps, middle))
}

fn rules(
    sheet: &JobFileText<'_>,
    name: &Name,
    steps: BandSteps,
    middle: Option<Tolerance>,
) -> BandRules {
    BandRules {
        name: Some(name.get_ref().clone()),
        middle,
        unit: Some(sheet.unit),
        ..BandRules::of(steps)
    }
}

/// The colours, one for each of the bands.
fn colours(
    sheet: &JobFileText<'_>,
    entry: &BandsEntry,
    bands: usize,
) -> Result<Vec<Colour>, JobFileError> {
    let Some(texts) = &entry.colours else {
        return Ok(Vec::new());
    };
    let span = Spanned::span(texts);
    let read = texts.get_ref().iter().map(|text| text.parse::<Colour>());
    let colours: Vec<Colour> = read.collect::<Result<_, _>>().map_err(|what| {
        sheet.fault(
            span.clone(),
            what,
            "write each colour as six hexadecimal digits after #",
        )
    })?;
    if colours.len() != bands {
        let what = format!("{} colours for {bands} bands", colours.len());
        let remedy = "give one for each: below the lowest edge, between edges, the middle band, above the highest edge";
        return Err(sheet.fault(span, what, remedy));
    }
    Ok(colours)
}
