//! Questions in the words of the trade: `2.39 from UHD`, `1.8x on 3840x2160 into 2.39`, `60 at 24`.
//!
//! A question becomes one request of the calculations, so that its answer is theirs. Known are:
//!
//! | question | example |
//! | --- | --- |
//! | a ratio out of a frame | `2.39 from UHD`, `2.39 in 3840x2160 high` |
//! | a squeeze on a sensor | `1.8x on 3840x2160 into 2.39`, `1.5x on 3:2` |
//! | pixels of another shape | `720x576 12:11` |
//! | one frame into another | `UHD into HD` |
//! | a rate at another | `60 at 24`, `120 at 24 slow` |
//! | a sphere, a view out of it | `5760 sphere`, `5760 sphere 90 view 1920x1080` |
//! | what a decoder must take | `level 3840x1920 30p` |
//! | a frame on a screen | `HD 2.00 on screen 2340x1080` |
//! | how heavy it gets | `HD 25p 90s 12mbps` |

mod sentence;
mod words;

use serde::Serialize;
use serde_json::{Value, json};
use utoipa::ToSchema;

use crate::calc::{self, CalcResult};
use words::{Key, Word, words};

/// Questions to show to somebody who does not know how to ask.
pub const EXAMPLES: [&str; 9] = [
    "2.39 from UHD",
    "1.8x on 3840x2160 into 2.39",
    "720x576 12:11",
    "UHD into HD",
    "60 at 24",
    "5760 sphere 90 view 1920x1080",
    "level 3840x1920 30p",
    "HD 2.00 on screen 2340x1080",
    "HD 25p 90s 12mbps",
];

/// The longest question that is read, in characters.
pub const LONGEST: usize = 200;

/// An answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct Answer {
    /// How the question was understood.
    #[schema(example = "a frame of 2.39 out of 3840×2160")]
    pub understood: String,
    /// The answer in a sentence.
    #[schema(example = "3840×1606, exactly 1606.69 lines; keeps 74.4 %.")]
    pub sentence: String,
    /// What was taken for granted.
    pub remarks: Vec<String>,
    /// The same as a request of the calculations.
    pub request: Value,
    /// Its result.
    pub result: CalcResult,
}

/// Why there is no answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct NoAnswer {
    /// What was not understood, or what the calculation refuses.
    pub why: String,
    /// Questions that are understood.
    pub examples: Vec<&'static str>,
}

/// The answer to a question.
///
/// # Errors
/// What was not understood, with examples.
///
/// ```
/// let answer = ratiomet_wire::ask::ask("2,39 out of UHD, how high?").unwrap();
/// assert_eq!(answer.request["kind"], "extraction");
/// assert!(answer.sentence.starts_with("3840×1606"));
/// assert_eq!(answer.remarks, ["2,39 is read as 2.39"]);
/// assert!(ratiomet_wire::ask::ask("how do you do").is_err());
/// ```
pub fn ask(text: &str) -> Result<Answer, NoAnswer> {
    let no = |why: String| NoAnswer { why, examples: EXAMPLES.to_vec() };
    if text.chars().count() > LONGEST {
        return Err(no(format!("a question of at most {LONGEST} characters")));
    }
    let (words, remarks) = words(text);
    if let Some(Word::Other(other)) = words.iter().find(|word| matches!(word, Word::Other(_))) {
        return Err(no(format!("{other:?} is not understood")));
    }
    let Some((understood, request)) = request(&words) else {
        return Err(no("that is no question known here".to_owned()));
    };
    let result = calc::answer(request.to_string().as_bytes()).map_err(|problem| {
        let accepted: Vec<_> = problem.errors.iter().map(|error| error.detail.clone()).collect();
        no(format!("{understood}: accepted would be {}", accepted.join("; ")))
    })?;
    // The sentence needs no more digits than a double has; the result keeps its own.
    let read = serde_json::to_string(&result).ok().and_then(|text| serde_json::from_str(&text).ok());
    let sentence = sentence::of(&request, &read.unwrap_or_default());
    Ok(Answer { sentence, understood, remarks, request, result })
}

/// Everything of one sort, in the order of the question.
struct Parts {
    sizes: Vec<[u32; 2]>,
    ratios: Vec<String>,
    factors: Vec<String>,
    numbers: Vec<String>,
    rates: Vec<String>,
    seconds: Vec<String>,
    megabits: Vec<String>,
    kilobits: Vec<String>,
    keys: Vec<Key>,
}

impl Parts {
    fn of(words: &[Word]) -> Self {
        let texts = |sort: fn(&Word) -> Option<&String>| words.iter().filter_map(sort).cloned().collect();
        Self {
            sizes: words
                .iter()
                .filter_map(|word| if let Word::Size(size) = word { Some(*size) } else { None })
                .collect(),
            ratios: texts(|word| if let Word::Ratio(text) = word { Some(text) } else { None }),
            factors: texts(|word| if let Word::Factor(text) = word { Some(text) } else { None }),
            numbers: texts(|word| if let Word::Number(text) = word { Some(text) } else { None }),
            rates: texts(|word| if let Word::Rate(text) = word { Some(text) } else { None }),
            seconds: texts(|word| if let Word::Seconds(text) = word { Some(text) } else { None }),
            megabits: texts(|word| if let Word::Megabits(text) = word { Some(text) } else { None }),
            kilobits: texts(|word| if let Word::Kilobits(text) = word { Some(text) } else { None }),
            keys: words.iter().filter_map(|word| if let Word::Key(key) = word { Some(*key) } else { None }).collect(),
        }
    }

    fn has(&self, key: Key) -> bool {
        self.keys.contains(&key)
    }

    /// The ratio that is meant: with a colon, or a bare number.
    fn ratio(&self) -> Option<&String> {
        self.ratios.first().or(self.numbers.first())
    }

    fn rate(&self, at: usize) -> Option<&String> {
        self.rates.get(at).or_else(|| self.numbers.get(at.checked_sub(self.rates.len())?))
    }
}

fn size_text([width, height]: [u32; 2]) -> String {
    format!("{width}×{height}")
}

/// What is asked, in words and as a request.
fn request(words: &[Word]) -> Option<(String, Value)> {
    let parts = Parts::of(words);
    if parts.has(Key::Sphere) {
        sphere(&parts, words)
    } else if parts.has(Key::Level) {
        let (size, rate) = (*parts.sizes.first()?, parts.rate(0)?);
        let understood = format!("the decoder level of {} at {rate}", size_text(size));
        Some((understood, json!({ "kind": "levels", "frame": size, "rate": rate })))
    } else if let Some(video) = parts.megabits.first() {
        let (size, rate, seconds) = (*parts.sizes.first()?, parts.rate(0)?, parts.seconds.first()?);
        let audio = parts.kilobits.first().map_or("0", String::as_str);
        let understood = format!("{seconds} s of {} at {rate} with {video} Mbit/s", size_text(size));
        let request = json!({
            "kind": "weight", "frame": size, "rate": rate, "seconds": seconds, "video_mbps": video, "audio_kbps": audio,
        });
        Some((understood, request))
    } else if parts.has(Key::Screen) {
        let [frame, screen] = parts.sizes[..] else { return None };
        let mut delivery = json!({ "raster": frame });
        let mut understood = size_text(frame);
        if let Some(ratio) = parts.ratio() {
            delivery["picture_ratio"] = json!(ratio);
            understood = format!("{understood} with a {ratio} picture");
        }
        let request = json!({ "kind": "viewing", "delivery": delivery, "screen": screen });
        Some((format!("{understood} on a screen of {}", size_text(screen)), request))
    } else if let Some(squeeze) = parts.factors.first() {
        squeezed(&parts, squeeze)
    } else if parts.sizes.is_empty() {
        let (from, to) = (parts.rate(0)?, parts.rate(1)?);
        if !(parts.has(Key::At) || parts.has(Key::Into) || parts.has(Key::From)) {
            return None;
        }
        let intent = if parts.has(Key::Slow) { "every_frame" } else { "real_time" };
        let how = if parts.has(Key::Slow) { ", each frame once" } else { "" };
        let request = json!({ "kind": "cadence", "from": from, "to": to, "intent": intent });
        Some((format!("{from} frames a second shown at {to}{how}"), request))
    } else if let [from, to] = parts.sizes[..] {
        let understood = format!("{} into {}", size_text(from), size_text(to));
        Some((understood, json!({ "kind": "scale", "from": from, "to": to })))
    } else {
        one_size(&parts, words)
    }
}

/// The number that stands next to a word of the grammar, the one before it first.
fn beside(words: &[Word], key: Key) -> Option<&String> {
    let at = words.iter().position(|word| *word == Word::Key(key))?;
    let number = |at: usize| match words.get(at) {
        Some(Word::Number(text)) => Some(text),
        _ => None,
    };
    at.checked_sub(1).and_then(number).or_else(|| number(at + 1))
}

fn sphere(parts: &Parts, words: &[Word]) -> Option<(String, Value)> {
    let width = beside(words, Key::Sphere).or(parts.numbers.first()).and_then(|number| number.parse::<u32>().ok());
    if !parts.has(Key::View) {
        let width = parts.sizes.first().map(|[width, _]| *width).or(width)?;
        let mut request = json!({ "kind": "sphere_frame", "width": width });
        if let Some(rate) = parts.rates.first() {
            request["rate"] = json!(rate);
        }
        return Some((format!("a sphere {width} pixels wide"), request));
    }
    let (eye, view) = match parts.sizes[..] {
        [eye, view] => (eye, view),
        [view] => (width.map(|width| [width, width.div_ceil(2)])?, view),
        _ => return None,
    };
    let fov = beside(words, Key::View).or_else(|| parts.numbers.last())?;
    let understood = format!("a view of {fov}° as {} out of a sphere of {}", size_text(view), size_text(eye));
    Some((understood, json!({ "kind": "sphere_view", "eye": eye, "view": view, "fov": fov })))
}

fn squeezed(parts: &Parts, squeeze: &str) -> Option<(String, Value)> {
    let mut ratios = parts.ratios.iter().chain(&parts.numbers);
    // A sensor by its shape alone is taken a thousand lines high.
    let (raster, shape) = match parts.sizes.first() {
        Some(size) => (*size, size_text(*size)),
        None => {
            let shape = ratios.next()?;
            let value = ratiomet_core::DisplayRatio::parse(shape).ok()?;
            let width = (value.value() * ratiomet_core::Exact::whole(1_000)).to_decimal(0).parse().ok()?;
            ([width, 1_000], format!("{shape} (as {width}×1000)"))
        }
    };
    let mut request = json!({ "kind": "desqueeze", "raster": raster, "squeeze": squeeze });
    let mut understood = format!("a {squeeze}x squeeze on {shape}");
    if let Some(target) = ratios.next() {
        request["target_ratio"] = json!(target);
        understood = format!("{understood} into {target}");
    }
    Some((understood, request))
}

fn one_size(parts: &Parts, words: &[Word]) -> Option<(String, Value)> {
    let size = *parts.sizes.first()?;
    let ratio = parts.ratio()?;
    // A shape written behind the size with a colon speaks of its pixels, unless "in" or "from" says otherwise.
    let behind = matches!(words, [.., Word::Size(_), Word::Ratio(_)]);
    let related = parts.has(Key::From) || parts.has(Key::Into);
    if behind && !related {
        let understood = format!("{} with {ratio} pixels", size_text(size));
        return Some((understood, json!({ "kind": "desqueeze", "raster": size, "pixel_aspect": ratio })));
    }
    let keep = match (parts.has(Key::High), parts.has(Key::Wide)) {
        (true, false) => "width",
        (false, true) => "height",
        _ => "inside",
    };
    let request = json!({ "kind": "extraction", "container": size, "ratio": ratio, "keep": keep });
    Some((format!("a frame of {ratio} out of {}", size_text(size)), request))
}
