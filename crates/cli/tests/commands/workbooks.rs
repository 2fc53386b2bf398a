//! Workbooks: every formula gives the figure that stands beside it, by an evaluation of its own; and nothing else is one.

use std::collections::BTreeMap;
use std::fs::File;
use std::io::Read;

use crate::claims::{FIRST, issued};
use crate::site::Site;

/// The parts of a workbook, by their names.
fn parts(site: &Site, name: &str) -> BTreeMap<String, String> {
    let file = File::open(site.path().join(name)).unwrap();
    let mut archive = zip::ZipArchive::new(file).unwrap();
    let mut parts = BTreeMap::new();
    for number in 0..archive.len() {
        let mut part = archive.by_index(number).unwrap();
        let mut text = Vec::new();
        part.read_to_end(&mut text).unwrap();
        let name = part.name().unwrap().into_owned();
        parts.insert(name, String::from_utf8_lossy(&text).into_owned());
    }
    parts
}

/// A cell of a sheet: its figure, and its formula where it has one.
type Cells = BTreeMap<String, (Option<f64>, Option<String>)>;

fn cells(sheet: &str) -> Cells {
    let between = |text: &str, from: &str, to: &str| -> Option<String> {
        let own = text.split_once(from)?.1;
        Some(own.split_once(to)?.0.to_owned())
    };
    let all = sheet.split("<c r=\"").skip(1).map(|cell| {
        let cell = cell.split("</c>").next().unwrap();
        let name = cell.split('"').next().unwrap().to_owned();
        let figure = between(cell, "<v>", "</v>").filter(|_| !cell.contains("t=\"s\""));
        let formula = between(cell, "<f>", "</f>");
        (name, (figure.and_then(|own| own.parse().ok()), formula))
    });
    all.collect()
}

/// A formula by hand: products, differences, shares, sums of ranges, rounded to hundredths.
fn evaluated(formula: &str, cells: &Cells) -> f64 {
    let figure = |name: &str| match name.parse::<f64>() {
        Ok(figure) => figure,
        Err(_) => cells[name]
            .0
            .unwrap_or_else(|| panic!("{name} in {formula}")),
    };
    if let Some(inner) = formula
        .strip_prefix("ROUND(")
        .and_then(|own| own.strip_suffix("*(1+1E-14),2)"))
    {
        let (a, b) = inner.split_once('*').unwrap();
        return (figure(a) * figure(b) * (1.0 + 1e-14) * 100.0).round() / 100.0;
    }
    if let Some(inner) = formula
        .strip_prefix("SUM(")
        .and_then(|own| own.strip_suffix(')'))
    {
        let of_range = |range: &str| {
            let (first, last) = range.split_once(':').unwrap_or((range, range));
            let column: String = first.chars().filter(char::is_ascii_alphabetic).collect();
            let row = |name: &str| name[column.len()..].parse::<u32>().unwrap();
            (row(first)..=row(last))
                .map(|row| figure(&format!("{column}{row}")))
                .sum::<f64>()
        };
        return inner.split(',').map(of_range).sum();
    }
    match (formula.split_once('-'), formula.split_once('/')) {
        (Some((a, b)), None) => figure(a) - figure(b),
        (None, Some((a, b))) => figure(a) / figure(b),
        _ => panic!("{formula}"),
    }
}

/// How many formulas a workbook has, each of which gives its figure.
#[track_caller]
fn checked(parts: &BTreeMap<String, String>) -> usize {
    let mut count = 0;
    for (name, text) in parts
        .iter()
        .filter(|(name, _)| name.starts_with("xl/worksheets/"))
    {
        let cells = cells(text);
        for (cell, (figure, formula)) in &cells {
            let Some(formula) = formula else { continue };
            let own = evaluated(formula, &cells);
            // Binary sums of some ten amounts.
            assert!(
                (own - figure.unwrap()).abs() < 1e-9,
                "{name} {cell}: {formula} is {own}, not {figure:?}"
            );
            count += 1;
        }
    }
    count
}

#[test]
fn formulas_give_the_figures_that_stand_beside_them() {
    let site = issued();
    let job = site.read("dapedon.toml");
    // A product that ends on half a cent, just below it in binary: 4210.5 at 7.85.
    let half = "[[item]]\ncode = \"9\"\nsection = \"A  Dig\"\ndescription = \"=HYPERLINK(\\\"a\\\")\"\nunit = \"h\"\nmeasure = \"typed\"\nquantity = 4210.5\nreason = \"+1\"\nrate = 7.85\n";
    site.write("dapedon.toml", &format!("{job}{half}"));
    site.succeed("measure --report bill.xlsx");
    let bill = parts(&site, "bill.xlsx");
    assert!(checked(&bill) >= 5);
    let all = bill.values().cloned().collect::<String>();
    assert!(
        all.contains("<v>33052.43</v>"),
        "half a cent is rounded away from zero"
    );
    assert!(
        !all.contains("<f>HYPERLINK") && all.contains("=HYPERLINK(&quot;a&quot;)")
            || all.contains("=HYPERLINK(\"a\")")
    );
    for number in 1..=3 {
        site.succeed(&format!("claim show {number} --report claim.xlsx"));
        assert!(checked(&parts(&site, "claim.xlsx")) >= 14);
    }
    // The same report makes the same bytes.
    let bytes = |name: &str| std::fs::read(site.path().join(name)).unwrap();
    site.succeed("measure --report again.xlsx");
    assert!(bytes("again.xlsx") == bytes("bill.xlsx"));
}

/// Several reports are of one measuring; no two go to one place.
#[test]
fn several_reports_are_written_at_once() {
    let site = issued();
    site.succeed("measure --report bill.html --report bill.xlsx --report other.HTML");
    assert_eq!(site.read("bill.html"), site.read("other.HTML"));
    assert!(checked(&parts(&site, "bill.xlsx")) >= 4);
    site.refuse("measure --report bill.html --report ./bill.html");
    site.succeed("claim pack 3 --to packed");
    assert!(checked(&parts(&site, "packed/documents/claim-3.xlsx")) >= 14);
}

#[test]
fn a_draft_is_one_in_its_workbook() {
    let site = crate::claims::site(&[FIRST]);
    site.succeed("claim draw-up 1 --report claim.xlsx");
    let all = parts(&site, "claim.xlsx")
        .values()
        .cloned()
        .collect::<String>();
    assert!(all.contains("DRAFT, not issued"));
}

/// Names of any length and script: sheets and cells hold them, and a workbook is whole.
#[test]
fn any_text_can_stand_in_a_workbook() {
    let site = Site::new();
    let long = "very long ".repeat(400);
    let strange = "\u{5d0}\u{5d1}\u{5d2} \u{571f}\u{65b9} [a]:*?/\\\\ & <b> 'x'";
    site.write(
        "dapedon.toml",
        &format!(
            "[job]\nname = \"{strange}\"\nunit = \"m\"\n[[item]]\ncode = \"{strange}\"\ndescription = \"{long}\"\nunit = \"h\"\nmeasure = \"typed\"\nquantity = 1\nreason = \"@x\"\nsection = \"{strange}\"\n"
        ),
    );
    site.succeed("measure --report bill.xlsx --title R&D");
    let all = parts(&site, "bill.xlsx");
    assert!(all["xl/sharedStrings.xml"].contains("\u{571f}\u{65b9} [a]:*?/\\ &amp; &lt;b&gt; 'x'"));
    assert!(all["xl/sharedStrings.xml"].contains("very long very long"));
    let refused = site.refuse("measure --report bill.pdf");
    assert!(refused.contains(".html or .xlsx"), "{refused}");
}
