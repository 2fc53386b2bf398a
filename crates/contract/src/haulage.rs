//! Loads of vehicles, and what is brought in and taken away.

use rust_decimal::Decimal;

use crate::{Bank, Loose, Mass};

/// A vehicle: how much it takes, by volume, by mass, or both.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Vehicle {
    /// The loose volume that it holds.
    pub holds: Option<Loose>,
    /// The mass that it carries.
    pub carries: Option<Mass>,
}

/// What limits a load.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum LoadLimitedBy {
    /// The volume that the vehicle holds.
    Volume,
    /// The mass that it carries.
    Mass,
}

/// Loads, whole ones.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Loads {
    /// How many, rounded up.
    pub count: Decimal,
    /// How many the limit that binds gives, before they are rounded up.
    pub exact: Decimal,
    /// What limits a load.
    pub binds: LoadLimitedBy,
}

impl Vehicle {
    /// The loads that a volume and its mass make: whichever limit asks for more of them binds. None where the
    /// vehicle has no limit, or one for which the amount is not known.
    ///
    /// ```
    /// use dapedon_contract::{LoadLimitedBy, Loose, Mass, Vehicle};
    /// use rust_decimal::dec;
    /// let tipper = Vehicle { holds: Some(Loose(dec!(10))), carries: Some(Mass(dec!(16))) };
    /// // 12.5 loads by volume, 12.6875 by mass.
    /// let loads = tipper.loads(Some(Loose(dec!(125))), Some(Mass(dec!(203)))).unwrap();
    /// assert_eq!((loads.count, loads.binds), (dec!(13), LoadLimitedBy::Mass));
    /// ```
    pub fn loads(&self, loose: Option<Loose>, mass: Option<Mass>) -> Option<Loads> {
        let by_volume = match self.holds {
            Some(holds) => Some((loose?.0.checked_div(holds.0)?, LoadLimitedBy::Volume)),
            None => None,
        };
        let by_mass = match self.carries {
            Some(carries) => Some((mass?.0.checked_div(carries.0)?, LoadLimitedBy::Mass)),
            None => None,
        };
        let limits = by_volume.into_iter().chain(by_mass);
        let (exact, binds) = limits.reduce(|a, b| if b.0 > a.0 { b } else { a })?;
        Some(Loads {
            count: exact.ceil(),
            exact,
            binds,
        })
    }
}

/// What is dug of a material against what is placed of it, both as it is in the bank.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Movement {
    /// What is dug.
    pub dug: Bank,
    /// What is needed to make what is placed.
    pub needed: Bank,
}

impl Movement {
    /// What is dug and placed on site.
    pub fn stays(&self) -> Bank {
        self.dug.min(self.needed)
    }

    /// What is to be taken away.
    pub fn surplus(&self) -> Bank {
        Bank(self.dug.0.saturating_sub(self.stays().0))
    }

    /// What is to be brought in.
    pub fn shortfall(&self) -> Bank {
        Bank(self.needed.0.saturating_sub(self.stays().0))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use rust_decimal::dec;

    #[test]
    fn whole_loads_are_not_rounded_up() {
        let van = Vehicle {
            holds: Some(Loose(dec!(7.5))),
            carries: None,
        };
        let loads = |loose: Decimal| van.loads(Some(Loose(loose)), None).unwrap().count;
        assert_eq!(
            [loads(dec!(0)), loads(dec!(30)), loads(dec!(30.01))],
            [dec!(0), dec!(4), dec!(5)]
        );
        assert_eq!(van.loads(None, Some(Mass(dec!(1)))), None);
        assert_eq!(Vehicle::default().loads(Some(Loose(dec!(1))), None), None);
    }

    proptest! {
        /// The loads take it all, and one fewer would not, by the limit that binds.
        #[test]
        fn loads_suffice_and_none_is_spare(loose in 1i64..10_000_000, density in 500i64..3000, holds in 10i64..400, carries in 10i64..400) {
            let (loose, density) = (Decimal::new(loose, 2), Decimal::new(density, 3));
            let (holds, carries) = (Decimal::new(holds, 1), Decimal::new(carries, 1));
            let mass = loose * density;
            let truck = Vehicle { holds: Some(Loose(holds)), carries: Some(Mass(carries)) };
            let loads = truck.loads(Some(Loose(loose)), Some(Mass(mass))).unwrap();
            prop_assert!(loads.count * holds >= loose && loads.count * carries >= mass);
            let fewer = loads.count - dec!(1);
            prop_assert!(fewer * holds < loose || fewer * carries < mass);
            let (amount, takes) = match loads.binds {
                LoadLimitedBy::Volume => (loose, holds),
                LoadLimitedBy::Mass => (mass, carries),
            };
            prop_assert!(fewer * takes < amount);
        }

        #[test]
        fn what_is_dug_stays_or_goes(dug in 0i64..1_000_000, needed in 0i64..1_000_000) {
            let moved = Movement { dug: Bank(dug.into()), needed: Bank(needed.into()) };
            prop_assert_eq!(moved.stays().0 + moved.surplus().0, moved.dug.0);
            prop_assert_eq!(moved.stays().0 + moved.shortfall().0, moved.needed.0);
            prop_assert!(moved.surplus().0.is_zero() || moved.shortfall().0.is_zero());
        }
    }
}
