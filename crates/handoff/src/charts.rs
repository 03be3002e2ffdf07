//! The charts of a package: which there are, what they are called, and their pictures.

use std::collections::HashMap;
use std::sync::Arc;
use std::sync::mpsc::{self, Receiver};
use std::thread::Scope;

use ratiomet_core::project::{Package, Packaged};

use crate::drawing::Drawing;
use crate::names::Names;
use crate::outcomes::Outcomes;
use crate::progress::{Progress, told};
use crate::{chart, png, svg};

/// What the frames of a package take of its source at a place, on the stored raster, as an SVG document; with the still of
/// the source behind it where somebody knows that.
pub fn camera_chart<'a>(package: &'a Package<'a>, source: usize, pictures: Option<&'a dyn Outcomes>) -> String {
    svg::document(&Charts { package, pictures }.drawn(Chart::Camera(source, 1)))
}

/// A chart that is to be drawn: of a source, with how many are like it, or of a frame.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum Chart {
    Camera(usize, usize),
    Leader(usize),
    Overlay(usize),
}

/// The charts of a package, with or without what their sources look like.
#[derive(Clone, Copy)]
pub(crate) struct Charts<'a> {
    pub package: &'a Package<'a>,
    /// Who knows what the sources look like, where that is to be seen.
    pub pictures: Option<&'a dyn Outcomes>,
}

impl<'a> Charts<'a> {
    /// The charts and their names: one for each source and two for each frame. Sources of the same geometry that are
    /// framed alike have the same one, each under its own name; with pictures each has its own.
    pub fn all(self, progress: Progress<'_>) -> Vec<(String, Chart)> {
        let package = self.package;
        let mut names = Names::default();
        let mut charts = Vec::new();
        let mut windows: Vec<String> = vec![String::new(); package.sources.len()];
        for packaged in told(progress, package.conversions()) {
            windows[packaged.source] += &format!("{:?}", packaged.conversion.plan.window);
        }
        let kind = |(at, windows): (usize, String)| {
            let own = if self.pictured(at).is_some() { format!("{at}") } else { String::new() };
            format!("{:?} {windows} {own}", package.sources[at].1.geometry.source())
        };
        let kinds: Vec<String> = windows.into_iter().enumerate().map(kind).collect();
        let mut groups: HashMap<&str, (usize, usize)> = HashMap::new();
        for (at, kind) in kinds.iter().enumerate() {
            groups.entry(kind.as_str()).or_insert((at, 0)).1 += 1;
        }
        for ((_, footage), kind) in package.sources.iter().zip(&kinds) {
            let (first, alike) = groups[kind.as_str()];
            charts.push((names.unique(&format!("camera {}", footage.name.as_str())), Chart::Camera(first, alike)));
        }
        for (at, (_, frame)) in package.frames.iter().enumerate() {
            charts.push((names.unique(&format!("leader {}", frame.name.as_str())), Chart::Leader(at)));
            charts.push((names.unique(&format!("overlay {}", frame.name.as_str())), Chart::Overlay(at)));
        }
        charts
    }

    /// How many there are.
    pub const fn count(self) -> usize {
        self.package.sources.len() + 2 * self.package.frames.len()
    }

    /// Those that can be written as pictures.
    pub fn drawable(self, progress: Progress<'_>) -> Vec<(String, Chart)> {
        let mut charts = self.all(progress);
        charts.retain(|(_, chart)| !png::is_too_large(self.size(*chart)));
        charts
    }

    /// How large a chart is: as the raster that it is for.
    pub fn size(self, chart: Chart) -> [u32; 2] {
        let raster = match chart {
            Chart::Camera(at, _) => {
                let raster = self.package.sources[at].1.geometry.raster();
                return [raster.width(), raster.height()];
            }
            Chart::Leader(at) | Chart::Overlay(at) => self.package.frames[at].1.geometry.frame().raster(),
        };
        [raster.width(), raster.height()]
    }

    pub fn drawn(self, chart: Chart) -> Drawing {
        /// Behind lines and words, nobody looks at single pixels.
        const SIDE: u32 = 1920;
        let package = self.package;
        match chart {
            Chart::Camera(at, alike) => {
                let picture = self.pictured(at).and_then(|(outcomes, packaged)| outcomes.stored(&packaged, SIDE));
                chart::camera(package, at, alike, picture)
            }
            Chart::Leader(at) => {
                // The first source that has a picture stands for the others.
                let mut mine = package.conversions().filter(|packaged| packaged.frame == at);
                let shown = self.pictures.and_then(|outcomes| {
                    mine.find_map(|packaged| {
                        let picture = outcomes.small(&packaged, SIDE)?;
                        Some((package.source_of(&packaged).name.as_str(), picture))
                    })
                });
                chart::leader(package, package.frames[at].1, shown)
            }
            Chart::Overlay(at) => chart::overlay(package, package.frames[at].1),
        }
    }

    /// Who shows a source, and a conversion of it, where it has a picture that is to be seen.
    fn pictured(self, source: usize) -> Option<(&'a dyn Outcomes, Packaged)> {
        let outcomes = self.pictures?;
        let packaged = self.package.of_source(source).first()?.clone();
        outcomes.lacks(&packaged).is_none().then_some((outcomes, packaged))
    }

    /// Begins to draw charts as pictures, each once, on as many threads as there are cores.
    pub fn begin<'scope>(
        self,
        scope: &'scope Scope<'scope, '_>,
        charts: &[(String, Chart)],
        progress: Progress<'scope>,
    ) -> Pictures
    where
        'a: 'scope,
    {
        let mut left: HashMap<Chart, usize> = HashMap::new();
        let mut each: Vec<Chart> = Vec::new();
        for (_, chart) in charts {
            let names = left.entry(*chart).or_default();
            if *names == 0 {
                each.push(*chart);
            }
            *names += 1;
        }
        let threads = std::thread::available_parallelism().map_or(1, usize::from).min(each.len()).max(1);
        let worker = |first: usize| {
            let (to, from) = mpsc::sync_channel(AHEAD);
            let mine: Vec<Chart> = each.iter().skip(first).step_by(threads).copied().collect();
            scope.spawn(move || {
                for chart in mine {
                    let drawn = if progress() { png::file(&self.drawn(chart)) } else { Err(String::new()) };
                    // Nobody takes any more when the work has come to an end elsewhere.
                    if to.send(drawn.map(Arc::new)).is_err() {
                        return;
                    }
                }
            });
            from
        };
        Pictures { workers: (0..threads).map(worker).collect(), next: 0, known: HashMap::new(), left }
    }
}

/// How many pictures each thread is ahead of who takes them: a bound for what is in memory.
const AHEAD: usize = 4;

/// Charts that are drawn as pictures while other things are made, to be taken in their order.
pub(crate) struct Pictures {
    workers: Vec<Receiver<Result<Arc<Vec<u8>>, String>>>,
    /// How many have been taken from the workers, who take turns.
    next: usize,
    /// Those that go under further names.
    known: HashMap<Chart, Arc<Vec<u8>>>,
    /// Under how many names each is still to be taken.
    left: HashMap<Chart, usize>,
}

impl Pictures {
    /// The picture of the next chart.
    ///
    /// # Errors
    /// A sentence when it cannot be drawn; an empty one when the work was stopped.
    pub fn take(&mut self, chart: Chart) -> Result<Arc<Vec<u8>>, String> {
        let picture = if let Some(picture) = self.known.remove(&chart) {
            picture
        } else {
            let worker = &self.workers[self.next % self.workers.len()];
            self.next += 1;
            worker.recv().unwrap_or_else(|_| Err("a chart cannot be drawn".to_owned()))?
        };
        let left = self.left.entry(chart).or_insert(1);
        *left -= 1;
        if *left > 0 {
            self.known.insert(chart, picture.clone());
        }
        Ok(picture)
    }
}
