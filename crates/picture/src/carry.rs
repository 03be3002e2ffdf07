//! [`out`]: a plan carried out on a real picture, at the raster of the frame.

use image::DynamicImage;
use ratiomet_core::resampling::{Filter, Resampling};
use ratiomet_core::space::{Axis, Delivery, Rect, Size};
use ratiomet_core::{DeliveryFrame, Exact, Plan, Rotation, Source};

use crate::filter::{Taps, taps};
use crate::limits::room;
use crate::resample::{Sample, each_depth, resample};
use crate::still::Fit;
use crate::{Problem, Still, finish};

/// One axis of the outcome: which of its pixels show picture, and where their centres lie in it.
struct Along {
    /// The pixels whose centre lies in the image and in the picture area.
    from: u32,
    to: u32,
    /// Samples for each pixel.
    step: f64,
    /// Where the pixel before the first one would begin, in samples: pixel `i` has its centre `(i + 1/2) * step` after it.
    origin: f64,
    /// How many samples there are.
    length: u32,
}

impl Along {
    fn taps(&self, filter: Filter) -> Vec<Taps> {
        let centre = |pixel: u32| self.origin + (f64::from(pixel) + 0.5) * self.step;
        (self.from..self.to).map(|pixel| taps(filter, centre(pixel), self.step, self.length)).collect()
    }
}

/// The first pixel whose centre lies at a place or after it.
fn first_centre(place: &Exact) -> i64 {
    (place - Exact::ONE.half()).ceil_whole()
}

/// Lines without any picture at each side of an outcome, as planned: left, top, right, bottom.
pub fn black(plan: &Plan, frame: &DeliveryFrame) -> [u32; 4] {
    let area = plan.picture_area.rect();
    let [[left, right], [top, bottom]] = [Axis::X, Axis::Y].map(|axis| {
        let start = plan.image.start(axis).max(area.start(axis));
        let end = plan.image.end(axis).min(area.end(axis));
        let side = frame.raster().along(axis);
        let lines = |lines: i64| u32::try_from(lines.clamp(0, i64::from(side))).unwrap_or(side);
        [lines(first_centre(start)), lines(i64::from(side) - first_centre(&end))]
    });
    [left, top, right, bottom]
}

/// The outcome of a plan: the raster of the frame, as deep as the picture. A pixel shows picture when its centre lies inside
/// the image and the picture area; all others are black. Nothing of the insets has a part in it.
///
/// # Errors
/// A sentence when the still does not go with the source, or the outcome is larger than pictures may be.
pub fn out(
    still: &Still,
    source: &Source,
    frame: &DeliveryFrame,
    plan: &Plan,
    how: &Resampling,
) -> Result<Still, Problem> {
    small(still, source, frame, plan, how, 1)
}

/// The outcome so many times smaller, for a quick look: its last pixels may reach beyond the frame.
///
/// # Errors
/// Those of [`out`].
pub fn small(
    still: &Still,
    source: &Source,
    frame: &DeliveryFrame,
    plan: &Plan,
    how: &Resampling,
    times: u32,
) -> Result<Still, Problem> {
    let times = times.max(1);
    let less = |rect: &Rect<Delivery>| {
        let size = &rect.size;
        let by = Exact::whole(times);
        Rect::new(&rect.x / &by, &rect.y / &by, Size::<Delivery>::new(&size.width / &by, &size.height / &by))
    };
    let raster = source.raster();
    let part = match Fit::of(still.size(), raster) {
        Fit::Same => 1,
        Fit::Part(part) => part,
        Fit::Other => {
            let [width, height] = still.size();
            return Err(Problem::new(format!(
                "the still is {width}x{height} and the source {}x{}; it must be the same size, or a whole fraction of it",
                raster.width(),
                raster.height()
            )));
        }
    };
    let [width, height] = [frame.raster().width(), frame.raster().height()].map(|side| side.div_ceil(times));
    let pixel = u64::from(still.samples.color().bytes_per_pixel());
    room([width, height], u64::from(width) * u64::from(height) * pixel)?;
    let mut outcome = DynamicImage::new(width, height, still.samples.color());
    if outcome.color().has_alpha() {
        // Bars are seen.
        blacken(&mut outcome);
    }
    let part = Exact::whole(part);
    let active = source.active();
    let [left, right] = [active.start(Axis::X) / &part, active.end(Axis::X) / &part];
    let [top, bottom] = [active.start(Axis::Y) / &part, active.end(Axis::Y) / &part];
    // Samples that are of the picture as a whole.
    let [first_x, end_x, first_y, end_y] =
        [left.ceil_whole(), right.floor_whole(), top.ceil_whole(), bottom.floor_whole()]
            .map(|place| u32::try_from(place).unwrap_or(0));
    if end_x <= first_x || end_y <= first_y {
        return Err(Problem::new("nothing of the still lies inside the insets as whole pixels: take a larger one"));
    }
    let size = [end_x - first_x, end_y - first_y];
    let cut = || still.samples.crop_imm(first_x, first_y, size[0], size[1]);
    let smooth = how.smoothing.side();
    let turned = match source.rotation() {
        Rotation::None if smooth > 1 => Some(finish::median(&cut(), smooth)),
        Rotation::None => None,
        Rotation::Quarter => Some(finish::median(&cut(), smooth).rotate90()),
        Rotation::Half => Some(finish::median(&cut(), smooth).rotate180()),
        Rotation::ThreeQuarters => Some(finish::median(&cut(), smooth).rotate270()),
    };
    let [across, down] = if source.rotation().swaps_axes() { [size[1], size[0]] } else { size };
    // How much of the picture lies before the first whole sample, on each side as stored.
    let before = |side: &Exact, whole: u32| (Exact::whole(whole) - side).to_f64();
    let after = |side: &Exact, whole: u32| (side - Exact::whole(whole)).to_f64();
    let lead = |axis: Axis| {
        let stored = source.rotation().stored_along(axis);
        match (stored.axis, stored.backwards) {
            (Axis::X, false) => before(&left, first_x),
            (Axis::X, true) => after(&right, end_x),
            (Axis::Y, false) => before(&top, first_y),
            (Axis::Y, true) => after(&bottom, end_y),
        }
    };
    let whole = how.whole(plan);
    let (area, image) = (less(&plan.picture_area.rect()), less(&plan.image));
    let along = |axis: Axis, length: u32| {
        let (start, end) = (image.start(axis), image.end(axis));
        let from = first_centre(start).max(first_centre(area.start(axis)));
        let to = first_centre(&end).min(first_centre(&area.end(axis)));
        // The scale is that of stored pixels; a still of a part has fewer, an enlarged one more.
        let step = Exact::whole(times) / plan.scale.of(axis) / &part;
        let origin = -(start * &step).to_f64() - lead(axis);
        let held = |place: i64| u32::try_from(place.max(0)).unwrap_or(0);
        let more = f64::from(whole);
        let (step, origin) = (step.to_f64() * more, origin * more);
        Along { from: held(from), to: held(to.max(from)), step, origin, length: length * whole }
    };
    let (picture, corner) = turned.as_ref().map_or((&still.samples, [first_x, first_y]), |turned| (turned, [0, 0]));
    let enlarged = (whole > 1).then(|| enlarged(picture, corner, [across, down], whole, how)).transpose()?;
    let (picture, corner) = enlarged.as_ref().map_or((picture, corner), |enlarged| (enlarged, [0, 0]));
    let (across, down) = (along(Axis::X, across), along(Axis::Y, down));
    if across.from < across.to && down.from < down.to {
        let taps = [across.taps(how.filter), down.taps(how.filter)];
        resample(picture, corner, &mut outcome, [across.from, down.from], [&taps[0], &taps[1]], how.light);
        if let Some(sharpening) = &how.sharpening {
            let size = [across.to - across.from, down.to - down.from];
            finish::sharpen(&mut outcome, [across.from, down.from], size, sharpening);
        }
    }
    Ok(Still { samples: outcome, profile: still.profile.clone(), format: still.format })
}

/// A part of a picture, enlarged by a whole number.
fn enlarged(
    picture: &DynamicImage,
    corner: [u32; 2],
    size: [u32; 2],
    times: u32,
    how: &Resampling,
) -> Result<DynamicImage, Problem> {
    let large = size.map(|side| side.saturating_mul(times));
    let bytes = u64::from(large[0]) * u64::from(large[1]) * u64::from(picture.color().bytes_per_pixel());
    room(large, bytes)?;
    let mut enlarged = DynamicImage::new(large[0], large[1], picture.color());
    let along = |side: usize| {
        let step = 1.0 / f64::from(times);
        Along { from: 0, to: large[side], step, origin: 0.0, length: size[side] }.taps(how.filter)
    };
    resample(picture, corner, &mut enlarged, [0, 0], [&along(0), &along(1)], how.light);
    Ok(enlarged)
}

/// Makes every pixel black and seen.
pub(crate) fn blacken(picture: &mut DynamicImage) {
    fn seen<P: image::Pixel>(picture: &mut image::ImageBuffer<P, Vec<P::Subpixel>>)
    where
        P::Subpixel: Sample,
    {
        let full = P::Subpixel::of(P::Subpixel::FULL);
        for pixel in picture.pixels_mut() {
            if let Some(alpha) = pixel.channels_mut().last_mut() {
                *alpha = full;
            }
        }
    }
    each_depth!(picture, samples => seen(samples));
}
