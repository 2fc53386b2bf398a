//! How quantities are computed, line by line, so that each can be followed by hand.

use dapedon_contract::{ConversionStep, Cost, LoadsMade, binary};
use dapedon_job::{Bill, BillItem, ConvertedLine, MaterialBalance, MaterialOfItem};
use rust_decimal::Decimal;

use crate::number::{grouped, money, written};

/// How figures are reported.
#[derive(Debug, Clone, Copy)]
pub(super) struct ItemSteps<'t> {
    /// The symbol of the volumes that are reported.
    pub(super) volume: &'t str,
    /// The currency.
    pub(super) currency: &'t str,
}

/// What is measured for an item: what counts, between which surfaces, and what is unchanged.
pub(super) fn measured(item: &BillItem, length: &str) -> String {
    let mut words = item.measure.clone();
    words += &match (&item.reference, &item.surveyed) {
        (Some(reference), Some(surveyed)) => format!(", from {reference} to {surveyed}"),
        (_, Some(only)) => format!(", surface {only}"),
        _ => String::new(),
    };
    if item.tolerance.value > 0.0 {
        words += &format!(", unchanged within ±{} {length}", item.tolerance.value);
    }
    if let Some(because) = &item.reason {
        words += &format!(": {because}");
    }
    words
}

/// How the quantity of an item is computed, line by line: what is measured of it, each conversion, loads, what else
/// it is counted in, and its amount.
pub(super) fn how(item: &BillItem, told: &ItemSteps<'_>) -> Vec<String> {
    let measured = told.figure(item.measured);
    let state = (item.state.as_ref()).map_or(String::new(), |state| format!("{state} "));
    let of = match &item.material {
        Some(material) => format!(" of {material}"),
        None => String::new(),
    };
    let mut lines = item.notes.clone();
    lines.push(format!(
        "measured: {state}{measured} {}{of}",
        item.measured_unit
    ));
    lines.extend(item.conversion.iter().map(|one| told.step(one)));
    lines.extend(
        item.loads
            .iter()
            .flat_map(|loads| told.loads(loads, &item.conversion)),
    );
    for also in &item.further_counts {
        lines.push(format!("also {}", told.step(&also.step)));
        lines.extend(also.each.zip(also.cost).map(|(each, cost)| {
            let count = told.figure(also.step.amount);
            let (unit, each, cost) = (&also.step.unit, told.money(each), told.money(cost));
            format!("{count} {unit} × {each} = {cost}")
        }));
    }
    lines.extend(item.rate.zip(item.amount).map(|(rate, amount)| {
        let quantity = told.figure(item.quantity);
        format!(
            "{quantity} {} × {} = {}",
            item.unit,
            told.money(rate),
            told.money(amount)
        )
    }));
    lines
}

/// What is dug and placed of a material, and what becomes of the rest, line by line.
pub(super) fn moved(moved: &MaterialBalance, told: &ItemSteps<'_>) -> Vec<String> {
    let bank = |value: Decimal| format!("bank {} {}", told.figure(value), told.volume);
    let by = |list: &[MaterialOfItem], word: &str| -> Vec<String> {
        let line = |by: &MaterialOfItem| match by.conversion.first() {
            Some(one) => format!("{word} by item {}: {}", by.code, told.step(one)),
            None => format!("{word} by item {}: {}", by.code, bank(by.bank)),
        };
        list.iter().map(line).collect()
    };
    let mut lines = by(&moved.dug_by, "dug");
    lines.extend(by(&moved.placed_by, "placed"));
    if moved.dug_by.len() > 1 {
        lines.push(format!("dug, total: {}", bank(moved.dug)));
    }
    if moved.placed_by.len() > 1 {
        lines.push(format!("needed, total: {}", bank(moved.needed_for_fill)));
    }
    if moved.used_on_site > Decimal::ZERO {
        lines.push(format!("used on site: {}", bank(moved.used_on_site)));
    }
    for (word, hauled) in [
        ("surplus, taken away", &moved.export),
        ("shortfall, brought in", &moved.import),
    ] {
        let Some(hauled) = hauled else { continue };
        lines.push(format!("{word}: {}", bank(hauled.bank)));
        lines.extend(hauled.conversion.iter().map(|one| told.step(one)));
        lines.extend(
            hauled
                .loads
                .iter()
                .flat_map(|loads| told.loads(loads, &hauled.conversion)),
        );
        lines.extend(hauled.cost.iter().map(|cost| told.cost(cost)));
    }
    lines
}

/// Cut or fill of a zone and what it becomes, line by line.
pub(super) fn converted(line: &ConvertedLine, told: &ItemSteps<'_>) -> Vec<String> {
    let figure = told.figure(line.measured);
    // A pile is what it is called.
    let what = match &*line.quantity {
        "pile" | "pit" => String::new(),
        what => format!(", {what}"),
    };
    let mut lines = vec![format!(
        "{}{what}: {} {figure} {} of {}",
        line.zone, line.state, told.volume, line.material
    )];
    let mut below: Vec<String> = line.conversion.iter().map(|one| told.step(one)).collect();
    below.extend(
        line.loads
            .iter()
            .flat_map(|loads| told.loads(loads, &line.conversion)),
    );
    below.extend(line.paid.iter().map(|paid| told.cost(paid)));
    lines.extend(below.into_iter().map(|words| format!("  {words}")));
    lines
}

impl<'t> ItemSteps<'t> {
    /// As a bill tells its figures.
    pub(super) fn of(bill: &'t Bill) -> Self {
        ItemSteps {
            volume: bill.factor_volume_unit.symbol(),
            currency: bill.currency.as_deref().unwrap_or_default(),
        }
    }

    fn figure(&self, figure: Decimal) -> String {
        written(figure)
    }

    fn money(&self, amount: Decimal) -> String {
        let amount = money(amount);
        format!("{amount} {}", self.currency).trim_end().to_owned()
    }

    /// As in "12 loads × 46.50 EUR = 558.00 EUR".
    fn cost(&self, cost: &Cost) -> String {
        let plural = if cost.per == "load" && cost.quantity != Decimal::ONE {
            "s"
        } else {
            ""
        };
        format!(
            "{} {}{plural} × {} = {}",
            self.figure(cost.quantity),
            cost.per,
            self.money(cost.each),
            self.money(cost.amount)
        )
    }

    /// As in "bank 1 000.0 m³ × swell 1.25 = loose 1 250.0 m³".
    fn step(&self, step: &ConversionStep) -> String {
        let to = match step.to == step.unit {
            true => String::new(),
            false => format!("{} ", step.to),
        };
        format!(
            "{} {} {} {} = {to}{} {}",
            step.from,
            self.figure(step.from_amount),
            step.from_unit,
            step.by,
            self.figure(step.amount),
            step.unit
        )
    }

    /// The steps to what limits a load that were not said yet, each limit as in "1\u{202f}250.0 m³ loose ÷ 16.5 = 75.76
    /// loads by volume", and how many loads that makes.
    fn loads(&self, loads: &LoadsMade, said: &[ConversionStep]) -> Vec<String> {
        let mut told: Vec<&ConversionStep> = said.iter().collect();
        let mut lines = Vec::new();
        for limit in &loads.limits {
            for step in &limit.conversion {
                if !told.contains(&step) {
                    told.push(step);
                    lines.push(self.step(step));
                }
            }
            lines.push(format!(
                "{} {} ÷ {} = {} loads by {}",
                self.figure(limit.amount),
                limit.unit,
                limit.capacity,
                grouped(binary(limit.amount) / binary(limit.capacity), 2),
                limit.by
            ));
        }
        let count = self.figure(loads.count);
        let which = match loads.limits.len() {
            1 => String::new(),
            _ => format!("limited by {}: ", loads.limited_by),
        };
        lines.push(format!(
            "{which}{count} loads of {}, rounded up",
            loads.vehicle
        ));
        lines
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use dapedon_contract::LoadLimit;
    use rust_decimal::dec;

    const TOLD: ItemSteps<'_> = ItemSteps {
        volume: "m³",
        currency: "EUR",
    };

    #[test]
    fn lines_can_be_followed_by_hand() {
        let swollen = ConversionStep {
            from: "bank".into(),
            from_amount: dec!(1000.0),
            from_unit: "m³".into(),
            by: "× swell 1.25".into(),
            to: "loose".into(),
            amount: dec!(1250.0),
            unit: "m³".into(),
        };
        let words = "bank 1\u{202f}000.0 m³ × swell 1.25 = loose 1\u{202f}250.0 m³";
        assert_eq!(TOLD.step(&swollen), words);
        let limit = LoadLimit {
            by: "volume".into(),
            conversion: vec![swollen.clone()],
            amount: dec!(1250.0),
            capacity: dec!(16.5),
            unit: "m³ loose".into(),
        };
        let hauled = LoadsMade {
            vehicle: "tipper".into(),
            limits: vec![limit],
            limited_by: "volume".into(),
            count: dec!(76),
        };
        let loads = "1\u{202f}250.0 m³ loose ÷ 16.5 = 75.76 loads by volume";
        let count = "76 loads of tipper, rounded up";
        assert_eq!(TOLD.loads(&hauled, &[]), [words, loads, count]);
        assert_eq!(TOLD.loads(&hauled, &[swollen]), [loads, count]);
    }
}
