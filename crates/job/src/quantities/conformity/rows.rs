//! Rows of zones, and what follows for each of them.

use dapedon_core::plan::{Frame, Place, RELATIVE};
use dapedon_core::quantities::{
    Conformity as CoreConformity, PatchBeyond as CorePatch, SlopeConformity,
};

use super::{
    ConformityVerdict, Extreme, HeightsWithin, PatchBeyond, SlopesWithin, ZoneConformity, side,
};
use crate::conformity_rules::Acceptance;
use crate::figure::{Area, Volume};
use crate::quantities::measurement::ZoneMeasurement;
use crate::units::ReportUnits;

/// How zones are judged.
pub(super) struct Judged<'j> {
    /// The share of each that is to be within the limits.
    pub(super) share: f64,
    pub(super) acceptance: Acceptance,
    pub(super) units: &'j ReportUnits,
    pub(super) frame: Frame,
}

/// Plan areas that a verdict follows from.
#[derive(Debug, Clone, Copy)]
struct Shares {
    compared: Area,
    /// Ground of the zone of which nothing is known: none of it is shown to be within.
    not_compared: Option<Area>,
    within: Area,
    /// Shown to be within, and beyond.
    shown: [Area; 2],
}

/// The worst of some verdicts.
pub(super) fn worst(verdicts: impl Iterator<Item = ConformityVerdict>) -> ConformityVerdict {
    verdicts.max().unwrap_or(ConformityVerdict::Conforms)
}

impl Judged<'_> {
    /// A row for each zone; heights and slopes as far as there are limits for them.
    pub(super) fn zones(
        &self,
        rows: &[ZoneMeasurement],
        heights: Option<&[CoreConformity]>,
        slopes: Option<&[Option<SlopeConformity>]>,
    ) -> Vec<ZoneConformity> {
        let nothing = match (heights, slopes) {
            (None, None) => ConformityVerdict::Conforms,
            _ => ConformityVerdict::NotShown,
        };
        let row = |(index, row): (usize, &ZoneMeasurement)| {
            let alone = row.area.reference_only.value + row.area.surveyed_only.value;
            let not_compared = (row.area.neither).map(|own| own.with(own.value + alone));
            let heights = heights
                .and_then(|all| all.get(index))
                .and_then(|own| self.heights(own, not_compared));
            let slopes = slopes.and_then(|all| all.get(index).copied().flatten());
            let slopes = slopes.map(|own| self.slopes(&own, not_compared));
            let verdicts =
                (heights.map(|own| own.verdict).into_iter()).chain(slopes.map(|own| own.verdict));
            ZoneConformity {
                zone: row.zone.clone(),
                // Of ground on which nothing is compared nothing is shown.
                verdict: verdicts.max().unwrap_or(nothing),
                area: row.area.compared,
                not_compared,
                heights,
                slopes,
            }
        };
        rows.iter().enumerate().map(row).collect()
    }

    fn verdict(&self, of: &Shares) -> ConformityVerdict {
        let whole = of.compared.value + of.not_compared.map_or(0.0, |own| own.value);
        let wanted = self.share * whole;
        let rounding = RELATIVE * whole;
        let [within, beyond] = match self.acceptance {
            Acceptance::Simple => [of.within.value, of.compared.value - of.within.value],
            Acceptance::GuardBand => of.shown.map(|own| own.value),
        };
        match (
            within + rounding >= wanted,
            beyond > whole - wanted + rounding,
        ) {
            (true, _) => ConformityVerdict::Conforms,
            (false, true) => ConformityVerdict::DoesNotConform,
            (false, false) => ConformityVerdict::NotShown,
        }
    }

    fn heights(&self, own: &CoreConformity, not_compared: Option<Area>) -> Option<HeightsWithin> {
        let differences = own.measured.difference?;
        let whole = own.measured.area.compared;
        let area = |value: f64| self.units.area_of(value);
        let length = |value: f64| self.units.length_of(value);
        let refuted = own.refuted();
        Some(HeightsWithin {
            verdict: self.verdict(&Shares {
                compared: area(whole),
                not_compared,
                within: area(own.within()),
                shown: [own.proven, refuted].map(area),
            }),
            within: area(own.within()),
            above: area(own.above.area),
            below: area(own.below.area),
            shown_within: area(own.proven),
            shown_above: area(own.above.proven),
            shown_below: area(own.below.proven),
            in_doubt: area((whole - own.proven - refuted).max(0.0)),
            volume_above: self.units.volume_of(own.above.volume),
            volume_below: self.units.volume_of(own.below.volume),
            lowest: length(differences.min.difference),
            lowest_at: self.place(differences.min.at),
            highest: length(differences.max.difference),
            highest_at: self.place(differences.max.at),
            mean: length(differences.mean),
        })
    }

    fn slopes(&self, own: &SlopeConformity, not_compared: Option<Area>) -> SlopesWithin {
        let area = |value: f64| self.units.area_of(value);
        let within = (own.area - own.flatter.area - own.steeper.area).max(0.0);
        let [flattest, steepest] = own.extremes;
        SlopesWithin {
            verdict: self.verdict(&Shares {
                compared: area(own.area),
                not_compared,
                within: area(within),
                shown: [own.proven, own.flatter.proven + own.steeper.proven].map(area),
            }),
            within: area(within),
            flatter: area(own.flatter.area),
            steeper: area(own.steeper.area),
            shown_within: area(own.proven),
            shown_flatter: area(own.flatter.proven),
            shown_steeper: area(own.steeper.proven),
            flattest: flattest.slope,
            flattest_at: self.place(flattest.at),
            steepest: steepest.slope,
            steepest_at: self.place(steepest.at),
        }
    }

    pub(super) fn patch(&self, own: &CorePatch) -> PatchBeyond {
        PatchBeyond {
            side: side(own.side),
            area: self.units.area_of(own.area),
            volume: self.units.volume_of(own.volume),
            beyond: self.units.length_of(own.greatest),
            at: self.place(own.at),
        }
    }

    fn place(&self, at: Place) -> Extreme {
        let at = self.frame.to_grid(at);
        Extreme {
            east: at.east,
            north: at.north,
        }
    }

    /// The sum of several zones.
    pub(super) fn total(&self, zones: &[ZoneConformity]) -> Option<ZoneConformity> {
        if zones.len() < 2 {
            return None;
        }
        let area =
            |of: &dyn Fn(&ZoneConformity) -> Area| Area::sum(self.units.area, zones.iter().map(of));
        let not_compared = zones.iter().filter_map(|zone| zone.not_compared);
        Some(ZoneConformity {
            zone: "total".into(),
            verdict: worst(zones.iter().map(|zone| zone.verdict)),
            area: area(&|zone| zone.area),
            not_compared: (not_compared.clone().next())
                .map(|_| Area::sum(self.units.area, not_compared)),
            heights: self.all_heights(zones),
            slopes: self.all_slopes(zones),
        })
    }

    fn all_heights(&self, zones: &[ZoneConformity]) -> Option<HeightsWithin> {
        let all: Vec<HeightsWithin> = zones.iter().filter_map(|zone| zone.heights).collect();
        let low = { all.iter() }.min_by(|a, b| a.lowest.value.total_cmp(&b.lowest.value))?;
        let high = { all.iter() }.max_by(|a, b| a.highest.value.total_cmp(&b.highest.value))?;
        let area = |of: fn(&HeightsWithin) -> Area| Area::sum(self.units.area, all.iter().map(of));
        let volume =
            |of: fn(&HeightsWithin) -> Volume| Volume::sum(self.units.volume, all.iter().map(of));
        let compared = zones.iter().filter_map(|zone| {
            let own = zone.heights?;
            Some([zone.area.value, own.mean.value * zone.area.value])
        });
        let [whole, moment] = compared.fold([0.0; 2], |[area, sum], [own, part]| {
            [area + own, sum + part]
        });
        Some(HeightsWithin {
            verdict: worst(all.iter().map(|own| own.verdict)),
            within: area(|own| own.within),
            above: area(|own| own.above),
            below: area(|own| own.below),
            shown_within: area(|own| own.shown_within),
            shown_above: area(|own| own.shown_above),
            shown_below: area(|own| own.shown_below),
            in_doubt: area(|own| own.in_doubt),
            volume_above: volume(|own| own.volume_above),
            volume_below: volume(|own| own.volume_below),
            lowest: low.lowest,
            lowest_at: low.lowest_at,
            highest: high.highest,
            highest_at: high.highest_at,
            mean: low.mean.with(moment / whole),
        })
    }

    fn all_slopes(&self, zones: &[ZoneConformity]) -> Option<SlopesWithin> {
        let all: Vec<SlopesWithin> = zones.iter().filter_map(|zone| zone.slopes).collect();
        let flat = { all.iter() }.min_by(|a, b| a.flattest.total_cmp(&b.flattest))?;
        let steep = { all.iter() }.max_by(|a, b| a.steepest.total_cmp(&b.steepest))?;
        let area = |of: fn(&SlopesWithin) -> Area| Area::sum(self.units.area, all.iter().map(of));
        Some(SlopesWithin {
            verdict: worst(all.iter().map(|own| own.verdict)),
            within: area(|own| own.within),
            flatter: area(|own| own.flatter),
            steeper: area(|own| own.steeper),
            shown_within: area(|own| own.shown_within),
            shown_flatter: area(|own| own.shown_flatter),
            shown_steeper: area(|own| own.shown_steeper),
            flattest: flat.flattest,
            flattest_at: flat.flattest_at,
            steepest: steep.steepest,
            steepest_at: steep.steepest_at,
        })
    }
}
