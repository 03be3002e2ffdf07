//! Questions of shape: ratios of frames, pixels that are not square, squeezed pictures.

use ratiomet_core::calculation::Calculation;
use ratiomet_core::published::PIXEL_ASPECTS;
use ratiomet_core::{DesqueezeRequest, DisplayRatio, Error, Exact, PixelAspect, Rounding, Squeeze, Step};

use super::parts::Parts;
use super::question::{Question, raster, size_text, value};
use super::words::{Key, Word};

fn shape(size: [u32; 2], aspect: &str) -> Result<Calculation, Error> {
    Ok(Calculation::Desqueeze(DesqueezeRequest {
        raster: raster(size)?,
        pixel_aspect: PixelAspect::parse(aspect)?,
        squeeze: Squeeze::NONE,
        target: None,
        step: Step::Two,
        rounding: Rounding::Down,
    }))
}

/// A raster whose pixels have a shape.
pub(super) fn shaped(understood: String, size: [u32; 2], aspect: &str) -> Question {
    Question::new(understood, || shape(size, aspect))
}

/// The ratio of a frame with square pixels.
pub(super) fn ratio_of(size: [u32; 2]) -> Question {
    shaped(format!("the ratio of {}", size_text(size)), size, "1")
}

/// A raster that goes with pixels of its own.
#[derive(Clone, Copy)]
pub(super) struct Standard {
    pub stored: [u32; 2],
    /// The ratio at which it is seen.
    pub seen: &'static str,
    pub aspect: &'static str,
    /// The columns and lines that are picture (ITU-R BT.601).
    pub picture: [u32; 2],
}

const fn standard_of(stored: [u32; 2], seen: &'static str, aspect: &'static str, picture: [u32; 2]) -> Standard {
    Standard { stored, seen, aspect, picture }
}

/// Pixel shapes: ITU-T H.264, Table E-1.
const STANDARD: &[Standard] = &[
    standard_of([720, 576], "4:3", "12:11", [704, 576]),
    standard_of([720, 576], "16:9", "16:11", [704, 576]),
    standard_of([720, 480], "4:3", "10:11", [704, 480]),
    standard_of([720, 480], "16:9", "40:33", [704, 480]),
    standard_of([720, 486], "4:3", "10:11", [704, 486]),
    standard_of([720, 486], "16:9", "40:33", [704, 486]),
    standard_of([1440, 1080], "16:9", "4:3", [1440, 1080]),
];

/// The standard rasters of a size that are seen at a ratio; at each of theirs, where none is said.
pub(super) fn standards(size: [u32; 2], ratio: Option<&str>) -> Vec<Standard> {
    let value_of = |text: &str| value(text.strip_suffix(":1").unwrap_or(text));
    let wanted = ratio.and_then(value_of);
    let is_it = |each: &&Standard| each.stored == size && (ratio.is_none() || wanted == value_of(each.seen));
    STANDARD.iter().filter(is_it).copied().collect()
}

/// A standard raster at the ratio at which it is seen; at each of its ratios, where none is said.
pub(super) fn standard(size: [u32; 2], ratio: Option<&str>) -> Option<Question> {
    let one = |Standard { stored, seen, aspect, picture }: Standard| {
        let question = shaped(format!("{} shown at {seen}: pixels {aspect}", size_text(stored)), picture, aspect);
        if picture == stored {
            return question;
        }
        question.noting(format!("{} of its {} columns are picture (ITU-R BT.601)", picture[0], stored[0]))
    };
    let mut shapes = standards(size, ratio).into_iter();
    let first = one(shapes.next()?);
    Some(shapes.fold(first, |question, more| question.or_all(one(more))))
}

/// Whether a ratio speaks of pixels, and not of a picture: 12:11 and its like are no ratios of pictures.
pub(super) fn is_pixel_shape(ratio: &str) -> bool {
    let Some((across, down)) = ratio.split_once(':') else { return false };
    let whole = |text: &str| text.parse::<u32>().ok().filter(|side| *side >= 8);
    let (Some(across), Some(down)) = (whole(across), whole(down)) else { return false };
    let shape = Exact::whole(across) / Exact::whole(down);
    shape > Exact::fraction(85, 100) && shape < Exact::fraction(152, 100)
}

/// The published pixel shape that is nearest to a number.
pub(super) fn nearest_pixel_shape(text: &str) -> Option<Question> {
    let wanted = value(text).filter(Exact::is_positive)?;
    let shape = |(across, down): &(u32, u32)| Exact::whole(*across) / Exact::whole(*down);
    let off = |pair: &(u32, u32)| (shape(pair) / &wanted - Exact::ONE).abs();
    let nearest = PIXEL_ASPECTS.iter().min_by_key(|pair| off(pair))?;
    let (across, down) = nearest;
    let percent = (off(nearest) * Exact::whole(100)).to_short_decimal(2);
    Some(Question::figure(
        format!("pixels {text} times as wide as high"),
        format!(
            "The nearest of ITU-T H.264, Table E-1 is {across}:{down}, which is {}; {percent} % away.",
            shape(nearest).to_short_decimal(4)
        ),
    ))
}

/// Whether the squeeze is what is asked for: it stands without a number of its own.
pub(super) fn is_squeeze_wanted(parts: &Parts<'_>) -> bool {
    let ratios = parts.count(|word| match word {
        Word::Number(text) => value(text).is_some_and(|value| value < Exact::whole(16)),
        Word::Ratio(_) | Word::Size(_) => true,
        _ => false,
    });
    parts.has(Key::Squeeze)
        && parts.count(|word| matches!(word, Word::Factor(_))) == 0
        && !parts.any(&[Key::By, Key::With])
        && parts.any(&[Key::From, Key::Into, Key::In, Key::For])
        && !parts.has_beside(Key::Squeeze, |text| value(text).is_some_and(|value| value <= Exact::whole(2)))
        && ratios == 2
}

/// The squeeze that makes one ratio of another.
pub(super) fn squeeze_wanted(parts: &Parts<'_>) -> Option<Question> {
    let ratio = || {
        let next = parts.take(|word| match word {
            Word::Ratio(text) | Word::Number(text) => Some(text.clone()),
            Word::Size([width, height]) => Some(format!("{width}:{height}")),
            _ => None,
        })?;
        let value = value(&next).filter(Exact::is_positive)?;
        Some((next, value))
    };
    // "from 16:9 to 2.39" names what is recorded first, "2.39 from 16:9" names it last; the squeeze widens.
    let (one, other) = (ratio()?, ratio()?);
    let ((recorded, stored), (seen, wanted)) = if one.1 <= other.1 { (one, other) } else { (other, one) };
    let squeeze = (wanted / &stored).reduced();
    let text = ratiomet_core::fraction::writable_text(&squeeze);
    // A sensor by its shape alone is taken a thousand lines high.
    let sensor = sensor(&recorded)?;
    let lead = format!("A squeeze of {}x.", squeeze.to_short_decimal(4));
    let question = Question::new(format!("the squeeze from {recorded} to {seen}"), || desqueeze(sensor, &text, None));
    Some(question.leading(lead))
}

/// A sensor of a shape, a thousand lines high.
fn sensor(shape: &str) -> Option<[u32; 2]> {
    let ratio = DisplayRatio::parse(shape).ok()?;
    Some([(ratio.value() * Exact::whole(1_000)).to_decimal(0).parse().ok()?, 1_000])
}

pub(super) fn desqueeze(size: [u32; 2], squeeze: &str, target: Option<&str>) -> Result<Calculation, Error> {
    Ok(Calculation::Desqueeze(DesqueezeRequest {
        raster: raster(size)?,
        pixel_aspect: PixelAspect::SQUARE,
        squeeze: Squeeze::parse(squeeze)?,
        target: target.map(DisplayRatio::parse).transpose()?,
        step: Step::Two,
        rounding: Rounding::Down,
    }))
}

/// Whether a squeezed picture is asked about.
pub(super) fn is_squeezed(parts: &Parts<'_>) -> bool {
    let numbers = parts.count(|word| matches!(word, Word::Number(_)));
    let factors = parts.count(|word| matches!(word, Word::Factor(_)));
    let zooms = parts.any(&[Key::Room, Key::Scale]);
    (factors > 0 && !zooms) || (parts.has(Key::Squeeze) && factors + numbers > 0)
}

/// The squeeze that is said: a factor, or the number beside the word, or any.
pub(super) fn squeeze_said<'a>(parts: &Parts<'a>) -> Option<&'a str> {
    parts.factor().or_else(|| parts.beside(Key::Squeeze)).or_else(|| parts.number())
}

/// A squeezed picture: what it shows, or out of it a ratio.
pub(super) fn squeezed(parts: &Parts<'_>) -> Option<Question> {
    let squeeze = squeeze_said(parts)?;
    let size = parts.size();
    let (size, shape) = match size {
        Some(size) => (size, size_text(size)),
        None => match parts.ratio() {
            Some(shape) => {
                let size = sensor(shape)?;
                (size, format!("{shape} (as {}×1000)", size[0]))
            }
            None => return Some(squeeze_alone(squeeze)),
        },
    };
    let target = parts.ratio();
    let into = target.map(|target| format!(" into {target}")).unwrap_or_default();
    Some(Question::new(format!("{squeeze}x squeeze on {shape}{into}"), || desqueeze(size, squeeze, target)))
}

/// A squeeze on the sensors that it is used with.
fn squeeze_alone(squeeze: &str) -> Question {
    let on = |shape: &str| (format!("{squeeze}x squeeze on {shape}"), sensor(shape));
    let each = ["16:9", "3:2", "4:3", "6:5"].map(on);
    let mut all = each.into_iter().filter_map(|(words, size)| Some((words, size?)));
    let first = all.next();
    let question = first.map_or_else(
        || Question::figure(format!("{squeeze}x"), String::new()),
        |(words, size)| Question::new(words, || desqueeze(size, squeeze, None)),
    );
    all.fold(question, |question, (words, size)| question.or(words, desqueeze(size, squeeze, None)))
}
