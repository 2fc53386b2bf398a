//! A surface that is measured.

use schemars::JsonSchema;
use std::collections::BTreeSet;
use std::sync::Arc;

use dapedon_core::plan::Place;
use dapedon_core::points::Patches;
use dapedon_core::surface::Surface;
use dapedon_core::units::LengthUnit;

use crate::accuracy::{AccuracyError, StatedAccuracy};
use crate::surfaces::facts::SurfaceFacts;
use crate::surfaces::recipe::Recipe;

/// A surface that is measured: what it is, where it came from, and what was found on the way to it.
#[derive(Clone)]
pub(crate) struct MadeSurface {
    pub(crate) surface: Arc<Surface>,
    pub(crate) side: SurfaceFacts,
    /// The sources whose errors are in its heights.
    pub(crate) errors_of: BTreeSet<String>,
    /// True where a file holds it as it is, and it was not made from points.
    pub(crate) handed_over: bool,
    /// The finished surface that it is, where no build-up was taken off.
    pub(crate) finished: Option<String>,
    /// Of one made from points: how they lie.
    pub(crate) patches: Option<Arc<Patches>>,
    /// Of one made from points: its breaklines.
    pub(crate) breaklines: Arc<Vec<Vec<Place>>>,
    /// Points whose height is odd, in the surface or dropped from it.
    pub(crate) odd: Vec<OutlierFound>,
}

/// A point whose height is odd, in grid coordinates.
#[derive(Debug, Clone, Copy, PartialEq, serde::Serialize, serde::Deserialize, JsonSchema)]
pub struct OutlierFound {
    /// Easting.
    pub east: f64,
    /// Northing.
    pub north: f64,
    /// Its height.
    pub height: f64,
    /// How far it stands above its neighbours; below them where negative.
    pub height_difference: f64,
}

impl MadeSurface {
    /// Its breaklines, where its triangles were chosen among its points and may as well be others: not of what a file hands over or steps made.
    pub(crate) fn chosen_triangles(&self) -> Option<Arc<Vec<Vec<Place>>>> {
        let as_read = |recipe: &Arc<Recipe>| recipe.all_steps().is_empty();
        let as_read = self.side.recipe.as_ref().is_none_or(as_read);
        let grid = matches!(*self.surface, Surface::Grid(_));
        (as_read && (grid || !self.handed_over)).then(|| self.breaklines.clone())
    }

    /// States how accurate it is, in a unit; what is not stated is as its file says of its points, if it does.
    pub(crate) fn state_accuracy(
        &mut self,
        stated: &StatedAccuracy,
        unit: LengthUnit,
    ) -> Result<(), AccuracyError> {
        let to = self.surface.frame().unit();
        let in_file = self.side.accuracy_in_file.as_ref();
        self.side.accuracy = Some(stated.resolved([unit, to], in_file)?);
        Ok(())
    }

    /// A surface of which nothing else is known.
    pub(crate) fn of(surface: Surface) -> Self {
        MadeSurface {
            surface: Arc::new(surface),
            side: SurfaceFacts::default(),
            errors_of: BTreeSet::new(),
            handed_over: true,
            finished: None,
            patches: None,
            breaklines: Arc::default(),
            odd: Vec::new(),
        }
    }
}
