//! [`Stills`]: real pictures of sources, kept beside the data file by their content, and what is shown of them.

use std::borrow::Borrow;
use std::collections::{HashMap, VecDeque};
use std::fs::{self, File};
use std::io::{self, Read};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, SystemTime};

use ratiomet_core::project::{Content, Deliverable, Footage, Looking, OnSphere, Pictured, StillFile, StillSpec};
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::signal::Projection;
use ratiomet_core::space::{Axis, Stored};
use ratiomet_core::sphere::{Orientation, Span};
use ratiomet_core::{
    DeliveryFrame, Exact, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::borders::{self, Borders};
use ratiomet_picture::carry;
use ratiomet_picture::still::Fit;
use ratiomet_picture::{Still, scene, sphere};
use sha2::{Digest, Sha256};
use tokio::sync::{OwnedSemaphorePermit, Semaphore};

/// How a source is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Shown {
    /// Its active picture, turned; drawn out to its true proportion by whoever shows it.
    Upright,
    /// All of it, as it is stored.
    Stored,
}

/// How a picture of a source is made.
#[derive(Clone, Copy, Debug)]
pub struct View {
    pub shown: Shown,
    /// The most pixels of the longer side.
    pub side: u32,
    /// As PNG, every sample as it is.
    pub exact: bool,
}

impl View {
    /// What lists and the board show.
    const SMALL: Self = Self { shown: Shown::Upright, side: 320, exact: false };

    /// What the picture of a source is called.
    fn of(self, pictured: Pictured<'_>) -> String {
        format!("{self:?} {}", pictured.key().unwrap_or_default())
    }

    fn drawn(self, still: &Still, footage: &Footage) -> Result<Vec<u8>, Refused> {
        let whole = Raster::new(still.size()[0], still.size()[1]).map_err(|error| error.to_string())?;
        let plain = |insets: Insets, rotation: Rotation, raster| {
            Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, insets, rotation).map_err(|error| error.to_string())
        };
        // A picture of another size than its source is shown as if it were as large.
        let source = match self.shown {
            Shown::Stored => plain(Insets::default(), Rotation::None, whole)?,
            Shown::Upright => {
                let insets = footage.geometry.insets().resized(footage.geometry.raster(), whole);
                plain(insets, footage.geometry.rotation(), whole)?
            }
        };
        let upright = source.upright();
        let (width, height) = (upright.along(Axis::X), upright.along(Axis::Y));
        let longer = width.clone().max(height.clone());
        let scale = (Exact::whole(self.side.clamp(16, 8192)) / longer).min(Exact::ONE);
        let small = |length: &Exact| u32::try_from((length * &scale).floor_whole().max(1)).unwrap_or(1);
        let frame = Raster::new(small(width), small(height))
            .and_then(|raster| DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::One))
            .map_err(|error| error.to_string())?;
        let plan = Plan::of(&source, &frame, &Framing::of(Method::Stretch));
        let picture = carry::out(still, &source, &frame, &plan, &Resampling::by(Filter::Area))
            .map_err(|problem| problem.to_string())?;
        let mut bytes = Vec::new();
        let written =
            if self.exact { picture.write_png(&mut bytes) } else { picture.as_jpeg(88).map(|jpeg| bytes = jpeg) };
        written.map_err(|problem| problem.to_string())?;
        Ok(bytes)
    }
}

/// The most bytes of pictures that are remembered.
const MOST_REMEMBERED: usize = 96 << 20;
/// The most that stays of them when nobody has asked for anything for a while: small ones, which a board has by hundreds.
const MOST_KEPT: usize = 16 << 20;
/// No small picture is longer than that.
const SMALL: usize = 64 << 10;
/// How spheres are carried out where nobody has chosen.
const CARRIED: sphere::How = sphere::How { filter: Filter::CatmullRom, light: None };
/// How long a file that no history needs is kept: one that is just being added is among them.
const KEPT: Duration = Duration::from_secs(24 * 3_600);

/// Pictures that were made, the oldest first.
#[derive(Default)]
struct Made {
    pictures: HashMap<String, Arc<Vec<u8>>>,
    order: VecDeque<String>,
    bytes: usize,
}

impl Made {
    fn remember(&mut self, name: String, picture: Arc<Vec<u8>>) {
        self.bytes += picture.len();
        if let Some(before) = self.pictures.insert(name.clone(), picture) {
            self.bytes -= before.len();
        } else {
            self.order.push_back(name);
        }
        while self.bytes > MOST_REMEMBERED {
            self.forget_oldest();
        }
    }

    fn forget_oldest(&mut self) {
        let oldest = self.order.pop_front().and_then(|name| self.pictures.remove(&name));
        self.bytes -= oldest.map_or(self.bytes, |picture| picture.len());
    }

    /// The latest of those that are small.
    fn keep_small(&mut self) {
        self.pictures.retain(|_, picture| picture.len() <= SMALL);
        self.order.retain(|name| self.pictures.contains_key(name));
        self.bytes = self.pictures.values().map(|picture| picture.len()).sum();
        while self.bytes > MOST_KEPT {
            self.forget_oldest();
        }
        self.pictures.shrink_to_fit();
        self.order.shrink_to_fit();
    }
}

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
    folder: PathBuf,
    /// Where they were kept before.
    before: PathBuf,
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
    /// The stills of a data file: `data.db.stills` beside it, since there may be another file `data` beside it too.
    pub fn beside(data: &Path) -> Self {
        let mut folder = data.as_os_str().to_owned();
        folder.push(".stills");
        Self {
            folder: folder.into(),
            // The first versions left the ending out; nothing is taken away there.
            before: data.with_extension("stills"),
            made: Mutex::default(),
            outcomes: Recent::new(5, 192 << 20),
            spheres: Recent::new(3, 64 << 20),
            on_spheres: Recent::new(64, 64 << 20),
            room: Arc::new(Semaphore::new(2)),
        }
    }

    fn place(&self, content: Content) -> PathBuf {
        let [place, before] = [&self.folder, &self.before].map(|folder| folder.join(content.to_string()));
        if !place.exists() && before.exists() { before } else { place }
    }

    /// Keeps a file that is a still, and tells what it is called from now on, how large it is, and what it shows.
    pub fn keep(&self, bytes: &[u8]) -> Result<(Content, Raster<Stored>, Still), Refused> {
        let still = Still::read(bytes).map_err(|problem| problem.to_string())?;
        let [width, height] = still.size();
        let raster = Raster::new(width, height).map_err(|error| format!("the picture is {width}x{height}: {error}"))?;
        let content = Content::new(Sha256::digest(bytes).into());
        self.take(content, &mut &*bytes)
            .map_err(|error| format!("the still cannot be kept in {}: {error}", self.folder.display()))?;
        Ok((content, raster, still))
    }

    /// Puts a file with this content there, written whole before anything refers to it.
    pub fn take(&self, content: Content, bytes: &mut dyn Read) -> io::Result<()> {
        let place = self.folder.join(content.to_string());
        if place.exists() {
            return Ok(());
        }
        fs::create_dir_all(&self.folder)?;
        let beside = self.folder.join(format!("{content}.{}.part", std::process::id()));
        let written = File::create(&beside).and_then(|mut file| {
            io::copy(bytes, &mut file)?;
            file.sync_all()
        });
        written.and_then(|()| fs::rename(&beside, &place)).inspect_err(|_| {
            // OK because it may not have been made at all.
            let _ = fs::remove_file(&beside);
        })
    }

    /// Puts a file there under a further name of one that is kept elsewhere on the same disk.
    pub fn link(&self, content: Content, from: &Self) -> io::Result<()> {
        let place = self.folder.join(content.to_string());
        if place.exists() {
            return Ok(());
        }
        fs::create_dir_all(&self.folder)?;
        fs::hard_link(from.place(content), place)
    }

    /// That a still is there and is what its name says.
    pub fn verify(&self, content: Content) -> Result<(), Refused> {
        let mut file = self.open(content)?;
        let mut hash = Sha256::new();
        io::copy(&mut file, &mut hash).map_err(|error| format!("the still {content} cannot be read: {error}"))?;
        if Content::new(hash.finalize().into()) == content {
            Ok(())
        } else {
            Err(format!("the still {content} has another content"))
        }
    }

    /// Opens a still that is kept, by its content.
    pub fn open(&self, content: Content) -> Result<File, Refused> {
        File::open(self.place(content))
            .map_err(|error| format!("the still {content} is no longer in {}: {error}", self.folder.display()))
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
        let bytes = fs::read(self.place(file.content)).map_err(|error| {
            format!("the still {} is no longer in {}: {error}", file.name.as_str(), self.folder.display())
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
        self.made.lock().unwrap_or_else(PoisonError::into_inner).pictures.get(name).cloned()
    }

    fn remember(&self, name: String, picture: Arc<Vec<u8>>) {
        self.made.lock().unwrap_or_else(PoisonError::into_inner).remember(name, picture);
    }

    /// Takes away files that nothing refers to, a day after they came.
    pub fn collect(&self, is_used: impl Fn(Content) -> bool) -> io::Result<usize> {
        let files = match fs::read_dir(&self.folder) {
            Ok(files) => files,
            Err(error) if error.kind() == io::ErrorKind::NotFound => return Ok(0),
            Err(error) => return Err(error),
        };
        let mut taken = 0;
        for file in files {
            let file = file?;
            let name = file.file_name();
            // Files of others are left alone, but for what a write that broke off has left.
            let name = name.to_string_lossy();
            let used = match Content::parse(name.split('.').next().unwrap_or_default()) {
                Some(content) => !name.ends_with(".part") && is_used(content),
                None => true,
            };
            let age = SystemTime::now().duration_since(file.metadata()?.modified()?).unwrap_or_default();
            if !used && age > KEPT {
                fs::remove_file(file.path())?;
                taken += 1;
            }
        }
        Ok(taken)
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

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use super::{MOST_KEPT, Made, SMALL};

    #[test]
    fn small_pictures_stay_and_the_oldest_of_them_go_first() {
        let mut made = Made::default();
        let picture = |bytes: usize| Arc::new(vec![0_u8; bytes]);
        made.remember("large".to_owned(), picture(SMALL + 1));
        let count = MOST_KEPT / SMALL + 2;
        for number in 0..count {
            made.remember(format!("small {number}"), picture(SMALL));
        }
        made.keep_small();
        assert_eq!((made.pictures.len(), made.bytes), (MOST_KEPT / SMALL, MOST_KEPT));
        for gone in ["large", "small 0", "small 1"] {
            assert!(!made.pictures.contains_key(gone), "{gone}");
        }
        assert_eq!(made.order.back(), Some(&format!("small {}", count - 1)));
        // What is made anew under a name takes the place of what was there.
        made.remember("small 9".to_owned(), picture(5));
        assert_eq!(made.bytes, MOST_KEPT - SMALL + 5);
    }
}
