//! The curve of an item over time, its design, and how it may go on.

use std::fmt::Write as _;

use dapedon_contract::binary;
use dapedon_job::{ItemProgress, PaceForecast, SurveyProgress};
use jiff::ToSpan;
use jiff::civil::{Date, Weekday};

use crate::drawing::Svg;
use crate::number::grouped;
use crate::ticks::{between, decimals, round_up};

/// Where the curve is drawn: left, top, width and height.
const PLOT: [f64; 4] = [96.0, 64.0, 860.0, 370.0];
/// Colours of what is done, of what is to be reached, and of the forecast.
const DONE: &str = "#2f6b82";
const DESIGN: &str = "#2d2a26";
const FORECAST: &str = "#b5683e";
/// A forecast is drawn no farther than this many times what has passed, and that counts as a month at least.
const FARTHEST: f64 = 4.0;
const MONTH: f64 = 30.0;

/// Draws what is done against time, as SVG; none where there is nothing to draw from.
pub(crate) fn progress_curve(item: &ItemProgress) -> Option<String> {
    let curve = Curve::of(item)?;
    let mut svg = Svg::default();
    svg.open([1000.0, 486.0], None, "Progress over time");
    curve.axes(&mut svg);
    curve.design(&mut svg);
    curve.forecast(&mut svg);
    curve.done(&mut svg);
    curve.key(&mut svg);
    svg.line(format_args!("</svg>"));
    Some(svg.text)
}

/// An item, and where its days and quantities stand on the drawing.
struct Curve<'i> {
    item: &'i ItemProgress,
    /// The day at the left edge.
    origin: Date,
    /// Days and quantities, from the beginning of the work.
    points: Vec<(f64, f64)>,
    /// The last survey.
    now: (f64, f64),
    design: Option<f64>,
    /// The days of the drawing, and its lowest and highest quantity.
    until: f64,
    reach: [f64; 2],
}

/// What is done at a survey: of the design, where there is one.
fn done(own: &SurveyProgress) -> f64 {
    binary(own.done.unwrap_or(own.to_date))
}

impl<'i> Curve<'i> {
    fn of(item: &'i ItemProgress) -> Option<Self> {
        let first = item.surveys.first()?;
        let begun = first.from.and_then(|day| day.yesterday().ok());
        let origin = begun.unwrap_or(first.date);
        let days = |day: Date| days(origin, day);
        let mut points: Vec<(f64, f64)> = begun.iter().map(|day| (days(*day), 0.0)).collect();
        points.extend(item.surveys.iter().map(|own| (days(own.date), done(own))));
        let now = *points.last()?;
        let design = item.design.as_ref().map(|own| binary(own.quantity));
        let farthest = FARTHEST * now.0.max(MONTH);
        let paces = paces(item).into_iter().flatten();
        let ends = paces.map(|pace| pace.date.map_or(f64::INFINITY, days));
        // What ends later runs out of the drawing, which then has some room behind the last survey.
        let until = ends.fold(now.0.max(1.0), |until, end| match end <= farthest {
            true => until.max(end),
            false => until.max(1.5 * now.0.max(MONTH)),
        });
        let values = points.iter().map(|point| point.1).chain(design);
        let values = values.chain(item.surveys.iter().map(|own| binary(own.to_date)));
        let (low, high) = values.fold((0.0f64, 0.0f64), |(low, high), value| {
            (low.min(value), high.max(value))
        });
        let margin = 0.06 * (high - low).max(1e-9);
        let low = if low < 0.0 { low - margin } else { low };
        Some(Curve {
            item,
            origin,
            points,
            now,
            design,
            until: 1.03 * until,
            reach: [low, high + margin],
        })
    }

    fn x(&self, day: f64) -> f64 {
        PLOT[0] + day / self.until * PLOT[2]
    }

    fn y(&self, value: f64) -> f64 {
        let [low, high] = self.reach;
        PLOT[1] + (high - value) / (high - low) * PLOT[3]
    }

    fn axes(&self, svg: &mut Svg) {
        let [left, top, width, tall] = PLOT;
        let bottom = top + tall;
        svg.line(format_args!(
            r##"<rect x="{left}" y="{top}" width="{width}" height="{tall}" fill="#fbfaf7" stroke="#2d2a26" stroke-width="0.8"/>"##
        ));
        let [low, high] = self.reach;
        let step = round_up((high - low) / 8.0);
        for tick in between(low, high, step) {
            let at = self.y(tick);
            svg.line(format_args!(
                r##"<path d="M{left} {at:.1}h{width}" stroke="#ddd8cc" stroke-width="0.8"/>"##
            ));
            svg.words(left - 8.0, at + 4.5, "end", &grouped(tick, decimals(step)));
        }
        for (day, words) in date_ticks(self.origin, self.until) {
            let at = self.x(day);
            svg.line(format_args!(
                r##"<path d="M{at:.1} {bottom}v5" stroke="#2d2a26" stroke-width="0.8"/>"##
            ));
            svg.words(at, bottom + 20.0, "middle", &words);
        }
        svg.words(left - 8.0, top - 12.0, "end", &self.item.unit);
        if let Some(last) = self.item.surveys.last() {
            let words = format!("last survey {}", last.date);
            svg.words(left + width, bottom + 42.0, "end", &words);
        }
    }

    fn design(&self, svg: &mut Svg) {
        let [left, _, width, _] = PLOT;
        if let Some(design) = self.design {
            let at = self.y(design);
            svg.line(format_args!(
                r##"<path d="M{left} {at:.1}h{width}" stroke="{DESIGN}" stroke-width="1.2" stroke-dasharray="8 4"/>"##
            ));
        }
    }

    /// Straight on at the average pace, and all between the fastest and the slowest.
    fn forecast(&self, svg: &mut Svg) {
        let (Some(paces), Some(design)) = (paces(self.item), self.design) else {
            return;
        };
        let [fastest, average, slowest] = paces.map(|pace| self.end(pace, design));
        // Along the design, or the edge of the drawing, from one end to the other.
        let corner = (slowest.0, fastest.1);
        let at = |(day, value): (f64, f64)| format!("{:.1} {:.1}", self.x(day), self.y(value));
        svg.line(format_args!(
            r##"<path d="M{}L{}L{}L{}Z" fill="{FORECAST}" fill-opacity="0.16"/>"##,
            at(self.now),
            at(fastest),
            at(corner),
            at(slowest)
        ));
        svg.line(format_args!(
            r##"<path d="M{}L{}" fill="none" stroke="{FORECAST}" stroke-width="2" stroke-dasharray="7 4"/>"##,
            at(self.now),
            at(average)
        ));
    }

    /// Where a pace reaches the design, or leaves the drawing; what never ends goes straight on.
    fn end(&self, pace: &PaceForecast, design: f64) -> (f64, f64) {
        let (day, value) = self.now;
        match pace.date.map(|date| days(self.origin, date)) {
            Some(end) if end <= self.until => (end, design),
            Some(end) => {
                let share = (self.until - day) / (end - day);
                (self.until, value + share * (design - value))
            }
            None => (self.until, value),
        }
    }

    /// True where something was done beyond the design.
    fn goes_beyond(&self) -> bool {
        let mut surveys = self.item.surveys.iter();
        surveys.any(|own| own.done.is_some_and(|done| done != own.to_date))
    }

    fn done(&self, svg: &mut Svg) {
        let mut path = String::new();
        for (day, value) in &self.points {
            let join = if path.is_empty() { "M" } else { "L" };
            let _ = write!(path, "{join}{:.1} {:.1}", self.x(*day), self.y(*value));
        }
        svg.line(format_args!(
            r##"<path d="{path}" fill="none" stroke="{DONE}" stroke-width="2.4" stroke-linejoin="round"/>"##
        ));
        for own in &self.item.surveys {
            let (at, value) = (self.x(days(self.origin, own.date)), self.y(done(own)));
            if self.goes_beyond() {
                let (left, all) = (at - 5.0, self.y(binary(own.to_date)));
                svg.line(format_args!(
                    r##"<path d="M{left:.1} {all:.1}h10" stroke="{DONE}" stroke-width="1.6"/>"##
                ));
            }
            svg.line(format_args!(
                r##"<circle cx="{at:.1}" cy="{value:.1}" r="4" fill="#ffffff" stroke="{DONE}" stroke-width="2"/>"##
            ));
        }
    }

    /// What each line is.
    fn key(&self, svg: &mut Svg) {
        let mut at = PLOT[0];
        let mut entry = |words: &str, colour: &str, dashes: &str, room: f64| {
            svg.line(format_args!(
                r##"<path d="M{at:.1} 26h30" stroke="{colour}" stroke-width="2.2" stroke-dasharray="{dashes}"/>"##
            ));
            svg.words(at + 38.0, 30.5, "start", words);
            at += room;
        };
        match self.goes_beyond() {
            false => entry("done to date", DONE, "none", 150.0),
            true => {
                entry("done within the design", DONE, "none", 220.0);
                // A short mark, as it stands at each survey.
                entry("and beyond it", DONE, "10 30", 160.0);
            }
        }
        if let Some(design) = &self.item.design {
            let words = match design.surface {
                Some(_) => "design",
                None => "contract",
            };
            entry(words, DESIGN, "8 4", 120.0);
        }
        if self.item.forecast.is_some() {
            let words = "forecast: average, fastest to slowest";
            entry(words, FORECAST, "7 4", 0.0);
        }
    }
}

/// Days from one to another.
fn days(from: Date, to: Date) -> f64 {
    f64::from(from.until(to).map_or(0, |span| span.get_days()))
}

/// The fastest pace, the average one and the slowest.
fn paces(item: &ItemProgress) -> Option<[&PaceForecast; 3]> {
    let own = item.forecast.as_ref()?;
    let average = &own.average;
    let [fastest, slowest] =
        [&own.fastest, &own.slowest].map(|pace| pace.as_ref().unwrap_or(average));
    Some([fastest, average, slowest])
}

/// Days to be written below the axis, by their number: first days of months, or Mondays where there are few.
fn date_ticks(origin: Date, until: f64) -> Vec<(f64, String)> {
    let days = origin.series(1.day()).take(until.max(0.0) as usize + 1);
    let days = (0..).map(f64::from).zip(days);
    let months = (until / MONTH).ceil() as i32;
    let every = months / 9 + 1;
    let is_shown = |day: &Date| match months {
        0..=2 => day.weekday() == Weekday::Monday,
        _ => {
            let month = i32::from(day.year()) * 12 + i32::from(day.month()) - 1;
            day.day() == 1 && month.rem_euclid(every) == 0
        }
    };
    let shown = days.filter(|(_, day)| is_shown(day));
    shown.map(|(at, day)| (at, day.to_string())).collect()
}
