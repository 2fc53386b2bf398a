//! Two folds in one walk.

use super::{Fold, Piece, Strip};

/// Two folds that are taken over the same pieces.
pub(crate) struct Both<A, B>(pub(crate) A, pub(crate) B);

impl<A: Fold, B: Fold> Fold for Both<A, B> {
    type Part = (A::Part, B::Part);

    fn part(&self) -> Self::Part {
        (self.0.part(), self.1.part())
    }

    #[inline(always)]
    fn piece(&self, part: &mut Self::Part, piece: &Piece<'_>) {
        self.0.piece(&mut part.0, piece);
        self.1.piece(&mut part.1, piece);
    }

    fn strip(&self, part: &mut Self::Part, strip: &Strip<'_>) {
        self.0.strip(&mut part.0, strip);
        self.1.strip(&mut part.1, strip);
    }

    fn join(&self, part: &mut Self::Part, next: Self::Part) {
        self.0.join(&mut part.0, next.0);
        self.1.join(&mut part.1, next.1);
    }
}
