//! What all pages are laid out with: their parts, and how figures stand in them.

use dapedon_formats::visible_lines;
use minijinja::syntax::SyntaxConfig;
use minijinja::value::Serde;
use minijinja::{Environment, Error};
use serde::Serialize;

use crate::number::{grouped, money, written};

/// Pages, and the filters they use.
fn environment() -> Result<Environment<'static>, Error> {
    let mut environment = Environment::new();
    let mut syntax = SyntaxConfig::builder();
    environment.set_syntax(syntax.trim_blocks(true).lstrip_blocks(true).build()?);
    environment.add_filter("figure", |value: f64, decimals: usize| {
        grouped(value, decimals, "\u{202f}")
    });
    environment.add_filter("money", |value: &str| {
        value
            .parse()
            .map_or(String::new(), |value| money(value, "\u{202f}"))
    });
    environment.add_filter("written", |value: &str| {
        value
            .parse()
            .map_or(String::new(), |value| written(value, "\u{202f}"))
    });
    environment.add_filter("net_in_words", |net: f64| match net {
        net if net > 0.0 => "shortfall: more fill than cut",
        net if net < 0.0 => "surplus: more cut than fill",
        _ => "balanced",
    });
    environment.add_filter("power", |value: f64| match value {
        0.0 => "none".to_owned(),
        _ => format!("{value:.1e}"),
    });
    for (name, text) in [
        ("style.css", include_str!("page/style.css")),
        ("head.html", include_str!("page/head.html")),
        ("inputs.html", include_str!("page/inputs.html")),
        ("report.html", include_str!("page/report.html")),
        ("bill.html", include_str!("page/bill.html")),
        ("pile.html", include_str!("page/pile.html")),
    ] {
        environment.add_template(name, text)?;
    }
    Ok(environment)
}

/// A page laid out. Text of others in it is safe to be read: characters that no page may hold are seen instead.
pub(crate) fn rendered(page: &str, with: &impl Serialize) -> Result<String, Error> {
    let page = environment()?.get_template(page)?.render(Serde(with))?;
    Ok(visible_lines(&page).into_owned())
}
