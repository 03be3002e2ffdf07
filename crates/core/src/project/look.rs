//! [`ViewSpec`]: a flat view out of a sphere of the project, which is a source like any other.

use crate::project::{Deliverable, Footage, Project, SourceId};
use crate::signal::Projection;
use crate::sphere::{FieldOfView, Orientation, SphereForm, SphereView, SphereViewRequest};
use crate::{Exact, Raster};

/// Where a flat view looks.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ViewSpec {
    /// The sphere that it looks out of.
    pub sphere: SourceId,
    /// How wide it is.
    pub fov: FieldOfView,
    /// Where it looks, in the sphere as it is turned.
    pub orientation: Orientation,
}

/// A view together with the sphere that it looks out of.
#[derive(Clone, Copy, Debug)]
pub struct Looking<'a> {
    /// Where it looks.
    pub view: &'a ViewSpec,
    /// The sphere.
    pub sphere: &'a Footage,
}

impl Looking<'_> {
    /// The question of what the view sees, asked of one eye.
    ///
    /// # Errors
    /// When one eye of the sphere has no picture.
    pub fn request(&self, view: Raster<crate::space::Stored>) -> Result<SphereViewRequest, crate::Error> {
        let raster = self.sphere.geometry.raster();
        let [width, height] = self.sphere.sphere.eye([raster.width(), raster.height()]);
        let Orientation { yaw, pitch, roll } = self.view.orientation.clone();
        Ok(SphereViewRequest {
            eye: Raster::new(width, height)?,
            span: self.sphere.sphere.span.clone(),
            view: Raster::new(view.width(), view.height())?,
            fov: self.view.fov.clone(),
            yaw,
            pitch,
            roll,
        })
    }

    /// How the view is turned in the sphere as it is stored.
    pub fn orientation(&self) -> Orientation {
        self.view.orientation.within(&self.sphere.turn)
    }

    /// View pixels for each pixel of the sphere in the middle of the view, to a ten-thousandth.
    pub fn density(&self, view: Raster<crate::space::Stored>) -> Option<Exact> {
        let scale = SphereView::of(&self.request(view).ok()?).centre_scale;
        #[expect(clippy::cast_possible_truncation, reason = "held within the range")]
        let parts = (scale * 10_000.0).round().clamp(1.0, f64::from(i32::MAX)) as i32;
        Some(Exact::fraction(parts, 10_000).reduced())
    }
}

impl Footage {
    /// The same where spheres have other numbers; a view out of one that has none is no view.
    #[must_use]
    pub fn renumbered(&self, number: impl Fn(SourceId) -> Option<SourceId>) -> Self {
        let view = self.view.as_ref().and_then(|view| Some(ViewSpec { sphere: number(view.sphere)?, ..view.clone() }));
        Self { view, ..self.clone() }
    }
}

impl Project {
    /// What a source looks out of, if it is a view of a sphere that is there.
    pub fn looking<'a>(&'a self, footage: &'a Footage) -> Option<Looking<'a>> {
        let view = footage.view.as_ref()?;
        let sphere = self.source(view.sphere).filter(|sphere| sphere.projection == Projection::Sphere)?;
        // A view has no views.
        sphere.view.is_none().then_some(Looking { view, sphere })
    }

    /// The views out of a sphere, in the order of entry.
    pub fn views(&self, sphere: SourceId) -> impl Iterator<Item = (SourceId, &Footage)> {
        self.sources().filter(move |(_, footage)| footage.view.as_ref().is_some_and(|view| view.sphere == sphere))
    }

    /// A source with what its picture is made of.
    pub fn pictured<'a>(&'a self, footage: &'a Footage) -> Pictured<'a> {
        Pictured { footage, sphere: self.looking(footage).map(|looking| looking.sphere) }
    }
}

impl SphereForm {
    /// Whether two spheres lie alike in their frames; of one picture for both eyes the order says nothing.
    pub fn is_like(&self, other: &Self) -> bool {
        let order = self.layout == crate::sphere::Layout::Mono || self.eyes == other.eyes;
        self.span == other.span && self.layout == other.layout && order
    }
}

impl Footage {
    /// Whether it is a sphere that lies otherwise in a frame: each eye's picture is put in its place there, whatever the
    /// framing is.
    pub fn is_laid_anew_in(&self, frame: &Deliverable) -> bool {
        let both = self.projection == Projection::Sphere && frame.projection == Projection::Sphere;
        both && !self.sphere.is_like(&frame.sphere)
    }
}

/// A source with what its picture is made of.
#[derive(Clone, Copy, Debug)]
pub struct Pictured<'a> {
    /// The source.
    pub footage: &'a Footage,
    /// The sphere that it looks out of, if it is a view of one that is there.
    pub sphere: Option<&'a Footage>,
}

impl<'a> Pictured<'a> {
    /// Where it looks, if it is a view.
    pub fn looking(&self) -> Option<Looking<'a>> {
        let (view, sphere) = (self.footage.view.as_ref()?, self.sphere?);
        Some(Looking { view, sphere })
    }

    /// By what its picture is known, if it has one: that of a view by its sphere too.
    pub fn key(&self) -> Option<String> {
        match (&self.footage.view, self.looking()) {
            (None, _) => self.footage.picture_key(),
            (Some(_), Some(looking)) => looking.sphere.picture_key().map(|sphere| self.footage.view_key(&sphere)),
            (Some(_), None) => None,
        }
    }
}
