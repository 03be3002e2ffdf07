//! What is done with spheres before the geometry, as filters of ffmpeg: its sphere filter turns as we do (yaw, pitch, roll
//! of the camera, rolled first), which a test holds against our own pictures.

use ratiomet_core::project::{Deliverable, Footage, Package, Packaged, Pictured, SourceId};
use ratiomet_core::resampling::Filter;
use ratiomet_core::signal::Projection;
use ratiomet_core::sphere::{Eyes, Layout, Orientation, Span, SphereForm};
use ratiomet_core::{Exact, Raster};

use crate::names::safe;

/// The largest side that a part of a sphere is padded to.
const WIDEST: u32 = 32_768;

/// A picture that holds a part of a sphere, in the middle of one of all around, which is what the filter knows: beyond
/// a part it would go on with what it has.
struct Around {
    /// The part.
    part: [u32; 2],
    /// All around, as nearly as a whole number of pixels holds it.
    whole: [u32; 2],
    /// Where the part stands in it: at even pixels, as halved chroma needs it.
    corner: [u32; 2],
    /// How many degrees it then holds.
    degrees: [Exact; 2],
}

impl Around {
    fn of(span: &Span, part: [u32; 2]) -> Result<Self, String> {
        let held = [(span.across.value(), 360), (span.up.value(), 180)];
        let [across, down] = [0, 1].map(|axis| {
            let (degrees, all) = held[axis];
            let side = Exact::whole(part[axis]);
            let beside = (&side * Exact::whole(all) / degrees - &side) / Exact::whole(4);
            let corner = u32::try_from(beside.floor_whole()).ok()?.checked_mul(2)?;
            let whole = corner.checked_mul(2)?.checked_add(part[axis]).filter(|whole| *whole <= WIDEST)?;
            Some((whole, corner, Exact::whole(whole) * degrees / side))
        });
        let (Some(across), Some(down)) = (across, down) else {
            let [across, up] = [0, 1].map(|axis| held[axis].0.to_short_decimal(3));
            let [width, height] = part;
            return Err(format!(
                "a picture of {width}x{height} that holds {across} by {up} degrees would be padded to over {WIDEST} pixels a side"
            ));
        };
        Ok(Self {
            part,
            whole: [across.0, down.0],
            corner: [across.1, down.1],
            degrees: [across.2.reduced(), down.2.reduced()],
        })
    }

    fn is_all_there_is(&self) -> bool {
        self.part == self.whole
    }

    /// The filter that has all around of the part.
    fn padded(&self) -> String {
        let ([width, height], [x, y]) = (self.whole, self.corner);
        if self.is_all_there_is() { String::new() } else { format!("pad={width}:{height}:{x}:{y},") }
    }

    /// The filter that takes the part out again.
    fn cut(&self) -> String {
        let ([width, height], [x, y]) = (self.part, self.corner);
        if self.is_all_there_is() { String::new() } else { format!("crop={width}:{height}:{x}:{y},") }
    }

    /// What the sphere filter is told of it, for its input (`i`) or its outcome.
    fn held(&self, side: &str) -> String {
        if self.degrees == [Exact::whole(360), Exact::whole(180)] {
            return String::new();
        }
        let [across, up] = [0, 1].map(|axis| self.degrees[axis].to_short_decimal(6));
        format!(":{side}h_fov={across}:{side}v_fov={up}")
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

fn pixels<S>(raster: Raster<S>) -> [u32; 2] {
    [raster.width(), raster.height()]
}

/// Cuts one eye out of a frame of two, the left one first.
fn eye(form: &SphereForm, size: [u32; 2], at: usize) -> String {
    let [width, height] = form.eye(size);
    let second = (at == 1) != (form.eyes == Eyes::RightFirst);
    let [x, y] = match form.layout {
        Layout::Mono => return String::new(),
        Layout::TopBottom => [0, if second { height } else { 0 }],
        Layout::SideBySide => [if second { width } else { 0 }, 0],
    };
    format!("crop={width}:{height}:{x}:{y},")
}

/// The same filters for each eye of a frame that lies in one way, put together in another. One picture is seen by both
/// eyes; of two, one picture for both shows the left one.
fn each_eye([from, to]: [&SphereForm; 2], size: [u32; 2], filters: &str) -> String {
    let together = match to.layout {
        Layout::Mono => return format!("{}{filters}", eye(from, size, 0)),
        Layout::TopBottom => "vstack",
        Layout::SideBySide => "hstack",
    };
    let [left, right] = [0, 1].map(|at| format!("{}{}", eye(from, size, at), filters.trim_end_matches(',')));
    let order = if to.eyes == Eyes::RightFirst { "[right][left]" } else { "[left][right]" };
    format!("split[one][other];[one]{left}[left];[other]{right}[right];{order}{together},")
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
        let stored = pixels(sphere.geometry.raster());
        let around = Around::of(&sphere.sphere.span, sphere.sphere.eye(stored))?;
        let seen = looking.request(raster).map_err(|error| error.to_string())?;
        let high = ratiomet_core::sphere::SphereView::of(&seen).vertical_fov;
        let filters = format!(
            "{overlay}{}{}v360=input=e:output=flat:w={}:h={}{}:h_fov={}:v_fov={high:.6}:{}:interp={interpolation},setsar=1,",
            eye(&sphere.sphere, stored, 0),
            around.padded(),
            raster.width(),
            raster.height(),
            around.held("i"),
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
    let (form, stored) = (&footage.sphere, pixels(footage.geometry.raster()));
    let around = Around::of(&form.span, form.eye(stored))?;
    let turned = resampled([&around, &around], &format!(":{}", angles(&footage.turn)), interpolation);
    let filters = format!("{}{overlay}{laid}", each_eye([form, form], stored, &turned));
    Ok(Before { filters, is_all })
}

/// One eye's picture resampled into another, turned on the way where that is said.
fn resampled([from, to]: [&Around; 2], turn: &str, interpolation: &str) -> String {
    let [width, height] = to.whole;
    format!(
        "{}v360=input=e:output=e:w={width}:h={height}{}{}{turn}:interp={interpolation},{}",
        from.padded(),
        from.held("i"),
        to.held(""),
        to.cut(),
    )
}

/// The filters that put a sphere into a frame in which it lies otherwise.
fn laid(footage: &Footage, frame: &Deliverable, interpolation: &str) -> Result<String, String> {
    let (from, to) = (&footage.sphere, &frame.sphere);
    let (stored, raster) = (pixels(footage.geometry.raster()), pixels(frame.geometry.frame().raster()));
    let around = [Around::of(&from.span, from.eye(stored))?, Around::of(&to.span, to.eye(raster))?];
    Ok(each_eye([from, to], stored, &resampled([&around[0], &around[1]], "", interpolation)))
}
