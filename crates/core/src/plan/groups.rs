//! Many things sorted into numbered groups, in two passes over them: one counts, one puts them in.

/// Things in numbered groups, in each group in the order in which they came.
#[derive(Debug, Clone)]
pub(crate) struct Groups<T> {
    starts: Vec<u32>,
    things: Vec<T>,
}

impl<T: Copy + Default> Groups<T> {
    /// Sorts things into groups; `each` hands over all of them with their groups, and is asked twice.
    pub(crate) fn of(count: usize, each: impl Fn(&mut dyn FnMut(usize, T))) -> Self {
        let mut starts = vec![0u32; count + 1];
        each(&mut |group, _| starts[group + 1] += 1);
        for group in 1..starts.len() {
            starts[group] += starts[group - 1];
        }
        let mut next = starts.clone();
        let mut things = vec![T::default(); starts[count] as usize];
        each(&mut |group, thing| {
            let next = &mut next[group];
            things[*next as usize] = thing;
            *next += 1;
        });
        Groups { starts, things }
    }

    /// The things of a group.
    pub(crate) fn get(&self, group: usize) -> &[T] {
        &self.things[self.starts[group] as usize..self.starts[group + 1] as usize]
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn things_keep_their_order_within_groups() {
        let groups = Groups::of(3, |put| {
            for (group, thing) in [(2, 'a'), (0, 'b'), (2, 'c')] {
                put(group, thing);
            }
        });
        assert_eq!(
            [0, 1, 2].map(|group| groups.get(group)),
            [&['b'][..], &[], &['a', 'c']]
        );
    }
}
