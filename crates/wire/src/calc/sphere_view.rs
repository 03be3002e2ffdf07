//! Kind `sphere_view`: a flat view out of a sphere.

use ratiomet_core::sphere::{Angle, Span, SphereView, SphereViewRequest as Request};
use serde::Serialize;
use utoipa::ToSchema;

use super::CalcResult;
use super::sphere_frame::read_span;
use crate::number::FractionText;
use crate::read::{Field, Object};

/// A camera in the middle of a sphere. Angles in degrees.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereViewRequest {
    /// The equirectangular picture of one eye.
    #[schema(example = json!([5760, 2880]), minimum = 1, maximum = 65536)]
    pub eye: [u32; 2],
    /// Degrees across and up that it holds.
    #[schema(default = json!([360, 180]), required = false)]
    pub span: [FractionText; 2],
    /// The flat view in pixels.
    #[schema(example = json!([1920, 1080]), minimum = 1, maximum = 65536)]
    pub view: [u32; 2],
    /// How wide it sees, over 0 and under 180.
    pub fov: FractionText,
    /// To the right, within 360 either way.
    #[schema(default = 0, required = false)]
    pub yaw: FractionText,
    /// Upwards, within 90 either way.
    #[schema(default = 0, required = false)]
    pub pitch: FractionText,
    /// Clockwise as seen from behind the camera, within 360 either way.
    #[schema(default = 0, required = false)]
    pub roll: FractionText,
}

/// What it sees. Points are [longitude, latitude] in degrees, longitudes over -180 up to 180.
#[derive(Debug, Serialize, ToSchema)]
pub struct SphereViewResult {
    /// How high it sees.
    pub vertical_fov: f64,
    /// View pixels per radian in the middle over sphere pixels per radian on the equator.
    pub centre_scale: f64,
    /// The same at the edge of the horizontal midline.
    pub edge_scale: f64,
    /// The width of one eye at which the centre scale is 1.
    pub width_for_native: f64,
    /// The view's border, from the top left corner clockwise.
    pub outline: Vec<[f64; 2]>,
    /// Where it looks.
    pub centre: [f64; 2],
    /// Its corners, from the top left clockwise.
    pub corners: [[f64; 2]; 4],
    /// Whether part of it lies outside the span.
    pub outside: bool,
}

impl From<SphereView> for SphereViewResult {
    fn from(view: SphereView) -> Self {
        Self {
            vertical_fov: view.vertical_fov,
            centre_scale: view.centre_scale,
            edge_scale: view.edge_scale,
            width_for_native: view.width_for_native,
            outline: view.outline,
            centre: view.centre,
            corners: view.corners,
            outside: view.outside,
        }
    }
}

/// An angle that is 0 when it is left out.
pub(super) fn read_angle(object: &Object<'_>, name: &'static str, most: u32) -> Option<Angle> {
    let read = |field: &Field<'_>| Some(field.fraction(|text| Angle::within(text, most))?.value().clone());
    object.optional(name, || Angle::ZERO, read)
}

pub(super) fn answer(object: &Object<'_>) -> Option<CalcResult> {
    let eye = object.required("eye", Field::raster);
    let span = object.optional("span", || Span::FULL, read_span);
    let view = object.required("view", Field::raster);
    let fov = object.required("fov", |field| field.fraction(Angle::of_view));
    let (yaw, pitch, roll) =
        (read_angle(object, "yaw", 360), read_angle(object, "pitch", 90), read_angle(object, "roll", 360));
    object.done()?;
    let request = Request {
        eye: eye?,
        span: span?,
        view: view?,
        fov: fov?.value().clone(),
        yaw: yaw?,
        pitch: pitch?,
        roll: roll?,
    };
    Some(CalcResult::SphereView(Box::new(SphereView::of(&request).into())))
}
