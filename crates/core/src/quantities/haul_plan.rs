//! Which cut goes to which fill with the least haul: a transport plan.

use microlp::{ComparisonOp, OptimizationDirection, Problem, Variable};

/// Where material comes from, or goes to.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HaulEnd {
    /// How much there is or is wanted; infinite where there is no end to it.
    pub volume: f64,
    /// All of it must go, or come. Otherwise it is the most.
    pub is_fixed: bool,
}

/// A flow from one end to another.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Flow {
    /// Which source, from zero.
    pub from: usize,
    /// Which destination, from zero.
    pub to: usize,
    /// How much.
    pub volume: f64,
}

/// A plan with the least total.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct HaulPlan {
    /// What goes where: by source, then by destination. Others may have the same total.
    pub flows: Vec<Flow>,
    /// What must go and finds no place, by source.
    pub left_over: Vec<f64>,
    /// What is wanted and does not come, by destination.
    pub missing: Vec<f64>,
    /// The sum of volumes times what a unit of volume costs on its way.
    pub total: f64,
}

/// Why there is no plan.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[non_exhaustive]
pub enum HaulPlanError {
    /// A volume or a cost is no figure of zero or more.
    #[error("a volume or a cost is not a figure of zero or more")]
    NoFigure,
    /// More pairs than can be planned.
    #[error(
        "{sources} places with cut and {destinations} with fill are too many: at most {} pairs",
        MOST
    )]
    TooMany {
        /// Sources.
        sources: usize,
        /// Destinations.
        destinations: usize,
    },
    /// The solver gave up.
    #[error("the haul plan could not be solved: {0}")]
    Unsolved(String),
}

/// Pairs of sources and destinations at most.
const MOST: usize = 40_000;
/// The solver's tolerance is a ten-millionth, whatever the figures: they are brought to this size.
const SIZE: f64 = 1e4;
/// Flows smaller than this share of all are none.
const NOTHING: f64 = 1e-9;

/// The plan whose volumes times `cost`, for a unit of volume from a source to a destination, come to the least. What is fixed goes or comes
/// wholly, as far as the other side has room; what finds none is left over or missing.
///
/// It is a linear programme: flows of zero or more, the sums over each source and destination given.
///
/// ```
/// use dapedon_core::quantities::{HaulEnd, haul_plan};
/// let end = |volume| HaulEnd { volume, is_fixed: true };
/// // Two cuts at 0 and 10 along a road, two fills at 4 and 30.
/// let (cuts, fills): ([f64; 2], [f64; 2]) = ([0.0, 10.0], [4.0, 30.0]);
/// let plan = haul_plan(&[end(50.0), end(50.0)], &[end(30.0), end(60.0)], |i, j| (cuts[i] - fills[j]).abs()).unwrap();
/// assert!((plan.total - (30.0 * 4.0 + 10.0 * 30.0 + 50.0 * 20.0)).abs() < 1e-6);
/// assert!((plan.left_over[0] - 10.0).abs() < 1e-9);
/// ```
///
/// # Errors
///
/// When a figure is none, or there are too many.
pub fn haul_plan(
    sources: &[HaulEnd],
    destinations: &[HaulEnd],
    cost: impl Fn(usize, usize) -> f64,
) -> Result<HaulPlan, HaulPlanError> {
    let pairs = sources.len().saturating_mul(destinations.len());
    if pairs > MOST {
        return Err(HaulPlanError::TooMany {
            sources: sources.len(),
            destinations: destinations.len(),
        });
    }
    let ends = || sources.iter().chain(destinations);
    if ends().any(|end| {
        end.volume.is_nan() || end.volume < 0.0 || (end.is_fixed && end.volume.is_infinite())
    }) {
        return Err(HaulPlanError::NoFigure);
    }
    let fixed = |ends: &[HaulEnd]| -> f64 {
        let fixed = ends.iter().filter(|end| end.is_fixed);
        fixed.map(|end| end.volume).sum()
    };
    let room = |ends: &[HaulEnd]| -> f64 { ends.iter().map(|end| end.volume).sum() };
    // What the other side has no room for stays, and no more.
    let left_over = (fixed(sources) - room(destinations)).max(0.0);
    let missing = (fixed(destinations) - room(sources)).max(0.0);
    let mut costs = Vec::with_capacity(pairs);
    for from in 0..sources.len() {
        for to in 0..destinations.len() {
            costs.push(cost(from, to));
        }
    }
    let most_cost = costs.iter().copied().fold(0.0, f64::max);
    if costs.iter().any(|cost| cost.is_nan() || *cost < 0.0) || most_cost.is_infinite() {
        return Err(HaulPlanError::NoFigure);
    }
    let all = fixed(sources).max(fixed(destinations));
    let empty = HaulPlan {
        left_over: vec![0.0; sources.len()],
        missing: vec![0.0; destinations.len()],
        ..HaulPlan::default()
    };
    if all <= 0.0 {
        return Ok(empty);
    }
    let per_volume = SIZE / all;
    let per_cost = if most_cost > 0.0 {
        1.0 / most_cost
    } else {
        1.0
    };
    let most = |volume: f64| if volume > 0.0 { f64::INFINITY } else { 0.0 };
    let mut problem = Problem::new(OptimizationDirection::Minimize);
    let flows: Vec<Variable> = (costs.iter())
        .map(|cost| problem.add_var(cost * per_cost, (0.0, f64::INFINITY)))
        .collect();
    let mut stays = |count: usize, volume: f64| -> Vec<Variable> {
        (0..count)
            .map(|_| problem.add_var(0.0, (0.0, most(volume))))
            .collect()
    };
    let (stay, lack) = (
        stays(sources.len(), left_over),
        stays(destinations.len(), missing),
    );
    let mut sum = |end: &HaulEnd, own: Vec<Variable>, rest: Variable| {
        let mut terms: Vec<(Variable, f64)> = own.into_iter().map(|flow| (flow, 1.0)).collect();
        let volume = end.volume * per_volume;
        match end.is_fixed {
            true => {
                terms.push((rest, 1.0));
                problem.add_constraint(&terms, ComparisonOp::Eq, volume);
            }
            false if volume.is_finite() => {
                problem.add_constraint(&terms, ComparisonOp::Le, volume);
            }
            false => {}
        }
    };
    let wide = destinations.len();
    for (from, end) in sources.iter().enumerate() {
        sum(
            end,
            flows[from * wide..(from + 1) * wide].to_vec(),
            stay[from],
        );
    }
    for (to, end) in destinations.iter().enumerate() {
        let own = (0..sources.len()).map(|from| flows[from * wide + to]);
        sum(end, own.collect(), lack[to]);
    }
    for (rest, volume) in [(&stay, left_over), (&lack, missing)] {
        if volume > 0.0 {
            let terms: Vec<(Variable, f64)> = rest.iter().map(|own| (*own, 1.0)).collect();
            problem.add_constraint(&terms, ComparisonOp::Le, volume * per_volume);
        }
    }
    let unsolved = |what: String| HaulPlanError::Unsolved(what);
    let solved = problem
        .solve()
        .map_err(|error| unsolved(error.to_string()))?;
    let solution = solved
        .into_solution()
        .map_err(|_| unsolved("it was stopped".into()))?;
    let value = |variable: &Variable| {
        let volume = solution.var_value(*variable) / per_volume;
        if volume > NOTHING * all { volume } else { 0.0 }
    };
    let found = flows.iter().enumerate().map(|(index, flow)| Flow {
        from: index / wide.max(1),
        to: index % wide.max(1),
        volume: value(flow),
    });
    let flows: Vec<Flow> = found.filter(|flow| flow.volume > 0.0).collect();
    Ok(HaulPlan {
        total: flows
            .iter()
            .map(|flow| flow.volume * costs[flow.from * wide + flow.to])
            .sum(),
        flows,
        left_over: stay.iter().map(value).collect(),
        missing: lack.iter().map(value).collect(),
    })
}
