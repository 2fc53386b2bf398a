//! What an item is paid by, and the material it moves.

use std::collections::BTreeSet;

use dapedon_contract::{LayerCount, State};
use dapedon_core::units::LengthUnit;

use super::super::super::entries::MovesEntry;
use super::super::super::kinds::{AllowedUnits, MaterialDefaults, said};
use super::super::super::{ItemKind, ItemMaterial, JobFileError, MaterialUse, PaidUnit};
use super::super::materials::{lacking, lacks, lacks_for_loads, state};
use super::Checked;
use crate::units::{RequestedAreaUnit, RequestedUnit, RequestedVolumeUnit};

impl Checked<'_> {
    /// What the layer is counted in, in the unit that it is paid in.
    fn counted(&self) -> Option<&LayerCount> {
        let unit = self.entry.unit.get_ref();
        let layer = self.entry.layer.as_ref()?.get_ref();
        let only = self.entry.build_up.as_ref().map(|name| name.get_ref());
        let plans = self.known.build_ups.iter();
        let mut layers = plans
            .filter(|(name, _)| only.is_none_or(|only| only == *name))
            .flat_map(|(_, plan)| &plan.layers)
            .filter(|own| own.name == *layer);
        layers.find_map(|layer| layer.counted.iter().find(|counted| counted.unit == *unit))
    }

    pub(super) fn unit(&self, what: &ItemKind) -> Result<PaidUnit, JobFileError> {
        let entry = self.entry;
        let text = entry.unit.get_ref().trim();
        let unit = self.sheet.unit;
        let volume = RequestedVolumeUnit::of_word(text).map(|asked| asked.on(unit));
        let area = RequestedAreaUnit::of_word(text).map(|asked| asked.on(unit));
        let told_in = what.kind().told_in(entry.material.is_some());
        let is_layer = told_in == AllowedUnits::Layer;
        let of_volume = matches!(told_in, AllowedUnits::Volume | AllowedUnits::Layer);
        let is_area = matches!(told_in, AllowedUnits::Area | AllowedUnits::Layer);
        let packed = entry
            .material
            .as_ref()
            .and_then(|material| self.known.materials.get(material.get_ref()))
            .and_then(|material| material.packed.iter().find(|packed| packed.unit == text));
        let found = match text {
            _ if is_layer && self.counted().is_some() => {
                self.counted().cloned().map(PaidUnit::Counted)
            }
            _ if volume.is_some() && of_volume => volume.map(PaidUnit::Volume),
            _ if area.is_some() && is_area => area.map(PaidUnit::Area),
            "loads" | "load" if of_volume => Some(PaidUnit::Loads),
            _ if of_volume && text == self.known.mass.symbol() => Some(PaidUnit::Mass),
            _ if of_volume && packed.is_some() => packed.cloned().map(PaidUnit::Packed),
            _ if told_in == AllowedUnits::Anything && !text.is_empty() => Some(PaidUnit::Typed),
            _ => None,
        };
        found.ok_or_else(|| {
            let mut units = Vec::new();
            if of_volume {
                let mass = self.known.mass.symbol();
                let volumes = match unit {
                    LengthUnit::Metre => &["m3"][..],
                    LengthUnit::Foot(_) => &["yd3", "ft3"],
                };
                units.extend(volumes.iter().map(|&volume| volume.to_owned()));
                units.extend([mass.into(), "loads".to_owned()]);
            }
            if is_area {
                let areas = if unit == LengthUnit::Metre {
                    ["m2", "ha"].as_slice()
                } else {
                    &["ft2", "yd2", "acre"]
                };
                units.extend(areas.iter().map(|&area| area.to_owned()));
            }
            let sentence = format!(
                "\"{text}\" is not a unit for {}",
                said(*entry.measure.get_ref()).word
            );
            let also = match is_layer {
                true => ", or a unit that its layer is counted in",
                false if of_volume => ", or a unit that its material is counted in",
                false => "",
            };
            self.sheet.fault(
                entry.unit.span(),
                sentence,
                format!("use {}{also}", units.join(", ")),
            )
        })
    }

    pub(super) fn stuff(
        &self,
        what: &ItemKind,
        unit: &PaidUnit,
    ) -> Result<Option<ItemMaterial>, JobFileError> {
        let Checked {
            sheet,
            known,
            entry,
        } = *self;
        let Some(name) = &entry.material else {
            return self.no_material(unit).map(|()| None);
        };
        let names: BTreeSet<&str> = known.materials.keys().map(String::as_str).collect();
        let name = sheet.known(name, "material", &names)?;
        let Some(material) = known.materials.get(&name) else {
            return Ok(None);
        };
        let counts = said(*entry.measure.get_ref()).word;
        let usual = match what.kind().material() {
            MaterialDefaults::Usual(state, moves) => Ok((state, moves)),
            MaterialDefaults::Said(why) => Err(why),
            MaterialDefaults::None => {
                let what = format!("{counts} is not a volume of a material");
                return Err(self.fault(what, "remove the material"));
            }
        };
        let measured = match (entry.measured_state.map(state), usual) {
            (Some(said), _) => said,
            (None, Ok((state, _))) => state,
            (None, Err(why)) => {
                let remedy = "add measured-state = \"bank\", \"loose\" or \"compacted\", the state of all of it";
                return Err(self.fault(why, remedy));
            }
        };
        let moves = match entry.moves {
            Some(MovesEntry::Dug) => MaterialUse::Dug,
            Some(MovesEntry::Placed) => MaterialUse::Placed,
            Some(MovesEntry::Nothing) => MaterialUse::Nothing,
            None => usual.map_or(MaterialUse::Nothing, |(_, moves)| moves),
        };
        let vehicle = match &entry.vehicle {
            None => material.vehicle.clone(),
            Some(vehicle) => {
                let names: BTreeSet<&str> = known.vehicles.keys().map(String::as_str).collect();
                Some(sheet.known(vehicle, "vehicle", &names)?)
            }
        };
        let pay = entry.paid_state.map_or(measured, state);
        let truck = vehicle
            .as_ref()
            .and_then(|vehicle| known.vehicles.get(vehicle));
        let paid = match unit {
            PaidUnit::Volume(_) => lacks(&material.material, measured, Some(pay)),
            PaidUnit::Mass => lacks(&material.material, measured, None),
            PaidUnit::Packed(packed) => lacks(&material.material, measured, Some(packed.state)),
            PaidUnit::Loads if truck.is_none() => {
                let what = "no vehicle is given for the loads";
                return Err(
                    self.fault(what, "add vehicle = \"...\" to the item or to its material")
                );
            }
            PaidUnit::Loads | PaidUnit::Area(_) | PaidUnit::Counted(_) | PaidUnit::Typed => None,
        };
        let hauled = truck.and_then(|truck| lacks_for_loads(&material.material, measured, truck));
        let moved = match moves {
            MaterialUse::Nothing => None,
            MaterialUse::Dug | MaterialUse::Placed => {
                lacks(&material.material, measured, Some(State::Bank))
            }
        };
        if let Some(missing) = paid.or(hauled) {
            return Err(lacking(sheet, entry.code.span(), &name, missing));
        }
        if let Some(missing) = moved {
            let mut fault = lacking(sheet, entry.code.span(), &name, missing);
            fault.remedy += ", or moves = \"nothing\" if nothing is dug or placed";
            return Err(fault);
        }
        if entry.paid_state.is_some() && !matches!(unit, PaidUnit::Volume(_)) {
            let what = format!(
                "the item is paid in {}, and pay is only for volumes",
                entry.unit.get_ref()
            );
            return Err(self.fault(what, "remove pay, or use a unit of volume"));
        }
        Ok(Some(ItemMaterial {
            material: name,
            measured,
            pay,
            vehicle,
            moves,
        }))
    }

    /// What only a material gives a meaning to is refused without one.
    fn no_material(&self, unit: &PaidUnit) -> Result<(), JobFileError> {
        let entry = self.entry;
        let needs = match unit {
            PaidUnit::Mass => Some("a mass"),
            PaidUnit::Loads => Some("loads"),
            PaidUnit::Volume(_)
            | PaidUnit::Area(_)
            | PaidUnit::Packed(_)
            | PaidUnit::Counted(_)
            | PaidUnit::Typed => None,
        };
        let says = [
            (entry.paid_state.is_some(), "paid-state"),
            (entry.measured_state.is_some(), "measured-state"),
            (entry.vehicle.is_some(), "vehicle"),
            (entry.moves.is_some(), "moves"),
        ];
        let said = says.into_iter().find(|(said, _)| *said).map(|(_, key)| key);
        match needs.or(said) {
            None => Ok(()),
            Some(needs) => Err(self.fault(
                format!("the item has no material, and {needs} needs one"),
                "add material = \"...\"",
            )),
        }
    }
}
