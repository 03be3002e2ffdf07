//! [`View`]: how a source is shown, and the pictures of it that were [`Made`].

use std::collections::{HashMap, VecDeque};
use std::sync::Arc;

use ratiomet_core::project::{Footage, Pictured};
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::space::Axis;
use ratiomet_core::{
    DeliveryFrame, Exact, Framing, Insets, Method, PixelAspect, Plan, Raster, Rotation, Source, Squeeze, Step,
};
use ratiomet_picture::{Still, carry};

use super::Refused;

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
    /// What lists and the board of the page ask for: of another size it would be made for nothing.
    pub(super) const SMALL: Self = Self { shown: Shown::Upright, side: 320, exact: false };

    /// What the picture of a source is called.
    pub(super) fn of(self, pictured: Pictured<'_>) -> String {
        format!("{self:?} {}", pictured.key().unwrap_or_default())
    }

    /// The picture, as a file.
    pub(super) fn drawn(self, still: &Still, footage: &Footage) -> Result<Vec<u8>, Refused> {
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

/// Pictures that were made, the oldest first.
#[derive(Default)]
pub(super) struct Made {
    pictures: HashMap<String, Arc<Vec<u8>>>,
    order: VecDeque<String>,
    bytes: usize,
}

impl Made {
    pub(super) fn remembered(&self, name: &str) -> Option<Arc<Vec<u8>>> {
        self.pictures.get(name).cloned()
    }

    pub(super) fn remember(&mut self, name: String, picture: Arc<Vec<u8>>) {
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
    pub(super) fn keep_small(&mut self) {
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
