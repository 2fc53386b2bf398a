//! The shifts that were tried for a balance, as comma-separated text.

use std::io;

use dapedon_job::Balanced;

/// A balance: a line for each shift that was tried, in its order, figures unrounded in the units that stand in the
/// heading. A surplus that is negative is a shortfall.
///
/// # Errors
///
/// When it cannot be written.
pub fn balance_csv(balanced: &Balanced) -> io::Result<Vec<u8>> {
    let mut out = csv::Writer::from_writer(Vec::new());
    let (length, volume) = (balanced.units.length.code(), balanced.units.volume.code());
    let heading = [
        format!("shift {length}"),
        format!("cut bank {volume}"),
        format!("made compacted {volume}"),
        format!("needed compacted {volume}"),
        format!("surplus compacted {volume}"),
        format!("surplus bank {volume}"),
        format!("surplus loose {volume}"),
    ];
    out.write_record(heading)?;
    for tried in &balanced.tried {
        let figures = [
            tried.shift,
            tried.cut,
            tried.makes,
            tried.fill,
            tried.surplus,
            tried.surplus_bank,
            tried.surplus_loose,
        ];
        out.write_record(figures.map(|figure| figure.to_string()))?;
    }
    out.into_inner().map_err(csv::IntoInnerError::into_error)
}
