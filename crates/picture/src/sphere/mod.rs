//! Spheres carried out on real pictures: a flat [`view`] out of one, one that is [`turned`], a flat picture [`placed`]
//! onto one. Beyond the seam a full sphere goes on at its other edge, beyond a pole on the other side of it.

mod places;
mod sampler;

use image::DynamicImage;
use ratiomet_core::Raster;
use ratiomet_core::resampling::{Filter, Transfer};
use ratiomet_core::space::{Delivery, Stored};
use ratiomet_core::sphere::{
    Eyes, FieldOfView, Layout, Matrix, Orientation, Span, SphereForm, SpherePlace, SpherePlaceRequest,
};
use rayon::prelude::*;

use crate::limits::room;
use crate::resample::{PART, Sample, put};
use crate::still::Fit;
use crate::{Problem, Still};
use places::{Places, Surface};
use sampler::{Edges, Narrowed, Sampler};

/// How samples are worked out.
#[derive(Clone, Copy, Debug)]
pub struct How {
    /// The filter; where what is seen has more pixels than the outcome it widens, by as much as one pixel of the outcome
    /// covers.
    pub filter: Filter,
    /// In light, or in the signal as it is stored.
    pub light: Option<Transfer>,
}

/// How a view looks out of a sphere.
#[derive(Clone, Debug)]
pub struct Look {
    /// The flat view.
    pub raster: Raster<Delivery>,
    /// How wide it is.
    pub fov: FieldOfView,
    /// A direction d of the view is found at this times d in the sphere.
    pub matrix: Matrix,
}

/// Where the pictures of both eyes stand in a frame of this size, the left one first, and how large they are.
fn places_of(form: &SphereForm, size: [u32; 2]) -> Result<(Vec<[u32; 2]>, [u32; 2]), Problem> {
    let eye = form.eye(size);
    if eye[0] == 0 || eye[1] == 0 {
        return Err(Problem::new(format!("a frame of {}x{} has no room for two eyes", size[0], size[1])));
    }
    let mut places = match form.layout {
        Layout::Mono => vec![[0, 0]],
        Layout::TopBottom => vec![[0, 0], [0, eye[1]]],
        Layout::SideBySide => vec![[0, 0], [eye[0], 0]],
    };
    if form.eyes == Eyes::RightFirst {
        places.reverse();
    }
    Ok((places, eye))
}

/// The pictures of a frame that holds one for each eye, the left one first, or one for both.
///
/// # Errors
/// A sentence when it is too small for two.
pub fn eyes(frame: &Still, form: &SphereForm) -> Result<Vec<Still>, Problem> {
    let (places, [width, height]) = places_of(form, frame.size())?;
    let eye = |[x, y]: [u32; 2]| frame.samples.crop_imm(x, y, width, height);
    Ok(places.into_iter().map(|place| Still { samples: eye(place), ..frame.without_samples() }).collect())
}

/// A frame whose eyes have all gone through the same work, which leaves them as large as they are.
///
/// # Errors
/// Those of the work, and of [`eyes`].
pub fn each_eye(
    frame: &Still,
    form: &SphereForm,
    work: impl Fn(&Still) -> Result<Still, Problem>,
) -> Result<Still, Problem> {
    if form.layout == Layout::Mono {
        return work(frame);
    }
    let (places, _) = places_of(form, frame.size())?;
    let mut whole = frame.clone();
    for (eye, [x, y]) in eyes(frame, form)?.iter().zip(places) {
        let done = work(eye)?;
        image::imageops::replace(&mut whole.samples, &done.samples, i64::from(x), i64::from(y));
    }
    Ok(whole)
}

/// A flat view out of a sphere. What lies outside the span is black.
///
/// # Errors
/// A sentence when the view is larger than pictures may be.
pub fn view(sphere: &Still, span: &Span, look: &Look, how: How) -> Result<Still, Problem> {
    let size = [look.raster.width(), look.raster.height()];
    let surface = Surface::of(sphere.size(), span);
    let places = Places::view(size, &look.fov, &look.matrix, &surface);
    let mut outcome = black(&sphere.samples, size)?;
    sampled(&sphere.samples, surface.edges(), &places, [0, 0], size, &mut outcome, how)?;
    Ok(Still { samples: outcome, ..sphere.without_samples() })
}

/// A sphere turned, as large as it is: a direction d of the outcome is found at `matrix` d in it.
///
/// # Errors
/// A sentence when there is no room for it.
pub fn turned(sphere: &Still, span: &Span, matrix: &Matrix, how: How) -> Result<Still, Problem> {
    turned_to(sphere, span, sphere.size(), matrix, how)
}

/// The same at another size, which holds as much of the sphere.
///
/// # Errors
/// Those of [`turned`].
pub fn turned_to(sphere: &Still, span: &Span, size: [u32; 2], matrix: &Matrix, how: How) -> Result<Still, Problem> {
    turned_into(sphere, [span, span], size, matrix, how)
}

/// The same into a picture that holds another part of the sphere; what lies outside its span is black.
fn turned_into(
    sphere: &Still,
    [from, to]: [&Span; 2],
    size: [u32; 2],
    matrix: &Matrix,
    how: How,
) -> Result<Still, Problem> {
    let surface = Surface::of(sphere.size(), from);
    let places = Places::turned(&Surface::of(size, to), matrix, &surface);
    let mut outcome = black(&sphere.samples, size)?;
    sampled(&sphere.samples, surface.edges(), &places, [0, 0], size, &mut outcome, how)?;
    Ok(Still { samples: outcome, ..sphere.without_samples() })
}

/// A sphere that lies otherwise in a frame of this size: each eye's picture in its place, with as much of the sphere as the
/// frame holds. One picture is seen by both eyes; of two, one frame for both shows the left one.
///
/// # Errors
/// A sentence when there is no room for it, in the one frame or the other.
pub fn laid(frame: &Still, from: &SphereForm, to: &SphereForm, size: [u32; 2], how: How) -> Result<Still, Problem> {
    const AS_IT_IS: Matrix = [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]];
    let seen = eyes(frame, from)?;
    let (places, own) = places_of(to, size)?;
    let mut whole = black(&frame.samples, size)?;
    for (at, [x, y]) in places.into_iter().enumerate() {
        let eye = seen.get(at).unwrap_or(&seen[0]);
        let laid = turned_into(eye, [&from.span, &to.span], own, &AS_IT_IS, how)?;
        image::imageops::replace(&mut whole, &laid.samples, i64::from(x), i64::from(y));
    }
    Ok(Still { samples: whole, ..frame.without_samples() })
}

/// Whether a still may stand for what a request names: it is as large, or a whole fraction of it.
///
/// # Errors
/// A sentence that names both sizes.
pub fn goes_with(still: &Still, what: &str, [width, height]: [u32; 2]) -> Result<(), Problem> {
    let [own_width, own_height] = still.size();
    let raster = Raster::new(width, height).map_err(|error| Problem::new(error.to_string()))?;
    match Fit::of([own_width, own_height], raster) {
        Fit::Same | Fit::Part(_) => Ok(()),
        Fit::Other => Err(Problem::new(format!(
            "the still is {own_width}x{own_height} and the {what} of the request {width}x{height}; it must be the same size, or a whole fraction of it"
        ))),
    }
}

/// A flat picture put onto a sphere: a pixel of the sphere shows it when its centre lies inside. What is clear in the
/// picture lets the sphere through. The outcome is as deep as the sphere.
///
/// # Errors
/// A sentence when a still is neither as large as was asked, nor a whole fraction of that.
pub fn placed(sphere: &Still, picture: &Still, request: &SpherePlaceRequest, how: How) -> Result<Still, Problem> {
    goes_with(sphere, "eye", [request.eye.width(), request.eye.height()])?;
    goes_with(picture, "picture", [request.picture.width(), request.picture.height()])?;
    let mut outcome = sphere.clone();
    put_on(&mut outcome, &Span::FULL, picture, &request.orientation(), &request.width, how)?;
    Ok(outcome)
}

/// The same in its place, of one eye's picture that holds this much of the sphere, for stills of any size.
///
/// # Errors
/// A sentence when the sphere has no room for it.
pub fn put_on(
    eye: &mut Still,
    span: &Span,
    picture: &Still,
    orientation: &Orientation,
    width: &FieldOfView,
    how: How,
) -> Result<(), Problem> {
    let [size, own] = [eye.size(), picture.size()];
    // The part of the frame that it may touch.
    let (corner, part) = if *span == Span::FULL {
        let failed = |error: ratiomet_core::Error| Problem::new(error.to_string());
        let Orientation { yaw: longitude, pitch: latitude, roll } = orientation.clone();
        let asked = SpherePlaceRequest {
            eye: Raster::<Delivery>::new(size[0], size[1]).map_err(failed)?,
            picture: Raster::<Stored>::new(own[0], own[1]).map_err(failed)?,
            longitude,
            latitude,
            roll,
            width: width.clone(),
        };
        let bounds = SpherePlace::of(&asked).bounds;
        ([bounds.x, bounds.y], [bounds.width, bounds.height])
    } else {
        ([0, 0], size)
    };
    let places = Places::placed(&Surface::of(size, span), own, width, &orientation.matrix());
    if picture.samples.color().has_color() && !eye.samples.color().has_color() {
        eye.samples = coloured(&eye.samples);
    }
    let picture = as_deep(&picture.samples, &eye.samples);
    sampled(&picture, Edges::Ends, &places, corner, part, &mut eye.samples, how)
}

/// A picture of this kind and size that shows nothing.
fn black(kind: &DynamicImage, [width, height]: [u32; 2]) -> Result<DynamicImage, Problem> {
    let bytes = u64::from(width) * u64::from(height) * u64::from(kind.color().bytes_per_pixel());
    room([width, height], bytes)?;
    let mut picture = DynamicImage::new(width, height, kind.color());
    if picture.color().has_alpha() {
        crate::carry::blacken(&mut picture);
    }
    Ok(picture)
}

/// A gray picture in colours.
fn coloured(picture: &DynamicImage) -> DynamicImage {
    match picture {
        DynamicImage::ImageLuma8(_) => DynamicImage::ImageRgb8(picture.to_rgb8()),
        DynamicImage::ImageLumaA8(_) => DynamicImage::ImageRgba8(picture.to_rgba8()),
        DynamicImage::ImageLuma16(_) => DynamicImage::ImageRgb16(picture.to_rgb16()),
        DynamicImage::ImageLumaA16(_) => DynamicImage::ImageRgba16(picture.to_rgba16()),
        other => other.clone(),
    }
}

/// A picture with samples like those of another one, and its own transparency.
fn as_deep(picture: &DynamicImage, like: &DynamicImage) -> DynamicImage {
    let (colour, clear) = (like.color().has_color(), picture.color().has_alpha());
    let bytes = like.color().bytes_per_pixel() / like.color().channel_count();
    match (bytes, colour, clear) {
        (1, true, true) => DynamicImage::ImageRgba8(picture.to_rgba8()),
        (1, true, false) => DynamicImage::ImageRgb8(picture.to_rgb8()),
        (1, false, true) => DynamicImage::ImageLumaA8(picture.to_luma_alpha8()),
        (1, false, false) => DynamicImage::ImageLuma8(picture.to_luma8()),
        (2, true, true) => DynamicImage::ImageRgba16(picture.to_rgba16()),
        (2, true, false) => DynamicImage::ImageRgb16(picture.to_rgb16()),
        (2, false, true) => DynamicImage::ImageLumaA16(picture.to_luma_alpha16()),
        (2, false, false) => DynamicImage::ImageLuma16(picture.to_luma16()),
        (_, _, true) => DynamicImage::ImageRgba32F(picture.to_rgba32f()),
        (_, _, false) => DynamicImage::ImageRgb32F(picture.to_rgb32f()),
    }
}

/// Fills the part of the outcome from a corner on, which may go on at its left edge, with what is found at its places.
fn sampled(
    from: &DynamicImage,
    edges: Edges,
    places: &Places,
    corner: [u32; 2],
    size: [u32; 2],
    into: &mut DynamicImage,
    how: How,
) -> Result<(), Problem> {
    macro_rules! pairs {
        ($($from:ident: $in:literal, $in_clear:literal => $into:ident: $out:literal, $out_clear:literal;)*) => {
            match (from, into) {
                $((DynamicImage::$from(from), DynamicImage::$into(into)) => {
                    let width = into.width();
                    let sampler = Sampler::new(from.as_raw(), [from.width(), from.height()], edges, places.steps(), how);
                    filled::<_, $in, $in_clear, $out, $out_clear>(&sampler, places, corner, size, width, into);
                })*
                _ => return Err(Problem::new("the two pictures do not go together")),
            }
        };
    }
    pairs!(
        ImageLuma8: 1, false => ImageLuma8: 1, false;
        ImageLumaA8: 2, true => ImageLuma8: 1, false;
        ImageLuma8: 1, false => ImageLumaA8: 2, true;
        ImageLumaA8: 2, true => ImageLumaA8: 2, true;
        ImageRgb8: 3, false => ImageRgb8: 3, false;
        ImageRgba8: 4, true => ImageRgb8: 3, false;
        ImageRgb8: 3, false => ImageRgba8: 4, true;
        ImageRgba8: 4, true => ImageRgba8: 4, true;
        ImageLuma16: 1, false => ImageLuma16: 1, false;
        ImageLumaA16: 2, true => ImageLuma16: 1, false;
        ImageLuma16: 1, false => ImageLumaA16: 2, true;
        ImageLumaA16: 2, true => ImageLumaA16: 2, true;
        ImageRgb16: 3, false => ImageRgb16: 3, false;
        ImageRgba16: 4, true => ImageRgb16: 3, false;
        ImageRgb16: 3, false => ImageRgba16: 4, true;
        ImageRgba16: 4, true => ImageRgba16: 4, true;
        ImageRgb32F: 3, false => ImageRgb32F: 3, false;
        ImageRgba32F: 4, true => ImageRgb32F: 3, false;
        ImageRgb32F: 3, false => ImageRgba32F: 4, true;
        ImageRgba32F: 4, true => ImageRgba32F: 4, true;
    );
    Ok(())
}

/// A line of the outcome at work, compiled for each kind of processor.
struct Line<'a, S: Sample, const IN: usize, const IN_CLEAR: bool, const OUT: usize, const OUT_CLEAR: bool> {
    sampler: &'a Sampler<'a, S, IN, IN_CLEAR>,
    places: &'a Places,
    row: u32,
    columns: [u32; 2],
    at: &'a mut places::Row,
    out: &'a mut [S],
    width: u32,
}

impl<S: Sample, const IN: usize, const IN_CLEAR: bool, const OUT: usize, const OUT_CLEAR: bool> pulp::WithSimd
    for Line<'_, S, IN, IN_CLEAR, OUT, OUT_CLEAR>
{
    type Output = ();

    #[inline(always)]
    fn with_simd<Simd: pulp::Simd>(self, simd: Simd) {
        let Self { sampler, places, row, columns: [first, count], at, out, width } = self;
        // What goes past the right edge goes on at the left one.
        let before = (width - first).min(count);
        for [from, count] in [[first, before], [0, count - before]] {
            places.fill(row, [from, count], at);
            let part = &mut out[from as usize * OUT..];
            if let Some(narrowed) = sampler.narrowed().filter(|_| places.are_all_there_is() && !OUT_CLEAR) {
                at.settle(f32::from(sampler::PHASES));
                match narrowed {
                    Narrowed::Four(narrow) => at.make(|whole, phase| sampler.narrow(simd, narrow, whole, phase)),
                    Narrowed::Six(narrow) => at.make(|whole, phase| sampler.narrow(simd, narrow, whole, phase)),
                }
                let mut samples = [[S::of(0.0); 4]; PART];
                for (part, made) in part.chunks_mut(PART * OUT).zip(at.made().chunks(PART)) {
                    for (sample, made) in samples.as_flattened_mut().iter_mut().zip(made.as_flattened()) {
                        *sample = S::of(*made);
                    }
                    put::<_, OUT, 4, 4>(part, &samples[..made.len()], 0);
                }
                continue;
            }
            for ((x, y, step), pixel) in at.places().zip(part.chunks_exact_mut(OUT)) {
                if x.is_nan() {
                    continue;
                }
                let seen = sampler.at(x, y, step);
                if !IN_CLEAR {
                    for (sample, value) in pixel.iter_mut().zip(seen) {
                        *sample = sampler.back(value);
                    }
                    if OUT_CLEAR {
                        pixel[OUT - 1] = S::of(S::FULL);
                    }
                    continue;
                }
                // How much of the picture is seen, the rest is what was there.
                let share = (seen[IN - 1] / S::FULL).clamp(0.0, 1.0);
                let under = if OUT_CLEAR { pixel[OUT - 1].number() / S::FULL } else { 1.0 };
                let rest = under * (1.0 - share);
                let whole = share + rest;
                let colours = if OUT_CLEAR { OUT - 1 } else { OUT };
                for (sample, value) in pixel[..colours].iter_mut().zip(seen) {
                    let mixed = value + sampler.number(*sample) * rest;
                    *sample = if whole > 0.0 { sampler.back(mixed / whole) } else { S::of(0.0) };
                }
                if OUT_CLEAR {
                    pixel[OUT - 1] = S::of(whole * S::FULL);
                }
            }
        }
    }
}

fn filled<S: Sample, const IN: usize, const IN_CLEAR: bool, const OUT: usize, const OUT_CLEAR: bool>(
    sampler: &Sampler<'_, S, IN, IN_CLEAR>,
    places: &Places,
    [x, y]: [u32; 2],
    [columns, rows]: [u32; 2],
    width: u32,
    into: &mut [S],
) {
    let arch = pulp::Arch::new();
    let lines = into.par_chunks_mut(width as usize * OUT).skip(y as usize).take(rows as usize);
    lines.zip(y..y + rows).for_each_init(places::Row::default, |at, (out, row)| {
        let columns = [x, columns];
        let line = Line::<S, IN, IN_CLEAR, OUT, OUT_CLEAR> { sampler, places, row, columns, at, out, width };
        // Three channels are what nearly all pictures have: what is rare is compiled once.
        if const { IN == 3 && OUT == 3 } {
            arch.dispatch(line);
        } else {
            pulp::WithSimd::with_simd(line, pulp::Scalar::new());
        }
    });
}

/// A picture so many times smaller, each pixel the mean of a block.
///
/// # Errors
/// A sentence when a side is smaller than that.
pub fn smaller(still: &Still, times: u32) -> Result<Still, Problem> {
    use ratiomet_core::{DeliveryFrame, Framing, Insets, Method, PixelAspect, Plan, Rotation, Source, Squeeze, Step};
    let failed = |error: ratiomet_core::Error| Problem::new(error.to_string());
    let [width, height] = still.size();
    let raster = Raster::new(width, height).map_err(failed)?;
    let source =
        Source::new(raster, PixelAspect::SQUARE, Squeeze::NONE, Insets::default(), Rotation::None).map_err(failed)?;
    let small = Raster::new(width / times.max(1), height / times.max(1)).map_err(failed)?;
    let frame = DeliveryFrame::new(small, PixelAspect::SQUARE, None, Step::One).map_err(failed)?;
    let plan = Plan::of(&source, &frame, &Framing::of(Method::Stretch));
    crate::carry::out(still, &source, &frame, &plan, &ratiomet_core::resampling::Resampling::by(Filter::Area))
}
