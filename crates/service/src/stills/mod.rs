//! [`Stills`]: real pictures of sources, kept beside the data file by their content, and what is shown of them.

pub mod files;
mod shown;

use std::borrow::Borrow;
use std::path::Path;
use std::sync::{Arc, Mutex, PoisonError};

use ratiomet_core::Raster;
use ratiomet_core::project::{Content, Deliverable, Footage, Looking, OnSphere, Pictured, StillFile, StillSpec};
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::signal::Projection;
use ratiomet_core::space::Stored;
use ratiomet_core::sphere::{Orientation, Span};
use ratiomet_core::{Insets, Plan, Source};
use ratiomet_picture::borders::{self, Borders};
use ratiomet_picture::still::Fit;
use ratiomet_picture::{Still, carry, scene, sphere};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

pub use shown::{Shown, View};

use files::Files;
use shown::Made;

/// How spheres are carried out where nobody has chosen.
const CARRIED: sphere::How = sphere::How { filter: Filter::CatmullRom, light: None };

/// The stills that were asked for last, the latest at the end.
struct Recent {
    stills: Mutex<Vec<(String, Arc<Still>)>>,
    most: usize,
    most_bytes: usize,
}

impl Recent {
    const fn new(most: usize, most_bytes: usize) -> Self {
        Self { stills: Mutex::new(Vec::new()), most, most_bytes }
    }

    /// The still of a name, which is made where it is not kept.
    fn still(&self, name: String, make: impl FnOnce() -> Result<Still, Refused>) -> Result<Arc<Still>, Refused> {
        let kept = || self.stills.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, still)) = kept().iter().find(|(known, _)| *known == name) {
            return Ok(still.clone());
        }
        let made = Arc::new(make()?);
        let mut kept = kept();
        kept.push((name, made.clone()));
        let bytes = |kept: &Vec<(String, Arc<Still>)>| -> usize {
            kept.iter().map(|(_, still)| still.samples.as_bytes().len()).sum()
        };
        while kept.len() > self.most || bytes(&kept) > self.most_bytes {
            kept.remove(0);
        }
        Ok(made)
    }
}

/// Stills by their content, and the pictures that were made of them.
pub struct Stills {
    pub files: Files,
    made: Mutex<Made>,
    /// Outcomes: they are looked at and measured again.
    outcomes: Recent,
    /// Spheres that are looked around in, and pictures that stand on them, small.
    spheres: Recent,
    on_spheres: Recent,
    /// Few are unpacked at once: each may take much memory.
    room: Arc<Semaphore>,
}

/// What is wrong with a still, as a sentence.
pub type Refused = String;

impl Stills {
    /// The stills of a data file.
    pub fn beside(data: &Path) -> Self {
        Self {
            files: Files::beside(data),
            made: Mutex::default(),
            outcomes: Recent::new(5, 192 << 20),
            spheres: Recent::new(3, 64 << 20),
            on_spheres: Recent::new(64, 64 << 20),
            room: Arc::new(Semaphore::new(2)),
        }
    }

    /// Keeps a file that is a still, and tells what it is called from now on, how large it is, and what it shows.
    pub fn keep(&self, bytes: &[u8]) -> Result<(Content, Raster<Stored>, Still), Refused> {
        let still = Still::read(bytes).map_err(|problem| problem.to_string())?;
        let [width, height] = still.size();
        let raster = Raster::new(width, height).map_err(|error| format!("the picture is {width}x{height}: {error}"))?;
        let kept = self.files.keep(bytes);
        let content = kept.map_err(|error| format!("the still cannot be kept in {}: {error}", self.files.folder()))?;
        Ok((content, raster, still))
    }

    /// The still of a source as it is stored: as large as it is kept, or drawn at a part of its raster. That of a view is
    /// seen out of its sphere.
    pub fn still(&self, pictured: Pictured<'_>, part: u32) -> Result<Still, Refused> {
        match pictured.footage.view {
            None => self.stored(pictured.footage, part),
            Some(_) => {
                let looking = pictured.looking().ok_or("the sphere of this view is not there")?;
                self.seen(&looking, pictured.footage.geometry.raster(), part)
            }
        }
    }

    /// The still of a source as it goes into frames: that of a sphere as it is turned.
    pub fn upright(&self, pictured: Pictured<'_>, part: u32) -> Result<Still, Refused> {
        let still = self.still(pictured, part)?;
        let footage = pictured.footage;
        if footage.projection == Projection::Flat || (footage.turn.is_none() && footage.on_sphere.is_empty()) {
            return Ok(still);
        }
        let pictures = self.on_it(footage, |content| self.file(content))?;
        let (span, matrix) = (&footage.sphere.span, footage.turn.matrix());
        sphere::each_eye(&still, &footage.sphere, |eye| {
            let mut turned =
                if footage.turn.is_none() { eye.clone() } else { sphere::turned(eye, span, &matrix, CARRIED)? };
            put_on(&mut turned, span, (&footage.on_sphere, &pictures), CARRIED)?;
            Ok(turned)
        })
        .map_err(|problem| problem.to_string())
    }

    /// What stands on a sphere and nothing else, as large as its frame: clear where there is none of it. In the sphere as
    /// it is turned, or as it is stored.
    pub fn overlay(&self, footage: &Footage, stored: bool) -> Result<Still, Refused> {
        let pictures = self.on_it(footage, |content| self.file(content))?;
        let places = if stored { footage.on_it_as_stored() } else { footage.on_sphere.clone() };
        let raster = footage.geometry.raster();
        let clear = Still::clear([raster.width(), raster.height()]);
        sphere::each_eye(&clear, &footage.sphere, |eye| {
            let mut with = eye.clone();
            put_on(&mut with, &footage.sphere.span, (&places, &pictures), CARRIED)?;
            Ok(with)
        })
        .map_err(|problem| problem.to_string())
    }

    /// The pictures that stand on a sphere, in their order.
    fn on_it<S>(&self, footage: &Footage, load: impl Fn(&StillFile) -> Result<S, Refused>) -> Result<Vec<S>, Refused> {
        footage.on_sphere.iter().map(|picture| load(&picture.still)).collect()
    }

    fn file(&self, file: &StillFile) -> Result<Still, Refused> {
        let bytes = self.files.read(file.content).map_err(|error| {
            format!("the still {} is no longer in {}: {error}", file.name.as_str(), self.files.folder())
        })?;
        Still::read(&bytes).map_err(|problem| problem.to_string())
    }

    /// A view at a part of its raster.
    fn seen(&self, looking: &Looking<'_>, view: Raster<Stored>, part: u32) -> Result<Still, Refused> {
        let density = looking.density(view).ok_or("the sphere has no picture for each eye")?.to_f64();
        // As much of the sphere as the view has pixels for.
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a small number")]
        let of_sphere = (f64::from(part) / density / 2.0).floor().clamp(1.0, 64.0) as u32;
        let frame = self.stored(looking.sphere, of_sphere)?;
        let mut eyes = sphere::eyes(&frame, &looking.sphere.sphere).map_err(|problem| problem.to_string())?;
        let pictures = self.on_it(looking.sphere, |content| self.file(content))?;
        let (span, places) = (&looking.sphere.sphere.span, looking.sphere.on_it_as_stored());
        put_on(&mut eyes[0], span, (&places, &pictures), CARRIED).map_err(|problem| problem.to_string())?;
        let [width, height] = [view.width(), view.height()].map(|side| (side / part).max(1));
        let raster = Raster::new(width, height).map_err(|error| error.to_string())?;
        let look = sphere::Look { raster, fov: looking.view.fov.clone(), matrix: looking.orientation().matrix() };
        sphere::view(&eyes[0], &looking.sphere.sphere.span, &look, CARRIED).map_err(|problem| problem.to_string())
    }

    /// A part of a sphere's still, for quick looks: of one eye, as it is stored, and so small that it can be turned
    /// while a hand moves. It is remembered.
    pub fn quick(&self, footage: &Footage) -> Result<Arc<Still>, Refused> {
        const WIDE: u32 = 2304;
        let bare = Footage { turn: Orientation::NONE, on_sphere: Vec::new(), ..footage.clone() };
        self.spheres.still(format!("{:?}", bare.picture_key()), || self.small_eye(&bare, WIDE))
    }

    fn small_eye(&self, footage: &Footage, wide: u32) -> Result<Still, Refused> {
        let width = footage.sphere.eye([footage.geometry.raster().width(), 2])[0];
        let part = (width / wide).max(1);
        let frame = self.stored(footage, part)?;
        let mut eyes = sphere::eyes(&frame, &footage.sphere).map_err(|problem| problem.to_string())?;
        let eye = eyes.swap_remove(0);
        Ok(no_wider(eye, wide)?.for_the_eye())
    }

    /// The pictures that stand on a sphere, small too.
    pub fn quick_on_it(&self, footage: &Footage) -> Result<Vec<Arc<Still>>, Refused> {
        const WIDE: u32 = 768;
        self.on_it(footage, |file| {
            self.on_spheres.still(file.content.to_string(), || {
                let mut small = no_wider(self.file(file)?, WIDE)?;
                small.samples = small.samples.to_rgba8().into();
                Ok(small)
            })
        })
    }

    fn stored(&self, footage: &Footage, part: u32) -> Result<Still, Refused> {
        match &footage.still {
            None => Err("the source has no still".to_owned()),
            Some(StillSpec::Scene(scene)) => {
                let sphere = footage.projection == Projection::Sphere;
                let subject = footage.subject.as_ref().map(|subject| subject.subject());
                scene::taken(*scene, footage.geometry.source(), subject, sphere, part).map_err(|why| why.to_string())
            }
            Some(StillSpec::File(file)) => self.file(file),
        }
    }

    /// The black edges of a source's still, which must be as large as the source.
    pub fn borders(&self, pictured: Pictured<'_>) -> Result<Borders, Refused> {
        let (still, footage) = (self.still(pictured, 1)?, pictured.footage);
        let ([width, height], raster) = (still.size(), footage.geometry.raster());
        if Fit::of([width, height], raster) != Fit::Same {
            return Err(format!(
                "the still is {width}x{height} and the source {}x{}; borders are measured in a still of the same size",
                raster.width(),
                raster.height()
            ));
        }
        borders::find(&[still]).map_err(|problem| problem.to_string())
    }

    /// A source as a picture whose longer side has at most so many pixels: JPEG, or PNG where it is to be exact.
    pub fn shown(&self, pictured: Pictured<'_>, view: View) -> Result<Arc<Vec<u8>>, Refused> {
        if let Some(picture) = self.remembered(&view.of(pictured)) {
            return Ok(picture);
        }
        let raster = pictured.footage.geometry.raster();
        let part = (raster.width().max(raster.height()) / view.side.max(1)).max(1);
        let still = match view.shown {
            Shown::Upright => self.upright(pictured, part)?,
            Shown::Stored => self.still(pictured, part)?,
        };
        let picture = Arc::new(view.drawn(&still, pictured.footage)?);
        self.remember(view.of(pictured), picture.clone());
        Ok(picture)
    }

    /// Makes the small picture of a source whose still has just come, while it is at hand.
    pub fn show_first(&self, pictured: Pictured<'_>, still: &Still) -> Result<(), Refused> {
        let footage = pictured.footage;
        if footage.projection == Projection::Flat && footage.view.is_none() {
            let picture = Arc::new(View::SMALL.drawn(still, footage)?);
            self.remember(View::SMALL.of(pictured), picture);
        }
        Ok(())
    }

    /// A conversion carried out on the still of its source.
    pub fn outcome(
        &self,
        pictured: Pictured<'_>,
        frame: &Deliverable,
        plan: &Plan,
        how: &Resampling,
    ) -> Result<Arc<Still>, Refused> {
        let geometry = frame.geometry.frame();
        let form = (frame.projection, &frame.sphere);
        let key = format!("{:?} {geometry:?} {form:?} {plan:?} {how:?}", pictured.key());
        self.outcomes.still(key, || {
            let still = self.upright(pictured, 1)?;
            carried_out(&still, pictured.footage, frame, plan, how, 1)
        })
    }

    /// Waits until there is room to unpack one more.
    pub async fn room(&self) -> Option<OwnedSemaphorePermit> {
        self.room.clone().acquire_owned().await.ok()
    }

    /// Forgets what was made but for small pictures; it is made again when somebody wants it.
    pub fn forget(&self) {
        self.made.lock().unwrap_or_else(PoisonError::into_inner).keep_small();
        for recent in [&self.outcomes, &self.spheres, &self.on_spheres] {
            recent.stills.lock().unwrap_or_else(PoisonError::into_inner).clear();
        }
    }

    fn remembered(&self, name: &str) -> Option<Arc<Vec<u8>>> {
        self.made.lock().unwrap_or_else(PoisonError::into_inner).remembered(name)
    }

    fn remember(&self, name: String, picture: Arc<Vec<u8>>) {
        self.made.lock().unwrap_or_else(PoisonError::into_inner).remember(name, picture);
    }
}

/// What becomes of a still in a frame, so many times smaller: by its plan, or laid anew where a sphere lies otherwise in it.
pub fn carried_out(
    still: &Still,
    footage: &Footage,
    frame: &Deliverable,
    plan: &Plan,
    how: &Resampling,
    times: u32,
) -> Result<Still, Refused> {
    let geometry = frame.geometry.frame();
    let made = if footage.is_laid_anew_in(frame) {
        let raster = geometry.raster();
        let size = [raster.width(), raster.height()].map(|side| (side / times.max(1)).max(1));
        let how = sphere::How { filter: how.filter, light: how.light };
        sphere::laid(still, &footage.sphere, &frame.sphere, size, how)
    } else {
        carry::small(still, footage.geometry.source(), geometry, plan, how, times)
    };
    made.map_err(|problem| problem.to_string())
}

/// Puts pictures onto one eye's picture of a sphere, each at its place.
pub fn put_on<S: Borrow<Still>>(
    eye: &mut Still,
    span: &Span,
    pictures: (&[OnSphere], &[S]),
    how: sphere::How,
) -> Result<(), ratiomet_picture::Problem> {
    for (at, picture) in pictures.0.iter().zip(pictures.1) {
        sphere::put_on(eye, span, picture.borrow(), &at.orientation, &at.width, how)?;
    }
    Ok(())
}

/// A still that is made smaller by a whole number, so that it is not much wider than that.
fn no_wider(still: Still, wide: u32) -> Result<Still, Refused> {
    let [width, height] = still.size();
    match (width / wide).min(height) {
        0 | 1 => Ok(still),
        times => sphere::smaller(&still, times).map_err(|problem| problem.to_string()),
    }
}

/// A source with other insets.
pub fn inside(footage: &Footage, [left, top, right, bottom]: [u32; 4]) -> Result<Source, Refused> {
    let geometry = footage.geometry.source();
    let insets = Insets { left, top, right, bottom };
    let (aspect, squeeze) = (geometry.pixel_aspect().clone(), geometry.squeeze().clone());
    Source::new(geometry.raster(), aspect, squeeze, insets, geometry.rotation()).map_err(|error| error.to_string())
}
