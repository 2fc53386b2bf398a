//! What an item is paid by, and the material it moves.

use std::collections::BTreeSet;

use dapedon_contract::{Counted, State};
use dapedon_core::units::LengthUnit;

use super::super::super::entries::MovesEntry;
use super::super::super::kinds::{OfMaterial, ToldIn, said};
use super::super::super::{JobFileError, Moves, Pays, Stuff, What};
use super::super::materials::{lacking, lacks, lacks_for_loads, state};
use super::Checked;
use crate::units::{AreaAsked, Asked, VolumeAsked};

impl Checked<'_> {
    /// What the layer is counted in, in the unit that it is paid in.
    fn counted(&self) -> Option<&Counted> {
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

    pub(super) fn unit(&self, what: &What) -> Result<Pays, JobFileError> {
        let entry = self.entry;
        let text = entry.unit.get_ref().trim();
        let unit = self.sheet.unit;
        let volume = VolumeAsked::of_word(text).map(|asked| asked.on(unit));
        let area = AreaAsked::of_word(text).map(|asked| asked.on(unit));
        let told_in = what.kind().told_in(entry.material.is_some());
        let is_layer = told_in == ToldIn::Layer;
        let of_volume = matches!(told_in, ToldIn::Volume | ToldIn::Layer);
        let is_area = matches!(told_in, ToldIn::Area | ToldIn::Layer);
        let packed = entry
            .material
            .as_ref()
            .and_then(|material| self.known.materials.get(material.get_ref()))
            .and_then(|material| material.packed.iter().find(|packed| packed.unit == text));
        let found = match text {
            _ if is_layer && self.counted().is_some() => self.counted().cloned().map(Pays::Counted),
            _ if volume.is_some() && of_volume => volume.map(Pays::Volume),
            _ if area.is_some() && is_area => area.map(Pays::Area),
            "loads" | "load" if of_volume => Some(Pays::Loads),
            _ if of_volume && text == self.known.mass.symbol() => Some(Pays::Mass),
            _ if of_volume && packed.is_some() => packed.cloned().map(Pays::Packed),
            _ if told_in == ToldIn::Anything && !text.is_empty() => Some(Pays::Typed),
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
                "\"{text}\" is no unit that {} can be told in",
                said(*entry.counts.get_ref()).word
            );
            let also = match is_layer {
                true => ", or what its layer is counted in",
                false if of_volume => ", or what its material is counted in",
                false => "",
            };
            self.sheet.fault(
                entry.unit.span(),
                sentence,
                format!("say {}{also}", units.join(", ")),
            )
        })
    }

    pub(super) fn stuff(&self, what: &What, unit: &Pays) -> Result<Option<Stuff>, JobFileError> {
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
        let counts = said(*entry.counts.get_ref()).word;
        let usual = match what.kind().material() {
            OfMaterial::Usual(state, moves) => Ok((state, moves)),
            OfMaterial::Said(why) => Err(why),
            OfMaterial::None => {
                let what = format!("{counts} is no volume of a material");
                return Err(self.fault(what, "leave the material away"));
            }
        };
        let measured = match (entry.measured.map(state), usual) {
            (Some(said), _) => said,
            (None, Ok((state, _))) => state,
            (None, Err(why)) => {
                let remedy =
                    "add measured = \"bank\", \"loose\" or \"compacted\", where all of it is";
                return Err(self.fault(why, remedy));
            }
        };
        let moves = match entry.moves {
            Some(MovesEntry::Dug) => Moves::Dug,
            Some(MovesEntry::Placed) => Moves::Placed,
            Some(MovesEntry::Nothing) => Moves::Nothing,
            None => usual.map_or(Moves::Nothing, |(_, moves)| moves),
        };
        let vehicle = match &entry.vehicle {
            None => material.vehicle.clone(),
            Some(vehicle) => {
                let names: BTreeSet<&str> = known.vehicles.keys().map(String::as_str).collect();
                Some(sheet.known(vehicle, "vehicle", &names)?)
            }
        };
        let pay = entry.pay.map_or(measured, state);
        let truck = vehicle
            .as_ref()
            .and_then(|vehicle| known.vehicles.get(vehicle));
        let paid = match unit {
            Pays::Volume(_) => lacks(&material.material, measured, Some(pay)),
            Pays::Mass => lacks(&material.material, measured, None),
            Pays::Packed(packed) => lacks(&material.material, measured, Some(packed.state)),
            Pays::Loads if truck.is_none() => {
                let what = "nothing says which vehicle hauls the loads";
                return Err(self.fault(what, "add vehicle = \"...\" to the item or its material"));
            }
            Pays::Loads | Pays::Area(_) | Pays::Counted(_) | Pays::Typed => None,
        };
        let hauled = truck.and_then(|truck| lacks_for_loads(&material.material, measured, truck));
        let moved = match moves {
            Moves::Nothing => None,
            Moves::Dug | Moves::Placed => lacks(&material.material, measured, Some(State::Bank)),
        };
        if let Some(missing) = paid.or(hauled) {
            return Err(lacking(sheet, entry.code.span(), &name, missing));
        }
        if let Some(missing) = moved {
            let mut fault = lacking(sheet, entry.code.span(), &name, missing);
            fault.remedy +=
                ", or say moves = \"nothing\" where it is no matter of digging and placing";
            return Err(fault);
        }
        if entry.pay.is_some() && !matches!(unit, Pays::Volume(_)) {
            let what = format!(
                "the item is paid in {}, not by volume: no state of one is",
                entry.unit.get_ref()
            );
            return Err(self.fault(what, "leave pay away, or say a unit of volume"));
        }
        Ok(Some(Stuff {
            material: name,
            measured,
            pay,
            vehicle,
            moves,
        }))
    }

    /// What only a material gives a meaning to is refused without one.
    fn no_material(&self, unit: &Pays) -> Result<(), JobFileError> {
        let entry = self.entry;
        let needs = match unit {
            Pays::Mass => Some("a mass"),
            Pays::Loads => Some("loads"),
            Pays::Volume(_) | Pays::Area(_) | Pays::Packed(_) | Pays::Counted(_) | Pays::Typed => {
                None
            }
        };
        let says = [
            (entry.pay.is_some(), "pay"),
            (entry.measured.is_some(), "measured"),
            (entry.vehicle.is_some(), "vehicle"),
            (entry.moves.is_some(), "moves"),
        ];
        let said = says.into_iter().find(|(said, _)| *said).map(|(_, key)| key);
        match needs.or(said) {
            None => Ok(()),
            Some(needs) => Err(self.fault(
                format!("nothing says what material it is, and {needs} depends on that"),
                "add material = \"...\"",
            )),
        }
    }
}
