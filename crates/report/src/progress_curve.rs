//! The curve of an item over time, its design, and how it may go on.

use std::fmt::Write as _;

use dapedon_contract::binary;
use dapedon_job::{ItemProgress, SurveyProgress};
use jiff::ToSpan;
use jiff::civil::Date;

use crate::drawing::Svg;
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};

/// Where the curve is drawn: left, top, width and height.
const PLOT: [f64; 4] = [96.0, 64.0, 860.0, 370.0];
/// Colours of what is done, of what is to be reached, and of the forecast.
const DONE: &str = "#2f6b82";
const DESIGN: &str = "#2d2a26";
const FORECAST: &str = "#b5683e";
/// A forecast is drawn no farther than this many times what has passed.
const FARTHEST: f64 = 4.0;

/// Draws what is done against time, as SVG; none where there is nothing to draw from.
pub(crate) fn progress_curve(item: &ItemProgress) -> Option<String> {
    let done = |own: &SurveyProgress| binary(own.done.unwrap_or(own.to_date));
    let first = item.surveys.first()?;
    let last = item.surveys.last()?;
    let begun = first.from.and_then(|day| day.yesterday().ok());
    let origin = begun.unwrap_or(first.date);
    let days = |day: Date| f64::from(origin.until(day).map_or(0, |span| span.get_days()));
    let mut points: Vec<(f64, f64)> = begun.iter().map(|day| (days(*day), 0.0)).collect();
    points.extend(item.surveys.iter().map(|own| (days(own.date), done(own))));
    let design = item.design.as_ref().map(|own| binary(own.quantity));
    let now = (days(last.date), done(last));
    let farthest = FARTHEST * now.0.max(30.0);
    // Where each pace ends; what never ends, or far off, is drawn up to the edge.
    let forecast = item.forecast.as_ref();
    let paces = forecast.map(|own| {
        let some = |pace: &dapedon_job::PaceForecast| {
            let date = pace.date.map(days).filter(|day| *day <= farthest);
            (pace.work_days, date)
        };
        let slowest = own.slowest.as_ref().unwrap_or(&own.average);
        let fastest = own.fastest.as_ref().unwrap_or(&own.average);
        [some(fastest), some(&own.average), some(slowest)]
    });
    let ends = paces.iter().flatten().filter_map(|(_, end)| *end);
    let until = ends.fold(now.0, f64::max).max(1.0);
    let until = match paces.iter().flatten().any(|(_, end)| end.is_none()) {
        true => until.max(1.5 * now.0),
        false => until,
    };
    let values = points.iter().map(|point| point.1).chain(design);
    let values = values.chain(item.surveys.iter().map(|own| binary(own.to_date)));
    let (low, high) = values.fold((0.0f64, 0.0f64), |(low, high), value| {
        (low.min(value), high.max(value))
    });
    let span = (high - low).max(1e-9);
    let (low, high) = (
        if low < 0.0 { low - 0.06 * span } else { low },
        high + 0.06 * span,
    );

    let [left, top, width, tall] = PLOT;
    let (right, bottom) = (left + width, top + tall);
    let until = 1.03 * until;
    let x = |day: f64| left + day / until * width;
    let y = |value: f64| bottom - (value - low) / (high - low) * tall;
    let mut svg = Svg::default();
    svg.open([1000.0, 486.0], None, "Progress over time");
    svg.line(format_args!(
        r##"<rect x="{left}" y="{top}" width="{width}" height="{tall}" fill="#fbfaf7" stroke="#2d2a26" stroke-width="0.8"/>"##
    ));
    let step = round_up((high - low) / 8.0);
    for tick in between(low, high, step) {
        let at = y(tick);
        svg.line(format_args!(
            r##"<path d="M{left} {at:.1}h{width}" stroke="#ddd8cc" stroke-width="0.8"/>"##
        ));
        svg.words(left - 8.0, at + 4.5, "end", &grouped(tick, decimals(step)));
    }
    for (day, words) in date_ticks(origin, until) {
        let at = x(day);
        svg.line(format_args!(
            r##"<path d="M{at:.1} {bottom}v5" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        svg.words(at, bottom + 20.0, "middle", &words);
    }
    if let Some(design) = design {
        let at = y(design);
        svg.line(format_args!(
            r##"<path d="M{left} {at:.1}h{width}" stroke="{DESIGN}" stroke-width="1.2" stroke-dasharray="8 4"/>"##
        ));
    }
    if let (Some([fastest, average, slowest]), Some(design)) = (paces, design) {
        // Up to the design, or where it leaves the drawing.
        let end = |(work_days, end): (Option<u32>, Option<f64>)| match (work_days, end) {
            (_, Some(end)) => (end, design),
            (Some(_), None) => (
                until,
                now.1 + (design - now.1) * (until - now.0) / farthest.max(until),
            ),
            (None, None) => (until, now.1),
        };
        let [fastest, average, slowest] = [fastest, average, slowest].map(end);
        let at = |(day, value): (f64, f64)| format!("{:.1} {:.1}", x(day), y(value));
        // Between both, along the design where they reach it.
        let corner = (
            slowest.0,
            fastest.1.max(slowest.1).min(design.max(slowest.1)),
        );
        svg.line(format_args!(
            r##"<path d="M{}L{}L{}L{}Z" fill="{FORECAST}" fill-opacity="0.16"/>"##,
            at(now),
            at(fastest),
            at((
                corner.0,
                if fastest.1 == design {
                    design
                } else {
                    corner.1
                }
            )),
            at(slowest)
        ));
        svg.line(format_args!(
            r##"<path d="M{}L{}" fill="none" stroke="{FORECAST}" stroke-width="2" stroke-dasharray="7 4"/>"##,
            at(now),
            at(average)
        ));
    }
    let beyond = item
        .surveys
        .iter()
        .any(|own| own.done.is_some_and(|done| done != own.to_date));
    let mut path = String::new();
    for (day, value) in &points {
        let join = if path.is_empty() { "M" } else { "L" };
        let _ = write!(path, "{join}{:.1} {:.1}", x(*day), y(*value));
    }
    svg.line(format_args!(
        r##"<path d="{path}" fill="none" stroke="{DONE}" stroke-width="2.4" stroke-linejoin="round"/>"##
    ));
    for own in &item.surveys {
        let (at, value) = (x(days(own.date)), y(done(own)));
        if beyond {
            let all = y(binary(own.to_date));
            svg.line(format_args!(
                r##"<path d="M{:.1} {all:.1}h10" stroke="{DONE}" stroke-width="1.6"/>"##,
                at - 5.0
            ));
        }
        svg.line(format_args!(
            r##"<circle cx="{at:.1}" cy="{value:.1}" r="4" fill="#ffffff" stroke="{DONE}" stroke-width="2"/>"##
        ));
    }
    let mut at = left;
    let within = if beyond {
        "done within the design"
    } else {
        "done to date"
    };
    let mut key = |words: String, mark: String, room: f64| {
        svg.line(format_args!("{}", mark.replace("{x}", &format!("{at:.1}"))));
        svg.words(at + 38.0, 30.5, "start", &words);
        at += room;
    };
    let line = |colour: &str, dashes: &str| {
        format!(
            r##"<path d="M{{x}} 26h30" stroke="{colour}" stroke-width="2.2" stroke-dasharray="{dashes}"/>"##
        )
    };
    key(within.into(), line(DONE, "none"), 200.0);
    if beyond {
        key(
            "and beyond it".into(),
            format!(r##"<path d="M{{x}} 26m10 0h10" stroke="{DONE}" stroke-width="1.6"/>"##),
            150.0,
        );
    }
    if design.is_some() {
        key("design".into(), line(DESIGN, "8 4"), 120.0);
    }
    if forecast.is_some() {
        key(
            "forecast: average, fastest to slowest".into(),
            line(FORECAST, "7 4"),
            0.0,
        );
    }
    svg.words(left - 8.0, top - 12.0, "end", &item.unit);
    svg.words(
        right,
        bottom + 42.0,
        "end",
        &format!("last survey {}", last.date),
    );
    svg.line(format_args!("</svg>"));
    Some(svg.text)
}

/// Days to be written below the axis, by their number: first days of months, or Mondays where there are few.
fn date_ticks(origin: Date, until: f64) -> Vec<(f64, String)> {
    let days = origin.series(1.day()).take(until.max(0.0) as usize + 1);
    let days: Vec<(f64, Date)> = (0..).map(f64::from).zip(days).collect();
    let months = (until / 30.4).ceil() as i32;
    let every = (months / 9).max(0) + 1;
    let of_months = |every: i32| {
        move |(_, day): &&(f64, Date)| {
            let month = i32::from(day.year()) * 12 + i32::from(day.month()) - 1;
            day.day() == 1 && month.rem_euclid(every) == 0
        }
    };
    let monday = |(_, day): &&(f64, Date)| day.weekday() == jiff::civil::Weekday::Monday;
    let chosen: Vec<&(f64, Date)> = match months {
        0..=2 => days.iter().filter(monday).collect(),
        _ => days.iter().filter(of_months(every)).collect(),
    };
    chosen
        .into_iter()
        .map(|(at, day)| (*at, day.to_string()))
        .collect()
}
