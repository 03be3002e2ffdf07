//! The charts of a package: which there are, what they are called, and their pictures.

use std::collections::{HashMap, HashSet};

use ratiomet_core::project::Package;

use crate::drawing::Drawing;
use crate::names::Names;
use crate::progress::Progress;
use crate::{chart, png};

/// A chart that is to be drawn: of a source, with how many are like it, or of a frame.
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) enum Chart {
    Camera(usize, usize),
    Leader(usize),
    Overlay(usize),
}

/// The charts and their names: one for each source and two for each frame. Sources of the same geometry that are framed
/// alike have the same one, each under its own name.
pub(crate) fn all(package: &Package) -> Vec<(String, Chart)> {
    let mut names = Names::default();
    let mut charts = Vec::new();
    let mut windows: Vec<String> = vec![String::new(); package.sources.len()];
    for packaged in &package.conversions {
        windows[packaged.source] += &format!("{:?}", packaged.conversion.plan.window);
    }
    let kinds: Vec<String> = package
        .sources
        .iter()
        .zip(windows)
        .map(|((_, footage), windows)| format!("{:?} {windows}", footage.geometry.source()))
        .collect();
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

/// Those that can be written as pictures.
pub(crate) fn drawable(package: &Package) -> Vec<(String, Chart)> {
    let mut charts = all(package);
    charts.retain(|(_, chart)| !png::is_too_large(size(package, *chart)));
    charts
}

/// How large a chart is: as the raster that it is for.
pub(crate) fn size(package: &Package, chart: Chart) -> [u32; 2] {
    match chart {
        Chart::Camera(at, _) => {
            let raster = package.sources[at].1.geometry.raster();
            [raster.width(), raster.height()]
        }
        Chart::Leader(at) | Chart::Overlay(at) => {
            let raster = package.frames[at].1.geometry.frame().raster();
            [raster.width(), raster.height()]
        }
    }
}

pub(crate) fn drawn(package: &Package, chart: Chart) -> Drawing {
    match chart {
        Chart::Camera(at, alike) => chart::camera(package, at, alike),
        Chart::Leader(at) => chart::leader(package, &package.frames[at].1),
        Chart::Overlay(at) => chart::overlay(package, &package.frames[at].1),
    }
}

/// The charts as pictures, each drawn once, on as many threads as there are cores.
pub(crate) fn pictures(
    package: &Package,
    charts: &[(String, Chart)],
    progress: Progress<'_>,
) -> Result<HashMap<Chart, Vec<u8>>, String> {
    let mut each: Vec<Chart> = Vec::new();
    let mut seen = HashSet::new();
    each.extend(charts.iter().map(|(_, chart)| *chart).filter(|chart| seen.insert(*chart)));
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(each.len()).max(1);
    let each = &each;
    std::thread::scope(|scope| {
        let workers: Vec<_> = (0..threads)
            .map(|first| {
                scope.spawn(move || {
                    let mut mine = Vec::new();
                    for chart in each.iter().skip(first).step_by(threads) {
                        mine.push((*chart, png::file(&drawn(package, *chart))?));
                        if !progress() {
                            return Err(String::new());
                        }
                    }
                    Ok(mine)
                })
            })
            .collect();
        let joined = workers
            .into_iter()
            .map(|worker| worker.join().unwrap_or_else(|_| Err("a chart cannot be drawn".to_owned())));
        joined.collect::<Result<Vec<_>, String>>().map(|parts| parts.into_iter().flatten().collect())
    })
}
