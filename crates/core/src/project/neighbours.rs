//! [`Neighbours`]: what the other clips of a project say of one.

use std::cmp::Ordering;
use std::collections::HashMap;
use std::sync::{Arc, OnceLock};

use crate::finding::Squeezing;
use crate::project::{Deliverable, Footage, SourceId};
use crate::{Exact, Finding};

/// What the clips of a project have in common.
#[derive(Debug, Default, PartialEq)]
pub(super) struct Neighbours {
    sources: usize,
    /// Of how many it is not known which way up they are stored, by whether they lie or stand as they are.
    lying: usize,
    standing: usize,
    /// The clips whose squeeze is not that of the clips like them.
    squeezes: HashMap<SourceId, Finding>,
}

/// So many clips with one squeeze say what the others like them should have.
const SEVERAL: usize = 3;

impl Neighbours {
    /// What the clips say of each other.
    pub fn of<'a>(clips: impl Iterator<Item = (SourceId, &'a Footage)>) -> Self {
        let mut all = Self::default();
        let mut alike: HashMap<Alike<'a>, Vec<(SourceId, &'a Exact)>> = HashMap::new();
        for (id, footage) in clips {
            all.sources += 1;
            if !footage.upright_known {
                match lies(footage) {
                    Ordering::Greater => all.lying += 1,
                    Ordering::Less => all.standing += 1,
                    Ordering::Equal => {}
                }
            }
            alike.entry(Alike::of(footage)).or_default().push((id, footage.geometry.squeeze().value().value()));
        }
        for members in alike.into_values() {
            all.squeezes.extend(odd_ones(&members));
        }
        all
    }

    /// Whether it is worth to ask which way up a clip is stored, for a frame that it does not suit. Where most
    /// clips do not suit the frame it is the frame that differs, and nobody is asked.
    pub fn asks_upright(&self, footage: &Footage, frame: &Deliverable) -> bool {
        if footage.upright_known {
            return false;
        }
        let against = match frame.geometry.frame().ratio().cmp(&Exact::ONE) {
            Ordering::Greater => self.standing,
            Ordering::Less => self.lying,
            Ordering::Equal => return false,
        };
        against == 1 || against * 2 <= self.sources
    }

    /// What there is to say about the squeeze of a clip among its like.
    pub fn squeeze(&self, id: SourceId) -> Option<&Finding> {
        self.squeezes.get(&id)
    }
}

fn lies(footage: &Footage) -> Ordering {
    let upright = footage.geometry.source().upright();
    upright.width.cmp(&upright.height)
}

/// What clips of one camera on one day share: the raster, the shape of the pixels, the camera's letter and the
/// date, where their names tell them.
#[derive(PartialEq, Eq, Hash)]
struct Alike<'a> {
    raster: [u32; 2],
    pixel_aspect: &'a str,
    camera: &'a str,
    day: &'a str,
}

impl<'a> Alike<'a> {
    fn of(footage: &'a Footage) -> Self {
        let name = footage.name.as_str();
        let letters = name.find(|each: char| !each.is_alphabetic()).unwrap_or(name.len());
        Self {
            raster: [footage.geometry.raster().width(), footage.geometry.raster().height()],
            pixel_aspect: footage.geometry.pixel_aspect().text(),
            // Words are no cameras: those have one letter or two before their reel.
            camera: if (1..=2).contains(&name[..letters].chars().count()) { &name[..letters] } else { "" },
            day: day_in(name),
        }
    }
}

/// The first run of six or eight digits: a date as cameras write it.
fn day_in(name: &str) -> &str {
    let runs = name.split(|each: char| !each.is_ascii_digit());
    runs.into_iter().find(|run| matches!(run.len(), 6 | 8)).unwrap_or("")
}

/// Those whose squeeze is not that of nearly all others.
fn odd_ones(members: &[(SourceId, &Exact)]) -> Vec<(SourceId, Finding)> {
    let mut counts: Vec<(&Exact, usize)> = Vec::new();
    for (_, squeeze) in members {
        match counts.iter_mut().find(|(known, _)| known == squeeze) {
            Some((_, count)) => *count += 1,
            None => counts.push((squeeze, 1)),
        }
    }
    let Some((usual, alike)) = counts.into_iter().max_by_key(|(_, count)| *count) else { return Vec::new() };
    let of = members.len();
    if *usual == Exact::ONE || alike < SEVERAL || alike * 4 < of * 3 {
        return Vec::new();
    }
    let missing =
        |set: &Exact| Finding::Squeeze(Squeezing::Missing { squeeze: usual.clone(), set: set.clone(), alike, of });
    members.iter().filter(|(_, set)| *set != usual).map(|(id, set)| (*id, missing(set))).collect()
}

/// What is worked out of the clips once, and forgotten when they change.
#[derive(Clone, Debug)]
pub(super) struct Known(OnceLock<Arc<Neighbours>>);

impl Known {
    /// Nothing yet.
    pub const fn nothing() -> Self {
        Self(OnceLock::new())
    }

    /// What is known, worked out where it is not.
    pub fn get(&self, work: impl FnOnce() -> Neighbours) -> &Neighbours {
        self.0.get_or_init(|| Arc::new(work()))
    }
}

/// It says nothing that the project does not.
impl PartialEq for Known {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}
