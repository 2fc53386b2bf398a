//! Point numbers to indices.

use std::collections::HashMap;

/// Which index a point number stands for. Numbers that run on by one, as nearly all do, take no
/// memory.
#[derive(Debug, Default)]
pub(super) struct Ids {
    first: u64,
    count: u32,
    scattered: Option<HashMap<u64, u32>>,
}

impl Ids {
    /// Gives the next index to `id`; false when it has one already.
    pub(super) fn push(&mut self, id: u64) -> bool {
        if self.count == 0 {
            self.first = id;
        }
        let next = self.first.wrapping_add(u64::from(self.count));
        if self.scattered.is_none() && id != next {
            let so_far =
                (0..self.count).map(|index| (self.first.wrapping_add(u64::from(index)), index));
            self.scattered = Some(so_far.collect());
        }
        let index = self.count;
        self.count += 1;
        match &mut self.scattered {
            Some(scattered) => scattered.insert(id, index).is_none(),
            None => true,
        }
    }

    pub(super) fn index(&self, id: u64) -> Option<u32> {
        match &self.scattered {
            Some(scattered) => scattered.get(&id).copied(),
            None => u32::try_from(id.checked_sub(self.first)?)
                .ok()
                .filter(|&index| index < self.count),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_may_run_on_or_not() {
        let mut ids = Ids::default();
        assert!(ids.push(7) && ids.push(8));
        assert_eq!(
            (ids.index(7), ids.index(8), ids.index(9), ids.index(6)),
            (Some(0), Some(1), None, None)
        );
        assert!(ids.push(3) && ids.push(9));
        assert!(!ids.push(8));
        assert_eq!(
            (ids.index(3), ids.index(9), ids.index(4)),
            (Some(2), Some(3), None)
        );
    }
}
