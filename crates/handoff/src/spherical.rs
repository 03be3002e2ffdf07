//! What is done with spheres before the geometry, as filters of ffmpeg: its sphere filter turns as we do (yaw, pitch, roll
//! of the camera, rolled first), which a test holds against our own pictures.

use ratiomet_core::project::{Deliverable, Footage, Package, Packaged, Pictured, SourceId};
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

fn unknown(span: &Span) -> String {
    let [across, up] = [span.across.value(), span.up.value()].map(|degrees| degrees.to_short_decimal(3));
    format!("the sphere filter of ffmpeg knows full and half spheres, not {across} by {up} degrees")
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
    /// That of the source at a place, if anything stands on its sphere.
    fn of(package: &Package<'a>, source: usize) -> Option<Self> {
        let pictured = package.pictured_at(source);
        let (id, sphere, stored) = match pictured.looking() {
            Some(looking) => (looking.view.sphere, looking.sphere, true),
            None => (package.sources[source].0, pictured.footage, false),
        };
        let is_there = sphere.projection == Projection::Sphere && !sphere.on_sphere.is_empty();
        is_there.then(|| Self { id, sphere, stored: stored || sphere.turn.is_none() })
    }

    /// All of a package, each once.
    pub fn all(package: &Package<'a>) -> Vec<Self> {
        let mut all: Vec<Self> = Vec::new();
        for source in 0..package.sources.len() {
            let new =
                |overlay: &Self| !all.iter().any(|other| (other.id, other.stored) == (overlay.id, overlay.stored));
            if let Some(overlay) = Self::of(package, source).filter(new) {
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

/// What is done with a sphere before the geometry, as filters with a comma after each; or all that is done.
pub(crate) struct Before {
    pub filters: String,
    /// Whether there is no geometry after it: a sphere that lies otherwise in its frame is put there by itself.
    is_all: bool,
}

impl Before {
    /// Of no sphere.
    pub const fn nothing() -> Self {
        Self { filters: String::new(), is_all: false }
    }

    /// The whole chain, with the geometry after it where there is one.
    pub fn then(&self, geometry: &str) -> String {
        // The last filter of the geometry notes the shape of the pixels.
        let geometry = if self.is_all { geometry.rsplit(',').next().unwrap_or_default() } else { geometry };
        format!("{}{geometry}", self.filters)
    }
}

/// The filters for a source, each with a comma after it; none where nothing is to be done.
///
/// # Errors
/// A sentence for what the filter cannot do.
pub(crate) fn before(package: &Package, packaged: &Packaged, filter: Filter) -> Result<Before, String> {
    let pictured = package.pictured(packaged);
    let overlay = Overlay::of(package, packaged.source).map_or_else(String::new, |overlay| overlay.filter());
    let interpolation = interpolation(filter);
    if pictured.footage.view.is_some() {
        let looking = pictured.looking().ok_or("the sphere of this view is not in the project")?;
        let (sphere, raster) = (looking.sphere, pictured.footage.geometry.raster());
        let input = projection(&sphere.sphere.span).ok_or_else(|| unknown(&sphere.sphere.span))?;
        let stored = sphere.geometry.raster();
        let seen = looking.request(raster).map_err(|error| error.to_string())?;
        let high = ratiomet_core::sphere::SphereView::of(&seen).vertical_fov;
        let filters = format!(
            "{overlay}{}v360=input={input}:output=flat:w={}:h={}:h_fov={}:v_fov={high:.6}:{}:interp={interpolation},setsar=1,",
            left_eye(&sphere.sphere, [stored.width(), stored.height()]),
            raster.width(),
            raster.height(),
            looking.view.fov.value().to_short_decimal(6),
            angles(&looking.orientation()),
        );
        return Ok(Before { filters, is_all: false });
    }
    let footage = pictured.footage;
    if footage.projection == Projection::Flat {
        return Ok(Before::nothing());
    }
    let frame = package.frame_of(packaged);
    let laid = if footage.is_laid_anew_in(frame) { laid(footage, frame, interpolation)? } else { String::new() };
    let is_all = !laid.is_empty();
    if footage.turn.is_none() {
        return Ok(Before { filters: overlay + &laid, is_all });
    }
    let SphereForm { span, layout, .. } = &footage.sphere;
    let both = projection(span).ok_or_else(|| unknown(span))?;
    let eyes = stereo(*layout);
    let raster = footage.geometry.raster();
    // The filter is told the size of one eye.
    let [width, height] = footage.sphere.eye([raster.width(), raster.height()]);
    let filters = format!(
        "v360=input={both}:output={both}:in_stereo={eyes}:out_stereo={eyes}:w={width}:h={height}:{}:interp={interpolation},{overlay}{laid}",
        angles(&footage.turn),
    );
    Ok(Before { filters, is_all })
}

/// The filters that put a sphere into a frame in which it lies otherwise.
fn laid(footage: &Footage, frame: &Deliverable, interpolation: &str) -> Result<String, String> {
    let (from, to) = (&footage.sphere, &frame.sphere);
    let [input, output] = [&from.span, &to.span].map(|span| projection(span).ok_or_else(|| unknown(span)));
    let stored = footage.geometry.raster();
    // Two pictures become one by taking the left one first; which eye comes first is settled afterwards.
    let one = to.layout == Layout::Mono;
    let crop = if one { left_eye(from, [stored.width(), stored.height()]) } else { String::new() };
    let seen = if one { Layout::Mono } else { from.layout };
    let order = if to.layout == Layout::Mono || from.layout == Layout::Mono || from.eyes == to.eyes {
        ""
    } else if to.layout == Layout::TopBottom {
        "stereo3d=abl:abr,"
    } else {
        "stereo3d=sbsl:sbsr,"
    };
    let raster = frame.geometry.frame().raster();
    let [width, height] = to.eye([raster.width(), raster.height()]);
    Ok(format!(
        "{crop}v360=input={}:output={}:in_stereo={}:out_stereo={}:w={width}:h={height}:interp={interpolation},{order}",
        input?,
        output?,
        stereo(seen),
        stereo(to.layout),
    ))
}
