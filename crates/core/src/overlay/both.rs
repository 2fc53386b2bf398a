//! Two folds in one walk.

use super::{Fold, Piece};

/// Two folds that are taken over the same pieces.
pub(crate) struct Both<A, B>(pub(crate) A, pub(crate) B);

impl<A: Fold, B: Fold> Fold for Both<A, B> {
    type Part = (A::Part, B::Part);

    fn part(&self) -> Self::Part {
        (self.0.part(), self.1.part())
    }

    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.0.piece(&mut part.0, piece);
        self.1.piece(&mut part.1, piece);
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        self.0.join(&mut part.0, next.0);
        self.1.join(&mut part.1, next.1);
    }
}
