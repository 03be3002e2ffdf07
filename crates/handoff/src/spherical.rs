//! What is done with spheres before the geometry, as filters of ffmpeg: its sphere filter turns as we do (yaw, pitch, roll
//! of the camera, rolled first), which a test holds against our own pictures.

use ratiomet_core::project::{Footage, Package, Packaged, Pictured, SourceId};
use ratiomet_core::resampling::Filter;
use ratiomet_core::signal::Projection;
use ratiomet_core::sphere::{Eyes, Layout, Orientation, Span, SphereForm};

use crate::names::safe;

/// What ffmpeg calls a sphere of this span, if it knows it.
fn projection(span: &Span) -> Option<&'static str> {
    match span {
        full if *full == Span::FULL => Some("e"),
        half if *half == Span::FRONT => Some("he"),
        _ => None,
    }
}

const fn stereo(layout: Layout) -> &'static str {
    match layout {
        Layout::Mono => "2d",
        Layout::TopBottom => "tb",
        Layout::SideBySide => "sbs",
    }
}

const fn interpolation(filter: Filter) -> &'static str {
    match filter {
        Filter::Nearest => "nearest",
        Filter::Bilinear | Filter::Area => "linear",
        Filter::CatmullRom => "cubic",
        Filter::Mitchell => "mitchell",
        Filter::Lanczos3 => "lanczos",
    }
}

/// Angles within 180 degrees, as the filter takes them.
fn angles(orientation: &Orientation) -> String {
    let Orientation { yaw, pitch, roll } = Orientation::of_matrix(&orientation.matrix());
    let [yaw, pitch, roll] = [yaw.value(), pitch.value(), roll.value()].map(|angle| angle.to_short_decimal(6));
    format!("yaw={yaw}:pitch={pitch}:roll={roll}")
}

/// Cuts the left eye out of a frame of two.
fn left_eye(form: &SphereForm, size: [u32; 2]) -> String {
    let [width, height] = form.eye(size);
    let second = form.eyes == Eyes::RightFirst;
    let [x, y] = match form.layout {
        Layout::Mono => return String::new(),
        Layout::TopBottom => [0, if second { height } else { 0 }],
        Layout::SideBySide => [if second { width } else { 0 }, 0],
    };
    format!("crop={width}:{height}:{x}:{y},")
}

/// The file that the picture of a source comes from: that of its sphere for a view.
pub(crate) const fn file_of(pictured: Pictured<'_>) -> &Footage {
    match pictured.sphere {
        Some(sphere) => sphere,
        None => pictured.footage,
    }
}

/// What stands on a sphere, as a picture of the archive that recipes lay over its file.
pub(crate) struct Overlay<'a> {
    id: SourceId,
    /// The sphere.
    pub sphere: &'a Footage,
    /// Whether it lies over the sphere as it is stored, rather than as it is turned.
    pub stored: bool,
}

impl<'a> Overlay<'a> {
    /// That of a conversion, if anything stands on its sphere.
    fn of(package: &'a Package, packaged: &Packaged) -> Option<Self> {
        let pictured = package.pictured(packaged);
        let (id, sphere, stored) = match pictured.looking() {
            Some(looking) => (looking.view.sphere, looking.sphere, true),
            None => (package.sources[packaged.source].0, pictured.footage, false),
        };
        let is_there = sphere.projection == Projection::Sphere && !sphere.on_sphere.is_empty();
        is_there.then(|| Self { id, sphere, stored: stored || sphere.turn.is_none() })
    }

    /// All of a package, each once.
    pub fn all(package: &'a Package) -> Vec<Self> {
        let mut all: Vec<Self> = Vec::new();
        for packaged in &package.conversions {
            let new =
                |overlay: &Self| !all.iter().any(|other| (other.id, other.stored) == (overlay.id, overlay.stored));
            if let Some(overlay) = Self::of(package, packaged).filter(new) {
                all.push(overlay);
            }
        }
        all
    }

    /// Its path, beside the recipes.
    pub fn path(&self) -> String {
        let how = if self.stored { "as-stored" } else { "as-turned" };
        format!("on_spheres/{}-{}-{how}.png", safe(self.sphere.name.as_str()), self.id)
    }

    /// The filters that lay it over.
    fn filter(&self) -> String {
        format!("null[sphere];movie={}[on_it];[sphere][on_it]overlay=format=auto,", self.path())
    }
}

/// The filters for a source, whatever frame it goes into, each with a comma after it; empty where nothing is to be done.
///
/// # Errors
/// A sentence for what the filter cannot do.
pub(crate) fn filter(package: &Package, packaged: &Packaged, filter: Filter) -> Result<String, String> {
    let pictured = package.pictured(packaged);
    let overlay = Overlay::of(package, packaged).map_or_else(String::new, |overlay| overlay.filter());
    let interpolation = interpolation(filter);
    let unknown = |span: &Span| {
        let [across, up] = [span.across.value(), span.up.value()].map(|degrees| degrees.to_short_decimal(3));
        format!("the sphere filter of ffmpeg knows full and half spheres, not {across} by {up} degrees")
    };
    if pictured.footage.view.is_some() {
        let looking = pictured.looking().ok_or("the sphere of this view is not in the project")?;
        let (sphere, raster) = (looking.sphere, pictured.footage.geometry.raster());
        let input = projection(&sphere.sphere.span).ok_or_else(|| unknown(&sphere.sphere.span))?;
        let stored = sphere.geometry.raster();
        let seen = looking.request(raster).map_err(|error| error.to_string())?;
        let high = ratiomet_core::sphere::SphereView::of(&seen).vertical_fov;
        return Ok(format!(
            "{overlay}{}v360=input={input}:output=flat:w={}:h={}:h_fov={}:v_fov={high:.6}:{}:interp={interpolation},setsar=1,",
            left_eye(&sphere.sphere, [stored.width(), stored.height()]),
            raster.width(),
            raster.height(),
            looking.view.fov.value().to_short_decimal(6),
            angles(&looking.orientation()),
        ));
    }
    let footage = pictured.footage;
    if footage.projection == Projection::Flat || footage.turn.is_none() {
        return Ok(overlay);
    }
    let SphereForm { span, layout, .. } = &footage.sphere;
    let both = projection(span).ok_or_else(|| unknown(span))?;
    let eyes = stereo(*layout);
    let raster = footage.geometry.raster();
    Ok(format!(
        "v360=input={both}:output={both}:in_stereo={eyes}:out_stereo={eyes}:w={}:h={}:{}:interp={interpolation},{overlay}",
        raster.width(),
        raster.height(),
        angles(&footage.turn),
    ))
}
