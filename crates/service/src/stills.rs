//! [`Stills`]: real pictures of sources, kept beside the data file by their content, and what is shown of them.

use std::collections::{HashMap, VecDeque};
use std::fs::{self, File};
use std::io::{self, Write};
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, SystemTime};

use ratiomet_core::project::{Content, Footage, Looking, Pictured, StillSpec};
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::signal::Projection;
use ratiomet_core::space::{Axis, Stored};
use ratiomet_core::sphere::Orientation;
use ratiomet_core::{
    DeliveryFrame, Exact, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::borders::{self, Borders};
use ratiomet_picture::carry;
use ratiomet_picture::still::Fit;
use ratiomet_picture::{Still, scene, sphere};
use sha2::{Digest, Sha256};
use tokio::sync::Semaphore;

/// How a source is shown.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Shown {
    /// Its active picture, turned; drawn out to its true proportion by whoever shows it.
    Upright,
    /// All of it, as it is stored.
    Stored,
}

/// The most bytes of pictures that are remembered.
const MOST_REMEMBERED: usize = 96 << 20;
/// The most outcomes that are remembered, and their most bytes.
const MOST_OUTCOMES: usize = 5;
const MOST_OUTCOME_BYTES: usize = 192 << 20;
/// The most spheres that are kept at hand to look around in.
const MOST_SPHERES: usize = 3;
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

/// Stills by their content, and the pictures that were made of them.
pub struct Stills {
    folder: PathBuf,
    /// Where they were kept before.
    before: PathBuf,
    made: Mutex<Made>,
    /// The outcomes that were made last, the latest at the end: they are looked at and measured again.
    outcomes: Mutex<Vec<(String, Arc<Still>)>>,
    /// Spheres that are looked around in, small.
    spheres: Mutex<Vec<(String, Arc<Still>)>>,
    /// Few are unpacked at once: each may take much memory.
    room: Semaphore,
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
            outcomes: Mutex::default(),
            spheres: Mutex::default(),
            room: Semaphore::new(2),
        }
    }

    fn place(&self, content: Content) -> PathBuf {
        let [place, before] = [&self.folder, &self.before].map(|folder| folder.join(content.to_string()));
        if !place.exists() && before.exists() { before } else { place }
    }

    /// Keeps a file that is a still, and tells what it is called from now on and how large it is.
    pub fn keep(&self, bytes: &[u8]) -> Result<(Content, Raster<ratiomet_core::space::Stored>), Refused> {
        let still = Still::read(bytes).map_err(|problem| problem.to_string())?;
        let [width, height] = still.size();
        let raster = Raster::new(width, height).map_err(|error| format!("the picture is {width}x{height}: {error}"))?;
        let content = Content::new(Sha256::digest(bytes).into());
        let failed = |error: io::Error| format!("the still cannot be kept in {}: {error}", self.folder.display());
        let place = self.folder.join(content.to_string());
        if !place.exists() {
            fs::create_dir_all(&self.folder).map_err(failed)?;
            // Written whole before anything refers to it.
            let beside = self.folder.join(format!("{content}.{}.part", std::process::id()));
            let written = File::create(&beside).and_then(|mut file| {
                file.write_all(bytes)?;
                file.sync_all()
            });
            if let Err(error) = written.and_then(|()| fs::rename(&beside, &place)) {
                // OK because it may not have been made at all.
                let _ = fs::remove_file(&beside);
                return Err(failed(error));
            }
        }
        Ok((content, raster))
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
        if footage.projection == Projection::Flat || footage.turn.is_none() {
            return Ok(still);
        }
        let matrix = footage.turn.matrix();
        sphere::each_eye(&still, &footage.sphere, |eye| sphere::turned(eye, &footage.sphere.span, &matrix, CARRIED))
            .map_err(|problem| problem.to_string())
    }

    /// A view at a part of its raster.
    fn seen(&self, looking: &Looking<'_>, view: Raster<Stored>, part: u32) -> Result<Still, Refused> {
        let density = looking.density(view).ok_or("the sphere has no picture for each eye")?.to_f64();
        // As much of the sphere as the view has pixels for.
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a small number")]
        let of_sphere = (f64::from(part) / density / 2.0).floor().clamp(1.0, 64.0) as u32;
        let frame = self.stored(looking.sphere, of_sphere)?;
        let eyes = sphere::eyes(&frame, &looking.sphere.sphere).map_err(|problem| problem.to_string())?;
        let [width, height] = [view.width(), view.height()].map(|side| (side / part).max(1));
        let raster = Raster::new(width, height).map_err(|error| error.to_string())?;
        let look = sphere::Look { raster, fov: looking.view.fov.clone(), matrix: looking.orientation().matrix() };
        sphere::view(&eyes[0], &looking.sphere.sphere.span, &look, CARRIED).map_err(|problem| problem.to_string())
    }

    /// A part of a sphere's still, for quick looks: of one eye, as it is stored, and so small that it can be turned
    /// while a hand moves. It is remembered.
    pub fn quick(&self, footage: &Footage) -> Result<Arc<Still>, Refused> {
        const WIDE: u32 = 2304;
        let turned_back = Footage { turn: Orientation::NONE, ..footage.clone() };
        let key = format!("quick {:?}", turned_back.picture_key());
        let kept = || self.spheres.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, sphere)) = kept().iter().find(|(name, _)| *name == key) {
            return Ok(sphere.clone());
        }
        let width = footage.sphere.eye([footage.geometry.raster().width(), 2])[0];
        let part = (width / WIDE).max(1);
        let frame = self.stored(footage, part)?;
        let mut eyes = sphere::eyes(&frame, &footage.sphere).map_err(|problem| problem.to_string())?;
        let eye = eyes.swap_remove(0);
        let times = eye.size()[0] / WIDE;
        let eye = if times > 1 { sphere::smaller(&eye, times).map_err(|problem| problem.to_string())? } else { eye };
        let eye = Arc::new(eye.for_the_eye());
        let mut kept = kept();
        kept.push((key, eye.clone()));
        if kept.len() > MOST_SPHERES {
            kept.remove(0);
        }
        Ok(eye)
    }

    fn stored(&self, footage: &Footage, part: u32) -> Result<Still, Refused> {
        match &footage.still {
            None => Err("the source has no still".to_owned()),
            Some(StillSpec::Scene(scene)) => {
                let sphere = footage.projection == Projection::Sphere;
                let subject = footage.subject.as_ref().map(|subject| subject.subject());
                scene::taken(*scene, footage.geometry.source(), subject, sphere, part).map_err(|why| why.to_string())
            }
            Some(StillSpec::File(file)) => {
                let bytes = fs::read(self.place(file.content)).map_err(|error| {
                    format!("the still {} is no longer in {}: {error}", file.name.as_str(), self.folder.display())
                })?;
                Still::read(&bytes).map_err(|problem| problem.to_string())
            }
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
    pub fn shown(&self, pictured: Pictured<'_>, shown: Shown, side: u32, exact: bool) -> Result<Arc<Vec<u8>>, Refused> {
        let footage = pictured.footage;
        let name = format!("{shown:?} {side} {exact} {}", pictured.key().unwrap_or_default());
        if let Some(picture) = self.remembered(&name) {
            return Ok(picture);
        }
        let raster = footage.geometry.raster();
        let part = (raster.width().max(raster.height()) / side.max(1)).max(1);
        let still = match shown {
            Shown::Upright => self.upright(pictured, part)?,
            Shown::Stored => self.still(pictured, part)?,
        };
        let whole = Raster::new(still.size()[0], still.size()[1]).map_err(|error| error.to_string())?;
        let plain = |insets: Insets, rotation: Rotation, raster| {
            Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, insets, rotation).map_err(|error| error.to_string())
        };
        // A picture of another size than its source is shown as if it were as large.
        let source = match shown {
            Shown::Stored => plain(Insets::default(), Rotation::None, whole)?,
            Shown::Upright => {
                plain(footage.geometry.insets().resized(raster, whole), footage.geometry.rotation(), whole)?
            }
        };
        let upright = source.upright();
        let (width, height) = (upright.along(Axis::X), upright.along(Axis::Y));
        let longer = width.clone().max(height.clone());
        let scale = (Exact::whole(side.clamp(16, 8192)) / longer).min(Exact::ONE);
        let small = |length: &Exact| u32::try_from((length * &scale).floor_whole().max(1)).unwrap_or(1);
        let frame = Raster::new(small(width), small(height))
            .and_then(|raster| DeliveryFrame::new(raster, PixelAspect::SQUARE, None, Step::One))
            .map_err(|error| error.to_string())?;
        let plan = Plan::of(&source, &frame, &Framing::of(Method::Stretch));
        let picture = carry::out(&still, &source, &frame, &plan, &Resampling::by(Filter::Area))
            .map_err(|problem| problem.to_string())?;
        let mut bytes = Vec::new();
        let written = if exact { picture.write_png(&mut bytes) } else { picture.as_jpeg(88).map(|jpeg| bytes = jpeg) };
        written.map_err(|problem| problem.to_string())?;
        let picture = Arc::new(bytes);
        self.remember(name, picture.clone());
        Ok(picture)
    }

    /// A conversion carried out on the still of its source.
    pub fn outcome(
        &self,
        pictured: Pictured<'_>,
        frame: &DeliveryFrame,
        plan: &Plan,
        how: &Resampling,
    ) -> Result<Arc<Still>, Refused> {
        let key = format!("{:?} {frame:?} {plan:?} {how:?}", pictured.key());
        let kept = || self.outcomes.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, outcome)) = kept().iter().find(|(name, _)| *name == key) {
            return Ok(outcome.clone());
        }
        let still = self.upright(pictured, 1)?;
        let made = carry::out(&still, pictured.footage.geometry.source(), frame, plan, how);
        let made = Arc::new(made.map_err(|problem| problem.to_string())?);
        let mut kept = kept();
        kept.push((key, made.clone()));
        let bytes = |kept: &Vec<(String, Arc<Still>)>| -> usize {
            kept.iter().map(|(_, outcome)| outcome.samples.as_bytes().len()).sum()
        };
        while kept.len() > MOST_OUTCOMES || bytes(&kept) > MOST_OUTCOME_BYTES {
            kept.remove(0);
        }
        Ok(made)
    }

    /// Waits until there is room to unpack one more.
    pub async fn room(&self) -> Option<tokio::sync::SemaphorePermit<'_>> {
        self.room.acquire().await.ok()
    }

    fn remembered(&self, name: &str) -> Option<Arc<Vec<u8>>> {
        self.made.lock().unwrap_or_else(PoisonError::into_inner).pictures.get(name).cloned()
    }

    fn remember(&self, name: String, picture: Arc<Vec<u8>>) {
        let mut made = self.made.lock().unwrap_or_else(PoisonError::into_inner);
        made.bytes += picture.len();
        if let Some(before) = made.pictures.insert(name.clone(), picture) {
            made.bytes -= before.len();
        } else {
            made.order.push_back(name);
        }
        while made.bytes > MOST_REMEMBERED {
            let Some(oldest) = made.order.pop_front() else { break };
            if let Some(picture) = made.pictures.remove(&oldest) {
                made.bytes -= picture.len();
            }
        }
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

/// A source with other insets.
pub fn inside(footage: &Footage, [left, top, right, bottom]: [u32; 4]) -> Result<Source, Refused> {
    let geometry = footage.geometry.source();
    let insets = Insets { left, top, right, bottom };
    let (aspect, squeeze) = (geometry.pixel_aspect().clone(), geometry.squeeze().clone());
    Source::new(geometry.raster(), aspect, squeeze, insets, geometry.rotation()).map_err(|error| error.to_string())
}
