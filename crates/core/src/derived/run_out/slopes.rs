//! Side slopes: how steep they are, and their benches.

/// How side slopes run out.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Slopes {
    /// Where the ground is higher, and dug away.
    pub cut: SideSlope,
    /// Where it is lower, and filled.
    pub fill: SideSlope,
    /// How far the broken run-out may stand from the round one at a corner.
    pub chord: f64,
}

/// A side slope: so far in plan for each unit of height, as *n* in 1 in *n*, with benches in high slopes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SideSlope {
    /// *n* of 1 in *n*.
    pub run: f64,
    /// The benches in it.
    pub bench: Option<Bench>,
}

/// A bench wherever a slope has gone on for a height.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bench {
    /// The height of slope between two benches.
    pub every: f64,
    /// How wide a bench is.
    pub width: f64,
    /// How much it falls away from the top for a unit of width; a negative one holds water back at the slope above it.
    pub fall: f64,
}

impl SideSlope {
    /// A slope of 1 in `run` without benches.
    pub const fn plain(run: f64) -> Self {
        SideSlope { run, bench: None }
    }

    pub(super) fn is_usable(&self) -> bool {
        let usable = |value: f64| value > 0.0 && value.is_finite();
        let bench = |own: Bench| {
            // A bench that rises as far as the slope between two of them gets nowhere.
            usable(own.every) && usable(own.width) && usable(own.every + own.width * own.fall)
        };
        usable(self.run) && self.bench.is_none_or(bench)
    }

    /// How far it goes in plan for each unit of height, benches counted.
    pub(super) fn mean_run(&self) -> f64 {
        match self.bench {
            None => self.run,
            Some(bench) => {
                (self.run * bench.every + bench.width) / (bench.every + bench.width * bench.fall)
            }
        }
    }
}
