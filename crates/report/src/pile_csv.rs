//! Piles as comma-separated text, for a spreadsheet.

use std::io;

use dapedon_job::{Pile, Piles};

use crate::csv_text::cell;

/// Piles: a line for each, figures unrounded but masses, which are as they are written; what each base gives stands in
/// columns of its own.
///
/// # Errors
///
/// When it cannot be written.
pub fn pile_csv(piles: &Piles) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let mut heading: Vec<String> = [
        piles.noun(),
        "plan area",
        "toe",
        "area along slopes",
        "volume",
        piles.beyond_words(),
        "greatest",
        "mean",
        "top",
        "share",
        "material",
        "state",
        "mass",
        "added since",
        "removed since",
    ]
    .map(Into::into)
    .to_vec();
    let names = piles.bases();
    heading.extend(names.iter().map(|name| format!("base {name}")));
    out.write_record(heading.iter().map(|text| cell(text)))?;
    for pile in &piles.zones {
        let by = names.iter().map(|name| {
            let own = pile.bases.iter().find(|base| base.base == **name);
            own.map_or(String::new(), |base| base.held.to_string())
        });
        let cells: Vec<String> = row(pile).into_iter().chain(by).collect();
        out.write_record(cells.iter().map(|text| cell(text)))?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}

fn row(pile: &Pile) -> Vec<String> {
    let figure = |value: Option<f64>| value.map_or(String::new(), |value| value.to_string());
    let material = pile.material.as_ref();
    let mut cells = vec![pile.measured.zone.clone()];
    let figures = [
        pile.plan_area,
        pile.toe,
        pile.sloping_area,
        pile.held,
        pile.beyond,
        pile.greatest,
        pile.mean,
        pile.top,
        pile.share,
    ];
    cells.extend(figures.map(|figure| figure.to_string()));
    cells.extend([
        material.map_or(String::new(), |line| line.material.clone()),
        material.map_or(String::new(), |line| line.state.to_string()),
        pile.mass.map_or(String::new(), |mass| mass.to_string()),
        figure(pile.change.map(|change| change.fill)),
        figure(pile.change.map(|change| change.cut)),
    ]);
    cells
}
