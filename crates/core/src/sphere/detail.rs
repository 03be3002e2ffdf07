//! [`Detail`]: how finely a view samples its sphere away from its middle.

use super::{SphereView, SphereViewRequest};

/// At which scales a view has a ring.
const RINGS: [f64; 8] = [0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 4.0];

/// How finely a view samples its sphere.
#[derive(Clone, Debug)]
pub struct Detail {
    /// View pixels for each pixel of the sphere in the corners, the coarsest way: outwards a step of the view is the
    /// smallest step of the sphere.
    pub corner_scale: f64,
    /// The width of the view, in pixels, at which nothing in it is enlarged; 0 where there is none.
    pub native_width: u32,
    /// Circles around the middle on which it has so many pixels for each of the sphere: scale, and radius in widths of the
    /// view. Those that reach into it.
    pub rings: Vec<[f64; 2]>,
}

impl Detail {
    /// That of a view, which sees this.
    ///
    /// ```
    /// use ratiomet_core::Raster;
    /// use ratiomet_core::sphere::*;
    /// let request = SphereViewRequest {
    ///     eye: Raster::new(3600, 1800)?,
    ///     span: Span::FULL,
    ///     view: Raster::new(1000, 1000)?,
    ///     fov: FieldOfView::parse("90")?,
    ///     yaw: Turn::NONE,
    ///     pitch: Latitude::NONE,
    ///     roll: Turn::NONE,
    /// };
    /// let view = SphereView::of(&request);
    /// let detail = Detail::of(&request, &view);
    /// // The corner of a square view 90 degrees wide lies as far out as the root of 2: three times the scale.
    /// assert!((detail.corner_scale / view.centre_scale - 3.0).abs() < 1e-9);
    /// // In the middle it has 7/8 of a pixel for each of the sphere, and 1 where it is a fifth of its width out.
    /// assert!((view.centre_scale - 0.8727).abs() < 1e-4 && detail.native_width == 381);
    /// assert!(detail.rings[0][0] == 1.0 && (detail.rings[0][1] - 0.191).abs() < 1e-3);
    /// # Ok::<(), ratiomet_core::Error>(())
    /// ```
    pub fn of(request: &SphereViewRequest, view: &SphereView) -> Self {
        let half = (request.fov.radians() / 2.0).tan();
        let width = f64::from(request.view.width());
        let high = half * f64::from(request.view.height()) / width;
        let corner_scale = view.centre_scale * (1.0 + half * half + high * high);
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "held within the range")]
        let native_width = (width / corner_scale).clamp(0.0, 65_536.0) as u32;
        let rings = RINGS
            .into_iter()
            .filter(|scale| *scale > view.centre_scale)
            .map(|scale| [scale, (scale / view.centre_scale - 1.0).sqrt()])
            .filter(|[_, out]| *out < half.hypot(high))
            .map(|[scale, out]| [scale, out / (2.0 * half)])
            .collect();
        Self { corner_scale, native_width, rings }
    }
}
