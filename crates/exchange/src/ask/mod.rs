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
//! | a side of a ratio | `1920 / 2.35`, `how wide is 1080 at 2.35`, `1920 wide 2.39` |
//! | a sum | `2160 - 276`, `(1920 - 240) / 2` |
//! | the ratio of a frame | `1920x816`, `ratio of 1998x1080` |
//! | a frame placed in another | `UHD fill 1080x1920`, `how far can I push in UHD into HD` |
//! | smaller copies | `half UHD`, `proxies of 4608x3164`, `50 % of UHD` |
//! | a ratio alone, one in another | `2.39`, `2.39 in 16:9` |
//! | the squeeze that is needed | `what squeeze makes 2.39 from 16:9` |
//! | safe areas | `title safe of HD` |
//!
//! Where a name means two sizes, or a question two things, the other answer is given too.

mod calculator;
mod dispatch;
mod frames;
mod numbers;
mod parts;
mod placed;
mod question;
mod sentence;
mod shapes;
mod sphere;
mod time;
mod vocabulary;
mod words;

use ratiomet_wire::calc::{CalcRequest, CalcResult};
use ratiomet_wire::describe::Values;
use ratiomet_wire::names::CalcRequestValues;
use serde::Serialize;
use utoipa::ToSchema;

use parts::Parts;
use question::{Asked, Question};
use words::{Key, Meaning, Word, Words, words};

/// Questions to show to somebody who does not know how to ask.
pub const EXAMPLES: [&str; 12] = [
    "2.39 from UHD",
    "1.8x on 3840x2160 into 2.39",
    "720x576 12:11",
    "UHD into HD",
    "60 at 24",
    "5760 sphere 90 view 1920x1080",
    "level 3840x1920 30p",
    "HD 2.00 on screen 2340x1080",
    "HD 25p 90s 12mbps",
    "how wide is 1080 at 2.35",
    "UHD fill 1080x1920",
    "proxies of 4608x3164",
];

/// The longest question that is read, in characters.
pub const LONGEST: usize = 200;

/// An answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct Answer {
    /// How the question was understood.
    #[schema(example = "2.39 out of 3840×2160")]
    pub understood: String,
    /// The answer in a sentence.
    #[schema(example = "3840×1606, exactly 1606.69 lines; keeps 74.4 %.")]
    pub sentence: String,
    /// What was taken for granted.
    pub remarks: Vec<String>,
    /// What may have been meant as well.
    pub others: Vec<Reading>,
    /// The same as a request of the calculations; none where no calculation was needed, as for a sum.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub request: Option<CalcRequestValues>,
    /// Its result.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub result: Option<CalcResult>,
}

/// Another way to understand a question.
#[derive(Debug, PartialEq, Eq, Serialize, ToSchema)]
pub struct Reading {
    /// How the question was understood.
    #[schema(example = "2.39 out of 4096×2160")]
    pub understood: String,
    /// The answer in a sentence.
    pub sentence: String,
}

/// Why there is no answer.
#[derive(Debug, Serialize, ToSchema)]
pub struct NoAnswer {
    /// What was not understood, or what the calculation refuses.
    pub why: String,
    /// Questions that are understood.
    pub examples: Vec<&'static str>,
}

/// What of a question was understood, where it is none, and what it lacks.
fn not_understood(words: &[Word]) -> String {
    let known: Vec<String> =
        words.iter().filter(|word| !matches!(word, Word::Other(_))).filter_map(Word::text).collect();
    let other = words.iter().find_map(|word| if let Word::Other(text) = word { Some(text) } else { None });
    let lack = LACKS.iter().find(|(key, _)| words.contains(&Word::Key(*key)));
    let lack = lack.map(|(_, lack)| format!("; {lack}")).unwrap_or_default();
    match (known.is_empty(), other) {
        (true, Some(other)) => format!("{other:?} was not understood{lack}"),
        (true, None) => format!("the question was not understood{lack}"),
        (false, Some(other)) => {
            format!("{} was understood, {other:?} and what is asked was not{lack}", known.join(", "))
        }
        (false, None) => format!("{} was understood, and what is asked was not{lack}", known.join(", ")),
    }
}

/// What a question of a sort cannot do without.
const LACKS: &[(Key, &str)] = &[
    (Key::Room, "two frames are needed: how far can I push in UHD into HD"),
    (Key::Level, "a frame and a rate are needed: level 3840x1920 30p"),
    (Key::Screen, "a frame and a screen are needed: HD on screen 2340x1080"),
    (Key::Proxy, "a frame is needed: proxies of 4608x3164"),
    (Key::Safe, "a frame is needed: title safe of HD"),
    (Key::Squeeze, "a squeeze and a frame are needed: 1.8x on 3840x2160"),
    (Key::Sphere, "a width is needed: 5760 sphere"),
    (Key::Slow, "two rates are needed: 120 at 24 slow"),
    (Key::Fill, "two frames are needed: UHD fill 1080x1920"),
    (Key::Fit, "two frames are needed: UHD fit 1080x1920"),
    (Key::Scale, "two frames are needed: HD into UHD"),
];

/// The answer to a question.
///
/// # Errors
/// What was not understood, with examples.
///
/// ```
/// use ratiomet_exchange::ask::ask;
/// let answer = ask("2,39 out of UHD, how high?").unwrap();
/// assert!(answer.sentence.starts_with("3840×1606"));
/// assert_eq!(answer.remarks, ["2,39 is read as 2.39"]);
/// assert!(ask("how do you do").is_err());
/// ```
pub fn ask(text: &str) -> Result<Answer, NoAnswer> {
    let no = |why: String| NoAnswer { why, examples: EXAMPLES.to_vec() };
    if text.chars().count() > LONGEST {
        return Err(no(format!("a question of at most {LONGEST} characters")));
    }
    let (words, first) = read(text, Meaning::First);
    let Some(Understood { question, remarks }) = first else {
        return Err(no(not_understood(&words.words)));
    };
    let Question { understood, asked, lead, others, .. } = question;
    let refused = |error: ratiomet_core::Error| no(format!("{understood}: must be {error}"));
    let mut others: Vec<Reading> = others.into_iter().filter_map(reading).collect();
    // What the other size of a name would give.
    if words.reading.is_some()
        && let (Words { reading: Some(read_as), .. }, Some(second)) = read(text, Meaning::Second)
        && let Ok(Asked::Calculation(calculation)) = second.question.asked
    {
        others.extend(reading((format!("{read_as}, {}", second.question.understood), *calculation)));
    }
    let led = |sentence: String| match &lead {
        Some(lead) => format!("{lead} {sentence}"),
        None => sentence,
    };
    let (sentence, request, result) = match asked.map_err(refused)? {
        Asked::Figure(sentence) => (led(sentence), None, None),
        Asked::Calculation(calculation) => {
            let answer = calculation.clone().answer().map_err(|(_, error)| refused(error))?;
            let sentence = led(sentence::of(&calculation, &answer));
            (sentence, Some(Values(CalcRequest(*calculation))), Some(answer.into()))
        }
    };
    Ok(Answer { understood, sentence, remarks, others, request, result })
}

/// A question, and all that was taken for granted in reading it.
struct Understood {
    question: Question,
    remarks: Vec<String>,
}

/// The words of a text, and what they ask.
fn read(text: &str, meaning: Meaning) -> (Words, Option<Understood>) {
    let words = words(text, meaning);
    let parts = Parts::of(&words.words);
    let is_sum = calculator::is_sum(text);
    let question = if is_sum { calculator::of(text) } else { dispatch::of(&parts) };
    let understood = question.map(|question| {
        let mut remarks = if is_sum { Vec::new() } else { words.remarks.clone() };
        remarks.extend(question.remarks.iter().cloned());
        if !is_sum {
            remarks.extend(parts.unused().into_iter().map(|word| format!("{word} was not used")));
        }
        Understood { question, remarks }
    });
    (words, understood)
}

/// Another reading with its answer; none where it has none.
fn reading((understood, calculation): (String, ratiomet_core::calculation::Calculation)) -> Option<Reading> {
    let answer = calculation.clone().answer().ok()?;
    Some(Reading { understood, sentence: sentence::of(&calculation, &answer) })
}
