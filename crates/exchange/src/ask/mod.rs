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
//! | the ratio of a frame | `1920x816`, `ratio of 1998x1080` |
//! | a frame placed in another | `UHD fill 1080x1920`, `how far can I push in UHD into HD` |
//! | smaller copies | `half UHD`, `proxies of 4608x3164`, `50 % of UHD` |

mod question;
mod sentence;
mod words;

use ratiomet_wire::calc::{CalcRequest, CalcResult};
use ratiomet_wire::describe::Values;
use ratiomet_wire::names::CalcRequestValues;
use serde::Serialize;
use utoipa::ToSchema;

use question::{Parts, Question};
use words::{Word, words};

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
    /// The same as a request of the calculations.
    pub request: CalcRequestValues,
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

/// What of a question was understood, where it is none.
fn not_understood(words: &[Word]) -> String {
    let known: Vec<String> =
        words.iter().filter(|word| !matches!(word, Word::Other(_))).filter_map(Word::text).collect();
    let other = words.iter().find_map(|word| if let Word::Other(text) = word { Some(text) } else { None });
    match (known.is_empty(), other) {
        (true, Some(other)) => format!("{other:?} was not understood"),
        (true, None) => "the question was not understood".to_owned(),
        (false, Some(other)) => {
            format!("{} was understood, {other:?} and what is asked was not", known.join(", "))
        }
        (false, None) => format!("{} was understood, and what is asked was not", known.join(", ")),
    }
}

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
    let (words, mut remarks) = words(text);
    let parts = Parts::of(&words);
    let Some(Question { understood, calculation, remarks: noted }) = question::of(&parts) else {
        return Err(no(not_understood(&words)));
    };
    remarks.extend(noted);
    remarks.extend(parts.unused().into_iter().map(|word| format!("{word} was not used")));
    let refused = |error: ratiomet_core::Error| no(format!("{understood}: must be {error}"));
    let calculation = calculation.map_err(refused)?;
    let answer = calculation.clone().answer().map_err(|(_, error)| refused(error))?;
    Ok(Answer {
        sentence: sentence::of(&calculation, &answer),
        understood,
        remarks,
        request: Values(CalcRequest(calculation)),
        result: answer.into(),
    })
}
