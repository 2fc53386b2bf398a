//! Several folds in one walk.

use super::{Fold, Piece, Strip};

/// Folds that are all taken over the same pieces.
pub(crate) struct Each<F>(pub(crate) Vec<F>);

impl<F: Fold> Fold for Each<F> {
    type Part = Vec<F::Part>;

    fn part(&self) -> Self::Part {
        self.0.iter().map(Fold::part).collect()
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        for (fold, part) in self.0.iter().zip(part) {
            fold.piece(part, piece);
        }
    }

    fn strip(&self, part: &mut Self::Part, strip: &Strip<'_>) {
        for (fold, part) in self.0.iter().zip(part) {
            fold.strip(part, strip);
        }
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        for ((fold, part), next) in self.0.iter().zip(part).zip(next) {
            fold.join(part, next);
        }
    }
}
