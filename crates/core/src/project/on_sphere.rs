//! [`OnSphere`]: a flat picture that stands on a sphere of the project.

use crate::project::{Change, Changes, Footage, Project, StillFile, StillSpec, ViewSpec};
use crate::signal::Projection;
use crate::sphere::{FieldOfView, Orientation, SpherePlace, SpherePlaceRequest};
use crate::words::counted;
use crate::{Error, Raster};

/// A flat picture that touches a sphere in its middle.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct OnSphere {
    /// The picture.
    pub still: StillFile,
    /// How wide it is seen to be.
    pub width: FieldOfView,
    /// Where its middle stands, in the sphere as it is turned, and how it rolls.
    pub orientation: Orientation,
}

impl OnSphere {
    /// The most that stand on one sphere.
    pub const MOST: usize = 64;

    /// The question of where it lands, asked of a whole sphere of these pixels.
    pub fn request(&self, eye: Raster<crate::space::Delivery>) -> SpherePlaceRequest {
        let Orientation { yaw, pitch, roll } = self.orientation.clone();
        SpherePlaceRequest {
            eye,
            picture: self.still.raster,
            longitude: yaw,
            latitude: pitch,
            roll,
            width: self.width.clone(),
        }
    }
}

impl Footage {
    /// Where each of its pictures lands on the sphere, of which a part may be all that it holds.
    ///
    /// # Errors
    /// When one eye has no picture.
    pub fn places(&self) -> Result<Vec<SpherePlace>, Error> {
        let raster = self.geometry.raster();
        let [width, height] = self.sphere.whole(self.sphere.eye([raster.width(), raster.height()]));
        let eye = Raster::new(width, height)?;
        Ok(self.on_sphere.iter().map(|picture| SpherePlace::of(&picture.request(eye))).collect())
    }

    /// The files that its pictures are in: its still, and what stands on it.
    pub fn stills(&self) -> impl Iterator<Item = &StillFile> {
        let own = self.still.as_ref().and_then(StillSpec::file);
        own.into_iter().chain(self.on_sphere.iter().map(|picture| &picture.still))
    }

    /// What stands on it, each where it is found in the sphere as that is stored.
    pub fn on_it_as_stored(&self) -> Vec<OnSphere> {
        let as_stored =
            |picture: &OnSphere| OnSphere { orientation: picture.orientation.within(&self.turn), ..picture.clone() };
        self.on_sphere.iter().map(as_stored).collect()
    }

    /// A sphere that is turned otherwise: what stands on it keeps standing where it stood.
    #[must_use]
    pub fn turned(&self, turn: &Orientation) -> Self {
        let mut after = Self { turn: turn.clone(), ..self.clone() };
        for picture in &mut after.on_sphere {
            picture.orientation = picture.orientation.carried(&self.turn, turn);
        }
        after
    }
}

impl Project {
    /// Adds to changes of how spheres are turned what becomes of views out of them and of pictures on them: they stay at
    /// what they show and at what they cover.
    pub(super) fn let_looks_follow(&self, changes: &mut Changes) {
        let (mut pictures, mut views) = (0, Vec::new());
        for at in 0..changes.changes.len() {
            let Change::Source(id, Some(after)) = &changes.changes[at] else { continue };
            let Some(before) = self.source(*id).filter(|before| is_turned(before, after)) else { continue };
            let (id, turn, from) = (*id, after.turn.clone(), before.turn.clone());
            if before.on_sphere == after.on_sphere && !after.on_sphere.is_empty() {
                pictures += after.on_sphere.len();
                let on_sphere = before.turned(&turn).on_sphere;
                let Change::Source(_, Some(after)) = &mut changes.changes[at] else { continue };
                after.on_sphere = on_sphere;
            }
            views.extend(self.views(id).map(|(view, footage)| (view, footage, from.clone(), turn.clone())));
        }
        let mut followed = 0;
        for (id, footage, from, turn) in views {
            let Some(view) = &footage.view else { continue };
            let carried = ViewSpec { orientation: view.orientation.carried(&from, &turn), ..view.clone() };
            let named = changes.changes.iter_mut().find_map(|change| match change {
                Change::Source(known, after) if *known == id => Some(after),
                _ => None,
            });
            match named {
                // Where it looks from now on was said with it, or it goes.
                Some(None) => continue,
                Some(Some(after)) if after.view != footage.view => continue,
                Some(Some(after)) => after.view = Some(carried),
                None => {
                    let after = Footage { view: Some(carried), ..footage.clone() };
                    changes.changes.push(Change::Source(id, Some(Box::new(after))));
                    changes.along += 1;
                }
            }
            followed += 1;
        }
        let words = [(followed, "view"), (pictures, "picture")].into_iter().filter(|(count, _)| *count > 0);
        let words: Vec<String> = words.map(|(count, noun)| counted(count, noun)).collect();
        if !words.is_empty() {
            let verb = if followed + pictures == 1 { "follows" } else { "follow" };
            changes.label = format!("{}; {} {verb}", changes.label, words.join(" and "));
        }
    }
}

fn is_turned(before: &Footage, after: &Footage) -> bool {
    before.projection == Projection::Sphere && after.projection == Projection::Sphere && before.turn != after.turn
}
