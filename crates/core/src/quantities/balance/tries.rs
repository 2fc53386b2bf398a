//! The shift at which cut and fill meet, where each try has to be measured anew.

use super::{Balance, Search, Shifted};

/// Tries spread over the whole range at first.
const SPREAD: usize = 9;
/// Tries that follow at most.
const MORE: usize = 40;

/// Finds the shift at which cut and fill meet from tries alone, for what changes by more than its height.
///
/// Evenly spread tries find between which two the surplus changes its sign; from there on it is sought by false
/// position, the end that stays counting half (the Illinois rule: Dowell and Jarratt, BIT 11, 1971), until the
/// surplus is within the amount asked for, or a millionth of what is moved.
///
/// # Errors
///
/// Those of the tries.
pub fn balance_by<E>(
    mut measure: impl FnMut(f64) -> Result<Shifted, E>,
    search: &Search,
) -> Result<Balance, E> {
    let surplus = |tried: &Shifted| tried.surplus(search.yielded);
    let enough = |tried: &Shifted| {
        surplus(tried).abs() <= search.amount.max(1e-6 * (tried.cut + tried.fill))
    };
    let mut tried = Vec::with_capacity(SPREAD);
    for shift in search.with_rest(SPREAD) {
        tried.push(measure(shift)?);
    }
    let size = |tried: &&Shifted| surplus(tried).abs();
    let mut best = tried
        .iter()
        .min_by(|a, b| size(a).total_cmp(&size(b)))
        .copied()
        .unwrap_or(Shifted {
            shift: search.range[0],
            cut: 0.0,
            fill: 0.0,
        });
    let between = tried
        .windows(2)
        .find(|pair| surplus(&pair[0]) > 0.0 && surplus(&pair[1]) <= 0.0);
    let Some(&[mut low, mut high]) = between.and_then(|pair| <&[Shifted; 2]>::try_from(pair).ok())
    else {
        let meets = enough(&best);
        return Ok(Balance { tried, best, meets });
    };
    let (mut above, mut below) = (surplus(&low), surplus(&high));
    // Which end the try before took the place of.
    let mut before = None;
    for _ in 0..MORE {
        if enough(&best) {
            break;
        }
        let shift = low.shift + above / (above - below) * (high.shift - low.shift);
        if !(low.shift < shift && shift < high.shift) {
            break;
        }
        let next = measure(shift)?;
        let rises = surplus(&next) > 0.0;
        match rises {
            true => (low, above) = (next, surplus(&next)),
            false => (high, below) = (next, surplus(&next)),
        }
        match (rises, before) {
            (true, Some(true)) => below /= 2.0,
            (false, Some(false)) => above /= 2.0,
            _ => {}
        }
        before = Some(rises);
        best = next;
        tried.push(next);
    }
    // The roundest shift that is as good as it need be.
    for ten in [1.0, 10.0, 100.0, 1000.0] {
        let shift = (best.shift * ten).round() / ten;
        let known = tried.iter().any(|tried| tried.shift == shift);
        if search.amount == 0.0 || known || !(search.range[0]..=search.range[1]).contains(&shift) {
            continue;
        }
        let rounded = measure(shift)?;
        tried.push(rounded);
        if surplus(&rounded).abs() <= search.amount {
            best = rounded;
            break;
        }
    }
    let meets = enough(&best);
    tried.sort_by(|a, b| a.shift.total_cmp(&b.shift));
    Ok(Balance { tried, best, meets })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn search(range: [f64; 2], amount: f64) -> Search {
        Search {
            yielded: 1.0,
            range,
            amount,
        }
    }

    #[test]
    fn tries_close_in() {
        let mut tries = 0;
        let measure = |shift: f64| {
            tries += 1;
            Ok::<_, ()>(Shifted {
                shift,
                cut: 50.0 * (1.0 - shift).powi(2),
                fill: 50.0 * shift.powi(3),
            })
        };
        let found = balance_by(measure, &search([0.0, 1.0], 1e-4)).unwrap();
        assert!(found.meets && found.best.surplus(1.0).abs() <= 1e-4);
        // (1 - s)² = s³
        assert!((found.best.shift - 0.569_840_290_998).abs() < 1e-5);
        assert!(tries < SPREAD + 14, "{tries}");
        assert!(found.tried.is_sorted_by_key(|tried| tried.shift));
    }

    #[test]
    fn what_never_meets_says_its_best() {
        let measure = |shift: f64| {
            Ok::<_, ()>(Shifted {
                shift,
                cut: 10.0 - shift,
                fill: 1.0,
            })
        };
        let found = balance_by(measure, &search([0.0, 4.0], 0.1)).unwrap();
        assert_eq!(
            (found.meets, found.best.shift, found.tried.len()),
            (false, 4.0, SPREAD)
        );
        let failing = balance_by(|_| Err("no"), &search([0.0, 4.0], 0.1));
        assert_eq!(failing.unwrap_err(), "no");
    }
}
